"""What is seen of each part of a flower from straight above, as regions and as a picture."""

from __future__ import annotations

import math
import re
from collections.abc import Sequence
from dataclasses import dataclass
from string import ascii_lowercase
from typing import Any

import numpy as np
import shapely
from shapely.geometry import MultiPolygon, Polygon

from jadeite.core.folding import FoldedFace, folded_faces
from jadeite.core.nets.model import Design, Floats
from jadeite.core.pictures.palette import Palette, mix
from jadeite.core.pictures.primitives import Label, Path, Picture, Stroke

__all__ = ["Seen", "marks_of", "seen_from_above", "seen_picture"]

GRID = 1e-3  # mm; rounding, facets that share an edge are joined across it
SPECK = 0.5  # mm²; from memory, less is nothing that is seen
LEAST = 0.005  # of the disc; from memory, less is no part of the picture
EDGE = 4.0  # picture units; from memory
NUMBER = 12.0  # picture units; from memory


@dataclass(frozen=True, eq=False)
class Seen:
    """A part from above: its region in mm that nothing covers, and two shares of area.

    ``share`` is of the part's own outline from above, ``of_disc`` of the disc of the
    finished width.
    """

    part: str
    region: Any
    share: float
    of_disc: float


def seen_from_above(design: Design) -> tuple[Seen, ...]:
    """Every part that is seen, the lowest first; what lies higher covers what lies lower."""
    faces: dict[str, list[FoldedFace]] = {}
    for face in folded_faces(design):
        faces.setdefault(face.piece, []).append(face)
    level = {piece.name: float(design.placements[piece.name][2, 3]) for piece in design.pieces}
    whole: dict[str, list[Any]] = {}
    seen: dict[str, list[Any]] = {}
    covered: Any = Polygon()
    reach = 0.0
    for piece in sorted(design.pieces, key=lambda piece: -level[piece.name]):
        outlines = [Polygon(face.points[:, :2]) for face in faces[piece.name]]
        shape = shapely.union_all([o for o in outlines if o.area > GRID], grid_size=GRID)
        left = shapely.difference(shape, covered, grid_size=GRID)
        covered = shapely.union(covered, shape, grid_size=GRID)
        whole.setdefault(piece.part, []).append(shape)
        seen.setdefault(piece.part, []).append(left)
        corners = np.concatenate([face.points[:, :2] for face in faces[piece.name]])
        reach = max(reach, float(np.hypot(*corners.T).max()))
    disc = math.pi * reach * reach
    out = []
    for part, regions in reversed(seen.items()):
        region = shapely.union_all(regions, grid_size=GRID)
        if region.area > max(SPECK, LEAST * disc):
            area = sum(shape.area for shape in whole[part])
            out.append(Seen(part, region, float(region.area / area), float(region.area / disc)))
    return tuple(out)


def marks_of(titles: Sequence[str]) -> list[str]:
    """Short marks for titles: the number in them, letters for those that have none."""
    letters = iter(ascii_lowercase)
    found = [re.search(r"\d+", title) for title in titles]
    return [next(letters) if number is None else number.group() for number in found]


def seen_picture(
    seen: Sequence[Seen], marks: Sequence[str], size: tuple[float, float], palette: Palette
) -> Picture:
    """The regions from above, fitted into a size, each in a tone and with its mark.

    Bare ground within the disc of the finished width is left as it is, and outlined.
    """
    picture = Picture()
    if not seen:
        return picture
    reach = max(float(np.hypot(*shapely.get_coordinates(one.region).T).max()) for one in seen)
    scale = (min(size) / 2 - EDGE) / reach
    middle = np.array(size) / 2

    def put(points: Floats) -> Floats:
        return np.asarray(middle + points * np.array([scale, -scale]))

    turns = np.linspace(0.0, 2 * math.pi, 97)
    ring = put(reach * np.column_stack([np.cos(turns), np.sin(turns)]))
    picture.add(Path((ring,), closed=False, stroke=Stroke(palette.quiet, 1.0, (3.0, 3.0))))
    for number, one in enumerate(seen, start=1):
        tone = mix(palette.jade_wash, palette.jade, 0.15 + 0.85 * (number - 1) / len(seen))
        for part in _polygons(one.region):
            rings = [np.asarray(r.coords)[:-1] for r in (part.exterior, *part.interiors)]
            stroke = Stroke(palette.sheet, 0.8)
            picture.add(Path(tuple(put(r) for r in rings), fill=tone, stroke=stroke))
    for mark, one in zip(marks, seen, strict=True):
        largest = max(_polygons(one.region), key=lambda part: float(part.area))
        x, y = put(np.array(shapely.maximum_inscribed_circle(largest, tolerance=0.5).coords[0]))
        at = (float(x), float(y), NUMBER, palette.ink)
        picture.add(Label(mark, *at, weight=600, pill=palette.sheet))
    return picture


def _polygons(region: Any) -> list[Polygon]:
    """The polygons of a region that are more than specks."""
    parts = region.geoms if isinstance(region, MultiPolygon) else [region]
    some = [part for part in shapely.get_parts(list(parts)) if isinstance(part, Polygon)]
    return [part for part in some if part.area > SPECK] or some
