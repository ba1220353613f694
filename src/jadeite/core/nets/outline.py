"""The lines of a piece: its outline, its holes, its folds."""

from __future__ import annotations

import itertools
from dataclasses import dataclass

import numpy as np
from shapely.geometry import Polygon

from jadeite.core.nets.curves import drawn
from jadeite.core.nets.kept import kept
from jadeite.core.nets.mesh import mesh_of
from jadeite.core.nets.model import OPEN, Floats, Piece

__all__ = [
    "Loop",
    "drawn_folds",
    "fold_lines",
    "loops_of",
    "piece_area",
    "piece_polygon",
    "point_key",
]

NEAR = 1e-5  # mm; rounding, ends this close are one
STRAIGHT = 1e-7  # mm; rounding, corners flatter than this are none


@dataclass(frozen=True, eq=False)
class Loop:
    """A cut line; (n, 2) float in mm, counter-clockwise for an outline.

    ``kind`` is ``outline``, ``hole`` where the walls leave one, or the kind of
    an opening; a slit is an open line.
    """

    points: Floats
    hole: bool
    kind: str = "hole"

    @property
    def closed(self) -> bool:
        """Whether the last point joins the first."""
        return self.kind not in OPEN

    @property
    def path(self) -> Floats:
        """The stroke of the blade: the first point repeated where the line is closed."""
        return np.vstack([self.points, self.points[:1]]) if self.closed else self.points

    @property
    def length(self) -> float:
        """Length of the whole line in mm."""
        steps = np.diff(self.path, axis=0)
        return float(np.hypot(steps[:, 0], steps[:, 1]).sum())


def _signed_area(points: Floats) -> float:
    x, y = points[:, 0], points[:, 1]
    inner = np.dot(x[:-1], y[1:]) - np.dot(y[:-1], x[1:])
    return float(inner + x[-1] * y[0] - y[-1] * x[0]) / 2


def _without_straight_corners(points: Floats) -> Floats:
    before = points - np.roll(points, 1, axis=0)
    after = np.roll(points, -1, axis=0) - points
    turn = before[:, 0] * after[:, 1] - before[:, 1] * after[:, 0]
    return points[np.abs(turn) > STRAIGHT]


@kept
def loops_of(piece: Piece) -> tuple[Loop, ...]:
    """The cut lines of a piece: the outline first, then its holes and openings.

    Walks the free edges of the mesh and crosses from panel to panel at folds.

    Raises
    ------
    ValueError
        Panels overlap, so that the walk finds no way back: a fault of the shape.
    """
    mesh = mesh_of(piece)
    after: dict[tuple[int, int], tuple[int, int]] = {}
    for face in mesh.faces:
        for k in range(len(face)):
            a, b, c = face[k - 1], face[k], face[(k + 1) % len(face)]
            after[a, b] = (b, c)
    free = {(e.start, e.end) for e in mesh.edges if e.fold is None}
    loops: list[Loop] = []
    while free:
        start = half = min(free)
        ring: list[int] = []
        while True:
            free.discard(half)
            ring.append(half[0])
            half = after[half]
            turns = 0
            while (half[1], half[0]) in after and half not in free and half != start:
                half = after[half[1], half[0]]
                turns += 1
                if turns > len(after):
                    raise ValueError(f"{piece.name}: more than two panels share a fold")
            if half == start:
                break
        points = _without_straight_corners(mesh.vertices[ring])
        hole = _signed_area(points) < 0
        loops.append(Loop(points, hole, "hole" if hole else "outline"))
    for panel in piece.panels:
        loops += [Loop(opening.points, True, opening.kind) for opening in panel.openings]
    return tuple(sorted(loops, key=lambda loop: (loop.hole, -abs(_signed_area(loop.points)))))


def fold_lines(piece: Piece) -> list[tuple[Floats, int]]:
    """Each fold as (2, 2) float in mm and the number of its fold."""
    mesh = mesh_of(piece)
    return [(mesh.vertices[[e.start, e.end]], e.fold) for e in mesh.edges if e.fold is not None]


@kept
def drawn_folds(piece: Piece) -> tuple[tuple[Floats, int], ...]:
    """Each fold as it is made: (n, 2) float in mm and the number of its first fold.

    Scores along a curve of the piece are one line, which follows the curve; all
    others have two ends.
    """
    lines = fold_lines(piece)
    if not piece.curves:
        return tuple(lines)
    known = {
        frozenset((point_key(line[0]), point_key(line[1]))): i for i, (line, _) in enumerate(lines)
    }
    used: set[int] = set()
    out = []
    for curve in piece.curves:
        ends = [point_key(point) for point in curve.points]
        found = [known.get(frozenset(pair)) for pair in itertools.pairwise(ends)]
        numbers = [i for i in found if i is not None]
        if len(numbers) == len(found) and numbers:
            used |= set(numbers)
            out.append((drawn(curve), lines[numbers[0]][1]))
    return (*out, *(line for i, line in enumerate(lines) if i not in used))


def point_key(point: Floats) -> tuple[int, int]:
    """A place in the flat piece as a key: places within a hundredth of a micrometre are one.

    ``point`` is (2,) float, mm.
    """
    return round(float(point[0]) / NEAR), round(float(point[1]) / NEAR)


def piece_polygon(piece: Piece) -> Polygon:
    """The piece as a Shapely polygon with holes, mm."""
    loops = loops_of(piece)
    return Polygon(loops[0].points, [loop.points for loop in loops[1:] if loop.closed])


def piece_area(piece: Piece) -> float:
    """Board area of a piece in mm², holes left out."""
    panels = sum(abs(_signed_area(panel.outline)) for panel in piece.panels)
    return panels - sum(
        abs(_signed_area(opening.points))
        for panel in piece.panels
        for opening in panel.openings
        if opening.closed
    )
