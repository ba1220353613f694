"""Room around a thing, by the way it goes in."""

from __future__ import annotations

from jadeite.core.boards.fits import USUAL, Fits
from jadeite.core.contents.things import AnyThing, FlatPack, Light, Standing, Turned
from jadeite.core.reckoning import Mark, Reckoning, constant, given, reckon

__all__ = [
    "clearance",
    "finger_room",
    "headroom",
    "room_around",
    "tag_axes",
    "tag_room",
]

DROPPED_SIZE = 100.0  # mm; from memory, up to this what is dropped in has the same room


def clearance(thing: AnyThing, size: float, fits: Fits = USUAL) -> Reckoning:
    """Room on each side of a thing across an extent of ``size`` mm; mm.

    The thing's own clearance comes before the maker's own for everything, and both
    before the usual one.
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
            fits.air,
            "a light keeps its distance to the paper",
            constant("air on each side", fits.air, "mm", Mark.MEMORY),
        )
    if fits.own is not None and thing.goes_in not in ("soft", "padded", "slot"):
        return reckon(
            name, fits.own, "your own for the whole project", given("each side", fits.own)
        )
    if thing.goes_in == "soft":
        return constant(name, 0.0, "mm", Mark.MEMORY, "soft: may be squeezed by up to 10 %")
    if thing.goes_in == "snug":
        return constant(name, fits.snug, "mm", Mark.MEMORY)
    if thing.goes_in == "padded":
        return reckon(
            name, thing.padding, "as thick as its padding", given("padding", thing.padding)
        )
    if thing.goes_in == "pocket":
        return reckon(
            name,
            fits.pocket,
            "slid in: 3 mm in the pocket's width in total",
            constant("each side", fits.pocket, "mm", Mark.MEMORY),
        )
    if thing.goes_in == "envelope":
        return reckon(
            name,
            (fits.envelope + bulk(thing)) / 2,
            "into an envelope: 6 mm in all, and its thickness, round which the paper has to go",
            constant("in all", fits.envelope, "mm", Mark.PRACTICE),
            given("thickness", bulk(thing)),
        )
    if thing.goes_in == "slot":
        return reckon(
            name,
            fits.slot_length,
            "a slot is 0.6 mm longer than what stands in it",
            constant("each end", fits.slot_length, "mm", Mark.MEMORY),
        )
    if size <= DROPPED_SIZE:
        return reckon(
            name,
            fits.dropped,
            "dropped in: the same up to 100 mm",
            constant("each side", fits.dropped, "mm", Mark.MEMORY),
        )
    return reckon(
        name,
        size * fits.dropped_share,
        "dropped in: 1.5 % of the size beyond 100 mm",
        given("size", size),
        constant("share", 100 * fits.dropped_share, "%", Mark.MEMORY),
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


def room_around(thing: AnyThing, turned: Turned, axis: int, fits: Fits = USUAL) -> Reckoning:
    """Room on each side of a turned thing along an axis, in mm.

    What stands in a slot has the slot's ease through its thickness, what slides
    into a pocket half a millimetre; else it is :func:`clearance`.
    """
    if thing.clearance is None and _through(thing, turned, axis):
        name = f"Room beside {thing.name}"
        if thing.goes_in == "slot":
            ease = fits.slot_ease(turned.size[axis])
            return reckon(
                name, ease / 2, "half of the slot's ease", constant("ease", ease, "mm", Mark.MEMORY)
            )
        if thing.goes_in == "pocket" and fits.own is None:
            return constant(name, fits.pocket_thick, "mm", Mark.MEMORY)
        if thing.goes_in == "envelope":
            return constant(name, fits.envelope_thick, "mm", Mark.MEMORY)
    return clearance(thing, turned.size[axis], fits)


def finger_room(thing: AnyThing, fits: Fits = USUAL) -> float:
    """Extra room in mm on one side, where a finger lifts the thing out."""
    return fits.finger if thing.goes_in == "finger" else 0.0


def tag_room(thing: AnyThing, fits: Fits = USUAL) -> float:
    """Length in mm that a tag inside the hollow adds along the pack's height."""
    if not isinstance(thing, FlatPack) or thing.tag is None or thing.tag.hangs == "outside":
        return 0.0
    return fits.tag_string + thing.tag.height


def tag_axes(solid: tuple[float, float, float], tall: int) -> tuple[int, int]:
    """Axes across a tag's width and through its thickness, as its pack lies."""
    first, second = (a for a in range(3) if a != tall)
    return (second, first) if solid[first] <= solid[second] else (first, second)


def headroom(thing: AnyThing | None = None, fits: Fits = USUAL) -> Reckoning:
    """How far below the mouth a thing must end, in mm."""
    if thing is not None and thing.goes_in == "pocket":
        return constant("Depth below the mouth", fits.pocket_depth, "mm", Mark.MEMORY)
    if thing is not None and thing.goes_in == "envelope":
        return reckon(
            "Height left over",
            fits.envelope + bulk(thing),
            "in an envelope: 6 mm, and its thickness, round which the paper has to go",
            constant("in all", fits.envelope, "mm", Mark.PRACTICE),
            given("thickness", bulk(thing)),
        )
    if isinstance(thing, Light):
        if thing.held == "hangs":
            return constant("Air above and below the light", 2 * fits.air, "mm", Mark.MEMORY)
        return constant("Air above the light", fits.air, "mm", Mark.MEMORY)
    if isinstance(thing, Standing):
        return constant("Room under the closed lid", fits.headroom, "mm", Mark.MEMORY)
    return constant("Room under the lid", fits.headroom, "mm", Mark.MEMORY)
