"""Gathered box: four walls whose tops fold in by gussets and are gathered with a ribbon."""

from __future__ import annotations

import itertools
import math
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from jadeite.core.boards import Board
from jadeite.core.boards.fit_rules import SLOT_AROUND
from jadeite.core.boards.fits import USUAL, Fits
from jadeite.core.errors import FieldError, inside_way, option_way
from jadeite.core.nets.arrivals import Arrival, Arrivals, How, When, made_at, tied_round
from jadeite.core.nets.bought import Bought
from jadeite.core.nets.closed_form import ClosedForm, Face
from jadeite.core.nets.model import Design, Hollow, Kind, Opening
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
)
from jadeite.core.shapes.ribbons import ribbon_round

__all__ = ["GATHERED_BOX"]

MIN_INSIDE = 20.0  # mm; from memory, smaller gussets cannot be creased
MAX_INSIDE = 500.0  # mm; from memory, beyond any board here
GATHER = 0.6  # of half the narrower side, that the tops draw in; from memory
GUSSET_ROOM = 0.4  # mm, beside the two plies of a gusset; from memory
TIP_ROOM = 0.5  # mm; from memory, between the tips of opposite gussets, to either side
LEAST_GATHER = 1.0  # mm; from memory, less is no gathering
LAP = 12.0  # mm; from memory, the tongue's first lap, outside
TUCKED = 10.0  # mm; from memory, its second lap, inside
TONGUE_SHARE = 0.6  # of the wall's height; from memory
LAP_SHARE = 0.3  # of the wall it lies on, at most; from memory
CLEAR = 1.0  # mm; from memory, what is glued keeps this far from floor and gusset
SLIT_BELOW_EDGE = 6.0  # mm; from memory, the ribbon runs this far below the top edge
LEAST_RIBBON = 3.0  # mm; from memory, the narrowest that is sold
USUAL_TAB = 10.0  # mm; from memory, for the quick reckoning of board

DRAWN_IN = (
    "Push the valleys of the gussets in one after another, all round, and draw the tops together "
    "as you go."
)
NO_SLITS = option_way("closing", "plain")
# defaults and ranges from memory
OPTIONS = (
    Option(
        "slope",
        "Slope of the tops",
        65.0,
        "How steeply the tops rise while they draw in: steeper is taller.",
        unit="deg",
        low=60.0,
        high=75.0,
    ),
    Option(
        "closing",
        "Closing",
        "ribbon",
        "Slits for a ribbon that gathers the tops, or glue in the gussets, which does not open "
        "again; without either tie it round, or use a band.",
        choices=(("ribbon", "ribbon in slits"), ("glue", "glued gussets"), ("plain", "no slits")),
    ),
    Option(
        "ribbon",
        "Ribbon width",
        6.0,
        "A slit in each top takes the ribbon.",
        unit="mm",
        low=LEAST_RIBBON,
        high=25.0,
        only=(("closing", ("ribbon",)),),
    ),
    Option(
        "bottom",
        "Bottom",
        "glued",
        "Glued: flat and strong. Lock: four flaps hold one another, no glue.",
        choices=(("glued", "glued"), ("lock", "folded lock")),
    ),
    Option(
        "seam",
        "Seam",
        "tab",
        "Tab: glued once, inside. Tongue: through a slit, folded and glued twice, much stiffer.",
        choices=(("tab", "tab"), ("tongue", "tongue and slit")),
    ),
)


# the two plies of every gusset, each folded flat on itself
ROUND = ("right", "back", "left", "front")
GUSSETS = tuple(
    (("box", f"gusset.{a}.{b}"), ("box", f"gusset.{b}.{a}"))
    for a, b in itertools.pairwise((*ROUND, ROUND[0]))
)


@dataclass(frozen=True)
class _Form:
    """Middle planes of the closed box, and how its tops draw in; mm.  The floor is z = 0."""

    x: float
    back: float
    front: float
    low: float
    high: float
    p: float  # how far a top draws in, level
    q: float  # and how far it rises meanwhile
    end: float  # by how much it narrows at either end
    a: float  # where a gusset's tip is, level from the corner along both walls
    b: float  # and above it

    @property
    def slant(self) -> float:
        """Height of a top in the flat net."""
        return math.hypot(self.p, self.q)


