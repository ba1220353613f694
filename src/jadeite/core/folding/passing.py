"""Whether things can be put in and taken out: what stands in their straight way to the mouth."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence, Set
from dataclasses import dataclass

import numpy as np
import shapely
from shapely.affinity import translate
from shapely.geometry import MultiPoint, Polygon

from jadeite.core.folding.bodies import Body
from jadeite.core.folding.kinematics import folded_faces
from jadeite.core.nets.arrivals import When
from jadeite.core.nets.model import Design, Floats
from jadeite.core.solid import Form

__all__ = ["Obstacle", "in_the_way"]

ROUGH = 0.05  # mm; from memory, what overlaps by less is brushed past
SQUARE = 0.999  # cosine; rounding, a mouth that looks along an axis
EDGE_ON = 1e-6  # cosine; rounding, a panel seen from its edge
LEAST = 0.5  # mm2; rounding, of an overlap
AROUND = 96  # places on a circle; from memory, within 0.05 mm of one of 90 mm


@dataclass(frozen=True)
class Obstacle:
    """A panel in the way of a body, and how far it reaches into that way, in mm."""

    body: str
    piece: str
    panel: str
    depth: float


@dataclass(frozen=True, eq=False)
class _Panel:
    """A panel that stands while things go in: corners and holes in space."""

    piece: str
    name: str
    outline: Floats
    holes: list[Floats]


_Part = tuple[str, str, Polygon]  # piece, panel, and what it takes of the way


def in_the_way(
    design: Design,
    bodies: Sequence[Body],
    opened: Set[tuple[str, str]] = frozenset(),
    matrices: Mapping[str, Mapping[str, Floats]] | None = None,
) -> list[Obstacle]:
    """Panels that a body meets when it is drawn straight out of the mouth; the worst of each body.

    ``opened`` are the (piece, panel) whose folds are made after filling: they
    stand open, with what hangs on them, and lids are off.  A body is out once
    its lower end is past the rim; a handle above that does no harm.

    ``matrices`` are (4, 4) float, by piece and panel.
    """
    if not bodies:
        return []
    way = np.array(design.mouth) / np.linalg.norm(design.mouth)
    across = np.linalg.svd(way[None])[2][1:]
    away = _away(design, opened)
    faces = [f for f in folded_faces(design, matrices) if (f.piece, f.panel) not in away]
    if not faces:
        return []
    slits = {(p.name, q.name) for p in design.pieces for q in p.panels
             if not all(o.closed for o in q.openings)}  # fmt: skip
    highest = float((np.concatenate([f.points for f in faces]) @ way).max())
    level = np.array([f.normal for f in faces]) @ way
    panels = []
    for face, lies in zip(faces, np.abs(level) >= EDGE_ON, strict=True):
        if not lies:
            continue  # a wall beside the way: it takes nothing of it
        where, holes = (face.piece, face.panel), list(face.openings)
        if where in slits:
            panel = design.piece(face.piece).panel(face.panel)
            holes = [h for h, o in zip(holes, panel.openings, strict=True) if o.closed]
        panels.append(_Panel(*where, face.points, holes))
    flat = [panel.outline @ across.T for panel in panels]
    least = np.array([f.min(axis=0) for f in flat]).reshape(-1, 2)
    most = np.array([f.max(axis=0) for f in flat]).reshape(-1, 2)
    rim = highest
    if way[2] > 0 and "rim" in design.surfaces:
        rim = design.surfaces.get("mouth", design.surfaces["rim"])
    hollow = np.array(design.room.centre) @ across.T
    out = []
    for body in bodies:
        points = _points(body)
        low, size = _span(body, points, way)
        high = rim + size
        shadow = _shadow(body, points, across)

        def parts_near(shade: Polygon, low: float = low, high: float = high) -> list[_Part]:
            x0, y0, x1, y1 = shade.bounds
            near = (most > (x0, y0)).all(axis=1) & (least < (x1, y1)).all(axis=1)
            made = (_part(panels[i], way, across, low + ROUGH, high) for i in np.flatnonzero(near))
            return [part for part in made if part is not None]

        found = _met(body.name, parts_near(shadow), shadow)
        if found is None:
            continue
        turns = body.form is not Form.BALL and np.abs(way).max() <= SQUARE
        others = [shadow, *_end_on(points, way, across)] if turns else [shadow]
        for other in others:  # it may be moved to the middle, and turned to a slanting mouth
            aside = hollow - np.array(other.centroid.coords[0])
            moved = translate(other, *aside.tolist())
            if _met(body.name, parts_near(moved), moved) is None:
                break
        else:
            out.append(found)
    return out


def _away(design: Design, opened: Set[tuple[str, str]]) -> set[tuple[str, str]]:
    """Panels that leave the way free: lids, and what stands open with all that hangs on it."""
    out: set[tuple[str, str]] = set()
    off = design.arrivals.lids
    for piece in design.pieces:
        arrival = design.arrivals.of(piece.name)
        early = arrival is not None and arrival.when < When.FOLDED
        if piece.name in off or (arrival and early and arrival.onto in opened):
            out |= {(piece.name, panel.name) for panel in piece.panels}
            continue
        hang = {name for on, name in opened if on == piece.name}
        for fold in piece.tree if hang else ():
            hang |= {fold.child} if fold.parent in hang else set()
        out |= {(piece.name, name) for name in hang}
    return out


def _points(body: Body) -> Floats:
    """Corners of a body, (n, 3); of a cylinder, places on both circles: facets lie outside."""
    if body.form is not Form.CYLINDER:
        return np.concatenate(body.faces)
    turns = np.arange(AROUND) * 2 * math.pi / AROUND
    radius, half = body.size[0] / 2, body.size[2] / 2
    ring = np.column_stack([radius * np.cos(turns), radius * np.sin(turns), np.full(AROUND, half)])
    local = np.vstack([ring, ring * (1.0, 1.0, -1.0)])
    return np.asarray(local @ body.pose[:3, :3].T + body.pose[:3, 3])


def _span(body: Body, points: Floats, way: Floats) -> tuple[float, float]:
    """Where a body begins along a direction, and how long it is there."""
    if body.form is Form.BALL:  # its picture's facets lie outside of it
        return float(body.pose[:3, 3] @ way) - body.size[0] / 2, body.size[0]
    along = points @ way
    return float(along.min()), float(np.ptp(along))


def _shadow(body: Body, points: Floats, across: Floats) -> Polygon:
    """What a body covers, seen along the way, less what it may brush past."""
    if body.form is Form.BALL:
        middle = shapely.Point(*(across @ body.pose[:3, 3]))
        return middle.buffer(body.size[0] / 2 - ROUGH, quad_segs=AROUND // 4)
    return MultiPoint(points @ across.T).convex_hull.buffer(-ROUGH)


def _end_on(points: Floats, way: Floats, across: Floats) -> list[Polygon]:
    """Shadows of a body turned so that an axis of space, along which it stands, lies in the way."""
    frame = np.vstack([across, way])
    rel = points - points.mean(axis=0)
    turned = (rel[:, np.roll(np.arange(3), k)] @ frame for k in range(3))
    return [MultiPoint(t @ across.T).convex_hull.buffer(-ROUGH) for t in turned]


def _part(panel: _Panel, way: Floats, across: Floats, low: float, high: float) -> _Part | None:
    """What a panel takes of the way between two heights, seen along it."""
    part = _between(panel.outline, way, low, high)
    if len(part) < 3:
        return None
    flat = Polygon(part @ across.T).buffer(0)
    for hole in panel.holes:
        flat = flat.difference(Polygon(hole @ across.T).buffer(0))
    return panel.piece, panel.name, flat


def _met(body: str, parts: Sequence[_Part], shadow: Polygon) -> Obstacle | None:
    """The panel that reaches farthest into a shadow, seen along the way."""
    worst: Obstacle | None = None
    for piece, panel, flat in parts:
        met = flat.intersection(shadow)
        if met.area < LEAST:
            continue
        spots = [shapely.Point(p) for p in shapely.get_coordinates(met)]
        spots.append(shapely.Point(shapely.maximum_inscribed_circle(met).coords[0]))
        depth = max(float(shadow.exterior.distance(spot)) for spot in spots) + ROUGH
        if worst is None or depth > worst.depth:
            worst = Obstacle(body, piece, panel, depth)
    return worst


def _between(points: Floats, way: Floats, low: float, high: float) -> Floats:
    """What of a polygon in space, (n, 3), lies between two heights along a direction."""
    for sign, level in ((1.0, low), (-1.0, -high)):
        height = sign * (points @ way) - level
        kept: list[Floats] = []
        for i in range(len(points)):
            a, b = height[i - 1], height[i]
            if a * b < 0:
                kept.append(points[i - 1] + (points[i] - points[i - 1]) * a / (a - b))
            if b >= 0:
                kept.append(points[i])
        points = np.array(kept).reshape(-1, 3)
        if len(points) < 3:
            break
    return points
