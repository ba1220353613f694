"""The cut list: for each sheet its carrier, tools and setting, what to look at, what to save."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from jadeite.core.boards import Board
from jadeite.core.cutting.plan import TOOLS, SheetCut
from jadeite.core.nets.model import Floats
from jadeite.core.units import counted, listed

__all__ = ["SheetAdvice", "advice_for", "tack_for"]

PAPER, CARD = 130.0, 350.0  # g/m²; common practice, up to there low and medium tack hold
SMALL = 400.0  # mm²; from memory, a smaller cut-out is lost on the floor


@dataclass(frozen=True, slots=True)
class SheetAdvice:
    """What a person needs to know of one sheet; lengths in mm, time in s."""

    number: int
    carrier: str
    tools: tuple[str, ...]
    setting: str
    look: str
    lift: str
    save: str
    cut: float
    score: float
    seconds: float

    @property
    def lines(self) -> tuple[str, ...]:
        """What is this sheet's own, in sentences; what holds for all stands in ``habits``."""
        tools = f"Tools in order: {', then '.join(self.tools)}." if self.tools else ""
        return tuple(line for line in (f"{self.carrier} {tools}".strip(), self.save) if line)

    @property
    def habits(self) -> tuple[str, str]:
        """What to look at, and how a piece is lifted: the same for all that is cut so."""
        return self.look, self.lift


def tack_for(board: Board) -> str:
    """The carrier that holds a board: low tack for paper, medium for card, else high."""
    if board.grammage <= PAPER:
        return "low"
    return "medium" if board.grammage <= CARD else "high"


def advice_for(cut: SheetCut, number: int, titles: Mapping[str, str]) -> SheetAdvice:
    """What to know of a sheet, which has a number from 1; ``titles`` of pieces by their name."""
    board = cut.board
    if cut.profile.by_hand:
        carrier = "On a cutting mat, along a steel ruler, the blade away from your hand."
        look = "Cut to a corner from both sides; turn the board rather than the knife."
        lift = "Inner cut-outs come before the outline."
    else:
        tack = tack_for(board)
        tape = ", its edges taped down" if tack == "high" else ""
        carrier = f"Carrier of {tack} tack{tape}."
        look = "Before you unload, lift a corner of the smallest piece: not through, cut once more."
        lift = "Bend the carrier away from the board, not the board, so that nothing curls."
    tools = tuple(dict.fromkeys(TOOLS[path.step] for path in cut.paths))
    return SheetAdvice(
        number,
        carrier,
        () if cut.profile.by_hand else tools,
        cut.setting,
        look,
        lift,
        _save(cut, titles),
        sum(p.length * p.passes for p in cut.paths if p.role in ("cut", "perforate")),
        sum(p.length for p in cut.paths if p.role == "score"),
        cut.seconds,
    )


def _save(cut: SheetCut, titles: Mapping[str, str]) -> str:
    """Small cut-outs, which may be wanted, and the pieces that they come from."""
    found: Counter[str] = Counter()
    for path in cut.paths:
        points = path.points
        closed = len(points) > 3 and bool(np.array_equal(points[0], points[-1]))
        if path.step == "inner" and closed and _area(points) < SMALL:
            found[titles.get(path.piece, path.piece)] += 1
    if not found:
        return ""
    names = listed([f"“{name}”" for name in list(found)[:3]])
    more = " and others" if len(found) > 3 else ""
    return (
        f"{counted(sum(found.values()), 'small cut-out')} of {names}{more}: save what you may want."
    )


def _area(points: Floats) -> float:
    """Of a closed line, (n, 2) mm; mm²."""
    x, y = points[:, 0], points[:, 1]
    return abs(float((x[:-1] * y[1:] - x[1:] * y[:-1]).sum())) / 2
