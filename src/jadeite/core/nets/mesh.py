"""The net as vertices, edges and faces, with vertices shared only across folds.

A side is split where a narrower panel meets it; two panels that touch along
a cut share nothing.  Files, pictures and outlines are all read off this mesh.
"""

from __future__ import annotations

import itertools
from dataclasses import dataclass
from typing import NamedTuple
from weakref import WeakKeyDictionary, ref

import numpy as np

from jadeite.core.nets.model import Floats, Fold, Piece

__all__ = ["Edge", "Mesh", "mesh_of"]

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
    """Flat mesh of a piece.

    ``vertices`` is (n, 2) float in mm; ``faces`` holds for each panel its
    vertex numbers counter-clockwise; ``edges`` each edge once.
    """

    vertices: Floats
    faces: tuple[tuple[int, ...], ...]
    edges: tuple[Edge, ...]


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


def _intervals(outline: list[tuple[float, float]], fold: Fold) -> list[tuple[float, float]]:
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


def _shared(
    parent: list[tuple[float, float]], child: list[tuple[float, float]], fold: Fold
) -> tuple[tuple[float, float], tuple[float, float]]:
    """Both ends of the stretch that two panels share along a fold."""
    if _has_side(parent, fold.end, fold.start) and _has_side(child, fold.start, fold.end):
        return fold.start, fold.end
    best = (0.0, 0.0)
    for p in _intervals(parent, fold):
        for c in _intervals(child, fold):
            low, high = max(p[0], c[0], 0.0), min(p[1], c[1], fold.length)
            if high - low > best[1] - best[0]:
                best = (low, high)
    (x0, y0), (x1, y1) = fold.start, fold.end
    dx, dy = (x1 - x0) / fold.length, (y1 - y0) / fold.length
    return (x0 + dx * best[0], y0 + dy * best[0]), (x0 + dx * best[1], y0 + dy * best[1])


def _has_side(
    outline: list[tuple[float, float]], start: tuple[float, float], end: tuple[float, float]
) -> bool:
    """Whether an outline runs from one corner to another, to the last digit."""
    return start in outline and outline[(outline.index(start) + 1) % len(outline)] == end


def _near(outline: list[tuple[float, float]], point: tuple[float, float]) -> int | None:
    """Number of the corner that a point is, but for rounding."""
    if point in outline:
        return outline.index(point)
    px, py = point
    for i, (x, y) in enumerate(outline):
        if abs(x - px) + abs(y - py) < 2 * COLLINEAR:
            return i
    return None


def _insert(outline: list[tuple[float, float]], point: tuple[float, float]) -> None:
    """Make ``point`` a corner of the outline it lies on."""
    if _near(outline, point) is not None:
        return
    px, py = point
    for i in range(len(outline)):
        (x0, y0), (x1, y1) = outline[i], outline[(i + 1) % len(outline)]
        length = float(np.hypot(x1 - x0, y1 - y0))
        if length == 0:
            continue
        along = ((px - x0) * (x1 - x0) + (py - y0) * (y1 - y0)) / length
        off = abs((px - x0) * (y1 - y0) - (py - y0) * (x1 - x0)) / length
        if off < COLLINEAR and 0 < along < length:
            outline.insert(i + 1, point)
            return


def _corner(outline: list[tuple[float, float]], point: tuple[float, float]) -> int:
    """Number of the corner at ``point``."""
    found = _near(outline, point)
    if found is None:
        raise ValueError(f"no corner at {point}")
    return found


def _welded(
    outline: list[tuple[float, float]], ends: list[tuple[float, float]]
) -> list[tuple[float, float]]:
    """Without plain corners that lie beside another by less than WELD; ends of folds stay."""
    out = outline
    steps = [abs(x - out[i - 1][0]) + abs(y - out[i - 1][1]) for i, (x, y) in enumerate(out)]
    if min(steps) > 2 * WELD:
        return out
    fixed = {_near(out, point) for point in ends}
    kept: list[int] = []
    for i, (x, y) in enumerate(out):
        j = kept[-1] if kept else None
        if j is None or np.hypot(x - out[j][0], y - out[j][1]) > WELD:
            kept.append(i)
        elif i in fixed:
            if j not in fixed:
                kept.pop()
            kept.append(i)
    a, b = out[kept[0]], out[kept[-1]]
    if np.hypot(a[0] - b[0], a[1] - b[1]) < WELD and not {kept[0], kept[-1]} <= fixed:
        kept.pop(0 if kept[-1] in fixed else -1)
    return [out[i] for i in kept]


def _build(piece: Piece) -> Mesh:
    outlines: list[list[tuple[float, float]]] = [
        list(map(tuple, panel.outline.tolist())) for panel in piece.panels
    ]
    ends = []
    met: list[list[tuple[float, float]]] = [[] for _ in outlines]
    for fold in piece.folds:
        p, c = piece.index[fold.parent], piece.index[fold.child]
        shared = _shared(outlines[p], outlines[c], fold)
        ends.append((p, c, shared))
        for f in (p, c):
            met[f] += shared
            for point in shared:
                _insert(outlines[f], point)
    outlines = [_welded(outline, points) for outline, points in zip(outlines, met, strict=True)]
    first = np.cumsum([0, *(len(o) for o in outlines)]).tolist()
    root = list(range(first[-1]))

    def find(i: int) -> int:
        while root[i] != i:
            root[i] = root[root[i]]
            i = root[i]
        return i

    fold_of: dict[tuple[int, int], int] = {}
    corners = [[_corner(outlines[p], q) for q in shared] for p, _, shared in ends]
    for (p, c, shared), mine in zip(ends, corners, strict=True):
        for point, at in zip(shared, mine, strict=True):
            i = find(first[p] + at)
            j = find(first[c] + _corner(outlines[c], point))
            root[max(i, j)] = min(i, j)
    for number, ((p, _, _), mine) in enumerate(zip(ends, corners, strict=True)):
        i, j = (find(first[p] + at) for at in mine)
        fold_of[min(i, j), max(i, j)] = number
    roots = [find(i) for i in range(first[-1])]
    points = [point for outline in outlines for point in outline]
    kept = {r: number for number, r in enumerate(dict.fromkeys(roots))}
    numbers = [kept[r] for r in roots]
    joined: dict[tuple[int, int], int] = {}  # either way round
    for (i, j), number in fold_of.items():
        joined[kept[i], kept[j]] = joined[kept[j], kept[i]] = number
    faces = tuple(tuple(numbers[a:b]) for a, b in itertools.pairwise(first))
    edges: list[Edge] = []
    seen: set[int] = set()
    for f, face in enumerate(faces):
        for start, end in zip(face, (*face[1:], face[0]), strict=True):
            fold_number = joined.get((start, end))
            if fold_number is not None:
                if fold_number in seen:
                    continue
                seen.add(fold_number)
            edges.append(Edge(start, end, fold_number, f))
    return Mesh(np.array([points[r] for r in kept]), faces, tuple(edges))
