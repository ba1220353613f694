"""What every station's figures have in common."""

from __future__ import annotations

from collections.abc import Iterable

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFrame, QScrollArea, QVBoxLayout, QWidget

from jadeite.core.pictures import LIGHT, Palette
from jadeite.core.reckoning import Reckoning
from jadeite.core.steps import Steps, finished
from jadeite.core.units import System
from jadeite.desktop.reckonings import ReckoningRow
from jadeite.desktop.session import Session
from jadeite.desktop.widgets import Card, clear_layout

__all__ = ["Panel", "ResultsCard"]

CLEAR = "QScrollArea, QScrollArea > QWidget > QWidget { background: transparent; border: none; }"


class ResultsCard(Card):
    """Results that open to show their reckoning; what was open stays open."""

    def __init__(self, title: str = "Results") -> None:
        super().__init__(title)
        self._open: set[str] = set()
        self.rows: dict[str, ReckoningRow] = {}
        self._holder = QVBoxLayout()
        self._holder.setSpacing(6)
        self.body.addLayout(self._holder)
        self._shown: tuple[object, ...] = ()

    def show_results(self, values: Iterable[tuple[str, Reckoning, str]], system: System) -> None:
        """Rows of (key, reckoning, title or empty)."""
        rows = tuple(values)
        if self._shown == (rows, system):
            return
        self._shown = (rows, system)
        self.setVisible(bool(rows))
        if [key for key, _, _ in rows] == list(self.rows) and all(
            self.rows[key].show_value(value, system, title) for key, value, title in rows
        ):
            return
        for key, row in self.rows.items():
            if row.why is not None and not row.why.isHidden():
                self._open.add(key)
            else:
                self._open.discard(key)
        clear_layout(self._holder)
        self.rows = {}
        for key, value, title in rows:
            row = ReckoningRow(value, system, title)
            if key in self._open and hasattr(row, "button"):
                row.button.setChecked(True)
            self.rows[key] = row
            self._holder.addWidget(row)


class Panel(QScrollArea):
    """The right column of one station."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.system: System = "mm"
        self.palette_: Palette = LIGHT
        self.setWidgetResizable(True)
        self.setFrameShape(QFrame.Shape.NoFrame)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.setStyleSheet(CLEAR)
        inner = QWidget()
        self.column = QVBoxLayout(inner)
        self.column.setContentsMargins(0, 0, 2, 0)
        self.column.setSpacing(12)
        self.setWidget(inner)
        self.build()
        self.column.addStretch(1)

    def build(self) -> None:
        """Make the widgets, once."""

    def refresh(self) -> None:
        """Show the document as it now is."""
        finished(self.refreshing())

    def refreshing(self) -> Steps[None]:
        """The same in steps; begun again from the front where the document changes meanwhile."""
        yield

    def styled(self) -> tuple[QWidget, ...]:
        """The parts that have a style sheet each: one for all would take too long at a time."""
        bar = self.verticalScrollBar()
        items = (self.column.itemAt(i) for i in range(self.column.count()))
        cards = [w for item in items if item is not None and (w := item.widget()) is not None]
        return (*cards, bar) if bar is not None else tuple(cards)

    def set_look(self, system: System, palette: Palette) -> None:
        """Units and colours, shown at the next refresh."""
        self.system, self.palette_ = system, palette
