"""The true curve through the corners of facets: what a blade follows on a rolled panel.

A rolled panel is modelled by facets, whose corners lie on its curve.  Cut or
scored, the line is the smooth one through these corners.
"""

from __future__ import annotations

import math
from collections.abc import Iterator

import numpy as np

from jadeite.core.nets.model import Floats, Piece
from jadeite.core.nets.outline import fold_lines

__all__ = ["facet_corners", "smoothed"]

NEAR = 1e-5  # mm; rounding, corners this close are one
RUNS_ON = math.cos(math.radians(18.0))  # from memory, a line that turns by less goes on
STRAIGHT = 1.0 - 1e-12  # cosine; rounding, what turns less is straight
FLATTEN = 0.02  # mm; design rule, curves in files stay this close
Corner = tuple[int, int]


def _key(point: Floats) -> Corner:
    return round(float(point[0]) / NEAR), round(float(point[1]) / NEAR)


def facet_corners(piece: Piece) -> frozenset[Corner]:
    """Corners at which the facets of a piece's rolled panels meet, for :func:`smoothed`."""
    rolled = {n for n, fold in enumerate(piece.folds) if fold.kind == "rolled"}
    if not rolled:
        return frozenset()
    return frozenset(
        _key(point) for line, number in fold_lines(piece) if number in rolled for point in line
    )


def smoothed(path: Floats, corners: frozenset[Corner]) -> Floats:
    """A line with every run of facets replaced by a smooth curve through their corners.

    Parameters
    ----------
    path : (n, 2) float
        mm; of a closed line the first point is repeated at its end.
    corners
        Where facets meet.

    Returns
    -------
    (m, 2) float
        Likewise, m >= n; within 0.02 mm of the curve.
    """
    if not corners or len(path) < 3:
        return path
    closed = bool(np.abs(path[0] - path[-1]).max() < NEAR)
    if closed:  # begin where the line does not go on
        ring = path[:-1]
        bends = [not _runs_on(ring[i - 1], ring[i], ring[(i + 1) % len(ring)], corners)
                 for i in range(len(ring))]  # fmt: skip
        if not any(bends):
            return path
        ring = np.roll(ring, -bends.index(True), axis=0)
        path = np.vstack([ring, ring[:1]])
    out = [path[:1]]
    for run in _runs(path, corners):
        out.append(_through(run)[1:] if len(run) > 2 else run[1:])
    return np.vstack(out)


def _runs_on(before: Floats, here: Floats, after: Floats, corners: frozenset[Corner]) -> bool:
    """Whether a line goes on smoothly at a corner of facets; where it is straight it may end."""
    if _key(here) not in corners:
        return False
    one, two = here - before, after - here
    cosine = float(one @ two) / float(np.linalg.norm(one) * np.linalg.norm(two))
    return RUNS_ON < cosine < STRAIGHT


def _runs(path: Floats, corners: frozenset[Corner]) -> Iterator[Floats]:
    """The line in parts: each straight stretch, and each run of facets."""
    start = 0
    for i in range(1, len(path)):
        last = i == len(path) - 1
        if last or not _runs_on(path[i - 1], path[i], path[i + 1], corners):
            yield path[start : i + 1]
            start = i


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


def _through(points: Floats) -> Floats:
    """The curve through points, flattened.

    Between two points it is the cubic that at either of them runs as the
    parabola through it and its neighbours does.  (SciPy's spline is as near,
    but loading it takes longer than the whole cutting plan.)
    """
    steps = np.linalg.norm(np.diff(points, axis=0), axis=1)[:, None]
    slopes = np.diff(points, axis=0) / steps
    inner = (slopes[:-1] * steps[1:] + slopes[1:] * steps[:-1]) / (steps[:-1] + steps[1:])
    first, last = _end(points[:4]), -_end(points[:-5:-1])
    ways = np.vstack([first, inner, last])
    out = [points[:1]]
    for i, step in enumerate(steps[:, 0].tolist()):
        bulge = step / 8 * (ways[i] - ways[i + 1])  # of the middle, beyond the chord
        count = max(1, math.ceil(math.sqrt(float(np.hypot(*bulge)) / FLATTEN)))
        x = np.linspace(0.0, 1.0, count + 1)[1:, None]
        out.append(
            points[i] * (1 + 2 * x) * (1 - x) ** 2
            + points[i + 1] * (3 - 2 * x) * x**2
            + step * (ways[i] * x * (1 - x) ** 2 - ways[i + 1] * (1 - x) * x**2)
        )
    return np.vstack(out)
