"""Shapes as cells of a lattice: what each covers, in every turn that looks different.

A form is the box of cells round a turned shape, the shape in its middle, with every
cell that the shape touches.  Quarter turns of a form are quarter turns of its cells,
so the shape stays in the middle of the box.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely import affinity
from shapely.geometry import Polygon

__all__ = ["Cells", "Form", "Shape", "boxes_of", "filled"]

Cells = NDArray[np.bool_]  # (rows, columns), rows upwards
NEAR = 1e-6  # of a cell; rounding, what only touches a cell's edge is not in it
ROUND = 24  # segments of a quarter circle: chords of 1.5 mm lie 0.0008 mm inside it at most


@dataclass(frozen=True, eq=False)
class Form:
    """A shape in one turn: the cells of its box, and those of all within the gap of it.

    ``near`` has ``ring`` more cells at every side than ``cells``; ``spare`` (x, y) is how
    much of the box, in mm, lies beside the shape on either hand.
    """

    angle: float
    cells: Cells
    near: Cells
    ring: int
    spare: tuple[float, float]

    @cached_property
    def boxes(self) -> NDArray[np.intp]:
        """``cells`` as boxes; see :func:`boxes_of`."""
        return boxes_of(self.cells)

    @cached_property
    def near_boxes(self) -> NDArray[np.intp]:
        """``near`` as boxes."""
        return boxes_of(self.near)

    @cached_property
    def middle(self) -> float:
        """How high the middle of what it covers lies, 0 to 1 of its height."""
        rows = self.cells.sum(axis=1)
        return float((rows * (np.arange(len(rows)) + 0.5)).sum() / (rows.sum() * len(rows)))

    def turned(self, quarters: int) -> Form:
        """The same after some quarter turns to the left."""
        spare = self.spare if quarters % 2 == 0 else self.spare[::-1]
        return Form(
            self.angle + 90.0 * quarters,
            np.rot90(self.cells, -quarters),
            np.rot90(self.near, -quarters),
            self.ring,
            spare,
        )

    def looks_like(self, other: Form) -> bool:
        """Whether both cover the same cells."""
        return self.cells.shape == other.cells.shape and bool((self.cells == other.cells).all())


class Shape:
    """A shape that is cut, mm, with its forms on a lattice of ``cell`` mm.

    ``gap`` mm are kept round it.
    """

    def __init__(self, outline: Polygon, cell: float, gap: float) -> None:
        self.outline, self.cell, self.gap = outline, cell, gap
        self.area = float(outline.area)
        self._slanted: dict[float, Form] = {}
        self._forms: dict[float, Form] = {}

    def form(self, angle: float) -> Form:
        """Turned by ``angle`` degrees, 0 to 360."""
        if angle not in self._forms:
            slant = angle % 90.0
            if slant not in self._slanted:
                self._slanted[slant] = self._made(slant)
            self._forms[angle] = self._slanted[slant].turned(round((angle - slant) / 90.0) % 4)
        return self._forms[angle]

    def different(self, angles: tuple[float, ...]) -> tuple[float, ...]:
        """Of some turns those in which it is another: a ring of eight petals has but one."""
        out: list[float] = []
        for angle in angles:
            if not any(self.form(angle).looks_like(self.form(other)) for other in out):
                out.append(angle)
        return tuple(out)

    def turned(self, angle: float) -> Polygon:
        """The shape itself, turned about the origin."""
        return affinity.rotate(self.outline, angle, origin=(0.0, 0.0))

    def _made(self, slant: float) -> Form:
        shape = self.turned(slant)
        a, b, c, d = shape.bounds
        size = [max(1, math.ceil(length / self.cell - NEAR)) for length in (c - a, d - b)]
        middle = np.array([(a + c) / 2, (b + d) / 2])
        box = np.array(size) / 2

        def in_cells(points: NDArray[np.float64]) -> NDArray[np.float64]:
            return np.asarray((points - middle) / self.cell + box)

        cells = filled(shapely.transform(shape, in_cells), size[1], size[0])
        ring = math.ceil(self.gap / self.cell - NEAR)
        grown = shapely.transform(
            shape.buffer(self.gap, quad_segs=ROUND), lambda points: in_cells(points) + ring
        )
        near = filled(grown, size[1] + 2 * ring, size[0] + 2 * ring)
        spare = [
            (n * self.cell - length) / 2 for n, length in zip(size, (c - a, d - b), strict=True)
        ]
        return Form(slant, cells, near, ring, (spare[0], spare[1]))


def filled(shape: Polygon, rows: int, columns: int) -> Cells:
    """Cells ``(rows, columns)`` of size one that a shape touches with more than its edge."""
    out = np.zeros((rows, columns), dtype=bool)
    crossings = np.zeros((rows, columns + 1), dtype=np.uint8)  # their parity is enough
    middles = np.arange(rows) + 0.5
    for ring in (shape.exterior, *shape.interiors):
        points = np.asarray(ring.coords)
        start, end = points[:-1], points[1:]
        _edges(out, start, end)
        rising = (start[:, 1] < end[:, 1])[:, None]
        low, top = np.where(rising, start, end), np.where(rising, end, start)
        edge, row = np.nonzero((low[:, 1:] <= middles) & (middles < top[:, 1:]))
        share = (middles[row] - low[edge, 1]) / (top[edge, 1] - low[edge, 1])
        x = low[edge, 0] + share * (top[edge, 0] - low[edge, 0])
        np.add.at(crossings, (row, np.clip(np.ceil(x - 0.5), 0, columns).astype(int)), 1)
    within = np.cumsum(crossings, axis=1, dtype=np.uint8)[:, :columns] & 1
    out |= within.view(bool)
    return out


def _edges(out: Cells, start: NDArray[np.float64], end: NDArray[np.float64]) -> None:
    """Mark the cells that edges ``(n, 2)`` run through: each is parted where it meets a line."""
    along = end - start
    numbers, shares = [np.arange(len(start))] * 2, [np.zeros(len(start)), np.ones(len(start))]
    for k in (0, 1):
        low, high = np.minimum(start[:, k], end[:, k]), np.maximum(start[:, k], end[:, k])
        first = np.ceil(low).astype(int)
        count = np.maximum(0, np.floor(high).astype(int) - first + 1)
        count[along[:, k] == 0.0] = 0
        number = np.repeat(np.arange(len(start)), count)
        line = np.arange(len(number)) - np.repeat(np.cumsum(count) - count, count) + first[number]
        numbers.append(number)
        shares.append((line - start[number, k]) / along[number, k])
    number, share = np.concatenate(numbers), np.concatenate(shares)
    order = np.lexsort((share, number))
    number, share = number[order], share[order]
    same = number[1:] == number[:-1]
    number, share = number[:-1][same], ((share[1:] + share[:-1]) / 2)[same]
    points = start[number] + share[:, None] * along[number]
    inside = np.floor(points)
    on_line = np.abs(points - np.round(points)) < NEAR  # it runs along a line: in neither cell
    inside = inside.astype(int)[~on_line.any(axis=1)]
    rows, columns = out.shape
    within = (inside >= 0).all(axis=1) & (inside[:, 0] < columns) & (inside[:, 1] < rows)
    out[inside[within, 1], inside[within, 0]] = True


def boxes_of(cells: Cells) -> NDArray[np.intp]:
    """Cells as boxes that do not overlap: ``(n, 4)`` of first and last row and column.

    A last one is one past its end.  Runs that are alike in row upon row are one box.
    """
    rows, columns = cells.shape
    edges = np.zeros((rows, columns + 2), dtype=np.int8)
    edges[:, 1:-1] = cells
    step = np.diff(edges, axis=1)
    row, first = np.nonzero(step == 1)
    _, last = np.nonzero(step == -1)
    order = np.lexsort((row, last, first))
    row, first, last = row[order], first[order], last[order]
    new = np.ones(len(row), dtype=bool)
    new[1:] = (np.diff(row) != 1) | (np.diff(first) != 0) | (np.diff(last) != 0)
    starts = np.flatnonzero(new)
    ends = np.append(starts[1:], len(row)) - 1
    return np.column_stack([row[starts], row[ends] + 1, first[starts], last[starts]])
