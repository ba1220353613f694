"""Where flowers and leaves sit in an arrangement, as seen from above.

Large flowers stand where their ground wants them; smaller ones come into the gaps, each where
it is closest to what stands there; then leaves, each where most of it is seen.  What is drawn
at random comes from a seed, so that the same numbers give the same arrangement.

Glossary
--------
ground
    What flowers and leaves are set on (:mod:`~jadeite.core.blooms.ground`).
hub
    The middle of a flower, by which it is glued on the board under it.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import Point, Polygon

from jadeite.core.blooms.ground import ON_BASE, SKEWS, Ground, Head
from jadeite.core.nets.model import Floats

__all__ = ["LeafSpot", "Spot", "flowers_round", "leaves_round"]

NOISE = 0.04  # of a width, by which a seed moves what is compared; from memory
FAR = 1e4  # mm, farther than anything
FOOT_CLEAR = 2.5  # mm; from memory, from a foot to a hub: petals rise from it
BLADE_CLEAR = 0.6  # mm; from memory, from a blade to a hub
COVERS = 0.84  # of its disc a flower covers; from memory, petals leave gaps at the rim
SEEN = 0.3  # of a leaf at least is seen, or it is not worth its place; from memory
APART = 0.6  # of a leaf's area is as good as one that stands its length apart; from memory
BLADES_LAP = 0.3  # of a leaf may lie over another; from memory
GRID = 1e-4  # mm to which areas are taken; rounding

Shapes = NDArray[np.object_]  # of shapely


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


def flowers_round(
    ground: Ground, heads: Sequence[Head], most: Sequence[int], lap: float, seed: int
) -> tuple[Spot, ...]:
    """Spots of flowers of all sorts, the largest first; at most so many of each.

    ``lap`` is the share of their widths by which neighbours may lap over one another.
    """
    rng = np.random.default_rng(seed)
    spots: list[Spot] = []
    for number, head in enumerate(heads):
        places = ground.places(head)
        room = np.full(len(places), FAR)  # to the nearest neighbour, beyond what is wanted
        second = np.full(len(places), FAR)
        for spot in spots:
            room, second = _closer(places, room, second, spot, heads, head, lap)
        spread = ground.spread if len(heads) > 1 else 1 - lap
        ring = ground.stand(number, places, spread * head.width, most[number], rng)
        fills = ground.fills and (number > 0 or len(heads) == 1)
        while np.any(room >= 0) and sum(s.sort == number for s in spots) < most[number]:
            if ring:
                score = np.hypot(*(places - ring.pop(0)).T)
                if score[room >= 0].min() > head.width / 3:
                    continue
            elif not fills:
                break
            else:
                score = room + second + ground.to_edge(places)
                score += NOISE * head.width * rng.random(len(places))
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


# ------------------------------------------------------------------- leaves


def leaves_round(
    ground: Ground,
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
    found, blades, feet = _leaf_places(ground, leaf)
    shapely.prepare(hubs)
    if not hubs.is_empty:
        clear = np.flatnonzero(~shapely.dwithin(feet, hubs, FOOT_CLEAR))
        clear = clear[~shapely.dwithin(blades[clear], hubs, BLADE_CLEAR)]
        found, blades, feet = [found[i] for i in clear], blades[clear], feet[clear]
    whole = Polygon(leaf[0]).area
    seen = shapely.area(shapely.difference(blades, flowers, grid_size=GRID))
    fits = seen >= SEEN * whole
    mirrored = np.array([spot.mirrored for spot in found], dtype=bool)
    roots = np.array([(spot.x, spot.y) for spot in found]).reshape(-1, 2)
    long = float(leaf[0][:, 0].max())
    tips = np.array([spot.place[:2, :2] @ (long, 0.0) for spot in found]).reshape(-1, 2) + roots
    apart = np.zeros(len(found))
    if ground.evenly:
        apart += APART * whole
    out: list[LeafSpot] = []
    while len(out) < count and fits.any():
        wanted = fits & (mirrored == bool(len(out) % 2))
        if not wanted.any():
            break
        best = int(np.argmax(np.where(wanted, seen + apart, -1.0)))
        out.append(found[best])
        if ground.evenly:
            away = np.hypot(*(tips - tips[best]).T) / long
            apart = np.minimum(apart, APART * whole * np.minimum(away, 1.0))
        fits[best] = False
        at = np.flatnonzero(fits & (np.hypot(*(roots - roots[best]).T) < 2.5 * long))
        laps = shapely.area(shapely.intersection(blades[at], blades[best], grid_size=GRID))
        seen[at] -= laps
        fits[at] &= (laps <= BLADES_LAP * whole) & (seen[at] >= SEEN * whole)
        fits[at] &= shapely.distance(feet[at], feet[best]) > ON_BASE
        fits[at] &= shapely.distance(feet[at], blades[best]) > ON_BASE
        fits[at] &= shapely.distance(blades[at], feet[best]) > ON_BASE
    return tuple(out[: len(out) // 2 * 2])


def _leaf_places(
    ground: Ground, leaf: tuple[Floats, Floats]
) -> tuple[list[LeafSpot], Shapes, Shapes]:
    """Every place that is looked at, where it lies on the ground: spots, blades and feet."""
    tip = leaf[0][int(np.argmax(leaf[0][:, 0]))]
    spots = []
    for at, out in zip(*ground.tips(), strict=True):
        for skew in SKEWS:
            spots.append(_tip_at(at, tip, float(out) + skew, mirrored=False))
            spots.append(_tip_at(at, tip, float(out) - skew, mirrored=True))
    places = np.stack([spot.place for spot in spots])
    blades, feet = (
        part @ places[:, :2, :2].transpose(0, 2, 1) + places[:, None, :2, 2] for part in leaf
    )
    inside = ground.holds(blades, feet)
    kept = np.flatnonzero(inside)
    return (
        [spots[i] for i in kept],
        shapely.polygons(blades[kept]),
        shapely.polygons(feet[kept]),
    )


def _tip_at(at: Floats, tip: Floats, turn: float, *, mirrored: bool) -> LeafSpot:
    """The spot at which a leaf's tip lies at a point."""
    own = LeafSpot(0.0, 0.0, turn, mirrored).place[:2, :2] @ tip
    return LeafSpot(float(at[0] - own[0]), float(at[1] - own[1]), turn, mirrored)
