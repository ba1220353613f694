"""Star lantern: pyramids on the faces of a regular solid; one stays unglued for the light."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from jadeite.core.boards import Board
from jadeite.core.boards.fits import USUAL, Fits
from jadeite.core.errors import FieldError, inside_way
from jadeite.core.nets.arrivals import Arrival, Arrivals, How, When
from jadeite.core.nets.closed_form import ClosedForm
from jadeite.core.nets.model import Design, Floats, Hollow, Joint, Kind
from jadeite.core.nets.roles import Role
from jadeite.core.nets.solids import SOLIDS, Solid, solid
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

__all__ = ["STAR"]

MIN_INSIDE = 15.0  # mm; from memory, less holds no light
MAX_INSIDE = 250.0  # mm; from memory, beyond any board here
FLANGE = 8.0  # mm; from memory, deep enough to hold, and pinched from inside
FLANGE_AIR = 0.3  # mm; from memory, between the flanges that meet at a corner
TIP_WIDE = 1.2  # mm; from memory, a sharper tip frays
FINER = 1e-4  # of the side; rounding, to which it is found
LEAST_SIDE = 20.0  # mm; from memory, on a shorter side no flange can be pinched

# defaults and ranges from memory
OPTIONS = (
    Option(
        "solid",
        "Points",
        "dodecahedron",
        "Each face of a regular solid carries a point.",
        choices=tuple((key, words) for key, words in SOLIDS.items() if key != "tetrahedron"),
    ),
    Option(
        "spike",
        "Height of the points",
        40.0,
        "How far the points stand out from the solid.",
        unit="mm",
        low=12.0,
        high=200.0,
    ),
)


@dataclass(frozen=True)
class _Form:
    """The solid of a size, and one point on it; mm.

    ``edge`` is that of the solid, ``base`` the inradius of a point's foot: it is
    less by the flange's ply, which stands beside the plane between two points.
    """

    body: Solid
    edge: float
    base: float
    spike: float

    @property
    def inner(self) -> float:
        """Radius in mm that the flanges leave free in the middle."""
        return self.edge * self.body.midradius - FLANGE


def build_star(
    inside: Size,
    boards: Mapping[str, Board],
    options: Mapping[str, OptionValue],
    fits: Fits = USUAL,
) -> Design:
    """A star round a light of the given inside (mm), which hangs or lies in its middle.

    Raises
    ------
    FieldError
        An inside length out of range, or sides too short for their flanges.
    """
    check_inside(inside, ("length", "width", "height"), MIN_INSIDE, MAX_INSIDE)
    board = boards["point"]
    t, body = board.thickness, solid(str(options["solid"]))
    reach, spike = math.sqrt(sum(v * v for v in inside)) / 2, float(options["spike"])
    edge = _edge(body, reach, spike, t)
    if edge < LEAST_SIDE:
        raise FieldError(
            "inside length",
            f"sides of {edge:.1f} mm are too short for their flanges",
            f"Use {math.ceil(2 * LEAST_SIDE * body.midradius)} mm.",
            (inside_way("length", float(math.ceil(2 * LEAST_SIDE * body.midradius))),),
        )
    inradius = edge / 2 / math.tan(math.pi / body.corners)
    base = inradius - t / 2 / math.sin(body.dihedral / 2)
    form = _Form(body, edge, base, spike)
    net = _point(form, board)
    first = net.build()
    stood = net.placement
    pieces, placements, joints = [], {}, []
    for i in range(len(body.faces)):
        name = f"point-{i + 1}"
        pieces.append(replace(first, name=name, title=f"point {i + 1}"))
        frame = body.frame(i)
        frame[:3, 3] *= edge
        placements[name] = frame @ stood
        joints += [replace(j, tab=(name, j.tab[1]), target=(name, j.target[1])) for j in net.joints]
    up = [round(float(body.frame(i)[2, 2]), 6) for i in range(len(body.faces))]
    top = len(up) - 1 - up[::-1].index(max(up))  # of those that look up most, the last
    last = f"point-{top + 1}"
    for (i, k), (j, m) in body.edges:
        one, other = f"point-{i + 1}", f"point-{j + 1}"
        kind = Kind.TUCK if last in (one, other) else Kind.GLUE
        title = f"point {i + 1} to point {j + 1}"
        joints.append(Joint(kind, (one, f"flange.{k}"), (other, f"flange.{m}"), title, "inside"))
    on = (first.name, first.panels[0].name)
    return Design(
        family="star",
        title=f"Star with {len(body.faces)} points",
        pieces=tuple(pieces),
        placements=placements,
        joints=tuple(joints),
        hollow=Hollow(inside, (0.0, 0.0, 0.0)),
        sizes=_sizes(inside, form, reach, t),
        dimensions=(side_dimension("point-1", "side-1", first.panel("side-1").outline),),
        arrivals=Arrivals(
            [
                *(Arrival(p.name, When.FOLDED, on) for p in pieces[1:] if p.name != last),
                Arrival(last, When.LAST, how=How.PUT),
            ]
        ),
        mouth=_outward(body, top),
        surfaces={"floor": -inside[2] / 2, "rim": inside[2] / 2},
    )


def _outward(body: Solid, face: int) -> tuple[float, float, float]:
    """Where a face looks: there the light goes in."""
    x, y, z = body.frame(face)[:3, 2].tolist()
    return x, y, z


def _edge(body: Solid, reach: float, spike: float, t: float) -> float:
    """Side of the solid in mm that leaves a ball free: of flanges, and of flat points' sides."""
    low = (reach + FLANGE + t) / body.midradius

    def free(edge: float) -> float:
        """How far the sides of the points stay from the middle, their plies counted."""
        foot = edge / 2 / math.tan(math.pi / body.corners) - t / math.sin(body.dihedral / 2)
        plane = (edge * body.inradius + spike) * foot / math.hypot(foot, spike)
        return plane - 1.5 * t

    high = low
    while free(high) < reach:
        high *= 1.5
    while high - low > FINER * high and free(low) < reach:
        middle = (low + high) / 2
        low, high = (middle, high) if free(middle) < reach else (low, middle)
    return high


