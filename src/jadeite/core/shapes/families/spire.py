"""Spire: walls that lean together to a blunt tip over a light; open below, one bare seam."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from jadeite.core.boards import Board
from jadeite.core.boards.fits import USUAL, Fits
from jadeite.core.errors import FieldError, option_way
from jadeite.core.nets.closed_form import ClosedForm
from jadeite.core.nets.model import Design
from jadeite.core.nets.ring_box import ngon
from jadeite.core.nets.roles import Role
from jadeite.core.reckoning import Mark, Reckoning, constant, given, reckon
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

__all__ = ["SPIRE"]

MIN_INSIDE = 12.0  # mm; from memory, less holds no light
MAX_INSIDE = 300.0  # mm; from memory, beyond any board here
TIP = 5.0  # mm; from memory, a shorter last fold cannot be made: the tip stays open and blunt
TALLER = 1.4  # height against what stands inside, at least; from memory
LOWEST, TALLEST = 40, 600  # mm; from memory, of the spire
LEAN_MOST = 40.0  # degrees from upright; from memory, flatter it is a roof

# defaults and ranges from memory
OPTIONS = (
    sides_option(5.0, 3.0, 10.0, "How many walls lean together."),
    MEASURED,
    Option(
        "spire-height",
        "Height",
        180.0,
        "Of the whole spire: taller is slimmer. What stands inside stays free all round.",
        unit="mm",
        low=LOWEST,
        high=TALLEST,
    ),
)


@dataclass(frozen=True)
class _Form:
    """Middle surfaces; mm.  The foot is z = 0."""

    low: float  # inradius at the foot
    high: float  # and at the tip
    height: float
    wall_room: float  # from the wall's middle surface to the inside, level

    @property
    def lean(self) -> float:
        """How far the walls lean from upright, in degrees."""
        return math.degrees(math.atan2(self.low - self.high, self.height))


def _leaning(ring: Ring, inside: Size, sides: int, height: float, t: float) -> _Form:
    """The form of a height in mm, whatever it leans by."""
    high = TIP / 2 / math.tan(math.pi / sides)
    share, plies = inside[2] / height, 1.5 * t
    low = high
    for _ in range(4):  # the plies lie square to the walls, which lean by what they need
        low = max((ring.inradius + plies - high * share) / (1 - share), high + t)
        plies = 1.5 * t / math.cos(math.atan2(low - high, height))
    return _Form(low, high, height, plies)


def _form(ring: Ring, inside: Size, sides: int, height: float, t: float) -> _Form:
    least = max(LOWEST, math.ceil(TALLER * inside[2]))
    form = _leaning(ring, inside, sides, max(height, least), t)
    if height < least or form.lean > LEAN_MOST:
        fits = next(
            (h for h in range(least, int(TALLEST) + 1)
             if _leaning(ring, inside, sides, h, t).lean <= LEAN_MOST),
            0,
        )  # fmt: skip
        raise FieldError(
            "spire-height",
            f"a spire of {height:.0f} mm is too low over {inside[2]:.0f} mm"
            if height < least
            else f"walls that lean by {form.lean:.0f}° are a roof, not a spire",
            f"Use {max(fits, math.ceil(height))}.0 mm." if fits else "Use another shape.",
            (option_way("spire-height", float(max(fits, math.ceil(height)))),) if fits else (),
        )
    return form


def build_spire(
    inside: Size,
    boards: Mapping[str, Board],
    options: Mapping[str, OptionValue],
    fits: Fits = USUAL,
) -> Design:
    """A spire over something of the given inside (mm) that stands at its foot.

    Raises
    ------
    FieldError
        An inside length out of range, or a height too low for what stands inside.
    """
    check_inside(inside, ("length", "width", "height"), MIN_INSIDE, MAX_INSIDE)
    board, sides = boards["spire"], round(float(options["sides"]))
    ring = ring_for(inside, sides, options)
    form = _form(ring, inside, sides, float(options["spire-height"]), board.thickness)
    foot = np.column_stack([ngon(form.low, sides, ring.phase), np.zeros(sides)])
    tip = np.column_stack([ngon(form.high, sides, ring.phase), np.full(sides, form.height)])
    net = ClosedForm("spire", "spire", board, fits=fits)
    walls = []
    for i in range(sides):
        j = (i + 1) % sides
        corners = np.array([foot[i], foot[j], tip[j], tip[i]])
        title = f"wall {i + 1}"
        if i == 0:
            walls.append(net.base("wall-1", corners, title=title, role=Role.WALL))
        else:
            walls.append(net.face(f"wall-{i + 1}", corners, walls[-1], title=title))
    net.tab("seam", walls[-1], walls[0], title="seam, the last wall to the first")
    piece = net.build()
    return Design(
        family="spire",
        title=f"Spire with {sides} sides",
        pieces=(piece,),
        placements={"spire": net.placement},
        joints=tuple(net.joints),
        hollow=hollow_of(inside, options, 0.0),
        sizes=_sizes(inside, ring, form, sides),
        dimensions=(side_dimension("spire", "wall-1", walls[0].outline),),
        surfaces={"floor": 0.0, "rim": inside[2]},
        mouth=(0.0, 0.0, -1.0),
    )


def _sizes(inside: Size, ring: Ring, form: _Form, sides: int) -> dict[str, Reckoning]:
    out = inside_sizes(inside)
    out["inradius"] = ring.why
    low = reckon(
        "Middle to side at the foot",
        form.low,
        "so that what stands inside is free at its top, where the walls are nearest",
        ring.why,
        given("plies within the wall, level", form.wall_room),
        given("inside height", inside[2]),
        given("height of the spire", form.height),
    )
    out["side"] = reckon(
        "Side at the foot",
        2 * form.low * math.tan(math.pi / sides),
        "twice middle to side times tan(180° / sides)",
        low,
        given("sides", sides, ""),
    )
    out["slant-height"] = reckon(
        "Wall, foot to tip",
        math.hypot(form.height, form.low - form.high),
        "√(height² + (difference of middle to side)²)",
        given("height", form.height),
        low,
        given("middle to side at the tip", form.high),
    )
    out["tip-side"] = reckon(
        "Side at the tip",
        TIP,
        "the shortest fold that fingers can make",
        constant("shortest fold", TIP, "mm", Mark.MEMORY),
    )
    return out


def spire_board_area(
    inside: Any, boards: Mapping[str, Board], options: Mapping[str, OptionValue]
) -> Any:
    """Board in mm², without the seam; rises with every length."""
    length, width, height = inside
    sides, tall = round(float(options["sides"])), float(options["spire-height"])
    reach = np.hypot(length, width) / 2
    low = reach * (1 + np.minimum(height / tall, 0.7) / 0.3)
    return sides * math.tan(math.pi / sides) * low * np.hypot(tall, low)


SPIRE = register(
    ShapeFamily(
        key="spire",
        title="Spire lantern",
        short="Spire",
        purpose="light",
        window="lattice",
        about="Walls that lean together over a light: open below, a blunt tip, one seam.",
        parts=(("spire", "Spire"),),
        options=OPTIONS,
        build=build_spire,
        board_area=spire_board_area,
        smallest=MIN_INSIDE,
        largest=MAX_INSIDE,
    )
)
