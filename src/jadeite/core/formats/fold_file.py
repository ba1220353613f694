"""The folded form in FOLD 1.2, so that others can prove closure from the file.

FOLD is the open origami file format of Demaine, Ku and Lang.  Frame 0 is the
crease pattern of the first piece; every piece has a crease pattern and a
folded form that inherits from it.  All folded forms share one space.
"""

from __future__ import annotations

import itertools
import json
from typing import Any

import numpy as np

from jadeite import __version__
from jadeite.core.findings import Finding
from jadeite.core.folding import Body, fold_matrices, transform
from jadeite.core.nets import Design, Fold, Piece, mesh_of
from jadeite.core.nets.mesh import Mesh
from jadeite.core.nets.model import Blank, Joint
from jadeite.core.nets.outline import point_key
from jadeite.core.nets.turns import closed_matrix
from jadeite.core.nets.veins import veins_by_panel
from jadeite.core.solid import Form

__all__ = ["fold_document", "fold_text"]

PLACES = 9  # decimals; six or more are asked for
# of bodies in the file
NAMES = {Form.BLOCK: "box", Form.CYLINDER: "cylinder", Form.BALL: "sphere"}


def _rows(values: Any) -> list[list[float]]:
    rows: list[list[float]] = (np.round(np.asarray(values, float), PLACES) + 0.0).tolist()
    return rows


def _cuts(piece: Piece, first: int) -> tuple[list[Any], list[list[int]], list[str]]:
    """What is cut inside as edges that belong to no face: points, edges, and their panels."""
    points: list[Any] = []
    edges: list[list[int]] = []
    panels: list[str] = []
    veins = veins_by_panel(piece)
    for panel in piece.panels:
        inside = [(opening.points, opening.closed) for opening in panel.openings]
        inside += [(vein.points, False) for vein in veins.get(panel.name, ()) if vein.cut]
        for line, closed in inside:
            start, count = first + len(points), len(line)
            points += [[float(x), float(y)] for x, y in line]
            panels += [panel.name] * count
            edges += [[start + i, start + i + 1] for i in range(count - 1)]
            if closed:
                edges.append([start + count - 1, start])
    return points, edges, panels


def _crease_frame(piece: Piece) -> dict[str, Any]:
    mesh = mesh_of(piece)
    cut_points, cut_edges, _ = _cuts(piece, len(mesh.vertices))
    edges = mesh.edges
    number = {(min(e.start, e.end), max(e.start, e.end)): i for i, e in enumerate(edges)}
    folds = [piece.folds[e.fold] if e.fold is not None else None for e in edges]
    return {
        "frame_title": piece.name,
        "frame_classes": ["creasePattern"],
        "frame_attributes": ["2D"],
        "frame_unit": "mm",
        "jadeite:thickness_mm": piece.board.thickness,
        "jadeite:board": piece.board.key,
        "vertices_coords": _rows([*mesh.vertices, *cut_points]),
        "edges_vertices": [[e.start, e.end] for e in edges] + cut_edges,
        "edges_assignment": [_assignment(f) for f in folds] + ["C"] * len(cut_edges),
        "edges_foldAngle": [None if f is None else f.angle for f in folds]
        + [None] * len(cut_edges),
        "faces_vertices": [list(face) for face in mesh.faces],
        "faces_edges": [
            [number[min(a, b), max(a, b)] for a, b in zip(face, (*face[1:], face[0]), strict=True)]
            for face in mesh.faces
        ],
        "faces_jadeite:panel": [panel.name for panel in piece.panels],
        "edges_jadeite:fold": [None if f is None else f.kind for f in folds]
        + [None] * len(cut_edges),
        "edges_jadeite:curve": _curves_of(piece, mesh) + [None] * len(cut_edges),
        "jadeite:curves": [
            {"kind": curve.kind, "points": _rows(curve.points)} for curve in piece.curves
        ],
        "jadeite:veins": [
            {"kind": vein.trace.value, "points": _rows(vein.points)}
            for vein in piece.veins
            if not vein.cut
        ],
    }


def _curves_of(piece: Piece, mesh: Mesh) -> list[int | None]:
    """For each edge of the mesh the number of the curve along which its score is made."""
    chords = {
        frozenset((point_key(a), point_key(b))): number
        for number, curve in enumerate(piece.curves)
        for a, b in itertools.pairwise(curve.points)
    }
    ends = [point_key(vertex) for vertex in mesh.vertices]
    return [
        None if e.fold is None else chords.get(frozenset((ends[e.start], ends[e.end])))
        for e in mesh.edges
    ]


