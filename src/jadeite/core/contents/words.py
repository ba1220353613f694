"""A thing in words, as people type it: "ball 90mm", "planet: ball 90 mm, 40 g, count 3".

After its lengths stand facts, parted by commas: a mass, or the name of any field of the
kind and its value, such as "goes-in padded", "padding 4 mm", "tag 25x30".
"""

from __future__ import annotations

import re
from typing import Any

from pydantic import TypeAdapter, ValidationError

from jadeite.core.contents.things import (
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
)
from jadeite.core.errors import FieldError
from jadeite.core.units import parse_length, parse_size

__all__ = ["thing_from_words"]

# of each kind its class and the fields of its lengths; several have more that facts may say
KINDS: dict[str, tuple[type[AnyThing], tuple[str, ...]]] = {
    "ball": (Ball, ("diameter",)),
    "disc": (Disc, ("diameter", "thickness")),
    "cylinder": (Cylinder, ("diameter", "height")),
    "light": (Light, ("diameter", "height")),
    "block": (Block, ("length", "width", "height")),
    "flat": (FlatPack, ("width", "height", "thickness")),
    "cards": (Cards, ("width", "height", "thickness")),
    "standing": (Standing, ("width", "height", "thickness")),
    "loose": (Loose, ("diameter",)),
}
BARE = ("light", "loose")  # kinds that have usual lengths
HANGING = "hanging "
CURE = (
    "Write ball D, disc DxT, cylinder DxH, flat WxHxT, cards WxHxT, standing WxHxT, loose D, "
    "light, hanging light, or block LxWxH, such as “ball 90mm”; then facts, such as “, 40 g, "
    "count 3”."
)
LENGTHS = ("clearance", "padding")  # fields in mm that facts may say
KILO = 1000.0  # g; exact, by definition
POUND, OUNCE = 453.59237, 453.59237 / 16  # g; exact, the international pound of 1959
MASS = re.compile(r"(?P<number>\d+(?:[.,]\d+)?) ?(?P<unit>g|kg|lb|oz)")
MASSES = {"g": 1.0, "kg": KILO, "lb": POUND, "oz": OUNCE}


def thing_from_words(words: str) -> AnyThing:
    """Read one thing; lengths in mm unless a unit is given.

    Raises
    ------
    FieldError
        An unknown kind, not as many lengths as it has, or a fact that it has not.
    """
    name, colon, rest = words.rpartition(":")
    said, *facts = _parted(rest)
    hangs = said.lower().startswith(f"{HANGING}light")
    kind, _, size = (said[len(HANGING) :] if hangs else said).strip().partition(" ")
    kind = kind.lower()
    if kind not in KINDS:
        raise FieldError("thing", f"“{words[:40]}” names no kind of thing", CURE)
    made, fields = KINDS[kind]
    values: dict[str, Any] = {"name": name.strip() if colon else kind}
    if size.strip() or kind not in BARE:
        values |= dict(zip(fields, _lengths(kind, size, len(fields)), strict=True))
    if hangs:
        values["held"] = "hangs"
    for fact in facts:
        values |= _fact(fact, made)
    try:
        return TypeAdapter(made).validate_python(values)
    except ValidationError as error:
        where = error.errors()[0]
        field = str(where["loc"][0]).replace("_", "-") if where["loc"] else "thing"
        raise FieldError(f"thing, {field}", where["msg"].lower(), CURE) from None


def _parted(rest: str) -> list[str]:
    """What stands between commas that are no decimal ones."""
    return [part.strip() for part in re.split(r",(?!\d)", rest)]


def _lengths(kind: str, size: str, count: int) -> tuple[float, ...]:
    parts = size.lower().replace("×", "x").replace("*", "x").split("x")
    if len(parts) != count:
        raise FieldError("thing", f"a {kind} has {count} lengths, not {len(parts)}", CURE)
    if count == 1:
        return (parse_length(size, field="thing"),)
    if count == 3:
        return parse_size(size, field="thing")
    if size[-1:].isdigit():  # a third length that is not read lets both kinds share one reader
        return parse_size(f"{size}x1", field="thing")[:2]
    first = parse_length(parts[0] + _unit(parts[1]), field="thing")
    return first, parse_length(parts[1], field="thing")


def _fact(fact: str, made: type[AnyThing]) -> dict[str, Any]:
    """One field of a thing, from words such as “40 g” or “goes-in padded”."""
    mass = MASS.fullmatch(fact.lower())
    if mass:
        grams = float(mass["number"].replace(",", ".")) * MASSES[mass["unit"]]
        return {"weight": grams, "by": "weight"} if made is Loose else {"mass": grams}
    name, _, value = fact.replace("=", " ", 1).partition(" ")
    key, value = name.lower().replace("-", "_"), value.strip()
    known = made.model_fields
    if key not in known or key in ("name", "kind"):
        named = ", ".join(k.replace("_", "-") for k in known if k not in ("name", "kind"))
        raise FieldError(
            "thing", f"“{fact[:40]}” is no fact of it", f"Use a mass, or any of: {named}."
        )
    if key == "tag":
        width, height = _lengths("tag", value, 2)
        return {key: {"width": width, "height": height}}
    if key in LENGTHS:
        return {key: parse_length(value, field=f"thing, {name}")}
    if value.lower() in ("yes", "no"):
        return {key: value.lower() == "yes"}
    return {key: value}


def _unit(text: str) -> str:
    """The unit at the end of a length, if the one before has none of its own."""
    return text.lstrip(" 0123456789./-")
