"""Outlines of flat pockets: a straight mouth on top, and below it whatever shape one likes."""

from __future__ import annotations

import itertools
import math
from dataclasses import dataclass
from functools import cache, lru_cache

import numpy as np
import shapely
from shapely import affinity
from shapely.geometry import LineString, Polygon, box
from shapely.geometry.polygon import orient

from jadeite.core.errors import FieldError, option_way
from jadeite.core.nets.model import Floats
from jadeite.core.shapes.own_outlines import own_outline

__all__ = ["OUTLINES", "Pocket", "inner_room", "outline_for", "within_border"]

# of our own
OUTLINES = (
    ("round", "round foot"),
    ("shield", "shield"),
    ("bell", "bell"),
    ("mitten", "mitten"),
    ("boot", "boot"),
)
SMOOTH = 0.06  # of the mouth's width, the radius of corners; from memory
ARC = 24  # setting: parts of a quarter of an arc; a border of 30 mm is even to 0.02 mm
FINE = 0.05  # mm; setting, a pocket is found as large as needed to this
LARGER = 1.002  # setting: by so much a pocket is made larger until its thing has room
LARGEST = 3000.0  # mm of a mouth; from memory, far beyond any sheet
KEPT = 128  # setting: outlines that are remembered
SPOTS = 25  # setting: places along the mouth that are tried
SPECK = 0.02  # mm; rounding, no side is shorter
ROUNDING = 1e-7  # mm; rounding


@dataclass(frozen=True, eq=False)
class Pocket:
    """A pocket's outline, its mouth on top at y = 0, (n, 2) ccw in mm; and its thing's middle."""

    outline: Floats
    mouth: tuple[float, float]
    middle: float

    @property
    def shape(self) -> Polygon:
        """Its region."""
        return Polygon(self.outline)

    @property
    def low(self) -> tuple[float, float]:
        """The lower left of what it takes, mm."""
        x, y = self.outline.min(axis=0)
        return float(x), float(y)

    @property
    def high(self) -> float:
        """How far it reaches to the right, mm."""
        return float(self.outline[:, 0].max())


@cache
def _plain(key: str) -> Polygon:
    """An outline whose mouth runs from -0.5 to 0.5 on top.

    Raises
    ------
    FieldError
        One of the maker's own has nowhere to put a mouth.
    """
    if key not in dict(OUTLINES):
        return _sound(own_outline(key))
    turn = np.linspace(0, -math.pi, 49)
    foot = np.column_stack([np.cos(turn), np.sin(turn)]) * 0.5
    if key == "round":
        ring = np.vstack([[-0.5, 0.0], [-0.5, -1.0], *(foot[::-1] - [[0.0, 1.0]]), [0.5, 0.0]])
    elif key == "shield":
        t = np.linspace(0, 1, 25)[:, None]
        right = np.hstack([0.5 - 0.5 * t**1.7, -0.75 - 0.85 * t])
        left = right * np.array([-1.0, 1.0])
        ring = np.vstack([[0.5, 0.0], right, left[::-1][1:], [-0.5, 0.0]])
    elif key == "bell":
        t = np.linspace(0, 1, 25)[:, None]
        right = np.hstack([0.5 + 0.32 * t**2, -1.25 * t])
        left = right * np.array([-1.0, 1.0])
        ring = np.vstack([right, left[::-1]])
    elif key == "mitten":
        body = Polygon(
            np.vstack([[-0.5, 0.0], [-0.5, -1.0], *(foot[::-1] - [[0.0, 1.0]]), [0.5, 0.0]])
        )
        thumb = LineString([(0.3, -0.62), (0.74, -0.92)]).buffer(0.2, quad_segs=ARC)
        return _sound(body.union(thumb))
    else:
        leg = box(-0.5, -1.3, 0.5, 0.0)
        foot_ = LineString([(0.0, -1.32), (0.62, -1.44)]).buffer(0.42, quad_segs=ARC)
        heel = shapely.Point(-0.1, -1.36).buffer(0.4, quad_segs=ARC)
        return _sound(leg.union(foot_).union(heel))
    return _sound(Polygon(ring))


