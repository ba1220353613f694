"""The table piece: as wide as asked, filled, proved from its exported FOLD geometry."""

from __future__ import annotations

import os

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.geometry import Polygon

from jadeite.core.blooms import Head, Patch
from jadeite.core.findings import Level
from jadeite.core.pipeline import work_up
from jadeite.core.pipeline.cures import cured
from jadeite.core.project import Task
from jadeite.core.shapes import family_by_key
from tests import fold_reader
from tests.core.shapes.closing import (
    FOLDING,
    build,
    closes_or_says_why,
    options_of,
    span_task,
    text_of,
)

FAMILY = family_by_key("table-piece")
SPANS = st.tuples(st.floats(240.0, 600.0), st.just(0.0), st.just(0.0))
EXAMPLES = 200 if os.environ.get("HYPOTHESIS_PROFILE") == "soak" else 8
FORMS = ("round", "oval", "rectangle")


def task(width: float = 220.0, height: float | None = None, **options: object) -> Task:
    """A table piece with options."""
    return span_task(FAMILY.key, width, height, **options)


@settings(max_examples=EXAMPLES)
@given(span=SPANS, board=FOLDING, chosen=options_of(FAMILY))
def test_property_every_table_piece_closes_or_says_why(span, board, chosen) -> None:  # type: ignore[no-untyped-def]
    """Over all options; refusals name what works."""
    closes_or_says_why(FAMILY, span, board, chosen)


@pytest.mark.parametrize(("width", "form"), [(155.0, "round"), (170.0, "rectangle"),
                                             (220.0, "round"), (280.0, "oval")])  # fmt: skip
def test_the_usual_table_piece_needs_no_look(width: float, form: str) -> None:
    """A default never warns about itself, is full, and about as wide as asked."""
    work = work_up(task(width, form=form), None)
    assert [f.message for f in work.findings if f.level >= Level.LOOK] == []
    assert [f.code for f in work.findings if f.code == "wreath-bare"] == []
    assert work.sizes["finished-width"].value == pytest.approx(width, rel=0.03)
    assert work.sizes["finished-width"].value < width + 0.5
    assert 62.0 <= work.sizes["fullness"].value < 90.0


@pytest.mark.parametrize("form", FORMS)
def test_width_depth_and_fullness_are_those_of_the_geometry(form: str) -> None:
    """From the FOLD text: extents, and a count of 200 000 random points of the outline."""
    work = work_up(task(260.0, form=form), None)
    assert work.design is not None
    model = fold_reader.read(text_of(work.design))
    base = {piece.name for piece in work.design.pieces if piece.part == "base"}
    faces = [face.points for (piece, _), face in model.faces.items() if piece not in base]
    points = np.concatenate(faces)
    wide, deep = np.ptp(points[:, :2], axis=0)
    assert wide == pytest.approx(work.sizes["finished-width"].value, abs=0.05)
    assert deep == pytest.approx(work.sizes["finished-depth"].value, abs=0.05)
    outline = next(r.value for r in work.sizes["finished-width"].inputs if r.name == "outline")
    across = outline if form == "round" else 0.66 * outline
    rng = np.random.default_rng(5)
    spots = rng.uniform(-0.5, 0.5, (200_000, 2)) * (outline, across)
    half = spots / (outline / 2, across / 2)
    if form == "rectangle":  # corners rounded by 16 % of the shorter side
        corner = 0.16 * across
        past = np.maximum(np.abs(spots) - np.array([outline, across]) / 2 + corner, 0.0)
        spots = spots[np.hypot(*past.T) <= corner]
    else:
        spots = spots[np.hypot(*half.T) <= 1.0]
    tree = shapely.STRtree([Polygon(face[:, :2]).buffer(0) for face in faces])
    seen = np.unique(tree.query(shapely.points(spots), predicate="intersects")[0]).size
    assert 100 * seen / len(spots) == pytest.approx(work.sizes["fullness"].value, abs=0.6)


@pytest.mark.parametrize("form", FORMS)
def test_feet_and_middles_lie_on_the_board_and_petals_hide_its_edge(form: str) -> None:
    """From the FOLD text: what is glued lies inside the board, the board inside the outline."""
    design = build(FAMILY, (240.0, 0.0, 0.0), form=form, large=56.0, small=60.0, leaves=40.0)
    model = fold_reader.read(text_of(design))
    board = Polygon(model.faces["base", "board"].points[:, :2])
    for joint in design.joints:
        if joint.target[0] == "base":
            face = model.faces[joint.tab[0], joint.tab[1]].points[:, :2]
            assert board.contains(Polygon(face))
    flowers = [j for j in design.joints if j.title == "on the board"]
    assert len(flowers) == design.sizes["flowers"].value >= 5


@given(
    form=st.sampled_from(FORMS),
    width=st.floats(130.0, 500.0),
    share=st.floats(0.4, 1.0),
    head=st.floats(20.0, 120.0),
)
def test_property_flowers_stay_within_the_outline(
    form: str, width: float, share: float, head: float
) -> None:
    """By distance from the outline; none only where none can be."""
    deep = width if form == "round" else share * width
    patch = Patch(form, width, deep, 0.16 * deep / 2, 0.18 * deep / 2)
    places = patch.places(Head(head, head / 8))
    room = deep / 2 - head / 2 - 0.18 * deep / 2
    assert bool(len(places)) == (room > 0) or abs(room) < 1.0
    if len(places):
        off = shapely.distance(patch.region.exterior, shapely.points(places))
        assert shapely.contains_xy(patch.region, *places.T).all()
        assert off.min() >= head / 2 + 0.18 * deep / 2 - 0.05
    tips, outward = patch.tips()
    way = np.column_stack([np.cos(np.radians(outward)), np.sin(np.radians(outward))])
    assert ((tips * way).sum(axis=1) > 0).all()  # every outline here is convex about its middle


def test_small_flowers_for_a_small_piece_are_larger_and_fewer() -> None:
    """What nobody chose gives way, and is said; what somebody chose is refused with a cure."""
    usual = work_up(task(170.0, form="oval"), None)
    assert usual.design is not None
    assert "petals" in usual.design.settled
    chosen = task(170.0, form="oval", petals="6 5 4", large=50.0, small=50.0)
    (finding,) = [f for f in work_up(chosen, None).findings if f.level is Level.BLOCKED]
    assert finding.cure is not None
    assert work_up(cured(chosen, finding.cure), None).design is not None


@pytest.mark.parametrize("height", [8.0, 20.0])
def test_it_is_as_high_as_asked(height: float) -> None:
    """From the FOLD text: petals rise until their tips are so high over the table."""
    work = work_up(task(220.0, height), None)
    assert work.design is not None
    model = fold_reader.read(text_of(work.design))
    points = np.concatenate([face.points for face in model.faces.values()])
    thick = work.design.body.board.thickness
    assert np.ptp(points[:, 2]) + thick / 2 == pytest.approx(height, abs=0.2)
