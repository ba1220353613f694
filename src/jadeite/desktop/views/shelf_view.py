"""The shelf: every shape drawn for these contents, sorted and sifted; picking one opens it."""

from __future__ import annotations

import itertools
from collections.abc import Mapping

from PyQt6.QtCore import QPoint, QRect, QSize, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QColor, QImage, QPainter, QPaintEvent, QResizeEvent
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
from jadeite.core.steps import Steps
from jadeite.core.units import System, counted, format_area, format_duration, format_size
from jadeite.desktop.entry_picture import PICTURE, entry_painting
from jadeite.desktop.jobs import Job
from jadeite.desktop.session import Session
from jadeite.desktop.turns import Drawing, shared_turns
from jadeite.desktop.widgets import button, label

__all__ = ["ShelfTile", "ShelfView"]

REDRAW = 200  # ms after the last change; from memory
SHARED = 2  # processes that draw the shelf together; from memory, few machines have fewer cores
TILE, GAP, EDGE, HEAD = QSize(286, 196), 10, 12, 24  # pixels; from memory
FILTERS = (
    ("reached", "fits my sheets", "Every piece fits a sheet at hand and the cutter."),
    ("no-glue", "no glue", "Nothing is glued: folded, tucked or tied."),
    ("no-scoring", "no scoring tool", "No curved score: straight ones can be perforated instead."),
    ("opens", "opens again", "Nothing is glued after filling."),
)


class ShelfTile(QPushButton):
    """A shape drawn for the present contents: its nets, its folded form, its figures."""

    def __init__(self, key: str, title: str, about: str) -> None:
        super().__init__()
        self.key, self.title = key, title
        self.setProperty("role", "tile")
        self.setStyleSheet("text-align: left; padding: 0px;")
        self.setCheckable(True)
        self.setToolTip(about)
        self.setAccessibleName(title)
        self.setFixedSize(TILE)
        self.entry: ShelfEntry | None = None
        self.sheets: tuple[int, int] | None = None
        self._palette: Palette = LIGHT
        self._system: System = "mm"
        self._drawing = Drawing(self)

    def show_entry(self, entry: ShelfEntry | None, palette: Palette, system: System) -> None:
        """Draw another design."""
        if entry is not self.entry:
            self._drawing.clear()
        self.entry, self._palette, self._system = entry, palette, system
        self.setAccessibleDescription(" ".join(self.lines))
        self.update()

    @property
    def lines(self) -> tuple[str, ...]:
        """The figures, or what keeps it from holding the contents."""
        entry = self.entry
        if entry is None:
            return ("is being drawn",)
        if entry.why:
            return (entry.why,)
        outside = format_size(entry.outside, self._system, places=0)
        pieces = counted(entry.pieces, "piece")
        glued = counted(entry.glued, "glue joint")
        count = "sheets follow"
        if self.sheets is not None:
            number, left = self.sheets
            count = counted(number, "sheet")
            if left:
                count = f"{left} piece{'s fit' if left != 1 else ' fits'} no sheet"
        return (
            f"{'for example' if entry.sample else 'outside'} {outside}",
            f"{format_area(entry.area, self._system)} board · {pieces} · {count}",
            f"{glued if entry.glued else 'no glue'} · {format_duration(entry.seconds)}",
        )

    def paintEvent(self, event: QPaintEvent | None) -> None:
        super().paintEvent(event)
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        p, entry = self._palette, self.entry
        held = entry is not None and not entry.why
        if entry is not None and entry.form is not None:
            painter.setOpacity(1.0 if held else 0.35)
            self._drawing.show(painter, QPoint(10, 10), PICTURE, self._steps)
            painter.setOpacity(1.0)
        font = painter.font()
        font.setPixelSize(14)
        font.setBold(True)
        painter.setFont(font)
        painter.setPen(QColor(p.ink))
        top = 120
        painter.drawText(QRect(12, top, self.width() - 24, 18), Qt.AlignmentFlag.AlignLeft,
                         self.title)  # fmt: skip
        font.setBold(False)
        font.setPixelSize(12)
        painter.setFont(font)
        painter.setPen(QColor(p.quiet if held or entry is None else p.brick_text))
        words = self.lines if held or entry is None else (self.lines[0],)
        wrap = Qt.TextFlag.TextWordWrap if not held else Qt.TextFlag.TextSingleLine
        for i, line in enumerate(words):
            box = QRect(12, top + 20 + i * 16, self.width() - 24, 16 if held else 48)
            painter.drawText(box, int(Qt.AlignmentFlag.AlignLeft) | int(wrap), line)
        painter.end()

    def _steps(self, painter: QPainter) -> Steps[None]:
        assert self.entry is not None
        yield from entry_painting(painter, self.entry)


class _Grid(QWidget):
    """Tiles by what their shapes are for, in as many columns as there is room for."""

    def __init__(self) -> None:
        super().__init__()
        self.groups: list[tuple[str, list[ShelfTile]]] = []
        self.heads = {words: label(words, "strong") for words in PURPOSES.values()}
        for head in self.heads.values():
            head.setParent(self)

    def place(self, groups: list[tuple[str, list[ShelfTile]]]) -> None:
        """Show these tiles in this order, each group under its words; the tab key follows it."""
        tiles = [tile for _, mine in groups for tile in mine]
        for before, after in itertools.pairwise(tiles):
            QWidget.setTabOrder(before, after)
        self.groups = groups
        shown = {words for words, _ in groups}
        for words, head in self.heads.items():
            head.setVisible(words in shown)
        self._arrange()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        self._arrange()

    def _arrange(self) -> None:
        step = TILE.width() + GAP
        columns = max(1, (self.width() - 2 * EDGE + GAP) // step)
        used = columns * step - GAP
        left = max(EDGE, (self.width() - used) // 2)
        top = EDGE // 2
        for words, tiles in self.groups:
            self.heads[words].setGeometry(left, top, used, HEAD)
            top += HEAD
            for i, tile in enumerate(tiles):
                row, column = divmod(i, columns)
                tile.move(QPoint(left + column * step, top + row * (TILE.height() + GAP)))
            top += -(-len(tiles) // columns) * (TILE.height() + GAP)
        self.setMinimumHeight(top - GAP + EDGE)


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
        self.grid = _Grid()
        self.scroll.setWidget(self.grid)
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
            job.succeeded.connect(lambda *_: self._note())
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
