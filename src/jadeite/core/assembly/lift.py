"""Any moment between the flat net and the closed thing.

The lift runs from 0 (flat, good side up, as it lies on the cutter) to 1
(closed).  Between its stops it turns the pieces over where the good side ends
outside, makes the folds in working order, puts in what goes in (a second
floor, dividers, the contents), and brings the lid over.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping, Sequence, Set
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from jadeite.core.assembly.clock import Step
from jadeite.core.assembly.motion import (
    about_x,
    brought,
    ramp,
    straight_between,
    turned_between,
)
from jadeite.core.assembly.order import JOINED, Move, making_order
from jadeite.core.assembly.spots import extent, heights, spots, stands
from jadeite.core.assembly.stages import Stage, stages_of
from jadeite.core.folding.kinematics import fold_matrices, transform
from jadeite.core.nets.arrivals import Arrival, When
from jadeite.core.nets.model import Design, Floats, Piece
from jadeite.core.nets.ties import Strip
from jadeite.core.nets.turns import closed_matrix

__all__ = ["Lift", "Pose", "lift_of"]

ABOVE = 0.8  # of a stage; from memory, by then a piece has yet to come straight down
ROW_GAP = 0.15  # of its width, from one to the next in a row; from memory
HOVER = 12.0  # mm that a lid clears the rim by while it is brought over; from memory
DROP = 60.0  # mm from which the contents come down; from memory


@dataclass(frozen=True, eq=False)
class Pose:
    """Where everything is at one moment, on the table (z = 0 is the table).

    ``matrices`` carries each panel (piece, panel) from the flat piece;
    ``contents`` moves the contents from the shared space, or is None while
    they are not in; ``filled`` runs from 0 to 1. ``ribbons`` are what is tied or drawn
    through by then, each with the matrix that moves it from the shared space.
    """

    matrices: Mapping[str, Mapping[str, Floats]]
    contents: Floats | None
    filled: float
    ribbons: tuple[tuple[Strip, Floats], ...] = ()


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

    def came(self, when: When, turn: int = 0) -> float:
        """Position of the lift once what comes at a stage and turn is there; 0 if none does."""
        return next((s.end for s in self.stages if (s.when, s.level) == (when, turn)), 0.0)

    def arriving(self, when: When, turn: int = 0) -> float:
        """Position at which what comes at a stage and turn is still above its place."""
        stage = next(s for s in self.stages if (s.when, s.level) == (when, turn))
        return stage.start + ABOVE * (stage.end - stage.start)

    def _there(self, arrival: Arrival) -> float:
        return self.came(arrival.when, self.design.arrivals.turn(arrival.piece))

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
        last = [s for s in self.stages if s.when is When.LAST]
        return any(value > (s.start + s.end) / 2 for s in last)

    def shown(self, names: Set[str], more: Sequence[str], value: float) -> frozenset[str]:
        """Pieces of a step, and ``more``, with all that is joined to them by then; none for all."""
        if not names and not more:
            return frozenset()
        joined = [
            (a.piece, a.onto[0])
            for a in self.design.arrivals
            if not a.panel and a.onto and self._there(a) <= value
        ]
        out = {*names, *more}
        while True:
            beside = {n for pair in joined if out & set(pair) for n in pair} - out
            if not beside:
                return frozenset(out)
            out |= beside

    def in_picture(self, step: Step) -> frozenset[str]:
        """Pieces in the picture of a step; none for all."""
        names = self.shown({piece for piece, _ in step.panels}, step.shows, step.lift)
        return names - frozenset(step.left_out)

    def in_a_row(self, step: Step) -> Mapping[str, Mapping[str, Floats]]:
        """Matrices of a step's picture: what is joined stays so, all side by side.

        On the table there is room between them for those that are left out.
        """
        names, out = self.in_picture(step), dict(self.pose(step.lift).matrices)
        left, at = [piece for piece in self.design.pieces if piece.name in names], 0.0
        while left:
            joined = self.shown({left[0].name}, (), step.lift) & names
            mine = [piece for piece in left if piece.name in joined]
            left = [piece for piece in left if piece.name not in joined]
            points = np.concatenate(
                [
                    transform(out[p.name][panel.name], panel.outline)
                    for p in mine
                    for panel in p.panels
                ]
            )
            low, high = points.min(axis=0), points.max(axis=0)
            move = np.eye(4)
            move[:2, 3] = at - low[0], -(low[1] + high[1]) / 2
            at += (1 + ROW_GAP) * float(high[0] - low[0])
            for piece in mine:
                out[piece.name] = {panel: move @ m for panel, m in out[piece.name].items()}
        return out

    @property
    def filled(self) -> float:
        """Position of the lift once the contents are in."""
        return next(s.end for s in self.stages if s.kind == "fill")

    def _share(self, stage: Stage, value: float) -> float:
        if value >= stage.end:
            return 1.0
        x = max(0.0, (value - stage.start) / (stage.end - stage.start))
        return x * x * (3 - 2 * x)  # eases in and out

    def pose(self, value: float) -> Pose:
        """Everything at a position of the lift, 0 to 1."""
        shares: dict[str, dict[str, float]] = {p.name: {} for p in self.design.pieces}
        turn, filled, stand = 1.0, 0.0, 0.0
        level_share: dict[int, float] = {}
        come: dict[tuple[When, int], float] = {}
        for stage in self.stages:
            share = self._share(stage, value)
            if stage.kind == "turn":
                turn = share
            elif stage.kind == "folds":
                level_share[stage.level] = share
            elif stage.kind == "fill":
                filled = share
            elif stage.kind == "stand":
                stand = share
            elif stage.when is not None:
                come[stage.when, stage.level] = share
        for move in self.moves:
            for name in move.folds:
                shares[move.piece][name] = level_share[move.level]
        for (piece_name, own), (carrier, other) in self.design.arrivals.ridden.items():
            shares[piece_name][own] = shares[carrier].get(other, 0.0)
        arrivals, lid = self.design.arrivals, come.get((When.LAST, 0), 0.0)
        matrices: dict[str, dict[str, Floats]] = {}
        for piece in self._carriers_first:
            arrival = arrivals.of(piece.name)
            here = come[arrival.when, arrivals.turn(piece.name)] if arrival else 0.0
            if arrival and arrival.when is When.STANDING:
                end = self._home(value) @ self.design.placements[piece.name]
                base = self._carried(piece, value, here, end)
            elif stands(self.design, piece):
                lying = self._base(piece, value, turn, 0.0)
                base = self._stood(piece, value, lying, shares[piece.name], stand, lid)
            else:
                base = self._base(piece, value, turn, lid)
            if arrival and arrival.onto and arrival.when < When.STANDING and here > 0:
                base = self._brought(piece, arrival, matrices, base, here)
            matrices[piece.name] = fold_matrices(piece, base, shares[piece.name])
        contents = None
        if filled > 0:
            contents = self._home(value)
            away = DROP if self.design.mouth[2] > 0 else self._slide
            contents[:3, 3] += (1 - filled) * away * np.array(self.design.mouth)
        return Pose(matrices, contents, filled, tuple(self._ribbons(value, matrices)))

    def _ribbons(
        self, value: float, matrices: Mapping[str, Mapping[str, Floats]]
    ) -> Iterator[tuple[Strip, Floats]]:
        """Ribbons that are tied by now, and those that hang from a panel which stands."""
        tied = next((s for s in self.stages if s.kind == "tie"), None)
        for one in self.design.bought:
            piece, panel = one.on
            if one.first and self.flatness(value) == 0 and self.design.has(one.on):
                closed = closed_matrix(
                    self.design.piece(piece), self.design.placements[piece], panel
                )
                place = matrices[piece][panel] @ np.linalg.inv(closed)
                yield from ((strip, place) for strip in one.strips)
            elif not one.first and tied is not None and value > (tied.start + tied.end) / 2:
                yield from ((strip, self._home(value)) for strip in one.strips)

    def _brought(
        self,
        piece: Piece,
        arrival: Arrival,
        matrices: Mapping[str, Mapping[str, Floats]],
        base: Floats,
        share: float,
    ) -> Floats:
        """A piece on its way to the panel that carries it, wherever that is by now."""
        assert arrival.onto is not None
        carrier, panel = arrival.onto
        now = matrices[carrier][panel]
        end = now @ self._beside[piece.name]
        if arrival.when < When.FOLDED:
            return brought(base, end, share, HOVER) if share < 1 else end
        if arrival.path is None:
            return brought(base, end, share, self._reach)
        on = self.design.piece(carrier)
        closed = closed_matrix(on, self.design.placements[carrier], panel)
        way = now[:3, :3] @ closed[:3, :3].T @ np.array(arrival.path)
        return self._slid(piece, share, base, end, way)

    @cached_property
    def _carriers_first(self) -> tuple[Piece, ...]:
        """All pieces, each after the one that it is joined to."""
        depth = self.design.arrivals.carried_first
        return tuple(sorted(self.design.pieces, key=lambda piece: depth.get(piece.name, 0)))

    @cached_property
    def _beside(self) -> dict[str, Floats]:
        """Where each piece that is joined to another lies on the panel that carries it."""
        closed = self.design.placements
        out = {}
        for arrival in self.design.arrivals:
            if arrival.panel or arrival.onto is None:
                continue
            carrier, panel = arrival.onto
            on = closed_matrix(self.design.piece(carrier), closed[carrier], panel)
            out[arrival.piece] = np.linalg.inv(on) @ closed[arrival.piece]
        return out

    def _home(self, value: float) -> Floats:
        """From the shared space of the closed thing to where it stands on the table."""
        first = self.design.body
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
        if piece.name != self.design.body.name:  # beside, on the table, until it is joined
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
        if share < 0.5 and self.design.arrivals.comes(piece.name, When.LAST):
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
        over = self.heights[self.design.body.name] + reach + HOVER
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
        arrival = self.design.arrivals.of(piece.name)
        if arrival is None or arrival.when is not When.LAST or lid <= 0:
            return about_x(angle, (x, y, rise))
        closed = self.design.placements[piece.name]
        if arrival.path is not None:
            end = self._home(value) @ closed
            way = np.array(arrival.path)
            return self._slid(piece, lid, about_x(angle, (x, y, rise)), end, way)
        home = self._home(value)[:3, 3]
        middle = self.heights[piece.name] / 2
        pivot = (0.0, 0.0, -middle if up else middle)
        end = closed[:3, 3] + closed[:3, :3] @ np.array(pivot) + home
        # rise high enough to turn over freely, turn, go across, and come straight down
        reach = float(np.abs(piece.panels[0].outline[:, 1]).max())
        over = max(self.heights[self.design.body.name] + 2 * middle, reach) + HOVER
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
