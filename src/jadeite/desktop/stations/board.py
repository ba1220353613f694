"""Board: what each part is made of, what that means here, and what would be lighter or firmer."""

from __future__ import annotations

from collections.abc import Iterable

from PyQt6.QtCore import QObject, QSignalBlocker, QSize, Qt
from PyQt6.QtGui import QColor, QIcon, QPixmap, QStandardItem, QStandardItemModel
from PyQt6.QtWidgets import QComboBox, QVBoxLayout, QWidget

from jadeite.core.boards import (
    Board,
    grammage_reckoning,
    thickness_reckoning,
    weight_words,
    with_own,
)
from jadeite.core.choice import Figure, Meaning, Remedy
from jadeite.core.formats.reckoning_text import reckoning_text
from jadeite.core.nets.grain import preferred_grain
from jadeite.core.pictures.palette import BOARD_COLOURS
from jadeite.core.pipeline import mass_of_contents
from jadeite.core.reckoning import Reckoning
from jadeite.core.shapes.extra import DIVIDER
from jadeite.core.steps import Steps
from jadeite.core.units import format_area, in_system
from jadeite.desktop.board_choice import BoardChoice
from jadeite.desktop.session import Session
from jadeite.desktop.stations.base import Panel, ResultsCard
from jadeite.desktop.stations.board_shelf import BoardShelf
from jadeite.desktop.widgets import Card, Disclosure, Field, button, clear_layout, label

__all__ = ["BoardPanel"]

WIDE, NAME = 187, 92  # pixels, of a list and of the name before it; design rule
MARKS = {"holds": "holds", "look": "look", "fails": "does not hold", "": ""}


