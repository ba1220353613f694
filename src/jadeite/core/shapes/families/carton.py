"""Carton: four walls round, a tuck top, and a bottom that is tucked, glued or locked."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from jadeite.core.boards import Board
from jadeite.core.boards.fits import USUAL, Fits
from jadeite.core.nets.arrivals import Arrivals, When, made_at
from jadeite.core.nets.builder import half_round
from jadeite.core.nets.closed_form import ClosedForm, Face
from jadeite.core.nets.model import Design, Dimension, Hollow, Kind
from jadeite.core.nets.roles import Role
from jadeite.core.reckoning import Mark, Reckoning, constant, given, reckon
from jadeite.core.shapes.common import inside_dimensions, inside_sizes, upright
from jadeite.core.shapes.lock_bottom import REACH, LockBase, check_lock, lock_arrivals, locked
from jadeite.core.shapes.registry import (
    Option,
    OptionValue,
    ShapeFamily,
    Size,
    check_inside,
    register,
    smaller,
)

__all__ = ["CARTON"]

MIN_INSIDE = 15.0  # mm; from memory, smaller flaps cannot be tucked
MAX_INSIDE = 800.0  # mm; from memory, beyond any board here
LOWEST = 6.0  # mm; from memory, the height under which a wall is no longer than a fold allows
TUCK = 15.0  # mm; from memory, how deep a tuck flap reaches
TUCK_SHARE = 0.45  # of the inside height at most; from memory
DUST = 25.0  # mm; from memory, the most that a dust flap needs to reach
DUST_SHARE = 0.45  # of the opening at most; from memory
FRICTION = 6.0  # mm; from memory, a friction slit at either end of the tuck flap's score
NOTCH = 9.0  # mm; from memory, half the width of a fingertip notch
NOTCH_SHARE = 0.25  # of the front's width and height; from memory
USUAL_TAB = 10.0  # mm; from memory, for the quick reckoning of board

# from memory
OPTIONS = (
    Option(
        "bottom",
        "Bottom",
        "lock",
        "Lock: four flaps hold one another, no glue. Glued: strongest. Tucked: opens like the top.",
        choices=(("lock", "folded lock"), ("glued", "glued"), ("tuck", "tucked")),
    ),
    Option(
        "friction-slits",
        "Friction slits",
        "two",
        "Slits at both ends of the tuck flap's score catch the side flaps, so it stays shut.",
        choices=(("two", "two"), ("none", "none")),
    ),
    Option(
        "thumb-notch",
        "Thumb notch",
        "one",
        "A half-round notch in the front's rim, to open the lid by.",
        choices=(("one", "one"), ("none", "none")),
    ),
)


@dataclass(frozen=True)
class _Body:
    """Middle planes of the walls, and the inside; mm.  The hollow's floor is z = 0."""

    inside: Size
    t: float

    @property
    def x(self) -> float:
        """Of the left and right walls."""
        return self.inside[0] / 2 + self.t / 2

    @property
    def y(self) -> float:
        """Of front and back: the tuck flaps and the seam's tab lie inside them."""
        return self.inside[1] / 2 + 1.5 * self.t