def _assignment(fold: Fold | None) -> str:
    """FOLD's letter for an edge; a crease that lies flat in the finished form is F."""
    if fold is None:
        return "B"
    if fold.angle == 0:
        return "F"
    return "V" if fold.angle > 0 else "M"


def _folded_frame(design: Design, piece: Piece, parent: int) -> dict[str, Any]:
    mesh = mesh_of(piece)
    matrices = fold_matrices(piece, design.placements[piece.name])
    cut_points, _, cut_panels = _cuts(piece, len(mesh.vertices))
    places = np.zeros((len(mesh.vertices) + len(cut_points), 3))
    for panel, face in zip(piece.panels, mesh.faces, strict=True):
        places[list(face)] = transform(matrices[panel.name], mesh.vertices[list(face)])
    for i, (point, name) in enumerate(zip(cut_points, cut_panels, strict=True)):
        places[len(mesh.vertices) + i] = transform(matrices[name], np.array([point]))[0]
    return {
        "frame_title": f"{piece.name}, folded",
        "frame_parent": parent,
        "frame_inherit": True,
        "frame_classes": ["foldedForm"],
        "frame_attributes": ["3D"],
        "frame_unit": "mm",
        "jadeite:thickness_mm": piece.board.thickness,
        "jadeite:assembled": True,
        "vertices_coords": _rows(places),
    }


def _content(body: Body) -> dict[str, Any]:
    out: dict[str, Any] = {"name": body.name, "kind": NAMES[body.form]}
    if body.form is Form.CYLINDER:
        out["radius_mm"], out["height_mm"] = body.size[0] / 2, body.size[2]
    elif body.form is Form.BALL:
        out["radius_mm"] = body.size[0] / 2
    else:
        out["size_mm"] = list(body.size)
    out["pose"] = _rows(body.pose)
    return out


def fold_document(
    design: Design,
    bodies: tuple[Body, ...] = (),
    title: str = "",
    findings: tuple[Finding, ...] = (),
) -> dict[str, Any]:
    """The whole design as FOLD data.

    ``bodies`` are the contents in the shared space; findings are recorded so
    that a reader sees when Jadeite itself says that something does not close.
    """
    frames: list[dict[str, Any]] = []
    nets: dict[tuple[int, int, str], dict[str, Any]] = {}  # of pieces that are cut alike
    for piece in design.pieces:
        key = (id(piece.panels), id(piece.folds), piece.board.key)
        if key not in nets:
            nets[key] = _crease_frame(piece)
        frames.append(nets[key] | {"frame_title": piece.name})
        frames.append(_folded_frame(design, piece, len(frames) - 1))
    head = {
        "file_spec": 1.2,
        "file_creator": f"Jadeite {__version__}",
        "file_title": title or design.title,
        "file_classes": ["singleModel"],
        "jadeite:joints": [
            {"kind": j.kind, "tab": list(j.tab), "target": list(j.target), "title": j.title}
            | ({"pad": j.pad} if j.pad else {})
            | ({"flush": True} if j.flush else {})
            | ({"gives": j.gives} if j.gives else {})
            | ({"region": _rows(_region(design, j))} if j.region else {})
            for j in design.joints
        ],
        "jadeite:blanks": [_blank(b) for b in design.blanks],
        "jadeite:registers": [
            {
                "piece": piece,
                "panel": panel,
                "side_mm": of.side,
                "centre": _rows([of.centre])[0],
                "spread_mm": round(of.spread * of.side, 6),
            }
            for (piece, panel), of in design.registers.items()
        ],
        "jadeite:contents": [_content(body) for body in bodies],
        "jadeite:findings": [f.to_json() for f in findings],
    }
    return head | frames[0] | {"file_frames": frames[1:]}


def _blank(blank: Blank) -> dict[str, Any]:
    """Where words may stand, in the flat piece."""
    return {
        "piece": blank.piece,
        "panel": blank.panel,
        "centre": _rows([blank.centre])[0],
        "size_mm": _rows([blank.size])[0],
        "letters": blank.letters,
        "capital_mm": [blank.least, blank.wanted],
        "by": blank.trace.value,
    }


def _region(design: Design, joint: Joint) -> Any:
    """What of a tab is joined, in its closed place, (n, 3), mm."""
    piece, panel = joint.tab
    matrix = closed_matrix(design.piece(piece), design.placements[piece], panel)
    return transform(matrix, np.array(joint.region))


def fold_text(
    design: Design,
    bodies: tuple[Body, ...] = (),
    title: str = "",
    findings: tuple[Finding, ...] = (),
) -> str:
    """:func:`fold_document` as text."""
    return json.dumps(fold_document(design, bodies, title, findings), ensure_ascii=False)
