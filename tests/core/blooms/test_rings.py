"""Outlines that do not cross themselves, rings that hold their petals, bends that keep lengths."""

from __future__ import annotations

import itertools
import math
from dataclasses import replace

import numpy as np
import pytest
import shapely
import trimesh
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from jadeite.core.blooms import (
    KINDS,
    Petal,
    Ring,
    RingSize,
    petal_from_words,
    profile_of,
    ring_piece,
    sinks,
    sized,
)
from jadeite.core.blooms.outlines import NUMBERS, edge_of
from jadeite.core.blooms.rings import ALIKE, LEAST_ROOT
from jadeite.core.boards import board_by_key
from jadeite.core.errors import FieldError
from jadeite.core.folding.kinematics import fold_matrices, transform
from jadeite.core.nets.bends import tightest_roll
from jadeite.core.nets.mesh import mesh_of
from jadeite.core.nets.model import Piece
from jadeite.core.nets.outline import loops_of, piece_polygon

CARD = board_by_key("medium-card")
PETALS = st.builds(
    Petal,
    st.sampled_from(list(KINDS)),
    *(
        st.integers(int(low), int(high)).map(float) if key == "waves" else st.floats(low, high)
        for key, (_, low, high) in sorted(
            NUMBERS.items(),
            key=lambda item: list(Petal.__dataclass_fields__).index(item[0]),
        )
    ),
)
RINGS = st.builds(
    RingSize,
    st.integers(3, 24),
    PETALS,
    st.just(1.0),
    st.floats(0.0, 88.0),
    st.floats(-180.0, 180.0),
    st.floats(3.0, 40.0),
    st.just(CARD.thickness),
)


def ring_of(asked: RingSize, size: float) -> Ring:
    """A ring as large as this in mm, its middle no smaller than it must be."""
    return Ring(asked, size, max(0.08 * size, asked.least_hub))


def flat_and_bent(
    piece: Piece, shares: dict[str, float] | None = None
) -> tuple[trimesh.Trimesh, trimesh.Trimesh]:
    """The triangulated mesh of a piece as it is cut, and with so much of each fold made."""
    mesh = mesh_of(piece)
    matrices = fold_matrices(piece, np.eye(4), shares)
    place = np.zeros((len(mesh.vertices), 3))
    triangles = []
    for panel, face in zip(piece.panels, mesh.faces, strict=True):
        place[list(face)] = transform(matrices[panel.name], mesh.vertices[list(face)])
        triangles += [(face[0], face[k], face[k + 1]) for k in range(1, len(face) - 1)]
    flat = np.column_stack([mesh.vertices, np.zeros(len(mesh.vertices))])
    was, now = (trimesh.Trimesh(v, triangles, process=False) for v in (flat, place))
    return was, now


@settings(max_examples=200)
@given(petal=PETALS, length=st.floats(8.0, 250.0))
def test_property_an_outline_is_one_ring_of_the_length_asked(petal, length) -> None:  # type: ignore[no-untyped-def]
    """Over all numbers: its edge never crosses the middle line, nor itself."""
    edge = edge_of(petal, length, 2.0)
    assert edge[0, 0] == 0.0
    assert edge[:, 0].max() == pytest.approx(length)
    assert edge[:-1, 1].min() > 0.0
    outline = np.vstack([edge, edge[-2::-1] * [1.0, -1.0]])
    assert shapely.Polygon(outline).is_valid


@settings(max_examples=200)
@given(asked=RINGS, size=st.floats(60.0, 300.0))
def test_property_petals_hang_on_and_stand_apart(asked, size) -> None:  # type: ignore[no-untyped-def]
    """Each root holds by the least width; no two petals touch while they are cut."""
    ring = ring_of(asked, size)
    if ring.length < 6.0:
        return
    assert 2 * ring.root >= LEAST_ROOT - 1e-9
    piece = ring_piece(ring, "ring", "ring", CARD)
    outline = piece_polygon(piece)
    assert outline.is_valid
    assert len(loops_of(piece)) == 1
    reach = math.hypot(*np.abs(np.array(outline.bounds)).reshape(2, 2).max(axis=0))
    assert reach >= size / 2 - 1e-6 or asked.count < 24
    # worn off by half the least root all round, it is still one piece
    assert outline.buffer(-0.45 * LEAST_ROOT + 0.2).area > 0
    petals = [
        shapely.union_all(
            [shapely.Polygon(p.outline) for p in piece.panels if p.name.startswith(f"{i + 1}.")]
        )
        for i in range(2)
    ]
    assert petals[0].distance(petals[1]) > 0.3 or asked.count == 3


@settings(max_examples=120)
@given(asked=RINGS, size=st.floats(60.0, 300.0), share=st.floats(0.0, 1.0))
def test_property_bends_keep_every_length(asked, size, share) -> None:  # type: ignore[no-untyped-def]
    """At any moment: edges of the triangulated mesh as flat, within 0.1 % (measured by trimesh)."""
    ring = ring_of(asked, size)
    if ring.length < 6.0:
        return
    piece = ring_piece(ring, "ring", "ring", CARD)
    was, now = flat_and_bent(piece, dict.fromkeys(piece.index, share))
    assert now.edges_unique_length == pytest.approx(was.edges_unique_length, rel=1e-3, abs=1e-6)
    assert now.area == pytest.approx(was.area, rel=1e-3)


