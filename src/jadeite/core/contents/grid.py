"""Every thing in a cell of its own: rows and columns between slotted strips."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from jadeite.core.contents.cells import Cell, Price

__all__ = ["Grid", "Gridded", "fill_grid"]

LEAST_CELL = 5.0  # mm between two strips; from memory, a slot needs 4 mm of board around it
CHANGES = 240  # of places and turns, for each number of columns; from memory
TIE = 1e-6  # mm2 for each mm; design rule, only between equal costs
SEED = 7  # setting; the same things always get the same cells
Triple = tuple[float, float, float]


@dataclass(frozen=True)
class Grid:
    """Widths of the columns and depths of the rows in mm, from the left and from the front.

    ``thickness`` is that of the strips between them, ``height`` how high they are.
    """

    columns: tuple[float, ...]
    rows: tuple[float, ...]
    thickness: float
    height: float

    @property
    def size(self) -> tuple[float, float]:
        """Length and width of the whole, strips counted, in mm."""
        t = self.thickness
        return (
            sum(self.columns) + t * (len(self.columns) - 1),
            sum(self.rows) + t * (len(self.rows) - 1),
        )

    def widened(self, length: float, width: float) -> Grid:
        """The grid as large as a hollow: what is over is shared out evenly."""
        x, y = self.size
        more_x, more_y = max(0.0, length - x), max(0.0, width - y)
        return replace(
            self,
            columns=tuple(c + more_x / len(self.columns) for c in self.columns),
            rows=tuple(r + more_y / len(self.rows) for r in self.rows),
        )

    def starts(self) -> tuple[tuple[float, ...], tuple[float, ...]]:
        """Where each column and each row begins, from the front left corner; mm."""
        out = []
        for lengths in (self.columns, self.rows):
            at, starts = 0.0, []
            for length in lengths:
                starts.append(at)
                at += length + self.thickness
            out.append(tuple(starts))
        return out[0], out[1]


@dataclass(frozen=True)
class Gridded:
    """Cells in a grid: the turn of each thing, its column and row, and the cost."""

    grid: Grid
    cells: tuple[Cell, ...]
    spots: tuple[tuple[int, int], ...]
    cost: float

    @property
    def size(self) -> Triple:
        """Extent of all, strips counted; mm."""
        return *self.grid.size, max(c.size[2] for c in self.cells)


def _grid(
    cells: Sequence[Cell],
    spots: Sequence[tuple[int, int]],
    shape: tuple[int, int],
    t: float,
    equal: bool,
) -> Grid:
    columns, rows = [LEAST_CELL] * shape[0], [LEAST_CELL] * shape[1]
    for cell, (i, j) in zip(cells, spots, strict=True):
        columns[i] = max(columns[i], cell.size[0])
        rows[j] = max(rows[j], cell.size[1])
    if equal:
        columns, rows = [max(columns)] * shape[0], [max(rows)] * shape[1]
    return Grid(tuple(columns), tuple(rows), t, max(c.size[2] for c in cells))


def fill_grid(
    turns: Sequence[tuple[Cell, ...]],
    price: Price,
    thickness: float,
    *,
    equal: bool = False,
    front: Sequence[bool] = (),
    step: Callable[[float], None] | None = None,
) -> Gridded:
    """A cell for each thing, so that the box and its strips cost least.

    Every number of columns is tried; places and turns are changed by chance,
    and a change that costs no more is kept.

    Parameters
    ----------
    thickness : float
        Of the strips, mm.
    equal : bool
        Whether all columns are as wide as the widest, and all rows as deep.
    front : sequence of bool
        Which things belong in the front row.
    """
    count = len(turns)
    wanted = list(front) or [False] * count
    chance = np.random.default_rng(SEED)
    best: Gridded | None = None
    shapes = [(c, math.ceil(count / c)) for c in range(1, count + 1)]
    shapes = [s for s in dict.fromkeys(shapes) if (s[0] - 1) * s[1] < count]
    shapes = [s for s in shapes if sum(wanted) <= s[0]]
    for number, shape in enumerate(shapes):
        if step is not None:
            step(number / len(shapes))
        found = _best_of_shape(turns, price, thickness, shape, equal, wanted, chance)
        if best is None or found.cost < best.cost - 1e-9:
            best = found
    assert best is not None
    return best


def _best_of_shape(
    turns: Sequence[tuple[Cell, ...]],
    price: Price,
    t: float,
    shape: tuple[int, int],
    equal: bool,
    front: Sequence[bool],
    chance: np.random.Generator,
) -> Gridded:
    """The best of one number of columns and rows."""
    count = len(turns)
    every = [(i, j) for j in range(shape[1]) for i in range(shape[0])]

    def cost_of(chosen: Sequence[int], order: Sequence[int]) -> tuple[float, Grid, list[Any]]:
        cells = [turns[k][c] for k, c in enumerate(chosen)]
        spots = [every[order[k]] for k in range(count)]
        grid = _grid(cells, spots, shape, t, equal)
        x, y = grid.size
        strips = ((len(grid.columns) - 1) * y + (len(grid.rows) - 1) * x) * grid.height
        late = sum(j for (_, j), f in zip(spots, front, strict=True) if f)
        size = (float(x), float(y), float(grid.height))
        deeper = max(0.0, size[1] - size[0]) * TIE  # else the longer side is the length
        return float(price.cost(size)) + strips + deeper + late * 1e12, grid, spots

    by_size = sorted(range(count), key=lambda k: (not front[k], -max(turns[k][0].size[:2])))
    order = [0] * len(every)
    for place, item in enumerate([*by_size, *range(count, len(every))]):
        order[item] = place
    chosen = [
        min(range(len(options)), key=lambda c, o=options: (o[c].size[0] * o[c].size[1], c))  # type: ignore[misc]
        for options in turns
    ]
    cost, grid, spots = cost_of(chosen, order)
    for _ in range(CHANGES + 8 * count):
        new_chosen, new_order = list(chosen), list(order)
        if chance.random() < 0.5:
            item = int(chance.integers(count))
            new_chosen[item] = int(chance.integers(len(turns[item])))
        else:
            a, b = int(chance.integers(count)), int(chance.integers(len(every)))
            new_order[a], new_order[b] = new_order[b], new_order[a]
        new, new_grid, new_spots = cost_of(new_chosen, new_order)
        if new <= cost:
            chosen, order, cost, grid, spots = new_chosen, new_order, new, new_grid, new_spots
    cells = tuple(turns[k][c] for k, c in enumerate(chosen))
    return Gridded(grid, cells, tuple(spots), cost)
