"""The builder, the mesh and the outline, against Shapely and Euler."""

from __future__ import annotations

import dataclasses

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from jadeite.core.boards import CATALOGUE, board_by_key
from jadeite.core.findings import Level
from jadeite.core.nets import (
    NetBuilder,
    flat_findings,
    fold_lines,
    loops_of,
    mesh_of,
    piece_area,
    piece_polygon,
)
from jadeite.core.nets.builder import arc_points
from jadeite.core.nets.checks import overlapping_panels, uncut_edges
from jadeite.core.nets.model import Fold, Panel, Piece
from jadeite.core.nets.roles import Role
from tests.conftest import build_tray

VARIANTS = st.fixed_dictionaries(
    {
        "board": st.sampled_from([b.key for b in CATALOGUE if b.folds]),
        "tabs": st.sampled_from(["inside", "outside"]),
        "tray_walls": st.sampled_from(["single", "double"]),
        "lid_walls": st.sampled_from(["single", "double"]),
        "thumb_notches": st.sampled_from(["none", "two"]),
    }
)


@settings(max_examples=40)
@given(VARIANTS, st.tuples(*(st.floats(15, 200) for _ in range(3))))
def test_property_outline_is_the_union_of_the_panels(options, inside) -> None:  # type: ignore[no-untyped-def]
    """Walking the free edges gives what Shapely's union gives."""
    for piece in build_tray(inside, **options).pieces:
        union = shapely.union_all(
            [shapely.Polygon(p.outline) for p in piece.panels], grid_size=1e-6
        )
        polygon = piece_polygon(piece)
        assert polygon.is_valid
        assert polygon.area == pytest.approx(union.area, rel=1e-6)
        assert polygon.area == pytest.approx(piece_area(piece), rel=1e-9)
        assert polygon.symmetric_difference(union).area < 1e-2
        assert len(loops_of(piece)) == 1 + sum(
            len(g.interiors) for g in shapely.get_parts(union).tolist()
        )


@settings(max_examples=40)
@given(VARIANTS)
def test_property_mesh_obeys_euler(options) -> None:  # type: ignore[no-untyped-def]
    """V - E + F = 1 less the holes, for a connected flat piece; every fold is inside once."""
    for piece in build_tray((100, 70, 45), **options).pieces:
        mesh = mesh_of(piece)
        holes = sum(loop.hole for loop in loops_of(piece))
        assert len(mesh.vertices) - len(mesh.edges) + len(mesh.faces) == 1 - holes
        assert len(fold_lines(piece)) == len(piece.folds)


def test_a_side_is_split_where_a_narrower_wall_meets_it() -> None:
    """The floor's side has the ends of the inset wall as corners of its own."""
    piece = build_tray(board="craft-board").piece("tray")
    floor = mesh_of(piece).faces[0]
    assert len(floor) == 8  # four corners, and two ends of each inset wall
    assert len(set(floor)) == 8


def test_the_notch_of_a_double_wall_is_a_hole_in_the_net() -> None:
    """Through the wall, its rim and the wall that folds over it."""
    piece = build_tray((120, 80, 50), lid_depth=30, lid_walls="double").piece("lid")
    holes = [loop for loop in loops_of(piece) if loop.hole]
    assert len(holes) == 2
    width, height = np.ptp(holes[0].points, axis=0)
    assert width == pytest.approx(20.0, abs=0.05)
    assert height == pytest.approx(2 * 10.0 + 0.5, abs=0.05)


def test_arcs_are_flattened_finely() -> None:
    """Within 0.02 mm of the true curve (design rule), by Shapely's distance."""
    half, depth = 10.0, 7.0
    line = shapely.LineString(arc_points(half, depth))
    fine = np.linspace(0, np.pi, 4001)
    true = np.column_stack([half * np.cos(fine), -depth * np.sin(fine)])
    assert max(line.distance(shapely.Point(p)) for p in true) < 0.021


def test_tab_tapers_and_setback() -> None:
    """45 degrees, steeper where half of the root must remain (from memory)."""
    board = board_by_key("medium-card")
    net = NetBuilder("p", "piece", board)
    floor = net.base("floor", 60, 40)
    tall = net.wall("tall", floor.side("right"), 50)
    low = net.wall("low", floor.side("left"), 12)
    target = net.wall("target", floor.side("back"), 50)
    net.tab("one", tall.side("start"), target, "end", 10.0)
    net.tab("two", low.side("end"), target, "start", 10.0)
    piece = net.build()
    for name, taper, root in (("one", 10.0, 50.0), ("two", 3.0, 12.0)):
        points = piece.panel(name).outline
        base = np.linalg.norm(points[1] - points[0])
        tip = np.linalg.norm(points[3] - points[2])
        assert base == pytest.approx(root)
        assert (base - tip) / 2 == pytest.approx(taper)
        assert tip >= root / 2 - 1e-9
    wall = piece.panel("tall").outline
    assert wall[:, 1].max() == pytest.approx(20 - board.thickness)  # short of the corner by d


