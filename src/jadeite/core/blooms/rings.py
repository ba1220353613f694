"""Rings of petals cut in one piece: a middle, from whose edges petals rise.

The middle is a polygon with a root edge for each petal and an edge between each
two.  A petal's facets lie between its rulings, in the flat piece as they are cut.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from jadeite.core.blooms.outlines import Petal, edge_of
from jadeite.core.blooms.petal_veins import petal_veins
from jadeite.core.blooms.profile import (
    CURL_FACETS,
    RELAX,
    ROOT_FACETS,
    Profile,
    profile_of,
)
from jadeite.core.nets.model import Floats, Vein
from jadeite.core.solving import scaled_to

__all__ = ["LEAST_ROOT", "Ring", "RingSize", "sinks", "sized"]

LEAST_ROOT = 4.0  # mm; from memory, a petal on a narrower root tears off
ALIKE = (
    8  # petals; from memory, with so many middles are nearly round: alike ones lie on one another
)
APART = 0.8  # mm; from memory, between two petals of a ring, so that a blade passes twice
HUB_SHARE = 0.16  # of a ring's size, the middle from side to side over two; from memory
ROOT_OF_SIDE = 0.9  # of its side of the middle is the most that a root takes; from memory
ROOT_SHARE = 0.4  # of a petal's length, its root where there is room; from memory
INTO = 0.97  # a middle against that on which it is glued, so that all of it lands; from memory
ROOT_BEND = 8.0  # mm across; from memory, to which a ball presses up a petal
SHORTEST = 6.0  # mm; from memory, a shorter petal cannot be held
OF_ROOT = 2.5  # of its root's least is a narrow strand long at least; from memory
WIDENINGS = 12  # each a third of the one before it: within a thousandth of a millimetre
ALONG, ASIDE = 10, (-1.0, -0.5, 0.0, 0.5, 1.0)  # places on a petal that are compared; from memory


@dataclass(frozen=True)
class RingSize:
    """What is asked of a ring; angles in degrees, ``rod`` in mm, ``share`` of the largest ring.

    ``curl`` is that of the tip, outwards negative; ``thickness`` that of its board, ``least``
    the least of its middle from the centre to a root edge, where more than petals ask,
    ``least_root`` the least width of a root, ``apart`` what is cut away between two petals;
    mm. ``facets`` are those of both bends, ``lines`` what is drawn on its petals.
    """

    count: int
    petal: Petal
    share: float
    rise: float
    curl: float
    rod: float
    thickness: float
    least: float = 0.0
    least_root: float = LEAST_ROOT
    apart: float = APART
    facets: tuple[int, int] = (ROOT_FACETS, CURL_FACETS)
    lines: str = "none"

    @property
    def shortest(self) -> float:
        """Least length in mm of a petal, or of a strand, which is bent with its neighbours."""
        return min(SHORTEST, OF_ROOT * self.least_root)

    @property
    def least_hub(self) -> float:
        """Of the middle, from its centre to a root edge: the least at which petals hold; mm."""
        turn, half = math.pi / self.count, self.least_root / 2
        side = max(half / ROOT_OF_SIDE, half + self.apart / 2 / math.cos(turn))
        return max(self.least, side / math.tan(turn))


@dataclass(frozen=True, eq=False)
class Ring:
    """A ring as it is cut: ``hub`` from its centre to a root edge, ``root`` half a root; mm.

    ``size`` is from tip to tip through the centre, flat; mm.
    """

    asked: RingSize
    size: float
    hub: float

    @property
    def length(self) -> float:
        """Of a petal from its root, mm."""
        return self.size / 2 - self.hub

    @cached_property
    def root(self) -> float:
        """Half width of a petal's root, mm."""
        side = ROOT_OF_SIDE * self.hub * math.tan(math.pi / self.asked.count)
        return min(side, max(self.asked.least_root / 2, ROOT_SHARE / 2 * self.length))

    @property
    def hub_reach(self) -> float:
        """From the centre to the farthest corner of the middle, mm."""
        return math.hypot(self.hub, self.root)

    @property
    def hub_inner(self) -> float:
        """From the centre to the nearest edge of the middle, mm: a root, or one between two."""
        turn = math.pi / self.asked.count
        return min(self.hub, self.hub * math.cos(turn) + self.root * math.sin(turn))

    def _room(self, along: Floats) -> Floats:
        """The most half width in mm at a distance from the root: half way to the next petal."""
        turn = math.pi / self.asked.count
        if self.asked.count < 3:
            return np.full(len(along), np.inf)
        return np.asarray(
            (self.hub + along) * math.tan(turn) - self.asked.apart / 2 / math.cos(turn)
        )

    @cached_property
    def edge(self) -> Floats:
        """The upper edge of a flat petal, (n, 2) float, mm, x from its root."""
        return edge_of(self.asked.petal, self.length, self.root, self._room)

    @cached_property
    def veins(self) -> tuple[Vein, ...]:
        """Lines on a flat petal, x from its root, mm."""
        return petal_veins(self.asked.lines, self.edge)

    @cached_property
    def profile(self) -> Profile:
        """How its petals are bent."""
        asked = self.asked
        notch = asked.petal.notch / 100 * self.length
        last = self.length - 1.1 * notch if notch else self.length
        rod = RELAX * asked.rod
        return profile_of(self.length, asked.rise, asked.curl, rod, ROOT_BEND, last, asked.facets)

    @cached_property
    def facets(self) -> tuple[Floats, ...]:
        """Outlines of a petal's facets from its root to its tip, (n, 2) float each, mm, flat.

        Counter-clockwise, x from the root; the first two corners are those of the
        ruling on which it hangs.
        """
        breaks, edge = self.profile.breaks, self.edge
        x, y = edge[:, 0], edge[:, 1]
        top = int(np.argmax(x))
        half = np.interp(breaks[:-1], x[: top + 1], y[: top + 1])
        out = []
        for i, (low, width) in enumerate(zip(breaks[:-1].tolist(), half.tolist(), strict=True)):
            if i + 2 < len(breaks):
                high = breaks[i + 1]
                inner = (x[:top] > low + 1e-6) & (x[:top] < high - 1e-6)
                line = np.vstack([edge[:top][inner], [[high, half[i + 1]]]])
            else:
                line = edge[np.flatnonzero((x > low + 1e-6) | (np.arange(len(x)) >= top))]
            upper = line[::-1]  # from the tip back to the root
            lower = line * np.array([1.0, -1.0])
            if lower[-1, 1] == 0.0:
                lower = lower[:-1]
            out.append(np.vstack([[[low, width], [low, -width]], lower, upper]))
        return tuple(out)

    @cached_property
    def outline(self) -> Floats:
        """A whole flat petal, (n, 2) float, mm, x from its root."""
        upper = self.edge[::-1]
        return np.vstack([self.edge[:-1] * np.array([1.0, -1.0]), upper])

    @cached_property
    def seen(self) -> tuple[Floats, ...]:
        """Its petal's facets and a share of the middle from above, (n, 2) float, from the centre.

        The petal that looks along x, bent as it is when finished; mm.
        """
        breaks, ends, slopes = self.profile.breaks, self.profile.ends, self.profile.slopes
        out = []
        for i, facet in enumerate(self.facets):
            x = ends[i, 0] + (facet[:, 0] - breaks[i]) * math.cos(math.radians(slopes[i]))
            out.append(np.column_stack([self.hub + x, facet[:, 1]]))
        return tuple(out)

    @property
    def flat_reach(self) -> float:
        """From the centre to the farthest place of a flat petal, mm."""
        return float(np.hypot(self.hub + self.edge[:, 0], self.edge[:, 1]).max())

    @cached_property
    def reach(self) -> float:
        """From the axis to the farthest place of a finished petal, mm."""
        return max(float(np.hypot(f[:, 0], f[:, 1]).max()) for f in self.seen)

    @property
    def heights(self) -> tuple[float, float]:
        """Lowest and highest of its finished petals over the ring's middle surface, mm."""
        z = self.profile.ends[:, 1]
        return min(0.0, float(z.min())), max(0.0, float(z.max()))

    @cached_property
    def lap(self) -> float:
        """By how much in mm a finished petal reaches past half the way to its neighbour."""
        turn = math.pi / self.asked.count
        over = [np.abs(f[:, 1]) * math.cos(turn) - f[:, 0] * math.sin(turn) for f in self.seen]
        return max(0.0, max(float(o.max()) for o in over))

    def places(self, turn: float) -> Floats:
        """Places spread over all finished petals, (n, 3) float, mm; ``turn`` in degrees."""
        along = np.linspace(0.0, self.length, ALONG + 1)[1:]
        top = int(np.argmax(self.edge[:, 0]))
        half = np.interp(along, self.edge[: top + 1, 0], self.edge[: top + 1, 1])
        x, z = self.profile.at(along).T
        one = np.array(
            [[self.hub + u, h * w, v] for u, v, h in zip(x, z, half, strict=True) for w in ASIDE]
        )
        turns = 2 * math.pi * np.arange(self.asked.count) / self.asked.count + math.radians(turn)
        c, s = np.cos(turns)[:, None], np.sin(turns)[:, None]
        flat = np.stack([c * one[:, 0] - s * one[:, 1], s * one[:, 0] + c * one[:, 1]], axis=2)
        return np.column_stack([flat.reshape(-1, 2), np.tile(one[:, 2], self.asked.count)])

    @property
    def widest(self) -> float:
        """Of a petal from edge to edge, mm."""
        return 2 * float(self.edge[:, 1].max())

    @property
    def middle(self) -> Floats:
        """Corners of the middle, (2 n, 2) float, mm; petal i hangs between corners 2 i, 2 i + 1."""
        corners = np.array([[self.hub, -self.root], [self.hub, self.root]])
        turns = 2 * math.pi * np.arange(self.asked.count) / self.asked.count
        c, s = np.cos(turns)[:, None], np.sin(turns)[:, None]
        x, y = corners[:, 0], corners[:, 1]
        return np.stack([c * x - s * y, s * x + c * y], axis=2).reshape(-1, 2)


