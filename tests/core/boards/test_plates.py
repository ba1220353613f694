"""Plates and beams against handbook tables, series, and a plate solved by differences."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.optimize import brentq
from scipy.sparse import diags, eye, kron
from scipy.sparse.linalg import spsolve

from jadeite.core.boards import board_by_key, floor_sag, wall_bulge
from jadeite.core.boards.plates import (
    GRAVITY,
    Load,
    beam_sag,
    bending_stiffness,
    free_rim_coefficient,
    large_deflection,
    patch_flexibility,
    plate_coefficient,
)

# Timoshenko and Woinowsky-Krieger, Theory of Plates and Shells, table 8
TABLE_8 = [
    (1.0, 0.00406),
    (1.1, 0.00485),
    (1.2, 0.00564),
    (1.3, 0.00638),
    (1.5, 0.00772),
    (1.7, 0.00883),
    (2.0, 0.01013),
    (3.0, 0.01223),
    (5.0, 0.01297),
    (60.0, 0.01302),
]
# the same book, table 23: a point load in the middle, w = α P a² / D
TABLE_23 = [(1.0, 0.01160), (1.2, 0.01353), (1.4, 0.01484), (2.0, 0.01651)]


@pytest.mark.parametrize(("ratio", "alpha"), TABLE_8)
def test_even_load_against_the_published_table(ratio: float, alpha: float) -> None:
    """Within half a per cent, at and between the points that everybody quotes."""
    assert plate_coefficient(ratio) == pytest.approx(alpha, rel=0.005)


@pytest.mark.parametrize(("ratio", "alpha"), TABLE_23)
def test_point_load_against_the_published_table(ratio: float, alpha: float) -> None:
    """A thing on a small foot in the middle."""
    flexibility, place = patch_flexibility(100 * ratio, 100, [Load(0, 0, 0.5, 0.5, 1000)])
    assert flexibility / (GRAVITY * 100**2) == pytest.approx(alpha, rel=0.005)
    assert place == pytest.approx((0.0, 0.0))


def difference_plate(length: float, width: float, pressure: np.ndarray) -> np.ndarray:
    """Deflection times D of a simply supported plate, by central differences.

    Two Poisson problems, one after the other: the moment sum, then the deflection.
    ``pressure`` is (n, m) at the inner points of an even grid.
    """
    n, m = pressure.shape
    dx, dy = length / (n + 1), width / (m + 1)

    def second(count: int, step: float):  # type: ignore[no-untyped-def]
        return diags([1.0, -2.0, 1.0], [-1, 0, 1], shape=(count, count)) / step**2

    laplace = (kron(second(n, dx), eye(m)) + kron(eye(n), second(m, dy))).tocsc()
    moment = spsolve(laplace, -pressure.ravel())
    return np.asarray(spsolve(laplace, -moment).reshape(n, m))


@pytest.mark.parametrize("width", [60.0, 90.0, 120.0])
def test_even_load_against_a_plate_solved_by_differences(width: float) -> None:
    """SciPy's sparse solver knows nothing of series."""
    pressure = np.full((99, 99), 1.0)
    most = difference_plate(120.0, width, pressure).max()
    short, long = sorted((120.0, width))
    assert plate_coefficient(long / short) * short**4 == pytest.approx(most, rel=0.005)


def test_things_where_they_stand_against_differences() -> None:
    """Two things off the middle, each on its own part of the floor."""
    length, width, n = 120.0, 80.0, 159
    loads = [Load(-30, 10, 30, 20, 90), Load(22.5, -15, 15, 30, 140)]
    x = np.linspace(-length / 2, length / 2, n + 2)[1:-1]
    y = np.linspace(-width / 2, width / 2, n + 2)[1:-1]
    pressure = np.zeros((n, n))
    cell = (x[1] - x[0]) * (y[1] - y[0])
    for load in loads:
        on = np.outer(abs(x - load.x) < load.length / 2, abs(y - load.y) < load.width / 2)
        pressure += on * load.mass / 1000 * GRAVITY / (on.sum() * cell)
    most = difference_plate(length, width, pressure).max()
    assert patch_flexibility(length, width, loads)[0] == pytest.approx(most, rel=0.01)


def test_spread_over_all_it_is_the_even_load() -> None:
    """One thing as large as the floor."""
    flexibility, _ = patch_flexibility(150, 100, [Load(0, 0, 150, 100, 500)])
    even = plate_coefficient(1.5) * 0.5 * GRAVITY / (150 * 100) * 100**4
    assert flexibility == pytest.approx(even, rel=0.003)
    board = board_by_key("medium-card")
    spread = floor_sag(board, 150, 100, 500).sag.value
    stood = floor_sag(board, 150, 100, 500, loads=[Load(0, 0, 150, 100, 500)]).sag.value
    assert stood == pytest.approx(spread, rel=0.003)


def test_a_load_in_the_middle_sags_more_than_one_at_the_wall() -> None:
    """Where things stand matters; one that overhangs presses where it stands."""
    middle, _ = patch_flexibility(100, 80, [Load(0, 0, 20, 20, 300)])
    aside, place = patch_flexibility(100, 80, [Load(45, 0, 20, 20, 300)])
    assert middle > 3 * aside
    assert place[0] > 0


