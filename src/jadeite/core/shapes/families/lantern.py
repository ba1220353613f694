"""N-sided lantern: walls round a light, a lid that tucks in and opens again, a floor or none."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from jadeite.core.boards import Board
from jadeite.core.boards.fits import USUAL, Fits
from jadeite.core.errors import FieldError, option_way
from jadeite.core.nets.arrivals import Arrival, Arrivals, When, made_at
from jadeite.core.nets.closed_form import ClosedForm, Face
from jadeite.core.nets.model import Design, Floats, Joint, Kind, Piece
from jadeite.core.nets.ring_box import ngon
from jadeite.core.nets.roles import Role
from jadeite.core.reckoning import Mark, Reckoning, constant, given, reckon
from jadeite.core.shapes.common import inside_sizes, side_dimension
from jadeite.core.shapes.fittings import arched_strap
from jadeite.core.shapes.lock_bottom import LockBase, check_lock, locked
from jadeite.core.shapes.registry import (
    Option,
    OptionValue,
    ShapeFamily,
    Size,
    check_inside,
    register,
)
from jadeite.core.shapes.rings import MEASURED, Ring, hollow_of, ring_for, sides_option

__all__ = ["LANTERN"]

BELOW_THE_RIM = (
    "Its ends lie on the outside of the walls, below the rim; leave the lid free to open."
)
MIN_INSIDE = 25.0  # mm; from memory, less holds no light
MAX_INSIDE = 400.0  # mm; from memory, beyond any board here
TUCK, TUCK_SHARE = 12.0, 0.3  # mm, and of the wall's height, that the lid's flaps reach in; memory
TUCK_TAPER = 0.25  # of a flap's depth that its ends draw in; from memory
WEDGE_SHARE = 0.5  # of its side is the most that a flap beside the hinge draws in; from memory
SQUARE = math.pi / 2 - 1e-9  # exact, less rounding
OPEN_RISE, BESIDE = 0.6, 5.0  # of what is across, and mm of air; from memory
STRAP, STRAP_SHARE, STRAP_FOOT = 16.0, 0.6, 9.0  # mm, of a side, and mm glued; from memory
SAME = 1e-6  # mm; rounding, of corners at one height
USUAL_TAB = 10.0  # mm; from memory, for the quick reckoning of board

# defaults and ranges from memory
OPTIONS = (
    sides_option(4.0, 3.0, 10.0, "How many walls stand round the light."),
    MEASURED,
    Option(
        "top",
        "Top",
        "lid",
        "A lid whose flaps tuck in and are never glued opens for the light; or it stays open.",
        choices=(("lid", "lid that tucks in"), ("open", "open")),
    ),
    Option(
        "bottom",
        "Bottom",
        "glued",
        "A glued floor carries the light; so does a folded lock of four flaps, without glue; "
        "open, the lantern is put over it.",
        choices=(("glued", "glued floor"), ("lock", "folded lock"), ("open", "open")),
    ),
    Option(
        "handle",
        "Handle",
        "none",
        "A strap glued to two walls that face each other, so high that the lid opens under it.",
        choices=(("none", "none"), ("strap", "strap")),
    ),
)


@dataclass(frozen=True)
class _Form:
    """Middle surfaces of the closed lantern; mm.  The hollow's floor is z = 0."""

    sides: int
    phase: float
    wall: float  # inradius of the walls
    lid: float  # inradius of the lid's flaps
    low: tuple[float, ...]  # where each wall ends
    lid_at: float
    rim: float  # of the walls beside the lid
    tuck: float


