"""Turns of rings against every turn tried by brute force, and areas against a count of points."""

from __future__ import annotations

import itertools
import math

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from jadeite.core.blooms import KINDS, Above, Ring, RingSize, best_turns

STEP = 0.5  # degrees, of the search by brute force
COUNTS = st.integers(3, 9)


def ring(count: int, size: float, kind: str = "round", rise: float = 0.0) -> Ring:
    """A ring of so many petals, so large in mm from tip to tip."""
    asked = RingSize(count, KINDS[kind][1], 1.0, rise, -40.0, 8.0, 0.23)
    hub = max(0.08 * size, asked.least_hub)
    return Ring(asked, size, hub)


def seen_from_above(rings: list[Ring]) -> Above:
    """Petals only: the middles are hidden whatever the turns."""
    reach = max(r.reach for r in rings)
    return Above([(r.seen, r.asked.count) for r in rings], reach)


def polygons(one: Ring, turn: float) -> shapely.Geometry:
    """All petals of a ring from above, as one shape."""
    petal = shapely.union_all([shapely.Polygon(f).buffer(1e-7) for f in one.seen])
    step = 360.0 / one.asked.count
    turned = [
        shapely.affinity.rotate(petal, turn + step * i, origin=(0, 0))
        for i in range(one.asked.count)
    ]
    return shapely.union_all(turned)


def shares(rings: list[Ring], turns: tuple[float, ...]) -> list[float]:
    """Share of each ring that nothing above covers, by exact areas (Shapely's overlay)."""
    shapes = [polygons(r, t) for r, t in zip(rings, turns, strict=True)]
    out = []
    for i, shape in enumerate(shapes):
        over = shapely.union_all(shapes[i + 1 :]) if shapes[i + 1 :] else shapely.Polygon()
        out.append(shape.difference(over).area / shape.area)
    return out


@settings(max_examples=50, deadline=None)
@given(
    counts=st.lists(COUNTS, min_size=2, max_size=2),
    sizes=st.lists(st.floats(0.45, 1.0), min_size=2, max_size=2),
    kinds=st.lists(st.sampled_from(list(KINDS)), min_size=2, max_size=2),
    rise=st.floats(0.0, 60.0),
)
def test_property_two_rings_are_turned_as_well_as_any_turn(counts, sizes, kinds, rise) -> None:  # type: ignore[no-untyped-def]
    """Of 50 random pairs, against every half degree, by exact areas: within 1 %."""
    sizes = sorted(sizes, reverse=True)
    rings = [
        ring(c, 100 * s, k, r) for c, s, k, r in zip(counts, sizes, kinds, (0.0, rise), strict=True)
    ]
    chosen = best_turns(seen_from_above(rings)).turns
    lower, upper = polygons(rings[0], 0.0), polygons(rings[1], 0.0)
    tried = [
        lower.difference(shapely.affinity.rotate(upper, t, origin=(0, 0))).area / lower.area
        for t in np.arange(0.0, 360.0 / counts[1], STEP).tolist()
    ]
    mine = shares(rings, chosen)[0]
    assert mine >= max(tried) * 0.99


@pytest.mark.parametrize("seed", range(6))
def test_three_rings_are_turned_as_well_as_any_two_turns(seed: int) -> None:
    """All pairs of turns at half a degree, on a grid of points of its own: within 1 %."""
    rng = np.random.default_rng(seed)
    counts = rng.integers(3, 9, 3).tolist()
    sizes = np.sort(rng.uniform(40, 100, 3))[::-1].tolist()
    kinds = rng.choice(list(KINDS), 3).tolist()
    rings = [ring(c, s, k) for c, s, k in zip(counts, sizes, kinds, strict=True)]
    chosen = best_turns(seen_from_above(rings)).turns
    # a polar grid, each ring as numbers of points that others hide, by rolling along the angle
    far, angles = np.linspace(1.0, 50.0, 60), np.arange(0.0, 360.0, STEP) + STEP / 4
    x = far[None, :] * np.cos(np.radians(angles))[:, None]
    y = far[None, :] * np.sin(np.radians(angles))[:, None]
    inside = [shapely.contains_xy(polygons(r, 0.0), x, y) for r in rings]
    areas = [float((m * far).sum()) for m in inside]

    def score(turns: tuple[float, float]) -> float:
        second, third = (
            np.roll(m, round(t / STEP), axis=0) for m, t in zip(inside[1:], turns, strict=True)
        )
        first = (inside[0] & ~second & ~third) * far
        return float(first.sum()) / areas[0] + float(((second & ~third) * far).sum()) / areas[1]

    every = [np.arange(0.0, 360.0 / c, STEP).tolist() for c in counts[1:]]
    best = max(score(pair) for pair in itertools.product(*every))
    assert score((chosen[1], chosen[2])) >= best * 0.99


@settings(max_examples=60, deadline=None)
@given(
    counts=st.lists(COUNTS, min_size=2, max_size=5),
    turns=st.lists(st.floats(0.0, 359.0), min_size=5, max_size=5),
    kind=st.sampled_from(list(KINDS)),
    rise=st.floats(0.0, 50.0),
)
def test_property_areas_agree_with_a_count_of_points(counts, turns, kind, rise) -> None:  # type: ignore[no-untyped-def]
    """Of a square grid of points, asked of Shapely's polygons: within 1.5 % of the disc."""
    rings = [ring(c, 100.0 - 12 * i, kind, rise) for i, c in enumerate(counts)]
    above = seen_from_above(rings)
    at = tuple(turns[: len(rings)])
    line = np.arange(-50.0, 50.0, 0.5) + 0.25
    x, y = np.meshgrid(line, line)
    shapes = [polygons(r, round(t / STEP) * STEP) for r, t in zip(rings, at, strict=True)]
    hits = [shapely.contains_xy(s, x, y) for s in shapes]
    radius = max(r.reach for r in rings)
    whole = math.pi * radius**2
    assert above.covered(at, radius) == pytest.approx(
        np.logical_or.reduce(hits).sum() * 0.25 / whole, abs=0.015
    )
    for i, share in enumerate(above.seen(at)):
        over = np.logical_or.reduce(hits[i + 1 :]) if hits[i + 1 :] else np.zeros_like(hits[0])
        counted = (hits[i] & ~over).sum() * 0.25
        assert share * above.areas[i] == pytest.approx(counted, abs=0.015 * whole)


def test_equal_counts_stand_in_the_gaps() -> None:
    """Five on five: half a petal on, as every maker turns them."""
    turns = best_turns(seen_from_above([ring(5, 100.0), ring(5, 90.0)])).turns
    assert turns[1] == pytest.approx(36.0, abs=0.5)


def test_a_single_ring_is_seen_whole() -> None:
    """Nothing lies on it."""
    found = best_turns(seen_from_above([ring(6, 80.0)]))
    assert found.turns == (0.0,)
    assert found.seen == pytest.approx((1.0,))
