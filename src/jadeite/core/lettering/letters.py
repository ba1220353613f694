"""Letters of one stroke, with accents of our own.

The alphabet is that of A. V. Hershey (1967), as the package Hershey-Fonts holds
it: corners on a grid, 21 units from the base line to the top of a capital.  Here
a capital is 1 high, y points up from the base line, and bends are rounded.

Glossary
--------
glyph
    The strokes of one letter with its accents.
mark
    An accent: strokes above or below a letter.
"""

from __future__ import annotations

import unicodedata
from collections.abc import Iterable
from dataclasses import dataclass
from functools import cache, cached_property
from typing import Any

import numpy as np
from HersheyFonts import HersheyFonts
from numpy.typing import NDArray

__all__ = ["ALIKE", "JOINED", "STYLES", "UNIT", "Floats", "Glyph", "glyph_of", "unwritable"]

Floats = NDArray[np.float64]

STYLES = {"plain": "futural", "script": "scripts"}  # ours to the alphabet's; joined are scripts
JOINED = frozenset({"script"})
UNIT = 1 / 21  # of a capital's height; published: Hershey's alphabet
BASE = 9.0  # units; published: likewise, its base line with y down
OVER, UNDER = 2.4, 1.2  # units; from memory, between a letter and its mark
SHARP = 55.0  # degrees; from memory, a sharper turn is a corner of the letter
CUT = 2.0  # units; from memory, the most that rounding takes off a side
STEPS = 4  # setting: parts of a rounded bend
DOT = 0.9  # units; from memory, half of a dot's width
LOW = 15.0  # units; from memory, what of an i or j lies above it is its dot

Stroke = tuple[tuple[float, float], ...]


def _ring(x: float, y: float, radius: float) -> Stroke:
    turn = np.linspace(0, 2 * np.pi, 9)
    return tuple((x + radius * float(np.cos(a)), y + radius * float(np.sin(a))) for a in turn)


# of our own, in units, x from the letter's middle, y from where a mark begins
ABOVE: dict[str, tuple[Stroke, ...]] = {
    "\u0300": (((-3, 5), (2, 0)),),
    "\u0301": (((-2, 0), (3, 5)),),
    "\u0302": (((-4, 0), (0, 4), (4, 0)),),
    "\u0303": (((-5, 0.5), (-4, 2), (-2.5, 2.5), (0, 1.5), (2.5, 0.5), (4, 1), (5, 2.5)),),
    "\u0304": (((-4, 1), (4, 1)),),
    "\u0306": (((-4, 4), (-3, 1.5), (-1, 0.3), (1, 0.3), (3, 1.5), (4, 4)),),
    "\u0307": (_ring(0, 1.5, DOT),),
    "\u0308": (_ring(-3.2, 1.5, DOT), _ring(3.2, 1.5, DOT)),
    "\u030a": (_ring(0, 2.4, 2.4),),
    "\u030b": (((-4, 0), (-1, 5)), ((1, 0), (4, 5))),
    "\u030c": (((-4, 4), (0, 0), (4, 4)),),
}
BELOW: dict[str, tuple[Stroke, ...]] = {
    "\u0323": (_ring(0, -1.5, DOT),),
    "\u0326": (((0.5, -0.5), (0.5, -2), (-1, -4.5)),),
    "\u0327": (((0, 1.2), (0, -1), (2, -2), (2, -4), (0.5, -5), (-1.5, -4.6)),),
    "\u0328": (((1, 1.2), (-1, -1.5), (-1, -3.5), (1, -4.5), (2.5, -4)),),
}
# letters that are no letter with a mark: those they are made of, and what is drawn across
ACROSS: dict[str, tuple[str, Stroke]] = {
    "ø": ("o", ((-7, -2), (7, 16))),
    "Ø": ("O", ((-9, -2), (9, 23))),
    "ł": ("l", ((-4, 8), (4, 13))),
    "Ł": ("L", ((-9, 7), (1, 13))),
    "đ": ("d", ((1, 17.5), (9, 17.5))),
    "Đ": ("D", ((-10, 11), (-2, 11))),
}
# two letters on one stem, where letters are not joined anyway; one that is all our own
PAIRS = {"æ": "ae", "Æ": "AE", "œ": "oe", "Œ": "OE"}
ESZETT: Stroke = (
    (-5, 0), (-5, 17), (-4, 20), (-1, 21), (2, 20), (3.5, 17.5), (2, 14), (-1, 12),
    (2, 11.5), (4, 10), (5, 7), (5, 4.5), (4, 1.5), (2, 0), (-1, 0),
)  # fmt: skip
HYPHEN: Stroke = ((-4, 7), (4, 7))  # the alphabet's own is as long as a dash
ALIKE = str.maketrans(
    {
        "‘": "'", "’": "'", "ʼ": "'", "‚": ",", "“": '"', "”": '"', "„": '"',
        "‐": "-", "‑": "-", "‒": "-", "–": "-", "—": "-", "−": "-", "\u00a0": " ",
    }
)  # fmt: skip


@dataclass(frozen=True, eq=False)
class Glyph:
    """Strokes, each (n, 2) float, a capital 1 high; ``start`` and ``end`` are where it joins on."""

    strokes: tuple[Floats, ...]
    start: float
    end: float

    @cached_property
    def box(self) -> tuple[float, float, float, float]:
        """Least x, least y, most x, most y of its ink; of none all are 0."""
        if not self.strokes:
            return 0.0, 0.0, 0.0, 0.0
        points = np.concatenate(self.strokes)
        (x0, y0), (x1, y1) = points.min(axis=0), points.max(axis=0)
        return float(x0), float(y0), float(x1), float(y1)


