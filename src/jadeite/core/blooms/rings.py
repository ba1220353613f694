"""Rings of petals cut in one piece: a middle, from whose edges petals rise.

The middle is a polygon with a root edge for each petal and an edge between each
two.  A petal's facets lie between its rulings, in the flat piece as they are cut.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property, lru_cache

import numpy as np

from jadeite.core.blooms.aslant import aslant
from jadeite.core.blooms.creased import creased, rises_by
from jadeite.core.blooms.form import Form
from jadeite.core.blooms.lapped import Lap, lap_of, with_flap
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

__all__ = ["LEAST_ROOT", "Ring", "RingSize", "sized"]

LEAST_FOLD = 1.0  # degrees; from memory, less is no fold
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
CLEAR = 1e-6  # mm; rounding, beyond the shortest
WIDENINGS = 12  # each a third of the one before it: within a thousandth of a millimetre
ALONG, ASIDE = 10, (-1.0, -0.5, 0.0, 0.5, 1.0)  # places on a petal that are compared; from memory


@dataclass(frozen=True)
class RingSize:
    """What is asked of a ring; angles in degrees, ``rod`` in mm, ``share`` of the largest ring.

    ``curl`` is that of the tip, outwards negative; ``thickness`` that of its board, ``least``
    the least of its middle from the centre to a root edge, where more than petals ask,
    ``least_root`` the least width of a root, ``apart`` what is cut away between two petals;
    mm. ``facets`` are those of both bends, ``lines`` what is drawn on its petals; by ``fold``
    each is folded up along its middle, and not curled; by ``slant`` the rod lies off across
    them, its left end the farther out.  ``laps`` says that flaps hold them up, where these are
    wide enough to be glued; one that ``grows`` is as large as its petals need to be held.
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
    fold: float = 0.0
    slant: float = 0.0
    laps: bool = False
    grows: bool = False

    @property
    def folded(self) -> bool:
        """Whether its petals are folded along their middles."""
        return self.fold >= LEAST_FOLD

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
    def cup(self) -> Lap | None:
        """How its petals' feet are lapped, if they are."""
        asked = self.asked
        if not asked.laps or asked.folded:
            return None
        return lap_of(self.hub, asked.count, asked.rise, self.length, asked.thickness)

    @cached_property
    def root(self) -> float:
        """Half width of a petal's root, mm."""
        if self.cup is not None:
            return self.cup.root
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

    @cached_property
    def edge(self) -> Floats:
        """The upper edge of a flat petal, (n, 2) float, mm, x from its root."""
        asked, hub = self.asked, self.hub
        if (cup := self.cup) is not None:
            length = self.length - cup.foot
            rest = _edge(asked.petal, length, cup.wide, hub + cup.foot, asked.count, asked.apart)
            return np.vstack([[0.0, cup.root], rest + np.array([cup.foot, 0.0])])
        return _edge(asked.petal, self.length, self.root, hub, asked.count, asked.apart)

    @cached_property
    def veins(self) -> tuple[Vein, ...]:
        """Lines on a flat petal, x from its root, mm."""
        return petal_veins(self.asked.lines, self.edge, middle=not self.asked.folded)

    @cached_property
    def profile(self) -> Profile:
        """How its petals are bent, seen from the side."""
        asked = self.asked
        if asked.folded:
            rise = max(0.0, asked.rise - rises_by(asked.fold))
            return profile_of(self.length, rise, 0.0, 1.0, ROOT_BEND, self.length, asked.facets)
        notch = asked.petal.notch / 100 * self.length
        last = self.length - 1.1 * notch if notch else self.length
        rod = RELAX * asked.rod
        foot = 0.0 if self.cup is None else self.cup.foot
        return profile_of(
            self.length, asked.rise, asked.curl, rod, ROOT_BEND, last, asked.facets, foot
        )

    @cached_property
    def form(self) -> Form:
        """A petal's facets, and where they stand."""
        if self.asked.folded:
            return creased(self.edge, self.profile, self.asked.fold)
        slant = self.asked.slant if self.profile.curl else 0.0
        form = aslant(self.edge, self.profile, slant)
        return form if self.cup is None else with_flap(form, self.cup)

    def stand(self, points: Floats) -> Floats:
        """Where points of a flat petal, (n, 2), x from its root, stand from the axis; (n, 3)."""
        asked = self.asked
        if asked.folded or self.cup is not None or (asked.slant and self.profile.curl):
            return np.asarray(self.form.at(points) + np.array([self.hub, 0.0, 0.0]))
        x, z = self.profile.at(points[:, 0]).T  # which says all, without any facets
        return np.column_stack([x + self.hub, points[:, 1], z])

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
        from_axis = np.array([self.hub, 0.0])
        return tuple(solid[:, :2] + from_axis for solid in self.form.solids)

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
        return self.form.heights

    @cached_property
    def lap(self) -> float:
        """By how much in mm a finished petal reaches past half the way to its neighbour."""
        turn = math.pi / self.asked.count
        over = [np.abs(f[:, 1]) * math.cos(turn) - f[:, 0] * math.sin(turn) for f in self.seen]
        return max(0.0, max(float(o.max()) for o in over))

    def places(self, turn: float, petals: int = 0) -> Floats:
        """Places spread over finished petals, (n, 3) float, mm; ``turn`` in degrees.

        Over so many ``petals``, from the first, 0 for all.
        """
        along = np.linspace(0.0, self.length, ALONG + 1)[1:]
        top = int(np.argmax(self.edge[:, 0]))
        half = np.interp(along, self.edge[: top + 1, 0], self.edge[: top + 1, 1])
        aside = half[:, None] * np.array(ASIDE)
        flat = np.column_stack([np.repeat(along, len(ASIDE)), aside.ravel()])
        return self._round(self.stand(flat), turn, petals)

    def rim(self, turn: float, petals: int = 0) -> Floats:
        """Corners of the edges of finished petals, as of :meth:`places`."""
        return self._round(self.stand(self.outline), turn, petals)

    def _round(self, points: Floats, turn: float, petals: int) -> Floats:
        """What is on the petal along x, (n, 3), on petals of the ring."""
        petals = petals or self.asked.count
        turns = 2 * math.pi * np.arange(petals) / self.asked.count + math.radians(turn)
        c, s = np.cos(turns)[:, None], np.sin(turns)[:, None]
        x, y = points[:, 0], points[:, 1]
        plan = np.stack([c * x - s * y, s * x + c * y], axis=2)
        return np.column_stack([plan.reshape(-1, 2), np.tile(points[:, 2], petals)])

    @property
    def widest(self) -> float:
        """Of a petal from edge to edge, mm."""
        return 2 * float(self.edge[:, 1].max())

    @property
    def middle(self) -> Floats:
        """Corners of the middle, (2 n, 2) float, mm; petal i hangs between corners 2 i, 2 i + 1.

        Of a lapped ring the second is the next one's first.
        """
        corners = np.array([[self.hub, -self.root], [self.hub, self.root]])
        if self.cup is not None:
            corners = corners[:1]
        turns = 2 * math.pi * np.arange(self.asked.count) / self.asked.count
        c, s = np.cos(turns)[:, None], np.sin(turns)[:, None]
        x, y = corners[:, 0], corners[:, 1]
        return np.stack([c * x - s * y, s * x + c * y], axis=2).reshape(-1, 2)


