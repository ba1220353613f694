"""The outline of a glue tab, cut to the room that it has on its target."""

from __future__ import annotations

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import Polygon

from jadeite.core.nets.model import Floats

__all__ = ["MIN_ROOT", "strips_along", "tab_outline"]

TIP_SHARE = 0.5  # of a tab's root remains at its tip; from memory
MIN_ROOT = 0.5  # mm; from memory, a tab with a shorter root is left out
WHOLE = 2e-3  # mm; rounding, a root that ends this near its hinge's end ends there
FAR = 1e4  # mm; beyond any net, exact
LEAST_TAB = 1.5  # mm; from memory, a shallower strip of board holds nothing


def strips_along(starts: Floats, ends: Floats, widths: Floats) -> NDArray[np.object_]:
    """What lies within a width of each side on its left, and all beyond it; both ways far.

    ``starts`` and ``ends`` are (n, 2) float, ``widths`` (n,) float, mm.
    """
    way = ends - starts
    way = way / np.hypot(way[:, 0], way[:, 1])[:, None]
    left = np.column_stack([-way[:, 1], way[:, 0]])
    c, d, inner = starts - way * FAR, starts + way * FAR, left * widths[:, None]
    corners = np.stack([c - left * FAR, d - left * FAR, d + inner, c + inner], axis=1)
    return np.asarray(shapely.polygons(corners))


def tab_outline(left: Floats, right: Floats, depth: float, room: Polygon) -> Floats | None:
    """A tab on the hinge from ``left`` to ``right`` (tab on its left), inside ``room``.

    It ends before what is cut out of the room.
    Its ends taper by 45 degrees, steeper where half of the root would not
    remain at the tip.

    ``left`` and ``right`` are (2,) float, mm.
    """
    along = right - left
    length = float(np.linalg.norm(along))
    if length < MIN_ROOT or room.is_empty:
        return None
    way = along / length
    out = np.array([-way[1], way[0]])
    local = np.array(room.exterior.coords)[:-1] - left
    space = Polygon(np.column_stack([local @ way, local @ out]))
    if not space.is_valid:
        space = space.buffer(0)
    for hole in room.interiors:
        off = np.array(hole.coords) - left
        along_it, away = off @ way, off @ out
        space = space.difference(shapely.box(along_it.min(), away.min(), along_it.max(), FAR))
    # what of the hinge the room lets the tab stand on, a hair above it
    near = space.intersection(shapely.box(0.0, 1e-4, length, 2e-4))
    if near.is_empty:
        return None
    parts = [g.bounds for g in shapely.get_parts(near)]
    low, _, high, _ = max(parts, key=lambda b: b[2] - b[0])
    root = high - low
    if root < MIN_ROOT:
        return None
    taper = min(depth, root * (1 - TIP_SHARE) / 2)
    wish = Polygon([(low, 0.0), (high, 0.0), (high - taper, depth), (low + taper, depth)])
    got = wish.intersection(space.union(shapely.box(low, -1e-3, high, 2e-4)))
    if isinstance(got, shapely.MultiPolygon | shapely.GeometryCollection):
        polygons = [g for g in got.geoms if isinstance(g, Polygon)]
        got = max(polygons, key=lambda g: float(g.area), default=Polygon())
    if got.is_empty or float(got.bounds[3]) < LEAST_TAB:
        return None
    ring = np.array(shapely.remove_repeated_points(got, 1e-4).exterior.coords)[:-1]
    if not shapely.LinearRing(ring).is_ccw:
        ring = ring[::-1]
    # start again behind the right end of the hinge, and go round the tip
    keep = ring[:, 1] > 1e-3
    right_end = np.where(keep, -np.inf, ring[:, 0])
    ring, keep = (np.roll(a, -int(np.argmax(right_end)), axis=0) for a in (ring, keep))
    ring = ring[keep]
    ring = ring[turning(ring)] if len(ring) > 2 else ring
    start, end = 0.0 if low < WHOLE else low, length if high > length - WHOLE else high
    body = np.vstack([[start, 0.0], [end, 0.0], ring])
    if not Polygon(body).is_valid:
        return None
    return np.asarray(left + np.outer(body[:, 0], way) + np.outer(body[:, 1], out))


def turning(ring: Floats) -> Floats:
    """Which corners of a ring, (n, 2), are no straight ones."""
    before = ring - np.roll(ring, 1, axis=0)
    after = np.roll(ring, -1, axis=0) - ring
    turn = before[:, 0] * after[:, 1] - before[:, 1] * after[:, 0]
    return np.asarray(np.abs(turn) > 1e-9)
