"""Rings on one another: raised until they pass, turned into gaps, and measured as they stand."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
import shapely
import shapely.affinity

from jadeite.core.blooms.above import Above, Turns, best_turns
from jadeite.core.blooms.rings import Ring
from jadeite.core.blooms.sinking import sinks
from jadeite.core.nets.model import Floats
from jadeite.core.solving import first_within

__all__ = ["LEAF", "PETAL", "STRAND", "Layer", "Stack", "stacked"]

PETAL, LEAF, STRAND = "petal", "leaf", "strand"  # what a ring is of

CLEARING, STEEPEST = 4.0, 86.0  # degrees by which a ring is raised, and to which; from memory
MOST_RAISED = 70.0  # degrees; from memory, where even the steepest does not pass
HALVINGS = 12  # of a step, so that a flower grows evenly; rounding
SPREAD = (math.sqrt(5) - 1) / 2  # of a strand from ply to ply: the golden ratio, never in line
SHARES = (0.0, 0.25, 0.5, 0.75)  # of the turn after which two rings look alike; from memory
LANDS = 0.96  # of a middle, at the least, a little more than the proof asks for
PASSES = 0.4  # mm; from memory, so little gives way by itself


@dataclass(frozen=True, eq=False)
class Layer:
    """One ring of a flower; ``part`` is what it is cut as, ``what`` its petals are called.

    A ``single`` one is cut petal by petal: their feet are glued under a disc.  ``ply`` counts
    those that are glued on one like them while all is flat, from 0 for the lowest.
    """

    part: str
    title: str
    what: str
    ring: Ring
    single: bool = False
    ply: int = 0

    @property
    def name(self) -> str:
        """Of its piece: alike ones are counted."""
        return f"{self.part}-{self.ply + 1}" if self.what == STRAND else self.part

    @property
    def leaf(self) -> bool:
        """Whether it is of leaves."""
        return self.what == LEAF

    @property
    def many(self) -> str:
        """What several of its petals are called."""
        return "leaves" if self.leaf else f"{self.what}s"

    @property
    def foot(self) -> float:
        """By how much its petals hang below its middle, mm."""
        return self.ring.asked.thickness if self.single else 0.0


@dataclass(frozen=True, eq=False)
class Stack:
    """Layers, lowest first, and how thick a disc lies between each two; mm, 0 for none."""

    layers: tuple[Layer, ...]
    spacer: float

    @property
    def rings(self) -> tuple[Ring, ...]:
        """The rings, lowest first."""
        return tuple(layer.ring for layer in self.layers)

    @cached_property
    def levels(self) -> tuple[float, ...]:
        """Heights of the rings' middle surfaces over the lowest, mm."""
        out = [0.0]
        for below, layer in itertools.pairwise(self.layers):
            out.append(out[-1] + _up(below.ring, layer.ring, self.under(layer) + layer.foot))
        return tuple(out)

    def under(self, layer: Layer) -> float:
        """Thickness of the disc under a layer, mm: feet of single petals lift it as well."""
        return 0.0 if layer.single or layer.ply else self.spacer

    @property
    def petal_levels(self) -> tuple[float, ...]:
        """Heights at which the petals hang, mm."""
        pairs = zip(self.levels, self.layers, strict=True)
        return tuple(level - layer.foot for level, layer in pairs)

    @cached_property
    def reach(self) -> float:
        """From the axis to the farthest place of a petal, mm."""
        return max(ring.reach for ring in self.rings)

    @cached_property
    def ends(self) -> tuple[float, float]:
        """Lowest and highest place over the lowest ring's middle surface, mm."""
        low, high = 0.0, 0.0
        for ring, level in zip(self.rings, self.petal_levels, strict=True):
            half = ring.asked.thickness / 2
            low = min(low, level + ring.heights[0] - half)
            high = max(high, level + ring.heights[1] + half)
        return low, high

    @property
    def height(self) -> float:
        """From the lowest to the highest place, mm."""
        return self.ends[1] - self.ends[0]

    @cached_property
    def above(self) -> Above:
        """What is seen from above."""
        return Above(self._from_above(self.rings), self.reach)

    def _from_above(self, rings: Sequence[Ring]) -> list[tuple[tuple[Floats, ...], int]]:
        """What each ring shows of one petal, and how many there are; of plies it is the same."""
        once: dict[int, tuple[Floats, ...]] = {}
        for ring in rings:
            if id(ring) not in once:
                once[id(ring)] = (*ring.seen, _share_of_middle(ring))
        return [(once[id(ring)], ring.asked.count) for ring in rings]

    @cached_property
    def turns(self) -> Turns:
        """How the rings are turned, and how much of each is seen.

        Those of petals are turned to where most of the lower ones is seen; strands are
        too narrow to hide much, and are spread evenly, ply by ply.
        """
        lower = [layer.ring for layer in self.layers if layer.what != STRAND]
        if len(lower) == len(self.layers):
            return best_turns(self.above)
        found = [*best_turns(Above(self._from_above(lower), self.reach)).turns]
        for number, layer in enumerate(self.layers[len(lower) :]):
            found.append(number * SPREAD * 360.0 / layer.ring.asked.count % 360.0)
        return Turns(tuple(found), tuple(self.above.seen(found).tolist()))

    @property
    def fullness(self) -> float:
        """Share of the disc of the finished width that paper covers, seen from above."""
        return self.above.covered(self.turns.turns, self.reach)

    @cached_property
    def leans(self) -> tuple[float, ...]:
        """How far petals of each ring would reach through the ring below, did they not lean; mm."""
        placed = list(zip(self.rings, self.turns.turns, self.petal_levels, strict=True))
        pairs = zip(itertools.pairwise(placed), self.layers, strict=False)
        return (0.0, *(sinks(below, ring, layer.foot) for (below, ring), layer in pairs))


