"""Cells and masks of the lattice, against Shapely's regions and distances and SciPy's sums."""

from __future__ import annotations

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.signal import correlate2d
from shapely.geometry import Polygon, box

from jadeite.core.sheets.field import Field, Lying, Room
from jadeite.core.sheets.forms import Shape, boxes_of, filled
from jadeite.core.sheets.nesting import QUARTERS
from jadeite.core.sheets.nofit import NoFit, barred_by
from tests.core.sheets.shapes import OUTLINES, STARS, star

GAP = 1.5
ANGLES = st.sampled_from([float(a) for a in range(0, 360, 15)])


@given(outline=OUTLINES, angle=ANGLES, cell=st.sampled_from([0.5, 1.0, 2.0]))
def test_property_the_cells_are_those_that_the_shape_touches(outline, angle, cell) -> None:  # type: ignore[no-untyped-def]
    """By the area that each cell shares with it, found by Shapely."""
    shape = Shape(outline, cell, GAP)
    form = shape.form(angle)
    rows, columns = form.cells.shape
    turned = shape.turned(angle)
    a, b, c, d = turned.bounds
    corner = ((a + c) / 2 - columns * cell / 2, (b + d) / 2 - rows * cell / 2)
    x, y = np.meshgrid(corner[0] + cell * np.arange(columns), corner[1] + cell * np.arange(rows))
    shared = shapely.area(shapely.intersection(shapely.box(x, y, x + cell, y + cell), turned))
    assert form.cells[shared > 1e-4 * cell * cell].all()
    assert shared[form.cells].min() > -1e-9
    assert (shared[form.cells] > 0).mean() > 0.97
    assert -1e-6 <= min(form.spare) <= max(form.spare) <= cell / 2 + 1e-9


@given(
    cells=st.integers(0, 2**32 - 1).map(
        lambda seed: np.random.default_rng(seed).random((14, 19)) < 0.6
    ),
    seed=st.integers(0, 99),
)
def test_property_boxes_make_up_the_cells_and_meet_as_their_cells_do(cells, seed) -> None:  # type: ignore[no-untyped-def]
    """Where box meets box is where the sum over shared cells (SciPy's) is not naught."""
    again = np.zeros_like(cells)
    for first, last, left, right in boxes_of(cells):
        assert not again[first:last, left:right].any()
        again[first:last, left:right] = True
    assert (again == cells).all()
    outline = star(3 + seed % 4, 9.0, 4.0, float(seed))
    form = Shape(outline, 1.0, GAP).form(0.0)
    shared = correlate2d(cells.astype(int), form.cells.astype(int), mode="full")
    assert (barred_by(boxes_of(cells), form, *cells.shape) == (shared > 0)).all()


@settings(max_examples=40)
@given(
    one=OUTLINES, other=STARS, lying=ANGLES, angle=ANGLES,
    row=st.integers(0, 60), column=st.integers(0, 60),
)  # fmt: skip
def test_property_what_is_not_barred_keeps_the_gap(one, other, lying, angle, row, column) -> None:  # type: ignore[no-untyped-def]
    """At every place of the room, and nothing is barred that is well away."""
    cell = 1.0
    masks = NoFit([Shape(one, cell, GAP), Shape(other, cell, GAP)])
    field = Field(Room((219.7, 180.3), cell), masks)
    field.lay(Lying((0, lying), row, column))
    field.first((1, angle))
    places = field._places[1, angle]
    barred = np.unpackbits(places.bits, axis=1)[:, : places.columns].astype(bool)
    form, there = masks.form((1, angle)), masks.form((0, lying))
    here = _at(masks.shapes[0], lying, field.room.middle(there, row, column))
    rows, columns = np.indices(barred.shape)
    skip = places.skip
    middles = [
        field.room.middle(form, j + skip[1], i + skip[0])
        for j, i in zip(rows.ravel(), columns.ravel(), strict=True)
    ]
    shape = _at(masks.shapes[1], angle, (0.0, 0.0))
    points = shapely.get_coordinates(shape)
    shapes = shapely.polygons([points + middle for middle in middles])
    apart = shapely.distance(shapes, here).reshape(barred.shape)
    assert apart[~barred].min(initial=np.inf) >= GAP - 1e-3
    assert apart[barred].max(initial=0.0) <= GAP + 2 * np.sqrt(2) * cell + 0.1
    bounds = shapely.total_bounds(shapes)
    assert (bounds[:2] >= -1e-9).all()
    assert (bounds[2:] <= np.array(field.room.size) + 1e-9).all()


