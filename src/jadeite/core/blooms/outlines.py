"""Outlines of petals and leaves: families of smooth curves by a few numbers.

A petal lies along x, from its root at 0 to its tip at its length.  Its upper
edge is drawn from the root to where it is widest and on to the tip; the lower
edge mirrors it.  All numbers but the count are per cent, so that a petal may
grow without changing its character.

Glossary
--------
root
    Where the petal hangs on its ring, or on its stem.
waist
    How narrow it leaves its root: 0 straight towards the belly, 100 long and slim.
belly
    Where it is widest, in per cent of its length from the root.
tip
    How sharp it ends: 0 blunt and round, 100 pointed.
width
    How wide it is at its belly, in per cent of its length.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Any

import numpy as np

from jadeite.core.blooms.own_outline import (
    PLACES,
    ROOT_LEADS,
    HalfWidths,
    share_at,
    widths_from_words,
    words_of,
)
from jadeite.core.errors import FieldError
from jadeite.core.nets.model import Floats

__all__ = [
    "KINDS",
    "NUMBERS",
    "OWN",
    "Petal",
    "edge_of",
    "own_petal",
    "petal_from_words",
    "petals_from_words",
]

OWN = "own"  # the kind of an outline that was drawn

PER_ROOT = 3.0  # corners of a curve per root of its length in mm; from memory, within 0.02 mm
FEWEST = 12  # corners of a curve; from memory
END = 0.12  # of the length at either end, over which waves die out; from memory
LEFT = 0.35  # of its width is the least that waves leave of a petal; from memory
SAME = 1e-6  # of the length; rounding
BESIDE_NOTCH = 1.3  # of a notch's depth from the tip no waves are drawn; from memory
STEEP = 0.16  # of a wave's length is the back of a tooth; from memory

# what may be said of an outline: key, what it is called, least, most; from memory
NUMBERS: dict[str, tuple[str, float, float]] = {
    "width": ("Width", 12.0, 140.0),
    "belly": ("Widest at", 25.0, 80.0),
    "waist": ("Waist", 0.0, 100.0),
    "tip": ("Tip", 0.0, 100.0),
    "notch": ("Notch", 0.0, 30.0),
    "waves": ("Waves", 1.0, 12.0),
    "depth": ("so deep", 0.0, 20.0),
}


@dataclass(frozen=True)
class Petal:
    """An outline by its numbers, in per cent but for the count of waves on each edge.

    ``notch`` is how deep its tip is drawn in or split; ``depth`` that of waves or teeth;
    ``widths`` is that of a kind of the maker's own.
    """

    kind: str
    width: float
    belly: float
    waist: float
    tip: float
    notch: float = 0.0
    depth: float = 0.0
    waves: float = 4.0
    widths: HalfWidths = ()

    @property
    def words(self) -> str:
        """As it is typed and kept: the kind, and those numbers that are not its usual ones."""
        usual = own_petal(self.widths) if self.widths else KINDS[self.kind][1]
        own = [f"widths={words_of(self.widths)}"] if self.widths else []
        own += [
            f"{key}={getattr(self, key):g}"
            for key in NUMBERS
            if getattr(self, key) != getattr(usual, key)
        ]
        return " ".join([self.kind, *own])


# our own, from memory
KINDS: dict[str, tuple[str, Petal]] = {
    "round": ("round", Petal("round", 108.0, 60.0, 22.0, 0.0)),
    "pointed": ("pointed", Petal("pointed", 84.0, 48.0, 22.0, 78.0)),
    "heart": ("heart", Petal("heart", 110.0, 64.0, 28.0, 0.0, notch=10.0)),
    "wavy": ("wavy", Petal("wavy", 110.0, 58.0, 20.0, 10.0, depth=5.0, waves=4.0)),
    "toothed": ("toothed", Petal("toothed", 66.0, 44.0, 24.0, 78.0, depth=5.0, waves=6.0)),
    "lance": ("lance", Petal("lance", 40.0, 46.0, 20.0, 90.0)),
    "split": ("split tip", Petal("split", 92.0, 62.0, 26.0, 24.0, notch=14.0)),
}


def own_petal(widths: HalfWidths, width: float = 80.0) -> Petal:
    """An outline of the maker's own, in per cent of its length so wide."""
    belly = 100 * float(PLACES[int(np.argmax(widths))])
    return Petal(OWN, width, belly, 0.0, 0.0, widths=widths)


def petal_from_words(words: str, field: str = "outline") -> Petal:
    """An outline as it is typed: ``round``, or ``heart width=80 notch=8``.

    Raises
    ------
    FieldError
        No such kind or number, or one out of its range; the text names what works.
    """
    kind, *more = words.lower().replace(",", " ").split() or [""]
    if kind == OWN and more[:1] and more[0].startswith("widths="):
        usual = own_petal(widths_from_words(more.pop(0).removeprefix("widths="), field))
    elif kind in KINDS:
        usual = KINDS[kind][1]
    else:
        raise FieldError(field, f"“{kind[:40]}” is no outline", f"Use one of: {', '.join(KINDS)}.")
    found: dict[str, Any] = {}
    for word in more:
        key, _, value = word.partition("=")
        if key not in NUMBERS:
            known = ", ".join(NUMBERS)
            raise FieldError(field, f"an outline has no “{key[:40]}”", f"Use one of: {known}.")
        _, low, high = NUMBERS[key]
        try:
            number = float(value)
        except ValueError:
            number = math.nan
        if not low <= number <= high:  # refuses nan too
            raise FieldError(
                field, f"{key} “{value[:20]}” is outside the range", f"Use {low:g} to {high:g}."
            )
        found[key] = round(number) if key == "waves" else number
    return replace(usual, **found)


