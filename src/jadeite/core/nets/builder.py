"""Describe a net as floor, walls on its edges and tabs on walls.

The builder owns the coordinates and every allowance that comes from the
board: where a tab's score lies beside its corner, how ends taper, how far
apart the two scores of a rolled-over wall are.  A shape never repeats them.

A rectangular child stands on a side of its parent.  Looking from the parent
outwards, its ``start`` is on the left and its ``end`` on the right; ``far``
is the side opposite the hinge.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, field

import numpy as np

from jadeite.core.boards import Board, fold_back_gap
from jadeite.core.nets.model import Floats, Fold, Joint, Kind, Panel, Piece
from jadeite.core.nets.roles import Role

__all__ = ["ROLL_EASE", "NetBuilder", "Side", "Spec", "half_round", "reach_over"]

ROLL_EASE = 0.3  # mm; from memory, end play of a rolled-over wall between two others
LEAST_TIP = 0.5  # mm; from memory, the blade cannot turn at a sharper tip
TIP_SHARE = 0.5  # of a tab's root remains at its tip; from memory
SQUARE = 90.0 - 1e-9  # degrees; exact, less rounding
FLATTEN = 0.02  # mm; design rule, curves in files stay this close


@dataclass(frozen=True)
class Side:
    """A side of a panel to which another panel can be attached."""

    spec: Spec
    name: str  # start, far, end; for a base front, right, back, left


@dataclass
class Spec:
    """A panel under construction; insets are resolved in ``build``."""

    name: str
    title: str
    role: Role
    height: float
    on: Side | None = None
    length: float = 0.0  # of a base only
    start_inset: float = 0.0
    end_inset: float = 0.0
    start_taper: float = 0.0
    end_taper: float = 0.0
    angle: float = 0.0
    kind: str = "scored"
    covers: tuple[str, ...] = ()
    notch: tuple[float, float] | None = None  # half width, depth
    notch_side: str = "far"
    span: tuple[float, float] | None = None  # part of the side, as distances from its start
    polygon: Floats | None = None  # of a base that is no rectangle
    corners: Floats = field(default_factory=lambda: np.zeros((4, 2)))

    def side(self, name: str) -> Side:
        """The named side, to attach a panel to."""
        return Side(self, name)


_BASE_SIDES = {"front": 0, "right": 1, "back": 2, "left": 3}
_SIDES = {"end": 1, "far": 2, "start": 3}


def arc_points(half: float, depth: float) -> Floats:
    """Half an ellipse from (half, 0) down to (0, -depth) and up to (-half, 0).

    Returns (n, 2) float, flattened within 0.02 mm.
    """
    radius = max(half, depth)
    step = 2 * math.acos(max(0.0, 1 - FLATTEN / radius))
    count = max(8, math.ceil(math.pi / step))
    t = np.linspace(0.0, math.pi, count + 1)
    return np.column_stack([half * np.cos(t), -depth * np.sin(t)])


def half_round(a: Floats, b: Floats, half: float) -> Floats:
    """A half-round notch in the middle of a side from a to b of a panel, (n, 2) along it; mm."""
    way = (b - a) / np.linalg.norm(b - a)
    inward = np.array([-way[1], way[0]])
    arc = arc_points(half, half)[::-1]
    return np.asarray((a + b) / 2 + np.outer(arc[:, 0], way) - np.outer(arc[:, 1], inward))


class NetBuilder:
    """Collects panels and tabs, and resolves them into a :class:`Piece`.

    Parameters
    ----------
    name, title : str
        Key and words for the piece.
    board : Board
    good_side : "outside" or "inside"
        Which side of the finished walls shows the good side of the board.
    """

    def __init__(
        self, name: str, title: str, board: Board, good_side: str = "outside", *, part: str = ""
    ) -> None:
        self.name, self.title, self.board, self.good_side = name, title, board, good_side
        self.part = part
        self.towards = -1.0 if good_side == "outside" else 1.0  # sign of a fold that closes
        self._specs: list[Spec] = []
        self._loops: list[tuple[Spec, Spec, float]] = []
        self.joints: list[Joint] = []

    def base(self, name: str, length: float, width: float, title: str = "") -> Spec:
        """The panel that stays on the table, centred on the origin; mm."""
        spec = Spec(name, title or name, Role.FLOOR, width, length=length)
        self._specs.append(spec)
        return spec

    def polygon(self, name: str, corners: Floats, title: str = "") -> Spec:
        """A base with any corners, (n, 2) in mm, counter-clockwise; its sides are "0", "1", ..."""
        length, height = (float(v) for v in np.ptp(corners, axis=0))
        spec = Spec(name, title or name, Role.FLOOR, height, length=length, polygon=corners)
        self._specs.append(spec)
        return spec

    def wall(
        self,
        name: str,
        on: Side,
        height: float,
        *,
        turn: float = 90.0,
        title: str = "",
        role: Role = Role.WALL,
    ) -> Spec:
        """A panel on a whole side, turned towards the inside by ``turn`` degrees."""
        spec = Spec(name, title or name, role, height, on=on, angle=self.towards * turn)
        self._specs.append(spec)
        return spec

    def tab(
        self,
        name: str,
        on: Side,
        target: Spec,
        target_end: str,
        depth: float,
        *,
        side: str = "inside",
        turn: float = 90.0,
        clear: float = 0.0,
        rim_clear: float = 0.0,
        tip_share: float = TIP_SHARE,
        foot_taper: float = 0.0,
        title: str = "",
    ) -> Spec:
        """A glue tab on the end of a wall, glued to ``target``.

        The wall's end moves by d / sin(turn), d the distance of the two
        plies: short of the corner for an inside tab, beyond it for an outside
        one, whose target is trimmed by half a thickness at ``target_end``.  Where
        the walls turn by less than a right angle, the target reaches over the
        end of the other by d / tan(turn), so that the tab's root lands as well.

        Parameters
        ----------
        on : Side
            ``start`` or ``end`` of a wall, or its ``far`` side, where the seam
            of a tube is.
        depth : float
            mm.
        clear, rim_clear : float
            mm left free at the foot and at the rim of the wall.
        tip_share : float
            How much of its root remains at its tip; 0 makes a triangle where
            the root is short.
        foot_taper : float
            mm, least taper of the end at the wall's foot.
        """
        wall, thickness = on.spec, self.board.thickness
        offset = thickness / math.sin(math.radians(turn))
        setback = offset if side == "inside" else -offset
        if on.name == "start":
            wall.start_inset += setback
            insets = (clear, rim_clear)
        elif on.name == "end":
            wall.end_inset += setback
            insets = (rim_clear, clear)
        else:
            wall.height -= setback
            insets = (clear, rim_clear)
        over = thickness / 2 if side == "outside" else -reach_over(thickness, turn)
        if target_end == "start":
            target.start_inset += over
        else:
            target.end_inset += over
        root = (_length(wall) if on.name == "far" else wall.height) - clear - rim_clear
        taper = min(depth, root * (1 - tip_share) / 2)
        tapers = [taper, taper]
        foot = 1 if on.name == "end" else 0
        tapers[foot] = max(taper, foot_taper)
        tapers[1 - foot] = max(0.0, min(taper, root - tapers[foot] - LEAST_TIP))
        spec = Spec(
            name,
            title or name,
            Role.TAB,
            depth,
            on=on,
            angle=self.towards * turn,
            start_inset=insets[0],
            end_inset=insets[1],
            start_taper=tapers[0],
            end_taper=tapers[1],
        )
        self._specs.append(spec)
        self.joints.append(
            Joint(Kind.GLUE, (self.name, name), (self.name, target.name), title or name, side)
        )
        return spec

    def roll_over(
        self,
        wall: Spec,
        *,
        layers: int,
        covers: tuple[Spec, ...],
        inset: float | tuple[float, float],
        foot: float,
        floor: Spec,
        foot_slope: float = 1.0,
    ) -> float:
        """Fold a second wall down inside ``wall``, held by a foot glued to the floor.

        Two scores lie apart by what the plies between need; the inner wall
        ends one thickness above the floor's middle surface.  A notch in the
        wall goes through: then the rim is two strips, of which one carries
        the inner wall and the other closes a loop.

        Parameters
        ----------
        layers : int
            Plies folded over, the wall itself counted.
        inset : float or two
            mm, how much shorter the inner wall is at either end, or at its
            start and at its end.
        foot : float
            mm, depth of the foot.
        foot_slope : float
            By how much an end of the foot draws in for each mm of its depth,
            so that neighbouring feet clear each other.

        Returns
        -------
        float
            Distance in mm between the middle surfaces of the two walls.
        """
        gap = fold_back_gap(self.board.thickness, layers)
        first, last = inset if isinstance(inset, tuple) else (inset, inset)
        hidden = tuple(spec.name for spec in covers)
        far = wall.side("far")
        rims: list[Spec] = []
        parts = (None,) if wall.notch is None else ("start", "end")
        for number, part in enumerate(parts, start=1):
            suffix = "" if part is None else f".{number}"
            rim = Spec(
                f"rim.{wall.name}{suffix}",
                f"{wall.title}, rim",
                Role.RIM,
                gap,
                on=far,
                start_inset=first,
                end_inset=last,
                angle=self.towards * 90.0,
                covers=hidden,
            )
            if part is not None and wall.notch is not None:
                half = wall.notch[0]
                rim.span = (-math.inf, -half) if part == "start" else (half, math.inf)
            self._specs.append(rim)
            rims.append(rim)
        inner = Spec(
            f"inner.{wall.name}",
            f"{wall.title}, inner wall",
            Role.LINING_WALL,
            wall.height - self.board.thickness,
            on=rims[0].side("far"),
            angle=self.towards * 90.0,
            notch=wall.notch,
        )
        if wall.notch is not None:
            inner.span = (-math.inf, math.inf)  # as wide as both strips together
            self._loops.append((rims[1], inner, inner.angle))
        self._specs.append(inner)
        sole = Spec(
            f"foot.{wall.name}",
            f"{wall.title}, foot",
            Role.FOOT,
            foot,
            on=inner.side("far"),
            start_taper=foot * foot_slope,
            end_taper=foot * foot_slope,
            angle=-self.towards * 90.0,
        )
        self._specs.append(sole)
        self.joints.append(
            Joint(
                Kind.GLUE,
                (self.name, sole.name),
                (self.name, floor.name),
                f"{self.title}, {wall.title} foot",
            )
        )
        return gap

    # ------------------------------------------------------------------ build

    def build(self) -> Piece:
        """Resolve every inset and return the piece."""
        panels: list[Panel] = []
        folds: list[Fold] = []
        for spec in self._specs:
            outline, hinge = _resolve(spec)
            width = float(np.linalg.norm(spec.corners[1] - spec.corners[0]))
            panels.append(Panel(spec.name, spec.title, spec.role, outline, (width, spec.height)))
            if spec.on is None:
                continue
            (x0, y0), (x1, y1) = hinge[0].tolist(), hinge[1].tolist()
            folds.append(
                Fold(
                    spec.on.spec.name,
                    spec.name,
                    (x0, y0),
                    (x1, y1),
                    spec.angle,
                    spec.kind,
                    covers=spec.covers,
                )
            )
        for parent, child, angle in self._loops:
            far = _side_points(parent.side("far"))
            (x0, y0), (x1, y1) = far[1].tolist(), far[0].tolist()
            folds.append(Fold(parent.name, child.name, (x0, y0), (x1, y1), angle, tree=False))
        return Piece(
            self.name,
            self.title,
            self.board,
            tuple(panels),
            tuple(folds),
            self.good_side,
            part=self.part,
        )


def reach_over(distance: float, turn: float) -> float:
    """How far in mm a wall reaches over the end of one that turns away by less than square."""
    return distance / math.tan(math.radians(turn)) if turn < SQUARE else 0.0


def _length(spec: Spec) -> float:
    """Length in mm of a panel's hinge, as it stands so far."""
    if spec.on is None:
        return spec.length
    parent = spec.on
    whole = parent.spec.height
    if parent.spec.polygon is not None:
        a, b = _side_points(parent)
        whole = float(np.linalg.norm(a - b))
    elif parent.spec.on is None:
        whole = parent.spec.length if parent.name in ("front", "back") else parent.spec.height
    elif parent.name == "far":
        whole = _length(parent.spec)
    return whole - spec.start_inset - spec.end_inset


