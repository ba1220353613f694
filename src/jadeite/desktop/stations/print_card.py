"""What is printed on the chosen panel: a picture, a colour, or words."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtGui import QColor, QIcon, QPixmap
from PyQt6.QtWidgets import QComboBox, QFileDialog, QLineEdit, QWidget

from jadeite.core.colours import BOARD_COLOURS
from jadeite.core.errors import JadeiteError
from jadeite.core.pipeline import print_from, with_prints
from jadeite.core.project import Photo, Print, changed
from jadeite.core.units import System
from jadeite.desktop.jobs import Job
from jadeite.desktop.lengths import LengthEdit
from jadeite.desktop.session import Session
from jadeite.desktop.stations.picture_card import PICTURES
from jadeite.desktop.widgets import Card, NumberBox

__all__ = ["PrintCard"]

NOTHING, COLOUR, WORDS, FILE = "", "colour", "words", "file"
WIDTH = 168
USUAL = "words"  # that are printed until others are typed
INK = "#2E7D66"  # of a colour until another is chosen


class PrintCard(Card):
    """Shown for a panel that can be printed on."""

    def __init__(self, session: Session) -> None:
        super().__init__("Print")
        self.session = session
        self.where: tuple[str, str] | None = None
        self.system: System = "mm"
        self.job = Job("photo", self)
        self.job.succeeded.connect(self._on_photo)
        self.job.failed.connect(self._on_refused)
        session.extra_jobs.append(self.job)
        self.what = QComboBox()
        self.what.setFixedWidth(WIDTH)
        self.what.activated.connect(lambda _: self._choose())
        self.row("Printed", self.what, "On its good side; laid out on the printer's paper, with "
                 "marks by which the cutter finds it.")  # fmt: skip
        self.scale = NumberBox("How large", 10, 1000, " %")
        self.turn = NumberBox("Turned left", -180, 180, "°")
        self.right = NumberBox("Moved right", -100, 100, " %")
        self.up = NumberBox("Moved up", -100, 100, " %")
        self.words = QLineEdit()
        self.words.setFixedWidth(WIDTH)
        self.words.setMaxLength(120)
        self.words.editingFinished.connect(self._typed)
        self.tall = LengthEdit("Capitals, high", 2.0, 100.0)
        self.tall.edited.connect(lambda value: self._change(tall=value))
        self.tall.refused.connect(session.trouble)
        self.colour = QComboBox()
        self.colour.setFixedWidth(WIDTH)
        for words, colour in (("Jade ink", INK), *BOARD_COLOURS):
            swatch = QPixmap(22, 14)
            swatch.fill(QColor(colour))
            self.colour.addItem(QIcon(swatch), words, colour.lower())
        self.colour.activated.connect(lambda _: self._change(colour=self.colour.currentData()))
        for box, field in (
            (self.scale, "scale"), (self.turn, "turn"), (self.right, "right"), (self.up, "up"),
        ):  # fmt: skip
            box.chosen.connect(lambda value, f=field: self._change(**{f: value}))
        self.rows: dict[QWidget, tuple[str, ...]] = {
            self.row("Colour", self.colour, "Flat, over all of the panel."): (COLOUR,),
            self.row("Words", self.words, "In letters of one stroke."): (WORDS,),
            self.row("Capitals, high", self.tall, "Lower where there is no room."): (WORDS,),
            self.row("How large", self.scale, "100 % fills the panel."): (FILE,),
            self.row("Turned left", self.turn, "From upright, as it stands."): (FILE, WORDS),
            self.row("Moved right", self.right, "By so much of the panel."): (FILE, WORDS),
            self.row("Moved up", self.up, "By so much of the panel."): (FILE, WORDS),
        }

    def _mine(self) -> Print | None:
        """What is printed on the panel now."""
        prints = self.session.task.prints
        return next((p for p in prints if (p.piece, p.panel) == self.where), None)

    def _fill(self) -> None:
        wanted = [("nothing", NOTHING)]
        wanted += [(photo.title, f"{FILE}:{photo.key}") for photo in self.session.task.photos]
        wanted += [("a picture …", FILE), ("a colour", COLOUR), ("words", WORDS)]
        have = [(self.what.itemText(i), self.what.itemData(i)) for i in range(self.what.count())]
        if wanted != have:
            self.what.clear()
            for words, key in wanted:
                self.what.addItem(words, key)

    def _choose(self) -> None:
        if self.where is None:
            return
        kind, _, key = str(self.what.currentData()).partition(":")
        where = "/".join(self.where)
        if kind == FILE and not key:
            self._ask()
        elif kind == NOTHING:
            self.session.edit(prints=self._others())
        else:
            given = {COLOUR: INK, WORDS: USUAL, FILE: ""}[kind]
            self._put(print_from(where, given, key))

    def _others(self) -> tuple[Print, ...]:
        prints = self.session.task.prints
        return tuple(p for p in prints if (p.piece, p.panel) != self.where)

    def _put(self, one: Print) -> None:
        self.session.edit(prints=with_prints(self.session.task, (one,)))

    def _change(self, **fields: object) -> None:
        mine = self._mine()
        if mine is None:
            return
        try:
            self._put(changed(mine, **fields))
        except JadeiteError as error:
            self.session.trouble.emit(str(error))

    def _typed(self) -> None:
        words = self.words.text().strip()
        mine = self._mine()
        if mine is not None and words and words != mine.words:
            self._change(words=words)

    def _ask(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, "A picture to print", "", PICTURES)
        if name:
            self.take_in(Path(name))
        else:
            self.show_panel(self.where, self.system)

    def take_in(self, path: Path) -> None:
        """Print a picture's file on the panel."""
        taken = tuple(photo.key for photo in self.session.task.photos)
        self.job.start((self.session.chosen, self.where), str(path), taken)

    def _on_photo(self, photo: object, wanted: object) -> None:
        if not isinstance(photo, Photo) or wanted != (self.session.chosen, self.where):
            return  # another panel was chosen meanwhile
        assert self.where is not None
        one = print_from("/".join(self.where), "", photo.key)
        task = self.session.task
        self.session.edit(photos=(*task.photos, photo), prints=with_prints(task, (one,)))

    def _on_refused(self, words: str) -> None:
        self.session.trouble.emit(f"Print: {words}")
        self.show_panel(self.where, self.system)

    def show_panel(self, where: tuple[str, str] | None, system: System) -> None:
        """The print of a panel, if it can have one."""
        design = self.session.work.design
        self.where, self.system = where, system
        can = design is not None and where is not None and design.has(where)
        if can and design is not None and where is not None:
            traits = design.piece(where[0]).panel(where[1]).role.traits
            can = not (traits.bends or traits.leans or traits.glue)
        self.setVisible(can)
        if not can:
            return
        self._fill()
        mine = self._mine()
        kind, key = NOTHING, NOTHING
        if mine is not None:
            kind = FILE if mine.photo else COLOUR if mine.colour else WORDS
            key = f"{FILE}:{mine.photo}" if mine.photo else kind
            self.scale.set_value(mine.scale)
            self.turn.set_value(mine.turn)
            self.right.set_value(mine.right)
            self.up.set_value(mine.up)
            self.tall.set_value(mine.tall, system)
            self.colour.setCurrentIndex(max(0, self.colour.findData(mine.colour.lower())))
            if not self.words.hasFocus():
                self.words.setText(mine.words)
        self.what.setCurrentIndex(max(0, self.what.findData(key)))
        held = design is not None and where in design.registers  # it lies where its figure is
        for row, kinds in self.rows.items():
            row.setVisible(kind in kinds and not (held and kind == FILE))
