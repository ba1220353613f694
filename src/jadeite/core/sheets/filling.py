"""A sheet being filled: each piece where it is free, lowest and then leftmost."""

from __future__ import annotations

from collections.abc import Sequence
from functools import cached_property

import numpy as np
import shapely
from numpy.typing import NDArray
from scipy.spatial import cKDTree  # type: ignore[import-untyped]
from shapely.geometry import Polygon

from jadeite.core.project import Stock
from jadeite.core.sheets.lattice import Field, Lattice
from jadeite.core.sheets.plan import GAP, PlacedPiece, SheetPlan

__all__ = ["Found", "Job", "Sheet", "Turned", "different"]

SAME = 1e-4  # mm; rounding
SOME = 12  # corners; from memory
SLIDES = 2  # down and left in turn; from memory, more gain little
BISECTIONS = 9  # steps of a slide; from memory, ends within 1/500 of the way
TOGETHER = 48  # corners tried at once; from memory, few are tried past the first that is free

LARGE = 220.0  # mm; from memory, so few of these lie on a sheet that corners do, and quicker
DENSEST = 0.85  # of a sheet; from memory, where only straight edges side by side still fit

Usable = tuple[float, float, float, float]
Turned = dict[float, Polygon]
Job = tuple[str, int, int]  # a piece's name, its copy, and what is alike for all that are alike
Found = dict[tuple[object, ...], tuple[float, Polygon] | None]


def _moved(shape: Polygon, dx: float, dy: float) -> Polygon:
    """A shape elsewhere; a plain sum is quicker than a matrix."""
    by = np.array([dx, dy])
    moved: Polygon = shapely.transform(shape, lambda points: points + by)
    return moved


def _moved_all(shape: Polygon, by: NDArray[np.float64]) -> NDArray[np.object_]:
    """A shape moved by each of ``by`` ``(n, 2)``, mm."""
    many = np.full(len(by), shape)
    each = np.repeat(by, shapely.count_coordinates(shape), axis=0)
    moved: NDArray[np.object_] = shapely.transform(many, lambda points: points + each)
    return moved


def _too_near(shape: NDArray[np.object_], other: NDArray[np.object_]) -> NDArray[np.bool_]:
    near: NDArray[np.bool_] = shapely.dwithin(shape, other, GAP - 1e-9)
    return near


def different(tries: Sequence[Turned]) -> list[Turned]:
    """Of a shape's turns those in which it is another: a ring of eight petals has but one."""
    out: list[Turned] = []
    seen: list[_Corners] = []
    for turned in tries:
        out.append({})
        for angle, shape in turned.items():
            mine = _Corners(shape)
            if not any(mine.same(other) for other in seen):
                seen.append(mine)
                out[-1][angle] = shape
    return out


class _Corners:
    """The corners of a shape from its lower left one, to be found in another."""

    def __init__(self, shape: Polygon) -> None:
        a, b, c, d = shape.bounds
        self._points = shapely.get_coordinates(shape) - (a, b)
        # what equal ones have in common, whatever the order of their corners
        self._common = np.array([c - a, d - b, *self._points[:-1].mean(axis=0)])

    @cached_property
    def _tree(self) -> cKDTree:
        return cKDTree(self._points)

    def same(self, other: _Corners) -> bool:
        """Whether both have the same corners, but for rounding; a few tell that most have not."""
        if np.abs(self._common - other._common).max() > SAME:
            return False
        for points in (self._points[:SOME], self._points):
            far, _ = other._tree.query(points, distance_upper_bound=SAME)
            if not np.isfinite(far).all():
                return False
        return True


def _longer(shape: Polygon) -> float:
    a, b, c, d = shape.bounds
    return float(max(c - a, d - b))


