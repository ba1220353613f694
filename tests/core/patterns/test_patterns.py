"""Patterns of every motif in panels of any shape: bridges are measured by erosion, not hoped."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely import voronoi_polygons
from shapely.geometry import MultiPoint, Polygon

from jadeite.core.patterns import (
    BRIDGE,
    LEAST_CELL,
    MOTIFS,
    fill,
    holds_together,
    open_share,
)
from jadeite.core.patterns.whole import LIT, _moon

KEYS = ("plain", *MOTIFS)
PANEL = np.array([[0.0, 0.0], [80.0, 0.0], [80.0, 100.0], [0.0, 100.0]])


def _inset(outline: np.ndarray, by: float) -> np.ndarray | None:
    inner = Polygon(outline).buffer(-by, join_style="mitre")
    if not isinstance(inner, Polygon) or inner.buffer(-3.0).is_empty:
        return None
    ring = np.array(inner.exterior.coords)[:-1]
    return ring if inner.exterior.is_ccw else ring[::-1]


def _panel(corners: int, radius: float, squash: float, turn: float) -> np.ndarray:
    turns = np.radians(turn + np.arange(corners) * 360.0 / corners)
    return radius * np.column_stack([np.cos(turns), squash * np.sin(turns)])


@pytest.mark.parametrize("motif", list(MOTIFS))
def test_a_motif_comes_again_after_as_many_walls_as_it_says(motif: str) -> None:
    """And not before."""
    varies = MOTIFS[motif].varies
    walls = [fill(PANEL, MOTIFS[motif], 14.0, number).holes for number in range(2 * varies)]

    def same(one: tuple[np.ndarray, ...], other: tuple[np.ndarray, ...]) -> bool:
        return len(one) == len(other) and all(map(np.array_equal, one, other))

    for number in range(varies):
        assert same(walls[number], walls[number + varies])
        assert not any(same(walls[number], wall) for wall in walls[number + 1 : varies])


@pytest.mark.parametrize("motif", ["lattice", "hexagons", "ripples"])
def test_a_pattern_is_the_same_wherever_its_panel_lies(motif: str) -> None:
    """Of alike walls none lacks a cut-out that rounding has lost."""
    rng = np.random.default_rng(3)
    wall = np.array([[0.0, 53.0], [-26.5, 0.0], [26.5, 0.0]])
    for number in range(150):
        window = wall * rng.uniform(0.6, 2.0, 2)
        here, there = (
            fill(window + at, MOTIFS[motif], 14.0, number % 3)
            for at in (np.zeros(2), rng.normal(size=2) * 100)
        )
        assert len(here.holes) == len(there.holes) > 0
        assert here.area == pytest.approx(there.area, abs=0.01)


@settings(max_examples=200)
@given(
    motif=st.sampled_from(KEYS),
    corners=st.integers(3, 9),
    radius=st.floats(20.0, 110.0),
    squash=st.floats(0.35, 1.0),
    turn=st.floats(0.0, 90.0),
    size=st.floats(LEAST_CELL, 40.0),
    number=st.integers(0, 9),
)
def test_property_no_bridge_is_narrower_than_the_rule(
    motif, corners, radius, squash, turn, size, number
) -> None:  # type: ignore[no-untyped-def]
    """Worn off by half a bridge all round, board stays one piece round as many cut-outs."""
    outline = _panel(corners, radius, squash, turn)
    window = _inset(outline, 6.0)
    if window is None:
        return
    holes = fill(window, MOTIFS.get(motif), size, number).holes
    assert holds_together(outline, holes)
    area = Polygon(window).buffer(1e-6)
    shapes = [Polygon(hole) for hole in holes]
    for i, shape in enumerate(shapes):
        assert area.contains(shape)
        assert shape.exterior.is_ccw
        assert not shape.buffer(-0.99).is_empty  # 2 mm wide somewhere, or it tears
        for other in shapes[:i]:
            assert shape.distance(other) > 0.99 * BRIDGE


def test_erosion_finds_a_bridge_that_is_too_narrow() -> None:
    """Two cut-outs a mm apart, and one a mm from the edge; two mm hold."""
    square = np.array([[10.0, 10.0], [30.0, 10.0], [30.0, 30.0], [10.0, 30.0]])
    assert holds_together(PANEL, [square, square + np.array([22.0, 0.0])])
    assert not holds_together(PANEL, [square, square + np.array([21.0, 0.0])])
    assert not holds_together(PANEL, [square - (9.0, 0.0)])


@pytest.mark.parametrize("motif", KEYS)
def test_open_share_agrees_with_counting_points(motif) -> None:  # type: ignore[no-untyped-def]
    """An independent computation of the area: points thrown on the panel (Monte Carlo)."""
    window = _inset(PANEL, 6.0)
    assert window is not None
    holes = fill(window, MOTIFS.get(motif), 14.0).holes
    rng = np.random.default_rng(7)
    spots = rng.uniform((0.0, 0.0), (80.0, 100.0), (40_000, 2))
    inside = np.zeros(len(spots), bool)
    for hole in holes:  # even-odd rule, edge by edge
        for a, b in zip(hole, np.roll(hole, -1, axis=0), strict=True):
            crosses = (a[1] > spots[:, 1]) != (b[1] > spots[:, 1])
            with np.errstate(divide="ignore", invalid="ignore"):
                at = a[0] + (spots[:, 1] - a[1]) / (b[1] - a[1]) * (b[0] - a[0])
            inside ^= crosses & (spots[:, 0] < at)
    assert open_share(PANEL, holes) == pytest.approx(inside.mean(), abs=0.012)


def test_a_honeycomb_is_that_of_evenly_spread_points() -> None:
    """Cells of a Voronoi diagram of its middles (Shapely), each moved in by half a bridge."""
    window = _inset(PANEL, 6.0)
    assert window is not None
    shapes = [Polygon(hole) for hole in fill(window, MOTIFS["hexagons"], 14.0).holes]
    whole = [s for s in shapes if len(s.exterior.coords) == 7 and s.area > 0.99 * max(
        t.area for t in shapes)]  # fmt: skip
    wide = float(np.ptp(window[:, 0]))
    across = wide / round(wide / 14.0)  # as whole cells go from side to side
    cells = voronoi_polygons(MultiPoint([s.centroid for s in whole]))
    inner = [
        c.buffer(-BRIDGE / 2, join_style="mitre")
        for c in cells.geoms
        if abs(c.area - across**2 * math.sqrt(3) / 2) < 0.1
    ]
    assert inner
    for cell in inner:
        nearest = min(whole, key=lambda s: s.centroid.distance(cell.centroid))
        assert nearest.symmetric_difference(cell).area < 0.02 * cell.area


@pytest.mark.parametrize("phase", range(len(LIT)))
def test_the_moon_is_lit_by_its_phase(phase) -> None:  # type: ignore[no-untyped-def]
    """Lit share of a disc (1 - cos of the elongation) / 2 (published)."""
    lit = (1 - math.cos(math.pi * LIT[phase])) / 2
    area = Polygon(_moon(10.0, phase)).area
    assert area == pytest.approx(lit * math.pi * 100.0, rel=0.01)
