"""The pyramid, proved from its exported FOLD geometry and against published formulas."""

from __future__ import annotations

import dataclasses
import math

import numpy as np
import pytest
import trimesh
from hypothesis import example, given, settings
from shapely.geometry import LineString, Polygon

from jadeite.core.assembly import lift_of
from jadeite.core.contents import Light
from jadeite.core.folding import edges_apart, fold_matrices
from jadeite.core.nets import loops_of
from jadeite.core.nets.roles import Role
from jadeite.core.pipeline import arrange_contents, windows_from, work_up
from jadeite.core.project import Shape, Task, changed
from jadeite.core.proof import prove
from jadeite.core.shapes import family_by_key
from tests import fold_reader
from tests.core.shapes.closing import (
    FOLDING,
    build,
    closes_or_says_why,
    faults,
    options_of,
    sizes,
    text_of,
)

FAMILY = family_by_key("pyramid")
PLAIN = {"sides": 4, "measured": "round", "slope": 60.0, "ribbon": 6.0}


@settings(max_examples=200)
@given(inside=sizes(5.0, 300.0), board=FOLDING, chosen=options_of(FAMILY))
@example((5.0, 5.0, 5.0), "craft-board", PLAIN | {"sides": 8, "ribbon": 25.0, "slope": 75.0})
def test_property_every_pyramid_closes(inside, board, chosen) -> None:  # type: ignore[no-untyped-def]
    """Over all sizes, boards and options together; nothing is refused."""
    assert closes_or_says_why(FAMILY, inside, board, chosen)


@pytest.mark.parametrize("sides", range(3, 9))
@pytest.mark.parametrize("slope", [45.0, 60.0, 75.0])
def test_slant_height_and_turn_between_the_sides(sides, slope) -> None:  # type: ignore[no-untyped-def]
    """Slant sqrt(h^2 + r^2); turn of leaning sides acos(cos^2 a cos(2 pi/n) + sin^2 a).

    Published formulas for regular pyramids; a is what a side leans from upright.
    """
    design = build(FAMILY, (60.0, 60.0, 40.0), sides=sides, slope=slope, measured="round")
    slant = design.sizes["slant-height"]
    height, inradius = (r.value for r in slant.inputs)
    assert slant.value == pytest.approx(math.hypot(height, inradius))
    faces = fold_reader.read(text_of(design)).faces
    one, other = (faces["pyramid", f"side-{k}"].normal for k in (1, 2))
    turn = math.degrees(math.acos(one @ other))
    a = math.radians(90 - slope)
    want = math.acos(math.cos(a) ** 2 * math.cos(2 * math.pi / sides) + math.sin(a) ** 2)
    assert turn == pytest.approx(math.degrees(want), abs=1e-6)


def test_what_it_encloses_is_a_frustum() -> None:
    """V = h/3 (A1 + A2 + sqrt(A1 A2)) of the frustum up to the tips; trimesh by divergence."""
    design = build(FAMILY, (60.0, 60.0, 40.0), sides=5, measured="round")
    faces = [f.points for f in fold_reader.read(text_of(design)).faces.values()]
    hull = trimesh.Trimesh(np.concatenate(faces)).convex_hull
    points = np.concatenate(faces)
    height = float(np.ptp(points[:, 2]))
    low = points[points[:, 2] < points[:, 2].min() + 1e-6]
    top = points[points[:, 2] > points[:, 2].max() - 1e-6]
    radii = [float(np.linalg.norm(ring[:, :2], axis=1).max()) for ring in (low, top)]
    areas = [5 / 2 * r * r * math.sin(2 * math.pi / 5) for r in radii]
    volume = height / 3 * (sum(areas) + math.sqrt(areas[0] * areas[1]))
    assert hull.volume == pytest.approx(volume, rel=1e-6)


