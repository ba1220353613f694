"""Flared tray: walls that lean outwards all round an n-sided floor, glued at their corners."""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Any

import numpy as np

from jadeite.core.boards import Board
from jadeite.core.boards.fits import USUAL, Fits
from jadeite.core.nets.closed_form import ClosedForm
from jadeite.core.nets.model import Design
from jadeite.core.nets.ring_box import ngon
from jadeite.core.reckoning import Reckoning, given, reckon
from jadeite.core.shapes.common import inside_sizes, side_dimension
from jadeite.core.shapes.registry import (
    Option,
    OptionValue,
    ShapeFamily,
    Size,
    check_inside,
    register,
)
from jadeite.core.shapes.rings import MEASURED, Ring, hollow_of, ring_for, sides_option

__all__ = ["FLARED_TRAY"]

MIN_INSIDE = 12.0  # mm; from memory, lower or narrower walls hold no tab
MAX_INSIDE = 600.0  # mm; from memory, beyond any board here
USUAL_TAB = 10.0  # mm; from memory, for the quick reckoning of board

# defaults and ranges from memory
OPTIONS = (
    sides_option(6.0, 3.0, 10.0, "How many walls lean outwards round the floor."),
    MEASURED,
    Option(
        "flare",
        "Flare",
        18.0,
        "How far the walls lean outwards: more is wider at the rim, and easier to reach into.",
        unit="deg",
        low=3.0,
        high=40.0,
    ),
)


def build_flared_tray(
    inside: Size,
    boards: Mapping[str, Board],
    options: Mapping[str, OptionValue],
    fits: Fits = USUAL,
) -> Design:
    """A tray whose inside (mm) is measured at its floor, where it is narrowest.

    Raises
    ------
    FieldError
        An inside length out of range, or walls too narrow for their tabs.
    """
    check_inside(inside, ("length", "width", "height"), MIN_INSIDE, MAX_INSIDE)
    board, sides = boards["tray"], round(float(options["sides"]))
    t, lean = board.thickness, math.radians(float(options["flare"]))
    ring = ring_for(inside, sides, options)
    # within a wall's middle surface lie half of it and a tab, square to it
    low = ring.inradius + 1.5 * t / math.cos(lean) - t / 2 * math.tan(lean)
    rise = inside[2] + t / 2
    high = low + rise * math.tan(lean)
    foot = np.column_stack([ngon(low, sides, ring.phase), np.full(sides, -t / 2)])
    rim = np.column_stack([ngon(high, sides, ring.phase), np.full(sides, inside[2])])
    net = ClosedForm("tray", "tray", board, fits=fits)
    floor = net.base("floor", foot[::-1], title="floor")  # seen from below
    walls = []
    for i in range(sides):
        j = (i + 1) % sides
        corners = np.array([foot[i], foot[j], rim[j], rim[i]])
        walls.append(net.face(f"wall-{i + 1}", corners, floor, title=f"wall {i + 1}"))
    for i, wall in enumerate(walls):
        other = walls[(i + 1) % sides]
        net.tab(f"tab.{i + 1}", wall, other, title=f"tray, {wall.title} to {other.title}")
    piece = net.build()
    side = side_dimension("tray", "floor", walls[0].outline)
    return Design(
        family="flared-tray",
        title=f"Flared tray with {sides} sides",
        pieces=(piece,),
        placements={"tray": net.placement},
        joints=tuple(net.joints),
        hollow=hollow_of(inside, options, 0.0),
        sizes=_sizes(inside, ring, sides, (low, high, rise), side.value),
        dimensions=(side,),
        surfaces={"floor": 0.0, "rim": inside[2]},
    )


def _sizes(
    inside: Size, ring: Ring, sides: int, form: tuple[float, float, float], side: float
) -> dict[str, Reckoning]:
    low, high, rise = form
    out = inside_sizes(inside)
    out["inradius"] = ring.why
    out["side"] = reckon(
        "Side of the floor, score to score",
        side,
        "twice middle to side times tan(180° / sides)",
        given("middle to side of the walls at the floor", low),
        given("sides", sides, ""),
    )
    out["slant-height"] = reckon(
        "Wall, score to rim",
        math.hypot(rise, high - low),
        "√(height² + (difference of middle to side)²)",
        given("height", rise),
        given("middle to side at the rim", high),
        given("middle to side at the floor", low),
    )
    out["rim-across"] = given("Rim, across two sides", 2 * high)
    return out


def flared_board_area(
    inside: Any, boards: Mapping[str, Board], options: Mapping[str, OptionValue]
) -> Any:
    """Board in mm², without tapers; rises with every length."""
    length, width, height = inside
    sides, lean = round(float(options["sides"])), math.radians(float(options["flare"]))
    low = np.hypot(length, width) / 2
    high = low + height * math.tan(lean)
    factor = math.tan(math.pi / sides)
    slant = height / math.cos(lean)
    return sides * (factor * (low**2 + (low + high) * slant) + USUAL_TAB * slant)


FLARED_TRAY = register(
    ShapeFamily(
        key="flared-tray",
        title="Flared tray",
        short="Flared",
        about="Walls that lean outwards round an n-sided floor: open, wide, easy to reach into.",
        parts=(("tray", "Tray"),),
        options=OPTIONS,
        build=build_flared_tray,
        board_area=flared_board_area,
        smallest=MIN_INSIDE,
        largest=MAX_INSIDE,
    )
)
