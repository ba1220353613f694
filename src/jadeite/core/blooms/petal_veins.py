"""Lines on petals and leaves: along the middle, veins that leave it, slanting cuts beside it.

They keep clear of every edge, so that no petal tears off, and end before the
tip.  A petal lies along x, from its root at 0, as in :mod:`~jadeite.core.blooms.outlines`.
"""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
import shapely
from shapely.geometry import LineString, Polygon
from shapely.geometry.base import BaseGeometry

from jadeite.core.nets.model import Floats, Trace, Vein

__all__ = ["LINES", "LINES_BESIDE", "petal_veins"]

# what may be drawn on petals: key, and words
LINES = (
    ("none", "none"),
    ("middle", "a middle line"),
    ("veins", "a middle line and veins"),
    ("cuts", "a line and slanting cuts"),
)
# the same where the middle is a crease
LINES_BESIDE = (("none", "none"), ("veins", "veins"), ("cuts", "slanting cuts"))
BESIDE = 2.0  # mm; from memory, a line nearer to an edge tears it
SHORT = 4.0  # mm; from memory, a shorter line is not worth its time
APART, SPREAD = 5.0, 0.16  # mm, and of the length: from one vein to the next; from memory
SLANT, BOW = 0.9, 0.35  # how far a vein leads on for each mm aside, and how it bows; from memory
FIRST = 0.14  # of the length, where the first vein leaves the middle; from memory
INNER, OUTER = 0.24, 0.8  # of the half width, between which a cut runs; from memory
CUT_SLANT = 0.7  # how far a cut leads on for each mm aside; from memory
FINE = 7  # corners of a vein; from memory, within 0.02 mm
GRID = 1e-6  # mm; rounding


def petal_veins(kind: str, edge: Floats, *, middle: bool = True) -> tuple[Vein, ...]:
    """The lines on a petal, by the upper edge from its root to its tip, (n, 2) float, mm.

    ``kind`` is one of ``LINES``; without ``middle`` that line is left out, as it is a fold.
    """
    if kind == "none":
        return ()
    clear = _clear(edge)
    end = float(edge[-1, 0])
    spine = _first(LineString([(0.0, 0.0), (end, 0.0)]), clear)
    if spine is None:
        return ()
    out = [Vein(spine)] if middle else []
    trace = Trace.CUT if kind == "cuts" else Trace.PRESSED
    for upper in _beside(kind, edge, spine, clear):
        out.append(Vein(upper, trace))
        out.append(Vein(upper * np.array([1.0, -1.0]), trace))
    return tuple(out)


def _clear(edge: Floats) -> BaseGeometry:
    """The petal without a rim along its edges."""
    whole = Polygon(np.vstack([edge, edge[-2::-1] * np.array([1.0, -1.0])])).buffer(0)
    return whole.buffer(-BESIDE)


def _first(line: LineString, clear: BaseGeometry) -> Floats | None:
    """Of a line the longest part clear of all edges, (n, 2), as it runs; None if it is short."""
    parts = shapely.get_parts(line.intersection(clear))
    longest = max(parts, key=lambda part: float(part.length), default=LineString())
    return np.asarray(shapely.get_coordinates(longest)) if longest.length >= SHORT else None


def _beside(kind: str, edge: Floats, spine: Floats, clear: BaseGeometry) -> Iterator[Floats]:
    """Veins, or cuts, above the middle line, (n, 2) each, from the root to the tip."""
    if kind == "middle":
        return
    top = int(np.argmax(edge[:, 0])) + 1
    length, far = float(edge[:top, 0].max()), float(edge[:, 1].max())
    low, high = float(spine[0, 0]), float(spine[-1, 0])
    step = max(APART, SPREAD * length)
    for start in np.arange(max(low, FIRST * length), high - SHORT, step).tolist():
        aside = np.linspace(0.0, far, FINE)
        if kind == "veins":
            line = np.column_stack([start + SLANT * aside + BOW * aside**2 / far, aside])
        else:
            half = float(np.interp(start, edge[:top, 0], edge[:top, 1]))
            ends = np.array([INNER, OUTER]) * half
            line = np.column_stack([start + CUT_SLANT * (ends - ends[0]), ends])
        part = _first(LineString(line), clear)
        if part is None:
            continue
        if kind == "veins" and part[0, 1] > GRID:
            continue  # it does not reach the middle
        if kind == "cuts" and part[0, 1] < BESIDE:
            continue  # no board is left between it and its mirror image
        yield part
