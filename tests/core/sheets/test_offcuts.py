"""Offcuts: what is left of a sheet is really left, and is offered first in the next job."""

from __future__ import annotations

import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import ValidationError
from shapely.geometry import Polygon

from jadeite.core.nets.outline import loops_of
from jadeite.core.project import Stock
from jadeite.core.sheets import GAP, after_job, lay_out, offcuts_of, placed_points, used_of
from tests.conftest import build_tray
from tests.depth import deep

BIG = (10_000.0, 10_000.0)
SHEET = Stock(name="12 × 12 in", width=304.8, height=304.8, count=5)


def lay(pieces, stock, copies: int = 1):  # type: ignore[no-untyped-def]
    """A layout of some copies."""
    return lay_out(pieces, stock, copies=copies, reach=BIG, margin=0, free_turns=False)


def test_property_offcuts_are_free_and_are_used_first() -> None:
    """They touch no piece, lie on their sheet, and the next job begins with them."""
    kept: list[int] = []

    @settings(max_examples=deep(15, 200), deadline=None)
    @given(
        st.tuples(st.floats(20, 70), st.floats(20, 70), st.floats(16, 40)),
        st.integers(1, 4),
    )
    def holds(inside: tuple[float, float, float], copies: int) -> None:
        pieces = build_tray(inside).pieces
        by_name = {piece.name: piece for piece in pieces}
        layout = lay(pieces, (SHEET,), copies)
        for sheet in layout.sheets:
            cut = [
                Polygon(placed_points(loops_of(by_name[one.piece])[0].points, one))
                for one in sheet.placed
            ]
            parts = offcuts_of(sheet, by_name)
            for part in parts:
                assert sheet.stock.region.buffer(1e-6).covers(part)
                assert part.distance(shapely.union_all(cut)) >= GAP / 2 - 1e-6
                assert not part.interiors
            for i, part in enumerate(parts):
                assert all(part.intersection(other).area < 1e-6 for other in parts[i + 1 :])
        left = after_job((SHEET,), layout, by_name, {})
        assert left[0].count == 5 - len(layout.sheets)
        kept.append(len(left) - 1)
        again = lay(build_tray((20, 20, 15)).pieces, left)
        if left[1:]:
            assert not again.sheets[0].stock.whole
            assert used_of(again, left)[0] == again.whole

    holds()
    assert sum(1 for count in kept if count) >= 0.5 * len(kept)


def test_stock_of_a_board_and_colour_is_for_these_alone() -> None:
    """Text paper in cream is no sheet for card, nor for green text paper."""
    pieces = build_tray(board="medium-card", lid_board="text").pieces
    text = Stock(name="text", width=304.8, height=304.8, board="text", colour="#E8DDC5")
    card = Stock(name="card", width=400.0, height=304.8, board="medium-card")
    colours = {"lid": "#e8ddc5"}
    layout = lay_out(
        pieces, (text, card), copies=1, reach=BIG, margin=0, free_turns=False, colours=colours
    )
    assert {s.stock.name: {p.piece for p in s.placed} for s in layout.sheets} == {
        "text": {"lid"}, "card": {"tray"},
    }  # fmt: skip
    other = lay_out(
        pieces, (text, card), copies=1, reach=BIG, margin=0, free_turns=False,
        colours={"lid": "#00ff00"},
    )  # fmt: skip
    assert other.unplaced == (("lid", 0),)


@pytest.mark.parametrize(
    "outline", [((0, 0), (50, 50), (50, 0), (0, 50)), ((0, 0), (80, 0), (0, 30)), ((0, 0), (9, 9))]
)
def test_an_offcut_that_is_none_is_refused(outline) -> None:  # type: ignore[no-untyped-def]
    """Crossing itself, out of its box, two corners."""
    with pytest.raises(ValidationError, match="outline"):
        Stock(name="a", width=50, height=50, outline=outline)


def test_an_offcut_with_something_cut_from_its_middle_has_one_outline() -> None:
    """The part beside the hole is kept."""
    pieces = build_tray((40, 40, 15)).pieces[:1]
    layout = lay(pieces, (SHEET,))
    sheet = layout.sheets[0]
    moved = sheet.placed[0].__class__(sheet.placed[0].piece, 0, 0.0, 120.0, 130.0)
    middle = sheet.__class__(sheet.stock, sheet.board, sheet.usable, (moved,), sheet.used)
    parts = offcuts_of(middle, {p.name: p for p in pieces})
    assert len(parts) == 1
    assert parts[0].area > 0.25 * 304.8**2
