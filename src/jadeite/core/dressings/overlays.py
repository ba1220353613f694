"""Overlays: a panel's outline moved inward by an even border, glued on its good side while flat.

On a stiffener an overlay stands proud: it is larger than the stiffener by
what wraps over its thickness, so that no raw edge shows.  On a panel with a
window it is a second frame: it leaves the whole pattern free.  Slots and what else is
glued on the panel it leaves free as well.
"""

from __future__ import annotations

from dataclasses import replace

import numpy as np
from shapely.geometry import Polygon

from jadeite.core.boards import Board
from jadeite.core.dressings.dressing import Asked, Dressing, Part, without
from jadeite.core.dressings.foam import BESIDE_PAD, PAD, pads_under
from jadeite.core.dressings.overlay_outline import (
    LEAST_BORDER,
    LEAST_RING,
    LEAST_WIDTH,
    MOST_BORDER,
    REVEAL,
    clear_of,
    convex,
    cut_out,
    moved_in,
    round_window,
    within_border,
)
from jadeite.core.dressings.panes import motif_of
from jadeite.core.dressings.taken import taken_up
from jadeite.core.dressings.upright import seen_upright
from jadeite.core.errors import FieldError
from jadeite.core.findings import Cure
from jadeite.core.nets.arrivals import Arrival, How, When
from jadeite.core.nets.builder import NetBuilder
from jadeite.core.nets.model import Design, Floats, Joint, Kind, Opening, Panel, Piece
from jadeite.core.nets.roles import Role
from jadeite.core.nets.turns import closed_matrix, transform
from jadeite.core.patterns import Motif
from jadeite.core.project import Overlay, Task
from jadeite.core.reckoning import Mark, Reckoning, constant, given, reckon
from jadeite.core.shapes import ShapeFamily
from jadeite.core.shapes.extra import OVERLAY, STIFFENER

__all__ = [
    "LEAST_BORDER",
    "MOST_BORDER",
    "OVERLAYS",
    "USUAL_BORDER",
    "overlay_motif",
    "with_overlay",
]

HEIGHT = "outside-height"  # the size of what is closed
FINE = 1e-6  # mm; rounding
USUAL_BORDER = 4.0  # mm; from memory, between 3 and 6
LEAST_STIFF = 12.0  # mm; from memory, over a narrower stiffener nothing can be wrapped
MOST_CORNERS = 12  # design rule; round a curve an edge is not wrapped but snipped


