"""Domed box: an n-sided base with a brim, and a lid of gores with a brim of its own."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from jadeite.core.boards import Board
from jadeite.core.boards.fits import USUAL, Fits
from jadeite.core.nets.arrivals import Arrival, Arrivals, How, When
from jadeite.core.nets.closed_form import ClosedForm
from jadeite.core.nets.gores import Dome, gore_ring, outside_panels
from jadeite.core.nets.model import (
    Design,
    Dimension,
    Floats,
    Hollow,
    Joint,
    Kind,
    Panel,
    Piece,
)
from jadeite.core.nets.ring_box import RingBox, ngon, ring_box
from jadeite.core.nets.roles import Role
from jadeite.core.reckoning import Reckoning, given, reckon
from jadeite.core.shapes.common import inside_sizes
from jadeite.core.shapes.dome_shell import second_half, shell_arrivals
from jadeite.core.shapes.registry import (
    Option,
    OptionValue,
    ShapeFamily,
    Size,
    check_inside,
    register,
)
from jadeite.core.shapes.rings import MEASURED, Ring, ring_for, sides_option
from jadeite.core.solid import Form

__all__ = ["DOMED_BOX"]

MIN_INSIDE = 30.0  # mm; from memory, smaller gores cannot be glued
MAX_INSIDE = 400.0  # mm; from memory, beyond any board here
WIDER = 1.15  # base against what a block needs, so that the dome closes over it; from memory
LOWEST = 12.0  # mm; from memory, the least height of the base's walls
BELOW = 1.0  # mm; from memory, the base's rim ends this far below where the dome springs
FEWEST, FACETS = 3, 6  # of a gore between foot and tip; from memory
FACET = 8.0  # mm; from memory, the seam of a shorter one is hard to fold
COVER = 5.0  # mm; from memory, the cover reaches beyond the tips by this
USUAL_TAB = 10.0  # mm; from memory, for the quick reckoning of board

# defaults and ranges from memory
OPTIONS = (
    sides_option(6.0, 4.0, 8.0, "How many walls the base has, and gores the dome."),
    replace(MEASURED, choices=(*MEASURED.choices, ("ball", "a ball"))),
    Option(
        "brim",
        "Brim",
        13.0,
        "How far base and lid reach out: the lid's brim stands on the base's.",
        unit="mm",
        low=10.0,
        high=40.0,
    ),
    Option(
        "walls",
        "Base walls",
        "single",
        "Double walls roll over to the floor: a stiffer base with a clean rim, and a larger sheet.",
        choices=(("single", "single"), ("double", "double")),
    ),
    Option(
        "dome-plies",
        "Dome plies",
        "two",
        "Two plies, glued flat and dried before they are curled together, keep a thin shell in "
        "shape.",
        choices=(("two", "two"), ("one", "one")),
    ),
    Option(
        "panels",
        "Outside panels",
        "none",
        "A panel on every gore, in a colour or paper of its own; it is glued on flat, and curled "
        "with the gore. Panels on the base's walls are overlays.",
        choices=(("none", "none"), ("gores", "on the gores")),
    ),
    Option(
        "panel-border",
        "Border of the panels",
        3.0,
        "How far they stay off the seams.",
        unit="mm",
        low=1.0,
        high=10.0,
        only=(("panels", ("gores",)),),
    ),
)


@dataclass(frozen=True)
class _Form:
    """What stands where in the closed box; mm.  The base's floor is z = 0."""

    base: RingBox
    dome: Dome
    brim: float  # inradius over both brims
    ring: Ring