def test_the_ribbon_has_a_slit_in_every_side_with_board_around_it() -> None:
    """Ribbon and 2 mm long, 4 mm from every edge (from memory), whatever the size."""
    for factor in (0.5, 1.0, 2.0):
        inside = tuple(v * factor for v in (60.0, 60.0, 40.0))
        piece = build(FAMILY, inside, ribbon=8.0).pieces[0]
        slits = [loop for loop in loops_of(piece) if loop.kind == "slit"]
        assert len(slits) == 4
        for slit in slits:
            assert slit.length == pytest.approx(10.0)
        for k in range(1, 5):
            panel = piece.panel(f"side-{k}")
            ends = panel.openings[0].points
            for a, b in zip(panel.outline, np.roll(panel.outline, -1, axis=0), strict=True):
                way = (b - a) / np.linalg.norm(b - a)
                off = (ends - a) @ np.array([-way[1], way[0]])
                assert off.min() > 4.0 * math.sin(math.radians(60)) - 1e-6


def test_edges_that_gape_are_found() -> None:
    """A side folded a degree less no longer meets its neighbours; the proof says so."""
    design = build(FAMILY, (60.0, 60.0, 40.0))
    piece = design.pieces[0]
    folds = tuple(
        dataclasses.replace(f, angle=f.angle + 1.0) if f.child == "side-1" else f
        for f in piece.folds
    )
    open_ = dataclasses.replace(design, pieces=(dataclasses.replace(piece, folds=folds),))
    assert "edges-apart" in {f.code for f in prove(open_)[1]}
    matrices = {"pyramid": fold_matrices(open_.pieces[0], open_.placements["pyramid"])}
    assert edges_apart(open_, matrices, ("pyramid", "side-1"), ("pyramid", "side-2")) > 0.5


def test_it_is_filled_before_its_sides_come_up() -> None:
    """The lift fills first and closes last."""
    stops = [words for _, words in lift_of(build(FAMILY, (60.0, 60.0, 40.0))).stops]
    assert stops.index("filled") < stops.index("closed")


@pytest.mark.parametrize("sides", [3, 4, 6])
def test_a_pyramid_lantern_has_windows_below_its_ribbon(sides) -> None:  # type: ignore[no-untyped-def]
    """4 mm of board between slit and window (from memory); linings take nothing from the light."""
    light = Light(name="path light", mass=20)
    project = changed(
        Task(), contents=(light,), shape=Shape(key="pyramid", options={"sides": sides})
    )
    arrangement = arrange_contents(project, quick=True)
    windows = windows_from(project, arrangement, "walls", "stars", lined=True)
    assert len(windows) == sides
    work = work_up(changed(project, windows=windows), arrangement)
    assert {f.code for f in work.findings} == {"caution-flame", "caution-button-cell"}
    assert work.design is not None
    assert faults(work.design) == []
    for number, panel in enumerate(p for p in work.design.pieces[0].panels if p.role is Role.WALL):
        (slit,) = (LineString(o.points) for o in panel.openings if o.kind == "slit")
        cut = [Polygon(o.points) for o in panel.openings if o.kind == "window"]
        assert min(slit.distance(hole) for hole in cut) >= 4.0 - 1e-6
        lining = Polygon(work.design.piece(f"lining-{number + 1}").panels[0].outline)
        assert not lining.intersects(slit.buffer(0.5))
        assert all(lining.buffer(-3.9).contains(hole) for hole in cut)


@pytest.mark.parametrize("slope", [40.0, 60.0, 75.0])
@pytest.mark.parametrize("sides", [3, 5, 8])
def test_the_slit_keeps_4_mm_of_board(sides, slope) -> None:  # type: ignore[no-untyped-def]
    """From memory; measured square to the slanting edges, not along the slit."""
    design = build(FAMILY, (60.0, 60.0, 50.0), sides=sides, slope=slope)
    for panel in (p for p in design.pieces[0].panels if p.role is Role.WALL):
        (slit,) = (LineString(o.points) for o in panel.openings)
        assert Polygon(panel.outline).exterior.distance(slit) >= 4.0 - 1e-6
    assert "slot-near-edge" not in {f.code for f in prove(design)[1]}