def stacked(layers: Sequence[Layer], spacer: float) -> Stack:
    """Layers on one another, each raised until its petals pass those of the ring below.

    It is turned half a petal on the one below meanwhile.
    """
    out, turn, level = [layers[0]], 0.0, 0.0
    for before, layer in itertools.pairwise(layers):
        below, ring = out[-1].ring, layer.ring
        if layer.ply:  # glued on one like it, with which it is bent
            level += _up(before.ring, ring, 0.0)
            out.append(replace(layer, ring=below))
            continue
        level_ = level + _up(below, ring, 0.0 if layer.single else spacer) + out[-1].foot
        turn_ = turn + 180.0 / below.asked.count
        ring = _raised((below, turn, level), ring, turn_, level_, out[-1].foot)
        out.append(replace(layer, ring=ring))
        turn, level = turn_, level_
    return Stack(tuple(out), spacer)


def _raised(
    below: tuple[Ring, float, float], ring: Ring, turn: float, level: float, foot: float
) -> Ring:
    """A ring whose petals rise just so far that they pass those of the ring below, or further.

    Those of the ring below hang ``foot`` mm below its middle.
    """

    def at(rise: float) -> Ring:
        raised = replace(ring, asked=replace(ring.asked, rise=rise))
        if raised.cup is None or ring.cup is not None or _lands(below[0], raised):
            return raised
        # lapped only now, its middle would reach beyond that on which it is glued
        return replace(raised, asked=replace(raised.asked, laps=False))

    plies = (below[0].asked.thickness + ring.asked.thickness) / 2  # from surface to surface
    turns = _ways(below[0], ring, turn)

    def over(rise: float) -> float:
        """By how much it reaches through the one below beyond what gives way by itself, mm."""
        one = ring if rise == ring.asked.rise else at(rise)
        deep = max(sinks(below, (one, way, level), foot) for way in turns)
        return deep - min(PASSES, plies)

    low, high = ring.asked.rise, max(ring.asked.rise, STEEPEST)
    now = over(low)
    if now <= 0:
        return ring
    for rise in np.arange(low + CLEARING, high, CLEARING).tolist():
        then = over(rise)
        if then <= 0:
            break
        low, now = rise, then
    else:
        return at(min(low, max(ring.asked.rise, MOST_RAISED)))
    step = CLEARING / 2**HALVINGS
    return at(low + step * first_within(lambda n: over(low + step * n), 2**HALVINGS, (now, then)))


def _lands(below: Ring, ring: Ring) -> bool:
    """Whether the middle of a ring lies on that of the one below, however both are turned."""
    again = 360.0 / math.lcm(ring.asked.count, below.asked.count)
    mine, under = shapely.Polygon(ring.middle), shapely.Polygon(below.middle)
    turned = [shapely.affinity.rotate(mine, again * share, origin=(0, 0)) for share in SHARES]
    return all(one.intersection(under).area >= LANDS * mine.area for one in turned)


def _ways(below: Ring, ring: Ring, turn: float) -> list[float]:
    """The turns at which it has to pass: where raised edges meet petals depends on them.

    Alike counts stand in one another's gaps; of others the best turn is not known yet.
    """
    if below.form.plain or ring.asked.count == below.asked.count:
        return [turn]
    again = 360.0 / math.lcm(ring.asked.count, below.asked.count)
    return [turn + again * share for share in SHARES]


def _up(below: Ring, ring: Ring, spacer: float) -> float:
    """From one middle surface to the next, mm."""
    return (below.asked.thickness + ring.asked.thickness) / 2 + spacer


def _share_of_middle(ring: Ring) -> Floats:
    """The part of a ring's middle that belongs to one petal, from above; (5, 2) float, mm."""
    turn = math.pi / ring.asked.count
    far = ring.hub_reach * math.cos(turn - math.atan2(ring.root, ring.hub))
    side = np.array([math.cos(turn), math.sin(turn)]) * far
    hub, root = ring.hub, ring.root
    return np.array([[0.0, 0.0], side * [1, -1], [hub, -root], [hub, root], side])
