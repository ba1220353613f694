"""Layout and stock, checked with Shapely."""

from __future__ import annotations

import itertools

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.geometry import Polygon, box

from jadeite.core.nets.outline import loops_of
from jadeite.core.project import Stock
from jadeite.core.shapes import family_by_key
from jadeite.core.sheets import GAP, SHEET_SIZES, Layout, lay_out, placed_points, usable_area
from jadeite.core.sheets.forms import Shape
from jadeite.core.sheets.nesting import QUARTERS
from jadeite.core.sheets.plan import PlacedPiece
from tests.conftest import build_tray
from tests.core.shapes.closing import build

BIG = (10_000.0, 10_000.0)
LETTER = Stock(name="letter", width=215.9, height=279.4)
A4 = Stock(name="A4", width=210.0, height=297.0)
LARGE = Stock(name="large", width=304.8, height=609.6)


def shapes_on(layout: Layout, pieces) -> list[list[Polygon]]:  # type: ignore[no-untyped-def]
    """Placed outlines of every sheet."""
    by_name = {p.name: p for p in pieces}
    return [
        [Polygon(placed_points(loops_of(by_name[p.piece])[0].points, p)) for p in sheet.placed]
        for sheet in layout.sheets
    ]


@settings(max_examples=25)
@given(
    st.tuples(st.floats(20, 90), st.floats(20, 90), st.floats(15, 50)),
    st.integers(1, 4),
    st.lists(st.sampled_from([LETTER, A4, LARGE]), min_size=1, max_size=2),
    st.booleans(),
    st.floats(0, 8),
)
def test_property_nothing_overlaps_and_nothing_is_lost(inside, copies, stock, free, margin) -> None:  # type: ignore[no-untyped-def]
    """Every copy is on a sheet or reported; gaps and usable areas are kept."""
    pieces = build_tray(inside).pieces
    layout = lay_out(pieces, stock, copies=copies, reach=BIG, margin=margin, free_turns=free)
    placed = [(p.piece, p.copy) for s in layout.sheets for p in s.placed]
    assert sorted([*placed, *layout.unplaced]) == sorted(
        (p.name, c) for p in pieces for c in range(copies)
    )
    for sheet, shapes in zip(layout.sheets, shapes_on(layout, pieces), strict=True):
        x, y, w, h = sheet.usable
        room = box(x, y, x + w, y + h).buffer(1e-6)
        for shape in shapes:
            assert room.contains(shape)
        for a, b in itertools.combinations(shapes, 2):
            assert a.distance(b) >= GAP - 1e-6
        area = sum(s.area for s in shapes)
        assert sheet.used == pytest.approx(area / (sheet.stock.width * sheet.stock.height))
        if not free:
            assert all(p.angle % 90 == 0 for p in sheet.placed)


def test_a_piece_larger_than_every_sheet_is_reported() -> None:
    """Nothing is scaled, nothing is lost."""
    pieces = build_tray((280, 200, 80)).pieces
    layout = lay_out(pieces, [A4], copies=1, reach=BIG, margin=5, free_turns=True)
    assert layout.sheets == ()
    assert {name for name, _ in layout.unplaced} == {"tray", "lid"}


def test_a_free_turn_saves_a_long_piece() -> None:
    """300 mm long, 45 mm wide: only askew on an A4 sheet (diagonal 363 mm)."""
    pieces = (build_tray((270, 15, 15), lid_depth=6).pieces[0],)
    length = float(np.ptp(loops_of(pieces[0])[0].points, axis=0).max())
    assert 297 < length < 363
    straight = lay_out(pieces, [A4], copies=1, reach=BIG, margin=0, free_turns=False)
    assert straight.unplaced
    askew = lay_out(pieces, [A4], copies=1, reach=BIG, margin=0, free_turns=True)
    assert not askew.unplaced
    assert askew.sheets[0].placed[0].angle % 90 != 0


@pytest.mark.parametrize(
    ("corners", "turns"),
    [
        ([(0, 0), (30, 0), (30, 30), (0, 30)], {0.0}),
        ([(0, 0), (40, 0), (40, 20), (0, 20)], {0.0, 90.0}),
        ([(0, 0), (40, 0), (40, 20), (10, 30)], {0.0, 90.0, 180.0, 270.0}),
        ([(20 * np.cos(t), 20 * np.sin(t)) for t in np.arange(6) * np.pi / 3], {0.0, 90.0}),
    ],
)
def test_only_turns_that_look_different_are_tried(corners, turns) -> None:  # type: ignore[no-untyped-def]
    """A square has one, an oblong two; a hexagon comes again after 60 degrees."""
    assert set(Shape(Polygon(corners), 0.5, GAP).different(QUARTERS)) == turns


