"""A net from the closed form: faces in space, hinged along the edges that they share.

A shape says where its faces stand when everything is closed, which face hangs
on which, and which edges are seamed.  The form lays them out flat, finds every
fold's angle, sets tabs back by the plies, and cuts each tab so that it lands
on its target and nowhere else.

Corners are (n, 3) float in mm, counter-clockwise seen from outside.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np
import shapely
from shapely.geometry import Polygon

from jadeite.core.boards import Board
from jadeite.core.boards.fit_rules import TAB_DEPTH
from jadeite.core.errors import FieldError
from jadeite.core.nets.model import Floats, Fold, Joint, Opening, Panel, Piece
from jadeite.core.nets.sides import SAME, newell, shared_side, side_key, turn_between
from jadeite.core.nets.tab_shape import MIN_ROOT, strip_along, tab_outline
from jadeite.core.nets.turns import frame_of, rotation, unit

__all__ = ["SMALL_TURN", "ClosedForm", "Face"]

SMALL_TURN = 30.0  # degrees; design rule, under it a tab may lie in its target's own surface
TAB_CLEAR = 0.5  # mm; from memory, between a tab and a cut edge or another tab
FLAT = 1e-9  # degrees; rounding, a crease that turns less lies flat


@dataclass(eq=False)
class Face:
    """A face of the closed form; ``matrix`` carries its flat coordinates into space."""

    name: str
    title: str
    role: str
    matrix: Floats
    outline: Floats  # (n, 2), counter-clockwise in the flat piece
    parent: Face | None = None
    hinge: tuple[Floats, Floats] | None = None  # child on its left
    angle: float = 0.0
    kind: str = "scored"
    insets: dict[int, float] = field(default_factory=dict)  # side number to mm
    overs: dict[int, float] = field(default_factory=dict)  # side number to mm that it reaches over
    openings: list[Opening] = field(default_factory=list)
    bites: dict[int, Floats] = field(default_factory=dict)  # side number to (n, 2) points
    covers: tuple[str, ...] = ()
    lean: str = ""

    @property
    def normal(self) -> Floats:
        """Unit normal of the good side in space."""
        return np.asarray(self.matrix[:3, 2])

    def space(self, points: Floats | None = None) -> Floats:
        """Corners, or other flat points (n, 2), in space."""
        flat = self.outline if points is None else np.asarray(points, float)
        return np.asarray(flat @ self.matrix[:3, :2].T + self.matrix[:3, 3])

    def flat(self, points: Floats) -> Floats:
        """Points in space, (n, 3), laid into this face's flat plane: (n, 2)."""
        return np.asarray((points - self.matrix[:3, 3]) @ self.matrix[:3, :2])

    def side_towards(self, direction: Sequence[float]) -> int:
        """Number of the side whose middle lies farthest in a direction of space."""
        points = self.space()
        middles = (points + np.roll(points, -1, axis=0)) / 2
        return int(np.argmax(middles @ np.asarray(direction, float)))

    def trimmed(self) -> Floats:
        """Its outline with sides moved in by their insets, (n, 2)."""
        if not any(self.insets.values()):
            return self.outline
        a = self.outline
        way = np.roll(a, -1, axis=0) - a
        way = way / np.hypot(way[:, 0], way[:, 1])[:, None]
        inward = np.column_stack([-way[:, 1], way[:, 0]])
        amount = np.array([self.insets.get(i, 0.0) for i in range(len(a))])
        base = a + inward * amount[:, None]
        out = []
        for i in range(len(a)):
            j = i - 1  # corner i lies between side j and side i
            cross = way[j, 0] * way[i, 1] - way[j, 1] * way[i, 0]
            if abs(cross) < 1e-9:
                out.append(base[i])
                continue
            gap = base[i] - base[j]
            along = (gap[0] * way[i, 1] - gap[1] * way[i, 0]) / cross
            out.append(base[j] + along * way[j])
        return np.array(out)

    def cut(self) -> Floats:
        """Its outline as it is cut: trimmed, and reaching over the ends of other faces."""
        corners = self.trimmed()
        out = []
        for i in range(len(corners)):
            a, b = corners[i], corners[(i + 1) % len(corners)]
            out.append(a)
            reach, length = self.overs.get(i, 0.0), float(np.hypot(*(b - a)))
            if i in self.bites:
                out += list(self.bites[i])
            elif 0 < 4 * reach < length - SAME:
                way = (b - a) / length * reach
                away = np.array([way[1], -way[0]])
                # it keeps clear of the corner, where other faces meet
                out += [a + way, a + 2 * way + away, b - 2 * way + away, b - way]
        return np.array(out)


