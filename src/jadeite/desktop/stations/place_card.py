"""How large a free-standing thing is: typed, or as large as the place where it will sit."""

from __future__ import annotations

from PyQt6.QtCore import QSignalBlocker
from PyQt6.QtWidgets import QCheckBox, QComboBox

from jadeite.core.pipeline import places_for
from jadeite.core.project import Span, Task
from jadeite.core.units import System, format_length
from jadeite.desktop.lengths import LengthRow
from jadeite.desktop.session import Session
from jadeite.desktop.widgets import Card, label

__all__ = ["PlaceCard"]

WIDE = 206


class PlaceCard(Card):
    """Decides how wide, and maybe how high, a flower comes out."""

    def __init__(self, session: Session) -> None:
        super().__init__("Finished size")
        self.session = session
        self._offered: tuple[tuple[str, float], ...] = ()
        self.where = QComboBox()
        self.where.setFixedWidth(WIDE)
        self.where.setToolTip("Where it will sit, or what it is cut from, says how wide it may be.")
        self.where.activated.connect(self._take)
        self.row("Sits", self.where, "Where it will sit, or what it is cut from.")
        self.sizes = LengthRow("Finished", ("Width", "Height"), 1.0, 2000.0)
        self.sizes.edited.connect(self._typed)
        self.sizes.refused.connect(session.trouble)
        self.sizes.dragging.connect(session.drag)
        self.edits = self.sizes.edits
        self.add(self.sizes)
        self.free = QCheckBox("As high as it comes")
        self.free.setToolTip("Else its petals rise until it is as high as you say.")
        self.free.clicked.connect(lambda _: self._typed())
        self.add(self.free)
        self.words = self.add(label("", "small", wrap=True))

    def _typed(self) -> None:
        if not isinstance(self.session.task.brief, Span):
            return  # it was asked while another thing was being opened
        width, height = self.sizes.values()
        self.session.edit(brief=Span(width=width, height=None if self.free.isChecked() else height))

    def _take(self, index: int) -> None:
        """As wide as a place allows."""
        width, brief = self.where.itemData(index), self.session.task.brief
        if width is not None and isinstance(brief, Span):  # or another thing was opened meanwhile
            self.session.edit(brief=Span(width=float(width), height=brief.height))

    def show_place(self, task: Task, system: System) -> None:
        """Show the decisions; hidden where it is sized otherwise."""
        self.setVisible(isinstance(task.brief, Span))
        if not isinstance(task.brief, Span):
            return
        brief, sizes = task.brief, self.session.work.sizes
        free = brief.height is None
        with QSignalBlocker(self.free):
            self.free.setChecked(free)
        high = sizes["finished-height"].value if "finished-height" in sizes else brief.width
        self.edits[0].set_value(brief.width, system)
        self.edits[1].set_value(high if brief.height is None else brief.height, system)
        self.edits[1].setEnabled(not free)
        self._fill(system)
        at = next(
            (i for i, (_, w) in enumerate(self._offered, 1) if abs(w - brief.width) < 0.05), 0
        )
        self.where.setCurrentIndex(at)
        self.words.setText(
            "Drawn to scale: the disc beside it is 25 mm across."
            if at == 0
            else f"As wide as there is room: {format_length(self._offered[at - 1][1], system)}."
        )

    def _fill(self, system: System) -> None:
        works = {n: w for n, w in self.session.job_work.works.items() if n != self.session.chosen}
        offered = places_for(self.session.work, works)
        if offered == self._offered and self.where.count():
            return
        self._offered = offered
        self.where.clear()
        self.where.addItem("anywhere", None)
        for words, width in offered:
            self.where.addItem(words, width)
