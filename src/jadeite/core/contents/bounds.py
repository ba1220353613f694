"""How little any arrangement could cost: a bound that is proved, not found.

Whatever lies inside, every thing must fit in some turn, and all cells together
cannot have more volume than the hollow.  Length and width are cut into small
steps; over each step the least height that these two facts allow is taken at
the step's far end and the cost at its near end, so the bound is never too high.
"""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from jadeite.core.contents.cells import UP, Cell, Price, Rules

__all__ = ["BoundTable", "lower_bound"]

Triple = tuple[float, float, float]
Floats = NDArray[np.float64]
STEPS = 260  # of length and of width; rounding, each step is about 1 %
TABLE_STEPS = 90  # in three directions; rounding, each step is about 3 %


class _Needs:
    """What the things need, over steps of length and width."""

    def __init__(
        self, turns: Sequence[tuple[Cell, ...]], rules: Sequence[Rules], mouth: int, steps: int
    ) -> None:
        size = [np.array([c.size for c in options]) for options in turns]
        self.low = [max(float(s[:, a].min()) for s in size) for a in range(3)]
        self.high = [sum(float(s[:, a].max()) for s in size) for a in range(3)]
        self.edges = [
            np.geomspace(self.low[a], max(self.high[a], self.low[a] * 1.0001), steps + 1)
            for a in range(3)
        ]
        x, y = self.edges[0][1:, None], self.edges[1][None, 1:]
        volume = sum(float(s.prod(axis=1).min()) for s in size)
        height = np.maximum(self.low[UP], volume / (x * y))
        for s in size:
            need = np.full(height.shape, np.inf)
            for length, width, tall in s:
                need = np.minimum(need, np.where((length <= x) & (width <= y), tall, np.inf))
            height = np.maximum(height, need)
        if rules and mouth == UP and all(not rule.stacks for rule in rules):
            base = sum(float((s[:, 0] * s[:, 1]).min()) for s in size)
            height = np.where(x * y >= base - 1e-9, height, np.inf)
        self.height = height  # (steps, steps); inf where something fits in no turn


def lower_bound(
    turns: Sequence[tuple[Cell, ...]],
    price: Price,
    *,
    rules: Sequence[Rules] = (),
    mouth: int = UP,
) -> float:
    """A cost that no packing of the cells can undercut.

    Parameters
    ----------
    price : Price
        Its ``bound`` is what is compared; arrays of lengths are passed to it.
    rules : sequence of Rules
        Where nothing may stand on anything, the bases must lie side by side.
    """
    if len(turns) == 1:  # a thing alone takes what it takes
        return min(float(price.bound(cell.size)) for cell in turns[0])
    needs = _Needs(turns, rules, mouth, STEPS)
    shape = needs.height.shape
    finite = np.isfinite(needs.height)
    size = (
        np.broadcast_to(needs.edges[0][:-1, None], shape),
        np.broadcast_to(needs.edges[1][None, :-1], shape),
        np.where(finite, needs.height, 0.0),
    )
    cost = np.broadcast_to(np.asarray(price.bound(size), dtype=float), shape)
    return float(np.where(finite, cost, np.inf).min())


class BoundTable:
    """The bound for every packing that is at least as large as an extent.

    The exact search asks it at every branch: what is placed so far has an
    extent, and what follows can only make it larger.
    """

    def __init__(
        self,
        turns: Sequence[tuple[Cell, ...]],
        price: Price,
        *,
        rules: Sequence[Rules] = (),
        mouth: int = UP,
    ) -> None:
        needs = _Needs(turns, rules, mouth, TABLE_STEPS)
        self._edges = [edge[:-1].tolist() for edge in needs.edges]
        height = np.maximum(needs.height[:, :, None], needs.edges[2][None, None, :-1])
        shape, finite = height.shape, np.isfinite(height)
        size = (
            np.broadcast_to(needs.edges[0][:-1, None, None], shape),
            np.broadcast_to(needs.edges[1][None, :-1, None], shape),
            np.where(finite, height, 0.0),
        )
        cost = np.broadcast_to(np.asarray(price.bound(size), dtype=float), shape)
        table: Floats = np.where(finite, cost, np.inf)
        for axis in range(2):
            table = np.flip(np.minimum.accumulate(np.flip(table, axis), axis), axis)
        self._table = table
        self.least = float(table[0, 0, 0])

    def at(self, x: float, y: float, z: float) -> float:
        """The bound for packings whose extent is at least (x, y, z) mm."""
        i = bisect_right(self._edges[0], x) - 1
        j = bisect_right(self._edges[1], y) - 1
        k = bisect_right(self._edges[2], z) - 1
        return float(self._table[i if i > 0 else 0, j if j > 0 else 0, k if k > 0 else 0])
