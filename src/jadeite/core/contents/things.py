"""Kinds of contents, as the document holds them."""

from __future__ import annotations

from itertools import permutations
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

__all__ = ["MAX_COUNT", "Block", "Cylinder", "FlatPack", "GoesIn", "Thing", "Turn", "solid_sizes"]

MAX_COUNT = 40  # of one thing; from memory, more is loose fill
SMALLEST, LARGEST = 0.1, 1000.0  # mm; from memory, what a paper box can hold

Length = Annotated[float, Field(ge=SMALLEST, le=LARGEST, allow_inf_nan=False)]
GoesIn = Literal["dropped", "snug", "finger", "soft"]
Turn = Literal["any", "upright", "lying"]


class _Thing(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid")

    name: str = Field(min_length=1, max_length=60)
    count: int = Field(default=1, ge=1, le=MAX_COUNT)
    mass: float = Field(default=0.0, ge=0, le=20_000, allow_inf_nan=False, description="g, of one")
    goes_in: GoesIn = "dropped"
    turn: Turn = "any"


class Block(_Thing):
    """A rigid block: length, width, height in mm."""

    kind: Literal["block"] = "block"
    length: Length
    width: Length
    height: Length


class Cylinder(_Thing):
    """A round thing: diameter and height in mm; upright it stands on its end."""

    kind: Literal["cylinder"] = "cylinder"
    diameter: Length
    height: Length


class FlatPack(_Thing):
    """A flat thing: width, height and thickness in mm; lying it is flat."""

    kind: Literal["flat"] = "flat"
    width: Length
    height: Length
    thickness: Length


Thing = Annotated[Block | Cylinder | FlatPack, Field(discriminator="kind")]


def solid_sizes(thing: Block | Cylinder | FlatPack) -> tuple[tuple[float, float, float], ...]:
    """Every axis-parallel turn of a thing that it allows, as x, y, z extents in mm.

    ``upright`` keeps the way it was measured; ``lying`` lays a block or a flat
    pack on its largest face and a round thing on its side.
    """
    if isinstance(thing, Cylinder):
        d, h = thing.diameter, thing.height
        turns = [(d, d, h)] if thing.turn != "lying" else []
        if thing.turn != "upright":
            turns += [(h, d, d), (d, h, d)]
        return tuple(dict.fromkeys(turns))
    if isinstance(thing, Block):
        size = (thing.length, thing.width, thing.height)
    else:
        size = (thing.width, thing.thickness, thing.height)
    turns = list(dict.fromkeys((x, y, z) for x, y, z in permutations(size)))
    if thing.turn == "upright":
        turns = [t for t in turns if t[2] == size[2]]
    elif thing.turn == "lying":
        turns = [t for t in turns if t[2] == min(size)]
    return tuple(turns)
