"""Room around a thing, by the way it goes in."""

from __future__ import annotations

from jadeite.core.boards.fit_rules import slot_ease
from jadeite.core.contents.things import AnyThing, FlatPack, Light, Standing, Turned
from jadeite.core.reckoning import Mark, Reckoning, constant, given, reckon

__all__ = [
    "AIR_GAP",
    "FINGER_ROOM",
    "HEADROOM",
    "POCKET_DEPTH",
    "clearance",
    "finger_room",
    "headroom",
    "room_around",
    "tag_axes",
    "tag_room",
]

DROPPED = 1.5  # mm a side up to 100 mm; from memory
DROPPED_SIZE = 100.0  # mm; from memory
DROPPED_SHARE = 0.015  # of the size beyond 100 mm; from memory
SNUG = 0.3  # mm a side; from memory
POCKET = 1.5  # mm a side, 3 mm in the pocket's width in total; from memory
POCKET_EASE = 0.5  # mm a side in its thickness; from memory
POCKET_DEPTH = 6.0  # mm that a thing in a pocket ends below the mouth; from memory
ENVELOPE = 6.0  # mm in all, in width and in height (1/4 in); common practice
ENVELOPE_EASE = 0.2  # mm a side in its thickness: paper gives; from memory
FINGER_ROOM = 18.0  # mm on one side; from memory
HEADROOM = 1.0  # mm below the rim, and below the closed lid; from memory
AIR_GAP = 10.0  # mm around a light; from memory
SLOT_LENGTH = 0.3  # mm a side, a slot is 0.6 mm longer than its tongue; from memory
TAG_STRING = 5.0  # mm of string between a pack and a tag that lies inside; from memory


def clearance(thing: AnyThing, size: float, usual: float | None = None) -> Reckoning:
    """Room on each side of a thing across an extent of ``size`` mm; mm.

    ``usual`` is the project's own clearance for everything; the thing's own
    comes before it, and both before ours.
    """
    name = f"Room beside {thing.name}"
    if thing.clearance is not None:
        return reckon(
            name,
            thing.clearance,
            "your own for this thing",
            given("each side", thing.clearance),
        )
    if isinstance(thing, Light):
        return reckon(
            name,
            AIR_GAP,
            "a light keeps its distance to the paper",
            constant("air on each side", AIR_GAP, "mm", Mark.MEMORY),
        )
    if usual is not None and thing.goes_in not in ("soft", "padded", "slot"):
        return reckon(name, usual, "your own for the whole project", given("each side", usual))
    if thing.goes_in == "soft":
        return constant(name, 0.0, "mm", Mark.MEMORY, "soft: may be squeezed by up to 10 %")
    if thing.goes_in == "snug":
        return constant(name, SNUG, "mm", Mark.MEMORY)
    if thing.goes_in == "padded":
        return reckon(
            name, thing.padding, "as thick as its padding", given("padding", thing.padding)
        )
    if thing.goes_in == "pocket":
        return reckon(
            name,
            POCKET,
            "slid in: 3 mm in the pocket's width in total",
            constant("each side", POCKET, "mm", Mark.MEMORY),
        )
    if thing.goes_in == "envelope":
        return reckon(
            name,
            (ENVELOPE + bulk(thing)) / 2,
            "into an envelope: 6 mm in all, and its thickness, round which the paper has to go",
            constant("in all", ENVELOPE, "mm", Mark.PRACTICE),
            given("thickness", bulk(thing)),
        )
    if thing.goes_in == "slot":
        return reckon(
            name,
            SLOT_LENGTH,
            "a slot is 0.6 mm longer than what stands in it",
            constant("each end", SLOT_LENGTH, "mm", Mark.MEMORY),
        )
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


def bulk(thing: AnyThing) -> float:
    """How thick a thing is that lies in an envelope, in mm."""
    return min(thing.size)


def _through(thing: AnyThing, turned: Turned, axis: int) -> bool:
    """Whether an axis runs through the thickness of a flat thing."""
    if not thing.flat:
        return False
    thin = min(turned.size)
    return turned.size[axis] == thin and turned.size.count(thin) == 1


def room_around(
    thing: AnyThing, turned: Turned, axis: int, usual: float | None = None
) -> Reckoning:
    """Room on each side of a turned thing along an axis, in mm.

    What stands in a slot has the slot's ease through its thickness, what slides
    into a pocket half a millimetre; else it is :func:`clearance`.
    """
    if thing.clearance is None and _through(thing, turned, axis):
        name = f"Room beside {thing.name}"
        if thing.goes_in == "slot":
            ease = slot_ease(turned.size[axis])
            return reckon(
                name, ease / 2, "half of the slot's ease", constant("ease", ease, "mm", Mark.MEMORY)
            )
        if thing.goes_in == "pocket" and usual is None:
            return constant(name, POCKET_EASE, "mm", Mark.MEMORY)
        if thing.goes_in == "envelope":
            return constant(name, ENVELOPE_EASE, "mm", Mark.MEMORY)
    return clearance(thing, turned.size[axis], usual)


def finger_room(thing: AnyThing) -> float:
    """Extra room in mm on one side, where a finger lifts the thing out."""
    return FINGER_ROOM if thing.goes_in == "finger" else 0.0


def tag_room(thing: AnyThing) -> float:
    """Length in mm that a tag inside the hollow adds along the pack's height."""
    if not isinstance(thing, FlatPack) or thing.tag is None or thing.tag.hangs == "outside":
        return 0.0
    return TAG_STRING + thing.tag.height


def tag_axes(solid: tuple[float, float, float], tall: int) -> tuple[int, int]:
    """Axes across a tag's width and through its thickness, as its pack lies."""
    first, second = (a for a in range(3) if a != tall)
    return (second, first) if solid[first] <= solid[second] else (first, second)


def headroom(thing: AnyThing | None = None) -> Reckoning:
    """How far below the mouth a thing must end, in mm."""
    if thing is not None and thing.goes_in == "pocket":
        return constant("Depth below the mouth", POCKET_DEPTH, "mm", Mark.MEMORY)
    if thing is not None and thing.goes_in == "envelope":
        return reckon(
            "Height left over",
            ENVELOPE + bulk(thing),
            "in an envelope: 6 mm, and its thickness, round which the paper has to go",
            constant("in all", ENVELOPE, "mm", Mark.PRACTICE),
            given("thickness", bulk(thing)),
        )
    if isinstance(thing, Light):
        if thing.held == "hangs":
            return constant("Air above and below the light", 2 * AIR_GAP, "mm", Mark.MEMORY)
        return constant("Air above the light", AIR_GAP, "mm", Mark.MEMORY)
    if isinstance(thing, Standing):
        return constant("Room under the closed lid", HEADROOM, "mm", Mark.MEMORY)
    return constant("Room under the lid", HEADROOM, "mm", Mark.MEMORY)
