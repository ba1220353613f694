"""What fills the middle of a rolled flower that stays open: a pearl, or a second spiral."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from jadeite.core.blooms import wound_centre
from jadeite.core.blooms.winding import DISC
from jadeite.core.boards import Board
from jadeite.core.errors import option_way
from jadeite.core.findings import Cure, Finding, Level
from jadeite.core.nets.arrivals import Arrival, When
from jadeite.core.nets.bought import Bought
from jadeite.core.nets.model import Floats, Joint, Kind, Piece, Shaping
from jadeite.core.reckoning import Reckoning, given, reckon
from jadeite.core.shapes.registry import Option, OptionValue
from jadeite.core.shapes.ring_centre import SMALL_PARTS
from jadeite.core.shapes.rolls import Roll, second_roll
from jadeite.core.units import number_text

__all__ = [
    "MIDDLE_OPTION",
    "SECOND",
    "Second",
    "filling_sizes",
    "needless",
    "pearl_in",
    "second_in",
]

SECOND = "second"
STRIP = "strip"
EVEN = 1e-6  # mm; rounding
LEAST_PEARL, STEP = 3.0, 0.5  # mm; from memory, as pearls are sold
PUSHED = (
    "Glue on its disc and a little round its foot; push it down into the hollow until it stands on "
    "the first disc, and let both find their size together."
)
MIDDLE_OPTION = Option(
    "filling",
    "In the middle",
    "none",
    "A middle that stays open takes a pearl as wide as it is, or a second strip, wound by itself.",
    choices=(("none", "nothing"), ("pearl", "a pearl"), ("spiral", "a second spiral")),
)


class Second:
    """A second roll as it stands in the first: its piece, place, joint, arrival and winding."""

    def __init__(self, outer: Roll, board: Board, roll: Roll, piece: Piece) -> None:
        self.roll, self.piece = roll, piece
        place: Floats = np.eye(4)
        place[:2, 3] = wound_centre(outer.spiral, outer.coil) - wound_centre(roll.spiral, roll.coil)
        place[2, 3] = (board.thickness + piece.board.thickness) / 2
        self.place = place
        on = (STRIP, DISC)
        self.joint = Joint(Kind.GLUE, (SECOND, DISC), on, "second spiral", "inside")
        self.arrival = Arrival(SECOND, When.FOLDED, on, hint=PUSHED)

    @property
    def shaping(self) -> Shaping:
        """How it is wound."""
        words = (
            "In the same way, and as tightly; glue its own disc under its foot. It is "
            f"{number_text(self.roll.foot, 0)} mm across."
        )
        count = max(1, round(self.roll.coil.turns))
        return Shaping("Wind the second strip", words, (SECOND,), count, glued=True)


def second_in(
    outer: Roll, boards: Mapping[str, Board], options: Mapping[str, OptionValue], hollow: float
) -> Second | None:
    """The second roll, if one is asked for and fits; ``hollow`` in mm is what closes by itself."""
    if options["filling"] != "spiral" or outer.core <= max(hollow, float(options["tool"])):
        return None
    found = second_roll(outer, boards[SECOND], options)
    return None if found is None else Second(outer, boards[STRIP], *found)


def needless(
    second: Second | None, outer: Roll, options: Mapping[str, OptionValue]
) -> list[Finding]:
    """That a second spiral was asked for where the middle takes none."""
    if options["filling"] != "spiral" or second is not None:
        return []
    words = (
        f"The middle of {number_text(outer.core)} mm takes no second spiral: it is wound as one."
    )
    cure = Cure("One spiral", option_way("filling", "none"))
    return [Finding(Level.NOTE, "second-needless", words, f"{STRIP}/{DISC}", "shape", cure)]


def pearl_in(outer: Roll, options: Mapping[str, OptionValue]) -> tuple[Bought, ...]:
    """The pearl, if one is asked for: as wide as the hollow, standing on the disc, or on top."""
    if options["filling"] != "pearl":
        return ()
    across = max(LEAST_PEARL, STEP * (outer.core // STEP))
    x, y = wound_centre(outer.spiral, outer.coil).tolist()
    level = across / 2 if across <= outer.core else outer.high + across / 2
    words = "A drop of glue into the middle, the pearl on it; do not move it until it holds."
    return (
        Bought(
            "pearl",
            across,
            0.0,
            "Glue the pearl into the middle",
            words,
            (STRIP, DISC),
            centre=(x, y, level),
            caution=SMALL_PARTS,
        ),
    )


def filling_sizes(
    height: Reckoning, second: Second | None, pearl: tuple[Bought, ...]
) -> dict[str, Reckoning]:
    """How long the second strip is, and the pearl that the middle takes, which may stand out; mm.

    ``height`` is that of the flower without.
    """
    out = {}
    if second is not None:
        roll = second.roll
        out["stays-open"] = reckon(
            "Stays open",
            roll.core if roll.wanted > roll.spiral.length + EVEN else 0.0,
            "what is left of the hollow once the second spiral stands in it",
            given("second spiral, across", roll.foot),
        )
        out["second-length"] = reckon(
            "Second strip",
            roll.spiral.length,
            "along its foot: what closes the hollow, or what the square gives",
            given("to close the hollow", roll.wanted),
        )
        out["second-square"] = reckon(
            "Second strip, from a square of",
            roll.spiral.square[0],
            "the least square that takes its spiral",
            given("strip, wide", roll.high),
        )
    for one in pearl:
        top = 0.0 if one.centre is None else one.centre[2] + one.across / 2
        if top > height.value:
            out["finished-height"] = reckon(
                height.name,
                top,
                "to the top of the pearl",
                given("strip, wide", height.value),
                given("pearl, across", one.across),
            )
        out["pearl"] = reckon(
            "Pearl, across",
            one.across,
            "the hollow, rounded down to half a millimetre",
            given("hollow", one.across),
        )
    return out
