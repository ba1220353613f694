"""Arrange several things in one hollow, in axis-parallel turns.

Every thing has a cell: its extent and its clearance on each side.  The cells
are packed without overlap so that a cost (the board that the shape takes, say)
is least.  A quick packing comes first (:mod:`jadeite.core.contents.packer`),
is then improved, and up to six things are searched exactly
(:mod:`jadeite.core.contents.search`).  Beside each stands the bound that no
arrangement can undercut (:mod:`jadeite.core.contents.bounds`).
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from jadeite.core.boards.fits import USUAL, Fits
from jadeite.core.contents.arrangement import Arrangement, Place, swapped
from jadeite.core.contents.bounds import lower_bound
from jadeite.core.contents.cells import UP, Cell, Packing, Price, Rules, cells_of
from jadeite.core.contents.clearance import headroom
from jadeite.core.contents.grid import fill_grid
from jadeite.core.contents.packer import greedy, improve
from jadeite.core.contents.search import search
from jadeite.core.contents.things import AnyThing

__all__ = ["OBJECTIVES", "Room", "arrange", "arrange_all", "rules_of"]

EXACT_ITEMS = 6  # up to this many things the search is exact
BUDGET = 400_000  # steps; from memory, beyond it the best so far is given, marked not exact
# packings made in the search, as things times packings: about two seconds; from memory
TRIES, LEAST_TRIES = 5000, 40
SEED = 20  # setting; the same things always give the same arrangement
LARGER = 1e9  # no measure; makes what passes a limit dearer than anything that does not

Triple = tuple[float, float, float]
Step = Callable[[float, str], None]
Cost = Callable[[Any], Any]

OBJECTIVES: dict[str, str] = {
    "least-board": "Least board",
    "lowest": "Lowest",
    "one-layer": "Flattest, one layer",
    "squarest": "Squarest base",
    "smallest-footprint": "Smallest base",
    "lightest-board": "Lightest board that holds",
}


@dataclass(frozen=True)
class Room:
    """What a shape says of its hollow.

    ``board_area`` gives board in mm² for an inside size and rises with every
    length; ``grammage`` the least board that holds, in g/m², for an inside
    size.  Both take numbers or arrays.  ``limit`` is a fixed inside in mm,
    ``smallest`` the least lengths, ``mouth`` the axis through which things go
    in, ``fits`` the room that things have.  With ``divided`` every thing has
    a cell of its own, ``fitted`` to it or all ``equal``, between strips of
    ``strip`` mm.
    """

    board_area: Cost
    grammage: Cost | None = None
    limit: Triple | None = None
    smallest: Triple = (0.0, 0.0, 0.0)
    mouth: int = UP
    fits: Fits = USUAL
    divided: str = "none"
    strip: float = 0.0


def rules_of(thing: AnyThing) -> Rules:
    """What may be done with a thing."""
    return Rules(thing.bears, thing.stacks, thing.reach)


def _longest_side(size: Any) -> Any:
    x, y = size[0], size[1]
    return max(x, y) if isinstance(x, float) else np.maximum(x, y)


def price_of(objective: str, room: Room) -> Price:
    """What an objective compares; see :data:`OBJECTIVES`."""
    area = room.board_area
    if objective == "lowest":
        return Price.rising(lambda size: size[2] * 1e7 + area(size))
    if objective == "smallest-footprint":
        return Price.rising(lambda size: size[0] * size[1] * 1e4 + area(size))
    if objective == "squarest":
        return Price.rising(lambda size: _longest_side(size) * 1e7 + area(size))
    if objective == "lightest-board" and room.grammage is not None:
        grammage = room.grammage
        least = float(grammage((1.0, 1.0, 1.0)))
        return Price(lambda s: grammage(s) * 1e9 + area(s), lambda s: least * 1e9 + area(s))
    return Price.rising(area)


def _within(price: Price, room: Room, head: float) -> Price:
    """The price of the inside that holds an extent; what passes a limit is far dearer."""

    mouth, limit = room.mouth, room.limit
    least_x, least_y, least_z = room.smallest

    def within(measure: Cost) -> Cost:
        def priced(size: Any) -> Any:
            x, y, z = size
            if mouth == UP:
                z = z + head
            else:
                y = y + head
            if isinstance(x, float):  # the exact search asks a million times
                if x < least_x:
                    x = least_x
                if y < least_y:
                    y = least_y
                if z < least_z:
                    z = least_z
                value = measure((x, y, z))
                if limit is None:
                    return value
                over = max(x - limit[0], 0.0) + max(y - limit[1], 0.0) + max(z - limit[2], 0.0)
                return over * LARGER + value * 1e-3
            whole = tuple(map(np.maximum, (x, y, z), room.smallest))
            value = measure(whole)
            if limit is None:
                return value
            past = sum(np.maximum(n - m, 0.0) for n, m in zip(whole, limit, strict=True))
            return past * LARGER + value * 1e-3

        return priced

    return Price(within(price.cost), within(price.bound))


@dataclass(frozen=True)
class _Job:
    """The cells to be packed, in order of size."""

    things: Sequence[AnyThing]
    items: tuple[tuple[int, int], ...]
    turns: tuple[tuple[Cell, ...], ...]
    rules: tuple[Rules, ...]
    room: Room
    head: float

    def rules_for(self, objective: str) -> tuple[Rules, ...]:
        """The things' rules; in one layer nothing stands on anything."""
        if objective != "one-layer":
            return self.rules
        return tuple(replace(rule, stacks=False) for rule in self.rules)

    def price(self, objective: str) -> Price:
        """The price of an objective."""
        return _within(price_of(objective, self.room), self.room, self.head)

    @property
    def groups(self) -> list[int]:
        """Equal numbers for identical cells."""
        return [thing for thing, _ in self.items]


