"""The motifs: shapes laid over a window, each clear of the next by a bridge.

A motif draws into a rectangle round the window, in mm; what lies beyond the
window is cut off afterwards.  ``number`` varies it from panel to panel.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import Polygon

__all__ = ["MOTIFS", "Box", "Motif", "places_in_rows"]

Floats = NDArray[np.float64]
Box = tuple[float, float, float, float]  # x0, y0, x1, y1 in mm
Draw = Callable[[Box, float, float, int], list[Polygon]]

ROUND = 0.02  # mm; design rule, curves in files stay this close
SLIM = 0.42  # width of a leaf against its length; from memory
LEAN = 35.0  # degrees that leaves turn out of their stem; from memory
WAIST = 0.42  # inner radius of a star against its points; from memory
SMALL = 0.62  # of the size, for every other star; from memory
PLACES = 3  # of the middle of ripples, from left to right; from memory
PHASES = 5  # of the moon, from one crescent to the other; from memory
SPOKES = 5  # that hold the rings of ripples; from memory
RAY, RAY_FOOT = 1.5, 2.5  # width of a ray against the size, and mm at its foot; from memory
RING = 0.42  # of the cell's size that a ring of ripples is wide; from memory
HALF_MOON = 1e-6  # of the radius; rounding, the terminator of the half moon is straight


@dataclass(frozen=True)
class Motif:
    """A motif: ``draw(box, size, bridge, number)`` gives its shapes, in mm.

    Of a motif that is not ``clipped`` only whole shapes are kept; unless it may
    stand ``alone``, two of its cells fit beside one another.  After ``varies``
    numbers the shapes come again.
    """

    key: str
    title: str
    help: str
    draw: Draw
    clipped: bool = True
    alone: bool = False
    varies: int = 2


def places_in_rows(bounds: Box, dx: float, dy: float) -> list[tuple[int, int, float, float]]:
    """Places in rows about the middle of a box, every other row shifted by half a step."""
    x0, y0, x1, y1 = bounds
    cx, cy = (x0 + x1) / 2, (y0 + y1) / 2
    rows, columns = math.ceil((y1 - y0) / dy / 2) + 1, math.ceil((x1 - x0) / dx / 2) + 1
    return [
        (i, j, cx + (i + 0.5 * (j % 2)) * dx, cy + j * dy)
        for j in range(-rows, rows + 1)
        for i in range(-columns, columns + 1)
    ]


def _ring(points: Floats, x: float, y: float, turn: float = 0.0) -> Polygon:
    c, s = math.cos(math.radians(turn)), math.sin(math.radians(turn))
    return Polygon(points @ np.array([[c, s], [-s, c]]) + (x, y))


def _repeated(points: Floats, places: list[tuple[int, int, float, float]]) -> list[Polygon]:
    """The same outline (n, 2) at many places."""
    at = np.array([(x, y) for _, _, x, y in places]).reshape(-1, 1, 2)
    return list(shapely.polygons(points[None] + at)) if len(places) else []


def _steps(radius: float, angle: float) -> int:
    """Chords of an arc of a radius in mm and an angle in radians, within 0.02 mm."""
    if radius <= ROUND:
        return 2
    return max(2, math.ceil(angle / (2 * math.acos(1 - ROUND / radius))))


def lattice(bounds: Box, size: float, bridge: float, number: int) -> list[Polygon]:
    """Rhombs between bars that cross."""
    half = np.array([size * 0.5, size * 0.8])
    # a bar as wide as a bridge takes half of it from every side of a rhomb
    keep = 1 - bridge / 2 * float(np.hypot(*half)) / float(half[0] * half[1])
    if keep <= 0:
        return []
    rhomb = np.array([[1, 0], [0, 1], [-1, 0], [0, -1]]) * half * keep
    lift = half[1] * (number % 2)
    return _repeated(rhomb + np.array([0.0, lift]), places_in_rows(bounds, size, float(half[1])))


def hexagons(bounds: Box, size: float, bridge: float, number: int) -> list[Polygon]:
    """A honeycomb; with the next number it stands on its points the other way."""
    inradius = size / 2
    keep = (inradius - bridge / 2) / math.cos(math.pi / 6)
    if keep <= 0:
        return []
    turns = np.radians(np.arange(6) * 60.0 + 30.0)
    ring = keep * np.column_stack([np.cos(turns), np.sin(turns)])
    high = size * math.sqrt(3) / 2
    if number % 2:
        flipped = (bounds[1], bounds[0], bounds[3], bounds[2])
        places = [(i, j, y, x) for i, j, x, y in places_in_rows(flipped, size, high)]
        return _repeated(ring[:, ::-1], places)
    return _repeated(ring, places_in_rows(bounds, size, high))


def stars(bounds: Box, size: float, bridge: float, number: int) -> list[Polygon]:
    """Five-pointed stars, a large one beside a small one."""
    turns = np.radians(90.0 + np.arange(10) * 36.0)
    radii = np.where(np.arange(10) % 2, WAIST, 1.0)
    unit = np.column_stack([np.cos(turns), np.sin(turns)]) * radii[:, None]
    reach = (size - bridge) / 2
    if reach <= 0:
        return []
    places = places_in_rows(bounds, size, size * 0.9)
    small = [p for p in places if (p[0] + p[1] + number) % 2]
    large = [p for p in places if not (p[0] + p[1] + number) % 2]
    # a small one stands on a point: it is turned by half of what lies between two
    return _repeated(unit * reach, large) + _repeated(-unit * reach * SMALL, small)


def leaves(bounds: Box, size: float, bridge: float, number: int) -> list[Polygon]:
    """Pointed leaves in pairs along upright stems."""
    long, wide = size * 1.25, size * 1.25 * SLIM
    radius = (long**2 / 4 + wide**2 / 4) / wide  # of both arcs of a leaf
    half = math.asin(long / 2 / radius)
    t = np.linspace(-half, half, _steps(radius, 2 * half) + 1)
    arc = np.column_stack([radius * np.sin(t), radius * np.cos(t) - (radius - wide / 2)])
    leaf = np.vstack([arc, -arc[1:-1]]) + np.array([long / 2, 0.0])
    out = []
    x0, y0, x1, y1 = bounds
    middle = (x0 + x1) / 2
    # leaves of neighbouring stems must clear each other as well as those of one stem
    tall = math.sin(math.radians(LEAN)) * long
    apart = 2 * (math.cos(math.radians(LEAN)) * long + wide / 2 + bridge)
    step = wide / math.cos(math.radians(LEAN)) + bridge
    for k in range(-math.ceil((x1 - x0) / apart), math.ceil((x1 - x0) / apart) + 1):
        stem = middle + k * apart
        y = y0 - tall + (step / 2 if (k + number) % 2 else 0.0)
        while y < y1:
            out.append(_ring(leaf, stem + bridge / 2, y, LEAN))
            out.append(_ring(leaf * (-1, 1), stem - bridge / 2, y, -LEAN))
            y += step
    return out


def moons(bounds: Box, size: float, bridge: float, number: int) -> list[Polygon]:
    """Phases of the moon, waxing along a row and on from row to row."""
    radius = (size - bridge) / 2
    if radius <= 0:
        return []
    places = places_in_rows(bounds, size, size * math.sqrt(3) / 2)
    out = []
    for phase in range(PHASES):
        mine = [p for p in places if (p[0] + 2 * p[1] + number) % PHASES == phase]
        out += _repeated(_moon(radius, phase), mine)
    return out


def _moon(radius: float, phase: int) -> Floats:
    """The lit part: between the limb and half an ellipse, the terminator."""
    lit = (phase + 1) / (PHASES + 1) * 2  # 0 new, 1 full, 2 new again
    n = _steps(radius, math.pi)
    t = np.linspace(-math.pi / 2, math.pi / 2, n + 1)
    side = 1.0 if lit <= 1 else -1.0
    limb = np.column_stack([side * np.cos(t), np.sin(t)]) * radius
    edge = math.cos(math.pi * (lit if lit <= 1 else 2 - lit))  # 1 new, -1 full
    if abs(edge) < HALF_MOON:
        return limb
    back = np.column_stack([side * edge * np.cos(t), np.sin(t)])[::-1] * radius
    return np.vstack([limb, back[1:-1]])


def rays(bounds: Box, size: float, bridge: float, number: int) -> list[Polygon]:
    """Rays of light from the middle of the foot, or of the head with the next number."""
    x0, y0, x1, y1 = bounds
    from_above = number % 2 == 1
    cx, cy = (x0 + x1) / 2, (y1 if from_above else y0)
    far = math.hypot(x1 - x0, y1 - y0)
    count = max(5, round(math.pi * min(x1 - x0, y1 - y0) / (RAY * size)))
    angle = math.pi / count
    gap = bridge / math.cos(angle / 2)  # square to the sides of two neighbours it is a bridge
    near = (gap + RAY_FOOT) / (2 * math.tan(angle / 2))
    out = []
    for k in range(count):
        middle = (k + 0.5) * angle + (math.pi if from_above else 0.0)
        # both sides stand off their ray by half a bridge: neighbours keep a whole one
        inner, outer = (at * math.tan(angle / 2) - gap / 2 for at in (near, far))
        wedge = np.array([[near, -inner], [far, -outer], [far, outer], [near, inner]])
        out.append(_ring(wedge, cx, cy, math.degrees(middle)))
    return out


def ripples(bounds: Box, size: float, bridge: float, number: int) -> list[Polygon]:
    """Rings that spread from a point, held by spokes."""
    x0, y0, x1, y1 = bounds
    cx = (x0 + x1) / 2 + ((number % PLACES) - 1) * (x1 - x0) / 4
    cy = (y0 + y1) / 2
    far = math.hypot(max(x1 - cx, cx - x0), (y1 - y0) / 2)
    wide = max(2.5, RING * size)
    out = []
    inner, k = wide, 0
    while inner < far:
        part = _ring_part(inner, inner + wide, 0.8 * bridge)
        turns = [360.0 / SPOKES * (i + 0.5 * (k % 2)) for i in range(SPOKES)]
        out += [_ring(part, cx, cy, turn) for turn in turns if len(part)]
        inner, k = inner + wide + max(bridge, size - wide), k + 1
    return out


def _ring_part(inner: float, outer: float, spoke: float) -> Floats:
    """Part of a ring between two spokes, each ``spoke`` mm to either side of its middle."""
    whole, arcs = 2 * math.pi / SPOKES, []
    for radius in (outer, inner):
        beside = math.asin(min(1.0, spoke / radius))
        if 2 * beside >= whole:
            return np.zeros((0, 2))
        count = max(8, _steps(radius, whole))
        t = np.linspace(beside, whole - beside, count + 1)
        arcs.append(radius * np.column_stack([np.cos(t), np.sin(t)]))
    return np.vstack([arcs[0], arcs[1][::-1]])


MOTIFS: Mapping[str, Motif] = {
    m.key: m
    for m in (
        Motif("lattice", "lattice", "Rhombs between bars that cross.", lattice),
        Motif("rays", "rays", "Rays of light that spread from the foot.", rays),
        Motif("leaves", "leaves", "Pointed leaves along stems.", leaves, False),
        Motif("stars", "stars", "Large and small stars.", stars, False),
        Motif("hexagons", "hexagons", "A honeycomb.", hexagons),
        Motif(
            "moons",
            "phases of the moon",
            "From crescent to full and back.",
            moons,
            False,
            varies=PHASES,
        ),
        Motif("ripples", "ripples", "Rings that spread, held by spokes.", ripples, varies=PLACES),
    )
}
