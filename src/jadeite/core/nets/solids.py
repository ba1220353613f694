"""The five regular solids: their faces, and where each stands.

Glossary
--------
inradius, midradius
    From the middle to the middle of a face, and to the middle of an edge.
dihedral angle
    Between two faces, inside; 70.529, 90, 109.471, 116.565 and 138.190 degrees.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache, cached_property

import numpy as np

from jadeite.core.nets.model import Floats

__all__ = ["SOLIDS", "Solid", "solid"]

GOLDEN = (1 + math.sqrt(5)) / 2  # exact
SAME = 1e-9  # rounding, of vertices that lie in one face
SOLIDS: Mapping[str, str] = {
    "tetrahedron": "4 triangles",
    "cube": "6 squares",
    "octahedron": "8 triangles",
    "dodecahedron": "12 pentagons",
    "icosahedron": "20 triangles",
}


def _signs(*values: float) -> list[tuple[float, ...]]:
    """All combinations of signs of some numbers."""
    out: list[tuple[float, ...]] = [()]
    for value in values:
        out = [(*head, s * value) for head in out for s in ((1.0, -1.0) if value else (1.0,))]
    return out


def _turned(points: list[tuple[float, ...]]) -> list[tuple[float, ...]]:
    """Points with their coordinates moved on in a circle, once and twice."""
    return [(p[k], p[(k + 1) % 3], p[(k + 2) % 3]) for k in range(3) for p in points]


_TETRA = [p for p in _signs(1.0, 1.0, 1.0) if p[0] * p[1] * p[2] > 0]  # exact
_OCTA = _turned(_signs(1.0, 0.0, 0.0))  # exact
_CUBE = _signs(1.0, 1.0, 1.0)  # exact
_ICOSA = _turned(_signs(0.0, 1.0, GOLDEN))  # exact
_DODECA = _CUBE + _turned(_signs(0.0, GOLDEN, 1 / GOLDEN))  # exact
# vertices, and those of the dual solid, which look at the middles of the faces
_POINTS = {
    "tetrahedron": (_TETRA, [(-x, -y, -z) for x, y, z in _TETRA]),
    "cube": (_CUBE, _OCTA),
    "octahedron": (_OCTA, _CUBE),
    "dodecahedron": (_DODECA, _ICOSA),
    "icosahedron": (_ICOSA, _DODECA),
}


@dataclass(frozen=True, eq=False)
class Solid:
    """A regular solid with edges 1 mm long, its middle at the origin.

    ``faces`` is (f, n, 3) float, each face counter-clockwise from outside.
    """

    faces: Floats

    @property
    def corners(self) -> int:
        """Corners of a face."""
        return int(self.faces.shape[1])

    @cached_property
    def inradius(self) -> float:
        """From the middle to a face."""
        return float(np.linalg.norm(self.faces[0].mean(axis=0)))

    @cached_property
    def midradius(self) -> float:
        """From the middle to an edge."""
        return float(np.linalg.norm(self.faces[0][:2].mean(axis=0)))

    @cached_property
    def dihedral(self) -> float:
        """Dihedral angle in radians."""
        return 2 * math.asin(self.inradius / self.midradius)

    def frame(self, face: int) -> Floats:
        """4 x 4: origin in the middle of a face, z outwards, x towards its first corner."""
        points = self.faces[face]
        middle = points.mean(axis=0)
        z = middle / np.linalg.norm(middle)
        x = points[0] - middle
        x = x / np.linalg.norm(x)
        out = np.eye(4)
        out[:3, 0], out[:3, 1], out[:3, 2], out[:3, 3] = x, np.cross(z, x), z, middle
        return out

    @cached_property
    def edges(self) -> tuple[tuple[tuple[int, int], tuple[int, int]], ...]:
        """Every edge once, as (face, side) and (face, side); side k runs from corner k on."""
        seen: dict[tuple[int, ...], tuple[int, int]] = {}
        out = []
        for i, face in enumerate(self.faces):
            for k in range(len(face)):
                middle = (face[k] + face[(k + 1) % len(face)]) / 2
                key = tuple(round(v * 1e6) for v in middle.tolist())
                if key in seen:
                    out.append((seen[key], (i, k)))
                seen[key] = (i, k)
        return tuple(out)


@cache
def solid(key: str) -> Solid:
    """One of ``SOLIDS``."""
    corners, looks = (np.array(points) for points in _POINTS[key])
    faces = []
    for look in looks:
        way = look / np.linalg.norm(look)
        reach = corners @ way
        mine = corners[reach > reach.max() - SAME * abs(reach.max()) - SAME]
        middle = mine.mean(axis=0)
        x = mine[0] - middle
        turns = np.arctan2((mine - middle) @ np.cross(way, x / np.linalg.norm(x)),
                           (mine - middle) @ x / np.linalg.norm(x))  # fmt: skip
        faces.append(mine[np.argsort(turns)])
    stacked = np.array(faces)
    edge = float(np.linalg.norm(stacked[0][1] - stacked[0][0]))
    return Solid(stacked / edge)
