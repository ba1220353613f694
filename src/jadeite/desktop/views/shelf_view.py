"""The shelf: every shape drawn for these contents, sorted and sifted; picking one opens it."""

from __future__ import annotations

from collections.abc import Mapping

from PyQt6.QtCore import Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QImage
from PyQt6.QtWidgets import (
    QComboBox,
    QFrame,
    QHBoxLayout,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from jadeite.core.pictures import LIGHT, Palette
from jadeite.core.pipeline import answering
from jadeite.core.project import Shape, Task, Window
from jadeite.core.shapes import PURPOSES, OptionValue, all_families, family_by_key, left_out
from jadeite.core.shelf import SORTS, ShelfEntry, sorted_shelf
from jadeite.core.units import System
from jadeite.desktop.jobs import Job
from jadeite.desktop.session import Session
from jadeite.desktop.turns import shared_turns
from jadeite.desktop.views.shelf_tiles import EDGE, ShelfGrid, ShelfTile
from jadeite.desktop.widgets import button, label

__all__ = ["ShelfView"]

REDRAW = 200  # ms after the last change; from memory
SHARED = 2  # processes that draw the shelf together; from memory, few machines have fewer cores
FILTERS = (
    ("reached", "fits my sheets", "Every piece fits a sheet at hand and the cutter."),
    ("no-glue", "no glue", "Nothing is glued: folded, tucked or tied."),
    ("no-scoring", "no scoring tool", "No curved score: straight ones can be perforated instead."),
    ("opens", "opens again", "Nothing is glued after filling."),
)


class ShelfView(QWidget):
    """All shapes for the open project; a process draws them one after another."""

    picked = pyqtSignal(str)
    added = pyqtSignal(str)  # one more made thing of this shape
    left = pyqtSignal()  # no made thing is to be added after all

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.adding = False
        self._kept: dict[str, Mapping[str, OptionValue]] = {}
        self._windows: dict[str, tuple[Window, ...]] = {}  # of shapes that were left
        self.entries: dict[str, ShelfEntry] = {}
        self.sheets: dict[str, tuple[int, int]] = {}
        self._palette: Palette = LIGHT
        self._system: System = "mm"
        self._drawn: object = None
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(self._build_asking())
        bar = QFrame()
        line = QHBoxLayout(bar)
        line.setContentsMargins(EDGE, 8, EDGE, 4)
        line.setSpacing(6)
        line.addWidget(label("Sort by", "small"))
        self.sort = QComboBox()
        self.sort.setAccessibleName("Sort the shelf by")
        for key, words in SORTS:
            self.sort.addItem(words, key)
        self.sort.currentIndexChanged.connect(lambda _: self._place())
        line.addWidget(self.sort)
        line.addSpacing(8)
        self.filters: dict[str, QPushButton] = {}
        for key, words, tip in FILTERS:
            chip = QPushButton(words)
            chip.setCheckable(True)
            chip.setProperty("role", "segment")
            chip.setProperty("place", "only")
            chip.setToolTip(f"{tip} Show only such shapes.")
            chip.toggled.connect(lambda _: self._place())
            line.addWidget(chip)
            self.filters[key] = chip
        line.addStretch(1)
        column.addWidget(bar)
        self.note = label("", "small", wrap=True)
        self.note.setContentsMargins(EDGE, 0, EDGE, 2)
        column.addWidget(self.note)
        self.scroll = QScrollArea()
        self.scroll.setWidgetResizable(True)
        self.scroll.setFrameShape(QFrame.Shape.NoFrame)
        self.scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.grid = ShelfGrid()
        self.scroll.setWidget(self.grid)
        self.grid.left.connect(self._settle)
        self._unsettled = False
        column.addWidget(self.scroll, 1)
        self.tiles: dict[str, ShelfTile] = {}
        for family in all_families():
            tile = ShelfTile(family.key, family.title, family.about)
            tile.setParent(self.grid)
            tile.clicked.connect(lambda _=False, k=family.key: self.pick(k))
            self.tiles[family.key] = tile
        self.jobs = [Job("shelf", self) for _ in range(SHARED)]
        for job in self.jobs:
            session.extra_jobs.append(job)
            job.part.connect(self._on_part)
            job.succeeded.connect(lambda *_: self._settle())
            job.failed.connect(session.trouble)
        self._later = QTimer(self)
        self._later.setSingleShot(True)
        self._later.timeout.connect(self._ask)
        self._place()

    def _build_asking(self) -> QFrame:
        """What is asked where one more made thing is to be added, and the way back."""
        self.asking = QFrame()
        line = QHBoxLayout(self.asking)
        line.setContentsMargins(EDGE, 8, EDGE, 0)
        line.addWidget(label("Which shape is the new made thing to have?", "strong"))
        line.addStretch(1)
        line.addWidget(button("Add none", self.left.emit, "plain", "Back to the table."))
        self.asking.hide()
        return self.asking

    def set_adding(self, on: bool) -> None:
        """Ask for the shape of one more made thing; each is then shown as itself."""
        if on == self.adding:
            return
        self.adding = on
        self.asking.setVisible(on)
        self.entries, self.sheets = {}, {}
        for tile in self.tiles.values():
            tile.show_entry(None, self._palette, self._system)
        self.show_project()
        self._place()

    @property
    def pending(self) -> bool:
        """Whether something is still to be drawn or counted."""
        return self.isVisible() and (self._later.isActive() or self._busy)

    @property
    def _busy(self) -> bool:
        return any(job.busy for job in self.jobs)

    def pick(self, key: str) -> None:
        """Make the shape that was picked; its options are as they were left."""
        if self.adding:
            self.added.emit(key)
            return
        shape = self.session.task.shape
        for name, tile in self.tiles.items():
            tile.setChecked(name == key)
        if shape.key != key:
            self._kept[shape.key] = dict(shape.options)
            # what is asked of it is changed as well, where the shape does not answer that
            brief = answering(self.session.task, family_by_key(key)).brief
            options = dict(self._kept.get(key, {}))
            self._windows[shape.key] = self.session.task.windows
            windows = self._windows.get(key, ())
            self.session.edit(
                shape=Shape(key=key, options=options), brief=brief,
                windows=windows, usual_windows=not windows,
            )  # fmt: skip
        self.picked.emit(key)

    def show_project(self) -> None:
        """Draw the shelf anew where the document has changed; once it is looked at."""
        task = self.session.task
        for key, tile in self.tiles.items():
            tile.setChecked(key == task.shape.key and not self.adding)
        if self.isVisible() and self._wanted() != self._drawn:
            self._later.start(REDRAW)

    def warm(self) -> None:
        """Have its processes ready: it is likely to be looked at."""
        for job in self.jobs:
            job.warm()

    def showEvent(self, event: object) -> None:
        if self._wanted() != self._drawn:
            self._later.start(0)  # nothing is being changed: there is nothing to wait for

    def _wanted(self) -> tuple[Task | None, Palette]:
        return None if self.adding else self.session.task, self._palette

    def _ask(self) -> None:
        if not self.isVisible():
            return
        self._drawn = self._wanted()
        self.sheets = {}
        task, _ = self._drawn = self._wanted()
        kept = {key: dict(options) for key, options in self._kept.items()}
        for number, job in enumerate(self.jobs):  # every other shape: heavy ones stand together
            job.start(self._drawn, task, kept, self._palette, slice(number, None, SHARED))
        for tile in self.tiles.values():
            tile.sheets = None
        self._note()

    def _on_part(self, part: object) -> None:
        if isinstance(part, ShelfEntry):
            self.entries[part.key] = part
            self.tiles[part.key].show_entry(part, self._palette, self._system)
        elif isinstance(part, tuple):
            key, count = part
            self.sheets[key] = count
            self.tiles[key].sheets = count
            self.tiles[key].update()
        self._unsettled = True
        self._note()

    def _settle(self) -> None:
        """Sort the tiles once all are drawn, but never under the pointer."""
        self._note()
        if self._unsettled and not self._busy and not self.grid.underMouse():
            self._place()

    def _passes(self, key: str) -> bool:
        """Whether a shape passes the filters that are set; one not yet drawn does."""
        entry, on = self.entries.get(key), {k for k, c in self.filters.items() if c.isChecked()}
        if entry is None or not on:
            return True
        if entry.why:
            return False
        left = self.sheets.get(key, (0, 0))[1]
        passes = {
            "reached": entry.reached and left == 0,
            "no-glue": entry.glued == 0,
            "no-scoring": not entry.curved,
            "opens": entry.opens,
        }
        return all(passes[name] for name in on)

    def shown(self) -> list[str]:
        """Keys of the shapes that are shown, in their order."""
        order = sorted_shelf(list(self.entries.values()), self.sort.currentData(), self.sheets)
        keys = [entry.key for entry in order]
        keys += [key for key in self.tiles if key not in self.entries]
        purposes = list(PURPOSES)
        keys.sort(key=lambda key: purposes.index(family_by_key(key).purpose))
        return [key for key in keys if self._passes(key)]

    def _place(self) -> None:
        self._unsettled = False
        keys = self.shown()
        for key, tile in self.tiles.items():
            tile.setVisible(key in keys)
        groups = [
            (words, [self.tiles[key] for key in keys if family_by_key(key).purpose == purpose])
            for purpose, words in PURPOSES.items()
        ]
        self.grid.place([(words, tiles) for words, tiles in groups if tiles])
        self._note()

    def _note(self) -> None:
        number, whole = len(self.shown()), len(self.tiles)
        drawn = len(self.entries)
        words = f"{number} of {whole} shapes" if number < whole else f"{whole} shapes"
        if drawn < whole and self._busy:
            words = f"{drawn} of {whole} drawn"
        elif self._busy:
            words += ", counting sheets"
        held = sum(bool(e.why) for e in self.entries.values())
        if held:
            words += f"; {held} cannot hold these things as they are"
        words += ". "
        if self.adding:
            words += "Shown round something ordinary; the new one is empty at first. "
        elif any(entry.sample for entry in self.entries.values()):
            words += "Round something ordinary, as nothing goes in yet. "
        else:
            words += "Drawn for these contents. "
        words += "Pick one to add it." if self.adding else "Pick one to open it on the table."
        self.note.setText(" ".join((words, *left_out())))

    def set_look(self, palette: Palette, system: System) -> None:
        """Colours and units."""
        self._palette, self._system = palette, system
        for key, tile in self.tiles.items():
            tile.show_entry(self.entries.get(key), palette, system)
        self.show_project()

    def image(self) -> QImage:
        """What is shown, as an image."""
        self.grab()  # asks for the pictures
        shared_turns().finish()
        return self.grab().toImage()