@dataclass(frozen=True, eq=False)
class _Seam:
    """A tab that is asked for: numbers of the carrier's side and of the target's."""

    shell: Face
    on: Face
    target: Face
    number: int
    over: int
    depth: float
    side: str
    ease: float
    needed: bool


class ClosedForm:
    """Collects faces and seams of one piece and lays them out flat.

    Parameters
    ----------
    name, title : str
        Key and words for the piece.
    board : Board
    good_side : "outside" or "inside"
        Where the good side shows in the closed form.
    """

    def __init__(self, name: str, title: str, board: Board, good_side: str = "outside") -> None:
        self.name, self.title, self.board, self.good_side = name, title, board, good_side
        self.faces: list[Face] = []
        self.joints: list[Joint] = []  # complete once built
        self._plain: list[Joint] = []
        self._before: list[tuple[str, str]] = []
        self._loops: list[Fold] = []
        self._sides: dict[tuple[int, ...], Face] = {}
        self._seams: list[_Seam] = []
        self._ghosts: list[tuple[Face, Face]] = []
        self._shut: dict[str, list[Polygon]] = {}

    # ---------------------------------------------------------------- faces

    def base(self, name: str, corners: Floats, *, title: str = "", role: str = "floor") -> Face:
        """The face that stays on the table; its flat x axis is the space's where it can be."""
        points = self._ordered(corners)
        normal = newell(points)
        matrix = frame_of(points.mean(axis=0), normal)
        face = Face(name, title or name, role, matrix, np.zeros((0, 2)))
        face.outline = face.flat(points)
        self._add(face, points)
        return face

    def face(
        self,
        name: str,
        corners: Floats,
        on: Face,
        *,
        title: str = "",
        role: str = "wall",
        kind: str = "scored",
        lean: str = "",
    ) -> Face:
        """A face hinged on another along the edge that both share.

        Raises
        ------
        ValueError
            They share no edge: a fault of the shape.
        """
        points = self._ordered(corners)
        side = shared_side(points, on.space())
        if side is None:
            raise ValueError(f"{self.name}: {name} and {on.name} share no edge")
        points = np.roll(points, -side, axis=0)
        a, b = on.flat(points[:2])
        angle = turn_between(on.normal, newell(points), unit(points[1] - points[0]))
        angle = 0.0 if abs(angle) < FLAT else angle
        matrix = on.matrix @ rotation(a, b, angle)
        face = Face(name, title or name, role, matrix, np.zeros((0, 2)), on, (a, b), angle, kind)
        face.lean = lean
        face.outline = face.flat(points)
        self._add(face, points)
        return face

    def _add(self, face: Face, points: Floats) -> None:
        self.faces.append(face)
        for i in range(len(points)):
            self._sides[side_key(points[i], points[(i + 1) % len(points)])] = face

    def ghost(self, name: str, corners: Floats, twin: Face) -> Face:
        """A face of the next copy of this piece, on which a tab of this one lands.

        It is not cut; what the tab asks of it is asked of ``twin``, the face
        of this piece that it is a copy of.
        """
        points = self._ordered(corners)
        matrix = frame_of(points.mean(axis=0), newell(points))
        face = Face(name, name, twin.role, matrix, np.zeros((0, 2)))
        face.outline = face.flat(points)
        for i in range(len(points)):
            self._sides[side_key(points[i], points[(i + 1) % len(points)])] = face
        self._ghosts.append((face, twin))
        return face

    def flap(
        self,
        name: str,
        on: Face,
        side: int,
        outline: Floats,
        turn: float,
        *,
        title: str = "",
        role: str = "flap",
        kind: str = "scored",
        start: float = 0.0,
    ) -> Face:
        """A free panel on a side, turned towards the inside by ``turn`` degrees.

        ``outline`` is (n, 2) in mm, counter-clockwise, along the side (from the
        left, looking out) and away from it; its first two corners lie on the hinge.
        """
        corners = on.trimmed()
        right, left = corners[side], corners[(side + 1) % len(corners)]
        along = unit(right - left)
        out = np.array([-along[1], along[0]])
        flat = left + np.outer(outline[:, 0] + start, along) + np.outer(outline[:, 1], out)
        angle = -turn if self.good_side == "outside" else turn
        matrix = on.matrix @ rotation(flat[0], flat[1], angle)
        hinge = (flat[0], flat[1])
        face = Face(name, title or name, role, matrix, flat, on, hinge, angle, kind)
        self.faces.append(face)
        return face

    def closing_fold(self, one: Face, other: Face, kind: str = "scored", lean: str = "") -> None:
        """A fold between two faces that both hang on others: it closes a loop."""
        points = other.space()
        side = shared_side(points, one.space())
        if side is None:
            raise ValueError(f"{self.name}: {one.name} and {other.name} share no edge")
        a, b = points[side], points[(side + 1) % len(points)]
        angle = turn_between(one.normal, other.normal, unit(b - a))
        angle = 0.0 if abs(angle) < FLAT else angle
        flat = one.flat(np.array([a, b]))
        self._loops.append(
            Fold(one.name, other.name, _pair(flat[0]), _pair(flat[1]), angle, kind, False,
                 lean=lean)
        )  # fmt: skip

    # ---------------------------------------------------------------- seams

    def tab(
        self,
        name: str,
        on: Face,
        target: Face,
        *,
        depth: float = TAB_DEPTH,
        side: str = "inside",
        title: str = "",
        ease: float = TAB_CLEAR,
        needed: bool = True,
    ) -> None:
        """A glue tab on the edge that two faces share, glued to ``target``.

        The carrier's edge moves in by d / sin(turn), d the distance of both
        plies; a turn under 30 degrees lets the tab lie in the target's own
        surface.  Where the turn is less than square, the target reaches over the
        carrier's end by d / tan(turn).  The tab is cut to land on its target:
        clear of the folds around it by t tan(turn / 2), of cut edges and of
        other tabs.  Where there is no room for a tab that is not ``needed``,
        none is made; for one that is, ``build`` raises FieldError.
        """
        mine, its = on.space(), target.space()
        number, over = shared_side(mine, its), shared_side(its, mine)
        if number is None or over is None:
            raise ValueError(f"{self.name}: {on.name} and {target.name} share no edge")
        a, b = mine[number], mine[(number + 1) % len(mine)]
        angle = turn_between(on.normal, target.normal, unit(a - b))  # the tab lies on its left
        shell = Face(name, title or name, "tab", np.eye(4), np.zeros((0, 2)), on, None, angle)
        self._seams.append(_Seam(shell, on, target, number, over, depth, side, ease, needed))

    def _settle(self) -> tuple[list[Face], list[Joint]]:
        """Cut all tabs to their targets; what has no room is left out, and the rest done again."""
        seams = list(self._seams)
        kept = {id(face): (dict(face.insets), dict(face.overs)) for face in self.faces}
        while True:
            for face in self.faces:
                face.insets, face.overs = (dict(own) for own in kept[id(face)])
            for ghost, _ in self._ghosts:
                ghost.insets, ghost.overs = {}, {}
            for seam in seams:
                self._set_back(seam)
            for ghost, twin in self._ghosts:
                self._as_asked(ghost, twin)
            landed: dict[str, list[Polygon]] = {}
            bad = next((seam for seam in seams if not self._cut_tab(seam, landed)), None)
            if bad is None:
                break
            if bad.needed:
                raise FieldError(
                    "inside",
                    f"there is no room for the tab of {bad.shell.title}",
                    "Use a larger inside, or a thinner board.",
                )
            seams.remove(bad)
        joints = [
            Joint(
                "glue",
                (self.name, seam.shell.name),
                (self.name, seam.target.name),
                seam.shell.title,
                seam.side,
            )
            for seam in seams
        ]
        return [seam.shell for seam in seams], joints

    def _as_asked(self, ghost: Face, twin: Face) -> None:
        """What a tab asks of a copy holds for the face itself; sides count from the same corner."""
        for own, asked in ((twin.insets, ghost.insets), (twin.overs, ghost.overs)):
            for number, value in asked.items():
                own[number] = own.get(number, 0.0) + value
        for number, value in twin.insets.items():
            ghost.insets[number] = value

    def _offset(self, seam: _Seam) -> float:
        """How far the carrier's edge lies from the corner, in mm."""
        turn = abs(seam.shell.angle)
        return 0.0 if turn < SMALL_TURN else self.board.thickness / math.sin(math.radians(turn))

    def _set_back(self, seam: _Seam) -> None:
        t, turn, offset = self.board.thickness, abs(seam.shell.angle), self._offset(seam)
        inside = seam.side == "inside"
        carrier, target = seam.on.insets, seam.target.insets
        carrier[seam.number] = carrier.get(seam.number, 0.0) + (offset if inside else -offset)
        if not offset:
            return
        if not inside:
            target[seam.over] = target.get(seam.over, 0.0) + t / 2
        elif turn < 90:
            seam.target.overs[seam.over] = t / math.tan(math.radians(turn))

    def _cut_tab(self, seam: _Seam, landed: dict[str, list[Polygon]]) -> bool:
        shell, on = seam.shell, seam.on
        corners = on.trimmed()
        right, left = corners[seam.number], corners[(seam.number + 1) % len(corners)]
        if np.hypot(*(right - left)) < MIN_ROOT:
            return False
        shell.matrix = on.matrix @ rotation(left, right, shell.angle)
        key = f"{seam.target.name}/{seam.side}"
        taken = landed.setdefault(key, [])
        thick = self.board.thickness if self._offset(seam) else 0.0
        room = self._room(seam, taken, thick)
        outline = tab_outline(left, right, seam.depth, room)
        if outline is None:
            return False
        shell.outline, shell.hinge = outline, (outline[0], outline[1])
        taken.append(Polygon(seam.target.flat(shell.space())))
        return True

    def keep_clear(self, face: Face, area: Floats, side: str = "inside") -> None:
        """Keep tabs off a part of a face, (n, 2) in its flat plane."""
        self._shut.setdefault(f"{face.name}/{side}", []).append(Polygon(area))

    def _room(self, seam: _Seam, taken: list[Polygon], t: float) -> Polygon:
        """Where a tab may lie on its target, in the flat plane of the tab."""
        target, ease, inside = seam.target, seam.ease, seam.side == "inside"
        corners, cut = target.space(), target.trimmed()
        # an outside tab's root lies over the end of its target, which is trimmed by t/2
        region = Polygon(target.cut() if inside else target.outline).buffer(0)
        for i in range(len(cut)):
            a, b = corners[i], corners[(i + 1) % len(corners)]
            margin = ease
            other = self._sides.get(side_key(b, a))
            if other is seam.on or i == seam.over:
                continue
            flat_a, flat_b = cut[i], cut[(i + 1) % len(cut)]
            if other is not None:
                turn = abs(turn_between(target.normal, other.normal, unit(b - a)))
                if self._closes(target, other) == inside and turn > 0:
                    margin = max(ease, t * math.tan(math.radians(min(turn, 170.0) / 2)))
                    flat_a, flat_b = target.outline[i], target.outline[(i + 1) % len(cut)]
                    margin = max(margin, target.insets.get(i, 0.0) + ease)
            region = region.difference(strip_along(flat_a, flat_b, margin))
        for area in taken:
            region = region.difference(area.buffer(ease, join_style="mitre"))
        for opening in target.openings:
            region = region.difference(Polygon(opening.points).buffer(1.0 + ease))
        for shut in self._shut.get(f"{target.name}/{seam.side}", []):
            region = region.difference(shut)
        if isinstance(region, shapely.MultiPolygon):
            region = max(region.geoms, key=lambda g: float(g.area))
        if region.is_empty:
            return region
        rings = [
            seam.shell.flat(target.space(np.array(ring.coords)[:-1]))
            for ring in (region.exterior, *region.interiors)
        ]
        return Polygon(rings[0], rings[1:])

    def _closes(self, one: Face, other: Face) -> bool:
        """Whether the other face leans to the inside of this one."""
        inside = -one.normal if self.good_side == "outside" else one.normal
        middle = other.space().mean(axis=0)
        return bool((middle - one.space()[0]) @ inside > -SAME)

    def before(self, first: Face, then: Face) -> None:
        """One panel is folded before another, which then covers it."""
        self._before.append((first.name, then.name))

    def joint(self, kind: str, tab: Face, target: Face, title: str, side: str = "inside") -> None:
        """A meeting of two faces that needs no tab of its own."""
        self._plain.append(
            Joint(kind, (self.name, tab.name), (self.name, target.name), title, side)
        )

    # ---------------------------------------------------------------- build

    def _ordered(self, corners: Floats) -> Floats:
        points = np.asarray(corners, float)
        return points if self.good_side == "outside" else points[::-1]

    @property
    def placement(self) -> Floats:
        """Where the base stands in the shared space."""
        return self.faces[0].matrix

    def build(self) -> Piece:
        """The piece; its flat plane is that of its base."""
        panels, folds = [], []
        tabs, joints = self._settle()
        self.joints = [*self._plain, *joints]
        for face in (*self.faces, *tabs):
            outline, size = face.cut(), _size(face.trimmed())
            panels.append(
                Panel(face.name, face.title, face.role, outline, size, tuple(face.openings))
            )
            if face.parent is None or face.hinge is None:
                continue
            folds.append(
                Fold(
                    face.parent.name,
                    face.name,
                    _pair(face.hinge[0]),
                    _pair(face.hinge[1]),
                    face.angle,
                    face.kind,
                    covers=face.covers,
                    lean=face.lean,
                )
            )
        folds += self._loops
        return Piece(
            self.name,
            self.title,
            self.board,
            tuple(panels),
            tuple(folds),
            self.good_side,
            tuple(self._before),
        )


def _pair(point: Floats) -> tuple[float, float]:
    return float(point[0]), float(point[1])


def _size(outline: Floats) -> tuple[float, float]:
    """Along the hinge and away from it, in mm."""
    way = unit(outline[1] - outline[0])
    across = np.array([-way[1], way[0]])
    return float(np.linalg.norm(outline[1] - outline[0])), float(np.ptp(outline @ across))
