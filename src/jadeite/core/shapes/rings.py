"""What n-sided families share: the ring that holds a block or something round."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from jadeite.core.nets.model import Hollow
from jadeite.core.reckoning import Reckoning, given, reckon
from jadeite.core.shapes.registry import Option, OptionValue, Size
from jadeite.core.solid import Form

__all__ = ["MEASURED", "Ring", "hollow_of", "ring_for", "sides_option"]

TURNS = 361  # directions tried for a block; rounding, the side is within a thousandth

MEASURED = Option(
    "measured",
    "Measured for",
    "auto",
    "A block needs its corners clear. Something round alone needs less: then the sides touch it.",
    choices=(("auto", "what is in it"), ("block", "a block"), ("round", "a round thing")),
    by_form=True,
    ends=(("measured-round", "block", "Measure it for a block"),),
)


def sides_option(default: float, low: float, high: float, what: str) -> Option:
    """How many sides; marks of the range are the family's."""
    return Option("sides", "Sides", default, what, unit="count", low=low, high=high)


@dataclass(frozen=True)
class Ring:
    """A regular ring: inside inradius in mm, the direction of side 1 in degrees, and why."""

    inradius: float
    phase: float
    why: Reckoning


def ring_for(inside: Size, sides: int, options: Mapping[str, OptionValue]) -> Ring:
    """The smallest ring round a block of length and width, or round something round; mm.

    A block keeps its place along the axes; the ring is turned round it as it
    needs least.
    """
    length, width = inside[0], inside[1]
    if options["measured"] in ("round", "ball"):
        across = max(length, width)
        why = reckon(
            "Middle to side, inside",
            across / 2,
            "half of what it goes round",
            given("across", across),
        )
        return Ring(across / 2, -90.0, why)
    turns = np.linspace(0.0, 360.0 / sides, TURNS)
    normals = np.radians(turns[:, None] + np.arange(sides) * 360.0 / sides - 90.0)
    reach = (length / 2 * np.abs(np.cos(normals)) + width / 2 * np.abs(np.sin(normals))).max(axis=1)
    best = int(np.argmin(np.round(reach, 9)))
    why = reckon(
        "Middle to side, inside",
        float(reach[best]),
        "the corner of the block that reaches farthest decides; turned as it needs least",
        given("inside length", length),
        given("inside width", width),
        given("turned by", float(turns[best]), "deg"),
    )
    return Ring(float(reach[best]), float(turns[best]) - 90.0, why)


def hollow_of(inside: Size, options: Mapping[str, OptionValue], floor: float) -> Hollow:
    """What stays free above a floor at a height in mm: a block, or an upright cylinder."""
    centre = (0.0, 0.0, floor + inside[2] / 2)
    if options["measured"] in ("round", "ball"):
        across = max(inside[0], inside[1])
        return Hollow((across, across, inside[2]), centre, Form.CYLINDER)
    return Hollow(inside, centre)