def test_stock_that_runs_out_goes_on_with_the_next_size() -> None:
    """One letter sheet and one A4, then none."""
    pieces = build_tray((60, 50, 40)).pieces
    stock = [LETTER.model_copy(update={"count": 1}), A4.model_copy(update={"count": 1})]
    layout = lay_out(pieces, stock, copies=4, reach=BIG, margin=0, free_turns=False)
    assert sorted(s.stock.name for s in layout.sheets) == ["A4", "letter"]
    assert layout.unplaced


def test_no_sheet_carries_two_boards_or_colours() -> None:
    """Like boards stay together."""
    pieces = build_tray(board="medium-card", lid_board="text").pieces
    layout = lay_out(pieces, [LARGE], copies=3, reach=BIG, margin=0, free_turns=False)
    boards = {p.name: p.board.key for p in pieces}
    for sheet in layout.sheets:
        assert len({boards[p.piece] for p in sheet.placed}) == 1
    one = build_tray().pieces
    split = lay_out(
        one,
        [LARGE],
        copies=1,
        reach=BIG,
        margin=0,
        free_turns=False,
        colours={"tray": "#ffffff", "lid": "#000000"},
    )
    assert len(split.sheets) == 2


def test_the_cutter_may_take_the_sheet_either_way_round() -> None:
    """A 12 x 24 in sheet under a cutter that reaches 597 x 292 mm."""
    assert usable_area((304.8, 609.6), (597, 292), 0.0) == pytest.approx((6.4, 6.3, 292, 597))
    assert usable_area((200, 100), BIG, 5.0) == pytest.approx((5, 5, 190, 90))


@pytest.mark.parametrize(
    ("key", "width", "height"),
    [("a4", 210, 297), ("a3", 297, 420), ("letter", 215.9, 279.4), ("12x12in", 304.8, 304.8)],
)  # ISO 216; ANSI/ASME Y14.1 size A; trade sizes in inches of 25.4 mm
def test_sheet_sizes_are_the_published_ones(key: str, width: float, height: float) -> None:
    """A4 also from its definition: A0 is a square metre, sides in ratio root two."""
    size = next(s for s in SHEET_SIZES if s.key == key)
    assert (size.width, size.height) == pytest.approx((width, height))
    if key == "a4":
        assert height == pytest.approx(1000 * 2**0.25 / 4, abs=1.0)
        assert height / width == pytest.approx(2**0.5, abs=0.005)


def test_placing_turns_and_never_mirrors() -> None:
    """A quarter turn is exact and keeps the order of corners."""
    points = np.array([[0.0, 0.0], [10.0, 0.0], [10.0, 4.0]])
    out = placed_points(points, PlacedPiece("p", 0, 90.0, 100.0, 50.0))
    assert out.tolist() == [[100.0, 50.0], [100.0, 60.0], [96.0, 60.0]]
    for angle in (0.0, 15.0, 90.0, 270.0):
        ring = shapely.LinearRing(placed_points(points, PlacedPiece("p", 0, angle, 0, 0)))
        assert ring.is_ccw


def test_what_looks_alike_in_every_turn_goes_on_to_the_next_sheet() -> None:
    """Of a ring of 24 petals no turn by 15 degrees is another: nothing more is tried."""
    design = build(family_by_key("layered-flower"), (110.0, 0.0, 0.0), petals="24", base="none")
    stock = Stock(name="a sheet", width=304.8, height=304.8)
    layout = lay_out(
        design.pieces, (stock,), copies=9, reach=(300.0, 300.0), margin=4.0, free_turns=True
    )
    assert layout.unplaced == ()
    assert [len(sheet.placed) for sheet in layout.sheets] == [4, 4, 1]


def test_what_lies_well_on_one_sheet_lies_so_on_all() -> None:
    """Two nets of a carton, one upside down, share a sheet; six lie on three."""
    design = build(family_by_key("carton"), (45.0, 70.0, 40.0))
    stock = Stock(name="a sheet", width=304.8, height=304.8)
    layout = lay_out(
        design.pieces, (stock,), copies=6, reach=(292.0, 292.0), margin=3.0, free_turns=True
    )
    assert layout.unplaced == ()
    assert [len(sheet.placed) for sheet in layout.sheets] == [2, 2, 2]


def test_no_larger_sheet_is_taken_than_is_reached() -> None:
    """Of two sizes of which the cutter reaches the same, the smaller; whichever stands first."""
    square = Stock(name="square", width=304.8, height=304.8)
    pieces = build_tray((60, 40, 20)).pieces
    for stock in ((square, LARGE), (LARGE, square)):
        layout = lay_out(
            pieces, stock, copies=14, reach=(292.0, 292.0), margin=0, free_turns=False, seek=2e9
        )
        assert {sheet.stock.name for sheet in layout.sheets} == {"square"}
