"""The stretches of the lift, from the design and the order of its folds."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from jadeite.core.assembly.order import CLOSING, JOINED, Move
from jadeite.core.assembly.spots import lies_behind, stands
from jadeite.core.nets.model import Design
from jadeite.core.nets.roles import Role

__all__ = ["Stage", "stages_of"]


@dataclass(frozen=True)
class Stage:
    """A stretch of the lift: what moves, and the label at its end."""

    kind: str  # flat, turn, lined, folds, stand, mount, insert, fill, lid
    label: str
    start: float
    end: float
    level: int = -1


def stages_of(design: Design, moves: Sequence[Move]) -> tuple[Stage, ...]:
    """Every stretch with its label; longer work takes a longer stretch."""
    levels = sorted({m.level for m in moves if m.folds})
    rolls = {m.level for m in moves if m.rolls}
    plain = [level for level in levels if level not in rolls and level < JOINED] or [-1]
    weights: list[tuple[str, str, float, int]] = []
    roles = {panel.role for piece in design.pieces for panel in piece.panels}
    first = "folded" if Role.LEAF in roles else "flaps in" if Role.EDGE in roles else "walls"
    lined = any(lies_behind(design, piece) for piece in design.pieces)
    if any(not lies_behind(design, design.piece(name)) for name in design.laid_flat):
        laps = any(
            j.tab[1].startswith("lap.") for j in design.joints if j.tab[0] in design.laid_flat
        )
        on = "layers on" if Role.LEAF in roles else "overlays on"
        weights.append(("flat", "halves joined" if laps else on, 0.6, -1))
    if any(piece.good_side == "outside" for piece in design.pieces):
        weights.append(("turn", "turned over", 0.8, -1))
    if lined:
        lines = any(piece.panels[0].role.traits.lines for piece in design.pieces)
        weights.append(("lined", "lined" if lines else "panel in", 0.6, -1))
    for level in (level for level in levels if level < JOINED):
        label = "rolled over" if level in rolls else (first if level == plain[0] else "")
        if level == plain[-1] and len(plain) > 1:
            label = "tabs glued" if any(j.kind == "glue" for j in design.joints) else "folded"
        if level in rolls and level != max(rolls):
            label = ""
        weights.append(("folds", label, 1.0, level))
    if any(stands(design, piece) for piece in design.pieces):
        weights.append(("stand", "stood up", 0.8, -1))
    orders = sorted({order for _, order in design.mounts.values()})
    for order in orders:
        weights.append(("mount", "joined" if order == orders[-1] else "", 1.0, order))
    for level in (level for level in levels if JOINED <= level < CLOSING):
        weights.append(("folds", "", 1.0, level))
    named = dict(design.inserts)
    for order in sorted(set(named.values())):
        put = next(name for name, at in named.items() if at == order)
        last_put = order == max(named.values())
        label = "divided" if put.startswith("divider") else f"{design.piece(put).title} in"
        label = label if last_put or "ply" in put else ""
        weights.append(("insert", label, 1.2, order))
    weights.append(("fill", "filled" if design.hollow else "finished", 0.8, -1))
    late = [level for level in levels if level >= CLOSING]
    for level in late:
        label = "closed" if level == late[-1] and not design.lifts else ""
        weights.append(("folds", label, 1.0, level))
    if design.lifts:
        weights.append(("lid", "closed", 1.4, -1))
    whole = sum(w for _, _, w, _ in weights)
    stages: list[Stage] = []
    clock = 0.0
    for kind, label, weight, level in weights:
        start = stages[-1].end if stages else 0.0
        clock += weight / whole
        stages.append(Stage(kind, label, start, min(1.0, round(clock, 9)), level))
    return tuple(stages)