def _job(things: Sequence[AnyThing], room: Room) -> _Job | None:
    kinds = [cells_of(thing, room.fits, room.mouth) for thing in things]
    order = sorted(range(len(things)), key=lambda i: -math.prod(kinds[i][0].size))
    items = tuple((i, copy) for i in order for copy in range(things[i].count))
    if not items:
        return None
    return _Job(
        things,
        items,
        tuple(kinds[i] for i, _ in items),
        tuple(rules_of(things[i]) for i, _ in items),
        room,
        max((headroom(t, room.fits).value for t in things), default=room.fits.headroom),
    )


def arrange(
    things: Sequence[AnyThing],
    room: Room,
    objective: str = "least-board",
    *,
    step: Step | None = None,
    quick: bool = False,
) -> Arrangement | None:
    """Arrange things so that the objective is least; None when there are none.

    Parameters
    ----------
    room : Room
        The hollow; with a ``limit``, what passes it is made as small as
        possible, and the result's ``inside`` is larger where it does.
    objective : str
        A key of :data:`OBJECTIVES`.
    step : callable, optional
        ``step(fraction, text)``, may raise :class:`~jadeite.core.errors.Cancelled`.
    quick : bool
        Only the one-after-another answer, at once.
    """
    job = _job(things, room)
    if job is None:
        return None
    if room.divided != "none":
        return _in_cells(objective, job, None)
    if quick:
        price, rules = job.price(objective), job.rules_for(objective)
        packing = greedy(job.turns, price, rules=rules, mouth=room.mouth)
        return _arrangement(objective, job, packing, exact=False)
    return arrange_all(things, room, (objective,), step=step)[objective]


