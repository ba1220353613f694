"""Boards against published basis sizes and handbook formulas."""

from __future__ import annotations

import math
from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jadeite.core.boards import (
    CATALOGUE,
    Board,
    BoardError,
    basis_weight_from_grammage,
    board_by_key,
    floor_sag,
    fold_back_gap,
    grammage_from_basis_weight,
    grammage_reckoning,
    smallest_roll,
    thickness_reckoning,
    weight_words,
    with_own,
)
from jadeite.core.boards.fits import USUAL
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


@given(st.floats(1, 400), st.sampled_from(["bond", "text", "cover", "index", "bristol"]))
def test_property_basis_weight_both_ways(pounds: float, kind: str) -> None:
    """There and back again."""
    grammage = grammage_from_basis_weight(pounds, kind)
    assert basis_weight_from_grammage(grammage, kind) == pytest.approx(pounds)


@pytest.mark.parametrize(("pounds", "kind"), [(65, "card"), (0, "cover"), (math.nan, "cover")])
def test_pounds_without_their_kind_are_refused(pounds: float, kind: str) -> None:
    """A bare weight is ambiguous."""
    with pytest.raises(FieldError):
        grammage_from_basis_weight(pounds, kind)


def test_catalogue_of_everyday_boards() -> None:
    """Thickness in mm and grammage in g/m² (from memory but for 65 and 80 lb)."""
    measures = {b.key: (round(b.grammage), b.thickness) for b in CATALOGUE}
    assert measures == {
        "tissue": (17, 0.03),
        "translucent": (100, 0.10),
        "copy-paper": (80, 0.10),
        "text": (120, 0.15),
        "light-card": (160, 0.20),
        "medium-card": (176, 0.23),
        "heavy-card": (216, 0.28),
        "extra-heavy-card": (270, 0.34),
        "glitter-card": (250, 0.28),
        "photo-paper": (230, 0.26),
        "craft-board": (350, 0.50),
        "thin-chipboard": (640, 1.0),
        "chipboard": (1250, 2.0),
        "basswood": (700, 1.59),
        "clear-film": (260, 0.20),
    }
    grammages = [b.grammage for b in with_own()]
    assert grammages == sorted(grammages)
    assert {b.key for b in CATALOGUE if not b.folds} == {
        "thin-chipboard",
        "chipboard",
        "basswood",
    }


def test_own_boards_stand_in_for_those_of_the_same_key() -> None:
    """A measured thickness replaces the catalogue's."""
    own = replace(board_by_key("medium-card"), thickness=0.25, thickness_from="measured")
    assert board_by_key("medium-card", (own,)).thickness == 0.25
    assert len(with_own((own,))) == len(CATALOGUE)
    assert thickness_reckoning(own).mark is Mark.GIVEN


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
    assert USUAL.lid_over(board_by_key("medium-card")).value == pytest.approx(1.6)
    assert USUAL.lid_over(board_by_key("craft-board")).value == pytest.approx(1.9)
    marks = {term.mark for term in USUAL.lid_over(board_by_key("medium-card")).walk()}
    assert Mark.PRACTICE in marks


def test_fold_back_tab_and_roll_rules() -> None:
    """Two scores n t apart, at least 0.5; tabs 10 or the room; rolls 25 t."""
    assert fold_back_gap(0.23, 1) == 0.5
    assert fold_back_gap(0.5, 2) == 1.0
    assert USUAL.tab(30.0, "room").value == 10.0
    assert USUAL.tab(7.5, "room").value == 7.5
    assert smallest_roll(board_by_key("heavy-card")).value == pytest.approx(7.0)
    assert (USUAL.slot_ease(0.5), USUAL.slot_ease(0.51)) == (0.1, 0.15)


def test_sag_of_the_worked_example() -> None:
    """300 g on 96 x 64 mm of medium card: 1.4 mm free, 0.75 mm held (worked example)."""
    board = board_by_key("medium-card")
    assert floor_sag(board, 96, 64, 300, held=False).sag.value == pytest.approx(1.4, abs=0.06)
    assert floor_sag(board, 96, 64, 300, held=True).sag.value == pytest.approx(0.75, abs=0.03)
    linear = floor_sag(board, 96, 64, 0.01, held=False).sag.value * 30_000
    assert linear == pytest.approx(16, abs=1.0)


CARDS = sorted(
    (b for b in CATALOGUE if (b.stiff_along, b.stiff_across) == (5.0, 2.5)),
    key=lambda b: b.thickness,
)


@given(st.floats(20, 300), st.floats(20, 300), st.floats(1, 3000))
def test_property_heavier_boards_sag_less(length: float, width: float, mass: float) -> None:
    """And a second ply stiffens; sag grows with the load."""
    sags = [floor_sag(b, length, width, mass).sag.value for b in CARDS]
    assert sags == sorted(sags, reverse=True)
    board = CARDS[0]
    assert floor_sag(board, length, width, mass, plies=(board,)).sag.value < sags[0]
    assert floor_sag(board, length, width, 2 * mass).sag.value > sags[0]


def test_grammage_reckoning_opens_to_its_basis_size() -> None:
    """What the interface shows when asked why."""
    reckoning = grammage_reckoning(board_by_key("medium-card"))
    data = reckoning.to_json()
    assert data["inputs"][1]["mark"] == "published"
    assert data["value"] == pytest.approx(175.8, abs=0.05)
    assert grammage_reckoning(board_by_key("text")).mark is Mark.MEMORY


def test_weight_is_told_in_pounds_beside_grammage() -> None:
    """80 lb cover is 216 g/m² (ISO 536 and the trade's basis sizes); chipboard has points."""
    card = board_by_key("medium-card")
    cover = replace(card, grammage=216.3, basis=("cover", 80.0))
    assert weight_words(cover, "mm") == "216 g/m²"
    assert weight_words(cover, "inches") == "80 lb cover · 216 g/m²"
    plain = replace(card, basis=None)
    light, heavy = (replace(plain, grammage=g) for g in (118.4, 270.4))
    assert weight_words(light, "inches") == "80 lb text · 118 g/m²"
    assert weight_words(heavy, "inches") == "100 lb cover · 270 g/m²"
    chip = board_by_key("chipboard")  # 2 mm are 79 thousandths of an inch
    assert weight_words(chip, "inches") == "79 pt · 1250 g/m²"
