"""Limits that come from the board: how close scores lie, how tight it rolls, its dashes."""

from __future__ import annotations

import math

from jadeite.core.boards.board import Board
from jadeite.core.reckoning import Mark, Reckoning, constant, given, reckon

__all__ = [
    "MIN_TAB",
    "fold_back_gap",
    "perforation",
    "smallest_roll",
]

MIN_FOLD_BACK = 0.5  # mm; from memory, two scores cannot lie closer
ROLL_PER_THICKNESS = 25.0  # diameter in thicknesses; from memory
MIN_TAB = 6.0  # mm; from memory, a shallower tab does not hold


def fold_back_gap(thickness: float, layers: int) -> float:
    """Distance in mm of the two scores that fold a flap back over ``layers`` plies.

    The panel that the flap lies on counts as one ply.
    """
    return max(layers * thickness, MIN_FOLD_BACK)


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
SLIT_BELOW = 1.0  # mm; from memory, a narrower slot is cut as a slit


# dash and gap in mm up to a thickness: what is left must hold and still fold; from memory
PERFORATIONS = ((0.2, 2.0, 1.5), (0.3, 2.5, 1.2), (math.inf, 3.0, 1.0))


def perforation(board: Board) -> tuple[float, float]:
    """Length in mm of the dashes of a perforated fold and of the gaps between them."""
    return next((dash, gap) for most, dash, gap in PERFORATIONS if board.thickness <= most)
