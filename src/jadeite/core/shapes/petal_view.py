"""How full a flower of petals on star bases looks: from above, and from the side at 30 degrees.

All that is seen lies above the bases, so what a base shows is its shadow along the line
of sight less that of the petals; both are cast on the level of the lowest base.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from PIL import Image, ImageDraw

from jadeite.core.nets.gores import about_z
from jadeite.core.nets.model import Floats
from jadeite.core.nets.petal_ring import PetalRing
from jadeite.core.nets.petals import petal, star_outline
from jadeite.core.nets.roles import Role
from jadeite.core.nets.turns import closed_matrix

__all__ = ["SIDE", "PetalView", "seen"]

SIDE = 30.0  # degrees above the table, from which a lantern on one is mostly seen; from memory
WAYS = 7  # directions round the flower; from memory, more change nothing by a hundredth
GOLDEN = math.pi * (3 - math.sqrt(5))  # radians, between directions; geometry, none falls together
CELLS = 400  # of the picture, across; from memory
OUTSIDE, AIR, BASE, PETAL = range(4)  # what a cell shows


@dataclass(frozen=True)
class PetalView:
    """Shares of what a thread round the flower's tips encloses, as it is seen.

    ``petals`` is covered by petals (from above by the light as well), ``bases`` shows a base.
    """

    petals: float
    bases: float


def seen(rings: Sequence[PetalRing], light: float) -> tuple[PetalView, PetalView]:
    """From above and, as the mean of ways round it, from the side; ``light`` is its radius, mm.

    Both are counted in cells, to about half a percent.
    """
    lowest = min(ring.level for ring in rings)
    petals = [facet for ring in rings for facet in _petals(ring, lowest)]
    bases = [np.array(star_outline(ring).exterior.coords) for ring in rings]
    top = _view(petals, bases, (0.0, 0.0), light)
    slant = -1 / math.tan(math.radians(SIDE))
    views = [
        _view(petals, bases, (slant * math.cos(way), slant * math.sin(way)))
        for way in np.arange(WAYS) * GOLDEN
    ]
    count = len(views)
    side = PetalView(sum(v.petals for v in views) / count, sum(v.bases for v in views) / count)
    return top, side


def _petals(ring: PetalRing, lowest: float) -> list[Floats]:
    """Facets of all petals of a ring in space, (n, 3) mm above a level, edges curved as cut."""
    piece, place = petal(ring, "petal", "petal")
    once = []
    for panel in piece.panels:
        if panel.role is Role.GORE:
            matrix = closed_matrix(piece, place, panel.name)
            once.append(panel.outline @ matrix[:3, :2].T + matrix[:3, 3] - (0.0, 0.0, lowest))
    turns = [about_z(360.0 / ring.count * i)[:3, :3] for i in range(ring.count)]
    return [facet @ turn.T for turn in turns for facet in once]


def _view(
    petals: Sequence[Floats],
    bases: Sequence[Floats],
    slant: tuple[float, float],
    light: float = 0.0,
) -> PetalView:
    """Shadows along a line of sight that moves by ``slant`` for each mm of height."""
    cast = [facet[:, :2] + facet[:, 2:] * slant for facet in petals]
    points = np.concatenate([*cast, *bases])
    thread = np.array(shapely.MultiPoint(points).convex_hull.exterior.coords)
    low = points.min(axis=0)
    scale = CELLS / float(np.ptp(points, axis=0).max())
    picture = Image.new("L", (CELLS + 1, CELLS + 1), OUTSIDE)
    draw = ImageDraw.Draw(picture)

    def fill(outline: Floats, value: int) -> None:
        draw.polygon(((outline - low) * scale).ravel().tolist(), fill=value)

    fill(thread, AIR)
    for base in bases:
        fill(base, BASE)
    if light:
        (x, y), r = -low * scale, light * scale
        draw.ellipse((x - r, y - r, x + r, y + r), fill=PETAL)
    for facet in cast:
        fill(facet, PETAL)
    cells = np.bincount(np.asarray(picture).ravel(), minlength=PETAL + 1)
    whole = float(cells[AIR:].sum())
    return PetalView(float(cells[PETAL]) / whole, float(cells[BASE]) / whole)
