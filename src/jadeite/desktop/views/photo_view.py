"""A picture with the outline that is found in it: brushed, rubbed out, cropped by hand."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import (
    QColor,
    QImage,
    QMouseEvent,
    QPainter,
    QPainterPath,
    QPaintEvent,
    QPen,
    QPolygonF,
)
from PyQt6.QtWidgets import QSizePolicy, QWidget

from jadeite.core.errors import FieldError
from jadeite.core.photos import Ink, Rings, rings_from_words
from jadeite.core.pictures import LIGHT, Palette
from jadeite.core.project import Photo
from jadeite.core.units import System
from jadeite.desktop.paint import INKS

__all__ = ["CROP", "DROP", "KEEP", "PhotoView"]

KEEP, DROP, CROP = "keep", "drop", "crop"
MARGIN = 28.0  # pixels round the picture
VEIL = 168  # of 255, over what is not cut out; from memory
NEAR = 2.0  # pixels between the points of a stroke; from memory
LEAST = 12.0  # pixels of a crop that is meant; from memory


class PhotoView(QWidget):
    """Shows one picture; says what is stroked over it, or what it is cropped to."""

    rubbed = pyqtSignal(bool, float, object)  # keeps, radius, points (n, 2): in shares
    cropped = pyqtSignal(object)  # left, top, right, bottom: 0 to 1

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName("Picture with its outline")
        self.setMouseTracking(True)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setMinimumSize(300, 240)
        self.palette_: Palette = LIGHT
        self.photo: Photo | None = None
        self.tool, self.radius = KEEP, 0.03  # of the longer side
        self.busy = False
        self._rings: Rings = ()
        self._stroke: list[QPointF] = []
        self._pointer: QPointF | None = None

    def set_look(self, palette: Palette, system: System) -> None:
        """Colours."""
        self.palette_ = palette
        self.update()

    def show_photo(self, photo: Photo | None, outline: str) -> None:
        """Another picture, or another outline in it."""
        self.photo = photo
        try:
            self._rings = rings_from_words(outline, "outline") if photo is not None else ()
        except FieldError:
            self._rings = ()
        self.update()

    def set_tool(self, tool: str, radius: float) -> None:
        """What the pointer does, and how wide, in parts of the longer side."""
        self.tool, self.radius = tool, radius
        self.update()

    # ------------------------------------------------------------- places

    def _box(self) -> QRectF:
        """Where the picture is shown."""
        assert self.photo is not None
        wide, high = self.photo.size
        room = self.width() - 2 * MARGIN, self.height() - 2 * MARGIN
        scale = max(0.01, min(room[0] / wide, room[1] / high))
        size = wide * scale, high * scale
        return QRectF((self.width() - size[0]) / 2, (self.height() - size[1]) / 2, *size)

    def _side(self) -> float:
        box = self._box()
        return max(box.width(), box.height())

    def _share(self, spot: QPointF) -> tuple[float, float]:
        """A place of the widget as a share of the picture."""
        box, side = self._box(), self._side()
        middle = box.center()
        x, y = (spot.x() - middle.x()) / side, (middle.y() - spot.y()) / side
        return min(max(x, -0.5), 0.5), min(max(y, -0.5), 0.5)

    def _spot(self, points: np.ndarray) -> list[QPointF]:
        middle, side = self._box().center(), self._side()
        return [QPointF(middle.x() + x * side, middle.y() - y * side) for x, y in points.tolist()]

    # ------------------------------------------------------------- hand

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and self.photo is not None and not self.busy:
            self._stroke = [event.position()]
            self.update()

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        self._pointer = event.position()
        if self._stroke:
            off = self._pointer - self._stroke[-1]
            if self.tool == CROP:
                self._stroke = [self._stroke[0], self._pointer]
            elif abs(off.x()) + abs(off.y()) >= NEAR:
                self._stroke.append(self._pointer)
        self.update()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        stroke, self._stroke = self._stroke, []
        if not stroke or self.photo is None:
            return
        if self.tool == CROP:
            self._crop(stroke[0], stroke[-1])
        else:
            points = [self._share(spot) for spot in stroke]
            every = max(1, -(-len(points) // 500))
            self.rubbed.emit(self.tool == KEEP, self.radius, tuple(points[::every]))
        self.update()

    def leaveEvent(self, event: object) -> None:
        self._pointer = None
        self.update()

    def _crop(self, one: QPointF, other: QPointF) -> None:
        box = self._box()
        marked = QRectF(one, other).normalized().intersected(box)
        if min(marked.width(), marked.height()) < LEAST:
            return
        self.cropped.emit((
            (marked.left() - box.left()) / box.width(), (marked.top() - box.top()) / box.height(),
            (marked.right() - box.left()) / box.width(),
            (marked.bottom() - box.top()) / box.height(),
        ))  # fmt: skip

    # ------------------------------------------------------------- paint

    def image(self) -> QImage:
        """The view as an image, for the clipboard."""
        out = QImage(self.size() * 2, QImage.Format.Format_ARGB32)
        out.setDevicePixelRatio(2)
        painter = QPainter(out)
        self._paint(painter)
        painter.end()
        return out

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        self._paint(painter)
        painter.end()

    def _paint(self, painter: QPainter) -> None:
        p = self.palette_
        painter.setRenderHints(
            QPainter.RenderHint.Antialiasing | QPainter.RenderHint.SmoothPixmapTransform
        )
        painter.fillRect(self.rect(), QColor(p.table))
        if self.photo is None:
            painter.setPen(QColor(p.quiet))
            words = "No picture yet: choose a PNG or JPEG at the right."
            painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, words)
            return
        box = self._box()
        image = INKS.get(Ink(self.photo.file, self.photo.digest))
        painter.fillRect(box, QColor(p.sheet))
        if image is not None:
            painter.drawImage(box, image)
        outline = QPainterPath()
        for ring in self._rings:
            outline.addPolygon(QPolygonF(self._spot(ring)))
            outline.closeSubpath()
        if self._rings:
            veil = QPainterPath()
            veil.addRect(box)
            colour = QColor(p.table)
            colour.setAlpha(VEIL)
            painter.fillPath(veil.subtracted(outline), colour)
            painter.setPen(QPen(QColor("#FFFFFF"), 3.2))
            painter.drawPath(outline)
            painter.setPen(QPen(QColor(LIGHT.brick), 1.6))
            painter.drawPath(outline)
        self._paint_crop(painter, box)
        self._paint_hand(painter)

    def _paint_crop(self, painter: QPainter, box: QRectF) -> None:
        assert self.photo is not None
        left, top, right, bottom = self.photo.crop
        if self.photo.crop == (0.0, 0.0, 1.0, 1.0):
            return
        x, y = box.left() + left * box.width(), box.top() + top * box.height()
        part = QRectF(x, y, (right - left) * box.width(), (bottom - top) * box.height())
        painter.setPen(QPen(QColor(self.palette_.river), 1.4, Qt.PenStyle.DashLine))
        painter.drawRect(part)

    def _paint_hand(self, painter: QPainter) -> None:
        """The stroke under way, and how wide the brush is."""
        colour = QColor(self.palette_.jade if self.tool == KEEP else LIGHT.brick)
        if self.tool == CROP:
            if len(self._stroke) > 1:
                painter.setPen(QPen(QColor(self.palette_.river), 1.4, Qt.PenStyle.DashLine))
                painter.drawRect(QRectF(self._stroke[0], self._stroke[-1]).normalized())
            return
        wide = 2 * self.radius * self._side()
        if self._stroke:
            colour.setAlpha(110)
            pen = QPen(colour, wide)
            pen.setCapStyle(Qt.PenCapStyle.RoundCap)
            pen.setJoinStyle(Qt.PenJoinStyle.RoundJoin)
            painter.setPen(pen)
            painter.drawPolyline(QPolygonF([*self._stroke, self._stroke[-1]]))
        if self._pointer is not None:
            colour.setAlpha(255)
            painter.setPen(QPen(colour, 1.6))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawEllipse(self._pointer, wide / 2, wide / 2)
