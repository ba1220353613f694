"""Sizes in which sheets are sold."""

from __future__ import annotations

from dataclasses import dataclass

from jadeite.core.units import INCH

__all__ = ["SHEET_SIZES", "SheetSize", "usable_area"]


@dataclass(frozen=True, slots=True)
class SheetSize:
    """Width and height in mm, with the words for it."""

    key: str
    title: str
    width: float
    height: float


# mm; published or common practice, as each says
SHEET_SIZES = (
    SheetSize("12x12in", "12 × 12 in", 12 * INCH, 12 * INCH),  # common practice
    SheetSize("letter", "8.5 × 11 in", 8.5 * INCH, 11 * INCH),  # published: ANSI/ASME Y14.1, A
    SheetSize("a4", "A4", 210.0, 297.0),  # published: ISO 216
    SheetSize("a3", "A3", 297.0, 420.0),  # published: ISO 216
    SheetSize("6x6in", "6 × 6 in", 6 * INCH, 6 * INCH),  # common practice
    SheetSize("12x24in", "12 × 24 in", 12 * INCH, 24 * INCH),  # common practice
)


def usable_area(
    sheet: tuple[float, float], reach: tuple[float, float], margin: float
) -> tuple[float, float, float, float]:
    """Part of a sheet that can be cut: x, y, width, height in mm from its lower left.

    The cutter reaches ``reach`` (width, height, in mm) and the sheet may be
    turned under it; ``margin`` stays free at every edge.  The part is centred.
    """
    width, height = sheet
    best = (0.0, 0.0)
    for across, along in (reach, reach[::-1]):
        part = (min(width - 2 * margin, across), min(height - 2 * margin, along))
        if part[0] * part[1] > best[0] * best[1] and min(part) > 0:
            best = part
    return (width - best[0]) / 2, (height - best[1]) / 2, best[0], best[1]
