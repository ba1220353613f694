"""The table: pieces in space, at any moment of the lift, from any side.

A :class:`Scene` holds the faces of one pose in their visible order; the order
is kept while the view turns.  Drawing walks it and paints from back to front.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass

import numpy as np
import shapely
from shapely.geometry import Polygon

from jadeite.core.folding import Body, OrderItem, OrderTree, order_steps, transform
from jadeite.core.nets.arrivals import When
from jadeite.core.nets.mesh import mesh_of
from jadeite.core.nets.model import OPEN, Design, Floats, Piece
from jadeite.core.nets.roles import Role
from jadeite.core.nets.seams import SMALL_TURN
from jadeite.core.nets.veins import veins_by_panel
from jadeite.core.pictures.camera import Camera, fitted
from jadeite.core.pictures.flat import line_kind, line_strokes
from jadeite.core.pictures.hatch import hatch_lines
from jadeite.core.pictures.marks import Marks
from jadeite.core.pictures.palette import mix, shade
from jadeite.core.pictures.primitives import Label, Path, Picture, Stroke
from jadeite.core.pictures.scene_style import (
    CUT,
    KINDS,
    LIGHT_FROM,
    NONE,
    SOFT,
    SceneStyle,
    runs_by_kind,
    strokes_of,
)
from jadeite.core.pictures.things import draw_ball, draw_body, draw_ghost
from jadeite.core.pictures.veins import draw_veins
from jadeite.core.solid import Form
from jadeite.core.steps import Steps, finished

__all__ = ["DISC", "DISC_AWAY", "Scene"]

AMBIENT, DIFFUSE = 0.70, 0.40
UNDER = 0.06  # mm; from memory, less than any board, so that it does not show
BEHIND = 0.45  # from memory, how dark it is behind an opening
REVERSE = 0.84  # from memory, the reverse is darker
EDGE_SHOWS = 0.6  # picture units of thickness from which the board's edge is drawn
# what is seen through a window: dim board behind it, a lining, and either by lamp light
LINED, LIT, LIT_LINED = "#F8F2E0", "#F2CF7E", "#FFE9A9"
DISC, DISC_THICK = 25.0, 1.8  # mm; from memory, as large as a coin
DISC_AWAY = 1.1  # of it before the pieces; from memory
POINTED = 0.95  # from memory; outlines of what is pointed out must be seen on any board


class _Stack:
    """Corners of all faces in one array, so that they are projected at once."""

    def __init__(self, order: OrderTree | None) -> None:
        faces = [item for item in _items(order) if not item.solid]
        self.points = np.concatenate([f.polygons[0] for f in faces]) if faces else np.zeros((0, 3))
        self.spans: dict[int, slice] = {}
        start = 0
        for item in faces:
            self.spans[id(item)] = slice(start, start + len(item.polygons[0]))
            start += len(item.polygons[0])

    def projected(self, camera: Camera) -> Floats:
        """All corners in the picture, (n, 2)."""
        return camera.project(self.points)


def _items(order: OrderTree | None) -> Iterator[OrderItem]:
    """Every item of an order, in no order."""
    rest = [order]
    while rest:
        tree = rest.pop()
        if tree is not None:
            yield from tree.here
            rest += [tree.front, tree.back]


@dataclass(frozen=True, eq=False)
class _Face:
    """A panel or a body in space, for painting."""

    piece: str
    panel: str
    thickness: float
    role: Role | None  # None for a thing
    hatch: Floats | None  # (n, 2, 3) line ends
    radius: float = 0.0  # of a ball, mm
    openings: tuple[tuple[Floats, str], ...] = ()  # lines in space, and their kind
    veins: tuple[tuple[Floats, bool], ...] = ()  # lines in space, and whether they are cut
    fixed: bool = False  # a thing that belongs to what is made
    shines: float = 0.0  # translucency of a board that shines when a light is behind it

    @property
    def frame(self) -> bool:
        """Whether its openings show what lies beneath."""
        return self.role is not None and self.role.traits.frame


class Scene:
    """Faces of one pose; their visible order is found at the first drawing, and kept.

    Parameters
    ----------
    design : Design
    matrices : mapping
        Piece, panel to 4 x 4, as in :class:`~jadeite.core.assembly.lift.Pose`.
    bodies : tuple of Body
        Contents in the shared space, moved by ``contents``.
    contents : (4, 4) float or None
        None leaves the contents out.
    flat : bool
        Draw lines as they are cut and scored.
    flatness : float
        1 keeps dimension lines clear of the flat net, 0 close to their edge.
    """

    def __init__(
        self,
        design: Design,
        matrices: Mapping[str, Mapping[str, Floats]],
        bodies: tuple[Body, ...] = (),
        contents: Floats | None = None,
        *,
        flat: bool = False,
        flatness: float = 0.0,
        hidden: frozenset[str] = frozenset(),
    ) -> None:
        self.design, self.matrices, self.flat = design, matrices, flat
        self.flatness = 1.0 if flat else flatness
        self.faces: list[_Face] = []
        self._items: list[OrderItem] = []
        self._ordered: tuple[OrderTree | None, _Stack] | None = None
        self.points: list[Floats] = []
        self._soft: list[tuple[Floats, Floats]] = []
        self.hidden = hidden
        for piece in design.pieces:
            if piece.name not in hidden:
                self._add_piece(piece, matrices[piece.name])
        self.body_places: list[tuple[str, Floats]] = []
        if contents is not None:
            for body in bodies:
                self._add_body(body, contents)
        self.lined = {a.onto for a in design.arrivals.at(When.BEHIND)}
        strips = {(p.name, q.name) for p in design.pieces for q in p.panels if q.role is Role.STRIP}
        self.lined |= {j.target for j in design.joints if j.tab in strips}
        spread = np.concatenate(self.points) if self.points else np.zeros((1, 3))
        self.low, self.high = spread.min(axis=0), spread.max(axis=0)
        self.contents = contents

    def _add_piece(self, piece: Piece, matrices: Mapping[str, Floats]) -> None:
        mesh = mesh_of(piece)
        kinds: dict[tuple[int, int], int] = {}
        leans = {panel.name: panel.role.traits.leans for panel in piece.panels}
        for edge in mesh.edges:
            kind = CUT if edge.fold is None else KINDS[line_kind(piece.folds[edge.fold])]
            if edge.fold is not None and not self.flat:
                fold = piece.folds[edge.fold]
                if leans[fold.child]:  # a bent petal is smooth, but where it turns out of sight
                    kind = SOFT + len(self._soft)
                    normals = [matrices[name][:3, 2] for name in (fold.parent, fold.child)]
                    self._soft.append((normals[0], normals[1]))
            kinds[edge.start, edge.end] = kinds[edge.end, edge.start] = kind
        lapped = {f.child for f in piece.folds if abs(f.angle) < SMALL_TURN}
        veins = veins_by_panel(piece)
        for panel, face in zip(piece.panels, mesh.faces, strict=True):
            matrix = matrices[panel.name]
            points = transform(matrix, mesh.vertices[list(face)])
            if panel.role is Role.TAB and panel.name in lapped:  # drawn under what it is glued to
                points = points - matrix[:3, 2] * (
                    UNDER if piece.good_side == "outside" else -UNDER
                )
            flags = tuple(kinds[a, b] for a, b in zip(face, (*face[1:], face[0]), strict=True))
            lines = None
            if panel.role.traits.glue:
                flat = hatch_lines(panel.outline)
                lines = transform(matrix, flat.reshape(-1, 2)).reshape(-1, 2, 3)
            self._items.append(OrderItem(len(self.faces), (points,), (flags,), (matrix[:3, 2],)))
            self.faces.append(
                _Face(
                    piece.name,
                    panel.name,
                    piece.board.thickness,
                    panel.role,
                    lines,
                    openings=tuple((transform(matrix, o.points), o.kind) for o in panel.openings),
                    veins=tuple(
                        (transform(matrix, v.points), v.cut) for v in veins.get(panel.name, ())
                    ),
                    shines=piece.board.translucency * piece.board.lets_light_through,
                )
            )
            self.points.append(points)

    def _add_body(self, body: Body, matrix: Floats) -> None:
        polygons = tuple(transform(matrix, f) for f in body.faces)
        normals = tuple(body.normals @ matrix[:3, :3].T)
        caps = {Form.CYLINDER: 2, Form.BALL: 0}.get(body.form, len(polygons))  # faces with edges
        flags = tuple(
            tuple(CUT for _ in p) if i < caps else (NONE,) * len(p) for i, p in enumerate(polygons)
        )
        ball = body.form is Form.BALL
        self._items.append(OrderItem(len(self.faces), polygons, flags, normals, ball))
        radius = body.size[0] / 2 if body.form is Form.BALL else 0.0
        self.faces.append(_Face("", body.name, 0.0, None, None, radius, fixed=body.fixed))
        self.points.extend(polygons)
        if body.fixed:
            return
        top = np.concatenate(polygons)
        self.body_places.append((body.name, np.append(top.mean(axis=0)[:2], top[:, 2].max())))

    # ------------------------------------------------------------------ view

    def fitted(
        self, camera: Camera, width: float, height: float, margins: tuple[float, ...]
    ) -> Camera:
        """The camera moved and scaled so that everything is in the picture."""
        points = np.concatenate(self.points) if self.points else np.zeros((1, 3))
        return fitted(points, camera, width, height, margins)

    # ------------------------------------------------------------------ paint

    def draw(self, camera: Camera, style: SceneStyle) -> Picture:
        """The picture from a camera."""
        return finished(self.drawing(camera, style))

    def drawing(self, camera: Camera, style: SceneStyle) -> Steps[Picture]:
        """The same, left after each plane of the order and each face."""
        order, stack = yield from self._in_order()
        picture = Picture(
            shadow_colour="#000000" if style.palette.dark else "#20302b",
            shadow_blur=1.6 * camera.scale,
        )
        if style.shadow and not self.flat and not style.moving:
            self._draw_shadow(picture, camera)
        if style.disc and not self.flat:
            self._draw_disc(picture, camera, style)
        towards = camera.towards
        if order is not None:
            flat = stack.projected(camera)
            for item in order.walk(towards):
                yield
                face = self.faces[item.tag]
                if face.radius:
                    draw_ball(picture, item, face.radius, camera, style, fixed=face.fixed)
                elif item.solid:
                    draw_body(picture, item, camera, style, towards)
                else:
                    front = flat[stack.spans[id(item)]]
                    self._draw_face(picture, item, face, camera, style, towards, front)
        if style.ghosts and order is not None:
            for item in order.walk(towards):
                if item.solid and not self.faces[item.tag].fixed:
                    radius = self.faces[item.tag].radius
                    draw_ghost(picture, item, radius, camera, style, towards)
        yield
        self._draw_pointed(picture, camera, style)
        marks = Marks(picture, camera, style.palette, style.unit, style.system)
        if style.dimensions:
            hidden = self.hidden | style.undimensioned
            marks.dimensions(self.design, self.matrices, hidden, self.flatness)
        if style.names:
            marks.names(self.body_places)
        return picture

    def _in_order(self) -> Steps[tuple[OrderTree | None, _Stack]]:
        if self._ordered is None:
            tree = yield from order_steps(self._items)
            self._ordered = tree, _Stack(tree)
        return self._ordered

    @property
    def order(self) -> OrderTree | None:
        """Faces and bodies in their visible order."""
        return finished(self._in_order())[0]

    def _draw_pointed(self, picture: Picture, camera: Camera, style: SceneStyle) -> None:
        """Outlines of what is pointed out, also where something hides it."""
        stroke = Stroke(style.palette.jade, 1.6 * style.unit, (3 * style.unit, 2 * style.unit))
        for piece in self.design.pieces if style.point_out else ():
            for panel in piece.panels:
                if (piece.name, panel.name) in style.point_out and piece.name not in self.hidden:
                    points = transform(self.matrices[piece.name][panel.name], panel.outline)
                    picture.add(Path((camera.project(points),), stroke=stroke, opacity=POINTED))

    def _draw_disc(self, picture: Picture, camera: Camera, style: SceneStyle) -> None:
        """A plain disc as large as a coin, in front of the pieces."""
        turns = np.linspace(0, 2 * np.pi, 48, endpoint=False)
        ring = np.column_stack([np.cos(turns), np.sin(turns), np.zeros(48)]) * (DISC / 2)
        spot = np.array([(self.low[0] + self.high[0]) / 2, self.low[1] - DISC_AWAY * DISC, 0.0])
        sand = style.palette.sand
        edge = Stroke(mix(sand, style.palette.ink, 0.4), 0.8 * style.unit)
        low = camera.project(ring + spot)
        top = camera.project(ring + spot + (0.0, 0.0, DISC_THICK))
        picture.add(Path((low,), fill=mix(sand, "#000000", 0.15), stroke=edge))
        picture.add(Path((top,), fill=mix(sand, "#ffffff", 0.3), stroke=edge))
        x, y = top.mean(axis=0)
        words = "25 mm"  # whatever the units: it is that large
        size = min(12.0 * style.unit, 0.4 * DISC * camera.scale)
        picture.add(Label(words, float(x), float(y), size, "#20302B", weight=600))

    def _draw_shadow(self, picture: Picture, camera: Camera) -> None:
        slope = LIGHT_FROM[:2] / LIGHT_FROM[2]
        ground = min(float(self.low[2]), 0.0)
        for points in self.points:
            down = points.copy()
            down[:, :2] -= slope * (points[:, 2:] - ground)
            down[:, 2] = ground
            picture.shadow.append(camera.project(down))

    def _colour(self, face: _Face, normal: Floats, good: bool, style: SceneStyle) -> str:
        base = style.colours.get(face.piece, "#E8DDC5")
        if not good and not (face.role is not None and face.role.traits.leans):
            base = shade(base, REVERSE)
        if self.flat:
            return base
        light = AMBIENT + DIFFUSE * max(0.0, float(normal @ LIGHT_FROM))
        if style.lit and self.contents is not None and face.shines:
            base, light = mix(base, LIT_LINED, face.shines), (1.0 + light) / 2
        return shade(base, min(light, 1.08))

    def _draw_face(
        self,
        picture: Picture,
        item: OrderItem,
        face: _Face,
        camera: Camera,
        style: SceneStyle,
        towards: Floats,
        front: Floats,
    ) -> None:
        flags, normal = self._seen(item.edges[0], towards), item.normals[0]
        facing = float(normal @ towards)
        good = facing > 0
        seen = normal if good else -normal
        colour = self._colour(face, seen, good, style)
        where = (face.piece, face.panel)
        if where == style.chosen or where in style.point_out:
            colour = mix(colour, style.palette.jade, 0.42)
        elif where == style.pointed:
            colour = mix(colour, style.palette.jade, 0.22)
        half = face.thickness / 2
        thick = face.thickness * camera.scale > EDGE_SHOWS * style.unit
        thick = thick and not self.flat and not style.moving
        if thick:
            shift = camera.shift(seen * half)
            front, back = front + shift, front - shift
            self._draw_edge(picture, flags, colour, front, back, style)
        # a thin rim of its own colour, where the order has split it, lets no light through
        seam = Stroke(colour, 0.8 * style.unit) if NONE in flags else None
        rings = self._framed(face, front, seen * half if thick else 0.0, camera)
        picture.add(Path(rings, fill=colour, stroke=seam, tag=where))
        if face.hatch is not None and face.hatch.size:
            lines = camera.project(face.hatch.reshape(-1, 3)).reshape(-1, 2, 2)
            stroke = Stroke(mix(style.palette.sand, colour, 0.25), 0.8 * style.unit)
            picture.add(Path(tuple(lines), closed=False, stroke=stroke))
        lifted = seen * half if thick else 0.0
        self._draw_openings(picture, face, lifted, camera, colour, style)
        if face.veins and not style.moving:
            part = front if NONE in item.edges[0] else None
            draw_veins(picture, face.veins, lifted, camera, colour, part, style, flat=self.flat)
        self._draw_lines(picture, front, flags, style)

    def _seen(self, flags: tuple[int, ...], towards: Floats) -> tuple[int, ...]:
        """Kinds of edges, where a bend shows as a line only if one turns its back beyond it."""
        if max(flags) < SOFT:
            return flags
        out = []
        for flag in flags:
            if flag >= SOFT:
                one, other = self._soft[flag - SOFT]
                flag = CUT if float(one @ towards) * float(other @ towards) < 0 else NONE
            out.append(flag)
        return tuple(out)

    def _framed(
        self, face: _Face, front: Floats, offset: Floats | float, camera: Camera
    ) -> tuple[Floats, ...]:
        """The outline, and for a second frame what it leaves open, through which one sees."""
        if not face.frame or not face.openings:
            return (front,)
        holes = [Polygon(camera.project(points + offset)) for points, _ in face.openings]
        left = Polygon(front).buffer(0).difference(shapely.union_all(holes))
        parts = [part for part in shapely.get_parts(left) if isinstance(part, Polygon)]
        rings = [ring for part in parts for ring in (part.exterior, *part.interiors)]
        return tuple(np.array(ring.coords)[:-1] for ring in rings) or (front,)

    def _draw_openings(
        self,
        picture: Picture,
        face: _Face,
        offset: Floats | float,
        camera: Camera,
        colour: str,
        style: SceneStyle,
    ) -> None:
        """Slots and holes look dark, as what lies behind them is in the shade."""
        if not face.openings or face.frame:
            return
        brick = line_strokes(style.palette, style.unit)["slot"]
        cut = strokes_of(style.palette, style.unit, self.flat)[CUT]
        for points, kind in face.openings:
            stroke = cut if kind == "window" else brick
            line = camera.project(points + offset)
            if kind not in OPEN:
                seen = self._behind(face, colour, style)
                picture.add(Path((line,), fill=seen, stroke=stroke if self.flat else None))
            else:
                picture.add(Path((line,), closed=False, stroke=brick))

    def _behind(self, face: _Face, colour: str, style: SceneStyle) -> str:
        """What is seen through a cut-out."""
        lined = (face.piece, face.panel) in self.lined and not self.flat
        if style.lit and self.contents is not None:
            return LIT_LINED if lined else LIT
        if lined:
            return LINED
        return style.palette.ground if self.flat else shade(colour, BEHIND)

    def _draw_edge(
        self,
        picture: Picture,
        flags: tuple[int, ...],
        colour: str,
        front: Floats,
        back: Floats,
        style: SceneStyle,
    ) -> None:
        """The cut edge of the board, where it faces the viewer."""
        light = mix(colour, "#ffffff", 0.45)
        stroke = Stroke(mix(light, colour, 0.5), 0.3 * style.unit)
        n = len(front)
        for i in range(n):
            if flags[i] != CUT:
                continue
            j = (i + 1) % n
            quad = np.array([front[i], front[j], back[j], back[i]])
            picture.add(Path((quad,), fill=light, stroke=stroke))

    def _draw_lines(
        self, picture: Picture, front: Floats, flags: tuple[int, ...], style: SceneStyle
    ) -> None:
        strokes = strokes_of(style.palette, style.unit, self.flat)
        for kind, runs in runs_by_kind(flags, style.moving):
            lines = tuple(front[run] for run in runs)
            picture.add(Path(lines, closed=False, stroke=strokes[kind]))
