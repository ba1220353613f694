"""A petal's outline of the maker's own: half widths at fixed places along its length.

A drawing becomes a row of whole numbers, so that it may be typed and kept like any other
outline, grow without changing its character, and give way to its neighbours.
"""

from __future__ import annotations

import numpy as np
import shapely
from scipy.interpolate import PchipInterpolator  # type: ignore[import-untyped]
from shapely.geometry import LineString, Polygon

from jadeite.core.errors import FieldError
from jadeite.core.nets.model import Floats

__all__ = [
    "PLACES",
    "ROOT_LEADS",
    "HalfWidths",
    "share_at",
    "widths_from_words",
    "widths_of",
    "words_of",
]

HalfWidths = tuple[int, ...]

COUNT = 21  # half widths; from memory, a drawing is followed within a hundredth of its length
PLACES = (1 - np.cos(np.pi * np.arange(COUNT) / (COUNT - 1))) / 2  # closer where ends are round
ROOT_LEADS = 0.12  # of the length, over which a root of its own width leads over; from memory
SLENDER = 0.08  # of its length is the least width of a petal that is drawn; from memory


def widths_from_words(words: str, field: str) -> HalfWidths:
    """Half widths as they are kept: ``0-35-…-0``, in per cent of the widest.

    Raises
    ------
    FieldError
        Another number of them, or one that is none; the text names what works.
    """
    parts = words.split("-")
    cure = f"Give {COUNT} whole numbers from 0 to 100, or read a drawing."
    if len(parts) != COUNT or not all(part.isdigit() and int(part) <= 100 for part in parts):
        raise FieldError(field, f"widths “{words[:30]}” cannot be followed", cure)
    widths = tuple(int(part) for part in parts)
    if max(widths[1:-1]) < 50 or min(widths[1:-1]) < 1:
        raise FieldError(field, "the outline is not wide enough to be held", cure)
    return widths


def words_of(widths: HalfWidths) -> str:
    """The other way round."""
    return "-".join(map(str, widths))


def share_at(widths: HalfWidths, x: Floats) -> Floats:
    """Half widths in parts of the widest at places from root to tip, 0 to 1, (n,) float.

    They are monotone between those that are given (Fritsch and Carlson, 1980), and begin with
    nothing of their own, as the root has a width by itself.
    """
    half = np.array(widths, float) / 100
    half[-1] = 0.0
    drawn = np.asarray(PchipInterpolator(PLACES, half)(np.clip(x, 0.0, 1.0)))
    ramp = np.clip(x / ROOT_LEADS, 0.0, 1.0)
    return np.asarray(drawn * ramp * ramp * (3 - 2 * ramp))


def widths_of(ring: Floats, name: str) -> tuple[float, HalfWidths]:
    """Width in per cent of the length, and the widths, of an outline that stands on its root.

    Its tip is up; both sides are made alike, and what is drawn in between them is filled.
    ``ring`` is (n, 2) float, y up, in any unit.

    Raises
    ------
    FieldError
        It is too slender to be a petal; the text names the drawing.
    """
    shape = shapely.make_valid(Polygon(ring))
    low_x, low_y, high_x, high_y = shape.bounds
    length = high_y - low_y
    inside = 1e-4  # of its length from either end, where a level still meets it; rounding
    chords = []
    for place in np.clip(PLACES, inside, 1 - inside):
        y = low_y + place * length
        met = shape.intersection(LineString([(low_x - 1, y), (high_x + 1, y)]))
        chords.append(0.0 if met.is_empty else met.bounds[2] - met.bounds[0])
    widest = max(chords)
    if widest < SLENDER * length:
        raise FieldError(
            "outline", f"{name} is too slender for a petal", "Draw it upright, its root below."
        )
    widths = [max(1, round(100 * width / widest)) for width in chords]
    return 100 * widest / length, (*widths[:-1], 0)
