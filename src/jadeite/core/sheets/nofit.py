"""Where one shape must not lie beside another, for every place of a lattice.

A mask says of each distance between two boxes of cells whether the shapes would be too
near.  It is found once for two forms, from the boxes that their cells make up: where box
meets box is again a box of distances.  Masks are kept packed, eight places to a byte, in
the shift in which they are wanted.
"""

from __future__ import annotations

import math
from collections.abc import Hashable, Sequence
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from jadeite.core.sheets.forms import Cells, Form, Shape

__all__ = ["Mask", "NoFit", "Packed", "Turned", "barred_by", "cost_of"]

CORNER = 19.0  # ns, from memory of measuring: to count a corner of two boxes, and
CELL = 6.0  # ns, from memory of measuring: to sum up a cell, and
PACK = 1.0  # ns to pack one; from memory of measuring
FEW = 48  # pairs of boxes; from memory, so few are marked one by one, and
MARK = 1500.0  # ns to mark one; from memory of measuring

Boxes = NDArray[np.intp]  # (n, 4); see `boxes_of`
Packed = NDArray[np.uint8]
Turned = tuple[int, float]  # number of a shape, degrees


@dataclass(eq=False)
class Mask:
    """Distances (rows, columns) at which a box is barred, from ``low`` (row, column) on."""

    cells: Cells
    low: tuple[int, int]
    _packed: dict[int, Packed] = field(default_factory=dict)

    def packed(self, shift: int) -> Packed:
        """Eight columns to a byte, the first ``shift`` (0 to 7) of them left free."""
        if shift not in self._packed:
            rows, columns = self.cells.shape
            wide = np.zeros((rows, -(-(columns + shift) // 8) * 8), dtype=bool)
            wide[:, shift : shift + columns] = self.cells
            self._packed[shift] = np.packbits(wide, axis=1)
        return self._packed[shift]

    def turned(self, quarters: int) -> Cells:
        """The cells after some quarter turns to the left of both shapes."""
        return np.rot90(self.cells, -quarters)


def cost_of(near: Form, cells: Form) -> float:
    """Nanoseconds that a mask of two forms takes, about."""
    a, b = near.near.shape, cells.cells.shape
    whole = (a[0] + b[0] - 1) * (a[1] + b[1] - 1)
    pairs = len(near.near_boxes) * len(cells.boxes)
    if pairs <= FEW:
        return MARK * pairs + PACK * float(whole)
    return CORNER * 4 * pairs + CELL * float(whole)


def barred_by(boxes: NDArray[np.intp], form: Form, rows: int, columns: int) -> Cells:
    """Where a form shares a cell with any of some boxes; distances as in :class:`Mask`.

    ``boxes`` lie in so many rows and columns.
    """
    high, wide = rows + form.cells.shape[0] - 1, columns + form.cells.shape[1] - 1
    own = form.boxes
    # box against box is again a box of distances: +1 at two of its corners, -1 at the others
    first_row = (boxes[:, 0][:, None] - own[:, 1] + form.cells.shape[0]).ravel()
    last_row = (boxes[:, 1][:, None] - own[:, 0] + form.cells.shape[0] - 1).ravel()
    first = (boxes[:, 2][:, None] - own[:, 3] + form.cells.shape[1]).ravel()
    last = (boxes[:, 3][:, None] - own[:, 2] + form.cells.shape[1] - 1).ravel()
    if len(first) <= FEW:
        barred = np.zeros((high, wide), dtype=bool)
        for a, b, c, d in zip(first_row, last_row, first, last, strict=True):
            barred[a:b, c:d] = True
        return barred
    across = wide + 1
    ups = np.concatenate([first_row * across + first, last_row * across + last])
    downs = np.concatenate([first_row * across + last, last_row * across + first])
    # counts of boxes stay far below 65,536, and sums on the way may wrap round
    change = np.zeros((high + 1) * across, dtype=np.uint16)
    np.add.at(change, ups, np.uint16(1))
    np.subtract.at(change, downs, np.uint16(1))
    summed = change.reshape(high + 1, across)
    np.cumsum(summed, axis=0, out=summed)
    np.cumsum(summed, axis=1, out=summed)
    return np.asarray(summed[:high, :wide] != 0)


class NoFit:
    """Masks of all pairs of some shapes, found when they are first asked for."""

    def __init__(self, shapes: Sequence[Shape]) -> None:
        self.shapes = shapes
        self.spent = 0.0  # ns that all done with these masks has taken, about
        self._outside: dict[tuple[Hashable, Turned], Mask] = {}
        self._masks: dict[tuple[Turned, Turned], Mask] = {}

    def form(self, turned: Turned) -> Form:
        """The form of a shape in a turn."""
        return self.shapes[turned[0]].form(turned[1])

    def pair(self, lying: Turned, other: Turned) -> Mask:
        """Where a second shape must not lie, from the first."""
        key = lying, other
        if key not in self._masks:
            cells = self._cells(lying, other)
            self.spent += PACK * cells.size
            height, width = self.form(other).cells.shape
            ring = self.form(lying).ring
            self._masks[key] = Mask(cells, (1 - height - ring, 1 - width - ring))
        return self._masks[key]

    def outside(self, room: Hashable, boxes: Boxes, size: tuple[int, int], other: Turned) -> Mask:
        """Where a shape must not lie in a room of (rows, columns) of which boxes are barred."""
        key = room, other
        if key not in self._outside:
            form = self.form(other)
            cells = barred_by(boxes, form, *size)
            self.spent += CORNER * 4 * len(boxes) * len(form.boxes) + (CELL + PACK) * cells.size
            self._outside[key] = Mask(cells, (1 - form.cells.shape[0], 1 - form.cells.shape[1]))
        return self._outside[key]

    def _cells(self, lying: Turned, other: Turned) -> Cells:
        quarters = math.floor(lying[1] / 90.0)
        if quarters:  # both turned back: found once for all four
            back = other[0], (other[1] - 90.0 * quarters) % 360.0
            return self.pair((lying[0], lying[1] % 90.0), back).turned(quarters)
        near, cells = self.form(lying), self.form(other)
        self.spent += cost_of(near, cells)
        return barred_by(near.near_boxes, cells, *near.near.shape)
