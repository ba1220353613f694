"""Globe lantern: gores from a lower ring or disc to an upper ring, through which the light goes."""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Any

import numpy as np

from jadeite.core.boards import Board
from jadeite.core.boards.fits import USUAL, Fits
from jadeite.core.nets.arrivals import Arrival, Arrivals, When
from jadeite.core.nets.globe import Globe, globe_gores, globe_ring
from jadeite.core.nets.model import Design, Dimension, Joint, Kind
from jadeite.core.reckoning import Mark, Reckoning, constant, given, reckon
from jadeite.core.shapes.common import inside_sizes
from jadeite.core.shapes.registry import (
    Option,
    OptionValue,
    ShapeFamily,
    Size,
    check_inside,
    register,
)
from jadeite.core.shapes.rings import MEASURED, Ring, hollow_of, ring_for, sides_option

__all__ = ["GLOBE"]

SEAM_ON_SEAM = (
    "One after another, seam on seam from the middle up and down; the last seam is reached "
    "through both openings."
)
STAYS_OPEN = "Flange by flange; it stays open for the light."
MIN_INSIDE = 20.0  # mm; from memory, less holds no light
MAX_INSIDE = 300.0  # mm; from memory, beyond any board here
FACET, FEWEST, MOST = 9.0, 3, 9  # mm high and how many a gore has, odd; from memory
FLANGE = 9.0  # mm; from memory, what is glued to a ring
RIM = 2.0  # mm; from memory, a ring reaches beyond the gores, and hides their edges
LOWEST = 10.0  # mm; from memory, half the height of the flattest globe
USUAL_ROUND = 1.3  # width against the opening, for the quick reckoning of board; from memory

# defaults and ranges from memory
OPTIONS = (
    sides_option(8.0, 6.0, 12.0, "How many gores stand round the light."),
    MEASURED,
    Option(
        "across",
        "At least across",
        120.0,
        "How wide the globe is at its widest; wider where what is inside needs it.",
        unit="mm",
        low=50.0,
        high=500.0,
    ),
    Option(
        "base",
        "Below",
        "disc",
        "A disc carries the light; with a ring the globe is put over it, or hung.",
        choices=(("disc", "disc"), ("ring", "ring")),
    ),
)


def build_globe(
    inside: Size,
    boards: Mapping[str, Board],
    options: Mapping[str, OptionValue],
    fits: Fits = USUAL,
) -> Design:
    """A globe round a light of the given inside (mm), which passes its upper ring.

    Raises
    ------
    FieldError
        An inside length out of range.
    """
    check_inside(inside, ("length", "width", "height"), MIN_INSIDE, MAX_INSIDE)
    sides, disc = round(float(options["sides"])), options["base"] == "disc"
    gore, low, high = (boards[part] for part in ("gore", "base", "ring"))
    ring = ring_for(inside, sides, options)
    globe = _globe(inside[2], ring.inradius, sides, float(options["across"]) / 2, gore.thickness)
    centre = globe.half + gore.thickness / 2  # what stands inside stands on the disc
    pieces, placements, joints = globe_gores(globe, gore, ring.phase, centre, fits)
    base = globe_ring("base", "base", low, globe, -ring.phase, RIM, closed=disc)
    top = globe_ring("ring", "upper ring", high, globe, ring.phase, RIM, closed=False)
    down, up = np.diag([1.0, -1.0, -1.0, 1.0]), np.eye(4)
    down[2, 3] = -low.thickness / 2
    up[2, 3] = centre + globe.half + (gore.thickness + high.thickness) / 2
    for piece in list(pieces):
        for flange, on, words in (("bottom", "base", "base"), ("top", "ring", "upper ring")):
            title = f"the {words} on the flanges"
            joints.append(Joint(Kind.GLUE, (piece.name, f"flange.{flange}"), (on, on), title))
    others = tuple(f"gore-{k}" for k in range(2, sides + 1))
    first = ("gore-1", pieces[0].panels[0].name)
    return Design(
        family="globe",
        title=f"Globe of {sides} gores",
        pieces=(*pieces, base, top),
        placements={**placements, "base": down, "ring": up},
        joints=tuple(joints),
        hollow=hollow_of(inside, options, 0.0),
        sizes=_sizes(inside, ring, globe, gore),
        dimensions=(_across(globe, ring.phase, low.thickness),),
        surfaces={"floor": 0.0, "rim": inside[2], "mouth": 2 * centre},
        arrivals=Arrivals(
            [
                *(Arrival(gore, When.FOLDED, first, hint=SEAM_ON_SEAM) for gore in others),
                Arrival("base", When.FOLDED, first, after=others),
                Arrival("ring", When.FOLDED, first, hint=STAYS_OPEN, after=("base",)),
            ]
        ),
    )


