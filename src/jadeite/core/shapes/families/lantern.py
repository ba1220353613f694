"""N-sided lantern: walls round a light, a lid that tucks in and opens again, a floor or none."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from jadeite.core.boards import Board
from jadeite.core.nets.closed_form import ClosedForm, Face
from jadeite.core.nets.model import Design, Floats
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
from jadeite.core.shapes.rings import MEASURED, Ring, hollow_of, ring_for, sides_option

__all__ = ["LANTERN"]

MIN_INSIDE = 25.0  # mm; from memory, less holds no light
MAX_INSIDE = 400.0  # mm; from memory, beyond any board here
TUCK, TUCK_SHARE = 12.0, 0.3  # mm, and of the wall's height, that the lid's flaps reach in; memory
TUCK_TAPER = 0.25  # of a flap's depth that its ends draw in; from memory
WEDGE_SHARE = 0.5  # of its side is the most that a flap beside the hinge draws in; from memory
SQUARE = math.pi / 2 - 1e-9  # exact, less rounding
PLAY = 0.3  # mm; from memory, between the lid's flaps and the walls
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
        "A glued floor carries the light; without one the lantern is put over it.",
        choices=(("glued", "glued floor"), ("open", "open")),
    ),
)


@dataclass(frozen=True)
class _Form:
    """Middle surfaces of the closed lantern; mm.  The hollow's floor is z = 0."""

    sides: int
    phase: float
    wall: float  # inradius of the walls
    lid: float  # inradius of the lid's flaps
    low: float
    lid_at: float
    rim: float  # of the walls beside the lid
    tuck: float


def build_lantern(
    inside: Size, boards: Mapping[str, Board], options: Mapping[str, OptionValue]
) -> Design:
    """A lantern of the given inside (mm) under its lid.

    Raises
    ------
    FieldError
        An inside length out of range, or walls too narrow for tabs.
    """
    check_inside(inside, ("length", "width", "height"), MIN_INSIDE, MAX_INSIDE)
    board, sides = boards["lantern"], round(float(options["sides"]))
    t, lid, floor = board.thickness, options["top"] == "lid", options["bottom"] == "glued"
    ring = ring_for(inside, sides, options)
    wall = ring.inradius + 1.5 * t + PLAY  # within it lie the seam's tab, or a flap of the lid
    lid_at = inside[2] + t / 2
    form = _Form(
        sides, ring.phase, wall, wall - t - PLAY, -1.5 * t if floor else 0.0, lid_at,
        lid_at + t / 2 if lid else inside[2], min(TUCK, TUCK_SHARE * inside[2]),
    )  # fmt: skip
    net = ClosedForm("lantern", "lantern", board)
    walls = _walls(net, form, lid)
    if floor:
        _floor(net, form, walls)
    closers = _lid(net, form, walls, t) if lid else []
    net.tab("seam", walls[-1], walls[0], title="seam, the last wall to the first")
    piece = net.build()
    side = 2 * wall * math.tan(math.pi / sides)
    return Design(
        family="lantern",
        title=f"Lantern with {sides} sides",
        pieces=(piece,),
        placements={"lantern": net.placement},
        joints=tuple(net.joints),
        hollow=hollow_of(inside, options, 0.0),
        sizes=_sizes(inside, ring, form, side, lid),
        dimensions=(side_dimension("lantern", "wall-1", walls[0].outline),),
        surfaces={"floor": 0.0, "rim": inside[2]},
        closers=frozenset(("lantern", name) for name in closers),
        mouth=(0.0, 0.0, 1.0 if floor or lid else -1.0),
    )


def _walls(net: ClosedForm, form: _Form, lid: bool) -> list[Face]:
    """A strip of walls; the first carries the lid and ends where it is folded."""
    ring = ngon(form.wall, form.sides, form.phase)
    walls: list[Face] = []
    for i in range(form.sides):
        (x0, y0), (x1, y1) = ring[i], ring[(i + 1) % form.sides]
        top = form.lid_at if lid and i == 0 else form.rim
        corners = np.array([[x0, y0, form.low], [x1, y1, form.low], [x1, y1, top], [x0, y0, top]])
        name, title = f"wall-{i + 1}", f"wall {i + 1}"
        if i == 0:
            walls.append(net.base(name, corners, title=title, role="wall"))
        else:
            walls.append(net.face(name, corners, walls[-1], title=title))
    return walls


def _floor(net: ClosedForm, form: _Form, walls: list[Face]) -> None:
    """A floor on the first wall, over tabs of all the others."""
    ring = ngon(form.wall, form.sides, form.phase)
    corners = np.column_stack([ring, np.full(form.sides, form.low)])[::-1]  # seen from below
    floor = net.face("floor", corners, walls[0], title="floor", role="floor")
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
    lid = net.face("lid", corners, walls[0], title="lid", role="flap")
    names = ["lid"]
    turn = math.radians(360.0 / form.sides)
    past = (1.5 * t + PLAY) / math.sin(
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
                draws[end] = max(draws[end], depth / math.tan(turn) + PLAY)
        low, high = ends
        outline = np.array(
            [[low, 0.0], [high, 0.0], [high - draws[1], depth], [low + draws[0], depth]]
        )
        side = lid.side_towards((*_outward(normals[i]), 0.0))
        flap = net.flap(f"tuck.{i + 1}", lid, side, outline, 90.0, title=f"lid flap {i + 1}")
        net.joint("tuck", flap, walls[i], f"{flap.title} behind {walls[i].title}")
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
        "twice the inradius of the walls times tan(180° / sides)",
        given("inradius of the walls", form.wall),
        given("sides", form.sides, ""),
    )
    out["wall-height"] = reckon(
        "Wall, foot to rim",
        form.rim - form.low,
        "inside height, and the plies above and below it",
        given("inside height", inside[2]),
        given("below the hollow", -form.low),
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
    ends = (options["top"] == "lid") + (options["bottom"] == "glued")
    return (2 * factor * reach + USUAL_TAB) * (height + ends * USUAL_TAB) + ends * factor * reach**2


LANTERN = register(
    ShapeFamily(
        key="lantern",
        title="Lantern",
        short="Lantern",
        about="Three to ten walls round a light; the lid tucks in and is never glued.",
        parts=(("lantern", "Lantern"),),
        options=OPTIONS,
        build=build_lantern,
        board_area=lantern_board_area,
        smallest=MIN_INSIDE,
        largest=MAX_INSIDE,
    )
)