def petals_from_words(words: str, field: str = "outline") -> tuple[Petal, ...]:
    """Outlines of several rings, parted by ``/``; see :func:`petal_from_words`.

    Raises
    ------
    FieldError
        One of them is none.
    """
    return tuple(petal_from_words(part, field) for part in words.split("/"))


def _bezier(points: list[tuple[float, float]], count: int) -> Floats:
    """A cubic Bézier curve, (count, 2), without its last point."""
    t = np.arange(count)[:, None] / count
    a, b, c, d = (np.array(p) for p in points)
    return np.asarray(
        (1 - t) ** 3 * a + 3 * (1 - t) ** 2 * t * b + 3 * (1 - t) * t**2 * c + t**3 * d
    )


@lru_cache(maxsize=512)
def _unit(petal: Petal, count: int) -> tuple[Floats, Floats]:
    """The upper edge of a petal of length 1: x, and the share of the belly's half width, (n,) each.

    The share is that beyond the root's own half width, which the edge leaves behind.
    """
    if petal.widths:
        x = (1 - np.cos(np.pi * np.arange(2 * count + 1) / (2 * count))) / 2
        return x, share_at(petal.widths, x)
    belly, tip, waist = petal.belly / 100, petal.tip / 100, petal.waist / 100
    rest, notch = 1 - belly, petal.notch / 100
    start = [(0.0, 0.0), (belly * (0.2 + 0.55 * waist), 0.0), (belly * 0.5, 1.0), (belly, 1.0)]
    parts = [_bezier(start, count)]
    # a blunt tip comes in square to the middle line, a sharp one along it
    lean = (1 - tip) * 1.0 + tip * (belly + 0.55 * rest), (1 - tip) * 0.62 + tip * 0.3
    reach = belly + rest * (0.56 - 0.12 * tip)
    if notch > 0:
        lobe = 0.46 - 0.12 * tip
        parts.append(_bezier([(belly, 1.0), (reach, 1.0), (1.0, lobe + 0.42), (1.0, lobe)], count))
        inner = (1.0, lobe * 0.35) if petal.kind == "heart" else (1 - notch * 0.4, lobe * 0.62)
        parts.append(_bezier([(1.0, lobe), inner, (1 - notch * 0.7, 0.02), (1 - notch, 0.0)],
                             count))  # fmt: skip
    else:
        parts.append(_bezier([(belly, 1.0), (reach, 1.0), lean, (1.0, 0.0)], count))
    end = [[1 - notch, 0.0]]
    line = np.vstack([*parts, end])
    return line[:, 0], line[:, 1]


def _wave(petal: Petal, along: Floats) -> Floats:
    """How far waves or teeth draw the edge in, as a share of the length, (n,)."""
    along = along / (1 - BESIDE_NOTCH * petal.notch / 100)
    inside = np.clip((along - END) / (1 - 2 * END), 0.0, 1.0)
    ends = np.clip(np.minimum(along, 1 - along) / END, 0.0, 1.0)
    phase = inside * petal.waves
    if petal.kind == "toothed":
        within = phase % 1.0
        rise = np.minimum(within / (1 - STEEP), (1 - within) / STEEP)
        return np.asarray(petal.depth / 100 * (1 - rise) * ends)
    return np.asarray(petal.depth / 100 * (0.5 - 0.5 * np.cos(2 * math.pi * phase)) * ends)


def _fine(petal: Petal, x: Floats, y: Floats) -> tuple[Floats, Floats]:
    """More corners where waves or teeth are to be drawn: up to the tip, or to its lobe."""
    top = int(np.argmax(x)) + 1
    more = np.linspace(0.0, 1.0, int(petal.waves) * 16 + 1)
    if petal.kind == "toothed":
        teeth = np.arange(int(petal.waves) + 1)
        peaks = np.concatenate([teeth, teeth + 1 - STEEP]) / petal.waves
        more = END + np.clip(peaks, 0.0, 1.0) * (1 - 2 * END)
    more = more * (1 - BESIDE_NOTCH * petal.notch / 100)
    more = more[more < x[top - 1]]
    more = more[np.abs(more[:, None] - x[:top]).min(axis=1) > SAME]  # two corners in one cross
    both = np.unique(np.concatenate([x[:top], more]))
    fine = np.interp(both, x[:top], y[:top])
    return np.concatenate([both, x[top:]]), np.concatenate([fine, y[top:]])


def edge_of(
    petal: Petal, length: float, root: float, room: Callable[[Floats], Floats] | None = None
) -> Floats:
    """The upper edge of a petal, from its root to the middle of its tip; (n, 2) float, mm.

    Parameters
    ----------
    length : float
        From the root to the tip, mm.
    root : float
        Half width of the root, mm.
    room : callable, optional
        The most half width at each x, (n,) to (n,); the belly gives way to it.
    """
    count = max(FEWEST, math.ceil(PER_ROOT * math.sqrt(length)))
    x, share = _unit(petal, count)
    if petal.depth > 0:
        x, share = _fine(petal, x, share)
    along = x * length
    leads = ROOT_LEADS if petal.widths else petal.belly / 100
    own = root * (1 - np.clip(x / leads, 0.0, 1.0)) ** 2
    belly = petal.width / 200 * length
    if room is not None:
        free = room(along) - own
        inner = share > 0.05
        belly = min(belly, float((free[inner] / share[inner]).min()))
    half = own + share * max(belly, root)
    if room is not None:
        half = np.minimum(half, room(along))
    if petal.depth > 0:
        top = int(np.argmax(x)) + 1
        drawn = half[:top] - _wave(petal, x[:top]) * length
        half[:top] = np.maximum(drawn, LEFT * half[:top])
    half[-1] = 0.0
    return np.column_stack([along, half])