class Sheet:
    """A sheet being filled.

    ``found`` is shared by all sheets: where a piece goes depends only on the
    usable part and on what was put down before, so equal sheets are filled
    alike without searching again.  Without a ``lattice`` only corners are tried.
    """

    def __init__(
        self, stock: Stock, board: str, usable: Usable, found: Found, lattice: Lattice | None
    ) -> None:
        self.stock, self.board, self.usable, self._found = stock, board, usable, found
        self._field = Field(lattice, usable[2], usable[3]) if lattice is not None else None
        self._history: tuple[tuple[int, tuple[float, ...]], ...] = ()
        self._taken: set[tuple[int, float, float, float]] = set()  # a corner stays taken
        self.placed: list[PlacedPiece] = []
        self.shapes: list[Polygon] = []
        self._bounds = np.zeros((4, 0))  # of the shapes: least x and y, greatest x and y
        self.area = 0.0

    def _free(self, shape: Polygon) -> bool:
        a, b, c, d = shape.bounds
        x0, y0, x1, y1 = self._bounds
        near = np.flatnonzero((x0 < c + GAP) & (y0 < d + GAP) & (x1 > a - GAP) & (y1 > b - GAP))
        if any(shapely.intersects(self.shapes[i], shape) for i in near):  # quicker to tell
            return False
        return not any(shapely.dwithin(self.shapes[i], shape, GAP - 1e-9) for i in near)

    def _are_free(self, shapes: NDArray[np.object_]) -> NDArray[np.bool_]:
        """Which of ``shapes`` ``(n,)`` are free, as `_free` of each; quicker for many."""
        a, b, c, d = (side[:, None] for side in shapely.bounds(shapes).T)
        x0, y0, x1, y1 = self._bounds
        near = (x0 < c + GAP) & (y0 < d + GAP) & (x1 > a - GAP) & (y1 > b - GAP)
        free = np.ones(len(shapes), dtype=bool)
        if not self.shapes:
            return free
        there = np.array(self.shapes, dtype=object)
        # first the neighbour that overlaps it most by its bounds: it tells of nearly all
        wide, high = np.minimum(c, x1) - np.maximum(a, x0), np.minimum(d, y1) - np.maximum(b, y0)
        rows = np.flatnonzero(near.any(axis=1))
        most = np.where(near, wide * high, -np.inf)[rows].argmax(axis=1)
        free[rows] = ~shapely.intersects(there[most], shapes[rows])
        for touch in (shapely.intersects, _too_near):
            i, j = np.nonzero(near & free[:, None])
            free[i[touch(there[j], shapes[i])]] = False
        return free

    def _corners(self) -> list[tuple[float, float]]:
        x0, y0, _, _ = self.usable
        out = [(x0, y0)]
        for shape in self.shapes:
            a, b, c, d = shape.bounds
            out += [(c + GAP, b), (a, d + GAP), (c + GAP, y0), (x0, d + GAP)]
        return sorted(set(out), key=lambda p: (p[1], p[0]))

    def _slid(self, shape: Polygon, dx: float, dy: float) -> Polygon:
        """Slide a free shape by at most (dx, dy), as far as it stays free."""
        whole = _moved(shape, dx, dy)
        low, high = 0.0, 1.0
        if self._free(whole):
            return whole
        for _ in range(BISECTIONS):
            middle = (low + high) / 2
            if self._free(_moved(shape, dx * middle, dy * middle)):
                low = middle
            else:
                high = middle
        return _moved(shape, dx * low, dy * low)

    def try_place(self, job: Job, turned: Turned) -> bool:
        """Put a piece down in the best of its turns; False when there is no room."""
        name, copy, kind = job
        key = (self.usable, self._history, kind, tuple(turned))
        if key not in self._found:
            self._found[key] = self._best_spot(kind, turned)
        best = self._found[key]
        if best is None:
            return False
        angle, spot = best
        a, b, *_ = turned[angle].bounds
        self.placed.append(PlacedPiece(name, copy, angle, spot.bounds[0] - a, spot.bounds[1] - b))
        x, y = spot.bounds[0] - self.usable[0], spot.bounds[1] - self.usable[1]
        if self._field is not None:
            self._field.put((kind, angle), turned[angle], x, y)
        shapely.prepare(spot)  # it is asked again for each that comes
        self.shapes.append(spot)
        self._bounds = np.column_stack([self._bounds, spot.bounds])
        self.area += spot.area
        self._history += ((kind, tuple(turned)),)
        return True

    def _best_spot(self, kind: int, turned: Turned) -> tuple[float, Polygon] | None:
        """The lowest, then leftmost free place over all turns."""
        place = None if self._field is None else self._on_lattice(self._field, kind, turned)
        return place or self._beside_corners(kind, turned)

    def _on_lattice(self, field: Field, kind: int, turned: Turned) -> tuple[float, Polygon] | None:
        x0, y0, wide, high = self.usable
        best: tuple[tuple[float, float, float], Polygon] | None = None
        shape = next(iter(turned.values()), None)
        if shape is None or _longer(shape) > LARGE:  # or no turn is another
            return None
        if self.area + shape.area > DENSEST * wide * high:
            return None
        for angle, shape in turned.items():
            place = field.first((kind, angle), shape, fine=angle % 90 == 0)
            if place is None:
                continue
            a, b, *_ = shape.bounds
            spot = _moved(shape, x0 + place[0] - a, y0 + place[1] - b)
            key = (spot.bounds[3], spot.bounds[2], angle)
            if (best is None or key < best[0]) and self._free(spot):
                best = key, spot
        if best is None:
            return None
        return best[0][2], self._settled(best[1])

    def _settled(self, spot: Polygon) -> Polygon:
        """A free shape slid down and left until it touches."""
        x0, y0, *_ = self.usable
        for _ in range(SLIDES):
            spot = self._slid(spot, 0.0, y0 - spot.bounds[1])
            spot = self._slid(spot, x0 - spot.bounds[0], 0.0)
        return spot

    def _beside_corners(self, kind: int, turned: Turned) -> tuple[float, Polygon] | None:
        x0, y0, width, height = self.usable
        best: tuple[tuple[float, float, float], float, Polygon] | None = None
        corners = self._corners()
        for angle, shape in turned.items():
            a, b, c, d = shape.bounds
            if c - a > width + 1e-9 or d - b > height + 1e-9:
                continue
            far_x, far_y = x0 + width - (c - a), y0 + height - (d - b)
            spot = self._first_free(
                (kind, angle),
                shape,
                [
                    (x, y)
                    for x, y in (*corners, (far_x, y0), (x0, far_y), (far_x, far_y))
                    if x <= far_x + 1e-9 and y <= far_y + 1e-9
                ],
            )
            if spot is None:
                continue
            spot = self._settled(spot)
            key = (spot.bounds[3], spot.bounds[2], angle)
            if best is None or key < best[0]:
                best = (key, angle, spot)
        return None if best is None else best[1:]

    def _first_free(
        self, kind: tuple[int, float], shape: Polygon, corners: Sequence[tuple[float, float]]
    ) -> Polygon | None:
        """The shape with its lower left at the first corner where it is free."""
        a, b, *_ = shape.bounds
        corners = [p for p in corners if (*kind, *p) not in self._taken]
        for start in range(0, len(corners), TOGETHER):
            some = corners[start : start + TOGETHER]
            spots = _moved_all(shape, np.array(some) - (a, b))
            free = self._are_free(spots)
            self._taken |= {(*kind, *some[i]) for i in np.flatnonzero(~free)}
            if free.any():
                spot: Polygon = spots[free.argmax()]
                return spot
        return None

    def plan(self) -> SheetPlan:
        """What lies on it."""
        used = self.area / (self.stock.width * self.stock.height)
        return SheetPlan(self.stock, self.board, self.usable, tuple(self.placed), used)
