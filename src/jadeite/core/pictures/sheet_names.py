"""Names of pieces on a sheet: inside them where there is room, else beside with a hairline."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
import shapely
from shapely import affinity
from shapely.geometry import Point, Polygon, box

from jadeite.core.colours import plainest
from jadeite.core.nets.model import Floats, Piece
from jadeite.core.nets.outline import drawn_folds, loops_of, piece_polygon
from jadeite.core.pictures.palette import LIGHT
from jadeite.core.pictures.primitives import Label, Path, Picture, Stroke
from jadeite.core.sheets.forms import filled
from jadeite.core.sheets.plan import PlacedPiece
from jadeite.core.units import numbered

__all__ = ["item_of", "name_pieces"]

SIZE = 12.5  # hairlines, from memory: of a name, and
LETTER = 6.9  # hairlines, from memory of measuring: of one of its letters, and
HIGH = 17.0  # hairlines, from memory: of its line
CLEAR = 1.0  # mm; from memory, a name keeps so far from lines
CELL = 4.0  # hairlines; from memory, places beside pieces are tried so far apart
MOST = 400  # places; from memory, of more only some are tried
TRIED = 60  # of these, nearest first, for one whose hairline crosses no name; from memory
FAR = 160.0  # hairlines; from memory, further away a hairline leads the eye astray

Size = tuple[float, float]


def name_pieces(
    picture: Picture,
    placed: Sequence[PlacedPiece],
    pieces: Mapping[str, Piece],
    place: Callable[[Floats], Floats],
    sheet: Size,
    scale: float,
    unit: float,
    fill_of: Callable[[str], str],
) -> None:
    """Write the names of all that lies on a ``sheet`` (width, height), mm.

    ``place`` carries points (n, 2) of the sheet, mm, into the picture, ``scale`` to the mm;
    ``fill_of`` a piece is its colour.  Where like pieces have no room for their name, one name
    tells of them all.
    """
    lying = tuple((one, pieces[one.piece]) for one in placed if one.piece in pieces)
    for name in _names(lying, item_of(placed, pieces), sheet, round(scale, 6), unit):
        x, y = place(np.array([name.middle]))[0]
        if name.line is not None:
            way = place(np.array(name.line))
            picture.add(Path((way,), closed=False, stroke=Stroke(LIGHT.quiet, 0.8 * unit)))
            dot = way[0] + 1.6 * unit * np.array([[math.cos(a), math.sin(a)] for a in range(7)])
            picture.add(Path((dot,), fill=LIGHT.quiet))
        ink = plainest(fill_of(name.on), LIGHT.ink, LIGHT.sheet) if name.on else LIGHT.ink
        for i, line in enumerate(name.lines):
            down = (i - (len(name.lines) - 1) / 2) * HIGH * unit
            picture.add(_label(line, x, y + down, unit, ink, turn=name.turn))


@dataclass(frozen=True)
class _Name:
    """Words and the middle of them, mm of the sheet; ``on`` a piece, or a hairline from one."""

    lines: tuple[str, ...]
    middle: tuple[float, float]
    turn: float = 0.0
    on: str = ""
    line: tuple[tuple[float, float], tuple[float, float]] | None = None


@lru_cache(maxsize=64)
def _names(
    lying: tuple[tuple[PlacedPiece, Piece], ...],
    item: str,
    sheet: Size,
    scale: float,
    unit: float,
) -> tuple[_Name, ...]:
    """Where names stand; kept, as a sheet that is played back is drawn many times."""
    out: list[_Name] = []
    kinds: dict[int, list[tuple[PlacedPiece, Piece, str]]] = {}
    for one, piece in lying:
        words = piece.title.removeprefix(f"{item}, ")
        kinds.setdefault(id(piece.panels), []).append((one, piece, words))
    left = []
    for like in kinds.values():
        spots = [_inside(piece, words, one, scale, unit) for one, piece, words in like]
        if None in spots:
            left.append(like)
            continue
        out += [
            _Name((words,), spot[:2], spot[2], one.piece)
            for (one, _, words), spot in zip(like, spots, strict=True)
            if spot is not None
        ]
    free = _Free(lying, sheet, CELL * unit / scale) if left else None
    for like in left:
        titles = sorted({words for _, _, words in like}, key=_counted)
        told = numbered(titles)
        if len(like) > len(titles):
            told = f"{len(like)} × {told}"
        lines = _lines(told, sheet[0] * scale, unit)
        size = max(_long(line, unit) for line in lines), HIGH * unit * len(lines)
        assert free is not None
        found = free.beside(
            [_where(piece, one) for one, piece, _ in like],
            (size[0] / scale, size[1] / scale),
            FAR * unit / scale,
        )
        if found is not None:
            middle, end, start = found
            out.append(_Name(tuple(lines), middle, line=(end, start)))
    return tuple(out)


def item_of(placed: Sequence[PlacedPiece], pieces: Mapping[str, Piece]) -> str:
    """The item to which all on a sheet belong, if their names say it; else empty."""
    heads = {pieces[one.piece].title.rpartition(", ")[0] for one in placed if one.piece in pieces}
    return heads.pop() if len(heads) == 1 else ""


def _counted(title: str) -> tuple[str, int]:
    """So that "leaf 10" comes after "leaf 9"."""
    stem, _, number = title.rpartition(" ")
    return (stem, int(number)) if number.isdecimal() else (title, 0)


def _label(words: str, x: float, y: float, unit: float, ink: str, turn: float = 0.0) -> Label:
    return Label(words, float(x), float(y), SIZE * unit, ink, weight=600, turn=turn)


def _long(words: str, unit: float) -> float:
    return (LETTER * len(words) + 4.0) * unit


def _lines(words: str, width: float, unit: float) -> list[str]:
    """Words on one line where it is no wider than half of the sheet; else parted at a comma."""
    head, comma, rest = words.rpartition(", ")
    return [words] if _long(words, unit) <= width / 2 or not comma else [f"{head},", rest]


def _where(piece: Piece, placed: PlacedPiece) -> Polygon:
    """A piece where it lies, mm of the sheet."""
    turned = affinity.rotate(piece_polygon(piece), placed.angle, origin=(0, 0))
    return affinity.translate(turned, placed.x, placed.y)


def _inside(
    piece: Piece, name: str, placed: PlacedPiece, scale: float, unit: float
) -> tuple[float, float, float] | None:
    """Where on the sheet (x, y in mm) a piece's name lies inside it, and its turn in degrees."""
    long, high = _long(name, unit) / scale, HIGH * unit / scale
    for turn, size in ((0.0, (long, high)), (-90.0, (high, long))):
        spot = _room(piece, round(placed.angle, 3), (round(size[0], 1), round(size[1], 1)))
        if spot is not None:
            return spot[0] + placed.x, spot[1] + placed.y, turn
    return None


