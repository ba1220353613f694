"""A thing in words, as people type it: "ball 90mm", "planet: ball 90 mm", "block 60x45x40"."""

from __future__ import annotations

from typing import Literal

from jadeite.core.contents.things import AnyThing, Ball, Block, Cylinder, Disc, FlatPack, Light
from jadeite.core.errors import FieldError
from jadeite.core.units import parse_length, parse_size

__all__ = ["thing_from_words"]

KINDS = {"ball": 1, "disc": 2, "cylinder": 2, "light": 2, "block": 3, "flat": 3}
HANGING = "hanging "
CURE = (
    "Write ball D, disc DxT, cylinder DxH, flat WxHxT, light, hanging light, or block LxWxH, such "
    "as “ball 90mm”."
)


def thing_from_words(words: str) -> AnyThing:
    """Read one thing; lengths in mm unless a unit is given.

    Raises
    ------
    FieldError
        An unknown kind, or not as many lengths as it has.
    """
    name, colon, rest = words.rpartition(":")
    rest = rest.strip()
    hangs = rest.lower().startswith(f"{HANGING}light")
    kind, _, size = (rest[len(HANGING) :] if hangs else rest).strip().partition(" ")
    held: Literal["stands", "hangs"] = "hangs" if hangs else "stands"
    kind = kind.lower()
    if kind not in KINDS:
        raise FieldError("thing", f"“{words[:40]}” names no kind of thing", CURE)
    title = name.strip() if colon else kind
    if kind == "ball":
        return Ball(name=title, diameter=parse_length(size, field="thing"))
    if kind == "light" and not size.strip():
        return Light(name=title, held=held)
    count = KINDS[kind]
    parts = size.lower().replace("×", "x").replace("*", "x").split("x")
    if len(parts) != count:
        raise FieldError("thing", f"a {kind} has {count} lengths, not {len(parts)}", CURE)
    if count == 2:  # a third length that is not read lets both kinds share one reader
        across, along, _ = parse_size(f"{size}x1", field="thing") if size[-1:].isdigit() else (
            parse_length(parts[0] + _unit(parts[1]), field="thing"),
            parse_length(parts[1], field="thing"),
            0.0,
        )  # fmt: skip
        if kind == "disc":
            return Disc(name=title, diameter=across, thickness=along)
        if kind == "light":
            return Light(name=title, diameter=across, height=along, held=held)
        return Cylinder(name=title, diameter=across, height=along)
    length, width, height = parse_size(size, field="thing")
    if kind == "flat":
        return FlatPack(name=title, width=length, height=width, thickness=height)
    return Block(name=title, length=length, width=width, height=height)


def _unit(text: str) -> str:
    """The unit at the end of a length, if the one before has none of its own."""
    return text.lstrip(" 0123456789./-")
