"""Rolled flower: a spiral with a scalloped edge, wound from its outer end onto a closing disc."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

import numpy as np

from jadeite.core.blooms import spiral_of_length, wound_centre
from jadeite.core.blooms.winding import DISC
from jadeite.core.boards import Board
from jadeite.core.boards.fits import USUAL, Fits
from jadeite.core.colours import mix
from jadeite.core.errors import FieldError, option_way
from jadeite.core.findings import Cure, Finding, Level
from jadeite.core.nets.arrivals import Arrivals
from jadeite.core.nets.model import Design, Dimension, Shaping
from jadeite.core.reckoning import Mark, Reckoning, constant, given, reckon
from jadeite.core.shapes.blooming import PETAL_COLOUR, holds_nothing
from jadeite.core.shapes.finishing import STAYS_OPTION, finish_findings, finish_for
from jadeite.core.shapes.registry import Option, OptionValue, ShapeFamily, Size, register
from jadeite.core.shapes.rolled_middle import (
    MIDDLE_OPTION,
    SECOND,
    Second,
    filling_sizes,
    needless,
    pearl_in,
    second_in,
)
from jadeite.core.shapes.rolls import (
    COVERS,
    LEAST_TURNS,
    RELAX,
    TOOL,
    Roll,
    foot_for,
    lying_flat,
    second_roll,
)
from jadeite.core.units import number_text, rounded_down, rounded_up

__all__ = ["ROLLED_FLOWER"]

SMALLEST, LARGEST = 16.0, 120.0  # mm; from memory
STARTS = (30.0, 0.0)  # mm; from memory, about what a square of 108 mm gives of card
LEAST_HIGH, MOST_HIGH = 4.0, 60.0  # mm of the strip; from memory
HIGH = 0.31  # of the width is the usual height; from memory
WIDE, DEEP = 9.0, 32.0  # mm, and % of the strip, of a scallop; from memory
MOST_SQUARE = 600.0  # mm; from memory
SQUARE = 108.0  # mm; common practice, what a small cutter takes
HOLLOW = 4.0  # mm; from memory, a smaller hollow closes by itself
LOWER = 0.88  # by which a strip is made narrower until it lies flat; from memory
MOST_TURNS = 60.0  # of the coil; from memory, no hand winds more
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
    MIDDLE_OPTION,
    STAYS_OPTION,
)  # fmt: skip


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
    found = lying_flat(width, high, board, options)
    if found is None:
        words = f"a strip {number_text(high)} mm wide does not lie flat for {number_text(width)} mm"
        raise _too_high(words, width, high, board, options)
    made, piece = found
    second, pearl = second_in(made, boards, options, HOLLOW), pearl_in(made, options)
    sizes = _sizes(made, second, board, options)
    more = [] if second is None else [second]
    return Design(
        family="rolled-flower",
        title="Rolled flower",
        pieces=(piece, *(one.piece for one in more)),
        placements={STRIP: np.eye(4), **{one.piece.name: one.place for one in more}},
        joints=tuple(one.joint for one in more),
        hollow=None,
        sizes=sizes | filling_sizes(sizes["finished-height"], second, pearl),
        dimensions=_dimensions(made),
        arrivals=Arrivals([one.arrival for one in more]),
        shaping=(*_shaping(made, options), *(one.shaping for one in more)),
        findings=(
            *_findings(made, second, boards, options),
            *needless(second, made, options),
            *finish_findings(options),
        ),
        bought=(*pearl, *finish_for((STRIP, DISC), options)),
    )


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
            fits = lying_flat(width, lower, board, options) is not None
        except FieldError:
            continue  # no spiral so high in the square
        if fits:
            cure = f"Use {number_text(lower)} mm."
            return FieldError("height", words, cure, ((("brief.height", lower),),))
    return FieldError("height", words, "Choose a thinner board, or another width.")


def _turns(width: float, height: float, board: Board, options: Mapping[str, OptionValue]) -> float:
    """How often a flower of a width is wound, of a height in mm or, where that is 0, the usual."""
    layer = board.thickness * float(options["relax"]) / 100
    foot = foot_for(width, height or _usual(width), layer)
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


def _sizes(
    made: Roll, second: Second | None, board: Board, options: Mapping[str, OptionValue]
) -> dict[str, Reckoning]:
    coil, layer = made.coil, made.layer
    tool = float(options["tool"])
    hollow = made.core if made.core > tool + 1e-6 else 0.0
    left = made.core if second is None else second.roll.core
    left = left if left > tool + 1e-6 else 0.0
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
            100 * (1 - (left / made.open_to) ** 2),
            "share of the disc of the finished width that paper fills, seen from above",
            given("stays open", left),
            unit="%",
        ),
        "hollow-centre": reckon(
            "Hollow in the middle",
            hollow,
            "what is left of the foot's disc once all layers of the strip are wound",
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


def _shaping(made: Roll, options: Mapping[str, OptionValue]) -> tuple[Shaping, ...]:
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
    if made.core > HOLLOW and options["filling"] == "none":
        close += (
            f" The middle stays open by {number_text(made.core, 0)} mm: fill it with a gem or a "
            "tuft."
        )
    return (
        Shaping("Wind the strip", wind, names, max(1, round(made.coil.turns))),
        Shaping("Let it find its size", loose, names, 2),
        Shaping("Close its foot with the disc", close, names, 6, glued=True),
    )


def _findings(
    made: Roll,
    second: Second | None,
    boards: Mapping[str, Board],
    options: Mapping[str, OptionValue],
) -> tuple[Finding, ...]:
    """A middle that stays open, and what closes it."""
    inner = made if second is None else second.roll
    if inner.core <= max(HOLLOW, float(options["tool"])) or options["filling"] == "pearl":
        return ()
    length = made.spiral.length + (0.0 if second is None else inner.spiral.length)
    wanted = made.wanted if second is None else made.spiral.length + inner.wanted
    words = (
        f"The middle stays open by {number_text(inner.core)} mm: {number_text(length, 0)} mm "
        f"of strip are wound where {number_text(wanted, 0)} mm would close it. Fill it with a "
        "gem or a tuft, or take a thicker paper or a larger square."
    )
    cure = _closing(made, boards, options)
    return (Finding(Level.LOOK, "hollow-centre", words, f"{STRIP}/{DISC}", "shape", cure),)


def _closing(
    made: Roll, boards: Mapping[str, Board], options: Mapping[str, OptionValue]
) -> Cure | None:
    """What closes an open middle: a second spiral from another such square, or a larger one."""
    found = second_roll(made, boards[SECOND], options) if options["filling"] == "none" else None
    if found is not None and found[0].core <= max(HOLLOW, float(options["tool"])):
        return Cure("Wind a second spiral into it", option_way("filling", "spiral"))
    whole = spiral_of_length(made.spiral.start, made.high, made.wanted, made.spiral.gap).square[0]
    wide = rounded_up(whole, 0)
    if not made.spiral.square[0] < wide <= MOST_SQUARE:
        return Cure("Fill it with a pearl", option_way("filling", "pearl"))
    way = (*option_way("square", wide), *option_way("filling", "none"))
    return Cure(f"Use a square of {number_text(wide, 0)} mm", way)


def _dimensions(made: Roll) -> tuple[Dimension, ...]:
    half = made.open_to / 2
    x, y = wound_centre(made.spiral, made.coil).tolist()
    start, end = (x - half, y - half, 0.0), (x + half, y - half, 0.0)
    down = (0.0, -1.0, 0.0)
    return (Dimension("finished, width", STRIP, DISC, start, end, down, 2 * half, finished=True),)


def rolled_board_area(
    span: Any, boards: Mapping[str, Board], options: Mapping[str, OptionValue]
) -> Any:
    """Board in mm², about that of the square; rises with the width."""
    return 8.0 * span[0] * span[0]


def tones(colours: Mapping[str, str], options: Mapping[str, OptionValue]) -> dict[str, str]:
    """The usual colour, and a shade darker in the middle."""
    first = colours.get(STRIP, PETAL_COLOUR)
    return {STRIP: first, SECOND: mix(first, "#B5724F", 0.22)}


ROLLED_FLOWER = register(
    ShapeFamily(
        key="rolled-flower",
        title="Rolled flower",
        short="Rolled flower",
        purpose="bloom",
        about="A spiral with a scalloped edge, wound on a slotted tool onto a closing disc.",
        parts=((STRIP, "Spiral"), (SECOND, "Second spiral")),
        when={SECOND: ("filling", "spiral")},
        follows={SECOND: STRIP},
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
