"""Pull tabs: closed wherever they are pulled to, and the head never slips through the bridge."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.geometry import Polygon, box

from jadeite.core.errors import FieldError
from jadeite.core.findings import Level
from jadeite.core.pipeline import work_up
from jadeite.core.project import Face, Shape, Task, changed
from jadeite.core.shapes import family_by_key
from tests import fold_reader
from tests.core.shapes.closing import FOLDING, build, faults, text_of

FAMILY = family_by_key("folded-card")
KINDS = ("star", "round")


def region(design, piece: str, on: str = "layer-1"):  # type: ignore[no-untyped-def]
    """A piece as it lies on the front, in the front's own plane."""
    model = fold_reader.read(text_of(design))
    front, own = model.faces[on, "overlay"].points, model.faces[piece, "overlay"].points
    x = (front[1] - front[0]) / np.linalg.norm(front[1] - front[0])
    y = (front[3] - front[0]) / np.linalg.norm(front[3] - front[0])
    flat = own - front[0]
    return Polygon(np.column_stack([flat @ x, flat @ y]))


@settings(max_examples=60, deadline=None)
@given(
    face=st.tuples(st.floats(150.0, 250.0), st.floats(85.0, 200.0), st.just(0.0)),
    kind=st.sampled_from(KINDS), pulled=st.integers(0, 100), board=FOLDING,
    leaves=st.sampled_from(["two", "three"]),
)  # fmt: skip
def test_property_it_closes_wherever_it_is_pulled_to(face, kind, pulled, board, leaves) -> None:  # type: ignore[no-untyped-def]
    """By the FOLD text at any place; what is cut is the same everywhere."""
    first, other = (
        build(FAMILY, face, board, pull=kind, pulled=float(way), leaves=leaves)
        for way in (0, pulled)
    )
    assert faults(other) == []
    for one, two in zip(first.pieces, other.pieces, strict=True):
        assert np.abs(one.panels[0].outline - two.panels[0].outline).max() < 1e-9
    went = region(other, "pulled-thing").centroid.x - region(first, "pulled-thing").centroid.x
    assert went == pytest.approx(pulled / 100 * first.sizes["pull-way"].value, abs=1e-6)


@pytest.mark.parametrize("kind", KINDS)
def test_the_head_stops_at_the_bridge_and_the_strip_runs_free(kind: str) -> None:
    """By Shapely: pulled all the way the ornament comes to the bridge; between its glued ends only
    the stem has room; the ornament hides the head and stays on the front."""
    face = (148.0, 105.0, 0.0)
    design = build(FAMILY, face, pull=kind, pulled=100.0)
    strip, bridge, thing = (region(design, n) for n in ("pull-strip", "bridge", "pulled-thing"))
    x0, y0, _, y1 = bridge.bounds
    left = strip.bounds[0]
    head = strip.intersection(box(left, -1e3, left + 8.0 - 1e-6, 1e3))  # as long as that
    glued = [Polygon(np.array(j.region)) for j in design.joints if "bridge" in j.title]
    gap = min(p.bounds[1] for p in glued if p.centroid.y > 0) - max(
        p.bounds[3] for p in glued if p.centroid.y < 0
    )
    assert 11.0 + 1.9 < gap < head.bounds[3] - head.bounds[1] - 5.0
    assert x0 - thing.bounds[2] == pytest.approx(1.0, abs=0.2)  # a disc has corners
    assert thing.contains(head.buffer(-0.01))
    front = Polygon(region(design, "layer-1").exterior)
    assert front.contains(thing)
    assert front.contains(bridge)
    pushed = build(FAMILY, face, pull=kind)
    assert front.contains(region(pushed, "pull-strip"))
    assert not front.contains(strip)  # there it is gripped
    assert y0 < strip.bounds[1] < strip.bounds[3] < y1


def test_it_is_laid_then_bridged_then_hidden() -> None:
    """The strip loose, the bridge over it, the ornament last; nothing needs a look."""
    shape = Shape(key="folded-card", options={"pull": "star", "fold": "top"})
    task = changed(Task(), brief=Face(size=(148.0, 105.0)), shape=shape)
    work = work_up(task, None)
    assert [f.message for f in work.findings if f.level > Level.NOTE] == []
    titles = [step.title for step in work.assembly.steps]
    assert titles[-3:] == ["Lay the strip on layer 1", "Glue the bridge to layer 1",
                           "Glue the star to the strip"]  # fmt: skip
    bare = work_up(changed(task, shape=Shape(key="folded-card", options={"fold": "top"})), None)
    more = work.sizes["thickness"].value - bare.sizes["thickness"].value
    assert more == pytest.approx(2 * 0.23)  # the strip, and what lies on it


@pytest.mark.parametrize("chosen", [{"leaves": "gate"}, {"layers": 5.0, "step": 8.0}])
def test_where_there_is_no_room_for_one_it_says_so(chosen) -> None:  # type: ignore[no-untyped-def]
    """The way that it names works."""
    with pytest.raises(FieldError, match="pull") as refused:
        build(FAMILY, (130.0, 105.0, 0.0), pull="star", **chosen)
    assert refused.value.ways == ((("shape.options.pull", "none"),),)
    assert faults(build(FAMILY, (130.0, 105.0, 0.0), pull="none", **chosen)) == []