def build_domed_box(
    inside: Size,
    boards: Mapping[str, Board],
    options: Mapping[str, OptionValue],
    fits: Fits = USUAL,
) -> Design:
    """A domed box of the given inside (mm): round a block, an upright round thing, or a ball.

    Raises
    ------
    FieldError
        An inside length out of range.
    """
    check_inside(inside, ("length", "width", "height"), MIN_INSIDE, MAX_INSIDE)
    sides, ball = round(float(options["sides"])), options["measured"] == "ball"
    if ball:
        inside = (max(inside),) * 3
    form = _form(inside, boards, options, sides, ball, fits)
    base, dome, phase = form.base, form.dome, form.ring.phase
    t_base, t_lid = boards["base"].thickness, boards["gore"].thickness
    t_ring = boards["lid-brim"].thickness
    ply = boards["ply"] if options["dome-plies"] == "two" else None
    flange = form.brim - dome.radius - 1.0
    pieces, placements, joints = gore_ring(dome, boards["gore"], phase, ply, flange, fits)
    plate = _plate("base-brim", "base brim", boards["base-brim"], form.brim, sides, phase)
    top = dome.corner(dome.facets)
    if options["panels"] == "gores":
        border = float(options["panel-border"])
        more = outside_panels(dome, boards["gore"], boards["panel"], phase, border,
                              top[0] + COVER + border)  # fmt: skip
        pieces, placements, joints = pieces + more[0], placements | more[1], joints + more[2]
    ring = _ring("lid-brim", boards["lid-brim"], form.brim, dome.radius + t_lid / 2 + fits.disc,
                 sides, phase)  # fmt: skip
    cover = _plate("cover", "cover", boards["cover"], top[0] + COVER, sides, phase, up=True)
    down = np.diag([1.0, -1.0, -1.0, 1.0])
    gap = (boards["cover"].thickness + t_lid) / 2
    heights = {
        "base": -base.floor_top,
        "base-brim": -base.floor_top - (t_base + boards["base-brim"].thickness) / 2,
        "lid-brim": dome.foot + (t_lid + t_ring) / 2,
        "cover": top[1] + gap,
    }
    for name, matrix in (("base", down), ("base-brim", down), ("lid-brim", np.eye(4)),
                         ("cover", np.eye(4))):  # fmt: skip
        placements[name] = matrix.copy()
        placements[name][2, 3] = heights[name]
    joints += base.joints
    joints.append(
        Joint(Kind.GLUE, ("base", "floor"), ("base-brim", "base-brim"), "base on its brim")
    )
    for i in range(sides):
        gore = f"gore-{i + 1}"
        joints.append(Joint(Kind.GLUE, (gore, "flange"), ("lid-brim", f"ring.{i + 1}"),
                            f"lid brim on gore {i + 1}"))  # fmt: skip
        joints.append(Joint(Kind.GLUE, (gore, "tip"), ("cover", "cover"), f"cover on gore {i + 1}"))
    joints += [
        Joint(Kind.SLIDE, (f"gore-{k}", "foot"), ("base", f"wall-{k}"), f"lid over base, {k}",
              "outside")
        for k in range(1, sides + 1)
    ]  # fmt: skip
    others = tuple(f"gore-{k}" for k in range(2, sides + 1))
    second = second_half(sides)
    on = ("gore-1", pieces[0].panels[0].name)
    return Design(
        family="domed-box",
        title=f"Domed box with {sides} sides",
        pieces=(base.piece, plate, *pieces, ring, cover),
        placements=placements,
        joints=tuple(joints),
        hollow=_hollow(inside, options),
        sizes=_sizes(inside, form, sides, boards, fits),
        dimensions=_dimensions(base, sides),
        surfaces={"floor": 0.0, "rim": inside[2]},
        arrivals=Arrivals(
            [
                Arrival("gore-1", When.LAST, how=How.PUT),
                Arrival("base-brim", When.FOLDED, ("base", "floor")),
                *shell_arrivals(pieces, sides),
                Arrival("cover", When.FOLDED, on, after=(second, *others)),
                Arrival("lid-brim", When.FOLDED, on, after=("cover",)),
            ]
        ),
    )