@lru_cache(maxsize=1024)
def _room(piece: Piece, angle: float, size: Size) -> tuple[float, float] | None:
    """The middle of a box of ``size`` (mm) inside a turned piece, clear of its lines."""
    region = affinity.rotate(_blank(piece), angle, origin=(0, 0))
    if region.is_empty:
        return None
    # as much wider as the box is high, the box is square, and a circle goes round it
    squared = affinity.scale(region, 1.0, size[0] / size[1], origin=(0, 0))
    parts = sorted(shapely.get_parts(squared), key=lambda part: -part.area)[:8]
    for part in parts:
        for middle in (part.centroid, _widest(part, size[0])):
            x, y = middle.x, middle.y * size[1] / size[0]
            around = box(x - size[0] / 2, y - size[1] / 2, x + size[0] / 2, y + size[1] / 2)
            if region.covers(around):
                return x, y
    return None


def _widest(part: Polygon, size: float) -> Point:
    circle = shapely.maximum_inscribed_circle(part, tolerance=max(size / 20, 0.1))
    return Point(circle.coords[0])


@lru_cache(maxsize=256)
def _blank(piece: Piece) -> Polygon:
    """What of a piece is free of lines."""
    lines = [line for line, n in drawn_folds(piece) if piece.folds[n].kind != "rolled"]
    lines += [vein.points for vein in piece.veins]
    lines += [loop.points for loop in loops_of(piece) if not loop.closed]
    shapes = [shapely.LineString(line) for line in lines if len(line) > 1]
    blank: Polygon = piece_polygon(piece).buffer(-CLEAR, quad_segs=2)
    if shapes:
        blank = blank.difference(shapely.union_all(shapes).buffer(CLEAR, quad_segs=1))
    return blank


class _Free:
    """Where on a sheet nothing lies, in cells of so many mm."""

    def __init__(
        self,
        lying: Sequence[tuple[PlacedPiece, Piece]],
        sheet: Size,
        cell: float,
    ) -> None:
        self._cell = cell
        self._names: list[shapely.Geometry] = []  # and their hairlines
        rows, columns = (max(1, int(length / cell)) for length in sheet[::-1])
        self._taken = np.zeros((rows, columns), dtype=bool)
        for one, piece in lying:
            for part in shapely.get_parts(_where(piece, one)):
                points = shapely.transform(part, lambda p: p / cell)
                self._taken |= filled(points, rows, columns)

    def beside(
        self, shapes: Sequence[Polygon], size: Size, far: float
    ) -> tuple[tuple[float, float], tuple[float, float], tuple[float, float]] | None:
        """The middle of a free box near one of some shapes, and a line's ends: in it, at the box.

        The box is then taken.
        """
        columns, rows = (math.ceil(length / self._cell) for length in size)
        across, up = self._taken.shape[::-1]
        if rows > up or columns > across:
            return None
        sums = np.zeros((up + 1, across + 1), dtype=np.int64)
        sums[1:, 1:] = self._taken.cumsum(axis=0).cumsum(axis=1)
        inside = (
            sums[rows:, columns:] - sums[:-rows, columns:] - sums[rows:, :-columns]
            + sums[:-rows, :-columns]
        )  # fmt: skip
        free = np.argwhere(inside == 0)
        if not len(free):
            return None
        free = free[:: max(1, len(free) // MOST)]
        middles = (free[:, ::-1] + (columns / 2, rows / 2)) * self._cell
        (x, y), (wide, high) = middles.T, np.array(size) / 2
        boxes = shapely.box(x - wide, y - high, x + wide, y + high)
        apart = shapely.distance(boxes[:, None], np.array(shapes, dtype=object))
        # of those equally near the one whose line is shortest from its middle
        apart += 0.01 * shapely.distance(shapely.points(middles)[:, None], np.array(shapes))
        names = shapely.union_all(self._names)
        for at in np.argsort(apart, axis=None)[:TRIED]:
            which, shape = np.unravel_index(int(at), apart.shape)
            line = shapely.shortest_line(boxes[which], shapes[int(shape)])
            if line.length > far:
                return None
            if not line.intersects(names):
                break
        self._names += [boxes[which], line]
        row, column = free[which]
        self._taken[row : row + rows, column : column + columns] = True
        ends = shapely.get_coordinates(line) / self._cell
        for x, y in np.linspace(ends[0], ends[1], 2 + int(line.length / self._cell)).astype(int):
            self._taken[min(y, up - 1), min(x, across - 1)] = True
        start, end = line.coords
        middle = float(middles[which][0]), float(middles[which][1])
        return middle, (end[0], end[1]), (start[0], start[1])
