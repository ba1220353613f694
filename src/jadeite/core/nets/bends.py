"""Bends: panels that are rolled, curled or bowed about straight lines, their flat length kept.

Rolled walls, gores, plies, petals and bows are this one construct.  Paper bends about
one line at a time and does not stretch, so a bent panel is shown and proved as
facets between its rulings, joined by folds that are made by rolling, not by a
score.  How the rulings lie is the maker's: of a cylinder, of a cone, from circle
to circle of a dome.

Glossary
--------
ruling
    A straight line on a bent panel, along which it does not bend.
facet
    What lies between two rulings, flat in proof and picture.
"""

from __future__ import annotations

import math
from collections.abc import Callable

from jadeite.core.nets.closed_form import ClosedForm, Face
from jadeite.core.nets.model import Floats, Fold, Piece
from jadeite.core.nets.roles import Role

__all__ = ["ROLLED", "bend", "petal_length", "tightest_roll"]

MEET = 1e-6  # mm; rounding, two folds meet in a point
ROLLED = "rolled"  # the kind of a fold between two facets


def bend(
    net: ClosedForm,
    name: str,
    title: str,
    facet: Callable[[int], Floats],
    numbers: range,
    *,
    first: int | None = None,
    on: Face | None = None,
    begun: Face | None = None,
) -> list[Face]:
    """A bent panel as facets ``name`` with their numbers, in the order of these.

    Parameters
    ----------
    facet : callable
        Corners of a facet by its number, (n, 3) float, mm, counter-clockwise
        from its good side; it shares a ruling with the next.
    numbers : range
        Of the facets, one after the other along the bend; rising.
    first : int, optional
        The facet from which the others spread to either side; else the lowest.
    on : Face, optional
        What the first facet hangs on, bent along with it; else it is the net's base.
    begun : Face, optional
        The first facet, where it is there already.
    """
    start = numbers[0] if first is None else first
    faces: dict[int, Face] = {}
    if begun is not None:
        faces[start] = begun
    elif on is None:
        faces[start] = net.base(f"{name}.{start}", facet(start), title=title, role=Role.GORE)
    else:
        faces[start] = net.face(
            f"{name}.{start}", facet(start), on, title=title, role=Role.GORE, kind=ROLLED
        )
    for number in (*range(start + 1, numbers[-1] + 1), *range(start - 1, numbers[0] - 1, -1)):
        beside = faces[number - 1 if number > start else number + 1]
        faces[number] = net.face(
            f"{name}.{number}", facet(number), beside, title=title, role=Role.GORE, kind=ROLLED
        )
    return [faces[number] for number in numbers]


def petal_length(piece: Piece) -> float:
    """From its root to its tip of the longest petal of a piece, in mm; 0 where it has none.

    One that is creased along its middle is stiff like a gutter, and does not count.
    """
    reach: dict[str, float] = {}
    stiff = {name for fold in piece.folds if not fold.tree for name in (fold.parent, fold.child)}
    for fold in piece.tree:
        panel = piece.panel(fold.child)
        if panel.role is Role.PETAL and fold.kind == ROLLED and panel.name not in stiff:
            reach[fold.child] = reach.get(fold.parent, 0.0) + panel.size[1]
    return max(reach.values(), default=0.0)


def tightest_roll(piece: Piece) -> float | None:
    """Smallest diameter in mm to which a piece is rolled; None where nothing is, or it is wound.

    Between two folds of a bent panel lies an arc as long as they are apart
    where they are nearest; it turns by half of what both folds do.  Where they meet, as at
    the end of a crease, a point of the paper is pinched, and nothing is rolled.
    """
    into = {
        fold.child: fold
        for fold in piece.tree
        if fold.kind == ROLLED
        and (traits := piece.panel(fold.child).role.traits).bends
        and not traits.wound
    }
    found = []
    for fold in into.values():
        before = into.get(fold.parent)
        if before is None:
            continue
        turn = math.radians(abs(fold.angle) + abs(before.angle)) / 2
        if turn > 0:
            arc = min(_apart(end, before) for end in (fold.start, fold.end))
            if arc > MEET:
                found.append(2 * arc / turn)
    return min(found, default=None)


def _apart(point: tuple[float, float], fold: Fold) -> float:
    """From a point to a fold's line between its ends, in mm."""
    (x0, y0), (x1, y1) = fold.start, fold.end
    dx, dy = x1 - x0, y1 - y0
    square = dx * dx + dy * dy
    along = ((point[0] - x0) * dx + (point[1] - y0) * dy) / square if square > 0 else 0.0
    along = min(1.0, max(0.0, along))
    return math.hypot(point[0] - x0 - along * dx, point[1] - y0 - along * dy)
