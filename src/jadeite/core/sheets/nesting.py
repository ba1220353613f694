"""Shapes laid on sheets in one order: each where it is free, lowest and then leftmost.

Each shape goes to the first sheet that has room, in the best of its turns.  What is good
is few shapes left over, then few sheets, then little cost, then much of a sheet left in
one part.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, field
from functools import cached_property

from shapely.geometry import MultiPolygon, Polygon, box

from jadeite.core.sheets.field import Field, Prefers, Room
from jadeite.core.sheets.forms import Form, Shape
from jadeite.core.sheets.nofit import NoFit, cost_of

__all__ = [
    "PREFERS",
    "QUARTERS",
    "Engine",
    "Gene",
    "Kind",
    "Nest",
    "NestJob",
    "Part",
    "Way",
    "engine_for",
    "fewest",
    "least_sheets",
]

FORM = 0.5e6  # ns to find a form on the coarsest lattice; from memory of measuring
CELLS = (0.5, 1.0, 2.0)  # mm; from memory, the finest whose masks do not take too long
QUARTERS = (0.0, 90.0, 180.0, 270.0)  # degrees; common practice, sides along the grain

Gene = tuple[int, float | None]  # number of a part, and its turn; None takes the best


@dataclass(frozen=True, eq=False)
class Kind:
    """Sheets of one size: their usable part (width, height) mm, how many, and what one costs.

    Of an offcut ``region`` is what there is of that part.  ``sheet`` is the area of a whole
    sheet, mm², where that is more: of two kinds that take the same the smaller is used.
    """

    size: tuple[float, float]
    count: int | None = None
    cost: float = 0.0
    region: Polygon | MultiPolygon | None = None
    sheet: float = 0.0

    @cached_property
    def area(self) -> float:
        """Of the usable part, mm²."""
        return self.size[0] * self.size[1] if self.region is None else float(self.region.area)

    def room(self, cell: float) -> Room:
        """The usable part as cells of so many mm."""
        room = Room(self.size, cell)
        if self.region is None:
            return room
        return room.without(box(0, 0, *self.size).difference(self.region))


@dataclass(frozen=True, eq=False)
class Part:
    """An outline that is cut so many times.

    ``turns`` are those tried first, ``askew`` others, on each kind of sheet, in degrees.
    """

    outline: Polygon
    count: int
    turns: tuple[tuple[float, ...], ...]
    askew: tuple[tuple[float, ...], ...] = ()


@dataclass(frozen=True, eq=False)
class NestJob:
    """What is laid on what, ``gap`` mm apart."""

    parts: tuple[Part, ...]
    kinds: tuple[Kind, ...]
    gap: float


def fewest(area: float, sheets: Sequence[tuple[float, int | None]]) -> int | None:
    """Sheets (area, how many; largest first) that an area takes at least; None for not enough."""
    used = 0
    if area <= 0:
        return used
    for room, count in sheets:
        needed = math.ceil(area / room - 1e-9)
        if count is None or needed <= count:
            return used + max(0, needed)
        used, area = used + count, area - count * room
    return None


def least_sheets(parts: Sequence[Part], kinds: Sequence[Kind], gap: float) -> int | None:
    """No layout of parts that fit can use fewer whole sheets; None where they do not suffice.

    Outlines grown by half of the gap overlap nowhere, in parts that are as much larger.
    """
    area = sum(part.count * float(part.outline.buffer(gap / 2, quad_segs=4).area) for part in parts)
    rooms: list[tuple[float, int | None]] = []
    for kind in kinds:
        if kind.region is not None:
            area -= (kind.count or 0) * float(kind.region.buffer(gap / 2).area)
        else:
            rooms.append(((kind.size[0] + gap) * (kind.size[1] + gap), kind.count))
    return fewest(max(0.0, area), sorted(rooms, key=lambda pair: -pair[0]))


def _by_top(form: Form, row: int, column: int) -> tuple[float, ...]:
    return row + form.cells.shape[0], column + form.cells.shape[1]


def _by_middle(form: Form, row: int, column: int) -> tuple[float, ...]:
    return row + form.cells.shape[0] * form.middle, column


PREFERS: tuple[Prefers, ...] = (_by_top, _by_middle)


@dataclass(frozen=True)
class Way:
    """An order of parts, which place is preferred, and the order of the kinds of sheets."""

    genes: tuple[Gene, ...]
    prefers: int
    kinds: tuple[int, ...]


@dataclass(frozen=True, eq=False)
class Nest:
    """Fields with the number of their kind, and the parts that are left over."""

    fields: tuple[tuple[int, Field], ...]
    left: tuple[int, ...]
    worth: tuple[float, ...]
    way: Way


@dataclass(eq=False)
class Engine:
    """A job's shapes on one lattice, with the masks that all tries share."""

    job: NestJob
    cell: float
    masks: NoFit
    takes: float  # ns that all its masks take, about
    askew: bool = False
    _turns: dict[tuple[int, int, bool], tuple[float, ...]] = field(default_factory=dict, init=False)

    @property
    def spent(self) -> float:
        """Nanoseconds that all tries have taken, about."""
        return self.masks.spent

    @cached_property
    def rooms(self) -> tuple[Room, ...]:
        """Of each kind of sheet."""
        return tuple(kind.room(self.cell) for kind in self.job.kinds)

    @cached_property
    def fewest(self) -> int | None:
        """What :func:`least_sheets` says of all that fit."""
        parts = [part for i, part in enumerate(self.job.parts) if i not in self.hopeless]
        return least_sheets(parts, self.job.kinds, self.job.gap)

    @cached_property
    def hopeless(self) -> frozenset[int]:
        """Parts that lie on no sheet, not even alone."""
        return frozenset(i for i in range(len(self.job.parts)) if not self._lies(i))

    def _lies(self, part: int) -> bool:
        own, shape = self.job.parts[part], self.masks.shapes[part]
        return any(
            room.holds(shape.form(angle))
            for some in (own.turns, own.askew)
            for room, angles in zip(self.rooms, some, strict=False)
            for angle in angles
        )

    def turns(self, part: int, kind: int, *, askew: bool = False) -> tuple[float, ...]:
        """Turns in which a part may lie on a kind of sheet, alike ones once."""
        key = part, kind, askew
        if key not in self._turns:
            own = self.job.parts[part]
            angles = own.turns[kind]
            if (askew or self.askew) and own.askew:
                angles = (*angles, *own.askew[kind])
            self._turns[key] = self.masks.shapes[part].different(angles)
        return self._turns[key]

    def fill(self, way: Way, *, all_or_none: bool = False) -> Nest:
        """Lay every part, in an order."""
        kinds, prefers = self.job.kinds, PREFERS[way.prefers]
        fields: list[tuple[int, Field]] = []
        count = [kind.count for kind in kinds]
        left: list[int] = []
        full: set[tuple[int, Gene]] = set()  # what found no room never will
        for gene in way.genes:
            part = gene[0]
            if part in self.hopeless:
                left.append(part)
                continue
            area = self.masks.shapes[part].area
            for number, (kind, filled) in enumerate(fields):
                if (number, gene) in full or filled.area + area > kinds[kind].area:
                    continue
                if filled.put(part, self._angles(gene, kind), prefers):
                    break
                full.add((number, gene))
            else:
                opened = self._opened(gene, way.kinds, count, prefers)
                if opened is not None:
                    fields.append(opened)
                elif all_or_none:
                    return Nest(tuple(fields), (part,), (math.inf,), way)
                else:
                    left.append(part)
        return Nest(tuple(fields), tuple(left), self._worth(fields, left), way)

    def _angles(self, gene: Gene, kind: int) -> tuple[float, ...]:
        part, angle = gene
        turns = self.turns(part, kind)
        return turns if angle is None or angle not in turns else (angle,)

    def _opened(
        self, gene: Gene, order: Sequence[int], count: list[int | None], prefers: Prefers
    ) -> tuple[int, Field] | None:
        """A new sheet with a part on it; of the first kind that takes it."""
        for kind in order:
            if count[kind] == 0:
                continue
            sheet = Field(self.rooms[kind], self.masks)
            angles = self._angles(gene, kind)
            put = sheet.put(gene[0], angles, prefers)
            if not put and gene[1] is not None:
                put = sheet.put(gene[0], self.turns(gene[0], kind), prefers)
            if not put and self.job.parts[gene[0]].askew:
                put = sheet.put(gene[0], self.turns(gene[0], kind, askew=True), prefers)
            if put:
                left = count[kind]
                count[kind] = None if left is None else left - 1
                return kind, sheet
        return None

    def _worth(self, fields: Sequence[tuple[int, Field]], left: Sequence[int]) -> tuple[float, ...]:
        """What is better is less."""
        kinds, spare = self.job.kinds, 0.0
        cost = sum(kinds[kind].cost for kind, _ in fields)
        whole = sum(kinds[kind].sheet or kinds[kind].area for kind, _ in fields)
        filled = sum((sheet.area / kinds[kind].area) ** 2 for kind, sheet in fields)
        for kind, sheet in fields:
            wide, high = kinds[kind].size
            above = (high - sheet.top * self.cell) * wide
            beside = (wide - sheet.right * self.cell) * high
            spare = max(spare, above, beside)
        missing = sum(self.masks.shapes[part].area for part in left)
        opened = sum(kinds[kind].region is None for kind, _ in fields)
        return missing, opened, cost, len(fields), whole, -round(filled, 9), -round(spare, 3)


def engine_for(job: NestJob, budget: float, angles: Sequence[float] = QUARTERS) -> Engine:
    """The job on the finest lattice whose masks take less than so many nanoseconds."""
    coarse = NoFit([Shape(part.outline, CELLS[-1], job.gap) for part in job.parts])
    takes = _masks_take(coarse, angles)
    cell = next((cell for cell in CELLS if takes * (CELLS[-1] / cell) ** 2 <= budget), CELLS[-1])
    takes *= (CELLS[-1] / cell) ** 2
    if cell == CELLS[-1]:
        return Engine(job, cell, coarse, takes)
    shapes = [Shape(part.outline, cell, job.gap) for part in job.parts]
    return Engine(job, cell, NoFit(shapes), takes)


def _masks_take(masks: NoFit, angles: Sequence[float]) -> float:
    """Nanoseconds that masks of all pairs in some turns take, about."""
    slants = len({angle % 90.0 for angle in angles})
    forms = [(shape.form(0.0), len(shape.different(QUARTERS))) for shape in masks.shapes]
    return FORM * len(forms) * slants + slants**2 * sum(
        cost_of(one, other) * turns
        for i, (one, _) in enumerate(forms)
        for other, turns in forms[i:]
    )
