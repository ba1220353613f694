"""Do panels pass through one another?

Two plies penetrate when they overlap deeper than half the sum of their
thicknesses, that is, when their middle surfaces cross.  Panels that only
touch (a wall on a floor, a rim under a lid) do not.
"""

from __future__ import annotations

import numpy as np
from shapely.geometry import Polygon

from jadeite.core.folding.kinematics import FoldedFace
from jadeite.core.nets.model import Floats

__all__ = ["crossings", "plane_cuts"]

SHRINK = 0.02  # mm by which faces may run into each other's plane; design rule, file flattening
ALONG = 0.05  # mm; a shorter common line is a touch at a corner
PARALLEL = 1e-9
COPLANAR = 1e-4  # mm


def plane_cuts(points: Floats, heights: Floats, axis: Floats) -> list[tuple[float, float]]:
    """Stretches in which a polygon meets a plane, as distances along ``axis``.

    Parameters
    ----------
    points : (n, 3) float
        Corners.
    heights : (n,) float
        Their signed distances from the plane.
    axis : (3,) float
        Direction of the line in which the two planes meet.
    """
    along = points @ axis
    values = []
    n = len(points)
    for i in range(n):
        j = (i + 1) % n
        if (heights[i] > 0) != (heights[j] > 0):
            share = heights[i] / (heights[i] - heights[j])
            values.append(along[i] + share * (along[j] - along[i]))
    values.sort()
    return list(zip(values[::2], values[1::2], strict=False))


def _reaches(heights: Floats) -> bool:
    return bool(heights.min() < -SHRINK and heights.max() > SHRINK)


def _overlap(one: list[tuple[float, float]], other: list[tuple[float, float]]) -> float:
    return max((min(a[1], b[1]) - max(a[0], b[0]) for a in one for b in other), default=0.0)


def _coincide(a: FoldedFace, b: FoldedFace) -> float:
    """Size in mm of the place that two faces in one plane both claim, else 0."""
    drop = int(np.argmax(np.abs(a.normal)))
    keep = [i for i in range(3) if i != drop]
    area = Polygon(a.points[:, keep]).intersection(Polygon(b.points[:, keep])).area
    return float(np.sqrt(area)) if area > ALONG else 0.0


def _crosses(a: FoldedFace, b: FoldedFace) -> float:
    """Length in mm over which two faces pass through each other, else 0."""
    on_b = (a.points - b.points[0]) @ b.normal
    if np.abs(on_b).max() < COPLANAR:
        return _coincide(a, b)
    if not _reaches(on_b):
        return 0.0
    on_a = (b.points - a.points[0]) @ a.normal
    if not _reaches(on_a):
        return 0.0
    axis = np.cross(a.normal, b.normal)
    size = float(np.linalg.norm(axis))
    if size < PARALLEL:
        return 0.0
    axis /= size
    length = np.inf
    # both must go on to either side of the other, not only reach its plane
    for shift in (-SHRINK, SHRINK):
        cut_a = plane_cuts(a.points, on_b + shift, axis)
        for other in (-SHRINK, SHRINK):
            cut_b = plane_cuts(b.points, on_a + other, axis)
            length = min(length, _overlap(cut_a, cut_b))
    return float(length) if length > ALONG else 0.0


def crossings(
    faces: tuple[FoldedFace, ...], joined: frozenset[tuple[str, str, str]] = frozenset()
) -> list[tuple[FoldedFace, FoldedFace, float]]:
    """Pairs of faces that pass through one another, with the length in mm.

    ``joined`` holds (piece, panel, panel) pairs that share a fold.
    """
    low = np.array([f.points.min(axis=0) for f in faces])
    high = np.array([f.points.max(axis=0) for f in faces])
    apart = (low[:, None] > high[None] - SHRINK) | (high[:, None] < low[None] + SHRINK)
    flat = high - low < COPLANAR  # two faces in one axis-parallel plane are not apart
    same = flat[:, None] & flat[None] & (np.abs(low[:, None] - low[None]) < COPLANAR)
    near = ~(apart & ~same).any(axis=2)
    out = []
    for i, j in zip(*np.nonzero(np.triu(near, 1)), strict=True):
        a, b = faces[i], faces[j]
        if (a.piece, a.panel, b.panel) in joined or (a.piece, b.panel, a.panel) in joined:
            continue
        length = _crosses(a, b)
        if length > 0:
            out.append((a, b, length))
    return out
