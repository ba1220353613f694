"""Layouts on sheets, judged by Shapely: nothing overlaps, nothing is lost, turns are allowed."""

from __future__ import annotations

import itertools
from collections import Counter
from dataclasses import replace

import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely import affinity
from shapely.geometry import Polygon, box

from jadeite.core.sheets.nesting import (
    QUARTERS,
    Engine,
    Kind,
    Nest,
    NestJob,
    Part,
    fewest,
)
from jadeite.core.sheets.orders import draft, search
from tests.core.sheets.shapes import OUTLINES, star
from tests.depth import deep

GAP = 1.5
TURNS = st.sampled_from([QUARTERS, (0.0, 180.0), (0.0,), (90.0, 270.0)])
KINDS = st.lists(
    st.builds(
        Kind,
        st.tuples(st.floats(60, 300), st.floats(60, 300)),
        st.none() | st.integers(1, 3),
        st.floats(0, 5),
        st.none() | st.just("offcut"),
    ),
    min_size=1,
    max_size=2,
)


def _cut_down(kind: Kind) -> Kind:
    """A sheet of which a corner and a slanted side are gone."""
    w, h = kind.size
    left = Polygon([(0, 0), (w, h / 9), (w, h / 2), (0.6 * w, h / 2), (0.5 * w, h), (0, 0.9 * h)])
    return replace(kind, count=kind.count or 1, region=left)


@st.composite
def jobs(draw: st.DrawFn) -> NestJob:
    """A few outlines, each some times, on one or two kinds of sheets."""
    kinds = [_cut_down(kind) if kind.region else kind for kind in draw(KINDS)]
    parts = [
        Part(draw(OUTLINES), draw(st.integers(1, 4)), (draw(TURNS),) * len(kinds))
        for _ in range(draw(st.integers(1, 4)))
    ]
    return NestJob(tuple(parts), tuple(kinds), GAP)


def lying(nest: Nest, engine: Engine) -> list[list[tuple[int, float, Polygon]]]:
    """What lies on each sheet: its part, its turn, and where it is, mm."""
    out = []
    for _, field in nest.fields:
        shapes = []
        for one in field.lying:
            part, angle = one.turned
            turned = affinity.rotate(engine.job.parts[part].outline, angle, origin=(0, 0))
            a, b, c, d = turned.bounds
            x, y = field.room.middle(engine.masks.form(one.turned), one.row, one.column)
            shapes.append(
                (part, angle, affinity.translate(turned, x - (a + c) / 2, y - (b + d) / 2))
            )
        out.append(shapes)
    return out


def check(nest: Nest, engine: Engine) -> None:
    """All that a layout must keep to."""
    job = engine.job
    found = Counter(nest.left)
    used = Counter(kind for kind, _ in nest.fields)
    for (kind, field), shapes in zip(nest.fields, lying(nest, engine), strict=True):
        assert shapes, "no sheet is empty"
        whole = job.kinds[kind].region or box(0, 0, *job.kinds[kind].size)
        room = whole.buffer(1e-6)
        for part, angle, shape in shapes:
            found[part] += 1
            assert room.covers(shape)
            own = job.parts[part]
            assert angle in own.turns[kind] or (own.askew and angle in own.askew[kind])
        for (_, _, one), (_, _, other) in itertools.combinations(shapes, 2):
            assert one.distance(other) >= GAP - 1e-3
        assert field.area == pytest.approx(sum(shape.area for _, _, shape in shapes))
    assert found == Counter({i: part.count for i, part in enumerate(job.parts)})
    for i, kind in enumerate(job.kinds):
        assert kind.count is None or used[i] <= kind.count
    if not nest.left:
        assert engine.fewest is not None
        assert sum(job.kinds[kind].region is None for kind, _ in nest.fields) >= engine.fewest


def test_property_a_layout_is_sound_and_a_search_never_makes_it_worse() -> None:
    """Whatever the outlines, turns and sheets; what is left over lies on none."""
    seen: Counter[str] = Counter()

    @settings(max_examples=deep(30, 400), deadline=None)
    @given(job=jobs(), seed=st.integers(0, 3))
    def holds(job: NestJob, seed: int) -> None:
        drafted = draft(job)
        check(*drafted)
        found = search(drafted, seed, budget=2e7)
        check(*found)
        assert found[0].worth <= drafted[0].worth
        again = search(draft(job), seed, budget=2e7)
        assert lying(*again) == lying(*found), "the same seed gives the same layout"
        seen["jobs"] += 1
        seen["all lie"] += not drafted[0].left
        seen["on an offcut"] += any(job.kinds[kind].region for kind, _ in drafted[0].fields)
        seen["many on a sheet"] += any(len(field.lying) > 2 for _, field in drafted[0].fields)

    holds()
    assert seen["all lie"] >= 0.2 * seen["jobs"], seen
    assert seen["on an offcut"] >= 0.1 * seen["jobs"], seen
    assert seen["many on a sheet"] >= 0.1 * seen["jobs"], seen


