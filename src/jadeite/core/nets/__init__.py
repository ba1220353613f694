"""Flat nets: panels joined by folds, glued by tabs, built from descriptions."""

from jadeite.core.nets.builder import NetBuilder, Side, Spec
from jadeite.core.nets.checks import flat_findings
from jadeite.core.nets.mesh import Mesh, mesh_of
from jadeite.core.nets.model import (
    Design,
    Dimension,
    Fold,
    Hollow,
    Joint,
    Kind,
    Opening,
    Panel,
    Piece,
)
from jadeite.core.nets.outline import (
    Loop,
    drawn_folds,
    fold_lines,
    loops_of,
    piece_area,
    piece_polygon,
)

__all__ = [
    "Design",
    "Dimension",
    "Fold",
    "Hollow",
    "Joint",
    "Kind",
    "Loop",
    "Mesh",
    "NetBuilder",
    "Opening",
    "Panel",
    "Piece",
    "Side",
    "Spec",
    "drawn_folds",
    "flat_findings",
    "fold_lines",
    "loops_of",
    "mesh_of",
    "piece_area",
    "piece_polygon",
]
