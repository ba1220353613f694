"""Words in a room: as high as wanted, lower where they are long, then in more lines."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from jadeite.core.lettering.letters import Floats
from jadeite.core.lettering.spacing import Line, line_of

__all__ = ["MOST_LINES", "Room", "Written", "written"]

LEADING = 1.75  # capitals' heights from base line to base line; from memory
MOST_LINES = 3  # from memory, more are no name but a text
TINY = 0.5  # mm; from memory, no pen writes lower capitals
BREAK = re.compile(r"(?<=[-‐–])|\s+")


@dataclass(frozen=True)
class Room:
    """Where words stand: width and height in mm, how high a capital is wanted and at least.

    ``pen`` is the width of the line in mm, which belongs to the ink; ``loose`` is how much
    further than usual letters stand apart, in capitals' heights.
    """

    width: float
    height: float
    wanted: float
    least: float
    pen: float
    loose: float = 0.0


@dataclass(frozen=True, eq=False)
class Written:
    """Words as they are written: strokes (n, 2) float in mm about the middle of their ink.

    ``capital`` is how high a capital is, in mm; ``size`` width and height of the ink.
    """

    text: str
    lines: tuple[str, ...]
    strokes: tuple[Floats, ...]
    capital: float
    size: tuple[float, float]


def written(text: str, room: Room, style: str = "plain") -> Written:
    """Write words into a room, centred by their ink.

    They are as high as wanted; long ones shrink to the least height, and then
    break where they have a space or a hyphen, in as few lines as it takes.  What
    is too long even so is written lower than the least: see ``capital``.

    Raises
    ------
    ValueError
        A letter has no glyph, or the room is narrower than the pen.
    """
    if min(room.width, room.height) <= room.pen + TINY:
        raise ValueError("the room is no wider than the pen")
    best: tuple[float, tuple[Line, ...]] | None = None
    for count in range(1, MOST_LINES + 1):
        tried = [(_capital(ls, room), ls) for ls in _broken(text, count, style, room.loose)]
        if not tried:
            break
        high, lines = max(tried, key=lambda one: one[0])
        if best is None or high > best[0]:
            best = high, lines
        if high >= room.least:
            best = high, lines
            break
    assert best is not None  # one line can always be tried
    return _set(text, best[1], best[0], room.pen)


def _broken(text: str, count: int, style: str, loose: float) -> Iterator[tuple[Line, ...]]:
    """Every way to break a text in so many lines."""
    if count == 1:
        yield (line_of(text, style, loose),)
        return
    spots = [m.span() for m in BREAK.finditer(text.strip()) if 0 < m.start() < len(text.strip())]
    whole = text.strip()

    def parts(start: int, left: int, spots: list[tuple[int, int]]) -> Iterator[tuple[str, ...]]:
        if left == 1:
            yield (whole[start:],)
            return
        for i, (end, after) in enumerate(spots):
            if end > start:
                for rest in parts(after, left - 1, spots[i + 1 :]):
                    yield (whole[start:end], *rest)

    for words in parts(0, count, spots):
        if all(word.strip() for word in words):
            yield tuple(line_of(word, style, loose) for word in words)


def _extent(lines: tuple[Line, ...]) -> tuple[float, float]:
    """Width and height of the ink of lines, a capital 1 high, the pen left out."""
    tops = [line.box[3] - i * LEADING for i, line in enumerate(lines)]
    feet = [line.box[1] - i * LEADING for i, line in enumerate(lines)]
    return max(line.width for line in lines), max(tops) - min(feet)


def _capital(lines: tuple[Line, ...], room: Room) -> float:
    """How high capitals may be in mm, so that all ink lies in the room."""
    wide, high = _extent(lines)
    most = (room.width - room.pen) / max(wide, 1e-6), (room.height - room.pen) / max(high, 1e-6)
    return min(room.wanted, *most)


def _set(text: str, lines: tuple[Line, ...], capital: float, pen: float) -> Written:
    wide, high = _extent(lines)
    top = max(line.box[3] - i * LEADING for i, line in enumerate(lines))
    strokes: list[Floats] = []
    for i, line in enumerate(lines):
        middle = np.array([(line.box[0] + line.box[2]) / 2, top - high / 2 + i * LEADING])
        strokes += [(stroke - middle) * capital for stroke in line.strokes]
    size = (wide * capital + pen, high * capital + pen)
    return Written(text, tuple(line.text for line in lines), tuple(strokes), capital, size)
