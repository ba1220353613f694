"""Sheets: the stock at hand, copies, and how much is used."""

from __future__ import annotations

from PyQt6.QtCore import QSignalBlocker, QTimer
from PyQt6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QHBoxLayout,
    QProgressBar,
    QSpinBox,
    QVBoxLayout,
)

from jadeite.core.project import MAX_COPIES, edited
from jadeite.core.reckoning import Mark, constant, given, reckon
from jadeite.core.sheets import GAP
from jadeite.core.steps import Steps
from jadeite.desktop.laying import Laying
from jadeite.desktop.session import Session
from jadeite.desktop.stations.base import Panel, ResultsCard
from jadeite.desktop.stations.laying_card import LayingCard
from jadeite.desktop.stations.split_card import SplitCard
from jadeite.desktop.stations.stock_card import StockCard
from jadeite.desktop.widgets import Card, Field, button, clear_layout

__all__ = ["SheetsPanel"]

GRAINS = (
    ("heavy", "boards that crack"),
    ("follow", "every piece"),
    ("ignore", "no piece"),
)


class SheetsPanel(Panel):
    """Which sheets lie at hand, how many boxes are made, and how the pieces lie."""

    def __init__(self, session: Session, laying: Laying) -> None:
        self.laying = laying
        super().__init__(session)

    def build(self) -> None:
        """Make the widgets, once."""
        job = Card("The job")
        self.counts: dict[str, QSpinBox] = {}
        self._counts = QVBoxLayout()
        self._counts.setSpacing(5)
        job.body.addLayout(self._counts)
        self.free = QCheckBox()
        self.free.toggled.connect(lambda v: self.session.edit(free_turns=v))
        job.row(
            "Turn pieces freely",
            self.free,
            "Tries other angles where quarter turns do not fit; the grain then runs askew.",
        )
        self.together = QCheckBox()
        self.together.toggled.connect(lambda v: self.session.edit(together=v))
        job.row(
            "Keep each part together",
            self.together,
            "Pieces of one part have sheets to themselves: more board, nothing to sort.",
        )
        self.grain = QComboBox()
        self.grain.setFixedWidth(150)
        for key, words in GRAINS:
            self.grain.addItem(words, key)
        self.grain.activated.connect(lambda _: self.session.edit(grain=self.grain.currentData()))
        job.row(
            "Along the grain",
            self.grain,
            "Heavy board cracks when it is folded across the grain; the layout then keeps to "
            "turns that lay the longer folds along it.",
        )
        busy = QHBoxLayout()
        self.progress = QProgressBar()
        self.progress.setTextVisible(False)
        self.progress.setAccessibleName("Laying out the pieces")
        self.stop = button(
            "Stop", self.session.sheets_job.cancel, "plain", "Keeps the layout from before."
        )
        busy.addWidget(self.progress, 1)
        busy.addWidget(self.stop)
        job.body.addLayout(busy)
        self.session.sheets_job.progressed.connect(
            lambda share, _: self.progress.setValue(round(100 * share))
        )
        self._patience = QTimer(self)  # a quick layout shows no progress
        self._patience.setSingleShot(True)
        self._patience.setInterval(400)
        self._patience.timeout.connect(self._show_busy)
        self._show_busy()
        self.column.addWidget(job)
        self.hand = LayingCard(self.laying)
        self.column.addWidget(self.hand)
        self.stock = StockCard(self.session)
        self.column.addWidget(self.stock)
        self.split = SplitCard(self.session)
        self.column.addWidget(self.split)
        self.results = ResultsCard()
        self.column.addWidget(self.results)

    def _show_busy(self) -> None:
        self.progress.setVisible(self.session.sheets_busy)
        self.stop.setVisible(self.session.sheets_busy)

    def _show_counts(self) -> None:
        """How many of each made thing: as it is typed, or one for each name."""
        items = self.session.project.items
        if tuple(self.counts) != tuple(item.name for item in items):
            clear_layout(self._counts)
            self.counts = {}
            for item in items:
                count = self.counts[item.name] = QSpinBox()
                count.setRange(1, MAX_COPIES)
                count.setFixedWidth(66)
                count.valueChanged.connect(lambda v, n=item.name: self._set_count(n, v))
                words = "How many are made" if len(items) == 1 else f"How many: {item.name}"
                self._counts.addWidget(Field(words, count, "Copies, all on the same sheets."))
        for item in items:
            count = self.counts[item.name]
            with QSignalBlocker(count):
                count.setValue(item.count)
            count.setEnabled(not item.names)
            count.setToolTip("One for each name." if item.names else "Copies, on the same sheets.")

    def _set_count(self, name: str, count: int) -> None:
        session = self.session
        session.trying(lambda: edited(session.project, name, copies=count))

    def refreshing(self) -> Steps[None]:
        """Show the document as it now is."""
        task = self.session.task
        if not self.session.sheets_busy:
            self.progress.setValue(0)
            self._show_busy()
        elif not self._patience.isActive():
            self._patience.start()
        self._show_counts()
        self.free.blockSignals(True)
        self.free.setChecked(task.free_turns)
        self.free.blockSignals(False)
        with QSignalBlocker(self.together):
            self.together.setChecked(task.together)
        self.grain.setCurrentIndex(self.grain.findData(task.grain))
        self.stock.refresh(self.system)
        yield
        self.split.refresh()
        self.hand.refresh()
        sheets = self.session.sheets
        if sheets is None:
            self.results.show_results([], self.system)
            return
        layout = sheets.layout
        area = sum(float(s.stock.region.area) for s in layout.sheets)
        pieces = sum(len(s.placed) for s in layout.sheets)
        used = reckon(
            "Used",
            100 * layout.used,
            "area of the pieces over the area of their sheets",
            given("sheets", area, "mm2"),
            given("pieces", area * layout.used, "mm2"),
            unit="%",
        )
        fewest = reckon(
            "Fewest by area",
            layout.fewest,
            "the pieces with their gaps over the usable part of a sheet, for each board; "
            "no layout can do with fewer",
            given("pieces placed", pieces, ""),
            unit="",
        )
        self.results.show_results(
            [
                ("sheets", given("Sheets", len(layout.sheets), ""), ""),
                ("fewest", fewest, ""),
                ("pieces", given("Pieces placed", pieces, ""), ""),
                ("used", used, ""),
                ("gap", constant("Gap between pieces", GAP, "mm", Mark.MEMORY), ""),
            ],
            self.system,
        )
