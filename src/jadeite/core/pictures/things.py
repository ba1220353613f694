"""Things in a scene: solid ghosts, the light edges of what is hidden, balls."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from jadeite.core.folding import Facets
from jadeite.core.nets.model import Floats
from jadeite.core.pictures.camera import Camera
from jadeite.core.pictures.palette import mix
from jadeite.core.pictures.primitives import Path, Picture, Stroke
from jadeite.core.pictures.scene_style import CUT, LIGHT_FROM, SceneStyle, runs_of

__all__ = ["Solid", "draw_ball", "draw_body", "draw_ghost", "solid_of"]

SHINING = "#FFF6DC"  # a lamp by night; design rule

PEARL = "#EFE7D6"
GHOST = 0.55  # from memory; how strongly hidden things show through


class Solid(NamedTuple):
    """A convex thing or a part of one: polygons (n, 3), their edges' kinds, unit normals (3,)."""

    polygons: tuple[Floats, ...]
    edges: tuple[tuple[int, ...], ...]
    normals: tuple[Floats, ...]


def solid_of(parts: Facets, number: int) -> Solid:
    """One of some parts."""
    first = int(parts.firsts[number])
    polygons = range(first, first + int(parts.polygons[number]))
    spans = [
        slice(int(parts.polygon_starts[p]), int(parts.polygon_starts[p] + parts.counts[p]))
        for p in polygons
    ]
    return Solid(
        tuple(parts.points[span] for span in spans),
        tuple(tuple(parts.kinds[span].tolist()) for span in spans),
        tuple(parts.normals[p] for p in polygons),
    )


def draw_body(
    picture: Picture,
    item: Solid,
    camera: Camera,
    style: SceneStyle,
    towards: Floats,
    *,
    shining: bool = False,
) -> None:
    """A thing as a solid ghost: its far edges first, then the near faces; a lamp may shine.

    ``towards`` is (3,) float.
    """
    p = style.palette
    river = p.river
    for near in (False, True):
        for points, flags, normal in zip(item.polygons, item.edges, item.normals, strict=True):
            if (float(normal @ towards) > 0) is not near:
                continue
            if not near and not any(flags):
                continue  # a far facet shows nothing but its edges
            flat = camera.project(points)
            if near:
                light = 0.5 + 0.5 * max(0.0, float(normal @ LIGHT_FROM))
                fill = mix(river, "#ffffff", 0.35 + 0.3 * light)
                fill, opacity = (SHINING, 1.0) if shining else (fill, 0.46)
                picture.add(Path((flat,), fill=fill, opacity=opacity))
            lines = tuple(flat[run] for run in runs_of(flags, CUT))
            if lines:
                stroke = Stroke(river, (0.9 if near else 0.5) * style.unit)
                picture.add(Path(lines, closed=False, stroke=stroke))
    _outline(picture, item, camera, style, towards)


def draw_ghost(
    picture: Picture,
    item: Solid,
    radius: float,
    camera: Camera,
    style: SceneStyle,
    towards: Floats,
) -> None:
    """The near edges of a thing, faintly, through what hides it.

    ``towards`` is (3,) float.
    """
    stroke = Stroke(style.palette.river, 0.8 * style.unit, (3 * style.unit, 3 * style.unit))
    if radius:
        middle = camera.project(np.concatenate(item.polygons).mean(axis=0, keepdims=True))[0]
        turns = np.linspace(0, 2 * np.pi, 49)
        ring = np.column_stack([np.cos(turns), np.sin(turns)]) * radius * camera.scale
        lines: tuple[Floats, ...] = (middle + ring,)
    else:
        lines = tuple(
            camera.project(points)[run]
            for points, flags, normal in zip(item.polygons, item.edges, item.normals, strict=True)
            if float(normal @ towards) > 0
            for run in runs_of(flags, CUT)
        )
        _outline(picture, item, camera, style, towards)
    if lines:
        picture.add(Path(lines, closed=False, stroke=stroke, opacity=GHOST))


def draw_ball(
    picture: Picture,
    item: Solid,
    radius: float,
    camera: Camera,
    style: SceneStyle,
    *,
    fixed: bool = False,
) -> None:
    """A ball: round from every side, with a light spot towards the lamp; a ``fixed`` one solid."""
    middle = camera.project(np.concatenate(item.polygons).mean(axis=0, keepdims=True))[0]
    turns = np.linspace(0, 2 * np.pi, 49)[:-1]
    ring = np.column_stack([np.cos(turns), np.sin(turns)]) * radius * camera.scale
    river = style.palette.river
    stroke = Stroke(river, 0.9 * style.unit)
    fill, bright, opaque = mix(river, "#ffffff", 0.45), mix(river, "#ffffff", 0.75), 0.55
    if fixed:
        stroke = Stroke(style.palette.quiet, 0.7 * style.unit)
        fill, bright, opaque = PEARL, "#FFFFFF", 1.0
    picture.add(Path((middle + ring,), fill=fill, stroke=stroke, opacity=opaque))
    spot = middle - np.array([0.3, 0.35]) * radius * camera.scale
    picture.add(Path((spot + 0.28 * ring,), fill=bright, opacity=0.6))


def _outline(
    picture: Picture, item: Solid, camera: Camera, style: SceneStyle, towards: Floats
) -> None:
    """Silhouette of a round thing: edges between a near and a far facet."""
    if any(any(flags) for flags in item.edges[2:]) or len(item.polygons) < 5:
        return
    sides = list(zip(item.polygons[2:], item.normals[2:], strict=True))
    lines = []
    for (a, na), (_, nb) in zip(sides, [*sides[1:], sides[0]], strict=True):
        if (float(na @ towards) > 0) != (float(nb @ towards) > 0):
            lines.append(camera.project(a[[1, 2]]))
    if lines:
        stroke = Stroke(style.palette.river, 0.9 * style.unit)
        picture.add(Path(tuple(lines), closed=False, stroke=stroke))
