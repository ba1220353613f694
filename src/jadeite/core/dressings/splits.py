"""Pieces cut in two where the maker said so."""

from __future__ import annotations

from dataclasses import replace

from jadeite.core.dressings.dressing import Asked, Dressing
from jadeite.core.errors import FieldError
from jadeite.core.nets.mesh import mesh_of
from jadeite.core.nets.model import Design
from jadeite.core.nets.split import split_along

__all__ = ["SPLITS"]


def _dress(draft: Design, asked: Asked) -> Design:
    for piece, child in asked.task.splits.items():
        if any(p.name == piece for p in draft.pieces):
            draft = _cut(draft, piece, child)
    return draft


def _cut(draft: Design, name: str, child: str) -> Design:
    """The draft with a piece cut where the maker said, which another choice may have ruled out."""
    piece = draft.piece(name)
    whole = (((f"splits.{name}", None),),)
    try:
        cut = split_along(draft, name, child)
        for half in cut.pieces:
            mesh_of(half)
    except ValueError:  # a cut beside a fold leaves panels that do not meet
        raise FieldError(
            "splits",
            f"the {piece.title} can no longer be cut there",
            "Leave it whole, or cut it elsewhere.",
            whole,
        ) from None
    except FieldError as error:
        ways = error.ways or whole
        raise FieldError(error.field, error.problem, error.cure, ways) from None
    return replace(cut, wholes={**draft.wholes, name: piece})


SPLITS = Dressing("splits", _dress)