@cache
def _alphabet(style: str) -> dict[str, Any]:
    font = HersheyFonts()
    font.load_default_font(STYLES[style])
    return dict(font.all_glyphs)


def unwritable(text: str, style: str = "plain") -> str:
    """Why a text cannot be written in stroke letters; empty where it can be."""
    for char in unicodedata.normalize("NFC", text.translate(ALIKE)):
        if unicodedata.bidirectional(char) in ("R", "AL", "AN"):
            return "it is written from right to left, which these letters are not made for"
        if unicodedata.category(char)[0] == "C":
            return "it holds a character that cannot be seen"
        if char != " " and glyph_of(char, style) is None:
            return f"there is no stroke letter for “{char}”"
    return ""


@cache
def glyph_of(char: str, style: str = "plain") -> Glyph | None:
    """The glyph of one character, or None where the alphabet has none.

    Raises
    ------
    KeyError
        No such style.
    """
    known = _alphabet(style)
    if char == " ":
        return Glyph((), 0.0, 16 * UNIT)  # published: Hershey's space is 16 wide
    if char in ACROSS:
        base, line = ACROSS[char]
        return _made(known, base, style, extra=(line,))
    if char in PAIRS and style not in JOINED:
        return _paired(_made(known, PAIRS[char][0], style), _made(known, PAIRS[char][1], style))
    if char == "-":
        return Glyph((np.array(HYPHEN, float) * UNIT,), -8 * UNIT, 8 * UNIT)
    if char == "ß":
        return Glyph((_rounded(np.array(ESZETT, float)) * UNIT,), -9 * UNIT, 8 * UNIT)
    base, *marks = tuple(unicodedata.normalize("NFD", char))
    if base not in known or any(m not in ABOVE and m not in BELOW for m in marks):
        return None
    return _made(known, base, style, marks)


def _made(
    known: dict[str, Any],
    base: str,
    style: str,
    marks: Iterable[str] = (),
    extra: tuple[Stroke, ...] = (),
) -> Glyph:
    """A letter of the alphabet with marks, and with a line across its middle."""
    source = known[base]
    start = float(source.left_offset)
    strokes = [
        np.array([(x, BASE - y) for x, y in stroke], float)
        for stroke in source.strokes
        if len(stroke) > 1
    ]
    marks = tuple(marks)
    if base in "ij" and any(m in ABOVE for m in marks):
        strokes = [s for s in strokes if s[:, 1].min() < LOW - 3]  # the mark stands for the dot
    points = np.concatenate(strokes)
    (x0, y0), (x1, y1) = points.min(axis=0), points.max(axis=0)
    middle, top, foot = (x0 + x1) / 2, y1 + OVER, min(y0, 0.0) - UNDER
    lines = [_moved(line, middle, 0.0) for line in extra]
    for mark in marks:
        if mark in ABOVE:
            drawn = [_moved(line, middle, top) for line in ABOVE[mark]]
            top = float(np.concatenate(drawn)[:, 1].max()) + OVER
        else:
            drawn = [_moved(line, middle, foot) for line in BELOW[mark]]
        lines += drawn
    every = (*strokes, *lines)
    return Glyph(
        tuple(_rounded(line) * UNIT for line in every),
        start * UNIT,
        (start + float(source.char_width)) * UNIT,
    )


def _moved(line: Stroke, x: float, y: float) -> Floats:
    return np.asarray(np.array(line, float) + np.array([x, y]))


def _paired(left: Glyph, right: Glyph) -> Glyph:
    """Two letters, the right one begun where the left one's ink ends."""
    by = left.box[2] - right.box[0]
    moved = tuple(stroke + np.array([by, 0.0]) for stroke in right.strokes)
    return Glyph((*left.strokes, *moved), left.start, right.end + by)


def _rounded(line: Floats) -> Floats:
    """A stroke with its soft bends rounded by parabolas, its corners and ends kept; (n, 2)."""
    closed = len(line) > 3 and bool(np.allclose(line[0], line[-1]))
    core = line[:-1] if closed else line
    before, after = np.roll(core, 1, axis=0) - core, np.roll(core, -1, axis=0) - core
    out: list[Floats] = []
    for i, point in enumerate(core):
        a, b = before[i], after[i]
        long = float(np.hypot(*a)), float(np.hypot(*b))
        end = not closed and i in (0, len(core) - 1)
        turn = 180.0 - np.degrees(
            np.arccos(np.clip(float(a @ b) / max(long[0] * long[1], 1e-9), -1, 1))
        )
        if end or turn > SHARP or turn < 1.0:
            out.append(point[None])
            continue
        t = np.linspace(0, 1, STEPS + 1)[:, None]
        p = point + a * min(0.5, CUT / long[0])
        q = point + b * min(0.5, CUT / long[1])
        out.append((1 - t) ** 2 * p + 2 * t * (1 - t) * point + t**2 * q)
    round_ = np.concatenate(out)
    keep = np.concatenate([[True], np.abs(np.diff(round_, axis=0)).max(axis=1) > 1e-9])
    round_ = round_[keep]
    return np.vstack([round_, round_[:1]]) if closed else round_