def _point(form: _Form, board: Board) -> ClosedForm:
    """A pyramid on a face whose middle is the origin, a flange on every side of its foot."""
    n, body = form.body.corners, form.body
    around = form.base / math.cos(math.pi / n)
    turns = 2 * math.pi / n * np.arange(n)
    foot = np.column_stack([around * np.cos(turns), around * np.sin(turns), np.zeros(n)])
    apex = np.array([0.0, 0.0, form.spike])
    tip = apex + (foot - apex) * (TIP_WIDE / (2 * form.base * math.tan(math.pi / n)))
    net = ClosedForm("point-1", "point 1", board, part="point")
    sides = []
    for i in range(n):
        j = (i + 1) % n
        corners = np.array([foot[i], foot[j], tip[j], tip[i]])
        title = f"side {i + 1}"
        if i == 0:
            sides.append(net.base("side-1", corners, title=title, role=Role.WALL))
        else:
            sides.append(net.face(f"side-{i + 1}", corners, sides[-1], title=title))
    # from the side's own plane, carried on below its foot, to the plane between two points
    inradius = form.edge / 2 / math.tan(math.pi / n)
    middle, deep = form.edge * body.midradius, form.edge * body.inradius
    slant = math.hypot(form.base, form.spike)
    turn = math.acos((form.spike * deep - form.base * inradius) / (slant * middle))
    length = 2 * form.base * math.tan(math.pi / n)
    ends = FLANGE * (form.edge / 2) / middle + FLANGE_AIR  # corners of the solid lie in line
    outline = np.array([[0.0, 0.0], [length, 0.0], [length - ends, FLANGE], [ends, FLANGE]])
    for k, face in enumerate(sides):
        side = face.side_towards((*(foot[k] + foot[(k + 1) % n])[:2].tolist(), -1.0))
        net.flap(
            f"flange.{k}", face, side, outline, math.degrees(turn), title="flange", role=Role.TAB
        )
    strip = board.thickness * math.tan(min(turn, math.radians(150.0)) / 2) + FLANGE_AIR
    net.keep_clear(sides[0], _foot_strip(sides[0].outline, strip))
    net.tab("seam", sides[-1], sides[0], title="the seam of the point")
    return net


def _foot_strip(outline: Floats, wide: float) -> Floats:
    """What lies along the foot of a side, whose first two corners are its foot; (4, 2)."""
    a, b = outline[0], outline[1]
    way = (b - a) / np.linalg.norm(b - a)
    up = np.array([-way[1], way[0]]) * wide
    return np.array([a - up, b - up, b + up, a + up])


def _sizes(inside: Size, form: _Form, reach: float, t: float) -> dict[str, Reckoning]:
    out = inside_sizes(inside)
    ball = reckon(
        "Ball round what is inside",
        2 * reach,
        "√(length² + width² + height²): it may lie any way",
        *(out[f"inside-{axis}"] for axis in ("length", "width", "height")),
    )
    out["inside-ball"] = ball
    out["solid-edge"] = reckon(
        "Side of a point",
        form.edge,
        "so that the flanges, which point to the middle, leave the ball free",
        ball,
        constant("flange", FLANGE, "mm", Mark.MEMORY),
        given("board thickness", t),
    )
    out["dihedral-angle"] = reckon(
        "Between two faces of the solid",
        math.degrees(form.body.dihedral),
        "twice the arcsine of middle to face by middle to edge",
        given("middle to face", form.edge * form.body.inradius),
        given("middle to edge", form.edge * form.body.midradius),
        unit="deg",
    )
    out["point-slant"] = reckon(
        "Point, foot to tip",
        math.hypot(form.spike, form.base),
        "√(height² + (middle to side of its foot)²)",
        given("height of the points", form.spike),
        given("middle to side of its foot", form.base),
    )
    out["across"] = reckon(
        "Across two points",
        2 * (form.edge * form.body.inradius + form.spike),
        "twice middle to face of the solid, and a point's height",
        given("middle to face", form.edge * form.body.inradius),
        given("height of the points", form.spike),
    )
    return out


def star_board_area(
    inside: Any, boards: Mapping[str, Board], options: Mapping[str, OptionValue]
) -> Any:
    """Board in mm², without seams; rises with every length."""
    body, spike = solid(str(options["solid"])), float(options["spike"])
    reach = np.sqrt(inside[0] ** 2 + inside[1] ** 2 + inside[2] ** 2) / 2
    edge = (reach + FLANGE) / body.midradius
    inradius = edge / 2 / math.tan(math.pi / body.corners)
    side = edge * np.hypot(inradius, spike) / 2 + edge * FLANGE
    return len(body.faces) * body.corners * side


STAR = register(
    ShapeFamily(
        key="star",
        title="Star lantern",
        short="Star",
        purpose="light",
        window="plain",
        sheet=True,
        about="Points on every face of a regular solid; one above opens for the light.",
        parts=(("point", "Points"),),
        options=OPTIONS,
        build=build_star,
        board_area=star_board_area,
        smallest=MIN_INSIDE,
        largest=MAX_INSIDE,
    )
)
