"""The outline of a figure in a picture, as rings that a blade can follow."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import cv2
import numpy as np
import shapely
from scipy.ndimage import gaussian_filter1d  # type: ignore[import-untyped]
from shapely.geometry import Polygon

from jadeite.core.errors import FieldError
from jadeite.core.photos.ground import Brush, cover_of, reduced
from jadeite.core.photos.pixels import Bytes, Floats, Pixels
from jadeite.core.photos.rings import MOST_CORNERS, MOST_RINGS, Rings

__all__ = ["LEAST_BIT", "Traced", "traced"]

LEAST_BIT = 0.5  # % of the figure's area: a part that is smaller is a stray bit; from memory
SOFT = 1.6  # pixels: corners of pixels are smoothed away over so many; from memory
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
    count, labels, stats, _ = cv2.connectedComponentsWithStats(cover, connectivity=4)
    areas = stats[1:count, cv2.CC_STAT_AREA].astype(float)
    limit = least / 100 * float(areas.sum())
    small = areas < limit
    keep = np.concatenate([[False], ~small])
    kept = keep[labels].astype(np.uint8)
    count, labels, stats, _ = cv2.connectedComponentsWithStats(
        np.pad(1 - kept, 1, constant_values=1), connectivity=4
    )
    holes = stats[:count, cv2.CC_STAT_AREA] < limit
    holes[0] = holes[labels[0, 0]] = False
    kept |= holes[labels[1:-1, 1:-1]].astype(np.uint8)
    largest = float(areas[small].max()) if small.any() else 0.0
    return kept, int(small.sum()), largest, int((~small).sum())


def _rings(cover: Bytes) -> list[Floats]:
    """Rings round what is covered, in pixels from the upper left, smoothed over their corners.

    The edges of pixels are followed, not their middles: the area is that of the pixels.
    """
    wide = np.pad(cover, 1)
    twice = cv2.resize(wide, None, fx=2, fy=2, interpolation=cv2.INTER_NEAREST)
    found, _ = cv2.findContours(twice, cv2.RETR_CCOMP, cv2.CHAIN_APPROX_NONE)
    out = []
    for line in found:
        # of doubled pixels the middles lie a quarter of a pixel within the edge
        points = (line[:, 0, :].astype(np.float64) + 0.5) / 2 - 1
        if len(points) < 8:
            continue
        soft = np.asarray(gaussian_filter1d(points, 2 * SOFT, axis=0, mode="wrap"))
        shape = Polygon(soft).buffer(0)
        # outlines of holes run on the pixels beside them, so both kinds are a quarter too narrow
        hole = _is_hole(cover, points)
        shape = shape.buffer(-0.25 if hole else 0.25, join_style="mitre")
        shape = max(shapely.get_parts(shape), key=lambda p: p.area, default=Polygon())
        if not shape.is_empty:
            out.append(shape)
    out = sorted(out, key=lambda shape: -shape.area)[:MOST_RINGS]
    return [_thinned(shape) for shape in out]


def _is_hole(cover: Bytes, points: Floats) -> bool:
    """Whether an outline, (n, 2), goes round a hole."""
    area = float(
        np.sum(points[:, 0] * np.roll(points[:, 1], -1) - np.roll(points[:, 0], -1) * points[:, 1])
    )
    return area > 0  # OpenCV follows holes the other way round


def _thinned(shape: Polygon) -> Floats:
    """A ring, (n, 2), with few corners."""
    close = CLOSE
    while True:
        ring = np.array(shapely.simplify(shape, close).exterior.coords)[:-1]
        if len(ring) <= MOST_CORNERS:
            return ring
        close *= 1.4
