"""Which way the grain runs, and which turns a layout may use."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from jadeite.core.boards import board_by_key
from jadeite.core.nets.grain import allowed_turns, cracks_across, follows_grain, preferred_grain
from jadeite.core.project import Stock
from jadeite.core.sheets import lay_out, placed_points
from tests.conftest import build_tray

SHEET = Stock(name="12 × 24 in", width=304.8, height=609.6)
HEAVY = board_by_key("craft-board")


def folds_along(piece, place, axis: int) -> float:  # type: ignore[no-untyped-def]
    """Length in mm of the folds that run along an axis of the sheet, from the fold lines alone."""
    total = 0.0
    for fold in piece.folds:
        ends = placed_points(np.array([fold.start, fold.end]), place)
        run = np.abs(ends[1] - ends[0])
        if run[axis] > run[1 - axis]:
            total += float(np.linalg.norm(run))
    return total


@settings(max_examples=40)
@given(st.tuples(st.floats(30, 120), st.floats(30, 120), st.floats(15, 60)))
def test_property_heavy_board_is_laid_with_its_longer_folds_along_the_grain(inside) -> None:  # type: ignore[no-untyped-def]
    """The grain runs along the longer side of the sheet; so do at least as many folds."""
    design = build_tray(inside, board="craft-board")
    layout = lay_out(
        design.pieces, (SHEET,), copies=2, reach=(292.0, 597.0), margin=6.0, free_turns=True,
        grain="heavy",
    )  # fmt: skip
    assert not layout.unplaced
    for sheet in layout.sheets:
        for place in sheet.placed:
            piece = design.piece(place.piece)
            assert place.angle % 90 == 0
            along, across = folds_along(piece, place, 1), folds_along(piece, place, 0)
            assert along >= across - 1e-6 or preferred_grain(piece).axis == ""


@pytest.mark.parametrize(
    ("rule", "board", "follows"),
    [
        ("heavy", "craft-board", True),
        ("heavy", "medium-card", False),
        ("follow", "medium-card", True),
        ("ignore", "craft-board", False),
        ("follow", "clear-film", False),  # film has no grain
    ],
)
def test_which_boards_are_laid_along_the_grain(rule: str, board: str, follows: bool) -> None:
    """By the maker's rule, and only where there is a grain."""
    assert follows_grain(board_by_key(board), rule) is follows


def test_turns_follow_the_sheet_and_the_board() -> None:
    """A long tray's folds run along x: it is turned on an upright sheet, not on a wide one."""
    piece = build_tray((120.0, 40.0, 20.0), board="craft-board").piece("tray")
    assert preferred_grain(piece).axis == "x"
    assert allowed_turns(piece, (304.8, 609.6), "heavy") == (90.0, 270.0)
    assert allowed_turns(piece, (609.6, 304.8), "heavy") == (0.0, 180.0)
    assert allowed_turns(piece, (304.8, 609.6), "ignore") is None
    short = replace(piece, board=replace(HEAVY, grain="short"))
    assert allowed_turns(short, (304.8, 609.6), "heavy") == (0.0, 180.0)
    square = build_tray((80.0, 80.0, 20.0), board="craft-board", thumb_notches="none")
    turns = allowed_turns(square.piece("tray"), (300.0, 300.0), "heavy")
    assert turns is not None
    assert set(turns) <= {0.0, 90.0, 180.0, 270.0}


def test_what_a_fold_across_the_grain_does() -> None:
    """Said only of boards that mind."""
    assert cracks_across(board_by_key("medium-card")) == ""
    assert "wheel" in cracks_across(HEAVY)
    assert "does not fold" in cracks_across(board_by_key("chipboard"))
