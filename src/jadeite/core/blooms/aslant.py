"""A petal whose tip is curled over a rod that lies aslant: it turns to one side, like a pinwheel.

Its rulings are parallel still, so the curl is part of a cylinder, and every length is kept.
"""

from __future__ import annotations

import itertools
import math

import numpy as np

from jadeite.core.blooms.form import Form, across_rulings, curled, in_a_row
from jadeite.core.blooms.profile import Profile
from jadeite.core.nets.model import Floats

__all__ = ["MOST_SLANT", "aslant"]

MOST_SLANT = 45.0  # degrees; from memory, beyond it the tip rolls up from its side
CLEAR = 2.0  # mm; from memory, between the bend at the root and a ruling of the curl
LESS = 0.85  # of a slant, until all its rulings have room; from memory
LEAST = 2.0  # degrees; from memory, less looks straight
NEAR = 1e-6  # mm; rounding

Crossing = tuple[Floats, int]  # where a ruling meets an edge, and how many corners lie before


def aslant(edge: Floats, profile: Profile, slant: float) -> Form:
    """A petal that is curled about rulings off across it by ``slant`` degrees.

    ``edge`` is its upper edge, (n, 2) float, mm, from its root to the middle of its tip;
    ``profile`` is what it would be straight across.  A short petal takes less of a slant,
    as the rod has to keep clear of the bend at its root; of two hands the left one, in
    the petal's frame, holds its end farther out where the slant is positive.
    """
    while abs(slant) >= LEAST:
        if (found := _rulings(edge, profile, slant)) is not None:
            return _form(edge, profile, slant, found)
        slant *= LESS
    return curled(edge, profile)


def _rulings(
    edge: Floats, profile: Profile, slant: float
) -> list[tuple[Crossing, Crossing]] | None:
    """Where each ruling of the curl meets the upper and the lower edge; None without room."""
    lead = math.tan(math.radians(slant))
    starts, length = profile.breaks[profile.begins : -1], float(profile.breaks[-1])
    # as far from one another as straight across, measured square to them
    shares = length - (length - starts) / math.cos(math.radians(slant))
    free = max(float(profile.breaks[profile.begins - 1]), profile.foot) + CLEAR
    out = []
    for start in shares.tolist():
        upper, lower = (_crossing(edge, start, lead * side) for side in (1.0, -1.0))
        if upper is None or lower is None or min(upper[0][0], lower[0][0]) < free:
            return None
        out.append((upper, (lower[0] * [1.0, -1.0], lower[1])))
    for before, after in itertools.pairwise(out):
        if any(after[k][0][0] < before[k][0][0] + NEAR for k in (0, 1)):
            return None
    return out


def _crossing(edge: Floats, start: float, lead: float) -> Crossing | None:
    """Where a ruling from the middle line meets the upper edge; None unless it is but once.

    ``lead`` is by how much it leads outwards for each mm aside.
    """
    off = edge[:, 0] - start - lead * edge[:, 1]
    passes = np.flatnonzero((off[:-1] < 0) != (off[1:] < 0))
    if len(passes) != 1:
        return None
    k = int(passes[0])
    part = off[k] / (off[k] - off[k + 1])
    return edge[k] + part * (edge[k + 1] - edge[k]), k + 1


def _form(
    edge: Floats, profile: Profile, slant: float, rulings: list[tuple[Crossing, Crossing]]
) -> Form:
    """The petal with these rulings, those at its root as they were."""
    flip = np.array([1.0, -1.0])
    straight = np.append(profile.breaks[: profile.begins], profile.breaks[-1])
    outlines = list(across_rulings(edge, straight))
    base = outlines.pop()
    corner = float(base[0, 0])
    first = int(np.argmax(edge[:, 0] > corner + NEAR))
    starts = [((base[0], first), (base[1], first)), *rulings]
    for number, (upper, lower) in enumerate(starts):
        if number + 1 < len(starts):
            over, under = starts[number + 1]
            line_up = np.vstack([edge[upper[1] : over[1]], over[0]])
            line_down = np.vstack([edge[lower[1] : under[1]] * flip, under[0]])
        else:
            line_up, line_down = edge[upper[1] : -1], edge[lower[1] :] * flip
        outlines.append(np.vstack([upper[0], lower[0], line_down, line_up[::-1]]))
    facets = in_a_row(outlines, profile.turns.tolist())
    return Form(profile, tuple(facets), profile.rise, profile.curl, slant)
