"""Petals on star bases: a fan with two feet, which are glued under two neighbouring points.

Each ring of petals is told by its mark, cut in its base, in the hub of a whole ring and
in the feet of single petals; two round holes in all of them lie over one another when
the rings are turned right.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterable
from dataclasses import replace

import numpy as np
import shapely
from numpy.typing import NDArray

from jadeite.core.nets.bends import bend
from jadeite.core.nets.closed_form import ClosedForm, Face
from jadeite.core.nets.gores import about_z
from jadeite.core.nets.model import Floats, Opening, Panel, Piece
from jadeite.core.nets.petal_ring import FACETS, FOOT_TAPER, NECK_AIR, NECK_ROOT, PetalRing
from jadeite.core.nets.roles import Role

__all__ = ["MARKS", "copies", "petal", "petal_ring", "star_base", "star_outline"]

CORNER = math.cos(math.radians(75.0))  # from memory, an edge that turns by more has a corner
MARK_AT, MARK, PIN = 6.0, 2.5, 1.0  # mm: from the middle, and radii; from memory
FOOT_MARK = 1.6  # mm, radius; from memory, it leaves the foot's glue its hold
MARKS = ("dot", "triangle", "square")  # of the first ring, the second and the third
MARK_CORNERS = (24, 3, 4)  # of each; from memory, a round one within 0.02 mm
PIN_CORNERS = 16  # from memory, within 0.02 mm
ONE = 0.002  # mm; rounding, corners this close are one
ROUND = 64  # corners of a quarter; design rule, within 0.02 mm of the largest circle


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


def _spread(
    net: ClosedForm, ring: PetalRing, middle: Face, head: str, place: Floats, *, marked: bool
) -> None:
    """The facets beside the middle one, and the feet, with the ring's mark if they are marked."""

    def facet(k: int) -> Floats:
        return _moved(_facet(ring, k), place)[::-1]

    spread = range(FACETS)
    faces = bend(net, f"{head}facet", "petal", facet, spread, first=FACETS // 2, begun=middle)
    for way, name, on in ((-1, "right", faces[0]), (1, "left", faces[-1])):
        corners = _below(_moved(_foot(ring, way), place))
        foot = net.face(f"{head}foot.{name}", corners, on, title="foot", role=Role.TAB)
        if marked:  # of single petals, lest those of another ring be taken
            centre = corners.mean(axis=0)
            mark = _ring_of(MARK_CORNERS[ring.number - 1], FOOT_MARK, centre[:2])
            hole = np.column_stack([mark, np.full(len(mark), centre[2])])
            foot.openings.append(Opening("mark", foot.flat(hole)))
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
    _spread(net, ring, middle, "", place, marked=True)
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
    for mark in _marks(ring.number):
        at = np.column_stack([mark.points, np.full(len(mark.points), ring.level)])
        hub.openings.append(Opening("mark", hub.flat(at)))
    place, half = ring.turn(0), FACETS // 2
    points = np.concatenate([ends[:1], _facet(ring, half), ends[1:]])
    on = net.face(f"1.facet.{half}", _moved(points, place)[::-1], hub, title="petal",
                  role=Role.GORE)  # fmt: skip
    _spread(net, ring, on, "1.", place, marked=False)
    first = net.faces[1:]
    for i in range(1, n):
        names = [f"{i + 1}.{face.name.removeprefix('1.')}" for face in first]
        net.turned(first, about_z(360.0 / n * i), names)
    return net.build(), net.placement


def _ring_of(corners: int, radius: float, centre: Iterable[float]) -> Floats:
    """Corners of a regular mark about a place, (corners, 2), mm; a square stands on a side."""
    turns = (np.arange(corners) - 0.5 * (corners == len(MARKS) + 1)) * 2 * math.pi / corners
    turns += math.pi / 2
    return np.asarray(radius * np.column_stack([np.cos(turns), np.sin(turns)]) + np.array(centre))


def _marks(number: int) -> tuple[Opening, ...]:
    """Two round holes, at the same places in every base and hub, and the mark of its ring."""
    return (
        Opening("mark", _ring_of(PIN_CORNERS, PIN, (0.0, 0.0))),
        Opening("mark", _ring_of(PIN_CORNERS, PIN, (MARK_AT, 0.0))),
        Opening("mark", _ring_of(MARK_CORNERS[number - 1], MARK, (-MARK_AT, 0.0))),
    )


def star_outline(ring: PetalRing) -> shapely.Polygon:
    """Of a base, about the middle: points with parallel sides, notches open for necks."""
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
    return shapely.remove_repeated_points(shapely.geometry.polygon.orient(star), ONE)


def star_base(ring: PetalRing, name: str, title: str, part: str) -> Piece:
    """The base: a star with its holes and its ring's mark cut out."""
    outline = np.array(star_outline(ring).exterior.coords)[:-1]
    size = (2 * ring.outmost, 2 * ring.outmost)
    panel = Panel(name, title, Role.PLATE, outline, size, _marks(ring.number))
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
