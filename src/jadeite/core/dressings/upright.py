"""How a panel stands in the finished thing: which way is up on it, as one looks at it."""

from __future__ import annotations

import math

import numpy as np

from jadeite.core.nets.model import Design, Floats, Panel, Piece
from jadeite.core.nets.roles import Role
from jadeite.core.nets.turns import closed_matrix

__all__ = ["along_walls", "seen_upright", "upright"]

FLAT = 0.3  # of a panel's up that lies in its plane: with less it lies flat; from memory


def upright(design: Design, piece: Piece, panel: Panel) -> float:
    """How far left a picture is turned on a flat panel so that it stands upright, degrees."""
    matrix = closed_matrix(piece, design.placements[piece.name], panel.name)
    up = matrix[:3, :3].T @ np.array([0.0, 0.0, 1.0])
    if float(np.hypot(*up[:2])) < FLAT:  # it lies: upright is away from the one who looks at it
        up = matrix[:3, :3].T @ np.array([0.0, 1.0, 0.0])
    return math.degrees(math.atan2(-float(up[0]), float(up[1])))


def seen_upright(design: Design, piece: Piece, panel: Panel) -> Floats:
    """(2, 2) matrix that turns points of a flat panel as they are seen from outside, y up.

    A piece whose good side lies inside is seen from its back: it is mirrored as well.
    """
    turn = math.radians(-upright(design, piece, panel))
    c, s = math.cos(turn), math.sin(turn)
    out = np.array([[c, -s], [s, c]])
    if piece.good_side != "outside":
        out = np.array([[-1.0, 0.0], [0.0, 1.0]]) @ out
    return out


def along_walls(design: Design, name: str) -> dict[str, tuple[float, float]]:
    """How far round the walls of a piece each begins at its left, and how long all are; mm.

    They are seen from outside, from left to right; empty where there is no such piece.
    """
    piece = next((p for p in design.pieces if p.name == name), None)
    found = []
    for panel in piece.panels if piece is not None else ():
        if panel.role is not Role.WALL:
            continue
        assert piece is not None
        matrix = closed_matrix(piece, design.placements[name], panel.name)
        out = matrix[:3, 2] * (1.0 if piece.good_side == "outside" else -1.0)
        across = panel.outline @ seen_upright(design, piece, panel)[0]
        found.append((math.atan2(float(out[1]), float(out[0])), panel.name, float(np.ptp(across))))
    found.sort()
    ends = np.cumsum([0.0, *(wide for _, _, wide in found)])
    return {n: (float(at), float(ends[-1])) for (_, n, _), at in zip(found, ends, strict=False)}
