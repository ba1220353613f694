"""A panel in space, painted: its board, the cut edge, glue, openings, veins and lines."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np
import shapely
from shapely.geometry import Polygon

from jadeite.core.nets.model import OPEN, Floats
from jadeite.core.pictures.camera import Camera
from jadeite.core.pictures.faces import Face, Sheet
from jadeite.core.pictures.flat import line_strokes
from jadeite.core.pictures.glow import Glow, glow_tone
from jadeite.core.pictures.palette import mix, shade
from jadeite.core.pictures.primitives import Path, Picture, Stroke
from jadeite.core.pictures.prints import print_paths
from jadeite.core.pictures.scene_style import (
    CUT,
    LIGHT_FROM,
    NONE,
    SceneStyle,
    runs_by_kind,
    strokes_of,
)
from jadeite.core.pictures.veins import draw_veins, lines_within

__all__ = ["FacePaint"]

AMBIENT, DIFFUSE = 0.70, 0.40
BEHIND = 0.45  # from memory, how dark it is behind an opening
REVERSE = 0.84  # from memory, the reverse is darker
EDGE_SHOWS = 0.6  # picture units of thickness from which the board's edge is drawn
# what is seen through a window: dim board behind it, a lining, and either by lamp light
CLEAR = 0.4  # translucency from which a lining looks pale by day; from memory
LINED, LIT, LIT_LINED = "#F8F2E0", "#F2CF7E", "#FFE9A9"


NIGHT = "#22303A"  # what little light there is by night; design rule


def _tone(value: float) -> str:
    """The colour of so much light, 0 to 1."""
    return mix(*glow_tone(value))


def _within(ring: Floats, part: Floats) -> tuple[Floats, ...]:
    """What of a ring, (n, 2), lies within a convex polygon, (m, 2)."""
    left = Polygon(ring).buffer(0).intersection(Polygon(part).buffer(0))
    pieces = [one for one in shapely.get_parts(left) if isinstance(one, Polygon) and one.area > 0]
    return tuple(shapely.get_coordinates(one.exterior)[:-1] for one in pieces)


class FacePaint:
    """Paints the panels of one picture.

    Parameters
    ----------
    picture : Picture
    camera : Camera
    style : SceneStyle
    flat : bool
        Lines are as they are cut and scored.
    lit : bool
        A light shines inside.
    lined : mapping
        The piece that lines each (piece, panel) which has a lining, and how translucent it is.
    glow : Glow or None
        How bright everything is by night, when nothing but the light shines.
    """

    def __init__(
        self,
        picture: Picture,
        camera: Camera,
        style: SceneStyle,
        *,
        flat: bool,
        lit: bool,
        lined: Mapping[tuple[str, str], tuple[str, float]],
        glow: Glow | None = None,
    ) -> None:
        self._picture, self._camera, self._style = picture, camera, style
        self._flat, self._lit, self._lined, self._glow = flat, lit, lined, glow
        self._strokes = strokes_of(style.palette, style.unit, flat)
        self._edged = not flat and not style.moving

    def colour(self, sheet: Sheet, normal: Floats, good: bool) -> str:
        """Of a panel whose seen side has a ``normal``, (3,)."""
        style = self._style
        out = self._board(sheet, normal, good)
        where = (sheet.piece, sheet.panel)
        if where == style.chosen or where in style.point_out:
            return mix(out, style.palette.jade, 0.42)
        if where == style.pointed:
            return mix(out, style.palette.jade, 0.22)
        return out

    def _board(self, sheet: Sheet, normal: Floats, good: bool) -> str:
        base = sheet.tone or self._style.colours.get(sheet.piece, "#E8DDC5")
        if self._glow is not None:
            return self._by_night(base, sheet, normal)
        if not good and not sheet.role.traits.leans:
            base = shade(base, REVERSE)
        if self._flat:
            return base
        light = AMBIENT + DIFFUSE * max(0.0, float(normal @ LIGHT_FROM))
        if self._lit and sheet.shines:
            base, light = mix(base, LIT_LINED, sheet.shines), (1.0 + light) / 2
        if good and sheet.prints:  # ink is painted as it is, and its paper not much darker
            light = (1.0 + light) / 2
        return shade(base, min(light, 1.08))

    def _by_night(self, base: str, sheet: Sheet, normal: Floats) -> str:
        """Board against the dark: just seen, or shining where light comes through."""
        assert self._glow is not None
        dark = shade(mix(base, NIGHT, 0.5), 0.16 + 0.06 * max(0.0, float(normal @ LIGHT_FROM)))
        value = self._glow.boards.get((sheet.piece, sheet.panel), 0.0)
        return mix(dark, _tone(value), min(1.0, 1.2 * value)) if value else dark

    def halves(self, thickness: Floats) -> Floats:
        """From the middle of each board to its surface where its edge is drawn, else 0; (n,) mm."""
        if not self._edged:
            return np.zeros(len(thickness))
        shows = thickness * self._camera.scale > EDGE_SHOWS * self._style.unit
        return np.where(shows, thickness / 2, 0.0)

    def paint(
        self,
        face: Face,
        front: Floats,
        sides: Floats | None,
        kinds: tuple[int, ...],
        half: Floats,
        colour: str,
        *,
        split: bool,
    ) -> None:
        """A face, or where the order has ``split`` it a part of it.

        ``front`` are its corners in the picture, (n, 2); ``sides`` what is seen of its
        thickness beyond each edge, (n, 4, 2), if it is drawn; ``kinds`` those of its edges;
        ``half`` leads from its middle to what is seen of it, (3,) mm.
        """
        sheet, picture, style, camera = face.sheet, self._picture, self._style, self._camera
        assert sheet is not None
        if sides is not None:
            self._paint_edge(kinds, sides, colour)
        # a thin rim of its own colour, where the order has split it, lets no light through
        seam = Stroke(colour, 0.8 * style.unit) if NONE in kinds else None
        rings: tuple[Floats, ...] = (front,)
        if sheet.frame and sheet.openings:
            rings = self._framed(face, sheet, front, half)
        tag = None if sheet.tone else (sheet.piece, sheet.panel)
        picture.add(Path(rings, fill=colour, stroke=seam, tag=tag))
        good = float(face.matrix[:3, 2] @ camera.towards) > 0
        if sheet.prints and good:
            light = (
                1.0
                if self._flat
                else AMBIENT + DIFFUSE * max(0.0, float(face.matrix[:3, 2] @ LIGHT_FROM))
            )
            for item in print_paths(
                sheet.prints,
                lambda points: camera.project(face.placed(points) + half),
                clip=rings,
                light=min(light, 1.08),
            ):
                picture.add(item)
        if sheet.hatch is not None and sheet.hatch.size:
            glue = [*camera.project(face.placed(sheet.hatch) + half).reshape(-1, 2, 2)]
            if split:  # the other parts have their own, which may be hidden
                glue = lines_within(glue, front)
            stroke = Stroke(mix(style.palette.sand, colour, 0.25), 0.8 * style.unit)
            if glue:
                picture.add(Path(tuple(glue), closed=False, stroke=stroke))
        if sheet.openings and not sheet.frame:
            self._paint_openings(face, sheet, half, colour, front if split else None)
        if sheet.veins and not style.moving:
            veins = tuple(  # what is written on the good side is not seen from behind
                (face.placed(points), trace)
                for points, trace in sheet.veins
                if good or not trace.ink
            )
            part = front if split else None
            draw_veins(picture, veins, half, camera, colour, part, style, flat=self._flat)
        for kind, runs in runs_by_kind(kinds, style.moving):
            lines = tuple(front[run] for run in runs)
            picture.add(Path(lines, closed=False, stroke=self._strokes[kind]))

    def _framed(
        self, face: Face, sheet: Sheet, front: Floats, offset: Floats | float
    ) -> tuple[Floats, ...]:
        """The outline, and for a second frame what it leaves open, through which one sees."""
        holes = [
            Polygon(self._camera.project(face.placed(points) + offset))
            for points, _ in sheet.openings
        ]
        left = Polygon(front).buffer(0).difference(shapely.union_all(holes))
        parts = [part for part in shapely.get_parts(left) if isinstance(part, Polygon)]
        rings = [ring for part in parts for ring in (part.exterior, *part.interiors)]
        return tuple(np.array(ring.coords)[:-1] for ring in rings) or (front,)

    def _paint_openings(
        self, face: Face, sheet: Sheet, offset: Floats | float, colour: str, part: Floats | None
    ) -> None:
        """Slots and holes look dark, as what lies behind them is in the shade.

        Of a face that the order has split each ``part``, (n, 2) in the picture, has its own.
        """
        brick = line_strokes(self._style.palette, self._style.unit)["slot"]
        for number, (points, kind) in enumerate(sheet.openings):
            stroke = self._strokes[CUT] if kind == "window" else brick
            line = self._camera.project(face.placed(points) + offset)
            if kind not in OPEN:
                seen = self._behind(sheet, number, colour)
                outline = stroke if self._flat else None
                rings = (line,) if part is None else _within(line, part)
                if rings:
                    self._picture.add(Path(rings, fill=seen, stroke=outline))
            else:
                lines = [line] if part is None else lines_within([line], part)
                if lines:
                    self._picture.add(Path(tuple(lines), closed=False, stroke=brick))

    def _behind(self, sheet: Sheet, number: int, colour: str) -> str:
        """What is seen through a cut-out of a panel, by its number."""
        if self._glow is not None:
            values = self._glow.windows.get((sheet.piece, sheet.panel), ())
            return _tone(values[number] if number < len(values) else 0.0)
        lining = None if self._flat else self._lined.get((sheet.piece, sheet.panel))
        if lining is not None:
            return self._through(*lining)
        if self._lit:
            return LIT
        return self._style.palette.ground if self._flat else shade(colour, BEHIND)

    def _through(self, piece: str, translucency: float) -> str:
        """A lining as it shows behind cut-outs: paper pale, card in its colour; or lit up."""
        pale = LIT_LINED if self._lit else LINED
        if translucency >= CLEAR:
            return pale
        own = self._style.colours.get(piece, LINED)
        return mix(shade(own, REVERSE) if self._lit else own, pale, translucency / CLEAR)

    def _paint_edge(self, kinds: tuple[int, ...], sides: Floats, colour: str) -> None:
        """The cut edge of the board, where it faces the viewer."""
        light = mix(colour, "#ffffff", 0.45)
        stroke = Stroke(mix(light, colour, 0.5), 0.3 * self._style.unit)
        for kind, side in zip(kinds, sides, strict=True):
            if kind == CUT:
                self._picture.add(Path((side,), fill=light, stroke=stroke))
