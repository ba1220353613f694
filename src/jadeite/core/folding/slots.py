"""Do two slotted strips pass through one another where they cross?

Each strip is cut by the planes of both faces of the other.  What is left of
either must not overlap what is left of the other, over the whole thickness;
between the ends of the two slots there is the play that half-lap slots have.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
import shapely

from jadeite.core.folding.collisions import plane_cuts
from jadeite.core.folding.kinematics import transform
from jadeite.core.nets.model import Floats

__all__ = ["Slat", "SlotFit", "slot_fit", "tongue_fit"]

Stretch = tuple[float, float]
NEAR = 0.1  # mm; rounding, a tongue passes as close to the edge of its slot as this
TOUCH = 1e-6  # mm; rounding


@dataclass(frozen=True, eq=False)
class Slat:
    """A strip: its outline (n, 2) in the flat piece, where it stands, its thickness in mm."""

    outline: Floats
    matrix: Floats
    thickness: float

    @property
    def normal(self) -> Floats:
        """Unit normal in space."""
        return np.asarray(self.matrix[:3, 2])


@dataclass(frozen=True, slots=True)
class SlotFit:
    """How two strips meet.

    ``off_square`` is what their angle lacks to a right one, in degrees;
    ``play`` the room between the ends of both slots in mm, negative where they
    run into each other; ``free`` the share of their height over which neither
    is in the other's way, 0 where the heights do not agree.
    """

    off_square: float
    play: float
    free: float


def _stretches(slat: Slat, other: Slat, along: Floats, offset: float) -> list[Stretch]:
    """What of a strip lies in a plane of the other, as distances along a line."""
    points = transform(slat.matrix, slat.outline)
    heights = (points - other.matrix[:3, 3]) @ other.normal - offset
    return plane_cuts(points, heights, along)


def slot_fit(one: Slat, other: Slat) -> SlotFit:
    """Measure two strips where they cross; see :class:`SlotFit`."""
    cosine = min(1.0, abs(float(one.normal @ other.normal)))
    off_square = 90.0 - math.degrees(math.acos(cosine))
    along = np.cross(one.normal, other.normal)
    size = float(np.linalg.norm(along))
    if size < 1e-9:
        return SlotFit(90.0, 0.0, 0.0)
    along = along / size
    ends = [transform(s.matrix, s.outline) @ along for s in (one, other)]
    low, high = max(float(e.min()) for e in ends), min(float(e.max()) for e in ends)
    agree = all(
        abs(float(e.min()) - low) < 0.05 and abs(float(e.max()) - high) < 0.05 for e in ends
    )
    overlap, play = 0.0, math.inf
    # both faces of either strip: a slot that is too narrow leaves board in the way
    for side in (-1.0, 0.0, 1.0):
        mine = _stretches(one, other, along, side * other.thickness / 2)
        for other_side in (-1.0, 0.0, 1.0):
            theirs = _stretches(other, one, along, other_side * one.thickness / 2)
            if not mine or not theirs:
                return SlotFit(off_square, 0.0, 0.0)  # they do not meet at all
            shared = sum(max(0.0, min(a[1], b[1]) - max(a[0], b[0])) for a in mine for b in theirs)
            overlap = max(overlap, shared)
            filled = sum(b - a for a, b in (*mine, *theirs))
            play = min(play, high - low - filled)
    height = max(high - low, TOUCH)
    free = 1.0 - overlap / height if agree else 0.0
    return SlotFit(off_square, float(play), float(free))


def tongue_fit(tongue: Slat, target: Slat, openings: tuple[Floats, ...]) -> SlotFit:
    """How a tongue goes through a slot or slit of a target.

    ``openings`` are lines (n, 2) in the target's flat piece.  ``off_square`` is
    0, as a tongue may bend through; ``play`` is what the slot is longer than
    the tongue; ``free`` the share of the tongue's width that the slot lets through.
    """
    points = transform(tongue.matrix, tongue.outline)
    flat = (points - target.matrix[:3, 3]) @ target.matrix[:3, :3]
    ends = []
    for i in range(len(flat)):
        a, b = flat[i], flat[(i + 1) % len(flat)]
        if (a[2] > 0) != (b[2] > 0):
            ends.append((a + (b - a) * (a[2] / (a[2] - b[2])))[:2])
    if len(ends) < 2:
        return SlotFit(0.0, 0.0, 0.0)
    line = shapely.LineString(ends[:2])
    best = SlotFit(0.0, 0.0, 0.0)
    for opening in openings:
        shape = shapely.Polygon(opening) if len(opening) > 2 else shapely.LineString(opening)
        free = line.intersection(shape.buffer(tongue.thickness / 2 + NEAR)).length / line.length
        if free > best.free:
            way = (ends[1] - ends[0]) / line.length
            play = float(np.ptp(opening @ way)) - line.length
            best = SlotFit(0.0, play, float(free))
    return best
