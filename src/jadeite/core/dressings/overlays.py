"""Overlays: a panel's outline moved inward by an even border, glued on its good side while flat.

On a stiffener an overlay stands proud: it is larger than the stiffener by
what wraps over its thickness, so that no raw edge shows.  On a panel with a
window it is a second frame: it leaves the whole pattern free.  Slots and what else is
glued on the panel it leaves free as well.
"""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import shapely
from shapely.geometry import Polygon
from shapely.geometry.polygon import orient

from jadeite.core.boards import Board
from jadeite.core.dressings.dressing import Asked, Dressing, Part, without
from jadeite.core.dressings.frames import bordered, heights_over, sides_of
from jadeite.core.dressings.taken import taken_up
from jadeite.core.errors import FieldError
from jadeite.core.findings import Cure
from jadeite.core.nets.arrivals import Arrival, When
from jadeite.core.nets.builder import NetBuilder
from jadeite.core.nets.model import Design, Floats, Joint, Kind, Opening, Panel, Piece
from jadeite.core.nets.roles import Role
from jadeite.core.nets.turns import closed_matrix
from jadeite.core.project import Task
from jadeite.core.reckoning import Mark, Reckoning, constant, given, reckon
from jadeite.core.shapes import ShapeFamily
from jadeite.core.shapes.extra import OVERLAY, STIFFENER

__all__ = ["LEAST_BORDER", "MOST_BORDER", "OVERLAYS", "USUAL_BORDER", "with_overlay"]

LEAST_BORDER, MOST_BORDER = 1.0, 30.0  # mm; from memory
USUAL_BORDER = 4.0  # mm; from memory, between 3 and 6
LEAST_WIDTH = 5.0  # mm; from memory, a narrower strip is no overlay
LEAST_STIFF = 12.0  # mm; from memory, over a narrower stiffener nothing can be wrapped
REVEAL = 1.0  # mm; from memory, of the panel's own frame that a second one leaves round a window
LEAST_RING = 2.5  # mm; from memory, a narrower second frame cannot be glued straight
FINE = 1e-6  # mm; rounding
MOST_CORNERS = 12  # design rule; round a curve an edge is not wrapped but snipped


def with_overlay(
    design: Design,
    piece_name: str,
    panel_name: str,
    border: float,
    board: Board,
    stiffener: Board | None = None,
) -> Design:
    """The design with an overlay on one panel, ``border`` mm from every edge of it.

    On a ``stiffener`` the border is what remains round its wrapped edges.

    Raises
    ------
    FieldError
        There is no such panel, or it leaves no room within the border.
    """
    field = f"overlays.{piece_name}"
    piece = next((p for p in design.pieces if p.name == piece_name), None)
    if piece is None or panel_name not in piece.index:
        raise FieldError(field, f"there is no panel “{panel_name[:40]}”", "Choose another panel.")
    panel = piece.panel(panel_name)
    if not panel.role.traits.cover:
        raise FieldError(field, f"the {panel.title} is glued or hidden", "Choose another panel.")
    windowed = any(opening.kind == "window" for opening in panel.openings)
    taken = taken_up(design, (piece_name, panel_name))
    if stiffener is not None and (windowed or taken is not None):
        what = f"a frame round the window of the {panel.title}" if windowed else (
            f"an overlay on the {panel.title}, on which other parts lie,")  # fmt: skip
        raise FieldError(field, f"{what} takes no stiffener", "Use one without a stiffener.")
    least = LEAST_WIDTH if stiffener is None else LEAST_STIFF
    outline = _inset(panel, border, least, field)
    hole = _window_of(panel, outline, border, field) if windowed else None
    holes = [] if hole is None else [Opening("window", hole)]
    if taken is not None:
        outline, left = _round_what_is_there(panel, outline, taken, border, field)
        holes += left
    number = 1 + sum(p.part == OVERLAY for p in design.pieces)
    name = f"overlay-{number}"
    height = piece.board.thickness / 2  # of what it lies on, above the panel's middle surface
    place = closed_matrix(piece, design.placements[piece_name], panel_name)
    pieces, placements, joints = [], {}, []
    laid: list[Arrival] = []
    sizes = {f"{name}-border": _border(number, border)}
    on = (piece_name, panel_name)
    if stiffener is None:
        what = "overlay" if hole is None else "second frame"
        top = _plate(name, f"overlay {number}", Role.OVERLAY, f"{what} on {panel.title}", board,
                     outline)  # fmt: skip
        if holes:
            top = replace(top, panels=(replace(top.panels[0], openings=tuple(holes)),))
        if hole is not None:
            sizes[f"{name}-ring"] = _ring_width(number, outline, hole)
        joints.append(
            Joint(Kind.GLUE, (name, "overlay"), on, f"overlay on the {panel.title}", "outside")
        )
        laid.append(Arrival(name, When.FLAT, on))
    else:
        insets = [_moved_in(outline, share * board.thickness) for share in (0.5, 1.0)]
        short = any(len(inset) != len(outline) for inset in insets)  # a side is lost on the way in
        if len(outline) > MOST_CORNERS or short or not _convex(outline):
            raise FieldError(
                field,
                f"an overlay cannot be wrapped round the outline of the {panel.title}",
                "Use one without a stiffener.",
            )
        under = f"stiffener-{number}"
        core = _moved_in(outline, board.thickness)
        plate = _plate(under, f"stiffener {number}", Role.STIFFENER, "stiffener", stiffener, core)
        top = _wrapped(name, f"overlay {number}", board, outline, stiffener.thickness)
        pieces.append(replace(plate, part=STIFFENER))
        placements[under] = place @ _up(height + stiffener.thickness / 2)
        height += stiffener.thickness
        joints += [
            Joint(
                Kind.GLUE,
                (under, "stiffener"),
                on,
                f"stiffener on the {panel.title}",
                "outside",
            ),
            Joint(Kind.GLUE, (under, "stiffener"), (name, "overlay"), "overlay on its stiffener"),
        ]
        laid += [
            Arrival(under, When.FLAT, on),
            Arrival(name, When.FLAT, (under, "stiffener")),
        ]
        sizes[f"{name}-wrap"] = _wrap(number, stiffener, board)
    placements[name] = place @ _up(height + board.thickness / 2)
    return replace(
        design,
        pieces=(*design.pieces, *pieces, replace(top, part=OVERLAY)),
        placements={**design.placements, **placements},
        joints=(*design.joints, *joints),
        sizes={**design.sizes, **sizes},
        arrivals=design.arrivals.adding(*laid),
    )