def _form(
    inside: Size,
    boards: Mapping[str, Board],
    options: Mapping[str, OptionValue],
    sides: int,
    ball: bool,
    fits: Fits,
) -> _Form:
    ring = ring_for(inside, sides, options)
    t_base, lid = boards["base"].thickness, boards["gore"]
    needs = ring.inradius
    height = inside[2]
    inradius = needs if ball else WIDER * needs
    double = options["walls"] == "double"
    ply = boards["ply"].thickness if options["dome-plies"] == "two" else 0.0
    clearance = fits.lid_over(max(lid, boards["base"], key=lambda b: b.thickness)).value
    # the walls' height depends on where the dome springs, its width not on that
    trial = ring_box(
        "base", "base", boards["base"], inradius, LOWEST, sides, phase=ring.phase, fits=fits,
        double=double,
    )  # fmt: skip
    within = lid.thickness / 2 + max(lid.thickness, ply)  # tabs, or the inner ply
    radius = trial.outside + clearance / 2 + within
    clear = radius - within
    reach = clear - (height / 2) if ball else math.sqrt(clear**2 - needs**2)
    centre = height / 2 if ball else height - reach
    centre = max(centre, LOWEST + BELOW)
    base = ring_box(
        "base",
        "base",
        boards["base"],
        inradius,
        centre - BELOW,
        sides,
        phase=ring.phase,
        fits=fits,
        double=double,
    )
    foot = -base.floor_top + (lid.thickness - t_base) / 2  # its flange stands on the base's brim
    facets = min(FACETS, max(FEWEST, int(radius * math.pi / 2 / FACET) - 1))
    dome = Dome(sides, radius, centre, foot, facets)
    return _Form(base, dome, radius + float(options["brim"]), ring)


def _plate(
    name: str, title: str, board: Board, inradius: float, sides: int, phase: float, *,
    up: bool = False,
) -> Piece:  # fmt: skip
    """A flat polygon; good side down unless it lies ``up``."""
    outline = ngon(inradius, sides, phase if up else -phase)
    size = (float(np.ptp(outline[:, 0])), float(np.ptp(outline[:, 1])))
    return Piece(name, title, board, (Panel(name, title, Role.PLATE, outline, size),), ())


def _ring(name: str, board: Board, outer: float, inner: float, sides: int, phase: float) -> Piece:
    """A flat ring of trapezoids that are not folded against one another."""
    big, small = ngon(outer, sides, phase), ngon(inner, sides, phase)
    net = ClosedForm(name, "lid brim", board)

    def corners(i: int) -> Floats:
        j = (i + 1) % sides
        flat = np.array([big[i], big[j], small[j], small[i]])
        return np.column_stack([flat, np.zeros(4)])

    faces = [net.base("ring.1", corners(0), title="lid brim", role=Role.PLATE)]
    for i in range(1, sides):
        faces.append(net.face(f"ring.{i + 1}", corners(i), faces[-1], title="lid brim",
                              role=Role.GORE, kind="rolled"))  # fmt: skip
    net.closing_fold(faces[0], faces[-1], "rolled")
    piece = net.build()
    return _moved(piece, net.placement)


def _moved(piece: Piece, matrix: Floats) -> Piece:
    """A flat piece in the coordinates of space, so that it needs no placement but its height."""
    from dataclasses import replace

    def at(points: Floats) -> Floats:
        return np.asarray(points @ matrix[:2, :2].T + matrix[:2, 3])

    panels = tuple(replace(p, outline=at(p.outline)) for p in piece.panels)
    folds = []
    for fold in piece.folds:
        (x0, y0), (x1, y1) = at(np.array([fold.start, fold.end])).tolist()
        folds.append(replace(fold, start=(x0, y0), end=(x1, y1)))
    return replace(piece, panels=panels, folds=tuple(folds))


