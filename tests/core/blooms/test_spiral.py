"""Spirals and coils against formulas, quadrature, and searches by brute force."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.integrate import quad

from jadeite.core.blooms import Coil, Edge, Spiral, core_left, spiral_in_square, spiral_of_length
from jadeite.core.blooms.spiral import GAP

STARTS, WIDTHS = st.floats(4.0, 40.0), st.floats(4.0, 40.0)
TURNS = st.floats(0.5, 12.0)


@settings(max_examples=200)
@given(start=STARTS, width=WIDTHS, turns=TURNS)
def test_property_a_spiral_is_as_long_as_by_quadrature(start, width, turns) -> None:  # type: ignore[no-untyped-def]
    """Its length in closed form against SciPy's integral of its speed: within 0.1 %."""
    spiral = Spiral(start, width, turns)
    grows = spiral.pitch / (2 * math.pi)
    found, _ = quad(lambda a: math.hypot(start + grows * a, grows), 0.0, 2 * math.pi * turns)
    assert spiral.length == pytest.approx(found, rel=1e-3)
    assert spiral_of_length(start, width, spiral.length).turns == pytest.approx(turns, abs=1e-5)


@settings(max_examples=100)
@given(start=STARTS, width=WIDTHS, turns=st.floats(1.2, 8.0))
def test_property_turns_of_the_strip_stand_apart(start, width, turns) -> None:  # type: ignore[no-untyped-def]
    """From each outer edge to the foot of the next turn there is the gap, or a little more."""
    spiral = Spiral(start, width, turns)
    inner = np.linspace(0.0, 2 * math.pi * (turns - 1), 200)
    edge = spiral.foot(inner) + width * spiral.outwards(inner)
    foot = spiral.foot(np.linspace(0.0, 2 * math.pi * turns, 4000))
    own = spiral.foot(inner)
    apart = np.linalg.norm(edge[:, None, :] - foot[None], axis=2)
    beyond = np.linalg.norm(foot[None] - own[:, None, :], axis=2) > 1.05 * width
    assert np.where(beyond, apart, np.inf).min() >= 0.8 * GAP


@pytest.mark.parametrize(
    ("start", "width", "side"),
    [(9.0, 12.0, 108.0), (6.0, 9.0, 140.0), (14.0, 20.0, 292.0), (20.0, 8.0, 215.0)],
)
def test_the_largest_spiral_in_a_square(start: float, width: float, side: float) -> None:
    """Against lengths by a quarter of a millimetre, turns by a tenth of a degree."""
    found = spiral_in_square(start, width, side)
    assert found is not None

    def fits(length: float) -> bool:
        spiral = spiral_of_length(start, width, length)
        last = 2 * math.pi * spiral.turns
        angle = np.linspace(max(0.0, last - 6.5), last, 600)
        x, y = (spiral.foot(angle) + width * spiral.outwards(angle)).T
        for tilt in np.radians(np.arange(0.0, 90.0, 0.1)):
            c, s = math.cos(tilt), math.sin(tilt)
            if max(np.ptp(c * x - s * y), np.ptp(s * x + c * y)) <= side:
                return True
        return False

    lengths = np.arange(found.length - 3.0, found.length + 4.0, 0.25)
    longest = max(length for length in lengths.tolist() if fits(length))
    assert found.length == pytest.approx(longest, abs=0.5)


def test_a_square_that_takes_no_turn() -> None:
    """Is refused, not answered by a stump."""
    assert spiral_in_square(20.0, 30.0, 60.0) is None


@settings(max_examples=200)
@given(core=st.floats(1.0, 8.0), layer=st.floats(0.05, 1.0), length=st.floats(50.0, 4000.0))
def test_property_a_coil_is_as_wide_as_its_layers_fill(core, layer, length) -> None:  # type: ignore[no-untyped-def]
    """sqrt(d0² + 4 t L / π), and the spiral of its layers by SciPy: length within 0.1 %."""
    coil = Coil(core, layer, length)
    assert coil.width == pytest.approx(math.sqrt(core**2 + 4 * layer * length / math.pi))
    grows = layer / (2 * math.pi)
    whole, _ = quad(lambda a: core / 2 + grows * a, 0.0, 2 * math.pi * coil.turns)
    assert whole == pytest.approx(length, rel=1e-3)
    assert core_left(coil.width, layer, length) == pytest.approx(core, abs=1e-6)
    assert coil.radius(np.array([0.0, length])) == pytest.approx([coil.width / 2, core / 2])


@pytest.mark.parametrize("kind", ["round", "pointed", "wavy", "plain"])
def test_scallops_are_as_wide_and_deep_as_asked(kind: str) -> None:
    """From one to the next, and never beyond the strip."""
    edge = Edge(kind, 9.0, 3.0)
    along = np.linspace(0.0, 90.0, 9001)
    drawn = edge.drawn_in(along)
    assert drawn.min() == pytest.approx(0.0, abs=1e-3)
    assert drawn.max() == pytest.approx(0.0 if kind == "plain" else 3.0, abs=1e-3)
    assert drawn == pytest.approx(edge.drawn_in(along + 9.0), abs=1e-6)
