"""Where a piece is free beside others: masks over a lattice of positions, one for each pair.

What lies too near another is found once for two shapes, at every distance of the
lattice, as the correlation of their filled outlines (by a fast Fourier transform); a
sheet then only lays such masks over one another.
"""

from __future__ import annotations

import math
from collections.abc import Hashable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.fft import irfft2, next_fast_len, rfft2  # type: ignore[import-untyped]
from shapely.geometry import Polygon

__all__ = ["Field", "Lattice"]

STEP = 1.0  # mm between positions; from memory
FINE = 0.5  # mm across a cell of a filled outline; from memory
SMALL = 100.0  # mm; from memory, of larger pieces the cells are as wide as a step
LENGTHS = 48  # cells; from memory, lengths of transforms are multiples of it
MOST_KEPT = 128  # transforms, some 30 MB; from memory
DIAGONAL = math.sqrt(2) / 2  # of a cell, from its middle to its corner

Mask = NDArray[np.bool_]
Waves = NDArray[np.complex64]


@dataclass(frozen=True, eq=False)
class _Pair:
    """Distances at which a second shape lies too near a first, from ``low`` (x, y) cells on."""

    mask: Mask
    low: tuple[int, int]
    cell: float


class Lattice:
    """Masks of all pairs of shapes that keep a gap in mm from one another."""

    def __init__(self, gap: float) -> None:
        self._gap = gap
        self._filled: dict[tuple[Hashable, float], Mask] = {}
        self._waves: dict[tuple[Hashable, tuple[int, int]], Waves] = {}
        self._pairs: dict[tuple[Hashable, Hashable], _Pair] = {}

    def pair(
        self, one: Hashable, first: Polygon, other: Hashable, second: Polygon, *, fine: bool
    ) -> _Pair:
        """Where a second shape must not lie, from the first; both are known by a key."""
        if (one, other) not in self._pairs:
            large = not fine or max(*_size(first), *_size(second)) > SMALL
            self._pairs[one, other] = self._near(one, first, other, second,
                                                 STEP if large else FINE)  # fmt: skip
        return self._pairs[one, other]

    def _near(
        self, one: Hashable, first: Polygon, other: Hashable, second: Polygon, cell: float
    ) -> _Pair:
        a, b = self._fill(one, first, cell), self._fill(other, second, cell)
        high, wide = a.shape[0] + b.shape[0] - 1, a.shape[1] + b.shape[1] - 1
        size = _round(high), _round(wide)
        over = irfft2(
            self._wave((one, cell), a, size)
            * self._wave((other, cell, "back"), b[::-1, ::-1], size),
            size,
        )
        mask = np.asarray(over[:high, :wide] > 0.5)  # they share a cell or more
        return _Pair(mask, (1 - b.shape[1], 1 - b.shape[0]), cell)

    def _wave(self, key: Hashable, cells: Mask, size: tuple[int, int]) -> Waves:
        """The transform of filled cells; the last ones are kept, as most are asked for again."""
        if (key, size) not in self._waves:
            if len(self._waves) >= MOST_KEPT:
                del self._waves[next(iter(self._waves))]
            self._waves[key, size] = np.asarray(rfft2(cells.astype(np.float32), size))
        return self._waves[key, size]

    def _fill(self, key: Hashable, shape: Polygon, cell: float) -> Mask:
        """Cells whose middle lies in a shape, grown so far that none that is too near is missed.

        Two shapes nearer than the gap, each grown by half of it and a cell's half diagonal,
        share a disc as wide as a cell's diagonal, so the middle of a cell.  A position is
        rounded to a cell: that is half a diagonal more.
        """
        if (key, cell) not in self._filled:
            grown = self._gap / 2 + 1.5 * DIAGONAL * cell
            self._filled[key, cell] = _filled(shape.buffer(grown), cell)
        return self._filled[key, cell]


def _round(count: int) -> int:
    """A length that transforms fast, no shorter; few lengths, so that many are the same."""
    return int(next_fast_len(math.ceil(count / LENGTHS) * LENGTHS, real=True))