def _inset(panel: Panel, border: float, least: float, field: str) -> Floats:
    """The panel's outline within its border, counter-clockwise; mm."""
    inner = Polygon(panel.outline).buffer(-border, join_style="mitre")
    fits = isinstance(inner, Polygon) and not inner.is_empty
    if not fits or float(np.min(np.ptp(np.array(inner.exterior.coords), axis=0))) < least:
        small = min(float(v) for v in np.ptp(panel.outline, axis=0))
        most = max(LEAST_BORDER, int(10 * (small - least) / 2) / 10)
        raise FieldError(
            field, f"a border of {border:.1f} mm leaves nothing of the {panel.title}",
            f"Use {most:.1f} mm.",
        )  # fmt: skip
    outline = np.array(inner.exterior.coords)[:-1]
    return np.asarray(outline if inner.exterior.is_ccw else outline[::-1])


def _round_what_is_there(
    panel: Panel, outline: Floats, taken: shapely.Geometry, border: float, field: str
) -> tuple[Floats, list[Opening]]:
    """The overlay's outline and holes, clear of slots and of what else lies on the panel."""
    left = shapely.difference(Polygon(outline), taken)
    worn = left.buffer(-LEAST_RING / 2, join_style="mitre")  # no strip that cannot be glued
    left = shapely.get_parts(worn.buffer(LEAST_RING / 2, join_style="mitre"))
    left = [p for p in left if not p.is_empty]
    wide = [p for p in left if min(np.ptp(np.array(p.exterior.coords), axis=0)) >= LEAST_WIDTH]
    if len(wide) != 1:
        raise FieldError(
            field,
            f"what lies on the {panel.title} leaves no overlay in one piece",
            "Choose another panel, or a narrower border." if border > LEAST_BORDER
            else "Choose another panel.",
        )  # fmt: skip
    (whole,) = wide
    whole = orient(whole)
    holes = [Opening("hole", np.array(r.coords)[:-1][::-1]) for r in whole.interiors]
    return np.asarray(np.array(whole.exterior.coords)[:-1]), holes


