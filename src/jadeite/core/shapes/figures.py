"""Small figures of our own for cards: the outline of a body and of a head, and lines on both."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
import shapely
from shapely import affinity
from shapely.geometry import LineString, Point, Polygon
from shapely.geometry.polygon import orient

from jadeite.core.nets.model import Floats

__all__ = ["FIGURES", "Figure", "figure"]

# of our own
FIGURES = (("owl", "owl"), ("moon", "moon"))
ARC = 16  # setting: parts of a quarter of an arc
OVER = 0.3  # of a head, how far it is before its body; from memory
SPECK = 0.02  # of a mm; rounding


@dataclass(frozen=True, eq=False)
class Figure:
    """A body and a head about (0, 0), (n, 2) ccw in mm, with lines, (m, 2) each, on either.

    ``neck`` is where the head's middle is over the body's.
    """

    body: Floats
    head: Floats
    body_lines: tuple[Floats, ...]
    head_lines: tuple[Floats, ...]
    neck: float


def figure(key: str, head: float, body: float) -> Figure:
    """A figure whose head and body are so many mm wide.

    Raises
    ------
    KeyError
        There is none of this key.
    """
    return {"owl": _owl, "moon": _moon}[key](head, body)


def _ring(shape: Polygon) -> Floats:
    shape = shapely.remove_repeated_points(shape, SPECK)
    return np.array(orient(shape).exterior.coords)[:-1]


def _circle(x: float, y: float, radius: float) -> Floats:
    turn = np.linspace(0, 2 * math.pi, 4 * ARC + 1)
    return np.column_stack([x + radius * np.cos(turn), y + radius * np.sin(turn)])


def _ellipse(x: float, y: float, a: float, b: float) -> Polygon:
    return affinity.translate(affinity.scale(Point(0, 0).buffer(1.0, quad_segs=ARC), a, b), x, y)


def _sized(shape: Polygon, wide: float) -> tuple[Polygon, float, tuple[float, float]]:
    """A shape scaled to a width about the middle of its bounds; its scale and old middle."""
    x0, y0, x1, y1 = shape.bounds
    middle = (x0 + x1) / 2, (y0 + y1) / 2
    scale = wide / (x1 - x0)
    moved = affinity.translate(shape, -middle[0], -middle[1])
    return affinity.scale(moved, scale, scale, origin=(0, 0)), scale, middle


def _placed(lines: list[Floats], scale: float, middle: tuple[float, float]) -> tuple[Floats, ...]:
    return tuple((line - np.array(middle)) * scale for line in lines)


def _joined(
    body: Floats, head: Floats, body_lines: tuple[Floats, ...], head_lines: tuple[Floats, ...]
) -> Figure:
    """A head over its body, so that both meet and the body is not covered."""
    low, high = float(head[:, 1].min()), float(head[:, 1].max())
    neck = float(body[:, 1].max()) - low - OVER * (high - low)
    return Figure(body, head, body_lines, head_lines, neck)


def _owl(head: float, body: float) -> Figure:
    """An egg with wings and a telescope under one; a round head with two tufts."""
    egg = _ellipse(0, 0, 0.42, 0.56)
    wings = [_ellipse(s * 0.4, 0.02, 0.14, 0.4) for s in (1, -1)]
    feet = [_ellipse(s * 0.16, -0.57, 0.11, 0.06) for s in (1, -1)]
    tube = LineString([(0.28, -0.3), (0.74, 0.16)]).buffer(0.075, cap_style="flat")
    end = LineString([(0.66, 0.08), (0.8, 0.22)]).buffer(0.11, cap_style="flat")
    whole = shapely.union_all([egg, *wings, *feet, tube, end]).buffer(0.015).buffer(-0.015)
    torso, scale, middle = _sized(whole, body)
    rows = [np.column_stack([x := np.linspace(-w, w, 9), y - 0.05 * np.cos(x / w * math.pi)])
            for w, y in ((0.16, 0.1), (0.22, -0.06), (0.2, -0.22))]  # fmt: skip
    face = _ellipse(0, 0, 0.5, 0.44)
    tufts = [Polygon([(s * 0.2, 0.38), (s * 0.44, 0.16), (s * 0.47, 0.56)]) for s in (1, -1)]
    top = shapely.union_all([face, *tufts]).buffer(-0.015).buffer(0.03).buffer(-0.015)
    skull, own, off = _sized(top, head)
    eyes = [_circle(s * 0.2, 0.04, r) for s in (1, -1) for r in (0.16, 0.07)]
    beak = np.array([(-0.06, -0.06), (0.06, -0.06), (0.0, -0.2), (-0.06, -0.06)])
    return _joined(_ring(torso), _ring(skull), _placed(rows, scale, middle),
                   _placed([*eyes, beak], own, off))  # fmt: skip


def _moon(head: float, body: float) -> Figure:
    """A hill, and a round face above it."""
    x = np.linspace(1.0, -1.0, 41)
    top = 0.34 * np.cos(x * math.pi / 2) + 0.06 * np.sin(3 * x)
    hill = Polygon(np.vstack([[-1.0, -0.2], [1.0, -0.2], np.column_stack([x, top])]))
    ground, _, _ = _sized(hill, body)
    face, own, off = _sized(_ellipse(0, 0, 0.5, 0.5), head)
    eyes = [_circle(s * 0.16, 0.08, 0.05) for s in (1, -1)]
    turn = np.linspace(math.radians(215), math.radians(325), 13)
    smile = np.column_stack([0.24 * np.cos(turn), 0.02 + 0.24 * np.sin(turn)])
    return _joined(_ring(ground), _ring(face), (), _placed([*eyes, smile], own, off))
