"""Windows in any panel of any family, filled with a pattern and lined.

The frame of a window is along each side as wide as what lies behind it asks
for.  Tabs and tuck flaps behind it are trimmed as far as they still hold.  The
pattern stands upright as the finished thing stands.  The lining covers the
window by its margin, on the back, and stays off everything that is glued later.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np
import shapely
from shapely.geometry import Polygon
from shapely.geometry.polygon import orient

from jadeite.core.boards import Board
from jadeite.core.boards.fit_rules import SLOT_AROUND
from jadeite.core.dressings.behind import COVERED, Where, glued_to, standing_at
from jadeite.core.dressings.frames import (
    BESIDE_TAB,
    LINING_MARGIN,
    OFF_WALL,
    PAST_TAB,
    Frame,
    frame_round,
    inset,
    side_names,
)
from jadeite.core.dressings.trimmed import trimmed_behind
from jadeite.core.dressings.upright import seen_upright
from jadeite.core.errors import FieldError
from jadeite.core.nets.arrivals import Arrival, When
from jadeite.core.nets.model import Design, Floats, Hollow, Joint, Kind, Opening, Panel, Piece
from jadeite.core.nets.roles import Role
from jadeite.core.nets.turns import closed_matrix
from jadeite.core.patterns import USUAL_CELL, Motif, fill, holds_together, open_share
from jadeite.core.reckoning import Mark, Reckoning, constant, given, reckon
from jadeite.core.shapes.extra import LINING
from jadeite.core.solid import Form

__all__ = [
    "LEAST_FRAME",
    "LINING_MARGIN",
    "MOST_FRAME",
    "USUAL_FRAME",
    "Pane",
    "framed",
    "hollow_before",
    "with_window",
]

USUAL_FRAME = 6.0  # mm of board round a window; from memory
LEAST_FRAME, MOST_FRAME = 3.0, 60.0  # mm; from memory
LEAST_PANE = 6.0  # mm; from memory, a narrower window is a slot
PLACES = 9  # decimals of a mm; rounding, panels that differ by less are alike
KEPT = 128  # from memory, the windows of some works


@dataclass(frozen=True)
class Pane:
    """What is wanted of one window: frame and a cell of its motif in mm, which variation.

    Without a motif it is plain: the whole window is cut out.  Tabs behind it are
    trimmed unless they are to stay ``whole``; an ``even`` frame is the same all round.  One
    that is ``lined`` in another way than by itself leaves room for that.  Where its pattern
    goes on, ``round_`` says how far round the walls its panel begins, and how long they are.
    """

    motif: Motif | None = None
    frame: float = USUAL_FRAME
    size: float = USUAL_CELL
    number: int = 0
    whole: bool = False
    even: bool = False
    lined: bool = False
    round_: tuple[float, float] | None = None


def framed(
    design: Design, piece_name: str, panel_name: str, pane: Pane, lining: Board | None = None
) -> tuple[Design, Frame]:
    """The design with the tabs behind a panel trimmed, and the frame that a window gets there.

    Raises
    ------
    FieldError
        There is no such panel, or it is glued or bent.
    """
    field = f"windows.{piece_name}"
    piece = next((p for p in design.pieces if p.name == piece_name), None)
    if piece is None or panel_name not in piece.index:
        raise FieldError(field, f"there is no panel “{panel_name[:40]}”", "Choose another panel.")
    panel, where = piece.panel(panel_name), (piece_name, panel_name)
    cut_already = any(opening.kind == "window" for opening in panel.openings)
    if not panel.role.traits.window or cut_already or _glued_whole(design, where):
        raise FieldError(
            field, f"the {panel.title} is glued, bent or cut already", "Choose another panel."
        )
    lined = lining is not None or pane.lined
    if not pane.whole:
        spare = pane.frame - PAST_TAB - (BESIDE_TAB if lined else 0.0)
        design = trimmed_behind(design, where, spare)
    shadows = _shadows(design, where)
    walls = (
        [Polygon(wall) for wall in standing_at(design, where, lining.thickness + OFF_WALL)]
        if lining is not None
        else []
    )
    frame = frame_round(panel.outline, shadows, walls, pane.frame, lined=lined)
    if pane.even:
        frame = replace(frame, widths=np.full(len(frame.widths), frame.widths.max()))
    return design, frame


def _shadows(design: Design, where: Where) -> list[Polygon]:
    return [shapely.make_valid(Polygon(shadow)) for shadow in glued_to(design, where)]


def with_window(
    design: Design,
    piece_name: str,
    panel_name: str,
    pane: Pane,
    lining: Board | None = None,
    widths: Floats | None = None,
) -> Design:
    """The design with a window in one panel, and a lining behind it if a board is given for it.

    ``widths``, (n,) float, mm, are those that the sides of its frame have at least.

    Raises
    ------
    FieldError
        There is no such panel, it is glued or bent, or it is too small for a window.
    """
    field = f"windows.{piece_name}"
    design, frame = framed(design, piece_name, panel_name, pane, lining)
    if widths is not None:
        frame = replace(frame, widths=np.maximum(frame.widths, widths))
    piece = design.piece(piece_name)
    panel = piece.panel(panel_name)
    lined = lining is not None or pane.lined
    beside = max(SLOT_AROUND, LINING_MARGIN + PAST_TAB) if lined else SLOT_AROUND
    window = inset(frame.window(), panel.openings, beside, LEAST_PANE)
    if window is None:
        raise FieldError(
            field,
            f"a frame of {frame.widths.max():.1f} mm leaves no window in the {panel.title}",
            "Use a larger inside, or no window there.",
        )
    middle = Polygon(window)
    shadows = _shadows(design, (piece_name, panel_name))
    if any(float(shadow.intersection(middle).area) > COVERED for shadow in shadows):
        raise FieldError(
            field,
            f"something is glued over the middle of the {panel.title}",
            "Choose another panel.",
        )
    if pane.motif is not None:
        pane = replace(pane, number=pane.number % pane.motif.varies)
    seen = seen_upright(design, piece, panel)
    at = panel.outline[int(np.argmin(panel.outline @ seen[0]))]  # its left end, seen upright
    upright = _filled(
        _key((panel.outline - at) @ seen.T),
        _key((window - at) @ seen.T),
        tuple(_key((o.points - at) @ seen.T) for o in panel.openings if o.closed),
        pane,
    )
    if not upright:
        raise FieldError(
            field,
            f"nothing of the pattern fits into the window of the {panel.title}",
            "Use a smaller pattern, or a plain window.",
        )
    holes = [_ccw(hole @ seen + at) for hole in upright]
    cut = replace(panel, openings=(*panel.openings, *(Opening("window", hole) for hole in holes)))
    panels = tuple(cut if p.name == panel_name else p for p in piece.panels)
    alike = [p.name for p in design.pieces if p.panels is piece.panels]  # copies are cut alike
    number = 1 + sum(key.startswith("window-") and key.endswith("-frame") for key in design.sizes)
    name = f"window-{number}"
    sizes = {
        f"{name}-frame": _frame(number, panel, frame, seen),
        f"{name}-open": reckon(
            f"Window {number}, open",
            100 * open_share(panel.outline, holes),
            "what is cut out, by the whole panel",
            given("cut-outs", float(len(holes)), ""),
            unit="%",
        ),
    }
    made = replace(
        design,
        pieces=tuple(replace(p, panels=panels) if p.name in alike else p
                     for p in design.pieces),
        sizes={**design.sizes, **sizes},
    )  # fmt: skip
    if lining is None:
        return made
    return _lined(made, alike, panel, _covered(window, frame), lining)


def _ccw(ring: Floats) -> Floats:
    return ring if shapely.LinearRing(ring).is_ccw else ring[::-1]


def _key(points: Floats) -> bytes:
    return np.round(points, PLACES).tobytes()


def _points(key: bytes) -> Floats:
    return np.frombuffer(key).reshape(-1, 2)


@lru_cache(maxsize=KEPT)  # walls are alike, and as a rule stay so at a change elsewhere
def _filled(
    outline: bytes, window: bytes, cut: tuple[bytes, ...], pane: Pane
) -> tuple[Floats, ...]:
    """Cut-outs of a window that is seen upright, given as keys; none where board would part."""
    area = _ccw(_points(window))
    holes = fill(area, pane.motif, pane.size, pane.number, round_=pane.round_).holes
    others = [_points(opening) for opening in cut]
    return holes if holes and holds_together(_points(outline), [*others, *holes]) else ()


def _glued_whole(design: Design, where: Where) -> bool:
    """Whether a panel is itself glued on another, or another lies flat on it."""
    glued = any(j.kind is Kind.GLUE and j.tab == where for j in design.joints)
    return glued or bool(design.arrivals.lying_on(where))


def _frame(number: int, panel: Panel, frame: Frame, seen: Floats) -> Reckoning:
    """Widths of the frame along each side, and why; its value is the widest."""
    terms = [given("wanted", frame.wanted)]
    for i, side in enumerate(side_names(frame, seen)):
        glued, wall = float(frame.glued[i]), float(frame.walls[i])
        why: list[Reckoning] = []
        if glued:
            why.append(given("a tab or flap behind it reaches", glued))
        if wall:
            why.append(given("walls of others end there within", wall))
        if frame.lined:
            margin = float(frame.margins[i])
            why.append(constant("lining's margin", margin, "mm", Mark.MEMORY))
        if glued:
            why.append(constant("beyond", PAST_TAB, "mm", Mark.MEMORY))
        rule = "what lies behind that side, or as wide as wanted, or as the like side opposite"
        terms.append(reckon(side, float(frame.widths[i]), rule, *why))
    return reckon(
        f"Window {number}, frame at its widest",
        float(frame.widths.max()),
        f"along each side of the {panel.title} as wide as what lies behind it, or as wanted",
        *terms,
    )


def _covered(window: Floats, frame: Frame) -> Floats:
    """What the lining of a window covers: its margin round it, less beside a tab; (n, 2)."""
    wide = Polygon(window).buffer(LINING_MARGIN, join_style="mitre")
    shape = orient(wide.intersection(frame.lining()))
    return np.asarray(np.array(shape.exterior.coords)[:-1])


def hollow_before(hollow: Hollow, at: Floats, inward: Floats) -> Hollow:
    """What of a hollow lies behind the face of a lining; it gives way by the lining's thickness.

    ``at`` and ``inward`` are (3,) float, a place in mm and a unit vector.
    """
    size, centre = np.array(hollow.size), np.array(hollow.centre)
    if hollow.form is Form.BLOCK:
        reach = float(np.abs(inward) @ size) / 2
    elif hollow.form is Form.BALL:
        reach = float(size[0]) / 2
    else:
        level = float(np.hypot(inward[0], inward[1]))
        reach = (level * float(size[0]) + abs(float(inward[2])) * float(size[2])) / 2
    over = reach - float((centre - at) @ inward)
    if over <= 0:
        return hollow
    axis = int(np.argmax(np.abs(inward)))
    give = over / abs(float(inward[axis]))
    if hollow.form is Form.BLOCK or (hollow.form is Form.CYLINDER and axis == 2):
        size[axis] -= give
        centre[axis] += np.sign(inward[axis]) * give / 2
    else:
        if hollow.form is Form.CYLINDER:  # it gets narrower, by more where the face leans
            over /= float(np.hypot(inward[0], inward[1]))
        size -= np.array([2.0, 2.0, 2.0 if hollow.form is Form.BALL else 0.0]) * over
    x, y, z = size.tolist()
    cx, cy, cz = centre.tolist()
    return replace(hollow, size=(x, y, z), centre=(cx, cy, cz))


def _lined(
    design: Design, names: Sequence[str], panel: Panel, outline: Floats, board: Board
) -> Design:
    """A lining on the back of a window of each copy, glued on while everything is flat."""
    size = (float(np.ptp(outline[:, 0])), float(np.ptp(outline[:, 1])))
    sheets = (Panel("lining", f"lining of {panel.title}", Role.LINING, outline, size),)
    first = 1 + sum(p.part == LINING for p in design.pieces)
    margin = reckon(
        f"Lining {first}, larger by",
        LINING_MARGIN,
        "the margin that is glued round the window; 3 mm where it is notched for a tab",
        constant("margin", LINING_MARGIN, "mm", Mark.MEMORY),
        constant("beside a tab", BESIDE_TAB, "mm", Mark.MEMORY),
    )
    hollow, cells = design.hollow, design.cells
    pieces, placements, joints = list(design.pieces), {}, list(design.joints)
    laid: list[Arrival] = []
    for number, on in enumerate(names, start=first):
        piece, name, where = design.piece(on), f"lining-{number}", (on, panel.name)
        pieces.append(Piece(name, f"lining {number}", board, sheets, (), part=LINING))
        back = np.eye(4)
        apart = (piece.board.thickness + board.thickness) / 2
        back[2, 3] = -apart if piece.good_side == "outside" else apart
        place = closed_matrix(piece, design.placements[on], panel.name) @ back
        inward = place[:3, 2] * (-1.0 if piece.good_side == "outside" else 1.0)
        face = place[:3, 3] + place[:3, :2] @ outline[0] + inward * board.thickness / 2
        hollow = hollow and hollow_before(hollow, face, inward)
        cells = tuple(hollow_before(cell, face, inward) for cell in cells)
        placements[name] = place
        laid.append(Arrival(name, When.BEHIND, where))
        title = f"lining of the {panel.title}"
        joints.append(Joint(Kind.GLUE, (name, "lining"), where, title, "inside"))
    return replace(
        design,
        hollow=hollow,
        cells=cells,
        pieces=tuple(pieces),
        placements={**design.placements, **placements},
        joints=tuple(joints),
        sizes={**design.sizes, f"lining-{first}-margin": margin},
        arrivals=design.arrivals.adding(*laid),
    )