def build_carton(
    inside: Size,
    boards: Mapping[str, Board],
    options: Mapping[str, OptionValue],
    fits: Fits = USUAL,
) -> Design:
    """A carton of the given inside: length, width, height; mm.

    Raises
    ------
    FieldError
        An inside length out of range, or too little for a lock bottom.
    """
    names = ("length", "width", "height")
    check_inside((*inside[:2], max(inside[2], MIN_INSIDE)), names, MIN_INSIDE, MAX_INSIDE)
    check_inside((LOWEST, LOWEST, inside[2]), names, LOWEST, MAX_INSIDE)
    board, bottom = boards["carton"], str(options["bottom"])
    if bottom == "lock":
        check_lock(inside)
    t = board.thickness
    body = _Body(inside, t)
    base = LockBase(body.x, body.y, inside[0], inside[1], t)
    net = ClosedForm("carton", "carton", board, fits=fits)
    # undersides of back, side and front walls: where each one's bottom flap hangs
    low = {
        "lock": base.feet,
        "glued": (-1.5 * t, -1.5 * t, -1.5 * t),
        "tuck": (-1.5 * t, -0.5 * t, -t),
    }[bottom]
    x, y, high = body.x, body.y, inside[2]
    back = net.base("back", upright((x, y), (-x, y), low[0], high + 1.5 * t), role=Role.WALL)
    right = net.face("right", upright((x, -y), (x, y), low[1], high + t / 2), back)
    front = net.face("front", upright((-x, -y), (x, -y), low[2], high + t), right)
    left = net.face("left", upright((-x, y), (-x, -y), low[1], high + t / 2), front)
    for area in ((high, high + 3 * t), (-4 * t, 0.0)):
        (z0, z1), far = area, 2 * x
        corners = np.array([[far, y, z0], [-far, y, z0], [-far, y, z1], [far, y, z1]])
        net.keep_clear(back, back.flat(corners))
    net.tab("tab.seam", left, back, title="seam, left to back")
    slits = FRICTION if options["friction-slits"] == "two" else 0.0
    top = _tucked(net, body, (back, right, left, front), 1.0, "", slits)
    if bottom == "tuck":
        _tucked(net, body, (back, right, left, front), -1.0, "bottom-", slits)
    elif bottom == "glued":
        corners = np.array([[-x, -y, low[0]], [-x, y, low[0]], [x, y, low[0]], [x, -y, low[0]]])
        floor = net.face("floor", corners, front, title="floor", role=Role.FLOOR)
        for wall in (right, back, left):
            net.tab(f"tab.{wall.name}", wall, floor, title=f"floor, {wall.title}")
    else:
        locked(net, base, (back, right, left, front))
    half = min(NOTCH, NOTCH_SHARE * inside[0], NOTCH_SHARE * inside[2])
    if options["thumb-notch"] == "one":
        side = front.side_towards((0, 0, 1))
        a, b = front.outline[side], front.outline[(side + 1) % 4]
        front.bites[side] = half_round(a, b, half)
    piece = net.build()
    return Design(
        family="carton",
        title="Carton",
        pieces=(piece,),
        placements={"carton": net.placement},
        joints=tuple(net.joints),
        hollow=Hollow(inside, (0.0, 0.0, inside[2] / 2)),
        sizes=_sizes(inside, body, slits),
        dimensions=_dimensions(inside, back, body),
        surfaces={"floor": 0.0, "rim": inside[2]},
        arrivals=Arrivals(
            (
                *(lock_arrivals("carton") if bottom == "lock" else ()),
                *made_at(When.FILLED, "carton", (face.name for face in top)),
            )
        ),
    )


