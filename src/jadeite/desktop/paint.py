"""Paint a picture with Qt: in a widget, an image, or on a printer."""

from __future__ import annotations

from functools import lru_cache

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QLineF, QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import (
    QColor,
    QFont,
    QFontMetricsF,
    QImage,
    QPainter,
    QPainterPath,
    QPen,
    QPixmap,
    QPolygonF,
    QRadialGradient,
    QTransform,
)

from jadeite.core.nets.model import Floats
from jadeite.core.photos import Ink
from jadeite.core.pictures import Image, Label, Palette, Path, Picture, Stroke, mix
from jadeite.core.steps import Steps, finished
from jadeite.desktop.theme import base_font

__all__ = ["LampLight", "contains", "paint_picture", "painting"]

SHADOW_ALPHA = 46
Grey = NDArray[np.floating]
NO_PEN, NO_BRUSH = Qt.PenStyle.NoPen, Qt.BrushStyle.NoBrush
SHADOW_SHRINK = 5  # the shadow is painted this much smaller and enlarged softly


def polygon(points: Floats) -> QPolygonF:
    """Points (n, 2) as a Qt polygon."""
    return QPolygonF([QPointF(x, y) for x, y in points.tolist()])


def _path(item: Path) -> QPainterPath:
    out = QPainterPath()
    out.setFillRule(Qt.FillRule.OddEvenFill)
    for ring in item.rings:
        out.addPolygon(polygon(ring))
        if item.closed:
            out.closeSubpath()
    return out


def contains(item: Path, x: float, y: float) -> bool:
    """Whether a point lies in a filled path."""
    return _path(item).contains(QPointF(x, y))


def paint_picture(painter: QPainter, picture: Picture, width: int = 0, height: int = 0) -> None:
    """Paint everything; width and height bound the soft shadow, 0 for a hard one."""
    finished(painting(painter, picture, width, height))


def painting(painter: QPainter, picture: Picture, width: int = 0, height: int = 0) -> Steps[None]:
    """The same, left after each item; nothing else may be painted until it is done."""
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    if picture.shadow:
        yield from _shadow(painter, picture, width, height)
    for item in picture.items:
        yield
        if isinstance(item, Path):
            _paint_path(painter, item)
        elif isinstance(item, Label):
            _paint_label(painter, item)
        else:
            _paint_image(painter, item)


