"""Letters cut out instead of written: strokes as wide as a slot, with bridges that hold."""

from __future__ import annotations

import numpy as np
import shapely
from shapely.geometry import LineString, Polygon, box
from shapely.geometry.polygon import orient

from jadeite.core.lettering.letters import Floats
from jadeite.core.lettering.words import Written

__all__ = ["BRIDGE", "LOOSE", "stencil"]

LOOSE = 4.0 / 21  # capitals' heights; from memory, so much further apart board holds between

BRIDGE = 0.8  # mm; from memory, board that holds the inside of a letter
DUST = 0.05  # mm²; from memory, nothing smaller is cut
SPECK = 1.2  # mm²; from memory, a smaller island is no shape and falls out
SMOOTH = 3  # setting: parts of a quarter of a round end
TRIES = 4  # setting: an island may hold another


def stencil(words: Written, wide: float) -> tuple[Floats, ...]:
    """What is cut out for words, each (n, 2) float in mm, counter-clockwise, none in another.

    Strokes are ``wide`` mm; what would fall out of the middle of a letter is held by
    a bridge above and one below.
    """
    lines = [LineString(stroke) for stroke in words.strokes]
    cut = shapely.union_all(shapely.buffer(lines, wide / 2, quad_segs=SMOOTH))
    # what is nearer than a bridge is one cut: an accent joins its letter rather than tears it
    cut = cut.buffer(BRIDGE / 2, quad_segs=SMOOTH).buffer(-BRIDGE / 2, quad_segs=SMOOTH)
    for _ in range(TRIES):
        rings = [Polygon(ring) for part in shapely.get_parts(cut) for ring in part.interiors]
        holes = [ring for ring in rings if ring.area >= SPECK]
        cut = shapely.union_all([cut, *(ring for ring in rings if ring.area < SPECK)])
        if not holes:
            break
        cut = shapely.difference(cut, shapely.union_all([_bridge(hole, wide) for hole in holes]))
    parts = [part for part in shapely.get_parts(cut) if part.area > DUST]
    return tuple(np.array(orient(Polygon(part.exterior)).exterior.coords)[:-1] for part in parts)


def _bridge(hole: Polygon, wide: float) -> Polygon:
    """A strip through the middle of an island, over the strokes above and below it."""
    x0, y0, x1, y1 = hole.bounds
    middle = (x0 + x1) / 2
    return box(middle - BRIDGE / 2, y0 - 2 * wide, middle + BRIDGE / 2, y1 + 2 * wide)
