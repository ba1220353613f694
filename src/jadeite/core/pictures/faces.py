"""What of a piece is painted: its panels as they lie in the net, kept with it.

A pose of the lift then only carries corners and normals into space, all at once.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from jadeite.core.folding import Body, Facets, transform
from jadeite.core.nets.kept import kept
from jadeite.core.nets.mesh import mesh_of
from jadeite.core.nets.model import Design, Floats, Kind, Piece, Printed, Trace
from jadeite.core.nets.roles import Role
from jadeite.core.nets.seams import SMALL_TURN
from jadeite.core.nets.ties import Strip
from jadeite.core.nets.veins import veins_by_panel
from jadeite.core.pictures.flat import line_kind, wound
from jadeite.core.pictures.hatch import hatch_lines
from jadeite.core.pictures.scene_style import CUT, KINDS, NONE, SOFT
from jadeite.core.solid import Form

__all__ = [
    "Face",
    "Sheet",
    "Soft",
    "numbered",
    "of_body",
    "of_piece",
    "of_ribbon",
    "under_what_it_holds",
]

RIBBON = "#9A5A84"  # plum; design rule, no board and no line has it
UNDER = 0.06  # mm; from memory, less than any board, so that it does not show
CAPS = {Form.CYLINDER: 2, Form.BALL: 0}  # faces of a thing that have edges; all of any other
Ints = NDArray[np.intp]


@dataclass(frozen=True, eq=False)
class Sheet:
    """A panel in its flat piece, for painting; lines are (n, 2) in mm."""

    piece: str
    panel: str
    thickness: float
    role: Role
    hatch: Floats | None  # (2 n, 2): ends of lines, in pairs
    openings: tuple[tuple[Floats, str], ...]  # lines and their kind
    veins: tuple[tuple[Floats, Trace], ...]  # lines, and what they leave
    prints: tuple[Printed, ...]
    shines: float  # translucency of a board that shines when a light is behind it
    tone: str = ""  # #rrggbb of what is no board; such a thing cannot be chosen

    @property
    def frame(self) -> bool:
        """Whether its openings show what lies beneath."""
        return self.role.traits.frame


class Face(NamedTuple):
    """A panel in space, or a thing (``sheet`` is None): what is painted as one."""

    sheet: Sheet | None
    matrix: Floats  # (4, 4)
    radius: float = 0.0  # of a ball, mm
    fixed: bool = False  # a thing that belongs to what is made

    def placed(self, points: Floats) -> Floats:
        """Lines of the panel, (n, 2) in mm, in space, (n, 3)."""
        return transform(self.matrix, points)


class Soft(NamedTuple):
    """Bends that show as a line only where one of their panels turns its back.

    Their edges are of the kinds SOFT, SOFT + 1, ...; ``normals`` (s, 2, 3) are of
    the panels on either side.
    """

    normals: Floats

    def seen(self, towards: Floats) -> Ints:
        """What each kind of edge is for a viewer in direction ``towards``, (3,): (SOFT + s,)."""
        known = np.arange(SOFT)
        facing = self.normals @ towards
        turns = facing[:, 0] * facing[:, 1] < 0
        return np.concatenate([known, np.where(turns, CUT, NONE)])


@dataclass(frozen=True, eq=False)
class _Net:
    """The panels of a piece, and their corners in the flat piece, (m, 2) mm, panel by panel."""

    sheets: tuple[Sheet, ...]
    corners: Floats
    counts: Ints
    flat_kinds: Ints  # of edges, while all is flat
    kinds: Ints  # the same with those of soft bends
    soft: Ints  # (s, 2) numbers of the panels on either side of each soft bend


@kept
def _net(piece: Piece) -> _Net:
    mesh = mesh_of(piece)
    # of each fold, and last of what is cut
    flat, bent = [CUT] * (len(piece.folds) + 1), [CUT] * (len(piece.folds) + 1)
    soft: list[tuple[int, int]] = []
    for number in np.unique(mesh.folds[mesh.folds >= 0]).tolist():
        fold = piece.folds[number]
        flat[number] = bent[number] = NONE if wound(piece, fold) else KINDS[line_kind(fold)]
        sides = piece.index[fold.parent], piece.index[fold.child]
        if piece.panels[sides[1]].role.traits.leans:  # a bent petal is smooth
            bent[number] = SOFT + len(soft)
            soft.append(sides)
    veins = veins_by_panel(piece)
    sheets = tuple(
        Sheet(
            piece.name,
            panel.name,
            piece.board.thickness,
            panel.role,
            hatch_lines(panel.outline).reshape(-1, 2) if panel.role.traits.glue else None,
            tuple((o.points, o.kind) for o in panel.openings),
            tuple((v.points, v.trace) for v in veins.get(panel.name, ())),
            tuple(printed for printed in piece.prints if printed.panel == panel.name),
            piece.board.translucency * piece.board.lets_light_through,
        )
        for panel in piece.panels
    )
    return _Net(
        sheets,
        mesh.vertices[mesh.corners],
        mesh.counts,
        np.array(flat)[mesh.folds],
        np.array(bent)[mesh.folds],
        np.array(soft, np.intp).reshape(-1, 2),
    )


@kept
def under_what_it_holds(design: Design) -> Mapping[str, Floats]:
    """How far each panel is drawn along its normal, by piece, (panels,) mm.

    A tab has no thickness here, and lies in what it is glued to: it is drawn on its own side
    of that.  So is a tab in one plane with the panel that it hangs on.
    """
    side = {j.tab: j.side for j in design.joints if j.kind is Kind.GLUE}
    out = {}
    for piece in design.pieces:
        inwards = -UNDER if piece.good_side == "outside" else UNDER
        lapped = {f.child for f in piece.folds if abs(f.angle) < SMALL_TURN}
        shift = np.zeros(len(piece.panels))
        for number, panel in enumerate(piece.panels):
            glued = side.get((piece.name, panel.name))
            if glued is not None and panel.role.traits.glue:
                shift[number] = inwards if glued == "inside" else -inwards
            elif panel.role is Role.TAB and panel.name in lapped:
                shift[number] = inwards
        out[piece.name] = shift
    return out


def of_piece(
    piece: Piece, matrices: Mapping[str, Floats], under: Floats, flat: bool, first_soft: int
) -> tuple[list[Face], Facets, Floats]:
    """The faces of a piece in a pose.

    ``matrices`` are (4, 4) by panel, ``under`` (panels,) as of ``under_what_it_holds``; the
    first of its soft bends is numbered ``first_soft``.

    Returns
    -------
    faces, facets, soft
        ``soft`` (s, 2, 3) are the normals on either side of each soft bend.
    """
    net = _net(piece)
    places = np.array([matrices[panel.name] for panel in piece.panels])
    normals = places[:, :3, 2]
    at = np.repeat(places[:, :3], net.counts, axis=0)
    points = (at[:, :, :2] @ net.corners[:, :, None])[:, :, 0] + at[:, :, 3]
    if under.any():
        points = points + np.repeat(normals * under[:, None], net.counts, axis=0)
    kinds = net.flat_kinds if flat else net.kinds + first_soft * (net.kinds >= SOFT)
    ones = np.ones(len(net.sheets), np.intp)
    facets = Facets(points, kinds, net.counts, normals, ones, np.arange(len(net.sheets)))
    faces = [Face(sheet, place) for sheet, place in zip(net.sheets, places, strict=True)]
    return faces, facets, normals[net.soft] if not flat else np.zeros((0, 2, 3))


def of_ribbon(strip: Strip, matrix: Floats) -> tuple[list[Face], Facets]:
    """A stretch of ribbon, moved by a (4, 4) matrix: two triangles from each point to the next."""
    sheet = Sheet("", "", 0.0, Role.PETAL, None, (), (), (), 0.0, RIBBON)
    polygons, kinds = [], []
    for (a, b), (c, d) in pairwise(zip(*(transform(matrix, e) for e in strip.edges), strict=True)):
        polygons += [np.array([a, c, d]), np.array([a, d, b])]
        kinds += [[CUT, NONE, NONE], [NONE, CUT, NONE]]
    kinds[0][2], kinds[-1][1] = NONE, NONE
    normals = np.array([np.cross(b - a, c - a) for a, b, c in polygons])
    normals /= np.linalg.norm(normals, axis=1, keepdims=True)
    items = [([p], [k], n[None]) for p, k, n in zip(polygons, kinds, normals, strict=True)]
    places = [_facing(normal) for normal in normals]
    return [Face(sheet, place) for place in places], Facets.of(items)


def _facing(normal: Floats) -> Floats:
    """A (4, 4) matrix whose z axis is a unit normal, (3,)."""
    out = np.eye(4)
    out[:3, 2] = normal
    return out


def of_body(body: Body, matrix: Floats) -> tuple[Face, Facets]:
    """A thing, moved by a (4, 4) matrix."""
    polygons = [transform(matrix, points) for points in body.faces]
    caps = CAPS.get(body.form, len(polygons))
    kinds = [[CUT if i < caps else NONE] * len(points) for i, points in enumerate(polygons)]
    radius = body.size[0] / 2 if body.form is Form.BALL else 0.0
    normals = body.normals @ matrix[:3, :3].T
    return Face(None, matrix, radius, body.fixed), Facets.of([(polygons, kinds, normals)])


def numbered(parts: Sequence[Facets]) -> Facets:
    """The items of several in one, tagged in turn."""
    if not parts:
        return Facets.of([])
    out = Facets.together(parts)
    return Facets(out.points, out.kinds, out.counts, out.normals, out.polygons, np.arange(len(out)))