def _sound(shape: Polygon) -> Polygon:
    """Corners below the mouth rounded; the mouth stays as it is."""
    soft = shape.buffer(-SMOOTH, quad_segs=ARC).buffer(2 * SMOOTH, quad_segs=ARC)
    soft = soft.buffer(-SMOOTH, quad_segs=ARC)
    x0, y0, x1, _ = shape.bounds
    low = box(x0 - 1, y0 - 1, x1 + 1, -2 * SMOOTH)
    top = box(x0 - 1, -2 * SMOOTH, x1 + 1, 1)
    whole = shapely.union_all([soft.intersection(low), shape.intersection(top)], grid_size=1e-9)
    return whole if whole.geom_type == "Polygon" else shape


@lru_cache(maxsize=KEPT)
def outline_for(
    key: str, size: tuple[float, float], band: float, *, tall: float = 1.0, left: bool = False
) -> Pocket:
    """The smallest pocket of an outline in which a thing of a width and height has room, mm.

    It stands with its upper edge at the mouth and keeps the glued ``band`` from all other
    edges; ``tall`` stretches the outline, ``left`` mirrors it.

    Raises
    ------
    FieldError
        One of the maker's own has no room for it, however large.
    """
    plain = affinity.scale(_plain(key), 1.0, tall, origin=(0, 0))
    low = size[0] + 2 * band
    high = low
    while _spot(affinity.scale(plain, high, high, origin=(0, 0)), size, band) is None:
        high *= 1.25
        if high > LARGEST:
            raise FieldError(
                "outline", "the thing has no room below its mouth, however large it is",
                "Choose another outline.", (option_way("outline", OUTLINES[0][0]),),
            )  # fmt: skip
    if high > low:
        low = high / 1.25
        while high - low > FINE / 2:
            middle = (low + high) / 2
            if _spot(affinity.scale(plain, middle, middle, origin=(0, 0)), size, band) is None:
                low = middle
            else:
                high = middle
    spot = None
    while spot is None:  # many corners that lie close move a little as they are thinned out
        shape = affinity.scale(plain, high, high, origin=(0, 0))
        shape = shapely.remove_repeated_points(shape, SPECK)
        spot = _spot(shape, size, band - SPECK)
        high *= LARGER
    if left:
        shape, spot = affinity.scale(shape, -1.0, 1.0, origin=(0, 0)), -spot
    points = np.array(orient(shape).exterior.coords)[:-1]
    top = points[points[:, 1] > -ROUNDING]
    return Pocket(points, (float(top[:, 0].min()), float(top[:, 0].max())), spot)


def inner_room(shape: Polygon, band: float) -> Polygon:
    """What a band of glue along every edge but the mouth, on top at y = 0, leaves free."""
    ring = np.array(orient(shape).exterior.coords)
    lines = [
        LineString(pair)
        for pair in itertools.pairwise(ring)
        if not (pair[0][1] > -ROUNDING and pair[1][1] > -ROUNDING)
    ]
    glued = shapely.union_all(shapely.buffer(lines, band, quad_segs=ARC))
    free = shape.difference(glued)
    parts = [part for part in shapely.get_parts(free) if part.geom_type == "Polygon"]
    return max(parts, key=lambda part: part.area) if parts else Polygon()


def within_border(outline: Floats, border: float) -> Floats:
    """An outline moved inward by an even border, (n, 2) ccw in mm.

    Every point of it is ``border`` mm from the outline, round inner corners as well.

    Raises
    ------
    ValueError
        Nothing, or more than one part, is left.
    """
    inner = Polygon(outline).buffer(-border, quad_segs=ARC)
    if inner.is_empty or inner.geom_type != "Polygon":
        raise ValueError("nothing is left within the border")
    return np.array(orient(inner).exterior.coords)[:-1]


def _spot(shape: Polygon, size: tuple[float, float], band: float) -> float | None:
    """The x of the middle of a thing that has room below the mouth; None where it has none."""
    free = inner_room(shape, band)
    if free.is_empty or free.area < size[0] * size[1]:
        return None
    x0, _, x1, _ = free.bounds
    first, last = x0 + size[0] / 2, x1 - size[0] / 2
    if last < first - ROUNDING:
        return None
    spots = (
        np.linspace(first, last, SPOTS) if last - first > FINE else np.array([(first + last) / 2])
    )
    spots = spots[np.argsort(np.abs(spots))]
    things = shapely.box(spots - size[0] / 2, -size[1], spots + size[0] / 2, -ROUNDING)
    fits = np.flatnonzero(shapely.covers(free.buffer(ROUNDING * 10), things))
    return float(spots[fits[0]]) if len(fits) else None
