"""Pillow box: two bowed faces and curved scores, along which the ends fold in."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from jadeite.core.boards import Board, smallest_roll
from jadeite.core.boards.fits import USUAL, Fits
from jadeite.core.errors import FieldError
from jadeite.core.nets.arrivals import Arrivals, When, made_at
from jadeite.core.nets.bends import bend
from jadeite.core.nets.closed_form import ClosedForm, Face
from jadeite.core.nets.model import Design, Dimension, Floats, Hollow, Kind
from jadeite.core.nets.roles import Role
from jadeite.core.reckoning import Reckoning, given, reckon
from jadeite.core.shapes.common import inside_sizes
from jadeite.core.shapes.registry import (
    Option,
    OptionValue,
    ShapeFamily,
    Size,
    check_inside,
    register,
)

__all__ = ["PILLOW_BOX"]

MIN_INSIDE = 8.0  # mm; from memory, smaller curves cannot be creased
MAX_INSIDE = 400.0  # mm; from memory, beyond any board here
FLATTEN = 0.02  # mm; design rule, facets stay this close to the curve, up to MOST of them
LEAST, MOST = 9, 17  # facets of a bowed face, odd: one lies level; from memory
FLAP_SHARE = 0.9  # of the whole lens that an end covers; from memory
TAB = 10.0  # mm; from memory, how deep the seam laps
TAB_FACETS = 3  # a tab bends round this share of the facets at most, one in three; from memory
TAB_CLEAR = 1.0  # mm; from memory, between the tab and the curved scores
MOST_SET_BACK = 0.8  # of a facet's width that the seam may take; from memory
USUAL_TAB = 10.0  # mm; from memory, for the quick reckoning of board

# defaults and ranges from memory
OPTIONS = (
    Option(
        "bow",
        "Bow of the faces",
        40.0,
        "How steeply the faces rise at their edges: more is rounder, and shorter across.",
        unit="deg",
        low=25.0,
        high=60.0,
    ),
)


@dataclass(frozen=True)
class _Lens:
    """The bowed section and the ends; mm, radians.  Facets are chords between ``turns``."""

    radius: float
    alpha: float
    turns: Floats
    ends: tuple[float, float]  # half lengths at the edge: lower face, upper face

    @property
    def facets(self) -> int:
        """How many chords a face has."""
        return len(self.turns) - 1

    @property
    def rise(self) -> float:
        """Height of the bow above its edge."""
        return self.radius * (1 - math.cos(self.alpha))

    def height(self, i: int) -> float:
        """Height of a facet's corner above the edges."""
        return self.radius * (math.cos(self.turns[i]) - math.cos(self.alpha))

    def across(self, i: int) -> float:
        """Where a facet's corner is across the box."""
        return self.radius * math.sin(self.turns[i])


def _lens(inside: Size, bow: float, t: float) -> _Lens:
    length, width, height = inside
    alpha, cosine = math.radians(bow), math.cos(math.radians(bow))
    a, b, plies = width / 2, height / 2, 1.5 * t  # within the face lies the seam's tab
    count, radius = LEAST, 0.0
    for again in (
        True,
        True,
        False,
    ):  # the facets depend on the radius, the radius a little on the facets
        # (kappa R - plies)² = a² + (b + R cos alpha)², kappa for the chords
        kappa = math.cos(alpha / count)
        p, q = kappa**2 - cosine**2, 2 * (plies * kappa + b * cosine)
        r = plies**2 - a * a - b * b
        radius = (q + math.sqrt(q * q - 4 * p * r)) / (2 * p)
        if again:
            step = 2 * math.acos(1 - FLATTEN / radius)
            count = max(LEAST, min(MOST, 2 * math.ceil(alpha / step) + 1))
    behind = t / math.cos(alpha)  # the lower end lies behind the upper one, square to both
    rise = radius * (1 - math.cos(alpha))
    inner = length / 2 + rise + t / 2
    turns = np.linspace(-alpha, alpha, count + 1)
    return _Lens(radius, alpha, turns, (inner, inner + behind))


def build_pillow_box(
    inside: Size,
    boards: Mapping[str, Board],
    options: Mapping[str, OptionValue],
    fits: Fits = USUAL,
) -> Design:
    """A pillow box round a block of the given length, width and height; mm.

    Raises
    ------
    FieldError
        An inside length out of range.
    """
    check_inside(inside, ("length", "width", "height"), MIN_INSIDE, MAX_INSIDE)
    board = boards["pillow"]
    t = board.thickness
    lens = _lens(inside, float(options["bow"]), t)
    net = ClosedForm("pillow", "pillow box", board, fits=fits)
    low = _lower_face(net, lens)
    top = _upper_face(net, lens, low, t)
    _seam(net, lens, low, top[-1], t)
    closers = [
        _end(net, lens, faces, upper, way)
        for faces, upper in ((low, False), (top, True))
        for way in (-1.0, 1.0)
    ]
    return Design(
        family="pillow-box",
        title="Pillow box",
        pieces=(net.build(),),
        placements={"pillow": net.placement},
        joints=tuple(net.joints),
        hollow=Hollow(inside, (0.0, 0.0, 0.0)),
        sizes=_sizes(inside, lens, t, smallest_roll(board)),
        dimensions=_dimensions(lens, low),
        surfaces={"floor": -inside[2] / 2, "rim": inside[2] / 2},
        arrivals=Arrivals(made_at(When.FILLED, "pillow", closers)),
        mouth=(1.0, 0.0, 0.0),
    )