def build_lantern(
    inside: Size,
    boards: Mapping[str, Board],
    options: Mapping[str, OptionValue],
    fits: Fits = USUAL,
) -> Design:
    """A lantern of the given inside (mm) under its lid.

    Raises
    ------
    FieldError
        An inside length out of range, or walls too narrow for tabs.
    """
    check_inside(inside, ("length", "width", "height"), MIN_INSIDE, MAX_INSIDE)
    board, sides = boards["lantern"], round(float(options["sides"]))
    t, lid, bottom = board.thickness, options["top"] == "lid", options["bottom"]
    _check_sides(sides, options)
    ring = ring_for(inside, sides, options)
    wall = ring.inradius + 1.5 * t + fits.flap  # within it lie the seam's tab, or a flap of the lid
    lid_at = inside[2] + t / 2
    across = 2 * ring.inradius
    lock = LockBase(wall, wall, across, across, t)
    low = [-1.5 * t if bottom == "glued" else 0.0] * sides
    if bottom == "lock":
        check_lock((across, across, inside[2]))
        back, beside, front = lock.feet
        low = [back, beside, front, beside]
    form = _Form(
        sides, ring.phase, wall, wall - t - fits.flap, tuple(low), lid_at,
        lid_at + t / 2 if lid else inside[2], min(TUCK, TUCK_SHARE * inside[2]),
    )  # fmt: skip
    net = ClosedForm("lantern", "lantern", board, fits=fits)
    walls = _walls(net, form, lid)
    if bottom == "glued":
        _floor(net, form, walls)
    elif bottom == "lock":
        locked(net, lock, (walls[0], walls[1], walls[3], walls[2]))
    closers = _lid(net, form, walls, t) if lid else []
    net.tab("seam", walls[-1], walls[0], title="seam, the last wall to the first")
    if bottom == "lock":  # the seam's tab stays above the flaps
        net.keep_clear(walls[0], _along_foot(walls[0], 5.5 * t))
    piece = net.build()
    side = 2 * wall * math.tan(math.pi / sides)
    pieces, placements, joints = [piece], {"lantern": net.placement}, list(net.joints)
    sizes = _sizes(inside, ring, form, side, lid)
    handle: list[Arrival] = []
    if options["handle"] == "strap":
        arch = _handle(form, board, boards["handle"], side, lid)
        pieces.append(arch.piece)
        placements["handle"] = arch.place
        joints += arch.joints
        sizes["handle-rise"] = arch.rise
        handle.append(Arrival("handle", When.FOLDED, arch.joints[0].target, hint=BELOW_THE_RIM))
    return Design(
        family="lantern",
        title=f"Lantern with {sides} sides",
        pieces=tuple(pieces),
        placements=placements,
        joints=tuple(joints),
        hollow=hollow_of(inside, options, 0.0),
        sizes=sizes,
        dimensions=(side_dimension("lantern", "wall-1", walls[0].outline),),
        surfaces={"floor": 0.0, "rim": inside[2]},
        arrivals=Arrivals((*made_at(When.FILLED, "lantern", closers), *handle)),
        mouth=(0.0, 0.0, -1.0 if bottom == "open" and not lid else 1.0),
    )


def _check_sides(sides: int, options: Mapping[str, OptionValue]) -> None:
    """Refuse a number of sides that has no lock, or no walls that face each other."""
    if options["bottom"] == "lock" and sides != 4:
        raise FieldError(
            "sides",
            "a folded lock needs four walls",
            "Use 4, or a glued bottom.",
            (option_way("sides", 4.0), option_way("bottom", "glued")),
        )
    if options["handle"] == "strap" and sides % 2:
        raise FieldError(
            "sides",
            "a handle needs two walls that face each other",
            f"Use {sides + 1}.",
            (option_way("sides", float(sides + 1)), option_way("handle", "none")),
        )


def _along_foot(wall: Face, high: float) -> Floats:
    """A strip along the foot of a wall, (4, 2) in its flat plane."""
    points = wall.space()
    low = points[points[:, 2] < points[:, 2].min() + SAME]
    up = np.array([0.0, 0.0, high])
    return wall.flat(np.array([low[0], low[1], low[1] + up, low[0] + up]))


@dataclass(frozen=True)
class _Arch:
    piece: Piece
    place: Floats
    joints: tuple[Joint, ...]
    rise: Reckoning


