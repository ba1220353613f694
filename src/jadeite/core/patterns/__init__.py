"""Patterns of cut-outs for windows: drawn for a panel's true shape, with bridges that hold."""

from jadeite.core.patterns.fill import (
    BRIDGE,
    LEAST_CELL,
    MOST_CELL,
    USUAL_CELL,
    Filled,
    fill,
    holds_together,
    open_share,
)
from jadeite.core.patterns.motifs import MOTIFS, Motif
from jadeite.core.patterns.own import own_motif

__all__ = [
    "BRIDGE",
    "LEAST_CELL",
    "MOST_CELL",
    "MOTIFS",
    "USUAL_CELL",
    "Filled",
    "Motif",
    "fill",
    "holds_together",
    "open_share",
    "own_motif",
]
