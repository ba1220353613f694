"""A quick order for what moves: nothing is split, and what lies round one another is guessed.

Of two faces that overlap in the picture, one lies behind the other if it lies wholly on
the far side of the other's plane, or the other wholly on the near side of its own.  Where
neither holds they pass through one another, and the nearer in the middle of what they
share is in front; where three or more lie round one another, the farthest of them comes first.
"""

from __future__ import annotations

import heapq

import numpy as np
from numpy.typing import NDArray

from jadeite.core.folding.facets import Facets
from jadeite.core.nets.model import Floats

__all__ = ["at_a_glance"]

TOLERANCE = 1e-3  # mm; from memory, far less than a board
EDGE_ON = 1e-6  # rounding: a face that is seen from the side
CORNERS = 8  # of each item that are looked at; from memory, what moves hides the rest
Ints = NDArray[np.intp]
Bools = NDArray[np.bool_]


def at_a_glance(items: Facets, axes: Floats, towards: Floats) -> list[int]:
    """Numbers of the items, back to front.

    Parameters
    ----------
    items : Facets
    axes : (2, 3) float
        The picture's x and y in space, unit vectors.
    towards : (3,) float
        The direction of the viewer, at right angles to both.
    """
    if not len(items):
        return []
    view = _View(items, axes, towards)
    one, other = view.overlapping()
    before, after = view.behind(one, other), view.behind(other, one)
    guessed = np.flatnonzero(~before & ~after)
    nearer = view.nearer(one[guessed], other[guessed])
    before[guessed], after[guessed] = ~nearer, nearer
    first = np.concatenate([one[before & ~after], other[after & ~before]])
    then = np.concatenate([other[before & ~after], one[after & ~before]])
    return _in_turn(view.middles, first, then)


class _View:
    """Items as they are seen: lengths in mm, depths towards the viewer."""

    def __init__(self, items: Facets, axes: Floats, towards: Floats) -> None:
        starts = items.starts
        flat, depths = items.points @ axes.T, items.points @ towards
        self._low = np.minimum.reduceat(flat, starts)
        self._high = np.maximum.reduceat(flat, starts)
        self._farthest = np.minimum.reduceat(depths, starts)
        self._nearest = np.maximum.reduceat(depths, starts)
        self.middles = np.add.reduceat(depths, starts) / items.corners
        normals = items.normals[items.firsts]
        self._normals = np.where((normals @ towards >= 0)[:, None], normals, -normals)
        self._offsets = np.einsum("ij,ij->i", items.points[starts], self._normals)
        self._face = items.polygons == 1  # a solid has no plane of its own
        share = np.arange(CORNERS) / CORNERS
        some = starts[:, None] + (share * items.corners[:, None]).astype(np.intp)
        self._corners = items.points[some]  # (items, CORNERS, 3)
        self._axes, self._towards = axes, towards

    def overlapping(self) -> tuple[Ints, Ints]:
        """Pairs whose boxes in the picture overlap, each once."""
        low, high = self._low, self._high
        meets = (low[:, None, 0] < high[None, :, 0]) & (low[:, None, 1] < high[None, :, 1])
        one, other = np.nonzero(np.triu(meets & meets.T, 1))
        return one, other

    def behind(self, one: Ints, other: Ints) -> Bools:
        """Whether the first of each pair surely lies behind the second, (pairs,)."""
        high = np.einsum("ijk,ik->ij", self._corners[one], self._normals[other]).max(axis=1)
        low = np.einsum("ijk,ik->ij", self._corners[other], self._normals[one]).min(axis=1)
        far = (high <= self._offsets[other] + TOLERANCE) & self._face[other]
        near = (low >= self._offsets[one] - TOLERANCE) & self._face[one]
        return np.asarray(far | near | (self._nearest[one] <= self._farthest[other]))

    def nearer(self, one: Ints, other: Ints) -> Bools:
        """Whether the first is nearer, in the middle of what the boxes of a pair share."""
        low = np.maximum(self._low[one], self._low[other])
        at = (low + np.minimum(self._high[one], self._high[other])) / 2 @ self._axes
        return np.asarray(self._depth(one, at) > self._depth(other, at))

    def _depth(self, item: Ints, at: Floats) -> Floats:
        """How near each item is at a point of the picture, (n, 3) in space, by its plane."""
        normals = self._normals[item]
        leaning = np.maximum(normals @ self._towards, EDGE_ON)
        depth = (self._offsets[item] - np.einsum("ij,ij->i", at, normals)) / leaning
        depth = np.where(self._face[item], depth, self.middles[item])
        return np.asarray(np.clip(depth, self._farthest[item], self._nearest[item]))


def _in_turn(middles: Floats, first: Ints, then: Ints) -> list[int]:
    """Every item after those that must come before it, the farther ones first."""
    count = len(middles)
    waits = np.bincount(then, minlength=count).tolist()
    order = np.argsort(first, kind="stable")
    ends = np.searchsorted(first[order], np.arange(count + 1)).tolist()
    followers, depth = then[order].tolist(), middles.tolist()
    free = [(depth[i], i) for i in range(count) if not waits[i]]
    heapq.heapify(free)
    left = set(range(count))
    out: list[int] = []
    while left:
        # where none is free, some lie round one another
        item = heapq.heappop(free)[1] if free else min(left, key=lambda i: (waits[i], depth[i]))
        left.remove(item)
        out.append(item)
        for follower in followers[ends[item] : ends[item + 1]]:
            waits[follower] -= 1
            if not waits[follower] and follower in left:
                heapq.heappush(free, (depth[follower], follower))
    return out
