"""Drawn tiles: kinds of things with where to hold the ruler, and ways to go in."""

from __future__ import annotations

import math
from collections.abc import Callable

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QColor, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QPushButton, QSizePolicy

from jadeite.core.pictures import LIGHT, mix
from jadeite.desktop.theme import base_font

__all__ = ["KindTile", "WayTile"]


class _Tile(QPushButton):
    def __init__(self, key: str, words: str, size: QSize, scale: float = 1.0) -> None:
        super().__init__()
        self._scale = scale
        self.key, self.words = key, words
        self.palette_ = LIGHT
        self.setProperty("role", "tile")
        self.setAccessibleName(words)
        self._size = size
        # the style sheet's least height would let a long column squeeze it
        self.setStyleSheet(f"min-height: {size.height() - 2}px; padding: 0px;")
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)

    def sizeHint(self) -> QSize:
        return self._size

    def minimumSizeHint(self) -> QSize:
        return self._size

    def paintEvent(self, event: QPaintEvent | None) -> None:
        super().paintEvent(event)
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setFont(base_font(9.5 if self._scale == 1.0 else 9.0))
        painter.setPen(QColor(self.palette_.ink))
        box = QRectF(0, self.height() - 20, self.width(), 18)
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, self.words)
        painter.translate((self.width() - 64 * self._scale) / 2, 5)
        painter.scale(self._scale, self._scale)
        self.draw(painter)
        painter.end()

    def draw(self, painter: QPainter) -> None:
        """The picture, in a field of 64 x 44."""


