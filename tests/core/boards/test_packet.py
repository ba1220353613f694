"""Boards typed as their packets say."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jadeite.core.boards import (
    CATALOGUE,
    Board,
    BoardError,
    board_from_words,
    grammage_reckoning,
    thickness_reckoning,
)
from jadeite.core.boards.packet import handling
from jadeite.core.reckoning import Mark


# grammage from the trade's basis sizes; thickness in mm
@pytest.mark.parametrize(
    ("words", "grammage", "thickness", "title"),
    [
        ("65 lb cover", 175.8, 0.229, "65 lb cover"),
        ("80# Cover", 216.3, 0.281, "80# Cover"),
        ("110 lb index", 198.9, 0.259, "110 lb index"),
        ("24lb bond", 90.2, 0.117, "24lb bond"),
        ("100 lb book", 148.0, 0.192, "100 lb book"),
        ("176 gsm", 176.0, 0.229, "176 gsm"),
        ("300 g/m²", 300.0, 0.39, "300 g/m²"),
        ("220g kraft", 220.0, 0.286, "Kraft"),
        ("10 pt", 195.4, 0.254, "10 pt"),
        ("12 mil", 234.5, 0.3048, "12 mil"),
        ("2 mm", 1250.0, 2.0, "2 mm"),
        ("0,25 mm", 192.3, 0.25, "0,25 mm"),
        ("1/16 in", 992.2, 1.5875, "1/16 in"),
        ("sand card stock 80 lb cover, 11 pt", 216.3, 0.2794, "Sand"),
        ("300 gsm 0.42 mm", 300.0, 0.42, "300 gsm 0.42 mm"),
    ],
)
def test_what_packets_say(words: str, grammage: float, thickness: float, title: str) -> None:
    """Weight, caliper, or both; other words are the title."""
    board = board_from_words(words)
    assert board.grammage == pytest.approx(grammage, abs=0.06)
    assert board.thickness == pytest.approx(thickness, abs=0.001)
    assert board.title == title


def test_what_is_estimated_says_so() -> None:
    """Bulk from memory, named as an estimate; a measure is a measure."""
    light = board_from_words("176 gsm")
    assert "estimated" in thickness_reckoning(light).rule
    assert grammage_reckoning(light).mark is Mark.GIVEN
    thick = board_from_words("2 mm")
    assert "estimated" in grammage_reckoning(thick).rule
    assert thickness_reckoning(thick).mark is Mark.GIVEN
    both = board_from_words("80 lb cover 11 pt")
    assert grammage_reckoning(both).inputs[0].value == 80
    assert thickness_reckoning(both).rule == ""


@pytest.mark.parametrize(
    ("words", "cure"),
    [
        ("80 lb", "80 lb cover is 216 g/m², 80 lb text is 118 g/m²"),
        ("stout", "65 lb cover, 176 gsm, 10 pt or 2 mm"),
        ("", "65 lb cover"),
        ("0 lb cover", "0.5 to 2000 lb"),
        ("40 mm", "0.01 to 12 mm"),
        ("90000 gsm", "8 to 10000 g/m²"),
        ("1/0 in", "0.01 to 12 mm"),
        ("20 kg", "176 gsm"),
    ],
)
def test_what_cannot_be_read_says_what_would_do(words: str, cure: str) -> None:
    """Pounds without a kind are asked about, with what each would be."""
    with pytest.raises(BoardError) as caught:
        board_from_words(words)
    assert cure in str(caught.value)


@given(st.text(max_size=60))
def test_property_any_words_give_a_board_or_a_reason(words: str) -> None:
    """Nothing else escapes, and the reason is one line."""
    try:
        board = board_from_words(words)
    except BoardError as error:
        reason = str(error)
    else:
        reason = board.title
    assert reason
    assert "\n" not in reason


@pytest.mark.parametrize("board", CATALOGUE, ids=lambda b: b.key)
def test_handling_by_thickness_is_near_the_catalogue(board: Board) -> None:
    """A board typed by its thickness is scored as its like in the catalogue."""
    if board.key in ("clear-film", "basswood", "glitter-card"):
        return  # not card: the catalogue knows better
    score, passes, _ = handling(board.thickness)
    assert score == board.score
    assert passes == board.passes
