"""Petals folded along their middles: a cone about the end of the crease, every length kept."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.spatial.transform import Rotation

from jadeite.core.blooms import KINDS, MOST_FOLD, Ring, RingSize, petal_piece, ring_piece, sinks
from jadeite.core.blooms.creased import OPENS, _cone, rises_by
from jadeite.core.boards import board_by_key
from jadeite.core.folding.kinematics import fold_matrices, loop_gap, transform
from jadeite.core.nets.bends import petal_length, tightest_roll
from jadeite.core.nets.outline import loops_of, piece_polygon
from tests.core.blooms.test_rings import RINGS, flat_and_bent, ring_of
from tests.core.shapes.closing import HEAVY

CARD = board_by_key("medium-card")
FOLDS = st.floats(1.0, MOST_FOLD)


def folded(fold: float, rise: float = 30.0, kind: str = "round") -> Ring:
    """A ring of five petals, 120 mm across, folded by so many degrees."""
    asked = RingSize(5, KINDS[kind][1], 1.0, rise, 0.0, 8.0, CARD.thickness, fold=fold)
    return Ring(asked, 120.0, 10.0)


@settings(max_examples=HEAVY)
@given(opens=st.floats(20.0, 75.0), fold=FOLDS)
def test_property_the_turns_about_the_apex_close(opens, fold) -> None:  # type: ignore[no-untyped-def]
    """Turns about all folds of a vertex, one after the other, are no turn at all.

    The condition of belcastro and Hull, Modelling the folding of paper into three
    dimensions using affine transformations, Linear Algebra and its Applications 348 (2002);
    by SciPy's rotations.
    """
    cone = _cone(opens, fold)
    back = 180.0 - opens
    rays = [(0.0, fold), (back / 2, cone.elbow), (back, cone.foot)]
    rays += [(360.0 - angle, turn) for angle, turn in rays[:0:-1]]
    total = Rotation.identity()
    for angle, turn in rays:
        axis = np.array([math.cos(math.radians(angle)), math.sin(math.radians(angle)), 0.0])
        total *= Rotation.from_rotvec(math.radians(turn) * axis)
    assert total.magnitude() < 1e-7
    assert cone.rise > 0 > cone.elbow
    assert cone.foot > 0


@settings(max_examples=HEAVY)
@given(asked=RINGS, fold=FOLDS, size=st.floats(60.0, 300.0))
def test_property_facets_are_the_petal_and_keep_every_length(asked, fold, size) -> None:  # type: ignore[no-untyped-def]
    """Over all outlines and folds: one piece, no facet over another, its crease closed."""
    ring = ring_of(replace(asked, fold=fold, lines="none"), size)
    if ring.length < 6.0:
        return
    assert ring.form.crease is not None
    facets = [shapely.Polygon(facet.outline) for facet in ring.form.facets]
    whole = shapely.Polygon(ring.outline)
    assert all(facet.is_valid and facet.exterior.is_ccw for facet in facets)
    assert sum(facet.area for facet in facets) == pytest.approx(whole.area, rel=1e-6)
    assert shapely.union_all(facets, grid_size=1e-6).area == pytest.approx(whole.area, rel=1e-4)
    piece = ring_piece(ring, "ring", "ring", CARD)
    assert piece_polygon(piece).is_valid
    assert len(loops_of(piece)) == 1
    matrices = fold_matrices(piece, np.eye(4))
    assert loop_gap(piece, matrices) < 1e-6
    was, now = flat_and_bent(piece)
    assert now.edges_unique_length == pytest.approx(was.edges_unique_length, rel=1e-3, abs=1e-5)


@settings(max_examples=100)
@given(asked=RINGS, fold=FOLDS, size=st.floats(60.0, 300.0))
def test_property_it_stands_as_it_is_folded(asked, fold, size) -> None:  # type: ignore[no-untyped-def]
    """Places on a petal, its bounds and its facets are those of the folded piece."""
    ring = ring_of(replace(asked, fold=fold), size)
    if ring.length < 6.0:
        return
    piece = ring_piece(ring, "ring", "ring", CARD)
    matrices = fold_matrices(piece, np.eye(4))
    hub = np.array([ring.hub, 0.0, 0.0])
    for panel, solid, facet in zip(piece.panels[1:], ring.form.solids, ring.form.facets,
                                   strict=False):  # fmt: skip
        found = transform(matrices[panel.name], panel.outline)
        assert found == pytest.approx(solid + hub, abs=1e-9)
        inside = shapely.Polygon(facet.outline).representative_point().coords[0]
        at = ring.form.at(np.array([inside]))
        again = transform(matrices[panel.name], np.array([inside]) + hub[:2])
        assert at + hub == pytest.approx(again, abs=1e-6)
    low, high = ring.heights
    z = np.concatenate([solid[:, 2] for solid in ring.form.solids])
    assert (low, high) == (min(0.0, z.min()), max(0.0, z.max()))


@pytest.mark.parametrize("fold", [5.0, 40.0, 90.0])
def test_a_crease_lifts_the_middle_and_stays_straight(fold: float) -> None:
    """By the angle that follows from the fold, on top of the root's own; both halves lean alike."""
    ring = folded(fold, rise=0.0)
    crease = ring.form.crease
    assert crease is not None
    tip, apex = ring.form.at(crease.line)
    way = tip - apex
    assert math.degrees(math.atan2(way[2], math.hypot(way[0], way[1]))) == pytest.approx(
        rises_by(fold), abs=1e-6
    )
    assert np.linalg.norm(way) == pytest.approx(np.linalg.norm(crease.line[0] - crease.line[1]))
    normals = [ring.form.facets[k].place[:3, 2] for k in crease.facets]
    assert math.degrees(math.acos(float(normals[0] @ normals[1]))) == pytest.approx(fold, abs=1e-6)
    steep = folded(fold, rise=60.0)
    assert steep.form.rise == pytest.approx(60.0, abs=1e-6)
    assert ring.form.rise == pytest.approx(rises_by(fold), abs=1e-6)
    assert rises_by(fold) == pytest.approx(_cone(OPENS, fold).rise)


def test_it_is_pinched_not_rolled_and_stiff() -> None:
    """Bends that meet in a point are no roll; a gutter does not sink as a flat petal does."""
    bent, plain = (ring_piece(folded(f), "ring", "ring", CARD) for f in (40.0, 0.0))
    assert tightest_roll(bent) == pytest.approx(8.0, rel=0.35)  # the bend at its root alone
    assert petal_length(bent) < 0.5 * petal_length(plain)
    single = petal_piece(folded(40.0), "petal", "petal", CARD, "ring-1")
    assert [fold.kind for fold in single.folds if not fold.tree] == ["scored"]
    assert loop_gap(single, fold_matrices(single, np.eye(4))) < 1e-9


def test_what_lies_over_folded_petals_is_found() -> None:
    """A flat ring over raised edges sinks into them; lifted over the highest it is clear."""
    low = folded(60.0, rise=5.0)
    flat = replace(low, asked=replace(low.asked, fold=0.0, rise=0.0))
    assert sinks((low, 0.0, 0.0), (flat, 0.0, 0.3)) > 3.0
    assert sinks((low, 0.0, 0.0), (flat, 0.0, low.heights[1] + 0.3)) == 0.0
    assert sinks((low, 0.0, 0.0), (low, 0.0, 0.3)) < 0.5  # each lies in the one below it
