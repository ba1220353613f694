"""Wreath: flowers of two sizes and leaves on a ring of board, placed without gaps or crowds."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import Any

from scipy.optimize import brentq  # type: ignore[import-untyped]

from jadeite.core.blooms import KINDS, LINES, LINES_BESIDE, petal_from_words
from jadeite.core.boards import Board
from jadeite.core.boards.fits import USUAL, Fits
from jadeite.core.colours import mix
from jadeite.core.errors import FieldError
from jadeite.core.findings import Finding, Level
from jadeite.core.nets.arrivals import Arrivals
from jadeite.core.nets.model import (
    Design,
    Dimension,
    Piece,
    Shaping,
)
from jadeite.core.reckoning import Mark, Reckoning, constant, given, reckon
from jadeite.core.shapes.blooming import (
    LEAF_COLOUR,
    PETAL_COLOUR,
    check_width,
    holds_nothing,
    rod_finding,
)
from jadeite.core.shapes.registry import Option, OptionValue, ShapeFamily, Size, register
from jadeite.core.shapes.ring_options import PRESSED, counts_in_words
from jadeite.core.shapes.ring_shaping import press_leaves, shaping_of
from jadeite.core.shapes.wreath_pieces import BASE, LEAF, SORTS, WreathPieces
from jadeite.core.shapes.wreaths import (
    INNER,
    LARGE,
    LARGEST,
    LEAF_CREASE,
    LEAF_RISE,
    ROD,
    SMALL,
    SMALLEST,
    Wreath,
    part_of,
    wreath_of,
)
from jadeite.core.units import number_text, rounded_down, rounded_up

__all__ = ["WREATH"]

STARTS = (300.0, 0.0)  # mm; from memory
RISES, INNER_RISES = (12.0, 45.0), (12.0, 75.0)  # degrees; from memory, petals clear the ring
MOST_RINGS = 4  # of a flower; from memory
MOST_FLOWERS, MOST_LEAVES, MOST_ARCS, SEEDS = 120.0, 80.0, 12.0, 999.0
FRONT = 1.3  # of its half width, where its width is written; from memory
BARE = 62.0  # %; from memory, a wreath of which less is covered looks bare
PARTS = (
    (LARGE, "Large flowers"),
    (LARGE + INNER, "Their inner rings"),
    (SMALL, "Small flowers"),
    (LEAF, "Leaves"),
    (BASE, "Ring under it"),
)

# from memory
OPTIONS = (
    Option("opening", "Opening", 46.0, "Its width, of that of the whole.", "%", 25.0, 75.0),
    Option("sizes", "Flowers of", "two", "Small ones fill the gaps between large ones.",
           choices=(("two", "two sizes"), ("one", "one size"))),
    Option("flowers", "Number of flowers", 0.0,
           "0 is as many as fit at the sizes below; any other number makes them just so small that "
           "so many fit.", "count", 0.0, MOST_FLOWERS, lowest="all that fit"),
    Option("large", "Large flowers", 84.0, "Their width, of that from the opening to the rim.",
           "%", 50.0, 100.0),
    Option("small", "Small flowers", 56.0, "Their width, of that of the large ones.",
           "%", 45.0, 90.0),
    Option("lap", "Flowers lap by", 12.0,
           "Of their widths at the most: petals stand in one another's gaps.", "%", 0.0, 25.0),
    Option("petals", "Petals of each ring", "6 5 4",
           "From the outermost ring to the innermost; small flowers are without the outermost.",
           "counts", 3.0, 12.0, words=counts_in_words(MOST_RINGS),
           most=MOST_RINGS, shows=("5 4", "6 5 4", "8 6 5", "6 6 5 4")),
    Option("outline", "Outline", "round", "Of all petals. Numbers may follow: heart width=80.",
           "outlines", choices=tuple((key, label) for key, (label, _) in KINDS.items()),
           words=lambda words: petal_from_words(words).words),
    Option("rise", "Outer petals rise by", 16.0, "From the plane of the wreath.",
           "deg", *RISES),
    Option("inner-rise", "Inner petals rise by", 52.0, "The rings between are between.",
           "deg", *INNER_RISES),
    Option("leaves", "Leaves", 36.0,
           "At the most; as many as are seen, half of them mirror images of the others.",
           "count", 0.0, MOST_LEAVES),
    Option("leaf", "Leaves, long", 58.0, "Of the width from the opening to the rim.",
           "%", 30.0, 80.0),
    Option("leaf-outline", "Leaf outline", "lance width=44",
           "Of all leaves. Numbers may follow: toothed waves=8.", "outlines",
           choices=tuple((key, label) for key, (label, _) in KINDS.items()),
           words=lambda words: petal_from_words(words, "leaf-outline").words),
    Option("petal-lines", "Lines on petals", "none", PRESSED, choices=LINES),
    Option("leaf-lines", "Lines on leaves", "none", PRESSED, choices=LINES_BESIDE),
    Option("arcs", "Ring of board, arcs", 6.0,
           "As many pieces as each of its two plies is cut in, seam over middle; 1 is one ring of "
           "one ply.", "count", 1.0, MOST_ARCS),
    Option("seed", "Arrangement", 1.0, "Another number is another arrangement.",
           "count", 1.0, SEEDS),
)  # fmt: skip


def build_wreath(
    span: Size,
    boards: Mapping[str, Board],
    options: Mapping[str, OptionValue],
    fits: Fits = USUAL,
) -> Design:
    """A wreath of a finished width and, unless it is 0, a height in mm.

    Raises
    ------
    FieldError
        It cannot be so wide or high, its flowers would be too small, or too many; the text
        names what works.
    """
    width, height, _ = span
    check_width(width, "wreath", SMALLEST, LARGEST)
    if height > 0:
        options = {**options, **_opened(width, height, boards, options)}
    wreath = wreath_of(width, boards, options)
    made = WreathPieces(wreath, boards, options)
    return Design(
        family="wreath",
        title="Wreath",
        pieces=tuple(made.pieces),
        placements=made.places,
        joints=tuple(made.joints),
        hollow=None,
        sizes=_sizes(wreath, made, width, options),
        dimensions=_dimensions(wreath, made.pieces[0]),
        arrivals=Arrivals(made.arrivals),
        shaping=_shaping(wreath, made),
        findings=_findings(wreath, boards, options),
    )


def _highest(
    wreath: Wreath, boards: Mapping[str, Board], options: Mapping[str, OptionValue]
) -> float:
    """From the back of its ring to the highest petal, mm."""
    plies = 1.0 if float(options["arcs"]) == 1 else 2.0
    sorts = {spot.sort for spot in wreath.spots}
    ends = [
        level + ring.heights[1] + (ring.asked.thickness + stack.rings[0].asked.thickness) / 2
        for sort, stack in enumerate(wreath.stacks)
        if sort in sorts
        for level, ring in zip(stack.levels, stack.rings, strict=True)
    ]
    return plies * boards[BASE].thickness + max(ends, default=0.0)


def _opened(
    width: float, height: float, boards: Mapping[str, Board], options: Mapping[str, OptionValue]
) -> dict[str, OptionValue]:
    """The rises with which the wreath is as high as is asked, in degrees.

    Raises
    ------
    FieldError
        It cannot be so flat or so high; the text names the height that works.
    """

    def own(share: float) -> dict[str, OptionValue]:
        return {
            key: low + (high - low) * share
            for key, (low, high) in (("rise", RISES), ("inner-rise", INNER_RISES))
        }

    def at(share: float) -> float:
        opened = {**options, **own(share)}
        return _highest(wreath_of(width, boards, opened), boards, opened)

    least, most = rounded_up(at(0.0)), rounded_down(at(1.0))
    if not least <= height <= most:
        near = most if height > most else least
        raise FieldError(
            "height",
            f"{number_text(height)} mm is not what this wreath can be: {number_text(least)} to "
            f"{number_text(most)} mm",
            f"Use {number_text(near)} mm.",
            ((("brief.height", near),),),
        )
    return own(float(brentq(lambda share: at(share) - height, 0.0, 1.0, xtol=1e-5)))


def _shaping(wreath: Wreath, made: WreathPieces) -> tuple[Shaping, ...]:
    layers = [layer for stack in wreath.stacks for layer in stack.layers]
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
    pressed = press_leaves(names, wreath.leaf.lines)
    return (*petals, *pressed, Shaping("Bend all leaves", words, names, len(names)))


# ------------------------------------------------------------------- words


def _sizes(
    wreath: Wreath, made: WreathPieces, width: float, options: Mapping[str, OptionValue]
) -> dict[str, Reckoning]:
    half = made.boards[BASE].thickness / 2
    low, high = wreath.band.base
    wide = [2 * stack.reach for stack in wreath.stacks]
    out = {
        "finished-width": reckon(
            "Finished width",
            2 * wreath.reach,
            "twice from the middle to the farthest tip of a petal or leaf, bent as it is",
            given("asked for", width),
        ),
        "finished-height": reckon(
            "Finished height",
            _highest(wreath, made.boards, options),
            "from the back of the ring to the highest petal: an estimate, paper springs back",
            given("ring of board", made.top + half),
        ),
        "opening": reckon(
            "Opening",
            2 * wreath.opening,
            "twice from the middle to the nearest tip of a petal or leaf",
            given("asked for", width * float(options["opening"]) / 100),
        ),
        "fullness": reckon(
            "Fullness",
            100 * wreath.covered,
            "share of the wreath, from its opening to its rim, that flowers and leaves cover",
            constant("bare below", BARE, "%", Mark.MEMORY),
            unit="%",
        ),
        "flowers": reckon(
            "Flowers",
            float(len(wreath.spots)),
            "large and small ones that sit on the ring",
            *(given(f"{sort} ones", float(len(wreath.of(i))), "") for i, sort in enumerate(SORTS)),
            unit="",
        ),
        "leaves": reckon(
            "Leaves",
            float(len(wreath.leaves)),
            "those of which enough is seen",
            given("wanted", float(options["leaves"]), ""),
            unit="",
        ),
        "base-width": reckon(
            "Ring of board, wide",
            high - low,
            "so that petals hide its edges",
            given("inner edge, across", 2 * low),
            given("outer edge, across", 2 * high),
        ),
    }
    for sort, value in zip(SORTS, wide, strict=False):
        out[f"{sort}-width"] = reckon(
            f"{sort.capitalize()} flowers",
            value,
            "finished width, from tip to tip through the middle",
            given("from the opening to the rim", wreath.band.outer - wreath.band.inner),
        )
    return out


def _findings(
    wreath: Wreath, boards: Mapping[str, Board], options: Mapping[str, OptionValue]
) -> tuple[Finding, ...]:
    """Bare places, and a rod over which a board kinks."""
    out = []
    covered = 100 * wreath.covered
    if covered < BARE:
        words = (
            f"It looks bare: flowers and leaves cover {covered:.0f} % of it, and from "
            f"{BARE:.0f} % it looks full."
        )
        out.append(Finding(Level.NOTE, "wreath-bare", words, BASE, "shape"))
    petals = [boards[part_of(SORTS[i], n, len(stack.layers))]
              for i, stack in enumerate(wreath.stacks)
              for n in range(len(stack.layers))]  # fmt: skip
    out += [replace(f, cure=None) for f in rod_finding(ROD, petals)]
    return tuple(out)


def _dimensions(wreath: Wreath, first: Piece) -> tuple[Dimension, ...]:
    half, hole = wreath.reach, wreath.opening
    where = (first.name, first.panels[0].name)
    front = -FRONT * half  # in front of the disc that shows the scale
    whole = Dimension("finished, width", *where, (-half, front, 0.0), (half, front, 0.0),
                      (0.0, -1.0, 0.0), 2 * half)  # fmt: skip
    inner = Dimension("opening", *where, (-hole, 0.0, 0.0), (hole, 0.0, 0.0),
                      (0.0, -1.0, 0.0), 2 * hole)  # fmt: skip
    return whole, inner


def tones(colours: Mapping[str, str], options: Mapping[str, OptionValue]) -> dict[str, str]:
    """Large flowers in the usual tone, darker inside; small ones darker; green leaves and ring."""
    large = colours.get(LARGE, PETAL_COLOUR)
    small = colours.get(SMALL, mix(large, "#B5724F", 0.45))
    leaf = colours.get(LEAF, LEAF_COLOUR)
    return {LARGE: large, LARGE + INNER: mix(large, "#B5724F", 0.22), SMALL: small, LEAF: leaf,
            BASE: leaf}  # fmt: skip


def wreath_board_area(
    span: Any, boards: Mapping[str, Board], options: Mapping[str, OptionValue]
) -> Any:
    """Board in mm², about that of flowers, leaves and ring; rises with the width."""
    share = 1 - (float(options["opening"]) / 100) ** 2
    return 2.4 * share * span[0] * span[0]


WREATH = register(  # lengths and shares from memory
    ShapeFamily(
        key="wreath",
        title="Wreath",
        short="Wreath",
        purpose="bloom",
        about="Large flowers in and out round a ring, small ones and leaves in the gaps.",
        parts=PARTS,
        options=OPTIONS,
        build=build_wreath,
        board_area=wreath_board_area,
        smallest=SMALLEST,
        largest=LARGEST,
        when={LARGE + INNER: ("petals", 2.0), SMALL: ("sizes", "two"), LEAF: ("leaves", 1.0)},
        follows={LARGE + INNER: LARGE, SMALL: LARGE, LEAF: LARGE},
        usual={BASE: "craft-board"},
        answers=("span",),
        starts=STARTS,
        takes=holds_nothing,
        tones=tones,
        smaller={BASE: ("Cut the ring in more arcs", (("shape.options.arcs", MOST_ARCS),))},
    )
)
