"""Tray with a lift-off lid: two open boxes, the lid a little larger."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import Any

import numpy as np

from jadeite.core.boards import Board
from jadeite.core.boards.fits import USUAL, Fits
from jadeite.core.nets.arrivals import Arrival, Arrivals, How, When
from jadeite.core.nets.model import Design, Dimension, Hollow
from jadeite.core.nets.open_box import OpenBox, open_box
from jadeite.core.reckoning import Reckoning, given, reckon
from jadeite.core.shapes.lift_off import (
    LID_DEPTH,
    SIDES,
    THUMB_NOTCHES,
    lid_findings,
    lid_sizes,
    slides_over,
)
from jadeite.core.shapes.plies import with_floor_ply
from jadeite.core.shapes.registry import (
    Option,
    OptionValue,
    ShapeFamily,
    Size,
    check_inside,
    register,
    smaller,
)

__all__ = ["TRAY_WITH_LID"]

MIN_INSIDE = 15.0  # mm; from memory, smaller walls leave no room for two tabs
MAX_INSIDE = 1000.0  # mm; from memory, beyond any board here

# defaults and ranges from memory
OPTIONS = (
    LID_DEPTH,
    Option(
        "tabs",
        "Glue tabs",
        "inside",
        "Inside: clean walls, a little less room. Outside: full room, tabs show.",
        choices=(("inside", "inside"), ("outside", "outside")),
    ),
    Option(
        "tray-walls",
        "Tray walls",
        "single",
        "Double walls roll over and are glued down: sturdy, and no raw rim.",
        choices=(("single", "single"), ("double", "double")),
    ),
    Option(
        "lid-walls",
        "Lid walls",
        "single",
        "Double walls roll over and are glued down: sturdy, and no raw rim.",
        choices=(("single", "single"), ("double", "double")),
    ),
    Option(
        "floor",
        "Floor",
        "single",
        "A second ply glued on the floor stiffens it; give it a thicker board to make it a "
        "stiffener.",
        choices=(("single", "single"), ("doubled", "doubled")),
    ),
    THUMB_NOTCHES,
    Option(
        "good-side",
        "Good side",
        "outside",
        "Which side of the walls shows the good side of the board.",
        choices=(("outside", "outside"), ("inside", "inside")),
        ends=(("back-shows", "outside", "Turn the good side outside"),),
    ),
)
CURES = (
    (
        "doubled-floor",
        "Glue a second ply on the floor",
        ("floor",),
        (("shape.options.floor", "doubled"),),
    ),
    (
        "stiffener",
        "Glue a stiffener on the floor",
        ("floor",),
        (("shape.options.floor", "doubled"), ("boards.floor-ply", "thin-chipboard")),
    ),
    (
        "double-walls",
        "Double the tray's walls",
        ("wall", "tall"),
        (("shape.options.tray-walls", "double"),),
    ),
)


def build_tray_with_lid(
    inside: Size,
    boards: Mapping[str, Board],
    options: Mapping[str, OptionValue],
    fits: Fits = USUAL,
) -> Design:
    """Tray of the given inside (mm), and a lid that lifts off it.

    Raises
    ------
    FieldError
        An inside length out of range; the text names the value that works.
    """
    check_inside(inside, ("length", "width", "height"), MIN_INSIDE, MAX_INSIDE)
    tray_board, lid_board = boards["tray"], boards["lid"]
    long_axis = 0 if inside[0] >= inside[1] else 1
    up = options["good-side"] == "outside"  # then the tray's flat piece is turned over
    tabs, good_side = str(options["tabs"]), str(options["good-side"])
    ply_board = boards["floor-ply"] if options["floor"] == "doubled" else None
    tray = open_box(
        "tray",
        "tray",
        tray_board,
        inside,
        long_axis=long_axis,
        tabs=tabs,
        double=options["tray-walls"] == "double",
        turned=up,
        fits=fits,
        notches=False,
        good_side=good_side,
        ply=ply_board.thickness if ply_board else 0.0,
    )
    clearance = fits.lid_over(
        lid_board if lid_board.thickness > tray_board.thickness else tray_board
    )
    full = tray.rim_top + tray_board.thickness / 2
    wanted = float(options["lid-depth"])
    depth = min(wanted, full)
    lid_inside = (
        tray.outside[0] + clearance.value,
        tray.outside[1] + clearance.value,
        depth,
    )
    lid = open_box(
        "lid",
        "lid",
        lid_board,
        lid_inside,
        long_axis=long_axis,
        tabs=tabs,
        double=options["lid-walls"] == "double",
        turned=not up,
        fits=fits,
        notches=options["thumb-notches"] == "two",
        good_side=good_side,
    )
    tray_place = np.diag([1.0, -1.0, -1.0, 1.0]) if up else np.eye(4)
    lid_place = np.eye(4) if up else np.diag([1.0, -1.0, -1.0, 1.0])
    lid_place[2, 3] = tray.rim_top + lid.floor_top  # the lid's ceiling rests on the rim
    design = Design(
        family="tray-with-lid",
        title="Tray with lift-off lid",
        pieces=(tray.piece, lid.piece),
        placements={"tray": tray_place, "lid": lid_place},
        joints=(
            *tray.joints,
            *lid.joints,
            *slides_over({side: ("tray", side) for side in SIDES}, "tray"),
        ),
        hollow=Hollow(inside, (0.0, 0.0, tray.floor_top + inside[2] / 2)),
        sizes=_sizes(inside, tray, lid, lid_inside, clearance, tray_board, full, wanted),
        dimensions=_dimensions(inside, tray, lid, lid_inside, up),
        findings=lid_findings(lid, wanted, full, notches=options["thumb-notches"] == "two"),
        arrivals=Arrivals([Arrival("lid", When.LAST, how=How.PUT)]),
        surfaces={"floor": tray.floor_top, "rim": tray.rim_top},
    )
    if ply_board is None:
        return design
    double = options["tray-walls"] == "double"
    return with_floor_ply(replace(design, fits=fits), "tray", ply_board, on_feet=double)


def _sizes(
    inside: Size,
    tray: OpenBox,
    lid: OpenBox,
    lid_inside: Size,
    clearance: Reckoning,
    board: Board,
    full: float,
    wanted: float,
) -> dict[str, Reckoning]:
    names = ("length", "width")
    out: dict[str, Reckoning] = {}
    for i, name in enumerate((*names, "height")):
        out[f"tray-inside-{name}"] = given(f"Tray inside, {name}", inside[i])
    for i, name in enumerate(names):
        out[f"tray-outside-{name}"] = reckon(
            f"Tray outside, {name}",
            tray.outside[i],
            "inside and every ply of both walls",
            given(f"tray inside, {name}", inside[i]),
            reckon(
                "plies of both walls",
                tray.outside[i] - inside[i],
                "walls, the tabs glued to them, and walls rolled over",
                given("board thickness", board.thickness),
            ),
        )
    out |= lid_sizes(lid, lid_inside, tray.outside, clearance, wanted, full, "tray")
    out["tab-depth"] = tray.tab_depth
    out["wall-height"] = reckon(
        "Wall, score to rim",
        tray.wall_height,
        "inside height and half the floor's thickness"
        if tray.floor_top < board.thickness
        else "inside height and the foot's thickness; it rolls over its rim",
        given("tray inside, height", inside[2]),
        given("board thickness", board.thickness),
    )
    return out


def _dimensions(
    inside: Size, tray: OpenBox, lid: OpenBox, lid_inside: Size, up: bool
) -> tuple[Dimension, ...]:
    sign = -1.0 if up else 1.0  # of the inside, seen along the good side's normal
    out = []
    for box, (x, y, z), name in ((tray, inside, "tray"), (lid, lid_inside, "lid")):
        top = sign * box.floor_top
        floor = box.piece.panels[0].outline
        right, front = float(floor[1, 0]), float(floor[0, 1])
        near = (0.0, 1.0, 0.0) if up else (0.0, -1.0, 0.0)  # pieces are folded good side down
        front *= -near[1]
        side = -1.0 if name == "tray" else 1.0  # clear of the other piece
        corner = (0.0, near[1], 1.0 if up else -1.0)  # away from the wall, and to the front
        wall = box.wall_height
        out += [
            Dimension(
                f"{name} inside, length",
                name,
                "floor",
                (-x / 2, front, top),
                (x / 2, front, top),
                near,
                x,
            ),
            Dimension(
                f"{name} inside, width",
                name,
                "floor",
                (side * right, -y / 2, top),
                (side * right, y / 2, top),
                (side, 0.0, 0.0),
                y,
            ),
            Dimension(
                f"{name} inside, height",
                name,
                "right",
                (right + wall - z, front, 0.0),
                (right + wall, front, 0.0),
                corner,
                z,
            ),
        ]
    return tuple(out)


def tray_board_area(
    inside: Any, boards: Mapping[str, Board], options: Mapping[str, OptionValue]
) -> Any:
    """Board in mm² of both pieces, without tabs and notches; rises with every length."""
    length, width, height = inside
    plies = [2.0 if options[key] == "double" else 1.0 for key in ("tray-walls", "lid-walls")]
    lid = smaller(height, float(options["lid-depth"]))
    around = 2 * (length + width)
    floors = 3 if options["floor"] == "doubled" else 2
    return floors * length * width + around * (height * plies[0] + lid * plies[1])


TRAY_WITH_LID = register(
    ShapeFamily(
        key="tray-with-lid",
        title="Tray with lift-off lid",
        short="Tray with lid",
        about="Two open boxes; the lid is a little larger and lifts off.",
        parts=(("tray", "Tray"), ("lid", "Lid"), ("floor-ply", "Second floor")),
        options=OPTIONS,
        build=build_tray_with_lid,
        board_area=tray_board_area,
        smallest=MIN_INSIDE,
        largest=MAX_INSIDE,
        when={"floor-ply": ("floor", "doubled")},
        follows={"floor-ply": "tray"},
        roof="lid",
        cures=CURES,
    )
)
