"""The shelf of boards: add one by typing what its packet says, change one's own, carry them."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

from PyQt6.QtCore import QSignalBlocker, Qt
from PyQt6.QtWidgets import (
    QComboBox,
    QFileDialog,
    QHBoxLayout,
    QLineEdit,
    QSpinBox,
)

from jadeite.core.boards import Board, board_by_key, board_from_words, with_own
from jadeite.core.errors import FieldError, FileError
from jadeite.core.units import System, counted, number_text, parse_length
from jadeite.desktop.board_choice import BoardChoice
from jadeite.desktop.lengths import LengthEdit
from jadeite.desktop.session import Session
from jadeite.desktop.widgets import Card, Disclosure, button, label, set_role

__all__ = ["BoardShelf"]

WIDE = 150
SAMPLE = "80 lb cover, 176 gsm, 10 pt, 2 mm"
CHOICES = {
    "score": (
        ("no", "no score"),
        ("light", "light score"),
        ("yes", "score"),
        ("wheel", "score with a wheel"),
        ("hinge", "cut and hinge"),
    ),
    "pressure": (
        ("by-hand", "cut by hand"),
        ("lighter", "lighter"),
        ("usual", "usual"),
        ("firmer", "firmer"),
    ),
    "grain": (("long", "along the longer side"), ("short", "along the shorter"), ("none", "none")),
    "good_side": (("both", "both sides"), ("one", "one side")),
}
NUMBERS = (
    ("grammage", "Grammage, g/m²", "Weigh a sheet and divide by its area."),
    ("stiff_along", "Stiffness along grain, GPa", "Card is about 5."),
    ("stiff_across", "Stiffness across, GPa", "Card is about 2.5."),
    ("translucency", "Light let through, 0 to 1", "0 for card, 0.6 for vellum."),
    ("price", "Price of a sheet", "In your own money; 0 when unknown."),
)


class BoardShelf(Card):
    """Adds, changes and carries boards."""

    def __init__(self, session: Session, choice: BoardChoice) -> None:
        super().__init__("Your boards")
        self.session, self.choice = session, choice
        self.packet = QLineEdit()
        self.packet.setMaxLength(120)
        self.packet.setPlaceholderText(SAMPLE)
        self.packet.setAccessibleName("What the packet says")
        self.packet.setToolTip(
            "Type what the packet says. Pounds need the kind of paper; what it does not say is "
            "estimated and marked so."
        )
        self.packet.textEdited.connect(lambda _: self._read())
        self.packet.returnPressed.connect(self.add_board)
        line = QHBoxLayout()
        line.addWidget(self.packet, 1)
        self.add_button = button("Add", self.add_board, "", "Keeps it for every project.")
        line.addWidget(self.add_button)
        self.body.addLayout(line)
        self.read = label(f"Type what a packet says: {SAMPLE}.", "small", wrap=True)
        self.add(self.read)
        self.opener = Disclosure("Change a board", "Measured thickness, stiffness, price and more.")
        self.add(self.opener)
        self._build_form()
        carry = QHBoxLayout()
        carry.addWidget(
            button("Take in…", self._ask_import, "plain", "Boards from a JSON or CSV file.")
        )
        carry.addWidget(
            button("Write out…", self._ask_export, "plain", "All your boards, as JSON or CSV.")
        )
        carry.addStretch(1)
        self.body.addLayout(carry)
        self._system: System = "mm"
        if session.library.unreadable:
            self._say(f"Your own boards cannot be read: {session.library.unreadable}", bad=True)

    def _build_form(self) -> None:
        form = Card()
        form.setProperty("role", "plain")
        form.body.setContentsMargins(0, 0, 0, 0)
        self.which = QComboBox()
        self.which.setFixedWidth(WIDE)
        self.which.activated.connect(lambda _: self._show_board())
        form.row("Board", self.which, "One of the catalogue becomes your own once it is changed.")
        self.title = QLineEdit()
        self.title.setFixedWidth(WIDE)
        self.title.setMaxLength(60)
        self.title.editingFinished.connect(lambda: self._change(title=self.title.text().strip()))
        form.row("Name", self.title)
        self.thickness = LengthEdit("Thickness", 0.01, 12.0)
        self.thickness.setFixedWidth(88)
        self.thickness.edited.connect(
            lambda v: self._change(thickness=v, thickness_from="measured")
        )
        self.thickness.refused.connect(self.session.trouble)
        form.row("Thickness", self.thickness, "Measure ten sheets together and divide by ten.")
        self.numbers: dict[str, QLineEdit] = {}
        for key, words, tip in NUMBERS:
            edit = QLineEdit()
            edit.setFixedWidth(72)
            edit.setAlignment(Qt.AlignmentFlag.AlignRight)
            edit.editingFinished.connect(lambda k=key, w=words: self._typed(k, w))
            form.row(words, edit, tip)
            self.numbers[key] = edit
        self.choices: dict[str, QComboBox] = {}
        for key, words in (
            ("score", "Folds"),
            ("pressure", "Blade"),
            ("grain", "Grain"),
            ("good_side", "Good on"),
        ):
            combo = QComboBox()
            combo.setFixedWidth(WIDE)
            for value, name in CHOICES[key]:
                combo.addItem(name, value)
            combo.activated.connect(
                lambda _, k=key: self._change(**{k: self.choices[k].currentData()})
            )
            form.row(words, combo)
            self.choices[key] = combo
        self.passes = QSpinBox()
        self.passes.setRange(1, 60)
        self.passes.setFixedWidth(66)
        self.passes.valueChanged.connect(lambda v: self._change(passes=v))
        form.row("Cutting passes", self.passes)
        self.texts: dict[str, QLineEdit] = {}
        for key, words, tip in (
            ("finish", "Finish", "Plain, matt, foil …"),
            ("note", "Note", "Where you got it, what to mind."),
            ("sheets", "Sheet sizes", "As 12 x 12 in; 210 x 297"),
        ):
            edit = QLineEdit()
            edit.setFixedWidth(WIDE)
            edit.editingFinished.connect(lambda k=key: self._set_text(k))
            form.row(words, edit, tip)
            self.texts[key] = edit
        self.forget = button("Take it off the shelf", self._forget, "plain")
        form.add(self.forget)
        self.form = form
        self.add(form)
        self.opener.holds(form)

    # ------------------------------------------------------------- adding

    def _read(self) -> Board | None:
        """Say what is understood, while it is typed."""
        text = self.packet.text().strip()
        if not text:
            self._say(f"Type what a packet says: {SAMPLE}.")
            return None
        try:
            board = board_from_words(text)
        except FieldError as error:
            self._say(f"{error.problem[0].upper()}{error.problem[1:]}. {error.cure}", bad=True)
            return None
        about = " (estimated)" if board.thickness_from == "grammage" else ""
        weight = " (estimated)" if board.grammage_from == "thickness" else ""
        self._say(
            f"{board.title}: {board.grammage:.0f} g/m²{weight}, "
            f"{number_text(board.thickness, 2)} mm thick{about}."
        )
        return board

    def add_board(self) -> None:
        """Put what was typed on the shelf, for this project and the others."""
        board = self._read()
        if board is None:
            return
        taken = {b.key for b in with_own((*self.session.library.boards,))}
        number = 2
        key = board.key
        while board.key in taken and board_by_key(board.key, self.session.library.boards) != board:
            board = replace(board, key=f"{key[:56]}-{number}")
            number += 1
        if self.session.library.keep(board):
            self.packet.clear()
            self._say(
                f"{board.title} is on the shelf: {board.grammage:.0f} g/m². Choose it in the "
                "chart to use it."
            )
            self.which.setCurrentIndex(self.which.findData(board.key))
            self._show_board()

    def _say(self, words: str, *, bad: bool = False) -> None:
        set_role(self.read, "blocked" if bad else "small")
        self.read.setText(words)

    # ------------------------------------------------------------- changing

    def _board(self) -> Board | None:
        key = self.which.currentData()
        own = (*self.session.library.boards, *self.session.task.own_boards)
        return None if key is None else board_by_key(str(key), own)

    def _change(self, **fields: object) -> None:
        board = self._board()
        if board is None or fields.get("title") == "":
            self._show_board()
            return
        try:
            new = replace(board, **fields)  # type: ignore[arg-type]
        except FieldError as error:
            self.session.trouble.emit(str(error))
            self._show_board()
            return
        if new != board and self.session.library.keep(new):
            used = {b.key for b in self.session.task.own_boards}
            if new.key in used or new.key in self.session.task.boards.values():
                others = [b for b in self.session.task.own_boards if b.key != new.key]
                self.session.edit(own_boards=(*others, new))
        self._show_board()

    def _typed(self, key: str, words: str) -> None:
        edit = self.numbers[key]
        if not edit.isModified():
            return
        edit.setModified(False)
        try:
            value = float(edit.text().replace(",", ".").strip() or "0")
        except ValueError:
            name = words.split(",")[0]
            self.session.trouble.emit(f"{name}: “{edit.text()[:20]}” is not a number.")
            self._show_board()
            return
        if key == "price":
            self._change(price=value or None)
        elif key == "grammage":
            self._change(grammage=value, grammage_from="given", basis=None)
        else:
            self._change(**{key: value})

    def _set_text(self, key: str) -> None:
        edit = self.texts[key]
        if not edit.isModified():
            return
        edit.setModified(False)
        text = edit.text().strip()
        if key != "sheets":
            self._change(**{key: text[:60] if key == "finish" else text[:400]})
            return
        try:
            self._change(sheets=_sheets(text))
        except FieldError as error:
            self.session.trouble.emit(str(error))
            self._show_board()

    def _forget(self) -> None:
        board = self._board()
        if board is not None:
            self.session.library.forget(board.key)

    # ------------------------------------------------------------- carrying

    def _ask_import(self) -> None:
        name, _ = QFileDialog.getOpenFileName(
            self, "Take boards in", "", "Boards (*.json *.csv);;All files (*)"
        )
        if name:
            self.take_in(Path(name))

    def take_in(self, path: Path) -> None:
        """Put the boards of a file on the shelf; none where one of them is not a board."""
        try:
            count = self.session.library.take_in(path)
        except FileError as error:
            self._say(str(error), bad=True)
            return
        self._say(f"{counted(count, 'board')} taken in from {path.name}.")

    def _ask_export(self) -> None:
        name, _ = QFileDialog.getSaveFileName(
            self, "Write your boards", "boards.csv", "Table (*.csv);;Jadeite boards (*.json)"
        )
        if name:
            self.write_out(Path(name))

    def write_out(self, path: Path) -> None:
        """Write every board of one's own to a file."""
        try:
            self.session.library.write_to(path)
        except FileError as error:
            self._say(str(error), bad=True)
            return
        count = len(self.session.library.boards)
        self._say(f"{counted(count, 'board')} written to {path.name}.")

    # ------------------------------------------------------------- showing

    def refresh(self, system: System) -> None:
        """Show the shelf as it now is."""
        self._system = system
        at_hand = with_own((*self.session.library.boards, *self.session.task.own_boards))
        items = [(f"{b.title}, {b.grammage:.0f} g/m²", b.key) for b in at_hand]
        shown = [
            (self.which.itemText(i), self.which.itemData(i)) for i in range(self.which.count())
        ]
        if shown != items:
            kept = self.which.currentData() or self.choice.used()
            self.which.clear()
            for words, key in items:
                self.which.addItem(words, key)
            self.which.setCurrentIndex(max(0, self.which.findData(kept)))
        self._show_board()

    def _show_board(self) -> None:
        board = self._board()
        if board is None:
            return
        own = {b.key for b in self.session.library.boards}
        self.forget.setVisible(board.key in own)
        if not self.title.hasFocus() or not self.title.isModified():
            self.title.setText(board.title)
        self.thickness.set_value(board.thickness, self._system, places=2)
        for key, edit in self.numbers.items():
            value = getattr(board, key)
            if not (edit.isModified() and edit.hasFocus()):
                edit.setText("" if value is None else f"{value:.4g}")
        for key, combo in self.choices.items():
            combo.setCurrentIndex(combo.findData(getattr(board, key)))
        with QSignalBlocker(self.passes):
            self.passes.setValue(board.passes)
        values = {
            "finish": board.finish,
            "note": board.note,
            "sheets": "; ".join(f"{w:g} x {h:g}" for w, h in board.sheets),
        }
        for key, edit in self.texts.items():
            if not (edit.isModified() and edit.hasFocus()):
                edit.setText(values[key])


def _sheets(text: str) -> tuple[tuple[float, float], ...]:
    """Sheet sizes in mm, typed as 12 x 12 in; 210 x 297."""
    out = []
    for part in (p for p in text.split(";") if p.strip()):
        sides = part.lower().replace("×", "x").split("x")
        if len(sides) != 2:
            raise FieldError(
                "sheet sizes", f"“{part.strip()[:20]}” is no size", "Type it as 12 x 12 in."
            )
        unit = next((u for u in ("in", "mm", "cm") if sides[1].strip().endswith(u)), "")
        first = sides[0] if sides[0].strip()[-1:].isalpha() else f"{sides[0]} {unit}"
        out.append(
            (
                parse_length(first, field="sheet sizes", low=1.0, high=5000.0),
                parse_length(sides[1], field="sheet sizes", low=1.0, high=5000.0),
            )
        )
    return tuple(out)
