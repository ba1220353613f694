"""Rings gathered by laps: feet that close to a cup, with flaps behind one another."""

from __future__ import annotations

import math
from collections import Counter
from dataclasses import replace

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.optimize import brentq

from jadeite.core.blooms import MOST_SLANT, ring_piece
from jadeite.core.blooms.lapped import Lap, lap_of
from jadeite.core.boards import board_by_key
from jadeite.core.errors import FieldError
from jadeite.core.findings import Level
from jadeite.core.formats.fold_file import fold_text
from jadeite.core.pipeline import Work, work_up
from jadeite.core.project import Shape, Span, Task, changed
from jadeite.core.proof import prove
from jadeite.core.shapes import family_by_key, resolve_options
from tests import fold_reader
from tests.core.blooms.test_rings import RINGS, flat_and_bent, ring_of
from tests.core.shapes.closing import HEAVY, boards_for

CARD = board_by_key("medium-card")


def worked(width: float = 100.0, **options: object) -> Work:
    """A flower whose rings are lapped; names with underscores for hyphens."""
    chosen = {key.replace("_", "-"): value for key, value in options.items()}
    shape = Shape(key="layered-flower", options={"gather": "laps", **chosen})
    work = work_up(changed(Task(), brief=Span(width=width), shape=shape), None)
    assert work.design is not None, [f.message for f in work.findings]
    return work


@pytest.mark.parametrize("count", [3, 4, 5, 6, 8, 12])
@pytest.mark.parametrize("rise", [20.0, 45.0, 75.0])
def test_what_is_lapped_is_what_a_pyramid_leaves_over(count: int, rise: float) -> None:
    """Against a pyramid's frustum in space: the angles round a corner of its base, by vectors.

    The edge between two faces is found as the direction that lies in both (SciPy's root
    of one face's equation along the other).
    """
    lap = Lap(10.0, count, rise, 8.0, CARD.thickness)
    turn, up = math.pi / count, math.radians(rise)
    corner = 10.0 / math.cos(turn) * np.array([math.cos(turn), math.sin(turn), 0.0])
    out = [np.array([math.cos(a), math.sin(a), 0.0]) for a in (0.0, 2 * turn)]
    normals = [math.cos(up) * np.array([0, 0, 1.0]) - math.sin(up) * way for way in out]
    aside = np.array([0.0, 1.0, 0.0])
    slope = math.cos(up) * out[0] + math.sin(up) * np.array([0.0, 0.0, 1.0])

    def off(angle: float) -> float:
        way = math.cos(angle) * slope + math.sin(angle) * aside
        return float(way @ normals[1])

    seam = float(brentq(off, 0.0, math.pi / 2 - 1e-9))
    base = math.pi - 2 * turn  # the corner of the middle
    whole = base + 2 * (math.pi / 2 + seam)  # of board round it, with both feet
    assert lap.angle == pytest.approx(math.degrees(2 * math.pi - whole), abs=1e-6)
    assert math.cos(math.radians(lap.turn)) == pytest.approx(float(normals[0] @ normals[1]))
    assert corner[:2] == pytest.approx([10.0, lap.root])


def test_property_a_lapped_ring_is_the_flat_ring_cut_open() -> None:
    """Panels lie beside one another; each edge of the mesh is as long bent as flat, by trimesh."""
    counts: Counter[str] = Counter()

    @settings(max_examples=2 * HEAVY)
    @given(
        asked=RINGS, rise=st.floats(25.0, 85.0), count=st.integers(3, 8),
        slant=st.sampled_from([0.0, 0.0, -MOST_SLANT, 20.0]), size=st.floats(60.0, 300.0),
    )  # fmt: skip
    def every(asked, rise, count, slant, size) -> None:  # type: ignore[no-untyped-def]
        own = replace(asked, count=count, rise=rise, slant=slant, lines="none", laps=True)
        ring = ring_of(own, size)
        if ring.length < 6.0:
            return
        counts["lapped" if ring.cup else "pressed"] += 1
        piece = ring_piece(ring, "ring", "ring", CARD)
        shapes = [shapely.Polygon(panel.outline) for panel in piece.panels]
        assert all(shape.is_valid and shape.exterior.is_ccw for shape in shapes)
        union = shapely.union_all([shape.buffer(1e-5) for shape in shapes])
        assert union.area == pytest.approx(sum(shape.area for shape in shapes), rel=1e-3)
        assert union.geom_type == "Polygon"
        flaps = [panel for panel in piece.panels if panel.name.endswith("lap")]
        assert len(flaps) == (ring.asked.count if ring.cup else 0)
        was, now = flat_and_bent(piece)
        assert now.edges_unique_length == pytest.approx(was.edges_unique_length, rel=1e-3, abs=1e-5)

    every()
    assert counts["lapped"] > counts.total() / 4  # 167 to 230 of 400, by the seed


