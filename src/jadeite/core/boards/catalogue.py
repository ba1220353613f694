"""The starting catalogue: everyday boards without makers' names."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from jadeite.core.boards.board import Board
from jadeite.core.boards.grammage import grammage_from_basis_weight
from jadeite.core.errors import FieldError
from jadeite.core.reckoning import Mark

__all__ = ["CATALOGUE", "DEFAULT_BOARD", "board_by_key", "with_own"]


def _cover(key: str, title: str, pounds: float, thickness: float, **more: Any) -> Board:
    """A board sold by cover weight: its grammage is reckoned, not typed."""
    return Board(
        key,
        title,
        grammage_from_basis_weight(pounds, "cover"),
        thickness,
        mark=Mark.PRACTICE,
        basis=("cover", pounds),
        **more,
    )


# Thickness, score, passes, stiffness and translucency are from memory; 65 and 80 lb
# are common practice.  The stiffness of basswood along the grain is near that of the
# Wood Handbook (Forest Products Laboratory), from memory.
CATALOGUE: tuple[Board, ...] = (
    Board(
        "tissue",
        "Tissue",
        17.0,
        0.03,
        "no",
        1,
        "by-hand",
        "lining; tears on the carrier",
        translucency=0.7,
    ),
    Board("copy-paper", "Copy paper", 80.0, 0.10, "no", 1, "usual", "for proofs"),
    Board(
        "translucent",
        "Translucent",
        100.0,
        0.10,
        "no",
        1,
        "lighter",
        "vellum, for linings; wet glue shows and buckles it",
        translucency=0.6,
        finish="vellum",
    ),
    Board("text", "Text paper", 120.0, 0.15, "light", 1, "usual", "thin; a light score is enough"),
    Board("light-card", "Light card", 160.0, 0.20, "yes", 1, "usual", "labels and rolled flowers"),
    _cover(
        "medium-card",
        "Medium card",
        65.0,
        0.23,
        score="yes",
        passes=1,
        pressure="usual",
        note="the everyday board",
    ),
    _cover(
        "heavy-card",
        "Heavy card",
        80.0,
        0.28,
        score="yes",
        passes=1,
        pressure="firmer",
        note="press firmer, or cut twice",
    ),
    Board(
        "photo-paper",
        "Matt photo paper",
        230.0,
        0.26,
        "yes",
        1,
        "firmer",
        "printed pieces; one good side",
        good_side="one",
        finish="matt",
    ),
    Board(
        "glitter-card",
        "Foil or glitter card",
        250.0,
        0.28,
        "yes",
        2,
        "usual",
        "one good side; wipe the blade",
        good_side="one",
        finish="foil",
    ),
    Board(
        "clear-film",
        "Clear film",
        260.0,
        0.20,
        "yes",
        1,
        "firmer",
        "window panes",
        stiff_along=4.0,
        stiff_across=4.0,
        grain="none",
        translucency=0.9,
        finish="gloss",
    ),
    _cover(
        "extra-heavy-card",
        "Extra-heavy card",
        100.0,
        0.34,
        score="wheel",
        passes=2,
        pressure="usual",
        note="score with a wheel",
    ),
    Board("craft-board", "Craft board", 350.0, 0.50, "wheel", 2, "usual", "score with a wheel"),
    Board(
        "thin-chipboard",
        "Thin chipboard",
        640.0,
        1.0,
        "hinge",
        6,
        "usual",
        "stiffener; cut through and hinge with paper",
        stiff_along=3.5,
        stiff_across=2.0,
        dusty=True,
    ),
    Board(
        "basswood",
        "Basswood sheet",
        700.0,
        1.59,
        "hinge",
        14,
        "usual",
        "crates; sand first, tape it to the carrier",
        stiff_along=10.0,
        stiff_across=0.6,
        finish="wood",
        dusty=True,
    ),
    Board(
        "chipboard",
        "Chipboard",
        1250.0,
        2.0,
        "hinge",
        12,
        "usual",
        "slotted stand-up pieces",
        stiff_along=3.5,
        stiff_across=2.0,
        dusty=True,
    ),
)
DEFAULT_BOARD = "medium-card"


def with_own(own: Iterable[Board] = ()) -> tuple[Board, ...]:
    """Every board at hand by weight: the maker's own stand in for those of the same key."""
    found = {board.key: board for board in (*CATALOGUE, *own)}
    return tuple(sorted(found.values(), key=lambda b: (b.grammage, b.thickness, b.key)))


def board_by_key(key: str, own: Iterable[Board] = (), *, field: str = "board") -> Board:
    """The board with this key, one of the maker's ``own`` before the catalogue's.

    Raises
    ------
    FieldError
        No such board; the text lists the keys.
    """
    boards = {board.key: board for board in (*CATALOGUE, *own)}
    try:
        return boards[key]
    except KeyError:
        raise FieldError(
            field, f"there is no board “{key[:40]}”", f"Use one of: {', '.join(boards)}."
        ) from None
