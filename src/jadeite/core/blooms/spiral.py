"""A strip cut as a spiral round a disc, and what it is wound to.

The strip's foot is an Archimedean spiral; its outer edge, a strip's width
farther out, may be scalloped.  Rolled up from its outer end it becomes a coil
whose foot lies in a plane.  Paper does not stretch, so where the foot is bent in
its own plane to a radius r and wound to a radius R, the strip leans out from the
coil's axis by asin(R / r): near the core it stands upright, outside it opens
like a flower.

Glossary
--------
foot
    The strip's inner edge, which lies on the closing disc when it is rolled.
pitch
    From one turn of the flat spiral to the next, along a radius.
layer
    From one turn of the coil to the next: the board, and what it springs back by.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from jadeite.core.nets.model import Floats

__all__ = ["Coil", "Edge", "Spiral", "core_left", "spiral_in_square", "spiral_of_length"]

GAP = 0.6  # mm; from memory, between two turns, so that no line is cut twice
FINE = 720  # places on each turn at which its extent is measured; from memory
TILTS = np.radians(np.arange(0.0, 90.0, 3.0))  # of a spiral in its square, by quarters alike
FOUND = 1e-7  # of an angle in turns; rounding


@dataclass(frozen=True)
class Edge:
    """The strip's outer edge: ``kind``, and how wide and deep its scallops are, mm."""

    kind: str
    wide: float
    deep: float

    def drawn_in(self, along: Floats) -> Floats:
        """How far it lies inside the strip's full width at lengths along it, (n,) mm."""
        phase = along / self.wide % 1.0
        if self.kind == "round":
            share = 1 - np.sqrt(np.maximum(0.0, 1 - (2 * phase - 1) ** 2))
        elif self.kind == "pointed":
            share = np.abs(2 * phase - 1)
        elif self.kind == "wavy":
            share = 0.5 + 0.5 * np.cos(2 * math.pi * phase)
        else:
            share = np.zeros_like(phase)
        return np.asarray(self.deep * share)


@dataclass(frozen=True)
class Spiral:
    """A flat spiral: its foot begins at ``start`` from the centre and runs for ``turns``.

    ``gap`` is left between two turns; mm.
    """

    start: float
    width: float
    turns: float
    gap: float = GAP

    @property
    def pitch(self) -> float:
        """From turn to turn, mm: a little more than the width, as the strip runs aslant."""
        straight = self.width + self.gap
        slope = straight / (2 * math.pi * self.start)
        return straight * math.hypot(1.0, slope)

    @property
    def _grows(self) -> float:
        """Of the radius, mm per radian."""
        return self.pitch / (2 * math.pi)

    def radius(self, angle: Floats) -> Floats:
        """Of the foot at angles from its inner end, (n,) radians; mm."""
        return np.asarray(self.start + self._grows * angle)

    def length_to(self, angle: float) -> float:
        """Length of the foot from its inner end, mm: the closed form of Archimedes' spiral."""

        def part(u: float) -> float:
            return self._grows / 2 * (u * math.hypot(1.0, u) + math.asinh(u))

        first = self.start / self._grows
        return part(first + angle) - part(first)

    @property
    def length(self) -> float:
        """Length of the foot, mm."""
        return self.length_to(2 * math.pi * self.turns)

    def angles(self, lengths: Floats) -> Floats:
        """Angles in radians at which the foot is so long, (n,) mm."""
        top = 2 * math.pi * self.turns
        grid = np.linspace(0.0, top, max(64, int(64 * self.turns)))
        known = np.array([self.length_to(a) for a in grid.tolist()])
        out = np.interp(lengths, known, grid)
        for _ in range(3):  # Newton's method, from a place that is near already
            off = np.array([self.length_to(a) for a in out.tolist()]) - lengths
            out = out - off / np.hypot(self.radius(out), self._grows)
        return np.asarray(np.clip(out, 0.0, top))

    def foot(self, angle: Floats) -> Floats:
        """Places of the foot at angles, (n,) radians, from the spiral's centre; (n, 2) mm."""
        r = self.radius(angle)
        return np.column_stack([r * np.cos(angle), r * np.sin(angle)])

    def outwards(self, angle: Floats) -> Floats:
        """Unit vectors square to the foot, away from the centre, (n, 2)."""
        r = self.radius(angle)
        along = np.column_stack(
            [
                self._grows * np.cos(angle) - r * np.sin(angle),
                self._grows * np.sin(angle) + r * np.cos(angle),
            ]
        )
        along = along / np.linalg.norm(along, axis=1)[:, None]
        return np.column_stack([along[:, 1], -along[:, 0]])

    def bend(self, angle: Floats) -> Floats:
        """Radius in mm to which the foot is bent in its own plane, (n,)."""
        r, b = self.radius(angle), self._grows
        return np.asarray((r * r + b * b) ** 1.5 / (r * r + 2 * b * b))

    @cached_property
    def square(self) -> tuple[float, float]:
        """Side in mm of the least square that takes it, and how it is turned in it, radians."""
        last = 2 * math.pi * self.turns
        angle = np.linspace(max(0.0, last - 2 * math.pi), last, FINE)
        points = self.foot(angle) + self.width * self.outwards(angle)

        def side(tilts: Floats) -> Floats:
            c, s = np.cos(tilts)[:, None], np.sin(tilts)[:, None]
            x = c * points[:, 0] - s * points[:, 1]
            y = s * points[:, 0] + c * points[:, 1]
            return np.asarray(np.maximum(np.ptp(x, axis=1), np.ptp(y, axis=1)))

        best = float(TILTS[int(np.argmin(side(TILTS)))])
        fine = best + np.linspace(-0.06, 0.06, 49)
        sides = side(fine)
        return float(sides.min()), float(fine[int(np.argmin(sides))])