def with_overlay(
    design: Design,
    piece_name: str,
    panel_name: str,
    border: float,
    board: Board,
    stiffener: Board | None = None,
    *,
    foam: float = 0.0,
    motif: Motif | None = None,
) -> Design:
    """The design with an overlay on one panel, ``border`` mm from every edge of it.

    On a ``stiffener`` the border is what remains round its wrapped edges.  On ``foam`` of so
    many mm it stands off the panel; a ``motif`` is cut out of it.

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
    outline = within_border(panel, border, least, field)
    hole = round_window(panel, outline, border, field) if windowed else None
    holes = [] if hole is None else [Opening("window", hole)]
    if taken is not None:
        outline, left = clear_of(panel, outline, taken, border, field)
        holes += left
    if motif is not None:
        if stiffener is not None or windowed:
            what = f"round the window of the {panel.title}" if windowed else "over a stiffener"
            raise FieldError(field, f"an overlay {what} takes no pattern of its own",
                             "Use one without a pattern.")  # fmt: skip
        rim = PAD + BESIDE_PAD if foam else 0.0
        holes += cut_out(outline, holes, motif, rim, seen_upright(design, piece, panel), field)
    number = 1 + sum(p.part == OVERLAY for p in design.pieces)
    name = f"overlay-{number}"
    # of what it lies on, above the panel's middle surface
    height = piece.board.thickness / 2 + foam
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
            Joint(Kind.GLUE, (name, "overlay"), on, f"overlay on the {panel.title}", "outside",
                  pad=foam)
        )  # fmt: skip
        laid.append(Arrival(name, When.FLAT, on, How.PADDED if foam else How.GLUED))
    else:
        insets = [moved_in(outline, share * board.thickness) for share in (0.5, 1.0)]
        short = any(len(inset) != len(outline) for inset in insets)  # a side is lost on the way in
        if len(outline) > MOST_CORNERS or short or not convex(outline):
            raise FieldError(
                field,
                f"an overlay cannot be wrapped round the outline of the {panel.title}",
                "Use one without a stiffener.",
            )
        under = f"stiffener-{number}"
        core = moved_in(outline, board.thickness)
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
                pad=foam,
            ),
            Joint(Kind.GLUE, (under, "stiffener"), (name, "overlay"), "overlay on its stiffener"),
        ]
        laid += [
            Arrival(under, When.FLAT, on, How.PADDED if foam else How.GLUED),
            Arrival(name, When.FLAT, (under, "stiffener")),
        ]
        sizes[f"{name}-wrap"] = _wrap(number, stiffener, board)
    placements[name] = place @ _up(height + board.thickness / 2)
    bought = design.bought
    if foam:
        ring = [hole.points for hole in (top.panels[0].openings if stiffener is None else ())]
        bought = (*bought, pads_under(outline, ring, on, foam, field))
        sizes[f"{name}-foam"] = _raised(number, foam)
    return replace(
        design,
        pieces=(*design.pieces, *pieces, replace(top, part=OVERLAY)),
        placements={**design.placements, **placements},
        joints=(*design.joints, *joints),
        sizes={**design.sizes, **sizes},
        arrivals=design.arrivals.adding(*laid),
        bought=bought,
    )


def _ring_width(number: int, outline: Floats, hole: Floats) -> Reckoning:
    width = float(Polygon(outline).exterior.distance(Polygon(hole)))
    return reckon(
        f"Overlay {number}, narrowest",
        width,
        "between its outer edge and what it leaves open round the window",
        constant("left free round the window", REVEAL, "mm", Mark.MEMORY),
        constant("least", LEAST_RING, "mm", Mark.MEMORY),
    )


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
    top = net.polygon("overlay", moved_in(outside, board.thickness / 2), "overlay")
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


def _raised(number: int, foam: float) -> Reckoning:
    return reckon(
        f"Overlay {number}, stands off by", foam, "the foam under it; it counts where a lid passes",
        given("wanted", foam),
    )  # fmt: skip


def _wrap(number: int, stiffener: Board, cover: Board) -> Reckoning:
    return reckon(
        f"Overlay {number}, wraps over by",
        stiffener.thickness + cover.thickness,
        "larger than its stiffener on each side: by what wraps over its thickness, and its own",
        given("stiffener's thickness", stiffener.thickness),
        given("cover's thickness", cover.thickness),
    )


def overlay_motif(over: Overlay, task: Task) -> Motif | None:
    """The pattern that is cut out of an overlay; None where none is.

    Raises
    ------
    FieldError
        There is no such pattern.
    """
    return motif_of(over.pattern, task, f"overlays.{over.piece}") if over.pattern else None


def _dress(draft: Design, asked: Asked) -> Design:
    before = draft
    for over in asked.task.overlays:
        under = asked.boards[STIFFENER] if over.stiffener else None
        try:
            board = asked.boards[OVERLAY]
            draft = with_overlay(
                draft, over.piece, over.panel, over.border, board, under,
                foam=over.foam, motif=overlay_motif(over, asked.task),
            )  # fmt: skip
        except FieldError as error:
            overlays = tuple(o for o in asked.task.overlays if o is not over)
            cure = Cure("Leave it off", (("overlays", overlays),))
            draft = without(draft, "overlay", f"{over.piece}/{over.panel}", error, cure)
    return _as_high(before, draft)


def _as_high(before: Design, draft: Design) -> Design:
    """With its closed height counted anew where overlays stand on top of it."""
    if draft is before or HEIGHT not in draft.sizes:
        return draft
    more = _top(draft) - _top(before)
    if more < FINE:
        return draft
    was = draft.sizes[HEIGHT]
    higher = reckon(
        was.name, was.value + more, "what it was, and the overlay that stands on it",
        replace(was, name="without the overlay"), given("overlay, with what it stands on", more),
    )  # fmt: skip
    return replace(draft, sizes={**draft.sizes, HEIGHT: higher})


def _top(design: Design) -> float:
    """How high the closed thing reaches, in mm."""
    return max(
        float(transform(closed_matrix(piece, design.placements[piece.name], panel.name),
                        panel.outline)[:, 2].max()) + piece.board.thickness / 2
        for piece in design.pieces
        for panel in piece.panels
    )  # fmt: skip


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
