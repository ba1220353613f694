"""The strokes of one piece: how every kind of fold and cut is made by a tool."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from jadeite.core.boards import Board, perforation
from jadeite.core.nets.curves import facet_corners, smoothed
from jadeite.core.nets.model import Floats, Piece
from jadeite.core.nets.outline import drawn_folds, loops_of

__all__ = ["fold_strokes", "strokes_of"]

TICK = 3.0  # mm; from memory, a tick at either end shows where to crease by hand


def _dashes(line: Floats, dash: float, gap: float) -> list[Floats]:
    """Cuts along a line, whole at both ends so that it tears nowhere; (2, 2) each, mm."""
    length = float(np.linalg.norm(line[1] - line[0]))
    count = max(1, int((length - gap) // (dash + gap)))
    part = (length - gap * (count + 1)) / count  # board is left at both ends
    if part <= 0:
        return []
    along = (line[1] - line[0]) / length
    starts = [gap + i * (part + gap) for i in range(count)]
    return [np.array([line[0] + along * s, line[0] + along * (s + part)]) for s in starts]


def fold_strokes(line: Floats, kind: str, board: Board) -> list[tuple[str, Floats]]:
    """Strokes that make one fold: step of the work and (2, 2) float in mm.

    A score is one line; a perforation is cut in dashes by the board; a fold
    creased by hand gets a tick at either end; a rolled one gets nothing.
    """
    if kind == "scored":
        return [("score", line)]
    if kind == "perforated":
        return [("perforate", part) for part in _dashes(line, *perforation(board))]
    if kind == "hand-creased":
        length = float(np.linalg.norm(line[1] - line[0]))
        along = (line[1] - line[0]) / length * min(TICK, length / 3)
        ends = (line[0], line[0] + along), (line[1] - along, line[1])
        return [("perforate", np.array(end)) for end in ends]
    return []


def strokes_of(piece: Piece) -> Iterator[tuple[str, Floats, int | None]]:
    """Every stroke of a piece as step, points (n, 2) in mm, and the number of its fold.

    Along the facets of a rolled panel a stroke is the smooth curve that they stand for.
    """
    corners = facet_corners(piece)
    for line, number in drawn_folds(piece):
        curve = smoothed(line, corners)
        for step, points in fold_strokes(curve, piece.folds[number].kind, piece.board):
            yield step, points, number
    for loop in sorted(loops_of(piece), key=lambda loop: not loop.hole):
        path = loop.path if loop.kind not in ("outline", "hole") else smoothed(loop.path, corners)
        yield ("inner" if loop.hole else "outline"), path, None
