"""Marks by which a cutter, or a hand, finds a printed sheet; and how a miss is taken back.

Four crosses lie near the corners of the paper.  Three have a ring, the one at the lower
left has none, so that a sheet is never taken the wrong way round.
"""

from __future__ import annotations

import math

import numpy as np

from jadeite.core.nets.model import Floats, Piece, Trace
from jadeite.core.nets.outline import piece_polygon
from jadeite.core.project import Correction, Stock
from jadeite.core.sheets.stock import SHEET_SIZES

__all__ = [
    "CLEAR",
    "IN_PRINTERS",
    "MARK_AT",
    "PAPERS",
    "commanded",
    "cut_where",
    "ink_beyond",
    "mark_lines",
    "mark_places",
    "paper_stock",
    "printed",
]

MARK_AT, ARM, RING = 10.0, 4.0, 2.0  # mm from both edges, of a cross's arms, of a ring; from memory
CLEAR = 16.0  # mm along every edge that is left to the marks; from memory
STEPS = 32  # setting: sides of a ring
MOST_BEYOND = 8.0  # mm; from memory, ink that goes further is no bleed
IN_PRINTERS = {"a4": "A4", "letter": "Letter", "a3": "A3"}
PAPERS = {size.key: (size.width, size.height) for size in SHEET_SIZES if size.key in IN_PRINTERS}


def paper_stock(key: str) -> Stock:
    """Sheets of the paper in the printer.

    Raises
    ------
    KeyError
        There is no such paper.
    """
    width, height = PAPERS[key]
    return Stock(name=f"{IN_PRINTERS[key]}, printed", width=width, height=height)


def printed(piece: Piece) -> bool:
    """Whether a printer has to do with a piece."""
    return bool(piece.prints) or any(vein.trace is Trace.PRINT for vein in piece.veins)


def ink_beyond(piece: Piece) -> float:
    """How far ink goes past the cut of a piece, mm."""
    if not piece.prints:
        return 0.0
    low_x, low_y, high_x, high_y = piece_polygon(piece).bounds
    points = np.concatenate([ring for one in piece.prints for ring in one.within])
    over = np.concatenate(
        [(low_x, low_y) - points.min(axis=0), points.max(axis=0) - (high_x, high_y)]
    )
    return float(np.clip(over.max(), 0.0, MOST_BEYOND))


def mark_places(size: tuple[float, float]) -> tuple[tuple[float, float], ...]:
    """Middles of the marks on paper of a size, mm from its lower left; the plain one first."""
    x, y = size[0] - MARK_AT, size[1] - MARK_AT
    return (MARK_AT, MARK_AT), (x, MARK_AT), (x, y), (MARK_AT, y)


def mark_lines(size: tuple[float, float]) -> tuple[Floats, ...]:
    """The strokes of the marks, (n, 2) each, mm from the lower left of the paper."""
    turn = np.linspace(0, 2 * math.pi, STEPS + 1)
    ring = RING * np.column_stack([np.cos(turn), np.sin(turn)])
    out: list[Floats] = []
    for number, place in enumerate(mark_places(size)):
        at = np.array(place)
        out += [at + np.array([[-ARM, 0.0], [ARM, 0.0]]), at + np.array([[0.0, -ARM], [0.0, ARM]])]
        out += [at + ring] if number else []
    return tuple(out)


def _matrix(correction: Correction) -> tuple[Floats, Floats]:
    of = correction
    turn = np.array([[1 + of.wide, -of.turn], [of.turn, 1 + of.high]])
    return turn, np.array([of.right, of.up])


def cut_where(points: Floats, correction: Correction, size: tuple[float, float]) -> Floats:
    """Where a cutter cuts what it is told to cut at ``points``, (n, 2) mm from the lower left."""
    turn, shift = _matrix(correction)
    middle = np.array(size) / 2
    return np.asarray((points - middle) @ turn.T + shift + middle)


def commanded(points: Floats, correction: Correction, size: tuple[float, float]) -> Floats:
    """What a cutter is told so that it cuts at ``points``, (n, 2): the other way round."""
    turn, shift = _matrix(correction)
    middle = np.array(size) / 2
    return np.asarray((points - middle - shift) @ np.linalg.inv(turn).T + middle)
