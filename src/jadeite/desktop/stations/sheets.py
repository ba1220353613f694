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
    QWidget,
)

from jadeite.core.project import MAX_COPIES, Stock, edited
from jadeite.core.reckoning import Mark, constant, given, reckon
from jadeite.core.sheets import GAP, SHEET_SIZES
from jadeite.core.steps import Steps
from jadeite.core.units import format_size
from jadeite.desktop.lengths import LengthEdit
from jadeite.desktop.stations.base import Panel, ResultsCard
from jadeite.desktop.stations.split_card import SplitCard
from jadeite.desktop.widgets import Card, Field, button, clear_layout, label

__all__ = ["SheetsPanel"]

GRAINS = (
    ("heavy", "boards that crack"),
    ("follow", "every piece"),
    ("ignore", "no piece"),
)


class SheetsPanel(Panel):
    """Which sheets lie at hand, and how many boxes are made."""

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
        stock = Card("Sheets at hand")
        self._list = QVBoxLayout()
        self._list.setSpacing(4)
        stock.body.addLayout(self._list)
        self.add = QComboBox()
        self.add.addItem("Add a size …", None)
        for size in SHEET_SIZES:
            self.add.addItem(size.title, size)
        self.add.addItem("Another size", "own")
        self.add.setAccessibleName("Add a sheet size")
        self.add.activated.connect(self._add)
        stock.add(self.add)
        self.own = QWidget()
        line = QHBoxLayout(self.own)
        line.setContentsMargins(0, 0, 0, 0)
        self.own_width = LengthEdit("Sheet width", 20.0, 3000.0)
        self.own_height = LengthEdit("Sheet height", 20.0, 3000.0)
        for edit in (self.own_width, self.own_height):
            edit.setFixedWidth(88)
            edit.set_value(300.0)
            edit.refused.connect(self.session.trouble)
            line.addWidget(edit)
        line.addWidget(button("Add", self._add_own))
        self.own.setVisible(False)
        stock.add(self.own)
        stock.add(label("The first size on which a piece fits is used first.", "small", wrap=True))
        self.column.addWidget(stock)
        self.split = SplitCard(self.session)
        self.column.addWidget(self.split)
        self.results = ResultsCard()
        self.column.addWidget(self.results)
        self._shown: object = None

    def _show_busy(self) -> None:
        self.progress.setVisible(self.session.sheets_busy)
        self.stop.setVisible(self.session.sheets_busy)

    def _add(self) -> None:
        size = self.add.currentData()
        self.own.setVisible(size == "own")
        self.add.setCurrentIndex(0)
        if size is not None and size != "own":
            entry = Stock(name=size.title, width=size.width, height=size.height)
            self.session.edit(stock=(*self.session.task.stock, entry))

    def _add_own(self) -> None:
        width, height = self.own_width.value(), self.own_height.value()
        name = format_size((width, height), self.system, places=0)
        entry = Stock(name=name, width=width, height=height)
        self.own.setVisible(False)
        self.session.edit(stock=(*self.session.task.stock, entry))

    def _remove(self, index: int) -> None:
        stock = list(self.session.task.stock)
        if len(stock) == 1:
            self.session.trouble.emit("Stock: one size must stay. Add another size first.")
            return
        del stock[index]
        self.session.edit(stock=tuple(stock))

    def _first(self, index: int) -> None:
        stock = list(self.session.task.stock)
        stock.insert(0, stock.pop(index))
        self.session.edit(stock=tuple(stock))

    def _count(self, index: int, value: int) -> None:
        stock = list(self.session.task.stock)
        stock[index] = stock[index].model_copy(update={"count": value or None})
        self.session.edit(stock=tuple(stock))

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
        self.grain.setCurrentIndex(self.grain.findData(task.grain))
        self._show_stock(task.stock)
        yield
        self.split.refresh()
        sheets = self.session.sheets
        if sheets is None:
            self.results.show_results([], self.system)
            return
        layout = sheets.layout
        area = sum(s.stock.width * s.stock.height for s in layout.sheets)
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

    def _show_stock(self, stock: tuple[Stock, ...]) -> None:
        key = (stock, self.system)
        if key == self._shown:
            return
        self._shown = key
        clear_layout(self._list)
        for i, entry in enumerate(stock):
            holder = QWidget()
            line = QHBoxLayout(holder)
            line.setContentsMargins(0, 0, 0, 0)
            line.setSpacing(4)
            line.addWidget(label(entry.name, "strong" if i == 0 else ""), 1)
            count = QSpinBox()
            count.setRange(0, 999)
            count.setSpecialValueText("plenty")
            count.setValue(entry.count or 0)
            count.setFixedWidth(78)
            count.setAccessibleName(f"How many sheets of {entry.name}")
            count.setToolTip("How many sheets lie at hand; 0 means plenty.")
            count.setKeyboardTracking(False)
            count.valueChanged.connect(lambda v, n=i: self._count(n, v))
            line.addWidget(count)
            if i:
                first = button(
                    "first", lambda n=i: self._first(n), "plain", "Use this size before the others."
                )
                line.addWidget(first)
            away = button("remove", lambda n=i: self._remove(n), "plain")
            away.setAccessibleName(f"Remove {entry.name}")
            line.addWidget(away)
            self._list.addWidget(holder)