def _form(inside: Size, slope: float, t: float) -> _Form:
    length, width, height = inside
    x, back, front = length / 2 + t / 2, width / 2 + 1.5 * t, -(width / 2 + t / 2)
    half = min(x, (back - front) / 2)
    tangent = math.tan(math.radians(slope))
    p = GATHER * half
    while True:
        q = p * tangent
        end = p + 2 * t + GUSSET_ROOM
        a, b = _gusset_tip(p, q, end)
        if a <= half - TIP_ROOM - t or p < LEAST_GATHER:
            break
        p -= 0.02 * half  # opposite tips would meet: draw in a little less
    return _Form(x, back, front, -1.5 * t, height + t / 2, p, q, end, a, b)


def _gusset_tip(p: float, q: float, end: float) -> tuple[float, float]:
    """Where a gusset's tip is, level along both walls and above their corner; mm.

    It is as far from the corner as a top is high, s, and as far from the ends
    of both tops as these are narrower: a (end + p) + b q = s² and
    2 a² + b² = s².  Of the two solutions the one inside is taken.
    """
    s2 = p * p + q * q
    u = (end + p) / math.sqrt(2)
    way = math.atan2(q, u) - math.acos(math.sqrt(s2) / math.hypot(u, q))
    return math.sqrt(s2 / 2) * math.cos(way), math.sqrt(s2) * math.sin(way)


def build_gathered_box(
    inside: Size,
    boards: Mapping[str, Board],
    options: Mapping[str, OptionValue],
    fits: Fits = USUAL,
) -> Design:
    """A box of the given inside (mm) below tops that fold in.

    Raises
    ------
    FieldError
        An inside length out of range, a ribbon too wide for its side, walls
        too low for a tongue, or too little for a lock bottom.
    """
    check_inside(inside, ("length", "width", "height"), MIN_INSIDE, MAX_INSIDE)
    board, lock = boards["box"], options["bottom"] == "lock"
    if lock:
        check_lock(inside)
    t = board.thickness
    form = _form(inside, float(options["slope"]), t)
    tongue = options["seam"] == "tongue"
    net = ClosedForm("box", "box", board, fits=fits)
    x, yb, yf = form.x, form.back, form.front
    over = t if tongue else 0.0  # the left wall reaches round the back's end
    trim = t / 2 if tongue else 0.0
    base = LockBase(x, (yb - yf) / 2, inside[0], inside[1], t)
    low = base.feet if lock else (form.low, form.low, form.low)  # of back, sides and front
    high = form.high
    back = net.base("back", upright((x, yb), (-x + trim, yb), low[0], high), role=Role.WALL)
    right = net.face("right", upright((x, yf), (x, yb), low[1], high), back)
    front = net.face("front", upright((-x, yf), (x, yf), low[2], high), right)
    left = net.face("left", upright((-x, yb + over), (-x, yf), low[1], high), front)
    walls = {"back": back, "right": right, "front": front, "left": left}
    if lock:
        locked(net, base, (back, right, left, front))
    else:
        _floor(net, form, walls)
    tops = _tops(net, form, walls)
    seam = _tongue(net, form, walls, inside, t) if tongue else {}
    if not tongue:
        net.tab("tab.seam", walls["left"], walls["back"], title="seam, left to back")
    slit = 0.0
    if options["closing"] == "ribbon":
        slit = fits.ribbon_slit(float(options["ribbon"]))
        _ribbon(tops, form, slit, fits)
    piece = net.build()
    names = [face.name for face in tops.values()]
    together = tied_round("box", [tops[side].name for side in ROUND]) if slit else ()
    if options["closing"] == "glue":
        together = tuple(
            Arrival("box", When.FILLED, other, How.PRESSED, one) for (_, one), other in GUSSETS
        )
    ribbons: tuple[Bought, ...] = ()
    if slit:
        at = form.slant - SLIT_BELOW_EDGE
        faces = [tops[side] for side in ROUND]
        ribbons = (ribbon_round("box", faces, at, float(options["ribbon"]), min(low) - t / 2),)
    return Design(
        family="gathered-box",
        title="Gathered box",
        pieces=(piece,),
        placements={"box": net.placement},
        joints=tuple(net.joints),
        hollow=Hollow(inside, (0.0, 0.0, inside[2] / 2)),
        sizes=_sizes(inside, form, slit, t) | seam,
        dimensions=inside_dimensions("box", walls["back"], inside, 1.5 * t),
        surfaces={"floor": 0.0, "rim": inside[2]},
        bought=ribbons,
        arrivals=Arrivals(
            (
                *(lock_arrivals("box") if lock else ()),
                *made_at(When.FILLED, "box", names, DRAWN_IN),
                *together,
            )
        ),
        meetings=((("box", "gusset.back.left"), ("box", "gusset.left.back")),),
    )


