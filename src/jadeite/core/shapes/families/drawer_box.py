"""Sleeve and drawer: an open tray that slides into a band round it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import Any

import numpy as np

from jadeite.core.boards import Board
from jadeite.core.boards.fit_rules import SLOT_AROUND
from jadeite.core.boards.fits import USUAL, Fits
from jadeite.core.errors import FieldError, option_way
from jadeite.core.nets.arrivals import Arrival, Arrivals, How, When
from jadeite.core.nets.bought import Bought
from jadeite.core.nets.builder import half_round
from jadeite.core.nets.closed_form import ClosedForm
from jadeite.core.nets.model import (
    Design,
    Dimension,
    Floats,
    Hollow,
    Joint,
    Kind,
    Opening,
    Piece,
)
from jadeite.core.nets.open_box import OpenBox, open_box
from jadeite.core.nets.openings import behind
from jadeite.core.nets.roles import Role
from jadeite.core.nets.ties import hanging_loop
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
from jadeite.core.units import number_text

__all__ = ["DRAWER_BOX"]

MIN_INSIDE = 15.0  # mm; from memory, smaller walls leave no room for two tabs
MAX_INSIDE = 800.0  # mm; from memory, beyond any board here
NOTCH, NOTCH_SHARE = 10.0, 0.25  # mm, and of the sleeve's side; from memory
USUAL_TAB = 10.0  # mm; from memory, for the quick reckoning of board
LOOP, GLUED_ENDS = 30.0, 20.0  # mm; from memory, for a finger, and what holds
LEAST_RIBBON = 3.0  # mm; from memory, the narrowest that is sold

NOTCHES = option_way("pull", "notch")
# defaults and ranges from memory
OPTIONS = (
    Option(
        "pull",
        "Pull",
        "notch",
        "Notch: the drawer is pushed out by a finger. Ribbon: a loop through a slit in its front.",
        choices=(("notch", "notches in the sleeve"), ("ribbon", "ribbon"), ("none", "none")),
    ),
    Option(
        "ribbon",
        "Ribbon width",
        6.0,
        "A slit in the drawer's front takes the ribbon.",
        unit="mm",
        low=LEAST_RIBBON,
        high=25.0,
        only=(("pull", ("ribbon",)),),
    ),
    Option(
        "drawer-walls",
        "Drawer walls",
        "single",
        "Double walls roll over and are glued down: sturdy, and no raw rim.",
        choices=(("single", "single"), ("double", "double")),
    ),
)


def build_drawer_box(
    inside: Size,
    boards: Mapping[str, Board],
    options: Mapping[str, OptionValue],
    fits: Fits = USUAL,
) -> Design:
    """A drawer of the given inside (mm) that slides along its length into a sleeve.

    Raises
    ------
    FieldError
        An inside length out of range, or a ribbon too wide for the drawer's front.
    """
    check_inside(inside, ("length", "width", "height"), MIN_INSIDE, MAX_INSIDE)
    board = boards["drawer"]
    t = board.thickness
    drawer = open_box(
        "drawer",
        "drawer",
        board,
        inside,
        long_axis=0,  # its long walls carry no tabs outside, so it slides
        tabs="inside",
        double=options["drawer-walls"] == "double",
        notches=False,
        good_side="outside",
        turned=True,
        fits=fits,
    )
    slit = fits.ribbon_slit(float(options["ribbon"])) if options["pull"] == "ribbon" else 0.0
    piece = _with_slit(drawer.piece, inside, slit, fits) if slit else drawer.piece
    place = np.diag([1.0, -1.0, -1.0, 1.0])
    tall = drawer.rim_top + t / 2  # over every ply of the drawer
    notches = options["pull"] == "notch"
    sleeve, matrix, joints = _sleeve(drawer, tall, boards["sleeve"], t, notches, fits)
    slides = tuple(
        Joint(Kind.SLIDE, ("sleeve", a), ("drawer", b), f"sleeve over drawer, {a}", "outside")
        for a, b in (("right", "back"), ("left", "front"), ("bottom", "floor"))
    )
    return Design(
        family="drawer-box",
        title="Sleeve and drawer",
        pieces=(piece, sleeve),
        placements={"drawer": place, "sleeve": matrix},
        joints=(*drawer.joints, *joints, *slides),
        hollow=Hollow(inside, (0.0, 0.0, drawer.floor_top + inside[2] / 2)),
        sizes=_sizes(inside, drawer, tall, slit, options, fits),
        dimensions=_dimensions(inside, drawer),
        arrivals=Arrivals([Arrival("sleeve", When.LAST, how=How.PUT, path=(1.0, 0.0, 0.0))]),
        surfaces={"floor": drawer.floor_top, "rim": drawer.rim_top},
        bought=_pull(float(options["ribbon"]), drawer) if slit else (),
    )


def _pull(width: float, drawer: OpenBox) -> tuple[Bought, ...]:
    """The ribbon by which the drawer is pulled out, put in while nothing is in its way."""
    title = "Draw the ribbon through the slit in the drawer's front"
    words = (
        f"Doubled, so that a loop of {number_text(LOOP, 0)} mm hangs outside; spread its two ends "
        "inside and glue them flat on the back of the front."
    )
    length = 2 * (LOOP + GLUED_ENDS)
    mouth = np.array([drawer.outside[0] / 2, 0.0, drawer.wall_height / 2])
    strips = hanging_loop(mouth, np.eye(3)[0], np.eye(3)[2], width, min(LOOP, float(mouth[2])))
    return (Bought("ribbon", width, length, title, words, ("drawer", "right"), first=True,
                   strips=strips),)  # fmt: skip


def _with_slit(piece: Piece, inside: Size, slit: float, fits: Fits) -> Piece:
    """The drawer with a slit for a ribbon in its front, the wall at the right."""
    panel = piece.panel("right")
    have = inside[1] - 2 * SLOT_AROUND
    if slit > have:
        ribbon = int(10 * (have - fits.ribbon_slit(0.0))) / 10
        cure = f"Use {ribbon:.1f} mm." if ribbon >= LEAST_RIBBON else "Use notches."
        raise FieldError(
            "ribbon",
            f"a slit of {slit:.1f} mm does not fit into the drawer's front",
            cure,
            (option_way("ribbon", ribbon) if ribbon >= LEAST_RIBBON else NOTCHES,),
        )
    a, b, c, _ = panel.outline[:4]
    along = (b - a) / np.linalg.norm(b - a)
    middle = (a + b) / 2 + (c - b) / 2
    ends = np.array([middle - along * slit / 2, middle + along * slit / 2])
    cuts = {"right": Opening("slit", ends)}
    if "inner.right" in piece.index:  # the ribbon passes both plies of a rolled-over wall
        cuts["inner.right"] = behind(piece, "right", cuts["right"], "inner.right")
    panels = (replace(p, openings=(cuts[p.name],)) if p.name in cuts else p for p in piece.panels)
    return replace(piece, panels=tuple(panels))


def _sleeve(
    drawer: OpenBox, tall: float, board: Board, t: float, notches: bool, fits: Fits
) -> tuple[Piece, Floats, tuple[Joint, ...]]:
    """Bottom, side, top, side; the seam's tab lies outside, so that nothing is in the way."""
    s = board.thickness
    length = drawer.outside[0]
    y = drawer.outside[1] / 2 + fits.drawer_width / 2 + s / 2
    low = -t / 2 - s / 2  # under the drawer's floor
    high = low + s + tall + fits.drawer_height
    x = length / 2
    net = ClosedForm("sleeve", "sleeve", board, fits=fits)
    bottom = net.base(
        "bottom",
        np.array([[-x, -y, low], [-x, y, low], [x, y, low], [x, -y, low]]),
        role=Role.FLOOR,
    )
    right = net.face(
        "right", np.array([[x, y, low], [-x, y, low], [-x, y, high], [x, y, high]]), bottom,
        title="back side",
    )  # fmt: skip
    top = net.face(
        "top", np.array([[x, y, high], [-x, y, high], [-x, -y, high], [x, -y, high]]), right,
        title="top",
    )  # fmt: skip
    left = net.face(
        "left", np.array([[-x, -y, low], [x, -y, low], [x, -y, high], [-x, -y, high]]), top,
        title="front side",
    )  # fmt: skip
    net.tab("tab.seam", left, bottom, side="outside", title="seam of the sleeve")
    if notches:
        half = min(NOTCH, NOTCH_SHARE * 2 * y, NOTCH_SHARE * length)
        for face in (top, bottom):
            side = face.side_towards((1, 0, 0))
            a, b = face.outline[side], face.outline[(side + 1) % 4]
            face.bites[side] = half_round(a, b, half)
    piece = net.build()
    return piece, net.placement, tuple(net.joints)


