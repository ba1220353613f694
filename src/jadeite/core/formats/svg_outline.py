"""An outline for windows, read from an SVG file: its closed shapes, brought to one size.

Every closed shape becomes a cut-out.  What lies inside another would fall out
with it, so only outer outlines are kept; shapes that overlap are joined.
"""

from __future__ import annotations

import json
import math
import re
import resource
import subprocess
import sys
from io import StringIO
from pathlib import Path

import numpy as np
import shapely
import svgelements
from lxml import etree
from shapely.geometry import Polygon

from jadeite.core.errors import FileError
from jadeite.core.formats.hostile import text_of_file
from jadeite.core.nets.model import Floats
from jadeite.core.photos import words_of_rings
from jadeite.core.project import MOST_CORNERS, MOST_RINGS, Outline

__all__ = ["outline_from_text", "read_outline", "rings_words"]

STEPS, FEWEST = 48, 6  # points along each curve; from memory, thinned out where it is straight
MOST_POINTS = 30_000  # along all curves; from memory, a blade's outline has a tenth of it
MOST_NUMBERS, MOST_TAGS, MOST_DEEP = 20_000, 3_000, 100  # of a drawing; from memory
FAR = 1e9  # units; from memory, beyond any drawing
SECONDS, MEMORY = 5, 700_000_000  # of CPU, and bytes, for a foreign file; from memory
XLINK = "{http://www.w3.org/1999/xlink}href"
START = re.compile(r"\d+")
STRAIGHT = (svgelements.Line, svgelements.Close, svgelements.Move)
CLOSE = 1 / 3000  # of the longer side; within 0.02 mm at 60 mm, design rule
LEAST = 1e-4  # of the area of the square round it; from memory, smaller specks are none
OPEN = 1e-3  # of the longer side; from memory, ends this near meet


def read_outline(path: Path) -> Outline:
    """The closed shapes of an SVG file (W3C SVG 1.1) as one outline.

    A foreign file is read in a process of its own, which may take 5 s and 700 MB.

    Raises
    ------
    FileError
        It cannot be read, is no SVG, or has no closed shape, or more than can be cut.
    """
    text_of_file(path)  # what can be said at once
    try:
        done = subprocess.run(
            [sys.executable, "-m", "jadeite.core.formats.svg_outline", str(path)],
            capture_output=True,
            timeout=4 * SECONDS,
            check=False,
        )
        kind, *rest = json.loads(done.stdout)
    except (subprocess.TimeoutExpired, ValueError):
        words = "it takes too long to read, or too much memory. Simplify the drawing"
        raise FileError(str(path), words) from None
    if kind == "error":
        raise FileError(*rest)
    return Outline.model_validate(rest[0])


def rings_words(path: Path) -> str:
    """The closed shapes of an SVG file as an option of a shape keeps them.

    Raises
    ------
    FileError
        As for :func:`read_outline`.
    """
    return words_of_rings(tuple(np.array(ring) for ring in read_outline(path).rings))


def _main(path: str) -> None:
    """Read a file within limits and print what it is, as JSON."""
    resource.setrlimit(resource.RLIMIT_CPU, (SECONDS, SECONDS))
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY, MEMORY))
    try:
        outline = outline_from_text(text_of_file(Path(path)), path)
    except FileError as error:
        print(json.dumps(["error", error.path, error.problem, error.place]))
        return
    print(json.dumps(["outline", outline.model_dump(mode="json")]))


def outline_from_text(text: str, name: str) -> Outline:
    """The closed shapes of an SVG drawing as one outline; see :func:`read_outline`.

    Raises
    ------
    FileError
        It is no drawing, or too much of one.
    """
    path = Path(name)
    if "<!ENTITY" in text:
        raise FileError(str(path), "it defines entities, which are not read")
    _check_size(text, name)
    try:
        drawing = svgelements.SVG.parse(StringIO(text), reify=True)
        shapes = [e for e in drawing.elements() if isinstance(e, svgelements.Shape)]
        lines = _lines(shapes)
    except (ValueError, SyntaxError, TypeError, AttributeError, KeyError, IndexError,
            ZeroDivisionError, RecursionError, OverflowError) as error:  # fmt: skip
        raise FileError(str(path), "it is no SVG drawing that can be read") from error
    try:
        rings = _rings(lines)
    except (shapely.errors.GEOSException, ValueError) as error:
        raise FileError(str(path), "its outline cannot be followed. Simplify the path") from error
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


def _check_size(text: str, name: str) -> None:
    """Refuse what grows beyond reason when it is read: before it is.

    Raises
    ------
    FileError
        Too many numbers, shapes, or shapes that are used again and again.
    """
    if len(START.findall(text, 0)) > MOST_NUMBERS:
        raise FileError(name, "its outline is too fine to cut. Simplify the path")
    if text.count("<") > MOST_TAGS:
        raise FileError(name, "it holds too many shapes. Keep the main ones")
    try:
        root = etree.fromstring(text.encode(), etree.XMLParser(resolve_entities=False))
    except (etree.XMLSyntaxError, ValueError, UnicodeEncodeError) as error:
        raise FileError(name, "it is no SVG drawing that can be read") from error
    known = {e.get("id"): e for e in root.iter("*") if e.get("id")}
    sizes: dict[int, float] = {}

    def size(element: etree._Element, within: frozenset[int]) -> float:
        """How many elements it stands for, once what it uses is copied in."""
        key = id(element)
        if key in within or len(within) > MOST_DEEP:
            return math.inf
        if key not in sizes:
            deeper = within | {key}
            total = 1.0 + sum(size(child, deeper) for child in element)
            for attribute in ("href", XLINK) if isinstance(element.tag, str) else ():
                used = known.get(element.get(attribute, "").lstrip("#"))
                if used is not None:
                    total += size(used, deeper)
            sizes[key] = total
        return sizes[key]

    if size(root, frozenset()) > MOST_TAGS:
        raise FileError(name, "it uses its shapes again and again. Keep the main ones")


def _lines(shapes: list[svgelements.Shape]) -> list[Floats]:
    """Each part of the shapes as points (n, 2), y up; the more curves, the fewer points on each."""
    out = []
    paths = [svgelements.Path(shape.segments(transformed=True)) for shape in shapes]
    bent = sum(not isinstance(s, STRAIGHT) for path in paths for s in path)
    count = max(FEWEST, min(STEPS, MOST_POINTS // max(1, bent)))
    for part in (part for path in paths for part in path.as_subpaths()):
        points: list[tuple[float, float]] = []
        for segment in svgelements.Path(part):
            straight = isinstance(segment, STRAIGHT)
            if segment.end is None:
                continue
            steps = [1.0] if straight else np.linspace(0.0, 1.0, count + 1)[1:].tolist()
            for t in steps:
                at = segment.end if straight else segment.point(t)
                points.append((float(at.x), -float(at.y)))
        line = np.array(points)
        if len(line) > 3 and np.isfinite(line).all() and np.abs(line).max() < FAR:
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


if __name__ == "__main__":
    _main(sys.argv[1])
