"""Ribbons on the closed thing, held against the folded geometry of its FOLD file."""

from __future__ import annotations

import json

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from scipy.spatial import ConvexHull
from shapely.geometry import LineString, Point, Polygon

from jadeite.core.assembly import lift_of
from jadeite.core.errors import FieldError
from jadeite.core.nets.ties import BOW, figure_eight, hanging_loop, ribbon_length
from jadeite.core.pictures import LIGHT, Camera, Scene, SceneStyle
from jadeite.core.pictures.face_paint import LINED
from jadeite.core.pictures.faces import RIBBON
from jadeite.core.pictures.primitives import Path
from jadeite.core.pipeline import work_up
from jadeite.core.project import Hollow, Shape, Task, changed
from jadeite.core.shapes import family_by_key
from tests.core.shapes.closing import build, sizes, text_of

TIED = {"pyramid": {}, "gathered-box": {"closing": "ribbon"}}
HIDDEN = 0.9  # mm; a ribbon inside lies so far behind its slits, and a board is as thick


def hull_of(design) -> ConvexHull:  # type: ignore[no-untyped-def]
    """Round every vertex of the folded frame."""
    frame = json.loads(text_of(design))["file_frames"][0]
    return ConvexHull(np.array(frame["vertices_coords"]))


@pytest.mark.parametrize("key", TIED)
@settings(max_examples=40)
@given(data=st.data(), inside=sizes(30.0, 160.0), width=st.floats(3.0, 12.0))
def test_property_a_ribbon_runs_in_and_out_and_never_through_board(
    key, data, inside, width
) -> None:  # type: ignore[no-untyped-def]
    """By turns inside and outside of the hull of the closed thing; bow and ends outside."""
    chosen = dict(TIED[key], ribbon=width)
    if key == "pyramid":
        chosen["sides"] = float(data.draw(st.integers(3, 8)))
    try:
        design = build(family_by_key(key), inside, **chosen)
    except FieldError:
        assume(False)  # the slit does not fit: hypothesis fails where that is often so
        return
    (ribbon,) = design.bought
    count = len(ribbon.strips) - 5  # two loops, a knot, two ends
    assert count == round(float(chosen.get("sides", 4.0)))
    planes = hull_of(design).equations
    for number, strip in enumerate(ribbon.strips):
        lines = np.array(strip.points)
        proud = (lines @ planes[:, :3].T + planes[:, 3]).max(axis=1)
        if number < count and number % 2 == 0:
            assert proud.max() <= 0.01
        else:
            assert proud.min() >= -0.01
    ends = [strip.points[-1][2] for strip in ribbon.strips[-2:]]
    assert min(ends) >= min(f[2] for f in hull_of(design).points) - 0.01
    assert ribbon.length == pytest.approx(ribbon_length(ribbon.strips), abs=1.0)
    assert ribbon_length(ribbon.strips[count:]) == pytest.approx(BOW, rel=0.25)


def test_a_ribbon_is_seen_once_it_is_tied() -> None:
    """Not while the tops are folded in; in the picture its colour is on no board."""
    design = build(family_by_key("gathered-box"), (60.0, 60.0, 70.0))
    lift = lift_of(design)
    (tie,) = [stage for stage in lift.stages if stage.kind == "tie"]
    for value, seen in ((0.0, False), (tie.start, False), (1.0, True)):
        pose = lift.pose(value)
        assert bool(pose.ribbons) is seen
        scene = Scene(design, pose.matrices, ribbons=pose.ribbons)
        camera = scene.fitted(Camera(28, 25), 400, 300, (5, 5, 5, 5))
        picture = scene.draw(camera, SceneStyle(LIGHT, {}))
        paths = [item for item in picture.items if isinstance(item, Path)]
        untagged = [p for p in paths if p.tag is None and p.fill]
        reds = [int(p.fill[1:3], 16) - int(p.fill[3:5], 16) for p in untagged]
        # plum is the one colour here with more red than green by so much
        assert (max(reds, default=0) > 30) is seen
    assert int(RIBBON[1:3], 16) - int(RIBBON[3:5], 16) > 40


@pytest.mark.parametrize("sides", [3.0, 4.0, 5.0])
def test_a_face_that_the_ribbon_parts_keeps_its_windows(sides: float) -> None:
    """Each part has its own of them: no ring is empty, and none is painted over the ribbon."""
    shape = Shape(key="pyramid", options={"sides": sides})
    brief = Hollow(size=(60.0, 60.0, 60.0))
    task = changed(Task(), brief=brief, shape=shape, usual_windows=True)
    work = work_up(task, None)
    pose = work.lift.pose(1.0)
    shares = []
    for ribbons in ((), pose.ribbons):
        scene = Scene(work.design, pose.matrices, ribbons=ribbons)
        camera = scene.fitted(Camera(28, 25), 500, 400, (5, 5, 5, 5))
        picture = scene.draw(camera, SceneStyle(LIGHT, work.colours, shadow=False))
        paths = [item for item in picture.items if isinstance(item, Path)]
        assert all(len(ring) >= 2 for path in paths for ring in path.rings)
        pale = [p for p in paths if p.closed and p.fill and p.fill.lower() == LINED.lower()]
        shares.append(sum(Polygon(ring).area for p in pale for ring in p.rings)
                      / camera.scale**2)  # fmt: skip
    assert len(pale) > 20
    assert shares[1] == pytest.approx(shares[0], rel=0.02)


def test_a_loop_hangs_from_its_slit() -> None:
    """Both its ends in the slit, its lowest point as far below as asked."""
    mouth, out, up = np.array([10.0, 0.0, 30.0]), np.array([1.0, 0, 0]), np.array([0, 0, 1.0])
    (strip,) = hanging_loop(mouth, out, up, 6.0, 25.0)
    points = np.array(strip.points)
    assert points[[0, -1]] == pytest.approx(np.array([mouth, mouth]))
    assert points[:, 2].min() == pytest.approx(5.0, abs=1.0)
    assert (points[:, 0] >= 10.0).all()


@settings(max_examples=30)
@given(apart=st.floats(16.0, 60.0), radius=st.floats(2.0, 6.0), turn=st.floats(0.0, 6.3))
def test_property_a_string_crosses_between_its_dots_and_cuts_neither(apart, radius, turn) -> None:  # type: ignore[no-untyped-def]
    """An eight: outside of both dots, once over the middle from side to side each way."""
    one = np.array([1.0, 2.0, 3.0])
    other = one + apart * np.array([np.cos(turn), np.sin(turn), 0.0])
    wound, tail = figure_eight((one, other), np.array([0.0, 0.0, 1.0]), radius, 1.0, 40.0)
    line = LineString([p[:2] for p in wound.points])
    for centre in (one, other):
        # chords of its points lie a little inside the circle
        assert line.distance(Point(centre[:2])) >= 0.94 * radius
    middle = Point(((one + other) / 2)[:2])
    assert line.distance(middle) == pytest.approx(0.0, abs=1e-6)
    assert not line.is_simple
    assert tail.length == pytest.approx(40.0 - radius)
