"""Veins where they lie on panels: lines pressed or cut across the facets of a bent piece."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np
import shapely
from shapely.geometry import LineString, Polygon

from jadeite.core.nets.kept import kept
from jadeite.core.nets.model import Floats, Panel, Piece, Vein

__all__ = ["cut_through", "veins_by_panel", "veins_on"]

SPECK = 0.01  # mm; rounding, a shorter part of a vein is none
GRID = 1e-6  # mm; rounding
Net = tuple[tuple[Panel, ...], tuple[Vein, ...]]
# nets that are alike share their panels and veins: the last of them, kept with what they are of
_OF: dict[tuple[int, int], tuple[Net, Mapping[str, tuple[Vein, ...]]]] = {}
MOST_KEPT = 256  # nets, then all are forgotten; setting


def cut_through(piece: Piece) -> float:
    """Length in mm of all veins of a piece that are cut."""
    return sum(float(LineString(vein.points).length) for vein in piece.veins if vein.cut)


def veins_on(veins: Sequence[Vein], panels: Sequence[Panel]) -> tuple[Vein, ...]:
    """What of the veins lies on some panels of their piece."""
    if not veins:
        return ()
    region = shapely.union_all([Polygon(p.outline).buffer(SPECK) for p in panels], grid_size=GRID)
    return tuple(
        Vein(part, vein.trace)
        for vein in veins
        for part in _parts(LineString(vein.points).intersection(region))
    )


@kept
def veins_by_panel(piece: Piece) -> Mapping[str, tuple[Vein, ...]]:
    """The parts of a piece's veins by the panel on which they lie, in the flat piece."""
    if not piece.veins:
        return {}
    key = id(piece.panels), id(piece.veins)
    if key in _OF:
        return _OF[key][1]
    lines = np.array([LineString(vein.points) for vein in piece.veins])
    shapes = np.array([Polygon(panel.outline) for panel in piece.panels])
    which, where = shapely.STRtree(shapes).query(lines, predicate="intersects")
    out: dict[str, tuple[Vein, ...]] = {}
    common = shapely.intersection(lines[which], shapes[where])
    for i, j, both in zip(which.tolist(), where.tolist(), common, strict=True):
        name, trace = piece.panels[j].name, piece.veins[i].trace
        out[name] = (*out.get(name, ()), *(Vein(part, trace) for part in _parts(both)))
    if len(_OF) >= MOST_KEPT:
        _OF.clear()
    _OF[key] = (piece.panels, piece.veins), out
    return out


def _parts(line: shapely.Geometry) -> list[Floats]:
    """The strokes of a line, or of several, (n, 2) float each, mm."""
    merged = shapely.line_merge(line) if line.geom_type == "MultiLineString" else line
    return [
        shapely.get_coordinates(part)
        for part in shapely.get_parts(merged)
        if part.geom_type == "LineString" and part.length > SPECK
    ]
