"""What lies behind a panel: tabs and feet that are glued to it, walls of others that end at it."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
from shapely.geometry import MultiPoint

from jadeite.core.nets.model import Design, Floats, Kind
from jadeite.core.nets.turns import closed_matrix

__all__ = ["COVERED", "Where", "glued_to", "standing_at"]

COVERED = 1e-3  # mm2; rounding, what covers less only touches
SQUARE = 0.7  # cosine between two faces, from which one lies along the other; from memory

Where = tuple[str, str]


def glued_to(design: Design, where: Where) -> list[Floats]:
    """Where things are glued to a panel: their outlines in its flat plane, (n, 2)."""
    out = []
    target = design.piece(where[0])
    onto = closed_matrix(target, design.placements[where[0]], where[1])
    for joint in design.joints:
        if joint.target != where or joint.kind.passes or joint.kind is Kind.SLIDE:
            continue
        carrier = design.piece(joint.tab[0])
        at = closed_matrix(carrier, design.placements[joint.tab[0]], joint.tab[1])
        outline = carrier.panel(joint.tab[1]).outline
        out.append((outline @ at[:3, :2].T + at[:3, 3] - onto[:3, 3]) @ onto[:3, :2])
    return out


def standing_at(design: Design, where: Where, deep: float) -> Iterator[Floats]:
    """Where walls of other pieces come within ``deep`` mm of the inner face of a panel.

    Outlines in its flat plane, (n, 2) float, as wide as those walls are thick.
    """
    target = design.piece(where[0])
    onto = closed_matrix(target, design.placements[where[0]], where[1])
    inward = -1.0 if target.good_side == "outside" else 1.0
    limit = target.board.thickness / 2 + deep
    for piece in design.pieces:
        for panel in piece.panels if piece.name != where[0] else ():
            at = closed_matrix(piece, design.placements[piece.name], panel.name)
            if abs(float(at[:3, 2] @ onto[:3, 2])) > SQUARE:
                continue
            points = panel.outline @ at[:3, :2].T + at[:3, 3] - onto[:3, 3]
            depth = inward * (points @ onto[:3, 2])
            if depth.min() > limit or depth.max() < 0.0:
                continue
            near = _within(np.column_stack([points @ onto[:3, :2], depth]), limit)
            wall = MultiPoint(near).convex_hull.buffer(piece.board.thickness / 2)
            yield np.array(wall.exterior.coords)[:-1]


def _within(points: Floats, limit: float) -> Floats:
    """Of a polygon (n, 3) what lies under a depth, as corners (m, 2)."""
    out = []
    for a, b in zip(points, np.roll(points, -1, axis=0), strict=True):
        if a[2] <= limit:
            out.append(a[:2])
        if (a[2] <= limit) != (b[2] <= limit):
            share = (limit - a[2]) / (b[2] - a[2])
            out.append(a[:2] + share * (b[:2] - a[:2]))
    return np.array(out)
