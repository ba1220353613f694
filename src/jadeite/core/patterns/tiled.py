"""Motifs that go on over a whole window, and are cut off at its edge.

The width of a cell is such that whole cells fill the window from side to side.
"""

from __future__ import annotations

import math

import numpy as np
import shapely
from shapely.geometry import Polygon

from jadeite.core.patterns.grids import Floats, arc_steps, rows_across, turned

__all__ = ["PLACES", "facets", "hexagons", "lattice", "rays", "ripples", "scales", "waves"]

PLACES = 3  # of the middle of ripples, from left to right; from memory
SPOKES = 5  # that hold the rings of ripples; from memory
RAY, RAY_FOOT = 1.5, 2.5  # width of a ray against the size, and mm at its foot; from memory
WIDEST_RAY = 1.7  # against the size; from memory, a wider ray leaves bars that are too long
RING = 0.5  # of the cell's size that a ring of ripples is wide; from memory
BETWEEN_RINGS = 0.16  # of the cell's size that is left between two rings; from memory
SWELL = 0.16  # of the wave's length that it rises and falls; from memory
BAND = 0.5  # of the cell's size that a band of a wave is high; from memory


def _whole_cells(area: Polygon, size: float) -> float:
    """The width of a cell so that whole ones fill the window from side to side."""
    wide = float(area.bounds[2] - area.bounds[0])
    return wide / max(1, round(wide / size))


def _repeated(points: Floats, places: list[tuple[int, int, float, float]]) -> list[Polygon]:
    """The same outline (n, 2) at many places."""
    at = np.array([(x, y) for _, _, x, y in places]).reshape(-1, 1, 2)
    return list(shapely.polygons(points[None] + at)) if len(places) else []


def lattice(area: Polygon, size: float, bridge: float, number: int) -> list[Polygon]:
    """Rhombs between bars that cross."""
    size = _whole_cells(area, size)
    half = np.array([size * 0.5, size * 0.8])
    # a bar as wide as a bridge takes half of it from every side of a rhomb
    keep = 1 - bridge / 2 * float(np.hypot(*half)) / float(half[0] * half[1])
    if keep <= 0:
        return []
    rhomb = np.array([[1, 0], [0, 1], [-1, 0], [0, -1]]) * half * keep
    lift = half[1] * (number % 2)
    return _repeated(rhomb + np.array([0.0, lift]), rows_across(area, size, float(half[1])))


def hexagons(area: Polygon, size: float, bridge: float, number: int) -> list[Polygon]:
    """A honeycomb; with the next number it stands on its points the other way."""
    size = size if number % 2 else _whole_cells(area, size)
    inradius = size / 2
    keep = (inradius - bridge / 2) / math.cos(math.pi / 6)
    if keep <= 0:
        return []
    turns = np.radians(np.arange(6) * 60.0 + 30.0)
    ring = keep * np.column_stack([np.cos(turns), np.sin(turns)])
    high = size * math.sqrt(3) / 2
    if number % 2:
        x0, y0, x1, y1 = area.bounds
        places = [(i, j, y, x) for i, j, x, y in
                  rows_across(shapely.box(y0, x0, y1, x1), size, high)]  # fmt: skip
        return _repeated(ring[:, ::-1], places)
    return _repeated(ring, rows_across(area, size, high))


def facets(area: Polygon, size: float, bridge: float, number: int) -> list[Polygon]:
    """Triangles point up and down, side by side."""
    size = _whole_cells(area, size * 1.3)
    high = size * math.sqrt(3) / 2
    inradius = high / 3
    if inradius <= bridge / 2:
        return []
    triangle = np.array([[-size / 2, -inradius], [size / 2, -inradius], [0.0, 2 * inradius]])
    triangle *= (inradius - bridge / 2) / inradius
    x0, y0, x1, y1 = area.bounds
    rows, columns = math.ceil((y1 - y0) / high), math.ceil((x1 - x0) / size)
    foot = (y0 + y1 - rows * high) / 2
    out = []
    for j in range(rows):
        shift = 0.5 * ((j + number) % 2)
        x = x0 + size * (np.arange(-1, columns + 1) + shift)
        y = foot + j * high + inradius
        upright = np.column_stack([x + size / 2, np.full(len(x), y)])
        hanging = np.column_stack([x + size, np.full(len(x), y + inradius)])
        out += list(shapely.polygons(triangle[None] + upright[:, None]))
        out += list(shapely.polygons(-triangle[None] + hanging[:, None]))
    return out


def scales(area: Polygon, size: float, bridge: float, number: int) -> list[Polygon]:
    """Round scales, each row over the gaps of the one below."""
    size = _whole_cells(area, size)
    radius = size / 2
    t = np.linspace(0.0, 2 * math.pi, 2 * arc_steps(radius, math.pi) + 1)[:-1]
    disc = radius * np.column_stack([np.cos(t), np.sin(t)])
    # what of a disc the two of the row below leave: they lie over it
    lower = [Polygon(disc + np.array([dx * radius, -radius])) for dx in (-1.0, 1.0)]
    scale = Polygon(disc).difference(shapely.union_all(lower)).buffer(-bridge / 2)
    if not isinstance(scale, Polygon) or scale.is_empty:
        return []
    ring = np.array(scale.exterior.coords)[:-1]
    places = rows_across(area, size, radius)
    if number % 2:  # hanging scales
        _, y0, _, y1 = area.bounds
        places = [(i, j, x, y0 + y1 - y) for i, j, x, y in places]
        return _repeated(-ring, places)
    return _repeated(ring, places)


