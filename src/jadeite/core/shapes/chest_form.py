"""Where a hinged chest's surfaces are: tray, lid, rims, and the line about which it swings."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from jadeite.core.boards import Board
from jadeite.core.boards.fits import Fits
from jadeite.core.nets.model import Hollow
from jadeite.core.nets.open_box import OpenBox, open_box
from jadeite.core.nets.swing import Swing
from jadeite.core.shapes.registry import OptionValue, Size

__all__ = ["GAP", "LATCH_HIGH", "LID", "ChestForm", "chest_form", "hollow_in"]

GAP = 0.2  # mm; from memory, between the rims of chest and lid, so that the strips can bend
LEAST_TRAY = 15.0  # mm; from memory, a lower tray has no hold for the hinge strips
LATCH_HIGH = 28.0  # mm; from memory, a lower front leaves no room for latch and catch
LID = "tray-2"  # the lid is made of the tray's board: they are one part


@dataclass(frozen=True)
class ChestForm:
    """Where the closed chest's surfaces are; mm.  The tray's floor has its middle at z = 0."""

    tray: OpenBox
    lid: OpenBox
    within: Size  # the tray's own inside below its rim
    rim: float  # middle of the gap between the rims
    lid_at: float  # height of the lid's ceiling
    t: float
    swing: Swing

    @property
    def ceiling(self) -> float:
        """Underside of the lid's ceiling."""
        return self.lid_at - self.t / 2

    @property
    def front(self) -> float:
        """How far the outside of front and back is from the middle."""
        return self.tray.outside[1] / 2


def chest_form(
    inside: Size,
    boards: Mapping[str, Board],
    options: Mapping[str, OptionValue],
    fits: Fits,
) -> ChestForm:
    """Chest and lid of one board, so that the strips lie flat on both."""
    depth = float(options["lid-depth"])
    high = inside[2]
    if options["room"] == "lid":
        least = LATCH_HIGH if options["latch"] == "hook-over" else LEAST_TRAY
        hangs = boards["handle"].thickness if options["handle"] == "strap" else 0.0
        high = max(least, inside[2] - (GAP + depth - fits.headroom - hangs))
    trial = _boxed((inside[0], inside[1], high), depth, boards, fits)
    above = trial.tray.floor_top + inside[2] - trial.swing.z
    behind = trial.swing.y - inside[1] / 2
    wide = trial.swing.wide_enough(inside[1], above, behind)
    if wide <= inside[1]:
        return trial
    return _boxed((inside[0], wide, high), depth, boards, fits)


def _boxed(within: Size, depth: float, boards: Mapping[str, Board], fits: Fits) -> ChestForm:
    """A tray of an inside in mm, its lid, and the line about which this swings."""
    board = boards["tray"]
    long_axis = 0 if within[0] >= within[1] else 1

    def box(name: str, title: str, size: Size, turned: bool) -> OpenBox:
        return open_box(
            name, title, board, size, long_axis=long_axis, tabs="inside", double=False,
            notches=False, good_side="outside", turned=turned, part="tray", fits=fits,
        )  # fmt: skip

    tray = box("tray", "tray", within, True)
    lid = box(LID, "lid", (within[0], within[1], depth), False)
    rim = tray.rim_top + GAP / 2
    axis = tray.outside[1] / 2 + boards["strip"].thickness / 2
    return ChestForm(tray, lid, within, rim, tray.rim_top + GAP + lid.rim_top, board.thickness,
                 Swing(axis, rim, axis + within[1] / 2, fits.headroom))  # fmt: skip


def hollow_in(inside: Size, form: ChestForm, legs: float) -> Hollow:
    """Against the back, where the lid's front has no need to pass; ``legs`` mm above the floor."""
    back = form.within[1] / 2
    return Hollow(inside, (0.0, back - inside[1] / 2, form.tray.floor_top + legs + inside[2] / 2))
