"""Lines on petals: clear of every edge and of one another, and what they cost."""

from __future__ import annotations

import itertools
from dataclasses import replace

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st
from shapely.geometry import LineString, Polygon

from jadeite.core.blooms import (
    KINDS,
    CreasedLeaf,
    RingSize,
    petal_from_words,
    petal_veins,
    ring_piece,
)
from jadeite.core.blooms.outlines import edge_of
from jadeite.core.blooms.petal_veins import BESIDE, SHORT
from jadeite.core.boards import board_by_key
from jadeite.core.cutting import strokes_of
from jadeite.core.nets.veins import cut_through, veins_by_panel, veins_on
from jadeite.core.shapes import family_by_key, resolve_options
from tests.core.blooms.test_rings import RINGS, ring_of

CARD = board_by_key("medium-card")
ROUNDING = 1e-6


@given(
    st.sampled_from(list(KINDS)),
    st.floats(18.0, 120.0),
    st.floats(2.0, 8.0),
    st.sampled_from(["middle", "veins", "cuts"]),
)
def test_property_lines_keep_clear_of_every_edge(
    outline: str, length: float, root: float, kind: str
) -> None:
    edge = edge_of(petal_from_words(outline), length, root)
    veins = petal_veins(kind, edge)
    rim = LineString(np.vstack([edge, edge[-2::-1] * np.array([1.0, -1.0])]))
    whole = Polygon(rim.coords)
    assert veins, "a petal of 18 mm has room for a line"
    for vein in veins:
        line = LineString(vein.points)
        assert whole.contains(line)
        assert line.distance(rim) > BESIDE - 0.01  # corners of an arc round a sharp one
        assert line.length >= SHORT - ROUNDING
    cuts = [LineString(vein.points) for vein in veins if vein.cut]
    assert bool(cuts) <= (kind == "cuts")
    for one, other in itertools.combinations(cuts, 2):
        assert one.distance(other) > 1.5  # a bridge that holds, as between cut-outs


def test_a_large_petal_gets_pairs_and_a_small_one_nothing() -> None:
    large = edge_of(petal_from_words("round"), 60.0, 4.0)
    assert len(petal_veins("middle", large)) == 1
    assert len(petal_veins("middle", large, middle=False)) == 0
    for kind in ("veins", "cuts"):
        count = len(petal_veins(kind, large))
        assert count % 2 == 1
        assert count >= 9
    assert petal_veins("veins", edge_of(petal_from_words("round"), 6.5, 2.0)) == ()
    assert petal_veins("none", large) == ()


@given(RINGS, st.floats(60.0, 200.0), st.sampled_from(["middle", "veins", "cuts"]))
def test_property_panels_hold_all_of_the_lines_of_their_piece(
    asked: RingSize, size: float, kind: str
) -> None:
    ring = ring_of(replace(asked, lines=kind), size)
    piece = ring_piece(ring, "ring", "ring", CARD)
    parts = veins_by_panel(piece)
    whole = sum(LineString(v.points).length for v in piece.veins)
    split = sum(LineString(v.points).length for own in parts.values() for v in own)
    assert split == pytest.approx(whole, abs=0.02 * (1 + len(piece.veins)))
    for name, own in parts.items():
        panel = Polygon(piece.panel(name).outline).buffer(1e-3)
        assert all(panel.covers(LineString(vein.points)) for vein in own)
    through = sum(LineString(vein.points).length for vein in piece.veins if vein.cut)
    assert cut_through(piece) == pytest.approx(through)
    assert (through > 0) <= (kind == "cuts")
    kinds = [step for step, _, fold in strokes_of(piece) if fold is None and step != "outline"]
    assert kinds.count("score") == sum(not vein.cut for vein in piece.veins)
    assert kinds.count("inner") == sum(vein.cut for vein in piece.veins)


def test_both_halves_of_a_leaf_get_veins_beside_its_crease() -> None:
    leaf = CreasedLeaf(petal_from_words("lance width=48"), 50.0, 6.0, 42.0, 10.0, 22.0, "veins")
    near, far = (Polygon(half) for half in (leaf.near, leaf.far))
    on = [[shape.buffer(1e-6).covers(LineString(v.points)) for v in leaf.veins]
          for shape in (near, far)]  # fmt: skip
    assert len(leaf.veins) >= 6
    assert sum(on[0]) == sum(on[1]) == len(leaf.veins) / 2


def test_some_panels_of_a_ring_keep_the_lines_that_lie_on_them() -> None:
    family = family_by_key("layered-flower")
    options = resolve_options(family, {"petals": "8", "petal-lines": "veins", "base": "none"})
    boards = dict.fromkeys((key for key, _ in family.parts), CARD)
    design = family.build((150.0, 0.0, 0.0), boards, options)
    whole = design.pieces[0]
    for way in (-1.0, 1.0):
        half = [p for p in whole.panels if way * float(p.outline[:, 0].mean()) > 0]
        kept = veins_on(whole.veins, half)
        region = shapely.union_all([Polygon(p.outline).buffer(0.02) for p in half])
        assert kept
        assert all(region.covers(LineString(vein.points)) for vein in kept)
