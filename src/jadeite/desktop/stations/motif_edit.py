"""The pattern of a window, chosen from pictures of a cut panel."""

from __future__ import annotations

from collections.abc import Sequence
from functools import lru_cache

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QPainter, QPainterPath, QPaintEvent, QPolygonF
from PyQt6.QtWidgets import QGridLayout, QPushButton, QVBoxLayout, QWidget

from jadeite.core.patterns import MOTIFS, Motif, fill, own_motif
from jadeite.core.pictures import LIGHT, Palette
from jadeite.core.project import PLAIN, Outline
from jadeite.desktop.widgets import button, label

__all__ = ["FROM_FILE", "MotifEdit"]

FROM_FILE = "from-file"  # stands for an outline that is yet to be read
TILE = QSize(64, 74)  # pixels; from memory
TILES_A_ROW = 4
SHINE = "#FFF1C9"  # what is seen through a window in a tile; design rule
PANEL, FRAME, CELL = 44.0, 3.0, 14.0  # pixels, which stand for mm, of the panel in a tile; setting


@lru_cache(maxsize=64)
def _cut(motif: Motif | None) -> tuple[QPolygonF, ...]:
    """Cut-outs of a tile's panel, y down."""
    low, high = FRAME, PANEL - FRAME
    window = np.array([[low, low], [high, low], [high, high], [low, high]])
    holes = fill(window, motif, CELL).holes
    return tuple(QPolygonF([QPointF(x, PANEL - y) for x, y in hole]) for hole in holes)


class _MotifTile(QPushButton):
    """A panel with its window, as it stands; a click cuts it."""

    def __init__(self, words: str, motif: Motif | None, *, whole: bool = False) -> None:
        super().__init__()
        self.words, self.motif, self.whole = words, motif, whole
        self.palette_: Palette = LIGHT
        self.setProperty("role", "tile")
        self.setStyleSheet(
            f"padding: 0px; min-height: {TILE.height()}px; max-height: {TILE.height()}px;"
        )
        self.setFixedSize(TILE)
        self.setCheckable(True)
        self.setAccessibleName(f"Pattern: {words}")
        if motif is not None:
            self.setToolTip(motif.help)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        super().paintEvent(event)
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        p = self.palette_
        painter.translate((TILE.width() - PANEL) / 2, 7)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(p.jade))
        painter.drawRect(QRectF(0, 0, PANEL, PANEL))
        if not self.whole:
            path = QPainterPath()
            for hole in _cut(self.motif):
                path.addPolygon(hole)
                path.closeSubpath()
            painter.fillPath(path, QColor(SHINE))
        painter.resetTransform()
        font = painter.font()
        font.setPixelSize(10)
        painter.setFont(font)
        painter.setPen(QColor(p.ink))
        room = QRectF(1, TILE.height() - 20, TILE.width() - 2, 17)
        words = painter.fontMetrics().elidedText(
            self.words, Qt.TextElideMode.ElideRight, int(room.width())
        )
        painter.drawText(room, Qt.AlignmentFlag.AlignCenter, words)
        painter.end()


class MotifEdit(QWidget):
    """One pattern out of many: its name, and pictures of all that open with a click."""

    chosen = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName("Pattern of the window")
        self._value = ""
        self._palette: Palette = LIGHT
        self._own: tuple[Outline, ...] | None = None
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        words = label("Pattern")
        words.setToolTip(
            "Cut out of the panel, upright as it stands, with bridges that hold. An SVG file adds "
            "an outline of yours."
        )
        column.addWidget(words)
        self._grid = QGridLayout()
        self._grid.setSpacing(4)
        column.addLayout(self._grid)
        self.file = button("From an SVG file …", lambda: self.chosen.emit(FROM_FILE), "plain")
        column.addWidget(self.file, alignment=Qt.AlignmentFlag.AlignLeft)
        self.tiles: dict[str, _MotifTile] = {}
        self.set_own(())

    def set_own(self, own: Sequence[Outline]) -> None:
        """Show the maker's own outlines beside the others."""
        if self._own == tuple(own):
            return
        self._own = tuple(own)
        for tile in self.tiles.values():
            self._grid.removeWidget(tile)
            tile.deleteLater()
        made: dict[str, _MotifTile] = {
            "": _MotifTile("none", None, whole=True),
            PLAIN: _MotifTile("plain", None),
        }
        made |= {motif.key: _MotifTile(motif.title, motif) for motif in MOTIFS.values()}
        made |= {o.key: _MotifTile(o.title, own_motif(o.key, o.title, o.rings)) for o in own}
        self.tiles = made
        for i, (key, tile) in enumerate(made.items()):
            tile.palette_ = self._palette
            tile.setChecked(key == self._value)
            tile.clicked.connect(lambda _=False, k=key: self._take(k))
            self._grid.addWidget(tile, i // TILES_A_ROW, i % TILES_A_ROW)
        self._grid.setColumnStretch(TILES_A_ROW, 1)

    def value(self) -> str:
        """The key of the pattern; empty for none."""
        return self._value

    def set_value(self, key: str) -> None:
        """Show another pattern without saying so."""
        self._value = key
        for own, tile in self.tiles.items():
            tile.setChecked(own == key)

    def set_palette(self, palette: Palette) -> None:
        """Colours."""
        self._palette = palette
        for tile in self.tiles.values():
            tile.palette_ = palette
            tile.update()

    def _take(self, key: str) -> None:
        self.set_value(key)
        self.chosen.emit(key)
