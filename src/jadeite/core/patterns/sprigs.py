"""Sprigs of leaves: each leaf fills the room that its neighbours, the stem and the window leave.

A stem stands in the middle of a column; from its foot to its head leaves turn
from nearly level to nearly upright, and each has the wedge between its neighbours.
"""

from __future__ import annotations

import math

import numpy as np
import shapely
from shapely.geometry import Polygon

from jadeite.core.patterns.grids import Floats

__all__ = ["leaves"]

SPRIG = 2.8  # width of a stem with its leaves against the size; from memory
LEAF_STEP = 0.85  # from leaf to leaf along a stem, against the size; from memory
LOWEST, HIGHEST = 4.0, 68.0  # degrees that the first and the last leaf rise; from memory
FULL = 0.62  # power of the sine by which a leaf fills its room; from memory, 1 is slim
STUB = 7.0  # mm; from memory, a shorter leaf is left out
CLEAR = 1.02  # of a bridge; rounding
FINE = 1e-4  # mm; rounding, that a leaf keeps from the window's edge
FAR = 1e3  # mm; beyond any window
SAMPLES = 25  # setting; places along a leaf at which its room is measured


def leaves(area: Polygon, size: float, bridge: float, number: int) -> list[Polygon]:
    """Pairs of leaves that reach from a stem to the window's edge."""
    area = area.buffer(-FINE, join_style="mitre")
    x0, y0, x1, y1 = area.bounds
    mean = float(area.area) / (y1 - y0)  # its width, where it tapers
    sprigs = max(1, round(mean / (SPRIG * size)))
    wide = (x1 - x0) / sprigs
    out: list[Polygon] = []
    for k in range(sprigs):
        stem = x0 + (k + 0.5) * wide
        for side in (1.0, -1.0):
            outer = stem + side * (wide - (bridge if sprigs > 1 else 0.0)) / 2
            inner = stem + side * CLEAR * bridge / 2
            half = area.intersection(shapely.box(min(inner, outer), y0, max(inner, outer), y1))
            out += _one_side(half, stem, side, size, bridge, number % 2)
    return out


def _one_side(
    half: Polygon, stem: float, side: float, size: float, bridge: float, odd: int
) -> list[Polygon]:
    """Leaves of one side of a stem, in what of the window lies there."""
    if half.is_empty or not isinstance(half, Polygon):
        return []
    _, low, _, high = half.bounds
    count = max(1, round((high - low) / (LEAF_STEP * size)))
    step = (high - low) / (count + 0.5 * odd)
    out = []
    for k in range(count):
        # between every two leaves the angle lies half way
        rises = [
            LOWEST + (HIGHEST - LOWEST) * (k + by) / max(1, count - 1) for by in (-0.5, 0, 0.5)
        ]
        below, rise, above = (math.radians(max(0.0, r)) for r in rises)
        foot = low + k * step
        room = half
        if k > 0:
            room = room.difference(
                _beyond(stem, foot, side, below, -CLEAR * bridge / 2, upward=False)
            )
        if k < count - 1:
            head = foot + step
            room = room.difference(
                _beyond(stem, head, side, above, -CLEAR * bridge / 2, upward=True)
            )
        root = np.array([stem, foot + 0.4 * step])
        leaf = _leaf(room, root, np.array([side * math.cos(rise), math.sin(rise)]))
        if leaf is not None:
            out.append(leaf)
    return out


def _beyond(x: float, y: float, side: float, rise: float, clear: float, *, upward: bool) -> Polygon:
    """The half plane above, or below, a line that rises outward from a place, and a little more."""
    way = np.array([side * math.cos(rise), math.sin(rise)])
    up = np.array([-way[1], way[0]]) * side * (1.0 if upward else -1.0)
    at = np.array([x, y]) + up * clear
    corners = [at - way * FAR, at + way * FAR, at + way * FAR + up * FAR, at - way * FAR + up * FAR]
    return Polygon(np.array(corners))


def _leaf(room: Polygon, root: Floats, way: Floats) -> Polygon | None:
    """A leaf along a ray that fills a room: pointed at both ends; None if it is a stub."""
    parts = [p for p in shapely.get_parts(room) if isinstance(p, Polygon)]
    room = max(parts, key=lambda part: float(part.area), default=Polygon())
    across = np.array([-way[1], way[0]])
    points = shapely.get_coordinates(
        room.intersection(shapely.LineString([root, root + FAR * way]))
    )
    if len(points) < 2:
        return None
    along = (points - root) @ way
    start, end = float(along.min()), float(along.max())
    if end - start < STUB:
        return None
    t = np.linspace(0.0, 1.0, SAMPLES)
    places = root + np.outer(start + t * (end - start), way)
    lines = shapely.linestrings(np.stack([places - FAR * across, places + FAR * across], axis=1))
    low, high = np.zeros(SAMPLES), np.zeros(SAMPLES)
    for i, cut in enumerate(shapely.intersection(lines, room)):
        reach = (shapely.get_coordinates(cut) - places[i]) @ across
        if len(reach):
            low[i], high[i] = min(0.0, reach.min()), max(0.0, reach.max())
    profile = np.sin(np.pi * t) ** FULL
    lower = places + np.outer(low * profile, across)
    upper = places + np.outer(high * profile, across)
    leaf = Polygon(np.vstack([lower, upper[-2:0:-1]]))
    whole = shapely.make_valid(leaf)
    parts = [p for p in shapely.get_parts(whole) if isinstance(p, Polygon)]
    return max(parts, key=lambda part: float(part.area), default=None)
