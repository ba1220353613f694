"""Any moment between the flat net and the closed thing.

The lift runs from 0 (flat, good side up, as it lies on the cutter) to 1
(closed).  Between its stops it turns the pieces over where the good side ends
outside, makes the folds in working order, puts the contents in, and brings
the lid over.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from jadeite.core.assembly.order import Move, making_order
from jadeite.core.folding.kinematics import fold_matrices, transform
from jadeite.core.nets.model import Design, Floats, Piece

__all__ = ["Lift", "Pose", "lift_of"]

TABLE_GAP = 14.0  # mm between nets on the table; from memory
FOLDED_GAP = 34.0  # mm between folded pieces; from memory, room for dimension lines
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


@dataclass(frozen=True)
class Stage:
    """A stretch of the lift: what moves, and the label at its end."""

    kind: str  # turn, folds, fill, lid
    label: str
    start: float
    end: float
    level: int = -1


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
        last = max((s.end for s in self.stages if s.kind == "folds"), default=self.turned)
        if value <= self.turned:
            return 1.0
        return max(0.0, 1 - (value - self.turned) / max(last - self.turned, 1e-9))

    def covered(self, value: float) -> bool:
        """Whether a lid hides what lies below it."""
        return any(s.kind == "lid" and value > (s.start + s.end) / 2 for s in self.stages)

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
        turn, filled, lid = 1.0, 0.0, 0.0
        level_share: dict[int, float] = {}
        for stage in self.stages:
            share = self._share(stage, value)
            if stage.kind == "turn":
                turn = share
            elif stage.kind == "folds":
                level_share[stage.level] = share
            elif stage.kind == "fill":
                filled = share
            else:
                lid = share
        for move in self.moves:
            for name in move.folds:
                shares[move.piece][name] = level_share[move.level]
        matrices = {
            piece.name: fold_matrices(
                piece, self._base(piece, value, turn, lid), shares[piece.name]
            )
            for piece in self.design.pieces
        }
        contents = None
        if filled > 0:
            contents = np.eye(4)
            contents[:2, 3] = self.spot(self.design.pieces[0].name, value)
            contents[2, 3] = (1 - filled) * DROP
        return Pose(matrices, contents, filled)

    def _base(self, piece: Piece, value: float, turn: float, lid: float) -> Floats:
        """Matrix of a piece's base panel on the table."""
        x, y = self.spot(piece.name, value)
        up = piece.good_side == "outside"
        half = float(np.abs(np.concatenate([p.outline for p in piece.panels])[:, 1]).max())
        angle = 180.0 * turn if up else 0.0
        rise = half * math.sin(math.radians(angle))
        if piece.name not in self.design.lifts or lid <= 0:
            return _about_x(angle, (x, y, rise))
        closed = self.design.placements[piece.name]
        home = self.spot(self.design.pieces[0].name, value)
        middle = self.heights[piece.name] / 2
        pivot = (0.0, 0.0, -middle if up else middle)
        end = closed[:3, 3] + closed[:3, :3] @ np.array(pivot) + (*home, 0.0)
        # rise high enough to turn over freely, turn, go across, and come straight down
        reach = float(np.abs(piece.panels[0].outline[:, 1]).max())
        over = max(self.heights[self.design.pieces[0].name] + 2 * middle, reach) + HOVER
        go = _ramp(lid, 0.4, 0.75)
        height = (
            middle + (over - middle) * _ramp(lid, 0.0, 0.35)
            if lid < 0.75
            else over + (float(end[2]) - over) * _ramp(lid, 0.75, 1.0)
        )
        centre = (x + (float(end[0]) - x) * go, y + (float(end[1]) - y) * go, height)
        turned = (180.0 if up else 0.0) + 180.0 * _ramp(lid, 0.12, 0.42)
        matrix = _about_x(turned, centre)
        shift = np.eye(4)
        shift[:3, 3] = -np.array(pivot)
        return np.asarray(matrix @ shift)


def _ramp(x: float, low: float, high: float) -> float:
    s = min(1.0, max(0.0, (x - low) / (high - low)))
    return s * s * (3 - 2 * s)


def _about_x(degrees: float, at: tuple[float, float, float]) -> Floats:
    c, s = math.cos(math.radians(degrees)), math.sin(math.radians(degrees))
    return np.array([[1, 0, 0, at[0]], [0, c, -s, at[1]], [0, s, c, at[2]], [0, 0, 0, 1.0]])


def lift_of(design: Design) -> Lift:
    """The movement from flat to closed, derived from folds and joints."""
    moves = making_order(design)
    levels = sorted({m.level for m in moves if m.folds})
    rolls = {m.level for m in moves if m.rolls}
    plain = [level for level in levels if level not in rolls]
    weights: list[tuple[str, str, float, int]] = []
    if any(piece.good_side == "outside" for piece in design.pieces):
        weights.append(("turn", "turned over", 0.8, -1))
    for level in levels:
        label = "rolled over" if level in rolls else "walls"
        if level == plain[-1] and len(plain) > 1:
            label = "tabs glued"
        if level in rolls and level != max(rolls):
            label = ""
        weights.append(("folds", label, 1.0, level))
    weights.append(("fill", "filled", 0.8, -1))
    if design.lifts:
        weights.append(("lid", "closed", 1.4, -1))
    whole = sum(w for _, _, w, _ in weights)
    stages, clock = [], 0.0
    for kind, label, weight, level in weights:
        start, clock = clock, clock + weight / whole
        stages.append(Stage(kind, label, start, min(1.0, round(clock, 9)), level))
    flat, folded = _spots(design, folded=False), _spots(design, folded=True)
    return Lift(design, tuple(stages), moves, flat, folded, _heights(design))


def _spots(design: Design, *, folded: bool) -> dict[str, tuple[float, float]]:
    """Places of the base panels on the table: side by side, middle on the origin."""
    gap = FOLDED_GAP if folded else TABLE_GAP
    boxes = []
    for piece in design.pieces:
        panels = piece.panels[:1] if folded else piece.panels
        points = np.concatenate([panel.outline for panel in panels])
        boxes.append((points.min(axis=0), points.max(axis=0)))
    whole = sum(float(high[0] - low[0]) for low, high in boxes) + gap * (len(boxes) - 1)
    x = -whole / 2
    spots = {}
    for piece, (low, high) in zip(design.pieces, boxes, strict=True):
        spots[piece.name] = (x - float(low[0]), 0.0)
        x += float(high[0] - low[0]) + gap
    return spots


def _heights(design: Design) -> dict[str, float]:
    """Height in mm of each folded piece by itself."""
    out = {}
    for piece in design.pieces:
        matrices = fold_matrices(piece, np.eye(4))
        points = np.concatenate([transform(matrices[p.name], p.outline) for p in piece.panels])
        out[piece.name] = float(np.ptp(points[:, 2]))
    return out
