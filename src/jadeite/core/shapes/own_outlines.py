"""Outlines of the maker's own for pockets: from a drawing, or from the letters of a word."""

from __future__ import annotations

import numpy as np
import shapely
from shapely import affinity
from shapely.geometry import LineString, Polygon, box

from jadeite.core.errors import FieldError
from jadeite.core.lettering import STYLES, line_of, unwritable
from jadeite.core.photos import regions_of, rings_from_words

__all__ = ["LETTERS", "own_outline", "own_words"]

LETTERS = "text:"  # what the words of an outline of letters begin with
MOST = 12  # letters; from memory, more make no pocket
STOUT = 0.2  # of a capital's height, the half width of its strokes; from memory
JOINED = 0.6  # likewise, across which letters are joined; from memory
UPPER = 0.4  # of the height: the mouth lies above that; from memory
BROAD = 0.6  # of the widest: as high as a mouth of that width goes; from memory
STEPS = 80  # setting: places in which a mouth is sought
LEAST = 0.2  # of the widest, the least mouth; from memory
CLOSE = 0.002  # of the mouth that an outline may be off after thinning its corners; from memory
QUARTER = 16  # setting: parts of a quarter of an arc


def own_words(words: str, field: str) -> str:
    """An outline of one's own as it is kept: rings of a drawing, or ``text:`` and a word.

    Raises
    ------
    FieldError
        It is neither, or cannot be written.
    """
    if words.startswith(LETTERS):
        text = words.removeprefix(LETTERS).strip()
        cure = f"Type 1 to {MOST} letters, such as {LETTERS}STARS."
        if not 1 <= len(text) <= MOST or not text.replace(" ", ""):
            raise FieldError(field, f"“{text[:20]}” makes no outline", cure)
        if why := unwritable(text):
            raise FieldError(field, why, cure)
        return LETTERS + text
    rings_from_words(words, field)
    own_outline(words)
    return words


def own_outline(words: str) -> Polygon:
    """The outline below its mouth, which runs from -0.5 to 0.5 on top at y = 0.

    Raises
    ------
    FieldError
        It has nowhere to put a mouth.
    """
    text = words.startswith(LETTERS)
    shape = _letters(words.removeprefix(LETTERS)) if text else _drawn(words)
    x0, y0, x1, y1 = shape.bounds
    best: tuple[float, float, Polygon] | None = None
    for y in np.linspace(y1 - UPPER * (y1 - y0), y1, STEPS, endpoint=False).tolist():
        below = shape.intersection(box(x0 - 1, y0 - 1, x1 + 1, y))
        part = max(shapely.get_parts(below), key=lambda p: p.area)
        cut = part.intersection(LineString([(x0 - 1, y), (x1 + 1, y)]))
        mouth = max((float(p.length) for p in shapely.get_parts(cut)), default=0.0)
        whole = abs(mouth - float(cut.length)) < 1e-9  # else it would have two mouths
        broad = best is None or mouth >= min(best[0], BROAD * (x1 - x0))
        if isinstance(part, Polygon) and whole and broad:
            best = mouth, y, part
    if best is None or best[0] < LEAST * (x1 - x0):
        raise FieldError(
            "outline", "it has no place for a mouth near its top",
            "Draw it with a broad upper edge.",
        )  # fmt: skip
    mouth, y, part = best
    line = part.intersection(LineString([(x0 - 1, y), (x1 + 1, y)]))
    left, _, right, _ = line.bounds
    moved = affinity.translate(part, -(left + right) / 2, -y)
    plain = affinity.scale(moved, 1 / mouth, 1 / mouth, origin=(0, 0))
    thin = shapely.simplify(plain, CLOSE)
    return thin if isinstance(thin, Polygon) and not thin.is_empty else plain


def _drawn(words: str) -> Polygon:
    """The largest closed shape of a drawing, what lies in it filled."""
    largest = max(regions_of(rings_from_words(words, "outline")).geoms, key=lambda p: p.area)
    return Polygon(largest.exterior)


def _letters(text: str) -> Polygon:
    """Stout letters joined to one outline, a capital 1 high."""
    strokes = line_of(text, next(iter(STYLES))).strokes
    stout = shapely.union_all(
        [LineString(s).buffer(STOUT, quad_segs=QUARTER) for s in strokes if len(s) > 1]
    )
    whole = stout.buffer(JOINED, quad_segs=QUARTER).buffer(-JOINED, quad_segs=QUARTER)
    reach = JOINED
    while whole.geom_type != "Polygon":  # words apart: joined as far as it takes
        reach *= 1.5
        whole = stout.buffer(reach, quad_segs=QUARTER).buffer(-reach, quad_segs=QUARTER)
    return Polygon(whole.exterior)
