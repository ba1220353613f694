"""The strokes of one piece: how every kind of fold and cut is made by a tool."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from jadeite.core.boards import Board, perforation
from jadeite.core.nets.model import Floats, Piece, Trace
from jadeite.core.nets.outline import drawn_folds, loops_of

__all__ = ["fold_strokes", "strokes_of"]

STEPS = {Trace.PRESSED: "score", Trace.CUT: "inner", Trace.PEN: "pen"}
TICK = 3.0  # mm; from memory, a tick at either end shows where to crease by hand


def _part(line: Floats, start: float, end: float) -> Floats:
    """What of a line, (n, 2), lies between two distances along it, in mm."""
    at = np.concatenate([[0.0], np.cumsum(np.linalg.norm(np.diff(line, axis=0), axis=1))])
    stops = np.concatenate([[start], at[(at > start) & (at < end)], [end]])
    return np.column_stack([np.interp(stops, at, line[:, k]) for k in (0, 1)])


def _length(line: Floats) -> float:
    return float(np.linalg.norm(np.diff(line, axis=0), axis=1).sum())


def _dashes(line: Floats, dash: float, gap: float) -> list[Floats]:
    """Cuts along a line, whole at both ends so that it tears nowhere; (n, 2) each, mm."""
    length = _length(line)
    count = max(1, int((length - gap) // (dash + gap)))
    part = (length - gap * (count + 1)) / count  # board is left at both ends
    if part <= 0:
        return []
    starts = [gap + i * (part + gap) for i in range(count)]
    return [_part(line, s, s + part) for s in starts]


def fold_strokes(line: Floats, kind: str, board: Board) -> list[tuple[str, Floats]]:
    """Strokes that make one fold, a line (n, 2): step of the work and (m, 2) float in mm.

    A score is one line; a perforation is cut in dashes by the board; a fold
    creased by hand gets a tick at either end; a rolled one gets nothing.
    """
    if kind == "scored":
        return [("score", line)]
    if kind == "perforated":
        return [("perforate", part) for part in _dashes(line, *perforation(board))]
    if kind == "hand-creased":
        length = _length(line)
        tick = min(TICK, length / 3)
        ends = _part(line, 0.0, tick), _part(line, length - tick, length)
        return [("perforate", end) for end in ends]
    return []


def strokes_of(piece: Piece) -> Iterator[tuple[str, Floats, int | None]]:
    """Every stroke of a piece as step, points (n, 2) in mm, and the number of its fold.

    Scores along a curve are one stroke; what is cut is the piece's region to the letter.
    """
    for line, number in drawn_folds(piece):
        for step, points in fold_strokes(line, piece.folds[number].kind, piece.board):
            yield step, points, number
    for vein in piece.veins:
        if vein.trace in STEPS:  # what is printed is not for the cutter
            yield STEPS[vein.trace], vein.points, None
    for loop in sorted(loops_of(piece), key=lambda loop: not loop.hole):
        yield ("inner" if loop.hole else "outline"), loop.path, None
