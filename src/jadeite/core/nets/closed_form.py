"""A net from the closed form: faces in space, hinged along the edges that they share.

A shape says where its faces stand when everything is closed, which face hangs
on which, and which edges are seamed.  The form lays them out flat, finds every
fold's angle, sets tabs back by the plies, and cuts each tab so that it lands
on its target and nowhere else.

Corners are (n, 3) float in mm, counter-clockwise seen from outside.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace

import numpy as np
import shapely
from numpy.typing import NDArray

from jadeite.core.boards import Board
from jadeite.core.boards.fits import USUAL, Fits
from jadeite.core.errors import FieldError
from jadeite.core.nets.curves import inner_points
from jadeite.core.nets.face import Face
from jadeite.core.nets.model import Curve, Floats, Fold, Joint, Kind, Panel, Piece
from jadeite.core.nets.roles import Role
from jadeite.core.nets.seams import TAB_CLEAR, Seam, Seams
from jadeite.core.nets.sides import SAME, newell, shared_side, turn_between
from jadeite.core.nets.turns import frame_of, rotation, unit

__all__ = ["ClosedForm", "Face"]

FLAT = 1e-9  # degrees; rounding, a crease that turns less lies flat


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

    def __init__(
        self,
        name: str,
        title: str,
        board: Board,
        good_side: str = "outside",
        *,
        part: str = "",
        fits: Fits = USUAL,
    ) -> None:
        self.name, self.title, self.board, self.good_side = name, title, board, good_side
        self.part, self.fits = part, fits
        self.faces: list[Face] = []
        self.joints: list[Joint] = []  # complete once built
        self._plain: list[Joint] = []
        self._before: list[tuple[str, str]] = []
        self._loops: list[Fold] = []
        self._curves: list[Curve] = []
        self._seams = Seams(name, board.thickness, good_side)
        self.keep_clear = self._seams.keep_clear

    # ---------------------------------------------------------------- faces

    def base(self, name: str, corners: Floats, *, title: str = "", role: Role = Role.FLOOR) -> Face:
        """The face that stays on the table; its flat x axis is the space's where it can be.

        ``corners`` are (n, 3) float, mm.
        """
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
        role: Role = Role.WALL,
        kind: str = "scored",
        lean: str = "",
    ) -> Face:
        """A face hinged on another along the edge that both share.

        Raises
        ------
        ValueError
            They share no edge: a fault of the shape.

        ``corners`` are (n, 3) float, mm.
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
        self._seams.add_sides(face, points)

    def turned(self, faces: Sequence[Face], turn: Floats, names: Sequence[str]) -> None:
        """The same faces once more by other names, turned about the base.

        ``turn`` is (4, 4) float in space, and leaves the base where it is.
        """
        base = self.faces[0]
        flat = np.linalg.inv(base.matrix) @ turn @ base.matrix
        back, across, by = np.linalg.inv(flat), flat[:2, :2].T, flat[:2, 3]
        made: dict[int, Face] = {}
        for face, name in zip(faces, names, strict=True):
            copy = replace(
                face,
                name=name,
                matrix=turn @ face.matrix @ back,
                outline=face.outline @ across + by,
                parent=made.get(id(face.parent), face.parent),
                insets=dict(face.insets),
                overs=dict(face.overs),
                openings=[replace(o, points=o.points @ across + by) for o in face.openings],
                bites={side: points @ across + by for side, points in face.bites.items()},
            )
            if face.hinge is not None:
                copy.hinge = (face.hinge[0] @ across + by, face.hinge[1] @ across + by)
            made[id(face)] = copy
            self._add(copy, copy.space())

    def ghost(self, name: str, corners: Floats, twin: Face) -> Face:
        """A face of the next copy of this piece, on which a tab of this one lands.

        It is not cut; what the tab asks of it is asked of ``twin``, the face
        of this piece that it is a copy of.

        ``corners`` are (n, 3) float, mm.
        """
        points = self._ordered(corners)
        matrix = frame_of(points.mean(axis=0), newell(points))
        face = Face(name, name, twin.role, matrix, np.zeros((0, 2)))
        face.outline = face.flat(points)
        self._seams.add_sides(face, points)
        self._seams.ghosts.append((face, twin))
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
        role: Role = Role.FLAP,
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
        """A fold between two faces that both hang on others: it closes a loop.

        Raises
        ------
        ValueError
            The faces share no edge.
        """
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

    # --------------------------------------------------------------- curves

    def curved_score(self, kind: str, points: Floats) -> None:
        """The scores between these corners, (n, 2) in the flat piece, are one: see ``Curve``."""
        self._curves.append(Curve(kind, np.asarray(points, float)))

    def curved_edge(
        self,
        kind: str,
        points: Floats,
        faces: Sequence[Face],
        free: Callable[[Floats], NDArray[np.bool_]] | None = None,
    ) -> None:
        """Free edges of faces, from corner to corner, are cut along one curve.

        ``points`` is (n, 2) in the flat piece; face i has the edge from corner i
        to the next, along which it has no tab.  ``free`` says of points in space,
        (m, 3), whether the curve may pass there, (m,); else the edge stays straight.

        Raises
        ------
        ValueError
            A face has no such edge: a fault of the shape.
        """
        inner = inner_points(Curve(kind, np.asarray(points, float)))
        bent = [i for i in range(len(faces)) if len(inner[i])]
        if free is not None and bent:
            ways = free(np.concatenate([faces[i].space(inner[i]) for i in bent]))
            ends = np.cumsum([len(inner[i]) for i in bent])[:-1]
            bent = [i for i, way in zip(bent, np.split(ways, ends), strict=True) if way.all()]
        for i in bent:
            number, turned = _side_between(faces[i], points[i], points[i + 1])
            faces[i].bites[number] = inner[i][::-1] if turned else inner[i]

    # ---------------------------------------------------------------- seams

    def tab(
        self,
        name: str,
        on: Face,
        target: Face,
        *,
        depth: float | None = None,
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

        Raises
        ------
        ValueError
            The faces share no edge.
        """
        mine, its = on.space(), target.space()
        number, over = shared_side(mine, its), shared_side(its, mine)
        if number is None or over is None:
            raise ValueError(f"{self.name}: {on.name} and {target.name} share no edge")
        a, b = mine[number], mine[(number + 1) % len(mine)]
        angle = turn_between(on.normal, target.normal, unit(a - b))  # the tab lies on its left
        depth = self.fits.tab_depth if depth is None else depth
        shell = Face(name, title or name, Role.TAB, np.eye(4), np.zeros((0, 2)), on, None, angle)
        self._seams.wanted.append(Seam(shell, on, target, number, over, depth, side, ease, needed))

    def before(self, first: Face, then: Face) -> None:
        """One panel is folded before another, which then covers it."""
        self._before.append((first.name, then.name))

    def joint(self, kind: Kind, tab: Face, target: Face, title: str, side: str = "inside") -> None:
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
        """The piece; its flat plane is that of its base.

        Raises
        ------
        FieldError
            A tab that is needed finds no room.
        """
        panels, folds = [], []
        tabs, joints = self._seams.settle(self.faces)
        self.joints = [*self._plain, *joints]
        for face in (*self.faces, *tabs):
            trimmed = face.trimmed()
            outline, size = face.cut(trimmed), _size(trimmed)
            if not shapely.Polygon(outline).is_valid:  # its tabs' plies have eaten it up
                raise FieldError(
                    "inside",
                    f"the board is too thick for so small a {face.title}",
                    "Use a thinner board, or a larger inside.",
                )
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
            tuple(self._curves),
            self.part,
        )


def _side_between(face: Face, a: Floats, b: Floats) -> tuple[int, bool]:
    """Number of a face's side between two corners, and whether it runs from b to a."""
    ring = face.outline
    for i in range(len(ring)):
        ends = ring[i], ring[(i + 1) % len(ring)]
        for turned, (p, q) in ((False, ends), (True, ends[::-1])):
            if max(np.abs(p - a).max(), np.abs(q - b).max()) < SAME:
                return i, turned
    raise ValueError(f"{face.name} has no edge there")


def _pair(point: Floats) -> tuple[float, float]:
    return float(point[0]), float(point[1])


def _size(outline: Floats) -> tuple[float, float]:
    """Along the hinge and away from it, in mm."""
    way = unit(outline[1] - outline[0])
    across = np.array([-way[1], way[0]])
    return float(np.linalg.norm(outline[1] - outline[0])), float(np.ptp(outline @ across))
