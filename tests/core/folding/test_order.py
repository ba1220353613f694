"""The visible order against a point by point comparison of depths."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.geometry import MultiPoint, Point, Polygon

from jadeite.core.assembly import lift_of
from jadeite.core.folding import SPLIT_EDGE, Facets, at_a_glance, build_order, transform
from jadeite.core.folding.order import CANDIDATES
from jadeite.core.pictures import Camera
from jadeite.core.pipeline import work_up
from jadeite.core.project import Shape, Span, Task
from tests.conftest import build_tray


def normal_of(points: np.ndarray) -> np.ndarray:
    """Unit normal of a flat polygon, from all corners (Newell): the first three may lie in line."""
    normal = np.cross(points, np.roll(points, -1, axis=0)).sum(axis=0)
    return np.asarray(normal / np.linalg.norm(normal))


def facets_of(polygons: list[np.ndarray]) -> Facets:
    """Faces to be ordered."""
    return Facets.of([((p,), ((1,) * len(p),), normal_of(p)[None]) for p in polygons])


def painted_exactly(polygons: list[np.ndarray], camera: Camera) -> list[np.ndarray]:
    """Faces, or parts of them, back to front."""
    order = build_order(facets_of(polygons))
    parts, walked = order.parts, order.walk(camera.towards)
    assert sorted(walked) == list(range(len(parts)))
    return [parts.points[parts.starts[i] : parts.starts[i] + parts.corners[i]] for i in walked]


def painted_at_a_glance(polygons: list[np.ndarray], camera: Camera) -> list[np.ndarray]:
    """The faces as they are, back to front."""
    facets = facets_of(polygons)
    walked = at_a_glance(facets, camera.axes, camera.towards)
    assert sorted(walked) == list(range(len(polygons)))
    return [polygons[i] for i in walked]


def order_faults(
    painted: list[np.ndarray], camera: Camera, seed: int, samples: int = 60, by: float = 1e-3
) -> int:
    """How many sample points show a face in front of one that is nearer by more than ``by`` mm."""
    flat = [(Polygon(camera.project(p)), p) for p in painted]
    everything = np.concatenate([camera.project(p) for p in painted])
    rng = np.random.default_rng(seed)
    faults = 0
    for x, y in rng.uniform(everything.min(axis=0), everything.max(axis=0), (samples, 2)):
        seen = []
        for shape, points in flat:
            if not shape.is_valid or shape.area < 1e-6 or not shape.contains(Point(x, y)):
                continue
            if shape.exterior.distance(Point(x, y)) < 0.05:
                continue
            seen.append(depth(points, camera, x, y))
        if len(seen) > 1 and seen[-1] < max(seen) - by:
            faults += 1
    return faults


def depth(points: np.ndarray, camera: Camera, x: float, y: float) -> float:
    """Nearness of a plane to the viewer at a picture point."""
    normal = normal_of(points - points[0])
    right, down = camera.axes
    base = right * (x - camera.x) / camera.scale + down * (y - camera.y) / camera.scale
    base = base + np.array(camera.centre)
    towards = camera.towards
    return float(((points[0] - base) @ normal) / (towards @ normal))


BOARD = 0.3  # mm
NUMBER = st.floats(-10.0, 10.0)


@settings(max_examples=60)
@given(
    st.lists(
        st.tuples(*(st.tuples(NUMBER, NUMBER, NUMBER) for _ in range(3))), min_size=2, max_size=6
    ),
    st.floats(0, 360),
    st.floats(5, 89),
)
def test_property_random_triangles_are_painted_back_to_front(corners, yaw, pitch) -> None:  # type: ignore[no-untyped-def]
    """Even where they pass through one another: they are split."""
    polygons = []
    for triangle in corners:
        points = np.array(triangle)
        if np.linalg.norm(np.cross(points[1] - points[0], points[2] - points[0])) < 1.0:
            return
        polygons.append(points)
    camera = Camera(yaw, pitch, 3.0)
    assert order_faults(painted_exactly(polygons, camera), camera, 1) == 0


@pytest.mark.parametrize("lift", [0.2, 0.35, 0.5, 0.7, 0.85, 1.0])
@pytest.mark.parametrize("yaw", [28.0, 120.0, 250.0])
def test_the_tray_is_painted_right_at_every_moment(lift: float, yaw: float) -> None:
    """Double walls lie half a millimetre apart and still come out right."""
    design = build_tray((70, 50, 30), tray_walls="double")
    pose = lift_of(design).pose(lift)
    polygons = [
        transform(pose.matrices[piece.name][panel.name], panel.outline)
        for piece in design.pieces
        for panel in piece.panels
        if len(panel.outline) == 4
    ]
    camera = Camera(yaw, 33.0, 3.0)
    assert order_faults(painted_exactly(polygons, camera), camera, 7) == 0


def test_clipping_marks_only_the_new_edge() -> None:
    """A square cut in two: three old edges each and one that is not real."""
    square = np.array([[0, 0, 0], [2, 0, 0], [2, 2, 0], [0, 2, 0]], dtype=float)
    facets = Facets.of([((square,), ((1, 2, 3, 4),), np.array([[0.0, 0.0, 1.0]]))])
    for sign in (1.0, -1.0):
        part, left = facets.clipped(sign * (square[:, 0] - 1.0))
        assert left.tolist() == [0]
        assert part.corners.tolist() == [4]
        assert part.kinds.tolist().count(SPLIT_EDGE) == 1
    part, left = facets.clipped(square[:, 0] - 3.0)
    assert len(part) == len(left) == 0


COORDINATES = st.lists(st.tuples(NUMBER, NUMBER), min_size=3, max_size=9)


@settings(max_examples=80)
@given(st.lists(COORDINATES, min_size=1, max_size=5), st.floats(-12, 12), st.floats(0, 6.28))
def test_property_both_halves_are_the_whole(outlines, offset, turn) -> None:  # type: ignore[no-untyped-def]
    """Convex polygons cut by a line, many at once: their areas by shapely, which clips itself."""
    hulls = [Polygon(MultiPoint(points).convex_hull) for points in outlines if area(points) > 1]
    polygons = [np.array([(x, y, 0.0) for x, y in hull.exterior.coords[:-1]]) for hull in hulls]
    if not polygons:
        return
    facets = facets_of(polygons)
    way = np.array([np.cos(turn), np.sin(turn), 0.0])
    for sign in (1.0, -1.0):
        part, left = facets.clipped(sign * (facets.points @ way - offset))
        half = half_plane(way, offset, sign)
        for i, hull in enumerate(hulls):
            where = np.flatnonzero(left == i)
            mine = (
                Polygon(part.points[part.starts[where[0]] :][: part.corners[where[0]], :2])
                if len(where)
                else Polygon()
            )
            assert mine.area == pytest.approx(hull.intersection(half).area, abs=1e-6)


def area(points: list[tuple[float, float]]) -> float:
    """Of the hull of some points."""
    return float(MultiPoint(points).convex_hull.area)


def half_plane(way: np.ndarray, offset: float, sign: float) -> Polygon:
    """All that lies on one side of a line, as far as it matters."""
    along, on = np.array([-way[1], way[0]]) * 100, way[:2] * offset
    beyond = way[:2] * 100 * sign
    return Polygon([on - along, on + along, on + along + beyond, on - along + beyond])


def test_many_faces_in_a_row_end() -> None:
    """More than are tried at each node, parallel, and none is cut."""
    square = np.array([[0, 0, 0], [2, 0, 0], [2, 2, 0], [0, 2, 0]], dtype=float)
    rows = [square + np.array([0, 0, i]) for i in range(8 * CANDIDATES)]
    order = build_order(facets_of(rows))
    walked = order.walk(np.array([0.0, 0.0, 1.0]))
    assert [int(order.parts.tags[i]) for i in walked] == list(range(len(rows)))
    assert build_order(facets_of([])).walk(np.array([0.0, 0.0, 1.0])) == []


@settings(max_examples=60)
@given(
    st.lists(st.tuples(NUMBER, NUMBER, NUMBER, st.floats(1, 4)), min_size=2, max_size=9),
    st.floats(0, 360),
    st.floats(5, 89),
)
def test_property_what_lies_side_by_side_is_right_at_a_glance(places, yaw, pitch) -> None:  # type: ignore[no-untyped-def]
    """Squares lying level: no two pass through one another, and none lie round one another."""
    polygons = [
        np.array([[x, y, z], [x + d, y, z], [x + d, y + d, z], [x, y + d, z]])
        for x, y, z, d in places
    ]
    camera = Camera(yaw, pitch, 3.0)
    assert order_faults(painted_at_a_glance(polygons, camera), camera, 3) == 0


def test_three_that_lie_round_one_another_are_all_painted_at_a_glance() -> None:
    """Each over the next: no order is right, and one is given."""
    strips = []
    for i in range(3):
        turn = 2 * np.pi * i / 3
        along = np.array([np.cos(turn), np.sin(turn)])
        across = np.array([-along[1], along[0]])
        signs = ((-1, -1), (1, -1), (1, 1), (-1, 1))
        corners = [3 * across + a * 9 * along + b * across for a, b in signs]
        heights = [-2.0, 2.0, 2.0, -2.0]
        strips.append(np.array([[*c, z] for c, z in zip(corners, heights, strict=True)]))
    camera = Camera(28.0, 80.0, 3.0)
    painted_at_a_glance(strips, camera)
    assert order_faults(painted_exactly(strips, camera), camera, 5) == 0


@pytest.mark.parametrize("lift", [0.3, 0.6, 0.85, 1.0])
def test_a_full_flower_is_nearly_right_at_a_glance(lift: float) -> None:
    """Six rings of eight petals that lean on one another: less than a point in forty is wrong."""
    shape = Shape(key="layered-flower", options={"petals": "8 8 8 8 8 8"})
    work = work_up(Task(brief=Span(width=120.0), shape=shape), None)
    assert work.design is not None
    assert work.lift is not None
    matrices = work.lift.pose(lift).matrices
    polygons = [
        transform(matrices[piece.name][panel.name], panel.outline)
        for piece in work.design.pieces
        for panel in piece.panels
    ]
    camera = Camera(28.0, 36.0, 3.0)
    assert order_faults(painted_at_a_glance(polygons, camera), camera, 2, 400, BOARD) < 10
