"""Pages as PDF."""

from __future__ import annotations

import io

import numpy as np
from reportlab.lib.colors import HexColor
from reportlab.lib.utils import ImageReader
from reportlab.pdfgen.canvas import Canvas

from jadeite import __version__
from jadeite.core.formats.fonts import font_name, spelled, text_width
from jadeite.core.formats.page import Page
from jadeite.core.nets.model import Floats
from jadeite.core.pictures import Image, Label, Path, Picture

__all__ = ["pdf_bytes", "png_for"]

POINT = 72 / 25.4  # points per mm; exact


def pdf_bytes(pages: list[Page], title: str) -> bytes:
    """A PDF document; 1 mm on a page is 1 mm on paper."""
    out = io.BytesIO()
    canvas = Canvas(out, pageCompression=1, invariant=1)
    canvas.setTitle(title)
    canvas.setCreator(f"Jadeite {__version__}")
    for page in pages:
        canvas.setPageSize((page.width * POINT, page.height * POINT))
        canvas.saveState()
        canvas.translate(0, page.height * POINT)
        canvas.scale(POINT, -POINT)
        for picture, clip in page.layers:
            canvas.saveState()
            if clip is not None:
                path = canvas.beginPath()
                path.rect(*clip)
                canvas.clipPath(path, stroke=0, fill=0)
            _paint(canvas, picture)
            canvas.restoreState()
        canvas.restoreState()
        canvas.showPage()
    canvas.save()
    return out.getvalue()


def _paint(canvas: Canvas, picture: Picture) -> None:
    if picture.shadow:
        canvas.saveState()
        canvas.setFillColor(HexColor(picture.shadow_colour))
        canvas.setFillAlpha(0.12)
        canvas.drawPath(_path(canvas, picture.shade, True), stroke=0, fill=1, fillMode=1)
        canvas.restoreState()
    for item in picture.items:
        if isinstance(item, Path):
            _paint_path(canvas, item)
        elif isinstance(item, Label):
            _paint_label(canvas, item)
        else:
            _paint_image(canvas, item)


def _path(canvas: Canvas, rings: tuple[Floats, ...], closed: bool) -> object:
    path = canvas.beginPath()
    for ring in rings:
        path.moveTo(float(ring[0][0]), float(ring[0][1]))
        for x, y in ring[1:]:
            path.lineTo(float(x), float(y))
        if closed:
            path.close()
    return path


def _paint_path(canvas: Canvas, item: Path) -> None:
    canvas.saveState()
    if item.fill:
        canvas.setFillColor(HexColor(item.fill))
    canvas.setFillAlpha(item.opacity)
    canvas.setStrokeAlpha(item.opacity)
    if item.stroke:
        canvas.setStrokeColor(HexColor(item.stroke.colour))
        canvas.setLineWidth(item.stroke.width)
        canvas.setLineJoin(1)
        if item.stroke.dash:
            canvas.setDash(*[list(item.stroke.dash)])
    canvas.drawPath(
        _path(canvas, item.rings, item.closed),
        stroke=1 if item.stroke else 0,
        fill=1 if item.fill else 0,
        fillMode=0,
    )
    canvas.restoreState()


def _paint_image(canvas: Canvas, item: Image) -> None:
    canvas.saveState()
    canvas.clipPath(_path(canvas, item.rings, True), stroke=0, fill=0, fillMode=0)
    canvas.transform(*item.matrix.T.ravel().tolist())
    image = ImageReader(io.BytesIO(png_for(item)))
    size = np.array(image.getSize(), float)
    wide, high = size / size.max()
    canvas.drawImage(image, -wide / 2, -high / 2, wide, high, mask="auto")
    canvas.restoreState()


def png_for(item: Image) -> bytes:
    """The bytes of a picture that is painted in mm.

    Raises
    ------
    FileError
        Its file is gone, or another by now.
    """
    if item.png:
        return item.png
    from jadeite.core.formats.photo_file import enough, ink_png

    return ink_png(item.ink, enough(float(np.linalg.norm(item.matrix[:, 0]))))


def _paint_label(canvas: Canvas, item: Label) -> None:
    canvas.saveState()
    canvas.translate(item.x, item.y)
    canvas.scale(1, -1)  # text stands upright on a page whose y points down
    canvas.rotate(-item.turn)
    width = text_width(item.text, item.size, item.weight)
    if item.pill:
        canvas.setFillColor(HexColor(item.pill))
        canvas.setStrokeColor(HexColor(item.edge or item.pill))
        canvas.setLineWidth(item.size * 0.03)
        canvas.roundRect(
            -width / 2 - item.size * 0.5,
            -item.size * 0.8,
            width + item.size,
            item.size * 1.6,
            item.size * 0.8,
            stroke=1,
            fill=1,
        )
    canvas.setFillColor(HexColor(item.colour))
    canvas.setFont(font_name(item.weight), item.size)
    left = {"start": 0.0, "middle": -width / 2, "end": -width}[item.anchor]
    canvas.drawString(left, -item.size * 0.35, spelled(item.text))
    canvas.restoreState()
