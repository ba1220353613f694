"""Where flowers and leaves sit round a wreath, as seen from above.

Large flowers stand in a ring, in and out by turns; smaller ones come into the gaps, each where
it is closest to what stands there; then leaves, each where most of it is seen.  What is drawn
at random comes from a seed, so that the same numbers give the same wreath.

Glossary
--------
band
    The ring that flowers and leaves fill, from the opening to the rim.
hub
    The middle of a flower, by which it is glued on the board under it.
seam
    Where two arcs of the board meet: a line outwards that no hub and no foot crosses.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import Point, Polygon

from jadeite.core.nets.model import Floats

__all__ = ["Band", "Head", "LeafSpot", "Spot", "flowers_round", "leaves_round"]

GRIDS = 220  # places across the rim that are looked at; from memory, 1.4 mm of 300
SPREAD = 1.25  # widths from one large flower to the next; from memory, with room for small ones
ON_BASE = 0.5  # mm; from memory, board round a hub or foot
OFF_SEAM = 0.4  # mm; from memory
NOISE = 0.04  # of a width, by which a seed moves what is compared; from memory
FAR = 1e4  # mm, farther than anything
TIPS = 4.0  # degrees from one place for a leaf's tip to the next; from memory
SKEWS = (22.0, 42.0)  # degrees from straight out; from memory, straight ones look stiff
FOOT_CLEAR = 2.5  # mm; from memory, from a foot to a hub: petals rise from it
BLADE_CLEAR = 0.6  # mm; from memory, from a blade to a hub
COVERS = 0.84  # of its disc a flower covers; from memory, petals leave gaps at the rim
SEEN = 0.3  # of a leaf at least is seen, or it is not worth its place; from memory
BLADES_LAP = 0.3  # of a leaf may lie over another; from memory
EVEN = 1e-6  # mm; rounding
GRID = 1e-4  # mm to which areas are taken; rounding

Shapes = NDArray[np.object_]  # of shapely


@dataclass(frozen=True)
class Head:
    """Flowers of one size: ``width`` finished, ``hub`` from the centre of its middle; mm."""

    width: float
    hub: float


@dataclass(frozen=True)
class Spot:
    """Where a flower sits: the number of its sort, and its centre, mm."""

    sort: int
    x: float
    y: float


@dataclass(frozen=True)
class LeafSpot:
    """Where a leaf leaves the board, mm, and where it points, degrees; or its mirror image."""

    x: float
    y: float
    turn: float
    mirrored: bool

    @property
    def place(self) -> Floats:
        """From the leaf's own plane, where it points along x, to the wreath's: (3, 3)."""
        c, s = math.cos(math.radians(self.turn)), math.sin(math.radians(self.turn))
        side = -1.0 if self.mirrored else 1.0
        return np.array([[c, -s * side, self.x], [s, c * side, self.y], [0.0, 0.0, 1.0]])


@dataclass(frozen=True)
class Band:
    """The radii that are filled, those of the board under it, and its seams; mm."""

    inner: float
    outer: float
    base: tuple[float, float]
    seams: int = 0

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


def flowers_round(
    band: Band, heads: Sequence[Head], most: Sequence[int], lap: float, seed: int
) -> tuple[Spot, ...]:
    """Spots of flowers of all sorts, the largest first; at most so many of each.

    ``lap`` is the share of their widths by which neighbours may lap over one another.
    """
    rng = np.random.default_rng(seed)
    spots: list[Spot] = []
    for number, head in enumerate(heads):
        places = band.places(head)
        room = np.full(len(places), FAR)  # to the nearest neighbour, beyond what is wanted
        second = np.full(len(places), FAR)
        for spot in spots:
            room, second = _closer(places, room, second, spot, heads, head, lap)
        spread = SPREAD if len(heads) > 1 else 1 - lap
        ring = [*_ring(places, spread * head.width, most[number], rng)] if number == 0 else []
        fills = number > 0 or len(heads) == 1
        while np.any(room >= 0) and sum(s.sort == number for s in spots) < most[number]:
            if ring:
                score = np.hypot(*(places - ring.pop(0)).T)
                if score[room >= 0].min() > head.width / 3:
                    continue
            elif not fills:
                break
            else:
                far = np.hypot(*places.T)
                edge = np.minimum(far - far.min(), far.max() - far)
                score = room + second + edge + NOISE * head.width * rng.random(len(places))
            best = int(np.argmin(np.where(room >= 0, score, np.inf)))
            spots.append(Spot(number, float(places[best, 0]), float(places[best, 1])))
            room, second = _closer(places, room, second, spots[-1], heads, head, lap)
    return tuple(spots)


def _closer(
    places: Floats,
    room: Floats,
    second: Floats,
    spot: Spot,
    heads: Sequence[Head],
    head: Head,
    lap: float,
) -> tuple[Floats, Floats]:
    """Room to the nearest and to the next neighbour, with one more; mm."""
    need = (1 - lap) * (heads[spot.sort].width + head.width) / 2
    own = np.hypot(*(places - (spot.x, spot.y)).T) - need
    return np.minimum(room, own), np.maximum(room, np.minimum(second, own))


def _ring(places: Floats, apart: float, most: int, rng: np.random.Generator) -> Floats:
    """Where the largest are to stand, evenly round, in and out by turns; (n, 2) mm.

    They are about ``apart`` mm from one another.
    """
    if not len(places) or not most:
        return np.zeros((0, 2))
    far = np.hypot(*places.T)
    low, high = float(far.min()), float(far.max())
    count = max(1, min(most, int(math.pi * (low + high) / apart)))
    turns = 2 * math.pi * (np.arange(count) + rng.random()) / count
    radius = np.where(np.arange(count) % 2 == 0, high, low)
    if count % 2 and count > 1:
        radius[-1] = (low + high) / 2  # between its neighbours, both of which stand out
    return np.asarray(radius[:, None] * np.column_stack([np.cos(turns), np.sin(turns)]))


# ------------------------------------------------------------------- leaves


def leaves_round(
    band: Band,
    heads: Sequence[Head],
    spots: Sequence[Spot],
    leaf: tuple[Floats, Floats],
    count: int,
) -> tuple[LeafSpot, ...]:
    """Spots of so many leaves at the most, half of them mirror images.

    ``leaf`` is its blade and its foot as seen from above, (n, 2) mm, where it points along x.
    """
    flowers = shapely.union_all(
        [Point(s.x, s.y).buffer(COVERS * heads[s.sort].width / 2) for s in spots]
    )
    hubs = shapely.union_all([Point(s.x, s.y).buffer(heads[s.sort].hub) for s in spots])
    found, blades, feet = _leaf_places(band, leaf)
    if not hubs.is_empty:
        clear = np.flatnonzero(~shapely.dwithin(feet, hubs, FOOT_CLEAR))
        clear = clear[~shapely.dwithin(blades[clear], hubs, BLADE_CLEAR)]
        found, blades, feet = [found[i] for i in clear], blades[clear], feet[clear]
    whole = Polygon(leaf[0]).area
    seen = shapely.area(shapely.difference(blades, flowers, grid_size=GRID))
    fits = seen >= SEEN * whole
    mirrored = np.array([spot.mirrored for spot in found], dtype=bool)
    roots, long = np.array([(spot.x, spot.y) for spot in found]), float(leaf[0][:, 0].max())
    out: list[LeafSpot] = []
    while len(out) < count and fits.any():
        wanted = fits & (mirrored == bool(len(out) % 2))
        if not wanted.any():
            break
        best = int(np.argmax(np.where(wanted, seen, -1.0)))
        out.append(found[best])
        fits[best] = False
        at = np.flatnonzero(fits & (np.hypot(*(roots - roots[best]).T) < 2.5 * long))
        laps = shapely.area(shapely.intersection(blades[at], blades[best], grid_size=GRID))
        seen[at] -= laps
        fits[at] &= (laps <= BLADES_LAP * whole) & (seen[at] >= SEEN * whole)
        fits[at] &= shapely.distance(feet[at], feet[best]) > ON_BASE
        fits[at] &= shapely.distance(feet[at], blades[best]) > ON_BASE
        fits[at] &= shapely.distance(blades[at], feet[best]) > ON_BASE
    return tuple(out[: len(out) // 2 * 2])


def _leaf_places(band: Band, leaf: tuple[Floats, Floats]) -> tuple[list[LeafSpot], Shapes, Shapes]:
    """Every place that is looked at, where it lies within the band: spots, blades and feet."""
    tip = leaf[0][int(np.argmax(leaf[0][:, 0]))]
    spots = []
    for at in np.arange(0.0, 360.0, TIPS).tolist():
        out = np.array([math.cos(math.radians(at)), math.sin(math.radians(at))])
        for rim, away in ((band.outer, 0.0), (band.inner, 180.0)):
            for skew in SKEWS:
                spots.append(_tip_at(rim * out, tip, at + away + skew, mirrored=False))
                spots.append(_tip_at(rim * out, tip, at + away - skew, mirrored=True))
    places = np.stack([spot.place for spot in spots])
    blades, feet = (
        part @ places[:, :2, :2].transpose(0, 2, 1) + places[:, None, :2, 2] for part in leaf
    )
    inside = _within(blades, band.inner, band.outer)
    inside &= _within(feet, band.base[0] + ON_BASE, band.base[1] - ON_BASE)
    if band.seams:
        step = 360.0 / band.seams
        turns = np.degrees(np.arctan2(feet[:, :, 1], feet[:, :, 0])) % step
        inside &= np.ptp(turns, axis=1) < step / 2  # both ends on one arc
        off = band.off_seam(feet.reshape(-1, 2)).reshape(len(feet), -1)
        inside &= off.min(axis=1) >= OFF_SEAM
    kept = np.flatnonzero(inside)
    return (
        [spots[i] for i in kept],
        shapely.polygons(blades[kept]),
        shapely.polygons(feet[kept]),
    )


def _within(points: Floats, low: float, high: float) -> NDArray[np.bool_]:
    """Which outlines, (n, m, 2), lie between two radii; mm."""
    centre = Point(0.0, 0.0)
    near = shapely.distance(shapely.polygons(points), centre)
    far = np.hypot(points[:, :, 0], points[:, :, 1]).max(axis=1)
    return np.asarray((near >= low - EVEN) & (far <= high + EVEN))


def _tip_at(at: Floats, tip: Floats, turn: float, *, mirrored: bool) -> LeafSpot:
    """The spot at which a leaf's tip lies at a point."""
    own = LeafSpot(0.0, 0.0, turn, mirrored).place[:2, :2] @ tip
    return LeafSpot(float(at[0] - own[0]), float(at[1] - own[1]), turn, mirrored)