def _window_of(panel: Panel, outline: Floats, border: float, field: str) -> Floats:
    """What a second frame leaves open: the panel's shape round all cut-outs, and a little more.

    Along each side it is even to that side of the panel, in mm.
    """
    cut = shapely.union_all([Polygon(opening.points) for opening in panel.openings])
    whole, sides = Polygon(panel.outline), sides_of(panel.outline)
    points = shapely.get_coordinates(cut)
    if len(sides):
        even = heights_over(sides, points).min(axis=1)
    else:
        even = np.array([min(whole.exterior.distance(shapely.points(points)))])
    free = bordered(panel.outline, sides, np.maximum(0.0, even - REVEAL))
    room = float(Polygon(outline).exterior.distance(free))
    if not Polygon(outline).contains(free) or room < LEAST_RING - FINE:
        inside = float(whole.exterior.distance(free))
        most = int(10 * (inside - LEAST_RING) + FINE) / 10
        raise FieldError(
            field,
            f"a border of {border:.1f} mm leaves no second frame round the window of the "
            f"{panel.title}",
            f"Use {most:.1f} mm." if most >= LEAST_BORDER else "Use a wider frame of the window.",
        )
    return np.asarray(np.array(orient(free).exterior.coords)[:-1])


def _ring_width(number: int, outline: Floats, hole: Floats) -> Reckoning:
    width = float(Polygon(outline).exterior.distance(Polygon(hole)))
    return reckon(
        f"Overlay {number}, narrowest",
        width,
        "between its outer edge and what it leaves open round the window",
        constant("left free round the window", REVEAL, "mm", Mark.MEMORY),
        constant("least", LEAST_RING, "mm", Mark.MEMORY),
    )


def _moved_in(outline: Floats, by: float) -> Floats:
    """A convex outline moved inward, mm."""
    inner = np.array(Polygon(outline).buffer(-by, join_style="mitre").exterior.coords)[:-1]
    return np.asarray(inner if Polygon(inner).exterior.is_ccw else inner[::-1])


def _convex(outline: Floats) -> bool:
    way = np.roll(outline, -1, axis=0) - outline
    after = np.roll(way, -1, axis=0)
    return bool((way[:, 0] * after[:, 1] - way[:, 1] * after[:, 0] > 0).all())


def _up(height: float) -> Floats:
    out = np.eye(4)
    out[2, 3] = height
    return out


def _plate(name: str, title: str, role: Role, words: str, board: Board, outline: Floats) -> Piece:
    """One flat panel."""
    size = (float(np.ptp(outline[:, 0])), float(np.ptp(outline[:, 1])))
    return Piece(name, title, board, (Panel(role.value, words, role, outline, size),), ())


def _wrapped(name: str, title: str, board: Board, outside: Floats, thickness: float) -> Piece:
    """A cover whose edges are bent down over a stiffener of a thickness in mm."""
    net = NetBuilder(name, title, board)
    top = net.polygon("overlay", _moved_in(outside, board.thickness / 2), "overlay")
    top.role = Role.OVERLAY
    for i in range(len(outside)):
        edge = net.wall(f"wrap.{i}", top.side(str(i)), thickness + board.thickness / 2,
                        title="edges", role=Role.WRAP)  # fmt: skip
        edge.kind = "rolled"  # bent over the stiffener's edge: no score is needed
    return net.build()


def _border(number: int, border: float) -> Reckoning:
    return reckon(
        f"Overlay {number}, border",
        border,
        "the same on every side: an uneven one is seen first",
        given("wanted", border),
        constant("usual", USUAL_BORDER, "mm", Mark.MEMORY),
    )


def _wrap(number: int, stiffener: Board, cover: Board) -> Reckoning:
    return reckon(
        f"Overlay {number}, wraps over by",
        stiffener.thickness + cover.thickness,
        "larger than its stiffener on each side: by what wraps over its thickness, and its own",
        given("stiffener's thickness", stiffener.thickness),
        given("cover's thickness", cover.thickness),
    )


def _dress(draft: Design, asked: Asked) -> Design:
    for over in asked.task.overlays:
        under = asked.boards[STIFFENER] if over.stiffener else None
        try:
            board = asked.boards[OVERLAY]
            draft = with_overlay(draft, over.piece, over.panel, over.border, board, under)
        except FieldError as error:
            overlays = tuple(o for o in asked.task.overlays if o is not over)
            cure = Cure("Leave it off", (("overlays", overlays),))
            draft = without(draft, "overlay", f"{over.piece}/{over.panel}", error, cure)
    return draft


def _overlaid(task: Task, _: ShapeFamily) -> bool:
    return bool(task.overlays)


def _stiffened(task: Task, _: ShapeFamily) -> bool:
    return any(over.stiffener for over in task.overlays)


# board and colour until the maker gives others; from memory
OVERLAYS = Dressing(
    "overlays",
    _dress,
    (
        Part(OVERLAY, "Overlays", _overlaid, colour="#D9B978"),
        Part(STIFFENER, "Stiffeners", _stiffened, board="thin-chipboard"),
    ),
)
