"""Looking at the table: projection, round scales, the moving view."""

from __future__ import annotations

import itertools

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from jadeite.core.assembly import lift_of
from jadeite.core.folding import transform
from jadeite.core.pictures import Camera, fitted, round_scale
from jadeite.core.pictures.viewpoint import ViewPoint
from tests.conftest import build_tray

ANGLE = st.floats(-720, 720)
PITCH = st.floats(4, 90)
SIZE = (650.0, 620.0)
PIXELS = 96 / 25.4


@given(ANGLE, PITCH)
def test_property_projection_is_orthographic(yaw: float, pitch: float) -> None:
    """The picture's axes and the direction of view are a right-handed orthonormal frame."""
    camera = Camera(yaw, pitch)
    right, down = camera.axes
    frame = np.array([right, -down, camera.towards])
    assert frame @ frame.T == pytest.approx(np.eye(3), abs=1e-12)
    assert np.linalg.det(frame) == pytest.approx(1.0)


def test_from_above_x_is_right_and_y_is_up() -> None:
    """At a scale of 2 a 10 mm square is 20 picture units."""
    camera = Camera(0.0, 90.0, 2.0, x=100.0, y=100.0)
    flat = camera.project(np.array([[0.0, 0, 0], [10, 0, 0], [0, 10, 0], [0, 0, 10]]))
    assert flat == pytest.approx(
        np.array([[100, 100], [120, 100], [100, 80], [100, 100]]), abs=1e-9
    )


@given(
    st.lists(st.tuples(*(st.floats(-200, 200) for _ in range(3))), min_size=2, max_size=9),
    ANGLE,
    PITCH,
)
def test_property_fitted_shows_everything(points, yaw, pitch) -> None:  # type: ignore[no-untyped-def]
    """Inside the margins, and touching one pair of them."""
    margins = (20.0, 30.0, 40.0, 50.0)
    camera = fitted(np.array(points), Camera(yaw, pitch), 600, 500, margins)
    flat = camera.project(np.array(points))
    assert flat[:, 0].min() >= 20 - 1e-6
    assert flat[:, 0].max() <= 560 + 1e-6
    assert flat[:, 1].min() >= 30 - 1e-6
    assert flat[:, 1].max() <= 450 + 1e-6


@given(st.floats(0.05, 40.0))
def test_property_round_scales_never_grow(most: float) -> None:
    """The next smaller ratio, said in words that say the same."""
    scale, words = round_scale(most, PIXELS)
    assert scale <= most + 1e-9
    a, b = (float(part) for part in words.split(" : "))
    assert a / b * PIXELS == pytest.approx(scale, rel=0.01)
    assert 1.0 in (a, b)


def points_of(design):  # type: ignore[no-untyped-def]
    """Every corner at a lift."""
    lift = lift_of(design)

    def points(value: float) -> np.ndarray:
        matrices = lift.pose(value).matrices
        return np.concatenate(
            [
                transform(matrices[p.name][n.name], n.outline)
                for p in design.pieces
                for n in p.panels
            ]
        )

    return lift, points


def test_flat_is_exactly_from_above_at_a_round_scale() -> None:
    """Yaw 0, pitch 90, a ratio that can be named."""
    lift, points = points_of(build_tray())
    view = ViewPoint((50, 50, 50, 50))
    camera = view.camera(lift, 0.0, points, SIZE, PIXELS)
    assert (camera.yaw, camera.pitch) == (0.0, 90.0)
    a, b = (float(part) for part in view.scale_words.split(" : "))
    assert camera.scale == pytest.approx(a / b * PIXELS, rel=0.01)


@pytest.mark.parametrize("good", ["outside", "inside"])
def test_everything_stays_in_view_at_every_moment(good: str) -> None:
    """Also while the lid travels."""
    lift, points = points_of(build_tray(good_side=good))
    view = ViewPoint((50, 50, 50, 50))
    for value in np.linspace(0, 1, 81):
        camera = view.camera(lift, float(value), points, SIZE, PIXELS)
        flat = camera.project(points(float(value)))
        assert flat.min() > -25, value
        assert (flat.max(axis=0) < np.array(SIZE) + 25).all(), value


def test_the_view_moves_smoothly() -> None:
    """No jump of scale or place between two frames."""
    lift, points = points_of(build_tray())
    view = ViewPoint((50, 50, 50, 50))
    cameras = [view.camera(lift, v, points, SIZE, PIXELS) for v in np.linspace(0, 1, 601)]
    for a, b in itertools.pairwise(cameras):
        assert abs(b.scale / a.scale - 1) < 0.03
        assert abs(b.pitch - a.pitch) < 2.0


def test_turning_a_flat_net_starts_from_above() -> None:
    """The first drag turns what is seen, not the usual side view; reset goes back."""
    lift, points = points_of(build_tray())
    view = ViewPoint((50, 50, 50, 50))
    view.turn(10.0, -5.0, lift, 0.0)
    camera = view.camera(lift, 0.0, points, SIZE, PIXELS)
    assert (camera.yaw, camera.pitch) == (10.0, 85.0)
    assert view.moved
    view.turn(0.0, -500.0, lift, 0.0)
    assert view.camera(lift, 0.0, points, SIZE, PIXELS).pitch == 4.0
    view.reset()
    assert not view.moved
    assert view.camera(lift, 0.0, points, SIZE, PIXELS).pitch == 90.0


@given(st.floats(0.5, 3.0), st.floats(0, 600), st.floats(0, 600), st.floats(-50, 50))
def test_property_zooming_keeps_the_point_under_the_pointer(factor, x, y, shift) -> None:  # type: ignore[no-untyped-def]
    """Whatever was zoomed and shifted before."""
    lift, points = points_of(build_tray())
    view = ViewPoint((50, 50, 50, 50))
    view.shift(shift, -shift)
    view.zoom(1.3, 100, 100)
    before = view.camera(lift, 1.0, points, SIZE, PIXELS)
    view.zoom(factor, x, y)
    after = view.camera(lift, 1.0, points, SIZE, PIXELS)
    spot = ((x - before.x) / before.scale, (y - before.y) / before.scale)
    assert after.x + spot[0] * after.scale == pytest.approx(x, abs=1e-6)
    assert after.y + spot[1] * after.scale == pytest.approx(y, abs=1e-6)
