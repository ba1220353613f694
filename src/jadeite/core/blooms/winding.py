"""The spiral as a piece: a closing disc, and the strip that hangs on it by a narrow fold.

The piece is found from its wound form.  There the foot is a line in the plane of
the disc, and every facet leans out as its foot's bend asks.  Two neighbouring
facets meet in a ruling; laid out flat one after another about these rulings, the
facets make the spiral again.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Protocol

import numpy as np
import shapely

from jadeite.core.blooms.spiral import Coil, Edge
from jadeite.core.boards import Board
from jadeite.core.nets.bends import ROLLED
from jadeite.core.nets.model import Floats, Fold, Panel, Piece
from jadeite.core.nets.roles import Role

__all__ = ["DISC", "STEEPEST", "Foot", "wound_centre", "wound_piece"]

DISC = "disc"
A_TURN, MOST = 12, 440  # facets of a turn, and of all; from memory
BEYOND_NECK = 1.5  # of the neck's length lies the next ruling; from memory
NECK = 5.5  # mm; from memory, the fold on which the disc hangs
SCORED = 5.0  # mm; from memory, a narrower neck folds without a score
STEEPEST = 0.97  # sine; from memory, no paper is laid flatter
EDGE_STEP = 0.5  # mm; from memory, between corners of a scalloped edge
CURVE = 0.02  # mm; design rule, curves in files stay this close
LEVEL = 1e-9  # sine; rounding, two facets in one plane
SETTLINGS = 12  # times that the facets' lean is set right; from memory
LEAST_BENT = 1e-4  # radians; rounding
APART = 0.6  # mm; from memory, between the disc and the strip where both lie flat


@dataclass(frozen=True, eq=False)
class _Wound:
    """The facets in space: foot, directions along it and up the strip, good side; (n, 3) each.

    ``foot`` is (n + 1, 2) mm; ``lengths`` are those of the chords, mm; ``rulings``
    the directions in which facets meet, (n - 1, 3).
    """

    foot: Floats
    lengths: Floats
    along: Floats
    up: Floats
    good: Floats
    middle: Floats  # of the coil, from where the foot begins, (2,) mm

    @cached_property
    def rulings(self) -> Floats:
        """Where each facet meets the next, up the strip."""
        line = np.cross(self.good[:-1], self.good[1:])
        size = np.linalg.norm(line, axis=1)[:, None]
        up = self.up[:-1] + self.up[1:]
        line = np.where(size > LEVEL, line / np.maximum(size, LEVEL), up)
        line = line * np.sign((line * up).sum(axis=1))[:, None]
        return np.asarray(line / np.linalg.norm(line, axis=1)[:, None])

    @cached_property
    def bent(self) -> Floats:
        """By how much the foot turns at each ruling where it lies flat, radians, (n - 1,)."""
        line = self.rulings
        before, after = (
            np.arctan2((line * self.up[part]).sum(axis=1), (line * self.along[part]).sum(axis=1))
            for part in (slice(None, -1), slice(1, None))
        )
        return np.asarray(after - before)


class Foot(Protocol):
    """The foot of a flat strip, and how wide and long the strip is; mm."""

    @property
    def width(self) -> float:
        """Of the strip."""

    @property
    def length(self) -> float:
        """Of the foot."""

    @property
    def square(self) -> tuple[float, float]:
        """How large it is, and how it is turned as it lies, radians."""

    def angles(self, lengths: Floats) -> Floats:
        """By which places of the foot are known, of lengths along it, (n,)."""

    def foot(self, angle: Floats) -> Floats:
        """Places of the foot, (n,) to (n, 2)."""

    def bend(self, angle: Floats) -> Floats:
        """Radius to which it is bent in its own plane, (n,)."""


def wound_centre(spiral: Foot, coil: Coil) -> Floats:
    """Where the axis of the coil stands in the flat piece, (2,) mm: the centre of its disc."""
    breaks = _facet_ends(spiral, coil)
    flat = spiral.foot(spiral.angles(breaks)) @ _tilt(spiral.square[1]).T
    return np.asarray(flat[0] + _wound(flat, coil.radius(breaks)).middle)


def wound_piece(
    spiral: Foot,
    coil: Coil,
    edge: Edge,
    disc: float,
    name: str,
    title: str,
    board: Board,
    part: str,
    least: float = 0.0,
) -> Piece:
    """The disc, of a radius in mm, and the strip's facets from its inner end to its outer one.

    No facet is narrower than ``least`` mm.

    Raises
    ------
    ValueError
        The flat strip leaves the disc no room.
    """
    breaks = _facet_ends(spiral, coil, least)
    count = len(breaks) - 1
    angles = spiral.angles(breaks)
    flat = spiral.foot(angles) @ _tilt(spiral.square[1]).T  # as it lies in its square
    wound = _wound(flat, coil.radius(breaks))
    rulings = wound.rulings
    heading = math.atan2(*(flat[1] - flat[0])[::-1])
    corner = flat[0]
    bend = spiral.bend(angles)
    panels: list[Panel] = []
    folds: list[Fold] = []
    parent, turn = DISC, math.degrees(math.acos(float(wound.good[0, 2])))
    upright = _Ruling(0.0, 0.0)  # where the facet begins
    for i in range(count):
        t = np.array([math.cos(heading), math.sin(heading)])
        o = np.array([t[1], -t[0]])
        end = _Ruling(0.0, 0.0)
        if i + 1 < count:
            end = _Ruling(_forward(rulings[i], wound, i), wound.bent[i] / 2)
        length = float(wound.lengths[i])
        own = _outline(
            spiral.width, edge, breaks[i : i + 2], length, upright, end, float(bend[i]), i == 0
        )
        outline = corner + own[:, :1] * t + own[:, 1:] * o
        panel = f"{name}.{i + 1}"
        foot_end = corner + length * t
        first, last = corner, outline[-_outer(own)]
        if i == 0:
            first, last = foot_end, corner
        size = (float(np.hypot(*(last - first))), length)
        panels.append(Panel(panel, "strip", Role.WOUND, outline, size))
        kind = "scored" if i == 0 and size[0] >= SCORED else ROLLED
        folds.append(Fold(parent, panel, _pair(first), _pair(last), turn, kind))
        parent = panel
        if i + 1 < count:
            w, n0, n1 = rulings[i], wound.good[i], wound.good[i + 1]
            turn = math.degrees(math.atan2(float(np.cross(n0, n1) @ w), float(n0 @ n1)))
            upright = _Ruling(_forward(w, wound, i + 1), -wound.bent[i] / 2)
            heading += wound.bent[i]
            corner = foot_end
    turn_of_coil = max(3, math.ceil(len(panels) / max(1.0, coil.turns)))
    outlines = [panel.outline for panel in panels[: 2 * turn_of_coil]]
    ends = _disc(disc, flat[0] + wound.middle, outlines)
    size = (2 * disc, 2 * disc)
    panels.insert(0, Panel(DISC, "closing disc", Role.PLATE, ends, size))
    return Piece(name, title, board, tuple(panels), tuple(folds), "inside", part=part)


def _forward(ruling: Floats, wound: _Wound, facet: int) -> float:
    """By how much a ruling leans forward of upright on a facet, radians."""
    return math.atan2(float(ruling @ wound.along[facet]), float(ruling @ wound.up[facet]))


def _tilt(angle: float) -> Floats:
    """Turns flat points by radians; (2, 2)."""
    c, s = math.cos(angle), math.sin(angle)
    return np.array([[c, -s], [s, c]])


def _pair(point: Floats) -> tuple[float, float]:
    return float(point[0]), float(point[1])


def _facet_ends(spiral: Foot, coil: Coil, least: float = 0.0) -> Floats:
    """Where the rulings lie along the foot, (n,) mm: alike in the turns that they make.

    None lies nearer to the next than ``least`` mm.
    """
    grid = np.linspace(0.0, spiral.length, 4000)
    wound = np.concatenate([[0.0], np.cumsum(np.diff(grid) / coil.radius(grid[1:]))])
    count = max(3, round(min(MOST, A_TURN * coil.turns)))
    out = np.interp(np.linspace(0.0, wound[-1], count + 1), wound, grid)
    neck = min(NECK, coil.width / 2)  # of a narrow coil it is a side of a hexagon
    if out[1] < neck:  # the fold on which the disc hangs is long enough to be made
        out = np.concatenate([[0.0, neck], out[out > BEYOND_NECK * neck]])
    return _strands(coil, neck, least) if least else np.asarray(out)


def _strands(coil: Coil, neck: float, least: float) -> Floats:
    """Where rulings lie along a foot, (n,) mm, none nearer than ``least`` to the next."""
    places = [neck]
    while places[-1] <= coil.length:
        places.append(places[-1] + max(least, 2 * math.pi * _radius_at(coil, places[-1]) / A_TURN))
    places.pop()  # the others are a little wider instead
    wider = (coil.length - neck) / max(places[-1] - neck, least)
    return np.array([0.0, *(neck + wider * (place - neck) for place in places)])


def _radius_at(coil: Coil, along: float) -> float:
    return float(coil.radius(np.array([along]))[0])


def _wound(flat: Floats, radius: Floats) -> _Wound:
    """Facets over the chords of a flat foot, (n + 1, 2), wound to radii at their ends; mm.

    The foot stands round one axis; its first chord lies where it lies flat.
    """
    step = np.diff(flat, axis=0)
    lengths = np.hypot(step[:, 0], step[:, 1])
    headings = np.unwrap(np.arctan2(step[:, 1], step[:, 0]))
    near, far = radius[:-1], radius[1:]
    # by how much each chord goes round the axis: of a triangle all sides are known
    cosine = (near**2 + far**2 - lengths**2) / (2 * near * far)
    round_ = np.concatenate([[0.0], np.cumsum(np.arccos(np.clip(cosine, -1.0, 1.0)))])
    places = radius[:, None] * np.column_stack([np.cos(round_), np.sin(round_)])
    chords = np.diff(places, axis=0)
    lengths = np.hypot(chords[:, 0], chords[:, 1])
    wound = np.unwrap(np.arctan2(chords[:, 1], chords[:, 0]))
    wound += headings[0] - wound[0]
    turned, bent = np.diff(wound), np.diff(headings)
    # a pyramid's faces: half the angle flat, by that round about, is the sine of their lean
    sine = _over_ends(np.tan(bent / 2) / np.tan(turned / 2))
    turned_by = headings[0] - math.atan2(chords[0, 1], chords[0, 0])
    middle = -places[0] @ _tilt(turned_by).T
    for _ in range(SETTLINGS):
        made = _standing(middle, flat[0], lengths, wound, sine)
        sine = sine * _over_ends(bent / np.maximum(made.bent, LEAST_BENT))
    return _standing(middle, flat[0], lengths, wound, sine)


def _over_ends(values: Floats) -> Floats:
    """What is known between facets, (n - 1,), for each facet, (n,)."""
    return np.concatenate([values[:1], (values[:-1] + values[1:]) / 2, values[-1:]])


def _standing(
    middle: Floats, begin: Floats, lengths: Floats, wound: Floats, sine: Floats
) -> _Wound:
    """Facets over chords of a heading each, (n,) radians, that lean by a sine each."""
    sine = np.clip(sine, 0.0, STEEPEST)
    cosine = np.sqrt(1 - sine**2)
    c, s, zero = np.cos(wound), np.sin(wound), np.zeros(len(wound))
    along = np.column_stack([c, s, zero])
    up = np.column_stack([s * sine, -c * sine, cosine])
    good = np.column_stack([-s * cosine, c * cosine, sine])
    foot = np.vstack([begin[None], begin + np.cumsum(along[:, :2] * lengths[:, None], axis=0)])
    return _Wound(foot, lengths, along, up, good, middle)


@dataclass(frozen=True)
class _Ruling:
    """How a facet ends: forward of upright, the ruling, and what is square to the foot; radians."""

    angle: float
    square: float

    @property
    def reach(self) -> Floats:
        """Where the ruling is by 1 mm of the strip's width, (along, up)."""
        more = 1 / math.cos(self.angle - self.square)
        return np.array([math.sin(self.angle) * more, math.cos(self.angle) * more])


