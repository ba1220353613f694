"""How sharp a picture is at its final size."""

from __future__ import annotations

from jadeite.core.units import INCH

__all__ = ["FAIR", "GOOD", "ppi", "verdict"]

GOOD, FAIR = 300.0, 200.0  # pixels an inch; common practice, print shops ask for the first


def ppi(pixels: float, millimetres: float) -> float:
    """Pixels an inch of so many pixels over a length in mm."""
    return pixels * INCH / millimetres


def verdict(value: float) -> str:
    """What so many pixels an inch look like, in a word or two."""
    if value >= GOOD:
        return "sharp"
    return "sharp enough at arm's length" if value >= FAIR else "blurred: its pixels show"
