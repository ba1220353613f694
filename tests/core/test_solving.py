"""Numbers by which something comes out as it is wanted."""

from __future__ import annotations

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.optimize import brentq

from jadeite.core.solving import first_within, scaled_to

CURVES = {
    "line": lambda share: 0.37 - share,
    "late": lambda share: 0.9 - share**6,
    "early": lambda share: 0.1 - math.sqrt(share),
    "step": lambda share: 1.0 if share < 0.61 else -1e-9,
    "long flat": lambda share: max(0.002 - share, -0.0001),
}


@given(st.lists(st.floats(-1.0, 1.0), min_size=2, max_size=400))
def test_the_first_number_within_is_that_of_a_scan(values) -> None:  # type: ignore[no-untyped-def]
    """Whatever falls, in steps or all at once."""
    values = sorted({*values, 1.0, 0.0 if min(values) > 0 else min(values)}, reverse=True)
    wanted = next(n for n, value in enumerate(values) if value <= 0)
    most = len(values) - 1
    assert first_within(values.__getitem__, most, (values[0], values[-1])) == wanted


@pytest.mark.parametrize("name", CURVES)
def test_curves_that_bend_little_take_fewer_tries_than_halving(name) -> None:  # type: ignore[no-untyped-def]
    """Of 4096 numbers twelve by halving; the first within is next to SciPy's root."""
    tried = []

    def over(number: int) -> float:
        tried.append(number)
        return CURVES[name](number / 4096)

    found = first_within(over, 4096, (CURVES[name](0.0), CURVES[name](1.0)))
    assert CURVES[name](found / 4096) <= 0 < CURVES[name]((found - 1) / 4096)
    assert found == math.ceil(4096 * brentq(CURVES[name], 0.0, 1.0, xtol=1e-12) - 1e-6)
    assert len(tried) <= {"line": 3, "late": 10, "early": 12}.get(name, 25)


def test_a_length_is_found_that_grows_with_what_is_measured() -> None:
    """A square's side by its area: 7 for 49."""
    assert scaled_to(lambda side: side**2, 49.0, 3.0) == pytest.approx(7.0, rel=1e-9)
