"""Boards against published basis sizes and handbook formulas."""

from __future__ import annotations

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.optimize import brentq

from jadeite.core.boards import (
    CATALOGUE,
    Board,
    BoardError,
    board_by_key,
    floor_sag,
    fold_back_gap,
    grammage_from_basis_weight,
    grammage_reckoning,
    lid_clearance,
    smallest_roll,
    tab_depth_rule,
)
from jadeite.core.boards.stiffness import large_deflection, plate_coefficient
from jadeite.core.errors import FieldError
from jadeite.core.reckoning import Mark


@pytest.mark.parametrize(
    ("pounds", "kind", "grammage"),
    [
        (65, "cover", 175.8),
        (80, "cover", 216.3),
        (100, "cover", 270.4),
        (110, "index", 198.9),
        (20, "bond", 75.2),
    ],
)  # the trade's basis sizes (published), worked examples to one place
def test_grammage_from_basis_weight(pounds: float, kind: str, grammage: float) -> None:
    """US basis weight in g/m² (ISO 536)."""
    assert grammage_from_basis_weight(pounds, kind) == pytest.approx(grammage, abs=0.05)


def test_grammage_factor_from_first_principles() -> None:
    """Mass of 500 sheets over their area, with the international pound and inch."""
    area = 20 * 26 * 0.0254**2 * 500
    assert grammage_from_basis_weight(65, "cover") == pytest.approx(65 * 453.59237 / area)


@pytest.mark.parametrize(("pounds", "kind"), [(65, "card"), (0, "cover"), (math.nan, "cover")])
def test_pounds_without_their_kind_are_refused(pounds: float, kind: str) -> None:
    """A bare weight is ambiguous."""
    with pytest.raises(BoardError):
        grammage_from_basis_weight(pounds, kind)


def test_catalogue_is_the_six_everyday_boards() -> None:
    """Thickness in mm (from memory), rising with grammage."""
    thickness = {b.key: b.thickness for b in CATALOGUE}
    assert thickness == {
        "text": 0.15,
        "light-card": 0.20,
        "medium-card": 0.23,
        "heavy-card": 0.28,
        "extra-heavy-card": 0.34,
        "craft-board": 0.50,
    }
    assert [b.grammage for b in CATALOGUE] == sorted(b.grammage for b in CATALOGUE)
    assert all(b.scored for b in CATALOGUE)


def test_unknown_board_names_the_choices() -> None:
    """The cure lists the keys."""
    with pytest.raises(FieldError, match="medium-card"):
        board_by_key("cardboard")


@pytest.mark.parametrize("thickness", [0.0, -1.0, math.nan, math.inf])
def test_a_board_needs_a_thickness(thickness: float) -> None:
    """Nonsense is refused where it arises."""
    with pytest.raises(BoardError, match="thickness"):
        Board("x", "X", 100.0, thickness, "yes", 1, "usual")


def test_lid_clearance_rule() -> None:
    """1.6 mm up to 0.35 mm (common practice), twice the rest beyond."""
    assert lid_clearance(board_by_key("medium-card")).value == pytest.approx(1.6)
    assert lid_clearance(board_by_key("craft-board")).value == pytest.approx(1.9)
    marks = {term.mark for term in lid_clearance(board_by_key("medium-card")).walk()}
    assert Mark.PRACTICE in marks


def test_fold_back_tab_and_roll_rules() -> None:
    """Two scores n t apart, at least 0.5; tabs 10 or the room; rolls 25 t."""
    assert fold_back_gap(0.23, 1) == 0.5
    assert fold_back_gap(0.5, 2) == 1.0
    assert tab_depth_rule(30.0, "room").value == 10.0
    assert tab_depth_rule(7.5, "room").value == 7.5
    assert smallest_roll(board_by_key("heavy-card")).value == pytest.approx(7.0)


@pytest.mark.parametrize(
    ("ratio", "alpha"),
    [(1.0, 0.00406), (1.2, 0.00564), (1.5, 0.00772), (2.0, 0.01013), (3.0, 0.01223), (50, 0.01302)],
)  # Timoshenko and Woinowsky-Krieger, Theory of Plates and Shells, table 8
def test_plate_coefficients(ratio: float, alpha: float) -> None:
    """The table's own points."""
    assert plate_coefficient(ratio) == pytest.approx(alpha)


def navier(ratio: float, terms: int = 41) -> float:
    """Centre deflection of a simply supported plate by Navier's double sine series."""
    total = 0.0
    for m in range(1, terms, 2):
        for n in range(1, terms, 2):
            sign = (-1) ** ((m + n) // 2 - 1)
            total += sign / (m * n * (m**2 + (n / ratio) ** 2) ** 2)
    return 16 / math.pi**6 * total


@pytest.mark.parametrize("ratio", [1.0, 1.2, 1.5, 2.0, 3.0])
def test_plate_coefficients_against_navier(ratio: float) -> None:
    """The series that the table was computed from (any plate theory handbook)."""
    assert plate_coefficient(ratio) == pytest.approx(navier(ratio), rel=0.004)


@given(st.floats(0.0, 200.0), st.sampled_from([0.26, 1.85]))
def test_property_large_deflection_solves_its_cubic(linear: float, membrane: float) -> None:
    """Against scipy's bracketed root."""
    root = brentq(lambda x: x + membrane * x**3 - linear, 0.0, linear + 1e-12)
    assert large_deflection(linear, membrane) == pytest.approx(root, rel=1e-6, abs=1e-9)


def test_sag_of_the_worked_example() -> None:
    """300 g on 96 x 64 mm of medium card: 1.4 mm free, 0.75 mm held (worked example)."""
    board = board_by_key("medium-card")
    assert floor_sag(board, 96, 64, 300, held=False).sag.value == pytest.approx(1.4, abs=0.06)
    assert floor_sag(board, 96, 64, 300, held=True).sag.value == pytest.approx(0.75, abs=0.03)
    linear = floor_sag(board, 96, 64, 0.01, held=False).sag.value * 30_000
    assert linear == pytest.approx(16, abs=1.0)


@given(st.floats(20, 300), st.floats(20, 300), st.floats(1, 3000))
def test_property_heavier_boards_sag_less(length: float, width: float, mass: float) -> None:
    """And a second ply stiffens; sag grows with the load."""
    sags = [floor_sag(b, length, width, mass).sag.value for b in CATALOGUE]
    assert sags == sorted(sags, reverse=True)
    board = CATALOGUE[0]
    assert floor_sag(board, length, width, mass, plies=2).sag.value < sags[0]
    assert floor_sag(board, length, width, 2 * mass).sag.value > sags[0]


def test_grammage_reckoning_opens_to_its_basis_size() -> None:
    """What the interface shows when asked why."""
    reckoning = grammage_reckoning(board_by_key("medium-card"))
    data = reckoning.to_json()
    assert data["inputs"][1]["mark"] == "published"
    assert data["value"] == pytest.approx(175.8, abs=0.05)
    assert grammage_reckoning(board_by_key("text")).mark is Mark.MEMORY