def _tucked(
    net: ClosedForm,
    body: _Body,
    walls: tuple[Face, Face, Face, Face],
    sign: float,
    prefix: str,
    slits: float,
) -> list[Face]:
    """Two dust flaps, a lid on the back, and its flap tucked behind the front."""
    back, right, left, front = walls
    (length, width, height), t = body.inside, body.t
    up = (0.0, 0.0, sign)
    whole, side = ("lid", "top") if sign > 0 else ("bottom", "bottom")
    inset, deep = 2 * t + 1.0, min(DUST, DUST_SHARE * length)
    reach = 2 * body.y - 2 * inset  # along the side wall
    taper = min(deep / 2, reach / 5)
    dust = []
    for wall in (right, left):
        outline = [[0, 0], [reach, 0], [reach - taper, deep], [taper, deep]]
        dust.append(
            net.flap(
                f"{prefix}dust-{wall.name}",
                wall,
                wall.side_towards(up),
                np.array(outline, float),
                90.0,
                title=f"{wall.title} {side} flap",
                start=inset,
            )
        )
    across, depth = 2 * body.x - 2 * net.fits.flap, width + 2 * t
    lid = net.flap(
        f"{prefix}lid",
        back,
        back.side_towards(up),
        np.array([[0, 0], [across, 0], [across, depth], [0, depth]], float),
        90.0,
        title=whole,
        start=net.fits.flap,
    )
    tuck = min(TUCK, TUCK_SHARE * height)
    end, corner = t / 2 + net.fits.flap, min(4.0, tuck / 2)
    s, w, d, g = max(slits, end), across, tuck, net.fits.friction
    s = min(s, w / 5)
    far, deep_end = w - end - corner, d - corner
    points = [[s, 0], [w - s, 0], [w - s, g], [w - end, g], [w - end, deep_end], [far, d],
              [end + corner, d], [end, deep_end], [end, g], [s, g]]  # fmt: skip
    if s <= end:
        points = [p for p in points if p[1] != g]
    flap = net.flap(
        f"{prefix}tuck", lid, 2, np.array(points, float), 90.0, title=f"{side} tuck flap"
    )
    for one in dust:
        net.before(one, lid)
        net.joint(Kind.TUCK, one, lid, f"{one.title} under the {whole}")
    net.joint(Kind.TUCK, flap, front, f"{flap.title} behind the front")
    return [*dust, lid, flap]


def _sizes(inside: Size, body: _Body, slits: float) -> dict[str, Reckoning]:
    t = body.t
    out = inside_sizes(inside)
    out["between-sides"] = reckon(
        "Length, score to score",
        2 * body.x,
        "inside and half a board at either end",
        given("inside length", inside[0]),
        given("board thickness", t),
    )
    out["between-front-back"] = reckon(
        "Width, score to score",
        2 * body.y,
        "inside, the tuck flap and the seam's tab, and half a board on either side",
        given("inside width", inside[1]),
        given("board thickness", t),
    )
    out["tuck-depth"] = reckon(
        "Tuck flap, depth",
        min(TUCK, TUCK_SHARE * inside[2]),
        "the usual depth, but no more than it can turn in",
        constant("usual depth", TUCK, "mm", Mark.MEMORY),
        given("inside height", inside[2]),
    )
    if slits:
        out["friction-slit"] = constant("Friction slit", slits, "mm", Mark.MEMORY)
    return out


def _dimensions(inside: Size, back: Face, body: _Body) -> tuple[Dimension, ...]:
    right = float(np.ptp(back.outline[:, 0])) / 2 + body.t
    length, height = inside_dimensions("carton", back, inside, 1.5 * body.t)
    foot, width = length.start[1], inside[1]
    return (
        length,
        height,
        Dimension("inside, width", "carton", "right",
                  (-right, foot, 0.0), (-right - width, foot, 0.0), (0.0, -1.0, 0.0), width),
    )  # fmt: skip


def carton_board_area(
    inside: Any, boards: Mapping[str, Board], options: Mapping[str, OptionValue]
) -> Any:
    """Board in mm², without tapers and notches; rises with every length."""
    length, width, height = inside
    walls = (2 * (length + width) + USUAL_TAB) * height
    dust = smaller(DUST_SHARE * length, DUST) * width
    tucked = length * (width + smaller(TUCK_SHARE * height, TUCK)) + 2 * dust
    ends = {
        "glued": length * width + USUAL_TAB * (length + 2 * width),
        "tuck": tucked,
        "lock": length * width * (REACH + 1.0),
    }
    return walls + tucked + ends[str(options["bottom"])]


CARTON = register(
    ShapeFamily(
        key="carton",
        title="Carton",
        short="Carton",
        about="Four walls and a tuck top; the bottom folds into a lock, is glued, or tucks in.",
        parts=(("carton", "Carton"),),
        options=OPTIONS,
        build=build_carton,
        board_area=carton_board_area,
        smallest=MIN_INSIDE,
        largest=MAX_INSIDE,
        thin=(LOWEST, MAX_INSIDE),
        roof="carton",
    )
)
