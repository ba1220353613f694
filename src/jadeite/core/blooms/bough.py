"""A branch as the ground of flowers: a stem that bends, a twig to each flower, a pad under it.

Flowers stand on either side of the stem by turns, the large ones near its foot, the last
one at its tip.  One that is moved takes its twig along.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import LineString, Point, Polygon
from shapely.ops import substring

from jadeite.core.blooms.ground import ON_BASE, SKEWS, Head, Tips
from jadeite.core.nets.model import Floats

__all__ = ["Bough", "Pad", "bough"]

BESIDE = 0.78  # of half a flower's width it stands off the stem; from memory, the stem is seen
SWAY = 0.16  # of that, by which a seed moves it farther off; from memory
PAD = 1.0  # mm; from memory, board round a hub beyond what is least
TWIG = 0.55  # of the stem a twig is wide; from memory
LEANS = 0.9  # of its distance from the stem a twig begins nearer the foot; from memory
FILLET = 3.0  # mm, corners between stem and twigs; from memory, sharp ones tear
FINE = 0.01  # mm to which the outline is kept; rounding
CHORDS = 64  # of the stem's line; from memory, within 0.02 mm of 400
ROOTS = 4.0  # mm from one place for a leaf's foot to the next; from memory
GRIDS = 120  # places along it to which a flower may be moved; from memory
MOST = 40  # flowers; more than any branch holds
LEAST_BEND = 0.001  # degrees; rounding, a straight stem is an arc as well
EVEN = 1e-6  # mm; rounding

Pad = tuple[float, float, int]  # where a flower sits, mm, and the number of its sort


@dataclass(frozen=True)
class Bough:
    """A stem ``long`` from end to end and ``wide``, which turns by ``bend`` degrees; mm.

    It is bare for a share ``bare`` from its foot; flowers and leaves stay within ``depth``.
    The last of its ``heads`` is that of ``buds``, where it has any.
    ``leaf`` is where a leaf's tip and the middle of its foot are, as it points along x, mm.
    """

    long: float
    wide: float
    bend: float
    bare: float
    depth: float
    heads: tuple[Head, ...]
    leaf: tuple[tuple[float, float], tuple[float, float]]
    pads: tuple[Pad, ...] = ()
    buds: int = 0
    spread = 1.0  # each flower has its own place
    evenly = True
    fills = False  # no flower stands without a twig

    @cached_property
    def line(self) -> LineString:
        """The middle of the stem, from its foot to its tip; mm."""
        return LineString(self.beside(np.linspace(0.0, self.length, CHORDS + 1), np.zeros(1)))

    @property
    def _turn(self) -> float:
        """By which it bends, radians; a straight one hardly does."""
        return math.radians(max(self.bend, LEAST_BEND))

    @property
    def length(self) -> float:
        """Of the stem along its middle, an arc; mm."""
        return self._turn * self.long / 2 / math.sin(self._turn / 2)

    def way(self, along: float) -> float:
        """Which way the stem leads so many mm from its foot, degrees."""
        share = min(1.0, max(0.0, along / self.length))
        return math.degrees(self._turn) * (0.5 - share)

    def beside(self, along: Floats, off: Floats) -> Floats:
        """Places so many mm from the foot, (n,), and to the left of the stem, (n,); (n, 2)."""
        radius = self.length / self._turn
        turns = self._turn * (0.5 - np.clip(along / self.length, 0.0, 1.0))
        rise = radius * (1 + math.cos(self._turn / 2)) / 2  # so that it lies about the middle
        far = (radius + off)[:, None]
        return np.asarray(far * np.column_stack([-np.sin(turns), np.cos(turns)]) - (0.0, rise))

    def at(self, along: float) -> Floats:
        """The place so many mm from the foot, (2,)."""
        return np.asarray(self.beside(np.array([along]), np.zeros(1))[0])

    @cached_property
    def region(self) -> Polygon:
        """The band along the stem, from where it is no longer bare, and the flower at its tip."""
        leafy = substring(self.line, self.bare, 1.0, normalized=True)
        tip = Point(self.at(self.length)).buffer(self.heads[-1].width / 2)
        return leafy.buffer(self.depth / 2, cap_style="flat").union(tip)

    @cached_property
    def base(self) -> Polygon:
        """The board: stem, twigs, and a pad under each flower."""
        stem = self.line.buffer(self.wide / 2, cap_style="flat")
        end = self.at(self.length)
        parts = [stem, Point(end).buffer(self.wide / 2)]
        for x, y, sort in self.pads:
            pad = Point(x, y)
            parts.append(pad.buffer(self.heads[sort].hub + ON_BASE + PAD))
            along = self.line.project(pad)
            begin = self.at(along - LEANS * self.line.distance(pad))
            parts.append(LineString([begin, (x, y)]).buffer(TWIG * self.wide / 2))
        whole = shapely.union_all(parts).buffer(FILLET).buffer(-FILLET)
        return Polygon(whole.exterior).simplify(FINE)

    def places(self, head: Head) -> Floats:
        """Where a flower of this size may sit, (n, 2) float, mm: its pads, and all of the band."""
        own = [(x, y) for x, y, sort in self.pads if self.heads[sort] == head]
        room = max(0.0, self.depth / 2 - head.width / 2)
        alongs = np.linspace(self.bare, 1.0, GRIDS) * self.length
        offs = np.linspace(-room, room, 2 * math.ceil(room / self.long * GRIDS) + 1)
        grid = self.beside(np.repeat(alongs, len(offs)), np.tile(offs, len(alongs)))
        return np.vstack([np.array(own).reshape(-1, 2), grid])

    def stand(
        self, sort: int, places: Floats, apart: float, most: int, rng: np.random.Generator
    ) -> list[Floats]:
        """The pads of a sort, from the foot; ``places`` (n, 2), ``apart`` in mm."""
        return [np.array([x, y]) for x, y, own in self.pads if own == sort][:most]

    def to_edge(self, places: Floats) -> Floats:
        """Small ones have their pads as well; ``places`` (n, 2), mm."""
        return np.zeros(len(places))

    def under(self, spots: Sequence[Pad]) -> Bough:
        """The same with its twigs where flowers sit now, (x, y) in mm and the sort of each."""
        return replace(self, pads=tuple(spots))

    def tips(self) -> Tips:
        """Those of leaves whose feet lie in the middle of the stem, to the left and right."""
        points, out = [], []
        tip, foot = (np.array(own) for own in self.leaf)
        for along in np.arange(self.bare * self.length, self.length, ROOTS).tolist():
            middle, way = self.at(along), self.way(along)
            for skew in SKEWS:
                for side in (1.0, -1.0):
                    turn = math.radians(way + side * skew)
                    c, s = math.cos(turn), math.sin(turn)
                    own = np.array([[c, -s * side], [s, c * side]])
                    points.append(middle + own @ (tip - foot))
                    out.append(way)
        return np.array(points), np.array(out)

    def holds(self, blades: Floats, feet: Floats) -> NDArray[np.bool_]:
        """Which leaves, (n, 2) corners each, stay in the band, with their feet on the stem."""
        stem = self.line.buffer(self.wide / 2 - ON_BASE, cap_style="flat")
        inside = shapely.covers(self.region.buffer(EVEN), shapely.polygons(blades))
        return np.asarray(inside & shapely.covers(stem, shapely.polygons(feet)))

    def outward(self, x: float, y: float) -> float:
        """Away from the stem, or at its tip on along it; degrees."""
        place = Point(x, y)
        along = self.line.project(place)
        near = self.at(along)
        if self.line.distance(place) < self.wide / 2:
            return self.way(along)
        return math.degrees(math.atan2(y - near[1], x - near[0]))


def bough(bare: Bough, lap: float, count: int, seed: int) -> Bough:
    """A branch with a twig for each of ``count`` flowers, or of as many as fit where it is 0.

    Half of those that are no buds are of the second size, where there are two; neighbours lap by
    the share ``lap``.
    Where so many do not fit, there are fewer.  ``seed`` says on which side the first stands, and
    how far off the others.
    """
    for number in range(count or MOST, bare.buds, -1):
        for sway in (SWAY, 0.0):
            found = _padded(bare, lap, number, np.random.default_rng(seed), sway)
            if found is not None:
                return found
    return bare


def _padded(
    bare: Bough, lap: float, count: int, rng: np.random.Generator, sway: float
) -> Bough | None:
    """A branch with so many flowers, spread evenly over what is not bare; or None.

    They stand farther off by up to the share ``sway``.
    """
    last = len(bare.heads) - 1
    flowers = count - bare.buds
    small = flowers // 2 if last - (bare.buds > 0) > 0 else 0
    sorts = [last] * bare.buds + [1] * small + [0] * (flowers - small)  # from the tip
    halves = [bare.heads[sort].width / 2 for sort in sorts]
    first = rng.choice([-1.0, 1.0])
    offs = [0.0] + [first * (-1.0) ** n * max(BESIDE * half, bare.wide / 2) * (1 + sway * extra)
                    for n, (half, extra) in enumerate(zip(halves[1:], rng.random(count - 1),
                                                          strict=True))]  # fmt: skip
    backs = _backs(halves, offs, lap)
    room = (1 - bare.bare) * bare.length - halves[-1]
    if backs[-1] > room:
        return None
    wider = room / backs[-1] if count > 1 else 1.0
    at = bare.beside(bare.length - wider * np.array(backs), np.array(offs)).tolist()
    pads = [(x, y, sort) for (x, y), sort in zip(at, sorts, strict=True)]
    if not _apart(pads, bare.heads, lap):
        return None
    return bare.under(sorted(pads, key=lambda pad: (pad[2], pad[0])))


def _backs(halves: Sequence[float], offs: Sequence[float], lap: float) -> list[float]:
    """How far from the tip each flower stands at the least, along a straight stem; mm.

    ``halves`` are half their widths from the tip, ``offs`` how far to its left they stand.
    """
    backs = [0.0]
    for n in range(1, len(halves)):
        least = backs[-1]
        for half, off, before in zip(halves[:n], offs[:n], backs, strict=True):
            apart = (1 - lap) * (half + halves[n])
            least = max(least, before + math.sqrt(max(0.0, apart**2 - (off - offs[n]) ** 2)))
        backs.append(least)
    return backs


def _apart(pads: Sequence[Pad], heads: Sequence[Head], lap: float) -> bool:
    """Whether no two flowers lap by more than a share; a bent stem brings them closer."""
    at = np.array([pad[:2] for pad in pads])
    wide = np.array([heads[pad[2]].width for pad in pads])
    far = np.hypot(*(at[:, None] - at[None]).transpose(2, 0, 1))
    need = (1 - lap) * (wide[:, None] + wide[None]) / 2
    return bool((far + np.eye(len(pads)) * 1e9 >= need - EVEN).all())
