"""A window filled with a motif: clipped to its outline, and measured, not hoped.

Whether bridges hold is found by erosion: where board is worn off by half a
bridge all round, it must still be one piece round as many cut-outs as before.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import Polygon
from shapely.geometry.polygon import orient

from jadeite.core.patterns.motifs import Motif

__all__ = [
    "BRIDGE",
    "LEAST_CELL",
    "MOST_CELL",
    "USUAL_CELL",
    "Filled",
    "fill",
    "holds_together",
    "open_share",
]

Floats = NDArray[np.float64]
Shapes = NDArray[np.object_]  # of shapely's polygons

BRIDGE = 1.5  # mm between two cut-outs; from memory
LEAST_HOLE = 2.0  # mm; from memory, a narrower cut-out tears
LEAST_CELL, MOST_CELL, USUAL_CELL = 7.0, 60.0, 14.0  # mm; from memory
GRID = 1e-6  # mm; rounding
WORN = 0.999  # of half a bridge; rounding, erosion at the very width closes nothing
FINE = 16  # setting; parts of a quarter round when a shape is worn off
POLYGON = 3  # shapely's number of the type
SHORT = 5e-3  # mm; rounding, a cell that ends at the window's edge has no shorter side
STRAIGHT = 1e-3  # mm; rounding, corners flatter than this are left out


@dataclass(frozen=True, eq=False)
class Filled:
    """Cut-outs (n, 2) in mm, counter-clockwise, the first corner not repeated."""

    holes: tuple[Floats, ...]

    @property
    def area(self) -> float:
        """Of all cut-outs together, in mm²."""
        return sum(map(_area, self.holes))


def fill(
    window: Floats,
    motif: Motif | None,
    size: float,
    number: int = 0,
    bridge: float = BRIDGE,
    round_: tuple[float, float] | None = None,
) -> Filled:
    """The cut-outs of a window.

    Parameters
    ----------
    window : (n, 2) float
        Outline in mm, counter-clockwise.
    motif : Motif or None
        One of ``MOTIFS``, or the maker's own; None for the whole window.
    size : float
        mm, of one cell of the motif, about: whole cells fill the window.
    number : int
        Varies the motif from panel to panel.
    bridge : float
        mm of board between two cut-outs, at least.
    round_ : (2,) float, optional
        Where x = 0 lies along all walls together, and how long these are, mm: a motif that
        goes on runs round them as one.
    """
    area = Polygon(window)
    if motif is None:
        return _filled(np.array([area]), bridge)
    if round_ is not None and motif.goes_on:
        start, whole = round_
        _, low, _, high = area.bounds
        band = shapely.box(-start, low, whole - start, high)
        shapes = np.array(motif.draw(band, size, bridge, 0))
        shapes = shapes[shapely.intersects(area.envelope, shapes)] if len(shapes) else shapes
    else:
        shapes = np.array(motif.draw(area, size, bridge, number))
    if not len(shapes):
        return Filled(())
    shapely.prepare(area)
    if not motif.clipped:
        return _filled(shapes[shapely.covers(area, shapes)], bridge)
    whole = shapely.covers(area, shapes)
    crossed = shapes[~whole & shapely.intersects(area, shapes)]
    parts = shapely.get_parts(shapely.intersection(crossed, area))
    # a clipped cell may end in a sliver: what is narrower than a cut-out may be is left as board
    slim = shapely.buffer(parts, -LEAST_HOLE / 2, join_style="mitre")
    again = shapely.buffer(slim, LEAST_HOLE / 2, join_style="mitre", mitre_limit=20.0)
    met = shapely.intersection(again, parts)
    # plain overlay may lose a shape that shares its sides with another; a grid does not
    lost = shapely.area(met) < shapely.area(slim)
    met[lost] = shapely.intersection(again[lost], parts[lost], grid_size=GRID)
    kept = shapely.get_parts(met)
    kept = kept[shapely.get_type_id(kept) == POLYGON]
    return _filled(np.concatenate([shapes[whole], kept]), bridge)


def _filled(shapes: Shapes, bridge: float) -> Filled:
    """Those of some shapes that are wide enough, and far enough from one another."""
    return Filled(tuple(map(_ring, _apart(shapes[_wide(shapes)], bridge))))


def _wide(shapes: Shapes) -> NDArray[np.bool_]:
    """Whether each cut-out is somewhere as wide as it must be."""
    worn = shapely.buffer(shapes, -LEAST_HOLE / 2 * WORN, quad_segs=FINE)
    wide = ~shapely.is_empty(worn)
    slim = shapely.simplify(shapes[~wide], STRAIGHT)  # erosion may lose one with corners in a line
    worn = shapely.buffer(slim, -LEAST_HOLE / 2 * WORN, quad_segs=FINE)
    wide[~wide] = ~shapely.is_empty(worn)
    return np.asarray(wide)


def _apart(shapes: Shapes, bridge: float) -> list[Polygon]:
    """Cut-outs of which none comes closer than a bridge to one that was kept before."""
    near: dict[int, set[int]] = {}
    for i, j in shapely.STRtree(shapes).query(shapes, "dwithin", bridge * WORN).T.tolist():
        if i != j:
            near.setdefault(i, set()).add(j)
    kept: set[int] = set()
    for i in range(len(shapes)):
        if not near.get(i, set()) & kept:
            kept.add(i)
    return [shapes[i] for i in sorted(kept)]


def _ring(shape: Polygon) -> Floats:
    simple = orient(shapely.remove_repeated_points(shape.simplify(STRAIGHT), SHORT))
    return np.asarray(np.array(simple.exterior.coords)[:-1])


def holds_together(outline: Floats, holes: Sequence[Floats], bridge: float = BRIDGE) -> bool:
    """Whether no bridge of a panel is narrower than ``bridge`` mm, by erosion.

    ``outline`` and each hole are (n, 2) float, mm.
    """
    board = Polygon(outline, holes)
    worn = board.buffer(-bridge / 2 * WORN)
    return isinstance(worn, Polygon) and len(worn.interiors) == len(holes)


def open_share(outline: Floats, holes: Sequence[Floats]) -> float:
    """Share of a panel through which light comes, 0 to 1.

    ``outline`` and each hole are (n, 2) float, mm.
    """
    return sum(map(_area, holes)) / _area(outline)


def _area(ring: Floats) -> float:
    """By the shoelace formula, in mm²."""
    x, y = ring.T
    u, v = np.concatenate([ring[1:], ring[:1]]).T
    return abs(float(x @ v - y @ u)) / 2
