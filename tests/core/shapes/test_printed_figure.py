"""Printed figures: closed by the FOLD text; their border and outline measured by Shapely."""

from __future__ import annotations

import math

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.geometry import MultiPolygon, Polygon

from jadeite.core.errors import FieldError
from jadeite.core.findings import Level
from jadeite.core.nets.model import Kind, Trace
from jadeite.core.photos import regions_of, rings_from_words, words_of_rings
from jadeite.core.pipeline import work_up
from jadeite.core.shapes import family_by_key
from jadeite.core.shapes.figure_outline import cut_figure, drawn_figure
from tests.core.photos.drawn import blob
from tests.core.shapes.closing import (
    FOLDING,
    build,
    closes_or_says_why,
    figure_words,
    options_of,
    span_task,
)

FAMILY = family_by_key("printed-figure")
SPANS = st.tuples(st.floats(15.0, 280.0), st.just(0.0) | st.floats(20.0, 280.0), st.just(0.0))


@settings(max_examples=200, deadline=None)
@given(span=SPANS, board=FOLDING, chosen=options_of(FAMILY))
def test_property_every_printed_figure_closes(span, board, chosen) -> None:  # type: ignore[no-untyped-def]
    """All sizes, outlines, boards and options; what is too small to cut says how large."""
    made = closes_or_says_why(FAMILY, span, board, chosen)
    border = chosen["border"] if chosen["edge"] == "border" else 0.0
    least = min(span[0], span[1] or span[0])
    assert made or least < 2 * border + 12 * chosen["round"] + 6


@settings(max_examples=100, deadline=None)
@given(
    seed=st.integers(0, 1000), width=st.floats(60.0, 200.0), border=st.floats(1.0, 8.0),
    round_=st.floats(0.4, 1.0),
)  # fmt: skip
def test_property_the_border_is_even(seed: int, width: float, border: float, round_: float) -> None:
    """From the cut to the figure it is the same everywhere: 0.02 mm by Shapely, on flat bends."""
    words = words_of_rings((blob(seed, 0.25),))
    cut = cut_figure(words, width, 0.0, border, round_)
    figure = regions_of(rings_from_words(words, "x"))
    placed = shapely.transform(figure, lambda p: p * cut.side + np.array(cut.centre))
    off = shapely.distance(shapely.points(cut.outline), placed.boundary)
    assert off.min() > border - 0.02
    # in a bend tighter than what it is rounded to, it is wider
    assert np.median(off) == pytest.approx(border, abs=0.02)
    assert cut.size[0] == pytest.approx(width, abs=1e-3)


def test_area_of_a_border_by_steiner() -> None:
    """Steiner's formula for a parallel curve of a convex figure: A + L b + pi b^2."""
    turn = np.linspace(0, 2 * np.pi, 360, endpoint=False)
    egg = np.column_stack([0.3 * np.cos(turn), 0.2 * np.sin(turn)])
    cut = cut_figure(words_of_rings((egg,)), 66.0, 0.0, 3.0, 0.4)
    own = Polygon(egg * cut.side)
    assert own.bounds[2] - own.bounds[0] == pytest.approx(60.0, abs=0.01)
    whole = own.area + own.length * 3.0 + math.pi * 9.0
    assert Polygon(cut.outline).area == pytest.approx(whole, rel=2e-3)


@settings(max_examples=60, deadline=None)
@given(seed=st.integers(0, 500), round_=st.floats(0.5, 3.0))
def test_property_nothing_is_narrower_or_sharper_than_said(seed: int, round_: float) -> None:
    """Worn off and grown again by the radius, or the other way round, it stays as it is."""
    cut = cut_figure(figure_words(seed, 0.1), 90.0, 0.0, 2.0, round_)
    shape = Polygon(cut.outline)
    for first in (-1, 1):
        again = shape.buffer(first * 0.9 * round_).buffer(-first * 0.9 * round_)
        assert shape.symmetric_difference(again).area < 0.004 * shape.area


def test_parts_that_hang_on_nothing_are_left_out_and_said() -> None:
    """A wider border takes them in; then nothing is said."""
    far = words_of_rings((blob(3, 0.2), blob(4, 0.02) + np.array([0.3, 0.3])))
    work = work_up(span_task("printed-figure", 90.0, outline=far, border=1.0), None)
    found = [f for f in work.findings if f.code == "figure-parts"]
    assert len(found) == 1
    assert "a part is left out" in found[0].message
    joined = work_up(span_task("printed-figure", 90.0, outline=far, border=15.0), None)
    assert not [f for f in joined.findings if f.code == "figure-parts"]


def test_it_stands_and_its_tongues_go_through_the_base() -> None:
    """The backing's tongue goes through the slot, its foot lies under the base; it is steady."""
    design = build(FAMILY, (120.0, 0.0, 0.0), stands="base")
    tongues = [j for j in design.joints if j.kind is Kind.TONGUE]
    assert [j.tab[0] for j in tongues] == ["backing"]
    assert design.sizes["tips-at"].value >= 12.0
    base = design.piece("base")
    low = {
        name: design.piece(name).panels[0].outline[:, 1].min() + design.placements[name][2, 3]
        for name in ("figure", "backing")
    }
    thick = design.piece("backing").board.thickness
    assert low["backing"] == pytest.approx(-thick / 2, abs=1e-6)  # its foot lies under the base
    assert low["figure"] == pytest.approx(base.board.thickness, abs=1e-6)  # it stands on it
    assert base.panels[0].openings[0].points[:, 0].max() * 2 == pytest.approx(
        design.fits.tongue + _tongue(design.piece("backing").panels[0].outline), abs=1e-6
    )


def _tongue(outline: np.ndarray) -> float:
    """Width of what reaches lowest."""
    low = outline[outline[:, 1] < outline[:, 1].min() + 1e-6]
    return float(np.ptp(low[:, 0]))


def test_the_usual_one_needs_no_look_and_is_drawn_by_us() -> None:
    """An owl with a border, its lines printed, on a board; as wide as asked."""
    work = work_up(span_task("printed-figure", 90.0), None)
    assert [f.message for f in work.findings if f.level > Level.NOTE] == []
    assert work.design is not None
    figure = work.design.piece("figure")
    assert {vein.trace for vein in figure.veins} == {Trace.PRINT}
    shape = Polygon(figure.panels[0].outline)
    assert all(shape.contains(shapely.LineString(v.points)) for v in figure.veins)
    assert np.ptp(figure.panels[0].outline[:, 0]) == pytest.approx(90.0, abs=1e-3)
    assert isinstance(regions_of(drawn_figure("owl")[0]), MultiPolygon)


def test_no_higher_than_asked() -> None:
    """Where a height is asked for as well, it fits into both."""
    for width, height in ((90.0, 40.0), (40.0, 300.0)):
        cut = cut_figure("owl", width, height, 3.0, 1.0)
        assert cut.size[0] <= width + 1e-3
        assert cut.size[1] <= height + 1e-3
        assert min(width - cut.size[0], height - cut.size[1]) == pytest.approx(0.0, abs=1e-3)


def test_an_outline_that_is_none_is_refused() -> None:
    """The field is named, and what to do."""
    with pytest.raises(FieldError, match="outline") as refused:
        build(FAMILY, (90.0, 0.0, 0.0), outline="a cat")
    assert "picture" in refused.value.cure
