"""Folding against scipy's rotations and the regular solids."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.spatial.transform import Rotation

from jadeite.core.boards import board_by_key
from jadeite.core.folding import fold_matrices, folded_faces, loop_gap, transform
from jadeite.core.folding.kinematics import rotation
from jadeite.core.nets import Fold, Panel, Piece
from jadeite.core.nets.roles import Role
from tests.conftest import build_tray

COORDINATE = st.floats(-100.0, 100.0)


@given(
    st.tuples(COORDINATE, COORDINATE), st.tuples(COORDINATE, COORDINATE), st.floats(-180.0, 180.0)
)
def test_property_turns_agree_with_scipy(start, end, degrees) -> None:  # type: ignore[no-untyped-def]
    """Our turn about a line against scipy.spatial's rotation vectors."""
    axis = np.array([end[0] - start[0], end[1] - start[1], 0.0])
    if np.linalg.norm(axis) < 1e-3:
        return
    matrix = rotation(start, end, degrees)
    point = np.array([[3.0, -2.0, 5.0]])
    origin = np.array([*start, 0.0])
    turn = Rotation.from_rotvec(axis / np.linalg.norm(axis) * math.radians(degrees))
    assert transform(matrix, point) == pytest.approx(turn.apply(point - origin) + origin, abs=1e-9)


def ring_of_triangles(count: int, degrees: float) -> Piece:
    """``count`` triangles round a corner, folded by one angle; the last closes on the first."""
    panels, folds = [], []
    for i in range(count):
        a, b = math.radians(60 * i), math.radians(60 * (i + 1))
        corners = np.array([[0, 0], [math.cos(a), math.sin(a)], [math.cos(b), math.sin(b)]]) * 10
        panels.append(Panel(f"t{i}", f"t{i}", Role.WALL, corners, (10, 8.66)))
        if i:
            tip = (10 * math.cos(a), 10 * math.sin(a))
            folds.append(Fold(f"t{i - 1}", f"t{i}", (0.0, 0.0), tip, degrees))
    return Piece("fan", "fan", board_by_key("text"), tuple(panels), tuple(folds))


@pytest.mark.parametrize(
    ("count", "dihedral"), [(3, 70.5288), (4, 109.4712), (5, 138.1897)]
)  # tetrahedron, octahedron, icosahedron: published dihedral angles, any geometry handbook
def test_triangles_close_at_the_dihedral_angles_of_the_regular_solids(
    count: int, dihedral: float
) -> None:
    """Folded by 180 - dihedral, the last triangle's free edge meets the first's."""
    piece = ring_of_triangles(count, -(180 - dihedral))
    matrices = fold_matrices(piece, np.eye(4))
    first = transform(matrices["t0"], piece.panels[0].outline)[1]
    last = transform(matrices[f"t{count - 1}"], piece.panels[-1].outline)[2]
    assert last == pytest.approx(first, abs=1e-3)


def test_valley_rises_towards_the_viewer() -> None:
    """The sign of the FOLD specification: valley positive, seen from +z."""
    for angle, sign in ((90.0, 1.0), (-90.0, -1.0)):
        piece = ring_of_triangles(2, angle)
        tip = transform(fold_matrices(piece, np.eye(4))["t1"], piece.panels[1].outline)[2]
        assert math.copysign(1.0, tip[2]) == sign


def test_shares_of_a_fold() -> None:
    """Half made, a wall leans at 45 degrees; not made, the net is flat."""
    piece = build_tray().piece("tray")
    half = fold_matrices(piece, np.eye(4), {f.child: 0.5 for f in piece.folds})
    assert half["front"][2, 2] == pytest.approx(math.cos(math.radians(45)))
    none = fold_matrices(piece, np.eye(4), {f.child: 0.0 for f in piece.folds})
    assert all(np.allclose(m, np.eye(4)) for m in none.values())


def test_folds_that_close_a_loop_meet() -> None:
    """The second strip of a notched rim meets the inner wall, and would not if bent."""
    piece = build_tray((120, 80, 50), lid_depth=30, lid_walls="double").piece("lid")
    assert any(not fold.tree for fold in piece.folds)
    assert loop_gap(piece, fold_matrices(piece, np.eye(4))) < 1e-9
    bent = fold_matrices(piece, np.eye(4), {"rim.front.2": 0.9})
    assert loop_gap(piece, bent) > 0.01


def test_faces_keep_their_area() -> None:
    """Folding is rigid."""
    design = build_tray(tray_walls="double")
    for face in folded_faces(design):
        outline = design.piece(face.piece).panel(face.panel).outline
        x, y = outline[:, 0], outline[:, 1]
        flat = abs(np.dot(x, np.roll(y, -1)) - np.dot(y, np.roll(x, -1))) / 2
        after = np.roll(face.points, -1, axis=0)
        area = np.linalg.norm(np.cross(face.points, after).sum(axis=0)) / 2
        assert area == pytest.approx(flat, rel=1e-9)
