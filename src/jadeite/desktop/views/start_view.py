"""An empty start: the last projects, and finished examples to look into."""

from __future__ import annotations

from collections.abc import Sequence
from functools import cache
from importlib.resources import files
from pathlib import Path

from PyQt6.QtCore import QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QPainter, QPaintEvent, QPixmap
from PyQt6.QtWidgets import QGridLayout, QPushButton, QScrollArea, QVBoxLayout, QWidget

from jadeite.core.formats.project_file import project_from_text
from jadeite.core.pictures import LIGHT, Palette
from jadeite.core.project import Project
from jadeite.core.units import System
from jadeite.desktop.widgets import button, label

__all__ = ["EXAMPLES", "PICTURE", "StartView", "example_project"]

EXAMPLES = (
    "path-lantern", "filter-chest", "gathered-sweets", "gate-wreath", "owl-card", "planet-dome",
)  # fmt: skip
PICTURE = QSize(172, 140)  # pixels; from memory
WORDS = 32  # pixels below a picture; from memory
A_ROW = 3
MOST_RECENT = 4


@cache
def _text(name: str) -> str:
    return (files("jadeite.assets") / "examples" / f"{name}.jadeite").read_text("utf-8")


@cache
def example_project(name: str) -> Project:
    """An example that is shipped."""
    return project_from_text(_text(name), name)


class _ExampleTile(QPushButton):
    """A picture of an example and its title; a click opens a copy."""

    def __init__(self, name: str) -> None:
        super().__init__()
        self.words = example_project(name).title
        self.palette_: Palette = LIGHT
        self.setProperty("role", "tile")
        self.setFixedSize(QSize(PICTURE.width() + 16, PICTURE.height() + WORDS))
        tall = self.height()
        self.setStyleSheet(f"padding: 0px; min-height: {tall}px; max-height: {tall}px;")
        self.setAccessibleName(f"Open the example: {self.words}")
        self.setToolTip("Opens a copy, to look into and to change.")
        self._picture = QPixmap()
        data = (files("jadeite.assets") / "examples" / f"{name}.png").read_bytes()
        self._picture.loadFromData(data)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        super().paintEvent(event)
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        painter.drawPixmap(8, 4, PICTURE.width(), PICTURE.height(), self._picture)
        painter.setPen(QColor(self.palette_.ink))
        font = painter.font()
        font.setPixelSize(12)
        painter.setFont(font)
        room = QRectF(6, PICTURE.height() + 4, self.width() - 12, WORDS - 8)
        flags = Qt.AlignmentFlag.AlignHCenter.value | Qt.AlignmentFlag.AlignTop.value
        painter.drawText(room, flags | Qt.TextFlag.TextWordWrap.value, self.words)
        painter.end()


class StartView(QScrollArea):
    """Shown on the table while a project is empty and was never saved."""

    opened = pyqtSignal(str)  # path of a recent project
    copied = pyqtSignal(str)  # name of an example

    def __init__(self) -> None:
        super().__init__()
        self.setWidgetResizable(True)
        self.setFrameShape(QScrollArea.Shape.NoFrame)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setAccessibleName("Start")
        inner = self.inner = QWidget()
        inner.setObjectName("start")
        column = QVBoxLayout(inner)
        column.setContentsMargins(24, 22, 24, 18)
        column.setSpacing(8)
        column.addWidget(label("Begin with what goes in", "title"))
        words = label(
            "Add a thing at the right and measure it; or choose a size of your own under Inside. "
            "The box appears here.",
            "small",
        )
        words.setWordWrap(True)
        column.addWidget(words)
        self.recent_words = label("Go on with", "head")
        column.addSpacing(8)
        column.addWidget(self.recent_words)
        self._recent = QVBoxLayout()
        self._recent.setSpacing(2)
        column.addLayout(self._recent)
        column.addSpacing(8)
        column.addWidget(label("Look into an example", "head"))
        grid = QGridLayout()
        grid.setSpacing(12)
        self.tiles: dict[str, _ExampleTile] = {}
        for i, name in enumerate(EXAMPLES):
            tile = _ExampleTile(name)
            tile.clicked.connect(lambda _=False, n=name: self.copied.emit(n))
            self.tiles[name] = tile
            grid.addWidget(tile, i // A_ROW, i % A_ROW)
        grid.setColumnStretch(A_ROW, 1)
        column.addLayout(grid)
        column.addStretch(1)
        self.setWidget(inner)
        self.setFocusProxy(self.tiles[EXAMPLES[0]])
        self.recent: list[QPushButton] = []

    def show_recent(self, paths: Sequence[str]) -> None:
        """The last projects by their names, newest first."""
        for old in self.recent:
            self._recent.removeWidget(old)
            old.deleteLater()
        self.recent = []
        for path in paths[:MOST_RECENT]:
            one = Path(path)
            words = f"{one.stem}   in {one.parent}"
            made = button(words, lambda p=path: self.opened.emit(p), "plain", path)
            self._recent.addWidget(made, alignment=Qt.AlignmentFlag.AlignLeft)
            self.recent.append(made)
        self.recent_words.setVisible(bool(self.recent))

    def set_look(self, palette: Palette, _: System) -> None:
        """Colours."""
        self.inner.setStyleSheet(f"#start {{ background: {palette.table}; }}")
        for tile in self.tiles.values():
            tile.palette_ = palette
            tile.update()