def _handle(form: _Form, board: Board, strap: Board, side: float, lid: bool) -> _Arch:
    """A strap over the rim, between walls that face each other beside the lid's hinge."""
    first = max(1, form.sides // 4)
    across = 2 * form.wall
    wide = min(STRAP, STRAP_SHARE * side)
    if lid:  # seen from the hinge, its inner edge is the hardest to pass
        swing = math.hypot(across, form.tuck)
        inner = form.wall - wide / 2
        rise = reckon(
            "Handle above the rim",
            math.sqrt(swing**2 - inner**2) + BESIDE,
            "so high that the lid, turned up with its flaps bent, passes under it",
            given("lid and its flap", swing),
            given("hinge to the strap", inner),
            constant("air", BESIDE, "mm", Mark.MEMORY),
        )
    else:
        rise = reckon(
            "Handle above the rim",
            OPEN_RISE * across + BESIDE,
            "room for a hand",
            given("across the walls", across),
            constant("of it", OPEN_RISE, "", Mark.MEMORY),
            constant("more", BESIDE, "mm", Mark.MEMORY),
        )
    half = form.wall + (board.thickness + strap.thickness) / 2
    piece, place = arched_strap(
        "handle", "handle", strap, form.phase + 360.0 / form.sides * first, half, wide,
        (form.rim - STRAP_FOOT, form.rim, form.rim + rise.value),
    )  # fmt: skip
    walls = first + 1, first + 1 + form.sides // 2
    joints = tuple(
        Joint(Kind.GLUE, ("handle", f"foot.{name}"), ("lantern", f"wall-{number}"),
              f"handle on wall {number}", "outside")
        for name, number in zip(("first", "second"), walls, strict=True)
    )  # fmt: skip
    return _Arch(piece, place, joints, rise)


def _walls(net: ClosedForm, form: _Form, lid: bool) -> list[Face]:
    """A strip of walls; the first carries the lid and ends where it is folded."""
    ring = ngon(form.wall, form.sides, form.phase)
    walls: list[Face] = []
    for i in range(form.sides):
        (x0, y0), (x1, y1) = ring[i], ring[(i + 1) % form.sides]
        top = form.lid_at if lid and i == 0 else form.rim
        low = form.low[i]
        corners = np.array([[x0, y0, low], [x1, y1, low], [x1, y1, top], [x0, y0, top]])
        name, title = f"wall-{i + 1}", f"wall {i + 1}"
        if i == 0:
            walls.append(net.base(name, corners, title=title, role=Role.WALL))
        else:
            walls.append(net.face(name, corners, walls[-1], title=title))
    return walls


def _floor(net: ClosedForm, form: _Form, walls: list[Face]) -> None:
    """A floor on the first wall, over tabs of all the others."""
    ring = ngon(form.wall, form.sides, form.phase)
    corners = np.column_stack([ring, np.full(form.sides, form.low[0])])[::-1]  # seen from below
    floor = net.face("floor", corners, walls[0], title="floor", role=Role.FLOOR)
    for wall in walls[1:]:
        net.tab(f"foot.{wall.name}", wall, floor, title=f"floor, {wall.title}")


def _lid(net: ClosedForm, form: _Form, walls: list[Face], t: float) -> list[str]:
    """A lid on the first wall, between the others; its flaps tuck in behind them."""
    out = [form.wall, *([form.lid] * (form.sides - 1))]
    turns = np.radians(form.phase + np.arange(form.sides) * 360.0 / form.sides)
    normals = np.column_stack([np.cos(turns), np.sin(turns)])
    ring = np.array(
        [
            np.linalg.solve(normals[[i - 1, i]], [out[i - 1], out[i]])  # corner before side i
            for i in range(form.sides)
        ]
    )
    corners = np.column_stack([ring, np.full(form.sides, form.lid_at)])
    lid = net.face("lid", corners, walls[0], title="lid", role=Role.FLAP)
    names = ["lid"]
    turn = math.radians(360.0 / form.sides)
    past = (1.5 * t + net.fits.flap) / math.sin(
        turn
    )  # beyond the seam's tab, which lies along the first wall
    for i in range(1, form.sides):
        length = float(np.linalg.norm(ring[(i + 1) % form.sides] - ring[i]))
        ends, depth = [0.0, length], form.tuck
        draws = [min(TUCK_TAPER * depth, length / 4)] * 2
        for end, beside in ((0, i == form.sides - 1), (1, i == 1)):
            if not beside:
                continue
            ends[end] += past if end == 0 else -past
            if turn < SQUARE:  # flat, it shares a wedge with the walls beside the lid
                depth = min(depth, WEDGE_SHARE * (length - past) * math.tan(turn))
                draws[end] = max(draws[end], depth / math.tan(turn) + net.fits.flap)
        low, high = ends
        outline = np.array(
            [[low, 0.0], [high, 0.0], [high - draws[1], depth], [low + draws[0], depth]]
        )
        side = lid.side_towards((*_outward(normals[i]), 0.0))
        flap = net.flap(f"tuck.{i + 1}", lid, side, outline, 90.0, title=f"lid flap {i + 1}")
        net.before(flap, lid)
        net.joint(Kind.TUCK, flap, walls[i], f"{flap.title} behind {walls[i].title}")
        names.append(flap.name)
    return names


def _outward(normal: Floats) -> tuple[float, float]:
    return float(normal[0]), float(normal[1])


def _sizes(inside: Size, ring: Ring, form: _Form, side: float, lid: bool) -> dict[str, Reckoning]:
    out = inside_sizes(inside)
    out["inradius"] = ring.why
    out["side"] = reckon(
        "Side, score to score",
        side,
        "twice middle to side of the walls times tan(180° / sides)",
        given("middle to side of the walls", form.wall),
        given("sides", form.sides, ""),
    )
    out["wall-height"] = reckon(
        "Wall, foot to rim",
        form.rim - form.low[0],
        "inside height, and the plies above and below it",
        given("inside height", inside[2]),
        given("below the hollow", -form.low[0]),
    )
    if lid:
        out["lid-flap"] = reckon(
            "Flaps of the lid",
            form.tuck,
            "the usual depth, or 0.3 of the height",
            constant("usual depth", TUCK, "mm", Mark.MEMORY),
            given("inside height", inside[2]),
        )
    return out


def lantern_board_area(
    inside: Any, boards: Mapping[str, Board], options: Mapping[str, OptionValue]
) -> Any:
    """Board in mm², without tapers; rises with every length."""
    length, width, height = inside
    sides = round(float(options["sides"]))
    factor = sides * math.tan(math.pi / sides)
    reach = np.hypot(length, width) / 2
    ends = (options["top"] == "lid") + (options["bottom"] != "open")
    return (2 * factor * reach + USUAL_TAB) * (height + ends * USUAL_TAB) + ends * factor * reach**2


LANTERN = register(
    ShapeFamily(
        key="lantern",
        title="Lantern",
        short="Lantern",
        purpose="light",
        window="leaves",
        about="Three to ten walls round a light; the lid tucks in and is never glued.",
        parts=(("lantern", "Lantern"), ("handle", "Handle")),
        options=OPTIONS,
        build=build_lantern,
        board_area=lantern_board_area,
        smallest=MIN_INSIDE,
        largest=MAX_INSIDE,
        when={"handle": ("handle", "strap")},
        follows={"handle": "lantern"},
        carries="handle",
    )
)