def _at(shape: Shape, angle: float, middle: tuple[float, float]) -> Polygon:
    """A turned shape with the middle of its bounds at a place."""
    turned = shape.turned(angle)
    a, b, c, d = turned.bounds
    return shapely.transform(turned, lambda p: p - ((a + c) / 2, (b + d) / 2) + middle)


@given(outline=OUTLINES, angle=ANGLES, quarters=st.integers(1, 3))
def test_property_a_quarter_turn_is_one_of_the_cells(outline, angle, quarters) -> None:  # type: ignore[no-untyped-def]
    """The cells found anew differ only along edges, by rounding."""
    shape = Shape(outline, 1.0, GAP)
    turned = shape.form((angle + 90.0 * quarters) % 360.0)
    anew = Shape(shape.turned(90.0 * quarters), 1.0, GAP).form(angle)
    assert turned.cells.shape == anew.cells.shape
    assert (turned.cells != anew.cells).sum() <= 0.05 * sum(anew.cells.shape)


def test_the_first_free_place_is_lowest_then_leftmost() -> None:
    """A square beside a square, then above both; four fill the room, as in whole numbers."""
    masks = NoFit([Shape(box(0, 0, 40, 40), 0.5, GAP)])
    field = Field(Room((81.5, 81.5), 0.5), masks)
    seen = []
    while (at := field.first((0, 0.0))) is not None:
        field.lay(Lying((0, 0.0), *at))
        seen.append(at)
    assert seen == [(0, 0), (0, 83), (83, 0), (83, 83)]  # 41.5 mm in half millimetres


@pytest.mark.parametrize("size", [304.8, 210.0, 99.9, 100.3])
def test_what_just_fits_fits(size: float) -> None:
    """A piece as wide as the room has one place, whatever the cells; a hair more has none."""
    masks = NoFit(
        [Shape(box(0, 0, size, 20), 0.5, GAP), Shape(box(0, 0, size + 0.01, 20), 0.5, GAP)]
    )
    field = Field(Room((size, 50.0), 0.5), masks)
    assert field.first((0, 0.0)) is not None
    assert field.first((0, 0.0))[1] == 0
    assert field.first((1, 0.0)) is None


def test_a_square_has_one_turn_and_a_hexagon_two() -> None:
    """Of the quarter turns; a hexagon comes again after 60 degrees."""
    hexagon = Polygon([(20 * np.cos(t), 20 * np.sin(t)) for t in np.arange(6) * np.pi / 3])
    for outline, turns in (
        (box(0, 0, 30, 30), (0.0,)),
        (box(0, 0, 40, 20), (0.0, 90.0)),
        (hexagon, (0.0, 90.0)),
        (Polygon([(0, 0), (40, 0), (40, 20), (10, 30)]), QUARTERS),
    ):
        assert Shape(outline, 0.5, GAP).different(QUARTERS) == turns


def test_a_slanted_edge_marks_every_cell_that_it_runs_through() -> None:
    """Also the small corners of cells: a sliver 0.02 wide from corner to corner."""
    sliver = Polygon([(0.01, 0.0), (9.99, 6.9), (9.97, 6.92), (0.0, 0.02)])
    cells = filled(sliver, 7, 10)
    y, x = np.indices(cells.shape)
    shared = shapely.area(shapely.intersection(shapely.box(x, y, x + 1, y + 1), sliver))
    assert (cells == (shared > 1e-9)).all()
