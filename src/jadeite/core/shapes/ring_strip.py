"""A strip wound to a coil in the middle of a flower of rings, plain or as a tuft."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass

import numpy as np

from jadeite.core.blooms import MIDDLE, Coil, Stack, strip_piece, wound_centre
from jadeite.core.blooms.strips import Strip
from jadeite.core.blooms.winding import DISC
from jadeite.core.boards import Board
from jadeite.core.errors import FieldError, option_way
from jadeite.core.nets.arrivals import Arrival, When
from jadeite.core.nets.model import Floats, Joint, Kind, Piece, Shaping
from jadeite.core.reckoning import Mark, Reckoning, constant, given, reckon
from jadeite.core.shapes.registry import Option, OptionValue
from jadeite.core.shapes.rolls import LEAST_TURNS, RELAX, TOOL
from jadeite.core.units import number_text, rounded_down, rounded_up

__all__ = [
    "STRIP_OPTIONS",
    "STRIP_PART",
    "Wound",
    "check_strip",
    "narrower",
    "standing",
    "wound_in",
]

Boards = Mapping[str, Board]
Options = Mapping[str, OptionValue]

STRIP_PART = "centre-strip"
HIGH, LEAST_HIGH, MOST_HIGH = 8.0, 4.0, 30.0  # mm; from memory, as high as the middle is wide
LEAST, MOST = 3.0, 30.0  # mm across; from memory, a smaller coil cannot be held
OPENS, MOST_OPEN = 0.8, 60.0  # of the room beside petals, and degrees; from memory
STANDS = 0.98  # of the innermost middle's width, so that all of it lands; from memory
MOST_TURNS = 30.0  # from memory, a hand winds no more for one flower
NARROWER = (0.8, 0.6, 0.4)  # of its width, tried in turn; from memory
STANDING = (
    "Glue on its disc; set it down into the middle of the flower and press it "
    "with the blunt end of a pencil."
)
ONLY = (("centre-piece", ("strip",)),)
STRIP_OPTIONS = (
    Option("strip-high", "Strip, high", HIGH, "From the middle on which it stands to its edge.",
           "mm", LEAST_HIGH, MOST_HIGH, only=ONLY),
    Option("strip-edge", "Strip, upper edge", "fringe",
           "Cut to a fringe it opens to a tuft; plain it is a tight coil.",
           choices=(("fringe", "a fringe"), ("plain", "plain")), only=ONLY),
)  # fmt: skip


@dataclass(frozen=True)
class Wound:
    """The strip as it stands in the flower, its joint and arrival, how it is wound, how long it is.

    ``top`` is over the lowest ring's middle surface, mm.
    """

    piece: Piece
    place: Floats
    joint: Joint
    arrival: Arrival
    shaping: Shaping
    length: Reckoning
    top: float

    def sizes(self, height: Reckoning, lowest: float) -> dict[str, Reckoning]:
        """Its length, and the flower's height where it stands out; ``lowest`` as ``top``, mm."""
        out = {"strip-length": self.length}
        if self.top - lowest > height.value:
            out["finished-height"] = reckon(
                height.name,
                self.top - lowest,
                f"{height.rule}; or to the upper edge of the strip in the middle",
                given("petals", height.value),
                given("to the upper edge of the strip", self.top - lowest),
            )
        return out


def _range(boards: Boards) -> tuple[float, float]:
    """Narrowest and widest coil in mm that a hand winds of its board."""
    layer = boards[STRIP_PART].thickness * RELAX / 100
    least = max(LEAST, rounded_up(TOOL + 2 * LEAST_TURNS * layer))
    return least, min(MOST, rounded_down(TOOL + 2 * MOST_TURNS * layer))


def check_strip(boards: Boards, options: Options, works: Callable[[float], bool]) -> None:
    """Refuse a coil that is wound too often, or hardly at all.

    ``works`` says of another width in mm whether the rings have room for it.

    Raises
    ------
    FieldError
        The text names the width that works.
    """
    across, (least, most) = float(options["pearl"]), _range(boards)
    if options["centre-piece"] != "strip" or least <= across <= most:
        return
    problem = f"a strip of this board is wound to {number_text(least)} to {number_text(most)} mm"
    near = most if across > most else least
    for width in (near, *(max(least, rounded_down(share * near)) for share in NARROWER)):
        if works(width):
            cure = f"Use {number_text(width)} mm."
            raise FieldError("pearl", problem, cure, (option_way("pearl", width),))
    way = option_way("centre-piece", "none")
    raise FieldError("pearl", problem, "Put nothing in the middle.", (way,))


def narrower(boards: Boards, options: Options) -> Iterator[float]:
    """Widths in mm of a coil that needs less of a middle, the widest first; none without one."""
    if options["centre-piece"] == "strip":
        widths = [rounded_down(share * float(options["pearl"])) for share in NARROWER]
        yield from (width for width in widths if width >= _range(boards)[0])


def standing(options: Options) -> float:
    """Radius in mm that the innermost middle has for what stands on it; 0 for nothing."""
    across = float(options["pearl"]) if options["centre-piece"] == "strip" else 0.0
    return across / 2 / STANDS


def wound_in(stack: Stack, boards: Boards, options: Options) -> Wound | None:
    """The strip in the middle, if one is asked for."""
    if options["centre-piece"] != "strip":
        return None
    board, inner = boards[STRIP_PART], stack.layers[-1]
    across, high = float(options["pearl"]), float(options["strip-high"])
    layer = board.thickness * RELAX / 100
    length = math.pi * (across**2 - TOOL**2) / 4 / layer
    coil = Coil(TOOL, layer, length)
    fringed = options["strip-edge"] == "fringe"
    # petals round it stand less steep than its strands
    opens = OPENS * min(MOST_OPEN, 90.0 - inner.ring.form.rise) if fringed else 0.0
    piece = strip_piece(high, coil, STRIP_PART, "centre", board, opens)
    level = stack.levels[-1] + (inner.ring.asked.thickness + board.thickness) / 2
    x, y = wound_centre(Strip(high, length), coil).tolist()
    place: Floats = np.diag([1.0, -1.0, -1.0, 1.0])  # turned over: its disc lies below
    place[:3, 3] = -x, y, level
    on = (inner.name, MIDDLE)
    carrier = [layer for layer in stack.layers if not layer.ply][-1]  # plies come with it
    joint = Joint(Kind.GLUE, (STRIP_PART, DISC), on, "centre", "inside")
    return Wound(
        piece,
        place,
        joint,
        Arrival(STRIP_PART, When.FOLDED, on, hint=STANDING, after=(carrier.name,)),
        _shaping(coil, fringed=fringed),
        _length(coil, board, across),
        level + high,
    )


def _shaping(coil: Coil, *, fringed: bool) -> Shaping:
    """How it is wound."""
    words = (
        "Its free end into the slot of the winding tool, good side outwards; wind it tightly, the "
        "lower edge kept in line. Off the tool, a dot of glue under the last turn; then fold the "
        "disc over the foot and glue it on."
    )
    if fringed:
        words += " Open the fringe with a fingertip, the outer turns first."
    return Shaping(
        "Wind the strip for the middle",
        words,
        (STRIP_PART,),
        max(1, round(coil.turns)),
        glued=True,
    )


def _length(coil: Coil, board: Board, across: float) -> Reckoning:
    return reckon(
        "Strip for the middle, long",
        coil.length,
        "the area of all layers, wound round the tool",
        given("across", across),
        constant("winding tool", TOOL, "mm", Mark.PRACTICE),
        given("board thickness", board.thickness),
        constant("a layer takes, of the board", RELAX, "%", Mark.MEMORY),
    )
