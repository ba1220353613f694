"""Pyramid: 3 to 8 sides that lean together and are tied with a ribbon; no glue."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from jadeite.core.boards import Board
from jadeite.core.boards.fit_rules import SLOT_AROUND
from jadeite.core.boards.fits import USUAL, Fits
from jadeite.core.nets.arrivals import Arrivals, When, made_at, tied_round
from jadeite.core.nets.closed_form import ClosedForm, Face
from jadeite.core.nets.model import Design, Opening
from jadeite.core.nets.ring_box import ngon
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
from jadeite.core.shapes.ribbons import ribbon_round
from jadeite.core.shapes.rings import MEASURED, Ring, hollow_of, ring_for, sides_option

__all__ = ["PYRAMID"]

MIN_INSIDE = 5.0  # mm; from memory, less is no box
MAX_INSIDE = 600.0  # mm; from memory, beyond any board here
TIP = 4.0  # mm wide; from memory, a sharper tip frays
ABOVE = 2.0  # mm; from memory, the ribbon runs this far above what is inside

# defaults and ranges from memory
OPTIONS = (
    sides_option(4.0, 3.0, 8.0, "How many sides lean together."),
    MEASURED,
    Option(
        "slope",
        "Slope of the sides",
        60.0,
        "How steeply the sides rise: steeper is taller, and narrower at its foot.",
        unit="deg",
        low=40.0,
        high=75.0,
    ),
    Option(
        "ribbon",
        "Ribbon width",
        6.0,
        "A slit in each side takes the ribbon that ties them together.",
        unit="mm",
        low=3.0,
        high=25.0,
    ),
)


@dataclass(frozen=True)
class _Form:
    """Lengths of the closed pyramid, of middle surfaces; mm."""

    base: float  # inradius at the floor
    apex: float  # height of the point
    slant: float  # along a side's middle, floor to point
    side: float
    slit: float
    slit_at: float  # from the point, along a side's middle
    tip: float  # likewise, where the sides end


def _form(ring: Ring, inside: Size, sides: int, slope: float, slit: float, t: float) -> _Form:
    tangent = math.tan(math.radians(slope))
    sine = math.sin(math.radians(slope))
    factor = math.tan(math.pi / sides)
    # the sides must be wide enough for the slit where the ribbon runs, above what is inside
    half = math.atan(factor * math.cos(math.radians(slope)))  # of the angle at the point
    needs = (slit + 2 * SLOT_AROUND / math.cos(half)) / (2 * factor)
    at_top = max(ring.inradius + t / 2 / sine, needs + (ABOVE + t) / tangent)
    base = at_top + (inside[2] + t / 2) / tangent
    apex, slant = base * tangent, base / math.cos(math.radians(slope))
    side = 2 * base * factor
    slit_at = needs * slant / base
    tip = min(TIP * slant / side, slit_at - SLOT_AROUND)
    return _Form(base, apex, slant, side, slit, slit_at, tip)


def build_pyramid(
    inside: Size,
    boards: Mapping[str, Board],
    options: Mapping[str, OptionValue],
    fits: Fits = USUAL,
) -> Design:
    """A pyramid of the given inside (mm); its sides end in blunt tips above the ribbon.

    Raises
    ------
    FieldError
        An inside length out of range.
    """
    check_inside(inside, ("length", "width", "height"), MIN_INSIDE, MAX_INSIDE)
    board = boards["pyramid"]
    t, sides = board.thickness, round(float(options["sides"]))
    ring = ring_for(inside, sides, options)
    slope, ribbon = float(options["slope"]), float(options["ribbon"])
    form = _form(ring, inside, sides, slope, fits.ribbon_slit(ribbon), t)
    foot = np.column_stack([ngon(form.base, sides, ring.phase), np.zeros(sides)])
    point = np.array([0.0, 0.0, form.apex])
    tips = point + (foot - point) * (form.tip / form.slant)
    net = ClosedForm("pyramid", "pyramid", board, fits=fits)
    floor = net.base("floor", foot[::-1], title="floor")  # seen from below
    faces = []
    for i in range(sides):
        j = (i + 1) % sides
        corners = np.array([foot[i], foot[j], tips[j], tips[i]])
        face = net.face(f"side-{i + 1}", corners, floor, title=f"side {i + 1}")
        _slit(face, form)
        faces.append(face)
    names = [face.name for face in faces]
    return Design(
        family="pyramid",
        title=f"Pyramid with {sides} sides",
        pieces=(net.build(),),
        placements={"pyramid": net.placement},
        joints=(),
        hollow=hollow_of(inside, options, t / 2),
        sizes=_sizes(inside, ring, form, slope, ribbon, sides),
        dimensions=(side_dimension("pyramid", "floor", faces[0].outline),),
        surfaces={"floor": t / 2, "rim": t / 2 + inside[2]},
        bought=(ribbon_round("pyramid", faces, form.slant - form.slit_at, ribbon, -t / 2),),
        arrivals=Arrivals((*made_at(When.FILLED, "pyramid", names), *tied_round("pyramid", names))),
        meetings=tuple(
            (("pyramid", names[i]), ("pyramid", names[(i + 1) % sides])) for i in range(sides)
        ),
    )


def _slit(face: Face, form: _Form) -> None:
    """A slit for the ribbon across a side, below its tip."""
    a, b = face.outline[0], face.outline[1]
    along = (b - a) / np.linalg.norm(b - a)
    up = np.array([-along[1], along[0]])
    middle = (a + b) / 2 + up * (form.slant - form.slit_at)
    half = along * form.slit / 2
    face.openings.append(Opening("slit", np.array([middle - half, middle + half])))


def _sizes(
    inside: Size, ring: Ring, form: _Form, slope: float, ribbon: float, sides: int
) -> dict[str, Reckoning]:
    out = inside_sizes(inside)
    out["inradius"] = ring.why
    base = reckon(
        "Middle to side of the floor",
        form.base,
        "what is inside at its top, and what the slope adds down to the floor",
        ring.why,
        given("inside height", inside[2]),
        given("slope", slope, "deg"),
    )
    out["side"] = reckon(
        "Side of the floor, score to score",
        form.side,
        "twice middle to side times tan(180° / sides)",
        base,
        given("sides", sides, ""),
    )
    out["slant-height"] = reckon(
        "Slant height, to the point",
        form.slant,
        "√(height² + (middle to side)²)",
        given("height of the point", form.apex),
        base,
    )
    out["ribbon-slit"] = reckon(
        "Ribbon slit",
        form.slit,
        "ribbon and a little, so that it slides",
        given("ribbon width", ribbon),
        constant("longer by", form.slit - ribbon, "mm", Mark.MEMORY),
    )
    return out


def pyramid_board_area(
    inside: Any, boards: Mapping[str, Board], options: Mapping[str, OptionValue]
) -> Any:
    """Board in mm², to the point; rises with every length."""
    length, width, height = inside
    sides, slope = round(float(options["sides"])), math.radians(float(options["slope"]))
    base = np.hypot(length, width) / 2 + height / math.tan(slope)
    return sides * math.tan(math.pi / sides) * base**2 * (1 + 1 / math.cos(slope))


PYRAMID = register(
    ShapeFamily(
        key="pyramid",
        title="Pyramid with ribbon",
        short="Pyramid",
        purpose="light",
        window="stars",
        about="Sides that lean together over what is inside, tied with a ribbon; no glue.",
        parts=(("pyramid", "Pyramid"),),
        options=OPTIONS,
        build=build_pyramid,
        board_area=pyramid_board_area,
        smallest=MIN_INSIDE,
        largest=MAX_INSIDE,
    )
)
