"""Hollows that are not boxes, against geometry done another way."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from shapely.affinity import rotate
from shapely.geometry import Point, Polygon, box

from jadeite.core.contents.hollows import (
    Frustum,
    block_in_prism,
    inradius_of_side,
    round_in_prism,
    side_of_inradius,
)
from jadeite.core.errors import FieldError

SIDES = st.integers(3, 24)


def polygon(side: float, sides: int) -> Polygon:
    """A regular polygon of a side, by its corners on the circumscribed circle (craft geometry)."""
    radius = side / (2 * math.sin(math.pi / sides))
    turn = math.pi / sides
    return Polygon(
        [
            (
                radius * math.cos(2 * math.pi * k / sides + turn),
                radius * math.sin(2 * math.pi * k / sides + turn),
            )
            for k in range(sides)
        ]
    )


@given(st.floats(5, 300), SIDES)
def test_property_side_and_inradius_are_inverse(inradius: float, sides: int) -> None:
    """And the inradius is the distance from the middle to the outline (shapely)."""
    side = side_of_inradius(inradius, sides)
    assert inradius_of_side(side, sides) == pytest.approx(inradius)
    assert polygon(side, sides).exterior.distance(Point(0, 0)) == pytest.approx(inradius)


@given(st.floats(5, 200), st.floats(0, 10), SIDES)
def test_property_a_round_thing_touches_the_sides(d: float, room: float, sides: int) -> None:
    """With its room it fits, and nothing smaller would do."""
    found = round_in_prism(d, room, sides)
    ring = polygon(found.value, sides)
    disc = Point(0, 0).buffer(d / 2 + room, quad_segs=256)
    assert disc.difference(ring).area < 1e-6 * disc.area
    less = polygon(found.value * 0.99, sides)
    assert disc.difference(less).area > 0


@given(st.floats(5, 200), st.floats(5, 200), st.floats(0, 5), SIDES)
def test_property_a_block_fits_turned_as_it_fits_best(
    a: float, b: float, room: float, n: int
) -> None:
    """At its turn it lies within; no other turn fits a polygon that is 1 % smaller."""
    found = block_in_prism(a, b, room, n)
    turn = next(term.value for term in found.inputs if term.name == "turned by")
    block = box(-a / 2 - room, -b / 2 - room, a / 2 + room, b / 2 + room)
    # the polygon's first side faces +x
    ring = rotate(polygon(found.value * 1.0001, n), 180 / n * 0, origin=(0, 0))
    assert rotate(block, turn, origin=(0, 0)).difference(ring).area < 1e-3 * block.area
    small = polygon(found.value * 0.98, n)
    for other in np.linspace(0, 360, 73):
        assert rotate(block, other, origin=(0, 0)).difference(small).area > 0


@given(st.floats(20, 100), st.floats(0, 100), st.floats(20, 200), SIDES)
def test_property_volume_of_a_frustum(r0: float, r1: float, h: float, n: int) -> None:
    """Against slices added up (the trapezium rule), and the level that a volume reaches."""
    hollow = Frustum(r0, r1, h, n)
    z = np.linspace(0, h, 4001)
    areas = n * math.tan(math.pi / n) * (r0 + (r1 - r0) * z / h) ** 2
    assert hollow.volume_to(h) == pytest.approx(np.trapezoid(areas, z), rel=1e-5)
    half = hollow.volume_to(h) / 2
    assert hollow.volume_to(hollow.level(half)) == pytest.approx(half)
    assert hollow.level(hollow.volume_to(h) * 1.01) == math.inf


def test_things_in_a_pyramid() -> None:
    """Inradius 60 at the floor to 0 at 150: a round thing of radius 20 fits up to 100 mm."""
    pyramid = Frustum(60, 0, 150, 4)
    assert pyramid.highest(20, 30).value == pytest.approx(100 - 30)
    assert pyramid.highest(61, 10).value < 0
    assert pyramid.widest(30) == pytest.approx(48)
    opens = Frustum(20, 60, 150, 5)
    assert opens.highest(20, 30).value == pytest.approx(120)
    assert opens.highest(70, 30).value == -math.inf


@pytest.mark.parametrize("sides", [2, 25])
def test_other_numbers_of_sides_are_refused(sides: int) -> None:
    """With the range."""
    with pytest.raises(FieldError, match="3 to 24"):
        side_of_inradius(10, sides)
    with pytest.raises(FieldError, match="more than 0"):
        Frustum(10, 5, 0, 4)
