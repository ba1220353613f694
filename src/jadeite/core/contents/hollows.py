"""Hollows that are not boxes: n-sided boxes, pyramids and frustums.

Glossary
--------
inradius
    From the middle of an n-sided base square to a side: a / (2 tan(π / n)).
frustum
    A tapering hollow: inradius ``bottom`` at the floor and ``top`` at height
    ``height``; a pyramid has ``top`` 0.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from jadeite.core.errors import FieldError
from jadeite.core.reckoning import Reckoning, given, reckon

__all__ = ["Frustum", "block_in_prism", "inradius_of_side", "round_in_prism", "side_of_inradius"]

MOST_SIDES = 24  # from memory; beyond it a box is as good as round
STEPS = 720  # of a turn; rounding, the side is within a thousandth


def _check(sides: int) -> None:
    if not 3 <= sides <= MOST_SIDES:
        raise FieldError("sides", f"{sides} sides make no box", f"Use 3 to {MOST_SIDES}.")


def side_of_inradius(inradius: float, sides: int) -> float:
    """Side in mm of a regular polygon of an inradius in mm.

    Raises
    ------
    FieldError
        Fewer than 3 sides, or more than 24.
    """
    _check(sides)
    return 2 * inradius * math.tan(math.pi / sides)


def inradius_of_side(side: float, sides: int) -> float:
    """Inradius in mm of a regular polygon of a side in mm; the inverse of the above."""
    _check(sides)
    return side / (2 * math.tan(math.pi / sides))


def round_in_prism(diameter: float, room: float, sides: int) -> Reckoning:
    """Inside length of a side of the n-sided box that a round thing goes into, in mm."""
    inradius = diameter / 2 + room
    return reckon(
        f"Side of a box with {sides} sides",
        side_of_inradius(inradius, sides),
        "twice middle to side times tan(180° / sides)",
        reckon(
            "middle to side",
            inradius,
            "half of the diameter and the room beside it",
            given("diameter", diameter),
            given("room beside it", room),
        ),
        given("sides", sides, ""),
    )


def block_in_prism(length: float, width: float, room: float, sides: int) -> Reckoning:
    """Inside length of a side of the n-sided box that a block goes into, turned as it fits best.

    The block stands on its base of ``length`` x ``width`` mm with ``room`` mm
    on each side.
    """
    _check(sides)
    a, b = length / 2 + room, width / 2 + room
    normals = [2 * math.pi * k / sides for k in range(sides)]
    # the polygon repeats after one side, so the block need be turned no farther
    turns = [math.pi * 2 / sides * i / STEPS for i in range(STEPS + 1)]

    def reach(turn: float) -> float:
        return max(a * abs(math.cos(n - turn)) + b * abs(math.sin(n - turn)) for n in normals)

    turn = min(turns, key=reach)
    inradius = reach(turn)
    return reckon(
        f"Side of a box with {sides} sides",
        side_of_inradius(inradius, sides),
        "the corner that reaches farthest decides; turned as it fits best",
        reckon(
            "middle to side",
            inradius,
            "farthest corner, square to a side",
            given("length", length),
            given("width", width),
            given("room beside it", room),
        ),
        given("sides", sides, ""),
        given("turned by", math.degrees(turn), "deg"),
    )


@dataclass(frozen=True, slots=True)
class Frustum:
    """A tapering hollow: inradii at floor and top, and height, in mm."""

    bottom: float
    top: float
    height: float
    sides: int

    def __post_init__(self) -> None:
        _check(self.sides)
        for name, value in (("bottom", self.bottom), ("height", self.height)):
            if not 0 < value < math.inf:
                raise FieldError(name, f"{value} is not a length", "Use more than 0 mm.")
        if not 0 <= self.top < math.inf:
            raise FieldError("top", f"{self.top} is not a length", "Use 0 mm or more.")

    def inradius_at(self, z: float) -> float:
        """Inradius in mm at a height of z mm above the floor."""
        return self.bottom + (self.top - self.bottom) * z / self.height

    def volume_to(self, z: float) -> float:
        """Volume in mm³ below a height of z mm."""
        r0, r1 = self.bottom, self.inradius_at(z)
        base = self.sides * math.tan(math.pi / self.sides)
        return base * z / 3 * (r0 * r0 + r0 * r1 + r1 * r1)

    def highest(self, inradius: float, tall: float) -> Reckoning:
        """How high above the floor a thing may stand and still fit, in mm; below 0 it does not.

        Parameters
        ----------
        inradius : float
            What the thing needs from the middle square to a side, room counted in, mm.
        tall : float
            Its height in mm.
        """
        most = self.height - tall
        if self.top < self.bottom:  # its upper edge meets the walls first
            meets = self.height * (self.bottom - inradius) / (self.bottom - self.top) - tall
            value = min(most, meets)
        else:
            value = most if inradius <= self.bottom + 1e-9 else -math.inf
            if self.top > self.bottom and inradius > self.bottom:
                lowest = self.height * (inradius - self.bottom) / (self.top - self.bottom)
                value = most if lowest <= most else -math.inf
        return reckon(
            "It may stand as high as",
            value,
            "where the walls come as close as it needs, less its own height",
            given("middle to side at the floor", self.bottom),
            given("middle to side at the top", self.top),
            given("height", self.height),
            given("it needs, from the middle", inradius),
            given("its height", tall),
        )

    def widest(self, tall: float) -> float:
        """Largest inradius in mm of a thing ``tall`` mm high that stands on the floor."""
        return min(self.bottom, self.inradius_at(min(tall, self.height)))

    def level(self, volume: float) -> float:
        """How high loose fill of a volume in mm³ lies, in mm; infinite when it runs over."""
        if volume > self.volume_to(self.height):
            return math.inf
        low, high = 0.0, self.height
        for _ in range(60):
            middle = (low + high) / 2
            if self.volume_to(middle) < volume:
                low = middle
            else:
                high = middle
        return high
