"""Letters set so that the white between them looks even: the same area, not the same gap."""

from __future__ import annotations

import unicodedata
from dataclasses import dataclass
from functools import cache

import numpy as np
from numpy.lib.stride_tricks import sliding_window_view

from jadeite.core.lettering.letters import ALIKE, JOINED, UNIT, Floats, Glyph, glyph_of

__all__ = ["AREA", "REACH", "Line", "line_of", "white_between"]

# all in heights of a capital
ROW = 1 * UNIT  # setting: height of the rows in which white is measured
AREA = 6.6 * UNIT  # from memory: white between two letters, on the average of their rows
ALONE = 0.3  # from memory: weight of a row in which only one of them has ink
REACH = 12.0 * UNIT  # from memory: the eye counts no more white than this in a row
LEAST = 3.0 * UNIT  # from memory: ink of two letters comes no nearer
NEIGHBOURS = 3  # rows above and below in which ink is near; from memory
TUCK = 5.0 * UNIT  # from memory: no letter stands further under the arm of another
WORDS = 10.0 * UNIT  # from memory: white that a space adds
FINE = 0.02 * UNIT  # setting: letters are set to this
LOW, HIGH = -7, 28  # units: rows from under the base line to over an accent


@dataclass(frozen=True, eq=False)
class Line:
    """One line of letters: strokes (n, 2) float, a capital 1 high, and the box of its ink."""

    text: str
    strokes: tuple[Floats, ...]
    box: tuple[float, float, float, float]

    @property
    def width(self) -> float:
        """From the first ink to the last."""
        return self.box[2] - self.box[0]


@cache
def _profile(char: str, style: str) -> tuple[Floats, Floats]:
    """Left and right end of a letter's ink in each row; inf and -inf where a row has none."""
    left, right = np.full(HIGH - LOW, np.inf), np.full(HIGH - LOW, -np.inf)
    glyph = glyph_of(char, style)
    for stroke in glyph.strokes if glyph else ():
        long = np.linalg.norm(np.diff(stroke, axis=0), axis=1)
        at = np.concatenate([[0.0], np.cumsum(long)])
        dense = np.linspace(0, at[-1], max(2, int(at[-1] / (ROW / 4))))
        x, y = (np.interp(dense, at, stroke[:, k]) for k in (0, 1))
        row = np.clip(np.floor(y / ROW - LOW).astype(int), 0, HIGH - LOW - 1)
        np.minimum.at(left, row, x)
        np.maximum.at(right, row, x)
    return left, right


def white_between(one: str, other: str, apart: float, style: str = "plain") -> float:
    """White between two letters whose origins are so far apart, on the average of their rows.

    A row counts up to :data:`REACH`; one in which only one has ink, such as beside what
    rises above the others, counts less.
    """
    right, left = _profile(one, style)[1], _profile(other, style)[0]
    ink = np.isfinite(right).astype(float) + np.isfinite(left)
    weight = np.where(ink == 2, 1.0, np.where(ink == 1, ALONE, 0.0))
    if not weight.any():
        return REACH
    gaps = np.clip(apart + left - right, 0.0, REACH)
    return float(np.average(gaps, weights=weight))


def _nearest(one: str, other: str, apart: float, style: str) -> float:
    """Least white in a row or between neighbouring rows."""
    right, left = _profile(one, style)[1], _profile(other, style)[0]
    wide = np.pad(right, NEIGHBOURS, constant_values=-np.inf)
    near = sliding_window_view(wide, 2 * NEIGHBOURS + 1).max(axis=1)
    return float(np.min(apart + left - near))


def _known(char: str, style: str) -> Glyph:
    glyph = glyph_of(char, style)
    if glyph is None:
        raise ValueError(f"no glyph for {char!r}")
    return glyph


@cache
def _apart(one: str, other: str, style: str) -> float:
    """How far apart the origins of two letters stand."""
    a, b = _known(one, style), _known(other, style)
    if style in JOINED and one.isalpha() and other.isalpha():
        return a.end - b.start  # the end of one is the start of the next
    low, high = a.box[2] - b.box[0] - TUCK, a.box[2] - b.box[0] + REACH
    while high - low > FINE:
        middle = (low + high) / 2
        enough = white_between(one, other, middle, style) >= AREA
        if enough and _nearest(one, other, middle, style) >= LEAST:
            high = middle
        else:
            low = middle
    return high


def line_of(text: str, style: str = "plain", loose: float = 0.0) -> Line:
    """Set a line of text; its first letter's origin is at x = 0, its base line at y = 0.

    ``loose`` is how much further than usual letters stand apart, in capitals' heights.

    Raises
    ------
    ValueError
        There is no glyph for a letter: ask :func:`unwritable` first.
    """
    plain = unicodedata.normalize("NFC", text.translate(ALIKE)).strip()
    at, before, spaces = 0.0, "", 0
    strokes: list[Floats] = []
    for char in plain:
        if char == " ":
            spaces += 1
            continue
        glyph = _known(char, style)
        if before:
            at += _between(before, char, spaces, style) + loose
        strokes += _moved(glyph, at)
        before, spaces = char, 0
    return Line(plain, tuple(strokes), Glyph(tuple(strokes), 0.0, 0.0).box)


def _between(one: str, other: str, spaces: int, style: str) -> float:
    if not spaces or style not in JOINED:
        return _apart(one, other, style) + spaces * WORDS
    a, b = _known(one, style), _known(other, style)
    return a.end - b.start + spaces * WORDS


def _moved(glyph: Glyph, by: float) -> list[Floats]:
    return [stroke + np.array([by, 0.0]) for stroke in glyph.strokes]
