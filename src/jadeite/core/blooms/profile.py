"""How a petal is bent: up at its root, curled over a rod towards its tip; lengths are kept.

All rulings lie across the petal, so it is bent like part of a cylinder, and what
it looks like from the side says all: a line of facets in the plane of its
middle.  Angles are of the paper above the plane of the ring.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from jadeite.core.nets.model import Floats

__all__ = ["CURL_FACETS", "RELAX", "ROOT_FACETS", "Profile", "profile_of"]

RELAX = 3.0  # from memory: let go, paper springs back to about three times the rod's diameter
ROOT_FACETS, CURL_FACETS = 2, 4  # from memory, more look no rounder
ROOT_SHARE, CURL_SHARE = 0.4, 0.5  # of a petal's length that either bend may take; from memory
STRAIGHT = 0.1  # of a petal's length between both bends; from memory, hands need as much
EACH = 16.25  # degrees that a facet turns, unless there are too few for that; from memory
ROUNDING = 1e-9  # of a facet
NONE = 0.5  # degrees; from memory, less is no bend
LEAST_TIP, LEAST_CURL = 0.2, 0.5  # mm; from memory, a shorter end, or bend, is none


@dataclass(frozen=True, eq=False)
class Profile:
    """A bent petal from the side.

    ``breaks`` are the rulings, as distances from the root in the flat petal,
    (n + 1,) float, mm; ``turns`` the fold at the beginning of each facet, (n,)
    float, degrees, positive upwards; ``ends`` where the rulings stand, (n + 1,
    2) float, mm: from the root outwards, and up.  ``begins`` is the number of the ruling at
    which its curl begins, as many as it has facets if there is none; ``foot`` how far from its
    root it has to stay flat, mm.
    """

    breaks: Floats
    turns: Floats
    ends: Floats
    begins: int
    foot: float = 0.0

    @property
    def slopes(self) -> Floats:
        """Of each facet above the ring's plane, (n,) degrees."""
        return np.asarray(np.cumsum(self.turns))

    @property
    def rise(self) -> float:
        """By how much it stands up beyond the bend at its root, degrees."""
        return float(self.turns[: self.begins].sum())

    @property
    def curl(self) -> float:
        """By how much its tip is turned from there, degrees."""
        return float(self.turns[self.begins :].sum())

    def at(self, along: Floats) -> Floats:
        """Where points of the flat petal stand, (m,) mm to (m, 2) mm."""
        x = np.interp(along, self.breaks, self.ends[:, 0])
        z = np.interp(along, self.breaks, self.ends[:, 1])
        return np.column_stack([x, z])


def profile_of(
    length: float,
    rise: float,
    curl: float,
    across: float,
    least: float,
    last: float,
    facets: tuple[int, int] = (ROOT_FACETS, CURL_FACETS),
    foot: float = 0.0,
) -> Profile:
    """A petal that rises from its ring and is curled towards its tip.

    Parameters
    ----------
    length : float
        Of the flat petal, mm.
    rise : float
        By which it stands up from its root, degrees.
    curl : float
        By which its tip is turned, degrees; outwards negative.
    across : float
        Diameter to which it is curled, once let go, mm.
    least : float
        Diameter of the bend at its root, mm.
    last : float
        Where the curl ends at the latest, mm from the root: a notched tip stays flat.
    facets : tuple of int
        Into how many facets the bend at the root and the curl are parted at the most.
    foot : float
        How far it stays flat from its root, mm: there it is folded then, not bent.
    """
    last = length if length - last < LEAST_TIP else last
    root = foot
    if not foot:
        root = min(math.radians(abs(rise)) * least / 2, ROOT_SHARE * length)
        rise = math.copysign(min(abs(rise), math.degrees(2 * root / least)), rise)
    free = max(0.0, min(CURL_SHARE * length, last - root - STRAIGHT * length))
    bent = min(math.radians(abs(curl)) * across / 2, free)
    # a short petal takes less of a bend than was asked, as the rod is the same
    curl = math.copysign(min(abs(curl), math.degrees(2 * bent / across)), curl)
    curl = curl if bent >= LEAST_CURL else 0.0
    at_root, at_tip = (
        max(1, min(most, math.ceil(abs(turn) / EACH - ROUNDING)))
        for most, turn in zip(facets, (rise, curl), strict=True)
    )
    breaks, turns = [0.0], []
    if abs(rise) >= NONE and not foot:
        part = rise / at_root
        turns += [part / 2, *[part] * (at_root - 1), part / 2]
        breaks += [root * (i + 1) / at_root for i in range(at_root)]
    else:
        turns.append(rise)
    begins = len(turns)
    if abs(curl) >= NONE:
        part, end = curl / at_tip, min(length, last)
        flat_end = end < length - 1e-9
        steps = [part / 2, *[part] * (at_tip - 1)] + ([part / 2] if flat_end else [])
        turns += steps
        breaks += [end - bent + bent * i / at_tip for i in range(len(steps))]
    breaks.append(length)
    at, slopes = np.array(breaks), np.radians(np.cumsum(turns))
    steps_ = np.diff(at)
    ends = np.zeros((len(at), 2))
    ends[1:, 0] = np.cumsum(steps_ * np.cos(slopes))
    ends[1:, 1] = np.cumsum(steps_ * np.sin(slopes))
    return Profile(at, np.array(turns), ends, begins, foot)
