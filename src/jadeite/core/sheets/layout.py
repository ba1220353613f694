"""A draft layout: pieces put down one after another, largest first.

Each piece goes to the lowest, then leftmost place where it is free, in quarter
turns first and at other angles where these do not fit.  Pieces of one board
share sheets; no sheet carries two boards.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from scipy.spatial import cKDTree  # type: ignore[import-untyped]
from shapely import affinity
from shapely.geometry import Polygon

from jadeite.core.nets.grain import allowed_turns
from jadeite.core.nets.model import Floats, Piece
from jadeite.core.nets.outline import piece_polygon
from jadeite.core.project import Stock
from jadeite.core.sheets.stock import usable_area

__all__ = ["GAP", "Layout", "PlacedPiece", "SheetPlan", "lay_out", "placed_points"]

GAP = 1.5  # mm between pieces; from memory
QUARTERS = (0.0, 90.0, 180.0, 270.0)
FREE = tuple(float(a) for a in range(0, 360, 15) if a % 90)  # degrees; from memory
SAME = 1e-4  # mm; rounding
SLIDES = 2  # down and left in turn; from memory, more gain little
BISECTIONS = 9  # steps of a slide; from memory, ends within 1/500 of the way

Usable = tuple[float, float, float, float]
Turned = dict[float, Polygon]
Job = tuple[str, int, int]  # a piece's name, its copy, and what is alike for all that are alike
Found = dict[tuple[object, ...], tuple[float, Polygon] | None]


@dataclass(frozen=True)
class PlacedPiece:
    """A piece on a sheet: turned by ``angle`` degrees, then moved by (x, y) mm."""

    piece: str
    copy: int
    angle: float
    x: float
    y: float


@dataclass(frozen=True)
class SheetPlan:
    """One sheet: its size, its board, and what is cut from it."""

    stock: Stock
    board: str
    usable: tuple[float, float, float, float]
    placed: tuple[PlacedPiece, ...]
    used: float  # share of the sheet's area


@dataclass(frozen=True)
class Layout:
    """Every sheet of the job, and the pieces that fit on none."""

    sheets: tuple[SheetPlan, ...]
    unplaced: tuple[tuple[str, int], ...]

    @property
    def used(self) -> float:
        """Share of all sheets' area that becomes pieces."""
        whole = sum(s.stock.width * s.stock.height for s in self.sheets)
        part = sum(s.used * s.stock.width * s.stock.height for s in self.sheets)
        return part / whole if whole else 0.0


def placed_points(points: Floats, place: PlacedPiece) -> Floats:
    """Flat points (n, 2) of a piece where it lies on its sheet, mm."""
    c, s = np.cos(np.radians(place.angle)), np.sin(np.radians(place.angle))
    if place.angle % 90 == 0:  # keep right angles exact
        c, s = np.round(c), np.round(s)
    return np.asarray(points @ np.array([[c, s], [-s, c]]) + (place.x, place.y))


def _moved(shape: Polygon, dx: float, dy: float) -> Polygon:
    """A shape elsewhere; a plain sum is quicker than a matrix."""
    by = np.array([dx, dy])
    moved: Polygon = shapely.transform(shape, lambda points: points + by)
    return moved


def _different(tries: Sequence[Turned]) -> list[Turned]:
    """Of a shape's turns those in which it is another: a ring of eight petals has but one."""
    out: list[Turned] = []
    seen: list[Polygon] = []
    for turned in tries:
        out.append({})
        for angle, shape in turned.items():
            a, b, *_ = shape.bounds
            low = _moved(shape, -a, -b)
            if not any(_same(low, other) for other in seen):
                seen.append(low)
                out[-1][angle] = shape
    return out


def _same(one: Polygon, other: Polygon) -> bool:
    """Whether two shapes have the same corners, but for rounding."""
    if np.abs(np.subtract(one.bounds, other.bounds)).max() > SAME:
        return False
    corners = shapely.get_coordinates(one), shapely.get_coordinates(other)
    far, _ = cKDTree(corners[0]).query(corners[1], distance_upper_bound=SAME)
    return bool(np.isfinite(far).all())


class _Sheet:
    """A sheet being filled.

    ``found`` is shared by all sheets: where a piece goes depends only on the
    usable part and on what was put down before, so equal sheets are filled
    alike without searching again.
    """

    def __init__(self, stock: Stock, board: str, usable: Usable, found: Found) -> None:
        self.stock, self.board, self.usable, self._found = stock, board, usable, found
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
        return not any(shapely.dwithin(self.shapes[i], shape, GAP - 1e-9) for i in near)

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
        shapely.prepare(spot)  # it is asked again for each that comes
        self.shapes.append(spot)
        self._bounds = np.column_stack([self._bounds, spot.bounds])
        self.area += spot.area
        self._history += ((kind, tuple(turned)),)
        return True

    def _best_spot(self, kind: int, turned: Turned) -> tuple[float, Polygon] | None:
        """The lowest, then leftmost free place over all turns."""
        x0, y0, width, height = self.usable
        best: tuple[tuple[float, float, float], float, Polygon] | None = None
        corners = self._corners()
        for angle, shape in turned.items():
            a, b, c, d = shape.bounds
            if c - a > width + 1e-9 or d - b > height + 1e-9:
                continue
            far_x, far_y = x0 + width - (c - a), y0 + height - (d - b)
            for x, y in (*corners, (far_x, y0), (x0, far_y), (far_x, far_y)):
                if (kind, angle, x, y) in self._taken:
                    continue
                if x + c - a > x0 + width + 1e-9 or y + d - b > y0 + height + 1e-9:
                    continue
                spot = _moved(shape, x - a, y - b)
                if not self._free(spot):
                    self._taken.add((kind, angle, x, y))
                    continue
                for _ in range(SLIDES):
                    spot = self._slid(spot, 0.0, y0 - spot.bounds[1])
                    spot = self._slid(spot, x0 - spot.bounds[0], 0.0)
                key = (spot.bounds[3], spot.bounds[2], angle)
                if best is None or key < best[0]:
                    best = (key, angle, spot)
                break
        return None if best is None else best[1:]

    def plan(self) -> SheetPlan:
        used = self.area / (self.stock.width * self.stock.height)
        return SheetPlan(self.stock, self.board, self.usable, tuple(self.placed), used)


