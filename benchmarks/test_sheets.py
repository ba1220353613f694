"""How long laying out and ordering the strokes take; run by `make bench`."""

from __future__ import annotations

import numpy as np
import pytest

from benchmarks.nesting import on_sheets
from benchmarks.nesting_jobs import nesting_job
from jadeite.core.cutting.route import route
from jadeite.core.sheets.orders import draft


@pytest.mark.parametrize(
    "name", ["twelve box nets", "cup flowers", "200 leaves", "200 mixed", "rectangles"]
)
def test_draft(benchmark, name: str) -> None:  # type: ignore[no-untyped-def]
    """From outlines to places: of 30 pieces 100 ms, of 200 mixed ones 400 ms or less wanted."""
    job = on_sheets(nesting_job(name))
    assert not benchmark(lambda: draft(job))[0].left


def test_order_of_5000_strokes(benchmark) -> None:  # type: ignore[no-untyped-def]
    """1 s or less wanted."""
    rng = np.random.default_rng(5)
    first = rng.uniform(0, 292, (5000, 1, 2))
    ends = np.concatenate([first, first + rng.normal(0, 6, (5000, 1, 2))], axis=1)
    order, _ = benchmark.pedantic(lambda: route(ends, (0.0, 0.0)), rounds=3)
    assert len(order) == 5000