def _side_points(side: Side) -> tuple[Floats, Floats]:
    """Both ends of a side, counter-clockwise along its panel."""
    if side.spec.polygon is not None:
        i, corners = int(side.name), side.spec.polygon
        return corners[i], corners[(i + 1) % len(corners)]
    names = _BASE_SIDES if side.spec.on is None else _SIDES
    i = names[side.name]
    return side.spec.corners[i], side.spec.corners[(i + 1) % 4]


def _full_far(spec: Spec) -> tuple[Floats, Floats]:
    """Far side of the wall below a split rim, moved out by the rim's depth."""
    assert spec.on is not None
    a, b = _side_points(spec.on)
    along = (a - b) / np.linalg.norm(a - b)
    out = np.array([-along[1], along[0]]) * spec.height
    return a - along * spec.end_inset + out, b + along * spec.start_inset + out


def _resolve(spec: Spec) -> tuple[Floats, tuple[Floats, Floats]]:
    """Outline of a panel in the flat piece, and its hinge line."""
    if spec.polygon is not None:
        spec.corners = spec.polygon
        return spec.corners, (spec.corners[0], spec.corners[1])
    if spec.on is None:
        x, y = spec.length / 2, spec.height / 2
        spec.corners = np.array([[-x, -y], [x, -y], [x, y], [-x, y]])
        return spec.corners, (spec.corners[0], spec.corners[1])
    parent = spec.on.spec
    whole = spec.role is Role.LINING_WALL and spec.span is not None
    a, b = _full_far(parent) if whole else _side_points(spec.on)
    length = float(np.linalg.norm(a - b))
    along = (a - b) / length
    out = np.array([-along[1], along[0]])
    u0, u1 = spec.start_inset, length - spec.end_inset
    if spec.span is not None:
        middle = length / 2
        u0, u1 = max(u0, middle + spec.span[0]), min(u1, middle + spec.span[1])
    root0, root1 = b + along * u0, b + along * u1
    far1 = b + along * (u1 - spec.end_taper) + out * spec.height
    far0 = b + along * (u0 + spec.start_taper) + out * spec.height
    spec.corners = np.array([root0, root1, far1, far0])
    points = [root0, root1, far1, far0]
    if spec.notch is not None:
        half, depth = spec.notch
        mid = b + along * ((u0 + u1) / 2)
        arc = arc_points(half, depth)
        if spec.notch_side != "far":
            end = spec.notch_side == "end"
            edge, sign = (root1, 1.0) if end else (root0, -1.0)
            at = edge + out * spec.height / 2
            cut = [at - sign * out * p[0] + sign * along * p[1] for p in arc]
            points = [root0, root1, *cut, far1, far0] if end else [*points, *cut]
        elif spec.role is Role.LINING_WALL:  # its notch lies at the rim, beside the hinge
            arc = -arc
            points = [root0, *(mid + along * p[0] + out * p[1] for p in arc), root1, far1, far0]
        else:
            top = mid + out * spec.height
            points = [root0, root1, far1, *(top + along * p[0] + out * p[1] for p in arc), far0]
    hinge = (root0, root1)
    if whole:  # the hinge that carries it is the first strip of the rim
        c, d = _side_points(spec.on)
        hinge = (d, c)
    return np.array(points), hinge
