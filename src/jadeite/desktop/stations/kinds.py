"""What the Contents station knows of each kind of thing: a new one, its lengths, its turns."""

from __future__ import annotations

from jadeite.core.contents import (
    AnyThing,
    Ball,
    Block,
    Cards,
    Cylinder,
    Disc,
    FlatPack,
    Light,
    Loose,
    Standing,
    Tag,
)
from jadeite.core.contents.things import STRING_LIGHTS

__all__ = ["FLAT_KINDS", "MADE", "MEASURES", "NEW", "TILES", "TURNS", "WAYS", "ways_of"]

# one of each kind, as it is put on the list before it is measured; sizes from memory
NEW: dict[str, AnyThing] = {
    "block": Block(name="block", length=60.0, width=40.0, height=25.0),
    "cylinder": Cylinder(name="round thing", diameter=38.0, height=30.0),
    "disc": Disc(name="disc", diameter=50.0, thickness=6.0),
    "ball": Ball(name="ball", diameter=30.0),
    "flat": FlatPack(name="flat thing", width=80.0, height=60.0, thickness=3.0),
    "cards": Cards(name="cards", width=89.0, height=57.0, thickness=0.3, sheets=20),
    "standing": Standing(name="stand-up piece", width=50.0, height=60.0, thickness=0.5),
    "loose": Loose(name="sweets", food=True),
    "light": Light(name="battery light"),
    "string": Light(
        name="string lights", make="bundle", diameter=STRING_LIGHTS[0], height=STRING_LIGHTS[1]
    ),
}
TILES = (
    ("block", "Block", "Anything with straight sides."),
    ("cylinder", "Round", "A jar, a tube, an eyepiece."),
    ("disc", "Disc", "A filter, a coin, a coaster."),
    ("ball", "Ball", "A marble, a bauble."),
    ("flat", "Flat", "A sachet or a folded chart, with or without a tag on a string."),
    ("cards", "Cards", "One card, or a stack."),
    ("standing", "Stand-up", "A flat piece that stands inside; the lid must clear it."),
    ("loose", "Loose", "Sweets, beads, pebbles: by count, by volume or by weight."),
    ("light", "Light", "A round battery light."),
    ("string", "String", "A bundle of string lights with its battery box."),
)
MADE = ("made", "Made here", "Another made thing of this job; it has the size of its design.")
FLAT_KINDS = ("disc", "flat", "cards", "made")  # what can be mounted on a card
MEASURES: dict[str, tuple[tuple[str, str], ...]] = {
    "made": (),
    "block": (("length", "Length"), ("width", "Width"), ("height", "Height")),
    "cylinder": (("diameter", "Diameter"), ("height", "Height")),
    "disc": (("diameter", "Diameter"), ("thickness", "Thickness")),
    "ball": (("diameter", "Diameter"),),
    "flat": (("width", "Width"), ("height", "Height"), ("thickness", "Thickness")),
    "cards": (("width", "Width"), ("height", "Height"), ("thickness", "One card")),
    "standing": (("width", "Width"), ("height", "Height"), ("thickness", "Thickness")),
    "loose": (("diameter", "Grain across"),),
    "light": (("diameter", "Diameter"), ("height", "Height")),
}
_FLAT = (("any", "any way"), ("upright", "standing"), ("lying", "lying"))
TURNS = {
    "block": (("any", "any way"), ("upright", "this side up"), ("lying", "on its largest side")),
    "cylinder": (("any", "any way"), ("upright", "upright"), ("lying", "lying")),
    "made": (("any", "any way"), ("upright", "this side up"), ("lying", "on its largest side")),
    "disc": (("any", "any way"), ("lying", "lying flat"), ("upright", "on its rim")),
    "flat": _FLAT,
    "cards": _FLAT,
    "standing": (("upright", "standing"),),
    "light": (("upright", "upright"), ("lying", "lying"), ("any", "any way")),
}
WAYS = (
    ("dropped", "Dropped", "Dropped in: 1.5 mm of room on each side, more beyond 100 mm."),
    ("pocket", "Pocket", "Slid into a pocket: 3 mm in its width in all, 6 mm below the mouth."),
    ("snug", "Snug", "Snug: 0.3 mm on each side; pulled out by its top."),
    ("finger", "Finger", "Lifted out by a finger: 18 mm of room on one side."),
    ("padded", "Padded", "Nested in tissue or padding of a thickness, all round."),
    ("slot", "In a slot", "Standing in a slot cut to its board's thickness."),
    ("soft", "Soft", "Soft: no room needed; it may be squeezed by up to a tenth."),
)
_NOT_SOLID = {"loose": ("dropped", "soft"), "ball": ("dropped", "snug", "finger", "padded", "soft")}
_IN_SLOTS = ("flat", "cards", "standing")


def ways_of(kind: str) -> tuple[str, ...]:
    """The ways in which a kind of thing may go in."""
    if kind in _NOT_SOLID:
        return _NOT_SOLID[kind]
    return tuple(key for key, _, _ in WAYS if key != "slot" or kind in _IN_SLOTS)


def with_tag(thing: FlatPack) -> Tag:
    """The tag that a flat thing has, or a usual one."""
    return thing.tag or Tag()
