"""Drawn tiles: kinds of things with where to hold the ruler, and ways to go in."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QColor, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QPushButton, QSizePolicy

from jadeite.core.pictures import LIGHT, mix
from jadeite.desktop.theme import base_font

__all__ = ["KindTile", "WayTile"]


class _Tile(QPushButton):
    def __init__(self, key: str, words: str, size: QSize) -> None:
        super().__init__()
        self.key, self.words = key, words
        self.palette_ = LIGHT
        self.setProperty("role", "tile")
        self.setAccessibleName(words)
        self._size = size
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)

    def sizeHint(self) -> QSize:
        return self._size

    def minimumSizeHint(self) -> QSize:
        return self._size

    def paintEvent(self, event: QPaintEvent | None) -> None:
        super().paintEvent(event)
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setFont(base_font(9.5))
        painter.setPen(QColor(self.palette_.ink))
        box = QRectF(0, self.height() - 21, self.width(), 18)
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, self.words)
        painter.translate((self.width() - 64) / 2, 5)
        self.draw(painter)
        painter.end()

    def draw(self, painter: QPainter) -> None:
        """The picture, in a field of 64 x 44."""


class KindTile(_Tile):
    """A kind of thing, with lines where the ruler is held."""

    def __init__(self, key: str, words: str) -> None:
        super().__init__(key, words, QSize(78, 72))
        self.setToolTip(f"Add: {words.lower()}. Hold the ruler along the blue lines.")

    def draw(self, painter: QPainter) -> None:
        """The picture, in a field of 64 x 44."""
        p = self.palette_
        ink = QPen(QColor(p.ink), 1.4)
        ruler = QPen(QColor(p.river), 1.6)
        fill = QColor(mix(p.sand, p.sheet, 0.55))
        painter.setPen(ink)
        painter.setBrush(fill)
        if self.key == "block":
            top = [(14, 14), (34, 6), (52, 14), (32, 22)]
            left = [(14, 14), (32, 22), (32, 40), (14, 32)]
            right = [(32, 22), (52, 14), (52, 32), (32, 40)]
            for face in (top, left, right):
                painter.drawPolygon(QPolygonF([QPointF(x, y) for x, y in face]))
            painter.setPen(ruler)
            self._ruler(painter, (11, 36), (29, 44))
            self._ruler(painter, (36, 43), (56, 35))
            self._ruler(painter, (57, 30), (57, 12))
        elif self.key == "cylinder":
            painter.drawRect(QRectF(16, 12, 28, 24))
            painter.drawEllipse(QRectF(16, 31, 28, 10))
            painter.setPen(Qt.PenStyle.NoPen)
            painter.drawRect(QRectF(17, 13, 26, 23))
            painter.setPen(ink)
            painter.drawEllipse(QRectF(16, 7, 28, 10))
            painter.setPen(ruler)
            self._ruler(painter, (16, 12), (44, 12))
            self._ruler(painter, (51, 12), (51, 36))
        else:
            sheet = [(8, 28), (26, 10), (56, 14), (40, 34)]
            painter.drawPolygon(QPolygonF([QPointF(x, y + 4) for x, y in sheet]))
            painter.drawPolygon(QPolygonF([QPointF(x, y) for x, y in sheet]))
            painter.setPen(ruler)
            self._ruler(painter, (8, 36), (38, 43))
            self._ruler(painter, (45, 38), (60, 20))
            self._ruler(painter, (4, 27), (4, 33))

    @staticmethod
    def _ruler(painter: QPainter, a: tuple[float, float], b: tuple[float, float]) -> None:
        painter.drawLine(QPointF(*a), QPointF(*b))
        dx, dy = b[0] - a[0], b[1] - a[1]
        size = (dx * dx + dy * dy) ** 0.5
        nx, ny = -dy / size * 3, dx / size * 3
        for x, y in (a, b):
            painter.drawLine(QPointF(x - nx, y - ny), QPointF(x + nx, y + ny))


class WayTile(_Tile):
    """A way to go in: the thing between two walls, with its room."""

    def __init__(self, key: str, words: str) -> None:
        super().__init__(key, words, QSize(64, 68))
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
            painter.drawLine(QPointF(32, 2), QPointF(32, 13))
            painter.drawPolyline(QPolygonF([QPointF(28, 9), QPointF(32, 13), QPointF(36, 9)]))
        elif self.key == "snug":
            painter.drawRect(QRectF(13.5, 18, 37, 19))
            painter.drawLine(QPointF(32, 2), QPointF(32, 13))
            painter.drawPolyline(QPolygonF([QPointF(28, 9), QPointF(32, 13), QPointF(36, 9)]))
        elif self.key == "finger":
            painter.drawRect(QRectF(14, 18, 23, 19))
            painter.setPen(QPen(QColor(p.sand), 1.6))
            painter.setBrush(QColor(mix(p.sand, p.sheet, 0.5)))
            painter.drawRoundedRect(QRectF(40, 3, 9, 28), 4.5, 4.5)
        else:
            painter.drawRoundedRect(QRectF(13, 20, 38, 17), 9, 8)
            painter.drawArc(QRectF(20, 23, 12, 8), 0, 180 * 16)
            painter.drawArc(QRectF(32, 25, 12, 8), 0, 180 * 16)
