"""How far a cutter misses what was printed: a sheet that is printed, cut and read off.

At four places two combs of lines meet along a base line: the printed lines are 2.0 mm apart,
the cut ones 1.9 mm.  Where a cut line meets a printed one, ``k`` lines from the middle, the
cut lies k tenths of a millimetre off (a vernier).  Of eight such readings the shift, the turn
and both scales follow by least squares.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from jadeite.core.errors import FieldError
from jadeite.core.nets.model import Floats
from jadeite.core.project import Correction
from jadeite.core.sheets.stock import usable_area

__all__ = [
    "GOOD_ENOUGH",
    "REACH",
    "Comb",
    "Solved",
    "combs",
    "cut_lines",
    "printed_lines",
    "readings_from",
    "solved",
]

PRINTED, CUT = 2.0, 1.9  # mm from line to line; from memory, so that a line is a tenth
LINES = 10  # on either side of the middle; from memory: a millimetre
LONG = 6.0  # mm of a line; from memory
REACH = LINES * (PRINTED - CUT)  # mm that can be read off
EDGE = 18.0  # mm from the edges of the paper to a comb; from memory, clear of the marks
APART = 11.0  # mm between the combs of one place; from memory
GOOD_ENOUGH = 0.3  # mm; common practice: when a print is met as well as that, it fits


@dataclass(frozen=True)
class Comb:
    """One pair of combs: ``middle`` in mm from the lower left, and along which axis it reads.

    ``axis`` 0 reads a shift to the right, 1 a shift up; ``name`` is what the maker calls it.
    """

    name: str
    middle: tuple[float, float]
    axis: int


def combs(size: tuple[float, float], reach: tuple[float, float]) -> tuple[Comb, ...]:
    """All combs of a sheet, in the order in which they are read off.

    Parameters
    ----------
    size : (width, height)
        Of the paper, mm.
    reach : (width, height)
        What the cutter reaches, mm.
    """
    x0, y0, wide, high = usable_area(size, reach, EDGE)
    half = LINES * PRINTED
    left, right, low, top = x0 + half, x0 + wide - half, y0 + LONG, y0 + high - LONG
    places = (
        ("lower left", left, low), ("lower right", right, low),
        ("upper right", right, top), ("upper left", left, top),
    )  # fmt: skip
    out = []
    for name, x, y in places:
        inward = 1 if y < size[1] / 2 else -1
        out.append(Comb(f"{name}, across", (x, y), 0))
        out.append(Comb(f"{name}, up", (x, y + inward * (APART + half)), 1))
    return tuple(out)


def _lines(comb: Comb, step: float, way: float) -> tuple[Floats, ...]:
    """Lines of a comb, (2, 2) each, mm, on one side of its base line."""
    out = []
    for k in range(-LINES, LINES + 1):
        line = np.array([[k * step, 0.0], [k * step, way * LONG]])
        out.append((line if comb.axis == 0 else line[:, ::-1]) + np.array(comb.middle))
    return tuple(out)


def printed_lines(comb: Comb) -> tuple[Floats, ...]:
    """What is printed: lines 2.0 mm apart above the base line, or right of it."""
    return _lines(comb, PRINTED, 1.0)


def cut_lines(comb: Comb) -> tuple[Floats, ...]:
    """What is cut: lines 1.9 mm apart below it, or left of it."""
    return _lines(comb, CUT, -1.0)


@dataclass(frozen=True)
class Solved:
    """The correction that readings ask for, and by how many mm they then still differ at most.

    ``off`` is by how much at most the cut missed the print where it was read, mm.
    """

    correction: Correction
    off: float
    left: float


def readings_from(words: str) -> tuple[float, ...]:
    """Readings as they are typed: eight numbers from -10 to 10, halves as well.

    Raises
    ------
    FieldError
        Another number of them, or one that is none.
    """
    cure = f"Type eight numbers from -{LINES} to {LINES}, such as 0 0.5 -1 0 1 0 0 0."
    parts = words.replace(",", " ").split()
    try:
        values = tuple(float(part) for part in parts)
    except ValueError:
        raise FieldError("readings", f"“{words[:40]}” holds what is no number", cure) from None
    if len(values) != 8:
        raise FieldError("readings", f"{len(values)} readings", cure)
    if not all(abs(value) <= LINES for value in values):  # refuses nan too
        raise FieldError("readings", "a reading is beyond the comb", cure)
    return values


def solved(
    readings: Sequence[float],
    size: tuple[float, float],
    reach: tuple[float, float],
    so_far: Correction,
) -> Solved:
    """The correction for readings from a sheet that was cut with the correction ``so_far``.

    Parameters
    ----------
    readings : eight floats
        Lines from the middle, in the order of :func:`combs`: where cut and print meet.
    size, reach : (width, height)
        Of the paper, and what the cutter reaches, mm.
    """
    off = np.asarray(readings, float) * (PRINTED - CUT)
    middle = np.array(size) / 2
    rows = []
    for comb in combs(size, reach):
        x, y = np.array(comb.middle) - middle
        # unknown: right, up, turn, wide, high
        rows.append([1.0, 0.0, -y, x, 0.0] if comb.axis == 0 else [0.0, 1.0, x, 0.0, y])
    system = np.array(rows)
    found, *_ = np.linalg.lstsq(system, off, rcond=None)
    left = float(np.abs(system @ found - off).max())
    right, up, turn, wide, high = found.tolist()
    more = np.array([[1 + wide, -turn], [turn, 1 + high]])
    old = np.array([[1 + so_far.wide, -so_far.turn], [so_far.turn, 1 + so_far.high]])
    whole = more @ old  # what was told has been corrected already
    shift = more @ (so_far.right, so_far.up) + (right, up)
    correction = Correction(
        right=float(shift[0]), up=float(shift[1]), turn=float(whole[1, 0] - whole[0, 1]) / 2,
        wide=float(whole[0, 0]) - 1, high=float(whole[1, 1]) - 1,
    )  # fmt: skip
    return Solved(correction, float(np.abs(off).max()), left)
