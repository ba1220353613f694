"""The inside: from the contents, fixed, by the paper or by a plate; dividers; room for all."""

from __future__ import annotations

from PyQt6.QtCore import QSignalBlocker
from PyQt6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QHBoxLayout,
    QProgressBar,
    QSpinBox,
    QVBoxLayout,
    QWidget,
)

from jadeite.core.contents.cells import UP
from jadeite.core.errors import JadeiteError
from jadeite.core.nets.roles import Role
from jadeite.core.pipeline import room_of
from jadeite.core.project import Hollow, Task
from jadeite.core.sizing import (
    GROWTHS,
    PaperSize,
    largest_block,
    paper_words,
    size_by_plate,
    what_fits,
)
from jadeite.core.units import System, format_size
from jadeite.desktop.lengths import LengthEdit, LengthRow
from jadeite.desktop.session import Session
from jadeite.desktop.widgets import Card, Field, Segmented, button, label, set_role

__all__ = ["InsideCard"]

WIDE = 150
SOURCES = (
    ("contents", "from the contents"),
    ("fixed", "fixed"),
    ("paper", "by the paper"),
    ("plate", "by a plate"),
)
START = (96.0, 64.0, 41.0)  # mm; when nothing is known yet
DIVIDERS = (("none", "none"), ("fitted", "to each thing"), ("equal", "all equal"))


