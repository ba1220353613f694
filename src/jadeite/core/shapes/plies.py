"""A second ply on the floor: two boards glued flat on one another."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from jadeite.core.boards import Board
from jadeite.core.nets.arrivals import Arrival, How, When
from jadeite.core.nets.model import Design, Joint, Kind, Panel, Piece
from jadeite.core.nets.roles import Role
from jadeite.core.reckoning import Mark, constant, given, reckon
from jadeite.core.shapes.extra import FLOOR_PLY

__all__ = ["with_floor_ply"]


def with_floor_ply(design: Design, piece: str, board: Board, *, on_feet: bool) -> Design:
    """The design with a ply on the floor of a piece, under its hollow.

    Parameters
    ----------
    on_feet : bool
        Whether the feet of rolled-over walls lie on the floor: then the ply
        lies on them, and is not bonded to the floor.
    """
    (x, y, z), centre = design.room.size, design.room.centre
    length, width = x - 2 * design.fits.ply, y - 2 * design.fits.ply
    outline = np.array([[-length, -width], [length, -width], [length, width], [-length, width]]) / 2
    name = FLOOR_PLY
    panel = Panel("ply", "second floor", Role.PLY, outline, (length, width))
    place = np.eye(4)
    place[:3, 3] = (centre[0], centre[1], centre[2] - z / 2 - board.thickness / 2)
    ply = (name, "ply")
    feet = [p.name for p in design.piece(piece).panels if p.role is Role.FOOT]
    if on_feet:
        joints = [Joint(Kind.TUCK, (piece, f), ply, f"second floor on {f}") for f in feet]
    else:
        joints = [Joint(Kind.GLUE, ply, (piece, "floor"), "second floor on the floor")]
    put = Arrival(name, When.STANDING, (piece, "floor"), How.PUT if on_feet else How.GLUED)
    sizes = dict(design.sizes)
    for axis, value, whole in (("length", length, x), ("width", width, y)):
        sizes[f"floor-ply-{axis}"] = reckon(
            f"Second floor, {axis}",
            value,
            "inside less a little on each side, so that it drops in",
            given(f"inside {axis}", whole),
            constant("on each side", design.fits.ply, "mm", Mark.MEMORY),
        )
    return replace(
        design,
        pieces=(*design.pieces, Piece(name, "second floor", board, (panel,), (), "inside")),
        placements={**design.placements, name: place},
        joints=(*design.joints, *joints),
        sizes=sizes,
        arrivals=design.arrivals.adding(put),
    )