def _sizes(
    inside: Size,
    drawer: OpenBox,
    tall: float,
    slit: float,
    options: Mapping[str, OptionValue],
    fits: Fits,
) -> dict[str, Reckoning]:
    out = inside_sizes(inside, "Drawer inside")
    for name, value, ease in (
        ("width", drawer.outside[1], fits.drawer_width),
        ("height", tall, fits.drawer_height),
    ):
        out[f"sleeve-inside-{name}"] = reckon(
            f"Sleeve inside, {name}",
            value + ease,
            "the drawer over every ply, and room to run",
            given(f"drawer outside, {name}", value),
            constant("room to run, in total", ease, "mm", Mark.MEMORY),
        )
    out["sleeve-length"] = reckon(
        "Sleeve, length",
        drawer.outside[0],
        "as long as the drawer",
        given("drawer outside, length", drawer.outside[0]),
    )
    out["tab-depth"] = drawer.tab_depth
    if slit:
        out["pull-slit"] = reckon(
            "Slit for the ribbon",
            slit,
            "ribbon and a little, so that it slides",
            given("ribbon width", float(options["ribbon"])),
        )
    return out


def _dimensions(inside: Size, drawer: OpenBox) -> tuple[Dimension, ...]:
    x, y, z = inside
    top = -drawer.floor_top
    floor = drawer.piece.panels[0].outline
    right, back = float(floor[1, 0]), float(floor[2, 1])
    wall = drawer.wall_height
    return (
        Dimension("inside, length", "drawer", "floor", (-x / 2, back, top), (x / 2, back, top),
                  (0.0, 1.0, 0.0), x),
        Dimension("inside, width", "drawer", "floor", (-right, -y / 2, top), (-right, y / 2, top),
                  (-1.0, 0.0, 0.0), y),
        Dimension("inside, height", "drawer", "right", (right, -y / 2, -top),
                  (right + min(z, wall), -y / 2, -top), (0.0, -1.0, 0.0), z),
    )  # fmt: skip


def drawer_board_area(
    inside: Any, boards: Mapping[str, Board], options: Mapping[str, OptionValue]
) -> Any:
    """Board in mm²; rises with every length."""
    length, width, height = inside
    layers = 2.0 if options["drawer-walls"] == "double" else 1.0
    drawer = length * width + layers * 2 * (length + width + 2 * USUAL_TAB) * height
    return drawer + length * (2 * (width + height) + USUAL_TAB)


DRAWER_BOX = register(
    ShapeFamily(
        key="drawer-box",
        title="Sleeve and drawer",
        short="Drawer",
        about="A tray that slides into a band round it, as a drawer does.",
        parts=(("drawer", "Drawer"), ("sleeve", "Sleeve")),
        options=OPTIONS,
        build=build_drawer_box,
        board_area=drawer_board_area,
        smallest=MIN_INSIDE,
        largest=MAX_INSIDE,
        roof="sleeve",
        cures=(
            (
                "double-walls",
                "Double the drawer's walls",
                ("wall", "tall"),
                (("shape.options.drawer-walls", "double"),),
            ),
        ),
    )
)
