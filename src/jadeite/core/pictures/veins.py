"""Veins in a scene: grooves a little darker than their board, cuts darker still."""

from __future__ import annotations

from collections.abc import Sequence

import shapely
from shapely.geometry import LineString, Polygon

from jadeite.core.nets.model import Floats, Trace
from jadeite.core.pictures.camera import Camera
from jadeite.core.pictures.flat import KINDS, line_strokes
from jadeite.core.pictures.palette import LIGHT, shade
from jadeite.core.pictures.primitives import Path, Picture, Stroke
from jadeite.core.pictures.scene_style import SceneStyle

__all__ = ["draw_veins", "lines_within"]

GROOVE, CUT = 0.79, 0.5  # of the board's light is left in it; from memory
WIDE, PEN = 0.5, 0.6  # mm; from memory, what a ball presses, and what a pen writes


def lines_within(lines: Sequence[Floats], part: Floats) -> list[Floats]:
    """What of some lines, (n, 2), lies within a polygon, (m, 2)."""
    if not len(lines):
        return []
    shape = Polygon(part).buffer(0)
    return [
        shapely.get_coordinates(piece)
        for line in lines
        for piece in shapely.get_parts(LineString(line).intersection(shape))
        if piece.geom_type == "LineString" and piece.length > 0
    ]


def draw_veins(
    picture: Picture,
    veins: tuple[tuple[Floats, Trace], ...],
    offset: Floats | float,
    camera: Camera,
    colour: str,
    part: Floats | None,
    style: SceneStyle,
    *,
    flat: bool,
) -> None:
    """Veins of one face; of a face that the order has parted only what lies on this ``part``.

    ``veins`` are (n, 3) float in space with what they leave, ``part`` (m, 2) in the picture.
    """
    known = line_strokes(LIGHT, style.unit)
    for trace in Trace:
        lines = [camera.project(points + offset) for points, own in veins if own is trace]
        if part is not None:
            lines = lines_within(lines, part)
        if not lines:
            continue
        if flat:
            stroke = known[KINDS[trace]]
        elif trace.ink:
            stroke = Stroke(LIGHT.ink, max(0.8 * style.unit, PEN * camera.scale))
        else:
            width = max(0.8 * style.unit, WIDE * camera.scale)
            stroke = Stroke(shade(colour, CUT if trace is Trace.CUT else GROOVE), width)
        picture.add(Path(tuple(lines), closed=False, stroke=stroke))
