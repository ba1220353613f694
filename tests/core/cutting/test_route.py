"""How far the tool travels: against every order of few strokes, and a routing solver (PyVRP)."""

from __future__ import annotations

import itertools
import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pyvrp import Model
from pyvrp.stop import MaxIterations

from jadeite.core.cutting.plan import BANDS, ORDER, CutPath
from jadeite.core.cutting.route import _nearest, route, travel
from jadeite.core.pipeline import plan_sheets, work_up
from jadeite.core.project import Shape, Span, Task, changed

START = (0.0, 0.0)


def strokes(seed: int, count: int, closed: float = 0.5) -> np.ndarray:
    """Ends of strokes all over a sheet, some of them closed."""
    rng = np.random.default_rng(seed)
    first = rng.uniform(0, 292, (count, 1, 2))
    last = first + rng.normal(0, 20, (count, 1, 2)) * (rng.random((count, 1, 1)) > closed)
    return np.concatenate([first, last], axis=1)


@given(st.integers(0, 10_000), st.integers(1, 5))
def test_property_few_strokes_are_ordered_nearly_as_well_as_can_be(seed, count) -> None:  # type: ignore[no-untyped-def]
    """Within a quarter of the best of all orders and turns, tried one by one."""
    ends = strokes(seed, count)
    best = min(
        travel(ends, list(order), list(turned), START)
        for order in itertools.permutations(range(count))
        for turned in itertools.product((False, True), repeat=count)
    )
    order, turned = route(ends, START)
    assert sorted(order) == list(range(count))
    assert best - 1e-9 <= travel(ends, order, turned, START) <= 1.25 * best + 1e-6


@settings(max_examples=20)
@given(st.integers(0, 10_000), st.integers(0, 150))
def test_property_never_further_than_nearest_first(seed, count) -> None:  # type: ignore[no-untyped-def]
    """And the length is what the points say."""
    ends = strokes(seed, count)
    order, turned = route(ends, START)
    assert sorted(order) == list(range(count))
    first = list(_nearest(ends, START))
    before = travel(ends, [s for s, _ in first], [t for _, t in first], START)
    assert travel(ends, order, turned, START) <= before + 1e-6


def by_solver(points: np.ndarray, iterations: int, start: tuple[float, float] = START) -> float:
    """The shortest open way through points that the solver finds, mm."""
    model = Model()
    everywhere = [start, *points.tolist()]
    places = [model.add_location(round(1000 * x), round(1000 * y)) for x, y in everywhere]
    model.add_depot(places[0])
    for place in places[1:]:
        model.add_client(place)
    model.add_vehicle_type(1)
    for i, j in itertools.permutations(range(len(places)), 2):
        apart = 0.0 if j == 0 else math.dist(everywhere[i], everywhere[j])
        model.add_edge(places[i], places[j], distance=round(1000 * apart))
    return model.solve(stop=MaxIterations(iterations), seed=1, display=False).cost() / 1000


@pytest.mark.parametrize(("seed", "count"), [(1, 40), (2, 90), (3, 180)])
def test_within_a_tenth_of_a_routing_solver(seed: int, count: int) -> None:
    """Closed strokes are points; on average over these the way is within a twentieth."""
    ends = strokes(seed, count, closed=1.0)
    order, turned = route(ends, START)
    assert travel(ends, order, turned, START) <= 1.10 * by_solver(ends[:, 0], 600)


def test_a_plan_travels_within_a_tenth_of_the_solver_and_keeps_its_order() -> None:
    """Outlines and cut-outs of flowers as they are planned, step by step and size by size."""
    task = changed(
        Task(), brief=Span(width=90.0), copies=6, shape=Shape(key="layered-flower", options={})
    )
    work = work_up(task, None, cures=False)
    assert work.design is not None
    told = 0
    for sheet in plan_sheets(task, work.design).cutting.sheets:
        steps = [ORDER.index(path.step) for path in sheet.paths]
        assert steps == sorted(steps)
        here = START
        for _, group in itertools.groupby(sheet.paths, key=_kind):
            points = np.array([path.points[0] for path in group])
            way = np.vstack([[here], points])
            mine = float(np.linalg.norm(np.diff(way, axis=0), axis=1).sum())
            if len(points) > 5:
                assert mine <= 1.10 * by_solver(points, 600, here)
                told += 1
            here = tuple(points[-1].tolist())
        sizes = [size for step, size in map(_kind, sheet.paths) if step == "outline"]
        assert sizes == sorted(sizes)
    assert told >= 2


def _kind(path: CutPath) -> tuple[str, int]:
    """The step of a path and how large its outline is."""
    size = float(np.prod(np.ptp(path.points, axis=0)))
    return path.step, int(np.searchsorted(BANDS, size, side="right"))
