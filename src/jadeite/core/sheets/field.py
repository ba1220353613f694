"""The usable part of one sheet being filled: what lies there, and what is still free."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import MultiPolygon, Polygon

from jadeite.core.sheets.forms import NEAR, Form, boxes_of, filled
from jadeite.core.sheets.nofit import Mask, NoFit, Packed, Turned

__all__ = ["Field", "Lying", "Room"]

FULL = 255  # a byte of places that are all barred; exact
BAR = 8_000.0  # ns, from memory of measuring: to bar places, and
ROW = 40.0  # ns, from memory of measuring: for each of their rows, and
LOOK = 30_000.0  # ns to look for the first that is free; from memory of measuring


@dataclass(frozen=True, eq=False)
class Room:
    """A usable part of ``size`` (width, height) mm in cells of a lattice, its middle in theirs.

    ``barred`` are cells, as boxes, in which nothing may lie: all outside an offcut's
    outline, and round what is pinned.
    """

    size: tuple[float, float]
    cell: float
    barred: NDArray[np.intp] | None = None

    @property
    def columns(self) -> int:
        """Cells across."""
        return math.ceil(self.size[0] / self.cell - NEAR)

    @property
    def rows(self) -> int:
        """Cells upwards."""
        return math.ceil(self.size[1] / self.cell - NEAR)

    def over(self) -> tuple[float, float]:
        """How far the cells reach beyond the part on either hand (x, y), mm."""
        return (
            (self.columns * self.cell - self.size[0]) / 2,
            (self.rows * self.cell - self.size[1]) / 2,
        )

    def first(self, form: Form) -> tuple[int, int]:
        """The first column and row at which a form's shape does not stand out of the part."""
        over = self.over()
        return int(form.spare[0] < over[0] - NEAR), int(form.spare[1] < over[1] - NEAR)

    def holds(self, form: Form) -> bool:
        """Whether a form lies in it at all."""
        column, row = self.first(form)
        rows, columns = form.cells.shape
        return bool(rows + 2 * row <= self.rows and columns + 2 * column <= self.columns)

    def without(self, region: Polygon | MultiPolygon) -> Room:
        """The same where nothing may lie in a region, mm from the lower left of the part."""
        over = np.array(self.over())
        cells = shapely.transform(region, lambda points: (points + over) / self.cell)
        taken = np.zeros((self.rows, self.columns), dtype=bool)
        for part in shapely.get_parts(cells):
            taken |= filled(part, self.rows, self.columns)
        return replace(self, barred=boxes_of(taken))

    def middle(self, form: Form, row: int, column: int) -> tuple[float, float]:
        """Where the middle of a form's box is, mm from the lower left corner of the part."""
        over = self.over()
        rows, columns = form.cells.shape
        return (
            (column + columns / 2) * self.cell - over[0],
            (row + rows / 2) * self.cell - over[1],
        )


@dataclass(frozen=True, slots=True)
class Lying:
    """A form that lies in a room, by the lower left cell of its box."""

    turned: Turned
    row: int
    column: int


class _Places:
    """Places of one form in a room, packed: which are barred, and by how many it is known."""

    def __init__(self, room: Room, turned: Turned, masks: NoFit) -> None:
        form = masks.form(turned)
        self.skip = room.first(form)
        rows = room.rows - form.cells.shape[0] + 1 - 2 * self.skip[1]
        columns = room.columns - form.cells.shape[1] + 1 - 2 * self.skip[0]
        self.columns = max(0, columns)
        self.bits: Packed = np.zeros((max(0, rows), -(-self.columns // 8)), dtype=np.uint8)
        if self.columns % 8:  # what fills up the last byte is no place
            self.bits[:, -1] = FULL >> self.columns % 8
        self.known = 0
        self.lowest = 0
        if room.barred is not None and self.bits.size:
            self.bar(masks.outside(room, room.barred, (room.rows, room.columns), turned), 0, 0)

    def bar(self, mask: Mask, row: int, column: int) -> int:
        """Bar the places that are too near a shape whose box begins at a row and column.

        Returns how many rows of places that concerned.
        """
        top, left = row + mask.low[0] - self.skip[1], column + mask.low[1] - self.skip[0]
        byte, shift = divmod(left, 8)
        packed = mask.packed(shift)
        rows, columns = self.bits.shape
        first, last = max(self.lowest, top), min(rows, top + packed.shape[0])
        start, end = max(0, byte), min(columns, byte + packed.shape[1])
        if first >= last or start >= end:
            return 0
        part = packed[first - top : last - top, start - byte : end - byte]
        self.bits[first:last, start:end] |= part
        return int(last - first)

    def first(self) -> tuple[int, int] | None:
        """The lowest, then leftmost free place; None for none."""
        left = self.bits[self.lowest :]
        if not left.size:
            return None
        free = left.ravel() != FULL
        at = int(free.argmax())
        if not free[at]:
            self.bits = self.bits[:0]  # and none ever will be
            return None
        row, byte = divmod(at, left.shape[1])
        self.lowest += row
        bit = int(np.unpackbits(left[row, byte : byte + 1]).argmin())
        return self.lowest + self.skip[1], 8 * byte + bit + self.skip[0]


Prefers = Callable[[Form, int, int], tuple[float, ...]]  # less is better; of a form at a place


class Field:
    """A room being filled; ``masks`` are shared by all that are filled with the same shapes."""

    def __init__(self, room: Room, masks: NoFit) -> None:
        self.room, self._masks = room, masks
        self.lying: list[Lying] = []
        self.area = 0.0  # of what lies there, mm²
        self.top = 0  # rows that are in use, and
        self.right = 0  # columns
        self._places: dict[Turned, _Places] = {}

    def first(self, turned: Turned) -> tuple[int, int] | None:
        """The lowest, then leftmost row and column where a shape is free."""
        self._masks.spent += LOOK
        places = self._places.get(turned)
        if places is None:
            places = self._places[turned] = _Places(self.room, turned, self._masks)
        if not places.bits.size:
            return None
        since = self.lying[places.known :]
        rows = 0
        for other in since:
            rows += places.bar(self._masks.pair(other.turned, turned), other.row, other.column)
        self._masks.spent += BAR * len(since) + ROW * rows
        places.known = len(self.lying)
        return places.first()

    def put(self, shape: int, angles: tuple[float, ...], prefers: Prefers) -> bool:
        """Lay a shape in the best of its turns; False when there is no room for it."""
        best: tuple[tuple[float, ...], Lying] | None = None
        for angle in angles:
            at = self.first((shape, angle))
            if at is None:
                continue
            worth = prefers(self._masks.form((shape, angle)), *at)
            if best is None or worth < best[0]:
                best = worth, Lying((shape, angle), *at)
        if best is None:
            return False
        self.lay(best[1])
        return True

    def lay(self, lying: Lying) -> None:
        """Lay a shape where it is known to be free."""
        rows, columns = self._masks.form(lying.turned).cells.shape
        self.lying.append(lying)
        self.area += self._masks.shapes[lying.turned[0]].area
        self.top = max(self.top, lying.row + rows)
        self.right = max(self.right, lying.column + columns)

    def __len__(self) -> int:
        return len(self.lying)
