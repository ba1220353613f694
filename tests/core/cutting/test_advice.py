"""The cut list of each sheet."""

from __future__ import annotations

import csv
import io

import pytest

from jadeite.core.boards import board_by_key
from jadeite.core.cutting import cutting_plan, profile_by_key
from jadeite.core.cutting.advice import advice_for, tack_for
from jadeite.core.formats.tables import sheet_list_csv
from jadeite.core.nets.outline import loops_of
from jadeite.core.project import Stock
from jadeite.core.sheets import lay_out
from tests.conftest import build_tray

SQUARE = Stock(name="square", width=304.8, height=304.8)


@pytest.mark.parametrize(
    ("board", "tack"),
    [("text", "low"), ("medium-card", "medium"), ("chipboard", "high")],
)
def test_the_carrier_suits_the_board(board: str, tack: str) -> None:
    """Low tack for paper, medium for card, high for board (common practice of the craft)."""
    assert tack_for(board_by_key(board)) == tack


def test_a_row_for_each_sheet_says_what_is_done() -> None:
    """Tools in order, metres as the pieces have them, what to save; by hand other words."""
    pieces = build_tray((60, 40, 20)).pieces
    titles = {piece.name: piece.title for piece in pieces}
    for key in ("large", "hand"):
        profile = profile_by_key(key)
        layout = lay_out(
            pieces, [SQUARE], copies=9, reach=profile.reach, margin=5, free_turns=False
        )
        plan = cutting_plan(pieces, layout, profile)
        rows = list(csv.DictReader(io.StringIO(sheet_list_csv(plan, titles))))
        assert len(rows) == len(layout.sheets) > 1
        cut = sum(float(row["cut_m"]) for row in rows)
        wanted = 9 * sum(loop.length for piece in pieces for loop in loops_of(piece)) / 1000
        passes = plan.sheets[0].paths[-1].passes
        assert cut == pytest.approx(passes * wanted, abs=0.02)
        minutes = sum(float(row["minutes"]) for row in rows)
        assert minutes == pytest.approx(plan.seconds / 60, abs=0.2)
        told = advice_for(plan.sheets[0], 1, titles)
        assert told.tools == (() if key == "hand" else ("scoring tool", "blade"))
        assert ("ruler" in told.carrier) == (key == "hand")
        assert ("Carrier" in told.carrier) == (key == "large")
