"""Gusseted bag: folds flat for keeping; opened, it stands like a box."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from jadeite.core.boards import Board
from jadeite.core.boards.fit_rules import SLOT_AROUND
from jadeite.core.boards.fits import USUAL, Fits
from jadeite.core.nets.bought import Bought
from jadeite.core.nets.closed_form import ClosedForm, Face
from jadeite.core.nets.model import Design, Floats, Hollow, Opening
from jadeite.core.nets.roles import Role
from jadeite.core.nets.ties import Strip, handle, ribbon_length
from jadeite.core.reckoning import Mark, Reckoning, constant, given, reckon
from jadeite.core.shapes.common import inside_dimensions, inside_sizes, upright
from jadeite.core.shapes.registry import (
    Option,
    OptionValue,
    ShapeFamily,
    Size,
    check_inside,
    register,
)
from jadeite.core.units import number_text

__all__ = ["GUSSET_BAG"]

MIN_INSIDE = 20.0  # mm; from memory, smaller gussets cannot be creased
MAX_INSIDE = 600.0  # mm; from memory, beyond any board here
ABOVE = 10.0  # mm; from memory, the bag reaches this far above what is in it
HOLE = 4.0  # mm across; from memory, for a cord
CORD, KNOTS = 3.0, 60.0  # mm; from memory, across a cord, and for both its knots
RISE = 85.0  # mm; from memory, of a handle above its holes, for a hand
HOLE_BELOW = 12.0  # mm; from memory, middle of a hole below the top edge
HOLE_SHARE = 0.25  # of the front's width, between a hole and the side; from memory
THREADING = 60.0  # s of hands for each; from memory
USUAL_TAB = 10.0  # mm; from memory, for the quick reckoning of board

# defaults and ranges from memory
OPTIONS = (
    Option(
        "holes",
        "Holes for a cord",
        "two",
        "Two holes in front and back, for a cord handle each.",
        choices=(("two", "two each"), ("none", "none")),
    ),
    Option(
        "above",
        "Height above the contents",
        25.0,
        "How far the bag reaches above what is in it, to be gathered or folded over.",
        unit="mm",
        low=ABOVE,
        high=150.0,
    ),
)


CREASED = "hand-creased"


@dataclass(frozen=True)
class _Form:
    """Middle planes of the bag as it stands open; mm.  Its floor is z = 0."""

    x: float
    front: float
    back: float
    low: float
    apex: float  # where the creases of a side meet, half its width above the floor
    high: float


def build_gusset_bag(
    inside: Size,
    boards: Mapping[str, Board],
    options: Mapping[str, OptionValue],
    fits: Fits = USUAL,
) -> Design:
    """A bag of the given inside (mm) below its free top.

    Creased, but not folded when it stands open: the middle of each side, the
    slants from its lower corners, and a line across front and back.

    Raises
    ------
    FieldError
        An inside length out of range.
    """
    check_inside(inside, ("length", "width", "height"), MIN_INSIDE, MAX_INSIDE)
    length, width, height = inside
    board, above = boards["bag"], float(options["above"])
    t = board.thickness
    x, front, back = length / 2 + t / 2, -(width / 2 + t / 2), width / 2 + 1.5 * t
    low, half = -1.5 * t, (back - front) / 2
    cords = options["holes"] == "two"
    # board that stays above the slants: for the creases, and for holes clear of them
    least = low + half + SLOT_AROUND + (HOLE_BELOW + HOLE / 2 if cords else 0.0)
    high = max(height + above, least)
    net = ClosedForm("bag", "bag", board, fits=fits)
    form = _Form(x, front, back, low, low + half, high)
    rear = net.base("back", upright((x, back), (-x, back), low, high), role=Role.WALL)
    right = _gusset(net, form, "right", x, rear, first=True)
    face = net.face("front", upright((-x, front), (x, front), form.apex, high), right["far"])
    left = _gusset(net, form, "left", -x, face, first=False)
    foot = net.face("front-low", upright((-x, front), (x, front), low, form.apex), face,
                    title="lower front", role=Role.GUSSET, kind=CREASED, lean="valley")  # fmt: skip
    for side in (right, left):
        net.closing_fold(side["low"], foot)
    floor = net.face(
        "floor",
        np.array([[-x, front, low], [-x, back, low], [x, back, low], [x, front, low]]),
        foot,
        title="floor",
        role=Role.FLOOR,
    )
    for wall, name in ((right["base"], "right"), (rear, "back"), (left["base"], "left")):
        net.tab(f"tab.{name}", wall, floor, title=f"floor, {name}")
    net.tab("tab.seam", left["near"], rear, title="seam, left to back")
    handles = [_handle(wall, _holes(wall)) for wall in (face, rear)] if cords else []
    piece = net.build()
    return Design(
        family="gusset-bag",
        title="Gusseted bag",
        pieces=(piece,),
        placements={"bag": net.placement},
        joints=tuple(net.joints),
        hollow=Hollow(inside, (0.0, 0.0, height / 2)),
        sizes=_sizes(inside, high - height, above, half, t),
        bought=_cords(handles),
        dimensions=inside_dimensions("bag", rear, inside, 1.5 * t),
        surfaces={"floor": 0.0, "rim": height},
    )


def _gusset(
    net: ClosedForm, form: _Form, name: str, x: float, on: Face, *, first: bool
) -> dict[str, Face]:
    """A side with its creases; they meet half the side's width above the floor.

    ``near`` reaches from the back's edge to the middle, ``far`` from there to
    the front, ``low`` is the corner below it, ``base`` the triangle on the floor.
    """
    low, apex, high = form.low, form.apex, form.high
    middle = (form.front + form.back) / 2

    def face(
        part: str, points: list[tuple[float, float]], parent: Face, *, crease: bool = True
    ) -> Face:
        corners = np.array([[x, y, z] for y, z in points])
        if x < 0:
            corners = corners[::-1]
        key, title = f"{name}-{part}", f"{name} side"
        if not crease:
            return net.face(key, corners, parent, title=title)
        return net.face(
            key, corners, parent, title=title, role=Role.GUSSET, kind=CREASED, lean="valley"
        )

    near = [(form.back, low), (form.back, high), (middle, high), (middle, apex)]
    far = [(form.front, apex), (middle, apex), (middle, high), (form.front, high)]
    corner = [(form.front, low), (middle, apex), (form.front, apex)]
    foot = [(form.front, low), (form.back, low), (middle, apex)]
    out: dict[str, Face] = {}
    if first:
        out["near"] = face("near", near, on, crease=False)
        out["far"] = face("far", far, out["near"])
    else:
        out["far"] = face("far", far, on, crease=False)
        out["near"] = face("near", near, out["far"])
    out["low"] = face("low", corner, out["far"])
    out["base"] = face("base", foot, out["near"])
    net.closing_fold(out["base"], out["low"], CREASED, "mountain")
    return out


def _holes(wall: Face) -> tuple[Floats, Floats]:
    """Two holes below the upper edge; where they are in the closed form, (3,) each."""
    points = wall.space()
    top, ends = float(points[:, 2].max()), (points[:, 0].min(), points[:, 0].max())
    turns = np.linspace(0.0, 2 * np.pi, 24, endpoint=False)
    middles = []
    for share in (HOLE_SHARE, 1 - HOLE_SHARE):
        middle = [ends[0] + share * (ends[1] - ends[0]), points[0, 1], top - HOLE_BELOW]
        spot = wall.flat(np.array([middle]))[0]
        ring = spot + HOLE / 2 * np.column_stack([np.cos(turns), np.sin(turns)])
        wall.openings.append(Opening("hole", ring))
        middles.append(np.array(middle))
    return middles[0], middles[1]


def _handle(wall: Face, holes: tuple[Floats, Floats]) -> tuple[str, tuple[Strip, ...]]:
    """The panel that a cord goes through, and the cord."""
    outside = np.array([0.0, math.copysign(1.0, holes[0][1]), 0.0])
    return wall.name, handle(holes, outside, CORD, RISE)


def _cords(handles: Sequence[tuple[str, tuple[Strip, ...]]]) -> tuple[Bought, ...]:
    """A cord for each handle; one step tells of both."""
    out: list[Bought] = []
    for panel, strips in handles:
        length = float(math.ceil(ribbon_length(strips) + KNOTS))
        words = (
            f"Cut two of {number_text(length, 0)} mm. From outside through both holes of the "
            "front, with a knot at each end inside; the same at the back."
        )
        title = "" if out else "Thread the cords of the handles"
        out.append(
            Bought("cord for a handle", CORD, length, title, words, ("bag", panel), first=True,
                   holds=False, seconds=THREADING, strips=strips)
        )  # fmt: skip
    return tuple(out)


def _sizes(
    inside: Size, above: float, wanted: float, half: float, t: float
) -> dict[str, Reckoning]:
    out = inside_sizes(inside)
    out["whole-height"] = reckon(
        "Bag, floor to edge",
        inside[2] + above + 1.5 * t,
        "inside height, what it reaches above, and the floor's plies",
        given("inside height", inside[2]),
        reckon(
            "above the contents",
            above,
            "as wanted, but no less than the slants of its sides and the holes need",
            given("wanted", wanted),
        ),
    )
    out["slant-height"] = reckon(
        "Slants of the sides meet at",
        half,
        "half of the side's width above the floor, so that the bag folds flat",
        given("side, score to score", 2 * half),
    )
    out["cord-hole"] = constant("Hole for a cord", HOLE, "mm", Mark.MEMORY)
    return out


def bag_board_area(
    inside: Any, boards: Mapping[str, Board], options: Mapping[str, OptionValue]
) -> Any:
    """Board in mm²; rises with every length."""
    length, width, height = inside
    round_it = 2 * (length + width) + USUAL_TAB
    return round_it * (height + float(options["above"])) + (length + 2 * USUAL_TAB) * width


GUSSET_BAG = register(
    ShapeFamily(
        key="gusset-bag",
        title="Gusseted bag",
        short="Bag",
        about="Folds flat for keeping; opened, it stands like a box. Made of paper or thin card.",
        parts=(("bag", "Bag"),),
        options=OPTIONS,
        build=build_gusset_bag,
        board_area=bag_board_area,
        smallest=MIN_INSIDE,
        largest=MAX_INSIDE,
    )
)