class InsideCard(Card):
    """Decides what the inside comes from."""

    def __init__(self, session: Session) -> None:
        super().__init__("Inside")
        self.session = session
        self._school = "contents"
        self.source = QComboBox()
        self.source.setFixedWidth(WIDE)
        for key, words in SOURCES:
            self.source.addItem(words, key)
        self.source.activated.connect(lambda _: self.choose(self.source.currentData()))
        self.row(
            "Sized",
            self.source,
            "From what goes in, or the other way about: the paper or a plate decides.",
        )
        self.words = label("", "strong")
        self.words_row = self.row("Inside", self.words, "Length × width × height")
        self._build_fixed()
        self._build_search()
        self.dividers = Segmented(DIVIDERS, "Dividers")
        self.dividers.chosen.connect(lambda key: self.session.edit(dividers=key))
        self.dividers_label = self.add(label("Dividers"))
        self.dividers_label.setToolTip("Slotted strips that give every thing a cell of its own.")
        self.add(self.dividers)
        self.usual = QCheckBox("My own room beside everything")
        self.usual.setToolTip("Instead of ours, for all things that have none of their own.")
        self.usual.clicked.connect(lambda on: self.session.edit(clearance=1.5 if on else None))
        self.add(self.usual)
        self.usual_edit = LengthEdit("Room beside everything", 0.0, 100.0)
        self.usual_edit.edited.connect(lambda v: self.session.edit(clearance=v))
        self.usual_edit.refused.connect(session.trouble)
        self.usual_row = self.row("On each side", self.usual_edit)
        self.job = session.size_job
        self.job.progressed.connect(lambda share, _: self.progress.setValue(round(100 * share)))
        self.job.succeeded.connect(self._on_found)
        self.job.failed.connect(self._on_failed)
        self.job.cancelled.connect(lambda: self._busy(False))
        self._busy(False)

    def _build_fixed(self) -> None:
        self.fixed = LengthRow("Inside", ("Length", "Width", "Height"), 0.1, 5000.0)
        self.fixed.edited.connect(self._set_fixed)
        self.fixed.refused.connect(self.session.trouble)
        self.fixed.dragging.connect(self.session.drag)
        self.edits = self.fixed.edits
        self.add(self.fixed)

    def _build_search(self) -> None:
        """The controls of the other school."""
        self.search = QWidget()
        column = QVBoxLayout(self.search)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        self.stock = QComboBox()
        self.stock.setFixedWidth(WIDE)
        self.sheets = QSpinBox()
        self.sheets.setRange(1, 20)
        self.sheets.setFixedWidth(66)
        self.stock_row = Field("Sheet", self.stock, "Sheets at hand, as on the Sheets station.")
        self.sheets_row = Field("How many sheets", self.sheets)
        self.plate = [LengthEdit(f"Plate {side}", 20.0, 1000.0) for side in ("width", "height")]
        sizes = QWidget()
        line = QHBoxLayout(sizes)
        line.setContentsMargins(0, 0, 0, 0)
        line.setSpacing(6)
        line.addStretch(1)
        for edit in self.plate:
            edit.setFixedWidth(84)
            edit.set_value(150.0)
            edit.refused.connect(self.session.trouble)
            line.addWidget(edit)
        self.plate_row = Field(
            "Plate", sizes, "The rectangle that is pressed; glue flaps may stay outside it."
        )
        self.panel = QComboBox()
        self.panel.setFixedWidth(WIDE)
        self.panel_row = Field("Pressed", self.panel, "The whole net without flaps, or one panel.")
        self.grow = QComboBox()
        self.grow.setFixedWidth(WIDE)
        for key, words in GROWTHS.items():
            self.grow.addItem(words, key)
        self.grow_row = Field("What grows", self.grow, "The rest stays as it is.")
        for row in (
            self.stock_row,
            self.sheets_row,
            self.plate_row,
            self.panel_row,
            self.grow_row,
        ):
            column.addWidget(row)
        self.find = button(
            "Find the largest", self.find_largest, "main", "Keeps slots, tabs and clearances."
        )
        busy = QHBoxLayout()
        busy.addWidget(self.find)
        self.progress = QProgressBar()
        self.progress.setTextVisible(False)
        self.progress.setAccessibleName("Looking for the largest size")
        busy.addWidget(self.progress, 1)
        self.stop = button("Stop", lambda: self.job.cancel(), "plain", "Keeps the size as it is.")
        busy.addWidget(self.stop)
        column.addLayout(busy)
        self.found = label("", "small", wrap=True)
        column.addWidget(self.found)
        self.add(self.search)

    # ------------------------------------------------------------- deciding

    def choose(self, source: str) -> None:
        """Take the inside from something else."""
        self._school = source
        self.found.setText("")
        task = self.session.task
        if source == "contents":
            self.session.edit(brief=Hollow())
        elif source == "fixed" and task.inside is None:
            self.session.edit(brief=Hollow(size=self._start()))
        self.show_inside(task=self.session.task, system=self._system)

    def _start(self) -> tuple[float, float, float]:
        inside = self.session.work.inside
        x, y, z = inside if all(inside) else START
        return round(x, 1), round(y, 1), round(z, 1)

    def _set_fixed(self) -> None:
        x, y, z = (edit.value() for edit in self.edits)
        self.session.edit(brief=Hollow(size=(x, y, z)))

    def find_largest(self) -> None:
        """Search; a layout takes a while, a plate is at once."""
        task, start = self.session.task, self._start()
        grow = self.grow.currentData()
        if self._school == "paper":
            self._busy(True)
            self.found.setText("")
            stock = task.stock[max(0, self.stock.currentIndex())]
            self.job.start(task, task, stock, start, self.sheets.value(), grow)
            return
        plate = (self.plate[0].value(), self.plate[1].value())
        try:
            size = size_by_plate(
                task, plate, start, panel=self.panel.currentData() or "", grow=grow
            )
        except JadeiteError as error:
            self._on_failed(str(error))
            return
        piece = f"The {size.piece} decides. " if size.piece else ""
        turned = f"It lies turned by {size.turn:.0f}°. " if size.turn else ""
        self.session.edit(brief=Hollow(size=size.inside))
        self._say(
            f"Inside {format_size(size.inside, self._system)} fits the plate. {piece}{turned}"
        )

    def _on_found(self, result: object, wanted: object) -> None:
        self._busy(False)
        if not isinstance(result, PaperSize) or not isinstance(wanted, Task):
            return
        if wanted != self.session.task:
            self._say("Something was changed meanwhile: look again.")
            return
        self.session.edit(brief=Hollow(size=result.inside))
        self._say(paper_words(result))

    def _say(self, words: str) -> None:
        """What was found, and what then fits inside."""
        task, work = self.session.task, self.session.work
        if task.inside is not None and work.family is not None:
            block = largest_block(task.inside, work.family.mouth)
            words += f"\nInside fits a block of {format_size(block, self._system)}."
            for fill in what_fits(task.contents, room_of(task), task.inside):
                thing = task.contents[fill.thing]
                name = f"{thing.name[0].upper()}{thing.name[1:]}"
                least = "at least " if fill.most else ""
                count = f"{least}{fill.count} by itself" if fill.count else "none fits"
                words += f"\n{name}: {count}."
        set_role(self.found, "small")
        self.found.setText(words)

    def _on_failed(self, words: str) -> None:
        self._busy(False)
        set_role(self.found, "blocked")
        self.found.setText(words)

    def _busy(self, busy: bool) -> None:
        self.progress.setValue(0)
        self.progress.setVisible(busy)
        self.stop.setVisible(busy)
        self.find.setEnabled(not busy)

    # ------------------------------------------------------------- showing

    _system: System = "mm"

    def show_inside(self, task: Task, system: System) -> None:
        """Show the document as it now is."""
        self._system = system
        if task.inside is None and self._school == "fixed":
            self._school = "contents"
        if task.inside is not None and self._school == "contents":
            self._school = "fixed"
        school = self._school
        self.source.setCurrentIndex(self.source.findData(school))
        inside = self.session.work.inside
        self.words.setText(format_size(inside, system) if any(inside) else "nothing yet")
        self.words_row.setVisible(school == "contents")
        self.fixed.setVisible(school != "contents" and task.inside is not None)
        if task.inside is not None:
            for edit, value in zip(self.edits, task.inside, strict=True):
                edit.set_value(value, system)
        self.search.setVisible(school in ("paper", "plate"))
        self.stock_row.setVisible(school == "paper")
        self.sheets_row.setVisible(school == "paper")
        self.plate_row.setVisible(school == "plate")
        self.panel_row.setVisible(school == "plate")
        for edit in self.plate:
            edit.set_value(edit.value(), system)
        self._fill(self.stock, [(s.name, s.name) for s in task.stock])
        self._fill(self.panel, self._panels())
        top = self.session.work.family.mouth == UP
        self.dividers_label.setVisible(top and bool(task.contents))
        self.dividers.setVisible(top and bool(task.contents))
        self.dividers.set_value(task.dividers)
        with QSignalBlocker(self.usual):
            self.usual.setChecked(task.clearance is not None)
        self.usual_row.setVisible(task.clearance is not None)
        self.usual_edit.set_value(task.clearance or 0.0, system)

    def _panels(self) -> list[tuple[str, str]]:
        out = [("whole net, no flaps", "")]
        design = self.session.work.design
        if design is not None:
            named = {
                p.name: p.title for p in design.body.panels if p.role in (Role.FLOOR, Role.WALL)
            }
            out += [(title, name) for name, title in named.items()]
        return out

    @staticmethod
    def _fill(combo: QComboBox, items: list[tuple[str, str]]) -> None:
        if [combo.itemText(i) for i in range(combo.count())] == [words for words, _ in items]:
            return
        kept = combo.currentText()
        combo.clear()
        for words, key in items:
            combo.addItem(words, key)
        combo.setCurrentIndex(max(0, combo.findText(kept)))
