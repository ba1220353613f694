"""The starting catalogue: everyday boards without makers' names."""

from __future__ import annotations

from jadeite.core.boards.board import Board, grammage_from_basis_weight
from jadeite.core.errors import FieldError
from jadeite.core.reckoning import Mark

__all__ = ["CATALOGUE", "DEFAULT_BOARD", "board_by_key"]


def _cover(
    key: str,
    title: str,
    pounds: float,
    thickness: float,
    score: str,
    passes: int,
    pressure: str,
    note: str,
) -> Board:
    """A board sold by cover weight: its grammage is reckoned, not typed."""
    return Board(
        key,
        title,
        grammage_from_basis_weight(pounds, "cover"),
        thickness,
        score,
        passes,
        pressure,
        note,
        Mark.PRACTICE,
        ("cover", pounds),
    )


# Thickness, score and passes are from memory; 65 and 80 lb are common practice.
CATALOGUE: tuple[Board, ...] = (
    Board("text", "Text", 120.0, 0.15, "light", 1, "usual", "thin; a light score is enough"),
    Board("light-card", "Light card", 160.0, 0.20, "yes", 1, "usual", "labels and small boxes"),
    _cover("medium-card", "Medium card", 65.0, 0.23, "yes", 1, "usual", "the everyday board"),
    _cover(
        "heavy-card", "Heavy card", 80.0, 0.28, "yes", 1, "firmer", "press firmer, or cut twice"
    ),
    _cover(
        "extra-heavy-card",
        "Extra-heavy card",
        100.0,
        0.34,
        "wheel",
        2,
        "usual",
        "score with a wheel",
    ),
    Board("craft-board", "Craft board", 350.0, 0.50, "wheel", 2, "usual", "score with a wheel"),
)
DEFAULT_BOARD = "medium-card"
_BY_KEY = {board.key: board for board in CATALOGUE}


def board_by_key(key: str, *, field: str = "board") -> Board:
    """The board of the catalogue with this key.

    Raises
    ------
    FieldError
        No such board; the text lists the keys.
    """
    try:
        return _BY_KEY[key]
    except KeyError:
        raise FieldError(
            field, f"there is no board “{key[:40]}”", f"Use one of: {', '.join(_BY_KEY)}."
        ) from None