def test_outside_tab_goes_beyond_the_corner_and_trims_its_target() -> None:
    """By d beyond, and the lapped wall by half a thickness."""
    board = board_by_key("craft-board")
    net = NetBuilder("p", "piece", board)
    floor = net.base("floor", 60, 40)
    wall = net.wall("wall", floor.side("right"), 50)
    target = net.wall("target", floor.side("back"), 50)
    net.tab("tab", wall.side("start"), target, "end", 10.0, side="outside")
    piece = net.build()
    assert piece.panel("wall").outline[:, 1].max() == pytest.approx(20 + 0.5)
    assert piece.panel("target").outline[:, 0].max() == pytest.approx(30 - 0.25)


def test_leaning_walls_set_their_tabs_back_by_the_sine() -> None:
    """A turn of 60 degrees: d / sin 60."""
    board = board_by_key("craft-board")
    net = NetBuilder("p", "piece", board)
    floor = net.base("floor", 60, 40)
    wall = net.wall("wall", floor.side("right"), 50, turn=60)
    target = net.wall("target", floor.side("back"), 50, turn=60)
    net.tab("tab", wall.side("start"), target, "end", 10.0, turn=60)
    reach = net.build().panel("wall").outline[:, 1].max()
    assert reach == pytest.approx(20 - 0.5 / np.sin(np.radians(60)))


def test_panels_that_overlap_block() -> None:
    """Two walls on one side claim the same board."""
    net = NetBuilder("p", "piece", board_by_key("text"))
    floor = net.base("floor", 60, 40)
    net.wall("one", floor.side("right"), 30, title="one wall")
    net.wall("two", floor.side("right"), 10, title="two wall")
    piece = net.build()
    (pair,) = overlapping_panels(piece)
    assert set(pair[:2]) == {"one", "two"}
    assert pair[2] == pytest.approx(400.0)
    finding = flat_findings(piece)[0]
    assert (finding.level, finding.code) == (Level.BLOCKED, "panels-overlap")


def test_edges_that_touch_and_are_no_fold_block() -> None:
    """A cutter follows outlines: two strands side by side would stay one."""
    square = np.array([[0.0, 0.0], [10.0, 0.0], [10.0, 10.0], [0.0, 10.0]])
    below = square * [2.0, 1.0] - [0.0, 10.0]
    panels = [
        Panel(name, name, Role.WALL, outline, (10.0, 10.0))
        for name, outline in (
            ("foot", below),
            ("one", square),
            ("two", square + np.array([10.0, 0.0])),
        )
    ]
    folds = [
        Fold("foot", name, (x, 0.0), (x + 10.0, 0.0), 90.0)
        for name, x in (("one", 0.0), ("two", 10.0))
    ]

    def piece_of(outline: np.ndarray, fold: Fold) -> Piece:  # type: ignore[type-arg]
        two = dataclasses.replace(panels[2], outline=outline)
        board = board_by_key("text")
        return Piece("p", "piece", board, (*panels[:2], two), (folds[0], fold))

    (pair,) = uncut_edges(piece_of(panels[2].outline, folds[1]))
    assert pair[:2] == ("one", "two")
    assert pair[2] == pytest.approx(10.0, abs=1e-3)
    finding = flat_findings(piece_of(panels[2].outline, folds[1]))[0]
    assert (finding.level, finding.code) == (Level.BLOCKED, "edge-uncut")
    short = dataclasses.replace(folds[1], end=(14.0, 0.0))
    away = np.array([[10.5, 0.0], [20.0, 0.0], [20.0, 10.0], [10.5, 10.0]])
    (pair,) = uncut_edges(piece_of(away, short))
    assert pair[:2] == ("foot", "two")
    assert pair[2] == pytest.approx(9.5 - 4.0, abs=1e-3)
    whole = dataclasses.replace(folds[1], start=(10.5, 0.0))
    assert uncut_edges(piece_of(away, whole)) == []


def test_small_things_need_a_look() -> None:
    """A fold under 5 mm, a tab under 6 mm (from memory)."""
    net = NetBuilder("p", "piece", board_by_key("text"))
    floor = net.base("floor", 60, 40)
    wall = net.wall("wall", floor.side("right"), 4.0)
    target = net.wall("target", floor.side("back"), 30.0)
    net.tab("tab", wall.side("start"), target, "end", 5.0)
    codes = {f.code: f for f in flat_findings(net.build())}
    assert set(codes) == {"fold-short", "tab-shallow"}
    assert "score it before you trim" in codes["fold-short"].message


def test_pieces_are_never_mirrored() -> None:
    """Every panel is counter-clockwise, seen from the good side."""
    for piece in build_tray(tray_walls="double", lid_walls="double").pieces:
        for panel in piece.panels:
            assert shapely.Polygon(panel.outline).exterior.is_ccw, panel.name


def test_perforated_and_hand_creased_folds_keep_their_kind() -> None:
    """The kind of a fold is a decision; the mesh only carries its number."""
    piece = build_tray().piece("tray")
    folds = tuple(dataclasses.replace(f, kind="perforated") for f in piece.folds)
    changed = dataclasses.replace(piece, folds=folds)
    assert {changed.folds[n].kind for _, n in fold_lines(changed)} == {"perforated"}
