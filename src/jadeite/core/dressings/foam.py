"""Foam pads that stick on both sides: how many, how large, and where they go."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
import shapely
from shapely.geometry import Polygon

from jadeite.core.errors import FieldError
from jadeite.core.nets.arrivals import Where
from jadeite.core.nets.bought import Bought
from jadeite.core.nets.model import Floats

__all__ = ["BESIDE_PAD", "LEAST_FOAM", "MOST_FOAM", "PAD", "pads_under"]

LEAST_FOAM, MOST_FOAM = 1.0, 3.0  # mm; common practice, as thick as foam pads and tape are
PAD, LEAST_PAD = 8.0, 2.0  # mm across; common practice, and the smallest that is cut from tape
BESIDE_PAD = 1.0  # mm; from memory, so that none is seen from the side
APART = 45.0  # mm; from memory, between pads, so that card does not sink between them


def pads_under(
    outline: Floats, holes: Sequence[Floats], on: Where, thick: float, field: str
) -> Bought:
    """The pads under a layer with an outline and cut-outs, (n, 2) each; ``thick`` mm of foam.

    They are as large as fits behind the board everywhere, along its rims and over its middle.

    Raises
    ------
    FieldError
        Its rims are too narrow for any.
    """
    board = Polygon(outline, holes).buffer(0)
    across = PAD
    while across >= LEAST_PAD:
        room = board.buffer(-(across / 2 + BESIDE_PAD), join_style="mitre")
        if not room.is_empty and _reaches(board, room, across):
            break
        across -= 1.0
    else:
        raise FieldError(field, "its rims are too narrow for foam", "Glue it, or use no pattern.")
    rim = Polygon(outline).buffer(-(across / 2 + BESIDE_PAD), join_style="mitre").exterior
    count = max(4, math.ceil(rim.length / APART)) + _in_the_middle(room, rim)
    return Bought("foam pad", across, 0.0, "", "", on, count=count, thick=thick)


def _in_the_middle(room: shapely.Geometry, rim: shapely.LinearRing) -> int:
    """How many pads of a square lattice lie within ``room`` and well off those along its rim."""
    low_x, low_y, high_x, high_y = room.bounds
    x, y = (np.arange(a, b, APART) for a, b in ((low_x, high_x), (low_y, high_y)))
    spots = shapely.points(*np.meshgrid(x + (high_x - x[-1]) / 2, y + (high_y - y[-1]) / 2))
    off = shapely.distance(spots, rim) > APART / 2
    return int((off & shapely.covers(room, spots)).sum())


def _reaches(board: Polygon, room: shapely.Geometry, across: float) -> bool:
    """Whether pads within ``room`` come near every corner of a board, in mm."""
    corners = shapely.points(np.array(board.exterior.coords)[:-1])
    return bool((shapely.distance(room, corners) <= 2 * (across / 2 + BESIDE_PAD)).all())
