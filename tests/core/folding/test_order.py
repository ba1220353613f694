"""The visible order against a point by point comparison of depths."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.geometry import Point, Polygon

from jadeite.core.assembly import lift_of
from jadeite.core.folding import OrderItem, build_order, transform
from jadeite.core.folding.order import clip
from jadeite.core.pictures import Camera
from tests.conftest import build_tray


def items_of(polygons: list[np.ndarray]) -> list[OrderItem]:
    """Faces to be ordered."""
    out = []
    for i, points in enumerate(polygons):
        normal = np.cross(points[1] - points[0], points[2] - points[0])
        flags = (tuple(1 for _ in points),)
        out.append(OrderItem(i, (points,), flags, (normal / np.linalg.norm(normal),)))
    return out


def order_faults(polygons: list[np.ndarray], camera: Camera, seed: int) -> int:
    """How many sample points show a farther face in front of a nearer one."""
    tree = build_order(items_of(polygons))
    assert tree is not None
    towards = camera.towards
    painted = [(item.tag, item.polygons[0]) for item in tree.walk(towards)]
    flat = [(tag, Polygon(camera.project(p)), p) for tag, p in painted]
    everything = np.concatenate([camera.project(p) for p in polygons])
    rng = np.random.default_rng(seed)
    faults = 0
    for x, y in rng.uniform(everything.min(axis=0), everything.max(axis=0), (60, 2)):
        seen = []
        for tag, shape, points in flat:
            if not shape.is_valid or shape.area < 1e-6 or not shape.contains(Point(x, y)):
                continue
            if shape.exterior.distance(Point(x, y)) < 0.05:
                continue
            seen.append((tag, depth(points, camera, x, y)))
        if len(seen) > 1 and seen[-1][1] < max(d for _, d in seen) - 1e-3:
            faults += 1
    return faults


def depth(points: np.ndarray, camera: Camera, x: float, y: float) -> float:
    """Nearness of a plane to the viewer at a picture point."""
    normal = np.cross(points[1] - points[0], points[2] - points[0])
    right, down = camera.axes
    base = right * (x - camera.x) / camera.scale + down * (y - camera.y) / camera.scale
    base = base + np.array(camera.centre)
    towards = camera.towards
    return float(((points[0] - base) @ normal) / (towards @ normal))


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
    assert order_faults(polygons, Camera(yaw, pitch, 3.0), 1) == 0


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
    assert order_faults(polygons, Camera(yaw, 33.0, 3.0), 7) == 0


def test_clipping_marks_only_the_new_edge() -> None:
    """A square cut in two: three old edges each and one that is not real."""
    square = np.array([[0, 0, 0], [2, 0, 0], [2, 2, 0], [0, 2, 0]], dtype=float)
    for sign in (1.0, -1.0):
        part = clip(square, (1, 2, 3, 4), square[:, 0] - 1.0, sign)
        assert part is not None
        points, flags = part
        assert len(points) == 4
        assert sorted(flags).count(0) == 1
    assert clip(square, (1, 1, 1, 1), square[:, 0] - 3.0, 1.0) is None
