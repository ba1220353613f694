"""Lids that swing: what is in the way of a lid that turns about a line behind its box.

The lid's front comes round on a circle about that line.  What stands above the line and
farther from it than the lid's front, inside, would be hit as the lid opens and shuts; all
else the lid only moves away from.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

__all__ = ["Swing"]

Floats = NDArray[np.float64]

ARC = 6  # corners of an edge that follows the lid's front; from memory, within 0.1 mm


@dataclass(frozen=True)
class Swing:
    """A line along x at (``y``, ``z``) mm, and how far in front of it the lid's inside is.

    ``air`` mm are left between that and what it passes.
    """

    y: float
    z: float
    reach: float
    air: float

    def hit(self, points: Floats) -> float:
        """By how many mm points (n, 3) would be hit at most; 0 or less where none is."""
        above = points[points[:, 2] > self.z]
        if not len(above):
            return 0.0
        return float(np.hypot(above[:, 1] - self.y, above[:, 2] - self.z).max()) - self.reach

    def front_at(self, z: float) -> float:
        """The y in mm up to which something may reach at a height, with air."""
        up = max(0.0, z - self.z)
        return self.y - math.sqrt(max(0.0, (self.reach - self.air) ** 2 - up**2))

    def edge(self, front: float, high: float) -> Floats:
        """The front edge of what stands up to ``high`` with its foot at y = ``front``: (n, 2).

        Corners (y, z) from where the edge leaves the upright up to its top; they lie on the
        circle, so that the chords between them keep clear of the lid.
        """
        top = self.front_at(high)
        if top <= front:
            return np.array([[front, high]])
        leaves = self.z + math.sqrt(max(0.0, (self.reach - self.air) ** 2 - (self.y - front) ** 2))
        heights = np.linspace(max(self.z, leaves), high, ARC)
        return np.array([[self.front_at(z), z] for z in heights.tolist()])

    def wide_enough(self, deep: float, high: float, behind: float) -> float:
        """How far the inside must reach to the front so that a block passes, in mm.

        The block is ``deep`` from the back's inside, and ends ``high`` above the line, which
        lies ``behind`` the back's inside.
        """
        if high <= 0:
            return deep
        return math.hypot(deep + behind, high) + self.air - behind
