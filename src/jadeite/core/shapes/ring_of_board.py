"""The ring of board under a wreath: two plies of arcs, seam over middle, or one whole ring."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import replace

import numpy as np

from jadeite.core.blooms import Band, LeafSpot, Spot
from jadeite.core.boards import Board
from jadeite.core.nets.arrivals import Arrival, When, Where
from jadeite.core.nets.bends import ROLLED
from jadeite.core.nets.gores import about_z
from jadeite.core.nets.model import Floats, Fold, Joint, Kind, Opening, Panel, Piece
from jadeite.core.nets.roles import Role
from jadeite.core.shapes.arranged_pieces import BASE, Base
from jadeite.core.shapes.registry import OptionValue
from jadeite.core.shapes.ring_gluing import Glued

__all__ = ["ring_of_board"]

BEGIN, END, WHOLE = "begin", "end", "arc"
SAGITTA = 0.02  # mm by which a chord of an arc may leave it; design rule
RING = "the arcs to a ring, seam over middle"
ARCS = (
    "Lay the lower arcs out in a ring, end to end, good side up. Each upper arc lies over a seam, "
    "with one half on either side of it. Keep it flat under a weight until it is dry."
)
ON_RING = (
    "Lay all flowers out first, as the picture from above shows: large ones near the rim and near "
    "the opening by turns, one petal to the edge. Then glue on the middle of each, and press it "
    "with the blunt end of a pencil."
)


def _sector(start: float, end: float, radii: tuple[float, float]) -> Floats:
    """An outline from one angle to another, radians, between two radii, mm; (n, 2) float.

    Its first edge leads outwards at ``start``.
    """
    inner, outer = radii
    count = max(2, math.ceil((end - start) / (2 * math.acos(1 - SAGITTA / outer))))
    turns = np.linspace(start, end, count + 1)
    way = np.column_stack([np.cos(turns), np.sin(turns)])
    return np.vstack([inner * way[:1], outer * way, inner * way[:0:-1]])


def ring_of_board(band: Band, options: Mapping[str, OptionValue], board: Board) -> Base:
    """The ring of board under the flowers of a wreath."""
    arcs = int(float(options["arcs"]))
    glued = _ring_pieces(band, arcs, board)
    return Base(glued, 1 if arcs == 1 else 2, lambda spot: _arc_under(spot, arcs), "ring", ON_RING)


def _ring_pieces(band: Band, arcs: int, board: Board) -> Glued:
    """The ring under the flowers: two plies of arcs, seam over middle, or one whole ring."""
    radii = band.base
    wide = (2 * radii[1], 2 * radii[1])
    if arcs == 1:
        turns = np.linspace(0.0, 2 * math.pi, 4 * len(_sector(0.0, math.pi / 4, radii)))[:-1]
        way = np.column_stack([np.cos(turns), np.sin(turns)])
        hole = Opening("opening", radii[0] * way)
        panel = Panel(WHOLE, "ring", Role.PLATE, radii[1] * way, wide, (hole,))
        piece = Piece(BASE, "ring", board, (panel,), (), "inside", part=BASE)
        return Glued((piece,), {BASE: np.eye(4)}, (), ())
    step = 2 * math.pi / arcs
    size = (radii[1] * step, radii[1] - radii[0])
    halves = [_sector(-step / 2, 0.0, radii), _sector(0.0, step / 2, radii)]
    begin = Panel(BEGIN, "arc", Role.PLATE, halves[0], size)
    end = Panel(END, "arc", Role.PLATE, halves[1], size)
    seam = Fold(BEGIN, END, (radii[0], 0.0), (radii[1], 0.0), 0.0, ROLLED)
    upper = Panel(WHOLE, "arc", Role.PLATE, _sector(0.0, step, radii), size)
    pieces: list[Piece] = []
    joints: list[Joint] = []
    arrivals: list[Arrival] = []
    places: dict[str, Floats] = {}
    lower = Piece("", "", board, (begin, end), (seam,), "inside", part=BASE)
    for n in range(1, arcs + 1):
        name, title = f"lower-{n}", f"lower arc {n}"
        pieces.append(replace(lower, name=name, title=title))
        places[name] = np.array(about_z(360.0 / arcs * (n - 1)))
    first = Piece("upper-1", "upper arc 1", board, (upper,), (), "inside", part=BASE)
    for n in range(1, arcs + 1):
        over = replace(first, name=f"upper-{n}", title=f"upper arc {n}")
        place = np.array(about_z(360.0 / arcs * (n - 1)))
        place[2, 3] = board.thickness
        pieces.append(over)
        places[over.name] = place
        ends = ((f"lower-{n}", END), (f"lower-{n % arcs + 1}", BEGIN))
        joints += [Joint(Kind.GLUE, one, (over.name, WHOLE), "arcs", "outside") for one in ends]
        arrivals.append(Arrival(over.name, When.FLAT, ends[0], hint=ARCS, called=RING))
        if n < arcs:  # it lies under the one that joins it to the last
            turn = step * n
            out = (math.cos(turn), math.sin(turn), 0.0)
            arrivals.append(
                Arrival(ends[1][0], When.FLAT, (over.name, WHOLE), path=out, hint=ARCS, called=RING)
            )
    return Glued(tuple(pieces), places, tuple(joints), tuple(arrivals))


def _arc_under(spot: Spot | LeafSpot, arcs: int) -> Where:
    """The panel of board under a place."""
    if arcs == 1:
        return BASE, WHOLE
    turn = math.atan2(spot.y, spot.x) % (2 * math.pi)
    return f"upper-{int(turn / (2 * math.pi / arcs)) % arcs + 1}", WHOLE
