"""What flowers and leaves are set on: the ring of a wreath, or a patch of any outline.

A branch is another (:mod:`~jadeite.core.blooms.bough`).  Each says where a flower may sit,
where the largest are to stand, and where the tips of leaves lie; what chooses among these
places knows none of them.

Glossary
--------
region
    What flowers and leaves fill, seen from above.
base
    The board under them, a little smaller, so that petals and leaves hide its edge.
seam
    Where two arcs of the board meet: a line outwards that no hub and no foot crosses.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Protocol

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import Point, Polygon, box

from jadeite.core.nets.model import Floats

__all__ = ["FORMS", "ON_BASE", "SKEWS", "Band", "Ground", "Head", "Patch"]

GRIDS = 220  # places across the rim that are looked at; from memory, 1.4 mm of 300
SKEWS = (22.0, 42.0)  # degrees of leaves from straight out; from memory, straight ones look stiff
ON_BASE = 0.5  # mm; from memory, board round a hub or foot
OFF_SEAM = 0.4  # mm; from memory
FAR = 1e4  # mm, farther than anything
TIPS = 4.0  # degrees from one place for a leaf's tip to the next; from memory
EVEN = 1e-6  # mm; rounding
INNER_TIPS = (0.0, 0.35, 0.65)  # of its half depth inside the outline; from memory
CORNER = 0.16  # of its shorter side is a rectangle rounded; from memory
FINE = 180  # corners of an oval; from memory, within 0.05 mm of 300
FORMS = (("round", "round"), ("oval", "oval"), ("rectangle", "rectangular"))

Tips = tuple[Floats, Floats]  # where tips may lie, (n, 2) mm, and straight out from there, degrees


@dataclass(frozen=True)
class Head:
    """Flowers of one size: ``width`` finished, ``hub`` from the centre of its middle; mm."""

    width: float
    hub: float


class Ground(Protocol):
    """Where flowers and leaves may be; equal ones are the same ground."""

    def __hash__(self) -> int: ...

    @property
    def spread(self) -> float:
        """Widths from one large flower to the next, where small ones come between."""

    @property
    def evenly(self) -> bool:
        """Whether leaves are spread out before those that are seen most are chosen."""

    @property
    def fills(self) -> bool:
        """Whether flowers also come where none is to stand, into the gaps."""

    @property
    def region(self) -> Polygon:
        """What they fill; mm."""

    def places(self, head: Head) -> Floats:
        """Where a flower of this size may sit, (n, 2) float, mm."""

    def stand(
        self, sort: int, places: Floats, apart: float, most: int, rng: np.random.Generator
    ) -> list[Floats]:
        """Where, of ``places`` (n, 2), those of a sort are to stand, about ``apart`` mm apart."""

    def under(self, spots: Sequence[tuple[float, float, int]]) -> Ground:
        """The ground once flowers sit at (x, y) mm, with the number of the sort of each."""

    def to_edge(self, places: Floats) -> Floats:
        """How far in mm places (n, 2) of small flowers are from where they look best, (n,)."""

    def tips(self) -> Tips:
        """Where tips of leaves may lie, and which way leads out of the ground there."""

    def holds(self, blades: Floats, feet: Floats) -> NDArray[np.bool_]:
        """Which leaves, (n, 2) corners each, lie on the ground, with their feet on its board."""

    def outward(self, x: float, y: float) -> float:
        """Degrees towards the nearer edge from a place."""


@dataclass(frozen=True)
class Band:
    """The radii that are filled, those of the board under it, and its seams; mm."""

    inner: float
    outer: float
    base: tuple[float, float]
    seams: int = 0
    spread = 1.25  # from memory, with room for small ones
    evenly = False  # its flowers leave few gaps
    fills = True

    @cached_property
    def region(self) -> Polygon:
        """The ring from the opening to the rim."""
        far = np.linspace(0.0, 2 * math.pi, 721)[:-1]
        ring = np.column_stack([np.cos(far), np.sin(far)])
        return Polygon(self.outer * ring, [self.inner * ring])

    def off_seam(self, points: Floats) -> Floats:
        """Distance in mm of points (n, 2) from the nearest seam; far where there is none."""
        if not self.seams:
            return np.full(len(points), FAR)
        step = 2 * math.pi / self.seams
        aside = (np.arctan2(points[:, 1], points[:, 0]) + step / 2) % step - step / 2
        far = np.hypot(points[:, 0], points[:, 1])
        across = np.abs(far * np.sin(aside))
        return np.where(np.cos(aside) > 0, across, far)

    def places(self, head: Head) -> Floats:
        """Where a flower of this size may sit, (n, 2) float, mm."""
        low = max(self.inner + head.width / 2, self.base[0] + head.hub + ON_BASE)
        high = min(self.outer - head.width / 2, self.base[1] - head.hub - ON_BASE)
        if high < low:
            return np.zeros((0, 2))
        step = 2 * self.outer / GRIDS
        rows = []
        for radius in np.linspace(low, high, max(2, math.ceil((high - low) / step) + 1)):
            turns = np.arange(0.0, 2 * math.pi, step / max(radius, step))
            rows.append(radius * np.column_stack([np.cos(turns), np.sin(turns)]))
        points = np.vstack(rows)
        return np.asarray(points[self.off_seam(points) >= head.hub + OFF_SEAM])

    def stand(
        self, sort: int, places: Floats, apart: float, most: int, rng: np.random.Generator
    ) -> list[Floats]:
        """The largest evenly round, in and out by turns; ``places`` (n, 2), ``apart`` in mm."""
        if sort or not len(places) or not most:
            return []
        far = np.hypot(*places.T)
        low, high = float(far.min()), float(far.max())
        count = max(1, min(most, int(math.pi * (low + high) / apart)))
        turns = 2 * math.pi * (np.arange(count) + rng.random()) / count
        radius = np.where(np.arange(count) % 2 == 0, high, low)
        if count % 2 and count > 1:
            radius[-1] = (low + high) / 2  # between its neighbours, both of which stand out
        return [*(radius[:, None] * np.column_stack([np.cos(turns), np.sin(turns)]))]

    def under(self, spots: Sequence[tuple[float, float, int]]) -> Band:
        """The same: its board is under all of it."""
        return self

    def to_edge(self, places: Floats) -> Floats:
        """Small ones stand at the rim and at the opening; ``places`` (n, 2), mm."""
        far = np.hypot(*places.T)
        return np.asarray(np.minimum(far - far.min(), far.max() - far))

    def tips(self) -> Tips:
        """Round the rim, and round the opening."""
        at = np.repeat(np.arange(0.0, 360.0, TIPS), 2)
        rim = np.tile([self.outer, self.inner], len(at) // 2)
        turns = np.radians(at)
        points = rim[:, None] * np.column_stack([np.cos(turns), np.sin(turns)])
        return points, at + np.tile([0.0, 180.0], len(at) // 2)

    def holds(self, blades: Floats, feet: Floats) -> NDArray[np.bool_]:
        """Which leaves, (n, 2) each, lie between opening and rim, each foot on one arc."""
        inside = _within(blades, self.inner, self.outer)
        inside &= _within(feet, self.base[0] + ON_BASE, self.base[1] - ON_BASE)
        if self.seams:
            step = 360.0 / self.seams
            turns = np.degrees(np.arctan2(feet[:, :, 1], feet[:, :, 0])) % step
            inside &= np.ptp(turns, axis=1) < step / 2  # both ends on one arc
            off = self.off_seam(feet.reshape(-1, 2)).reshape(len(feet), -1)
            inside &= off.min(axis=1) >= OFF_SEAM
        return inside

    def outward(self, x: float, y: float) -> float:
        """Towards the rim, or from its inner half towards the opening."""
        away = math.degrees(math.atan2(y, x))
        return away if math.hypot(x, y) > (self.inner + self.outer) / 2 else away + 180.0


@dataclass(frozen=True)
class Patch:
    """A round, oval or rectangular ground, ``width`` by ``depth``; mm.

    Its board ends ``free`` inside the outline, flowers end ``leafy`` inside it.
    """

    form: str
    width: float
    depth: float
    free: float
    leafy: float
    spread = 1.04  # from memory, small ones come into the corners between
    evenly = True
    fills = True

    @cached_property
    def region(self) -> Polygon:
        """The outline, about the origin."""
        if self.form == "rectangle":
            round_ = CORNER * min(self.width, self.depth)
            half, deep = self.width / 2 - round_, self.depth / 2 - round_
            return box(-half, -deep, half, deep).buffer(round_, quad_segs=FINE // 8)
        turns = 2 * math.pi * np.arange(FINE) / FINE
        axes = np.array([self.width / 2, self.depth / 2])
        return Polygon(axes * np.column_stack([np.cos(turns), np.sin(turns)]))

    @cached_property
    def base(self) -> Polygon:
        """The board, (a disc, an oval, or a rectangle)."""
        return self.region.buffer(-self.free)

    def places(self, head: Head) -> Floats:
        """Where a flower of this size may sit, (n, 2) float, mm."""
        sits = self.region.buffer(-head.width / 2 - self.leafy)
        free = sits.intersection(self.base.buffer(-head.hub - ON_BASE))
        if free.is_empty:
            return np.zeros((0, 2))
        step = max(self.width, self.depth) / GRIDS
        low, high = np.array(free.bounds[:2]), np.array(free.bounds[2:])
        axes = [np.arange(a, b + step, step) for a, b in zip(low, high, strict=True)]
        points = np.stack(np.meshgrid(*axes), axis=-1).reshape(-1, 2)
        points = np.vstack([[free.centroid.x, free.centroid.y], points])
        return np.asarray(points[shapely.contains_xy(free, *points.T)])

    def stand(
        self, sort: int, places: Floats, apart: float, most: int, rng: np.random.Generator
    ) -> list[Floats]:
        """A large one in the middle, and rings round it as far apart; ``places`` (n, 2), mm."""
        if sort or not len(places) or not most:
            return []
        hull = shapely.MultiPoint(places).convex_hull
        rings: list[Floats] = []
        for k in range(math.ceil(max(self.width, self.depth) / apart)):
            inner = hull.buffer(-k * apart)
            if inner.is_empty or inner.geom_type != "Polygon":
                break
            line = inner.exterior
            count = int(line.length / apart)
            if count < 2:
                break
            at = line.length * (np.arange(count) + rng.random()) / count
            rings.append(shapely.get_coordinates(shapely.line_interpolate_point(line, at)))
        middle = np.array([[hull.centroid.x, hull.centroid.y]])
        return [*np.vstack([middle, *rings[::-1]])][:most]

    def under(self, spots: Sequence[tuple[float, float, int]]) -> Patch:
        """The same: its board is under all of it."""
        return self

    def to_edge(self, places: Floats) -> Floats:
        """Small ones stand wherever they are close; ``places`` (n, 2), mm."""
        return np.zeros(len(places))

    def tips(self) -> Tips:
        """All round the outline, and round it further in, for gaps between flowers."""
        apart = self.region.length * TIPS / 360.0
        points, out = [], []
        for share in INNER_TIPS:
            ring = self.region.buffer(-share * min(self.width, self.depth) / 2)
            line = shapely.LinearRing(ring.exterior if ring.exterior.is_ccw
                                      else ring.exterior.coords[::-1])  # fmt: skip
            count = max(1, round(line.length / apart))
            at, step = line.length * np.arange(count) / count, apart / 4
            spots, before, after = (
                shapely.get_coordinates(
                    shapely.line_interpolate_point(line, (at + by) % line.length)
                )
                for by in (0.0, -step, step)
            )
            along = after - before
            points.append(spots)
            out.append(np.degrees(np.arctan2(-along[:, 0], along[:, 1])))
        return np.vstack(points), np.concatenate(out)

    def holds(self, blades: Floats, feet: Floats) -> NDArray[np.bool_]:
        """Which leaves, (n, 2) each, lie inside the outline, with their feet on the board."""
        region, board = self.region.buffer(EVEN), self.base.buffer(-ON_BASE)
        inside = shapely.covers(region, shapely.polygons(blades))
        return np.asarray(inside & shapely.covers(board, shapely.polygons(feet)))

    def outward(self, x: float, y: float) -> float:
        """From the middle."""
        return math.degrees(math.atan2(y, x))


def _within(points: Floats, low: float, high: float) -> NDArray[np.bool_]:
    """Which outlines, (n, m, 2), lie between two radii; mm."""
    centre = Point(0.0, 0.0)
    near = shapely.distance(shapely.polygons(points), centre)
    far = np.hypot(points[:, :, 0], points[:, :, 1]).max(axis=1)
    return np.asarray((near >= low - EVEN) & (far <= high + EVEN))
