"""What is printed of a picture: all of it, or a figure, its colours spread beyond its outline."""

from __future__ import annotations

import io
import math

import numpy as np
from PIL import Image, ImageDraw
from scipy import ndimage  # type: ignore[import-untyped]

from jadeite.core.photos.ground import SOLID, reduced
from jadeite.core.photos.ink import Ink
from jadeite.core.photos.pixels import Bytes, Pixels
from jadeite.core.photos.rings import regions_of, rings_from_words

__all__ = ["MOST_INK", "ink_pixels", "png_of"]

MOST_INK = 12_000_000  # pixels that are printed; from memory, 300 an inch on a whole page
WORN = 2  # pixels at the edge of a figure that are mixed with its background; from memory


def ink_pixels(pixels: Pixels, ink: Ink, most: int = MOST_INK) -> Bytes:
    """Red, green, blue and cover of what is printed, (h, w, 4); of the picture's own shape.

    Beyond a figure's outline the colour of its nearest pixel goes on.
    """
    work = reduced(pixels, most)
    width, height = work.size
    cover = np.full((height, width), 255, np.uint8) if work.cover is None else work.cover
    if not ink.figure:
        return np.dstack([work.colours, cover])
    side = max(width, height)
    figure = _filled(ink.figure, width, height)
    inner = ndimage.binary_erosion(figure >= SOLID, iterations=WORN)
    if not inner.any():
        inner = figure > 0
    if not inner.any():
        return np.dstack([work.colours, np.zeros_like(figure)])
    reach = ink.spread * side + WORN
    rows, columns = _near(inner, reach + 2)
    part = inner[rows, columns]
    away, (y, x) = ndimage.distance_transform_edt(~part, return_indices=True)
    colours = work.colours.copy()
    colours[rows, columns] = work.colours[rows, columns][y, x]
    shown = figure.copy()
    if ink.spread > 0:
        soft = np.clip(255 * (reach + 0.5 - away), 0, 255).astype(np.uint8)
        shown[rows, columns] = np.maximum(shown[rows, columns], soft)
    return np.dstack([colours, shown])


def _filled(words: str, width: int, height: int) -> Bytes:
    """How much of each pixel a figure covers, (h, w), 0 to 255."""
    side = max(width, height)
    image = Image.new("L", (2 * width, 2 * height), 0)
    draw = ImageDraw.Draw(image)
    for part in regions_of(rings_from_words(words, "outline")).geoms:
        for ring, value in ((part.exterior, 255), *((hole, 0) for hole in part.interiors)):
            points = np.array(ring.coords) * (1, -1) * side + (width / 2, height / 2)
            draw.polygon([tuple(p) for p in (2 * points - 0.5).tolist()], fill=value)
    return np.asarray(image.resize((width, height), Image.Resampling.BOX))


def _near(inner: np.ndarray, reach: float) -> tuple[slice, slice]:
    """The rows and columns that a figure and what is round it lie in."""
    by = math.ceil(reach)
    rows, columns = np.flatnonzero(inner.any(axis=1)), np.flatnonzero(inner.any(axis=0))
    return (
        slice(max(0, int(rows[0]) - by), int(rows[-1]) + by + 1),
        slice(max(0, int(columns[0]) - by), int(columns[-1]) + by + 1),
    )


def png_of(colours: Bytes) -> bytes:
    """An (h, w, 4) array as a PNG file."""
    out = io.BytesIO()
    Image.fromarray(colours).save(out, "PNG", compress_level=1)
    return out.getvalue()
