"""Table piece: flowers and leaves on a round, oval or rectangular board, for a table or a lid."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, cast

import numpy as np

from jadeite.core.blooms import FORMS, Head, LeafSpot, Patch, Spot
from jadeite.core.boards import Board
from jadeite.core.boards.fits import USUAL, Fits
from jadeite.core.nets.arrivals import Where
from jadeite.core.nets.model import Design, Dimension, Panel, Piece
from jadeite.core.nets.roles import Role
from jadeite.core.reckoning import Reckoning, given, reckon
from jadeite.core.shapes.arranged import Arranging
from jadeite.core.shapes.arranged_design import arranged_design, flower_options
from jadeite.core.shapes.arranged_family import arranged_family
from jadeite.core.shapes.arranged_pieces import BASE, ArrangedPieces, Base
from jadeite.core.shapes.as_wide import as_asked, extent_of
from jadeite.core.shapes.blooming import check_width
from jadeite.core.shapes.finishing import GREEN_OPTION, STAYS_OPTION
from jadeite.core.shapes.registry import Option, OptionValue, Size
from jadeite.core.shapes.ring_gluing import Glued

__all__ = ["TABLE_PIECE"]

SMALLEST, LARGEST = 155.0, 600.0  # mm; from memory
START = 220.0  # mm; from memory
DEPTH = 66.0  # % of its width; from memory
RIM, LEAFY = 0.16, 0.18  # of its half depth: free of board, and of flowers; from memory
LAP = 20.0  # %; from memory, so that little of the board shows
ROOMY = (("large", 72.0), ("small", 72.0), ("petals", "5 4 3"))  # %; from memory, of a small one
FRONT = 44.0  # mm; from memory, its width is written in front of the disc that shows the scale
DEEP = "from its middle to its nearer edge"
WHOLE = "what its outline goes round"
BOARD = "board"  # the panel under it
LAID = (
    "Lay all flowers out first, as the picture from above shows: a large one in the middle, others "
    "round it, one petal outwards. Then glue on the middle of each, and press it with the blunt "
    "end of a pencil."
)

# from memory
FLOWERS, LAST = flower_options((56.0, 25.0), (48.0, 38.0), DEEP, LAP)
OPTIONS = (
    Option("form", "Form", "round",
           "Round for a table or a round lid; oval or rectangular for a long one.", choices=FORMS),
    Option("depth", "Depth", DEPTH, "Of its width, where it is not round.", "%", 40.0, 100.0),
    *FLOWERS,
    *LAST,
    GREEN_OPTION,
    STAYS_OPTION,
)  # fmt: skip

Options = Mapping[str, OptionValue]


def _depth(width: float, options: Options) -> float:
    """From front to back, mm."""
    return width if options["form"] == "round" else width * float(options["depth"]) / 100


def _deep(width: float, options: Options) -> float:
    """From its middle to its nearer edge, mm."""
    return _depth(width, options) / 2


def patch_of(width: float, heads: tuple[Head, ...], options: Options) -> Patch:
    """The ground of a table piece of a width in mm, whatever flowers sit on it."""
    deep = _deep(width, options)
    leafy = LEAFY * deep if float(options["leaves"]) else 0.0
    return Patch(str(options["form"]), width, _depth(width, options), RIM * deep, leafy)


TABLE_PIECES = Arranging(LARGEST, _deep, patch_of, ROOMY)


def build_table_piece(
    span: Size, boards: Mapping[str, Board], options: Options, fits: Fits = USUAL
) -> Design:
    """A table piece of a width and, unless it is 0, a height in mm.

    Raises
    ------
    FieldError
        It cannot be so wide or high, its flowers would be too small, or too many; the text
        names what works.
    """
    check_width(span[0], "table piece", SMALLEST, LARGEST)
    arranged, options = as_asked(
        TABLE_PIECES,
        span[:2],
        boards,
        options,
        lambda made: made.shown,
        plies=1,
        what="table piece",
    )
    patch = cast(Patch, arranged.ground)
    made = ArrangedPieces(arranged, boards, options, _board(patch, boards[BASE]))
    wide, deep = extent_of(arranged.shown)
    tips = "from the farthest tip on one side to that on the other, bent as it is"
    return arranged_design(
        "table-piece",
        "Table piece",
        made,
        options,
        wide=reckon("Finished width", wide, tips, given("outline", patch.width)),
        own=_sizes(deep, patch),
        of=(given(DEEP, min(patch.width, patch.depth) / 2), WHOLE),
        dimensions=_dimensions(wide, deep),
    )


def _board(patch: Patch, board: Board) -> Base:
    """The board under it, in one piece."""
    line = np.array(patch.base.exterior.coords)[:-1]
    outline = line if patch.base.exterior.is_ccw else line[::-1]
    wide, deep = np.ptp(outline, axis=0).tolist()
    panel = Panel(BOARD, "board", Role.PLATE, outline, (wide, deep))
    piece = Piece(BASE, "board", board, (panel,), (), "inside", part=BASE)

    def under(spot: Spot | LeafSpot) -> Where:
        return BASE, BOARD

    return Base(Glued((piece,), {BASE: np.eye(4)}, (), ()), 1, under, "board", LAID)


def _sizes(deep: float, patch: Patch) -> dict[str, Reckoning]:
    """What is its own; ``deep`` is its finished depth, mm."""
    low_x, low_y, high_x, high_y = patch.base.bounds
    wide_of, deep_of = given("outline", patch.width), given("outline", patch.depth)
    hides = "so that petals and leaves hide its edge"
    return {
        "finished-depth": reckon("Finished depth", deep, "from front to back, likewise", deep_of),
        "base-width": reckon("Board, wide", high_x - low_x, hides, wide_of),
        "base-depth": reckon("Board, deep", high_y - low_y, hides, deep_of),
    }


def _dimensions(wide: float, deep: float) -> tuple[Dimension, ...]:
    front = -deep / 2 - FRONT
    start, end = (-wide / 2, front, 0.0), (wide / 2, front, 0.0)
    down = (0.0, -1.0, 0.0)
    return (Dimension("finished, width", BASE, BOARD, start, end, down, wide, finished=True),)


def table_piece_board_area(span: Any, boards: Mapping[str, Board], options: Options) -> Any:
    """Board in mm², about that of flowers, leaves and the board; rises with the width."""
    return 2.2 * span[0] * span[0] * (1.0 if options["form"] == "round" else DEPTH / 100)


TABLE_PIECE = arranged_family(
    ("table-piece", "Table piece", "Board under it"),
    "Flowers and leaves close together on a board: for a table, a lid, a corner.",
    build=build_table_piece,
    board_area=table_piece_board_area,
    options=OPTIONS,
    range_=(SMALLEST, LARGEST),
    width=START,
)
