"""A wreath as pieces: its ring of board, flowers stacked and set on it, leaves in the gaps."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import replace

import numpy as np

from jadeite.core.blooms import MIDDLE, LeafSpot, Spot
from jadeite.core.boards import Board
from jadeite.core.nets.arrivals import Arrival, When, Where
from jadeite.core.nets.bends import ROLLED
from jadeite.core.nets.gores import about_z
from jadeite.core.nets.model import Floats, Fold, Joint, Kind, Opening, Panel, Piece
from jadeite.core.nets.roles import Role
from jadeite.core.shapes.leaf_pieces import FOOT, Place, leaf_piece
from jadeite.core.shapes.registry import OptionValue
from jadeite.core.shapes.ring_gluing import Glued, Through, glued_stack
from jadeite.core.shapes.wreaths import FOOT_DEEP, LARGE, SMALL, Wreath, counts_of, part_of

__all__ = ["BASE", "LEAF", "SORTS", "WreathPieces"]

SORTS = (LARGE, SMALL)
LEAF, BASE = "leaf", "base"
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
IN_GAPS = (
    "Into the gaps that are left, one petal to the nearer edge: glue on the middle of each, and "
    "press it with the blunt end of a pencil."
)
TUCKED = (
    "Flowers first, then greenery into the gaps. A little glue on each foot only; slide it in "
    "under the petals, with its tip at the edge, left and right ones as the picture shows."
)


# ---------------------------------------------------------- ring of board


def _sector(start: float, end: float, radii: tuple[float, float]) -> Floats:
    """An outline from one angle to another, radians, between two radii, mm; (n, 2) float.

    Its first edge leads outwards at ``start``.
    """
    inner, outer = radii
    count = max(2, math.ceil((end - start) / (2 * math.acos(1 - SAGITTA / outer))))
    turns = np.linspace(start, end, count + 1)
    way = np.column_stack([np.cos(turns), np.sin(turns)])
    return np.vstack([inner * way[:1], outer * way, inner * way[:0:-1]])


def _ring_pieces(wreath: Wreath, options: Mapping[str, OptionValue], board: Board) -> Glued:
    """The ring under the flowers: two plies of arcs, seam over middle, or one whole ring."""
    arcs, radii = int(float(options["arcs"])), wreath.band.base
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


def _under(spot: Spot | LeafSpot, arcs: int) -> Where:
    """The panel of board under a place."""
    if arcs == 1:
        return BASE, WHOLE
    turn = math.atan2(spot.y, spot.x) % (2 * math.pi)
    return f"upper-{int(turn / (2 * math.pi / arcs)) % arcs + 1}", WHOLE


# --------------------------------------------------------- flowers, leaves


class WreathPieces:
    """Pieces of a wreath, as they come onto its ring."""

    def __init__(
        self, wreath: Wreath, boards: Mapping[str, Board], options: Mapping[str, OptionValue]
    ) -> None:
        self.wreath, self.boards = wreath, boards
        self.arcs = int(float(options["arcs"]))
        ring = _ring_pieces(wreath, options, boards[BASE])
        self.pieces, self.places = [*ring.pieces], dict(ring.placements)
        self.joints, self.arrivals = [*ring.joints], [*ring.arrivals]
        plies = 0 if self.arcs == 1 else 1
        self.top = boards[BASE].thickness * (plies + 0.5)  # of the ring, over its lower middle
        self.flowers: list[str] = []  # the pieces by which they sit on the ring
        self.names: dict[str, list[str]] = {}  # of each ring of a sort
        for sort in range(len(wreath.stacks)):
            self._flowers(sort, counts_of(SORTS[sort], options))
        self._leaves()

    def _flowers(self, sort: int, counts: list[int]) -> None:
        stack = self.wreath.stacks[sort]
        parts = {la.part: part_of(SORTS[sort], i, len(counts)) for i, la in enumerate(stack.layers)}
        once = glued_stack(
            stack, {key: self.boards[part] for key, part in parts.items()}, Through()
        )
        earlier = tuple(self.flowers)
        for number, spot in enumerate(self.wreath.of(sort), start=1):
            own = {piece.name: f"{piece.name}-{number}" for piece in once.pieces}
            at = np.array(about_z(self.wreath.turn(spot) - stack.turns.turns[0]))
            at[:3, 3] = spot.x, spot.y, self.top + once.pieces[0].board.thickness / 2
            for piece in once.pieces:
                title, part = f"{piece.title} {number}", parts[piece.part]
                new = replace(piece, name=own[piece.name], title=title, part=part)
                self.pieces.append(new)
                self.places[new.name] = at @ once.placements[piece.name]
                self.names.setdefault(piece.name, []).append(new.name)
            self.joints += [
                replace(j, tab=(own[j.tab[0]], j.tab[1]), target=(own[j.target[0]], j.target[1]))
                for j in once.joints
            ]
            for come in once.arrivals:
                onto = None if come.onto is None else (own[come.onto[0]], come.onto[1])
                after = tuple(own[name] for name in come.after)
                self.arrivals.append(replace(come, piece=own[come.piece], onto=onto, after=after))
            self._onto_ring(
                own[once.pieces[0].name],
                MIDDLE,
                spot,
                hint=IN_GAPS if sort else ON_RING,
                after=(*earlier, *(own[come.piece] for come in once.arrivals)),
                called=f"{SORTS[sort]} flower {number}",
            )

    def _leaves(self) -> None:
        """Leaves of two kinds, each the mirror image of the other."""
        leaf, board = self.wreath.leaf, self.boards[LEAF]
        kinds: dict[bool, Piece] = {}
        leaves = sorted(self.wreath.leaves, key=lambda spot: spot.mirrored)
        for number, spot in enumerate(leaves, start=1):
            if spot.mirrored not in kinds:
                own = np.diag([1.0, -1.0 if spot.mirrored else 1.0, 1.0])
                kinds[spot.mirrored] = leaf_piece(Place(leaf, own), LEAF, LEAF, board, LEAF,
                                                  FOOT_DEEP)  # fmt: skip
            piece = replace(kinds[spot.mirrored], name=f"{LEAF}-{number}", title=f"leaf {number}")
            at = np.array(about_z(spot.turn))
            at[:3, 3] = spot.x, spot.y, self.top + board.thickness / 2
            self.pieces.append(piece)
            self.places[piece.name] = at
            self._onto_ring(piece.name, FOOT, spot, hint=TUCKED, after=tuple(self.flowers))

    def _onto_ring(
        self,
        name: str,
        panel: str,
        spot: Spot | LeafSpot,
        *,
        hint: str,
        after: tuple[str, ...],
        called: str = "",
    ) -> None:
        on = _under(spot, self.arcs)
        title = "on the ring" if called else "leaves"
        self.joints.append(Joint(Kind.GLUE, (name, panel), on, title, "inside"))
        self.arrivals.append(Arrival(name, When.FOLDED, on, hint=hint, after=after, called=called))
        if called:
            self.flowers.append(name)
