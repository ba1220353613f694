"""Adhesives with the time that each takes."""

from __future__ import annotations

from dataclasses import dataclass

from jadeite.core.errors import FieldError

__all__ = ["ADHESIVES", "Adhesive", "adhesive_by_key"]


@dataclass(frozen=True, slots=True)
class Adhesive:
    """Times in s: held by hand, until it may be handled, until it is dry.

    ``film`` is how much of it a glued area takes, g/m²; 0 for tape.
    """

    key: str
    title: str
    hold: float
    handle: float
    dry: float
    film: float
    caution: str = ""


ADHESIVES = (  # times and films from memory
    Adhesive("liquid-craft-glue", "Liquid craft glue", 20.0, 300.0, 3600.0, 100.0),
    Adhesive("clear-thin-glue", "Clear thin glue", 20.0, 600.0, 1800.0, 60.0),
    Adhesive("glue-stick", "Glue stick", 5.0, 300.0, 900.0, 25.0),
    Adhesive(
        "hot-glue",
        "Hot glue",
        15.0,
        60.0,
        300.0,
        350.0,
        "Hot glue burns: keep fingers off the bead and children away; the gun maker's "
        "instructions and local rules come first.",
    ),
    Adhesive("double-sided-tape", "Double-sided tape", 0.0, 0.0, 0.0, 0.0),
)
_BY_KEY = {adhesive.key: adhesive for adhesive in ADHESIVES}


def adhesive_by_key(key: str) -> Adhesive:
    """The adhesive with this key.

    Raises
    ------
    FieldError
        No such adhesive; the text lists the keys.
    """
    if key not in _BY_KEY:
        raise FieldError(
            "adhesive", f"there is no adhesive “{key[:40]}”", f"Use one of: {', '.join(_BY_KEY)}."
        )
    return _BY_KEY[key]
