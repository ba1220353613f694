"""Slotted strips: half-lap slots that let strips pass through one another."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from jadeite.core.boards import Board
from jadeite.core.boards.fits import Fits
from jadeite.core.nets.model import Panel, Piece
from jadeite.core.nets.roles import Role

__all__ = ["slat"]


def slat(
    name: str,
    title: str,
    board: Board,
    length: float,
    height: float,
    slots: Sequence[float],
    fits: Fits,
    *,
    from_top: bool,
    part: str,
) -> Piece:
    """A strip with half-lap slots, centred on the origin along its length.

    Parameters
    ----------
    length, height : float
        mm; the foot lies at y = 0.
    slots : sequence of float
        Middles of the slots from the strip's middle, rising, in mm.
    fits : Fits
        How wide and how deep slots are.
    from_top : bool
        Whether the slots open upwards.
    """
    width = fits.slot_width(board)
    half, deep = length / 2, height / 2 + fits.slot_deeper
    foot = [(-half, 0.0), (half, 0.0)]
    head = [(half, height), (-half, height)]
    cut = []
    for middle in slots if not from_top else reversed(slots):
        a, b = (middle - width / 2, middle + width / 2)
        if from_top:
            cut += [(b, height), (b, height - deep), (a, height - deep), (a, height)]
        else:
            cut += [(a, 0.0), (a, deep), (b, deep), (b, 0.0)]
    points = [*foot, head[0], *cut, head[1]] if from_top else [foot[0], *cut, foot[1], *head]
    panel = Panel("slat", title, Role.SLAT, np.array(points), (length, height))
    return Piece(name, title, board, (panel,), (), part=part)
