"""Rolled flower: a spiral with a scalloped edge, wound from its outer end onto a closing disc."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

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
from jadeite.core.blooms.winding import DISC, STEEPEST
from jadeite.core.boards import Board
from jadeite.core.boards.fits import USUAL, Fits
from jadeite.core.errors import FieldError, option_way
from jadeite.core.findings import Cure, Finding, Level
from jadeite.core.nets.checks import overlapping_panels, panel_shapes
from jadeite.core.nets.model import Design, Dimension, Piece, Shaping
from jadeite.core.nets.outline import piece_polygon
from jadeite.core.reckoning import Mark, Reckoning, constant, given, reckon
from jadeite.core.shapes.blooming import PETAL_COLOUR, holds_nothing
from jadeite.core.shapes.registry import Option, OptionValue, ShapeFamily, Size, register
from jadeite.core.units import number_text, rounded_down, rounded_up

__all__ = ["ROLLED_FLOWER"]

SMALLEST, LARGEST = 16.0, 120.0  # mm; from memory
STARTS = (30.0, 0.0)  # mm; from memory, about what a square of 108 mm gives of card
LEAST_HIGH, MOST_HIGH = 4.0, 60.0  # mm of the strip; from memory
HIGH = 0.31  # of the width is the usual height; from memory
TOOL = 2.5  # mm across; common practice, a slotted winding tool for paper strips
COVERS = 0.8  # mm; from memory, by which the disc reaches beyond the foot all round
RELAX = 140.0  # % of the board that a layer takes once it is let go; from memory, trials teach it
WIDE, DEEP = 9.0, 32.0  # mm, and % of the strip, of a scallop; from memory
MOST_SQUARE = 600.0  # mm; from memory
SQUARE = 108.0  # mm; common practice, what a small cutter takes
HOLLOW = 4.0  # mm; from memory, a smaller hollow closes by itself
CLOSE = 0.3  # mm; from memory, between two turns a narrower gap tears
GAPS = (GAP, 1.2, 2.4)  # mm from turn to turn that are tried; from memory
NOTCH = 2.0  # mm²; from memory, a smaller one beside the neck or a scallop holds
LOWER = 0.88  # by which a strip is made narrower until it lies flat; from memory
OUTER = 3.0  # turns of the flat spiral in which half a turn of the coil lies; from memory
MOST_TURNS = 60.0  # of the coil; from memory, no hand winds more
LEAST_TURNS = 2.0  # of the coil; from memory, less is no flower
STRIP = "strip"

# from memory
OPTIONS = (
    Option(
        "edge",
        "Edge",
        "round",
        "How the strip's upper edge is cut: it becomes the petals' rims.",
        choices=(
            ("round", "round"),
            ("pointed", "pointed"),
            ("wavy", "wavy"),
            ("plain", "plain"),
        ),
    ),
    Option("scallop", "Scallops, wide", WIDE, "From one to the next along the strip.",
           "mm", 3.0, 25.0),
    Option("depth", "Scallops, deep", DEEP, "How far they are cut into the strip, of its width.",
           "%", 4.0, 60.0),
    Option(
        "from",
        "Cut from",
        "any",
        "A square that a cutter or a sheet takes limits how long the strip is; then its middle "
        "may stay open.",
        choices=(("any", "any size"), ("square", "a square of")),
    ),
    Option("square", "Square", SQUARE, "The side of the square.", "mm", 80.0, MOST_SQUARE),
    Option("tool", "Winding tool", TOOL, "Across its slot: what the first turn goes round.",
           "mm", 1.0, 5.0),
    Option(
        "relax",
        "A layer takes",
        RELAX,
        "Of the board's thickness, once it is let go: your own trials say it best.",
        "%",
        100.0,
        250.0,
    ),
)  # fmt: skip


@dataclass(frozen=True)
class _Rolled:
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
        return _opens_to(self.foot, self.high, self.layer)


def _opens_to(foot: float, high: float, layer: float) -> float:
    """Width in mm of a coil of a foot's diameter: its outermost layer and that half a turn on."""
    along = np.array([0.0, math.pi * foot / 2])
    spiral = Spiral(foot / 2 + COVERS + GAP, high, OUTER)
    radius = np.sqrt(np.maximum(0.0, (foot / 2) ** 2 - layer * along / math.pi))
    lean = np.minimum(STEEPEST, radius / spiral.bend(spiral.angles(along)))
    return float((radius + high * lean).sum())