def spiral_of_length(start: float, width: float, length: float, gap: float = GAP) -> Spiral:
    """The spiral whose foot is so long, mm."""
    low, high = 0.0, 1.0
    while Spiral(start, width, high, gap).length < length:
        high *= 2
    while high - low > FOUND:
        middle = (low + high) / 2
        longer = Spiral(start, width, middle, gap).length > length
        low, high = (low, middle) if longer else (middle, high)
    return Spiral(start, width, high, gap)


def spiral_in_square(start: float, width: float, side: float, gap: float = GAP) -> Spiral | None:
    """The longest spiral that a square takes, mm; None where it takes less than a turn."""
    if Spiral(start, width, 1.0, gap).square[0] > side:
        return None
    low, high = 1.0, 2.0
    while Spiral(start, width, high, gap).square[0] <= side:
        low, high = high, 2 * high
    while high - low > 1e-5:
        middle = (low + high) / 2
        fits = Spiral(start, width, middle, gap).square[0] <= side
        low, high = (middle, high) if fits else (low, middle)
    return Spiral(start, width, low, gap)


@dataclass(frozen=True)
class Coil:
    """A wound strip: its core and its layers in mm, and the length of its foot."""

    core: float  # diameter of what is left open in its middle
    layer: float
    length: float

    @property
    def width(self) -> float:
        """Outer diameter of the foot, mm: its area is that of the layers round the core."""
        return math.sqrt(self.core**2 + 4 * self.layer * self.length / math.pi)

    @property
    def turns(self) -> float:
        """How often it is wound."""
        return (self.width - self.core) / 2 / self.layer

    def radius(self, along: Floats) -> Floats:
        """Radius of the foot in mm where so much of it lies outside, (n,) mm."""
        left = np.maximum(0.0, self.length - along)
        return np.asarray(np.sqrt((self.core / 2) ** 2 + self.layer * left / math.pi))


def core_left(width: float, layer: float, length: float) -> float:
    """Diameter in mm that a strip leaves open in a coil of an outer width."""
    return math.sqrt(max(0.0, width**2 - 4 * layer * length / math.pi))
