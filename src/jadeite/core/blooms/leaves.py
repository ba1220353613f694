"""A leaf on a stem: two halves that meet in a crease, one of which hangs on a foot.

It is drawn from where it leaves the stem: there x points away from the stem, and the
foot lies at x < 0.  Only its near half hangs on the foot; were both to, three creases would
meet in one point and none could be folded.

Glossary
--------
near half
    The half that hangs on the foot; the far half hangs on it by the crease.
stalk
    Where the leaf is no blade yet: it leads away from the stem.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from jadeite.core.blooms.outlines import Petal, edge_of
from jadeite.core.blooms.petal_veins import petal_veins
from jadeite.core.nets.model import Floats, Vein

__all__ = ["CreasedLeaf"]

CLEAR = 0.4  # mm; from memory, between the far half and the stem
ROOT_SHARE = 0.06  # of its length is half of a blade where it leaves its stalk; from memory
LEVEL = 1e-6  # rounding
TAPER = 1.4  # of its root, over which the near half goes from its foot into the blade; from memory
MOST_STALK = 0.4  # of its length; from memory


@dataclass(frozen=True)
class CreasedLeaf:
    """A leaf of a length in mm from the stem to its tip, and ``root`` mm of it on the foot.

    ``off`` is the angle from straight away from the stem, ``rise`` by which it stands up from
    the stem, ``crease`` by which its far half is folded up; degrees.  ``lines`` are drawn on
    both halves.
    """

    petal: Petal
    length: float
    root: float
    off: float
    rise: float
    crease: float
    lines: str = "none"

    @property
    def _axis(self) -> tuple[Floats, Floats]:
        """Along its crease, and to the left of it; (2,) each."""
        turn = math.radians(self.off)
        c, s = math.cos(turn), math.sin(turn)
        return np.array([c, s]), np.array([-s, c])

    @property
    def _leaves_stem(self) -> tuple[float, float]:
        """How far a place leaves the stem for each mm along the crease, and comes back aside."""
        off, rise, crease = (math.radians(a) for a in (self.off, self.rise, self.crease))
        flat = math.cos(off), math.sin(off)
        lean = math.cos(crease) * math.sin(off) * math.cos(rise) + math.sin(crease) * math.sin(rise)
        bent = math.cos(off) * math.cos(rise), lean
        return max(flat, bent, key=lambda way: way[1] / way[0])

    @cached_property
    def _edge(self) -> Floats:
        """Along the crease and away from it: the blade's edge from the stalk to the tip; mm."""
        half = min(self.root, ROOT_SHARE * self.length)
        away, beside = self._leaves_stem
        stalk = min((half * beside + CLEAR) / away, MOST_STALK * self.length)

        def room(along: Floats) -> Floats:
            """Half as wide as the far half may be, flat or bent, beside the stem."""
            return np.asarray(((stalk + along) * away - CLEAR) / max(beside, LEVEL) + LEVEL)

        edge = edge_of(self.petal, self.length - stalk, half, room)
        return np.asarray(edge + np.array([stalk, 0.0]))

    def _placed(self, points: Floats) -> Floats:
        along, aside = self._axis
        return np.asarray(points[:, :1] * along + points[:, 1:] * aside)

    @cached_property
    def near(self) -> Floats:
        """The half that hangs on the foot, (n, 2) float, mm, counter-clockwise from the crease."""
        edge = self._edge.copy()
        foot = self.root * math.cos(math.radians(self.off))
        edge[:, 1] = np.maximum(edge[:, 1], foot * (1 - edge[:, 0] / (TAPER * self.root)))
        edge[-1, 1] = 0.0
        blade = self._placed(edge * np.array([1.0, -1.0]))
        return np.vstack([[[0.0, 0.0], [0.0, -self.root]], blade])

    @cached_property
    def far(self) -> Floats:
        """The other half, (n, 2) float, mm, counter-clockwise from the foot along the crease."""
        return np.vstack([[[0.0, 0.0]], self._placed(self._edge[::-1])])

    @cached_property
    def veins(self) -> tuple[Vein, ...]:
        """Lines on both halves, flat, mm."""
        stalk = np.array([self._edge[0, 0], 0.0])
        lines = petal_veins(self.lines, self._edge - stalk, middle=False)
        return tuple(Vein(self._placed(line.points + stalk), line.trace) for line in lines)

    @property
    def tip(self) -> Floats:
        """Where the crease ends, (2,) mm."""
        return np.asarray(self._placed(self._edge[-1:])[0])

    @property
    def blade(self) -> tuple[Floats, Floats]:
        """Both halves without stalk and root, (n, 2) float each: what a back covers; mm."""
        start = self._placed(self._edge[:1] * np.array([1.0, 0.0]))
        near = np.vstack([start, self._placed(self._edge * np.array([1.0, -1.0]))])
        return near, np.vstack([start, self._placed(self._edge[::-1])])

    @property
    def tilt(self) -> Floats:
        """4 x 4 turn by its rise about the edge of the stem."""
        turn = math.radians(self.rise)
        c, s = math.cos(turn), math.sin(turn)
        return np.array([[c, 0, -s, 0], [0, 1.0, 0, 0], [s, 0, c, 0], [0, 0, 0, 1.0]])

    @cached_property
    def solid(self) -> tuple[Floats, Floats]:
        """Both halves as they stand when finished, (n, 3) float each, mm."""
        along, aside = self._axis
        turn = math.radians(self.crease)
        b = self.far @ aside
        flat: Floats = (self.far @ along)[:, None] * along + (b * math.cos(turn))[:, None] * aside
        halves = (
            np.column_stack([self.near, np.zeros(len(self.near))]),
            np.column_stack([flat, b * math.sin(turn)]),
        )
        near, far = (half @ self.tilt[:3, :3].T for half in halves)
        return near, far

    def behind(self, apart: float) -> Floats:
        """Where a back lies that is cut as the mirror image about the crease: 4 x 4.

        ``apart`` is the distance of both plies' middle surfaces, mm; the back's crease lies
        where both its halves keep it.
        """
        along, aside = self._axis
        flip = np.eye(4)  # half a turn about the crease
        flip[:2, :2] = np.outer(along, along) - np.outer(aside, aside)
        flip[2, 2] = -1.0
        moved = np.eye(4)
        moved[:2, 3] = aside * apart * math.tan(math.radians(self.crease) / 2)
        moved[2, 3] = -apart
        return np.asarray(self.tilt @ moved @ flip)

    def mirrored(self, points: Floats) -> Floats:
        """Points, (n, 2), as the mirror image about the crease, in the other order."""
        along, aside = self._axis
        return np.asarray((points @ (np.outer(along, along) - np.outer(aside, aside)))[::-1])
