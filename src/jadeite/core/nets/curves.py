"""The curve that is meant where facets have corners: what a blade follows on a bent panel.

A bent panel is modelled by facets.  Which of their edges stand for a curve, and
for which, is said where they are made, never guessed from their corners.  A
free edge is cut along its curve: the curve's points are corners of the facets.
A score stays straight in the proof, facet by facet, and is drawn along its
curve (:class:`~jadeite.core.nets.model.Curve`).
"""

from __future__ import annotations

import itertools
import math

import numpy as np

from jadeite.core.nets.model import Curve, Floats

__all__ = ["drawn", "inner_points"]

FLATTEN = 0.02  # mm; design rule, curves in files stay this close
ROUND = 1e-6  # mm; rounding, what lies on an arc


def drawn(curve: Curve) -> Floats:
    """A curve as a line, (m, 2) float in mm, within 0.02 mm; it passes through every corner."""
    parts = [curve.points[:1]]
    for inner, end in zip(inner_points(curve), curve.points[1:], strict=True):
        parts += [inner, end[None]]
    return np.vstack(parts)


def inner_points(curve: Curve) -> list[Floats]:
    """What lies between each two corners of a curve: (m, 2) float each, m from 0.

    Raises
    ------
    ValueError
        The corners of an arc do not lie on a circle: a fault of the shape.
    """
    points = curve.points
    if curve.kind == "line" or len(points) < 3:
        return [np.zeros((0, 2))] * (len(points) - 1)
    return _arc(points) if curve.kind == "arc" else _spline(points)


def _arc(points: Floats) -> list[Floats]:
    """Between corners on a circle."""
    centre = _centre(points[0], points[len(points) // 2], points[-1])
    rel = points - centre
    radius = float(np.hypot(*rel[0]))
    off = np.abs(np.hypot(rel[:, 0], rel[:, 1]) - radius).max()
    if not off < ROUND * max(1.0, radius):
        raise ValueError(f"corners lie {off:.4f} mm off their arc")
    out = []
    most = 2 * math.acos(max(-1.0, 1 - FLATTEN / radius))
    for a, b in itertools.pairwise(rel):
        turn = math.atan2(float(a[0] * b[1] - a[1] * b[0]), float(a @ b))
        count = max(1, math.ceil(abs(turn) / most))
        angles = math.atan2(a[1], a[0]) + turn * np.arange(1, count) / count
        out.append(centre + radius * np.column_stack([np.cos(angles), np.sin(angles)]))
    return out


def _centre(a: Floats, b: Floats, c: Floats) -> Floats:
    """Of the circle through three points."""
    u, v = b - a, c - a
    cross = 2 * float(u[0] * v[1] - u[1] * v[0])
    if cross == 0:
        raise ValueError("corners of an arc lie in a line")
    uu, vv = float(u @ u), float(v @ v)
    return np.asarray(a + np.array([v[1] * uu - u[1] * vv, u[0] * vv - v[0] * uu]) / cross)


def _end(points: Floats) -> Floats:
    """How a curve through three or four points begins, by Newton's divided differences."""
    steps = np.linalg.norm(np.diff(points, axis=0), axis=1)
    at = np.concatenate([[0.0], np.cumsum(steps)])
    way, factor, differences = np.zeros(2), 1.0, points
    for k in range(1, len(points)):
        differences = np.diff(differences, axis=0) / (at[k:] - at[:-k])[:, None]
        way = way + factor * differences[0]
        factor *= -float(at[k])
    return way


def _spline(points: Floats) -> list[Floats]:
    """Between two corners, the cubic that at either runs as the parabola through three does.

    SciPy's spline is as near, but loading it takes longer than the whole cutting plan.
    """
    steps = np.linalg.norm(np.diff(points, axis=0), axis=1)[:, None]
    slopes = np.diff(points, axis=0) / steps
    inner = (slopes[:-1] * steps[1:] + slopes[1:] * steps[:-1]) / (steps[:-1] + steps[1:])
    first, last = _end(points[:4]), -_end(points[:-5:-1])
    ways = np.vstack([first, inner, last])
    out = []
    for i, step in enumerate(steps[:, 0].tolist()):
        bulge = step / 8 * (ways[i] - ways[i + 1])  # of the middle, beyond the chord
        count = max(1, math.ceil(math.sqrt(float(np.hypot(*bulge)) / FLATTEN)))
        x = np.linspace(0.0, 1.0, count + 1)[1:-1, None]
        out.append(
            points[i] * (1 + 2 * x) * (1 - x) ** 2
            + points[i + 1] * (3 - 2 * x) * x**2
            + step * (ways[i] * x * (1 - x) ** 2 - ways[i + 1] * (1 - x) * x**2)
        )
    return out
