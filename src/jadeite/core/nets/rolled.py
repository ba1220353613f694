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
from jadeite.core.boards.fit_rules import TAB_DEPTH
from jadeite.core.nets.closed_form import ClosedForm, Face
from jadeite.core.nets.model import Floats, Joint, Panel, Piece

__all__ = ["Rolled", "RolledWall", "Teeth", "disc", "facets_for", "rolled_wall", "tightest_roll"]

FACET_WIDTH = 6.5  # mm; from memory, about as wide as a tooth is cut
LEAST, MOST = 16, 32  # facets round; from memory, more look no rounder
ROUNDS = 8  # of the search for the slant; rounding, it settles in three
LAP_CLEAR = 1.0  # mm; from memory, between the lap and the rim
LAP_TAPER = 2.0  # mm; from memory, the lap's corners draw in
TOOTH_TIP = 0.6  # of a tooth's root remains at its tip; from memory
TOOTH_AIR = 0.2  # mm; from memory, between two teeth that are folded in
FLATTEN = 0.02  # mm; design rule, curves in files stay this close
ON_HINGE = 1e-3  # mm; rounding, corners this close lie on the hinge


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
) -> RolledWall:
    """A strip rolled up and glued along its lap, with teeth round one end.

    Parameters
    ----------
    lap : (low, high)
        mm that the lap keeps clear of the foot and of the rim, along a ruling.
    """
    net = ClosedForm(name, title, board)
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

    middle = n // 2
    faces: dict[int, Face] = {
        middle: net.base(f"facet.{middle}", corners(middle), title="wall", role="gore")
    }
    for i in (*range(middle + 1, n), *range(middle - 1, -1, -1)):
        on = faces[i - 1 if i > middle else i + 1]
        faces[i] = net.face(
            f"facet.{i}", corners(i), on, title="wall", role="gore", kind="rolled"
        )
    _lap(net, shape, faces, lap)
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
        made.append(
            net.flap(f"tooth.{i}", faces[i], side, outline, turn, title="teeth", role="flap").name
        )
    piece = net.build()
    return RolledWall(
        piece, tuple(net.joints), net.placement, tuple(faces[i].name for i in range(n)), tuple(made)
    )


def _lap(net: ClosedForm, shape: Rolled, faces: dict[int, Face], clear: tuple[float, float]) -> None:
    """A lap on the last facet that bends along with the first ones and lies in their surface."""
    on, depth, k = faces[shape.facets - 1], TAB_DEPTH, 0
    low, high = clear[0], shape.slant - clear[1] - LAP_CLEAR
    while depth > LAP_CLEAR:
        (a, b), (d, c) = (
            (shape.corner(i, 0.0), shape.corner(i, shape.height)) for i in (k, k + 1)
        )
        start, end = (p + (q - p) / np.linalg.norm(q - p) * low for p, q in ((a, b), (d, c)))
        top, far = (p + (q - p) / np.linalg.norm(q - p) * high for p, q in ((a, b), (d, c)))
        width = min(np.linalg.norm(end - start), np.linalg.norm(far - top))
        share = 1.0
        if depth <= width:
            share = depth / width
            end = end + (far - end) / np.linalg.norm(far - end) * LAP_TAPER
            far = far + (end - far) / np.linalg.norm(far - end) * LAP_TAPER
        end, far = start + (end - start) * share, top + (far - top) * share
        on = net.face(
            f"lap.{k}", np.array([start, end, far, top]), on, title="lap", role="tab", kind="rolled"
        )
        net.joint("glue", on, faces[k], "the seam")
        depth -= float(width)
        k += 1


def disc(name: str, title: str, board: Board, radius: float, good_side: str = "outside") -> Piece:
    """A round piece of a radius in mm, within 0.02 mm of the circle."""
    count = max(LEAST, math.ceil(math.pi / math.acos(1 - FLATTEN / radius)))
    turns = np.arange(count) * 2 * math.pi / count
    outline = radius * np.column_stack([np.cos(turns), np.sin(turns)])
    panel = Panel(name, title, "plate", outline, (2 * radius, 2 * radius))
    return Piece(name, title, board, (panel,), (), good_side)


def tightest_roll(piece: Piece) -> float | None:
    """Smallest diameter in mm to which a piece is rolled; None where nothing is.

    A facet stands for an arc as long as it is deep where it is narrowest; the
    arc turns by the facet's fold.
    """
    found = []
    for fold in piece.folds:
        panel = piece.panel(fold.child)
        if fold.kind != "rolled" or not fold.angle or not fold.tree or panel.role != "gore":
            continue
        a, b = np.array(fold.start), np.array(fold.end)
        off = (panel.outline - a) @ np.array([a[1] - b[1], b[0] - a[0]]) / fold.length
        arc = float(off[off > ON_HINGE].min())
        found.append(2 * arc / math.radians(abs(fold.angle)))
    return min(found, default=None)
