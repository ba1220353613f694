"""Faces and convex solids in space, all in one array, so that a plane is held to all at once."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from jadeite.core.nets.model import Floats

__all__ = ["SPLIT_EDGE", "Facets"]

SPLIT_EDGE = 0  # the kind of an edge that a split made
Ints = NDArray[np.intp]
Item = tuple[Sequence[Floats], Sequence[Sequence[int]], Floats]


@dataclass(frozen=True, eq=False)
class Facets:
    """Items, each of one polygon (a face) or of several (a convex solid).

    Attributes
    ----------
    points : (m, 3) float
        Corners of all polygons in turn, mm.
    kinds : (m,) int
        Of the edge that begins at each corner: the caller's, or ``SPLIT_EDGE``.
    counts : (p,) int
        Corners of each polygon.
    normals : (p, 3) float
        Unit normal of each polygon.
    polygons : (k,) int
        Polygons of each item.
    tags : (k,) int
        The caller's number of each item.
    """

    points: Floats
    kinds: Ints
    counts: Ints
    normals: Floats
    polygons: Ints
    tags: Ints

    @classmethod
    def of(
        cls, items: Sequence[tuple[Sequence[Floats], Sequence[Sequence[int]], Floats]]
    ) -> Facets:
        """From polygons (n, 3), the kinds of their edges, and normals (p, 3), of each item.

        Items are tagged in turn.
        """
        points = [points for polygons, _, _ in items for points in polygons]
        kinds = [kind for _, edges, _ in items for flags in edges for kind in flags]
        normals = [normals for _, _, normals in items]
        return cls(
            np.concatenate(points) if points else np.zeros((0, 3)),
            np.array(kinds, np.intp),
            np.array([len(own) for own in points], np.intp),
            np.concatenate(normals) if normals else np.zeros((0, 3)),
            np.array([len(polygons) for polygons, _, _ in items], np.intp),
            np.arange(len(items)),
        )

    @classmethod
    def together(cls, parts: Sequence[Facets]) -> Facets:
        """The items of several, in turn."""
        return cls(
            np.concatenate([part.points for part in parts]),
            np.concatenate([part.kinds for part in parts]),
            np.concatenate([part.counts for part in parts]),
            np.concatenate([part.normals for part in parts]),
            np.concatenate([part.polygons for part in parts]),
            np.concatenate([part.tags for part in parts]),
        )

    def __len__(self) -> int:
        """How many items there are."""
        return len(self.tags)

    @cached_property
    def firsts(self) -> Ints:
        """Number of the first polygon of each item, (k,)."""
        return np.cumsum(self.polygons) - self.polygons

    @cached_property
    def polygon_starts(self) -> Ints:
        """Number of the first corner of each polygon, (p,)."""
        return np.cumsum(self.counts) - self.counts

    @cached_property
    def starts(self) -> Ints:
        """Number of the first corner of each item, (k,)."""
        return self.polygon_starts[self.firsts]

    @cached_property
    def corners(self) -> Ints:
        """Corners of each item, (k,)."""
        return np.add.reduceat(self.counts, self.firsts) if len(self) else self.polygons

    @cached_property
    def after(self) -> Ints:
        """Number of the next corner of the same polygon, (m,)."""
        out = np.arange(1, len(self.points) + 1)
        out[self.polygon_starts + self.counts - 1] = self.polygon_starts
        return out

    def taken(self, items: Ints) -> Facets:
        """Some of the items, by number, (n,), in that order."""
        polygons = _runs(self.firsts[items], self.polygons[items])
        corners = _runs(self.polygon_starts[polygons], self.counts[polygons])
        return Facets(
            self.points[corners],
            self.kinds[corners],
            self.counts[polygons],
            self.normals[polygons],
            self.polygons[items],
            self.tags[items],
        )

    def clipped(self, heights: Floats) -> tuple[Facets, Ints]:
        """What lies where the heights of the corners, (m,), are not below 0.

        Returns
        -------
        facets, items
            What is left, and the numbers of the items of which anything is, (n,).
        """
        inside, after = heights >= 0, self.after
        crosses = inside != inside[after]
        # a corner that is inside comes first, then the place where its edge passes through
        made = inside.astype(np.intp) + crosses
        ends = np.cumsum(made)
        points = np.empty((int(ends[-1]), 3))
        kinds = np.full(len(points), SPLIT_EDGE)
        stays = ends[inside] - made[inside]
        points[stays] = self.points[inside]
        # from a corner in the plane, an edge that leaves it is none: the cut runs on there
        real = inside[inside] & (inside[after][inside] | (heights[inside] > 0))
        kinds[stays[real]] = self.kinds[inside][real]
        start, end = heights[crosses], heights[after][crosses]
        from_, to = self.points[crosses], self.points[after][crosses]
        passes = ends[crosses] - 1
        points[passes] = from_ + (start / (start - end))[:, None] * (to - from_)
        enters = ~inside[crosses]
        kinds[passes[enters]] = self.kinds[crosses][enters]
        return self._without_slivers(points, kinds, np.add.reduceat(made, self.polygon_starts))

    def _without_slivers(self, points: Floats, kinds: Ints, counts: Ints) -> tuple[Facets, Ints]:
        """Those of the polygons, as clipped, that have three corners or more."""
        whole = counts > 2
        corners = np.repeat(whole, counts)
        polygons = np.add.reduceat(whole.astype(np.intp), self.firsts)
        items = np.flatnonzero(polygons)
        left = Facets(
            points[corners],
            kinds[corners],
            counts[whole],
            self.normals[whole],
            polygons[items],
            self.tags[items],
        )
        return left, items


def _runs(starts: Ints, counts: Ints) -> Ints:
    """Numbers of runs that begin at ``starts``, one after another."""
    ends = np.cumsum(counts)
    total = int(ends[-1]) if len(ends) else 0
    return np.asarray(np.arange(total) + np.repeat(starts - (ends - counts), counts))
