"""The choice of a board: what each means here, the lightest that holds, and other cures."""

from jadeite.core.choice.compare import (
    Comparison,
    compare,
    lightest_for_floor,
    meaning_of,
    with_board,
)
from jadeite.core.choice.floor import Floor, floor_of, plies_on
from jadeite.core.choice.meaning import Figure, Meaning
from jadeite.core.choice.remedies import Remedy, remedies_for, stiffener_for

__all__ = [
    "Comparison",
    "Figure",
    "Floor",
    "Meaning",
    "Remedy",
    "compare",
    "floor_of",
    "lightest_for_floor",
    "meaning_of",
    "plies_on",
    "remedies_for",
    "stiffener_for",
    "with_board",
]
