"""The value of a reckoning as a person reads it."""

from __future__ import annotations

from jadeite.core.reckoning import Reckoning
from jadeite.core.units import (
    INCH,
    System,
    format_area,
    format_duration,
    format_length,
    number_text,
)

__all__ = ["reckoning_text"]

_WORDS = {"g/m2": "g/m²", "deg": "°"}


def reckoning_text(value: Reckoning, system: System = "mm") -> str:
    """The value with its unit; small lengths get two places."""
    v, unit = value.value, value.unit
    if unit == "mm":
        small = "thick" in value.name.lower() or (abs(v) < 1 and v != 0)
        if system == "inches" and 0 < abs(v) < INCH / 16:  # which cannot say it
            return f"{number_text(v / INCH, 3)} in"
        return format_length(v, system, places=2 if small else 1)
    if unit == "mm2":
        return format_area(v, system)
    if unit == "s":
        return format_duration(v)
    if float(v).is_integer():
        places = 0
    elif unit in ("", "GPa"):
        places = 2 if abs(v) >= 1 else 5
    else:
        places = 1
    return f"{number_text(v, places)} {_WORDS.get(unit, unit)}".strip()
