"""Where one shape must not lie beside another, for every place of a lattice.

A mask says of each distance between two boxes of cells whether the shapes would be too
near.  It is found once for two forms: by their boxes where these are few, else as the
correlation of their cells (by a fast Fourier transform).  Masks are kept packed, eight
places to a byte, in the shift in which they are wanted.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray
from scipy.fft import irfft2, rfft2  # type: ignore[import-untyped]

from jadeite.core.sheets.forms import Cells, Form, Shape

__all__ = ["Mask", "NoFit", "Turned", "barred_by", "cost_of"]

LENGTHS = 32  # cells; from memory, lengths of transforms are multiples of it
CORNER = 16.0  # ns to add a corner of two boxes, and
CELL = 4.0  # ns to sum up a cell, and
WAVE = 14.0  # ns a cell of a transform and back; measured

Packed = NDArray[np.uint8]
Waves = NDArray[np.complex64]
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
    """Nanoseconds that a mask of two forms takes, about; the less of both ways."""
    size = _wide(near, cells)
    whole = size[0] * size[1]
    return min(CORNER * 4 * len(near.near_boxes) * len(cells.boxes) + CELL * whole, WAVE * whole)


def _wide(near: Form, cells: Form) -> tuple[int, int]:
    a, b = near.near.shape, cells.cells.shape
    return a[0] + b[0] - 1, a[1] + b[1] - 1


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
    across = wide + 1
    ups = np.concatenate([first_row * across + first, last_row * across + last])
    downs = np.concatenate([first_row * across + last, last_row * across + first])
    size = (high + 1) * across
    change = np.bincount(ups, minlength=size) - np.bincount(downs, minlength=size)
    summed = change.astype(np.int32).reshape(high + 1, across)
    np.cumsum(summed, axis=0, out=summed)
    np.cumsum(summed, axis=1, out=summed)
    return np.asarray(summed[:high, :wide] > 0)


class NoFit:
    """Masks of all pairs of some shapes, found when they are first asked for."""

    def __init__(self, shapes: Sequence[Shape]) -> None:
        self.shapes = shapes
        self._masks: dict[tuple[Turned, Turned], Mask] = {}
        self._waves: dict[tuple[Turned, tuple[int, int], bool], Waves] = {}

    def form(self, turned: Turned) -> Form:
        """The form of a shape in a turn."""
        return self.shapes[turned[0]].form(turned[1])

    def pair(self, lying: Turned, other: Turned) -> Mask:
        """Where a second shape must not lie, from the first."""
        key = lying, other
        if key not in self._masks:
            cells = self._cells(lying, other)
            height, width = self.form(other).cells.shape
            ring = self.form(lying).ring
            self._masks[key] = Mask(cells, (1 - height - ring, 1 - width - ring))
        return self._masks[key]

    def _cells(self, lying: Turned, other: Turned) -> Cells:
        quarters = math.floor(lying[1] / 90.0)
        if quarters:  # both turned back: found once for all four
            back = other[0], (other[1] - 90.0 * quarters) % 360.0
            return self.pair((lying[0], lying[1] % 90.0), back).turned(quarters)
        near, cells = self.form(lying), self.form(other)
        high, wide = _wide(near, cells)
        corners = 4 * len(near.near_boxes) * len(cells.boxes)
        if CORNER * corners + CELL * high * wide < WAVE * high * wide:
            return barred_by(near.near_boxes, cells, *near.near.shape)
        size = _round(high), _round(wide)
        over = irfft2(self._wave(lying, size, True) * self._wave(other, size, False), size)
        return np.asarray(over[:high, :wide] > 0.5)  # they share a cell or more

    def _wave(self, turned: Turned, size: tuple[int, int], near: bool) -> Waves:
        key = turned, size, near
        if key not in self._waves:
            form = self.form(turned)
            cells = form.near if near else form.cells[::-1, ::-1]
            self._waves[key] = np.asarray(rfft2(cells.astype(np.float32), size))
        return self._waves[key]


def _round(length: int) -> int:
    return math.ceil(length / LENGTHS) * LENGTHS