def _outline(
    width: float,
    edge: Edge,
    breaks: Floats,
    length: float,
    first: _Ruling,
    last: _Ruling,
    bend: float,
    straight: bool,
) -> Floats:
    """Corners of a facet: along its chord and up the strip, (n, 2) mm.

    Along the foot back from its end, then along the outer edge from its beginning.
    ``breaks`` are its ends along the whole foot, ``bend`` is the foot's radius; mm.
    """

    def foot(share: Floats) -> Floats:
        bow = np.zeros(len(share)) if straight else share * (1 - share) * length**2 / 2 / bend
        return np.column_stack([share * length, bow])

    few = 1 if straight else max(1, math.ceil(length / math.sqrt(8 * bend * CURVE)))
    start, whole = float(breaks[0]), float(breaks[1] - breaks[0])
    fine = max(2, math.ceil(length / EDGE_STEP))
    high = np.linspace(0.0, 1.0, fine + 1)
    if edge.kind != "plain":  # the ends of scallops are corners
        numbers = np.arange(math.ceil(start / edge.wide), math.floor(breaks[1] / edge.wide) + 1)
        ends = np.clip((numbers * edge.wide - start) / whole, 0.0, 1.0)
        high = np.unique(np.concatenate([high, ends]))
    one, other = first.reach, last.reach
    way = (1 - high)[:, None] * one + high[:, None] * other
    far = (1 - high) * np.linalg.norm(one) + high * np.linalg.norm(other)
    way = way / np.linalg.norm(way, axis=1)[:, None] * far[:, None]
    tall = width - edge.drawn_in(start + high * whole)
    return np.vstack([foot(np.linspace(1.0, 0.0, few + 1)), foot(high) + tall[:, None] * way])


