"""The folded form as binary glTF, for programs that show solids."""

from __future__ import annotations

import numpy as np

from jadeite.core.folding import folded_faces
from jadeite.core.nets import Design
from jadeite.core.nets.model import Floats

__all__ = ["gltf_bytes"]

METRE = 1000.0  # mm; exact, glTF is in metres


def _triangles(points: Floats, normal: Floats) -> tuple[Floats, list[list[int]]]:
    """Ear-free triangles of a flat polygon, which may have notches."""
    import shapely

    drop = int(np.argmax(np.abs(normal)))
    keep = [i for i in range(3) if i != drop]
    parts = shapely.constrained_delaunay_triangles(shapely.Polygon(points[:, keep]))
    corners = points[:, keep]
    out = []
    for part in parts.geoms:
        ring = np.array(part.exterior.coords)[:3]
        out.append([int(np.argmin(np.linalg.norm(corners - p, axis=1))) for p in ring])
    return points, out


def gltf_bytes(design: Design) -> bytes:
    """The closed thing as a GLB file: middle surfaces, y up, metres."""
    import trimesh

    scene = trimesh.Scene()
    upright = np.array([[1.0, 0, 0], [0, 0, 1.0], [0, -1.0, 0]])
    for piece in design.pieces:
        vertices: list[Floats] = []
        faces: list[list[int]] = []
        for face in folded_faces(design):
            if face.piece != piece.name:
                continue
            points, triangles = _triangles(face.points, face.normal)
            base = sum(len(v) for v in vertices)
            vertices.append(points @ upright.T / METRE)
            faces += [[base + i for i in tri] for tri in triangles]
        mesh = trimesh.Trimesh(np.concatenate(vertices), np.array(faces), process=False)
        scene.add_geometry(mesh, node_name=piece.name, geom_name=piece.name)
    return bytes(scene.export(file_type="glb"))  # type: ignore[no-untyped-call]
