"""A rectangular lid that lifts off: how large it is over what it closes, and what is said of it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from jadeite.core.boards import Board
from jadeite.core.boards.fits import Fits
from jadeite.core.findings import Cure, Finding, Level
from jadeite.core.nets.arrivals import Arrival, How, When, Where
from jadeite.core.nets.checks import MIN_FOLD
from jadeite.core.nets.model import Floats, Joint, Kind
from jadeite.core.nets.open_box import OpenBox, open_box
from jadeite.core.reckoning import Mark, Reckoning, constant, given, reckon
from jadeite.core.shapes.registry import Option
from jadeite.core.units import number_text

__all__ = [
    "LID_DEPTH",
    "SIDES",
    "THUMB_NOTCHES",
    "LiftOff",
    "lid_findings",
    "lid_sizes",
    "lift_off_lid",
    "slides_over",
]

SIDES = ("front", "right", "back", "left")
DEEPEST = 1000.0  # mm; from memory, beyond any board here
# defaults and ranges from memory
LID_DEPTH = Option(
    "lid-depth",
    "Lid depth",
    18.0,
    "How far the lid reaches down, inside. A lid that would pass the table stops at it.",
    unit="mm",
    low=3.0,
    high=DEEPEST,
)
THUMB_NOTCHES = Option(
    "thumb-notches",
    "Thumb notches",
    "two",
    "Half-round notches in the lid's long walls, to lift the tray out by.",
    choices=(("none", "none"), ("two", "two")),
)


@dataclass(frozen=True)
class LiftOff:
    """A lid in its place over a box, with the joints that slide, its sizes and findings; mm."""

    lid: OpenBox
    place: Floats
    joints: tuple[Joint, ...]
    sizes: Mapping[str, Reckoning]
    findings: tuple[Finding, ...]
    arrival: Arrival


def slides_over(walls: Mapping[str, Where], what: str) -> tuple[Joint, ...]:
    """The lid's walls slide over those of what it closes, by the side on which they stand."""
    return tuple(
        Joint(Kind.SLIDE, ("lid", side), walls[side], f"lid over {what}, {side}", "outside")
        for side in SIDES
    )


def lift_off_lid(
    board: Board,
    thicker: Board,
    outside: tuple[float, float],
    span: tuple[float, float],
    walls: Mapping[str, Where],
    wanted: float,
    *,
    notches: bool,
    fits: Fits,
) -> LiftOff:
    """A lid with single walls and tabs inside, over a box that stands as it is closed.

    Parameters
    ----------
    thicker : Board
        The thicker of the lid's board and the box's: it asks for the air.
    outside : (length, width)
        mm, of the box's walls.
    span : (underside, rim)
        mm, heights of the box in the shared space.
    walls : mapping
        For each of :data:`SIDES` the (piece, panel) that the lid slides over.
    wanted : float
        mm, how far it is to reach down.
    """
    clearance = fits.lid_over(thicker)
    full = span[1] - span[0]
    inside = (
        outside[0] + clearance.value,
        outside[1] + clearance.value,
        min(wanted, full),
    )
    lid = open_box(
        "lid", "lid", board, inside,
        long_axis=0 if outside[0] >= outside[1] else 1, tabs="inside", double=False,
        turned=False, fits=fits, notches=notches, good_side="outside",
    )  # fmt: skip
    place = np.eye(4)
    place[2, 3] = span[1] + lid.floor_top  # its ceiling rests on the rim
    # a piece that lies good side up has its front at -y, as the closed thing has
    return LiftOff(
        lid,
        place,
        (*lid.joints, *slides_over(walls, "box")),
        lid_sizes(lid, inside, outside, clearance, wanted, full, "box"),
        lid_findings(lid, wanted, full, notches=notches),
        Arrival("lid", When.LAST, how=How.PUT),
    )


def lid_sizes(
    lid: OpenBox,
    inside: tuple[float, float, float],
    outside: tuple[float, float],
    clearance: Reckoning,
    wanted: float,
    full: float,
    what: str,
) -> dict[str, Reckoning]:
    """Inside of a lid, how deep it is, its air, the notches; all mm.

    ``full`` is from the rim of ``what`` it closes to its underside.
    """
    out: dict[str, Reckoning] = {}
    for i, name in enumerate(("length", "width")):
        out[f"lid-inside-{name}"] = reckon(
            f"Lid inside, {name}",
            inside[i],
            f"{what} outside and the lid's clearance",
            given(f"{what} outside, {name}", outside[i]),
            clearance,
        )
    out["lid-depth"] = reckon(
        "Lid depth",
        inside[2],
        "as wanted, but it stops where the rim meets the table",
        given("wanted", wanted),
        reckon(
            "down to the table",
            full,
            f"{what} rim to its underside",
            given(f"{what}, underside to rim", full),
        ),
    )
    out["lid-clearance"] = clearance
    out["outside-height"] = reckon(
        "Closed height",
        full + lid.floor_top + lid.piece.board.thickness / 2,
        f"{what} to its rim and the lid's ceiling on it",
        given(f"{what}, underside to rim", full),
        given("lid board", lid.piece.board.thickness),
    )
    if lid.notch:
        out["thumb-notch"] = constant("Thumb notch, depth", lid.notch, "mm", Mark.MEMORY)
    return out


def lid_findings(lid: OpenBox, wanted: float, full: float, *, notches: bool) -> tuple[Finding, ...]:
    """A lid that stops at the table, that has no room for notches, or is too low to fold."""
    found = []
    if wanted > full + 1e-9:
        shown = round(full - 0.05, 1)
        found.append(
            Finding(
                Level.NOTE,
                "lid-stops",
                f"The lid is as deep as what it closes: {number_text(wanted)} mm would "
                f"reach below the table, so it stops at {number_text(full)} mm.",
                "lid",
                cure=Cure(f"Use {number_text(shown)} mm", (("shape.options.lid-depth", shown),)),
            )
        )
    if notches and not lid.notch:
        found.append(
            Finding(
                Level.LOOK,
                "notch-no-room",
                "The lid has no room for thumb notches: it is too shallow, or too short between "
                "its tabs. They are left out.",
                "lid",
                cure=Cure("Leave them out", (("shape.options.thumb-notches", "none"),)),
            )
        )
    inner = lid.wall_height - lid.piece.board.thickness
    if inner < MIN_FOLD:
        need = round(MIN_FOLD + 2 * lid.piece.board.thickness + 0.05, 1)
        found.append(
            Finding(
                Level.LOOK,
                "wall-low",
                f"The lid's wall is {number_text(inner)} mm; under {MIN_FOLD:.0f} mm "
                "this board does not fold cleanly.",
                "lid/front",
                cure=Cure(f"Use {number_text(need)} mm", (("shape.options.lid-depth", need),)),
            )
        )
    return tuple(found)
