"""The room beside one thing: its reckoning, one's own value, and what would be learned."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QCheckBox, QVBoxLayout, QWidget

from jadeite.core.contents import AnyThing, clearance
from jadeite.core.units import System
from jadeite.desktop.lengths import LengthEdit
from jadeite.desktop.reckonings import ReckoningRow
from jadeite.desktop.session import Session
from jadeite.desktop.widgets import Field, clear_layout, label

__all__ = ["ThingRoom"]

MOST = 100.0  # mm


class ThingRoom(QWidget):
    """Shows how the room beside a thing is reckoned; None goes back to that."""

    changed = pyqtSignal(object)  # float, or None

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 4, 0, 0)
        column.setSpacing(5)
        self._line = QVBoxLayout()
        column.addLayout(self._line)
        self.own = QCheckBox("My own room for this thing")
        self.own.setToolTip("Instead of what the way it goes in asks for.")
        self.own.clicked.connect(self._set_own)
        column.addWidget(self.own)
        self.edit = LengthEdit("Room on each side", 0.0, MOST)
        self.edit.edited.connect(lambda mm: self.changed.emit(mm))
        self.edit.refused.connect(session.trouble)
        self.edit_row = Field("On each side", self.edit)
        column.addWidget(self.edit_row)
        self.learned = label("", "small", wrap=True)
        column.addWidget(self.learned)
        self._value = 0.0
        self._open = False

    def _set_own(self, on: bool) -> None:
        self.changed.emit(round(self._value, 2) if on else None)

    def show_room(self, thing: AnyThing, system: System) -> None:
        """Show the room beside a thing across its length."""
        value = clearance(thing, thing.size[0], self.session.task.fits)
        self._value = value.value
        row = self._line.itemAt(0)
        widget = row.widget() if row is not None else None
        if not isinstance(widget, ReckoningRow) or not widget.show_value(
            value, system, "Room on each side"
        ):
            clear_layout(self._line)
            self._line.addWidget(ReckoningRow(value, system, "Room on each side"))
        own = thing.clearance is not None
        self.own.setChecked(own)
        self.edit_row.setVisible(own)
        self.edit.set_value(thing.clearance or 0.0, system)
        self.learned.setText(
            "Your own value is used, before anything learned."
            if own
            else "Nothing is learned for this way of going in yet. Once your notebook holds "
            "verdicts on it, the learned value is offered here, with how sure it is."
        )