@given(st.floats(0.0, 200.0), st.sampled_from([0.26, 1.85]))
def test_property_large_deflection_solves_its_cubic(linear: float, membrane: float) -> None:
    """Against scipy's bracketed root."""
    root = brentq(lambda x: x + membrane * x**3 - linear, 0.0, linear + 1e-12)
    assert large_deflection(linear, membrane) == pytest.approx(root, rel=1e-6, abs=1e-9)


@pytest.mark.parametrize("membrane", [0.26, 1.85])
def test_large_deflection_between_its_limits(membrane: float) -> None:
    """A small load is linear, a large one goes with its cube root."""
    assert large_deflection(1e-4, membrane) == pytest.approx(1e-4, rel=1e-6)
    assert large_deflection(1e7, membrane) == pytest.approx((1e7 / membrane) ** (1 / 3), rel=0.01)


# any beam handbook: 5 F L³ / 384 E I, F L³ / 48 E I, F L³ / 8 E I, F L³ / 3 E I
@pytest.mark.parametrize(
    ("case", "length", "moment"),
    [
        ("even", 200.0, lambda x: x * (200.0 - x) / 2 / 200.0),
        ("middle", 200.0, lambda x: min(x, 200.0 - x) / 2),
        ("shelf-even", 200.0, lambda x: -((200.0 - x) ** 2) / 2 / 200.0),
        ("shelf-end", 200.0, lambda x: -(200.0 - x)),
    ],
)
def test_beams_against_the_integrated_moment(case: str, length: float, moment) -> None:  # type: ignore[no-untyped-def]
    """The bending moment, integrated twice by the trapezoid rule."""
    load, stiffness = 3.0, 1.7e4
    x = np.linspace(0.0, length, 20_001)
    curve = load * np.array([moment(v) for v in x]) / stiffness
    slope = np.concatenate([[0], np.cumsum((curve[1:] + curve[:-1]) / 2 * np.diff(x))])
    sag = np.concatenate([[0], np.cumsum((slope[1:] + slope[:-1]) / 2 * np.diff(x))])
    if case in ("even", "middle"):
        sag = sag - x / length * sag[-1]
    most = float(np.abs(sag).max())
    assert beam_sag(load, length, stiffness, case) == pytest.approx(most, rel=1e-4)


def test_two_bonded_plies_are_eight_times_as_stiff() -> None:
    """And the formula for one ply is that of any plate handbook."""
    one = bending_stiffness([(3.5, 0.23)])
    assert one == pytest.approx(3500 * 0.23**3 / 12 / (1 - 0.09))
    assert bending_stiffness([(3.5, 0.23)] * 2) == pytest.approx(8 * one)
    stiffer = bending_stiffness([(3.5, 0.23), (2.6, 1.0)])
    assert stiffer == pytest.approx(bending_stiffness([(2.6, 1.0), (3.5, 0.23)]))
    assert stiffer > bending_stiffness([(2.6, 1.0)]) + one


def test_a_wall_with_a_free_rim() -> None:
    """Between the table's points; a tall one is a strip of the width of the plate."""
    assert free_rim_coefficient(1.0) == 0.01286
    assert 0.01286 < free_rim_coefficient(1.1) < 0.01384  # the table itself says 0.01341
    assert free_rim_coefficient(0.1) == free_rim_coefficient(0.5)
    strip = 5 / 384 / (1 - 0.3**2)  # free to curl up at its rim: the beam, any handbook
    assert free_rim_coefficient(9.0) < strip * 1.07


def test_bulge_grows_with_the_fill() -> None:
    """Deeper, heavier and longer bulge more; a second wall bulges less."""
    board = board_by_key("medium-card")
    usual = wall_bulge(board, 90, 70, 0.7, 60).sag.value
    assert wall_bulge(board, 90, 70, 0.7, 70).sag.value > usual
    assert wall_bulge(board, 90, 70, 1.4, 60).sag.value > usual
    assert wall_bulge(board, 120, 70, 0.7, 60).sag.value > usual
    assert wall_bulge(board, 90, 70, 0.7, 60, walls=2).sag.value < usual
    pressure = 0.7e-6 * GRAVITY * 60 / 3  # at the foot, Rankine at 30 degrees
    small = wall_bulge(board_by_key("chipboard"), 90, 70, 0.7, 60)
    d = bending_stiffness([(math.sqrt(7.0), 2.0)])
    linear = free_rim_coefficient(70 / 90) * pressure * 60 / 70 / 2 * 90**4 / d
    assert small.sag.value == pytest.approx(linear, rel=0.01)
    assert small.holds


@pytest.mark.parametrize("ratio", [0.5, math.nan, math.inf])
def test_a_ratio_that_is_none_is_refused(ratio: float) -> None:
    """Sides are sorted before they are divided."""
    with pytest.raises(ValueError, match="long side"):
        plate_coefficient(ratio)
