"""Rings as pieces: glued by their middles on one another, with discs between or feet under them."""

from __future__ import annotations

import itertools
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from jadeite.core.blooms import (
    FOOT,
    MIDDLE,
    STRAND,
    Layer,
    Stack,
    laps_of,
    middle_piece,
    petal_piece,
    ring_piece,
)
from jadeite.core.boards import Board
from jadeite.core.nets.arrivals import Arrival, When
from jadeite.core.nets.gores import about_z
from jadeite.core.nets.model import Floats, Joint, Kind, Opening, Panel, Piece
from jadeite.core.nets.roles import Role

__all__ = ["SPACER_PART", "Glued", "Through", "glued_stack", "pads_in"]

SPACER_PART = "spacer"
SPACER, SPACER_SHARE = 25.0, 0.9  # mm across at most, common practice; of the middles, from memory
CORNERS = 48  # of a disc or hole; from memory, within 0.02 mm
HANGS = (
    "On the back of the disc: each foot with its fold along one edge, one beside the other all "
    "round; press until it holds."
)
SPACED = "A dot of glue in the middle of the ring below; the disc lies where nothing of it is seen."
PLIES = "A dot of glue in the middle only; turn each so that its strands lie between those below."
PRESSED = "Press only its middle, with the blunt end of a pencil."
INTO = "Set it down into what is gathered, and press its middle with the blunt end of a pencil."


@dataclass(frozen=True)
class Through:
    """What is cut into the middles: ``across`` mm, round or a cross, in all or in the lowest."""

    across: float = 0.0
    cross: bool = False
    lowest: bool = False

    def of(self, number: int) -> tuple[Opening, ...]:
        """Cuts in the middle of a ring, the lowest 0."""
        if not self.across or (self.lowest and number):
            return ()
        return _cross(self.across) if self.cross else holes(self.across)

    @property
    def disc(self) -> tuple[Opening, ...]:
        """Cuts in a disc between two rings: it is too stiff for a cross."""
        return () if self.lowest else holes(self.across)


@dataclass(frozen=True)
class Glued:
    """Pieces of a stack, lowest first, with their places, joints and arrivals."""

    pieces: tuple[Piece, ...]
    placements: Mapping[str, Floats]
    joints: tuple[Joint, ...]
    arrivals: tuple[Arrival, ...]

    def with_one(self, piece: Piece, place: Floats, joint: Joint, arrival: Arrival) -> Glued:
        """With one more piece on top; ``place`` is (4, 4)."""
        return Glued(
            (*self.pieces, piece),
            {**self.placements, piece.name: place},
            (*self.joints, joint),
            (*self.arrivals, arrival),
        )


class _Gluing:
    """Pieces as they are put on one another, lowest first."""

    def __init__(self) -> None:
        self.pieces: list[Piece] = []
        self.placements: dict[str, Floats] = {}
        self.joints: list[Joint] = []
        self.arrivals: list[Arrival] = []
        self.on: Piece | None = None  # what lies on top
        self.carrier = ""  # the last that came, on which plies of its own may lie
        self.under: tuple[Piece, ...] = ()  # single petals that hang under it

    def place(self, piece: Piece, z: float, turn: float) -> None:
        """Where a piece stands: turned by degrees about the axis, at a height in mm."""
        place = np.array(about_z(turn))
        place[2, 3] = z
        self.pieces.append(piece)
        self.placements[piece.name] = place

    def put(
        self,
        piece: Piece,
        z: float,
        turn: float,
        hint: str,
        feet: Sequence[Piece] = (),
        *,
        flat: bool = False,
        pad: float = 0.0,
    ) -> None:
        """A piece by its middle, or by the feet under it, on what lies on top; or while flat.

        ``pad`` mm of foam lie between.
        """
        if self.on is not None:
            on = (self.on.name, MIDDLE)
            ends = [(piece.name, MIDDLE), on]
            small, large = ends[::-1] if self.on.part == SPACER_PART else ends
            side = "inside" if small is ends[0] else "outside"
            if feet:
                self.joints += [
                    Joint(Kind.GLUE, (foot.name, FOOT), on, piece.title, "inside") for foot in feet
                ]
            else:
                self.joints.append(Joint(Kind.GLUE, small, large, piece.title, side, pad))
            after = [foot.name for foot in (*self.under, *feet)]
            if self.carrier in {a.piece for a in self.arrivals}:
                after.append(self.carrier)
            when = When.FLAT if flat else When.FOLDED  # plies of one kind come together
            come = () if flat else tuple(after)
            onto = (self.carrier, MIDDLE)
            self.arrivals.append(Arrival(piece.name, when, onto, hint=hint, after=come))
        if not flat:
            self.carrier = piece.name
        self.place(piece, z, turn)
        self.on, self.under = piece, tuple(feet)

    def hang(self, feet: Sequence[Piece], disc: Piece, z: float, turn: float) -> None:
        """Single petals by their feet under a disc."""
        for i, foot in enumerate(feet):
            self.place(foot, z, turn + 360.0 / len(feet) * i)
            title = f"{disc.title}, petals"
            self.joints.append(Joint(Kind.GLUE, (foot.name, FOOT), (disc.name, MIDDLE), title,
                                     "outside"))  # fmt: skip
            self.arrivals.append(Arrival(foot.name, When.FOLDED, (disc.name, MIDDLE), hint=HANGS))