@lru_cache(maxsize=256)
def _edge(petal: Petal, length: float, root: float, hub: float, count: int, apart: float) -> Floats:
    """The upper edge of a petal that leaves its neighbours room; kept while its rise is sought."""
    turn = math.pi / count

    def room(along: Floats) -> Floats:
        """Half way to the next petal, at distances from the root."""
        if count < 3:
            return np.full(len(along), np.inf)
        return np.asarray((hub + along) * math.tan(turn) - apart / 2 / math.cos(turn))

    out = edge_of(petal, length, root, room)
    out.flags.writeable = False  # it belongs to many rings
    return out


def _hubs(rings: Sequence[RingSize], size: float, inner: float) -> list[float]:
    """Middles from the outermost to the innermost: each lands on the one below it; mm.

    ``inner`` is the radius of what stands on the innermost.
    """
    out: list[float] = []
    above = None
    for asked in reversed(rings):
        if asked == above and asked.count >= ALIKE:
            out.append(out[-1])
            continue
        above = asked
        usual = 0.0 if asked.laps else HUB_SHARE * asked.share * size / 2  # cups stand in cups
        own = max(usual, asked.least_hub, inner)
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


def sized(rings: Sequence[RingSize], width: float, inner: float = 0.0) -> tuple[Ring, ...]:
    """The rings of a flower that is so wide when finished; mm.

    ``inner`` is the radius of what stands on the middle of the innermost.  ``share`` of each is
    of the largest, which is found.  Where petals would be
    too short the ring's ``length`` says so.
    """

    def made(size: float) -> tuple[Ring, ...]:
        hubs = _hubs(rings, size, inner)
        return tuple(
            Ring(r, max(r.share * size, 2 * (hub + (r.shortest + CLEAR if r.grows else 0.5))), hub)
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
