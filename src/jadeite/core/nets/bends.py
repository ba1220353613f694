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

from shapely.geometry import LineString, Point

from jadeite.core.nets.closed_form import ClosedForm, Face
from jadeite.core.nets.model import Floats, Piece
from jadeite.core.nets.roles import Role

__all__ = ["ROLLED", "bend", "tightest_roll"]

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


def tightest_roll(piece: Piece) -> float | None:
    """Smallest diameter in mm to which a piece is rolled; None where nothing is.

    Between two folds of a bent panel lies an arc as long as they are apart
    where they are nearest; it turns by half of what both folds do.
    """
    into = {
        fold.child: fold
        for fold in piece.tree
        if fold.kind == ROLLED and piece.panel(fold.child).role.traits.bends
    }
    found = []
    for fold in into.values():
        before = into.get(fold.parent)
        if before is None:
            continue
        turn = math.radians(abs(fold.angle) + abs(before.angle)) / 2
        line = LineString([before.start, before.end])
        arc = min(line.distance(Point(fold.start)), line.distance(Point(fold.end)))
        if turn > 0:
            found.append(2 * float(arc) / turn)
    return min(found, default=None)