def pads_in(stack: Stack) -> tuple[int, float]:
    """How many foam pads lie between rings, and how wide a pad is in mm, on all of them."""
    pairs = [
        (one.ring, other.ring)
        for one, other in itertools.pairwise(stack.layers)
        if stack.under(other)
    ]
    least = min((min(one.hub_inner, other.hub_inner) for one, other in pairs), default=0.0)
    return len(pairs), min(SPACER, 2 * SPACER_SHARE * least)


def glued_stack(
    stack: Stack, boards: Mapping[str, Board], through: Through, *, foam: bool = False
) -> Glued:
    """Every ring glued by its middle on the one below, or on a disc or ``foam`` between them."""
    made = _Gluing()
    for i, layer in enumerate(stack.layers):
        turn, hint, level, pad = stack.turns.turns[i], "", stack.levels[i], 0.0
        if i:
            under, below = stack.layers[i - 1], stack.layers[i - 1].ring
            if foam:
                pad = stack.under(layer)
            elif stack.under(layer):
                least = min(layer.ring.hub_inner, below.hub_inner)  # a triangle's edges are near
                wide = min(SPACER / 2, SPACER_SHARE * least)
                disc = _disc(
                    f"{SPACER_PART}-{i}", f"spacer {i}", wide, through, boards[SPACER_PART]
                )
                z = stack.levels[i - 1] + (below.asked.thickness + stack.spacer) / 2
                made.put(disc, z, 0.0, SPACED)
            hint = _gap_words(layer, under, on_disc=stack.under(layer) > pad, on_pad=pad > 0)
        what = layer.what
        board, part, ring = boards[layer.part], layer.part, layer.ring
        if not layer.single:
            if layer.ply and made.on is not None:  # its net is that of those it lies on
                piece = replace(made.on, name=layer.name, title=layer.title)
            else:
                piece = ring_piece(ring, layer.name, layer.title, board, part, what, through.of(i))
            made.put(piece, level, turn, hint, flat=layer.ply > 0, pad=pad)
            made.joints += laps_of(ring, piece.name)
            continue
        middle = middle_piece(ring, part, layer.title, board, part, through.of(i))
        title = what if layer.leaf else f"{layer.title} {what}"
        first = petal_piece(ring, f"{part}-{what}-1", f"{title} 1", board, part, what)
        feet = [
            replace(first, name=f"{part}-{what}-{n}", title=f"{title} {n}")
            for n in range(1, ring.asked.count + 1)
        ]
        made.put(middle, level, turn, hint, feet)
        made.hang(feet, middle, stack.petal_levels[i], turn)
    return Glued(tuple(made.pieces), made.placements, tuple(made.joints), tuple(made.arrivals))


def holes(across: float) -> tuple[Opening, ...]:
    """A hole in the middle of a piece, as wide in mm; none of no width."""
    return (Opening("hole", circle(across / 2)),) if across > 0 else ()


def _cross(across: float) -> tuple[Opening, ...]:
    """Two slits across one another in the middle, as long in mm; what is pushed in bends them."""
    half = across / 2
    lines = ([[-half, 0.0], [0.0, 0.0], [half, 0.0]], [[0.0, -half], [0.0, 0.0], [0.0, half]])
    return tuple(Opening("cross", np.array(line)) for line in lines)


def circle(radius: float) -> Floats:
    """Corners of a disc about the origin, (n, 2) float, mm."""
    turns = 2 * np.pi * np.arange(CORNERS) / CORNERS
    return np.asarray(radius * np.column_stack([np.cos(turns), np.sin(turns)]))


def _disc(name: str, title: str, radius: float, through: Through, board: Board) -> Piece:
    size = (2 * radius, 2 * radius)
    panel = Panel(MIDDLE, title, Role.PLATE, circle(radius), size, through.disc)
    return Piece(name, title, board, (panel,), (), "inside", part=SPACER_PART)


def _gap_words(layer: Layer, under: Layer, *, on_disc: bool, on_pad: bool) -> str:
    """How a ring is turned on the one below it."""
    ring, below = layer.ring, under.ring
    if layer.ply:
        return PLIES
    on = "A dot of glue in the middle of the ring below"
    if on_disc:
        on = "A dot of glue on the disc"
    if on_pad:
        on = "A foam pad on the middle of the ring below; peel its backing off"
    if layer.what == STRAND:
        how = INTO if under.what == STRAND else PRESSED
        return f"{on}. {how}"
    gaps = "its petals stand in the gaps of the ring below"
    if ring.asked.count != below.asked.count:
        gaps = "as many of its petals as can be stand in gaps, as the picture shows"
    return f"{on}. Turn it so that {gaps}, and press only its middle."
