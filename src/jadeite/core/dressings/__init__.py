"""What any shape may get besides its own parts: a registry of steps from draft to draft."""

from jadeite.core.dressings.dividers import divided
from jadeite.core.dressings.draft import bare_design, build_design
from jadeite.core.dressings.dressing import Asked, Dressing, Part
from jadeite.core.dressings.names import differing, name_findings
from jadeite.core.dressings.panes import linings_of, pane_of, widths_of, windows_made, windows_of
from jadeite.core.dressings.parts import (
    DRESSINGS,
    boards_of,
    overlay_refused,
    parts_of,
    piece_colours,
    room_for_dressings,
)
from jadeite.core.dressings.prints import print_findings
from jadeite.core.dressings.scores import with_fold_kind
from jadeite.core.shapes.extra import DIVIDER, LINING, OVERLAY, STIFFENER

__all__ = [
    "DIVIDER",
    "DRESSINGS",
    "LINING",
    "OVERLAY",
    "STIFFENER",
    "Asked",
    "Dressing",
    "Part",
    "bare_design",
    "boards_of",
    "build_design",
    "differing",
    "divided",
    "linings_of",
    "name_findings",
    "overlay_refused",
    "pane_of",
    "parts_of",
    "piece_colours",
    "print_findings",
    "room_for_dressings",
    "widths_of",
    "windows_made",
    "windows_of",
    "with_fold_kind",
]
