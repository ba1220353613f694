"""One lining for all windows: a strip folded to a ring of its own, stood in behind the walls.

Behind folded walls a strip is shorter than the walls are, so it is not glued
to them while they lie flat: it has its own folds and lap, and slides in.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import replace

import numpy as np

from jadeite.core.boards import Board
from jadeite.core.boards.fit_rules import MIN_TAB
from jadeite.core.dressings.dressing import Asked, Dressing, Size, without
from jadeite.core.dressings.panes import is_lined, linings_of, windows_of
from jadeite.core.dressings.windows import LINING_MARGIN, hollow_before
from jadeite.core.errors import FieldError
from jadeite.core.findings import Cure
from jadeite.core.nets.arrivals import Arrival, How, When
from jadeite.core.nets.closed_form import ClosedForm, Face
from jadeite.core.nets.model import Design, Floats, Joint, Kind, Panel
from jadeite.core.nets.roles import Role
from jadeite.core.nets.turns import closed_matrix
from jadeite.core.project import Task
from jadeite.core.reckoning import Mark, constant, given, reckon
from jadeite.core.shapes import ShapeFamily
from jadeite.core.shapes.extra import LINING

__all__ = ["LINING_STRIPS", "with_lining_strip"]

SLIDE_DOWN = (
    "Slide it down behind the walls until it stands on the floor; it holds by itself, a dot of "
    "clear glue at the top keeps it."
)
UPRIGHT = 1e-6  # of a normal; rounding
NARROWEST = 8.0  # mm; from memory, a narrower part of a strip carries no lap
LAP_SHARE = 0.45  # of the first wall, at most; from memory

_Wall = tuple[float, Floats, Panel, Floats]  # its turn, its normal outward, panel, place


def with_lining_strip(design: Design, piece_name: str, board: Board) -> Design:
    """The design with a strip behind all upright walls of a piece that has windows.

    It stands on the floor and reaches 4 mm beyond the highest cut-out.

    Raises
    ------
    FieldError
        The walls do not stand upright all round, or are too narrow.
    """
    field = f"windows.{piece_name}"
    piece = design.piece(piece_name)
    t = piece.board.thickness
    walls: list[_Wall] = []
    high = -math.inf
    for panel in piece.panels:
        place = closed_matrix(piece, design.placements[piece_name], panel.name)
        for opening in panel.openings:
            high = max(high, float((opening.points @ place[:3, :2].T + place[:3, 3])[:, 2].max()))
        if panel.role is not Role.WALL:
            continue
        out = place[:3, 2] * (1.0 if piece.good_side == "outside" else -1.0)
        if abs(float(out[2])) > UPRIGHT:
            raise FieldError(
                field, f"the {panel.title} does not stand upright", "Line each window by itself."
            )
        walls.append((math.atan2(float(out[1]), float(out[0])), out, panel, place))
    walls.sort(key=lambda wall: wall[0])
    turns = [wall[0] for wall in walls]
    gaps = [(b - a) % (2 * math.pi) for a, b in zip(turns, turns[1:] + turns[:1], strict=True)]
    if len(walls) < 3 or max(gaps) > math.pi - UPRIGHT:
        raise FieldError(field, "its walls do not stand all round", "Line each window by itself.")
    names = {panel.name for _, _, panel, _ in walls}
    behind = any(j.target[0] == piece_name and j.target[1] in names for j in design.joints)
    back = t / 2 + (t if behind else 0.0) + design.fits.strip + board.thickness / 2
    if design.hollow is None:
        raise FieldError(field, "it has no inside", "Line each window by itself.")
    low = design.hollow.centre[2] - design.hollow.size[2] / 2
    corners = _corners(walls, back)
    # the lap lies in the corner where it has the most room beside the cut-outs
    lap = max(range(len(walls)), key=lambda i: _clear(walls[i], corners[i - 1], corners[i]))
    walls, corners = walls[lap:] + walls[:lap], corners[lap:] + corners[:lap]
    sides = [float(np.linalg.norm(corners[i] - corners[i - 1])) for i in range(len(walls))]
    if min(sides) < NARROWEST or high + LINING_MARGIN - low < 2 * MIN_TAB:
        raise FieldError(field, "its walls are too narrow", "Line each window by itself.")
    top = min(high + LINING_MARGIN, low + design.hollow.size[2])
    if top < high:
        raise FieldError(field, "a window reaches above the hollow", "Line each window by itself.")
    number = 1 + sum(p.part == LINING for p in design.pieces)
    name = f"lining-{number}"
    net = ClosedForm(name, "lining strip", board, part=LINING, fits=design.fits)
    faces: list[Face] = []
    for i in range(len(walls)):
        p, q = corners[i - 1], corners[i]
        ring = np.array([[*p, low], [*q, low], [*q, top], [*p, top]])
        part = f"strip.{i + 1}"
        if not faces:
            faces.append(net.base(part, ring, title="strip", role=Role.STRIP))
        else:
            faces.append(net.face(part, ring, faces[-1], title="strip", role=Role.STRIP))
    clear = _clear(walls[0], corners[-1], corners[0])
    depth = max(MIN_TAB, min(design.fits.tab_depth, LAP_SHARE * min(sides), clear))
    net.tab("lap", faces[-1], faces[0], title="the lap of the lining strip", depth=depth)
    strip = net.build()
    joints = [
        Joint(
            Kind.TUCK,
            (name, face.name),
            (piece_name, wall[2].name),
            "lining strip behind a wall",
        )
        for face, wall in zip(faces, walls, strict=True)
    ]
    hollow, cells = design.room, design.cells
    for (_, out, _, _), face in zip(walls, faces, strict=True):
        at = face.space()[0] - out * (1.5 * board.thickness)  # a lap lies behind one of them
        hollow = hollow_before(hollow, at, -out)
        cells = tuple(hollow_before(cell, at, -out) for cell in cells)
    first = (piece_name, walls[0][2].name)
    others = tuple(a.piece for a in design.arrivals.at(When.STANDING))
    length = reckon(
        "Lining strip, without its lap",
        sum(sides),
        "all walls, measured behind them",
        given("behind the walls' middles", back),
        constant("air", design.fits.strip, "mm", Mark.MEMORY),
    )
    height = reckon(
        "Lining strip, height",
        top - low,
        "from the floor to the margin above the highest cut-out",
        given("highest cut-out above the floor", high - low),
        constant("margin", LINING_MARGIN, "mm", Mark.MEMORY),
    )
    return replace(
        design,
        hollow=hollow,
        cells=cells,
        pieces=(*design.pieces, strip),
        placements={**design.placements, name: net.placement},
        joints=(*design.joints, *net.joints, *joints),
        arrivals=design.arrivals.adding(
            Arrival(name, When.STANDING, first, How.PUT, hint=SLIDE_DOWN, after=others)
        ),
        sizes={**design.sizes, f"{name}-length": length, f"{name}-height": height},
    )


def _clear(wall: _Wall, start: Floats, end: Floats) -> float:
    """How far from a corner of the ring, (2,) each, the first cut-out of its wall begins, mm."""
    _, _, panel, place = wall
    way = (end - start) / float(np.linalg.norm(end - start))
    cuts = [opening.points for opening in panel.openings] or [panel.outline.mean(axis=0)[None]]
    flat = (np.vstack(cuts) @ place[:3, :2].T + place[:3, 3])[:, :2]
    return float(((flat - start) @ way).min())


def _corners(walls: list[_Wall], back: float) -> list[Floats]:
    """Corners (2,) of the ring behind the walls, each where a wall meets the next, in mm."""
    lines = []
    for _, out, panel, place in walls:
        on = place[:3, :2] @ panel.outline[0] + place[:3, 3]
        lines.append((out[:2], float(out[:2] @ on[:2]) - back))
    made = []
    for i, (normal, reach) in enumerate(lines):
        other, far = lines[(i + 1) % len(lines)]
        made.append(np.linalg.solve(np.array([normal, other]), np.array([reach, far])))
    return made


def _dress(draft: Design, asked: Asked) -> Design:
    """One strip behind the windows of each piece that has a lined one."""
    if linings_of(asked.task) != "strip":
        return draft
    for piece in dict.fromkeys(w.piece for w in windows_of(asked.task, draft) if w.lined):
        if not any(p.name == piece and any(q.openings for q in p.panels) for p in draft.pieces):
            continue
        try:
            draft = with_lining_strip(draft, piece, asked.boards[LINING])
        except FieldError as error:
            cure = Cure("Line each window", (("linings", "each"),))
            draft = without(draft, "lining", piece, error, cure)
    return draft


def _room(task: Task, boards: Mapping[str, Board], family: ShapeFamily) -> Size:
    """It stands behind the walls all round, its lap over itself."""
    if linings_of(task) != "strip" or not is_lined(task, family):
        return 0.0, 0.0, 0.0
    wall = max(boards[part].thickness for part, _ in family.parts)
    beside = 2 * (wall + task.fits.strip + 2 * boards[LINING].thickness)
    return beside, beside, 0.0


LINING_STRIPS = Dressing("lining-strips", _dress, room=_room)
