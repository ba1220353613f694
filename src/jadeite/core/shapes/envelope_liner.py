"""A liner in an envelope: on its face and its top flap, scored where the envelope is."""

from __future__ import annotations

import itertools

import numpy as np
import shapely
from shapely.geometry import LineString, Polygon
from shapely.geometry.polygon import orient

from jadeite.core.boards import Board
from jadeite.core.errors import FieldError, option_way
from jadeite.core.nets.model import Floats, Fold, Panel, Piece
from jadeite.core.nets.roles import Role
from jadeite.core.units import number_text, rounded_down

__all__ = ["APART", "liner_for"]

APART = 0.015  # mm; design rule, so far inside the envelope's surface it is drawn and proved
LEAST = 10.0  # mm; from memory, a narrower liner cannot be glued straight
FOOT = 2.0  # mm; from memory, it ends short of the fold at the foot
ROUNDING = 1e-6  # mm; rounding


def liner_for(
    name: str, board: Board, face: Floats, edge: Floats, flap: Floats, border: float
) -> Piece:
    """The liner of an envelope by its net's outlines, (n, 2) each, mm; seen from its own side.

    ``face``, ``edge`` and ``flap`` are those of the face, of what the top flap folds over, and
    of that flap, the flap below the face in the net.  The liner is ``border`` mm within the
    edges that stay free; its scores lie on the envelope's, but for a hair by which it is inside.

    Raises
    ------
    FieldError
        The border leaves nothing of it; it names one that does.
    """
    turned = [outline * np.array([1.0, -1.0]) for outline in (face, edge, flap)]
    low, mouth = float(turned[0][:, 1].min()), float(turned[0][:, 1].max())
    hinge = float(turned[1][:, 1].max())
    inner = _within(turned[2], hinge, border)
    on = inner[inner[:, 1] < hinge + ROUNDING] if len(inner) else inner
    half = float(np.abs(on[:, 0]).min()) if len(on) > 1 else 0.0
    if half < LEAST / 2 or float(np.ptp(inner[:, 1])) < LEAST:
        shape = Polygon(turned[2])
        x0, y0, x1, y1 = shape.bounds
        most = rounded_down(max(2.0, min((x1 - x0 - LEAST) / 2, y1 - y0 - LEAST) / 2))
        raise FieldError(
            "liner-border", f"{number_text(border)} mm leaves nothing of a liner on the flap",
            f"Use {number_text(most)} mm.", (option_way("liner-border", most),),
        )  # fmt: skip
    first, second = mouth - APART, hinge - 3 * APART
    body = np.array([[-half, low + FOOT], [half, low + FOOT], [half, first], [-half, first]])
    strip = np.array([[-half, first], [half, first], [half, second], [-half, second]])
    top = inner - np.array([0.0, 3 * APART])
    panels = tuple(
        Panel(key, title, role, outline, (2 * half, float(np.ptp(outline[:, 1]))))
        for key, title, role, outline in (
            ("liner", "liner", Role.INSET, body),
            ("edge", "liner edge", Role.EDGE, strip),
            ("flap", "liner flap", Role.INSET, top),
        )
    )
    folds = tuple(
        Fold(parent, child, (-half, y), (half, y), 90.0)
        for parent, child, y in (("liner", "edge", first), ("edge", "flap", second))
    )
    return Piece(name, "liner", board, panels, folds)


def _within(flap: Floats, hinge: float, border: float) -> Floats:
    """A flap less a border along every edge but its hinge; (n, 2), ccw."""
    shape = orient(Polygon(flap))
    ring = np.array(shape.exterior.coords)
    free = [
        LineString(pair)
        for pair in itertools.pairwise(ring)
        if not all(point[1] < hinge + ROUNDING for point in pair)
    ]
    left = shape.difference(shapely.union_all(shapely.buffer(free, border, join_style="mitre")))
    parts = [part for part in shapely.get_parts(left) if part.geom_type == "Polygon"]
    if not parts:
        return np.zeros((0, 2))
    part = orient(max(parts, key=lambda p: p.area))
    return np.array(part.exterior.coords)[:-1]
