"""Wreath: flowers of two sizes and leaves on a ring of board, placed without gaps or crowds."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, cast

import numpy as np
from shapely.geometry import Point, Polygon

from jadeite.core.blooms import Band
from jadeite.core.boards import Board
from jadeite.core.boards.fits import USUAL, Fits
from jadeite.core.nets.model import Design, Dimension, Piece
from jadeite.core.reckoning import Reckoning, given, reckon
from jadeite.core.shapes.arranged import Arranged
from jadeite.core.shapes.arranged_design import arranged_design, flower_options, opened
from jadeite.core.shapes.arranged_family import arranged_family
from jadeite.core.shapes.arranged_pieces import BASE, ArrangedPieces, Base
from jadeite.core.shapes.blooming import check_width
from jadeite.core.shapes.finishing import (
    GREEN_OPTION,
    HANG_OPTION,
    STAYS_OPTION,
    cord_for,
    cord_size,
)
from jadeite.core.shapes.registry import Option, OptionValue, Size
from jadeite.core.shapes.ring_of_board import ring_of_board
from jadeite.core.shapes.wreaths import LARGEST, SMALLEST, WREATHS

__all__ = ["WREATH"]

NEAR = 1e-6  # mm; rounding, a place so near an edge lies on both panels
START = 300.0  # mm; from memory
MOST_ARCS = 12.0
FRONT = 1.3  # of its half width, where its width is written; from memory
DEEP = "from the opening to the rim"
WHOLE = "the wreath, from its opening to its rim"

# from memory
FLOWERS, LAST = flower_options((84.0, 50.0), (36.0, 58.0), DEEP)
OPTIONS = (
    Option("opening", "Opening", 46.0, "Its width, of that of the whole.", "%", 25.0, 75.0),
    *FLOWERS,
    Option("arcs", "Ring of board, arcs", 6.0,
           "As many pieces as each of its two plies is cut in, seam over middle; 1 is one ring of "
           "one ply.", "count", 1.0, MOST_ARCS),
    *LAST,
    HANG_OPTION,
    GREEN_OPTION,
    STAYS_OPTION,
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
        plies = 1 if float(options["arcs"]) == 1 else 2
        size = (width, height)
        options = {**options, **opened(WREATHS, size, boards, options, plies, "wreath")}
    arranged = WREATHS.of(width, boards, options)
    band = cast(Band, arranged.ground)
    base = ring_of_board(band, options, boards[BASE])
    made = ArrangedPieces(arranged, boards, options, base)
    below = -boards[BASE].thickness / 2
    cords = cord_for(_farthest(base, band), band.base, (below, made.top), options)
    return arranged_design(
        "wreath",
        "Wreath",
        made,
        options,
        wide=reckon(
            "Finished width",
            2 * arranged.reach,
            "twice from the middle to the farthest tip of a petal or leaf, bent as it is",
            given("asked for", width),
        ),
        own=_sizes(arranged, band, width, options) | cord_size(cords),
        of=(given(DEEP, band.outer - band.inner), WHOLE),
        dimensions=_dimensions(arranged, made.pieces[0]),
        bought=cords,
    )


def _farthest(base: Base, band: Band) -> tuple[str, str]:
    """The piece and panel of the lower ply that lies farthest in y, where a cord is tied."""
    middle = np.array([0.0, sum(band.base) / 2])
    for piece in base.glued.pieces:
        place = base.glued.placements[piece.name]
        flat = (middle - place[:2, 3]) @ place[:2, :2]
        for panel in piece.panels:
            if Polygon(panel.outline).buffer(NEAR).contains(Point(flat)):
                return piece.name, panel.name
    raise AssertionError("a ring reaches all the way round")


def _sizes(
    arranged: Arranged, band: Band, width: float, options: Mapping[str, OptionValue]
) -> dict[str, Reckoning]:
    low, high = band.base
    return {
        "opening": reckon(
            "Opening",
            2 * arranged.opening,
            "twice from the middle to the nearest tip of a petal or leaf",
            given("asked for", width * float(options["opening"]) / 100),
        ),
        "base-width": reckon(
            "Ring of board, wide",
            high - low,
            "so that petals hide its edges",
            given("inner edge, across", 2 * low),
            given("outer edge, across", 2 * high),
        ),
    }


def _dimensions(arranged: Arranged, first: Piece) -> tuple[Dimension, ...]:
    half, hole = arranged.reach, arranged.opening
    where = (first.name, first.panels[0].name)
    front = -FRONT * half  # in front of the disc that shows the scale
    whole = Dimension("finished, width", *where, (-half, front, 0.0), (half, front, 0.0),
                      (0.0, -1.0, 0.0), 2 * half, finished=True)  # fmt: skip
    inner = Dimension("opening", *where, (-hole, 0.0, 0.0), (hole, 0.0, 0.0),
                      (0.0, -1.0, 0.0), 2 * hole, finished=True)  # fmt: skip
    return whole, inner


def wreath_board_area(
    span: Any, boards: Mapping[str, Board], options: Mapping[str, OptionValue]
) -> Any:
    """Board in mm², about that of flowers, leaves and ring; rises with the width."""
    share = 1 - (float(options["opening"]) / 100) ** 2
    return 2.4 * share * span[0] * span[0]


WREATH = arranged_family(
    ("wreath", "Wreath", "Ring under it"),
    "Large flowers in and out round a ring, small ones and leaves in the gaps.",
    build=build_wreath,
    board_area=wreath_board_area,
    options=OPTIONS,
    range_=(SMALLEST, LARGEST),
    width=START,
    smaller={BASE: ("Cut the ring in more arcs", (("shape.options.arcs", MOST_ARCS),))},
)