def _floor(net: ClosedForm, form: _Form, walls: Mapping[str, Face]) -> None:
    """The glued floor on the front wall, and its tabs on the others."""
    x, corners = form.x, ((-1, form.front), (-1, form.back), (1, form.back), (1, form.front))
    outline = np.array([[side * x, y, form.low] for side, y in corners])
    floor = net.face("floor", outline, walls["front"], title="floor", role=Role.FLOOR)
    for name in ("right", "back", "left"):
        net.tab(f"tab.{name}", walls[name], floor, title=f"floor, {name}")


def _tops(net: ClosedForm, form: _Form, walls: Mapping[str, Face]) -> dict[str, Face]:
    """A top on every wall, a gusset triangle on each of its ends, and the folds between these."""
    x, yb, yf, z = form.x, form.back, form.front, form.high
    # corners counter-clockwise from above, each with the walls that meet there
    ring = {"right": (x, yf, x, yb), "back": (x, yb, -x, yb),
            "left": (-x, yb, -x, yf), "front": (-x, yf, x, yf)}  # fmt: skip
    centre = np.array([0.0, (yb + yf) / 2])
    tops, gussets = {}, {}
    order = ("right", "back", "left", "front")
    for i, name in enumerate(order):
        x0, y0, x1, y1 = ring[name]
        a, b = np.array([x0, y0]), np.array([x1, y1])
        way = (b - a) / np.linalg.norm(b - a)
        inward = np.array([-way[1], way[0]])
        rise = np.array([*(inward * form.p), form.q])
        shift = np.array([*(way * form.end), 0.0])
        low0, low1 = np.array([x0, y0, z]), np.array([x1, y1, z])
        top0 = low0 + shift + rise
        top1 = low1 - shift + rise
        wall = walls[name]
        corners = np.array([low0, low1, top1, top0])
        tops[name] = net.face(f"top.{name}", corners, wall, title=f"{name} top", role=Role.TOP)
        before, after = order[i - 1], order[(i + 1) % 4]
        for corner, top, other, turn in (
            (low1, top1, after, False),
            (low0, top0, before, True),
        ):
            inwards = np.sign(centre - corner[:2])
            tip = corner + np.array([*(inwards * form.a), form.b])
            points = [corner, tip, top] if not turn else [corner, top, tip]
            gussets[name, other] = net.face(
                f"gusset.{name}.{other}",
                np.array(points),
                tops[name],
                title=f"gusset, {name} to {other}",
                role=Role.GUSSET,
            )
    for name, other in (("right", "back"), ("front", "right"), ("left", "front")):
        net.closing_fold(gussets[name, other], gussets[other, name])
    return tops


def _ribbon(tops: Mapping[str, Face], form: _Form, slit: float, fits: Fits) -> None:
    """A slit across each top, below its edge."""
    at = form.slant - SLIT_BELOW_EDGE
    widths = {name: float(np.linalg.norm(f.outline[1] - f.outline[0])) for name, f in tops.items()}
    name, narrow = min(widths.items(), key=lambda item: item[1])
    square = math.hypot(1.0, form.end / form.slant)  # its ends keep clear of slanting edges
    have = narrow - 2 * form.end * at / form.slant - 2 * SLOT_AROUND * square
    if at < SLOT_AROUND or have < slit:
        ribbon = math.floor(10 * (have - fits.ribbon_slit(0.0))) / 10
        narrower = ribbon >= LEAST_RIBBON and at >= SLOT_AROUND
        raise FieldError(
            "ribbon",
            f"a slit of {slit:.1f} mm does not fit across the {name} top",
            f"Use {ribbon:.1f} mm." if narrower else "Use no slits, or a larger inside.",
            (option_way("ribbon", ribbon) if narrower else NO_SLITS,),
        )
    for name, face in tops.items():
        a, b = face.outline[0], face.outline[1]
        along = (b - a) / widths[name]
        middle = (a + b) / 2 + np.array([-along[1], along[0]]) * at
        ends = np.array([middle - along * slit / 2, middle + along * slit / 2])
        face.openings.append(Opening("slit", ends))