class BoardPanel(Panel):
    """A board and a colour for each part, the choice, the figures, and the shelf of boards."""

    def __init__(self, session: Session, choice: BoardChoice) -> None:
        self.choice = choice
        super().__init__(session)

    def build(self) -> None:
        """Make the widgets, once."""
        card = Card("Board of each part")
        self._items = QStandardItemModel(self)  # one list of boards for all parts
        self._colour_items = _colour_items(self)
        self.boards: dict[str, QComboBox] = {}
        self.colours: dict[str, QComboBox] = {}
        self._rows = QVBoxLayout()
        self._rows.setSpacing(7)
        card.body.addLayout(self._rows)
        self.focus = QComboBox()
        self.focus.setFixedWidth(WIDE)
        self.focus.activated.connect(lambda _: self.choice.set_part(self.focus.currentData()))
        card.row(
            "Compare for", self.focus, "The parts that a board chosen in the chart is used for."
        )
        self.column.addWidget(card)
        why = Card("The lightest that holds")
        self.why = label("", "", wrap=True)
        why.add(self.why)
        self.use_best = button("Use it", self._use_best, "", "Ctrl+Z takes it back.")
        why.add(self.use_best)
        self._cures = QVBoxLayout()
        self._cures.setSpacing(5)
        why.body.addLayout(self._cures)
        self.column.addWidget(why)
        self.figures = ResultsCard("What it means here")
        self.column.addWidget(self.figures)
        self.note = label("", "small", wrap=True)
        self.figures.body.addWidget(self.note)
        self.grain = Card()
        opener = Disclosure("Grain of each piece", "Which way the grain should run, and why.")
        self.grain.add(opener)
        self.grain_words = label("", "small", wrap=True)
        self.grain.add(self.grain_words)
        opener.holds(self.grain_words)
        self.column.addWidget(self.grain)
        self.shelf = BoardShelf(self.session, self.choice)
        self.column.addWidget(self.shelf)
        self._shown: object = None
        self._cured: object = None
        self.choice.changed.connect(self._show_choice)

    # ------------------------------------------------------------- changes

    def _set_board(self, part: str) -> None:
        self.choice.use_in((part,), str(self.boards[part].currentData()))

    def _set_colour(self, part: str) -> None:
        chosen = self.session.task.colours | {part: self.colours[part].currentData()}
        self.session.edit(colours={part: colour for part, colour in chosen.items() if colour})

    def choose_board(self, key: str) -> None:
        """Use one board for every part that is compared."""
        self.choice.use(key)

    def _use_best(self) -> None:
        found = self.choice.comparison
        if found is not None and found.lightest is not None:
            self.choice.use(found.lightest.board.key)

    # ------------------------------------------------------------- showing

    def refreshing(self) -> Steps[None]:
        """Show the document as it now is."""
        parts = self.choice.parts()
        at_hand = with_own((*self.session.library.boards, *self.session.task.own_boards))
        key = (parts, at_hand, self.system)
        if key != self._shown:
            self._shown = None  # until all are made
            yield from self._make_rows(parts, at_hand)
            self._shown = key
        task, work = self.session.task, self.session.work
        for part, combo in self.boards.items():
            board = work.boards.get(part)
            combo.setCurrentIndex(combo.findData(board.key if board else task.board_of(part)))
            colour = self.colours[part]
            value = task.colours.get(part)
            if value is None and work.family.tones is None:
                value = BOARD_COLOURS[0][1]
            colour.setCurrentIndex(max(0, colour.findData(value)))
        yield
        self._show_choice()
        yield
        self._show_grain()
        yield
        self.shelf.refresh(self.system)

    def _make_rows(
        self, parts: tuple[tuple[str, str], ...], boards: Iterable[Board]
    ) -> Steps[None]:
        clear_layout(self._rows)
        self.boards, self.colours = {}, {}
        self._items.clear()
        for board in boards:
            item = QStandardItem(f"{board.title}, {board.grammage:.0f} g/m²")
            item.setToolTip(weight_words(board, self.system))
            item.setData(board.key, Qt.ItemDataRole.UserRole)
            self._items.appendRow(item)
        yield
        with QSignalBlocker(self.focus):
            self.focus.clear()
            self.focus.addItem("every part", "")
        for part, title in parts:
            held = Card()
            held.setProperty("role", "plain")
            held.body.setContentsMargins(0, 0, 0, 0)
            held.body.setSpacing(4)
            choice = QComboBox()
            choice.setFixedWidth(WIDE)
            choice.setModel(self._items)
            choice.activated.connect(lambda _, k=part: self._set_board(k))
            field = Field(title, choice, f"The board of the {title.lower()}.")
            if field.words.sizeHint().width() > NAME:
                field.words.setWordWrap(True)
                field.words.setFixedWidth(NAME)
            held.add(field)
            colour = QComboBox()
            colour.setFixedWidth(WIDE)
            colour.setIconSize(QSize(22, 14))
            colour.setModel(self._colour_items)
            colour.activated.connect(lambda _, k=part: self._set_colour(k))
            held.row("its colour", colour, "Only for the pictures and for sorting sheets.")
            self.boards[part], self.colours[part] = choice, colour
            self._rows.addWidget(held)
            self.focus.addItem(title, part)
            yield

    def _show_choice(self) -> None:
        found = self.choice.comparison
        with QSignalBlocker(self.focus):
            self.focus.setCurrentIndex(max(0, self.focus.findData(self.choice.part)))
        if found is None:
            self.why.setText("Comparing…" if self.choice.comparing else "Nothing to compare yet.")
            self.use_best.hide()
            clear_layout(self._cures)
            self._cured = None
            self.figures.show_results([], self.system)
            return
        best, used = found.lightest, self.choice.used()
        words = found.why
        if mass_of_contents(self.session.task) == 0 and self.session.work.holds:
            words += " No weight is known: give the things one to see the floor sag."
        self.why.setText(in_system(words, self.system))
        self.use_best.setVisible(best is not None and best.board.key != used)
        if best is not None:
            self.use_best.setText(f"Use {best.board.title.lower()}")
        self._show_cures(self.choice.remedies)
        meaning = self.choice.meaning(used)
        self.figures.show_results(self._results(meaning), self.system)
        board = meaning.board if meaning is not None else None
        self.note.setText("" if board is None else f"{board.title}: {_care(board)}")

    def _show_cures(self, remedies: tuple[Remedy, ...]) -> None:
        if remedies is self._cured:
            return
        self._cured = remedies
        clear_layout(self._cures)
        if remedies:
            self._cures.addWidget(label("Or make it firmer", "head"))
        for remedy in remedies:
            held = QWidget()
            line = QVBoxLayout(held)
            line.setContentsMargins(0, 2, 0, 2)
            line.setSpacing(1)
            act = button(
                in_system(remedy.cure.label, self.system),
                lambda r=remedy: self.choice.cure(r),
                "",
                "Makes this change; Ctrl+Z takes it back.",
            )
            line.addWidget(act)
            line.addWidget(label(self._cost(remedy), "small", wrap=True))
            self._cures.addWidget(held)

    def _cost(self, remedy: Remedy) -> str:
        sign = "+" if remedy.board >= 0 else "−"
        area = f"{sign}{format_area(abs(remedy.board), self.system)} of board"
        if abs(remedy.board) < 100:
            area = "no more board"
        minutes = f"{remedy.minutes:+.1f} min" if abs(remedy.minutes) >= 0.05 else "no more time"
        holds = "Then it holds" if remedy.holds else f"Not enough: {remedy.meaning.failing}"
        return f"{holds}; {area}, {minutes.replace('-', '−')}, {remedy.grams:+.0f} g."

    def _results(self, meaning: Meaning | None) -> list[tuple[str, Reckoning, str]]:
        if meaning is None:
            return []
        out = [(f.key, f.value, self._title(f)) for f in meaning.figures]
        board = meaning.board
        out += [
            ("grammage", grammage_reckoning(board), "Grammage"),
            ("thickness", thickness_reckoning(board), "Thickness"),
        ]
        sizes = self.session.work.sizes
        if "lid-clearance" in sizes:
            out.append(("lid-clearance", sizes["lid-clearance"], ""))
        return out

    def _title(self, figure: Figure) -> str:
        """The figure's name with its limit."""
        if figure.limit is None:
            return figure.title
        way = "at least" if figure.least else "at most"
        return f"{figure.title}, {way} {reckoning_text(figure.limit, self.system)}"

    def _show_grain(self) -> None:
        design = self.session.work.design
        self.grain.setVisible(design is not None)
        if design is None:
            return
        lines = []
        for piece in design.pieces:
            if not piece.folds:
                continue
            grain = preferred_grain(piece)
            along = (
                f"{grain.along:.0f} of {grain.along + grain.across:.0f} mm of folds run along it"
            )
            way = {"x": "across the net", "y": "up the net", "": "either way"}[grain.axis]
            lines.append(f"{piece.title[0].upper()}{piece.title[1:]}: grain {way}; {along}.")
        strips = [p for p in design.pieces if p.part == DIVIDER]
        if strips:
            lines.append("Dividers: grain along their length, so that they stay flat.")
        rule = {
            "heavy": "Only boards that crack are laid along the grain.",
            "follow": "Every piece is laid along the grain.",
            "ignore": "The layout does not mind the grain.",
        }[self.session.task.grain]
        lines.append(f"{rule} Change that on the Sheets station.")
        self.grain_words.setText("\n".join(lines))


def _colour_items(parent: QObject) -> QStandardItemModel:
    """The colours of boards, to choose from."""
    out = QStandardItemModel(parent)
    usual = QStandardItem("as usual")
    usual.setData(None, Qt.ItemDataRole.UserRole)
    out.appendRow(usual)
    for name, value in BOARD_COLOURS:
        patch = QPixmap(22, 14)
        patch.fill(QColor(value))
        item = QStandardItem(QIcon(patch), name)
        item.setData(value, Qt.ItemDataRole.UserRole)
        out.appendRow(item)
    return out


def _care(board) -> str:  # type: ignore[no-untyped-def]
    words = {
        "no": "no score needed",
        "light": "a light score is enough",
        "yes": "score every fold",
        "wheel": "score with a wheel",
        "hinge": "cut through each fold and hinge it with paper",
    }.get(board.score, "score every fold")
    side = "; it has one good side, which must end outside" if board.good_side == "one" else ""
    note = f"; {board.note}" if board.note else ""
    return f"{words}{side}{note}."
