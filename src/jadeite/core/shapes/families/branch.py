"""Branch: flowers left and right of a stem of board, each on a twig, with leaves between."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import Any, cast

import numpy as np
from shapely.geometry.base import BaseGeometry

from jadeite.core.blooms import Bough, Head, LeafSpot, Spot, bough
from jadeite.core.boards import Board
from jadeite.core.boards.fits import USUAL, Fits
from jadeite.core.nets.arrivals import Arrival, When, Where
from jadeite.core.nets.bought import Bought
from jadeite.core.nets.model import Design, Dimension, Joint, Kind, Panel, Piece
from jadeite.core.nets.roles import Role
from jadeite.core.reckoning import Reckoning, given, reckon
from jadeite.core.shapes.arranged import Arranged, Arranging, leaf_marks
from jadeite.core.shapes.arranged_design import arranged_design, flower_options
from jadeite.core.shapes.arranged_family import arranged_family
from jadeite.core.shapes.arranged_flowers import BUDS, buds_in
from jadeite.core.shapes.arranged_pieces import BASE, ArrangedPieces, Base
from jadeite.core.shapes.as_wide import as_asked, extent_of
from jadeite.core.shapes.blooming import check_width
from jadeite.core.shapes.finishing import GREEN_OPTION, STAYS_OPTION
from jadeite.core.shapes.registry import Option, OptionValue, Size
from jadeite.core.shapes.ring_gluing import Glued
from jadeite.core.units import rounded_down

__all__ = ["BRANCH"]

SMALLEST, LARGEST = 140.0, 500.0  # mm; from memory
START = 240.0  # mm; from memory
STEM, LEAST_STEM, MOST_STEM = 13.0, 12.0, 24.0  # mm; from memory, a leaf's foot lies on it
BARE_BELOW = 30.0  # %; from memory, a branch is airy
MOST = (20.0, 30.0)  # flowers and leaves; from memory
LAP = 6.0  # %; from memory, its flowers stand apart
WIRE = 1.0  # mm; common practice, a florist's stem wire
SHORT = 12.0  # mm that it ends short of either end of the stem; from memory
ROOMY = (("small", 80.0), ("petals", "5 4 3"))  # %; from memory, of a small one
FRONT = 44.0  # mm; from memory, its width is written in front of the disc that shows the scale
BOARD, UPPER, LOWER = "twig", "upper", "lower"
DEEP = "of the band along the stem, from side to side"
WHOLE = "the band along its stem, where it is not bare"
LAID = (
    "Lay all flowers out first, as the picture shows: the large ones towards the foot of the "
    "stem, each on the round end of its twig. Then glue on the middle of each, and press it with "
    "the blunt end of a pencil."
)
GAPS = (
    "Each on the round end of its twig, the smallest at the tip: glue on the middle of each, and "
    "press it with the blunt end of a pencil."
)
TUCKED = (
    "Flowers first, then greenery. A little glue on each foot only; slide it in under the petals, "
    "onto the middle of the stem: the leaf stands out beside it, towards the tip, left and right "
    "ones as the picture shows."
)
PLIES = (
    "Glue on all of one, thinly, out to the ends of its twigs{wire}; lay the other on it, edge on "
    "edge. Keep both flat under a weight until they are dry."
)
BETWEEN = ", and the wire along the middle of the stem (mind its cut ends)"
BEHIND = (
    "A line of glue along the middle of the stem on its back, and the wire in it; press until it "
    "holds."
)
ENDS = "Mind the ends of cut wire; local rules and the makers' instructions come first."

# from memory
FLOWERS, LAST = flower_options((54.0, 30.0), (12.0, 46.0), DEEP, LAP, MOST)
OPTIONS = (
    Option("depth", "Depth", 44.0, "Of its width: the band in which flowers and leaves stand.",
           "%", 26.0, 80.0),
    Option("bend", "Stem bends by", 46.0, "From its foot to its tip.", "deg", 0.0, 120.0),
    Option("bare", "Bare foot", 14.0, "Of the stem, to hold it by or to put it into a vase.",
           "%", 4.0, 45.0),
    Option("stem", "Stem, wide", STEM, "Wide enough for the feet of the leaves; twigs are about "
           "half of it.", "mm", LEAST_STEM, MOST_STEM),
    *FLOWERS[:2],
    Option(BUDS, "Buds", 0.0, "The same flower gathered tight, in a calyx of leaf green: at the "
           "tip of the stem, beside its flowers.", "count", 0.0, 8.0),
    *FLOWERS[2:],
    Option("back", "Behind it", "ply", "A second stem with its twigs makes it stiff.",
           choices=(("ply", "a second ply"), ("none", "nothing"))),
    Option("wire", "Wire in the stem", "none",
           "Between both plies, or behind the one: a branch that has one can be bent again.",
           choices=(("none", "none"), ("along", "along the stem"))),
    *LAST,
    GREEN_OPTION,
    STAYS_OPTION,
)  # fmt: skip

Options = Mapping[str, OptionValue]


def _deep(width: float, options: Options) -> float:
    """From side to side of the band, mm."""
    return width * float(options["depth"]) / 100


def bough_of(width: float, heads: tuple[Head, ...], options: Options) -> Bough:
    """The ground of a branch of a width in mm, for flowers of these sizes, the largest first."""
    long = width - heads[-1].width / 2
    bare = Bough(
        long,
        float(options["stem"]),
        float(options["bend"]),
        float(options["bare"]) / 100,
        _deep(width, options),
        heads,
        leaf_marks(_deep(width, options), options),
        buds=buds_in(options),
    )
    count, seed = int(float(options["flowers"])), int(float(options["seed"]))
    count += bare.buds if count else 0
    return bough(bare, float(options["lap"]) / 100, count, seed)


BRANCHES = Arranging(LARGEST, _deep, bough_of, ROOMY)


def build_branch(
    span: Size, boards: Mapping[str, Board], options: Options, fits: Fits = USUAL
) -> Design:
    """A branch of a width from its foot to its tip and, unless it is 0, a height in mm.

    Raises
    ------
    FieldError
        It cannot be so wide or high, its flowers would be too small, or too many; the text
        names what works.
    """
    check_width(span[0], "branch", SMALLEST, LARGEST)
    plies = 2 if options["back"] == "ply" else 1
    arranged, options = as_asked(
        BRANCHES, span[:2], boards, options, _seen, plies=plies, what="branch"
    )
    ground = cast(Bough, arranged.ground)
    wires = _wires(ground, options)
    made = ArrangedPieces(arranged, boards, options, _board(ground, boards[BASE], options))
    wide, deep = extent_of(_seen(arranged))
    tips = "from the foot of the stem to the farthest tip of a petal or leaf, bent as it is"
    return arranged_design(
        "branch",
        "Branch",
        made,
        options,
        wide=reckon("Finished width", wide, tips, given("outline", ground.long)),
        own=_sizes(deep, ground, wires),
        of=(given(DEEP, ground.depth), WHOLE),
        dimensions=_dimensions(arranged, made.pieces[0].name),
        bare=BARE_BELOW,
        bought=wires,
    )


def _seen(arranged: Arranged) -> tuple[BaseGeometry, ...]:
    """Flowers, leaves and the board, which is seen on a branch; mm."""
    return (*arranged.shown, cast(Bough, arranged.ground).base)


def _board(ground: Bough, board: Board, options: Options) -> Base:
    """The stem with its twigs, of one ply or of two."""
    line = np.array(ground.base.exterior.coords)[:-1]
    outline = line if ground.base.exterior.is_ccw else line[::-1]
    wide, deep = np.ptp(outline, axis=0).tolist()
    panel = Panel(BOARD, "twig", Role.PLATE, outline, (wide, deep))
    if options["back"] == "none":
        one = Piece(BASE, "stem", board, (panel,), (), "inside", part=BASE)
        whole = Glued((one,), {BASE: np.eye(4)}, (), ())
        return Base(whole, 1, lambda spot: (BASE, BOARD), "stem", LAID, GAPS, TUCKED)
    lower = Piece(LOWER, "stem", board, (panel,), (), "inside", part=BASE)
    upper = replace(lower, name=UPPER, title="upper stem")
    place = np.eye(4)
    place[2, 3] = board.thickness
    on = (LOWER, BOARD)
    hint = PLIES.format(wire=BETWEEN if options["wire"] == "along" else "")
    whole = Glued(
        (lower, upper),
        {LOWER: np.eye(4), UPPER: place},
        (Joint(Kind.GLUE, (UPPER, BOARD), on, "plies", "inside"),),
        (Arrival(UPPER, When.FLAT, on, hint=hint),),
    )

    def under(spot: Spot | LeafSpot) -> Where:
        return UPPER, BOARD

    return Base(whole, 2, under, "stem", LAID, GAPS, TUCKED)


def _wires(ground: Bough, options: Options) -> tuple[Bought, ...]:
    """The wire along the stem; between plies it comes with them."""
    if options["wire"] == "none":
        return ()
    two = options["back"] == "ply"
    length = rounded_down(ground.length - 2 * SHORT, 0)
    title = "" if two else "Glue a wire behind the stem"
    on = (LOWER if two else BASE, BOARD)
    return (Bought("stem wire", WIRE, length, title, BEHIND, on, first=True, caution=ENDS),)


def _sizes(deep: float, ground: Bough, wires: tuple[Bought, ...]) -> dict[str, Reckoning]:
    """What is its own; ``deep`` is its finished depth, mm."""
    outline = given("outline", ground.long)
    out = {
        "finished-depth": reckon("Finished depth", deep, "from side to side, likewise", outline),
        "stem-length": reckon("Stem", ground.length, "along its middle, as it bends", outline),
    }
    for wire in wires:
        out["wire-length"] = reckon(
            "Wire",
            wire.length,
            "along the stem, short of both ends",
            given("stem", ground.length),
        )
    return out


def _dimensions(arranged: Arranged, base: str) -> tuple[Dimension, ...]:
    bounds = np.array([shape.bounds for shape in _seen(arranged)])
    low, high = bounds[:, :2].min(axis=0), bounds[:, 2:].max(axis=0)
    front = float(low[1]) - FRONT
    start, end = (float(low[0]), front, 0.0), (float(high[0]), front, 0.0)
    wide = float(high[0] - low[0])
    down = (0.0, -1.0, 0.0)
    return (Dimension("finished, width", base, BOARD, start, end, down, wide, finished=True),)


def branch_board_area(span: Any, boards: Mapping[str, Board], options: Options) -> Any:
    """Board in mm², about that of flowers, leaves and stems; rises with the width."""
    return 2.0 * span[0] * span[0] * float(options["depth"]) / 100


BRANCH = arranged_family(
    ("branch", "Branch", "Stem and twigs"),
    "Flowers on twigs left and right of a bent stem, leaves between: for a card, a gate.",
    build=build_branch,
    board_area=branch_board_area,
    options=OPTIONS,
    range_=(SMALLEST, LARGEST),
    width=START,
    buds=True,
)
