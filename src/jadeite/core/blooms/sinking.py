"""How far petals of a ring would reach through those beneath it, did paper not give way."""

from __future__ import annotations

import math

import numpy as np
import shapely

from jadeite.core.blooms.rings import Ring
from jadeite.core.nets.model import Floats

__all__ = ["sinks"]


def sinks(
    lower: tuple[Ring, float, float], upper: tuple[Ring, float, float], foot: float = 0.0
) -> float:
    """How far petals of a ring reach through those of the ring beneath, or its middle, in mm.

    Each is a ring, its turn in degrees, and the height at which its petals hang in mm; the
    lower one's hang ``foot`` mm below its middle.  Paper gives way by as much: the upper petal
    leans in, or the lower one out.
    """
    under, turn, level = lower
    over, over_turn, over_level = upper
    plies = (under.asked.thickness + over.asked.thickness) / 2
    up = over_level - level - plies
    alike = math.gcd(under.asked.count, over.asked.count)  # petals lie to the others as often
    places = over.places(over_turn, over.asked.count // alike)
    own = _over_petal(under, turn, places + np.array([0.0, 0.0, up]))
    if under.form.plain:
        deep = _through_bend(under, own)
    else:  # raised edges reach between the places that are compared
        rim = under.rim(turn, under.asked.count // alike)
        edges = _over_petal(over, over_turn, rim - np.array([0.0, 0.0, up]))
        deep = max(_through_facets(under, own, -1.0), _through_facets(over, edges, 1.0))
    above = own[:, 0] < 0  # over its middle, which they may reach through as well
    return max(deep, foot - float(own[above, 2].min())) if above.any() else deep


def _over_petal(ring: Ring, turn: float, points: Floats) -> Floats:
    """Points, (n, 3), as they lie to the petal that is nearest, from its root; mm."""
    step = 2 * math.pi / ring.asked.count
    angle = np.arctan2(points[:, 1], points[:, 0]) - math.radians(turn)
    aside = (angle + step / 2) % step - step / 2
    far = np.hypot(points[:, 0], points[:, 1])
    return np.column_stack([far * np.cos(aside) - ring.hub, far * np.sin(aside), points[:, 2]])


def _through_bend(under: Ring, points: Floats) -> float:
    """How far points reach through a petal all of whose rulings lie across it; (n, 3), mm."""
    at = points[:, [0, 2]]
    ends, breaks = under.profile.ends, under.profile.breaks
    way = np.diff(ends, axis=0)
    length = np.diff(breaks)
    rel = at[:, None, :] - ends[:-1]
    along = (rel * way).sum(axis=2) / length  # from the beginning of each facet
    off = rel - way * (np.clip(along, 0.0, length) / length)[:, :, None]
    apart = np.hypot(off[:, :, 0], off[:, :, 1])
    near = np.argmin(apart, axis=1)
    rows = np.arange(len(at))
    beyond = (along[rows, near] <= 0) & (near == 0) | (along[rows, near] >= length[near]) & (
        near == len(length) - 1
    )
    side = way[near, 0] * off[rows, near, 1] - way[near, 1] * off[rows, near, 0]
    on = breaks[near] + np.clip(along[rows, near], 0.0, length[near])
    top = int(np.argmax(under.edge[:, 0]))
    wide = np.interp(on, under.edge[: top + 1, 0], under.edge[: top + 1, 1])
    through = ~beyond & (side < 0) & (np.abs(points[:, 1]) <= wide)
    return float(apart[rows, near][through].max()) if through.any() else 0.0


def _through_facets(ring: Ring, points: Floats, side: float) -> float:
    """How far points, (n, 3), reach through any facet that they lie over, or under; mm.

    ``side`` is 1 where they should be below it, -1 where they should be above.
    """
    deep = 0.0
    for facet, plan in zip(ring.form.shown, ring.form.plans, strict=True):
        normal = facet.place[:3, 2]
        if normal[2] <= 0:
            continue  # it leans over, and hides what is under it
        through = side * ((points - facet.place[:3, 3]) @ normal)
        on = np.flatnonzero(through > deep)  # no other can reach through farther
        on = on[shapely.contains_xy(plan, points[on, :2])]
        deep = max(deep, float(through[on].max(initial=0.0)))
    return deep
