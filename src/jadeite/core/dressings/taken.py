"""What of a panel's good side is taken up: slots, and what is glued on it or hooks over it."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
import shapely
from shapely.geometry import LineString, Polygon

from jadeite.core.nets.arrivals import Where
from jadeite.core.nets.model import Design, Joint, Kind
from jadeite.core.nets.turns import closed_matrix

__all__ = ["taken_up"]

CLEAR = 1.5  # mm; from memory, between an overlay and what else lies on its panel
THICK = 6.0  # mm; from memory, what lies farther off the panel does not lie on it


def taken_up(design: Design, on: Where) -> shapely.Geometry | None:
    """The part of a panel that an overlay leaves free, in its flat coordinates; None for none."""
    shapes = []
    for opening in design.piece(on[0]).panel(on[1]).openings:
        if opening.kind != "window":
            shape = Polygon(opening.points) if opening.closed else LineString(opening.points)
            shapes.append(shape.buffer(CLEAR, join_style="mitre"))
    back = np.linalg.inv(_closed(design, on))
    for where in _lying_on(design, on):
        outline = design.piece(where[0]).panel(where[1]).outline
        there = back @ _closed(design, where)
        points = outline @ there[:3, :2].T + there[:3, 3]
        if float(points[:, 2].min()) > 0 and float(points[:, 2].max()) < THICK:
            shapes.append(Polygon(points[:, :2]).buffer(CLEAR, join_style="mitre"))
    return shapely.union_all(shapes) if shapes else None


def _closed(design: Design, where: Where) -> np.ndarray:
    return closed_matrix(design.piece(where[0]), design.placements[where[0]], where[1])


def _lying_on(design: Design, on: Where) -> Iterator[Where]:
    """Panels of other pieces that are glued on the good side of a panel, or hook over it."""
    for joint in design.joints:
        if joint.kind in (Kind.GLUE, Kind.TUCK) and _outside(joint, on):
            other = joint.tab if joint.target == on else joint.target
            if other[0] != on[0]:
                yield other


def _outside(joint: Joint, on: Where) -> bool:
    return joint.side == "outside" and on in (joint.tab, joint.target)
