"""Arrange several things in one hollow, in axis-parallel turns.

Every thing has a cell: its extent and its clearance on each side.  The cells
are packed without overlap so that a cost that rises with every length (the
board that the shape takes, say) is least.  Up to six things are searched
exactly (:mod:`jadeite.core.contents.search`); more are put in one after
another at the corners that those before them leave.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass

from jadeite.core.contents.clearance import HEADROOM, clearance, finger_room
from jadeite.core.contents.search import Cell, Packing, greedy, search
from jadeite.core.contents.things import Block, Cylinder, FlatPack, solid_sizes

__all__ = ["OBJECTIVES", "Arrangement", "Place", "arrange", "first_arrangement"]

EXACT_ITEMS = 6  # up to this many things the search is exact
BUDGET = 3_000_000  # steps; from memory, beyond it the best so far is given, marked not exact

Triple = tuple[float, float, float]
BoardArea = Callable[[Triple], float]
Step = Callable[[float, str], None]

OBJECTIVES: dict[str, str] = {
    "least-board": "Least board",
    "lowest": "Lowest",
    "smallest-footprint": "Smallest footprint",
}


@dataclass(frozen=True)
class Place:
    """Where one thing lies, from the hollow's lower left front corner; mm.

    ``low`` is the corner of its cell, ``cell`` the cell's extent, ``solid``
    the thing's own extent, centred in the cell (but for finger room) and
    standing on its floor.  ``axis`` is that of a cylinder.
    """

    thing: int
    copy: int
    low: Triple
    cell: Triple
    solid: Triple
    axis: int

    @property
    def centre(self) -> Triple:
        """Middle of the thing itself."""
        x, y, z = self.low
        return (x + self.cell[0] / 2, y + self.cell[1] / 2, z + self.solid[2] / 2)


@dataclass(frozen=True)
class Arrangement:
    """Things in their places, the inside size that they need, and the board for it."""

    objective: str
    places: tuple[Place, ...]
    inside: Triple
    board_area: float
    exact: bool


def _cells(thing: Block | Cylinder | FlatPack) -> tuple[Cell, ...]:
    """Every turn of a thing as a cell with its clearance."""
    out: dict[Triple, Cell] = {}
    for solid in solid_sizes(thing):
        x, y = (s + 2 * clearance(thing, s).value for s in solid[:2])
        axis = 2
        if isinstance(thing, Cylinder):
            d, h = thing.diameter, thing.height
            axis = 2 if solid == (d, d, h) else (0 if solid == (h, d, d) else 1)
        finger = finger_room(thing)
        for size in ((x + finger, y, solid[2]), (x, y + finger, solid[2])):
            out.setdefault(size, Cell(size, solid, axis))
    return tuple(out.values())


def cost_of(objective: str, board_area: BoardArea) -> Callable[[Triple], float]:
    """The cost that an objective compares; rises with every length."""
    if objective == "lowest":
        return lambda size: size[2] * 1e7 + board_area(size)
    if objective == "smallest-footprint":
        return lambda size: size[0] * size[1] * 1e4 + board_area(size)
    return board_area


def _limited(
    cost: Callable[[Triple], float], limit: Triple | None, smallest: float
) -> Callable[[Triple], float]:
    """Cost of the inside that holds ``size``, with what passes a limit far dearer."""

    def priced(size: Triple) -> float:
        need = (
            max(size[0], smallest),
            max(size[1], smallest),
            max(size[2] + HEADROOM, smallest),
        )
        if limit is None:
            return cost(need)
        over = sum(max(0.0, n - m) for n, m in zip(need, limit, strict=True))
        return over * 1e9 + cost(need) * 1e-3 if over > 1e-9 else cost(need) * 1e-3

    return priced


def arrange(
    things: Sequence[Block | Cylinder | FlatPack],
    board_area: BoardArea,
    objective: str = "least-board",
    *,
    limit: Triple | None = None,
    smallest: float = 0.0,
    step: Step | None = None,
    quick: bool = False,
) -> Arrangement | None:
    """Arrange things so that the objective is least; None when there are none.

    Parameters
    ----------
    things : sequence
    board_area : callable
        Board in mm² for an inside size in mm; rises with every length.
    objective : str
        A key of :data:`OBJECTIVES`.
    limit : (x, y, z), optional
        mm; a fixed inside.  What passes it is made as small as possible, and
        the result's ``inside`` is larger than the limit where it does.
    smallest : float
        mm; no inside length is less.
    step : callable, optional
        ``step(fraction, text)``, may raise :class:`~jadeite.core.errors.Cancelled`.
    quick : bool
        Only the one-after-another answer, at once.
    """
    kinds = [_cells(thing) for thing in things]
    order = sorted(range(len(things)), key=lambda i: -math.prod(kinds[i][0].size))
    items = [(i, copy) for i in order for copy in range(things[i].count)]
    if not items:
        return None
    cost = _limited(cost_of(objective, board_area), limit, smallest)
    turns = [kinds[i] for i, _ in items]
    groups = [i for i, _ in items]
    best, exact = greedy(turns, cost), False
    if not quick and len(items) <= EXACT_ITEMS:
        found = search(turns, groups, cost, best, BUDGET, step)
        best, exact = found.packing, found.complete
    return _arrangement(objective, items, best, board_area, smallest, exact, limit)


def first_arrangement(
    things: Sequence[Block | Cylinder | FlatPack],
    board_area: BoardArea,
    objective: str = "least-board",
    *,
    limit: Triple | None = None,
    smallest: float = 0.0,
) -> Arrangement | None:
    """An arrangement at once, to show until the best one arrives."""
    return arrange(things, board_area, objective, limit=limit, smallest=smallest, quick=True)


def _arrangement(
    objective: str,
    items: list[tuple[int, int]],
    packing: Packing,
    board_area: BoardArea,
    smallest: float,
    exact: bool,
    limit: Triple | None,
) -> Arrangement:
    """Name the places, and turn the whole so that the longer side is its length."""
    places = [
        Place(thing, copy, low, cell.size, cell.solid, cell.axis)
        for (thing, copy), low, cell in zip(items, packing.lows, packing.cells, strict=True)
    ]
    sx, sy, sz = packing.size
    if sy > sx and limit is None:
        places = [_swapped(place) for place in places]
        sx, sy = sy, sx
    need = (max(sx, smallest), max(sy, smallest), max(sz + HEADROOM, smallest))
    room = need if limit is None else tuple(map(max, need, limit))
    shift = ((room[0] - sx) / 2, (room[1] - sy) / 2)
    places = [
        Place(
            p.thing,
            p.copy,
            (p.low[0] + shift[0], p.low[1] + shift[1], p.low[2]),
            p.cell,
            p.solid,
            p.axis,
        )
        for p in places
    ]
    inside = (room[0], room[1], room[2])
    return Arrangement(objective, tuple(places), inside, board_area(inside), exact)


def _swapped(place: Place) -> Place:
    x, y, z = place.low
    a, b, c = place.cell
    i, j, k = place.solid
    axis = {0: 1, 1: 0, 2: 2}[place.axis]
    return Place(place.thing, place.copy, (y, x, z), (b, a, c), (j, i, k), axis)
