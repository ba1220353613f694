"""The net as vertices, edges and faces, with vertices shared only across folds.

A side is split where a narrower panel meets it; two panels that touch along
a cut share nothing.  Files, pictures and outlines are all read off this mesh.
"""

from __future__ import annotations

import itertools
import math
from dataclasses import dataclass
from functools import cached_property
from typing import NamedTuple
from weakref import WeakKeyDictionary, ref

import numpy as np
from numpy.typing import NDArray

from jadeite.core.nets.model import Floats, Fold, Piece

__all__ = ["Edge", "Mesh", "mesh_of"]

Ints = NDArray[np.intp]
Point = tuple[float, float]

COLLINEAR = 1e-6  # mm; far below any cutter, far above rounding
WELD = 2e-3  # mm; from memory, corners this close along a fold are one for any blade


class Edge(NamedTuple):
    """An edge between two vertices; ``fold`` indexes the piece's folds or is None."""

    start: int
    end: int
    fold: int | None
    face: int  # the face whose counter-clockwise order is start -> end


@dataclass(frozen=True, eq=False)
class Mesh:
    """Flat mesh of a piece, face by face, a face for each panel.

    ``vertices`` is (n, 2) float in mm.  ``corners`` (m,) are the vertex numbers of all faces,
    counter-clockwise, ``counts`` (f,) how many each has; ``folds`` (m,) which of the piece's
    folds lies along the side that begins at a corner, -1 for none.
    """

    vertices: Floats
    corners: Ints
    counts: Ints
    folds: Ints

    @cached_property
    def faces(self) -> tuple[tuple[int, ...], ...]:
        """For each panel its vertex numbers counter-clockwise."""
        numbers = self.corners.tolist()
        ends = itertools.accumulate(self.counts.tolist(), initial=0)
        return tuple(tuple(numbers[a:b]) for a, b in itertools.pairwise(ends))

    @cached_property
    def following(self) -> Ints:
        """For each corner the place of the next one of its face, (m,)."""
        return following(self.counts)

    @cached_property
    def edges(self) -> tuple[Edge, ...]:
        """Each edge once."""
        _, first = np.unique(self.folds, return_index=True)
        once = self.folds < 0
        once[first] = True
        folds = [None if fold < 0 else fold for fold in self.folds[once].tolist()]
        ends = self.corners[self.following]
        faces = np.repeat(np.arange(len(self.counts)), self.counts)
        columns = (self.corners[once].tolist(), ends[once].tolist(), folds, faces[once].tolist())
        return tuple(map(Edge, *columns))


def following(counts: Ints) -> Ints:
    """For each corner of loops that follow one another, (f,) long, the place of the next one."""
    ends = np.cumsum(counts)
    out = np.arange(1, ends[-1] + 1)
    out[ends - 1] = ends - counts
    return out


_CACHE: WeakKeyDictionary[Piece, Mesh] = WeakKeyDictionary()
# copies share their panels and folds: the first of them, by these
_FIRST: dict[tuple[int, int], ref[Piece]] = {}
MOST_FIRST = 512  # setting, then those of designs that are gone are cleared away


def mesh_of(piece: Piece) -> Mesh:
    """The mesh of a piece; computed once for each net, however many copies it has."""
    mesh = _CACHE.get(piece)
    if mesh is None:
        mesh = _CACHE[piece] = _of_copy(piece) or _build(piece)
    return mesh


def _of_copy(piece: Piece) -> Mesh | None:
    """The mesh of another piece that is cut alike."""
    key = id(piece.panels), id(piece.folds)
    known = _FIRST.get(key)
    other = known() if known is not None else None
    if other is not None and other.panels is piece.panels and other.folds is piece.folds:
        return _CACHE.get(other)
    if len(_FIRST) > MOST_FIRST:
        for old in [k for k, r in _FIRST.items() if r() is None]:
            del _FIRST[old]
    _FIRST[key] = ref(piece)
    return None


def _intervals(outline: list[Point], fold: Fold) -> list[tuple[float, float]]:
    """Stretches of an outline that lie on the fold's line, as distances along it."""
    (x0, y0), (x1, y1) = fold.start, fold.end
    length = fold.length
    dx, dy = (x1 - x0) / length, (y1 - y0) / length
    found = []
    offs = [dx * (y - y0) - dy * (x - x0) for x, y in outline]
    alongs = [dx * (x - x0) + dy * (y - y0) for x, y in outline]
    for i in range(len(outline)):
        j = (i + 1) % len(outline)
        if abs(offs[i]) < COLLINEAR and abs(offs[j]) < COLLINEAR:
            low, high = sorted((alongs[i], alongs[j]))
            if high - low > COLLINEAR:
                found.append((low, high))
    return found


def _shared(parent: list[Point], child: list[Point], fold: Fold) -> tuple[Point, Point]:
    """Both ends of the stretch that two panels share along a fold."""
    best = (0.0, 0.0)
    for p in _intervals(parent, fold):
        for c in _intervals(child, fold):
            low, high = max(p[0], c[0], 0.0), min(p[1], c[1], fold.length)
            if high - low > best[1] - best[0]:
                best = (low, high)
    (x0, y0), (x1, y1) = fold.start, fold.end
    dx, dy = (x1 - x0) / fold.length, (y1 - y0) / fold.length
    return (x0 + dx * best[0], y0 + dy * best[0]), (x0 + dx * best[1], y0 + dy * best[1])


def _has_side(outline: list[Point], start: Point, end: Point) -> bool:
    """Whether an outline runs from one corner to another, to the last digit."""
    return start in outline and outline[(outline.index(start) + 1) % len(outline)] == end