def _outer(own: Floats) -> int:
    """How far from the end of an outline its outer edge begins."""
    return len(own) - int(np.argmax(own[:, 0] == 0.0)) - 1


def _disc(radius: float, middle: Floats, strip: Sequence[Floats]) -> Floats:
    """The disc's outline with the neck as one straight side, (n, 2) mm, counter-clockwise.

    It lies round the axis of the wound strip, (2,), and ends short of the flat one, whose
    first facet begins at the neck.
    """
    first, last = strip[0][1], strip[0][0]
    quarter = max(8, math.ceil(math.pi / 4 / math.acos(1 - CURVE / radius)))
    whole = shapely.Point(middle).buffer(radius, quad_segs=quarter)
    near = shapely.union_all([shapely.Polygon(o).buffer(APART) for o in strip])
    left = whole.difference(near)
    left = max(shapely.get_parts(left), key=lambda part: part.area)
    joined = left.union(shapely.Polygon([first, last, middle]))  # the neck, clear of the strip
    if not isinstance(joined, shapely.Polygon):
        raise ValueError("the strip leaves its disc no room")
    ring = shapely.remove_repeated_points(shapely.geometry.polygon.orient(joined), 1e-6)
    points = np.array(ring.exterior.coords)[:-1]
    at = int(np.argmin(np.linalg.norm(points - first, axis=1)))
    points = np.roll(points, -at, axis=0)
    points[0] = first
    points[1] = last
    return points
