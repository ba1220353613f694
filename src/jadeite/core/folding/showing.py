"""What shows and what is hidden in the closed thing: backs of boards, and cut-outs."""

from __future__ import annotations

import math
from collections.abc import Set
from dataclasses import dataclass

import numpy as np
import shapely
from shapely.geometry import LineString, Point, Polygon

from jadeite.core.folding.kinematics import FoldedFace
from jadeite.core.nets.model import Design, Floats
from jadeite.core.nets.turns import across

__all__ = ["Covered", "backs_outside", "covered_openings", "spots_on"]

NEAR = 4.0  # mm; from memory, what lies closer behind a cut-out leaves a finger no room
LEVEL = math.cos(math.radians(20.0))  # from memory, a ply that leans more does not cover
SHARE = 0.1  # of a cut-out; from memory, less of it covered is no hindrance
SLIT = 0.5  # mm; rounding, half the width that a slit counts with
AWAY = 1e-3  # mm; rounding, what a line of sight starts beside its own panel
SPOTS = 5  # design rule, places on a panel from which one looks outwards


@dataclass(frozen=True)
class Covered:
    """A cut-out of a panel, and the other panel that lies over a share of it."""

    piece: str
    panel: str
    by: tuple[str, str]
    share: float


def _flat(face: FoldedFace, points: Floats) -> tuple[Floats, Floats]:
    """Points in a face's own plane, (n, 2), and their heights above it."""
    x = face.points[1] - face.points[0]
    x = x / np.linalg.norm(x)
    rel = points - face.points[0]
    return np.column_stack([rel @ x, rel @ across(face.normal, x)]), rel @ face.normal


def covered_openings(design: Design, faces: tuple[FoldedFace, ...]) -> list[Covered]:
    """Cut-outs behind which another ply lies, so that neither finger nor ribbon passes.

    What passes through a slot does not cover it, nor does a lid, which comes off; a cord finds
    its way through crosses; what is anchored in a cut-out is to be covered, and a mark may be.
    """
    through = _passing(design)
    off = design.arrivals.lids
    roles = {(p.name, q.name): q.role for p in design.pieces for q in p.panels}
    linings = {where for where, role in roles.items() if role.traits.lines}
    near = _Near(faces)
    anchored = {one.on for one in design.bought if one.first}
    marked = {(p.name, q.name) for p in design.pieces for q in p.panels
              if q.openings and all(o.kind == "mark" for o in q.openings)}  # fmt: skip
    free = {(p.name, q.name) for p in design.pieces for q in p.panels
            if any(o.kind == "cross" for o in q.openings)}  # fmt: skip
    out: dict[tuple[str, str], Covered] = {}
    for face in faces:
        traits = roles[face.piece, face.panel].traits
        if traits.lines:
            continue  # it is bare where something passes
        if traits.frame:
            continue  # a second frame lies round the pattern of the panel beneath it
        if not face.openings:
            continue
        mine = (face.piece, face.panel)
        if mine in anchored | free | marked:
            continue
        lines, _ = _flat(face, np.concatenate(face.openings))
        within = np.array([lines.min(axis=0), lines.max(axis=0)])
        lying = _lying_on(face, near(face, within), off, linings, through)
        for line in face.openings if lying else ():
            shape = _cut_out(face, line)
            for other, over in lying:
                its = (other.piece, other.panel)
                if its in free:
                    continue
                share = float(over.intersection(shape).area / shape.area)
                if share > SHARE and (mine not in out or share > out[mine].share):
                    out[mine] = Covered(*mine, its, share)
    return list(out.values())


def _cut_out(face: FoldedFace, line: Floats) -> Polygon:
    """A cut-out in the plane of a face; a slit has a little width."""
    flat, _ = _flat(face, line)
    shape = Polygon(flat) if len(flat) > 2 else Polygon()
    return shape if shape.area > SLIT**2 else LineString(flat).buffer(SLIT)


class _Near:
    """Finds faces level with one that have a corner close to its plane, by where they lie there."""

    def __init__(self, faces: tuple[FoldedFace, ...]) -> None:
        self._faces = faces
        self._normals = np.array([face.normal for face in faces])
        self._points = np.concatenate([face.points for face in faces])
        self._starts = np.cumsum([0, *(len(face.points) for face in faces[:-1])])

    def __call__(self, face: FoldedFace, within: Floats) -> list[FoldedFace]:
        flat, heights = _flat(face, self._points)
        close = np.minimum.reduceat(np.abs(heights), self._starts) <= NEAR
        level = np.abs(self._normals @ face.normal) >= LEVEL
        low = np.minimum.reduceat(flat, self._starts) < within[1]
        high = np.maximum.reduceat(flat, self._starts) > within[0]
        there = close & level & low.all(axis=1) & high.all(axis=1)
        return [self._faces[i] for i in np.flatnonzero(there)]


