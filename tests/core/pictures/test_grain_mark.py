"""The arrow of the grain on a sheet: on the board, and clear of pieces where it can be."""

from __future__ import annotations

import numpy as np
import pytest
import shapely

from jadeite.core.cutting import cutting_plan, profile_by_key
from jadeite.core.pictures import LIGHT, Label, sheet_picture
from jadeite.core.project import Stock
from jadeite.core.sheets import lay_out
from jadeite.core.sheets.rules import Rules
from tests.conftest import build_tray

OFFCUT = Stock(name="offcut", width=250, height=200, count=1,
               outline=((0, 0), (250, 0), (250, 90), (120, 200), (0, 200)))  # fmt: skip
SQUARE = Stock(name="square", width=304.8, height=304.8)
SCALE = 2.0


@pytest.mark.parametrize(
    ("stock", "grain", "turn"),
    [(OFFCUT, "", 0), (SQUARE, "", -90), (SQUARE, "across", 0), (OFFCUT, "upward", -90)],
)
def test_the_grain_is_told_on_the_sheet(stock: Stock, grain: str, turn: int) -> None:
    """Its word is on the board, over no piece, and turned as the grain runs."""
    stock = stock.model_copy(update={"grain": grain})
    pieces = build_tray((60, 40, 20)).pieces
    profile = profile_by_key("large")
    layout = lay_out(pieces, [stock], copies=1, reach=profile.reach, margin=0, free_turns=False)
    (cut,) = cutting_plan(pieces, layout, profile).sheets
    by_name = {piece.name: piece for piece in pieces}
    picture = sheet_picture(cut, by_name, LIGHT, {}, SCALE, 1.0)
    (word,) = [i for i in picture.items if isinstance(i, Label) and i.text == "grain"]
    assert word.turn == turn
    edge = picture.items[0].rings[0]
    low = np.array([edge[:, 0].min(), edge[:, 1].max()])
    spot = shapely.Point((np.array([word.x, word.y]) - low) * (1, -1) / SCALE)
    assert stock.region.contains(spot)
    rules = Rules(pieces, profile.reach, 0.0, False)
    assert all(rules.lying(one).distance(spot) > 2 for one in cut.sheet.placed)