def _near(outline: list[Point], point: Point) -> int | None:
    """Number of the corner that a point is, but for rounding."""
    if point in outline:
        return outline.index(point)
    px, py = point
    for i, (x, y) in enumerate(outline):
        if abs(x - px) + abs(y - py) < 2 * COLLINEAR:
            return i
    return None


def _insert(outline: list[Point], point: Point) -> None:
    """Make ``point`` a corner of the outline it lies on."""
    if _near(outline, point) is not None:
        return
    px, py = point
    for i in range(len(outline)):
        (x0, y0), (x1, y1) = outline[i], outline[(i + 1) % len(outline)]
        length = math.hypot(x1 - x0, y1 - y0)
        if length == 0:
            continue
        along = ((px - x0) * (x1 - x0) + (py - y0) * (y1 - y0)) / length
        off = abs((px - x0) * (y1 - y0) - (py - y0) * (x1 - x0)) / length
        if off < COLLINEAR and 0 < along < length:
            outline.insert(i + 1, point)
            return


def _corner(outline: list[Point], point: Point) -> int:
    """Number of the corner at ``point``."""
    found = _near(outline, point)
    if found is None:
        raise ValueError(f"no corner at {point}")
    return found


def _welded(out: list[Point], ends: list[Point]) -> list[Point]:
    """Without plain corners that lie beside another by less than WELD; ends of folds stay."""
    fixed = {_near(out, point) for point in ends}
    kept: list[int] = []
    for i, (x, y) in enumerate(out):
        j = kept[-1] if kept else None
        if j is None or math.hypot(x - out[j][0], y - out[j][1]) > WELD:
            kept.append(i)
        elif i in fixed:
            if j not in fixed:
                kept.pop()
            kept.append(i)
    a, b = out[kept[0]], out[kept[-1]]
    if math.hypot(a[0] - b[0], a[1] - b[1]) < WELD and not {kept[0], kept[-1]} <= fixed:
        kept.pop(0 if kept[-1] in fixed else -1)
    return [out[i] for i in kept]


@dataclass(frozen=True, eq=False)
class _Panels:
    """Corners of panels, with the ends of folds among them; ``shared`` are those of each fold."""

    outlines: list[list[Point]]
    sides: list[tuple[int, int]]  # of each fold: its parent and its child
    shared: list[tuple[Point, Point]]


def _panels(piece: Piece) -> _Panels:
    outlines: list[list[Point]] = [
        list(map(tuple, panel.outline.tolist())) for panel in piece.panels
    ]
    sides = [(piece.index[fold.parent], piece.index[fold.child]) for fold in piece.folds]
    shared: list[tuple[Point, Point]] = []
    for fold, (p, c) in zip(piece.folds, sides, strict=True):
        if _has_side(outlines[p], fold.end, fold.start) and _has_side(
            outlines[c], fold.start, fold.end
        ):
            shared.append((fold.start, fold.end))
            continue
        shared.append(_shared(outlines[p], outlines[c], fold))
        for f in (p, c):
            for point in shared[-1]:
                _insert(outlines[f], point)
    for number in _tight(outlines):
        ends = [point for s, points in zip(sides, shared, strict=True) if number in s
                for point in points]  # fmt: skip
        outlines[number] = _welded(outlines[number], ends)
    return _Panels(outlines, sides, shared)


def _tight(outlines: list[list[Point]]) -> list[int]:
    """Numbers of the outlines two of whose corners may have to be one."""
    counts = np.array([len(outline) for outline in outlines])
    points = np.array([point for outline in outlines for point in outline])
    steps = np.abs(points[following(counts)] - points).sum(axis=1)
    numbers: list[int] = np.unique(
        np.repeat(np.arange(len(counts)), counts)[steps <= 2 * WELD]
    ).tolist()
    return numbers


def _build(piece: Piece) -> Mesh:
    panels = _panels(piece)
    first = list(itertools.accumulate(map(len, panels.outlines), initial=0))
    root = list(range(first[-1]))

    def find(i: int) -> int:
        while root[i] != i:
            root[i] = root[root[i]]
            i = root[i]
        return i

    ends = []  # of each fold, as corners of its parent
    for (p, c), shared in zip(panels.sides, panels.shared, strict=True):
        ends.append([first[p] + _corner(panels.outlines[p], point) for point in shared])
        for point, at in zip(shared, ends[-1], strict=True):
            i, j = find(at), find(first[c] + _corner(panels.outlines[c], point))
            root[max(i, j)] = min(i, j)
    kept, numbers = np.unique([find(i) for i in range(first[-1])], return_inverse=True)
    points = np.array([point for outline in panels.outlines for point in outline])
    counts = np.diff(first)
    folds = _along(numbers, numbers[following(counts)], numbers[ends] if ends else None)
    return Mesh(points[kept], numbers, counts, folds)


def _along(starts: Ints, ends: Ints, folds: Ints | None) -> Ints:
    """Which fold lies along each side, -1 for none; ``folds``, (f, 2), are vertices as well."""
    out = np.full(len(starts), -1)
    if folds is not None:
        sides, joined = _pairs(starts, ends), _pairs(*folds.T)
        order = np.argsort(joined, kind="stable")
        place = np.searchsorted(joined[order], sides, side="right") - 1
        found = joined[order][place] == sides
        out[found] = order[place[found]]
    return out


def _pairs(one: Ints, other: Ints) -> Ints:
    """A number for each two vertices, whichever comes first."""
    return np.asarray(np.minimum(one, other) << 32 | np.maximum(one, other))
