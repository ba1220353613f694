"""The stretches of the lift, from the design and the order of its folds."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from jadeite.core.assembly.order import CLOSING, JOINED, Move
from jadeite.core.assembly.spots import stands
from jadeite.core.nets.arrivals import How, When
from jadeite.core.nets.model import Design, Kind
from jadeite.core.nets.roles import Role

__all__ = ["Stage", "stages_of"]


@dataclass(frozen=True)
class Stage:
    """A stretch of the lift: what moves, and the label at its end.

    ``kind`` is ``turn``, ``folds``, ``stand``, ``come``, ``fill`` or ``tie``; ``when`` and
    ``level`` say which of what comes, ``level`` alone which folds.
    """

    kind: str
    label: str
    start: float
    end: float
    level: int = -1
    when: When | None = None


def stages_of(design: Design, moves: Sequence[Move]) -> tuple[Stage, ...]:
    """Every stretch with its label; longer work takes a longer stretch."""
    levels = sorted({m.level for m in moves if m.folds})
    rolls = {m.level for m in moves if m.rolls}
    plain = [level for level in levels if level not in rolls and level < JOINED] or [-1]
    weights: list[tuple[str, str, float, int, When | None]] = []

    def comes(when: When, label: str, weight: float, turn: int = 0) -> None:
        weights.append(("come", label, weight, turn, when))

    arrivals = design.arrivals
    roles = {panel.role for piece in design.pieces for panel in piece.panels}
    first = "folded" if Role.LEAF in roles else "flaps in" if Role.EDGE in roles else "walls"
    petals = Role.PETAL in roles
    first = ("petals bent" if Role.HUB in roles else "leaves bent") if petals else first
    first = "wound" if Role.WOUND in roles else first
    if flat := arrivals.at(When.FLAT):
        laps = any(a.how is How.LAPPED for a in flat)
        on = "layers on" if Role.LEAF in roles else "plies on" if petals else "overlays on"
        comes(When.FLAT, "halves joined" if laps else on, 0.6)
    if any(piece.good_side == "outside" for piece in design.pieces):
        weights.append(("turn", "turned over", 0.8, -1, None))
    if arrivals.at(When.BEHIND):
        lines = any(piece.panels[0].role.traits.lines for piece in design.pieces)
        comes(When.BEHIND, "lined" if lines else "backs on" if petals else "panel in", 0.6)
    for level in (level for level in levels if level < JOINED):
        label = "rolled over" if level in rolls else (first if level == plain[0] else "")
        if level == plain[-1] and len(plain) > 1:
            label = "tabs glued" if any(j.kind is Kind.GLUE for j in design.joints) else "folded"
        if level in rolls and level != max(rolls):
            label = ""
        weights.append(("folds", label, 1.0, level, None))
    if any(stands(design, piece) for piece in design.pieces):
        weights.append(("stand", "stood up", 0.8, -1, None))
    turns = sorted({arrivals.turn(a.piece) for a in arrivals.at(When.FOLDED)})
    for turn in turns:
        comes(When.FOLDED, "joined" if turn == turns[-1] else "", 1.0, turn)
    for level in (level for level in levels if JOINED <= level < CLOSING):
        weights.append(("folds", "", 1.0, level, None))
    put = {arrivals.turn(a.piece): design.piece(a.piece) for a in arrivals.at(When.STANDING)}
    for turn, piece in put.items():
        role = piece.panels[0].role
        label = "divided" if role is Role.SLAT else f"{piece.title} in"
        comes(When.STANDING, label if turn == max(put) or role is Role.PLY else "", 1.2, turn)
    weights.append(("fill", "filled" if design.hollow else "finished", 0.8, -1, None))
    late = [level for level in levels if level >= CLOSING]
    for level in late:
        label = "closed" if level == late[-1] and not arrivals.lids else ""
        weights.append(("folds", label, 1.0, level, None))
    if arrivals.at(When.LAST):
        comes(When.LAST, "closed", 1.4)
    if any(one.strips and not one.first for one in design.bought):
        weights.append(("tie", "tied", 0.6, -1, None))
    whole = sum(weight for _, _, weight, _, _ in weights)
    stages: list[Stage] = []
    clock = 0.0
    for kind, label, weight, level, when in weights:
        start = stages[-1].end if stages else 0.0
        clock += weight / whole
        stages.append(Stage(kind, label, start, min(1.0, round(clock, 9)), level, when))
    return tuple(stages)
