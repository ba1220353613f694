"""Slots and slits by the board that goes through them."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from jadeite.core.boards import Board
from jadeite.core.boards.fit_rules import SLIT_BELOW
from jadeite.core.boards.fits import Fits
from jadeite.core.nets.model import Floats, Opening, Piece
from jadeite.core.nets.turns import closed_matrix

__all__ = ["behind", "slot_for", "window"]


def slot_for(board: Board, middle: Floats, along: Floats, tongue: float, fits: Fits) -> Opening:
    """A slot for a tongue of a board, or a slit where the slot would be narrower than 1 mm.

    Parameters
    ----------
    middle, along : (2,) float
        Its middle in the flat piece in mm, and the direction of its length.
    tongue : float
        Width of the tongue in mm; the slot is longer by the ease of a tongue.
    """
    way = along / np.linalg.norm(along)
    half = way * (tongue + fits.tongue) / 2
    width = fits.slot_width(board)
    if width < SLIT_BELOW:
        return Opening("slit", np.array([middle - half, middle + half]), board.thickness)
    side = np.array([-way[1], way[0]]) * width / 2
    ring = np.array([middle - half - side, middle + half - side, middle + half + side,
                     middle - half + side])  # fmt: skip
    return Opening("slot", ring, board.thickness)


def behind(piece: Piece, panel: str, opening: Opening, other: str) -> Opening:
    """The same cut in another panel of a piece that lies against this one when it is folded."""
    here, there = (closed_matrix(piece, np.eye(4), name) for name in (panel, other))
    spatial = opening.points @ here[:3, :2].T + here[:3, 3]
    flat = (spatial - there[:3, 3]) @ there[:3, :2]
    turned = float(here[:3, 2] @ there[:3, 2]) < 0
    return replace(opening, points=flat[::-1] if turned else flat)


def window(low: Floats, high: Floats) -> Opening:
    """A rectangular window from corner to corner, (2,) float each, mm."""
    (x0, y0), (x1, y1) = low.tolist(), high.tolist()
    return Opening("window", np.array([[x0, y0], [x1, y0], [x1, y1], [x0, y1]]))
