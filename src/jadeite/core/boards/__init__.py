"""Boards and papers: what they weigh, how thick they are, what they bear."""

from jadeite.core.boards.board import (
    Board,
    BoardError,
    grammage_reckoning,
    thickness_reckoning,
    weight_words,
)
from jadeite.core.boards.catalogue import CATALOGUE, DEFAULT_BOARD, board_by_key, with_own
from jadeite.core.boards.fit_rules import (
    fold_back_gap,
    perforation,
    smallest_roll,
)
from jadeite.core.boards.fits import USUAL, Fits
from jadeite.core.boards.grammage import (
    BASIS_SIZES,
    basis_weight_from_grammage,
    grammage_from_basis_weight,
)
from jadeite.core.boards.packet import board_from_words
from jadeite.core.boards.plates import Load
from jadeite.core.boards.stiffness import Sag, floor_sag, least_grammage, wall_bulge

__all__ = [
    "BASIS_SIZES",
    "CATALOGUE",
    "DEFAULT_BOARD",
    "USUAL",
    "Board",
    "BoardError",
    "Fits",
    "Load",
    "Sag",
    "basis_weight_from_grammage",
    "board_by_key",
    "board_from_words",
    "floor_sag",
    "fold_back_gap",
    "grammage_from_basis_weight",
    "grammage_reckoning",
    "least_grammage",
    "perforation",
    "smallest_roll",
    "thickness_reckoning",
    "wall_bulge",
    "weight_words",
    "with_own",
]
