"""The flowers of an arrangement: their sorts, the rings of each, and what they cover from above."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

import shapely
from shapely import affinity
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from jadeite.core.blooms import PETAL, Layer, RingSize, Stack, petal_from_words, sized, stacked
from jadeite.core.boards import Board
from jadeite.core.shapes.registry import OptionValue

__all__ = [
    "BUD",
    "BUDS",
    "GRID",
    "INNER",
    "LARGE",
    "ROD",
    "SEPALS",
    "SMALL",
    "bud_width",
    "buds_in",
    "counts_of",
    "flower_from_above",
    "flower_of",
    "part_of",
    "sorts_in",
]

LARGE, SMALL, BUD = "large", "small", "bud"  # parts, and the sorts of flowers
BUDS, SEPALS = "buds", "sepal"  # the option that says how many; and petals of a bud's calyx
INNER = "-inner"  # of a part, the rings in the middle of its flowers
# of the outermost ring is the innermost; from memory
CENTRE = {LARGE: 0.48, SMALL: 0.75, BUD: 0.85}
BUD_SHARE, LEAST_BUD = 0.46, 19.0  # of the smallest flower, and mm, a bud is wide; from memory
BUD_RISES, BUD_CURL = (72.0, 84.0), 24.0  # degrees; from memory, its petals close over its middle
BUD_RINGS = (5, 4, 3)  # sepals, then petals; from memory, few, so that a small one can be made
CALYX_SHARE, CALYX_RISE = 0.9, 66.0  # of its petals, and degrees; from memory
CALYX_PETAL = "pointed width=62"  # from memory
CURL, ROD = -16.0, 6.0  # degrees and mm; from memory, tips that stay above the board
FACETS = (2, 2)  # of a petal's bends; from memory, so many flowers are drawn at once
GRID = 1e-4  # mm to which outlines are put together; rounding

Options = Mapping[str, OptionValue]
Boards = Mapping[str, Board]


def bud_width(least: float) -> float:
    """How wide a bud is, mm, beside flowers of which the smallest are so wide."""
    return max(LEAST_BUD, BUD_SHARE * least)


def flower_of(sort: str, width: float, boards: Boards, options: Options) -> Stack:
    """A flower of a finished width in mm; its rings are parts of their own until they are cut."""
    counts = counts_of(sort, options)
    petal = petal_from_words(str(options["outline"]))
    low, high = float(options["rise"]), float(options["inner-rise"])
    if sort == BUD:
        low, high = BUD_RISES
    last = max(1, len(counts) - 1)
    asked = [
        RingSize(
            count,
            petal,
            1 - (1 - CENTRE[sort]) * i / last,
            low + (max(low, high) - low) * i / last,
            BUD_CURL if sort == BUD else CURL,
            ROD,
            boards[part_of(sort, i, len(counts))].thickness,
            facets=FACETS,
            lines=str(options["petal-lines"]),
        )
        for i, count in enumerate(counts)
    ]
    if sort == BUD:
        asked[0] = replace(
            asked[0],
            petal=petal_from_words(CALYX_PETAL),
            share=CALYX_SHARE,
            rise=CALYX_RISE,
            lines="none",
        )
    layers = [
        Layer(f"{sort}-{i + 1}", f"{sort} {_title(i, len(counts), sort)}",
              SEPALS if sort == BUD and not i else PETAL, one)
        for i, one in enumerate(sized(asked, width))
    ]  # fmt: skip
    return stacked(layers, 0.0)


def buds_in(options: Options) -> int:
    """How many buds are wanted; not all arrangements have any."""
    return int(float(options.get(BUDS, 0.0)))


def sorts_in(options: Options) -> tuple[str, ...]:
    """The sorts of flowers, the largest first."""
    small = (SMALL,) if options["sizes"] == "two" else ()
    return (LARGE, *small, *((BUD,) if buds_in(options) else ()))


def counts_of(sort: str, options: Options) -> list[int]:
    """Petals of each ring of a flower; a small one is a large one without its outermost ring.

    A bud has two small ones in a calyx of sepals.
    """
    if sort == BUD:
        return [*BUD_RINGS]
    counts = [int(word) for word in str(options["petals"]).split()]
    return counts[1:] or counts if sort == SMALL else counts


def part_of(sort: str, number: int, count: int) -> str:
    """The part of a ring, the outermost 0: of large flowers the inner half has its own board.

    The calyx of a bud is cut with the leaves.
    """
    if sort == BUD and not number:
        return "leaf"
    return sort + INNER if sort == LARGE and number >= (count + 1) // 2 else sort


def _title(number: int, count: int, sort: str) -> str:
    """What a ring is called, the outermost 0."""
    if sort == BUD and number == 0:
        return "sepal ring"
    if number == 0:
        return "outer ring"
    if number == count - 1:
        return "inner ring"
    return "middle ring" if count == 3 else f"middle ring {'abcdefgh'[number - 1]}"


def flower_from_above(stack: Stack) -> BaseGeometry:
    """All that a flower covers, its first petal along x; mm."""
    shapes = []
    for ring, turn in zip(stack.rings, stack.turns.turns, strict=True):
        facets = [Polygon(facet).buffer(0) for facet in ring.seen]
        petal = shapely.union_all(facets, grid_size=GRID)
        step = 360.0 / ring.asked.count
        shapes += [
            affinity.rotate(petal, turn - stack.turns.turns[0] + step * i, origin=(0.0, 0.0))
            for i in range(ring.asked.count)
        ]
        shapes.append(Polygon(ring.middle))
    return shapely.union_all(shapes, grid_size=GRID)