def _hubs(rings: Sequence[RingSize], size: float) -> list[float]:
    """Middles from the outermost to the innermost: each lands on the one below it; mm."""
    out: list[float] = []
    inner, above = 0.0, None
    for asked in reversed(rings):
        if asked == above and asked.count >= ALIKE:
            out.append(out[-1])
            continue
        above = asked
        own = max(HUB_SHARE * asked.share * size / 2, asked.least_hub, inner)
        ring = _least(asked, size, own)
        for _ in range(WIDENINGS):  # three narrow roots make a triangle of the middle
            if ring.hub_inner >= inner:
                break
            own += (inner - ring.hub_inner) / math.cos(math.pi / asked.count)
            ring = _least(asked, size, own)
        out.append(own)
        inner = ring.hub_reach / INTO
    return out[::-1]


def _least(asked: RingSize, size: float, hub: float) -> Ring:
    """A ring of so large a middle whose petals can be held; ``size`` of the largest ring, mm."""
    return Ring(asked, max(asked.share * size, 2 * (hub + asked.shortest)), hub)


def sized(rings: Sequence[RingSize], width: float) -> tuple[Ring, ...]:
    """The rings of a flower that is so wide when finished; mm.

    ``share`` of each is of the largest, which is found.  Where petals would be
    too short the ring's ``length`` says so.
    """

    def made(size: float) -> tuple[Ring, ...]:
        hubs = _hubs(rings, size)
        return tuple(
            Ring(r, max(r.share * size, 2 * hub + 1.0), hub)
            for r, hub in zip(rings, hubs, strict=True)
        )

    return made(scaled_to(lambda size: 2 * _reach(made(size)), width, width))