def test_what_is_small_lies_in_the_cut_out_of_what_is_large() -> None:
    """A frame's window is board like any other: both share a sheet that the frame fills."""
    frame = box(0, 0, 95, 95) - box(10, 10, 85, 85)
    parts = (Part(frame, 3, (QUARTERS,)), Part(box(0, 0, 60, 60), 3, (QUARTERS,)))
    nest, engine = draft(NestJob(parts, (Kind((96.0, 96.0)),), GAP))
    check(nest, engine)
    assert [len(field.lying) for _, field in nest.fields] == [2, 2, 2]


def test_a_long_piece_lies_askew_where_that_alone_lets_it_lie() -> None:
    """300 mm long, 20 mm wide, on A4: its diagonal is 363 mm."""
    askew = tuple(float(a) for a in range(15, 360, 15) if a % 90)
    strip = Part(box(0, 0, 300, 20), 2, (QUARTERS,), (askew,))
    nest, engine = draft(NestJob((strip,), (Kind((210.0, 297.0)),), GAP))
    check(nest, engine)
    assert not nest.left
    assert all(angle % 90 for shapes in lying(nest, engine) for _, angle, _ in shapes)


def test_what_lies_on_no_sheet_hinders_nothing() -> None:
    """It is left over; all else lies as if it were not there."""
    kinds = (Kind((200.0, 200.0)),)
    small = Part(star(5, 30.0, 12.0, 0.0), 6, (QUARTERS,))
    large = Part(box(0, 0, 260, 220), 2, (QUARTERS,))
    nest, engine = draft(NestJob((small, large), kinds, GAP))
    check(nest, engine)
    assert Counter(nest.left) == {1: 2}
    alone, _ = draft(NestJob((small,), kinds, GAP))
    assert len(nest.fields) == len(alone.fields) == 1


def test_fewest_sheets_by_hand() -> None:
    """Large ones first; what there is too little of gives no number."""
    assert fewest(100.0, [(40.0, None)]) == 3
    assert fewest(100.0, [(60.0, 1), (30.0, None)]) == 3
    assert fewest(100.0, [(60.0, 1), (30.0, 1)]) is None
    assert fewest(80.0, [(40.0, None)]) == 2


def test_an_order_of_sheets_that_needs_fewer_is_found() -> None:
    """Two squares lie on one large sheet; the small ones, first in the list, take two."""
    square = Part(box(0, 0, 90, 90), 2, (QUARTERS, QUARTERS))
    nest, engine = draft(NestJob((square,), (Kind((100.0, 100.0)), Kind((100.0, 200.0))), GAP))
    check(nest, engine)
    assert [kind for kind, _ in nest.fields] == [1]


def test_progress_and_better_layouts_are_told() -> None:
    """Shares rise to one; each layout told of is better than the last."""
    parts = tuple(Part(box(0, 0, 41 + 7 * i, 23 + 5 * i), 3, (QUARTERS,)) for i in range(7))
    job = NestJob(parts, (Kind((187.0, 181.0)),), GAP)
    shares: list[float] = []
    drafted = draft(job, step=shares.append)
    better: list[Nest] = []
    found = search(drafted, 1, budget=2e8, step=shares.append, better=better.append)
    assert 0 < max(shares) <= 1
    worths = [drafted[0].worth, *(nest.worth for nest in better)]
    assert worths == sorted(worths, reverse=True)
    assert len(set(worths)) == len(worths) > 1
    assert found[0].worth == worths[-1]
    assert shapely.area([shape for _, _, shape in lying(*found)[0]]).sum() > 0


def test_offcuts_are_used_before_whole_sheets() -> None:
    """Six squares: four lie on two offcuts, the others on a sheet; price decides between sheets."""
    square = Part(box(0, 0, 60, 60), 6, ((0.0,),) * 3)
    offcut = Kind((140.0, 140.0), 2, 0.0, Polygon([(0, 0), (130, 0), (130, 70), (0, 70)]))
    dear, cheap = Kind((140.0, 140.0), None, 2.0), Kind((140.0, 130.0), None, 1.0)
    nest, engine = draft(NestJob((square,), (offcut, dear, cheap), GAP))
    check(nest, engine)
    assert sorted(kind for kind, _ in nest.fields) == [0, 0, 2]
