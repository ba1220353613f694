"""Options for names on a piece, the same for every shape that bears them."""

from __future__ import annotations

from collections.abc import Mapping

from jadeite.core.lettering import STYLES
from jadeite.core.nets.model import Blank, Trace
from jadeite.core.shapes.registry import Option, OptionValue

__all__ = ["HAND", "NAME_OPTIONS", "blank_for"]

HAND = "hand"  # the choice without any letters
PEN, CUT, PRINT = "pen", "cut", "print"
WANTED, LEAST = 8.0, 4.0  # mm of a capital; from memory, read across a table and in the hand
LINE, SLOT = 0.5, 0.9  # mm; from memory, a fine pen, and what a blade can cut as a slot
LEAST_CUT = 5.5  # mm of a capital that is cut through; from memory
SHORT, LOW = 10.0, 3.0  # mm; from memory, in less no name is written
SMALLER = 0.6  # of a name's capitals, those of what belongs to it; from memory

# from memory
NAME_OPTIONS = (
    Option(
        "names-by",
        "Names",
        PEN,
        "A pen in the cutter writes them before anything is cut; cut through they show what lies "
        "below, in letters with bridges; printed they stand on the pages, and the cutter leaves "
        "them out; or the label stays blank for your own hand.",
        choices=((PEN, "by pen"), (CUT, "cut"), (PRINT, "printed"), (HAND, "by hand")),
    ),
    Option(
        "letters",
        "Letters",
        "plain",
        "Of one stroke, as a pen writes them: plain ones, or a hand in which they join.",
        choices=(("plain", "plain"), ("script", "joined")),
        only=(("names-by", (PEN, PRINT)),),
    ),
    Option(
        "capitals",
        "Capitals, high",
        WANTED,
        "As high as the label allows up to this; long names are written lower, then in two lines.",
        "mm",
        3.0,
        40.0,
        only=(("names-by", (PEN, CUT, PRINT)),),
    ),
    Option(
        "capitals-least",
        "At least",
        LEAST,
        "No lower, as nobody reads it across a table: a name that is longer is said.",
        "mm",
        2.0,
        20.0,
        only=(("names-by", (PEN, CUT, PRINT)),),
    ),
)


def blank_for(
    piece: str,
    panel: str,
    box: tuple[float, float, float, float],
    options: Mapping[str, OptionValue],
    column: int = 0,
) -> tuple[Blank, ...]:
    """Where a name stands on a panel, within x0, y0, x1, y1 in mm.

    There is none where hands write it, or where there is no room.
    """
    how = options["names-by"]
    x0, y0, x1, y1 = box
    if how == HAND or x1 - x0 < SHORT or y1 - y0 < LOW:
        return ()
    cut = how == CUT
    share = SMALLER if column else 1.0
    wanted, least = float(options["capitals"]), float(options["capitals-least"])
    if cut:  # or board tears between the letters
        wanted, least = max(wanted, LEAST_CUT), max(least, LEAST_CUT)
    return (
        Blank(
            piece,
            panel,
            ((x0 + x1) / 2, (y0 + y1) / 2),
            (x1 - x0, y1 - y0),
            next(iter(STYLES)) if cut else str(options["letters"]),
            wanted * share,
            min(least, wanted) * share,
            SLOT if cut else LINE,
            column,
            {CUT: Trace.CUT, PRINT: Trace.PRINT}.get(str(how), Trace.PEN),
        ),
    )
