"""Fans: a sector of paper that stands on its two outer edges and so bends into part of a cone.

Glossary
--------
ruling
    A straight line through the cone's apex, along which it does not bend.
foot angle
    Between the two outer rulings, which lie in the base, in radians.
lean
    Of the middle ruling above the base, in radians.
spread
    Of the outer rulings, about the cone's axis, in radians.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from jadeite.core.nets.model import Floats

__all__ = ["Fan"]

FINER = 1e-12  # radians; rounding, to which the facets' spread is found


@dataclass(frozen=True)
class Fan:
    """A right circular cone through two rulings in the base and one that leans; angles in radians.

    The sector of flat paper is exact; folded it is shown and proved as
    ``facets`` of equal turns, an odd number, whose middle one carries the lean.
    """

    foot: float
    lean: float
    facets: int

    @property
    def half_angle(self) -> float:
        """Between the axis and each ruling: the three rulings' ends lie on one circle."""
        return math.acos(math.sin(self.lean) * math.cos(self.foot / 2) / self._chord)

    @property
    def _chord(self) -> float:
        """Between the ends of the middle ruling and of the outer ones' bisector, of length 1."""
        return math.hypot(math.sin(self.lean), math.cos(self.foot / 2) - math.cos(self.lean))

    @property
    def spread(self) -> float:
        """Angle between the outer rulings about the axis."""
        return 2 * math.atan2(math.sin(self.foot / 2), self._towards)

    @property
    def _towards(self) -> float:
        """Of an outer ruling of length 1, across the axis and towards the middle one."""
        across = (math.cos(self.lean) - math.cos(self.foot / 2)) / self._chord
        return math.cos(self.foot / 2) * across

    @property
    def sector(self) -> float:
        """Angle of the flat paper: spread times the sine of the half-angle."""
        return self.spread * math.sin(self.half_angle)

    @cached_property
    def rulings(self) -> Floats:
        """Unit vectors along the rulings between the facets, (facets + 1, 3).

        x points from the apex outwards along the bisector of the outer ones, z
        up from the base; y grows from first to last.
        """
        n, half = self.facets, self.foot / 2
        wanted = math.sin(half) / math.sin(self.sector / 2 / n)
        low, high = FINER, 2 * math.pi
        while (
            high - low > FINER
        ):  # the flat angle of a facet is exact, so its turn is a little less
            middle = (low + high) / 2
            more = math.sin(middle / 2) / math.sin(middle / 2 / n) > wanted
            low, high = (middle, high) if more else (low, middle)
        spread = (low + high) / 2
        sine = math.sin(self.sector / 2 / n) / math.sin(spread / 2 / n)
        cosine = math.sqrt(max(0.0, 1 - sine * sine))
        down = math.atan2(sine * math.cos(spread / 2), cosine)
        turns = spread * (np.arange(n + 1) / n - 0.5)
        up, side = sine * np.cos(turns), sine * np.sin(turns)
        c, s = math.cos(down), math.sin(down)
        return np.column_stack([cosine * c + up * s, side, up * c - cosine * s])

    @property
    def flat(self) -> Floats:
        """Angles of the rulings in the flat paper from its middle, (facets + 1,)."""
        return np.asarray(self.sector * (np.arange(self.facets + 1) / self.facets - 0.5))

    def laid_out(self, points: Floats) -> tuple[Floats, Floats]:
        """Distance from the apex and angle in the flat paper of points on the facets, (n, 3).

        The middle of the fan is at angle 0, as in ``flat``.
        """
        normals, from_first, from_second = self._planes
        off = np.abs(points @ normals.T)
        into = points @ from_first.T
        outside = np.maximum(0.0, -np.minimum(into, points @ from_second.T))
        facet = np.argmin(off + outside, axis=1)
        far = np.sqrt((points * points).sum(axis=1))
        along = (points * self.rulings[facet]).sum(axis=1)
        turned = np.arctan2(into[np.arange(len(points)), facet], along)
        return far, np.asarray(self.flat[facet] + turned)

    @cached_property
    def _planes(self) -> tuple[Floats, Floats, Floats]:
        """Of each facet its normal, and what points into it from either ruling; (facets, 3)."""
        first, second = self.rulings[:-1], self.rulings[1:]
        normals = np.cross(first, second)
        normals = normals / np.linalg.norm(normals, axis=1)[:, None]
        return normals, np.cross(normals, first), np.cross(second, normals)
