"""Petals on star bases: a fan with two feet, which are glued under two neighbouring points.

A base is a star whose points have parallel sides: neighbouring sides meet at
a notch, at 360° / petals.  A petal's apex lies in the notch, its outer
rulings along the two sides; its feet fold out under the points.

Glossary
--------
notch
    Where two points of a base meet; the middle of a petal's fan.
near
    How far from the apex the petal begins, along a ruling.
"""

from __future__ import annotations

import itertools
import math
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
import shapely
from numpy.typing import NDArray

from jadeite.core.boards import Board
from jadeite.core.nets.bends import bend
from jadeite.core.nets.closed_form import ClosedForm, Face
from jadeite.core.nets.fans import Fan
from jadeite.core.nets.gores import about_z
from jadeite.core.nets.model import Floats, Opening, Panel, Piece
from jadeite.core.nets.roles import Role

__all__ = ["PetalRing", "copies", "petal", "petal_ring", "star_base"]

FACETS = 9  # of a petal, odd; from memory, more look no rounder
NECK, NECK_ROOT = 3.5, 5.2  # mm; from memory, a narrower neck tears, a shorter fold slips
NEAREST = 8.0  # mm; from memory, nearer to the apex no paper bends so tightly
FOOT, FOOT_DEPTH = 12.0, 9.0  # mm along and across the ruling; from memory, enough to hold
FOOT_TAPER = 2.0  # mm; from memory, its corners draw in
FEET_AIR = 1.0  # mm; from memory, between two feet under one point, and of feet to the tip
TIP_SHARE = 0.35  # of a point's half width that its tip reaches out; from memory
BARE = 0.035  # of a foot's depth is the most that lies bare beside its point; from memory
EDGE_AIR = 0.05  # mm; from memory, between a petal and the side of a point
NECK_AIR = 0.3  # mm; from memory, between a neck and the notch
LEAST = 5.0  # mm; from memory, a ruling of the petal is no shorter
APART = 1.0  # mm; from memory, between petals that stand side by side or behind each other
CORNER = math.cos(math.radians(40.0))  # from memory, an edge that turns by more has a corner
BULGE = 1.5  # power; from memory, how full a petal is
MARK_AT, DOT, TRIANGLE = 6.0, 1.5, 2.5  # mm: from the middle, and radii; from memory
HUB = 13.0  # mm; from memory, least inradius of a hub, which holds both marks
ONE = 0.002  # mm; rounding, corners this close are one
ROUND = 64  # corners of a quarter; design rule, within 0.02 mm of the largest circle
CIRCLE = 24  # corners of a small hole; from memory, within 0.02 mm


