"""What is printed of a picture: all of it, or a figure, its colours spread beyond its outline."""

from __future__ import annotations

import io

import cv2
import numpy as np
import shapely
from PIL import Image

from jadeite.core.photos.ground import reduced
from jadeite.core.photos.ink import Ink
from jadeite.core.photos.pixels import Bytes, Pixels
from jadeite.core.photos.rings import regions_of, rings_from_words

__all__ = ["MOST_INK", "ink_pixels", "png_of"]

MOST_INK = 12_000_000  # pixels that are printed; from memory, 300 an inch on a whole page
WORN = 1  # pixels at the edge of a figure that are mixed with its background; from memory


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
    figure = np.zeros((height, width), np.uint8)
    # filling takes in half a pixel all round
    region = regions_of(rings_from_words(ink.figure, "outline")).buffer(-0.5 / side)
    parts = [p for p in shapely.get_parts(region) if not p.is_empty]
    rings = [
        np.round(
            (np.array(ring.coords) * (1, -1) * side + (width / 2, height / 2) - 0.5) * 16
        ).astype(np.int32)
        for part in parts
        for ring in (part.exterior, *part.interiors)
    ]
    cv2.fillPoly(figure, rings, 255, lineType=cv2.LINE_AA, shift=4)
    inner = cv2.erode((figure >= 255).astype(np.uint8), np.ones((3, 3), np.uint8), iterations=WORN)
    if not inner.any():
        inner = (figure > 0).astype(np.uint8)
    away, nearest = cv2.distanceTransformWithLabels(
        1 - inner, cv2.DIST_L2, cv2.DIST_MASK_5, labelType=cv2.DIST_LABEL_PIXEL
    )
    of = np.zeros((int(nearest.max()) + 1, 3), np.uint8)
    of[nearest[inner > 0]] = work.colours[inner > 0]
    reach = ink.spread * side + WORN
    soft = np.clip(255 * (reach + 0.5 - away), 0, 255).astype(np.uint8)
    shown = np.maximum(figure, soft) if ink.spread > 0 else figure
    return np.dstack([np.where(inner[..., None] > 0, work.colours, of[nearest]), shown])


def png_of(colours: Bytes) -> bytes:
    """An (h, w, 4) array as a PNG file."""
    out = io.BytesIO()
    Image.fromarray(colours).save(out, "PNG", compress_level=1)
    return out.getvalue()
