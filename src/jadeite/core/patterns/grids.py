"""How shapes are set out in a window: in rows, sized and counted to it, small ones between."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import Polygon

__all__ = ["Floats", "Grid", "arc_steps", "between", "fitted", "grid_of", "rows_across", "turned"]

Floats = NDArray[np.float64]

ROUND = 0.02  # mm; design rule, curves in files stay this close
HALVINGS = 7  # setting; the scale of a shape between others is found to 1 %
LEAST = 1e-3  # mm; rounding, of a shape that is tried
SPARE = 0.2  # of a cell; from memory, by how much a row may be short of one more
FITS = 0.999  # of the room between others; rounding


@dataclass(frozen=True, eq=False)
class Grid:
    """Rows of cells that fill a window: the size of a cell in mm, middles row by row.

    ``lines`` are (n, 2) float each, from the lowest row up; where a window is narrow a row has
    fewer cells.
    """

    wide: float
    high: float
    lines: tuple[Floats, ...]

    @property
    def middles(self) -> Floats:
        """Middles of all cells, (n, 2)."""
        return np.vstack(self.lines)

    @property
    def widths(self) -> Floats:
        """Widths of all cells, (n,) float, mm: those of a row are alike."""
        return np.concatenate(
            [
                np.full(len(line), line[1, 0] - line[0, 0] if len(line) > 1 else self.wide)
                for line in self.lines
            ]
        )

    @property
    def between(self) -> Floats:
        """Places between two cells of a row, (n, 2)."""
        return np.vstack([(line[1:] + line[:-1]) / 2 for line in self.lines])

    @property
    def numbers(self) -> list[tuple[int, int]]:
        """Column and row of each cell."""
        return [(i, j) for j, line in enumerate(self.lines) for i in range(len(line))]

    @property
    def corners(self) -> Floats:
        """Places between two cells of a row and the row above, (n, 2)."""
        out = [
            (line[1:] + line[:-1]) / 2 + np.array([0.0, self.high / 2]) for line in self.lines[:-1]
        ]
        return np.vstack(out) if out else np.zeros((0, 2))

    @property
    def edges(self) -> Floats:
        """Places at the window's sides between two rows, above and below between two cells."""
        aside, above = np.array([self.wide / 4, 0.0]), np.array([0.0, self.high / 4])
        out = [np.zeros((0, 2))]
        for lower, upper in zip(self.lines, self.lines[1:], strict=False):
            out.append(((lower[0] + upper[0]) / 2 - aside)[None])
            out.append(((lower[-1] + upper[-1]) / 2 + aside)[None])
        for line, sign in ((self.lines[0], -1.0), (self.lines[-1], 1.0)):
            out.append((line[1:] + line[:-1]) / 2 + sign * above)
        return np.vstack(out)


def grid_of(area: Polygon, size: float, tall: float = 1.0, least: int = 1) -> Grid:
    """Cells about ``size`` mm wide and ``tall`` times as high, as many as fill the window.

    There are ``least`` columns at least where it is widest.
    """
    x0, y0, x1, y1 = area.bounds
    columns = max(least, round((x1 - x0) / size))
    wide = (x1 - x0) / columns
    rows = max(1, round((y1 - y0) / (wide * tall)))
    high = (y1 - y0) / rows
    lines = []
    for row in range(rows):
        y = y0 + (row + 0.5) * high
        across = area.intersection(shapely.LineString([(x0 - 1, y), (x1 + 1, y)]))
        if across.is_empty:
            continue
        low, _, end, _ = across.bounds
        count = max(1, round((end - low) / wide - SPARE))
        at = low + (np.arange(count) + 0.5) * (end - low) / count
        lines.append(np.column_stack([at, np.full(count, y)]))
    return Grid(wide, high, tuple(lines))


def fitted(
    unit: Floats, places: Floats, most: float | Floats, area: Polygon, least: float
) -> list[Polygon]:
    """A shape about its origin, at each place as large as the window lets it be; mm.

    ``unit`` is (n, 2) float, ``places`` (m, 2), ``most`` its scale, for each place or for all;
    under ``least`` it is left out.
    """
    return between(unit, places, most, area, [], 0.0, least)


def between(
    unit: Floats,
    places: Floats,
    most: float | Floats,
    area: Polygon,
    taken: list[Polygon],
    bridge: float,
    least: float,
) -> list[Polygon]:
    """The same, and each a bridge away from what is taken.

    ``unit`` is (n, 2) float, ``places`` (m, 2), mm.
    """
    high = np.broadcast_to(np.asarray(most, float), len(places))
    if not len(places) or float(high.max()) < least:
        return []
    shapely.prepare(area)
    others = shapely.union_all(taken) if taken else None

    def at(scales: Floats) -> NDArray[np.object_]:
        return np.asarray(shapely.polygons(unit[None] * scales[:, None, None] + places[:, None]))

    def fits(scales: Floats) -> NDArray[np.bool_]:
        shapes = at(np.maximum(scales, LEAST))
        inside = shapely.covers(area, shapes)
        if others is not None:
            inside &= shapely.distance(shapes, others) >= bridge
        return np.asarray(inside)

    low = np.where(fits(high), high, 0.0)
    for _ in range(HALVINGS):
        middle = (low + high) / 2
        good = fits(middle)
        low, high = np.where(good, middle, low), np.where(good, high, middle)
    kept = low >= least
    return [shape for shape, keep in zip(at(low * FITS), kept, strict=True) if keep]


def rows_across(area: Polygon, dx: float, dy: float) -> list[tuple[int, int, float, float]]:
    """Places in rows about the middle of a window, every other row shifted by half a step."""
    x0, y0, x1, y1 = area.bounds
    cx, cy = (x0 + x1) / 2, (y0 + y1) / 2
    rows, columns = math.ceil((y1 - y0) / dy / 2) + 1, math.ceil((x1 - x0) / dx / 2) + 1
    return [
        (i, j, cx + (i + 0.5 * (j % 2)) * dx, cy + j * dy)
        for j in range(-rows, rows + 1)
        for i in range(-columns, columns + 1)
    ]


def turned(points: Floats, degrees: float) -> Floats:
    """Points, (n, 2), turned left about the origin."""
    c, s = math.cos(math.radians(degrees)), math.sin(math.radians(degrees))
    return np.asarray(points @ np.array([[c, s], [-s, c]]))


def arc_steps(radius: float, angle: float) -> int:
    """Chords of an arc of a radius in mm and an angle in radians, within 0.02 mm."""
    if radius <= ROUND:
        return 2
    return max(2, math.ceil(angle / (2 * math.acos(1 - ROUND / radius))))
