"""The files of a test cut: what is cut, and a page that says how it is read."""

from __future__ import annotations

from pathlib import Path

from jadeite.core.boards import Board
from jadeite.core.cutting import CutterProfile, SheetCut
from jadeite.core.cutting.settings import setting_for
from jadeite.core.cutting.trial import forces_of, trial_paths, trial_size
from jadeite.core.errors import FieldError
from jadeite.core.formats.atomic import write_all
from jadeite.core.formats.cut_svg import cut_svg
from jadeite.core.formats.dxf import dxf_text
from jadeite.core.formats.plotter import gcode_text, hpgl_text
from jadeite.core.project import Learned, Stock
from jadeite.core.sheets import SheetPlan

__all__ = ["trial_files", "write_trial"]

STEM = "test-cut"


def trial_files(
    board: Board, heavier: str, profile: CutterProfile, learned: tuple[Learned, ...] = ()
) -> dict[str, bytes]:
    """The test cut of a board, in every kind of cut file, by name.

    Raises
    ------
    FieldError
        The board is cut by hand: a hand needs no setting.
    """
    if profile.by_hand or board.pressure == "by-hand":
        raise FieldError(
            "cutter", "what is cut by hand needs no setting", "Choose a cutter, or another board."
        )
    setting = setting_for(board, heavier, profile, learned)
    paths, size = trial_paths(setting, profile), trial_size(setting, profile)
    forces = [f for f in forces_of(setting, profile) if f is not None]
    told = f", force {forces[0]} to {forces[-1]}" if forces else ""
    title = f"Test cut, {board.title.lower()}{told}"
    stock = Stock(name="test cut", width=size[0], height=size[1])
    plan = SheetPlan(stock, board.key, (0.0, 0.0, *size), (), 0.0)
    cut = SheetCut(plan, board, paths, (), 0.0, 0, setting.words, profile, setting.force)
    return {
        f"{STEM}-{board.key}.svg": cut_svg(paths, *size, title, sheet=True),
        f"{STEM}-{board.key}.dxf": dxf_text(paths).encode(),
        f"{STEM}-{board.key}.plt": hpgl_text(cut, title).encode("ascii"),
        f"{STEM}-{board.key}.gcode": gcode_text(cut, title).encode("ascii"),
    }


def write_trial(
    board: Board,
    heavier: str,
    profile: CutterProfile,
    learned: tuple[Learned, ...],
    folder: Path,
) -> list[Path]:
    """Write them into a folder, which is made when missing.

    Raises
    ------
    JadeiteError
        The board is cut by hand, or the folder cannot be written.
    """
    return write_all(folder, trial_files(board, heavier, profile, learned))