@settings(max_examples=100)
@given(
    length=st.floats(20.0, 200.0),
    curl=st.floats(10.0, 150.0),
    across=st.floats(10.0, 60.0),
)
def test_property_a_curl_is_part_of_a_cylinder(length, curl, across) -> None:  # type: ignore[no-untyped-def]
    """Its rulings stand on a circle of the diameter asked, by the formula of its chord."""
    found = profile_of(length, 0.0, -curl, across, 8.0, length)
    arc = np.diff(found.breaks)[1:]
    if len(arc) == 0:
        return
    turn = np.radians(np.abs(found.turns[2:]))
    assert arc[:-1] == pytest.approx(across / 2 * turn, rel=1e-6)
    if len(arc) > 2:  # three points of it give the circle
        a, b, c = found.ends[1:4]
        sides = [float(np.linalg.norm(p - q)) for p, q in ((a, b), (b, c), (c, a))]
        cross = abs(float((b - a)[0] * (c - a)[1] - (b - a)[1] * (c - a)[0]))
        around = math.prod(sides) / (2 * cross)
        assert 2 * around == pytest.approx(across, rel=0.03)


@settings(max_examples=100)
@given(asked=RINGS, notch=st.floats(0.0, 1.0), size=st.floats(60.0, 300.0))
def test_property_no_facet_is_too_narrow_to_have_a_direction(asked, notch, size) -> None:  # type: ignore[no-untyped-def]
    """A notch of a thousandth of a millimetre once left a facet as narrow at the tip."""
    ring = ring_of(replace(asked, petal=replace(asked.petal, notch=notch)), size)
    if ring.length < 6.0:
        return
    parts = np.diff(ring.profile.breaks)
    assert parts.min() > 0.03
    assert parts[-1] >= 0.2


@settings(max_examples=100)
@given(asked=RINGS, size=st.floats(60.0, 300.0))
def test_property_no_bend_is_tighter_than_the_board_allows(asked, size) -> None:  # type: ignore[no-untyped-def]
    """At the root 25 thicknesses or more; what is curled opens to three times its rod."""
    ring = ring_of(asked, size)
    if ring.length < 6.0:
        return
    rolled = tightest_roll(ring_piece(ring, "ring", "ring", CARD))
    assert rolled is None or rolled >= min(25 * CARD.thickness, 3 * asked.rod) - 0.01


@settings(max_examples=100)
@given(
    rings=st.lists(RINGS, min_size=1, max_size=6),
    width=st.floats(40.0, 400.0),
)
def test_property_a_flower_is_as_wide_as_asked_and_never_wider_flat(rings, width) -> None:  # type: ignore[no-untyped-def]
    """The largest ring is found to a billionth; middles land on those below them."""
    found = sized(rings, width)
    assume(min(r.length for r in found) >= 6.0)  # hypothesis fails where that is seldom
    wide = 2 * max(r.reach for r in found)
    assert wide == pytest.approx(width, rel=1e-6)
    assert wide <= max(math.hypot(r.size, 2 * r.edge[:, 1].max()) for r in found) + 1e-6
    for below, ring in itertools.pairwise(found):
        carries(below, ring)


def carries(below: Ring, ring: Ring) -> None:
    """However it is turned, a middle lies on the one below it: by Shapely."""
    if ring.asked == below.asked and ring.asked.count >= ALIKE:  # cut alike
        one = shapely.Polygon(below.middle)
        turned = shapely.affinity.rotate(one, 180.0 / ring.asked.count, origin=(0.0, 0.0))
        assert turned.intersection(one).area >= 0.955 * one.area
        return
    rim = shapely.Polygon(below.middle).exterior
    assert rim.distance(shapely.Point(0.0, 0.0)) >= ring.hub_reach - 1e-3


@pytest.mark.parametrize("width", [26.0, 40.0, 120.0])
@pytest.mark.parametrize("counts", [(3, 7), (3, 24, 5), (4, 16)])
def test_few_narrow_roots_still_carry_the_ring_above(width: float, counts: tuple[int, ...]) -> None:
    """Three narrow roots make a triangle of the middle, whose other edges lie near the centre."""
    asked = RingSize(3, petal_from_words("lance"), 1.0, 0.0, 0.0, 8.0, CARD.thickness)
    found = sized([replace(asked, count=n, share=1 - 0.1 * i) for i, n in enumerate(counts)], width)
    for below, ring in itertools.pairwise(found):
        carries(below, ring)


def test_a_steeper_ring_passes_and_a_flatter_one_does_not() -> None:
    """Of two equal rings, turned alike: 10 degrees steeper stands clear, flatter goes through."""
    kind = KINDS["round"][1]
    low = Ring(RingSize(5, kind, 1.0, 30.0, 0.0, 8.0, 0.23), 90.0, 8.0)
    steep = Ring(RingSize(5, kind, 0.8, 45.0, 0.0, 8.0, 0.23), 72.0, 6.0)
    flat = Ring(RingSize(5, kind, 0.8, 5.0, 0.0, 8.0, 0.23), 72.0, 6.0)
    assert sinks((low, 0.0, 0.0), (steep, 36.0, 0.23)) == 0.0
    assert sinks((low, 0.0, 0.0), (flat, 36.0, 0.23)) > 5.0


@pytest.mark.parametrize(
    ("words", "what"),
    [
        ("", "no outline"),
        ("rose", "no outline"),
        ("round colour=3", "no “colour”"),
        ("round width=500", "outside the range"),
        ("round width=nan", "outside the range"),
        ("round width", "outside the range"),
    ],
)
def test_bad_words_for_an_outline_are_refused(words: str, what: str) -> None:
    """Each names what is wrong, and what works."""
    with pytest.raises(FieldError, match=what) as caught:
        petal_from_words(words)
    assert "Use" in str(caught.value)


@pytest.mark.parametrize("kind", list(KINDS))
def test_an_outline_is_kept_as_it_is_typed(kind: str) -> None:
    """Words and numbers, and back."""
    petal = petal_from_words(f"{kind} tip=40 belly=55")
    assert petal_from_words(petal.words) == petal
    assert petal_from_words(kind).words == kind
