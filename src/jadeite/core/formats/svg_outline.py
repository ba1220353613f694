"""An outline for windows, read from an SVG file: its closed shapes, brought to one size.

Every closed shape becomes a cut-out.  What lies inside another would fall out
with it, so only outer outlines are kept; shapes that overlap are joined.
"""

from __future__ import annotations

import math
import re
from io import StringIO
from pathlib import Path

import numpy as np
import shapely
import svgelements
from shapely.geometry import Polygon

from jadeite.core.errors import FileError
from jadeite.core.formats.hostile import text_of_file
from jadeite.core.nets.model import Floats
from jadeite.core.project import MOST_CORNERS, MOST_RINGS, Outline

__all__ = ["outline_from_text", "read_outline"]

STEPS = 48  # points along each curve; from memory, thinned out again where it is straight
CLOSE = 1 / 3000  # of the longer side; within 0.02 mm at 60 mm, design rule
LEAST = 1e-4  # of the area of the square round it; from memory, smaller specks are none
OPEN = 1e-3  # of the longer side; from memory, ends this near meet


def read_outline(path: Path) -> Outline:
    """The closed shapes of an SVG file (W3C SVG 1.1) as one outline.

    Raises
    ------
    FileError
        It cannot be read, is no SVG, or has no closed shape, or more than can be cut.
    """
    return outline_from_text(text_of_file(path), str(path))


def outline_from_text(text: str, name: str) -> Outline:
    """The closed shapes of an SVG drawing as one outline; see :func:`read_outline`."""
    path = Path(name)
    if "<!ENTITY" in text:
        raise FileError(str(path), "it defines entities, which are not read")
    try:
        drawing = svgelements.SVG.parse(StringIO(text), reify=True)
        shapes = [e for e in drawing.elements() if isinstance(e, svgelements.Shape)]
        lines = [line for shape in shapes for line in _lines(shape)]
    except (ValueError, SyntaxError, TypeError, AttributeError, KeyError, IndexError,
            ZeroDivisionError, RecursionError, OverflowError) as error:  # fmt: skip
        raise FileError(str(path), "it is no SVG drawing that can be read") from error
    rings = _rings(lines)
    if not rings:
        raise FileError(
            str(path), "it has no closed shape. Draw the outline as a closed path and save it again"
        )
    if len(rings) > MOST_RINGS:
        raise FileError(str(path), f"it has more than {MOST_RINGS} shapes. Keep the main ones")
    if any(len(ring) > MOST_CORNERS for ring in rings):
        raise FileError(str(path), "its outline is too fine to cut. Simplify the path")
    words = re.sub(r"[^a-z0-9]+", "-", path.stem.lower()).strip("-")[:50] or "outline"
    title = path.stem[:60] or "outline"
    try:
        return Outline(key=f"own-{words}", title=title, rings=tuple(rings))
    except ValueError as error:
        raise FileError(str(path), "its outline crosses itself") from error


def _lines(shape: svgelements.Shape) -> list[Floats]:
    """Each part of a shape as points (n, 2), y up."""
    out = []
    for part in svgelements.Path(shape.segments(transformed=True)).as_subpaths():
        points: list[tuple[float, float]] = []
        for segment in svgelements.Path(part):
            straight = isinstance(segment, svgelements.Line | svgelements.Close | svgelements.Move)
            if segment.end is None:
                continue
            steps = [1.0] if straight else np.linspace(0.0, 1.0, STEPS + 1)[1:].tolist()
            for t in steps:
                at = segment.end if straight else segment.point(t)
                points.append((float(at.x), -float(at.y)))
        line = np.array(points)
        if len(line) > 3 and np.isfinite(line).all():
            out.append(line)
    return out


def _rings(lines: list[Floats]) -> list[tuple[tuple[float, float], ...]]:
    """Outer outlines about (0, 0), longer side 1."""
    if not lines:
        return []
    every = np.concatenate(lines)
    side = float(np.ptp(every, axis=0).max())
    closed = [line for line in lines if math.dist(line[0], line[-1]) <= OPEN * side]
    if not closed or side <= 0:
        return []
    every = np.concatenate(closed)
    low, high = every.min(axis=0), every.max(axis=0)
    side = float((high - low).max())
    shapes = _without_ground([Polygon((line - (low + high) / 2) / side) for line in closed])
    whole = shapely.union_all([shapely.make_valid(s) for s in shapes])
    parts = [p for p in shapely.get_parts(whole) if isinstance(p, Polygon) and p.area > LEAST]
    outer = [shapely.simplify(Polygon(part.exterior), CLOSE) for part in parts]
    kept = [p for p in outer if isinstance(p, Polygon) and not p.is_empty]
    # an outline inside another's filled hole falls out with it
    kept = [p for p in kept if not any(q is not p and q.contains(p) for q in kept)]
    return [tuple((round(x, 6), round(y, 6)) for x, y in p.exterior.coords[:-1]) for p in kept]


def _without_ground(shapes: list[Polygon]) -> list[Polygon]:
    """The shapes without a rectangle that only lies behind all others."""
    largest = max(shapes, key=lambda shape: float(shape.area))
    others = [shape for shape in shapes if shape is not largest]
    square = largest.is_valid and abs(float(largest.area - largest.envelope.area)) < LEAST
    return others if others and square and all(map(largest.covers, others)) else shapes
