"""The folded form as binary glTF 2, for programs that show solids.

The file is small and of one kind (triangles, one mesh for each piece), so it is
written here: loading a mesh library takes longer than everything else that an
export does.  The tests read it back with one.
"""

from __future__ import annotations

import json
import struct
from typing import Any

import numpy as np
import shapely

from jadeite import __version__
from jadeite.core.folding import FoldedFace, folded_faces
from jadeite.core.nets import Design
from jadeite.core.nets.model import Floats

__all__ = ["gltf_bytes"]

METRE = 1000.0  # mm; exact, glTF is in metres
UPRIGHT = np.array([[1.0, 0, 0], [0, 0, 1.0], [0, -1.0, 0]])  # exact: z up becomes y up
FLOAT, UINT = 5126, 5125  # component types of the glTF 2.0 specification
VERTICES, INDICES = 34962, 34963  # buffer targets of the glTF 2.0 specification


def _triangles(face: FoldedFace) -> list[list[int]]:
    """Triangles of a flat polygon, which may have notches, as its corner numbers."""
    drop = int(np.argmax(np.abs(face.normal)))
    corners = face.points[:, [i for i in range(3) if i != drop]]
    parts = shapely.constrained_delaunay_triangles(shapely.Polygon(corners))
    return [
        [
            int(np.argmin(np.linalg.norm(corners - p, axis=1)))
            for p in np.array(part.exterior.coords)[:3]
        ]
        for part in parts.geoms
    ]


def _mesh(faces: list[FoldedFace]) -> tuple[Floats, list[int]]:
    """Vertices (n, 3) in metres, y up, and triangles as a flat list of their numbers."""
    vertices: list[Floats] = []
    numbers: list[int] = []
    count = 0
    for face in faces:
        vertices.append(face.points @ UPRIGHT.T / METRE)
        numbers += [count + i for triangle in _triangles(face) for i in triangle]
        count += len(face.points)
    return np.concatenate(vertices), numbers


def gltf_bytes(design: Design) -> bytes:
    """The closed thing as a GLB file: middle surfaces, y up, metres."""
    faces = folded_faces(design)
    body = bytearray()
    views: list[dict[str, Any]] = []
    accessors: list[dict[str, Any]] = []
    for piece in design.pieces:
        vertices, numbers = _mesh([f for f in faces if f.piece == piece.name])
        points = vertices.astype("<f4")
        for data, target in (
            (points.tobytes(), VERTICES),
            (np.array(numbers, "<u4").tobytes(), INDICES),
        ):
            views.append(
                {"buffer": 0, "byteOffset": len(body), "byteLength": len(data), "target": target}
            )
            body += data
        accessors += [
            {
                "bufferView": len(views) - 2,
                "componentType": FLOAT,
                "count": len(points),
                "type": "VEC3",
                "min": points.min(axis=0).tolist(),
                "max": points.max(axis=0).tolist(),
            },
            {
                "bufferView": len(views) - 1,
                "componentType": UINT,
                "count": len(numbers),
                "type": "SCALAR",
            },
        ]
    names = [piece.name for piece in design.pieces]
    head = {
        "asset": {"version": "2.0", "generator": f"Jadeite {__version__}"},
        "scene": 0,
        "scenes": [{"nodes": list(range(len(names)))}],
        "nodes": [{"name": name, "mesh": i} for i, name in enumerate(names)],
        "meshes": [
            {
                "name": name,
                "primitives": [
                    {"attributes": {"POSITION": 2 * i}, "indices": 2 * i + 1, "material": 0}
                ],
            }
            for i, name in enumerate(names)
        ],
        "materials": [{"doubleSided": True}],
        "buffers": [{"byteLength": len(body)}],
        "bufferViews": views,
        "accessors": accessors,
    }
    text = json.dumps(head, separators=(",", ":")).encode()
    text += b" " * (-len(text) % 4)
    body += b"\0" * (-len(body) % 4)
    size = 12 + 8 + len(text) + 8 + len(body)
    return (
        struct.pack("<4sII", b"glTF", 2, size)
        + struct.pack("<I4s", len(text), b"JSON")
        + text
        + struct.pack("<I4s", len(body), b"BIN\0")
        + bytes(body)
    )
