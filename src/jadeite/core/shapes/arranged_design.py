"""What arrangements of flowers have in common: options, heights, hands, sizes, findings."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import replace

from scipy.optimize import brentq  # type: ignore[import-untyped]

from jadeite.core.blooms import (
    KINDS,
    LINES,
    LINES_BESIDE,
    moved_from_words,
    petal_from_words,
    words_of_moved,
)
from jadeite.core.boards import Board
from jadeite.core.colours import mix
from jadeite.core.errors import FieldError, option_way
from jadeite.core.findings import Cure, Finding, Level
from jadeite.core.nets.arrivals import Arrivals
from jadeite.core.nets.bought import Bought
from jadeite.core.nets.model import Design, Dimension, Shaping
from jadeite.core.reckoning import Mark, Reckoning, constant, given, reckon
from jadeite.core.shapes.arranged import LEAF_CREASE, LEAF_RISE, Arranged, Arranging
from jadeite.core.shapes.arranged_flowers import BUD, BUDS, INNER, LARGE, ROD, SMALL, part_of
from jadeite.core.shapes.arranged_pieces import BASE, LEAF, MOVED, ArrangedPieces
from jadeite.core.shapes.blooming import LEAF_COLOUR, PETAL_COLOUR, rod_finding
from jadeite.core.shapes.finishing import finish_findings, finish_for
from jadeite.core.shapes.registry import Option, OptionValue
from jadeite.core.shapes.ring_options import PRESSED, counts_in_words
from jadeite.core.shapes.ring_shaping import press_leaves, shaping_of
from jadeite.core.units import number_text, rounded_down, rounded_up

__all__ = [
    "FOLLOWS",
    "MADE_WHEN",
    "arranged_design",
    "flower_options",
    "highest",
    "opened",
    "parts_on",
    "tones",
]

RISES, INNER_RISES = (12.0, 45.0), (12.0, 75.0)  # degrees; from memory, petals clear the board
MOST_RINGS = 4  # of a flower; from memory
MOST_FLOWERS, MOST_LEAVES, SEEDS = 120.0, 80.0, 999.0
LAP = 12.0  # %; from memory
MORE_LAP = 0.02  # of a width, by which moved flowers may lap more unsaid; from memory
BARE = 62.0  # %; from memory, a board of which less is covered looks bare
MADE_WHEN: Mapping[str, tuple[str, OptionValue]] = {
    LARGE + INNER: ("petals", 2.0),
    SMALL: ("sizes", "two"),
    BUD: (BUDS, 1.0),
    LEAF: ("leaves", 1.0),
}
FOLLOWS = {LARGE + INNER: LARGE, SMALL: LARGE, BUD: LARGE, LEAF: LARGE}

Options = Mapping[str, OptionValue]
Boards = Mapping[str, Board]


def flower_options(
    large: tuple[float, float],
    leaves: tuple[float, float],
    of: str,
    lap: float = LAP,
    most: tuple[float, float] = (MOST_FLOWERS, MOST_LEAVES),
) -> tuple[tuple[Option, ...], tuple[Option, ...]]:
    """The options of flowers and leaves, and those that come at the very end.

    ``large`` is the size of large flowers in % and its least, ``leaves`` how many leaves and how
    long in %, both of the length that is called ``of``; flowers lap by ``lap`` %.  ``most`` are
    how many flowers and leaves there may be.
    """
    # from memory
    return (
        Option("sizes", "Flowers of", "two", "Small ones fill the gaps between large ones.",
               choices=(("two", "two sizes"), ("one", "one size"))),
        Option("flowers", "Number of flowers", 0.0,
               "0 is as many as fit at the sizes below; any other number makes them just so small "
               "that so many fit.", "count", 0.0, most[0], lowest="all that fit"),
        Option("large", "Large flowers", large[0], f"Their width, of that {of}.",
               "%", large[1], 100.0),
        Option("small", "Small flowers", 56.0, "Their width, of that of the large ones.",
               "%", 45.0, 90.0, only=(("sizes", ("two",)),)),
        Option("lap", "Flowers lap by", lap,
               "Of their widths at the most: petals stand in one another's gaps.",
               "%", 0.0, 25.0),
        Option("petals", "Petals of each ring", "6 5 4",
               "From the outermost ring to the innermost; small flowers are without the "
               "outermost.", "counts", 3.0, 12.0, words=counts_in_words(MOST_RINGS),
               most=MOST_RINGS, shows=("5 4", "6 5 4", "8 6 5", "6 6 5 4")),
        Option("outline", "Outline", "round",
               "Of all petals. Numbers may follow: heart width=80.",
               "outlines", choices=tuple((key, label) for key, (label, _) in KINDS.items()),
               words=lambda words: petal_from_words(words).words),
        Option("rise", "Outer petals rise by", 16.0, "From the plane of the board.",
               "deg", *RISES),
        Option("inner-rise", "Inner petals rise by", 52.0, "The rings between are between.",
               "deg", *INNER_RISES),
        Option("leaves", "Leaves", leaves[0],
               "At the most; as many as are seen, half of them mirror images of the others.",
               "count", 0.0, most[1]),
        Option("leaf", "Leaves, long", leaves[1], f"Of the width {of}.", "%", 30.0, 80.0),
        Option("leaf-outline", "Leaf outline", "lance width=44",
               "Of all leaves. Numbers may follow: toothed waves=8.", "outlines",
               choices=tuple((key, label) for key, (label, _) in KINDS.items()),
               words=lambda words: petal_from_words(words, "leaf-outline").words),
        Option("petal-lines", "Lines on petals", "none", PRESSED, choices=LINES),
        Option("leaf-lines", "Lines on leaves", "none", PRESSED, choices=LINES_BESIDE),
    ), (
        Option("seed", "Arrangement", 1.0, "Another number is another arrangement.",
               "count", 1.0, SEEDS),
        Option(MOVED, "Moved by hand", "",
               "Click a flower on the table, then drag it, or press Ctrl and an arrow key. It goes "
               "to the nearest free place, and leaves find other gaps.", "places",
               words=lambda words: words_of_moved(moved_from_words(words))),
    )  # fmt: skip


def highest(arranged: Arranged, boards: Boards, plies: int) -> float:
    """From the back of its board to the highest petal, mm."""
    sorts = {spot.sort for spot in arranged.spots}
    ends = [
        level + ring.heights[1] + (ring.asked.thickness + stack.rings[0].asked.thickness) / 2
        for sort, stack in enumerate(arranged.stacks)
        if sort in sorts
        for level, ring in zip(stack.levels, stack.rings, strict=True)
    ]
    return plies * boards[BASE].thickness + max(ends, default=0.0)


def opened(
    arranging: Arranging,
    size: tuple[float, float],
    boards: Boards,
    options: Options,
    plies: int,
    what: str,
) -> dict[str, OptionValue]:
    """The rises with which an arrangement of a width is as high as is asked, in degrees.

    ``size`` is that width and height in mm.

    Raises
    ------
    FieldError
        It cannot be so flat or so high; the text names the height that works.
    """
    width, height = size

    def own(share: float) -> dict[str, OptionValue]:
        return {
            key: low + (high - low) * share
            for key, (low, high) in (("rise", RISES), ("inner-rise", INNER_RISES))
        }

    def at(share: float) -> float:
        chosen = {**options, **own(share)}
        return highest(arranging.of(width, boards, chosen), boards, plies)

    least, most = rounded_up(at(0.0)), rounded_down(at(1.0))
    if not least <= height <= most:
        near = most if height > most else least
        raise FieldError(
            "height",
            f"{number_text(height)} mm is not what this {what} can be: {number_text(least)} to "
            f"{number_text(most)} mm",
            f"Use {number_text(near)} mm.",
            ((("brief.height", near),),),
        )
    return own(float(brentq(lambda share: at(share) - height, 0.0, 1.0, xtol=1e-5)))


def _shaping(arranged: Arranged, made: ArrangedPieces) -> tuple[Shaping, ...]:
    """How petals and leaves are bent by hand."""
    layers = [layer for stack in arranged.stacks for layer in stack.layers]
    petals = shaping_of(
        [la for la in layers if la.name in made.names], lambda layer: made.names[layer.name]
    )
    names = tuple(p.name for p in made.pieces if p.part == LEAF)
    if not names:
        return petals
    words = (
        f"Bend each along its crease by about {number_text(LEAF_CREASE, 0)}°, like a shallow "
        f"gutter, and its foot back until the leaf rises by about {number_text(LEAF_RISE, 0)}°. "
        "Lay mirrored ones in two rows, so that none is confused."
    )
    pressed = press_leaves(names, arranged.leaf.lines)
    return (*petals, *pressed, Shaping("Bend all leaves", words, names, len(names)))


def _sizes(
    arranged: Arranged,
    made: ArrangedPieces,
    options: Options,
    deep: Reckoning,
    what: str,
    bare: float,
) -> dict[str, Reckoning]:
    """Height, fullness, and how many flowers and leaves of which size.

    ``deep`` is what sizes are a share of, ``what`` that which flowers cover, in words, and
    ``bare`` the % of it below which it looks so.
    """
    half = made.boards[BASE].thickness / 2
    counts = {sort: float(len(arranged.of(i))) for i, sort in enumerate(arranged.sorts)}
    out = {
        "finished-height": reckon(
            "Finished height",
            highest(arranged, made.boards, made.base.plies),
            f"from the back of the {made.base.called} to the highest petal: an estimate, paper "
            "springs back",
            given(f"{made.base.called} of board", made.top + half),
        ),
        "fullness": reckon(
            "Fullness",
            100 * arranged.covered,
            f"share of {what}, that flowers and leaves cover",
            constant("bare below", bare, "%", Mark.MEMORY),
            unit="%",
        ),
        "flowers": reckon(
            "Flowers",
            sum(number for sort, number in counts.items() if sort != BUD),
            f"large and small ones that sit on the {made.base.called}",
            *(given(f"{s} ones", number, "") for s, number in counts.items() if s != BUD),
            unit="",
        ),
        "leaves": reckon(
            "Leaves",
            float(len(arranged.leaves)),
            "those of which enough is seen",
            given("wanted", float(options["leaves"]), ""),
            unit="",
        ),
    }
    for sort, stack in zip(arranged.sorts, arranged.stacks, strict=True):
        if sort == BUD:
            out[BUDS] = reckon("Buds", counts[BUD], "those that have a twig", unit="")
        out[f"{sort}-width"] = reckon(
            "Buds, wide" if sort == BUD else f"{sort.capitalize()} flowers",
            2 * stack.reach,
            "finished width, from tip to tip through the middle",
            deep,
        )
    return out


def _findings(
    arranged: Arranged, boards: Boards, options: Options, bare: float
) -> tuple[Finding, ...]:
    """Bare places, flowers that were moved too close, and a rod over which a board kinks."""
    out = []
    lap, pair = arranged.laps
    if options[MOVED] and lap > float(options["lap"]) / 100 + MORE_LAP:
        words = (
            f"Flowers {pair[0]} and {pair[1]} lap by {100 * lap:.0f} % of their widths, more than "
            f"the {float(options['lap']):.0f} % that is wanted: they press one another's petals up."
        )
        cure = Cure("Put all flowers back", option_way(MOVED, ""))
        out.append(Finding(Level.NOTE, "flowers-lap", words, BASE, "shape", cure))
    covered = 100 * arranged.covered
    if covered < bare:
        words = (
            f"It looks bare: flowers and leaves cover {math.floor(covered)} % of it, and from "
            f"{bare:.0f} % it looks full."
        )
        out.append(Finding(Level.NOTE, "wreath-bare", words, BASE, "shape"))
    petals = [boards[part_of(sort, n, len(stack.layers))]
              for sort, stack in zip(arranged.sorts, arranged.stacks, strict=True)
              for n in range(len(stack.layers))]  # fmt: skip
    out += [replace(f, cure=None) for f in rod_finding(ROD, petals)]
    return tuple(out)


def arranged_design(
    key: str,
    title: str,
    made: ArrangedPieces,
    options: Options,
    *,
    wide: Reckoning,
    own: Mapping[str, Reckoning],
    of: tuple[Reckoning, str],
    dimensions: tuple[Dimension, ...],
    bare: float = BARE,
    bought: tuple[Bought, ...] = (),
) -> Design:
    """The design of an arrangement.

    ``wide`` is its finished width, ``own`` what else is of its family alone; ``of`` what sizes
    are a share of, and that which flowers cover, in words; ``bare`` the % of it below which it
    looks so.
    """
    arranged, first = made.arranged, made.pieces[0]
    on = (first.name, first.panels[0].name)
    return Design(
        family=key,
        title=title,
        pieces=tuple(made.pieces),
        placements=made.places,
        joints=tuple(made.joints),
        hollow=None,
        sizes={"finished-width": wide, **_sizes(arranged, made, options, *of, bare), **own},
        dimensions=dimensions,
        arrivals=Arrivals(made.arrivals),
        shaping=_shaping(arranged, made),
        findings=(
            *_findings(arranged, made.boards, options, bare),
            *finish_findings(options),
        ),
        bought=(*bought, *finish_for(on, options)),
        handles=made.handles,
    )


def parts_on(base: str, *, buds: bool) -> tuple[tuple[str, str], ...]:
    """The parts of an arrangement, with the title of the board under it."""
    return (
        (LARGE, "Large flowers"),
        (LARGE + INNER, "Their inner rings"),
        (SMALL, "Small flowers"),
        *(((BUD, "Buds"),) if buds else ()),
        (LEAF, "Leaves"),
        (BASE, base),
    )


def tones(colours: Mapping[str, str], options: Options) -> dict[str, str]:
    """Large flowers in the usual tone, darker inside; small ones darker; green leaves and board."""
    large = colours.get(LARGE, PETAL_COLOUR)
    small = colours.get(SMALL, mix(large, "#B5724F", 0.45))
    leaf = colours.get(LEAF, LEAF_COLOUR)
    return {LARGE: large, LARGE + INNER: mix(large, "#B5724F", 0.22), SMALL: small, BUD: small,
            LEAF: leaf, BASE: leaf}  # fmt: skip