def _reach(rings: Sequence[Ring]) -> float:
    """From the axis to the farthest place of all finished petals, mm; flat they reach farther."""
    far = 0.0
    for ring in sorted(rings, key=lambda r: -r.flat_reach):
        if ring.flat_reach <= far:
            break
        far = max(far, ring.reach)
    return far


def sinks(lower: tuple[Ring, float, float], upper: tuple[Ring, float, float]) -> float:
    """How far petals of a ring reach through those of the ring beneath, or its middle, in mm.

    Each is a ring, its turn in degrees, and the height of its middle in mm.  Paper
    gives way by as much: the upper petal leans in, or the lower one out.
    """
    under, turn, level = lower
    points = upper[0].places(upper[1])
    points[:, 2] += upper[2] - level - under.asked.thickness / 2 - upper[0].asked.thickness / 2
    step = 2 * math.pi / under.asked.count
    angle = np.arctan2(points[:, 1], points[:, 0]) - math.radians(turn)
    aside = (angle + step / 2) % step - step / 2
    far = np.hypot(points[:, 0], points[:, 1])
    at = np.column_stack([far * np.cos(aside) - under.hub, points[:, 2]])
    ends, breaks = under.profile.ends, under.profile.breaks
    way = np.diff(ends, axis=0)
    length = np.diff(breaks)
    rel = at[:, None, :] - ends[:-1]
    along = (rel * way).sum(axis=2) / length  # from the beginning of each facet
    off = rel - way * (np.clip(along, 0.0, length) / length)[:, :, None]
    apart = np.hypot(off[:, :, 0], off[:, :, 1])
    near = np.argmin(apart, axis=1)
    rows = np.arange(len(at))
    beyond = (along[rows, near] <= 0) & (near == 0) | (along[rows, near] >= length[near]) & (
        near == len(length) - 1
    )
    side = way[near, 0] * off[rows, near, 1] - way[near, 1] * off[rows, near, 0]
    on = breaks[near] + np.clip(along[rows, near], 0.0, length[near])
    top = int(np.argmax(under.edge[:, 0]))
    wide = np.interp(on, under.edge[: top + 1, 0], under.edge[: top + 1, 1])
    through = ~beyond & (side < 0) & (np.abs(far * np.sin(aside)) <= wide)
    deep = float(apart[rows, near][through].max()) if through.any() else 0.0
    over = at[:, 0] < 0  # over its middle, which they may reach through as well
    return max(deep, float(-at[over, 1].min())) if over.any() else deep
