"""The search for the tightest packing of a few cells.

Every pair of cells is parted along an axis: one before, beside or below the
other.  A choice for every pair fixes the tightest places, by longest paths
from the walls and the floor, so trying all choices is exact.  A branch is cut
off as soon as what is placed already costs no less than the best so far.
What stands on other cells must rest: half of its base on them.  Rules
forbid some partings (nothing over what must be reachable, say).

Identical cells are interchangeable: each may be required to lie before,
beside or below the next of its kind, because cells of one size that are parted
pairwise can always be named in such a chain.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass

from jadeite.core.contents.bounds import BoundTable
from jadeite.core.contents.cells import UP, Cell, Packing, Price, Rules, forbidden, rests

__all__ = ["Found", "search"]

Triple = tuple[float, float, float]


@dataclass(frozen=True)
class Found:
    """The best packing, and whether the search was complete."""

    packing: Packing
    complete: bool


def _extent(sizes: Sequence[Triple], lows: Sequence[Triple]) -> Triple:
    return (
        max(p[0] + s[0] for s, p in zip(sizes, lows, strict=True)),
        max(p[1] + s[1] for s, p in zip(sizes, lows, strict=True)),
        max(p[2] + s[2] for s, p in zip(sizes, lows, strict=True)),
    )


class _Search:
    """State of the search: places by axis, and who lies before whom."""

    def __init__(
        self,
        turns: Sequence[tuple[Cell, ...]],
        groups: Sequence[int],
        price: Price,
        best: Packing,
        budget: int,
        step: Callable[[float], None] | None,
        rules: Sequence[Rules],
        mouth: int,
    ) -> None:
        self.turns, self.groups, self.price, self.best = turns, groups, price, best
        self.budget, self.step, self.rules, self.mouth = budget, step, rules, mouth
        self.count = len(turns)
        self.table = BoundTable(turns, price, rules=rules, mouth=mouth)
        self.steps = 0
        self.chosen: list[Cell] = []
        self.picked: list[int] = []
        self.free = mouth == UP and all(rule.reach != "front" for rule in rules)
        self.symmetric = self.free and math.isclose(
            price.cost((80.0, 50.0, 30.0)), price.cost((50.0, 80.0, 30.0))
        )
        self.single = [list(groups).count(g) == 1 for g in groups]
        # the bound that counts what is not placed yet: each must fit beside its cheapest turn
        self.least = [tuple(min(c.size[a] for c in options) for a in range(3)) for options in turns]

    def run(self) -> Found:
        if self.best.cost <= self.table.least * (1 + 1e-12):
            return Found(self.best, True)
        complete = self._place(0, [[], [], []], [[], [], []])
        return Found(self.best, complete)

    def _place(self, k: int, lows: list[list[float]], after: list[list[int]]) -> bool:
        """Choose a turn for cell ``k``, then part it from those before it.

        ``lows[a]`` are places along axis a; ``after[a][i]`` is a bit mask of
        the cells that must lie after i along it.
        """
        if k == self.count:
            self._leaf(lows)
            return True
        same = k > 0 and self.groups[k] == self.groups[k - 1]
        seen: set[Triple] = set()
        for number, cell in enumerate(self.turns[k]):
            if same and number < self.picked[k - 1]:
                continue
            if k == 0 and self.symmetric:  # turned by a quarter it is the same packing
                x, y, z = cell.size
                key = (min(x, y), max(x, y), z)
                if key in seen:
                    continue
                seen.add(key)
            self.chosen.append(cell)
            self.picked.append(number)
            new_lows = [[*lows[a], 0.0] for a in range(3)]
            new_after = [[*after[a], 0] for a in range(3)]
            done = self._part(k, 0, new_lows, new_after)
            self.chosen.pop()
            self.picked.pop()
            if not done:
                return False
            if k == 0 and self.step is not None:
                self.step((number + 1) / len(self.turns[0]))
        return True

    def _part(self, k: int, j: int, lows: list[list[float]], after: list[list[int]]) -> bool:
        """Part cell ``k`` from cell ``j`` and those after it."""
        while j < k and any(after[a][j] >> k & 1 or after[a][k] >> j & 1 for a in range(3)):
            j += 1  # parted already, through others
        self.steps += 1
        if self.steps > self.budget:
            return False
        if self.step is not None and self.steps % 20_000 == 0:
            self.step(self.steps / self.budget)
        if self._bound(lows, k) >= self.best.cost * (1 - 1e-12):
            return True
        if j == k:
            return self._place(k + 1, lows, after)
        chain = (
            self.groups[j] == self.groups[k] and j == k - 1 and (self.picked[j] == self.picked[k])
        )
        mirror = self.free and j == 0 and k == 1 and self.single[0] and self.single[1]
        for axis in range(3):
            for first, second in ((j, k), (k, j)):
                if forbidden(self.rules[first], self.rules[second], axis, self.mouth):
                    continue
                if first == k and (chain or (mirror and axis < 2)):
                    continue
                moved = self._before(first, second, axis, lows, after)
                if moved is not None and not self._part(k, j + 1, *moved):
                    return False
        return True

    def _before(
        self, first: int, second: int, axis: int, lows: list[list[float]], after: list[list[int]]
    ) -> tuple[list[list[float]], list[list[int]]] | None:
        """Places and order once ``first`` must lie before ``second`` along an axis."""
        masks = after[axis]
        if masks[second] >> first & 1:
            return None
        added = masks[second] | 1 << second
        masks = [m | added if i == first or m >> first & 1 else m for i, m in enumerate(masks)]
        places = list(lows[axis])
        sizes = [cell.size[axis] for cell in self.chosen]
        need = places[first] + sizes[first]
        if places[second] < need:
            places[second] = need
            moved = [second]
            while moved:
                i = moved.pop()
                end = places[i] + sizes[i]
                for n in range(len(places)):
                    if masks[i] >> n & 1 and places[n] < end:
                        places[n] = end
                        moved.append(n)
        new_lows, new_after = list(lows), list(after)
        new_lows[axis], new_after[axis] = places, masks
        return new_lows, new_after

    def _bound(self, lows: list[list[float]], k: int) -> float:
        extent = [
            max(p + c.size[a] for p, c in zip(lows[a], self.chosen, strict=True)) for a in range(3)
        ]
        for least in self.least[k + 1 :]:
            for a in range(3):
                extent[a] = max(extent[a], least[a])
        plain = float(self.price.bound((extent[0], extent[1], extent[2])))
        if plain >= self.best.cost:
            return plain
        return max(plain, self.table.at(*extent))

    def _leaf(self, lows: list[list[float]]) -> None:
        places = tuple(zip(*lows, strict=True))
        sizes = [cell.size for cell in self.chosen]
        extent = _extent(sizes, places)
        cost = float(self.price.cost(extent))
        if cost < self.best.cost and rests(sizes, places, self.rules):
            self.best = Packing(tuple(self.chosen), places, extent, cost)


def search(
    turns: Sequence[tuple[Cell, ...]],
    groups: Sequence[int],
    price: Price,
    best: Packing,
    budget: int,
    step: Callable[[float], None] | None = None,
    *,
    rules: Sequence[Rules] = (),
    mouth: int = UP,
) -> Found:
    """The least packing of cells that may each be turned; starts from ``best``.

    Parameters
    ----------
    turns : sequence of tuple of Cell
        For each cell its allowed turns.
    groups : sequence of int
        Equal numbers mark identical cells; these stand next to each other.
    price : Price
        Of an extent in mm.
    budget : int
        Steps after which the best so far is given, marked not complete.
    rules : sequence of Rules
        One for each cell; none means that all are free.
    mouth : int
        Axis through which things go in.
    """
    every = tuple(rules) or (Rules(),) * len(turns)
    return _Search(turns, groups, price, best, budget, step, every, mouth).run()
