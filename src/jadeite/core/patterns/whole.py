"""Motifs of whole shapes: sized and counted to the window, smaller ones in the gaps."""

from __future__ import annotations

import math

import numpy as np
import shapely
from shapely.geometry import Polygon

from jadeite.core.patterns.grids import (
    Floats,
    Grid,
    arc_steps,
    between,
    fitted,
    grid_of,
    turned,
)

__all__ = ["PHASES", "arches", "blossoms", "drops", "firs", "moons", "stars"]

WAIST = 0.62  # inner radius of a star against its points; from memory
LIT = (0.42, 0.7, 1.0, 1.3, 1.58)  # of half a month, phases from crescent to crescent; from memory
PHASES = len(LIT)
HALF_MOON = 1e-6  # of the radius; rounding, the terminator of the half moon is straight
LEAST_SMALL = 1.9  # mm; from memory, the radius of the smallest star in a gap
LEAST_LARGE = 0.55  # of the size, to which a shape shrinks at a slanting edge; from memory
PETALS = 6  # of a blossom; from memory
TIERS = 3  # of a fir; from memory
NEST = 1.12  # drops of neighbouring columns stand half in one another's gaps; from memory
TRUNK = 0.09  # of a fir's height, half its trunk's width; from memory


def _star() -> Floats:
    """Five points; its box is about the origin, as wide as 1."""
    turns = np.radians(90.0 + np.arange(10) * 36.0)
    radii = np.where(np.arange(10) % 2, WAIST, 1.0)
    unit = np.column_stack([np.cos(turns), np.sin(turns)]) * radii[:, None]
    return _boxed(unit)


def _boxed(points: Floats) -> Floats:
    """Points moved so that the middle of their box is the origin, its width 1."""
    low, high = points.min(axis=0), points.max(axis=0)
    return np.asarray((points - (low + high) / 2) / (high[0] - low[0]))


def _filled(unit: Floats, grid: Grid, area: Polygon, bridge: float) -> list[Polygon]:
    """A shape of width 1 in every cell, as large as the cell and the window let it be."""
    tall = float(np.ptp(unit[:, 1]))
    most = min(grid.wide - bridge, (grid.high - bridge) / tall)
    each = np.minimum(grid.widths - bridge, most)
    return fitted(unit, grid.middles, each, area, LEAST_LARGE * most) if most > 0 else []


def _with_small(
    unit: Floats, grid: Grid, area: Polygon, large: list[Polygon], bridge: float
) -> list[Polygon]:
    """The same with small shapes in the gaps: between four cells, at the edges, in empty ones."""
    out = list(large)
    for places in (grid.corners, grid.between, grid.edges, grid.middles):
        out += between(unit, places, grid.wide, area, out, bridge, 2 * LEAST_SMALL)
    return out


def stars(area: Polygon, size: float, bridge: float, number: int) -> list[Polygon]:
    """Five-pointed stars, small ones in the gaps between large ones."""
    unit = _star() * (1.0 if number % 2 == 0 else -1.0)
    grid = grid_of(area, size, 0.92, least=2)
    large = _filled(unit, grid, area, bridge)
    return _with_small(-unit, grid, area, large, bridge)


def moons(area: Polygon, size: float, bridge: float, number: int) -> list[Polygon]:
    """Phases of the moon, waxing along a row and on from row to row, stars between them."""
    grid = grid_of(area, size, least=2)
    radius = (min(grid.wide, grid.high) - bridge) / 2
    if radius <= 0:
        return []
    out: list[Polygon] = []
    phases = np.array([(column + 2 * row + number) % PHASES for column, row in grid.numbers])
    for phase in range(PHASES):
        places = grid.middles[phases == phase]
        most = np.minimum((grid.widths[phases == phase] - bridge) / 2, radius)
        out += fitted(_moon(1.0, phase), places, most, area, LEAST_LARGE * radius)
    return _with_small(_star(), grid, area, out, bridge)


def _moon(radius: float, phase: int) -> Floats:
    """The lit part: between the limb and half an ellipse, the terminator."""
    lit = LIT[phase]  # 0 new, 1 full, 2 new again
    n = arc_steps(10 * radius, math.pi)
    t = np.linspace(-math.pi / 2, math.pi / 2, n + 1)
    side = 1.0 if lit <= 1 else -1.0
    limb = np.column_stack([side * np.cos(t), np.sin(t)]) * radius
    edge = math.cos(math.pi * (lit if lit <= 1 else 2 - lit))  # 1 new, -1 full
    if abs(edge) < HALF_MOON:
        return limb
    back = np.column_stack([side * edge * np.cos(t), np.sin(t)])[::-1] * radius
    return np.vstack([limb, back[1:-1]])


