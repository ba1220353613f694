"""The pieces on the sheets at hand, and the plan of cutting them."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from jadeite.core.cutting import CuttingPlan, cutting_plan, profile_by_key
from jadeite.core.findings import Cure, Finding, Level
from jadeite.core.nets import Design
from jadeite.core.nets.halves import HALVES
from jadeite.core.nets.split import best_split
from jadeite.core.parts import (
    piece_colours,
)
from jadeite.core.project import Project
from jadeite.core.proof import prove
from jadeite.core.shapes import family_by_key
from jadeite.core.sheets import Layout, lay_out
from jadeite.core.units import format_length

__all__ = ["SheetWork", "plan_sheets"]


@dataclass(frozen=True, eq=False)
class SheetWork:
    """The layout, the cutting plan, and what they have to say."""

    layout: Layout
    cutting: CuttingPlan
    findings: tuple[Finding, ...]


def plan_sheets(
    project: Project, design: Design, step: Callable[[float, str], None] | None = None
) -> SheetWork:
    """Lay the pieces out on the stock and plan the cutting."""
    profile = profile_by_key(project.cutter)
    layout = lay_out(
        design.pieces,
        project.stock,
        copies=project.copies,
        reach=profile.reach,
        margin=profile.margin,
        free_turns=project.free_turns,
        colours=piece_colours(project, design),
        grain=project.grain,
        step=step,
    )
    found = []
    for name, copies in _count(layout.unplaced).items():
        piece = design.piece(name)
        points = np.concatenate([panel.outline for panel in piece.panels])
        width, height = np.ptp(points, axis=0)
        size = f"{format_length(width)} × {format_length(height)}"
        short = any(stock.count is not None for stock in project.stock)
        why = (
            "The stock does not suffice for"
            if short
            else "No sheet at hand that the cutter reaches holds"
        )
        rooms = [
            (min(s.width, profile.reach[0]) - 2 * profile.margin,
             min(s.height, profile.reach[1]) - 2 * profile.margin)
            for s in project.stock
        ] + [
            (min(s.height, profile.reach[0]) - 2 * profile.margin,
             min(s.width, profile.reach[1]) - 2 * profile.margin)
            for s in project.stock
        ]  # fmt: skip
        other = family_by_key(project.shape.key).smaller.get(name.rpartition("-")[0])
        split = None if short or other else best_split(design, piece, rooms, _closes)
        words, cure = "", None
        if other:
            words, cure = f", or {other[0][:1].lower()}{other[0][1:]}", Cure(*other)
        in_two = "" if split is None or split.child == HALVES else "in two "
        if split:
            words = f", or cut it {in_two}{split.title}"
            cure = Cure(f"Cut it {split.title}", ((f"splits.{name}", split.child),))
        found.append(
            Finding(
                Level.LOOK,
                "piece-fits-no-sheet",
                f"{why} {copies} × {piece.title} ({size}): add a larger sheet or another cutter"
                f"{words}.",
                name,
                "sheets",
                cure,
            )
        )
    return SheetWork(
        layout, cutting_plan(design.pieces, layout, profile, project.heavier), tuple(found)
    )


def _closes(design: Design) -> bool:
    return not any(f.level is Level.BLOCKED for f in prove(design)[1])


def _count(unplaced: tuple[tuple[str, int], ...]) -> dict[str, int]:
    out: dict[str, int] = {}
    for name, _ in unplaced:
        out[name] = out.get(name, 0) + 1
    return out
