"""A ring gathered by laps: its petals' feet make a cup, each with a flap glued behind the next.

Feet that rise from a flat middle stand nearer to one another than in the flat ring: at
every corner of the middle an angle of board is left over.  Cut open there, one foot
keeps it as a flap, which is folded behind its neighbour and glued.  What is left over is
the angle by which a ring is cut and overlapped; it holds the petals up without being
pressed.

Glossary
--------
seam
    The line between two feet of the cup, from a corner of the middle outwards.
flap
    What a foot has beyond its seam: the angle that is lapped.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np

from jadeite.core.blooms.form import Form, hung
from jadeite.core.nets.model import Floats

__all__ = ["Lap", "lap_of", "with_flap"]

LEAST_RISE = 5.0  # degrees; from memory, of less no angle is left over that could be seen
LEAST_FLAP = 2.0  # mm across at its wide end; from memory, a narrower one takes no glue
WIDEST_FLAP = 6.0  # mm across; from memory, a wider one holds no better
FOOT_SHARE = 0.4  # of a petal's length is its foot at the most; from memory
LONGEST = 15.0  # mm; from memory, so long a lap holds by itself
MISSES = 0.01  # of a flap; design rule, all of what is glued lands
APART = 0.5  # mm; from memory, cut away between a flap and the next foot
TAPER = 0.25  # of its length, by which a flap's free edge is shorter, so that it slips in


@dataclass(frozen=True)
class Lap:
    """How the feet of a ring are lapped; mm and degrees.

    ``hub`` is from the centre to a root edge, ``count`` how many there are, ``rise`` by how
    much they stand up, ``foot`` how far a foot reaches from its root, ``thick`` the board.
    """

    hub: float
    count: int
    rise: float
    foot: float
    thick: float

    @property
    def _turn(self) -> float:
        """Half the angle from one petal to the next, radians."""
        return math.pi / self.count

    @property
    def _widens(self) -> float:
        """By how much a foot's half grows in width for each mm of its length."""
        return math.tan(self._turn) * math.cos(math.radians(self.rise))

    @property
    def root(self) -> float:
        """Half width of a root edge, mm: the whole side of the middle."""
        return self.hub * math.tan(self._turn)

    @property
    def wide(self) -> float:
        """Half width of a foot where it ends, mm."""
        return self.root + self.foot * self._widens

    @property
    def seam(self) -> float:
        """Angle between a petal's middle line and the seam, in the flat ring, radians."""
        return math.atan(self._widens)

    @property
    def angle(self) -> float:
        """What is lapped at each corner, degrees."""
        return 2 * math.degrees(self._turn - self.seam)

    @property
    def turn(self) -> float:
        """Between two feet of the cup, degrees: from the normals of two faces of a pyramid."""
        s, c = math.sin(math.radians(self.rise)), math.cos(math.radians(self.rise))
        return math.degrees(math.acos(s * s * math.cos(2 * self._turn) + c * c))

    @property
    def _beyond(self) -> float:
        """By how much a flap is folded beyond the seam, mm: it lies behind the next foot."""
        return self.thick / math.sin(math.radians(self.turn))

    @property
    def _long(self) -> float:
        """Of the seam, mm."""
        return self.foot / math.cos(self.seam)

    @property
    def flap(self) -> Floats:
        """A flap on the petal's left, (3, 2) float, mm, from its corner along its fold outwards."""
        corner = np.array([0.0, self.root])
        far = self.seam + self._lapped
        along, aside = (np.array([math.cos(a), math.sin(a)]) for a in (self.seam, far))
        left, back = np.array([-along[1], along[0]]), np.array([aside[1], -aside[0]])
        begin = corner + self._beyond * left + self._begins * along
        end = corner + self._beyond * left + (self._long - self._beyond) * along
        return np.array([begin, end, corner + APART * back + self._free * aside])

    @property
    def _lapped(self) -> float:
        """What is lapped at each corner, radians."""
        return math.radians(self.angle)

    @property
    def _begins(self) -> float:
        """How far along the seam a flap's fold meets its free edge, mm."""
        return (self._beyond * math.cos(self._lapped) + APART) / math.sin(self._lapped)

    @property
    def _free(self) -> float:
        """How far along the next foot a flap's free edge reaches, mm: it stays on that foot."""
        most = min(WIDEST_FLAP, self.root) + self._beyond + APART * math.cos(self._lapped)
        return min((1 - TAPER) * self._long, most / math.sin(self._lapped))

    @property
    def across(self) -> float:
        """Width of a flap at its wide end, mm."""
        past = self._free * math.sin(self._lapped) - APART * math.cos(self._lapped)
        return past - self._beyond

    @property
    def misses(self) -> float:
        """Share of a flap that lies beside the next foot: its fold, where feet stand steeply."""
        return 2 * self._beyond * max(0.0, -math.cos(math.radians(self.turn))) / self.across


def lap_of(hub: float, count: int, rise: float, length: float, thick: float) -> Lap | None:
    """How a ring is lapped whose petals are so long; None where no flap can be glued.

    It would be too narrow, or lie beside the next foot.  ``hub``, ``length`` and the thickness
    of the board are in mm, ``rise`` in degrees.
    """
    if count < 3 or not LEAST_RISE <= rise < 90.0:
        return None
    lap = Lap(hub, count, rise, min(LONGEST, FOOT_SHARE * length), thick)
    return lap if lap.across >= LEAST_FLAP and lap.misses <= MISSES else None


def with_flap(form: Form, lap: Lap) -> Form:
    """A bent petal with its flap, the last of its facets; its root and seam are scored."""
    first = form.facets[0]  # its outline ends on the left, where the foot does
    outline = np.vstack([first.outline, lap.flap[1::-1]])
    foot = replace(first, outline=outline, kind="scored")
    flap = replace(hung(lap.flap, 0, lap.turn, foot.place), kind="scored", flap=True)
    return replace(form, facets=(foot, *form.facets[1:], flap))
