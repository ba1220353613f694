"""What flat shapes share: cards of a closed size, and pouches into which flat things go."""

from __future__ import annotations

from collections.abc import Mapping

from jadeite.core.contents import AnyThing, FlatPack
from jadeite.core.contents.things import GoesIn
from jadeite.core.errors import FieldError, inside_way
from jadeite.core.nets.model import Dimension
from jadeite.core.reckoning import Reckoning, given, reckon
from jadeite.core.shapes.registry import OptionValue, Size, check_inside
from jadeite.core.units import number_text

__all__ = [
    "LAYING",
    "check_face",
    "check_pouch",
    "face_dimensions",
    "outside_of",
    "pouch_inside",
    "taken_by_holder",
    "taken_flat",
]

LAYING = ("length", "width", "thickness")  # what the lengths of a pouch's inside are called


def check_face(width: float, height: float, low: float, high: float, what: str) -> None:
    """Refuse a closed size in mm that a card cannot have; it names the nearest.

    Raises
    ------
    FieldError
        A length is out of range.
    """
    for name, value in (("width", width), ("height", height)):
        if not low <= value <= high:  # refuses nan too
            near = high if value > high else low
            size = tuple(min(max(v, low), high) for v in (width, height))
            raise FieldError(
                f"face {name}",
                f"{number_text(value)} mm is outside what {what} can be",
                f"Use {number_text(near)} mm.",
                ((("brief.size", size),),),
            )


def check_pouch(
    inside: Size, thin: tuple[float, float], low: float, high: float, what: str
) -> None:
    """Refuse an inside in mm (width, height, thickness) that a pouch cannot have.

    Raises
    ------
    FieldError
        A length is out of range; it names the nearest, or a box for what is too thick.
    """
    check_inside(inside, LAYING, thin[0], high)
    for axis, value in zip(LAYING[:2], inside[:2], strict=True):
        if value < low:
            raise FieldError(
                f"inside {axis}",
                f"{number_text(value)} mm is less than {what} can be",
                f"Use {number_text(low)} mm.",
                (inside_way(axis, low),),
            )
    if inside[2] > thin[1]:
        raise FieldError(
            "inside thickness",
            f"{number_text(inside[2])} mm is too thick for {what}",
            "Choose a box.",
        )


def taken_flat(thing: AnyThing, *, way: GoesIn, lying: bool, what: str) -> AnyThing:
    """A flat thing as it goes into a pouch, by its long edge where it is ``lying``.

    A thing that is simply put in goes in that ``way``.

    Raises
    ------
    FieldError
        It is not flat.
    """
    if not thing.flat:
        raise FieldError(
            "thing", f"{thing.name} is not flat, so it does not go into {what}", "Choose a box."
        )
    if isinstance(thing, FlatPack) and thing.tag is not None:
        return thing
    thick, short, long = sorted(thing.size)
    return FlatPack(
        name=thing.name,
        count=thing.count,
        mass=thing.each_mass,
        goes_in=way if thing.goes_in == "dropped" else thing.goes_in,
        clearance=thing.clearance,
        width=long if lying else short,
        height=short if lying else long,
        thickness=thick,
        padding=thing.padding,
        squeeze=thing.squeeze,
    )


def taken_by_holder(thing: AnyThing, options: Mapping[str, OptionValue]) -> AnyThing:
    """A flat thing as it goes into a holder: upright, as it is read.

    Raises
    ------
    FieldError
        It is not flat.
    """
    return taken_flat(thing, way="pocket", lying=False, what="a holder")


def pouch_inside(title: str, inside: Size) -> dict[str, Reckoning]:
    """The width and height inside, as they were asked for, in mm."""
    return {
        f"inside-{name}": given(f"{title} inside, {name}", value)
        for name, value in zip(("width", "height"), inside[:2], strict=True)
    }


def outside_of(title: str, inside: Size, thickness: float) -> dict[str, Reckoning]:
    """The width and height outside: a board of a thickness in mm on either side."""
    return {
        f"outside-{name}": reckon(
            f"{title} outside, {name}",
            value + 2 * thickness,
            "inside and a board on either side",
            given(f"inside {name}", value),
            given("board thickness", thickness),
        )
        for name, value in zip(("width", "height"), inside[:2], strict=True)
    }


def face_dimensions(
    piece: str, panel: str, low: tuple[float, float], high: tuple[float, float]
) -> tuple[Dimension, ...]:
    """Width along the foot and height along the right side of a rectangle on a panel, mm."""
    (x0, y0), (x1, y1) = low, high
    return (
        Dimension("width", piece, panel, (x0, y0, 0.0), (x1, y0, 0.0), (0.0, -1.0, 0.0), x1 - x0),
        Dimension("height", piece, panel, (x1, y0, 0.0), (x1, y1, 0.0), (1.0, 0.0, 0.0), y1 - y0),
    )
