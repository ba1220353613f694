"""Hinged chest: a tray and a lid joined by strips, with a hook-over latch and a handle."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

import numpy as np

from jadeite.core.boards import Board
from jadeite.core.boards.fit_rules import SLOT_AROUND
from jadeite.core.boards.fits import USUAL, Fits
from jadeite.core.errors import FieldError, inside_way, option_way
from jadeite.core.nets.arrivals import Arrival, Arrivals, How, When
from jadeite.core.nets.model import Design, Dimension, Floats, Hollow
from jadeite.core.reckoning import Mark, Reckoning, constant, given, reckon
from jadeite.core.shapes.chest_form import GAP, LATCH_HIGH, LID, ChestForm, chest_form, hollow_in
from jadeite.core.shapes.chest_parts import (
    EDGE,
    FOOT,
    GRIP,
    HANDLE,
    LEAST_GRIP,
    ChestMade,
    add_handle,
    add_latch,
    add_stand_ups,
    add_strips,
)
from jadeite.core.shapes.common import inside_sizes
from jadeite.core.shapes.registry import (
    SOME,
    Option,
    OptionValue,
    ShapeFamily,
    Size,
    check_inside,
    register,
)

__all__ = ["CHEST"]

MIN_INSIDE = 30.0  # mm; from memory, smaller leaves no room for strips and latch
MAX_INSIDE = 600.0  # mm; from memory, beyond any board here
USUAL_TAB = 10.0  # mm; from memory, for the quick reckoning of board

# defaults and ranges from memory
OPTIONS = (
    Option(
        "lid-depth",
        "Lid depth",
        22.0,
        "How far the lid reaches down to the rim, inside.",
        unit="mm",
        low=14.0,
        high=200.0,
    ),
    Option(
        "room",
        "Room for things",
        "lid",
        "Up to the closed lid, or below the rim only. Up to the lid, the chest is a little wider "
        "than its contents, so that the lid's front passes them as it swings.",
        choices=(("lid", "up to the lid"), ("rim", "below the rim")),
    ),
    Option(
        "latch",
        "Latch",
        "hook-over",
        "A strap on the lid hooks over a catch, which stands proud of the front on a pad.",
        choices=(("hook-over", "hook-over"), ("none", "none")),
    ),
    Option(
        "catch-on",
        "Catch on",
        "foam",
        "What holds the catch off the front: a dot of foam that sticks on both sides, or a pad "
        "of chipboard, which stays as it is for longer.",
        choices=(("foam", "a foam pad"), ("board", "a board pad")),
        only=(("latch", ("hook-over",)),),
    ),
    Option(
        "handle",
        "Handle",
        "strap",
        "A strap through two slots of the lid, its feet glued inside.",
        choices=(("strap", "strap"), ("none", "none")),
    ),
    Option(
        "stand-ups",
        "Stand-up pieces",
        0.0,
        "Pieces that stand across the chest, up to just under the closed lid.",
        unit="count",
        low=0.0,
        high=6.0,
    ),
    Option(
        "stand-on",
        "They are held by",
        "floor",
        "A leg on the floor, or a flap on the front and on the back, which keeps the floor free.",
        choices=(("floor", "a leg on the floor"), ("walls", "flaps on the walls")),
        only=(("stand-ups", tuple(float(n) for n in range(1, 7))),),
    ),
)


def build_chest(
    inside: Size,
    boards: Mapping[str, Board],
    options: Mapping[str, OptionValue],
    fits: Fits = USUAL,
) -> Design:
    """A chest of the given inside in mm: up to its closed lid, or below its rim.

    Raises
    ------
    FieldError
        An inside length out of range, or too little of it for latch, handle or
        stand-up pieces.
    """
    check_inside(inside, ("length", "width", "height"), MIN_INSIDE, MAX_INSIDE)
    count = round(float(options["stand-ups"]))
    on_legs = count and options["stand-on"] == "floor"
    legs = boards["stand-up"].thickness if on_legs else 0.0  # on which things lie as well
    form = chest_form((inside[0], inside[1], inside[2] + legs), boards, options, fits)
    made = ChestMade(form)
    add_strips(made, form.within, boards["strip"])
    if options["latch"] == "hook-over":
        if form.within[2] < LATCH_HIGH:
            raise FieldError(
                "inside height",
                "the front is too low for a latch and its catch",
                f"Use {LATCH_HIGH:.0f} mm, or no latch.",
                (option_way("latch", "none"), inside_way("height", LATCH_HIGH)),
            )
        add_latch(made, boards, str(options["catch-on"]), fits)
    under = form.ceiling
    if options["handle"] == "strap":
        half = min(GRIP, inside[0] / 2 - FOOT - EDGE)
        if half < LEAST_GRIP or inside[1] < HANDLE + 2 * (SLOT_AROUND + EDGE):
            axis, least = ("length", 2 * (LEAST_GRIP + FOOT + EDGE)) if half < LEAST_GRIP else (
                "width", HANDLE + 2 * (SLOT_AROUND + EDGE))  # fmt: skip
            raise FieldError(
                f"inside {axis}",
                "the lid is too small for a handle",
                f"Use {least:.0f} mm, or no handle.",
                (option_way("handle", "none"), inside_way(axis, least)),
            )
        add_handle(made, half, boards["handle"], fits)
        under -= boards["handle"].thickness
    hollow = hollow_in(inside, form, legs)
    cells: tuple[Hollow, ...] = ()
    if count:
        cells = add_stand_ups(made, hollow, boards["stand-up"], count, under, fits,
                              walls=options["stand-on"] == "walls")  # fmt: skip
    return Design(
        family="chest",
        title="Hinged chest",
        pieces=(form.tray.piece, made.lid, *made.pieces),
        placements={"tray": np.diag([1.0, -1.0, -1.0, 1.0]), LID: _raised(form.lid_at)}
        | made.placements,
        joints=(*form.tray.joints, *form.lid.joints, *made.joints),
        hollow=hollow,
        sizes=_sizes(inside, form, made, legs),
        dimensions=_dimensions(form.within, form),
        arrivals=Arrivals([Arrival(LID, When.LAST, how=How.PUT), *made.arrivals]),
        surfaces={"floor": form.tray.floor_top, "rim": form.ceiling},
        cells=cells,
        swing=form.swing,
        bought=tuple(made.bought),
    )


def _raised(z: float) -> Floats:
    out = np.eye(4)
    out[2, 3] = z
    return out


def _sizes(inside: Size, form: ChestForm, made: ChestMade, legs: float) -> dict[str, Reckoning]:
    out = inside_sizes(inside)
    out["inside-closed"] = reckon(
        "Inside height, lid closed",
        form.ceiling - form.tray.floor_top,
        "inside below the rim, and the lid's depth",
        given("below the rim", form.within[2]),
        given("lid", form.ceiling - form.rim),
    )
    out["inside-swing"] = reckon(
        "Inside width of the chest",
        form.within[1],
        "as wide as the contents; where these stand above the rim, as wide as lets the lid's "
        "front pass their upper edge on its circle about the hinge",
        given("contents", inside[1]),
        given("above the hinge", max(0.0, form.tray.floor_top + legs + inside[2] - form.rim)),
        constant("air", form.swing.air, "mm", Mark.MEMORY),
    )
    out["tab-depth"] = form.tray.tab_depth
    out["rim-gap"] = constant("Gap between the rims", GAP, "mm", Mark.MEMORY)
    return out | made.sizes


def _dimensions(inside: Size, form: ChestForm) -> tuple[Dimension, ...]:
    x, y, z = inside
    floor = form.tray.piece.panels[0].outline
    right, back, top = float(floor[1, 0]), float(floor[2, 1]), -form.tray.floor_top
    return (
        Dimension("inside, length", "tray", "floor", (-x / 2, back, top), (x / 2, back, top),
                  (0.0, 1.0, 0.0), x),
        Dimension("inside, width", "tray", "floor", (-right, -y / 2, top), (-right, y / 2, top),
                  (-1.0, 0.0, 0.0), y),
        Dimension("inside, height", "tray", "right", (right, -y / 2, -top),
                  (right + z, -y / 2, -top), (0.0, -1.0, 0.0), z),
    )  # fmt: skip


def chest_board_area(
    inside: Any, boards: Mapping[str, Board], options: Mapping[str, OptionValue]
) -> Any:
    """Board in mm², without latch and strips; rises with every length."""
    length, width, height = inside
    round_it = 2 * (length + width + 2 * USUAL_TAB)
    stand_ups = float(options["stand-ups"]) * width * (height + float(options["lid-depth"]))
    return 2 * length * width + round_it * (height + float(options["lid-depth"])) + stand_ups


CHEST = register(
    ShapeFamily(
        key="chest",
        title="Hinged chest",
        short="Chest",
        about="A tray and a lid joined by strips, with a latch, a handle and stand-up pieces.",
        parts=(("tray", "Chest and lid"), ("strip", "Hinge strips"), ("latch", "Latch"),
               ("pad", "Latch pad"), ("catch", "Catch"), ("handle", "Handle"),
               ("stand-up", "Stand-up pieces")),
        options=OPTIONS,
        build=build_chest,
        board_area=chest_board_area,
        smallest=MIN_INSIDE,
        largest=MAX_INSIDE,
        when={"latch": ("latch", "hook-over"), "pad": ("catch-on", "board"),
              "catch": ("latch", "hook-over"), "handle": ("handle", "strap"),
              "stand-up": ("stand-ups", SOME)},
        follows={"strip": "tray", "latch": "tray", "catch": "tray",
                 "handle": "tray", "stand-up": "tray"},
        usual={"pad": "chipboard"},
        roof="tray",
        carries="handle",
    )
)  # fmt: skip
