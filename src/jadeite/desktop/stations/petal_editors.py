"""Rings of petals by their counts, and outlines by their pictures and numbers."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from PyQt6.QtCore import QPointF, QSignalBlocker, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QComboBox, QGridLayout, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from jadeite.core.blooms import KINDS, OWN, Petal, petals_from_words
from jadeite.core.blooms.outlines import NUMBERS, edge_of
from jadeite.core.pictures import LIGHT, Palette, mix
from jadeite.core.shapes import Option
from jadeite.desktop.lengths import DragLabel
from jadeite.desktop.theme import base_font
from jadeite.desktop.widgets import NumberBox, button, label

__all__ = ["CountsEdit", "OutlineEdit"]

A_ROW = 5  # numbers side by side; from memory
TILE = QSize(60, 66)  # pixels; from memory
TILES_A_ROW = 4
DRAWN = ("belly", "waist", "tip", "notch")  # numbers that an outline of one's own does not take
PICTURE = 40.0  # pixels, length of a petal; from memory


class CountsEdit(QWidget):
    """A number for each ring, the outermost first; rings are added and taken away."""

    chosen = pyqtSignal(str)

    def __init__(self, option: Option) -> None:
        super().__init__()
        self.option = option
        self.setAccessibleName(option.label)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        words = label(option.label)
        words.setToolTip(option.help)
        column.addWidget(words)
        column.addWidget(label("outermost first, as they lie on one another", "small"))
        self._grid = QGridLayout()
        self._grid.setSpacing(4)
        column.addLayout(self._grid)
        line = QHBoxLayout()
        line.setSpacing(6)
        self.more = button("Add one outside", self._add, "plain")
        self.less = button("Take one away", self._take, "plain")
        line.addWidget(self.more)
        line.addWidget(self.less)
        line.addStretch(1)
        column.addLayout(line)
        self.boxes: list[NumberBox] = []

    def value(self) -> list[int]:
        """The numbers, outermost first."""
        return [box.value() for box in self.boxes]

    def set_value(self, words: str) -> None:
        """Show other numbers without saying so."""
        counts = [int(word) for word in words.split()]
        while len(self.boxes) > len(counts):
            box = self.boxes.pop()
            self._grid.removeWidget(box)
            box.deleteLater()
        while len(self.boxes) < len(counts):
            at = len(self.boxes)
            box = NumberBox(f"Petals of ring {at + 1}", self.option.low, self.option.high)
            box.setFixedWidth(54)
            box.chosen.connect(lambda _: self._say(self.value()))
            self._grid.addWidget(box, at // A_ROW, at % A_ROW, Qt.AlignmentFlag.AlignLeft)
            self.boxes.append(box)
        self._grid.setColumnStretch(A_ROW, 1)
        for box, count in zip(self.boxes, counts, strict=True):
            box.set_value(count)
        self.more.setEnabled(len(counts) < self.option.most)
        self.less.setEnabled(len(counts) > 1)

    def _say(self, counts: Sequence[int]) -> None:
        self.chosen.emit(" ".join(map(str, counts)))

    def _add(self) -> None:
        self._say([self.value()[0], *self.value()])

    def _take(self) -> None:
        self._say(self.value()[:-1])


class _PetalTile(QPushButton):
    """An outline as it is cut."""

    def __init__(self, petal: Petal, words: str) -> None:
        super().__init__()
        self.petal, self.words = petal, words
        self.empty = False  # nothing is drawn yet
        self.palette_ = LIGHT
        self.setProperty("role", "tile")
        self.setCheckable(True)
        self.setFixedSize(TILE)
        self.setStyleSheet(f"min-height: {TILE.height() - 2}px; padding: 0px;")
        self.setAccessibleName(words)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        super().paintEvent(event)
        p = self.palette_
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setFont(base_font(9.0))
        painter.setPen(QColor(p.ink))
        box = self.rect().adjusted(0, TILE.height() - 18, 0, -2)
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, self.words)
        if self.empty:
            painter.setPen(QPen(QColor(p.quiet), 1.6))
            middle, arm = QPointF(TILE.width() / 2, 26.0), 8.0
            painter.drawLine(middle - QPointF(arm, 0), middle + QPointF(arm, 0))
            painter.drawLine(middle - QPointF(0, arm), middle + QPointF(0, arm))
            painter.end()
            return
        edge = edge_of(self.petal, PICTURE, 2.5)
        across = [(y, x) for x, y in edge.tolist()]
        outline = across + [(-y, x) for y, x in reversed(across)]
        foot = QPointF(TILE.width() / 2, 47.0)
        painter.setPen(QPen(QColor(p.ink), 1.2))
        painter.setBrush(QColor(mix(p.sand, p.sheet, 0.55)))
        painter.drawPolygon(QPolygonF([foot + QPointF(y, -x) for y, x in outline]))
        painter.end()


class OutlineEdit(QWidget):
    """Outlines as pictures, and their numbers to drag; for all rings, or one at a time."""

    chosen = pyqtSignal(str)
    wants_drawing = pyqtSignal()

    def __init__(self, option: Option, *, rings: bool) -> None:
        super().__init__()
        self.setAccessibleName(option.label)
        self._petals: tuple[Petal, ...] = (KINDS[option.choices[0][0]][1],)
        self._count = 1
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        head = QHBoxLayout()
        words = label(option.label)
        words.setToolTip(option.help)
        head.addWidget(words)
        head.addStretch(1)
        self.which = QComboBox()
        self.which.setAccessibleName(f"{option.label}: of which ring")
        self.which.setFixedWidth(96)
        self.which.activated.connect(lambda _: self._show())
        self.which.setVisible(rings)
        head.addWidget(self.which)
        column.addLayout(head)
        grid = QGridLayout()
        grid.setSpacing(4)
        self.tiles: dict[str, _PetalTile] = {}
        for i, (key, (name, petal)) in enumerate(KINDS.items()):
            tile = _PetalTile(petal, name)
            tile.clicked.connect(lambda _=False, k=key: self.take(KINDS[k][1]))
            self.tiles[key] = tile
            grid.addWidget(tile, i // TILES_A_ROW, i % TILES_A_ROW)
        own = _PetalTile(KINDS["round"][1], "your own")
        own.clicked.connect(lambda _=False: self.wants_drawing.emit())
        own.setToolTip(
            "Read from an SVG drawing: one closed shape that stands on its root, its tip up. Both "
            "sides are made alike."
        )
        self.tiles[OWN] = own
        grid.addWidget(own, len(KINDS) // TILES_A_ROW, len(KINDS) % TILES_A_ROW)
        column.addLayout(grid)
        numbers = QGridLayout()
        numbers.setSpacing(4)
        self.numbers: dict[str, NumberBox] = {}
        for i, (key, (name, low, high)) in enumerate(NUMBERS.items()):
            box = NumberBox(f"{option.label}: {name.lower()}", low, high,
                            "" if key == "waves" else " %")  # fmt: skip
            box.setFixedWidth(83)
            box.chosen.connect(lambda value, k=key: self._set(k, value))
            self.numbers[key] = box
            numbers.addWidget(DragLabel(name, box, 1.0), i // 2, 2 * (i % 2))
            numbers.addWidget(box, i // 2, 2 * (i % 2) + 1)
        numbers.setColumnStretch(4, 1)
        column.addLayout(numbers)

    def set_value(self, words: str, count: int) -> None:
        """Show other outlines without saying so; ``count`` is that of the rings."""
        self._petals = petals_from_words(words)
        if count != self._count or not self.which.count():
            self._count, at = count, max(0, self.which.currentIndex())
            with QSignalBlocker(self.which):
                self.which.clear()
                self.which.addItem("all rings")
                for ring in range(count):
                    self.which.addItem(f"ring {ring + 1}")
                self.which.setCurrentIndex(min(at, count))
        self._show()

    def set_palette(self, palette: Palette) -> None:
        """Colours."""
        for tile in self.tiles.values():
            tile.palette_ = palette
            tile.update()

    def _now(self) -> Petal:
        at = max(0, self.which.currentIndex() - 1)
        return self._petals[min(at, len(self._petals) - 1)]

    def _show(self) -> None:
        now = self._now()
        for key, tile in self.tiles.items():
            tile.setChecked(key == now.kind)
            tile.empty = key == OWN != now.kind
            if key == now.kind or key in KINDS:
                tile.petal = now if key == now.kind else KINDS[key][1]
            tile.update()
        for key, box in self.numbers.items():
            box.set_value(getattr(now, key))
            box.setEnabled((key != "waves" or now.depth > 0) and not (now.widths and key in DRAWN))

    def _set(self, key: str, value: float) -> None:
        self.take(replace(self._now(), **{key: value}))

    def take(self, petal: Petal) -> None:
        """Another outline for the ring that is shown, or for all."""
        at = self.which.currentIndex() - 1
        if at < 0:
            self.chosen.emit(petal.words)
            return
        petals = [self._petals[min(i, len(self._petals) - 1)] for i in range(self._count)]
        petals[at] = petal
        while len(petals) > 1 and petals[-1] == petals[-2]:
            petals.pop()  # the last holds for all that follow
        self.chosen.emit(" / ".join(p.words for p in petals))
