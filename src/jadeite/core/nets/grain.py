"""Which way the grain should run through a piece, from its folds and curls.

A fold along the grain is clean; across it a heavy board cracks.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass

from jadeite.core.boards import Board
from jadeite.core.nets.kept import kept
from jadeite.core.nets.model import Piece
from jadeite.core.nets.outline import fold_lines

__all__ = ["Grain", "allowed_turns", "follows_grain", "grain_upward", "preferred_grain"]

CLEAR = 1.05  # from memory; a preference must be at least this much stronger than the other way
ALONG_LIMIT = 22.5  # degrees; design rule, a fold this close to an axis counts as along it
QUARTERS = (0.0, 90.0, 180.0, 270.0)  # degrees


@dataclass(frozen=True, slots=True)
class Grain:
    """The grain that a piece prefers: along its ``x``, its ``y``, or either (empty).

    ``along`` and ``across`` are lengths of folds in mm that then run along
    and across the grain.
    """

    axis: str
    along: float
    across: float


@kept
def preferred_grain(piece: Piece) -> Grain:
    """The direction along which the longer part of the folds runs.

    Folds close to neither axis count for neither.
    """
    length = {"x": 0.0, "y": 0.0}
    for line, _ in fold_lines(piece):
        dx, dy = (line[1] - line[0]).tolist()
        turn = abs(math.degrees(math.atan2(dy, dx))) % 180
        size = math.hypot(dx, dy)
        if min(turn, 180 - turn) <= ALONG_LIMIT:
            length["x"] += size
        elif abs(turn - 90) <= ALONG_LIMIT:
            length["y"] += size
    first, other = ("x", "y") if length["x"] >= length["y"] else ("y", "x")
    if length[first] < length[other] * CLEAR or length[first] == 0:
        return Grain("", length[first], length[other])
    return Grain(first, length[first], length[other])


def follows_grain(board: Board, rule: str) -> bool:
    """Whether pieces of a board are laid along the grain.

    ``rule`` is ``follow``, ``ignore``, or ``heavy``: only where folds across
    the grain crack, that is, in boards that are scored with a wheel.
    """
    if board.grain == "none" or rule == "ignore":
        return False
    return rule == "follow" or board.score == "wheel"


def grain_upward(board: Board, sheet: tuple[float, float], grain: str = "") -> bool:
    """Whether the grain of a sheet (width, height in mm) runs along its height.

    ``grain`` is ``upward`` or ``across`` where that is known of the sheet.  Else the board says
    whether it runs along the longer or the shorter side; of a square one it is taken to run
    upwards.
    """
    if grain:
        return grain == "upward"
    upward = sheet[1] >= sheet[0]
    return not upward if board.grain == "short" else upward


def allowed_turns(
    piece: Piece, sheet: tuple[float, float], rule: str, grain: str = ""
) -> tuple[float, ...] | None:
    """Turns in degrees that lay a piece along the grain of a sheet; None when any will do.

    Sheet and grain are as in :func:`grain_upward`.
    """
    if not follows_grain(piece.board, rule):
        return None
    wanted = preferred_grain(piece).axis
    if not wanted:
        return QUARTERS
    same = (wanted == "y") == grain_upward(piece.board, sheet, grain)
    return (0.0, 180.0) if same else (90.0, 270.0)


def cracks_across(board: Board) -> str:
    """What a fold across the grain does to a board, in words; empty when nothing."""
    return _CRACKS.get(board.score, "")


_CRACKS: Mapping[str, str] = {
    "wheel": "cracks across the grain unless scored with a wheel",
    "hinge": "does not fold: cut through and hinge with paper",
}
