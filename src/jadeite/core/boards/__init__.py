"""Boards and papers: what they weigh, how thick they are, what they bear."""

from jadeite.core.boards.board import (
    BASIS_SIZES,
    Board,
    BoardError,
    grammage_from_basis_weight,
    grammage_reckoning,
)
from jadeite.core.boards.catalogue import CATALOGUE, DEFAULT_BOARD, board_by_key
from jadeite.core.boards.fit_rules import (
    fold_back_gap,
    lid_clearance,
    smallest_roll,
    tab_depth_rule,
)
from jadeite.core.boards.stiffness import Sag, floor_sag

__all__ = [
    "BASIS_SIZES",
    "CATALOGUE",
    "DEFAULT_BOARD",
    "Board",
    "BoardError",
    "Sag",
    "board_by_key",
    "floor_sag",
    "fold_back_gap",
    "grammage_from_basis_weight",
    "grammage_reckoning",
    "lid_clearance",
    "smallest_roll",
    "tab_depth_rule",
]
