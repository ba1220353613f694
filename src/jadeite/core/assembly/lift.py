"""Any moment between the flat net and the closed thing.

The lift runs from 0 (flat, good side up, as it lies on the cutter) to 1
(closed).  Between its stops it turns the pieces over where the good side ends
outside, makes the folds in working order, puts in what goes in (a second
floor, dividers, the contents), and brings the lid over.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence, Set
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from jadeite.core.assembly.motion import (
    about_x,
    brought,
    ramp,
    straight_between,
    turned_between,
)
from jadeite.core.assembly.order import JOINED, Move, making_order
from jadeite.core.assembly.spots import extent, heights, lies_behind, spots, stands
from jadeite.core.assembly.stages import Stage, stages_of
from jadeite.core.folding.kinematics import fold_matrices
from jadeite.core.nets.model import Design, Floats, Piece
from jadeite.core.nets.turns import closed_matrix

__all__ = ["Lift", "Pose", "lift_of"]

ABOVE = 0.8  # of a stage; from memory, by then a piece has yet to come straight down
HOVER = 12.0  # mm that a lid clears the rim by while it is brought over; from memory
DROP = 60.0  # mm from which the contents come down; from memory


@dataclass(frozen=True, eq=False)
class Pose:
    """Where everything is at one moment, on the table (z = 0 is the table).

    ``matrices`` carries each panel (piece, panel) from the flat piece;
    ``contents`` moves the contents from the shared space, or is None while
    they are not in; ``filled`` runs from 0 to 1.
    """

    matrices: Mapping[str, Mapping[str, Floats]]
    contents: Floats | None
    filled: float


@dataclass(frozen=True, eq=False)
class Lift:
    """The whole movement of a design; see :meth:`pose`."""

    design: Design
    stages: tuple[Stage, ...]
    moves: tuple[Move, ...]
    flat_spots: Mapping[str, tuple[float, float]]
    folded_spots: Mapping[str, tuple[float, float]]
    heights: Mapping[str, float]

    @property
    def stops(self) -> tuple[tuple[float, str], ...]:
        """Positions of the lift with a name, from 0 to 1."""
        return ((0.0, "flat"), *((s.end, s.label) for s in self.stages))

    def after_level(self, level: int) -> float:
        """Position of the lift once the folds of a level are made."""
        done = [s.end for s in self.stages if s.kind == "folds" and s.level <= level]
        return max(done, default=self.turned)

    @property
    def laid(self) -> float:
        """Position of the lift once what is glued on flat is on."""
        return next((s.end for s in self.stages if s.kind == "flat"), 0.0)

    @property
    def lined(self) -> float:
        """Position of the lift once linings are on."""
        return next((s.end for s in self.stages if s.kind == "lined"), 0.0)

    def after_mount(self, order: int) -> float:
        """Position of the lift once the pieces of a turn are joined to others."""
        return next(s.end for s in self.stages if s.kind == "mount" and s.level == order)

    def after_insert(self, order: int) -> float:
        """Position of the lift once what is put in at a turn is in."""
        return next(s.end for s in self.stages if s.kind == "insert" and s.level == order)

    def arriving(self, kind: str, order: int) -> float:
        """Position at which what is joined or put in at a turn is still above its place."""
        stage = next(s for s in self.stages if s.kind == kind and s.level == order)
        return stage.start + ABOVE * (stage.end - stage.start)

    @property
    def turned(self) -> float:
        """Position of the lift once the pieces lie the way they are folded."""
        return next((s.end for s in self.stages if s.kind == "turn"), 0.0)

    def spot(self, piece: str, value: float) -> tuple[float, float]:
        """Place of a piece's base panel on the table; pieces draw together as they fold."""
        share = self.flatness(value)
        (x0, y0), (x1, y1) = self.folded_spots[piece], self.flat_spots[piece]
        return x0 + (x1 - x0) * share, y0 + (y1 - y0) * share

    def flatness(self, value: float) -> float:
        """1 while the nets lie flat, 0 once the last fold is made."""
        made = [s for s in self.stages if s.kind == "folds"]
        # what closes after filling does not move the pieces on the table
        made = [s for s in made if s.level < JOINED] or made
        last = max((s.end for s in made), default=self.turned)
        if value <= self.turned:
            return 1.0
        return max(0.0, 1 - (value - self.turned) / max(last - self.turned, 1e-9))

    def covered(self, value: float) -> bool:
        """Whether a lid hides what lies below it."""
        return any(s.kind == "lid" and value > (s.start + s.end) / 2 for s in self.stages)

    def shown(self, names: Set[str], more: Sequence[str], value: float) -> frozenset[str]:
        """Pieces of a step, and ``more``, with all that is joined to them by then; none for all."""
        design = self.design
        if not names and not more:
            return frozenset()
        joined = [
            (name, on) for name, (on, order) in design.mounts.items()
            if self.after_mount(order) <= value
        ]  # fmt: skip
        joined += [
            (name, design.pieces[0].name)
            for name, order in design.inserts
            if self.after_insert(order) <= value
        ]
        joined += [
            (name, on)
            for name, (on, _) in design.laid_flat.items()
            if (self.lined if lies_behind(design, design.piece(name)) else self.laid) <= value
        ]
        out = {*names, *more}
        while True:
            beside = {n for pair in joined if out & set(pair) for n in pair} - out
            if not beside:
                return frozenset(out)
            out |= beside

    def at(self, kind: str) -> float:
        """Position of the lift at the end of its ``fill`` or ``lid`` stage."""
        return next(s.end for s in self.stages if s.kind == kind)

    def _share(self, stage: Stage, value: float) -> float:
        if value >= stage.end:
            return 1.0
        x = max(0.0, (value - stage.start) / (stage.end - stage.start))
        return x * x * (3 - 2 * x)  # eases in and out

    def pose(self, value: float) -> Pose:
        """Everything at a position of the lift, 0 to 1."""
        shares: dict[str, dict[str, float]] = {p.name: {} for p in self.design.pieces}
        turn, filled, lid, stand, laid, lined = 1.0, 0.0, 0.0, 0.0, 0.0, 0.0
        level_share: dict[int, float] = {}
        put: dict[int, float] = {}
        joined: dict[int, float] = {}
        for stage in self.stages:
            share = self._share(stage, value)
            if stage.kind == "turn":
                turn = share
            elif stage.kind == "flat":
                laid = share
            elif stage.kind == "lined":
                lined = share
            elif stage.kind == "folds":
                level_share[stage.level] = share
            elif stage.kind == "insert":
                put[stage.level] = share
            elif stage.kind == "fill":
                filled = share
            elif stage.kind == "stand":
                stand = share
            elif stage.kind == "mount":
                joined[stage.level] = share
            else:
                lid = share
        for move in self.moves:
            for name in move.folds:
                shares[move.piece][name] = level_share[move.level]
        turns = dict(self.design.inserts)
        matrices: dict[str, dict[str, Floats]] = {}
        for piece in self._carriers_first:
            name = piece.name
            if name in turns:
                end = self._home(value) @ self.design.placements[name]
                base = self._carried(piece, value, put[turns[name]], end)
            else:
                base = self._base(piece, value, turn, 0.0 if stands(self.design, piece) else lid)
                if stands(self.design, piece):
                    base = self._stood(piece, value, base, shares[name], stand, lid)
            if name in self.design.mounts:
                carrier, order = self.design.mounts[name]
                if joined[order] > 0:
                    now = matrices[carrier][self.design.piece(carrier).panels[0].name]
                    back = np.linalg.inv(self.design.placements[carrier])
                    end = now @ back @ self.design.placements[name]
                    if name in self.design.paths:
                        way = now[:3, :3] @ back[:3, :3] @ np.array(self.design.paths[name])
                        base = self._slid(piece, joined[order], base, end, way)
                    else:
                        base = brought(base, end, joined[order], self._reach)
            on = lined if lies_behind(self.design, piece) else laid
            if name in self.design.laid_flat and on > 0:
                carrier, panel = self.design.laid_flat[name]
                end = matrices[carrier][panel] @ self._beside[name]
                base = brought(base, end, on, HOVER) if on < 1 else end
            matrices[name] = fold_matrices(piece, base, shares[name])
        contents = None
        if filled > 0:
            contents = self._home(value)
            away = DROP if self.design.mouth[2] > 0 else self._slide
            contents[:3, 3] += (1 - filled) * away * np.array(self.design.mouth)
        return Pose(matrices, contents, filled)

    @cached_property
    def _carriers_first(self) -> tuple[Piece, ...]:
        """All pieces, each after the one that it is joined to."""
        out: list[Piece] = []
        rest = list(self.design.pieces)
        while rest:
            done = {piece.name for piece in out}
            ready = [
                p
                for p in rest
                if all(
                    p.name not in on or on[p.name][0] in done
                    for on in (self.design.mounts, self.design.laid_flat)
                )
            ]
            if not ready:
                raise ValueError("pieces are joined to one another in a circle")
            out += ready
            rest = [p for p in rest if p not in ready]
        return tuple(out)

    @cached_property
    def _beside(self) -> dict[str, Floats]:
        """Where each piece that is glued on flat lies on its panel, or beside it."""
        closed = self.design.placements
        out = {}
        for name, (carrier, panel) in self.design.laid_flat.items():
            piece = self.design.piece(carrier)
            out[name] = np.linalg.inv(closed_matrix(piece, closed[carrier], panel)) @ closed[name]
        return out

    def _home(self, value: float) -> Floats:
        """From the shared space of the closed thing to where it stands on the table."""
        first = self.design.pieces[0]
        out = np.eye(4)
        out[:2, 3] = self.spot(first.name, value)
        if not stands(self.design, first):  # its base lies on the table, whatever lies above it
            out[2, 3] = -float(self.design.placements[first.name][2, 3])
        return out

    @property
    def _reach(self) -> float:
        """How high a piece is raised while it is brought to another, in mm."""
        return max(self.heights.values(), default=0.0) + HOVER

    def _stood(
        self,
        piece: Piece,
        value: float,
        lying: Floats,
        shares: Mapping[str, float],
        share: float,
        lid: float,
    ) -> Floats:
        """A piece set up from lying on its base to how it stands when closed; a lid goes on."""
        closed = self.design.placements[piece.name]
        home = self._home(value) @ closed
        own = home.copy()
        if piece.name != self.design.pieces[0].name:  # beside, on the table, until it is joined
            low, high = extent(piece, closed, shares)
            spot = np.array(self.spot(piece.name, value)) + piece.panels[0].outline.mean(axis=0)
            own[:2, 3] = closed[:2, 3] + spot - (low[:2] + high[:2]) / 2
            own[2, 3] = closed[2, 3] - low[2]
        if lid > 0 and not np.allclose(own, home):
            return brought(own, home, lid, self._reach)
        if share >= 1:
            return own
        turn = turned_between(closed[:3, :3] @ lying[:3, :3].T, share)
        base = np.eye(4)
        base[:3, :3] = turn @ lying[:3, :3]
        base[:3, 3] = lying[:3, 3] + (own[:3, 3] - lying[:3, 3]) * share
        if share > 0:  # it must not dip into the table on its way
            lowest = [float(extent(piece, m, shares)[0][2]) for m in (lying, base)]
            base[2, 3] += max(0.0, lowest[0] * (1 - share) - lowest[1])
        return base

    def _slid(self, piece: Piece, share: float, start: Floats, end: Floats, way: Floats) -> Floats:
        """A piece that is slid on along a way: first, over the others, to where it begins."""
        before = end.copy()
        before[:3, 3] += way * self._slide * 1.1
        if share < 0.5 and piece.name in self.design.lifts:
            return straight_between(start, before, ramp(share, 0.0, 0.5))
        if share < 0.5:
            return brought(start, before, share * 2, self._reach)
        return straight_between(before, end, ramp(share, 0.5, 1.0))

    @property
    def _slide(self) -> float:
        """How far out things start that are slid in, in mm."""
        hollow = self.design.hollow
        return float(max(hollow.size)) + HOVER if hollow else DROP

    def _carried(self, piece: Piece, value: float, share: float, closed: Floats) -> Floats:
        """Matrix of a piece that is put in: up, stood upright, across, and straight down."""
        x, y = self.spot(piece.name, value)
        middle = np.append(np.mean(piece.panels[0].outline, axis=0), 0.0)
        end = closed[:3, :3] @ middle + closed[:3, 3]
        start = np.array([x, y, 0.0]) + middle
        turned = turned_between(closed[:3, :3], ramp(share, 0.05, 0.45))
        reach = float(np.ptp(piece.panels[0].outline[:, 1]))
        over = self.heights[self.design.pieces[0].name] + reach + HOVER
        height = (
            start[2] + (over - start[2]) * ramp(share, 0.0, 0.4)
            if share < 0.75
            else over + (end[2] - over) * ramp(share, 0.75, 1.0)
        )
        centre = start + (end - start) * ramp(share, 0.3, 0.75)
        centre[2] = height
        matrix = np.eye(4)
        matrix[:3, :3] = turned
        matrix[:3, 3] = centre - turned @ middle
        return matrix

    def _base(self, piece: Piece, value: float, turn: float, lid: float) -> Floats:
        """Matrix of a piece's base panel on the table."""
        x, y = self.spot(piece.name, value)
        up = piece.good_side == "outside"
        half = float(np.abs(np.concatenate([p.outline for p in piece.panels])[:, 1]).max())
        angle = 180.0 * turn if up else 0.0
        rise = half * math.sin(math.radians(angle))
        if piece.name not in self.design.lifts or lid <= 0:
            return about_x(angle, (x, y, rise))
        closed = self.design.placements[piece.name]
        if piece.name in self.design.paths:
            end = self._home(value) @ self.design.placements[piece.name]
            way = np.array(self.design.paths[piece.name])
            return self._slid(piece, lid, about_x(angle, (x, y, rise)), end, way)
        home = self._home(value)[:3, 3]
        middle = self.heights[piece.name] / 2
        pivot = (0.0, 0.0, -middle if up else middle)
        end = closed[:3, 3] + closed[:3, :3] @ np.array(pivot) + home
        # rise high enough to turn over freely, turn, go across, and come straight down
        reach = float(np.abs(piece.panels[0].outline[:, 1]).max())
        over = max(self.heights[self.design.pieces[0].name] + 2 * middle, reach) + HOVER
        go = ramp(lid, 0.4, 0.75)
        height = (
            middle + (over - middle) * ramp(lid, 0.0, 0.35)
            if lid < 0.75
            else over + (float(end[2]) - over) * ramp(lid, 0.75, 1.0)
        )
        centre = (x + (float(end[0]) - x) * go, y + (float(end[1]) - y) * go, height)
        turned = (180.0 if up else 0.0) + 180.0 * ramp(lid, 0.12, 0.42)
        matrix = about_x(turned, centre)
        shift = np.eye(4)
        shift[:3, 3] = -np.array(pivot)
        return np.asarray(matrix @ shift)


def lift_of(design: Design) -> Lift:
    """The movement from flat to closed, derived from folds and joints."""
    moves = making_order(design)
    flat, folded = spots(design, folded=False), spots(design, folded=True)
    return Lift(design, stages_of(design, moves), moves, flat, folded, heights(design))