class KindTile(_Tile):
    """A kind of thing, with lines where the ruler is held."""

    def __init__(self, key: str, words: str, tip: str = "") -> None:
        super().__init__(key, words, QSize(50, 62), 0.72)
        self.setToolTip(tip or f"Add: {words.lower()}. Hold the ruler along the blue lines.")

    def draw(self, painter: QPainter) -> None:
        """The picture, in a field of 64 x 44."""
        p = self.palette_
        self._ink = QPen(QColor(p.ink), 1.5)
        self._blue = QPen(QColor(p.river), 1.8)
        painter.setPen(self._ink)
        painter.setBrush(QColor(mix(p.sand, p.sheet, 0.55)))
        _DRAWINGS[self.key](self, painter)

    def _block(self, painter: QPainter) -> None:
        top = [(14, 14), (34, 6), (52, 14), (32, 22)]
        left = [(14, 14), (32, 22), (32, 40), (14, 32)]
        right = [(32, 22), (52, 14), (52, 32), (32, 40)]
        for face in (top, left, right):
            painter.drawPolygon(_polygon(face))
        painter.setPen(self._blue)
        self._ruler(painter, (11, 36), (29, 44))
        self._ruler(painter, (36, 43), (56, 35))
        self._ruler(painter, (57, 30), (57, 12))

    def _round(self, painter: QPainter) -> None:
        self._drum(painter, 16, 12, 28, 24)
        painter.setPen(self._blue)
        self._ruler(painter, (16, 12), (44, 12))
        self._ruler(painter, (51, 12), (51, 36))

    def _drum(self, painter: QPainter, x: float, y: float, wide: float, high: float) -> None:
        painter.drawEllipse(QRectF(x, y + high - 5, wide, 10))
        painter.drawRect(QRectF(x, y, wide, high))
        painter.setPen(Qt.PenStyle.NoPen)
        painter.drawRect(QRectF(x + 1, y + 1, wide - 2, high))
        painter.setPen(self._ink)
        painter.drawEllipse(QRectF(x, y - 5, wide, 10))

    def _disc(self, painter: QPainter) -> None:
        self._drum(painter, 8, 22, 44, 5)
        painter.setPen(self._blue)
        self._ruler(painter, (8, 10), (52, 10))
        self._ruler(painter, (59, 21), (59, 28))

    def _ball(self, painter: QPainter) -> None:
        painter.drawEllipse(QRectF(16, 8, 32, 32))
        painter.drawArc(QRectF(16, 19, 32, 10), 180 * 16, 180 * 16)
        painter.setPen(self._blue)
        self._ruler(painter, (16, 43), (48, 43))

    def _flat(self, painter: QPainter) -> None:
        sheet = [(8, 28), (26, 10), (56, 14), (40, 34)]
        painter.drawPolygon(_polygon([(x, y + 4) for x, y in sheet]))
        painter.drawPolygon(_polygon(sheet))
        painter.setPen(self._blue)
        self._ruler(painter, (8, 36), (38, 43))
        self._ruler(painter, (45, 38), (60, 20))
        self._ruler(painter, (4, 27), (4, 33))

    def _cards(self, painter: QPainter) -> None:
        sheet = [(6, 26), (24, 10), (50, 13), (34, 30)]
        for lift in (10, 6.5, 3, 0):
            painter.drawPolygon(_polygon([(x, y + lift) for x, y in sheet]))
        painter.setPen(self._blue)
        self._ruler(painter, (57, 14), (57, 25))
        self._ruler(painter, (6, 42), (32, 45))

    def _made(self, painter: QPainter) -> None:
        """A folded card on its way into something: made here, so no ruler is held to it."""
        painter.drawPolygon(_polygon([(10, 12), (26, 6), (26, 32), (10, 38)]))
        painter.drawPolygon(_polygon([(26, 6), (40, 14), (40, 40), (26, 32)]))
        painter.setPen(QPen(QColor(self.palette_.jade), 2))
        painter.drawLine(QPointF(46, 24), QPointF(60, 24))
        painter.drawPolyline(_polygon([(54, 18), (60, 24), (54, 30)]))

    def _standing(self, painter: QPainter) -> None:
        painter.drawPolygon(_polygon([(14, 38), (20, 16), (30, 22), (36, 5), (44, 38)]))
        painter.drawLine(QPointF(6, 38), QPointF(52, 38))
        painter.setPen(self._blue)
        self._ruler(painter, (57, 5), (57, 38))
        self._ruler(painter, (14, 43), (44, 43))

    def _loose(self, painter: QPainter) -> None:
        for x, y in (
            (12, 30),
            (23, 31),
            (34, 30),
            (45, 31),
            (17, 21),
            (28, 21),
            (39, 21),
            (28, 12),
        ):
            painter.drawEllipse(QRectF(x - 5.5, y, 11, 11))
        painter.setPen(self._blue)
        self._ruler(painter, (51, 44), (62, 44))

    def _light(self, painter: QPainter) -> None:
        p = self.palette_
        self._drum(painter, 16, 24, 30, 14)
        painter.setBrush(QColor(mix(p.amber, p.sheet, 0.35)))
        painter.drawChord(QRectF(24, 13, 14, 18), 0, 180 * 16)  # a lamp under a cap, no flame
        for way in (-50, -25, 0, 25, 50):
            across, up = math.sin(math.radians(way)), math.cos(math.radians(way))
            near, far = ((31 + r * across, 22 - r * up) for r in (12, 17))
            painter.drawLine(QPointF(*near), QPointF(*far))
        painter.setPen(self._blue)
        self._ruler(painter, (16, 47), (46, 47))
        self._ruler(painter, (54, 13), (54, 41))

    def _string(self, painter: QPainter) -> None:
        p = self.palette_
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for i in range(3):
            painter.drawEllipse(QRectF(8 + 2.5 * i, 12 + 2 * i, 42 - 5 * i, 22 - 4 * i))
        painter.setBrush(QColor(mix(p.amber, p.sheet, 0.35)))
        for x, y in ((8, 22), (22, 12), (40, 13), (49, 24), (36, 33), (18, 32)):
            painter.drawEllipse(QRectF(x - 2.5, y - 2.5, 6, 6))
        painter.setPen(self._blue)
        self._ruler(painter, (6, 43), (52, 43))

    @staticmethod
    def _ruler(painter: QPainter, a: tuple[float, float], b: tuple[float, float]) -> None:
        painter.drawLine(QPointF(*a), QPointF(*b))
        dx, dy = b[0] - a[0], b[1] - a[1]
        size = (dx * dx + dy * dy) ** 0.5
        nx, ny = -dy / size * 3, dx / size * 3
        for x, y in (a, b):
            painter.drawLine(QPointF(x - nx, y - ny), QPointF(x + nx, y + ny))


