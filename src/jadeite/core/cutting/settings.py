"""How a board is cut: force, passes, speed, from one source for every place that tells of them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from jadeite.core.boards import Board
from jadeite.core.cutting.profiles import CutterProfile
from jadeite.core.project import Learned
from jadeite.core.units import counted

__all__ = ["SHARES", "Setting", "learned_of", "setting_for"]

SHARES = {"lighter": 0.3, "usual": 0.5, "firmer": 0.7}  # of all steps of force; from memory


@dataclass(frozen=True, slots=True)
class Setting:
    """Pressure in words and passes for one board.

    ``force`` is a step of the cutter's own, ``speed`` (mm/s) of cuts where it is not the usual;
    ``by`` says where the setting comes from, empty for the board's usual one.
    """

    board: Board
    pressure: str
    passes: int
    force: int | None = None
    speed: float | None = None
    by: str = ""

    @property
    def how(self) -> str:
        """The pressure, with the step of force where the cutter has steps."""
        return self.pressure if self.force is None else f"force {self.force}"

    @property
    def short(self) -> str:
        """In a cell of a table: "2 passes", "1 pass, firmer pressure"."""
        times = counted(self.passes, "pass")
        return times if self.how == "usual pressure" else f"{times}, {self.how}"

    @property
    def words(self) -> str:
        """In a line of the plan."""
        times = "one pass" if self.passes == 1 else f"{self.passes} passes"
        fast = f", {self.speed:g} mm/s" if self.speed is not None else ""
        by = f", {self.by}" if self.by else ""
        side = "; good side up, a mirrored cut spoils it" if self.board.good_side == "one" else ""
        return f"{self.board.title}: {self.how}, {times}{fast}{by}{side}"


BY = {"test-cut": "by your test cut", "own": "as you set it"}


def learned_of(
    learned: Sequence[Learned], board: str, cutter: str, stock: str = ""
) -> Learned | None:
    """What is known of a board on a cutter, of its sheets of one name before all others."""
    own = [one for one in learned if (one.board, one.cutter) == (board, cutter)]
    return next((one for name in (stock, "") for one in own if one.stock == name), None)


def setting_for(
    board: Board,
    heavier: str,
    profile: CutterProfile,
    learned: Sequence[Learned] = (),
    stock: str = "",
) -> Setting:
    """What a cutter, or a hand, is set to.

    ``heavier`` is the maker's answer to a board that is not cut through:
    ``second-pass`` (the safer for thick card) or ``pressure``.  What the maker has learned of
    the board on this cutter goes before both, and before that what holds for sheets of one name
    in the ``stock``.
    """
    if not profile.by_hand and board.pressure != "by-hand":
        known = learned_of(learned, board.key, profile.key, stock)
        if known is not None:
            return Setting(
                board, "usual pressure", known.passes, known.force, known.speed, BY[known.by]
            )
    passes = board.passes
    firm = board.pressure == "firmer"
    if firm and heavier == "second-pass":
        passes, firm = passes + 1, False
    if profile.by_hand:
        return Setting(board, "light strokes", passes)
    if board.pressure == "by-hand":
        return Setting(board, "by hand along its printed outline, it tears on the carrier", passes)
    kind = "firmer" if firm else "lighter" if board.pressure == "lighter" else "usual"
    steps = profile.force_steps
    force = max(1, round(SHARES[kind] * steps)) if steps else None
    return Setting(board, f"{kind} pressure", passes, force)
