"""Where flowers and leaves sit round a wreath: in the band, apart, on the board, off its seams."""

from __future__ import annotations

import itertools
import math

import numpy as np
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.geometry import Point, Polygon

from jadeite.core.blooms import Band, Head, flowers_round, leaves_round

# a leaf that points along x: its blade, 1 mm long, and its foot
BLADE = np.array([[0.0, 0.0], [0.3, -0.2], [1.0, 0.0], [0.3, 0.2]])
FOOT = np.array([[-8.0, -6.0], [0.0, -6.0], [0.0, 0.0], [-8.0, 0.0]])


def band_of(outer: float, opening: float, seams: int) -> Band:
    """A band whose board is an eighth of it narrower at either edge."""
    inner = opening * outer
    free = (outer - inner) / 8
    return Band(inner, outer, (inner + free, outer - free), seams)


@settings(max_examples=60)
@given(
    outer=st.floats(90.0, 300.0),
    opening=st.floats(0.25, 0.75),
    large=st.floats(0.5, 1.0),
    small=st.floats(0.45, 0.9),
    lap=st.floats(0.0, 0.25),
    seams=st.sampled_from([0, 2, 3, 6, 12]),
    seed=st.integers(1, 999),
)
def test_property_flowers_lie_apart_and_on_the_board(  # type: ignore[no-untyped-def]
    outer, opening, large, small, lap, seams, seed
) -> None:
    """Discs keep their distances; hubs lie on the board, and on one arc of it."""
    band = band_of(outer, opening, seams)
    deep = outer - band.inner
    heads = [Head(large * deep, 0.1 * large * deep), Head(small * large * deep, 0.05 * deep)]
    spots = flowers_round(band, heads, [300, 300], lap, seed)
    assert spots == flowers_round(band, heads, [300, 300], lap, seed)
    assert any(spot.sort == 0 for spot in spots)
    seam_lines = [
        shapely.LineString([(0, 0), (outer * math.cos(t), outer * math.sin(t))])
        for t in 2 * math.pi * np.arange(seams) / max(seams, 1)
    ]
    for spot in spots:
        head, far = heads[spot.sort], math.hypot(spot.x, spot.y)
        assert band.inner - 1e-6 <= far - head.width / 2
        assert far + head.width / 2 <= outer + 1e-6
        assert band.base[0] <= far - head.hub
        assert far + head.hub <= band.base[1]
        for line in seam_lines:
            assert line.distance(Point(spot.x, spot.y)) >= head.hub - 1e-9
    for one, other in itertools.combinations(spots, 2):
        apart = math.hypot(one.x - other.x, one.y - other.y)
        need = (1 - lap) * (heads[one.sort].width + heads[other.sort].width) / 2
        assert apart >= need - 1e-9


def test_no_small_flower_would_find_another_place() -> None:
    """Against every place of a grid of our own, a tenth of a millimetre finer than a flower."""
    band, heads = band_of(150.0, 0.46, 0), [Head(60.0, 6.0), Head(34.0, 4.0)]
    spots = flowers_round(band, heads, [300, 300], 0.1, 7)
    head, free = heads[1], 0
    for far in np.arange(band.inner + 17.0, band.outer - 17.0 + 1e-9, 1.0):
        for turn in np.arange(0.0, 2 * math.pi, 1.0 / far):
            x, y = far * math.cos(turn), far * math.sin(turn)
            gaps = [
                math.hypot(x - s.x, y - s.y) - 0.9 * (heads[s.sort].width + head.width) / 2
                for s in spots
            ]
            free += min(gaps) > 1.5  # places are looked at every 1.4 mm
    assert free == 0
    assert sum(s.sort == 1 for s in spots) >= 8


def test_another_seed_is_another_arrangement() -> None:
    """And as good a one: as many flowers, but for a few."""
    band, heads = band_of(150.0, 0.46, 6), [Head(68.0, 6.3), Head(38.0, 4.1)]
    made = [flowers_round(band, heads, [300, 300], 0.12, seed) for seed in range(1, 9)]
    assert len(set(made)) == len(made)
    counts = [len(spots) for spots in made]
    assert max(counts) - min(counts) <= 6


@settings(max_examples=25)
@given(
    outer=st.floats(110.0, 300.0),
    opening=st.floats(0.3, 0.6),
    seams=st.sampled_from([0, 2, 6]),
    count=st.integers(0, 40),
    seed=st.integers(1, 99),
)
def test_property_leaves_are_seen_and_stand_in_mirrored_pairs(  # type: ignore[no-untyped-def]
    outer, opening, seams, count, seed
) -> None:
    """Within the band, feet on the board and beside every hub and foot."""
    band = band_of(outer, opening, seams)
    heads = [Head(0.8 * (outer - band.inner), 6.0)]
    spots = flowers_round(band, heads, [300], 0.0, seed)
    own = 0.45 * (outer - band.inner) * BLADE
    leaves = leaves_round(band, heads, spots, (own, FOOT), count)
    assert len(leaves) <= count
    assert 2 * sum(leaf.mirrored for leaf in leaves) == len(leaves)
    hubs = shapely.union_all([Point(s.x, s.y).buffer(heads[0].hub) for s in spots])
    blades, feet = [], []
    for leaf in leaves:
        blade, foot = (
            Polygon(part @ leaf.place[:2, :2].T + leaf.place[:2, 2]) for part in (own, FOOT)
        )
        assert math.isclose(blade.area, Polygon(own).area)
        far = np.hypot(*np.array(blade.exterior.coords).T)
        assert far.max() <= outer + 1e-4
        assert blade.distance(Point(0, 0)) >= band.inner - 1e-4
        assert np.hypot(*np.array(foot.exterior.coords).T).max() <= band.base[1]
        assert foot.distance(Point(0, 0)) >= band.base[0]
        assert foot.distance(hubs) > 2.4
        assert all(foot.distance(other) > 0.4 for other in (*feet, *blades))
        blades.append(blade)
        feet.append(foot)
    if count >= 8 and outer > 140:
        assert leaves
