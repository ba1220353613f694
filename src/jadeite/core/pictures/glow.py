"""What a lantern shows in the dark: how bright each window is against the others, and the table.

Light goes out from one place.  It falls on each wall by the law of distance
and slant, is thrown about within by the board, and comes out through linings,
which scatter it, or through open cut-outs, which throw their shape on the
table.  Everything is relative: nothing is said of how bright a light is.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass

import contourpy
import numpy as np
import shapely
from shapely.geometry import Polygon

from jadeite.core.folding import transform
from jadeite.core.nets.model import OPEN, Design, Floats
from jadeite.core.pictures.camera import Camera
from jadeite.core.pictures.primitives import Path, Picture

__all__ = ["Glow", "draw_glow", "glow_of", "glow_tone", "linings_behind"]

REFLECTS = 0.55  # of the light that falls on a board; from memory, of pale card
SCATTERS = 0.85  # a lining that lets more through is clear: it throws shapes; from memory
NEAREST = 4.0  # mm; from memory, a lamp is no point
REACH = 6.0  # of the thing's extent, how far about it the table is looked at; from memory
GRID = 150  # setting; places across the table at which its light is reckoned
# of the brightest place on the table; setting
LEVELS = (0.03, 0.06, 0.1, 0.15, 0.21, 0.28, 0.36, 0.45, 0.55, 0.66, 0.78, 0.9)
EYE = 0.45  # power by which the eye sees less of a difference than there is; common practice
DEEP, WARM, FULL = "#2E1D0E", "#F0B552", "#FFF0C2"  # design rule, from dim to bright
POOL, SPOT = 0.065, 0.5  # opacity of each step of the pool, and of the brightest spot; setting
CLEAR = 1e-9  # mm2; rounding

Where = tuple[str, str]


@dataclass(frozen=True, eq=False)
class Glow:
    """Light of a lantern, all in parts of what is brightest of its kind, 0 to 1.

    ``windows`` are panels with a value for each of their openings, ``boards`` panels whose board
    shines itself; ``pool`` are rings of equal light on the table and how bright it is within,
    ``spots`` outlines that open cut-outs throw on it, (n, 3) mm each.
    """

    windows: Mapping[Where, tuple[float, ...]]
    boards: Mapping[Where, float]
    pool: tuple[tuple[Floats, float], ...]
    spots: tuple[tuple[Floats, float], ...]


@dataclass(frozen=True, eq=False)
class _Pane:
    where: Where
    middle: Floats
    normal: Floats
    area: float
    holes: tuple[Floats, ...]  # in space; those that are lines have no area
    each: tuple[float, ...]  # light that falls on each of them
    lets: float  # of a lining behind it; 0 without
    direct: float


def linings_behind(design: Design) -> dict[Where, float]:
    """How much light the linings let through that lie behind panels, 0 to 1."""
    lines = {
        (p.name, q.name): p.board.translucency
        for p in design.pieces
        for q in p.panels
        if q.role.traits.lines
    }
    return {j.target: lines[j.tab] for j in design.joints if j.tab in lines}


def glow_of(
    design: Design,
    matrices: Mapping[str, Mapping[str, Floats]],
    light: Floats,
    ground: float,
) -> Glow:
    """What is seen of a light at a place, (3,) mm, within pieces that stand on a table.

    ``matrices`` lead from each flat piece, by panel, into space; ``ground`` is the height of
    the table, mm.
    """
    linings = linings_behind(design)
    panes, shining, corners, lit, whole = [], {}, [], 0.0, 0.0
    for piece, panel in ((p, q) for p in design.pieces for q in p.panels):
        if panel.role.traits.lines:
            continue
        matrix = matrices[piece.name][panel.name]
        outline = transform(matrix, panel.outline)
        corners.append(outline)
        area, middle = _area(outline), outline.mean(axis=0)
        normal = matrix[:3, 2] * np.sign(float(matrix[:3, 2] @ (middle - light)) or 1.0)
        direct = _falls(light, middle, normal)
        whole, lit = whole + area, lit + area * direct
        where = (piece.name, panel.name)
        if piece.board.lets_light_through:
            shining[where] = piece.board.translucency * direct
        holes = [transform(matrix, o.points) for o in panel.openings]
        closed = [o.kind not in OPEN for o in panel.openings]
        areas = np.array([_area(h) * c for h, c in zip(holes, closed, strict=True)])
        if areas.sum() > CLEAR:
            at = np.average([hole.mean(axis=0) for hole in holes], axis=0, weights=areas)
            panes.append(
                _Pane(where, at, normal, float(areas.sum()), tuple(holes),
                      tuple(_falls(light, hole.mean(axis=0), normal) for hole in holes),
                      linings.get(where, 0.0), _falls(light, at, normal))
            )  # fmt: skip
    if not whole:
        return Glow({}, {}, (), ())
    opened = sum(pane.area for pane in panes) / whole
    mean = lit / whole
    about = REFLECTS * mean / (1 - REFLECTS * (1 - min(opened, 1.0)))  # thrown to and fro within
    seen = {
        p.where: p.lets * (p.direct + about) if p.lets else REFLECTS * (mean + about) for p in panes
    }
    each = {
        p.where: tuple(p.lets * (d + about) if p.lets else REFLECTS * (mean + about)
                       for d in p.each)
        for p in panes
    }  # fmt: skip
    boards = {where: value + about * 0.5 for where, value in shining.items()}
    most = max([*(v for values in each.values() for v in values), *boards.values()], default=0.0)
    if not most:
        return Glow({}, {}, (), ())
    about_it = np.concatenate(corners)[:, :2]
    low, high = about_it.min(axis=0), about_it.max(axis=0)
    stand = (low + high) / 2, float((high - low).max()) / 2
    scatter = [p for p in panes if 0 < p.lets < SCATTERS]
    return Glow(
        {where: tuple((v / most) ** EYE for v in values) for where, values in each.items()},
        {where: (value / most) ** EYE for where, value in boards.items()},
        tuple(_pool(scatter, seen, stand, ground)),
        tuple(_spots([p for p in panes if not 0 < p.lets < SCATTERS], light, stand, ground)),
    )


def _falls(light: Floats, at: Floats, normal: Floats) -> float:
    """Light that falls on a place: by the square of the distance, and the slant."""
    way = at - light
    far = max(float(np.linalg.norm(way)), NEAREST)
    return max(0.0, float(way @ normal)) / far**3


def _area(ring: Floats) -> float:
    """Of a flat ring in space, (n, 3), mm2."""
    rel = ring - ring[0]
    crossed = np.cross(rel[1:-1], rel[2:])
    return float(np.linalg.norm(crossed.sum(axis=0))) / 2


def _pool(
    panes: Sequence[_Pane], seen: Mapping[Where, float], stand: tuple[Floats, float], ground: float
) -> Iterator[tuple[Floats, float]]:
    """Lines of equal light on the table round windows that scatter theirs (Lambert's law)."""
    if not panes:
        return
    middle, half = stand
    across = np.linspace(-REACH * half, REACH * half, GRID)
    x, y = np.meshgrid(middle[0] + across, middle[1] + across)
    table = np.stack([x, y, np.full_like(x, ground)], axis=-1)
    light = np.zeros_like(x)
    for pane in panes:
        way = table - pane.middle
        far = np.maximum(np.linalg.norm(way, axis=-1), NEAREST)
        leaving, coming = (way @ pane.normal) / far, -way[..., 2] / far
        slant = np.maximum(0.0, leaving) * np.maximum(0.0, coming)
        light += seen[pane.where] * pane.area * slant / far**2
    most = float(light.max())
    if most <= 0:
        return
    edge = np.pad(np.ones((GRID - 2, GRID - 2)), 1)  # lines that lead out of it end at its border
    lines = contourpy.contour_generator(x, y, edge * light / most)
    for level in LEVELS:
        for line in lines.lines(level):
            ring = np.asarray(line)
            if len(ring) > 3:
                yield np.column_stack([ring, np.full(len(ring), ground)]), level


def _spots(
    panes: Sequence[_Pane], light: Floats, stand: tuple[Floats, float], ground: float
) -> Iterator[tuple[Floats, float]]:
    """Shapes that open cut-outs throw on the table: each corner goes on along its ray."""
    middle, half = stand
    far = shapely.Point(middle).buffer(REACH * half)
    thrown = []
    for pane in panes:
        for hole in pane.holes:
            drop = light[2] - hole[:, 2]
            if len(hole) < 3 or (drop <= 0).any() or (hole - light).mean(axis=0) @ pane.normal <= 0:
                continue  # it shines level, or up
            share = (light[2] - ground) / drop
            spot = light[:2] + (hole[:, :2] - light[:2]) * share[:, None]
            shape = shapely.make_valid(Polygon(spot)).intersection(far)
            at = hole.mean(axis=0)
            # as much light as goes through, over as much table as it comes to lie on
            strength = _falls(light, at, pane.normal) * _area(hole) / max(shape.area, 1.0)
            thrown += [(p, strength) for p in shapely.get_parts(shape) if isinstance(p, Polygon)]
    most = max((strength for _, strength in thrown), default=0.0)
    for shape, strength in thrown:
        ring = np.array(shape.exterior.coords)[:-1]
        yield np.column_stack([ring, np.full(len(ring), ground)]), (strength / most) ** EYE


def glow_tone(value: float) -> tuple[str, str, float]:
    """Two colours, and the share of the second, that show so much light, 0 to 1."""
    return (DEEP, WARM, value / 0.6) if value < 0.6 else (WARM, FULL, (value - 0.6) / 0.4)


def draw_glow(picture: Picture, glow: Glow, camera: Camera) -> None:
    """Light on the table, under everything else."""
    for ring, _ in glow.pool:
        picture.add(Path((camera.project(ring),), fill=WARM, opacity=POOL))
    for ring, strength in glow.spots:
        picture.add(Path((camera.project(ring),), fill=FULL, opacity=SPOT * strength))
