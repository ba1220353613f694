"""Gaps and depths that come from the board, never from the size of the shape."""

from __future__ import annotations

import math

from jadeite.core.boards.board import Board
from jadeite.core.reckoning import Mark, Reckoning, constant, given, reckon

__all__ = [
    "MIN_TAB",
    "fold_back_gap",
    "lid_clearance",
    "perforation",
    "ribbon_slit",
    "slot_ease",
    "smallest_roll",
    "tab_depth_rule",
]

LID_EASE = 1.6  # mm in total (1/16 in); common practice
LID_EASE_THICKNESS = 0.35  # mm; from memory, boards up to this need no more ease
MIN_FOLD_BACK = 0.5  # mm; from memory, two scores cannot lie closer
ROLL_PER_THICKNESS = 25.0  # diameter in thicknesses; from memory
TAB_DEPTH = 10.0  # mm; from memory, user default
MIN_TAB = 6.0  # mm; from memory, a shallower tab does not hold
# a slot is wider than the board it takes by this much, in mm, up to a thickness; from memory
SLOT_EASE_THIN, SLOT_EASE_THICK, SLOT_THIN = 0.1, 0.15, 0.5


def lid_clearance(board: Board) -> Reckoning:
    """Lid inside less tray outside, in total across both walls, in mm."""
    ease = constant("ease of a card lid", LID_EASE, "mm", Mark.PRACTICE)
    extra = 2 * max(0.0, board.thickness - LID_EASE_THICKNESS)
    more = reckon(
        f"board {board.thickness:.2f} mm: adds {'nothing' if extra == 0 else 'twice what is'} "
        f"{'below' if extra == 0 else 'above'} {LID_EASE_THICKNESS}",
        extra,
        "twice the thickness above 0.35 mm",
        given("board thickness", board.thickness),
        constant("thickness that needs no more", LID_EASE_THICKNESS, "mm", Mark.MEMORY),
    )
    return reckon(
        "Lid over tray",
        LID_EASE + extra,
        "in total, across both walls; equal sizes bind",
        ease,
        more,
    )


def fold_back_gap(thickness: float, layers: int) -> float:
    """Distance in mm of the two scores that fold a flap back over ``layers`` plies.

    The panel that the flap lies on counts as one ply.
    """
    return max(layers * thickness, MIN_FOLD_BACK)


def tab_depth_rule(room: float, limit: str) -> Reckoning:
    """Depth of a glue tab: 10 mm, less where its target has less ``room`` (mm)."""
    usual = constant("usual depth", TAB_DEPTH, "mm", Mark.MEMORY)
    have = reckon("room on its target", room, limit)
    return reckon(
        "Tab depth", min(TAB_DEPTH, room), "the smaller; under 6 mm it would not hold", usual, have
    )


def smallest_roll(board: Board) -> Reckoning:
    """The smallest diameter in mm to which the board may be rolled."""
    return reckon(
        "Smallest curl",
        ROLL_PER_THICKNESS * board.thickness,
        "25 times the thickness, as a diameter",
        given("board thickness", board.thickness),
        constant("thicknesses across", ROLL_PER_THICKNESS, "", Mark.MEMORY),
    )


SLOT_AROUND = 4.0  # mm of board that a slot or slit needs around it; from memory
SLOT_LONGER = 0.6  # mm beyond the tongue; from memory
SLIT_BELOW = 1.0  # mm; from memory, a narrower slot is cut as a slit
RIBBON_LONGER = 2.0  # mm beyond the ribbon; from memory


DRAWER_WIDTH, DRAWER_HEIGHT = 2.0, 1.5  # mm in total that a drawer has to run; from memory


def ribbon_slit(ribbon: float) -> float:
    """Length in mm of the slit for a ribbon of a width in mm."""
    return ribbon + RIBBON_LONGER


def slot_ease(thickness: float) -> float:
    """How much wider in mm a slot is than the board of ``thickness`` mm that it takes."""
    return SLOT_EASE_THIN if thickness <= SLOT_THIN else SLOT_EASE_THICK


# dash and gap in mm up to a thickness: what is left must hold and still fold; from memory
PERFORATIONS = ((0.2, 2.0, 1.5), (0.3, 2.5, 1.2), (math.inf, 3.0, 1.0))


def perforation(board: Board) -> tuple[float, float]:
    """Length in mm of the dashes of a perforated fold and of the gaps between them."""
    return next((dash, gap) for most, dash, gap in PERFORATIONS if board.thickness <= most)
