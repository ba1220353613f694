"""What an arrangement is made of for a width: flowers, where they sit, leaves, and what shows.

A wreath and a table piece differ by the ground on which flowers sit, and by what their sizes are
a share of; both say so in an :class:`Arranging`.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property, lru_cache

import numpy as np
import shapely
from shapely import affinity
from shapely.geometry import Point, Polygon
from shapely.geometry.base import BaseGeometry

from jadeite.core.blooms import (
    CreasedLeaf,
    Ground,
    Head,
    Layer,
    LeafSpot,
    Spot,
    Stack,
    flowers_round,
    leaves_round,
    moved_from_words,
    moved_spots,
    petal_from_words,
)
from jadeite.core.boards import Board
from jadeite.core.errors import FieldError, option_way
from jadeite.core.nets.model import Floats
from jadeite.core.shapes.arranged_flowers import (
    BUD,
    BUDS,
    GRID,
    LARGE,
    SMALL,
    bud_width,
    buds_in,
    flower_from_above,
    flower_of,
    sorts_in,
)
from jadeite.core.shapes.leaf_pieces import Place
from jadeite.core.shapes.registry import OptionValue
from jadeite.core.units import number_text, rounded_up

__all__ = [
    "FOOT_DEEP",
    "LEAF_CREASE",
    "LEAF_RISE",
    "Arranged",
    "Arranging",
    "leaf_marks",
]

ROOT, FOOT_DEEP = 6.0, 8.0  # mm of a leaf on its foot; from memory
LEAF_RISE, LEAF_CREASE = 9.0, 20.0  # degrees; from memory
MANY = 300  # flowers; more than any wreath holds
SHRINK, SHRINKS = 0.97, 44  # by which flowers are made smaller, and how often; from memory
ALIKE = 6  # decimals of a mm to which flowers are alike; rounding
KEPT = 64  # arrangements that are not sought again; from memory
WIDER = 1.2  # by which it is made wider until its petals can be held; from memory

Options = Mapping[str, OptionValue]
Boards = Mapping[str, Board]
Filled = tuple[Ground, tuple[Stack, ...], tuple[Spot, ...]]


@dataclass(frozen=True, eq=False)
class Arranged:
    """Flowers of each sort, where they sit and how they are turned, and the leaves."""

    ground: Ground
    sorts: tuple[str, ...]
    stacks: tuple[Stack, ...]
    spots: tuple[Spot, ...]
    leaf: CreasedLeaf
    leaves: tuple[LeafSpot, ...]
    width: float

    def of(self, sort: int) -> tuple[Spot, ...]:
        """Spots of the flowers of a sort."""
        return tuple(spot for spot in self.spots if spot.sort == sort)

    def turn(self, spot: Spot) -> float:
        """By how much a flower is turned, degrees: one petal points to the nearer edge."""
        return self.ground.outward(spot.x, spot.y)

    @cached_property
    def shown(self) -> tuple[BaseGeometry, ...]:
        """Each flower and then each leaf as seen from above, mm."""
        once = [flower_from_above(stack) for stack in self.stacks]
        flowers = [
            affinity.translate(
                affinity.rotate(once[spot.sort], self.turn(spot), origin=(0.0, 0.0)), spot.x, spot.y
            )
            for spot in self.spots
        ]
        leaf = shapely.union_all([Polygon(part) for part in leaf_from_above(self.leaf)])
        outline = shapely.get_coordinates(leaf)
        leaves = [
            Polygon(outline @ spot.place[:2, :2].T + spot.place[:2, 2]) for spot in self.leaves
        ]
        return (*flowers, *leaves)

    @cached_property
    def covered(self) -> float:
        """Share of the ground that flowers and leaves cover, seen from above."""
        region = self.ground.region
        seen = shapely.union_all(self.shown, grid_size=GRID)
        return float(shapely.intersection(seen, region, grid_size=GRID).area / region.area)

    @property
    def laps(self) -> tuple[float, tuple[int, int]]:
        """The most by which two flowers lap, of their mean width, and their numbers from 1."""
        worst, which = 0.0, (0, 0)
        for i, one in enumerate(self.spots):
            for j, other in enumerate(self.spots[:i]):
                mean = self.stacks[one.sort].reach + self.stacks[other.sort].reach
                lap = 1 - math.hypot(one.x - other.x, one.y - other.y) / mean
                if lap > worst:
                    worst, which = lap, (j + 1, i + 1)
        return worst, which

    @cached_property
    def reach(self) -> float:
        """From the axis to the farthest place of a flower or leaf, mm."""
        points = shapely.get_coordinates(self.shown)
        return float(np.hypot(*points.T).max())

    @cached_property
    def opening(self) -> float:
        """From the axis to the nearest flower or leaf, mm."""
        return float(shapely.distance(self.shown, Point(0.0, 0.0)).min())


@dataclass(frozen=True)
class Arranging:
    """How a family arranges flowers: on which ``ground``, for a width, heads and options.

    ``deep`` is the length in mm of which sizes of flowers and leaves are a share, ``largest``
    the widest that it can be, mm; ``roomy`` are options that are offered before a larger width,
    where petals are too short.
    """

    largest: float
    deep: Callable[[float, Options], float]
    ground: Callable[[float, tuple[Head, ...], Options], Ground]
    roomy: tuple[tuple[str, OptionValue], ...] = ()

    def of(self, width: float, boards: Boards, options: Options) -> Arranged:
        """The arrangement of a finished width in mm.

        Raises
        ------
        FieldError
            Its flowers would be too small, or so many do not fit; the text names what works.
        """
        buds, flowers = buds_in(options), int(float(options["flowers"]))
        wanted = flowers + buds if flowers else 0
        filled = self._filled(width, boards, options, wanted)
        short = None if filled is None else _short(filled[1])
        if filled is not None and short is None:
            return _leaved(*filled, width, self.deep(width, options), options)
        problem = f"{flowers} flowers do not fit"
        if short is not None:
            least = number_text(short.ring.asked.shortest)
            problem = f"petals of the {short.title} would be shorter than {least} mm"
        if most := self._most(width, boards, options, wanted):
            cure = f"Use {most - buds} flowers, or a larger width."
            way = option_way("flowers", float(most - buds))
            raise FieldError("flowers", problem, cure, (way,))
        larger = {**options, **dict(self.roomy)}
        again = self._filled(width, boards, larger, wanted) if self.roomy else None
        if again is not None and _short(again[1]) is None:
            cure = f"Use fewer and larger flowers: petals {dict(self.roomy)['petals']}."
            way = tuple(part for key, value in self.roomy for part in option_way(key, value))
            raise FieldError("petals", problem, cure, (way,))
        wide = width
        while wide < self.largest:
            wide = min(self.largest, rounded_up(WIDER * wide, 0))
            again = self._filled(wide, boards, options, wanted)
            if again is not None and _short(again[1]) is None:
                cure = f"Use {number_text(wide)} mm."
                raise FieldError("width", problem, cure, ((("brief.width", wide),),))
        changes: dict[str, float | str] = {
            "large": 85.0,
            "small": 80.0,
            "petals": "5 4",
            "flowers": 0.0,
        }
        if buds:
            changes[BUDS] = 0.0
        way = tuple(part for key, value in changes.items() for part in option_way(key, value))
        raise FieldError("petals", problem, "Use fewer and larger flowers: petals 5 4.", (way,))

    def _most(self, width: float, boards: Boards, options: Options, wanted: int) -> int:
        """How many flowers fit at the most, fewer than wanted, whose petals can be held; or 0."""
        low, high = 0, SHRINKS
        if not wanted or _short(self._sorts(width, boards, options, 1.0)) is not None:
            return 0
        while high - low > 1:
            middle = (low + high) // 2
            held = _short(self._sorts(width, boards, options, SHRINK**middle)) is None
            low, high = (middle, high) if held else (low, middle)
        most = len(
            self._placed(self._sorts(width, boards, options, SHRINK**low), width, options, MANY)[1]
        )
        for number in range(min(most, wanted - 1), buds_in(options), -1):
            filled = self._filled(width, boards, options, number)
            if filled is not None and _short(filled[1]) is None:
                return number
        return 0

    def _filled(self, width: float, boards: Boards, options: Options, wanted: int) -> Filled | None:
        """As many flowers as fit, or so many that are just so small; or None."""

        def at(steps: int) -> Filled:
            stacks = self._sorts(width, boards, options, SHRINK**steps)
            ground, spots = self._placed(stacks, width, options, wanted or MANY)
            return ground, stacks, spots

        found = at(0)
        if not wanted or len(found[2]) == wanted:
            return found
        low, high, found = 0, SHRINKS, at(SHRINKS)
        if len(found[2]) < wanted:
            return None
        while high - low > 1:  # the smaller the more, but for a few; the last that was found counts
            middle = (low + high) // 2
            tried = at(middle)
            if len(tried[2]) == wanted:
                high, found = middle, tried
            else:
                low = middle
        return found

    def _sorts(
        self, width: float, boards: Boards, options: Options, scale: float
    ) -> tuple[Stack, ...]:
        """Flowers of each size, the largest first."""
        large = scale * float(options["large"]) / 100 * self.deep(width, options)
        least = float(options["small"]) / 100 * large if options["sizes"] == "two" else large
        wide = {LARGE: large, SMALL: least, BUD: bud_width(least)}
        return tuple(flower_of(sort, wide[sort], boards, options) for sort in sorts_in(options))

    def _placed(
        self, stacks: Sequence[Stack], width: float, options: Options, wanted: int
    ) -> tuple[Ground, tuple[Spot, ...]]:
        """The ground, and at most so many flowers on it."""
        heads = _heads(stacks)
        ground = self.ground(width, heads, options)
        lap, seed = float(options["lap"]) / 100, int(float(options["seed"]))
        spots = _spots(ground, heads, wanted, lap, seed)
        if moved := moved_from_words(str(options["moved"])):
            spots = moved_spots(ground, heads, spots, moved, width)
            ground = ground.under([(spot.x, spot.y, spot.sort) for spot in spots])
        return ground, spots


def _short(stacks: Sequence[Stack]) -> Layer | None:
    """The first ring whose petals are too short to be held."""
    layers = [layer for stack in stacks for layer in stack.layers]
    return next((la for la in layers if la.ring.length < la.ring.asked.shortest), None)


def _heads(stacks: Sequence[Stack]) -> tuple[Head, ...]:
    """Sizes of the flowers; those of another board are the same, but for rounding."""
    return tuple(
        Head(round(2 * stack.reach, ALIKE), round(stack.rings[0].hub_reach, ALIKE))
        for stack in stacks
    )


@lru_cache(maxsize=KEPT)
def _spots(
    ground: Ground, heads: tuple[Head, ...], wanted: int, lap: float, seed: int
) -> tuple[Spot, ...]:
    """At most so many flowers; another board changes nothing of where they sit."""
    return flowers_round(ground, heads, [wanted] * len(heads), lap, seed)[:wanted]


@lru_cache(maxsize=KEPT)
def _leaf_spots(
    ground: Ground, heads: tuple[Head, ...], spots: tuple[Spot, ...], leaf: CreasedLeaf, count: int
) -> tuple[LeafSpot, ...]:
    """At most so many leaves."""
    return leaves_round(ground, heads, spots, leaf_from_above(leaf), count) if count else ()


def _leaved(
    ground: Ground,
    stacks: tuple[Stack, ...],
    spots: tuple[Spot, ...],
    width: float,
    deep: float,
    options: Options,
) -> Arranged:
    """The arrangement with as many leaves as are wanted and find a place; mm."""
    leaf = _leaf(deep, options)
    count = int(float(options["leaves"]))
    leaves = _leaf_spots(ground, _heads(stacks), spots, leaf, count)
    return Arranged(ground, sorts_in(options), stacks, spots, leaf, leaves, width)


def _leaf(deep: float, options: Options) -> CreasedLeaf:
    """The leaf of an arrangement whose sizes are shares of ``deep``, mm."""
    length = float(options["leaf"]) / 100 * deep
    petal = petal_from_words(str(options["leaf-outline"]))
    lines = str(options["leaf-lines"])
    return CreasedLeaf(petal, length, ROOT, 0.0, LEAF_RISE, LEAF_CREASE, lines)


def leaf_marks(deep: float, options: Options) -> tuple[tuple[float, float], tuple[float, float]]:
    """Where a leaf's tip and the middle of its foot are, as it points along x; all mm."""
    blade, foot = leaf_from_above(_leaf(deep, options))
    tip, middle = blade[int(np.argmax(blade[:, 0]))], foot.mean(axis=0)
    return (float(tip[0]), float(tip[1])), (float(middle[0]), float(middle[1]))


def leaf_from_above(leaf: CreasedLeaf) -> tuple[Floats, Floats]:
    """A leaf's blade as it stands, and its foot, (n, 2) float each, mm; it points along x."""
    halves = [half[:, :2] for half in Place(leaf, np.eye(3)).solid]
    blade = shapely.union_all([Polygon(half).buffer(0) for half in halves], grid_size=GRID)
    whole = blade if isinstance(blade, Polygon) else blade.convex_hull
    foot = np.array([[-FOOT_DEEP, -ROOT], [0.0, -ROOT], [0.0, 0.0], [-FOOT_DEEP, 0.0]])
    return np.asarray(whole.exterior.coords), foot