def arrange_all(
    things: Sequence[AnyThing],
    room: Room,
    objectives: Sequence[str] = tuple(OBJECTIVES),
    *,
    step: Step | None = None,
    tries: int = TRIES,
) -> dict[str, Arrangement]:
    """The best arrangement found for each of several objectives.

    ``tries`` bounds the search by chance, as things times packings; the exact
    search of few things follows it.
    """
    job = _job(things, room)
    if job is None:
        return {}
    if room.divided != "none":
        tell = None if step is None else lambda share: step(share, "Arranging the cells")
        return {name: _in_cells(name, job, tell) for name in objectives if name != "one-layer"}
    count = len(job.items)
    small = count <= EXACT_ITEMS
    packings = max(LEAST_TRIES, tries // count // (4 if small else 1))

    def part(start: float, end: float) -> Callable[[float], None] | None:
        if step is None:
            return None
        return lambda share: step(start + (end - start) * share, "Arranging the contents")

    best: dict[str, Packing] = {}
    free = [name for name in objectives if name != "one-layer"]
    first = 0.25 if small else 1.0
    for names, low, high in (
        (free, 0.0, first * 0.8),
        ([name for name in objectives if name == "one-layer"], first * 0.8, first),
    ):
        if not names:
            continue
        rules = job.rules_for(names[0])
        prices = {name: job.price(name) for name in names}
        starts = {
            name: greedy(job.turns, price, rules=rules, mouth=room.mouth)
            for name, price in prices.items()
        }
        best |= improve(
            job.turns,
            prices,
            starts,
            packings if names == free or not free else packings // 4,
            np.random.default_rng(SEED),
            rules=rules,
            mouth=room.mouth,
            step=part(low, high),
        )
    out = {}
    for number, name in enumerate(objectives):
        packing, exact = best[name], False
        if small:
            found = search(
                job.turns,
                job.groups,
                job.price(name),
                packing,
                BUDGET,
                part(
                    0.25 + 0.75 * number / len(objectives),
                    0.25 + 0.75 * (number + 1) / len(objectives),
                ),
                rules=job.rules_for(name),
                mouth=room.mouth,
            )
            packing, exact = found.packing, found.complete
        out[name] = _arrangement(name, job, packing, exact=exact)
    return out


def _in_cells(objective: str, job: _Job, step: Callable[[float], None] | None) -> Arrangement:
    """Every thing in a cell of its own; the strips end where the lid needs its room."""
    room = job.room
    assert room.mouth == UP  # strips stand only in boxes that open at the top
    price = job.price(objective)
    found = fill_grid(
        job.turns,
        price,
        room.strip,
        equal=room.divided == "equal",
        front=[rule.reach == "front" for rule in job.rules],
        step=step,
    )
    x, y, z = found.size
    least = room.smallest
    need = (max(x, least[0]), max(y, least[1]), max(z + job.head, least[2]))
    inside = need
    if room.limit is not None:
        inside = tuple(map(max, need, room.limit))  # type: ignore[assignment]
    grid = replace(found.grid.widened(inside[0], inside[1]), height=inside[2] - job.head)
    starts = grid.starts()
    places = []
    for (thing, copy), cell, (i, j) in zip(job.items, found.cells, found.spots, strict=True):
        low = (
            starts[0][i] + (grid.columns[i] - cell.size[0]) / 2,
            starts[1][j] + (grid.rows[j] - cell.size[1]) / 2,
            0.0,
        )
        places.append(
            Place(thing, copy, low, cell.size, cell.solid, cell.axis, cell.tall, cell.inset)
        )
    flat = tuple(replace(rule, stacks=False) for rule in job.rules)
    bound = min(found.cost, lower_bound(job.turns, price, rules=flat))
    area = float(room.board_area(inside))
    return Arrangement(objective, tuple(places), inside, area, False, found.cost, bound, grid)


def _arrangement(objective: str, job: _Job, packing: Packing, *, exact: bool) -> Arrangement:
    """Name the places, and turn the whole so that the longer side is its length."""
    room = job.room
    places = [
        Place(thing, copy, low, cell.size, cell.solid, cell.axis, cell.tall, cell.inset)
        for (thing, copy), low, cell in zip(job.items, packing.lows, packing.cells, strict=True)
    ]
    size = list(packing.size)
    turnable = room.limit is None and room.mouth == UP
    if size[1] > size[0] and turnable and all(r.reach != "front" for r in job.rules):
        places = [swapped(place) for place in places]
        size[0], size[1] = size[1], size[0]
    size[room.mouth] += job.head
    need = [max(v, low) for v, low in zip(size, room.smallest, strict=True)]
    whole = (
        need if room.limit is None else [max(n, m) for n, m in zip(need, room.limit, strict=True)]
    )
    size[room.mouth] -= job.head
    shift = [(whole[a] - size[a]) / 2 if a != room.mouth and a != UP else 0.0 for a in range(3)]
    if any(r.reach == "front" for r in job.rules):
        shift[1] = 0.0
    places = [replace(p, low=(p.low[0] + shift[0], p.low[1] + shift[1], p.low[2])) for p in places]
    inside = (whole[0], whole[1], whole[2])
    price, rules = job.price(objective), job.rules_for(objective)
    cost = float(price.cost(packing.size))
    bound = cost
    if not exact:
        bound = min(cost, lower_bound(job.turns, price, rules=rules, mouth=room.mouth))
    area = float(room.board_area(inside))
    return Arrangement(objective, tuple(places), inside, area, exact, cost, bound)