def _lying_on(
    face: FoldedFace,
    faces: list[FoldedFace],
    off: Set[str],
    linings: Set[tuple[str, str]],
    through: Set[tuple[tuple[str, str], tuple[str, str]]],
) -> list[tuple[FoldedFace, Polygon]]:
    """Plies that lie against a face, with what they cover of its plane: not their cut-outs."""
    out = []
    mine = (face.piece, face.panel)
    for other in faces:
        its = (other.piece, other.panel)
        if mine == its:
            continue
        if (other.piece in off) != (face.piece in off) or its in linings or (its, mine) in through:
            continue
        points, _ = _flat(face, other.points)
        over = shapely.make_valid(Polygon(points))
        if other.openings:
            free = shapely.union_all([_cut_out(face, line) for line in other.openings])
            over = over.difference(free)
        out.append((other, over))
    return out


def _passing(design: Design) -> set[tuple[tuple[str, str], tuple[str, str]]]:
    """What passes through a slot, with its next panels, and the panel that has the slot."""
    out = set()
    for joint in design.joints:
        if not joint.kind.passes:
            continue
        for one, other in ((joint.tab, joint.target), (joint.target, joint.tab)):
            out.add((one, other))
            for fold in design.piece(one[0]).folds:
                if one[1] in (fold.parent, fold.child):
                    out |= {((one[0], name), other) for name in (fold.parent, fold.child)}
    return out


def backs_outside(design: Design, faces: tuple[FoldedFace, ...]) -> list[tuple[str, str, float]]:
    """Panels whose back shows outside, as piece, panel and area in mm², largest first.

    Seen from outside is a back that looks away from the hollow with nothing
    before it.
    """
    one_sided = {piece.name for piece in design.pieces if piece.board.good_side == "one"}
    if not one_sided or design.hollow is None:  # an open card is looked at from both sides
        return []
    heart = np.array(design.hollow.centre)
    sight = _Sight(faces)
    out = []
    for number, face in enumerate(faces):
        if face.piece not in one_sided:
            continue
        middle = face.points.mean(axis=0)
        if float((middle - heart) @ face.normal) >= 0:
            continue
        seen = [not sight.blocked(spot, -face.normal, number) for spot in spots_on(face)]
        if sum(seen) * 2 > len(seen):
            flat, _ = _flat(face, face.points)
            out.append((face.piece, face.panel, float(Polygon(flat).area)))
    return sorted(out, key=lambda found: -found[2])


class _Sight:
    """Lines of sight among faces: all planes at once, outlines only where a line may meet them."""

    def __init__(self, faces: tuple[FoldedFace, ...]) -> None:
        self._faces = faces
        self._normals = np.array([face.normal for face in faces])
        self._starts = np.array([face.points[0] for face in faces])
        self._low = np.array([face.points.min(axis=0) for face in faces]) - AWAY
        self._high = np.array([face.points.max(axis=0) for face in faces]) + AWAY
        self._outlines: dict[int, Polygon] = {}

    def blocked(self, start: Floats, way: Floats, own: int) -> bool:
        """Whether a line from a spot on face ``own`` meets another face.

        ``start`` and ``way`` are (3,) float.
        """
        slope = self._normals @ way
        steep = np.abs(slope) >= AWAY
        far = ((self._starts - start) * self._normals).sum(axis=1) / np.where(steep, slope, 1.0)
        spots = start + far[:, None] * way
        near = ((spots >= self._low) & (spots <= self._high)).all(axis=1)
        near &= steep & (far >= AWAY)
        near[own] = False
        for number in np.flatnonzero(near).tolist():
            flat, _ = _flat(self._faces[number], spots[number][None])
            if self._outline(number).contains(Point(flat[0])):
                return True
        return False

    def _outline(self, number: int) -> Polygon:
        known = self._outlines.get(number)
        if known is None:
            flat, _ = _flat(self._faces[number], self._faces[number].points)
            known = self._outlines[number] = shapely.make_valid(Polygon(flat))
            shapely.prepare(known)
        return known


def spots_on(face: FoldedFace) -> Floats:
    """Places on a panel, (n, 3) mm: near its middle, and between that and its corners."""
    flat, _ = _flat(face, face.points)
    shape = shapely.make_valid(Polygon(flat))
    heart = shape.representative_point()
    x = face.points[1] - face.points[0]
    x = x / np.linalg.norm(x)
    y = across(face.normal, x)
    corners = flat[:: max(1, len(flat) // (SPOTS - 1))][: SPOTS - 1]
    middle = np.array([[heart.x, heart.y]])
    places = np.concatenate([middle, (corners + middle) / 2])
    places = places[shapely.contains_xy(shape, places)]
    return np.asarray(face.points[0] + places @ np.array([x, y]))
