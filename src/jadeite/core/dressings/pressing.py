"""A plate that presses a pattern into flat pieces: where it lies, and whether it fits.

Glue flaps and flaps that close an end may stay outside it.  It is turned by 0 or 90 degrees,
as patterns are seen to stand, unless the maker allows any turn.
"""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import shapely
from shapely.geometry import Polygon

from jadeite.core.dressings.dressing import Asked, Dressing
from jadeite.core.findings import Cure, Finding, Level
from jadeite.core.nets.model import Design, Floats, Panel, Piece
from jadeite.core.nets.pressed import Corner, Pressed
from jadeite.core.nets.roles import Role
from jadeite.core.project import Plate
from jadeite.core.shapes import family_by_key
from jadeite.core.units import number_text, rounded_up

__all__ = ["NET", "PRESSING", "WALLS", "plate_on", "pressed_panels"]

NET, WALLS = "net", "walls"  # areas that are no names of panels
SQUARE = (0.0, 90.0)  # degrees; common practice, a pattern stands square to the piece
TURNS = tuple(float(a) for a in range(0, 180, 5))  # degrees; from memory, any turn
CLEAR = 1e-9  # mm; rounding


def pressed_panels(piece: Piece, area: str) -> tuple[Panel, ...]:
    """The panels of a piece that are pressed: all but its flaps, its walls, or one by its name."""
    if area == NET:
        flaps = {p.name for p in piece.panels if p.role.traits.glue or p.role.traits.shuts}
        for fold in piece.tree:  # from the base on: what hangs on a flap is one as well
            if fold.parent in flaps:
                flaps.add(fold.child)
        return tuple(p for p in piece.panels if p.name not in flaps)
    if area == WALLS:
        return tuple(p for p in piece.panels if p.role is Role.WALL)
    return tuple(p for p in piece.panels if p.name == area)


def plate_on(piece: Piece, plate: Plate) -> tuple[Floats, float] | None:
    """Corners (4, 2) of the plate over what it presses of a piece, and its turn in degrees.

    None where it is too small, or presses nothing of the piece.
    """
    shape = _hull(piece, plate.area)
    if shape is None:
        return None
    for turn in TURNS if plate.turns == "any" else SQUARE:
        way = _turned(turn)
        points = shape @ way.T
        low, high = points.min(axis=0), points.max(axis=0)
        if (high - low <= np.array([plate.width, plate.height]) + CLEAR).all():
            middle = (low + high) / 2
            half = np.array([plate.width, plate.height]) / 2
            box = middle + np.array([[-1, -1], [1, -1], [1, 1], [-1, 1]]) * half
            return box @ way, turn
    return None


def _hull(piece: Piece, area: str) -> Floats | None:
    panels = pressed_panels(piece, area)
    if not panels:
        return None
    hull = shapely.union_all([Polygon(p.outline) for p in panels]).convex_hull
    return np.array(hull.exterior.coords)[:-1]


def _turned(turn: float) -> Floats:
    c, s = np.cos(np.radians(turn)), np.sin(np.radians(turn))
    return np.array([[c, -s], [s, c]])


def _dress(draft: Design, asked: Asked) -> Design:
    plate = asked.task.plate
    if plate is None:
        return draft
    own = {part for part, _ in family_by_key(asked.task.shape.key).parts}
    pieces = [p for p in draft.pieces if p.part in own and pressed_panels(p, plate.area)]
    if not pieces:
        words = f"Nothing is pressed: no piece has “{plate.area}”."
        cure = Cure("Press the whole net", (("plate.area", NET),))
        finding = Finding(Level.LOOK, "plate-nowhere", words, "plate", "contents", cure)
        return replace(draft, findings=(*draft.findings, finding))
    pressed, small = [], []
    for piece in pieces:
        place = plate_on(piece, plate)
        if place is None:
            small.append(piece)
            continue
        a, b, c, d = map(_corner, place[0])
        names = tuple(panel.name for panel in pressed_panels(piece, plate.area))
        pressed.append(Pressed(piece.name, (a, b, c, d), _words(piece, plate), plate.over, names))
    findings = (*draft.findings, *((_too_small(small, plate),) if small else ()))
    return replace(draft, pressed=tuple(pressed), findings=findings)


def _corner(point: Floats) -> Corner:
    return float(point[0]), float(point[1])


def _words(piece: Piece, plate: Plate) -> str:
    """What is pressed of a piece."""
    if plate.area == NET:
        return "the whole net without its flaps"
    if plate.area == WALLS:
        return "its walls"
    return f"the {piece.panel(plate.area).title}"


def _too_small(pieces: list[Piece], plate: Plate) -> Finding:
    """That the plate does not hold some pieces, and what would do."""
    hulls = [hull for piece in pieces if (hull := _hull(piece, plate.area)) is not None]
    spans = np.array([np.ptp(hull, axis=0) for hull in hulls])
    turned = plate.width < plate.height  # the longer side of the plate along the longer of the net
    needs = np.sort(spans, axis=1)[:, :: 1 if turned else -1].max(axis=0)
    width, height = (max(v, rounded_up(n)) for v, n in zip(
        (plate.width, plate.height), needs.tolist(), strict=True))  # fmt: skip
    whole = Cure(
        f"Use a plate of {number_text(width)} × {number_text(height)} mm",
        (("plate.width", width), ("plate.height", height)),
    )
    any_turn = plate.model_copy(update={"turns": "any"})
    if all(plate_on(piece, any_turn) is not None for piece in pieces):
        whole = Cure("Let it lie at any angle", (("plate.turns", "any"),))
    title = pieces[0].title
    return Finding(
        Level.LOOK,
        "plate-small",
        f"{title[0].upper()}{title[1:]}: {_words(pieces[0], plate)} takes "
        f"{number_text(float(spans[0][0]))} × {number_text(float(spans[0][1]))} mm, and the plate "
        f"is {number_text(plate.width)} × {number_text(plate.height)} mm.",
        f"{pieces[0].name}/{pieces[0].panels[0].name}",
        "contents",
        whole,
    )


PRESSING = Dressing("pressing", _dress)