def _size(shape: Polygon) -> tuple[float, float]:
    a, b, c, d = shape.bounds
    return c - a, d - b


def _filled(shape: Polygon, cell: float) -> Mask:
    """Cells from a shape's lower left corner whose middles lie in it (even-odd rule)."""
    a, b, c, d = shape.bounds
    wide, high = math.ceil((c - a) / cell), math.ceil((d - b) / cell)
    crossings = np.zeros((high, wide + 1), np.int32)
    middles = np.arange(high) + 0.5
    for ring in (shape.exterior, *shape.interiors):
        points = (np.asarray(ring.coords) - (a, b)) / cell
        start, end = points[:-1], points[1:]
        rising = (start[:, 1] < end[:, 1])[:, None]
        low, top = np.where(rising, start, end), np.where(rising, end, start)
        edge, row = np.nonzero((low[:, 1:] <= middles) & (middles < top[:, 1:]))
        share = (middles[row] - low[edge, 1]) / (top[edge, 1] - low[edge, 1])
        x = low[edge, 0] + share * (top[edge, 0] - low[edge, 0])
        np.add.at(crossings, (row, np.clip(np.ceil(x - 0.5), 0, wide).astype(int)), 1)
    return np.asarray(np.cumsum(crossings, axis=1)[:, :wide] % 2 == 1)


class Field:
    """The usable part of one sheet, (width, height) mm: what lies there, and what is still free."""

    def __init__(self, lattice: Lattice, width: float, height: float) -> None:
        self._lattice, self._size = lattice, (width, height)
        self._placed: list[tuple[Hashable, Polygon, float, float]] = []
        self._barred: dict[Hashable, tuple[Mask, int]] = {}  # and of how many it knows

    def put(self, key: Hashable, shape: Polygon, x: float, y: float) -> None:
        """A shape lies with its lower left corner at (x, y) mm."""
        self._placed.append((key, shape, x, y))

    def first(
        self, key: Hashable, shape: Polygon, *, fine: bool = True
    ) -> tuple[float, float] | None:
        """The lowest, then leftmost free position of a shape's lower left corner; None for none.

        Where it is not ``fine``, positions that are only just free may be missed.
        """
        mask = self._mask(key, shape, fine)
        rows = np.flatnonzero(~mask.all(axis=1))
        if not len(rows):
            return None
        return STEP * int(np.argmin(mask[rows[0]])), STEP * int(rows[0])

    def _mask(self, key: Hashable, shape: Polygon, fine: bool) -> Mask:
        known = self._barred.get(key)
        if known is None:
            counts = [math.floor((room - size) / STEP + 1e-9) + 1
                      for room, size in zip(self._size, _size(shape), strict=True)]  # fmt: skip
            known = np.zeros((max(0, counts[1]), max(0, counts[0])), bool), 0
        mask, count = known
        for other, lying, x, y in self._placed[count:]:
            _bar(mask, self._lattice.pair(other, lying, key, shape, fine=fine), x, y)
        self._barred[key] = mask, len(self._placed)
        return mask


def _bar(mask: Mask, pair: _Pair, x: float, y: float) -> None:
    """Bar the positions that are too near a shape at (x, y) mm."""
    every = round(STEP / pair.cell)
    spans: list[tuple[slice, slice]] = []
    for at, low, length, count in zip(
        (y, x), pair.low[::-1], pair.mask.shape, mask.shape, strict=True
    ):
        first = round(at / pair.cell) + low  # cells from the corner of the sheet
        start = max(0, -(-first // every))
        end = min(count, (first + length - 1) // every + 1)
        if start >= end:
            return
        spans.append((slice(start, end), slice(start * every - first,
                                               (end - 1) * every - first + 1, every)))  # fmt: skip
    (rows, from_rows), (columns, from_columns) = spans
    mask[rows, columns] |= pair.mask[from_rows, from_columns]
