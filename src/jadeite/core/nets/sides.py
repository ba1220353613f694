"""Faces in space: their normals, the turn between two, the sides that they share."""

from __future__ import annotations

import math

import numpy as np

from jadeite.core.nets.model import Floats
from jadeite.core.nets.turns import unit

__all__ = ["newell", "shared_side", "side_key", "turn_between"]

SAME = 1e-6  # mm; rounding, corners this close are one


def newell(points: Floats) -> Floats:
    """Unit normal of a polygon in space, (n, 3), counter-clockwise (Newell's method)."""
    x, y, z = points.T
    u, v, w = np.concatenate([points[1:], points[:1]]).T
    return unit(np.array([np.dot(y, w) - np.dot(z, v), np.dot(z, u) - np.dot(x, w),
                          np.dot(x, v) - np.dot(y, u)]))  # fmt: skip


def turn_between(one: Floats, other: Floats, axis: Floats) -> float:
    """Degrees by which a turn about ``axis`` carries one normal into the other.

    ``one``, ``other`` and ``axis`` are unit vectors, (3,) float.
    """
    (a, b, c), (d, e, f), (x, y, z) = one.tolist(), other.tolist(), axis.tolist()
    along = (b * f - c * e) * x + (c * d - a * f) * y + (a * e - b * d) * z
    return math.degrees(math.atan2(along, a * d + b * e + c * f))


def on_line(p: Floats, a: Floats, b: Floats) -> bool:
    """Whether a point lies on the line through two others, within a millionth of a mm.

    ``p``, ``a`` and ``b`` are (3,) float, mm.
    """
    way = unit(b - a)
    return float(np.linalg.norm((p - a) - way * float((p - a) @ way))) < SAME


def shared_side(points: Floats, other: Floats) -> int | None:
    """Number of the side of a face that lies along a side of another, which runs the other way.

    ``points`` and ``other`` are (n, 3) float, mm.
    """
    keys = {side_key(other[j - 1], other[j]) for j in range(len(other))}
    for i in range(len(points)):  # as a rule both corners are the same
        if side_key(points[(i + 1) % len(points)], points[i]) in keys:
            return i
    best: tuple[float, int] | None = None
    for i in range(len(points)):
        a, b = points[i], points[(i + 1) % len(points)]
        way = unit(b - a)
        for j in range(len(other)):
            c, d = other[j], other[(j + 1) % len(other)]
            if float((d - c) @ way) >= 0 or not (on_line(c, a, b) and on_line(d, a, b)):
                continue
            span = [float((p - a) @ way) for p in (d, c)]
            shared = min(span[1], float((b - a) @ way)) - max(span[0], 0.0)
            if shared > SAME and (best is None or shared > best[0]):
                best = (shared, i)
    return None if best is None else best[1]


def side_key(a: Floats, b: Floats) -> tuple[int, ...]:
    """A side from a to b as a key; corners are one within a hundredth of a micrometre.

    ``a`` and ``b`` are (2,) or (3,) float, mm.
    """
    return tuple(round(v * 1e5) for v in (*a.tolist(), *b.tolist()))