def _shadow(painter: QPainter, picture: Picture, width: int, height: int) -> Steps[None]:
    shape = QPainterPath()
    shape.setFillRule(Qt.FillRule.WindingFill)
    for points in picture.shade:
        shape.addPolygon(polygon(points))
        shape.closeSubpath()
    colour = QColor(picture.shadow_colour)
    if not width or not height:
        colour.setAlpha(SHADOW_ALPHA // 2)
        painter.fillPath(shape, colour)
        return
    small = QImage(
        max(8, width // SHADOW_SHRINK),
        max(8, height // SHADOW_SHRINK),
        QImage.Format.Format_Grayscale8,
    )
    small.fill(0)
    brush = QPainter(small)
    brush.setRenderHint(QPainter.RenderHint.Antialiasing)
    brush.scale(1 / SHADOW_SHRINK, 1 / SHADOW_SHRINK)
    brush.fillPath(shape, QColor(SHADOW_ALPHA, SHADOW_ALPHA, SHADOW_ALPHA))
    brush.end()
    yield
    radius = max(2, round(picture.shadow_blur / SHADOW_SHRINK))
    blurred = _blurred(_grey(small), radius)
    yield
    soft = _tinted(blurred, colour)
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
    painter.drawImage(QRectF(0, 0, width, height), soft)
    painter.restore()


def _grey(image: QImage) -> Grey:
    """Brightness of an image as (height, width) float."""
    bits = image.constBits()
    assert bits is not None
    data = np.frombuffer(bits.asstring(image.sizeInBytes()), dtype=np.uint8)
    return data.reshape(image.height(), image.bytesPerLine())[:, : image.width()].astype(np.float32)


def _blurred(grey: Grey, radius: int) -> Grey:
    """Two box blurs each way: close to a soft penumbra, at a fraction of its cost."""
    out = grey
    for axis in (0, 1, 0, 1):
        pad = [(0, 0), (0, 0)]
        pad[axis] = (radius + 1, radius)
        total = np.cumsum(np.pad(out, pad, mode="edge"), axis=axis)
        n, reach = out.shape[axis], 2 * radius + 1
        if axis == 0:
            out = (total[reach : reach + n] - total[:n]) / reach
        else:
            out = (total[:, reach : reach + n] - total[:, :n]) / reach
    return out


def _tinted(alpha: Grey, colour: QColor) -> QImage:
    """An image of one colour with an alpha of its own at every point."""
    height, width = alpha.shape
    share = alpha / 255.0
    pixels = np.empty((height, width, 4), dtype=np.uint8)
    for i, part in enumerate((colour.blue(), colour.green(), colour.red())):
        pixels[:, :, i] = (part * share).astype(np.uint8)
    pixels[:, :, 3] = alpha.astype(np.uint8)
    image = QImage(
        pixels.tobytes(), width, height, width * 4, QImage.Format.Format_ARGB32_Premultiplied
    )
    return image.copy()  # keeps its own bytes


class LampLight:
    """Lamp light on the table, painted once for each size and theme."""

    def __init__(self) -> None:
        self._pixmap = QPixmap()
        self._made_for: tuple[QSize, str] | None = None

    def paint(self, painter: QPainter, size: QSize, p: Palette) -> None:
        """Fill a widget of this size."""
        if self._made_for != (size, p.table):
            wide, high = size.width(), size.height()
            light = QRadialGradient(wide * 0.45, high * 0.4, max(wide, high) * 0.75)
            light.setColorAt(0.0, QColor(mix(p.table, p.sheet, 0.7)))
            light.setColorAt(1.0, QColor(p.table))
            self._pixmap, self._made_for = QPixmap(size), (size, p.table)
            brush = QPainter(self._pixmap)
            brush.fillRect(QRectF(0, 0, wide, high), light)
            brush.end()
        painter.drawPixmap(0, 0, self._pixmap)


@lru_cache(maxsize=512)
def _colour(name: str) -> QColor:
    return QColor(name)


@lru_cache(maxsize=512)
def _pen(stroke: Stroke) -> QPen:
    pen = QPen(QColor(stroke.colour), stroke.width)
    pen.setJoinStyle(Qt.PenJoinStyle.RoundJoin)
    if stroke.dash:
        pen.setCapStyle(Qt.PenCapStyle.FlatCap)
        pen.setDashPattern([d / stroke.width for d in stroke.dash])
    else:
        pen.setCapStyle(Qt.PenCapStyle.RoundCap)
    return pen


def _paint_path(painter: QPainter, item: Path) -> None:
    if item.opacity < 1:
        painter.setOpacity(item.opacity)
    painter.setPen(_pen(item.stroke) if item.stroke else NO_PEN)
    if not item.closed:
        lines = []
        for ring in item.rings:
            if len(ring) == 2:
                (x0, y0), (x1, y1) = ring.tolist()
                lines.append(QLineF(x0, y0, x1, y1))
            else:
                painter.drawPolyline(polygon(ring))
        if lines:
            painter.drawLines(lines)
    else:
        painter.setBrush(_colour(item.fill) if item.fill else NO_BRUSH)
        if len(item.rings) == 1:
            painter.drawPolygon(polygon(item.rings[0]))
        else:
            painter.drawPath(_path(item))
    if item.opacity < 1:
        painter.setOpacity(1.0)


INKS: dict[Ink, QImage] = {}  # what is printed, as it was made elsewhere: reading takes long
MISSING = "#d9d4c7"  # a picture that is not there yet


def _paint_image(painter: QPainter, item: Image) -> None:
    """A picture within its rings; a plain tint where its pixels are still being made."""
    within = _path(Path(item.rings))
    image = QImage.fromData(item.png) if item.png else INKS.get(item.ink)
    if image is None or image.isNull():
        painter.fillPath(within, QColor(MISSING))
        return
    side = max(image.width(), image.height())
    wide, high = image.width() / side, image.height() / side
    (a, c, e), (b, d, f) = item.matrix.tolist()
    painter.save()
    painter.setClipPath(within, Qt.ClipOperation.IntersectClip)
    painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
    painter.setTransform(QTransform(a, b, -c, -d, e, f), True)  # an image's y points down
    painter.drawImage(QRectF(-wide / 2, -high / 2, wide, high), image)
    painter.restore()


@lru_cache(maxsize=512)
def _font(weight: int, pixels: int) -> QFont:
    font = base_font(weight=weight)
    font.setPixelSize(pixels)
    return font


@lru_cache(maxsize=4096)
def _width(text: str, weight: int) -> float:
    """Of a text of 100 pixels: measured large, so that small sizes on paper keep their shape."""
    return QFontMetricsF(_font(weight, 100)).horizontalAdvance(text)


def _paint_label(painter: QPainter, item: Label) -> None:
    scale = item.size / 100
    width = _width(item.text, item.weight) * scale
    painter.save()
    painter.translate(item.x, item.y)
    if item.turn:
        painter.rotate(item.turn)
    if item.pill:
        height = item.size * 1.6
        box = QRectF(-width / 2 - item.size * 0.55, -height / 2, width + item.size * 1.1, height)
        painter.setBrush(QColor(item.pill))
        painter.setPen(QPen(QColor(item.edge or item.pill), item.size * 0.07))
        painter.drawRoundedRect(box, height / 2, height / 2)
    left = {"start": 0.0, "middle": -width / 2, "end": -width}[item.anchor]
    painter.setPen(QColor(item.colour))
    if item.size >= 8:  # in a window, let the font be hinted at its own size
        painter.setFont(_font(item.weight, round(item.size)))
        painter.drawText(QPointF(left, item.size * 0.35), item.text)
    else:
        painter.scale(scale, scale)
        painter.setFont(_font(item.weight, 100))
        painter.drawText(QPointF(left / scale, 35.0), item.text)
    painter.restore()
