"""Sheets at hand: sizes, how many, of which board; offcuts; carried as a table."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QSignalBlocker, QSize
from PyQt6.QtGui import QColor, QIcon, QPixmap
from PyQt6.QtWidgets import (
    QComboBox,
    QDoubleSpinBox,
    QFileDialog,
    QHBoxLayout,
    QSpinBox,
    QVBoxLayout,
    QWidget,
)

from jadeite.core.boards import with_own
from jadeite.core.colours import BOARD_COLOURS
from jadeite.core.errors import FileError
from jadeite.core.formats.stock_table import load_stock, save_stock
from jadeite.core.project import MOST_SHEETS_AT_HAND, Stock
from jadeite.core.sheets import SHEET_SIZES, after_job, used_of
from jadeite.core.units import System, counted, format_size
from jadeite.desktop.lengths import LengthEdit
from jadeite.desktop.session import Session
from jadeite.desktop.widgets import Card, Disclosure, button, clear_layout, label, set_role

__all__ = ["StockCard"]

WIDE = 150
LOW = 1  # sheets left, or fewer, are said in amber
GRAINS = (("as in its board", ""), ("upwards", "upward"), ("across", "across"))
PLENTY = -1  # in the field for a count


class StockCard(Card):
    """The stock of the job: what it is cut from, and what will be left."""

    def __init__(self, session: Session) -> None:
        super().__init__("Sheets at hand")
        self.session = session
        self.system: System = "mm"
        self._shown: object = None
        self._list = QVBoxLayout()
        self._list.setSpacing(4)
        self.body.addLayout(self._list)
        self.add_size = QComboBox()
        self.add_size.addItem("Add a size …", None)
        for size in SHEET_SIZES:
            self.add_size.addItem(size.title, size)
        self.add_size.addItem("Another size", "own")
        self.add_size.setAccessibleName("Add a sheet size")
        self.add_size.activated.connect(self._add)
        self.add(self.add_size)
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
        self.add(self.own)
        self.add(
            label("Offcuts are used first, then the first size on which a piece fits.", "small",
                  wrap=True)
        )  # fmt: skip
        self.opener = Disclosure(
            "Change a sheet", "Its board, its colour, its grain and its price."
        )
        self.add(self.opener)
        self._build_form()
        self.keep = button(
            "Keep what is left",
            self.keep_left,
            "",
            "Once all is cut: used sheets are taken off, offcuts are kept with their outline.",
        )
        self.add(self.keep)
        carry = QHBoxLayout()
        for words, act, tip in (
            ("Take in…", self._ask_in, "Sheets from a table in CSV, in place of these."),
            ("Write out…", self._ask_out, "These sheets as a table in CSV."),
        ):
            carry.addWidget(button(words, act, "plain", tip))
        carry.addStretch(1)
        self.body.addLayout(carry)
        self.said = label("", "small", wrap=True)
        self.add(self.said)
        self.said.hide()

    def _build_form(self) -> None:
        form = Card()
        form.setProperty("role", "plain")
        form.body.setContentsMargins(0, 0, 0, 0)
        self.which, self.board, self.colour = QComboBox(), QComboBox(), QComboBox()
        for combo in (self.which, self.board, self.colour):
            combo.setFixedWidth(WIDE)
        self.colour.setIconSize(QSize(22, 14))
        self.which.activated.connect(lambda _: self._show_form())
        self.board.activated.connect(lambda _: self._change(board=self.board.currentData()))
        self.colour.activated.connect(lambda _: self._change(colour=self.colour.currentData()))
        form.row("Sheet", self.which)
        form.row("Board", self.board, "Pieces of other boards are not cut from it.")
        form.row("Colour", self.colour, "Pieces in other colours are not cut from it.")
        self.grain = QComboBox()
        self.grain.setFixedWidth(WIDE)
        for words, key in GRAINS:
            self.grain.addItem(words, key)
        self.grain.activated.connect(lambda _: self._change(grain=self.grain.currentData()))
        form.row("Grain", self.grain, "Which way the sheet bends more easily, as it lies here.")
        self.reserved = QSpinBox()
        self.reserved.setRange(0, 999)
        self.reserved.setSpecialValueText("none")
        self.reserved.setFixedWidth(110)
        self.reserved.setKeyboardTracking(False)
        self.reserved.valueChanged.connect(lambda v: self._change(reserved=v))
        form.row("Kept for others", self.reserved, "So many of them are not used by this job.")
        self.price = QDoubleSpinBox()
        self.price.setRange(0.0, 100_000.0)
        self.price.setSpecialValueText("not known")
        self.price.setFixedWidth(110)
        self.price.setKeyboardTracking(False)
        self.price.valueChanged.connect(lambda v: self._change(price=v or None))
        form.row("Price of one", self.price, "Of layouts with as many sheets the cheaper is taken.")
        self.add(form)
        self.opener.holds(form)

    # ------------------------------------------------------------- changing

    @property
    def stock(self) -> list[Stock]:
        """What is at hand now."""
        return list(self.session.project.stock)

    def _put(self, stock: list[Stock]) -> None:
        self.session.edit(stock=tuple(stock))

    def _add(self) -> None:
        size = self.add_size.currentData()
        self.own.setVisible(size == "own")
        self.add_size.setCurrentIndex(0)
        if size is not None and size != "own":
            entry = Stock(name=size.title, width=size.width, height=size.height)
            self._put([*self.stock, entry])

    def _add_own(self) -> None:
        width, height = self.own_width.value(), self.own_height.value()
        name = format_size((width, height), self.system, places=0)
        self.own.setVisible(False)
        self._put([*self.stock, Stock(name=name, width=width, height=height)])

    def _remove(self, index: int) -> None:
        stock = self.stock
        if len(stock) == 1:
            self.session.trouble.emit("Stock: one size must stay. Add another size first.")
            return
        del stock[index]
        self._put(stock)

    def _first(self, index: int) -> None:
        stock = self.stock
        stock.insert(0, stock.pop(index))
        self._put(stock)

    def _count(self, index: int, value: int) -> None:
        stock = self.stock
        count = None if value == PLENTY else value
        stock[index] = stock[index].model_copy(update={"count": count})
        self._put(stock)

    def _change(self, **fields: object) -> None:
        stock, index = self.stock, self.which.currentIndex()
        if 0 <= index < len(stock):
            stock[index] = stock[index].model_copy(update=fields)
            self._put(stock)

    # ------------------------------------------------------------- carrying

    def keep_left(self) -> None:
        """Take used sheets off, and keep the offcuts of this layout."""
        sheets = self.session.sheets
        if sheets is None or not self.session.sheets_current:
            return
        pieces = {name: own.piece for name, own in sheets.pieces.items()}
        before = self.stock
        after = after_job(before, sheets.layout, pieces, sheets.colours)
        offcuts = len({entry.name for entry in after if not entry.whole} - {e.name for e in before})
        self._put(list(after))
        self._say(
            f"{counted(offcuts, 'offcut')} kept, used sheets taken off. Undo brings all back."
        )

    def _ask_in(self) -> None:
        name, _ = QFileDialog.getOpenFileName(
            self, "Take sheets in", "", "Table (*.csv);;All files (*)"
        )
        if name:
            self.take_in(Path(name))

    def take_in(self, path: Path) -> None:
        """Sheets of a file instead of these; none where one of them is no sheet."""
        try:
            stock = load_stock(path)
        except FileError as error:
            self._say(str(error), bad=True)
            return
        self._put(list(stock[:MOST_SHEETS_AT_HAND]))
        self._say(f"{counted(len(stock), 'size')} of sheets taken in from {path.name}.")

    def _ask_out(self) -> None:
        name, _ = QFileDialog.getSaveFileName(self, "Write sheets", "sheets.csv", "Table (*.csv)")
        if name:
            self.write_out(Path(name))

    def write_out(self, path: Path) -> None:
        """Write what is at hand to a file."""
        try:
            save_stock(self.stock, path)
        except FileError as error:
            self._say(str(error), bad=True)
            return
        self._say(f"{counted(len(self.stock), 'size')} of sheets written to {path.name}.")

    def _say(self, words: str, *, bad: bool = False) -> None:
        self.said.setText(words)
        set_role(self.said, "look" if bad else "small")
        self.said.show()

    # ------------------------------------------------------------- showing

    def refresh(self, system: System) -> None:
        """Show what is at hand, and how many of each this layout takes."""
        self.system = system
        stock, sheets = self.session.project.stock, self.session.sheets
        used = used_of(sheets.layout, stock) if sheets is not None else [0] * len(stock)
        self.keep.setEnabled(self.session.sheets_current)
        key = (stock, tuple(used), system)
        if key == self._shown:
            return
        self._shown = key
        clear_layout(self._list)
        for i, (entry, taken) in enumerate(zip(stock, used, strict=True)):
            self._list.addWidget(self._row(i, entry, taken))
        index = max(0, min(self.which.currentIndex(), len(stock) - 1))
        with QSignalBlocker(self.which):
            self.which.clear()
            for entry in stock:
                self.which.addItem(entry.name)
            self.which.setCurrentIndex(index)
        self._show_form()

    def _row(self, index: int, entry: Stock, taken: int) -> QWidget:
        """One size: its name, what of it is used, how many there are."""
        holder = QWidget()
        column = QVBoxLayout(holder)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(1)
        line = QHBoxLayout()
        line.setSpacing(4)
        line.addWidget(label(entry.name, "strong" if index == 0 else "", wrap=True), 1)
        if entry.whole:
            line.addWidget(self._counter(index, entry))
        if index and entry.whole:
            first = button(
                "first", lambda n=index: self._first(n), "plain", "Use this size before the others."
            )
            line.addWidget(first)
        away = button("remove", lambda n=index: self._remove(n), "plain")
        away.setAccessibleName(f"Remove {entry.name}")
        line.addWidget(away)
        column.addLayout(line)
        words, low = self._words(entry, taken)
        if words:
            column.addWidget(label(words, "look" if low else "small", wrap=True))
        return holder

    def _counter(self, index: int, entry: Stock) -> QSpinBox:
        """How many sheets of a size there are."""
        count = QSpinBox()
        count.setRange(PLENTY, 999)
        count.setSpecialValueText("plenty")
        count.setValue(PLENTY if entry.count is None else entry.count)
        count.setFixedWidth(78)
        count.setAccessibleName(f"How many sheets of {entry.name}")
        count.setToolTip("How many sheets lie at hand; below 0 means plenty.")
        count.setKeyboardTracking(False)
        count.valueChanged.connect(lambda v, n=index: self._count(n, v))
        return count

    def _words(self, entry: Stock, taken: int) -> tuple[str, bool]:
        """What of a size is used and what it is; whether few are left."""
        parts = []
        if entry.board:
            names = {board.key: board.title.lower() for board in self._boards()}
            parts.append(names.get(entry.board, entry.board))
        if entry.colour:
            names = {value.lower(): name.lower() for name, value in BOARD_COLOURS}
            parts.append(names.get(entry.colour.lower(), entry.colour))
        if not entry.whole:
            parts.append(format_size((entry.width, entry.height), self.system, places=0))
        low = False
        if taken and not entry.whole:
            parts.append("used")
        elif taken:
            left = None if entry.free is None else entry.free - taken
            low = left is not None and left <= LOW
            parts.append(f"{taken} used" + (f", {left} left" if left is not None else ""))
        if entry.reserved:
            parts.append(f"{entry.reserved} kept for others")
        return " · ".join(parts), low

    def _boards(self) -> tuple:  # type: ignore[type-arg]
        own = (*self.session.library.boards, *self.session.project.own_boards)
        return with_own(own)

    def _show_form(self) -> None:
        """The fields of the chosen size."""
        stock, index = self.stock, self.which.currentIndex()
        if not 0 <= index < len(stock):
            return
        entry = stock[index]
        with QSignalBlocker(self.board):
            self.board.clear()
            self.board.addItem("any", "")
            for board in self._boards():
                self.board.addItem(board.title, board.key)
            self.board.setCurrentIndex(max(0, self.board.findData(entry.board)))
        with QSignalBlocker(self.colour):
            self.colour.clear()
            self.colour.addItem("any", "")
            for name, value in self._colours(entry):
                patch = QPixmap(22, 14)
                patch.fill(QColor(value))
                self.colour.addItem(QIcon(patch), name, value)
            self.colour.setCurrentIndex(max(0, self.colour.findData(entry.colour)))
        self.grain.setCurrentIndex(self.grain.findData(entry.grain))
        with QSignalBlocker(self.reserved), QSignalBlocker(self.price):
            self.reserved.setValue(entry.reserved)
            self.price.setValue(entry.price or 0.0)

    def _colours(self, entry: Stock) -> list[tuple[str, str]]:
        """Names and values: of the boards, of what is cut now, and the chosen one."""
        found = {value: name for name, value in BOARD_COLOURS}
        known = {value.lower() for value in found}
        sheets = self.session.sheets
        cut = set(sheets.colours.values()) if sheets is not None else set()
        for value in sorted({*cut, entry.colour} - {""}):
            if value.lower() not in known:
                found[value] = f"as cut now, {value}"
        return [(name, value) for value, name in found.items()]
