"""How a board is cut: pressure and passes, from one source for every place that tells of them."""

from __future__ import annotations

from dataclasses import dataclass

from jadeite.core.boards import Board
from jadeite.core.cutting.profiles import CutterProfile
from jadeite.core.units import counted

__all__ = ["Setting", "setting_for"]


@dataclass(frozen=True, slots=True)
class Setting:
    """Pressure in words and passes for one board; ``good_side`` warns where a side matters."""

    board: Board
    pressure: str
    passes: int

    @property
    def short(self) -> str:
        """In a cell of a table: "2 passes", "1 pass, firmer pressure"."""
        times = counted(self.passes, "pass")
        return times if self.pressure == "usual pressure" else f"{times}, {self.pressure}"

    @property
    def words(self) -> str:
        """In a line of the plan."""
        times = "one pass" if self.passes == 1 else f"{self.passes} passes"
        side = "; good side up, a mirrored cut spoils it" if self.board.good_side == "one" else ""
        return f"{self.board.title}: {self.pressure}, {times}{side}"


def setting_for(board: Board, heavier: str, profile: CutterProfile) -> Setting:
    """What a cutter, or a hand, is set to.

    ``heavier`` is the maker's answer to a board that is not cut through:
    ``second-pass`` (the safer for thick card) or ``pressure``.
    """
    passes = board.passes
    firm = board.pressure == "firmer"
    if firm and heavier == "second-pass":
        passes, firm = passes + 1, False
    if profile.by_hand:
        how = "light strokes"
    elif board.pressure == "by-hand":
        how = "by hand along its printed outline, it tears on the carrier"
    elif firm:
        how = "firmer pressure"
    else:
        how = "lighter pressure" if board.pressure == "lighter" else "usual pressure"
    return Setting(board, how, passes)
