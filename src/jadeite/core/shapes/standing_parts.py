"""Parts between the leaves of a card that stand up when it opens and fold flat when it shuts.

Everything is a function of the angle between the leaves; the nets are not.  Creases
turn about the inner surfaces of the leaves, where the parts are glued, so that their
motion is that of lines and planes without thickness.

Glossary
--------
fold
    The card's own, along ``x`` through (0, 0, 0).
out
    Directions in either leaf, square to the fold, away from it.
chain
    Rectangles one after another across the fold: a tab, a wall, a top, a tab.
V
    Two walls that meet in a ridge over the fold, each on a slanted foot.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from jadeite.core.boards import Board
from jadeite.core.nets.model import Floats, Fold, Panel, Piece
from jadeite.core.nets.roles import Role
from jadeite.core.nets.turns import across, unit

__all__ = [
    "Link",
    "Opened",
    "Stood",
    "chain",
    "lying_open",
    "ridge_rise",
    "standing_open",
    "v_fold",
]

TAPER = 1.5  # mm; from memory, a tab's corners draw in, so that none peeps out
CLEAR = 1.0  # mm; from memory, between a slanted foot's tab and the fold


@dataclass(frozen=True, eq=False)
class Opened:
    """A card's leaves at one angle: along the fold, out in the first leaf and in the second.

    Each is a (3,) unit vector; ``angle`` is that between the leaves in degrees.
    """

    along: Floats
    first: Floats
    second: Floats
    angle: float

    @property
    def middle(self) -> Floats:
        """Between both leaves, (3,)."""
        if self.angle > 179.99:
            return unit(across(self.first, self.along))
        return unit(self.first + self.second)


@dataclass(frozen=True, eq=False)
class Stood:
    """A piece as it stands: its net, and where its first panel is, 4 x 4."""

    piece: Piece
    place: Floats


@dataclass(frozen=True, eq=False)
class Link:
    """One rectangle of a chain: its length in mm and where it points, (3,); a tab is glued.

    ``outline``, (n, 2), replaces the rectangle, from (0, 0) in the middle of its first edge.
    """

    name: str
    title: str
    length: float
    way: Floats
    tab: bool = False
    outline: Floats | None = None


def standing_open(angle: float) -> Opened:
    """One leaf lies on the table towards the maker, the other rises behind."""
    turn = math.radians(angle)
    back = np.array([0.0, -math.cos(turn), math.sin(turn)])
    return Opened(np.array([1.0, 0.0, 0.0]), np.array([0.0, -1.0, 0.0]), back, angle)


def lying_open(angle: float) -> Opened:
    """Like an open book on its spine: both leaves rise alike, the fold away from the maker."""
    rise = math.radians(90 - angle / 2)
    right = np.array([math.cos(rise), 0.0, math.sin(rise)])
    left = np.array([-math.cos(rise), 0.0, math.sin(rise)])
    return Opened(np.array([0.0, 1.0, 0.0]), right, left, angle)


def _place(x: Floats, y: Floats, origin: Floats) -> Floats:
    """4 x 4 from flat axes in space."""
    out = np.eye(4)
    out[:3, 0], out[:3, 1], out[:3, 2], out[:3, 3] = x, y, across(x, y), origin
    return out


def turn_of(hinge: Floats, parent: Floats, child: Floats) -> float:
    """Angle of a fold in degrees by the normals of both sides; the child lies left of the hinge.

    All are (3,) unit vectors.
    """
    return math.degrees(math.atan2(float(across(parent, child) @ hinge), float(parent @ child)))


def chain(
    name: str,
    title: str,
    board: Board,
    open_: Opened,
    wide: float,
    middle: float,
    start: Floats,
    links: Sequence[Link],
) -> Stood:
    """A chain of rectangles ``wide`` mm, its middle at so many mm along the fold.

    ``start``, (3,), is where its first edge is, less what lies along the fold.
    """
    panels: list[Panel] = []
    folds: list[Fold] = []
    y = 0.0
    for number, link in enumerate(links):
        low, high = y, y + link.length
        half = wide / 2
        draw = min(TAPER, link.length / 2, half / 2) if link.tab else 0.0
        first, last = link.tab and number == 0, link.tab and number == len(links) - 1
        a, b = half - draw * first, half - draw * last
        outline = np.array([[-a, low], [a, low], [b, high], [-b, high]])
        if link.outline is not None:
            outline = link.outline + np.array([0.0, low])
        role = Role.FOOT if link.tab else Role.WALL
        size = (float(np.ptp(outline[:, 0])), float(np.ptp(outline[:, 1])))
        panels.append(Panel(link.name, link.title, role, outline, size))
        if number:
            normals = [across(open_.along, links[i].way) for i in (number - 1, number)]
            turn = turn_of(open_.along, normals[0], normals[1])
            folds.append(Fold(links[number - 1].name, link.name, (-half, low), (half, low), turn))
        y = high
    piece = Piece(name, title, board, tuple(panels), tuple(folds))
    return Stood(piece, _place(open_.along, links[0].way, start + middle * open_.along))


def ridge_rise(angle: float, foot: float, wall: float) -> float:
    """Angle in degrees between a V's ridge and the fold when the card is open by ``angle``.

    Its feet run at ``foot`` degrees to the fold, its walls have ``wall`` degrees between foot
    and ridge: both lie in the plane between the leaves, so
    cos(foot) cos(rise) + sin(foot) cos(angle / 2) sin(rise) = cos(wall).

    Raises
    ------
    ValueError
        It cannot open so far: ``wall`` is less than ``foot``.
    """
    f, w = math.radians(foot), math.radians(wall)
    a, b = math.cos(f), math.sin(f) * math.cos(math.radians(angle) / 2)
    long = math.hypot(a, b)
    if math.cos(w) > long + 1e-12:
        raise ValueError("the walls are too narrow at their foot to open so far")
    return math.degrees(math.atan2(b, a) + math.acos(min(1.0, math.cos(w) / long)))


def v_fold(
    name: str,
    title: str,
    board: Board,
    open_: Opened,
    at: float,
    foot: float,
    wall: float,
    long: float,
    high: float,
    deep: float,
    top: Floats,
) -> Stood:
    """Two walls over the fold whose ridge begins at ``at`` mm along it; angles in degrees.

    Feet are ``long`` mm with tabs ``deep`` mm, the ridge is ``high`` mm; ``top`` are the corners
    of the right wall's edge from the end of its foot to the ridge, (n, 2), x square to the
    ridge and y along it: none for walls that end in a point.
    """
    f, w = math.radians(foot), math.radians(wall)
    rise = math.radians(ridge_rise(open_.angle, foot, wall))
    ridge = math.cos(rise) * open_.along + math.sin(rise) * open_.middle
    ways = [math.cos(f) * open_.along + math.sin(f) * out for out in (open_.first, open_.second)]
    axes = [(ways[0] - math.cos(w) * ridge) / math.sin(w),
            (math.cos(w) * ridge - ways[1]) / math.sin(w)]  # fmt: skip
    normals = [across(axis, ridge) for axis in axes]
    panels: list[Panel] = []
    folds: list[Fold] = []
    for side, (sign, word) in enumerate(((1.0, "right"), (-1.0, "left"))):
        along = np.array([sign * math.sin(w), math.cos(w)])
        away = np.array([sign * math.cos(w), -math.sin(w)])
        end = long * along
        edge = top * np.array([sign, 1.0])
        corners = np.vstack([np.zeros(2), end, edge, [0.0, high]])
        outline = corners if side == 0 else corners[::-1]
        size = (long, high)
        panels.append(Panel(f"wall.{word}", f"{word} wall", Role.WALL, outline, size))
        begin = (CLEAR + deep * math.cos(f)) / math.sin(f)
        near, far = CLEAR * along, (long - CLEAR) * along
        tab = np.array([near, far, (long - CLEAR - min(TAPER, deep)) * along + deep * away,
                        begin * along + deep * away])  # fmt: skip
        if side == 0:
            tab = tab[::-1]
        out = (open_.first, open_.second)[side]
        inward = math.sin(f) * open_.along - math.cos(f) * out
        hinge = -ways[0] if side == 0 else ways[1]
        turn = turn_of(hinge, normals[side], across(hinge, inward))
        panels.append(Panel(f"tab.{word}", f"{word} tab", Role.FOOT, tab, (long - 2 * CLEAR, deep)))
        start, stop = (far, near) if side == 0 else (near, far)
        folds.append(
            Fold(f"wall.{word}", f"tab.{word}", (float(start[0]), float(start[1])),
                 (float(stop[0]), float(stop[1])), turn)
        )  # fmt: skip
    turn = turn_of(ridge, normals[0], normals[1])
    folds.insert(0, Fold("wall.right", "wall.left", (0.0, 0.0), (0.0, high), turn))
    piece = Piece(name, title, board, tuple(panels), tuple(folds))
    return Stood(piece, _place(axes[0], ridge, at * open_.along))
