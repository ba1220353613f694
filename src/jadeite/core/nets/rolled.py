"""Walls rolled from one strip: a cylinder from a straight strip, part of a cone from a sector.

The flat strip is exact: it is as long as the circle that it becomes, and a
sector opens by 360° r / s.  Folded, it is shown and proved as facets that
bend without a score; their corners lie a little outside the circle, their
middles a little inside.

Glossary
--------
ruling
    A straight line on a rolled surface, along which it does not bend.
lap
    The end of the strip that lies on its beginning and is glued to it.
tooth
    One of many small tabs round an end, folded in for a disc to be glued on.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from jadeite.core.boards import Board
from jadeite.core.boards.fits import USUAL, Fits
from jadeite.core.nets.bends import bend
from jadeite.core.nets.closed_form import ClosedForm, Face
from jadeite.core.nets.model import Floats, Joint, Kind, Panel, Piece
from jadeite.core.nets.roles import Role

__all__ = ["Rolled", "RolledWall", "Teeth", "disc", "facets_for", "rolled_wall"]

FACET_WIDTH = 6.5  # mm; from memory, about as wide as a tooth is cut
LEAST, MOST = 16, 32  # facets round; from memory, more look no rounder
ROUNDS = 8  # of the search for the slant; rounding, it settles in three
LAP_CLEAR = 1.0  # mm; from memory, between the lap and the rim
LAP_TAPER = 2.0  # mm; from memory, the lap's corners draw in
TOOTH_TIP = 0.6  # of a tooth's root remains at its tip; from memory
TOOTH_AIR = 0.2  # mm; from memory, between two teeth that are folded in
FLATTEN = 0.02  # mm; design rule, curves in files stay this close


def facets_for(radius: float) -> int:
    """How many facets a rolled wall of a radius in mm has; an even number."""
    return min(MOST, max(LEAST, 2 * round(math.pi * radius / FACET_WIDTH)))


@dataclass(frozen=True)
class Rolled:
    """The middle surface of a rolled wall: circles of ``low`` and ``high`` mm radius.

    The strip becomes exactly these circles; ``height`` is that of the faceted
    wall, upright.  With equal radii it is a cylinder, else part of a cone.
    """

    low: float
    high: float
    height: float
    facets: int

    @property
    def out(self) -> float:
        """Corners of the facets against the circle: a number a little above 1."""
        half = self.sector / 2 / self.facets
        bend = math.sin(half) / half if half else 1.0
        turn = math.pi / self.facets
        return bend * turn / math.sin(turn)

    @cached_property
    def slant(self) -> float:
        """Length of a ruling in mm."""
        slant = math.hypot(self.height, self.high - self.low)
        for _ in range(ROUNDS):  # the facets' corners lie outside the circles, by the sector
            half = math.pi * abs(self.high - self.low) / slant / self.facets
            bend = math.sin(half) / half if half else 1.0
            turn = math.pi / self.facets
            out = bend * turn / math.sin(turn)
            slant = math.hypot(self.height, out * (self.high - self.low))
        return slant

    @property
    def sector(self) -> float:
        """Angle of the flat strip in radians, 2 pi r / s; 0 for a cylinder."""
        return 2 * math.pi * abs(self.high - self.low) / self.slant

    @property
    def bulge(self) -> float:
        """How far the arc of the upper edge rises above the corners of the facets, in mm.

        Rolled up it is level; on flat facets its middles stand a little higher.
        """
        if not self.sector:
            return 0.0
        arc = self.from_apex(self.ring(self.height) / self.out)
        return arc * (1 - math.cos(self.sector / 2 / self.facets)) * math.cos(self.lean)

    def from_apex(self, radius: float) -> float:
        """Distance in mm from the cone's apex to one of its circles, along a ruling."""
        return radius * self.slant / abs(self.high - self.low)

    @property
    def lean(self) -> float:
        """How far the facets lean outwards, in radians; negative when they lean in."""
        rise = (self.inradius(self.height) - self.inradius(0.0)) / self.height
        return math.atan(rise)

    def ring(self, z: float) -> float:
        """Circumradius of the facets at a height in mm."""
        return self.out * (self.low + (self.high - self.low) * z / self.height)

    def inradius(self, z: float) -> float:
        """Inradius of the facets at a height in mm."""
        return self.ring(z) * math.cos(math.pi / self.facets)

    def corner(self, i: int, z: float) -> Floats:
        """Corner i of the ring at a height, (3,); facet i runs from corner i to the next."""
        turn = 2 * math.pi * i / self.facets
        return np.array([self.ring(z) * math.cos(turn), self.ring(z) * math.sin(turn), z])


@dataclass(frozen=True)
class Teeth:
    """Teeth round an end, ``depth`` mm long, folded in until they are level."""

    depth: float
    upper: bool = False  # at the rim instead of the foot


