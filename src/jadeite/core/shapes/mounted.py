"""What lies flat on a leaf of a card: plates within an even border, ornaments on foam."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence

import numpy as np

from jadeite.core.boards import Board
from jadeite.core.contents import AnyThing
from jadeite.core.errors import FieldError
from jadeite.core.nets.model import Floats, Panel, Piece
from jadeite.core.nets.roles import Role
from jadeite.core.nets.turns import closed_matrix
from jadeite.core.shapes.registry import OptionValue

__all__ = [
    "bears_nothing",
    "lying_on",
    "plate",
    "plate_within",
    "round_off",
    "rounded",
    "standing_leaf",
]

ROUND = 8  # setting: parts of a quarter of a rounded corner


def bears_nothing(thing: AnyThing, options: Mapping[str, OptionValue]) -> AnyThing:
    """Of a card on which nothing can be mounted.

    Raises
    ------
    FieldError
        Always: it names the thing.
    """
    raise FieldError(
        "thing",
        f"{thing.name} has no place on it",
        "Mount it on a folded card, or choose a shape that holds it.",
    )


def standing_leaf(opens: float, height: float, *, top: bool) -> Floats:
    """The front leaf upright, or leaning as one side of a tent, on its lower edge; 4 x 4."""
    lean = math.radians(opens / 2) if top else 0.0
    up, back = math.cos(lean), math.sin(lean)
    out = np.eye(4)
    out[:3, 1] = (0.0, back, up)
    out[:3, 2] = (0.0, -up, back)
    out[2, 3] = up * height / 2
    return out


def plate_within(
    under: Panel, name: str, title: str, role: Role, border: float, board: Board
) -> Piece:
    """A rectangle within an even border of another, mm."""
    low, high = under.outline.min(axis=0) + border, under.outline.max(axis=0) - border
    outline = np.array([low, [high[0], low[1]], high, [low[0], high[1]]])
    return plate(name, title, role, outline, board)


def plate(name: str, title: str, role: Role, outline: Floats, board: Board) -> Piece:
    """One flat panel of an outline, (n, 2), mm, counter-clockwise."""
    wide, high = np.ptp(outline, axis=0)
    panel = Panel(role.value, title, role, outline, (float(wide), float(high)))
    return Piece(name, title, board, (panel,), ())


def rounded(low: tuple[float, float], high: tuple[float, float], radius: float) -> Floats:
    """A rectangle between two corners with corners rounded to a radius, mm; (n, 2)."""
    x0, y0, x1, y1 = *low, *high
    radius = min(radius, (x1 - x0) / 2, (y1 - y0) / 2)
    corners = np.array([(x0, y0), (x1, y0), (x1, y1), (x0, y1)])
    if radius <= 0:
        return corners
    middles = corners + radius * np.array([(1, 1), (-1, 1), (-1, -1), (1, -1)])
    out = []
    for i, middle in enumerate(middles):
        turn = np.linspace(math.pi * (1 + i / 2), math.pi * (1.5 + i / 2), ROUND + 1)
        out.append(middle + radius * np.column_stack([np.cos(turn), np.sin(turn)]))
    ring = np.concatenate(out)
    keep = np.abs(ring - np.roll(ring, 1, axis=0)).max(axis=1) > 1e-9
    return np.asarray(ring[keep])


def round_off(outline: Floats, corners: Sequence[int], radius: float) -> Floats:
    """An outline, (n, 2), ccw, with some of its convex corners rounded to a radius in mm."""
    out = []
    for i, point in enumerate(outline):
        if i not in corners:
            out.append(point[None])
            continue
        before, after = outline[i - 1] - point, outline[(i + 1) % len(outline)] - point
        long = float(np.hypot(*before)), float(np.hypot(*after))
        a, b = before / long[0], after / long[1]
        half = math.acos(float(np.clip(a @ b, -1, 1))) / 2
        cut = min(radius / math.tan(half), long[0] / 2, long[1] / 2)
        own = cut * math.tan(half)
        middle = point + (a + b) / np.linalg.norm(a + b) * own / math.sin(half)
        start, end = point + a * cut - middle, point + b * cut - middle
        begin = math.atan2(start[1], start[0])
        turn = (math.atan2(end[1], end[0]) - begin) % (2 * math.pi)
        angles = begin + np.linspace(0, turn, ROUND + 1)
        out.append(middle + own * np.column_stack([np.cos(angles), np.sin(angles)]))
    return np.concatenate(out)


def lying_on(
    under: Piece, place: Floats, panel: str, piece: Piece, *, front: bool, pad: float = 0.0
) -> Floats:
    """Where a plate lies that is glued on the good side of a panel, or on its back; 4 x 4.

    ``pad`` mm of foam lie between.
    """
    apart = np.eye(4)
    up = (under.board.thickness + piece.board.thickness) / 2 + pad
    apart[2, 3] = up if front else -up
    return np.asarray(closed_matrix(under, place, panel) @ apart)
