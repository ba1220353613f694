"""A ring of petals and its base: where notches, points, feet and rulings lie, and what has room.

A base is a star whose points have parallel sides: neighbouring sides meet at
a notch, at 360° / petals.  A petal's apex lies in the notch, its outer
rulings along the two sides; its feet fold out under the points.

Glossary
--------
notch
    Where two points of a base meet; the middle of a petal's fan.
near
    How far from the apex the petal begins, along a ruling.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from jadeite.core.boards import Board
from jadeite.core.nets.fans import Fan
from jadeite.core.nets.gores import about_z
from jadeite.core.nets.model import Floats

__all__ = ["FACETS", "FOOT_TAPER", "NECK_AIR", "NECK_ROOT", "PetalRing"]

FACETS = 9  # of a petal, odd; from memory, more look no rounder
NECK, NECK_ROOT = 3.5, 5.2  # mm; from memory, a narrower neck tears, a shorter fold slips
NEAREST = 8.0  # mm; from memory, nearer to the apex no paper bends so tightly
FOOT, FOOT_DEPTH = 12.0, 9.0  # mm along and across the ruling; from memory, enough to hold
FOOT_TAPER = 2.0  # mm; from memory, its corners draw in
FEET_AIR = 1.0  # mm; from memory, between two feet under one point, and of feet to the tip
TIP_SHARE = 0.1  # of a point's half width that its tip reaches out; from memory
BARE = 0.035  # of a foot's depth is the most that lies bare beside its point; from memory
EDGE_AIR = 0.05  # mm; from memory, between a petal and the side of a point
NECK_AIR = 0.3  # mm; from memory, between a neck and the notch
LEAST = 5.0  # mm; from memory, a ruling of the petal is no shorter
APART = 1.0  # mm; from memory, between petals that stand side by side or behind each other
NARROWEST, WIDEST = 1.5, 8.0  # power; from memory, of a petal's outline across its fan
HUB = 13.0  # mm; from memory, least inradius of a hub, which holds all marks


@dataclass(frozen=True)
class PetalRing:
    """A ring of petals and its base; mm and radians.

    ``apex`` is the distance of the notches from the middle, ``level`` the
    height of the feet, ``phase`` the direction of the first petal in degrees,
    ``length`` that of a petal from its apex to its tip, ``broad`` how broad it is,
    from 0 (it narrows from its feet on) to 1 (nearly as wide as its fan).  All
    petals may hang ``together`` on a hub, or be cut one by one.  ``behind`` is the
    apex and lean of the ring that stands outside this one, if any.
    """

    number: int
    fan: Fan
    count: int
    apex: float
    level: float
    phase: float
    length: float
    base: Board
    board: Board
    broad: float = 0.5
    together: bool = False
    behind: tuple[float, float] | None = None

    @property
    def near(self) -> float:
        """Where a petal begins: with a neck its middle facet is as wide there as that must be."""
        neck = NECK / 2 / math.tan(self.fan.sector / 2 / FACETS) if self.together else 0.0
        return max(NEAREST, neck)

    @property
    def foot_end(self) -> float:
        """Where the feet end, along the outer rulings."""
        return self.near + FOOT

    @property
    def half(self) -> float:
        """Half the width of a point, as far as the rulings."""
        return self.apex * math.sin(math.pi / self.count)

    @cached_property
    def foot_turn(self) -> float:
        """By how much a foot is folded, in radians: between the first facet and the base."""
        a, b = self.fan.rulings[:2]
        normal = np.cross(a, b)
        return math.acos(float(normal[2]) / float(np.linalg.norm(normal)))

    @property
    def side_set_back(self) -> float:
        """How far the side of a point lies behind the ruling, so that the petal passes it."""
        return EDGE_AIR + _passed(self.foot_turn, self.board.thickness, self.base.thickness)

    @property
    def foot_depth(self) -> float:
        """Depth of a foot: a thick board lies bare farther, and takes a deeper foot."""
        return max(FOOT_DEPTH, self.side_set_back / BARE)

    @property
    def notch(self) -> float:
        """Distance of the end of a notch from the middle: of its sides, or where a neck passes."""
        middle = self.fan.rulings[[FACETS // 2, FACETS // 2 + 1]].sum(axis=0)
        lean = math.atan2(float(middle[2]), float(middle[0]))
        back = _passed(lean, self.board.thickness, self.base.thickness)
        sides = self.side_set_back / math.sin(math.pi / self.count)
        return self.apex - max(back + NECK_AIR, sides)

    @property
    def point(self) -> tuple[float, float, float]:
        """Of a point: where its sides end, its tip, and its half width; from the middle."""
        wide = self.half - self.side_set_back
        ends = self.apex * math.cos(math.pi / self.count) + self.foot_end + FEET_AIR
        return ends, ends + TIP_SHARE * wide, wide

    @property
    def outmost(self) -> float:
        """Radius of the base."""
        ends, tip, wide = self.point
        return max(tip, math.hypot(ends, wide), self.notch)

    @property
    def hub_back(self) -> float:
        """How far a ring's hub draws back from its notches: flat, no foot lies on it."""
        half, deep = self.fan.sector / 2, self.foot_depth
        inmost = min(s * math.cos(half) for s in (self.near, self.foot_end))
        return max(0.0, deep * math.sin(half) - inmost) + APART / 2

    @property
    def least_apex(self) -> float:
        """Least distance of the notches in mm: room for feet, marks, and petals side by side."""
        fan, turn = self.fan, math.pi / self.count
        wants = [self.foot_depth + FEET_AIR / 2]
        wants += [(self.near + LEAST) * lost + APART for lost in self._lost.tolist()]
        least = HUB / math.cos(turn)
        if self.together:  # laid out flat, they lie side by side
            across = self.foot_end * math.sin(fan.sector / 2 - turn)
            flat = self.foot_depth * math.cos(fan.sector / 2 - turn)
            wants.append(across + flat + APART / 2)
            least += self.hub_back
        return max(least, *(want / math.sin(turn) for want in wants))

    @cached_property
    def _lost(self) -> Floats:
        """By how much each ruling nears the next petal, in mm per mm: folded, a ring also flat."""
        turn = math.pi / self.count
        folded = np.abs(self.fan.rulings[:, 1]) * math.cos(turn)
        folded -= self.fan.rulings[:, 0] * math.sin(turn)
        if not self.together:
            return np.asarray(folded)
        return np.maximum(folded, np.sin(np.abs(self.fan.flat) - turn))

    @cached_property
    def wanted(self) -> Floats:
        """Length of each ruling of a whole petal, from the apex, (facets + 1,)."""
        power = NARROWEST * (WIDEST / NARROWEST) ** self.broad
        full = 1 - np.abs(2 * np.arange(FACETS + 1) / FACETS - 1) ** power
        return np.asarray(self.foot_end + (self.length - self.foot_end) * full)

    @cached_property
    def room(self) -> Floats:
        """How far each ruling may reach, from the apex, until others stand there; (facets + 1,)."""
        out = np.full(FACETS + 1, np.inf)
        lost = self._lost
        beside = np.where(lost > 1e-9, (self.half - APART) / np.maximum(lost, 1e-9), np.inf)
        out[1:-1] = beside[1:-1]
        if self.behind is not None:
            for i in range(1, FACETS):
                out[i] = min(out[i], self._until(self.fan.rulings[i]))
        return out

    @property
    def reach(self) -> Floats:
        """Length of each ruling from the apex, (facets + 1,): a petal, cut where others stand."""
        return np.minimum(self.wanted, self.room)

    def has_room(self, points: Floats) -> NDArray[np.bool_]:
        """Whether a petal along x may reach to each place in space, (n, 3), folded and flat."""
        x, y, z = (points - np.array([self.apex, 0.0, 0.0])).T
        turn = math.pi / self.count
        beside = np.abs(y) * math.cos(turn) - x * math.sin(turn)
        if self.together:
            far, angle = self.fan.laid_out(points - np.array([self.apex, 0.0, 0.0]))
            beside = np.maximum(beside, far * np.sin(np.abs(angle) - turn))
        free = beside <= self.half - APART
        if self.behind is not None:
            start, out = self._cone_behind
            free &= np.hypot(x + self.apex, y) <= start + z * out
        return np.asarray(free)

    @property
    def _cone_behind(self) -> tuple[float, float]:
        """Radius at the base, and by how much it grows with height, of what is left by a ring."""
        assert self.behind is not None
        start, lean = self.behind
        return start - APART - self.board.thickness / math.sin(lean), 1 / math.tan(lean)

    def _until(self, ruling: Floats) -> float:
        """Where a ruling meets the cone inside of which the ring behind never comes, in mm."""
        start, out = self._cone_behind
        x, y, z = ruling.tolist()
        a = x * x + y * y - (z * out) ** 2
        b = self.apex * x - start * z * out
        c = self.apex**2 - start**2  # negative: the apex lies inside
        root = math.sqrt(max(0.0, b * b - a * c))
        if abs(a) < 1e-12:
            return -c / (2 * b) if b > 0 else math.inf
        found = [s for s in ((-b - root) / a, (-b + root) / a) if s > 0]
        return min(found, default=math.inf)

    def turn(self, i: int) -> Floats:
        """4 x 4: from the petal that looks along x to petal i, at its height."""
        out = about_z(self.phase + 360.0 / self.count * i)
        out[2, 3] = self.level
        return out


def _passed(turn: float, thickness: float, other: float) -> float:
    """How far an edge lies back from the score of a foot beneath it, so that the petal passes it.

    The petal rises by ``turn`` (radians) from a score half both plies below the
    edge's board; its own half ply decides at the edge's lower side, and where it
    leans over the edge, at the upper one.
    """
    t = thickness / 2
    low = t * math.tan(turn / 2)
    if turn <= math.pi / 2:
        return low
    return max(low, t / math.sin(turn) - (other + t) / math.tan(turn))
