"""An arrangement as pieces: its board, flowers stacked and set on it, leaves in the gaps."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace

import numpy as np

from jadeite.core.blooms import MIDDLE, LeafSpot, Spot
from jadeite.core.boards import Board
from jadeite.core.nets.arrivals import Arrival, When, Where
from jadeite.core.nets.gores import about_z
from jadeite.core.nets.model import Handle, Joint, Kind, Piece
from jadeite.core.shapes.arranged import FOOT_DEEP, Arranged
from jadeite.core.shapes.arranged_flowers import BUD, counts_of, part_of
from jadeite.core.shapes.leaf_pieces import FOOT, Place, leaf_piece
from jadeite.core.shapes.registry import OptionValue
from jadeite.core.shapes.ring_gluing import Glued, Through, glued_stack

__all__ = ["BASE", "LEAF", "MOVED", "ArrangedPieces", "Base"]

LEAF, BASE = "leaf", "base"
MOVED = "moved"  # the option that keeps where flowers were moved to
IN_GAPS = (
    "Into the gaps that are left, one petal to the nearer edge: glue on the middle of each, and "
    "press it with the blunt end of a pencil."
)
TUCKED = (
    "Flowers first, then greenery into the gaps. A little glue on each foot only; slide it in "
    "under the petals, with its tip at the edge, left and right ones as the picture shows."
)


@dataclass(frozen=True)
class Base:
    """The board of an arrangement: its pieces, ``plies`` high, and the panel under each place.

    It is ``called`` so in words; ``laid`` says how large flowers are laid out on it, ``gaps``
    where small ones come, ``tucked`` how leaves do.
    """

    glued: Glued
    plies: int
    under: Callable[[Spot | LeafSpot], Where]
    called: str
    laid: str
    gaps: str = IN_GAPS
    tucked: str = TUCKED


class ArrangedPieces:
    """Pieces of an arrangement, as they come onto its board."""

    def __init__(
        self,
        arranged: Arranged,
        boards: Mapping[str, Board],
        options: Mapping[str, OptionValue],
        base: Base,
    ) -> None:
        self.arranged, self.boards, self.base = arranged, boards, base
        self.pieces, self.places = [*base.glued.pieces], dict(base.glued.placements)
        self.joints, self.arrivals = [*base.glued.joints], [*base.glued.arrivals]
        self.top = boards[BASE].thickness * (base.plies - 0.5)  # of it, over its lower middle
        self.flowers: list[str] = []  # the pieces by which they sit on the ring
        self.names: dict[str, list[str]] = {}  # of each ring of a sort
        self.handles: dict[str, Handle] = {}  # by which flowers are moved
        for sort in range(len(arranged.stacks)):
            self._flowers(sort, counts_of(arranged.sorts[sort], options))
        self._leaves()

    def _flowers(self, sort: int, counts: list[int]) -> None:
        stack, called = self.arranged.stacks[sort], self.arranged.sorts[sort]
        parts = {la.part: part_of(called, i, len(counts)) for i, la in enumerate(stack.layers)}
        once = glued_stack(
            stack, {key: self.boards[part] for key, part in parts.items()}, Through()
        )
        earlier = tuple(self.flowers)
        for number, spot in enumerate(self.arranged.of(sort), start=1):
            own = {piece.name: f"{piece.name}-{number}" for piece in once.pieces}
            at = np.array(about_z(self.arranged.turn(spot) - stack.turns.turns[0]))
            at[:3, 3] = spot.x, spot.y, self.top + once.pieces[0].board.thickness / 2
            scale = self.arranged.width / 100
            handle = Handle(
                MOVED, self.arranged.spots.index(spot) + 1, (spot.x / scale, spot.y / scale), scale
            )
            for piece in once.pieces:
                self.handles[own[piece.name]] = handle
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
            self._onto_base(
                own[once.pieces[0].name],
                MIDDLE,
                spot,
                hint=self.base.gaps if sort else self.base.laid,
                after=(*earlier, *(own[come.piece] for come in once.arrivals)),
                called=f"bud {number}" if called == BUD else f"{called} flower {number}",
            )

    def _leaves(self) -> None:
        """Leaves of two kinds, each the mirror image of the other."""
        leaf, board = self.arranged.leaf, self.boards[LEAF]
        kinds: dict[bool, Piece] = {}
        leaves = sorted(self.arranged.leaves, key=lambda spot: spot.mirrored)
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
            self._onto_base(
                piece.name, FOOT, spot, hint=self.base.tucked, after=tuple(self.flowers)
            )

    def _onto_base(
        self,
        name: str,
        panel: str,
        spot: Spot | LeafSpot,
        *,
        hint: str,
        after: tuple[str, ...],
        called: str = "",
    ) -> None:
        on = self.base.under(spot)
        title = f"on the {self.base.called}" if called else "leaves"
        self.joints.append(Joint(Kind.GLUE, (name, panel), on, title, "inside"))
        self.arrivals.append(Arrival(name, When.FOLDED, on, hint=hint, after=after, called=called))
        if called:
            self.flowers.append(name)