def blossoms(area: Polygon, size: float, bridge: float, number: int) -> list[Polygon]:
    """Blossoms of six petals round a middle; drops in the gaps between them."""
    grid = grid_of(area, size * 1.5)
    radius = (min(grid.wide, grid.high) - bridge) / 2
    middle = 0.26 * radius
    inner = middle + bridge
    if radius - inner < 2 * bridge:
        return []
    petal = _petal(inner, radius, bridge)
    t = np.linspace(0, 2 * math.pi, 2 * arc_steps(middle, math.pi) + 1)[:-1]
    disc = middle * np.column_stack([np.cos(t), np.sin(t)])
    turn = 30.0 * (number % 2)
    parts = [disc, *(turned(petal, turn + 90 + 360 / PETALS * k) for k in range(PETALS))]
    whole = [
        [Polygon(part * share + place) for part in parts]
        for place in grid.middles
        for share in _shares(parts, place, area)
    ]
    out = [shape for blossom in whole for shape in blossom]
    round_ = np.column_stack([np.cos(t), np.sin(t)])
    return [*out, *between(round_, grid.corners, radius, area, out, bridge, LEAST_SMALL)]


def _shares(parts: list[Floats], place: Floats, area: Polygon) -> list[float]:
    """How large a thing of several parts may be at a place; none where it has no room."""
    reach = np.vstack(parts)
    for share in (1.0, 0.9, 0.8, 0.7):
        if area.covers(shapely.MultiPoint(reach * share + place)):
            return [share]
    return []


def _petal(inner: float, outer: float, bridge: float) -> Floats:
    """A petal along x between two radii, a bridge from its neighbours."""
    sector = math.pi / PETALS
    long = outer - inner
    t = np.linspace(0.0, 1.0, 21)
    half = np.sin(np.pi * t**0.8) ** 0.55
    room = (inner + t * long) * math.sin(sector) - bridge / 2
    wide = np.minimum(half * (outer * math.sin(sector) - bridge / 2), room)
    wide = np.maximum(wide, 0.0)
    x = inner + t * long
    return np.vstack([np.column_stack([x, -wide]), np.column_stack([x, wide])[-2:0:-1]])


def firs(area: Polygon, size: float, bridge: float, number: int) -> list[Polygon]:
    """Fir trees in rows."""
    grid = grid_of(area, size, 1.5)
    unit = _fir()
    return _filled(unit, grid, area, bridge)


def _fir() -> Floats:
    """Three tiers and a trunk; its box is about the origin, as wide as 1."""
    high = 1.5
    right = [(TRUNK * high, 0.0), (TRUNK * high, 0.1 * high)]
    foot = 0.1 * high
    tier = (high - foot) / TIERS
    for k in range(TIERS):
        wide = 0.5 * (1 - 0.24 * k)
        right += [(wide, foot + k * tier)]
        if k < TIERS - 1:
            right += [(0.42 * wide + 0.04, foot + (k + 1) * tier)]
    ring = [*right, (0.0, high), *((-x, y) for x, y in right[::-1])]
    return _boxed(np.array(ring))


def arches(area: Polygon, size: float, bridge: float, number: int) -> list[Polygon]:
    """Rows of pointed arches, side by side."""
    grid = grid_of(area, size * 0.9, 1.9)
    tall = (grid.high - bridge) / (grid.wide - bridge) if grid.wide > bridge else 0.0
    if tall <= 0:
        return []
    # two arcs about the feet of each other, cut to the height that there is
    top = min(math.sqrt(3) / 2, tall * 0.6)
    reach = top**2 + 0.25  # radius about a point on the spring line, so that both meet on top
    middle = reach - 0.5
    t = np.linspace(0.0, math.atan2(top, middle), 13)
    arc = np.column_stack([reach * np.cos(t) - middle, reach * np.sin(t)])
    spring = tall - top
    right = np.vstack([[0.5, 0.0], arc + np.array([0.0, spring])])
    ring = np.vstack([right, (right * (-1, 1))[-2::-1]])
    return _filled(_boxed(ring), grid, area, bridge)


def drops(area: Polygon, size: float, bridge: float, number: int) -> list[Polygon]:
    """Drops of rain, every other column half a drop lower."""
    grid = grid_of(area, size * 0.8, 1.7, least=2)
    unit = _drop()
    tall = float(np.ptp(unit[:, 1]))
    most = min(NEST * grid.wide - bridge, (grid.high - bridge) / tall)
    if most <= 0:
        return []
    ragged = len({len(line) for line in grid.lines}) > 1  # its rows stand in gaps by themselves
    lower = np.array([not ragged and (column + number) % 2 == 1 for column, _ in grid.numbers])
    out = fitted(unit, grid.middles[~lower], most, area, LEAST_LARGE * most)
    y0, y1 = area.bounds[1], area.bounds[3]
    places = grid.middles[lower] - np.array([0.0, grid.high / 2])
    heads = np.unique(places[:, 0])
    ends = [(x, y) for x in heads for y in (y0 + grid.high / 4, y1 - grid.high / 4)]
    for at in (places, np.array(ends).reshape(-1, 2)):
        out += between(unit, at, most, area, out, bridge, 2 * LEAST_SMALL)
    return out


def _drop() -> Floats:
    """Round below, pointed above; its box is about the origin, as wide as 1."""
    t = np.linspace(-math.pi * 0.85, -math.pi * 0.15, 17)
    belly = 0.5 * np.column_stack([np.cos(t), np.sin(t)])
    right_end = belly[-1]
    s = np.linspace(0.0, 1.0, 9)[1:]
    flank = np.column_stack([right_end[0] * (1 - s) ** 0.7, right_end[1] + s * 1.25])
    ring = np.vstack([belly, flank, (flank * (-1, 1))[-2::-1]])
    return _boxed(ring)
