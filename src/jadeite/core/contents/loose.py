"""Loose fill: how much room it takes, and how far that estimate may be off."""

from __future__ import annotations

import math
from typing import Literal, Protocol

from jadeite.core.reckoning import Mark, Reckoning, constant, given, reckon

__all__ = ["PACKING", "bulk_spread", "bulk_volume"]

# share of the room that equal balls fill; published: Scott 1960 (random close packing, 0.64),
# from memory; poured loosely 0.58 is from memory
PACKING = {"poured": 0.58, "shaken": 0.64}
# how far the estimate may be off, as a share; from memory: grains are no balls, a typed volume
# settles, a bulk density comes from a table
SPREAD = {"count": 0.12, "volume": 0.05, "weight": 0.10}


class Fill(Protocol):
    """What the estimate needs to know; :class:`~jadeite.core.contents.things.Loose` has it."""

    @property
    def by(self) -> Literal["count", "volume", "weight"]:
        """Which measure was taken."""
        ...

    @property
    def diameter(self) -> float:
        """Of a ball as large as a grain, mm."""
        ...

    @property
    def grains(self) -> int:
        """How many."""
        ...

    @property
    def volume(self) -> float:
        """As poured, ml."""
        ...

    @property
    def weight(self) -> float:
        """Of all, g."""
        ...

    @property
    def density(self) -> float:
        """Bulk density, g/cm³."""
        ...

    @property
    def packed(self) -> Literal["poured", "shaken"]:
        """How it lies."""
        ...


def bulk_volume(fill: Fill) -> Reckoning:
    """Room that loose fill takes, in ml."""
    if fill.by == "volume":
        return reckon(
            "Room of the fill",
            fill.volume,
            "as poured",
            given("volume", fill.volume, "ml"),
            unit="ml",
        )
    if fill.by == "weight":
        return reckon(
            "Room of the fill",
            fill.weight / fill.density,
            "weight over bulk density",
            given("weight", fill.weight, "g"),
            given("bulk density, g/cm³", fill.density, ""),
            unit="ml",
        )
    share = PACKING[fill.packed]
    solid = fill.grains * math.pi / 6 * fill.diameter**3 / 1000
    close = fill.packed == "shaken"
    return reckon(
        "Room of the fill",
        solid / share,
        "solid volume over packing fraction",
        reckon(
            "solid volume",
            solid,
            "so many balls of that diameter",
            given("grains", fill.grains, ""),
            given("diameter", fill.diameter),
            unit="ml",
        ),
        constant(
            "packing fraction, shaken down" if close else "packing fraction, poured loosely",
            share,
            "",
            Mark.PUBLISHED if close else Mark.MEMORY,
            "Scott 1960, random close packing of equal balls" if close else "",
        ),
        unit="ml",
    )


def bulk_spread(fill: Fill) -> Reckoning:
    """How far the room may be more or less, in ml."""
    room = bulk_volume(fill)
    share = SPREAD[fill.by]
    return reckon(
        "More or less by",
        room.value * share,
        {
            "count": "grains are no balls, and lie closer or looser",
            "volume": "it settles on the way",
            "weight": "bulk density varies from bag to bag",
        }[fill.by],
        room,
        constant("spread", 100 * share, "%", Mark.MEMORY),
        unit="ml",
    )