def _foot_for(width: float, high: float, layer: float) -> float:
    """The foot's diameter in mm with which it opens to a width: found by halving."""
    low, most = 0.0, width
    while most - low > 1e-9 * width:
        middle = (low + most) / 2
        wider = _opens_to(middle, high, layer) > width
        low, most = (low, middle) if wider else (middle, most)
    return most


def _rolled(
    width: float,
    high: float,
    board: Board,
    options: Mapping[str, OptionValue],
    gap: float = GAP,
) -> _Rolled:
    """The spirals for a finished width and height in mm.

    Raises
    ------
    FieldError
        The square takes no spiral; the text names one that does.
    """
    tool = float(options["tool"])
    layer = board.thickness * float(options["relax"]) / 100
    foot = _foot_for(width, high, layer)
    disc = foot / 2 + COVERS
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
    return _Rolled(high, foot, core, layer, disc, spiral, wanted)


def build_rolled(
    span: Size,
    boards: Mapping[str, Board],
    options: Mapping[str, OptionValue],
    fits: Fits = USUAL,
) -> Design:
    """A rolled flower of a finished width and, unless it is 0, height; mm.

    Raises
    ------
    FieldError
        It cannot be so wide or so high, or of that square; the text names what works.
    """
    width, height, _ = span
    board = boards[STRIP]
    _check(width, height, board, options)
    high = height or _usual(width)
    if _turns(width, high, board, options) < LEAST_TURNS:
        words = f"{number_text(high)} mm is too high for {number_text(width)} mm across"
        raise _too_high(words, width, high, board, options)
    found = _lying_flat(width, high, board, options)
    if found is None:
        words = f"a strip {number_text(high)} mm wide does not lie flat for {number_text(width)} mm"
        raise _too_high(words, width, high, board, options)
    made, piece = found
    return Design(
        family="rolled-flower",
        title="Rolled flower",
        pieces=(piece,),
        placements={STRIP: np.eye(4)},
        joints=(),
        hollow=None,
        sizes=_sizes(made, board, options),
        dimensions=_dimensions(made),
        shaping=_shaping(made),
        findings=_findings(made, options),
    )


def _lying_flat(
    width: float, high: float, board: Board, options: Mapping[str, OptionValue]
) -> tuple[_Rolled, Piece] | None:
    """The spiral and its piece, its turns as near as they lie flat beside one another.

    Raises
    ------
    FieldError
        The square takes no spiral; the text names one that does.
    """
    for gap in GAPS:
        made = _rolled(width, high, board, options, gap)
        if (piece := _wound(made, board, options)) is not None:
            return made, piece
    return None


def _wound(made: _Rolled, board: Board, options: Mapping[str, OptionValue]) -> Piece | None:
    """The spiral as a piece; None where its turns do not lie flat beside one another."""
    deep = float(options["depth"]) / 100 * made.high
    edge = Edge(str(options["edge"]), float(options["scallop"]), deep)
    try:
        piece = wound_piece(made.spiral, made.coil, edge, made.disc, STRIP, "spiral", board, STRIP)
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


def _too_high(
    words: str, width: float, high: float, board: Board, options: Mapping[str, OptionValue]
) -> FieldError:
    """Why a strip so wide cannot be wound to a flower of this width, and a height that can."""
    lower = high
    while lower > LEAST_HIGH:
        lower = max(LEAST_HIGH, rounded_down(LOWER * lower))
        if _turns(width, lower, board, options) < LEAST_TURNS:
            continue
        try:
            fits = _lying_flat(width, lower, board, options) is not None
        except FieldError:
            continue  # no spiral so high in the square
        if fits:
            cure = f"Use {number_text(lower)} mm."
            return FieldError("height", words, cure, ((("brief.height", lower),),))
    return FieldError("height", words, "Choose a thinner board, or another width.")