def _polygon(points: list[tuple[float, float]]) -> QPolygonF:
    return QPolygonF([QPointF(x, y) for x, y in points])


_DRAWINGS: dict[str, Callable[[KindTile, QPainter], None]] = {
    "block": KindTile._block,
    "cylinder": KindTile._round,
    "disc": KindTile._disc,
    "ball": KindTile._ball,
    "flat": KindTile._flat,
    "cards": KindTile._cards,
    "standing": KindTile._standing,
    "loose": KindTile._loose,
    "light": KindTile._light,
    "string": KindTile._string,
    "made": KindTile._made,
}


class WayTile(_Tile):
    """A way to go in: the thing between two walls, with its room."""

    def __init__(self, key: str, words: str) -> None:
        super().__init__(key, words, QSize(62, 58), 0.85)
        self.setCheckable(True)

    def draw(self, painter: QPainter) -> None:
        """The picture, in a field of 64 x 44."""
        p = self.palette_
        painter.setPen(QPen(QColor(p.ink), 1.6))
        painter.drawPolyline(
            QPolygonF([QPointF(12, 10), QPointF(12, 38), QPointF(52, 38), QPointF(52, 10)])
        )
        painter.setPen(QPen(QColor(p.river), 1.4))
        painter.setBrush(QColor(mix(p.river, p.sheet, 0.75)))
        if self.key == "dropped":
            painter.drawRect(QRectF(17, 18, 30, 19))
            self._arrow(painter, 32, 2, 13)
        elif self.key == "snug":
            painter.drawRect(QRectF(13.5, 18, 37, 19))
            self._arrow(painter, 32, 2, 13)
        elif self.key == "pocket":
            painter.drawRect(QRectF(15, 20, 34, 17))
            painter.setPen(QPen(QColor(p.ink), 1.6))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(QRectF(12, 10, 40, 28))
            painter.setPen(QPen(QColor(p.river), 1.4))
            self._arrow(painter, 32, 4, 16)
        elif self.key == "padded":
            painter.setBrush(QColor(mix(p.sand, p.sheet, 0.5)))
            painter.drawRoundedRect(QRectF(14, 12, 36, 25), 6, 6)
            painter.setBrush(QColor(mix(p.river, p.sheet, 0.75)))
            painter.drawRect(QRectF(21, 18, 22, 13))
        elif self.key == "slot":
            painter.drawRect(QRectF(29.5, 6, 5, 31))
            painter.setPen(QPen(QColor(p.ink), 1.6))
            painter.drawLine(QPointF(26, 29), QPointF(26, 38))
            painter.drawLine(QPointF(38, 29), QPointF(38, 38))
        elif self.key == "finger":
            painter.drawRect(QRectF(14, 18, 23, 19))
            painter.setPen(QPen(QColor(p.sand), 1.6))
            painter.setBrush(QColor(mix(p.sand, p.sheet, 0.5)))
            painter.drawRoundedRect(QRectF(40, 3, 9, 28), 4.5, 4.5)
        else:
            painter.drawRoundedRect(QRectF(13, 20, 38, 17), 9, 8)
            painter.drawArc(QRectF(20, 23, 12, 8), 0, 180 * 16)
            painter.drawArc(QRectF(32, 25, 12, 8), 0, 180 * 16)

    @staticmethod
    def _arrow(painter: QPainter, x: float, top: float, tip: float) -> None:
        painter.drawLine(QPointF(x, top), QPointF(x, tip))
        painter.drawPolyline(_polygon([(x - 4, tip - 4), (x, tip), (x + 4, tip - 4)]))
