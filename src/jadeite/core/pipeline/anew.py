"""Pieces that were spoilt while they were cut, laid out on sheets that are left."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import replace

from jadeite.core.cutting import CuttingPlan, cutting_plan, profile_of
from jadeite.core.pipeline.sheets import SheetWork
from jadeite.core.project import Project
from jadeite.core.sheets import Layout, SheetPlan, lay_by, used_of
from jadeite.core.sheets.marks import printed

__all__ = ["cut_anew"]


def cut_anew(
    project: Project, sheets: SheetWork, lost: Sequence[tuple[str, int]], loaded: int = 0
) -> tuple[CuttingPlan, tuple[tuple[str, int], ...]]:
    """Sheets for pieces that are lost, and those of them for which none is left.

    Parameters
    ----------
    lost : sequence of (piece, copy)
        As they are on the sheets.
    loaded : int
        How many such sheets were laid out before.
    """
    plans: list[SheetPlan] = []
    left: list[tuple[str, int]] = []
    wanted = Counter(name for name, _ in lost)
    copies = {name: iter([copy for own, copy in lost if own == name]) for name in wanted}
    for lot in sheets.lots:
        pieces = [piece for piece in lot.rules.pieces if piece.name in wanted]
        if not pieces:
            continue
        used = used_of(sheets.layout, lot.stock)
        stock = [
            entry
            if entry.count is None
            else entry.model_copy(update={"count": max(0, entry.count - taken - loaded)})
            for entry, taken in zip(lot.stock, used, strict=True)
        ]
        layout = lay_by(replace(lot.rules, pieces=pieces), stock, wanted)
        inked = printed(pieces[0])
        for sheet in layout.sheets:
            placed = tuple(replace(one, copy=next(copies[one.piece])) for one in sheet.placed)
            plans.append(replace(sheet, placed=placed, printed=inked))
        left += [(name, next(copies[name])) for name, _ in layout.unplaced]
    everything = [piece.piece for piece in sheets.pieces.values()]
    plan = cutting_plan(
        everything,
        Layout(tuple(plans), ()),
        profile_of(project),
        project.heavier,
        project.learned,
    )
    return plan, tuple(left)
