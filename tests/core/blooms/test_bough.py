"""A branch as ground: where flowers stand, that twigs lead to them, and the arc of its stem."""

from __future__ import annotations

import itertools
import math

import numpy as np
import pytest
import shapely
from hypothesis import assume, given
from hypothesis import strategies as st
from scipy.integrate import quad  # type: ignore[import-untyped]
from shapely.geometry import LineString, Point

from jadeite.core.blooms import Bough, Head, bough, flowers_round, moved_spots

LEAF = ((40.0, 0.0), (-4.0, -3.0))
HEADS = (Head(50.0, 6.0), Head(30.0, 5.0))
SEED = 3


def bare(bend: float = 46.0, long: float = 230.0, heads: tuple[Head, ...] = HEADS) -> Bough:
    """A branch without twigs."""
    return Bough(long, 13.0, bend, 0.14, 105.0, heads, LEAF)


@given(long=st.floats(90.0, 500.0), bend=st.floats(0.0, 120.0))
def test_property_the_stem_is_an_arc(long: float, bend: float) -> None:
    """Chord and turn as asked; its length by quadrature of the curve (SciPy)."""
    stem = bare(bend, long)
    ends = np.array([stem.at(0.0), stem.at(stem.length)])
    assert math.dist(*ends) == pytest.approx(long)
    assert stem.way(0.0) - stem.way(stem.length) == pytest.approx(bend, abs=0.002)
    step = 1e-3

    def speed(along: float) -> float:
        return float(np.hypot(*(stem.at(along + step) - stem.at(along - step)))) / (2 * step)

    length, _ = quad(speed, 2 * step, stem.length - 2 * step)
    assert length == pytest.approx(stem.length, rel=1e-3)
    assert stem.line.length == pytest.approx(stem.length, rel=1e-3)
    middle = (stem.line.bounds[1] + stem.line.bounds[3]) / 2
    assert middle == pytest.approx(0.0, abs=0.1)  # it lies about the middle


@given(
    bend=st.floats(0.0, 110.0),
    large=st.floats(30.0, 90.0),
    share=st.floats(0.45, 0.9),
    lap=st.floats(0.0, 0.25),
    count=st.integers(0, 9),
    seed=st.integers(1, 99),
)
def test_property_flowers_stand_apart_each_on_its_twig(
    bend: float, large: float, share: float, lap: float, count: int, seed: int
) -> None:
    """As far apart as asked, the last at the tip, all on one piece of board with room round."""
    heads = Head(large, large / 8), Head(share * large, share * large / 7)
    made = bough(bare(bend, heads=heads), lap, count, seed)
    assume(made.pads)
    for (x, y, sort), (u, v, other) in itertools.combinations(made.pads, 2):
        need = (1 - lap) * (heads[sort].width + heads[other].width) / 2
        assert math.hypot(x - u, y - v) >= need - 1e-5
    if count:
        assert len(made.pads) <= count
    tip = made.at(made.length)
    assert min(math.dist(tip, pad[:2]) for pad in made.pads) == pytest.approx(0.0, abs=1e-6)
    assert made.base.is_valid
    assert made.base.geom_type == "Polygon"
    for x, y, sort in made.pads:
        assert made.base.buffer(0.02).contains(Point(x, y).buffer(heads[sort].hub + 0.5))
    foot = LineString([made.at(0.0), made.at(0.1 * made.length)])
    assert foot.distance(shapely.union_all([Point(p[:2]) for p in made.pads])) > 0
    spots = flowers_round(made, heads, [40, 40], lap, seed)
    assert sorted((s.x, s.y, s.sort) for s in spots) == sorted(made.pads)


def test_flowers_stand_left_and_right_by_turns_the_large_ones_near_the_foot() -> None:
    """From the foot on; the seed says on which side the first stands, and how far off."""
    sides, offs = set(), set()
    for seed in range(1, 9):
        made = bough(bare(), 0.06, 0, seed)
        along = sorted(made.pads, key=lambda pad: made.line.project(Point(pad[:2])))
        assert [pad[2] for pad in along] == sorted(pad[2] for pad in along)
        left = [bool(_left(made, pad) > 0) for pad in along[:-1]]
        assert all(one != other for one, other in itertools.pairwise(left))
        sides.add(left[0])
        offs |= {round(abs(_left(made, pad)), 3) for pad in along[:1]}
    assert sides == {True, False}
    assert len(offs) > 4


def _left(made: Bough, pad: tuple[float, float, int]) -> float:
    """How far to the left of the stem a pad lies, mm."""
    along = made.line.project(Point(pad[:2]))
    way = math.radians(made.way(along))
    off = np.array(pad[:2]) - made.at(along)
    return float(math.cos(way) * off[1] - math.sin(way) * off[0])


def test_a_moved_flower_takes_its_twig_along() -> None:
    """It goes where it was put, and the board under it as well."""
    made = bough(bare(), 0.06, 5, SEED)
    spots = flowers_round(made, HEADS, [9, 9], 0.06, SEED)
    assert len(spots) == 5
    wanted = made.beside(np.array([0.55 * made.length]), np.array([-24.0]))[0]
    moved = {1: tuple((100 * wanted / 240.0).tolist())}
    again = moved_spots(made, HEADS, spots, moved, 240.0)
    assert math.dist((again[0].x, again[0].y), wanted) < 2.5  # the next place of the grid
    assert again[1:] == spots[1:]
    grown = made.under([(s.x, s.y, s.sort) for s in again])
    assert not made.base.contains(Point(wanted).buffer(6.0))
    assert grown.base.contains(Point(again[0].x, again[0].y).buffer(6.5))
