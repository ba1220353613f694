"""The table: pieces in space, at any moment of the lift, from any side.

A :class:`Scene` holds the faces of one pose in their visible order; the order
is kept while the view turns.  Drawing walks it and paints from back to front.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np

from jadeite.core.folding import (
    SPLIT_EDGE,
    Body,
    Facets,
    VisibleOrder,
    at_a_glance,
    order_steps,
    transform,
)
from jadeite.core.nets.model import Design, Floats
from jadeite.core.nets.ties import Strip
from jadeite.core.pictures.camera import Camera, fitted
from jadeite.core.pictures.face_paint import FacePaint
from jadeite.core.pictures.faces import (
    Face,
    Soft,
    numbered,
    of_body,
    of_piece,
    of_ribbon,
    under_what_it_holds,
)
from jadeite.core.pictures.glow import Glow, draw_glow, glow_of
from jadeite.core.pictures.marks import Marks
from jadeite.core.pictures.palette import mix
from jadeite.core.pictures.primitives import Label, Path, Picture, Stroke
from jadeite.core.pictures.scene_style import LIGHT_FROM, SceneStyle
from jadeite.core.pictures.things import draw_ball, draw_body, draw_ghost, solid_of
from jadeite.core.steps import Steps, finished

__all__ = ["DISC", "DISC_AWAY", "Scene"]

GLANCED = 1500  # faces; from memory, of more there are too many pairs to look at
DISC, DISC_THICK = 25.0, 1.8  # mm; from memory, as large as a coin
DISC_AWAY = 1.1  # of it before the pieces; from memory
LAMP = 0.75  # of its height, where a light shines from; from memory
POINTED = 0.95  # from memory; outlines of what is pointed out must be seen on any board


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
    ribbons : sequence of (Strip, (4, 4) float)
        What is tied by then, and what moves it from the shared space.
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
        ribbons: Sequence[tuple[Strip, Floats]] = (),
    ) -> None:
        self.design, self.matrices, self.flat = design, matrices, flat
        self.flatness = 1.0 if flat else flatness
        self.hidden = hidden
        self.contents = contents
        self.faces: list[Face] = []
        self.body_places: list[tuple[str, Floats]] = []
        self._bodies = bodies
        self._names: dict[int, str] = {}  # of bodies, by their faces
        facets: list[Facets] = []
        soft: list[Floats] = []
        under = under_what_it_holds(design)
        for piece in design.pieces:
            if piece.name not in hidden:
                faces, own, bends = of_piece(
                    piece, matrices[piece.name], under[piece.name], flat, sum(map(len, soft))
                )
                self.faces += faces
                facets.append(own)
                soft.append(bends)
        for body in bodies if contents is not None else ():
            assert contents is not None
            face, own = of_body(body, contents)
            self._names[len(self.faces)] = body.name
            self.faces.append(face)
            facets.append(own)
            if not body.fixed:
                top = np.append(own.points.mean(axis=0)[:2], own.points[:, 2].max())
                self.body_places.append((body.name, top))
        for strip, place in ribbons:
            ribbon, own = of_ribbon(strip, place)
            self.faces += ribbon
            facets.append(own)
        self._facets = numbered(facets)
        self._thickness = np.array([f.sheet.thickness if f.sheet else 0.0 for f in self.faces])
        self._soft = Soft(np.concatenate(soft) if soft else np.zeros((0, 2, 3)))
        self._order: VisibleOrder | None = None
        self._lined = _lined(design)
        spread = self._spread
        self.low, self.high = spread.min(axis=0), spread.max(axis=0)

    @property
    def _spread(self) -> Floats:
        """Every corner, also of plates on flat pieces, or one where there is none, (n, 3)."""
        if not len(self._facets):
            return np.zeros((1, 3))
        plates = [
            transform(next(iter(self.matrices[one.piece].values())), np.array(one.corners))
            for one in (self.design.pressed if self.flat else ())
            if one.piece not in self.hidden
        ]
        return np.concatenate([self._facets.points, *plates])

    # ------------------------------------------------------------------ view

    def fitted(
        self, camera: Camera, width: float, height: float, margins: tuple[float, ...]
    ) -> Camera:
        """The camera moved and scaled so that everything is in the picture."""
        return fitted(self._spread, camera, width, height, margins)

    # ------------------------------------------------------------------ paint

    def draw(self, camera: Camera, style: SceneStyle) -> Picture:
        """The picture from a camera."""
        return finished(self.drawing(camera, style))

    def drawing(self, camera: Camera, style: SceneStyle) -> Steps[Picture]:
        """The same, left after each depth of the order and each face."""
        parts, walked = yield from self._walked(camera, style)
        picture = Picture(
            shadow_colour="#000000" if style.palette.dark else "#20302b",
            shadow_blur=1.6 * camera.scale,
        )
        glow = self._glow(style)
        if glow is not None:
            draw_glow(picture, glow, camera)
        elif style.shadow and not self.flat and not style.moving:
            self._draw_shadow(picture, camera)
        if style.disc and not self.flat:
            self._draw_disc(picture, camera, style)
        yield from self._draw_parts(picture, parts, walked, camera, style, glow)
        if style.ghosts:
            for part in walked:
                face = self.faces[int(parts.tags[part])]
                if face.sheet is None and not face.fixed:
                    solid = solid_of(parts, part)
                    draw_ghost(picture, solid, face.radius, camera, style, camera.towards)
        yield
        self._draw_pointed(picture, camera, style)
        marks = Marks(picture, camera, style.palette, style.unit, style.system)
        if style.dimensions:
            hidden = self.hidden | style.undimensioned
            shown = [d for d in self.design.dimensions if style.finished or not d.finished]
            marks.dimensions(self.design, self.matrices, hidden, self.flatness, shown)
        if self.flat:
            marks.plates(self.design.pressed, self.matrices, self.hidden, sizes=style.dimensions)
        if style.names:
            marks.names(self.body_places)
        return picture

    def _walked(self, camera: Camera, style: SceneStyle) -> Steps[tuple[Facets, Sequence[int]]]:
        """What is painted, and in which order; while it moves, as it is at a glance."""
        if style.moving and self._order is None and len(self.faces) < GLANCED:
            return self._facets, at_a_glance(self._facets, camera.axes, camera.towards)
        order = yield from self._in_order()
        return order.parts, order.walk(camera.towards)

    def _draw_parts(
        self,
        picture: Picture,
        parts: Facets,
        walked: Sequence[int],
        camera: Camera,
        style: SceneStyle,
        glow: Glow | None,
    ) -> Steps[None]:
        """All faces and things, in the order in which they are ``walked``."""
        towards = camera.towards
        lit = style.lit and self.contents is not None
        paint = FacePaint(picture, camera, style, flat=self.flat, lit=lit, lined=self._lined,
                          glow=glow)  # fmt: skip
        kinds = self._soft.seen(towards)[parts.kinds].tolist()
        starts, corners, tags = parts.starts.tolist(), parts.corners.tolist(), parts.tags.tolist()
        normals = parts.normals[parts.firsts]
        split = np.logical_or.reduceat(parts.kinds == SPLIT_EDGE, parts.starts)
        good = normals @ towards > 0
        seen = np.where(good[:, None], normals, -normals)
        halves = paint.halves(self._thickness[parts.tags])
        lift = seen * halves[:, None]
        flat, shift = camera.project(parts.points), np.repeat(camera.shift(lift), corners, axis=0)
        front, back, after = flat + shift, flat - shift, parts.after
        sides = np.stack([front, front[after], back[after], back], axis=1)
        colours: dict[int, str] = {}  # of a face; its parts have the same
        for part in walked:
            yield
            tag = tags[part]
            face = self.faces[tag]
            if face.sheet is not None:
                if tag not in colours:
                    colours[tag] = paint.colour(face.sheet, seen[part], bool(good[part]))
                own = slice(starts[part], starts[part] + corners[part])
                edge = sides[own] if halves[part] else None
                drawn, parted = tuple(kinds[own]), bool(split[part])
                paint.paint(face, front[own], edge, drawn, lift[part], colours[tag], split=parted)
            elif face.radius:
                solid = solid_of(parts, part)
                draw_ball(picture, solid, face.radius, camera, style, fixed=face.fixed)
            else:
                lamp = glow is not None and self._names.get(tag) in style.lamps
                draw_body(picture, solid_of(parts, part), camera, style, towards, shining=lamp)

    def _glow(self, style: SceneStyle) -> Glow | None:
        """The light of the lamp inside, by night; None by day, or where there is none."""
        lamps = [body for body in self._bodies if body.name in style.lamps]
        if not (style.night and lamps) or self.contents is None or self.flat:
            return None
        points = np.concatenate([np.concatenate(body.faces) for body in lamps])
        low, high = points.min(axis=0), points.max(axis=0)
        at = np.append((low + high)[:2] / 2, low[2] + LAMP * (high[2] - low[2]))
        place = self.contents[:3, :3] @ at + self.contents[:3, 3]
        return glow_of(self.design, self.matrices, place, min(float(self.low[2]), 0.0))

    def _in_order(self) -> Steps[VisibleOrder]:
        if self._order is None:
            whole = np.array([face.radius > 0 for face in self.faces], bool)
            self._order = yield from order_steps(self._facets, whole)
        return self._order

    @property
    def order(self) -> VisibleOrder:
        """Faces and bodies in their visible order."""
        return finished(self._in_order())

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
        down = self._facets.points.copy()
        down[:, :2] -= slope * (down[:, 2:] - ground)
        down[:, 2] = ground
        flat, starts = camera.project(down), self._facets.polygon_starts.tolist()
        picture.shadow.extend(
            flat[start : start + count]
            for start, count in zip(starts, self._facets.counts.tolist(), strict=True)
        )


def _lined(design: Design) -> dict[tuple[str, str], tuple[str, float]]:
    """Panels that have a lining behind them: which piece it is, and how translucent."""
    linings = {(p.name, q.name): p for p in design.pieces for q in p.panels if q.role.traits.lines}
    return {
        j.target: (j.tab[0], linings[j.tab].board.translucency)
        for j in design.joints
        if j.tab in linings
    }
