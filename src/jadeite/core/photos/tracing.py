"""The outline of a figure in a picture, as rings that a blade can follow."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from contourpy import LineType, contour_generator
from scipy import ndimage  # type: ignore[import-untyped]
from shapely.geometry import Polygon

from jadeite.core.errors import FieldError
from jadeite.core.photos.ground import Brush, cover_of, reduced
from jadeite.core.photos.pixels import Bytes, Floats, Pixels
from jadeite.core.photos.rings import MOST_CORNERS, MOST_RINGS, Rings

__all__ = ["LEAST_BIT", "Traced", "traced"]

LEAST_BIT = 0.5  # % of the figure's area: a part that is smaller is a stray bit; from memory
PAD = 8  # pixels round a cover, so that it ends within; setting
SOFT = 1.3  # pixels: corners of pixels are smoothed away over so many; from memory
CLOSE = 0.35  # pixels that the outline may be off after thinning its corners; from memory


@dataclass(frozen=True, eq=False)
class Traced:
    """What was found: rings in shares, even-odd; how; and what was left out.

    ``stray`` counts bits under the least, whose largest has ``largest`` pixels; ``parts`` is
    of how many parts the figure is, ``share`` how much of the picture it covers.
    """

    rings: Rings
    way: str
    stray: int
    largest: float
    parts: int
    share: float


def traced(
    pixels: Pixels,
    *,
    way: str = "auto",
    tolerance: float = 1.0,
    crop: tuple[float, float, float, float] = (0.0, 0.0, 1.0, 1.0),
    brushes: Sequence[Brush] = (),
    least: float = LEAST_BIT,
) -> Traced:
    """Find the figure in a picture.

    Parameters
    ----------
    crop : (left, top, right, bottom)
        What is looked at, 0 to 1 from the upper left.
    least : float
        Parts under so many per cent of the figure's area are dropped.

    Raises
    ------
    FieldError
        Nothing is left; the text names what helps.
    """
    work = reduced(pixels)
    width, height = work.size
    x0, y0, x1, y1 = (
        round(v * n) for v, n in zip(crop, (width, height, width, height), strict=True)
    )
    part = Pixels(
        np.ascontiguousarray(work.colours[y0:y1, x0:x1]),
        None if work.cover is None else np.ascontiguousarray(work.cover[y0:y1, x0:x1]),
    )
    side = max(width, height)
    middle = np.array([(x0 + x1 - width) / 2, (height - y0 - y1) / 2]) / side
    scale = side / max(part.size)
    own = [Brush(b.keeps, b.radius * scale, (b.points - middle) * scale) for b in brushes]
    cover, how = cover_of(part, way, tolerance, own)
    kept, stray, largest, parts = _without_bits(cover, least)
    if not kept.any():
        cure = "Paint over the figure to keep it, or choose another way to find it."
        raise FieldError("picture", "no figure is found in it", cure)
    corner = np.array([x0 - width / 2, y0 - height / 2])
    rings = [(ring + corner) * (1, -1) / side for ring in _rings(kept)]
    share = float(kept.mean())
    return Traced(tuple(rings), how, stray, largest, parts, share)


def _without_bits(cover: Bytes, least: float) -> tuple[Bytes, int, float, int]:
    """The cover without small parts and small holes; how many parts, their largest, those left."""
    labels, count = ndimage.label(cover)
    areas = np.bincount(labels.ravel(), minlength=count + 1)[1:].astype(float)
    limit = least / 100 * float(areas.sum())
    small = areas < limit
    kept = np.concatenate([[False], ~small])[labels]
    holes, number = ndimage.label(~np.pad(kept, 1))
    sizes = np.bincount(holes.ravel(), minlength=number + 1)
    filled = sizes < limit
    filled[0] = filled[holes[0, 0]] = False
    kept |= filled[holes[1:-1, 1:-1]]
    largest = float(areas[small].max()) if small.any() else 0.0
    return kept.astype(np.uint8), int(small.sum()), largest, int((~small).sum())


def _rings(cover: Bytes) -> list[Floats]:
    """Rings round what is covered, in pixels from the upper left, smoothed over their corners.

    The middle of the softened edge is followed: the area stays that of the pixels.
    """
    soft = ndimage.gaussian_filter(np.pad(cover, PAD).astype(np.float32), SOFT)
    lines = contour_generator(z=soft, line_type=LineType.Separate).lines(0.5)
    shapes = [Polygon(np.asarray(line) - PAD + 0.5).buffer(0) for line in lines if len(line) > 3]
    parts = [max(shapely.get_parts(s), key=lambda p: p.area, default=Polygon()) for s in shapes]
    parts = sorted((p for p in parts if p.area > 1), key=lambda p: -p.area)[:MOST_RINGS]
    return [_thinned(part) for part in parts]


def _thinned(shape: Polygon) -> Floats:
    """A ring, (n, 2), with few corners."""
    close = CLOSE
    while True:
        ring = np.array(shapely.simplify(shape, close).exterior.coords)[:-1]
        if len(ring) <= MOST_CORNERS:
            return ring
        close *= 1.4
