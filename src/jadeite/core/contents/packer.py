"""A good packing of many cells, quickly: put down one after another, then improved.

Each cell is tried in every turn at every extreme point (the places where a
cell put down before ends, slid back to what lies before it), all at once in
arrays.  The order and the turns are then changed by chance, many times over;
a change that does no harm is kept.  The generator of chance is an argument,
so the same things always give the same packing.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence

import numpy as np
from numpy.typing import NDArray

from jadeite.core.contents.cells import (
    CLOSE,
    FREE,
    RESTS,
    UP,
    Cell,
    Packing,
    Price,
    Rules,
)

__all__ = ["greedy", "improve"]

Floats = NDArray[np.float64]
Triple = tuple[float, float, float]
TIE = 1e-9  # of the cost; design rule, between equal costs the nearer place wins
# for each far corner of a cell: the axis along which it lies, and the one it is slid back along
SIX = np.arange(6)
ALONG = np.array([0, 0, 1, 1, 2, 2])
SLIDE = np.array([1, 2, 0, 2, 0, 1])
KEPT_WORSE = 0.01  # share by which a change may do harm and still be followed; from memory


class _Packer:
    """Cells being put down; arrays are cut to the cells placed so far."""

    def __init__(
        self,
        turns: Sequence[tuple[Cell, ...]],
        rules: Sequence[Rules],
        mouth: int,
    ) -> None:
        self.turns, self.rules, self.mouth = turns, rules, mouth
        self.sizes = [np.array([c.size for c in options]) for options in turns]
        self.bears = np.array([r.bears for r in rules])
        self.reach = np.array([r.reach != "anywhere" for r in rules])

    def pack(
        self, order: Sequence[int], only: Mapping[int, int], price: Price
    ) -> tuple[list[int], Floats, Triple] | None:
        """Put cells down in an order; ``only`` fixes the turn of some.

        Returns the turn and the corner of each cell, and the extent of all;
        None where the rules leave no place.
        """
        count = len(order)
        lows, highs = np.zeros((count, 3)), np.zeros((count, 3))
        points = np.zeros((1, 3))
        extent = np.zeros(3)
        chosen, corners = [0] * count, np.zeros((count, 3))
        for n, item in enumerate(order):
            sizes = self.sizes[item]
            first = only.get(item, -1)
            if first >= 0:
                sizes = sizes[first : first + 1]
            low = np.repeat(points, len(sizes), axis=0)
            high = low + np.tile(sizes, (len(points), 1))
            after = np.maximum(extent, high)
            cost = np.asarray(price.cost(tuple(after.T)), dtype=float)
            key = cost + TIE * np.abs(cost) * low.sum(axis=1)
            rank = np.argsort(key, kind="stable")
            best = self._first_allowed(rank, low, high, item, order[:n], lows[:n], highs[:n])
            if best is None:
                return None
            lows[n], highs[n] = low[best], high[best]
            extent = after[best]
            chosen[item] = first if first >= 0 else int(best % len(sizes))
            corners[item] = low[best]
            points = self._points(points, lows[: n + 1], highs[: n + 1], low[best], high[best])
        return chosen, corners, (float(extent[0]), float(extent[1]), float(extent[2]))

    def _first_allowed(
        self,
        rank: NDArray[np.int_],
        low: Floats,
        high: Floats,
        item: int,
        before: Sequence[int],
        lows: Floats,
        highs: Floats,
    ) -> int | None:
        """The best-ranked place that is free, at rest and within the rules."""
        start, chunk = 0, 12  # most of the time the first few places decide
        while start < len(rank):
            tried = rank[start : start + chunk]
            start, chunk = start + chunk, 4 * chunk
            ok = self._allowed(low[tried], high[tried], item, before, lows, highs)
            if ok.any():
                return int(tried[int(np.argmax(ok))])
        return None

    def _allowed(
        self,
        low: Floats,
        high: Floats,
        item: int,
        before: Sequence[int],
        lows: Floats,
        highs: Floats,
    ) -> NDArray[np.bool_]:
        rule = self.rules[item]
        ok = np.ones(len(low), dtype=bool)
        if not rule.stacks:
            ok &= low[:, UP] < CLOSE
        if rule.reach == "front" and self.mouth != 1:
            ok &= low[:, 1] < CLOSE
        if not len(before):
            return ok
        past = np.minimum(high[:, None], highs[None]) - np.maximum(low[:, None], lows[None])
        over = past > CLOSE  # (places, cells, axes): shared extent along an axis
        shadow = over[:, :, 0] & over[:, :, 1]
        ok &= ~(shadow & over[:, :, UP]).any(axis=1)
        touch = shadow & (np.abs(highs[None, :, UP] - low[:, None, UP]) < CLOSE)
        area = np.where(touch, past[:, :, 0] * past[:, :, 1], 0.0)
        base = (high[:, 0] - low[:, 0]) * (high[:, 1] - low[:, 1])
        held = area.sum(axis=1) >= RESTS * base
        ok &= (low[:, UP] < CLOSE) | held
        if not self.bears.all():
            bears = self.bears[list(before)]
            ok &= ~(touch & ~bears[None]).any(axis=1)
        if not rule.bears:  # nothing put down before may stand on it
            above = shadow & (np.abs(lows[None, :, UP] - high[:, None, UP]) < CLOSE)
            ok &= ~above.any(axis=1)
        if not self.reach.any():
            return ok
        return ok & self._in_reach(low, high, rule, before, lows, highs, over)

    def _in_reach(
        self,
        low: Floats,
        high: Floats,
        rule: Rules,
        before: Sequence[int],
        lows: Floats,
        highs: Floats,
        over: NDArray[np.bool_],
    ) -> NDArray[np.bool_]:
        """Whether what must be reachable stays so, for this cell and those before it."""
        across = [a for a in range(3) if a != self.mouth]
        line = over[:, :, across].all(axis=2)  # in one line towards the mouth
        farther = lows[None, :, self.mouth] >= high[:, None, self.mouth] - CLOSE
        nearer = highs[None, :, self.mouth] <= low[:, None, self.mouth] + CLOSE
        bad = line & nearer & self.reach[list(before)][None]
        if rule.reach != "anywhere":
            bad |= line & farther
        return np.asarray(~bad.any(axis=1))

    @staticmethod
    def _points(points: Floats, lows: Floats, highs: Floats, low: Floats, high: Floats) -> Floats:
        """The extreme points once a cell is put down: its far corners, slid back both ways."""
        start = np.repeat(low[None], 6, axis=0)
        start[SIX, ALONG] = high[ALONG]
        covers = (lows[None] <= start[:, None] + CLOSE) & (highs[None] > start[:, None] + CLOSE)
        before = highs[:, SLIDE].T
        covers[SIX, :, SLIDE] = before <= start[SIX, SLIDE][:, None] + CLOSE
        start[SIX, SLIDE] = np.where(covers.all(axis=2), before, 0.0).max(axis=1)
        found = np.concatenate([points, start])
        taken = ((low - CLOSE <= found) & (found < high - CLOSE)).all(axis=1)
        return np.asarray(found[~taken])

    def packing(
        self, chosen: Sequence[int], corners: Floats, extent: Triple, cost: float
    ) -> Packing:
        """The packing as a value.

        ``corners`` are (n, 3) float, mm.
        """
        cells = tuple(self.turns[i][t] for i, t in enumerate(chosen))
        lows = tuple((float(x), float(y), float(z)) for x, y, z in corners)
        return Packing(cells, lows, extent, cost)


def _first_orders(turns: Sequence[tuple[Cell, ...]], rules: Sequence[Rules]) -> list[list[int]]:
    """Orders worth trying first: large, high, wide things first; what bears nothing last."""
    size = [np.array([c.size for c in options]) for options in turns]
    volume = [float(s[0].prod()) for s in size]
    longest = [float(s.max()) for s in size]
    base = [float((s[:, 0] * s[:, 1]).max()) for s in size]
    lowest = [float(s[:, 2].min()) for s in size]
    last = [
        (not rule.bears) + (rule.reach != "anywhere") - (not rule.stacks) - (rule.reach == "front")
        for rule in rules
    ]
    every = range(len(turns))
    keys: list[Callable[[int], tuple[float, float]]] = [
        lambda i: (last[i], -volume[i]),
        lambda i: (last[i], -base[i]),
        lambda i: (last[i], -longest[i]),
        lambda i: (last[i], -lowest[i]),
    ]
    return [sorted(every, key=key) for key in keys]


def _safe_order(turns: Sequence[tuple[Cell, ...]], rules: Sequence[Rules]) -> list[int]:
    """An order in which the rules always leave a place: front and floor first."""
    return sorted(
        range(len(turns)),
        key=lambda i: (rules[i].reach != "front", rules[i].stacks, -max(turns[i][0].size)),
    )


def greedy(
    turns: Sequence[tuple[Cell, ...]],
    price: Price,
    *,
    rules: Sequence[Rules] = (),
    mouth: int = UP,
) -> Packing:
    """Put cells in one after another, each where the cost stays least; the best of a few orders."""
    every = tuple(rules) or (FREE,) * len(turns)
    packer = _Packer(turns, every, mouth)
    best: Packing | None = None
    orders = _first_orders(turns, every)
    for order in [*orders[: 4 if len(turns) <= 16 else 2], _safe_order(turns, every)]:
        found = packer.pack(order, {}, price)
        if found is None:
            continue
        cost = float(price.cost(found[2]))
        if best is None or cost < best.cost:
            best = packer.packing(*found, cost)
    assert best is not None  # beside all others on the floor there is always room
    return best


def improve(
    turns: Sequence[tuple[Cell, ...]],
    prices: Mapping[str, Price],
    starts: Mapping[str, Packing],
    tries: int,
    chance: np.random.Generator,
    *,
    rules: Sequence[Rules] = (),
    mouth: int = UP,
    step: Callable[[float], None] | None = None,
) -> dict[str, Packing]:
    """Better packings for several prices at once: what one finds serves all.

    Parameters
    ----------
    tries : int
        How many packings are made in all.
    chance : numpy Generator
        The same seed gives the same packings.
    step : callable, optional
        ``step(fraction)``; may raise to stop.
    """
    every = tuple(rules) or (FREE,) * len(turns)
    packer = _Packer(turns, every, mouth)
    best = dict(starts)
    orders = _first_orders(turns, every)
    names = list(prices)
    here = {
        name: (list(orders[i % len(orders)]), dict[int, int](), starts[name].cost)
        for i, name in enumerate(names)
    }
    for number in range(tries):
        if step is not None and number % 8 == 0:
            step(number / tries)
        name = names[number % len(names)]
        order, only, cost = here[name]
        order, only = _changed(order, only, turns, chance)
        found = packer.pack(order, only, prices[name])
        if found is None:
            continue
        new = float(prices[name].cost(found[2]))
        if new <= cost * (1 + KEPT_WORSE * chance.random()):
            here[name] = (order, only, new)
        for other, price in prices.items():
            value = float(price.cost(found[2]))
            if value < best[other].cost - CLOSE:
                best[other] = packer.packing(*found, value)
    return best


def _changed(
    order: list[int],
    only: dict[int, int],
    turns: Sequence[tuple[Cell, ...]],
    chance: np.random.Generator,
) -> tuple[list[int], dict[int, int]]:
    """An order and fixed turns with a small change: two swapped, one moved, one turned."""
    order, only = list(order), dict(only)
    count = len(order)
    kind = chance.random()
    if kind < 0.35 and count > 1:
        i, j = chance.choice(count, 2, replace=False)
        order[i], order[j] = order[j], order[i]
    elif kind < 0.65 and count > 1:
        item = order.pop(int(chance.integers(count)))
        order.insert(int(chance.integers(count)), item)
    elif kind < 0.9:
        item = int(chance.integers(count))
        only[item] = int(chance.integers(len(turns[item])))
    elif only:
        del only[list(only)[int(chance.integers(len(only)))]]
    return order, only