def waves(area: Polygon, size: float, bridge: float, number: int) -> list[Polygon]:
    """Bands of water, each wave its own cut-out, every other row half a wave on."""
    long = _whole_cells(area, size * 1.6)
    deep, thick = SWELL * long, BAND * size
    t = np.linspace(-0.5, 0.5, 33)
    crest = deep * np.sin(2 * math.pi * t)
    # square to the steepest part of the wave two bands keep a bridge, and a little more
    slope = 1.06 * math.hypot(1.0, 2 * math.pi * SWELL)
    step = thick + bridge * slope
    side = (long - bridge) / long
    upper = np.column_stack([t * long * side, crest + thick / 2])
    lower = np.column_stack([t * long * side, crest - thick / 2])
    wave = np.vstack([lower, upper[::-1]])
    places = rows_across(area, long, step)
    if number % 2:
        places = [(i, j, x + long / 2, y) for i, j, x, y in places]
    # rows that are half a wave on lie against one another by their swell: all rise alike
    straight = [(i, j, x - (0.5 * (j % 2)) * long, y) for i, j, x, y in places]
    return _repeated(wave, straight)


def rays(area: Polygon, size: float, bridge: float, number: int) -> list[Polygon]:
    """Rays of light from the middle of the foot, or of the head with the next number."""
    x0, y0, x1, y1 = area.bounds
    from_above = number % 2 == 1
    cx, cy = (x0 + x1) / 2, (y1 if from_above else y0)
    far = math.hypot(x1 - x0, y1 - y0)
    count = max(5, round(math.pi * min(x1 - x0, y1 - y0) / (RAY * size)))
    near, out = 0.0, []
    while near < far:
        angle = math.pi / count
        gap = bridge / math.cos(angle / 2)  # square to the sides of two neighbours it is a bridge
        near = max(near, (gap + RAY_FOOT) / (2 * math.tan(angle / 2)))
        # where rays have become too wide each ends, and two begin
        end = max(WIDEST_RAY * size / (2 * math.tan(angle / 2)), near + size)
        # both sides stand off their ray by half a bridge: neighbours keep a whole one
        inner, outer = (at * math.tan(angle / 2) - gap / 2 for at in (near, end))
        wedge = np.array([[near, -inner], [end, -outer], [end, outer], [near, inner]])
        for k in range(count):
            middle = (k + 0.5) * angle + (math.pi if from_above else 0.0)
            out.append(Polygon(turned(wedge, math.degrees(middle)) + np.array([cx, cy])))
        # corners of the next ones come nearer to the middle than their ends do
        near, count = (end + bridge) / math.cos(angle / 2), 2 * count
    return out


def ripples(area: Polygon, size: float, bridge: float, number: int) -> list[Polygon]:
    """Rings that spread from a disc, held by spokes."""
    x0, y0, x1, y1 = area.bounds
    cx = (x0 + x1) / 2 + ((number + 1) % PLACES - 1) * (x1 - x0) / 4
    cy = (y0 + y1) / 2
    far = math.hypot(max(x1 - cx, cx - x0), (y1 - y0) / 2)
    wide = max(2.5, RING * size)
    gap = max(bridge, BETWEEN_RINGS * size)
    t = np.linspace(0.0, 2 * math.pi, 2 * arc_steps(wide, math.pi) + 1)[:-1]
    at = np.array([cx, cy])
    out = [Polygon(wide / 2 * np.column_stack([np.cos(t), np.sin(t)]) + at)]
    inner, k = wide / 2 + gap, 0
    while inner < far:
        part = _ring_part(inner, inner + wide, 0.6 * bridge)
        turns = [360.0 / SPOKES * (i + 0.5 * (k % 2)) for i in range(SPOKES)]
        out += [Polygon(turned(part, turn) + at) for turn in turns if len(part)]
        inner, k = inner + wide + gap, k + 1
    return out


def _ring_part(inner: float, outer: float, spoke: float) -> Floats:
    """Part of a ring between two spokes, each ``spoke`` mm to either side of its middle."""
    whole, arcs = 2 * math.pi / SPOKES, []
    for radius in (outer, inner):
        beside = math.asin(min(1.0, spoke / radius))
        if 2 * beside >= whole:
            return np.zeros((0, 2))
        count = max(8, arc_steps(radius, whole))
        t = np.linspace(beside, whole - beside, count + 1)
        arcs.append(radius * np.column_stack([np.cos(t), np.sin(t)]))
    return np.vstack([arcs[0], arcs[1][::-1]])
