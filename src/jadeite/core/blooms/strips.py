"""A straight strip wound to a coil, plain or cut to a fringe that opens outwards."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np

from jadeite.core.blooms.spiral import Coil, Edge
from jadeite.core.blooms.winding import DISC, wound_piece
from jadeite.core.boards import Board
from jadeite.core.nets.bends import ROLLED
from jadeite.core.nets.model import Floats, Fold, Panel, Piece

__all__ = ["Strip", "strip_piece"]

STRAND = 2.0  # mm from strand to strand at the least; from memory, so they are cut cleanly
APART = 0.5  # mm; from memory, cut away between two strands
UNCUT = 0.35  # of the height below the fringe; from memory, what holds the strands together
INNERMOST = 0.1  # of what the outermost strands open is what the innermost do; from memory
PLAIN = Edge("plain", 1.0, 0.0)


@dataclass(frozen=True)
class Strip:
    """A flat strip, as :class:`~jadeite.core.blooms.spiral.Spiral` is one that is bent; mm."""

    width: float
    length: float

    @property
    def square(self) -> tuple[float, float]:
        """How long it is, and how it is turned: not at all."""
        return self.length, 0.0

    def angles(self, lengths: Floats) -> Floats:
        """A place of the foot, (n,), is known by its length."""
        return lengths

    def foot(self, lengths: Floats) -> Floats:
        """Places of the foot, (n,) mm to (n, 2) mm: a straight line."""
        return np.column_stack([lengths, np.zeros(len(lengths))])

    def bend(self, lengths: Floats) -> Floats:
        """Radius to which the foot is bent in its own plane, (n,): none."""
        return np.full(len(lengths), math.inf)


def strip_piece(
    high: float, coil: Coil, name: str, title: str, board: Board, opens: float
) -> Piece:
    """A strip so high in mm that is wound to a coil, with a disc as wide on it.

    Its good side lies outwards, so the coil stands on the back of its disc, below it.  Where
    it ``opens``, by so many degrees outermost and less inside, it is cut to a fringe.
    """
    strip = Strip(high, coil.length)
    inwards = wound_piece(
        strip, coil, PLAIN, coil.width / 2, name, title, board, name, least=STRAND
    )
    piece = replace(inwards, folds=tuple(replace(f, angle=-f.angle) for f in inwards.folds))
    return _fringed(piece, high, opens) if opens else piece


def _fringed(piece: Piece, high: float, opens: float) -> Piece:
    """The strip with each facet cut to a strand, as far as it is not held together."""
    uncut = UNCUT * high
    panels: list[Panel] = [piece.panel(DISC)]
    folds: list[Fold] = [piece.folds[0]]
    facets = piece.panels[1:]
    for i, (facet, fold) in enumerate(zip(facets, piece.folds, strict=True)):
        x0, x1 = float(facet.outline[:, 0].min()), float(facet.outline[:, 0].max())
        wide = x1 - x0
        foot = np.array([[x0, -uncut], [x1, -uncut], [x1, 0.0], [x0, 0.0]])
        left = x0 + (APART / 2 if i else 0.0)
        right = x1 - (APART / 2 if i + 1 < len(facets) else 0.0)
        strand = np.array([[left, -high], [right, -high], [right, -uncut], [left, -uncut]])
        tip = f"{facet.name}.tip"
        panels += [
            replace(facet, outline=foot, size=(uncut if i else wide, wide if i else uncut)),
            replace(
                facet, name=tip, title="strand", outline=strand, size=(right - left, high - uncut)
            ),
        ]
        if i:
            folds.append(replace(fold, start=(x0, 0.0), end=(x0, -uncut)))
        share = 1 - (1 - INNERMOST) * i / max(1, len(facets) - 1)
        folds.append(Fold(facet.name, tip, (right, -uncut), (left, -uncut), opens * share, ROLLED))
    return replace(piece, panels=tuple(panels), folds=tuple(folds))
