"""Things that stand in the hollow, and how far they keep from the panels."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property
from itertools import pairwise

import numpy as np
import shapely
from shapely.geometry import Polygon

from jadeite.core.folding.kinematics import FoldedFace
from jadeite.core.nets.model import Floats
from jadeite.core.nets.turns import across
from jadeite.core.solid import Form

__all__ = [
    "Body",
    "ball_body",
    "body_gap",
    "box_body",
    "cylinder_body",
    "face_clearance",
    "round_gap",
]

FACETS = 24  # of a cylinder in pictures; from memory
TOUCH = 2e-6  # mm; rounding, a face may touch a block
BALL_FACETS = 12  # around a ball in pictures; from memory


@dataclass(frozen=True, eq=False)
class Body:
    """A convex solid: ``faces`` are (n, 3) corners, counter-clockwise from outside.

    ``poured`` stands for loose fill, which takes whatever way there is; ``fixed`` belongs to
    the made thing itself, as a pearl.
    """

    name: str
    faces: tuple[Floats, ...]
    form: Form
    size: tuple[float, float, float]
    pose: Floats
    poured: bool = False
    fixed: bool = False

    @cached_property
    def normals(self) -> Floats:
        """Unit outward normal of every face, (n, 3)."""
        a, b, c = (np.array([p[i] for p in self.faces]) for i in range(3))
        out = np.cross(b - a, c - b)
        return np.asarray(out / np.linalg.norm(out, axis=1, keepdims=True))


def box_body(name: str, size: tuple[float, float, float], centre: Floats) -> Body:
    """A block with its edges along the axes; mm.

    ``centre`` is (3,) float, mm.
    """
    x, y, z = (s / 2 for s in size)
    c = np.array([[sx * x, sy * y, sz * z] for sz in (-1, 1) for sy in (-1, 1) for sx in (-1, 1)])
    c = c + centre
    quads = ((0, 2, 3, 1), (4, 5, 7, 6), (0, 1, 5, 4), (2, 6, 7, 3), (0, 4, 6, 2), (1, 3, 7, 5))
    pose = np.eye(4)
    pose[:3, 3] = centre
    return Body(name, tuple(c[list(q)] for q in quads), Form.BLOCK, size, pose)


def cylinder_body(
    name: str, diameter: float, height: float, centre: Floats, axis: int, facets: int = FACETS
) -> Body:
    """A cylinder along axis 0, 1 or 2, faceted on the outside; mm.

    ``pose`` carries the body centred on the origin, its axis along z.

    ``centre`` is (3,) float, mm.
    """
    turn = [
        np.array([[0.0, 0.0, 1.0], [1.0, 0.0, 0.0], [0.0, 1.0, 0.0]]),
        np.array([[0.0, 1.0, 0.0], [0.0, 0.0, 1.0], [1.0, 0.0, 0.0]]),
        np.eye(3),
    ][axis]
    radius = diameter / 2 / math.cos(math.pi / facets)
    angles = (np.arange(facets) + 0.5) * 2 * math.pi / facets
    ring = np.column_stack([radius * np.cos(angles), radius * np.sin(angles)])
    low = np.column_stack([ring, np.full(facets, -height / 2)]) @ turn.T + centre
    top = np.column_stack([ring, np.full(facets, height / 2)]) @ turn.T + centre
    after = np.roll(np.arange(facets), -1)
    sides = [
        np.array([low[i], low[j], top[j], top[i]])
        for i, j in zip(range(facets), after, strict=True)
    ]
    pose = np.eye(4)
    pose[:3, :3], pose[:3, 3] = turn, centre
    return Body(name, (low[::-1], top, *sides), Form.CYLINDER, (diameter, diameter, height), pose)


def ball_body(name: str, diameter: float, centre: Floats, facets: int = BALL_FACETS) -> Body:
    """A ball, faceted on the outside along its meridians and parallels; mm.

    ``centre`` is (3,) float, mm.
    """
    belts = facets // 2
    # facets touch the ball at their middles, so their corners lie outside of it
    radius = diameter / 2 / (math.cos(math.pi / facets) * math.cos(math.pi / belts / 2))
    turns = np.arange(facets) * 2 * math.pi / facets
    rings = [
        np.column_stack(
            [
                radius * math.cos(up) * np.cos(turns),
                radius * math.cos(up) * np.sin(turns),
                np.full(facets, radius * math.sin(up)),
            ]
        )
        + centre
        for up in (np.arange(1, belts) / belts - 0.5) * math.pi
    ]
    poles = np.array([[0.0, 0.0, -radius], [0.0, 0.0, radius]]) + centre
    faces = []
    for i in range(facets):
        j = (i + 1) % facets
        faces.append(np.array([poles[0], rings[0][j], rings[0][i]]))
        faces += [np.array([low[i], low[j], high[j], high[i]]) for low, high in pairwise(rings)]
        faces.append(np.array([poles[1], rings[-1][i], rings[-1][j]]))
    pose = np.eye(4)
    pose[:3, 3] = centre
    return Body(name, tuple(faces), Form.BALL, (diameter,) * 3, pose)


def face_clearance(face: FoldedFace, low: Floats, high: Floats) -> float:
    """Room in mm between a face's surface and an axis-parallel block.

    Negative when the face, with half its thickness, runs into the block: then
    it is how deep.  Where the face's plane passes through the block, both
    surfaces of the ply are cut to the block, and anything left runs into it.

    ``low`` and ``high`` are corners, (3,) float, mm.
    """
    half = face.thickness / 2
    box_low, box_high = face.points.min(axis=0) - high, low - face.points.max(axis=0)
    apart = max(float(box_low.max()), float(box_high.max()))
    if apart >= half:  # the common case: apart along an axis
        return apart - half
    corners = np.array(
        [[x, y, z] for x in (low[0], high[0]) for y in (low[1], high[1]) for z in (low[2], high[2])]
    )
    heights = (corners - face.points[0]) @ face.normal
    beside = max(float(heights.min()), float(-heights.max()))
    if beside >= half:
        return beside - half
    for sign in (-half, half):
        points = face.points + face.normal * sign
        for axis in range(3):
            for limit, way in ((low[axis] + TOUCH, 1.0), (high[axis] - TOUCH, -1.0)):
                points = _beyond(points, axis, limit, way)
        if len(points):
            return min(max(apart, beside) - half, -TOUCH)
    return 0.0


def body_gap(
    faces: tuple[FoldedFace, ...], low: Floats, high: Floats
) -> tuple[float, FoldedFace | None]:
    """Least room between a block and any face, with that face; mm.

    ``low`` and ``high`` are corners, (3,) float, mm.
    """
    best: tuple[float, FoldedFace | None] = (math.inf, None)
    for face in faces:
        room = face_clearance(face, low, high)
        if room < best[0]:
            best = (room, face)
    return best


def ball_clearance(face: FoldedFace, centre: Floats, radius: float) -> float:
    """Room in mm between a face's surface and a ball; negative is how deep it runs in.

    ``centre`` is (3,) float, mm.
    """
    height = float((centre - face.points[0]) @ face.normal)
    axis = face.points[1] - face.points[0]
    x = axis / np.linalg.norm(axis)
    frame = np.column_stack([x, across(face.normal, x)])
    flat = (face.points - centre) @ frame
    beside = _nearest(flat, np.zeros(2))
    return math.hypot(max(abs(height) - face.thickness / 2, 0.0), beside) - radius


def cylinder_clearance(face: FoldedFace, centre: Floats, radius: float, height: float) -> float:
    """Room in mm between a face's surface and an upright cylinder.

    Both surfaces of the ply are cut to the cylinder's height, and the part
    nearest to its axis is measured; a level face above or below counts by its
    distance from the end.

    ``centre`` is (3,) float, mm.
    """
    low, high = centre[2] - height / 2, centre[2] + height / 2
    best = math.inf
    for sign in (-1.0, 1.0):
        points = face.points + face.normal * (sign * face.thickness / 2)
        z = points[:, 2]
        if z.min() >= high - 1e-9 or z.max() <= low + 1e-9:
            best = min(best, max(float(z.min() - high), float(low - z.max()), 0.0))
            continue
        for limit, way in ((low, 1.0), (high, -1.0)):
            points = _beyond(points, 2, limit, way)
        if len(points):
            best = min(best, _nearest(points[:, :2], centre[:2]) - radius)
    return best


def _beyond(points: Floats, axis: int, limit: float, way: float) -> Floats:
    """The part of a polygon in space above (way 1) or below (way -1) a limit along an axis."""
    if not len(points):
        return points
    h = (points[:, axis] - limit) * way
    if (h >= 0).all():
        return points
    out = []
    for i in range(len(points)):
        j = (i + 1) % len(points)
        if h[i] >= 0:
            out.append(points[i])
        if (h[i] >= 0) != (h[j] >= 0):
            out.append(points[i] + (points[j] - points[i]) * (h[i] / (h[i] - h[j])))
    return np.array(out) if len(out) else np.zeros((0, 3))


def _nearest(points: Floats, spot: Floats) -> float:
    """Distance of a spot from a polygon or what is left of one in the plane."""
    if len(points) > 2:
        return float(Polygon(points).distance(shapely.Point(spot)))
    return float(np.linalg.norm(points - spot, axis=1).min())


def round_gap(
    faces: tuple[FoldedFace, ...], form: Form, centre: Floats, size: tuple[float, float, float]
) -> tuple[float, FoldedFace | None]:
    """Least room between a ball or an upright cylinder and any face, with that face; mm.

    ``centre`` is (3,) float, mm.
    """
    best: tuple[float, FoldedFace | None] = (math.inf, None)
    if not faces:
        return best
    reach = np.array([size[0], size[0], size[2]]) / 2
    points = np.concatenate([face.points for face in faces])
    starts = np.cumsum([0, *(len(face.points) for face in faces[:-1])])
    low, high = np.minimum.reduceat(points, starts), np.maximum.reduceat(points, starts)
    gaps = np.maximum(low - centre - reach, centre - reach - high)
    plies = np.array([face.thickness for face in faces])
    clear = gaps.max(axis=1) > plies  # the common case: well clear along an axis
    # what pierces an end of a cylinder may come nearer than its height tells
    near = gaps.max(axis=1) if form is Form.BALL else gaps[:, :2].max(axis=1)
    least = np.where(clear, gaps.max(axis=1), near) - plies
    for i in np.argsort(least, kind="stable").tolist():
        if least[i] >= best[0]:
            break  # those that follow are no nearer, by an axis alone
        face = faces[i]
        if clear[i]:
            room = float(least[i])
        elif form is Form.BALL:
            room = ball_clearance(face, centre, size[0] / 2)
        else:
            room = cylinder_clearance(face, centre, size[0] / 2, size[2])
        if room < best[0]:
            best = (room, face)
    return best
