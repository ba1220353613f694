"""What many families say of their inside, and how they stand their walls."""

from __future__ import annotations

import math

import numpy as np

from jadeite.core.nets.closed_form import Face
from jadeite.core.nets.model import Dimension, Floats
from jadeite.core.reckoning import Reckoning, given
from jadeite.core.shapes.registry import Size

__all__ = ["inside_dimensions", "inside_sizes", "side_dimension", "upright"]


def inside_sizes(inside: Size, title: str = "Inside") -> dict[str, Reckoning]:
    """Length, width and height as they were given, in mm."""
    return {
        f"inside-{name}": given(f"{title}, {name}", value)
        for name, value in zip(("length", "width", "height"), inside, strict=True)
    }


def upright(p: tuple[float, float], q: tuple[float, float], low: float, high: float) -> Floats:
    """Corners (4, 3) of an upright wall from p to q, counter-clockwise seen from outside; mm."""
    return np.array([[*p, low], [*q, low], [*q, high], [*p, high]])


def side_dimension(piece: str, panel: str, outline: Floats) -> Dimension:
    """A line along the first side of a panel, standing off outwards.

    ``outline`` is (n, 2) float, mm.
    """
    (ax, ay), (bx, by) = outline[0].tolist(), outline[1].tolist()
    length = math.hypot(bx - ax, by - ay)
    away = ((by - ay) / length, -(bx - ax) / length, 0.0)
    return Dimension("side", piece, panel, (ax, ay, 0.0), (bx, by, 0.0), away, length)


def inside_dimensions(
    piece: str, wall: Face, inside: Size, depth: float
) -> tuple[Dimension, Dimension]:
    """Lines for inside length and height on an upright back wall; the floor is at z = 0.

    ``depth`` is how far the inside lies behind the wall's good side, in mm.
    """
    x, high = inside[0] / 2, inside[2]
    y = float(wall.space()[0, 1])

    def at(px: float, pz: float) -> tuple[float, float, float]:
        u, v = wall.flat(np.array([[px, y, pz]]))[0].tolist()
        return (u, v, -depth)

    left, up = (-1.0, 0.0, 0.0), (0.0, -1.0, 0.0)
    return (
        Dimension("inside, length", piece, wall.name, at(x, 0.0), at(-x, 0.0), up, inside[0]),
        Dimension("inside, height", piece, wall.name, at(x, 0.0), at(x, high), left, high),
    )