def lay_out(
    pieces: Sequence[Piece],
    stock: Sequence[Stock],
    *,
    copies: int | Mapping[str, int],
    reach: tuple[float, float],
    margin: float,
    free_turns: bool,
    colours: Mapping[str, str] | None = None,
    grain: str = "ignore",
    step: Callable[[float, str], None] | None = None,
) -> Layout:
    """Lay every piece, ``copies`` times or as often as is said of it, on sheets of the stock.

    Parameters
    ----------
    reach : (width, height)
        mm that the cutter reaches.
    margin : float
        mm kept free at the edges of a sheet.
    free_turns : bool
        Whether angles other than quarter turns are tried where these fail.
    colours : mapping, optional
        Piece to colour: sheets of one board in two colours are two boards.
    grain : str
        ``follow``, ``heavy`` or ``ignore``; see
        :func:`~jadeite.core.nets.grain.follows_grain`.
    """
    colours = colours or {}
    sheets: list[_Sheet] = []
    found: Found = {}
    left = {i: s.count for i, s in enumerate(stock)}
    unplaced: list[tuple[str, int]] = []
    shapes = {piece.name: piece_polygon(piece) for piece in pieces}
    often = copies if isinstance(copies, Mapping) else dict.fromkeys(shapes, copies)
    turned: dict[int, list[Turned]] = {}
    ways_of: dict[tuple[int, tuple[float, ...] | None], list[Turned]] = {}
    jobs = [(piece, copy) for piece in pieces for copy in range(often[piece.name])]
    jobs.sort(key=lambda job: -shapes[job[0].name].area)
    for number, (piece, copy) in enumerate(jobs):
        if step is not None:
            step(number / len(jobs), "Laying out the pieces")
        job = (piece.name, copy, id(piece.panels))
        board = f"{piece.board.key} {colours.get(piece.name, '')}".strip()
        every = turned.get(job[2])
        if every is None:
            shape = shapes[piece.name]
            every = [
                {a: affinity.rotate(shape, a, origin=(0, 0)) for a in some}
                for some in ((QUARTERS, FREE) if free_turns else (QUARTERS,))
            ]
            turned[job[2]] = every

        def turns(kind: Stock, piece: Piece = piece, every: list[Turned] = every) -> list[Turned]:
            allowed = allowed_turns(piece, (kind.width, kind.height), grain)
            key = (id(piece.panels), None if allowed is None else tuple(sorted(allowed)))
            if key not in ways_of:
                some = every
                if allowed is not None:
                    some = [{a: s for a, s in every[0].items() if a in allowed}]
                ways_of[key] = _different(some)
            return ways_of[key]

        same = [s for s in sheets if s.board == board]
        tries = [(sheet, turns(sheet.stock)) for sheet in same]
        if any(
            sheet.try_place(job, ways[n])
            for n in range(len(every))
            for sheet, ways in tries
            if n < len(ways)
        ):
            continue
        if not _new_sheet(sheets, stock, left, board, job, turns, reach, margin, found):
            unplaced.append((piece.name, copy))
    order = {board: i for i, board in enumerate(dict.fromkeys(s.board for s in sheets))}
    plans = [sheet.plan() for sheet in sorted(sheets, key=lambda s: order[s.board])]
    return Layout(tuple(plans), tuple(unplaced))


def _new_sheet(
    sheets: list[_Sheet],
    stock: Sequence[Stock],
    left: dict[int, int | None],
    board: str,
    job: Job,
    turns: Callable[[Stock], list[Turned]],
    reach: tuple[float, float],
    margin: float,
    found: Found,
) -> bool:
    """Open the first sheet of the stock on which the piece fits."""
    ways = [turns(kind) for kind in stock]
    for n in range(max(len(w) for w in ways)):
        for i, kind in enumerate(stock):
            if left[i] == 0 or n >= len(ways[i]):
                continue
            turned = ways[i][n]
            usable = usable_area((kind.width, kind.height), reach, margin)
            sheet = _Sheet(kind, board, usable, found)
            if sheet.try_place(job, turned):
                sheets.append(sheet)
                count = left[i]
                left[i] = None if count is None else count - 1
                return True
    return False
