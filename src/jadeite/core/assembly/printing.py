"""The step before all others: what is printed is printed first, then cut."""

from __future__ import annotations

from collections.abc import Sequence

from jadeite.core.assembly.clock import Clock, copies_of, named, the
from jadeite.core.nets.model import Design, Piece
from jadeite.core.sheets.marks import printed
from jadeite.core.units import in_runs

__all__ = ["print_step"]

PRINT = 120.0  # s of hands; from memory
WORDS = (
    "From the file that ends in -print, at 100 %, never fitted to the page, onto the good side; "
    "measure its 50 mm line. Let the ink dry, then lay the sheet under the cutter as its picture "
    "shows, the cross without a ring at the lower left, and cut."
)


def print_step(clock: Clock, design: Design) -> None:
    """Print the sheet, where anything is printed."""
    pieces = [piece for piece in design.pieces if printed(piece)]
    if not pieces:
        return
    groups: list[Sequence[Piece]] = [g for g in copies_of(design) if printed(g[0])]
    what = in_runs([the(named(group)) for group in groups])
    where = tuple((piece.name, piece.panels[0].name) for piece in pieces)
    clock.add(f"Print {what}", WORDS, "print", 0.0, PRINT, panels=where)