def _globe(height: float, opening: float, sides: int, wanted: float, t: float) -> Globe:
    """The globe of an opening's inradius: as high as is needed, and as wide as is wanted; mm."""
    end = opening + FLANGE
    half = max(LOWEST, (height + t / 2) / 2)
    around = max(math.hypot(end, half), wanted)
    arc = 2 * around * math.acos(min(1.0, end / around))
    facets = min(MOST, max(FEWEST, 2 * round((arc / FACET - 1) / 2) + 1))
    for _ in range(20):  # its facets touch the circle, their ends lie a little outside
        globe = Globe(sides, end, half, opening, facets)
        if globe.radius >= wanted:
            break
        around = wanted / math.cos(globe.step / 2)
        half = max(half, math.sqrt(max(0.0, around**2 - end**2)))
    return globe


def _across(globe: Globe, phase: float, t: float) -> Dimension:
    """The opening, across, on the base."""
    turn = math.radians(-phase)
    x, y = globe.opening * math.cos(turn), globe.opening * math.sin(turn)
    away = (-math.sin(turn), math.cos(turn), 0.0)
    return Dimension("inside, across", "base", "base", (-x, -y, -t / 2), (x, y, -t / 2), away,
                     2 * globe.opening)  # fmt: skip


def _sizes(inside: Size, ring: Ring, globe: Globe, board: Board) -> dict[str, Reckoning]:
    out = inside_sizes(inside)
    out["inradius"] = ring.why
    out["ring-end"] = reckon(
        "Gores end at, middle to side",
        globe.end,
        "the opening, and the flange that is glued to the ring",
        given("opening, middle to side", globe.opening),
        constant("flange", FLANGE, "mm", Mark.MEMORY),
    )
    out["globe-across"] = reckon(
        "Globe, across",
        2 * globe.radius + board.thickness,
        "twice the radius that the middles of its facets touch, and a ply",
        given("radius on which the facets end", globe.around),
        given("half the turn from facet to facet", math.degrees(globe.step / 2), "deg"),
        given("board thickness", board.thickness),
    )
    out["gore-width"] = reckon(
        "Gore, widest",
        2 * globe.radius * math.tan(math.pi / globe.sides),
        "twice the radius times tan(180° / gores): it bends one way only",
        given("radius", globe.radius),
        given("gores", globe.sides, ""),
    )
    return out


def globe_board_area(
    inside: Any, boards: Mapping[str, Board], options: Mapping[str, OptionValue]
) -> Any:
    """Board in mm², without seams; rises with every length."""
    sides = round(float(options["sides"]))
    factor = sides * math.tan(math.pi / sides)
    opening = np.hypot(inside[0], inside[1]) / 2 + FLANGE
    radius = np.maximum(float(options["across"]) / 2, USUAL_ROUND * opening)
    height = np.maximum(inside[2], 2 * np.sqrt(np.maximum(0.0, radius**2 - opening**2)))
    return factor * (2 * radius * height + 2 * opening**2)


GLOBE = register(
    ShapeFamily(
        key="globe",
        title="Globe lantern",
        short="Globe",
        purpose="light",
        about="Gores round a light, glued to a disc below and to a ring above that stays open.",
        parts=(("gore", "Gores"), ("base", "Base"), ("ring", "Upper ring")),
        options=OPTIONS,
        build=build_globe,
        board_area=globe_board_area,
        smallest=MIN_INSIDE,
        largest=MAX_INSIDE,
        follows={"ring": "base"},
    )
)
