"""Small pieces that are glued to boxes: straps, plates, handles, pieces that stand inside.

Each is a net with its place in the shared space; the family joins it.
"""

from __future__ import annotations

import math

import numpy as np

from jadeite.core.boards import Board
from jadeite.core.nets.closed_form import ClosedForm
from jadeite.core.nets.model import Floats, Piece
from jadeite.core.nets.roles import Role

__all__ = [
    "arched_strap",
    "folded_strap",
    "held_plate",
    "standing_plate",
    "strap_handle",
    "upright_plate",
]

TAPER = 2.0  # mm; from memory, a flap's corners draw in, so that they slide down a wall
Fitting = tuple[Piece, Floats]  # a net, and the 4 x 4 matrix of its place


def folded_strap(
    name: str,
    title: str,
    board: Board,
    middle: tuple[float, float],
    wide: float,
    heights: tuple[float, float, float],
    titles: tuple[str, str],
) -> Fitting:
    """A flat strap against a front or a back: a part below and a part above a straight fold.

    Parameters
    ----------
    middle : (x, y)
        mm; it faces the front where y is negative.
    heights : (low, fold, high)
        mm; panel ``upper`` lies above the fold, ``lower`` below.
    titles : (lower, upper)
    """
    (x, y), (low, fold, high) = middle, heights
    net = ClosedForm(name, title, board)
    a, b = (x - wide / 2, x + wide / 2) if y < 0 else (x + wide / 2, x - wide / 2)

    def part(z0: float, z1: float) -> Floats:
        return np.array([[a, y, z0], [b, y, z0], [b, y, z1], [a, y, z1]])

    upper = net.base("upper", part(fold, high), title=titles[1], role=Role.STRAP)
    net.face("lower", part(low, fold), upper, title=titles[0], role=Role.STRAP, lean="valley")
    return net.build(), net.placement


def upright_plate(
    name: str, title: str, board: Board, y: float, wide: float, low: float, high: float
) -> Fitting:
    """A small flat piece against a front; one panel of its own name; mm."""
    net = ClosedForm(name, title, board)
    half = wide / 2
    ring = np.array([[-half, y, low], [half, y, low], [half, y, high], [-half, y, high]])
    net.base(name, ring, title=title, role=Role.PLATE)
    return net.build(), net.placement


def arched_strap(
    name: str, title: str, board: Board, degrees: float, half: float, wide: float,
    heights: tuple[float, float, float],
) -> Fitting:  # fmt: skip
    """A strap over something, from wall to wall, in the direction ``degrees`` from x.

    Panels ``grip``, ``riser.first`` and ``.second``, and flat below them
    ``foot.first`` and ``.second``, ``half`` mm from the middle.  ``heights`` are
    (low, rim, high): feet end, risers begin, and the grip lies, in mm.
    """
    (low, rim, high), w = heights, wide / 2
    net = ClosedForm(name, title, board)
    c, s = math.cos(math.radians(degrees)), math.sin(math.radians(degrees))
    turn = np.array([[c, -s, 0.0], [s, c, 0.0], [0.0, 0.0, 1.0]])

    def face(points: list[list[float]]) -> Floats:
        return np.asarray(np.array(points, float) @ turn.T)

    grip = net.base(
        "grip", face([[half, -w, high], [half, w, high], [-half, w, high], [-half, -w, high]])
    )
    for side, x in (("first", half), ("second", -half)):
        v = w if x > 0 else -w
        up = face([[x, -v, rim], [x, v, rim], [x, v, high], [x, -v, high]])
        riser = net.face(f"riser.{side}", up, grip, title="riser", role=Role.STRAP)
        end = face([[x, -v, low], [x, v, low], [x, v, rim], [x, -v, rim]])
        net.face(f"foot.{side}", end, riser, title="foot", role=Role.STRAP, lean="valley")
    return net.build(), net.placement


def strap_handle(
    name: str, title: str, board: Board, half: float, wide: float, low: float, high: float,
    foot: float,
) -> Fitting:  # fmt: skip
    """A strap that rises at x = +-``half`` from ``low`` to ``high``; mm.

    Panels ``grip``, ``riser.right`` and ``.left``, and ``foot.right`` and
    ``.left``, which turn outwards by ``foot``.
    """
    w = wide / 2
    net = ClosedForm(name, title, board)
    ring = np.array([[-half, -w, high], [half, -w, high], [half, w, high], [-half, w, high]])
    grip = net.base("grip", ring, role=Role.STRAP)
    for side, s in (("right", 1.0), ("left", -1.0)):
        x, out = s * half, s * (half + foot)
        up = np.array([[x, -s * w, low], [x, s * w, low], [x, s * w, high], [x, -s * w, high]])
        riser = net.face(f"riser.{side}", up, grip, title=f"{side} riser", role=Role.STRAP)
        flat = np.array([[x, -w, low], [x, w, low], [out, w, low], [out, -w, low]])
        flat = flat[::-1] if s > 0 else flat
        net.face(f"foot.{side}", flat, riser, title=f"{side} foot", role=Role.FOOT)
    return net.build(), net.placement


def standing_plate(
    name: str, title: str, board: Board, wide: float, low: float, high: float, leg: float,
    front: Floats | None = None,
) -> Fitting:  # fmt: skip
    """A plate across x = 0 on a leg folded towards -x; panels ``plate`` and ``leg``; mm.

    ``front`` are the upper corners of its edge at y < 0, (n, 2) y and z, from below up.
    """
    w = wide / 2
    net = ClosedForm(name, title, board)
    plate = net.base("plate", _upright(w, low, high, front), title="plate", role=Role.PLATE)
    flat = np.array([[0, w, low], [0, -w, low], [-leg, -w, low], [-leg, w, low]])
    net.face("leg", flat, plate, title="leg", role=Role.FOOT)
    return net.build(), net.placement


def held_plate(
    name: str, title: str, board: Board, wide: float, low: float, high: float,
    tab: tuple[float, float], way: float, front: Floats | None = None,
) -> Fitting:  # fmt: skip
    """A plate across x = 0 with a flap on either end that lies on a wall; mm.

    Panels ``plate``, ``tab.front`` (y < 0) and ``tab.back``: ``tab`` is how deep these are, and
    up to which height they reach; they point towards ``way`` times x.  ``front``, (n, 2), is as of
    ``standing_plate``.
    """
    w, (deep, top) = wide / 2, tab
    net = ClosedForm(name, title, board)
    plate = net.base("plate", _upright(w, low, high, front), title="plate", role=Role.PLATE)
    for side, y in (("front", -1.0), ("back", 1.0)):
        edge = plate.side_towards((0.0, y, 0.0))
        (_, _, z0), (_, _, z1) = plate.space()[[edge, (edge + 1) % len(plate.outline)]].tolist()
        tall = min(top, max(z0, z1)) - low
        start = abs(z1 - z0) - tall if y > 0 else 0.0  # a side is counted from its left end
        taper = min(TAPER, tall / 4)
        ring = [[0, 0], [tall, 0], [tall - taper, deep], [taper, deep]]
        net.flap(f"tab.{side}", plate, edge, np.array(ring), -90.0 * way, title=f"{side} flap",
                 role=Role.FOOT, start=start)  # fmt: skip
    return net.build(), net.placement


def _upright(w: float, low: float, high: float, front: Floats | None) -> Floats:
    """A plate in x = 0 from y = -w to w; its front edge may be cut back; (n, 3)."""
    front = np.array([[-w, high]]) if front is None else front
    edge = [[0.0, y, z] for y, z in front[::-1].tolist()]
    return np.array([[0, -w, low], [0, w, low], [0, w, high], *edge])
