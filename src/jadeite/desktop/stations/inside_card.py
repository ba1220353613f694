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
from jadeite.core.dressings.pressing import NET, WALLS
from jadeite.core.nets.roles import Role
from jadeite.core.pipeline import room_of
from jadeite.core.project import Hollow, Plate, Task
from jadeite.core.sizing import (
    GROWTHS,
    PaperSize,
    PlateSize,
    largest_block,
    paper_words,
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
            edit.edited.connect(lambda _: self._keep_plate())
            line.addWidget(edit)
        self.plate_row = Field(
            "Plate", sizes, "The rectangle that is pressed; glue flaps may stay outside it."
        )
        self.panel = QComboBox()
        self.panel.setFixedWidth(WIDE)
        self.panel_row = Field(
            "Pressed", self.panel, "The whole net without its flaps, all walls, or one panel."
        )
        self.turns = Segmented((("square", "square"), ("any", "at any angle")), "Turn of the plate")
        self.turns_row = Field("It lies", self.turns, "A pattern is seen to stand square or not.")
        self.over = Segmented((("none", "nothing"), ("wax", "wax"), ("ink", "ink")), "Rubbed with")
        self.over_row = Field("Rubbed with", self.over, "What goes over the raised pattern.")
        self.both = QCheckBox("and cut from the sheets as well")
        self.both.setToolTip("The smaller of both answers: the plate, and so many sheets.")
        self.both.clicked.connect(lambda _: self._show_rows())
        self.panel.activated.connect(lambda _: self._keep_plate())
        for choice in (self.turns, self.over):
            choice.chosen.connect(lambda _: self._keep_plate())
        self.grow = QComboBox()
        self.grow.setFixedWidth(WIDE)
        for key, words in GROWTHS.items():
            self.grow.addItem(words, key)
        self.grow_row = Field("What grows", self.grow, "The rest stays as it is.")
        for row in (
            self.plate_row,
            self.panel_row,
            self.turns_row,
            self.over_row,
            self.both,
            self.stock_row,
            self.sheets_row,
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
        if source == "plate":
            self._keep_plate()
        elif task.plate is not None:
            self.session.edit(plate=None)
        self.show_inside(task=self.session.task, system=self._system)

    def _start(self) -> tuple[float, float, float]:
        inside = self.session.work.inside
        x, y, z = inside if all(inside) else START
        return round(x, 1), round(y, 1), round(z, 1)

    def _set_fixed(self) -> None:
        x, y, z = (edit.value() for edit in self.edits)
        self.session.edit(brief=Hollow(size=(x, y, z)))

    def _plate(self) -> Plate:
        return Plate(
            width=self.plate[0].value(),
            height=self.plate[1].value(),
            area=self.panel.currentData() or NET,
            turns="any" if self.turns.value() == "any" else "square",
            over={"wax": "wax", "ink": "ink"}.get(self.over.value(), "none"),
        )

    def _keep_plate(self) -> None:
        """The plate stays in the project: it is drawn on the flat net, and gets its step."""
        if self._school == "plate":
            self.session.edit(plate=self._plate())

    def find_largest(self) -> None:
        """Search; a layout takes a while, so it is done in a process."""
        task, start = self.session.task, self._start()
        self._busy(True)
        self.found.setText("")
        stock = task.stock[max(0, self.stock.currentIndex())]
        plate = task.plate if self._school == "plate" else None
        sheets = self.sheets.value() if plate is None or self.both.isChecked() else 0
        self.job.start(task, task, stock, start, sheets, self.grow.currentData(), plate)

    def _on_found(self, result: object, wanted: object) -> None:
        self._busy(False)
        if not isinstance(result, PaperSize | PlateSize) or not isinstance(wanted, Task):
            return
        if wanted != self.session.task:
            self._say("Something was changed meanwhile: look again.")
            return
        self.session.edit(brief=Hollow(size=result.inside))
        if isinstance(result, PaperSize):
            self._say(paper_words(result))
            return
        piece = f" The {result.piece} decides." if result.piece else ""
        turned = f" It lies turned by {result.turn:.0f}°." if result.turn else ""
        size = format_size(result.inside, self._system)
        self._say(f"Inside {size} fits the plate.{piece}{turned}")

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
        if task.plate is not None:
            self._school = "plate"
        school = self._school
        self.source.setCurrentIndex(self.source.findData(school))
        inside = self.session.work.inside
        self.words.setText(format_size(inside, system) if any(inside) else "nothing yet")
        self.words_row.setVisible(task.inside is None)
        self.fixed.setVisible(school != "contents" and task.inside is not None)
        if task.inside is not None:
            for edit, value in zip(self.edits, task.inside, strict=True):
                edit.set_value(value, system)
        self._fill(self.stock, [(s.name, s.name) for s in task.stock])
        self._fill(self.panel, self._panels())
        plate = task.plate
        sizes = (plate.width, plate.height) if plate else [edit.value() for edit in self.plate]
        for edit, value in zip(self.plate, sizes, strict=True):
            edit.set_value(value, system)
        if plate is not None:
            self.panel.setCurrentIndex(max(0, self.panel.findData(plate.area)))
            self.turns.set_value(plate.turns)
            self.over.set_value(plate.over)
        self._show_rows()
        top = self.session.work.family.mouth == UP
        self.dividers_label.setVisible(top and bool(task.contents))
        self.dividers.setVisible(top and bool(task.contents))
        self.dividers.set_value(task.dividers)
        with QSignalBlocker(self.usual):
            self.usual.setChecked(task.clearance is not None)
        self.usual_row.setVisible(task.clearance is not None)
        self.usual_edit.set_value(task.clearance or 0.0, system)

    def _show_rows(self) -> None:
        """What the chosen school asks for."""
        school = self._school
        self.search.setVisible(school in ("paper", "plate"))
        for row in (self.plate_row, self.panel_row, self.turns_row, self.over_row, self.both):
            row.setVisible(school == "plate")
        for row in (self.stock_row, self.sheets_row):
            row.setVisible(school == "paper" or (school == "plate" and self.both.isChecked()))

    def _panels(self) -> list[tuple[str, str]]:
        out = [("net without flaps", NET), ("all walls", WALLS)]
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