@dataclass(frozen=True)
class PetalRing:
    """A ring of petals and its base; mm and radians.

    ``apex`` is the distance of the notches from the middle, ``level`` the
    height of the feet, ``phase`` the direction of the first petal in degrees,
    ``length`` that of a petal from its apex to its tip.  ``behind`` is the apex
    and lean of the ring that stands outside this one, if any.
    """

    number: int
    fan: Fan
    count: int
    apex: float
    level: float
    phase: float
    length: float
    base: Board
    board: Board
    behind: tuple[float, float] | None = None

    @property
    def near(self) -> float:
        """Where a petal begins: its middle facet is as wide there as a neck must be."""
        return max(NEAREST, NECK / 2 / math.tan(self.fan.sector / 2 / FACETS))

    @property
    def foot_end(self) -> float:
        """Where the feet end, along the outer rulings."""
        return self.near + FOOT

    @property
    def half(self) -> float:
        """Half the width of a point, as far as the rulings."""
        return self.apex * math.sin(math.pi / self.count)

    @cached_property
    def foot_turn(self) -> float:
        """By how much a foot is folded, in radians: between the first facet and the base."""
        a, b = self.fan.rulings[:2]
        normal = np.cross(a, b)
        return math.acos(float(normal[2]) / float(np.linalg.norm(normal)))

    @property
    def side_set_back(self) -> float:
        """How far the side of a point lies behind the ruling, so that the petal passes it."""
        return EDGE_AIR + _passed(self.foot_turn, self.board.thickness, self.base.thickness)

    @property
    def foot_depth(self) -> float:
        """Depth of a foot: a thick board lies bare farther, and takes a deeper foot."""
        return max(FOOT_DEPTH, self.side_set_back / BARE)

    @property
    def notch(self) -> float:
        """Distance of the end of a notch from the middle: of its sides, or where a neck passes."""
        middle = self.fan.rulings[[FACETS // 2, FACETS // 2 + 1]].sum(axis=0)
        lean = math.atan2(float(middle[2]), float(middle[0]))
        back = _passed(lean, self.board.thickness, self.base.thickness)
        sides = self.side_set_back / math.sin(math.pi / self.count)
        return self.apex - max(back + NECK_AIR, sides)

    @property
    def point(self) -> tuple[float, float, float]:
        """Of a point: where its sides end, its tip, and its half width; from the middle."""
        wide = self.half - self.side_set_back
        ends = self.apex * math.cos(math.pi / self.count) + self.foot_end + FEET_AIR
        return ends, ends + TIP_SHARE * wide, wide

    @property
    def outmost(self) -> float:
        """Radius of the base."""
        ends, tip, wide = self.point
        return max(tip, math.hypot(ends, wide), self.notch)

    @property
    def hub_back(self) -> float:
        """How far a ring's hub draws back from its notches: flat, no foot lies on it."""
        half, deep = self.fan.sector / 2, self.foot_depth
        inmost = min(s * math.cos(half) for s in (self.near, self.foot_end))
        return max(0.0, deep * math.sin(half) - inmost) + APART / 2

    @property
    def least_apex(self) -> float:
        """Least distance of the notches in mm: room for feet, marks, and petals side by side."""
        fan, turn = self.fan, math.pi / self.count
        feet = self.foot_depth + FEET_AIR / 2
        across = self.foot_end * math.sin(fan.sector / 2 - turn)
        flat = self.foot_depth * math.cos(fan.sector / 2 - turn)  # of a whole ring, laid out
        wants = [feet, across + flat + APART / 2]
        wants += [(self.near + LEAST) * lost + APART for lost in self._lost.tolist()]
        hub = HUB / math.cos(turn) + self.hub_back
        return max(hub, *(want / math.sin(turn) for want in wants))

    @cached_property
    def _lost(self) -> Floats:
        """By how much each ruling nears the next petal, in mm per mm; folded, and laid out."""
        turn, flat = math.pi / self.count, np.abs(self.fan.flat)
        folded = np.abs(self.fan.rulings[:, 1]) * math.cos(turn)
        folded -= self.fan.rulings[:, 0] * math.sin(turn)
        return np.maximum(folded, np.sin(flat - turn))

    @cached_property
    def wanted(self) -> Floats:
        """Length of each ruling of a whole petal, from the apex, (facets + 1,)."""
        full = 1 - np.abs(2 * np.arange(FACETS + 1) / FACETS - 1) ** BULGE
        return np.asarray(self.foot_end + (self.length - self.foot_end) * full)

    @cached_property
    def room(self) -> Floats:
        """How far each ruling may reach, from the apex, until others stand there; (facets + 1,)."""
        out = np.full(FACETS + 1, np.inf)
        lost = self._lost
        beside = np.where(lost > 1e-9, (self.half - APART) / np.maximum(lost, 1e-9), np.inf)
        out[1:-1] = beside[1:-1]
        if self.behind is not None:
            for i in range(1, FACETS):
                out[i] = min(out[i], self._until(self.fan.rulings[i]))
        return out

    @property
    def reach(self) -> Floats:
        """Length of each ruling from the apex, (facets + 1,): a petal, cut where others stand."""
        return np.minimum(self.wanted, self.room)

    def has_room(self, points: Floats) -> NDArray[np.bool_]:
        """Whether a petal along x may reach to each place in space, (n, 3), folded and flat."""
        x, y, z = (points - np.array([self.apex, 0.0, 0.0])).T
        turn = math.pi / self.count
        beside = np.abs(y) * math.cos(turn) - x * math.sin(turn)
        far, angle = self.fan.laid_out(points - np.array([self.apex, 0.0, 0.0]))
        laid = far * np.sin(np.abs(angle) - turn)
        free = np.maximum(beside, laid) <= self.half - APART
        if self.behind is not None:
            start, out = self._cone_behind
            free &= np.hypot(x + self.apex, y) <= start + z * out
        return np.asarray(free)

    @property
    def _cone_behind(self) -> tuple[float, float]:
        """Radius at the base, and by how much it grows with height, of what is left by a ring."""
        assert self.behind is not None
        start, lean = self.behind
        return start - APART - self.board.thickness / math.sin(lean), 1 / math.tan(lean)

    def _until(self, ruling: Floats) -> float:
        """Where a ruling meets the cone inside of which the ring behind never comes, in mm."""
        start, out = self._cone_behind
        x, y, z = ruling.tolist()
        a = x * x + y * y - (z * out) ** 2
        b = self.apex * x - start * z * out
        c = self.apex**2 - start**2  # negative: the apex lies inside
        root = math.sqrt(max(0.0, b * b - a * c))
        if abs(a) < 1e-12:
            return -c / (2 * b) if b > 0 else math.inf
        found = [s for s in ((-b - root) / a, (-b + root) / a) if s > 0]
        return min(found, default=math.inf)

    def turn(self, i: int) -> Floats:
        """4 x 4: from the petal that looks along x to petal i, at its height."""
        out = about_z(self.phase + 360.0 / self.count * i)
        out[2, 3] = self.level
        return out


def _passed(turn: float, thickness: float, other: float) -> float:
    """How far an edge lies back from the score of a foot beneath it, so that the petal passes it.

    The petal rises by ``turn`` (radians) from a score half both plies below the
    edge's board; its own half ply decides at the edge's lower side, and where it
    leans over the edge, at the upper one.
    """
    t = thickness / 2
    low = t * math.tan(turn / 2)
    if turn <= math.pi / 2:
        return low
    return max(low, t / math.sin(turn) - (other + t) / math.tan(turn))


def _facet(ring: PetalRing, k: int) -> Floats:
    """Corners of facet k of the petal along x, apex at its place, feet at z = 0."""
    a, b = ring.fan.rulings[k], ring.fan.rulings[k + 1]
    reach = ring.reach
    ends = [a * reach[k], b * reach[k + 1]]
    if k == FACETS // 2:
        middle = a + b
        ends.insert(1, middle / np.linalg.norm(middle) * ring.length)
    points = np.array([a * ring.near, *ends, b * ring.near])
    return np.asarray(points + np.array([ring.apex, 0.0, 0.0]))


def _foot(ring: PetalRing, way: int) -> Floats:
    """Corners of a foot, beyond the outer ruling at y < 0 (way -1) or y > 0; (4, 3)."""
    ruling = ring.fan.rulings[0 if way < 0 else -1]
    out = way * np.array([-ruling[1], ruling[0], 0.0])
    start, end = ring.near + 1.0, ring.foot_end
    along = [start, end, end - FOOT_TAPER, start + FOOT_TAPER]
    deep = [0.0, 0.0, ring.foot_depth, ring.foot_depth]
    points = np.array([ruling * s + out * d for s, d in zip(along, deep, strict=True)])
    return np.asarray(points + np.array([ring.apex, 0.0, 0.0]))


def _moved(points: Floats, matrix: Floats) -> Floats:
    return np.asarray(points @ matrix[:3, :3].T + matrix[:3, 3])


def _below(points: Floats) -> Floats:
    """Corners counter-clockwise as seen from below, where the outside is."""
    x, y = points[:, 0], points[:, 1]
    area = float(np.sum(x * np.roll(y, -1) - y * np.roll(x, -1)))
    return points[::-1] if area > 0 else points


def _spread(net: ClosedForm, ring: PetalRing, middle: Face, head: str, place: Floats) -> None:
    """The facets beside the middle one, and the feet."""

    def facet(k: int) -> Floats:
        return _moved(_facet(ring, k), place)[::-1]

    spread = range(FACETS)
    faces = bend(net, f"{head}facet", "petal", facet, spread, first=FACETS // 2, begun=middle)
    for way, name, on in ((-1, "right", faces[0]), (1, "left", faces[-1])):
        corners = _below(_moved(_foot(ring, way), place))
        net.face(f"{head}foot.{name}", corners, on, title="foot", role=Role.TAB)
    _edges(net, ring, head, place)


def _edges(net: ClosedForm, ring: PetalRing, head: str, place: Floats) -> None:
    """The petal's edge is a smooth curve, but for corners where it was cut for its neighbours."""

    def free(points: Floats) -> NDArray[np.bool_]:
        return ring.has_room((points - place[:3, 3]) @ place[:3, :3])

    faces = {face.name: face for face in net.faces}
    half = FACETS // 2
    ends, owners = [], []
    for k in range(FACETS):
        face = faces[f"{head}facet.{k}"]
        facet = _moved(_facet(ring, k), place)[1:-1]
        ends += [face.flat(p) for p in facet[:-1]]
        owners += [face] * (len(facet) - 1)
    ends.append(face.flat(facet[-1]))
    points = np.array(ends)
    way = np.diff(points, axis=0)
    way = way / np.linalg.norm(way, axis=1)[:, None]
    sharp = (way[1:] * way[:-1]).sum(axis=1) < CORNER
    cut = np.insert(ring.room < ring.wanted, half + 1, False)[1:-1]  # the tip never is
    corners = np.flatnonzero(np.concatenate([[True], cut | sharp, [True]]))
    for a, b in itertools.pairwise(corners.tolist()):
        if b - a > 1:
            net.curved_edge("spline", points[a : b + 1], owners[a:b], free)


def petal(ring: PetalRing, name: str, title: str) -> tuple[Piece, Floats]:
    """One petal with its feet, and where it stands as the ring's first; its good side looks up."""
    net = ClosedForm(name, title, ring.board, "inside")
    place = ring.turn(0)
    corners = _moved(_facet(ring, FACETS // 2), place)[::-1]
    middle = net.base(f"facet.{FACETS // 2}", corners, title="petal", role=Role.GORE)
    _spread(net, ring, middle, "", place)
    return net.build(), net.placement


def petal_ring(ring: PetalRing, name: str, title: str, part: str) -> tuple[Piece, Floats]:
    """All petals of a ring on a common hub, each on a neck; the hub lies under the base."""
    net = ClosedForm(name, title, ring.board, "inside", part=part)
    n, w = ring.count, NECK_ROOT / 2
    ends = np.array([[ring.apex, -w, 0.0], [ring.apex, w, 0.0]])
    back = np.array([ring.hub_back, 0.0, 0.0])
    arm = np.array([ends[0] - back, *ends, ends[1] - back])
    corners = np.concatenate([_moved(arm, ring.turn(i)) for i in range(n)])
    hub = net.base("hub", corners[::-1], title="hub", role=Role.FLOOR)
    for mark in _marks():
        at = np.column_stack([mark.points, np.full(len(mark.points), ring.level)])
        hub.openings.append(Opening("hole", hub.flat(at)))
    place, half = ring.turn(0), FACETS // 2
    points = np.concatenate([ends[:1], _facet(ring, half), ends[1:]])
    on = net.face(f"1.facet.{half}", _moved(points, place)[::-1], hub, title="petal",
                  role=Role.GORE)  # fmt: skip
    _spread(net, ring, on, "1.", place)
    first = net.faces[1:]
    for i in range(1, n):
        names = [f"{i + 1}.{face.name.removeprefix('1.')}" for face in first]
        net.turned(first, about_z(360.0 / n * i), names)
    return net.build(), net.placement


def _marks() -> tuple[Opening, Opening]:
    """The dot and the triangle, at the same places in every base and hub; mm from the middle."""

    def ring(radius: float, corners: int) -> Floats:
        turns = np.arange(corners) * 2 * math.pi / corners + math.pi / 2
        return radius * np.column_stack([np.cos(turns), np.sin(turns)])

    aside = np.array([MARK_AT, 0.0])
    return Opening("hole", ring(DOT, CIRCLE) + aside), Opening("hole", ring(TRIANGLE, 3) - aside)


def star_base(ring: PetalRing, name: str, title: str, part: str) -> Piece:
    """The base: points with parallel sides, notches open for necks, a dot and a triangle cut out.

    Both marks lie at the same places in every base, so rings are turned right
    when dot lies on dot and triangle on triangle.
    """
    ends, tip, wide = ring.point
    arm = np.array([[0.0, -wide], [ends, -wide], [tip, 0.0], [ends, wide], [0.0, wide]])
    gap = NECK_ROOT / 2 + NECK_AIR
    neck = np.array([[ring.notch, -gap], [2 * tip, -gap], [2 * tip, gap], [ring.notch, gap]])

    def turned(points: Floats, steps: float) -> shapely.Polygon:
        matrix = about_z(ring.phase + 360.0 / ring.count * steps)[:2, :2]
        return shapely.Polygon(points @ matrix.T)

    star = shapely.union_all([turned(arm, i + 0.5) for i in range(ring.count)])
    star = star.difference(shapely.union_all([turned(neck, i) for i in range(ring.count)]))
    round_ = shapely.Point(0.0, 0.0).buffer(ring.notch, quad_segs=ROUND)
    if not star.covers(round_):  # short points of a large base: the ring inside needs all of it
        star = star.union(round_)
    star = shapely.remove_repeated_points(shapely.geometry.polygon.orient(star), ONE)
    outline = np.array(star.exterior.coords)[:-1]
    size = (2 * ring.outmost, 2 * ring.outmost)
    panel = Panel(name, title, Role.PLATE, outline, size, _marks())
    return Piece(name, title, ring.base, (panel,), (), "inside", part=part)


def copies(piece: Piece, ring: PetalRing, placement: Floats) -> list[tuple[Piece, Floats]]:
    """The same petal at every notch of its ring, with its place.

    ``placement`` is (4, 4) float.
    """
    out = []
    for i in range(ring.count):
        mine = replace(piece, name=f"{piece.name}-{i + 1}", title=f"{piece.title} {i + 1}")
        out.append((mine, about_z(360.0 / ring.count * i) @ placement))
    return out
