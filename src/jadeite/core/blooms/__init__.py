"""Petals and flowers: outlines, how a petal is bent, rings, and what shows from above."""

from jadeite.core.blooms.above import Above, Turns, best_turns
from jadeite.core.blooms.arranging import LeafSpot, Spot, flowers_round, leaves_round
from jadeite.core.blooms.aslant import MOST_SLANT
from jadeite.core.blooms.bough import Bough, bough
from jadeite.core.blooms.creased import MOST_FOLD
from jadeite.core.blooms.ground import FORMS, Band, Ground, Head, Patch
from jadeite.core.blooms.leaves import CreasedLeaf
from jadeite.core.blooms.moved import moved_from_words, moved_spots, with_moved, words_of_moved
from jadeite.core.blooms.outlines import (
    KINDS,
    NUMBERS,
    OWN,
    Petal,
    own_petal,
    petal_from_words,
    petals_from_words,
)
from jadeite.core.blooms.own_outline import widths_of
from jadeite.core.blooms.petal_veins import LINES, LINES_BESIDE, petal_veins
from jadeite.core.blooms.pieces import FOOT, MIDDLE, laps_of, middle_piece, petal_piece, ring_piece
from jadeite.core.blooms.profile import Profile, profile_of
from jadeite.core.blooms.rings import Ring, RingSize, sized
from jadeite.core.blooms.sinking import sinks
from jadeite.core.blooms.spiral import (
    Coil,
    Edge,
    Spiral,
    core_left,
    spiral_in_square,
    spiral_of_length,
)
from jadeite.core.blooms.stack import LEAF, PETAL, STRAND, Layer, Stack, stacked
from jadeite.core.blooms.strips import strip_piece
from jadeite.core.blooms.winding import wound_centre, wound_piece

__all__ = [
    "FOOT",
    "FORMS",
    "KINDS",
    "LEAF",
    "LINES",
    "LINES_BESIDE",
    "MIDDLE",
    "MOST_FOLD",
    "MOST_SLANT",
    "NUMBERS",
    "OWN",
    "PETAL",
    "STRAND",
    "Above",
    "Band",
    "Bough",
    "Coil",
    "CreasedLeaf",
    "Edge",
    "Ground",
    "Head",
    "Layer",
    "LeafSpot",
    "Patch",
    "Petal",
    "Profile",
    "Ring",
    "RingSize",
    "Spiral",
    "Spot",
    "Stack",
    "Turns",
    "best_turns",
    "bough",
    "core_left",
    "flowers_round",
    "laps_of",
    "leaves_round",
    "middle_piece",
    "moved_from_words",
    "moved_spots",
    "own_petal",
    "petal_from_words",
    "petal_piece",
    "petal_veins",
    "petals_from_words",
    "profile_of",
    "ring_piece",
    "sinks",
    "sized",
    "spiral_in_square",
    "spiral_of_length",
    "stacked",
    "strip_piece",
    "widths_of",
    "with_moved",
    "words_of_moved",
    "wound_centre",
    "wound_piece",
]