@dataclass(frozen=True, eq=False)
class RolledWall:
    """The strip, its seams, where it stands (foot at z = 0), and the names of its panels."""

    piece: Piece
    joints: tuple[Joint, ...]
    placement: Floats
    facets: tuple[str, ...]
    teeth: tuple[str, ...]


def rolled_wall(
    name: str,
    title: str,
    board: Board,
    shape: Rolled,
    teeth: Teeth,
    *,
    lap: tuple[float, float] = (0.0, 0.0),
    fits: Fits = USUAL,
) -> RolledWall:
    """A strip rolled up and glued along its lap, with teeth round one end.

    Parameters
    ----------
    lap : (low, high)
        mm that the lap keeps clear of the foot and of the rim, along a ruling.
    """
    net = ClosedForm(name, title, board, fits=fits)
    n = shape.facets

    def corners(i: int) -> Floats:
        return np.array(
            [
                shape.corner(i, 0.0),
                shape.corner(i + 1, 0.0),
                shape.corner(i + 1, shape.height),
                shape.corner(i, shape.height),
            ]
        )

    faces = bend(net, "facet", title, corners, range(n))
    laps = _lap(net, shape, faces, lap)
    towards = (0.0, 0.0, 1.0 if teeth.upper else -1.0)
    lean = math.degrees(shape.lean)
    turn = 90.0 + lean if teeth.upper else 90.0 - lean
    made = []
    for i in range(n):
        side = faces[i].side_towards(towards)
        ends = faces[i].outline[[side, (side + 1) % 4]]
        root = float(np.linalg.norm(ends[1] - ends[0]))
        draw = max(root * (1 - TOOTH_TIP) / 2, teeth.depth * math.tan(math.pi / n) + TOOTH_AIR)
        outline = np.array(
            [[0.0, 0.0], [root, 0.0], [root - draw, teeth.depth], [draw, teeth.depth]]
        )
        made.append(net.flap(f"tooth.{i}", faces[i], side, outline, turn, title="teeth"))
        net.before(laps[-1], made[-1])
    foot, rim = (shape.height, 0.0) if teeth.upper else (0.0, shape.height)
    kind = "arc" if shape.sector else "line"
    net.curved_score(kind, _ring(shape, faces, foot))
    net.curved_edge(kind, _ring(shape, faces, rim), faces)
    piece = net.build()
    names = [tuple(face.name for face in some) for some in (faces, made)]
    return RolledWall(piece, tuple(net.joints), net.placement, names[0], names[1])


def _ring(shape: Rolled, faces: list[Face], z: float) -> Floats:
    """Corners of the facets at a height, in the flat piece: (facets + 1, 2)."""
    points = [face.flat(shape.corner(i, z)) for i, face in enumerate(faces)]
    return np.array([*points, faces[-1].flat(shape.corner(len(faces), z))])


def _lap(
    net: ClosedForm, shape: Rolled, faces: list[Face], clear: tuple[float, float]
) -> list[Face]:
    """A lap on the last facet that bends along with the first ones and lies in their surface."""
    on, left, k = faces[-1], net.fits.tab_depth, 0
    made: list[Face] = []
    low, high = clear[0], shape.slant - clear[1] - LAP_CLEAR

    def ruling(i: int, at: float) -> Floats:
        foot, rim = shape.corner(i, 0.0), shape.corner(i, shape.height)
        return np.asarray(foot + (rim - foot) * (at / shape.slant))

    while left > LAP_CLEAR:
        start, top = ruling(k, low), ruling(k, high)
        end, far = ruling(k + 1, low), ruling(k + 1, high)
        width = float(min(np.linalg.norm(end - start), np.linalg.norm(far - top)))
        if left <= width:  # it ends on this facet
            end, far = ruling(k + 1, low + LAP_TAPER), ruling(k + 1, high - LAP_TAPER)
            end, far = start + (end - start) * left / width, top + (far - top) * left / width
        corners = np.array([start, end, far, top])
        on = net.face(f"lap.{k}", corners, on, title="lap", role=Role.TAB, kind="rolled")
        net.joint(Kind.GLUE, on, faces[k], f"the seam of the {net.title}")
        made.append(on)
        left -= width
        k += 1
    return made


def disc(name: str, title: str, board: Board, radius: float, good_side: str = "outside") -> Piece:
    """A round piece of a radius in mm, within 0.02 mm of the circle."""
    count = max(LEAST, math.ceil(math.pi / math.acos(1 - FLATTEN / radius)))
    turns = np.arange(count) * 2 * math.pi / count
    outline = radius * np.column_stack([np.cos(turns), np.sin(turns)])
    panel = Panel(name, title, Role.PLATE, outline, (2 * radius, 2 * radius))
    return Piece(name, title, board, (panel,), (), good_side)
