"""Masks of the lattice against Shapely's own distances, and what they are for: fewer sheets."""

from __future__ import annotations

import math
from collections import Counter, defaultdict

import numpy as np
import pytest
import shapely
from hypothesis import assume, given
from hypothesis import strategies as st
from shapely import affinity
from shapely.geometry import Polygon

from jadeite.core.nets import piece_area
from jadeite.core.pipeline import plan_job_sheets, work_up_job
from jadeite.core.project import Shape, Span, Task, changed
from jadeite.core.sheets.lattice import STEP, Field, Lattice
from tests.jobs import project_of

GAP = 1.5
ROUGH = 2 * 1.5 * math.sqrt(2) / 2 * STEP + 1.0  # mm; what growing by cells, and a step, may cost


def star(corners: int, outer: float, inner: float, turn: float) -> Polygon:
    """A star with its lower left corner at the origin."""
    angles = math.radians(turn) + np.pi * np.arange(2 * corners) / corners
    reach = np.where(np.arange(2 * corners) % 2, inner, outer)
    shape = Polygon(np.column_stack([reach * np.cos(angles), reach * np.sin(angles)]))
    return affinity.translate(shape, -shape.bounds[0], -shape.bounds[1])


STARS = st.builds(
    star, st.integers(3, 7), st.floats(15.0, 70.0), st.floats(5.0, 15.0), st.floats(0.0, 90.0)
)


@given(one=STARS, other=STARS, x=st.floats(0.0, 40.0), y=st.floats(0.0, 40.0), fine=st.booleans())
def test_property_what_is_not_barred_keeps_the_gap(one, other, x, y, fine) -> None:  # type: ignore[no-untyped-def]
    """At every position of the lattice, and nothing is barred that is well away."""
    field = Field(Lattice(GAP), 160.0, 160.0)
    lying = affinity.translate(one, x, y)
    field.put("one", one, x, y)
    mask = field._mask("other", other, fine)
    rows, columns = np.nonzero(np.ones_like(mask))
    points = shapely.get_coordinates(other)
    shapes = shapely.polygons(
        [points + np.array([STEP * i, STEP * j]) for j, i in zip(rows, columns, strict=True)]
    )
    apart = shapely.distance(shapes, lying).reshape(mask.shape)
    assert apart[~mask].min(initial=np.inf) >= GAP - 0.02
    assert apart[mask].max(initial=0.0) <= GAP + ROUGH
    assume(apart.min() < GAP - 0.02)  # one may lie in a gap of the other at every position
    assert mask.any()


def test_the_first_free_position_is_lowest_then_leftmost() -> None:
    """A square beside a square, then above both."""
    square = Polygon([(0, 0), (40, 0), (40, 40), (0, 40)])
    field = Field(Lattice(GAP), 100.0, 100.0)
    assert field.first("a", square) == (0.0, 0.0)
    field.put("a", square, 0.0, 0.0)
    beside = field.first("a", square)
    assert beside is not None
    assert beside[1] == 0.0
    assert 41.5 <= beside[0] <= 41.5 + ROUGH
    field.put("a", square, *beside)
    above = field.first("a", square)
    assert above is not None
    assert above[0] == 0.0
    field.put("a", square, *above)
    field.put("a", square, beside[0], above[1])
    assert field.first("a", square) is None


def test_what_is_small_lies_in_the_cut_out_of_what_is_large() -> None:
    """A frame's window is board like any other."""
    frame = Polygon([(0, 0), (95, 0), (95, 95), (0, 95)],
                    [[(10, 10), (85, 10), (85, 85), (10, 85)]])  # fmt: skip
    square = Polygon([(0, 0), (60, 0), (60, 60), (0, 60)])
    field = Field(Lattice(GAP), 100.0, 100.0)
    field.put("frame", frame, 0.0, 0.0)
    place = field.first("square", square)
    assert place is not None
    assert frame.distance(affinity.translate(square, *place)) >= GAP


@pytest.mark.parametrize("width", [50.0, 60.0, 70.0, 80.0, 90.0])
def test_twelve_flowers_take_one_sheet_more_than_their_area_at_most(width: float) -> None:
    """Counted for each tone by itself, as each is a sheet of its own."""
    task = changed(
        Task(), brief=Span(width=width), copies=12, shape=Shape(key="layered-flower", options={})
    )
    job = work_up_job(project_of(task), cures=False)
    layout = plan_job_sheets(job).layout
    assert layout.unplaced == ()
    area: dict[str, float] = defaultdict(float)
    for sheet in layout.sheets:
        for place in sheet.placed:
            area[sheet.board] += piece_area(next(p.piece for p in job.pieces
                                                 if p.piece.name == place.piece))  # fmt: skip
    stock = layout.sheets[0].stock
    least = sum(math.ceil(whole / (stock.width * stock.height)) for whole in area.values())
    used = Counter(sheet.board for sheet in layout.sheets)
    assert sum(used.values()) <= least + 1, (used, area)
