"""Steps in which a plate presses its pattern into pieces, and that is rubbed with wax or ink."""

from __future__ import annotations

from jadeite.core.assembly.clock import Clock, named, the
from jadeite.core.nets.model import Design
from jadeite.core.units import in_runs, number_text

__all__ = ["press_steps"]

PRESS, RUB = 120.0, 60.0  # s of hands for each piece; from memory
HOW = (
    "Before any glue is on it: good side on the raised pattern, the plate as drawn; press evenly, "
    "or rub through thin paper with a round stylus. It flattens scores: go over every score again."
)
RUBBED = {
    "wax": "Wax on a finger tip or a soft cloth, with hardly any on it, lightly over what is "
    "raised; let it dry, and polish. Where wax lies no glue holds: keep it off the tabs.",
    "ink": "A flat ink pad drawn lightly over what is raised, hardly touching; let it dry fully "
    "before you go on.",
}


def press_steps(clock: Clock, design: Design) -> None:
    """Each size of plate once, for all pieces that it presses."""
    for size in dict.fromkeys(one.size for one in design.pressed):
        mine = [one for one in design.pressed if one.size == size]
        pieces = [design.piece(one.piece) for one in mine]
        what = in_runs([the(named([piece])) for piece in pieces])
        panels = tuple((one.piece, name) for one in mine for name in one.panels)
        words = dict.fromkeys(one.words for one in mine)
        shows = tuple(piece.name for piece in pieces)
        clock.add(
            f"Emboss {what}",
            f"{' and '.join(words).capitalize()}, with the plate of {number_text(size[0])} × "
            f"{number_text(size[1])} mm. {HOW}",
            "press",
            0.0,
            PRESS * len(mine),
            panels=panels,
            shows=shows,
        )
        over = mine[0].over
        if over in RUBBED:
            clock.add(
                f"Rub {over} over the raised pattern",
                RUBBED[over],
                "press",
                0.0,
                RUB * len(mine),
                panels=panels,
                shows=shows,
            )