def _hollow(inside: Size, options: Mapping[str, OptionValue]) -> Hollow:
    across = max(inside[0], inside[1])
    if options["measured"] == "ball":
        return Hollow(inside, (0.0, 0.0, inside[2] / 2), Form.BALL)
    centre = (0.0, 0.0, inside[2] / 2)
    if options["measured"] == "round":
        return Hollow((across, across, inside[2]), centre, Form.CYLINDER)
    return Hollow(inside, centre)


def _sizes(
    inside: Size, form: _Form, sides: int, boards: Mapping[str, Board], fits: Fits
) -> dict[str, Reckoning]:
    dome, base = form.dome, form.base
    out = inside_sizes(inside)
    out["inradius"] = form.ring.why
    clearance = fits.lid_over(max(boards["gore"], boards["base"], key=lambda b: b.thickness))
    out["lid-clearance"] = clearance
    out["dome-radius"] = reckon(
        "Radius of the dome",
        dome.radius,
        "base outside, half the lid's clearance, and the plies within",
        given("base outside, middle to side", base.outside),
        clearance,
        given("lid board", boards["gore"].thickness),
    )
    out["gore-length"] = reckon(
        "Gore, foot to pole",
        dome.radius * math.pi / 2,
        "a quarter of the way round",
        out["dome-radius"],
    )
    out["gore-width"] = reckon(
        "Gore, widest",
        2 * dome.radius * math.tan(math.pi / sides),
        "twice the radius times tan(180° / gores): it bends one way only",
        out["dome-radius"],
        given("gores", sides, ""),
    )
    below = base.floor_top + boards["base"].thickness / 2 + boards["base-brim"].thickness
    out["outside-height"] = reckon(
        "Closed height",
        dome.corner(dome.facets)[1] + boards["cover"].thickness + below,
        "where the dome springs, its radius, the cover, and what lies below the inside",
        given("the dome springs at", dome.centre),
        out["dome-radius"],
        given("floor, feet and brim", below),
    )
    out["tab-depth"] = base.tab_depth
    return out


def _dimensions(base: RingBox, sides: int) -> tuple[Dimension, ...]:
    wall = base.piece.panel("wall-1").outline
    (ax, ay), (bx, by) = wall[0].tolist(), wall[1].tolist()
    away = np.array([by - ay, ax - bx]) / np.hypot(bx - ax, by - ay)
    return (
        Dimension("side", "base", "floor", (ax, ay, 0.0), (bx, by, 0.0),
                  (-float(away[0]), -float(away[1]), 0.0), base.side),
    )  # fmt: skip


def domed_board_area(
    inside: Any, boards: Mapping[str, Board], options: Mapping[str, OptionValue]
) -> Any:
    """Board in mm², without tapers; rises with every length."""
    length, width, height = inside
    sides = round(float(options["sides"]))
    factor = math.tan(math.pi / sides) * sides
    radius = WIDER * np.hypot(length, width) / 2
    brim = radius + float(options["brim"])
    plies = 2.0 if options["dome-plies"] == "two" else 1.0
    floors = factor * (radius**2 + 2 * brim**2 - radius**2)
    walls = 2 * (2 * factor * radius + sides * USUAL_TAB) * height
    return floors + walls + plies * 2 * factor * radius**2


DOMED_BOX = register(
    ShapeFamily(
        key="domed-box",
        title="Domed box",
        short="Domed",
        about="An n-sided base with a brim; a lid of gores in two plies stands on it.",
        parts=(("base", "Base"), ("base-brim", "Base brim"), ("gore", "Dome"),
               ("ply", "Dome, inner ply"), ("panel", "Outside panels"), ("lid-brim", "Lid brim"),
               ("cover", "Cover")),
        options=OPTIONS,
        build=build_domed_box,
        board_area=domed_board_area,
        smallest=MIN_INSIDE,
        largest=MAX_INSIDE,
        when={"ply": ("dome-plies", "two"), "panel": ("panels", "gores")},
        follows={"base-brim": "base", "ply": "gore", "panel": "gore", "lid-brim": "gore",
                 "cover": "gore"},
    )
)  # fmt: skip
