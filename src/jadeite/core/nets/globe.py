"""Globes of gores: from a lower ring to an upper one, past the widest place.

As a dome's, their gores bend one way only, so their seams lie in planes.
Each ends in a level flange below and above, to which rings are glued.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from jadeite.core.boards import Board
from jadeite.core.boards.fits import USUAL, Fits
from jadeite.core.nets.bends import bend
from jadeite.core.nets.closed_form import ClosedForm
from jadeite.core.nets.gores import gores_all_round, seam_tab
from jadeite.core.nets.model import Floats, Joint, Opening, Panel, Piece
from jadeite.core.nets.ring_box import ngon
from jadeite.core.nets.roles import Role

__all__ = ["Globe", "globe_gores", "globe_ring"]

FLANGE_EASE = 0.5  # mm; from memory, between the flanges of neighbouring gores
FLANGE_BACK = 0.3  # mm; from memory, a flange ends this far before the ring's opening


@dataclass(frozen=True)
class Globe:
    """Middle surfaces: facets that touch a circle, between heights -``half`` and ``half`` in mm.

    ``end`` is the inradius where both flanges begin, ``opening`` that of the
    rings; ``facets`` is odd, so that the middle one stands upright.
    """

    sides: int
    end: float
    half: float
    opening: float
    facets: int

    @property
    def around(self) -> float:
        """Radius in mm on which the ends of the facets lie."""
        return math.hypot(self.end, self.half)

    @property
    def latitude(self) -> float:
        """Of the upper end, in radians."""
        return math.atan2(self.half, self.end)

    @property
    def step(self) -> float:
        """Turn from facet to facet, in radians."""
        return 2 * self.latitude / self.facets

    @property
    def radius(self) -> float:
        """Of the circle that the facets touch, in mm: half of what is widest."""
        return self.around * math.cos(self.step / 2)

    def corner(self, k: int) -> tuple[float, float]:
        """Inradius and height of the lower end of facet k, from 0."""
        turn = k * self.step - self.latitude
        return self.around * math.cos(turn), self.around * math.sin(turn)


def _level(globe: Globe, way: float) -> Floats:
    """Corners of the flange above (way 1) or below (way -1)."""
    tangent, z = math.tan(math.pi / globe.sides), way * globe.half
    far = globe.opening + FLANGE_BACK
    a, b = (r * tangent - FLANGE_EASE for r in (globe.end, far))
    ring = np.array([[globe.end, -a, z], [globe.end, a, z], [far, b, z], [far, -b, z]])
    return ring if way > 0 else ring[::-1]


def globe_gores(
    globe: Globe, board: Board, phase: float, centre: float, fits: Fits = USUAL
) -> tuple[list[Piece], dict[str, Floats], list[Joint]]:
    """Equal gores all round, ``gore-1`` looking to ``phase``, their middle ``centre`` mm high."""
    net = ClosedForm("gore-1", "gore 1", board, part="gore", fits=fits)
    tangent = math.tan(math.pi / globe.sides)
    c, s = math.cos(math.radians(phase)), math.sin(math.radians(phase))
    turn = np.array([[c, -s, 0.0], [s, c, 0.0], [0.0, 0.0, 1.0]])

    def place(points: Floats) -> Floats:
        return np.asarray(points @ turn.T + np.array([0.0, 0.0, centre]))

    def facet(k: int) -> Floats:
        (r0, z0), (r1, z1) = globe.corner(k), globe.corner(k + 1)
        a, b = r0 * tangent, r1 * tangent
        return place(np.array([[r0, -a, z0], [r0, a, z0], [r1, b, z1], [r1, -b, z1]]))

    in_order = bend(net, "facet", "gore", facet, range(globe.facets), first=globe.facets // 2)
    for name, way, end in (("top", 1.0, in_order[-1]), ("bottom", -1.0, in_order[0])):
        net.face(f"flange.{name}", place(_level(globe, way)), end, title="flange", role=Role.TAB)
    for k, face in enumerate(in_order):
        narrow = 2 * tangent * min(globe.corner(k)[0], globe.corner(k + 1)[0])
        seam_tab(net, k, face, narrow, globe.sides)
    return gores_all_round(net, in_order, globe.sides)


def globe_ring(
    name: str, title: str, board: Board, globe: Globe, phase: float, rim: float, *, closed: bool
) -> Piece:
    """A flat polygon over the flanges, ``rim`` mm beyond their outer edge; open but for a disc."""
    outline = ngon(globe.end + rim, globe.sides, phase)
    size = (float(np.ptp(outline[:, 0])), float(np.ptp(outline[:, 1])))
    hole = () if closed else (Opening("hole", ngon(globe.opening, globe.sides, phase)),)
    return Piece(name, title, board, (Panel(name, title, Role.PLATE, outline, size, hole),), ())