def _turns(width: float, height: float, board: Board, options: Mapping[str, OptionValue]) -> float:
    """How often a flower of a width is wound, of a height in mm or, where that is 0, the usual."""
    layer = board.thickness * float(options["relax"]) / 100
    foot = _foot_for(width, height or _usual(width), layer)
    return (foot - float(options["tool"])) / 2 / layer


def _usual(width: float) -> float:
    """The usual height in mm of a flower of a width."""
    return min(MOST_HIGH, max(LEAST_HIGH, HIGH * width))


def _check(width: float, height: float, board: Board, options: Mapping[str, OptionValue]) -> None:
    """Refuse what is too small, too large, or would be wound too often.

    Raises
    ------
    FieldError
        It names the nearest that works.
    """
    if height and not LEAST_HIGH <= height <= MOST_HIGH:
        near = MOST_HIGH if height > MOST_HIGH else LEAST_HIGH
        raise FieldError(
            "height",
            f"{number_text(height)} mm is outside what a strip can be",
            f"Use {number_text(near)} mm.",
            ((("brief.height", near),),),
        )
    words = f"{number_text(width)} mm is outside what a rolled flower can be"
    near = min(max(width, SMALLEST), LARGEST) if width == width else SMALLEST  # refuses nan too
    turns = _turns(near, height, board, options)
    if turns > MOST_TURNS:
        words = (
            f"{number_text(width)} mm of {board.title.lower()} would be wound more than "
            f"{MOST_TURNS:.0f} times"
        )
        while near > SMALLEST and _turns(near, height, board, options) > MOST_TURNS:
            near = max(SMALLEST, rounded_down(0.97 * near))
    if near != width:
        cure = f"Use {number_text(near)} mm."
        raise FieldError("width", words, cure, ((("brief.width", near),),))


def _sizes(made: _Rolled, board: Board, options: Mapping[str, OptionValue]) -> dict[str, Reckoning]:
    coil, layer = made.coil, made.layer
    tool = float(options["tool"])
    hollow = made.core if made.core > tool + 1e-6 else 0.0
    takes = reckon(
        "a layer",
        layer,
        "the board, and what it springs back by",
        given("board thickness", board.thickness),
        constant("a layer takes, of the board", float(options["relax"]), "%", Mark.MEMORY),
    )
    length = reckon(
        "Strip length",
        made.spiral.length,
        "along the foot: what closes the middle, or what the square gives",
        given("to close the middle", made.wanted),
    )
    foot = reckon(
        "Foot, across",
        coil.width,
        "the area of all layers, wound round what stays open",
        given("middle", made.core),
        takes,
        given("strip length", made.spiral.length),
    )
    return {
        "finished-width": reckon(
            "Finished width",
            made.open_to,
            "the foot, and what the outermost layer leans out: an estimate",
            foot,
            given("strip, wide", made.high),
        ),
        "finished-height": reckon(
            "Finished height",
            made.high,
            "the strip's width: near the core it stands upright",
            given("strip, wide", made.high),
        ),
        "fullness": reckon(
            "Fullness",
            100 * (1 - (hollow / made.open_to) ** 2),
            "share of the disc of the finished width that paper fills, seen from above",
            given("hollow", hollow),
            unit="%",
        ),
        "hollow-centre": reckon(
            "Hollow in the middle",
            hollow,
            "what is left of the foot's disc once all layers are wound",
            given("foot, across", made.foot),
            takes,
            given("strip length", made.spiral.length),
            given("to close it, it would take", made.wanted),
        ),
        "strip-length": length,
        "foot-width": foot,
        "turns": reckon(
            "Turns",
            coil.turns,
            "half of the foot less the middle, by the layers",
            given("foot, across", coil.width),
            given("middle", made.core),
            takes,
            unit="",
        ),
        "square": reckon(
            "Cut from a square of",
            made.spiral.square[0],
            "the least square that takes the spiral, however it is turned",
            given("strip, wide", made.high),
            constant("between two turns", made.spiral.gap, "mm", Mark.MEMORY),
        ),
        "disc": reckon(
            "Closing disc",
            2 * made.disc,
            "the foot, and a little all round to glue",
            given("foot, across", made.foot),
            constant("beyond the foot", COVERS, "mm", Mark.MEMORY),
        ),
    }


