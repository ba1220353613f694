"""Room around a thing, by the way it goes in."""

from __future__ import annotations

from jadeite.core.contents.things import Block, Cylinder, FlatPack
from jadeite.core.reckoning import Mark, Reckoning, constant, given, reckon

__all__ = ["FINGER_ROOM", "HEADROOM", "clearance", "finger_room", "headroom"]

DROPPED = 1.5  # mm a side up to 100 mm; from memory
DROPPED_SIZE = 100.0  # mm; from memory
DROPPED_SHARE = 0.015  # of the size beyond 100 mm; from memory
SNUG = 0.3  # mm a side; from memory
SQUEEZE = 0.10  # of a soft thing's size, at most; from memory
FINGER_ROOM = 18.0  # mm on one side; from memory
HEADROOM = 1.0  # mm below the rim; from memory


def clearance(thing: Block | Cylinder | FlatPack, size: float) -> Reckoning:
    """Room on each side of a thing across an extent of ``size`` mm; mm."""
    name = f"Room beside {thing.name}"
    if thing.goes_in == "soft":
        return constant(name, 0.0, "mm", Mark.MEMORY, "soft: may be squeezed by up to 10 %")
    if thing.goes_in == "snug":
        return constant(name, SNUG, "mm", Mark.MEMORY)
    if size <= DROPPED_SIZE:
        return reckon(
            name,
            DROPPED,
            "dropped in: the same up to 100 mm",
            constant("each side", DROPPED, "mm", Mark.MEMORY),
        )
    return reckon(
        name,
        size * DROPPED_SHARE,
        "dropped in: 1.5 % of the size beyond 100 mm",
        given("size", size),
        constant("share", 100 * DROPPED_SHARE, "%", Mark.MEMORY),
    )


def finger_room(thing: Block | Cylinder | FlatPack) -> float:
    """Extra room in mm on one side, where a finger lifts the thing out."""
    return FINGER_ROOM if thing.goes_in == "finger" else 0.0


def headroom() -> Reckoning:
    """How far below the rim contents must end, in mm."""
    return constant("Room under the lid", HEADROOM, "mm", Mark.MEMORY)
