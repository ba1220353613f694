"""Whether things can be put in and taken out: what stands in their straight way to the mouth."""

from __future__ import annotations

from collections.abc import Mapping, Sequence, Set
from dataclasses import dataclass

import numpy as np
import shapely
from shapely.affinity import translate
from shapely.geometry import MultiPoint, Polygon

from jadeite.core.folding.bodies import Body
from jadeite.core.folding.kinematics import closed_matrices, transform
from jadeite.core.nets.model import Design, Floats

__all__ = ["Obstacle", "in_the_way"]

ROUGH = 0.05  # mm; from memory, what overlaps by less is brushed past
SQUARE = 0.999  # cosine; rounding, a mouth that looks along an axis
LEAST = 0.5  # mm2; rounding, of an overlap


@dataclass(frozen=True)
class Obstacle:
    """A panel in the way of a body, and how far it reaches into that way, in mm."""

    body: str
    piece: str
    panel: str
    depth: float


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
    """
    matrices = closed_matrices(design) if matrices is None else matrices
    off = set(design.lifts)
    while more := {name for name, (on, _) in design.mounts.items() if on in off} - off:
        off |= more
    way = np.array(design.mouth) / np.linalg.norm(design.mouth)
    across = np.linalg.svd(way[None])[2][1:]
    panels = []
    for piece in design.pieces:
        if piece.name in off or design.laid_flat.get(piece.name) in opened:
            continue
        hang = {name for on, name in opened if on == piece.name}
        for fold in piece.tree:
            hang |= {fold.child} if fold.parent in hang else set()
        for panel in piece.panels:
            if panel.name in hang:
                continue
            m = matrices[piece.name][panel.name]
            outline = transform(m, panel.outline)
            holes = [transform(m, o.points) for o in panel.openings if o.closed]
            panels.append((piece.name, panel.name, outline, holes))
    if not panels:
        return []
    if way[2] > 0 and "rim" in design.surfaces:
        rim = design.surfaces.get("mouth", design.surfaces["rim"])
    else:
        rim = max(float((outline @ way).max()) for *_, outline, _ in panels)
    hollow = np.array(design.hollow.centre) @ across.T
    out = []
    for body in bodies:
        points = np.concatenate(body.faces)
        along = points @ way
        low, high = float(along.min()), rim + float(np.ptp(along))
        shadow = MultiPoint(points @ across.T).convex_hull.buffer(-ROUGH)
        parts = []
        for piece_name, panel_name, outline, holes in panels:
            part = _between(outline, way, low + ROUGH, high)
            if len(part) < 3:
                continue
            flat = Polygon(part @ across.T).buffer(0)
            for hole in holes:
                flat = flat.difference(Polygon(hole @ across.T).buffer(0))
            parts.append((piece_name, panel_name, flat))
        found = _met(body.name, parts, shadow)
        if found is None:
            continue
        others = [shadow] if np.abs(way).max() > SQUARE else [shadow, *_end_on(points, way, across)]
        for other in others:  # it may be moved to the middle, and turned to a slanting mouth
            aside = hollow - np.array(other.centroid.coords[0])
            if _met(body.name, parts, translate(other, *aside.tolist())) is None:
                break
        else:
            out.append(found)
    return out


def _end_on(points: Floats, way: Floats, across: Floats) -> list[Polygon]:
    """Shadows of a body turned so that an axis of space, along which it stands, lies in the way."""
    frame = np.vstack([across, way])
    rel = points - points.mean(axis=0)
    turned = (rel[:, np.roll(np.arange(3), k)] @ frame for k in range(3))
    return [MultiPoint(t @ across.T).convex_hull.buffer(-ROUGH) for t in turned]


def _met(body: str, parts: Sequence[tuple[str, str, Polygon]], shadow: Polygon) -> Obstacle | None:
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