@pytest.mark.parametrize("petals", ["5 5 4 4", "4 3", "6 6 5"])
def test_flaps_lie_behind_the_next_foot_by_one_board(petals: str) -> None:
    """From the FOLD text alone: every corner of a flap, from the plane of the foot beside it."""
    work = worked(rise=45.0, inner_rise=65.0, petals=petals)
    assert work.design is not None
    assert not [f for f in work.findings if f.level > 1]
    model = fold_reader.read(fold_text(work.design))
    faces = {key: face.points for key, face in model.faces.items()}
    laps = [key for key in faces if key[1].endswith("lap")]
    counts = Counter(piece for piece, _ in laps)
    thick = CARD.thickness
    assert counts
    for piece, panel in laps:
        number = int(panel.split(".")[0])
        foot = faces[piece, f"{number % counts[piece] + 1}.1"]
        normal = fold_reader.newell(foot)
        normal = normal / np.linalg.norm(normal)
        away = (faces[piece, panel] - foot[0]) @ normal
        assert away == pytest.approx(np.full(3, -thick), abs=1e-6)


def test_hands_lap_the_feet_before_rings_are_stacked() -> None:
    """After curling, which wants a flat ring; with glue, and by the angle that the number says."""
    work = worked(rise=45.0, inner_rise=65.0, petals="5 5 4")
    assert work.assembly is not None
    titles = [step.title for step in work.assembly.steps]
    lap = titles.index("Lap the feet of rings 1 to 3")
    assert titles.index("Curl the tips of all petals and leaves") < lap
    assert lap < titles.index("Glue ring 1 to the leaf ring")
    assert not any(title.startswith("Press the middle") for title in titles)
    step = work.assembly.steps[lap]
    assert step.dry > 0  # it is glued
    angle = work.sizes["ring-1-lap"].value
    assert f"ring 1 {angle:.0f}°" in step.detail


def test_rings_that_rise_too_little_are_pressed_and_it_is_said() -> None:
    """A note with its cure; a ring that rises steeply has flaps."""
    work = worked(rise=5.0, inner_rise=8.0)
    (note,) = [f for f in work.findings if f.code == "laps-narrow"]
    assert note.cure is not None
    assert note.cure.changes == (("shape.options.gather", "pressing"),)
    assert lap_of(8.0, 5, 5.0, 30.0, CARD.thickness) is None
    assert lap_of(8.0, 5, 60.0, 30.0, CARD.thickness) is not None


def test_a_ring_that_is_lapped_only_once_it_is_raised_still_lands_whole() -> None:
    """Pressed as it is asked, its middle is smaller than the one that its laps need then."""
    family = family_by_key("layered-flower")
    chosen = {"outline": "pointed", "step": 42.4, "rise": 19.6, "gather": "laps", "tips": 103.5,
              "leaves": 3.0, "leaf-outline": "heart", "leaf-rise": 15.2, "leaf-fold": 73.1,
              "middle": "hole"}  # fmt: skip
    boards = boards_for(family, "clear-film")
    made = 0
    for width in range(70, 161, 5):
        try:
            built = family.build((float(width), 0.0, 0.0), boards, resolve_options(family, chosen))
        except FieldError:  # too small for petals that can be held, and says so
            continue
        assert not [f for f in prove(built)[1] if f.level is Level.BLOCKED], width
        made += any(joint.title == "laps" for joint in built.joints)
    assert made > 10
