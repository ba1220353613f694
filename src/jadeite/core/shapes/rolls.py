"""Rolls of a strip for a finished width: how long it is, what stays open, and its net."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
import shapely

from jadeite.core.blooms import (
    Coil,
    Edge,
    Spiral,
    core_left,
    spiral_in_square,
    spiral_of_length,
    wound_piece,
)
from jadeite.core.blooms.spiral import GAP
from jadeite.core.blooms.winding import STEEPEST
from jadeite.core.boards import Board
from jadeite.core.errors import FieldError, option_way
from jadeite.core.nets.checks import overlapping_panels, panel_shapes
from jadeite.core.nets.model import Piece
from jadeite.core.nets.outline import piece_polygon
from jadeite.core.shapes.registry import OptionValue
from jadeite.core.units import number_text, rounded_up

__all__ = [
    "COVERS",
    "LEAST_TURNS",
    "RELAX",
    "TOOL",
    "Roll",
    "foot_for",
    "lying_flat",
    "second_roll",
]

COVERS = 0.8  # mm; from memory, by which the disc reaches beyond the foot all round
CLOSE = 0.3  # mm; from memory, between two turns a narrower gap tears
GAPS = (GAP, 1.2, 2.4)  # mm from turn to turn that are tried; from memory
NOTCH = 2.0  # mm²; from memory, a smaller one beside the neck or a scallop holds
FREE = 0.4  # mm; from memory, all round a second roll in the middle of the first
LEAST_TURNS = 2.0  # of a coil; from memory, less is no flower
TOOL = 2.5  # mm across; common practice, a slotted winding tool for paper strips
RELAX = 140.0  # % of the board that a layer takes once it is let go; from memory, trials teach it
OUTER = 3.0  # turns of the flat spiral in which half a turn of the coil lies; from memory


@dataclass(frozen=True)
class Roll:
    """What it comes to, in mm; ``wanted`` is the strip that would close the middle."""

    high: float
    foot: float
    core: float
    layer: float
    disc: float
    spiral: Spiral
    wanted: float

    @property
    def coil(self) -> Coil:
        """As it is wound."""
        return Coil(self.core, self.layer, self.spiral.length)

    @property
    def open_to(self) -> float:
        """Its width over the outermost layer, which leans out."""
        return opens_to(self.foot, self.high, self.layer)


def opens_to(foot: float, high: float, layer: float) -> float:
    """Width in mm of a coil of a foot's diameter: its outermost layer and that half a turn on."""
    along = np.array([0.0, math.pi * foot / 2])
    spiral = Spiral(foot / 2 + COVERS + GAP, high, OUTER)
    radius = np.sqrt(np.maximum(0.0, (foot / 2) ** 2 - layer * along / math.pi))
    lean = np.minimum(STEEPEST, radius / spiral.bend(spiral.angles(along)))
    return float((radius + high * lean).sum())


def foot_for(width: float, high: float, layer: float) -> float:
    """The foot's diameter in mm with which it opens to a width: found by halving."""
    low, most = 0.0, width
    while most - low > 1e-9 * width:
        middle = (low + most) / 2
        wider = opens_to(middle, high, layer) > width
        low, most = (low, middle) if wider else (middle, most)
    return most


def roll_of(
    width: float,
    high: float,
    board: Board,
    options: Mapping[str, OptionValue],
    gap: float = GAP,
) -> Roll:
    """The spirals for a finished width and height in mm.

    Raises
    ------
    FieldError
        The square takes no spiral; the text names one that does.
    """
    layer = board.thickness * float(options["relax"]) / 100
    foot = foot_for(width, high, layer)
    return _roll(foot, foot / 2 + COVERS, high, layer, options, gap)


def _roll(
    foot: float,
    disc: float,
    high: float,
    layer: float,
    options: Mapping[str, OptionValue],
    gap: float,
) -> Roll:
    """A roll of a foot's diameter, with a disc of a radius under it; mm.

    Raises
    ------
    FieldError
        The square takes no spiral; the text names one that does.
    """
    tool = float(options["tool"])
    start = disc + gap
    wanted = math.pi * (foot**2 - tool**2) / 4 / layer
    length = wanted
    if options["from"] == "square":
        side = float(options["square"])
        found = spiral_in_square(start, high, side, gap)
        if found is None:
            least = rounded_up(Spiral(start, high, 1.0, gap).square[0], 0)
            raise FieldError(
                "square",
                f"{number_text(side)} mm takes no spiral of this width",
                f"Use {number_text(least)} mm.",
                (option_way("square", least),),
            )
        length = min(length, found.length)
    spiral = spiral_of_length(start, high, length, gap)
    core = max(tool, core_left(foot, layer, spiral.length))
    return Roll(high, foot, core, layer, disc, spiral, wanted)


def second_roll(
    outer: Roll, board: Board, options: Mapping[str, OptionValue]
) -> tuple[Roll, Piece] | None:
    """What is wound into the middle of another roll, and its piece; None where none fits."""
    layer = board.thickness * float(options["relax"]) / 100
    foot = outer.core - 2 * FREE
    if foot < float(options["tool"]) + 2 * LEAST_TURNS * layer:
        return None
    for gap in GAPS:
        made = _roll(foot, foot / 2, outer.high, layer, options, gap)
        if (piece := _wound(made, board, options, "second", "second spiral")) is not None:
            return made, piece
    return None


def lying_flat(
    width: float, high: float, board: Board, options: Mapping[str, OptionValue]
) -> tuple[Roll, Piece] | None:
    """The spiral and its piece, its turns as near as they lie flat beside one another.

    Raises
    ------
    FieldError
        The square takes no spiral; the text names one that does.
    """
    for gap in GAPS:
        made = roll_of(width, high, board, options, gap)
        if (piece := _wound(made, board, options, "strip", "spiral")) is not None:
            return made, piece
    return None


def _wound(
    made: Roll, board: Board, options: Mapping[str, OptionValue], part: str, title: str
) -> Piece | None:
    """The spiral as a piece; None where its turns do not lie flat beside one another."""
    deep = float(options["depth"]) / 100 * made.high
    edge = Edge(str(options["edge"]), float(options["scallop"]), deep)
    try:
        piece = wound_piece(made.spiral, made.coil, edge, made.disc, part, title, board, part)
    except ValueError:
        return None
    if not all(shapely.is_valid(panel_shapes(piece))) or overlapping_panels(piece):
        return None
    outline = piece_polygon(piece)
    return piece if outline.is_valid and not _touches(outline) else None


def _touches(outline: shapely.Polygon) -> bool:
    """Whether a turn comes so near to the next that the cutter tears what is between."""
    wider = shapely.get_parts(outline.buffer(CLOSE / 2, quad_segs=2))
    shut = [shapely.Polygon(hole).area for part in wider for hole in part.interiors]
    return max(shut, default=0.0) > NOTCH