def _tongue(
    net: ClosedForm, form: _Form, walls: Mapping[str, Face], inside: Size, t: float
) -> dict[str, Reckoning]:
    """The left wall's end laps the back outside, goes through a slit, and laps it inside."""
    left, back = walls["left"], walls["back"]
    high = form.high - form.low
    width = 2 * form.x
    lap, tucked = min(LAP, LAP_SHARE * width), min(TUCKED, LAP_SHARE * width)
    tall = TONGUE_SHARE * high
    if (high - tall - net.fits.tongue) / 2 < SLOT_AROUND:
        least = math.ceil((2 * SLOT_AROUND + net.fits.tongue) / (1 - TONGUE_SHARE))
        raise FieldError(
            "inside height",
            f"walls of {high:.1f} mm leave no board round the slit of a tongue",
            f"Use {least} mm, or a seam with a tab.",
            (option_way("seam", "tab"), inside_way("height", float(least))),
        )
    side = left.side_towards((0, 1, 0))
    whole = high - 2 * CLEAR
    outside = net.flap(
        "lap.outside",
        left,
        side,
        np.array([[0, 0], [whole, 0], [whole, lap], [0, lap]]),
        90.0,
        title="seam, first lap",
        role=Role.TAB,
        start=CLEAR,
    )
    at = (whole - tall) / 2
    step = net.flap(
        "tongue.bend",
        outside,
        2,
        np.array([[0, 0], [tall, 0], [tall, 2 * t], [0, 2 * t]]),
        90.0,
        title="tongue, bend",
        role=Role.GUSSET,
        kind="rolled",
        start=at,
    )
    draw = min(2.0, tall / 6)
    inner = net.flap(
        "tongue",
        step,
        2,
        np.array([[0, 0], [tall, 0], [tall - draw, tucked], [draw, tucked]]),
        -90.0,
        title="seam, second lap",
        role=Role.TAB,
        kind="rolled",
    )
    net.joint(Kind.GLUE, outside, back, "seam, first lap", "outside")
    net.joint(Kind.GLUE, inner, back, "seam, second lap", "inside")
    net.joint(Kind.TONGUE, step, back, "tongue through its slit")
    middle = (form.low + form.high) / 2
    half = tall / 2 + net.fits.tongue / 2
    ends = np.array([[-form.x + lap, form.back, middle + s * half] for s in (-1.0, 1.0)])
    back.openings.append(Opening("slit", back.flat(ends), t))
    return {
        "tongue-slit": reckon(
            "Slit for the tongue",
            2 * half,
            "the tongue and a little, so that it goes through",
            given("tongue", tall),
            constant("longer by", net.fits.tongue, "mm", Mark.MEMORY),
        )
    }


def _sizes(inside: Size, form: _Form, slit: float, t: float) -> dict[str, Reckoning]:
    out = inside_sizes(inside)
    draws = reckon(
        "a top draws in by",
        form.p,
        "a share of half the narrower side",
        constant("share", GATHER, "", Mark.MEMORY),
        given("inside length", inside[0]),
        given("inside width", inside[1]),
    )
    out["top-height"] = reckon(
        "Top, wall to edge",
        form.slant,
        "√(drawn in² + rise²), so that it leans as wanted",
        draws,
        given("rise", form.q),
    )
    out["gusset"] = reckon(
        "Gusset, wide at the top",
        form.end,
        "what a top draws in, and room for the gusset's two plies",
        draws,
        given("board thickness", t),
    )
    if slit:
        out["ribbon-slit"] = given("Ribbon slit", slit)
    return out


def gathered_board_area(
    inside: Any, boards: Mapping[str, Board], options: Mapping[str, OptionValue]
) -> Any:
    """Board in mm²; rises with every length."""
    length, width, height = inside
    half = np.minimum(length, width) / 2
    top = GATHER * half / math.cos(math.radians(float(options["slope"])))
    round_it = 2 * (length + width)
    below = USUAL_TAB * (length + 2 * width) + length * width
    if options["bottom"] == "lock":
        below = length * width * (REACH + 1.0)
    return round_it * (height + top) + USUAL_TAB * height + below


GATHERED_BOX = register(
    ShapeFamily(
        key="gathered-box",
        title="Gathered box",
        short="Gathered",
        about="Walls whose tops fold in by gussets and are gathered with a ribbon.",
        parts=(("box", "Box"),),
        options=OPTIONS,
        build=build_gathered_box,
        board_area=gathered_board_area,
        smallest=MIN_INSIDE,
        largest=MAX_INSIDE,
    )
)