def _shaping(made: _Rolled) -> tuple[Shaping, ...]:
    """How it is wound, let go, and closed."""
    names = (STRIP,)
    turns = number_text(made.coil.turns, 0)
    wind = (
        "The side that will show lies up. Put the outer end into the slot of the tool and wind "
        "fairly tightly, the lower edge kept in line, until the closing disc is reached: about "
        f"{turns} turns. Small nicks of the cut vanish in the roll."
    )
    loose = (
        "Take it off the tool, tighten it once, and let it go on the table: it opens to "
        f"about {number_text(made.foot, 0)} mm across its foot, {number_text(made.open_to, 0)} mm "
        "across the petals. Turn it a little between two fingers until it has its size."
    )
    close = (
        "Glue on the whole foot, fold the disc over it and press it on the table until it holds; a "
        "dot of glue for the end that is left."
    )
    if made.core > HOLLOW:
        close += (
            f" The middle stays open by {number_text(made.core, 0)} mm: fill it with a gem or a "
            "tuft."
        )
    return (
        Shaping("Wind the strip", wind, names, max(1, round(made.coil.turns))),
        Shaping("Let it find its size", loose, names, 2),
        Shaping("Close its foot with the disc", close, names, 6, glued=True),
    )


def _findings(made: _Rolled, options: Mapping[str, OptionValue]) -> tuple[Finding, ...]:
    """A middle that stays open, and what closes it."""
    if made.core <= max(HOLLOW, float(options["tool"])):
        return ()
    length, side = made.spiral.length, made.spiral.square[0]
    words = (
        f"The middle stays open by {number_text(made.core)} mm: {number_text(length, 0)} mm "
        f"of strip are wound where {number_text(made.wanted, 0)} mm would close it. Fill it with a "
        "gem or a tuft, or take a thicker paper or a larger square."
    )
    whole = spiral_of_length(made.spiral.start, made.high, made.wanted, made.spiral.gap).square[0]
    wide = rounded_up(whole, 0)
    cure: Cure | None = None
    if side < wide <= MOST_SQUARE:
        words_ = f"Use a square of {number_text(wide, 0)} mm"
        cure = Cure(words_, (("shape.options.square", wide),))
    return (Finding(Level.LOOK, "hollow-centre", words, f"{STRIP}/{DISC}", "shape", cure),)


def _dimensions(made: _Rolled) -> tuple[Dimension, ...]:
    half = made.open_to / 2
    start, end = (-half, -half, 0.0), (half, -half, 0.0)
    return (Dimension("finished, width", STRIP, DISC, start, end, (0.0, -1.0, 0.0), 2 * half),)


def rolled_board_area(
    span: Any, boards: Mapping[str, Board], options: Mapping[str, OptionValue]
) -> Any:
    """Board in mm², about that of the square; rises with the width."""
    return 8.0 * span[0] * span[0]


def tones(colours: Mapping[str, str], options: Mapping[str, OptionValue]) -> dict[str, str]:
    """The usual colour."""
    return {STRIP: PETAL_COLOUR}


ROLLED_FLOWER = register(
    ShapeFamily(
        key="rolled-flower",
        title="Rolled flower",
        short="Rolled flower",
        purpose="bloom",
        about="A spiral with a scalloped edge, wound on a slotted tool onto a closing disc.",
        parts=((STRIP, "Spiral"),),
        options=OPTIONS,
        build=build_rolled,
        board_area=rolled_board_area,
        smallest=SMALLEST,
        largest=LARGEST,
        usual={STRIP: "light-card"},
        answers=("span",),
        starts=STARTS,
        takes=holds_nothing,
        tones=tones,
    )
)