def _point(lens: _Lens, i: int, upper: bool, way: float) -> list[float]:
    """Corner of a facet on the curved score at one end; facets run from -y to +y."""
    h = lens.height(i)
    return [way * (lens.ends[upper] - h), lens.across(i), h if upper else -h]


def _facet(lens: _Lens, i: int, upper: bool) -> Floats:
    """A facet of a face, counter-clockwise from outside."""
    points = [
        _point(lens, i, upper, -1.0),
        _point(lens, i, upper, 1.0),
        _point(lens, i + 1, upper, 1.0),
        _point(lens, i + 1, upper, -1.0),
    ]
    return np.array(points if upper else points[::-1])


def _lower_face(net: ClosedForm, lens: _Lens) -> list[Face]:
    """The face that lies on the table, from its middle outwards."""

    def facet(i: int) -> Floats:
        return _facet(lens, i, False)

    return bend(net, "low", "lower face", facet, range(lens.facets), first=lens.facets // 2)


def _upper_face(net: ClosedForm, lens: _Lens, low: list[Face], t: float) -> list[Face]:
    """The face that folds over, from +y to -y; its last facet ends short of the seam."""
    on, out = low[-1], []
    for i in range(lens.facets - 1, -1, -1):
        corners = _facet(lens, i, True)
        first = i == lens.facets - 1
        if i == 0:  # set back as the carrier of any tab is
            turn = math.pi - 2 * lens.alpha + 2 * lens.alpha / lens.facets
            edge = corners[3] - corners[0], corners[2] - corners[1]
            share = t / math.sin(turn) / math.hypot(*(edge[0][1:]))
            if share > MOST_SET_BACK:
                raise FieldError(
                    "inside width",
                    f"a board of {t:.2f} mm is too thick for so narrow a bow",
                    "Use a larger inside, or a thinner board.",
                )
            corners[0], corners[1] = corners[0] + edge[0] * share, corners[1] + edge[1] * share
        face = net.face(
            f"top.{i}",
            corners,
            on,
            title="upper face",
            role=Role.WALL if first else Role.GORE,
            kind="scored" if first else "rolled",
        )
        out.append(face)
        on = face
    return out


def _seam(net: ClosedForm, lens: _Lens, low: list[Face], last: Face, t: float) -> None:
    """A tab that bends along with the lower face, a facet of it on each facet."""
    kappa = math.cos(lens.alpha / lens.facets)
    inner = lens.radius - t / kappa  # corners of the tab's facets
    depth, on = 0.0, last
    side = last.side_towards((0, -1, 0))
    ring = last.space()
    start = (ring[side] + ring[(side + 1) % 4]) / 2
    spare = TAB_CLEAR + 2 * t
    bend = math.pi - 2 * lens.alpha + 2 * lens.alpha / lens.facets
    if bend < math.pi / 2:  # the lower face reaches over the upper one's end, as any target does
        low[0].overs[low[0].side_towards((0, -1, 0))] = t / math.tan(bend)
    for i in range(max(1, lens.facets // TAB_FACETS)):
        turn = lens.turns[i + 1]
        up = inner * math.cos(turn) - lens.radius * math.cos(lens.alpha)
        end = np.array([0.0, inner * math.sin(turn), -up])
        reach, beyond = (lens.ends[0] - lens.height(k) - spare for k in (i, i + 1))
        if beyond < 2 * TAB_CLEAR:
            break
        out = np.array([1.0, 0.0, 0.0])
        points = np.array(
            [start + out * reach, start - out * reach, end - out * beyond, end + out * beyond]
        )
        points = points if _faces_down(points) else points[::-1]
        on = net.face(
            f"tab.{i}", points, on, title="seam", role=Role.TAB, kind="rolled" if i else "scored"
        )
        net.joint(Kind.GLUE, on, low[i], "seam")
        depth += float(np.linalg.norm(end - start))
        start = end
        if depth >= TAB:
            break


def _faces_down(points: Floats) -> bool:
    return bool(np.cross(points[1] - points[0], points[2] - points[1])[2] < 0)


def _end(net: ClosedForm, lens: _Lens, faces: list[Face], upper: bool, way: float) -> str:
    """An end: the face's bow mirrored in the plane of the curved score."""
    order = faces if not upper else faces[::-1]  # by facet number
    title = f"{'right' if way > 0 else 'left'} {'upper' if upper else 'lower'} end"
    stem = f"end.{'top' if upper else 'low'}.{'right' if way > 0 else 'left'}"
    n, middle = lens.facets, lens.facets // 2
    made: dict[int, Face] = {}
    down = -1.0 if upper else 1.0
    for i in (middle, *range(middle + 1, n), *range(middle - 1, -1, -1)):
        ring = []
        for k in (i, i + 1):
            top = np.array(_point(lens, k, upper, way))
            drop = np.array([0.0, 0.0, down * 2 * FLAP_SHARE * lens.height(k)])
            ring.append((top, top + drop))
        (p, p2), (q, q2) = ring
        points = [p, q, q2, p2]
        if i == 0:
            points = [p, q, q2]
        elif i == n - 1:
            points = [p, q, p2]
        corners = np.array(points)
        normal = np.cross(corners[1] - corners[0], corners[2] - corners[1])
        if normal[0] * way < 0:
            corners = corners[::-1]
        if i == middle:
            made[i] = net.face(f"{stem}.{i}", corners, order[i], title=title, role=Role.FLAP)
            continue
        on = made[i - 1 if i > middle else i + 1]
        made[i] = net.face(f"{stem}.{i}", corners, on, title=title, role=Role.GORE, kind="rolled")
        net.closing_fold(order[i], made[i])
    _curves(net, lens, order, [made[i] for i in range(n)], upper, way)
    return made[middle].name


def _curves(
    net: ClosedForm, lens: _Lens, faces: list[Face], ends: list[Face], upper: bool, way: float
) -> None:
    """The curved score between a face and its end, and the edge of the end: plane cuts, flat."""
    corners = [np.array(_point(lens, i, upper, way)) for i in range(lens.facets + 1)]
    score = [face.flat(a) for face, a in zip(faces, corners, strict=False)]
    score.append(faces[-1].flat(corners[-1]))
    if upper:  # the seam takes a little of the first facet
        side = faces[0].space()[_at_seam(faces[0], way)]
        score[0] = faces[0].flat(side)
    net.curved_score("spline", np.array(score))
    down = -2 * FLAP_SHARE * (1.0 if upper else -1.0)
    drops = [
        corner + np.array([0.0, 0.0, down * lens.height(i)]) for i, corner in enumerate(corners)
    ]
    edge = [face.flat(a) for face, a in zip(ends, drops, strict=False)]
    edge.append(ends[-1].flat(drops[-1]))
    net.curved_edge("spline", np.array(edge), ends)


def _at_seam(face: Face, way: float) -> int:
    """Number of the corner of the last upper facet that lies in the seam, at one end."""
    points = face.space()
    low = points[:, 1] < points[:, 1].mean()
    return int(np.argmax(np.where(low, way * points[:, 0], -np.inf)))


def _sizes(inside: Size, lens: _Lens, t: float, roll: Reckoning) -> dict[str, Reckoning]:
    out = inside_sizes(inside)
    out["bow-radius"] = reckon(
        "Radius of the bow",
        lens.radius,
        "the smallest whose bow clears the edges of the block",
        given("inside width", inside[1]),
        given("inside height", inside[2]),
        given("bow", math.degrees(lens.alpha), "deg"),
        given("board thickness", t),
    )
    out["face-width"] = reckon(
        "Face, along its bow",
        2 * lens.radius * lens.alpha,
        "radius times the angle of the bow",
        out["bow-radius"],
        given("bow", 2 * math.degrees(lens.alpha), "deg"),
    )
    out["outside-length"] = reckon(
        "Length along its edge",
        2 * lens.ends[1],
        "inside, and what the ends dip in on both sides",
        given("inside length", inside[0]),
        given("the bow rises", lens.rise),
    )
    out["smallest-curl"] = roll
    return out


def _dimensions(lens: _Lens, low: list[Face]) -> tuple[Dimension, ...]:
    edge = low[0]
    side = edge.side_towards((0, -1, 0))
    a, b = edge.outline[side], edge.outline[(side + 1) % len(edge.outline)]
    way = (b - a) / np.linalg.norm(b - a)
    return (
        Dimension("edge", "pillow", edge.name, (float(a[0]), float(a[1]), 0.0),
                  (float(b[0]), float(b[1]), 0.0), (float(way[1]), -float(way[0]), 0.0),
                  2 * lens.ends[0]),
    )  # fmt: skip


def pillow_board_area(
    inside: Any, boards: Mapping[str, Board], options: Mapping[str, OptionValue]
) -> Any:
    """Board in mm²; rises with every length."""
    length, width, height = inside
    alpha = math.radians(float(options["bow"]))
    a, b = width / 2, height / 2
    sine = math.sin(alpha)
    radius = b * math.cos(alpha) + np.sqrt((b * math.cos(alpha)) ** 2 + sine**2 * (a * a + b * b))
    radius = radius / sine**2
    rise = radius * (1 - math.cos(alpha))
    return (2 * (2 * radius * alpha) + USUAL_TAB) * (length + 3 * rise)


PILLOW_BOX = register(
    ShapeFamily(
        key="pillow-box",
        title="Pillow box",
        short="Pillow",
        about="Two bowed faces; curved scores let the ends fold in and hold it shut.",
        parts=(("pillow", "Pillow box"),),
        options=OPTIONS,
        build=build_pillow_box,
        board_area=pillow_board_area,
        smallest=MIN_INSIDE,
        largest=MAX_INSIDE,
        mouth=0,
    )
)
