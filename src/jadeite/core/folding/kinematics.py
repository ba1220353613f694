"""Rigid turns of panels about their folds.

Every panel's outline is kept in the coordinates of the whole flat piece, so a
panel's matrix carries flat coordinates (z = 0, good side +z) into space.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from jadeite.core.nets.kept import kept
from jadeite.core.nets.mesh import mesh_of
from jadeite.core.nets.model import Design, Floats, Fold, Piece
from jadeite.core.nets.turns import rotation, transform

__all__ = [
    "FoldedFace",
    "closed_matrices",
    "fold_matrices",
    "folded_faces",
    "loop_gap",
    "rotation",
    "transform",
]


@dataclass(frozen=True, eq=False)
class FoldedFace:
    """A panel in space: corners (n, 3) in mm and the unit normal of its good side.

    ``openings`` are the lines of what is cut into it, (n, 3) each.
    """

    piece: str
    panel: str
    points: Floats
    normal: Floats
    thickness: float
    openings: tuple[Floats, ...] = ()


def fold_matrices(
    piece: Piece, placement: Floats, shares: Mapping[str, float] | None = None
) -> dict[str, Floats]:
    """Matrix of every panel of a piece.

    Parameters
    ----------
    piece : Piece
    placement : (4, 4) float
        Of the base panel.
    shares : mapping, optional
        How far each fold is made, 0 to 1, by the name of its child panel;
        folds not named are made fully.

    Returns
    -------
    dict
        Panel name to (4, 4) float.
    """
    out: dict[str, Floats] = {piece.panels[0].name: placement}
    for fold in piece.tree:
        share = 1.0 if shares is None else shares.get(fold.child, 1.0)
        turn = rotation(fold.start, fold.end, fold.angle * share)
        out[fold.child] = out[fold.parent] @ turn
    return out


@kept
def closed_matrices(design: Design) -> Mapping[str, Mapping[str, Floats]]:
    """Matrix of every panel of the closed thing, by piece and panel; kept with the design."""
    folded: dict[int, tuple[list[str], Floats]] = {}  # copies are folded alike
    out = {}
    for piece in design.pieces:
        key = id(mesh_of(piece))
        if key not in folded:
            own = fold_matrices(piece, np.eye(4))
            folded[key] = list(own), np.stack(list(own.values()))
        names, matrices = folded[key]
        out[piece.name] = dict(zip(names, design.placements[piece.name] @ matrices, strict=True))
    return out


def folded_faces(
    design: Design, closed: Mapping[str, Mapping[str, Floats]] | None = None
) -> tuple[FoldedFace, ...]:
    """Every panel of the closed thing in the shared space.

    ``closed`` may hand over :func:`closed_matrices`, or those of another pose.

    ``closed`` are (4, 4) float, by piece and panel.
    """
    if closed is None or closed is closed_matrices(design):
        return _closed_faces(design)
    return _faces(design, closed)


@kept
def _closed_faces(design: Design) -> tuple[FoldedFace, ...]:
    return _faces(design, closed_matrices(design))


def _faces(design: Design, closed: Mapping[str, Mapping[str, Floats]]) -> tuple[FoldedFace, ...]:
    faces = []
    for piece in design.pieces:
        mesh, matrices = mesh_of(piece), closed[piece.name]
        places = np.array([matrices[panel.name] for panel in piece.panels])
        corners = mesh.vertices[mesh.corners]
        at = np.repeat(places, mesh.counts, axis=0)  # all corners of a piece at once
        points = (at[:, :3, :2] @ corners[:, :, None])[:, :, 0] + at[:, :3, 3]
        end = 0
        for panel, m, count in zip(piece.panels, places, mesh.counts.tolist(), strict=True):
            start, end = end, end + count
            faces.append(
                FoldedFace(
                    piece.name,
                    panel.name,
                    points[start:end],
                    m[:3, 2],
                    piece.board.thickness,
                    tuple(transform(m, opening.points) for opening in panel.openings),
                )
            )
    return tuple(faces)


def loop_gap(piece: Piece, matrices: Mapping[str, Floats]) -> float:
    """How far apart in mm the two sides of folds that close loops come to lie.

    ``matrices`` are (4, 4) float, by panel.
    """
    gap = 0.0
    for fold in (f for f in piece.folds if not f.tree):
        ends = np.array([fold.start, fold.end])
        gap = max(gap, _ends_apart(fold, matrices, ends))
    return gap


def _ends_apart(fold: Fold, matrices: Mapping[str, Floats], ends: Floats) -> float:
    a = transform(matrices[fold.parent], ends)
    b = transform(matrices[fold.child], ends)
    return float(np.linalg.norm(a - b, axis=1).max())
