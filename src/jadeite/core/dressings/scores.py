"""How all folds are made: scored, perforated, or creased by hand."""

from __future__ import annotations

from dataclasses import replace

from jadeite.core.dressings.dressing import Asked, Dressing
from jadeite.core.nets.model import Design

__all__ = ["SCORES", "with_fold_kind"]

SCORED = "scored"


def with_fold_kind(design: Design, kind: str) -> Design:
    """The design with its scores made another way: perforated, or creased by hand."""
    if kind == SCORED:
        return design
    pieces = tuple(
        replace(
            piece,
            folds=tuple(replace(f, kind=kind) if f.kind == SCORED else f for f in piece.folds),
        )
        for piece in design.pieces
    )
    return replace(design, pieces=pieces)


def _dress(draft: Design, asked: Asked) -> Design:
    return with_fold_kind(draft, asked.task.folds)


SCORES = Dressing("scores", _dress)
