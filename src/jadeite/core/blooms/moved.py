"""Flowers that were moved by hand: where, in per cent of the whole width, and where they find room.

Kept as words, ``3:31.5,-12 7:0,4.5``: the number of a flower, and its place from the middle.
"""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import replace

import numpy as np

from jadeite.core.blooms.arranging import Spot
from jadeite.core.blooms.ground import Ground, Head
from jadeite.core.errors import FieldError

__all__ = ["MOST_MOVED", "moved_from_words", "moved_spots", "with_moved", "words_of_moved"]

ONE = re.compile(r"(\d{1,3}):(-?\d{1,3}(?:\.\d{1,6})?),(-?\d{1,3}(?:\.\d{1,6})?)")
MOST_MOVED = 120  # flowers; as many as an arrangement may have
NONE = "0"  # of them was moved
FAR = 60.0  # % from the middle; from memory, beyond any edge
PLACES = 2  # decimals of a per cent that are kept
APART = 1.0  # mm; from memory, board between the middles of two flowers

Moved = Mapping[int, tuple[float, float]]


def moved_from_words(words: str, field: str = "moved") -> dict[int, tuple[float, float]]:
    """Places by the number of the flower, from 1.

    Raises
    ------
    FieldError
        The words are none of these, or a place lies beyond the edge.
    """
    out: dict[int, tuple[float, float]] = {}
    parts = words.split()
    if parts in ([NONE], ["none"]):
        return out
    for part in parts:
        found = ONE.fullmatch(part)
        if found is None or len(parts) > MOST_MOVED or not int(found[1]):
            raise FieldError(
                field, f"“{part[:20]}” is no place of a flower", "Write it as 3:31.5,-12."
            )
        x, y = float(found[2]), float(found[3])
        if max(abs(x), abs(y)) > FAR:
            raise FieldError(
                field, f"“{part[:20]}” lies beyond the edge", f"Use -{FAR:.0f} to {FAR:.0f} %."
            )
        out[int(found[1])] = x, y
    return out


def words_of_moved(moved: Moved) -> str:
    """As it is kept."""
    return " ".join(f"{n}:{x:g},{y:g}" for n, (x, y) in sorted(moved.items()))


def with_moved(words: str, number: int, place: tuple[float, float]) -> str:
    """The words with one more flower moved to a place, in per cent of the width."""
    x, y = (round(min(FAR, max(-FAR, v)), PLACES) + 0.0 for v in place)
    return words_of_moved({**moved_from_words(words), number: (x, y)})


def moved_spots(
    ground: Ground, heads: Sequence[Head], spots: Sequence[Spot], moved: Moved, width: float
) -> tuple[Spot, ...]:
    """The spots, some of them moved: each to the free place nearest to where it was put.

    ``width`` in mm is that of the whole.  A flower that there is not is left out.
    """
    out = list(spots)
    for number, (x, y) in sorted(moved.items()):
        if number > len(out):
            continue
        own = out[number - 1]
        head = heads[own.sort]
        places = ground.places(head)
        others = [(s.x, s.y, heads[s.sort].hub) for i, s in enumerate(out) if i != number - 1]
        for ox, oy, hub in others:
            places = places[np.hypot(*(places - (ox, oy)).T) >= hub + head.hub + APART]
        if not len(places):
            continue
        wanted = np.array([x, y]) * width / 100
        best = places[int(np.argmin(np.hypot(*(places - wanted).T)))]
        out[number - 1] = replace(own, x=float(best[0]), y=float(best[1]))
    return tuple(out)
