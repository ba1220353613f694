"""Turns and frames: the little of kinematics that laying out needs as well."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np

from jadeite.core.nets.model import Floats, Piece

__all__ = ["across", "closed_matrix", "frame_of", "rotation", "transform", "unit"]


def unit(vector: Floats) -> Floats:
    """A vector of length 1 in the same direction.

    ``vector`` is (n,) float.
    """
    return np.asarray(vector / np.sqrt(np.dot(vector, vector)))


def across(a: Floats, b: Floats) -> Floats:
    """The vector product of two (3,) vectors; quicker than the general one."""
    (ax, ay, az), (bx, by, bz) = a.tolist(), b.tolist()
    return np.array([ay * bz - az * by, az * bx - ax * bz, ax * by - ay * bx])


def rotation(
    start: Sequence[float] | Floats, end: Sequence[float] | Floats, degrees: float
) -> Floats:
    """4 x 4 turn by ``degrees`` about a line in the plane z = 0, right-handed."""
    ax, ay = end[0] - start[0], end[1] - start[1]
    length = math.hypot(ax, ay)
    ux, uy = ax / length, ay / length
    c, s = math.cos(math.radians(degrees)), math.sin(math.radians(degrees))
    k = 1 - c
    x0, y0 = start
    out = np.array(
        [
            [c + ux * ux * k, ux * uy * k, uy * s, 0.0],
            [ux * uy * k, c + uy * uy * k, -ux * s, 0.0],
            [-uy * s, ux * s, c, 0.0],
            [0.0, 0.0, 0.0, 1.0],
        ]
    )
    out[0, 3] = x0 - out[0, 0] * x0 - out[0, 1] * y0
    out[1, 3] = y0 - out[1, 0] * x0 - out[1, 1] * y0
    out[2, 3] = -out[2, 0] * x0 - out[2, 1] * y0
    return out


def frame_of(origin: Floats, normal: Floats) -> Floats:
    """4 x 4 frame with z along ``normal``: y upright where it can be, else x along space's x."""
    if abs(float(normal[2])) < 0.5:
        up = np.array([0.0, 0.0, 1.0])
        x = unit(across(up, normal))
    else:
        axis = np.array([1.0, 0.0, 0.0])
        x = unit(axis - normal * float(axis @ normal))
    out = np.eye(4)
    out[:3, 0], out[:3, 1], out[:3, 2], out[:3, 3] = x, across(normal, x), normal, origin
    return out


def transform(matrix: Floats, points: Floats) -> Floats:
    """Apply a 4 x 4 matrix to (n, 2) or (n, 3) points; returns (n, 3)."""
    out = points @ matrix[:3, : points.shape[1]].T + matrix[:3, 3]
    return np.asarray(out, dtype=np.float64)


def closed_matrix(piece: Piece, placement: Floats, panel: str) -> Floats:
    """What carries a panel of the flat piece into the shared space of the closed thing, 4 x 4."""
    carrier = {fold.child: fold for fold in piece.tree}
    out = np.eye(4)
    while panel in carrier:
        fold = carrier[panel]
        out = rotation(fold.start, fold.end, fold.angle) @ out
        panel = fold.parent
    return np.asarray(placement @ out)
