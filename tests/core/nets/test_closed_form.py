"""The closed form laid flat, against regular solids, Euler and trimesh."""

from __future__ import annotations

import math

import numpy as np
import pytest
import trimesh
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.spatial import ConvexHull

from jadeite.core.boards import board_by_key
from jadeite.core.findings import Level
from jadeite.core.folding import fold_matrices, transform
from jadeite.core.formats.fold_file import fold_text
from jadeite.core.nets import Design, Hollow, mesh_of
from jadeite.core.nets.closed_form import ClosedForm
from jadeite.core.proof import prove
from tests import fold_reader

PHI = (1 + math.sqrt(5)) / 2
SIGNS = [(a, b) for a in (-1.0, 1.0) for b in (-1.0, 1.0)]
CYCLE = [(0, 1, 2), (1, 2, 0), (2, 0, 1)]


def cyclic(points):  # type: ignore[no-untyped-def]
    """All three turns of the axes of each point."""
    return [[p[i] for i in order] for p in points for order in CYCLE]


CUBE = [(a, b, c) for a, b in SIGNS for c in (-1.0, 1.0)]
SOLIDS = {
    "tetrahedron": [(1, 1, 1), (1, -1, -1), (-1, 1, -1), (-1, -1, 1)],
    "cube": CUBE,
    "octahedron": cyclic([(1, 0, 0), (-1, 0, 0)]),
    "dodecahedron": CUBE + cyclic([(0, a / PHI, b * PHI) for a, b in SIGNS]),
    "icosahedron": cyclic([(0, a, b * PHI) for a, b in SIGNS]),
}
# dihedral angles of the five regular solids, any geometry handbook
DIHEDRAL = {
    "tetrahedron": 70.529,
    "cube": 90.0,
    "octahedron": 109.471,
    "dodecahedron": 116.565,
    "icosahedron": 138.190,
}


def faces_of(points, size: float) -> list[np.ndarray]:  # type: ignore[no-untyped-def]
    """Faces of a convex solid, counter-clockwise from outside, by SciPy's hull."""
    corners = np.unique(np.round(np.array(points, float), 9), axis=0) * size
    hull = ConvexHull(corners)
    groups: dict[tuple[float, ...], set[int]] = {}
    for simplex, equation in zip(hull.simplices, hull.equations, strict=True):
        groups.setdefault(tuple(np.round(equation, 6)), set()).update(simplex.tolist())
    out = []
    for equation, members in groups.items():
        normal = np.array(equation[:3])
        ring = corners[sorted(members)]
        middle = ring.mean(axis=0)
        x = (ring[0] - middle) / np.linalg.norm(ring[0] - middle)
        y = np.cross(normal, x)
        turn = np.arctan2((ring - middle) @ y, (ring - middle) @ x)
        out.append(ring[np.argsort(turn)])
    return out


def shared(one: np.ndarray, other: np.ndarray) -> bool:
    """Whether two faces have two corners in common."""
    apart = np.linalg.norm(one[:, None] - other[None], axis=2)
    return int((apart < 1e-6).sum()) == 2


def built(points, size: float, *, board: str = "medium-card", tabs: bool, good_side="outside"):  # type: ignore[no-untyped-def]
    """A solid hung face on face, breadth first, and its design."""
    faces = faces_of(points, size)
    form = ClosedForm("solid", "solid", board_by_key(board), good_side)
    made = {0: form.base("f0", faces[0])}
    queue, tree = [0], set()
    while queue:
        i = queue.pop(0)
        for j in range(len(faces)):
            if j not in made and shared(faces[i], faces[j]):
                made[j] = form.face(f"f{j}", faces[j], made[i])
                tree |= {(i, j), (j, i)}
                queue.append(j)
    if tabs:
        for i in range(len(faces)):
            for j in range(i + 1, len(faces)):
                if (i, j) not in tree and shared(faces[i], faces[j]):
                    form.tab(f"tab.{i}.{j}", made[i], made[j])
    piece = form.build()
    hollow = Hollow((1.0, 1.0, 1.0), (0.0, 0.0, 0.0))
    design = Design(
        "solid", "solid", (piece,), {"solid": form.placement}, tuple(form.joints), hollow, {}
    )
    return design


@pytest.mark.parametrize("name", SOLIDS)
@pytest.mark.parametrize("good_side", ["outside", "inside"])
def test_dihedral_angles_of_the_regular_solids(name, good_side) -> None:  # type: ignore[no-untyped-def]
    """Every fold's turn is 180 less the dihedral angle of the handbook."""
    design = built(SOLIDS[name], 20.0, tabs=False, good_side=good_side)
    piece = design.pieces[0]
    assert len(piece.folds) == len(piece.panels) - 1
    sign = -1 if good_side == "outside" else 1
    for fold in piece.folds:
        assert 180 - sign * fold.angle == pytest.approx(DIHEDRAL[name], abs=1e-3)


@pytest.mark.parametrize("name", SOLIDS)
def test_folded_by_our_kinematics_the_solids_are_closed(name) -> None:  # type: ignore[no-untyped-def]
    """Corners meet: Euler's formula on what was folded, and trimesh's volume of the hull."""
    design = built(SOLIDS[name], 20.0, tabs=False)
    piece = design.pieces[0]
    matrices = fold_matrices(piece, design.placements["solid"])
    corners, faces, sides = [], [], set()
    for panel in piece.panels:
        ring = []
        for point in transform(matrices[panel.name], panel.outline):
            near = [i for i, c in enumerate(corners) if np.linalg.norm(c - point) < 1e-6]
            if not near:
                corners.append(point)
            ring.append(near[0] if near else len(corners) - 1)
        faces += [[ring[0], ring[k], ring[k + 1]] for k in range(1, len(ring) - 1)]
        sides |= {tuple(sorted((ring[k - 1], ring[k]))) for k in range(len(ring))}
    assert len(corners) - len(sides) + len(piece.panels) == 2  # Euler
    mesh = trimesh.Trimesh(np.array(corners), faces, process=False)
    assert mesh.is_watertight
    whole = trimesh.Trimesh(np.array(corners)).convex_hull  # divergence theorem
    assert mesh.volume == pytest.approx(whole.volume, rel=1e-9)


@settings(max_examples=60)
@given(
    name=st.sampled_from(sorted(SOLIDS)),
    size=st.floats(18.0, 80.0),
    board=st.sampled_from(["text", "medium-card", "craft-board"]),
    good_side=st.sampled_from(["outside", "inside"]),
)
def test_property_solids_with_tabs_close(name, size, board, good_side) -> None:  # type: ignore[no-untyped-def]
    """Every tab lands, at the distance of the plies, and nothing passes through anything."""
    design = built(SOLIDS[name], size, board=board, tabs=True, good_side=good_side)
    model = fold_reader.read(fold_text(design))
    assert fold_reader.structure_faults(model) == []
    assert fold_reader.open_joints(model) == []
    assert fold_reader.penetrations(model) == []
    assert fold_reader.stretch(model) < 1e-6
    assert fold_reader.fold_angle_fault(model) < 1e-4
    _, findings = prove(design)
    own = {"panels-overlap"}  # a net of a solid hung breadth first may overlap itself when flat
    assert [f.message for f in findings if f.level is Level.BLOCKED and f.code not in own] == []
    mesh = mesh_of(design.pieces[0])
    assert len(mesh.faces) == len(design.pieces[0].panels)
