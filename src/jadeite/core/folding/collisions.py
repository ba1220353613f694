"""Do panels pass through one another?

Two plies penetrate when they overlap deeper than half the sum of their
thicknesses, that is, when their middle surfaces cross.  Panels that only
touch (a wall on a floor, a rim under a lid) do not.
"""

from __future__ import annotations

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import LineString, Polygon

from jadeite.core.folding.kinematics import FoldedFace
from jadeite.core.nets.model import Floats
from jadeite.core.nets.turns import across

__all__ = ["crossings", "plane_cuts"]

SHRINK = 0.02  # mm by which faces may run into each other's plane; design rule, file flattening
ALONG = 0.05  # mm; a shorter common line is a touch at a corner
PARALLEL = 1e-9
COPLANAR = 1e-4  # mm
GRID = 1e-6  # mm; rounding
THROUGH = 0.1  # mm; rounding of slots, a board passes as close to their edge as this


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
    along, above = (points @ axis).tolist(), heights.tolist()
    values = []
    for i in range(len(along)):  # plain numbers: quicker than arrays of a few corners
        a, b = above[i - 1], above[i]
        if (a > 0) != (b > 0):
            values.append(along[i - 1] + a / (a - b) * (along[i] - along[i - 1]))
    values.sort()
    return list(zip(values[::2], values[1::2], strict=False))


def _overlap(one: list[tuple[float, float]], other: list[tuple[float, float]]) -> float:
    return max((min(a[1], b[1]) - max(a[0], b[0]) for a in one for b in other), default=0.0)


def _coincide(a: FoldedFace, b: FoldedFace) -> float:
    """Size in mm of the place that two faces in one plane both claim, else 0."""
    drop = int(np.argmax(np.abs(a.normal)))
    keep = [i for i in range(3) if i != drop]
    one, other = Polygon(a.points[:, keep]), Polygon(b.points[:, keep])
    # without a grid, of two that share an edge but for rounding, the whole of one may come out
    area = shapely.intersection(one, other, grid_size=GRID).area
    return float(np.sqrt(area)) if area > ALONG else 0.0


def _crosses(a: FoldedFace, b: FoldedFace) -> float:
    """Length in mm over which two faces that reach through each other's plane meet, else 0."""
    on_b = (a.points - b.points[0]) @ b.normal
    on_a = (b.points - a.points[0]) @ a.normal
    axis = across(a.normal, b.normal)
    size = float(np.linalg.norm(axis))
    if size < PARALLEL:
        return 0.0
    axis /= size
    # both must go on to either side of the other, not only reach its plane
    shifts = (-SHRINK, 0.0, SHRINK)
    cuts_a = [plane_cuts(a.points, on_b + shift, axis) for shift in shifts]
    cuts_b = [plane_cuts(b.points, on_a + shift, axis) for shift in shifts]
    length = min(_overlap(one, other) for one in cuts_a for other in cuts_b)
    if length > ALONG and (a.openings or b.openings):
        common = _common(cuts_a[1], cuts_b[1])
        length = min(length, _outside_openings(a, b, axis, common))
    return float(length) if length > ALONG else 0.0


def _common(
    one: list[tuple[float, float]], other: list[tuple[float, float]]
) -> tuple[float, float]:
    """The longest stretch that two lists of stretches share."""
    shared = [(max(p[0], q[0]), min(p[1], q[1])) for p in one for q in other]
    return max(shared, key=lambda s: s[1] - s[0], default=(0.0, 0.0))


def _outside_openings(
    a: FoldedFace, b: FoldedFace, axis: Floats, common: tuple[float, float]
) -> float:
    """Length in mm of the line in which two faces meet that no slot or slit lets through."""
    # a point of the line: the one nearest to a's corner, solved from both planes
    rows = np.array([a.normal, b.normal, axis])
    rest = LineString([(common[0], 0.0), (common[1], 0.0)])
    origin = np.linalg.solve(rows, [a.normal @ a.points[0], b.normal @ b.points[0], 0.0])
    for face, other in ((a, b), (b, a)):
        beside = across(face.normal, axis)
        for line in face.openings:
            flat = np.column_stack([line @ axis, (line - origin) @ beside])
            shape = Polygon(flat) if len(flat) > 2 else LineString(flat)
            rest = rest.difference(shape.buffer(other.thickness / 2 + THROUGH))
    return float(rest.length)


def crossings(
    faces: tuple[FoldedFace, ...],
    joined: frozenset[frozenset[tuple[str, str]]] = frozenset(),
    leaning: frozenset[tuple[str, str]] = frozenset(),
) -> list[tuple[FoldedFace, FoldedFace, float]]:
    """Pairs of faces that pass through one another, with the length in mm.

    ``joined`` holds pairs of (piece, panel) that share a fold, or a plane by intent;
    two that are both ``leaning`` make way for each other.
    """
    out = []
    leans = np.array([(f.piece, f.panel) in leaning for f in faces], dtype=bool)
    for i, j, level in _meeting(faces, leans):
        a, b = faces[i], faces[j]
        if frozenset(((a.piece, a.panel), (b.piece, b.panel))) in joined:
            continue
        length = _coincide(a, b) if level else _crosses(a, b)
        if length > 0:
            out.append((a, b, length))
    return out


def _meeting(
    faces: tuple[FoldedFace, ...], leans: NDArray[np.bool_]
) -> list[tuple[int, int, bool]]:
    """Which faces reach through each other's plane or, in the third place, lie in one plane.

    Two that both lean, (n,) bool, are not asked.
    """
    if not faces:
        return []
    points = np.concatenate([f.points for f in faces])
    counts = np.array([len(f.points) for f in faces])
    starts = np.cumsum(counts) - counts
    low, high = np.minimum.reduceat(points, starts), np.maximum.reduceat(points, starts)
    apart = leans[:, None] & leans
    for k in range(3):
        least, most = low[:, k], high[:, k]
        away = least[:, None] > most - SHRINK
        flat = most - least < COPLANAR  # two faces in one axis-parallel plane are not apart
        same = flat[:, None] & flat & (np.abs(least[:, None] - least) < COPLANAR)
        apart |= (away | away.T) & ~same
    i, j = np.nonzero(np.triu(~apart, 1))
    if not len(i):
        return []
    one, other = np.concatenate([i, j]), np.concatenate([j, i])
    # corners of one above the plane of the other
    ends = np.cumsum(counts[one])
    first = ends - counts[one]
    corner = np.arange(ends[-1]) + np.repeat(starts[one] - first, counts[one])
    normals = np.array([f.normal for f in faces])
    against = np.repeat(other, counts[one])
    heights = ((points[corner] - points[starts[against]]) * normals[against]).sum(axis=1)
    least, most = np.minimum.reduceat(heights, first), np.maximum.reduceat(heights, first)
    level = (np.maximum(-least, most) < COPLANAR)[: len(i)]
    through = (least < -SHRINK) & (most > SHRINK)
    meets = level | (through[: len(i)] & through[len(i) :])
    return list(zip(i[meets].tolist(), j[meets].tolist(), level[meets].tolist(), strict=True))
