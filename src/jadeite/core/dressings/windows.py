"""Windows in any panel of any family, filled with a pattern and lined.

A window leaves an even frame: wide enough for the tabs that are glued to the
panel, and where it is lined for the lining's margin as well.  The lining
covers the window by that margin, on the back, and stays off everything that
is glued later.
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
from jadeite.core.dressings.behind import COVERED, deepest, glued_to, standing_at
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
    "hollow_before",
    "with_window",
]

USUAL_FRAME = 6.0  # mm of board round a window; from memory
LEAST_FRAME, MOST_FRAME = 3.0, 60.0  # mm; from memory
OFF_WALL = 0.1  # mm; from memory, that a lining keeps from a wall that ends at its panel
PAST_TAB = 1.0  # mm that a frame is wider than the tab behind it; from memory
LINING_MARGIN = 4.0  # mm that a lining is larger than its window on every side; from memory
LEAST_PANE = 6.0  # mm; from memory, a narrower window is a slot
FAR = 5000.0  # mm; rounding, longer than any panel
PLACES = 9  # decimals of a mm; rounding, panels that differ by less are alike
KEPT = 128  # from memory, the windows of some works
NEAR = 0.5  # mm that a lining keeps from the panel's edges; from memory


@dataclass(frozen=True)
class Pane:
    """What is wanted of one window: frame and a cell of its motif in mm, which variation.

    Without a motif it is plain: the whole window is cut out.
    """

    motif: Motif | None = None
    frame: float = USUAL_FRAME
    size: float = USUAL_CELL
    number: int = 0


def with_window(
    design: Design, piece_name: str, panel_name: str, pane: Pane, lining: Board | None = None
) -> Design:
    """The design with a window in one panel, and a lining behind it if a board is given for it.

    Raises
    ------
    FieldError
        There is no such panel, it is glued or bent, or it is too small for a window.
    """
    field = f"windows.{piece_name}"
    piece = next((p for p in design.pieces if p.name == piece_name), None)
    if piece is None or panel_name not in piece.index:
        raise FieldError(field, f"there is no panel “{panel_name[:40]}”", "Choose another panel.")
    panel = piece.panel(panel_name)
    cut_already = any(opening.kind == "window" for opening in panel.openings)
    if (
        not panel.role.traits.window
        or cut_already
        or _glued_whole(design, (piece_name, panel_name))
    ):
        raise FieldError(
            field, f"the {panel.title} is glued, bent or cut already", "Choose another panel."
        )
    where = (piece_name, panel_name)
    shadows = glued_to(design, where)
    walls = [] if lining is None else [*standing_at(design, where, lining.thickness + OFF_WALL)]
    at = panel.outline[0]
    if pane.motif is not None:
        pane = replace(pane, number=pane.number % pane.motif.varies)
    cut_out = _cut_out(
        _key(panel.outline - at),
        tuple(_key(shadow - at) for shadow in shadows),
        tuple(_key(wall - at) for wall in walls),
        tuple((opening.kind, _key(opening.points - at)) for opening in panel.openings),
        pane,
        lining is not None,
    )
    frame = _frame(panel, pane.frame, cut_out, lining)
    if cut_out.window is None:
        raise FieldError(
            field,
            f"a frame of {frame.value:.1f} mm leaves no window in the {panel.title}",
            "Use a larger inside, or no window there.",
        )
    if cut_out.glued_over:
        raise FieldError(
            field,
            f"something is glued over the middle of the {panel.title}",
            "Choose another panel.",
        )
    if not cut_out.holes:
        raise FieldError(
            field,
            f"nothing of the pattern fits into the window of the {panel.title}",
            "Use a smaller pattern, or a plain window.",
        )
    window, holes = cut_out.window + at, [hole + at for hole in cut_out.holes]
    cut = replace(panel, openings=(*panel.openings, *(Opening("window", hole) for hole in holes)))
    panels = tuple(cut if p.name == panel_name else p for p in piece.panels)
    alike = [p.name for p in design.pieces if p.panels is piece.panels]  # copies are cut alike
    number = 1 + sum(key.startswith("window-") and key.endswith("-frame") for key in design.sizes)
    name = f"window-{number}"
    sizes = {
        f"{name}-frame": replace(frame, name=f"Window {number}, frame"),
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
    return made if lining is None else _lined(made, alike, panel, window, lining)


@dataclass(frozen=True, eq=False)
class _CutOut:
    """What is cut out of a panel, in mm from its first corner.

    ``deepest`` is the width of the border behind which all lies that is glued
    to it, ``walls`` that on which walls of others end; without a ``window`` or
    ``holes`` there is no room for any.
    """

    deepest: float
    walls: float
    window: Floats | None
    glued_over: bool
    holes: tuple[Floats, ...]


def _key(points: Floats) -> bytes:
    return np.round(points, PLACES).tobytes()


def _points(key: bytes) -> Floats:
    return np.frombuffer(key).reshape(-1, 2)


@lru_cache(maxsize=KEPT)  # walls are alike, and as a rule stay so at a change elsewhere
def _cut_out(
    outline: bytes,
    glued: tuple[bytes, ...],
    standing: tuple[bytes, ...],
    cut: tuple[tuple[str, bytes], ...],
    pane: Pane,
    lined: bool,
) -> _CutOut:
    """Fill a panel, given as keys from its first corner: its outline, what meets it, cuts."""
    corners = _points(outline)
    openings = [Opening(kind, _points(points)) for kind, points in cut]
    shadows = [shapely.make_valid(Polygon(_points(shadow))) for shadow in glued]
    glued_in = deepest(corners, shadows)
    walls = deepest(corners, [Polygon(_points(wall)) for wall in standing])
    beside = max(SLOT_AROUND, LINING_MARGIN + PAST_TAB) if lined else SLOT_AROUND
    window = _inset(corners, _frame_width(pane.frame, glued_in, walls, lined), openings, beside)
    if window is None:
        return _CutOut(glued_in, walls, None, False, ())
    middle = Polygon(window)
    if any(float(shadow.intersection(middle).area) > COVERED for shadow in shadows):
        return _CutOut(glued_in, walls, window, True, ())
    holes = fill(window, pane.motif, pane.size, pane.number).holes
    others = [opening.points for opening in openings if opening.closed]
    if not holes or not holds_together(corners, [*others, *holes]):
        holes = ()
    return _CutOut(glued_in, walls, window, False, holes)


def _glued_whole(design: Design, where: tuple[str, str]) -> bool:
    """Whether a panel is itself glued on another, or another lies flat on it."""
    glued = any(j.kind is Kind.GLUE and j.tab == where for j in design.joints)
    return glued or bool(design.arrivals.lying_on(where))


def _frame(panel: Panel, wanted: float, cut_out: _CutOut, lining: Board | None) -> Reckoning:
    """Width of the frame: as wanted, but never narrower than what lies behind it."""
    terms = [given("walls of others end there within", cut_out.walls)] if cut_out.walls else []
    return reckon(
        f"Frame round the window of the {panel.title}",
        _frame_width(wanted, cut_out.deepest, cut_out.walls, lining is not None),
        "the larger of what is wanted, and the tab and the lining's margin behind it and 1 mm",
        given("wanted", wanted),
        given("tab behind it reaches", cut_out.deepest),
        *terms,
        constant("lining's margin", LINING_MARGIN if lining else 0.0, "mm", Mark.MEMORY),
        constant("beyond", PAST_TAB, "mm", Mark.MEMORY),
    )


def _frame_width(wanted: float, glued: float, walls: float, lined: bool) -> float:
    margin = LINING_MARGIN if lined else 0.0
    behind = glued + margin + PAST_TAB if glued or lined else 0.0
    return max(wanted, behind, walls + margin + OFF_WALL if walls else 0.0)


def _inset(outline: Floats, by: float, openings: Sequence[Opening], beside: float) -> Floats | None:
    """An outline moved inward by an even border, counter-clockwise; None where nothing is left.

    It ends ``beside`` mm before a slot or a slit, and goes round a hole as far off.
    """
    inner = Polygon(outline).buffer(-by, join_style="mitre")
    for opening in openings:
        if opening.kind in ("slot", "slit"):
            keep_off = _across(opening.points, beside)
        else:
            keep_off = Polygon(opening.points).buffer(beside)
        parts = [p for p in shapely.get_parts(inner.difference(keep_off)) if p.area > COVERED]
        inner = max(parts, key=lambda part: float(part.area), default=Polygon())
    if not isinstance(inner, Polygon) or inner.buffer(-LEAST_PANE / 2).is_empty:
        return None
    return np.asarray(np.array(orient(inner).exterior.coords)[:-1])


def _across(points: Floats, beside: float) -> Polygon:
    """A band along a slot or a slit, across the whole panel and ``beside`` mm to either side."""
    middle = points.mean(axis=0)
    way = np.linalg.svd(points - middle)[2][0]  # the direction in which it is longest
    band = shapely.LineString([middle - FAR * way, middle + FAR * way])
    side = float(np.abs((points - middle) @ np.array([-way[1], way[0]])).max())
    return band.buffer(side + beside, cap_style="flat")


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
    design: Design, names: Sequence[str], panel: Panel, window: Floats, board: Board
) -> Design:
    """A lining on the back of a window of each copy, glued on while everything is flat."""
    inner = Polygon(panel.outline).buffer(-NEAR, join_style="mitre")
    shape = orient(Polygon(window).buffer(LINING_MARGIN, join_style="mitre").intersection(inner))
    outline = np.asarray(np.array(shape.exterior.coords)[:-1])
    size = (float(np.ptp(outline[:, 0])), float(np.ptp(outline[:, 1])))
    sheets = (Panel("lining", f"lining of {panel.title}", Role.LINING, outline, size),)
    first = 1 + sum(p.part == LINING for p in design.pieces)
    margin = reckon(
        f"Lining {first}, larger by",
        LINING_MARGIN,
        "the margin that is glued, on every side of the window",
        constant("margin", LINING_MARGIN, "mm", Mark.MEMORY),
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
