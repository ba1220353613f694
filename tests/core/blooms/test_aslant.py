"""Tips curled over a rod that lies aslant: part of a cylinder still, every length kept."""

from __future__ import annotations

import itertools
import math
from dataclasses import replace

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from jadeite.core.blooms import KINDS, MOST_SLANT, Ring, RingSize, ring_piece, sinks
from jadeite.core.blooms.profile import RELAX
from jadeite.core.boards import board_by_key
from jadeite.core.nets.bends import tightest_roll
from tests.core.blooms.test_rings import RINGS, flat_and_bent, ring_of
from tests.core.shapes.closing import HEAVY

CARD = board_by_key("medium-card")


def slanted(slant: float, kind: str = "pointed", curl: float = -65.0, size: float = 120.0) -> Ring:
    """A ring of five petals, by default 120 mm across, curled over a rod of 8 mm."""
    asked = RingSize(5, KINDS[kind][1], 1.0, 20.0, curl, 8.0, CARD.thickness, slant=slant)
    return Ring(asked, size, 10.0)


@settings(max_examples=HEAVY)
@given(asked=RINGS, slant=st.floats(-MOST_SLANT, MOST_SLANT), size=st.floats(60.0, 300.0))
def test_property_facets_are_the_petal_and_keep_every_length(asked, slant, size) -> None:  # type: ignore[no-untyped-def]
    """Over all outlines: facets lie beside one another; edges of the mesh as flat, by trimesh."""
    ring = ring_of(replace(asked, slant=slant, lines="none"), size)
    if ring.length < 6.0:
        return
    facets = [shapely.Polygon(facet.outline) for facet in ring.form.facets]
    assert all(facet.is_valid and facet.exterior.is_ccw for facet in facets)
    whole = shapely.Polygon(ring.outline)
    assert sum(facet.area for facet in facets) == pytest.approx(whole.area, rel=1e-6)
    assert abs(ring.form.slant) <= abs(slant) + 1e-9
    piece = ring_piece(ring, "ring", "ring", CARD)
    was, now = flat_and_bent(piece)
    assert now.edges_unique_length == pytest.approx(was.edges_unique_length, rel=1e-3, abs=1e-5)


@pytest.mark.parametrize("slant", [-40.0, -15.0, 10.0, 30.0])
def test_a_slanted_curl_is_part_of_the_same_cylinder(slant: float) -> None:
    """Rulings are parallel, as far apart as the arc of what each turns by; 2 r = arc / turn."""
    ring = slanted(slant, kind="lance")
    form = ring.form
    assert form.slant == pytest.approx(slant)
    first = form.profile.begins
    hinges = [facet.outline[:2] for facet in form.facets[first:]]
    ways = [(b - a) / np.linalg.norm(b - a) for a, b in hinges]
    lead = math.tan(math.radians(slant))
    for way in ways:
        assert -way[0] / -way[1] == pytest.approx(lead, abs=1e-9)
    square = np.array([-ways[0][1], ways[0][0]])
    apart = [abs(float(square @ (b[0] - a[0]))) for a, b in itertools.pairwise(hinges)]
    turns = np.radians(np.abs(form.profile.turns[first + 1 :]))
    assert len(apart) >= 2
    assert np.array(apart) == pytest.approx(RELAX * 8.0 / 2 * turns, rel=1e-6)


def test_tips_turn_to_one_side_and_the_other() -> None:
    """The right side curls down first where the left end of the rod is farther out; mirrored."""
    straight, left, right = (slanted(s) for s in (0.0, 25.0, -25.0))
    edge = left.edge[3 * len(left.edge) // 5]
    sides = np.array([edge, edge * [1.0, -1.0]])
    up, down = left.form.at(sides)[:, 2]
    assert up > down + 1.0
    assert right.form.at(sides)[::-1, 2] == pytest.approx([up, down])
    even = straight.form.at(sides)[:, 2]
    assert even[0] == pytest.approx(even[1])
    assert ring_height(left) > 0


def ring_height(ring: Ring) -> float:
    """From its lowest to its highest place, mm."""
    low, high = ring.heights
    return high - low


def test_a_short_petal_takes_less_of_a_slant() -> None:
    """Its rulings would run into the bend at its root; what is taken is said, and kept to."""
    narrow, short = slanted(45.0, "lance"), slanted(45.0, "round", -150.0, 50.0)
    assert narrow.form.slant == pytest.approx(45.0)
    assert 5.0 < short.form.slant < 45.0
    rolled = tightest_roll(ring_piece(short, "ring", "ring", CARD))
    assert rolled is not None
    assert rolled >= 25 * CARD.thickness - 0.01
    assert slanted(1.0).form.plain


def test_slanted_rings_lie_in_one_another() -> None:
    """Alike ones, turned alike, lie on one another; half a petal on, the tips meet."""
    ring = slanted(30.0)
    assert sinks((ring, 0.0, 0.0), (ring, 0.0, CARD.thickness)) < 0.4
    assert sinks((ring, 0.0, 0.0), (ring, 0.0, 40.0)) == 0.0
