"""How a scene is painted: its style, the strokes of its lines, where its lamp stands."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import lru_cache

import numpy as np

from jadeite.core.pictures.flat import line_strokes
from jadeite.core.pictures.palette import BOARD_COLOURS, LIGHT, Palette, mix
from jadeite.core.pictures.primitives import Stroke

__all__ = [
    "CUT",
    "KINDS",
    "LIGHT_FROM",
    "NONE",
    "SceneStyle",
    "runs_by_kind",
    "runs_of",
    "strokes_of",
]

NONE, CUT, MOUNTAIN, VALLEY, PERFORATED, ROLLED, TICKS, SOFT = range(8)
KINDS = {
    "mountain": MOUNTAIN,
    "valley": VALLEY,
    "perforate": PERFORATED,
    "rolled": ROLLED,
    "ticks": TICKS,
}
LIGHT_FROM = np.array([-0.33, -0.24, 0.91])  # from memory: a lamp at the left, in front
FAINT = 0.72  # from memory, lines on a rolled panel only hint at its bow


@dataclass(frozen=True)
class SceneStyle:
    """How a scene is painted.

    ``unit`` is the size of a hairline: 1 in the window, about 0.2 mm on
    paper.  ``pointed`` and ``chosen`` are (piece, panel); ``undimensioned``
    names pieces whose dimension lines are left out, ``finished`` shows those of the
    finished thing; ``disc`` lays a plain disc of
    25 mm on the table, for scale; ``ghosts`` shows things through what hides them;
    ``moving`` leaves out what the eye misses while it moves; ``lit`` lets
    windows glow from a light inside; ``lamps`` are the things that shine, and by ``night``
    nothing else does.
    """

    palette: Palette
    colours: Mapping[str, str] = field(default_factory=dict)
    unit: float = 1.0
    dimensions: bool = True
    finished: bool = True
    names: bool = True
    undimensioned: frozenset[str] = frozenset()
    disc: bool = False
    shadow: bool = True
    pointed: tuple[str, str] | None = None
    chosen: tuple[str, str] | None = None
    point_out: frozenset[tuple[str, str]] = frozenset()
    system: str = "mm"
    ghosts: bool = False
    moving: bool = False
    lit: bool = False
    lamps: frozenset[str] = frozenset()
    night: bool = False


@lru_cache(maxsize=64)
def strokes_of(palette: Palette, unit: float, flat: bool) -> dict[int, Stroke]:
    """Strokes by kind of edge: as on the cutter while flat, else quiet lines of the board."""
    edge = mix(palette.ink, "#000000", 0.2) if not palette.dark else "#12201b"
    if flat:
        known = line_strokes(LIGHT, unit)  # board is paper-coloured in either theme
        return {kind: known[name] for name, kind in KINDS.items()} | {CUT: Stroke(edge, 1.4 * unit)}
    strokes = dict.fromkeys(KINDS.values(), Stroke(edge, 0.8 * unit))
    strokes[CUT] = Stroke(edge, 1.1 * unit)
    strokes[ROLLED] = Stroke(mix(edge, BOARD_COLOURS[0][1], FAINT), 0.4 * unit)
    return strokes


@lru_cache(maxsize=4096)
def runs_of(flags: tuple[int, ...], kind: int) -> list[list[int]]:
    """Corners along neighbouring edges of one kind, so that they are stroked as one line."""
    n = len(flags)
    if all(flag == kind for flag in flags):
        return [[*range(n), 0]]
    out = []
    for start in (i for i in range(n) if flags[i] == kind and flags[i - 1] != kind):
        run = [start]
        while flags[run[-1]] == kind:
            run.append((run[-1] + 1) % n)
        out.append(run)
    return out


@lru_cache(maxsize=4096)
def runs_by_kind(flags: tuple[int, ...], moving: bool) -> tuple[tuple[int, list[list[int]]], ...]:
    """Each kind of edge with its runs; cut lines come last, over the others."""
    left_out = {NONE, ROLLED} if moving else {NONE}
    kinds = sorted(set(flags) - left_out, reverse=True)
    return tuple((kind, runs) for kind in kinds if (runs := runs_of(flags, kind)))
