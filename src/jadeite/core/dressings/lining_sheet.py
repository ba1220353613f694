"""One lining for all windows of a piece: a sheet glued behind its whole net, and folded with it.

It covers every panel between the first window and the last, and leaves bare
whatever is glued later: tabs, and where tabs of others come to lie.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import replace

import numpy as np
import shapely
from shapely import affinity
from shapely.geometry import LineString, Polygon
from shapely.geometry.polygon import orient

from jadeite.core.boards import Board
from jadeite.core.dressings.behind import COVERED, glued_to
from jadeite.core.dressings.dressing import Asked, Dressing, Size, without
from jadeite.core.dressings.frames import NEAR, PAST_TAB
from jadeite.core.dressings.panes import is_lined, linings_of, windows_of
from jadeite.core.dressings.windows import hollow_before
from jadeite.core.errors import FieldError
from jadeite.core.findings import Cure
from jadeite.core.nets.arrivals import Arrival, When
from jadeite.core.nets.model import Design, Floats, Fold, Joint, Kind, Opening, Panel, Piece
from jadeite.core.nets.roles import Role
from jadeite.core.nets.turns import closed_matrix
from jadeite.core.project import Task
from jadeite.core.reckoning import Mark, constant, given, reckon
from jadeite.core.shapes import ShapeFamily
from jadeite.core.shapes.extra import LINING

__all__ = ["LINING_SHEETS", "THICKEST", "with_lining_sheet"]

THICKEST = 0.15  # mm; from memory, a thicker sheet bulges at folds with the board round it
APART = 0.015  # mm; design rule, so far behind the board's surface it is drawn and proved
ON_FOLD = 1e-3  # mm; rounding
SHORT = 5e-3  # mm; rounding
FAR = 5000.0  # mm; rounding, longer than any panel
LEAST_HOLD = 2.0  # mm; from memory, of the sheet that is glued round every cut-out
LEAST_FOLD = 3.0  # mm; from memory, a sheet that hangs together by less tears
FOLDED_WITH = (
    "On the back, a thin line of clear glue along the edges of the panels and round the cut-outs, "
    "none over them; smooth it on from the middle outwards, so that no crease stays. Tabs, and "
    "where tabs come to lie, stay bare. Let it dry fully under a weight: it is folded with the "
    "board."
)


def with_lining_sheet(design: Design, name: str, panels: Iterable[str], board: Board) -> Design:
    """The design with a sheet behind some panels of a piece, and all that lie between them.

    Raises
    ------
    FieldError
        The board is too thick, something else lies between the panels, or the sheet would
        not cover a window with its margin.
    """
    field = f"windows.{name}"
    each = "Line each window by itself."
    if board.thickness > THICKEST:
        raise FieldError(field, f"{board.title.lower()} is too thick to fold with the board", each)
    piece = design.piece(name)
    folds = _between(piece, list(panels))
    covered = list(dict.fromkeys([*panels, *(n for f in folds for n in (f.parent, f.child))]))
    root = next((f.parent for f in folds if f.parent not in {g.child for g in folds}), covered[0])
    order = sorted(covered, key=lambda n: (n != root, piece.index[n]))
    regions = {n: _region(design, piece, piece.panel(n), folds) for n in order}
    for n, region in regions.items():
        cut = [Polygon(o.points) for o in piece.panel(n).openings if o.kind == "window"]
        glued = shapely.union_all(cut).buffer(LEAST_HOLD)
        if region.is_empty or (cut and not region.covers(glued)):
            raise FieldError(field, f"it would not cover the {piece.panel(n).title}", each)
    number = 1 + sum(p.part == LINING for p in design.pieces)
    key = f"lining-{number}"
    inward = -1.0 if piece.good_side == "outside" else 1.0
    shifts = {f.child: inward * APART * math.tan(math.radians(f.angle) / 2) for f in folds}
    moved = {root: np.zeros(2)}
    for f in folds:  # parents before children: behind the board it is shorter from fold to fold
        moved[f.child] = moved[f.parent] - 2 * shifts[f.child] * _across(f)
    drawn = {n: _drawn_in(regions[n], n, folds, shifts) for n in order}
    own = tuple(_panel(piece.panel(n), drawn[n], moved[n]) for n in order)
    kind = "scored" if board.scored else "rolled"
    made = [
        _fold(f, drawn[f.parent], drawn[f.child], kind, shifts[f.child], moved[f.parent])
        for f in folds
    ]  # fmt: skip
    if any(f.length < LEAST_FOLD for f in made):
        raise FieldError(field, "it would hang together by a thread", each)
    sheet = Piece(key, "lining sheet", board, own, tuple(made), piece.good_side, part=LINING)
    back = np.eye(4)
    back[2, 3] = inward * APART
    place = closed_matrix(piece, design.placements[name], root) @ back
    joints = tuple(
        Joint(Kind.GLUE, (key, n), (name, n), f"lining sheet on the {piece.panel(n).title}",
              "inside", flush=True)
        for n in order
    )  # fmt: skip
    hollow, cells = design.hollow, design.cells
    for n in order:
        at = closed_matrix(piece, design.placements[name], n)
        way = at[:3, 2] * inward
        face = at[:3, 3] + at[:3, :2] @ piece.panel(n).outline[0]
        face = face + way * (piece.board.thickness / 2 + board.thickness)
        hollow = hollow and hollow_before(hollow, face, way)
        cells = tuple(hollow_before(cell, face, way) for cell in cells)
    area = sum(float(region.area) for region in regions.values())
    size = reckon(
        "Lining sheet, area", area, "the panels that it covers, less what stays bare",
        given("panels", float(len(order)), ""),
        constant("off the edges", NEAR, "mm", Mark.MEMORY),
        constant("off what is glued later", PAST_TAB, "mm", Mark.MEMORY), unit="mm2",
    )  # fmt: skip
    arrival = Arrival(
        key, When.BEHIND, (name, root), hint=FOLDED_WITH,
        rides=tuple((f.child, f.child) for f in folds),
    )  # fmt: skip
    return replace(
        design,
        hollow=hollow,
        cells=cells,
        pieces=(*design.pieces, sheet),
        placements={**design.placements, key: place},
        joints=(*design.joints, *joints),
        sizes={**design.sizes, f"{key}-area": size},
        arrivals=design.arrivals.adding(arrival),
    )


def _between(piece: Piece, panels: list[str]) -> list[Fold]:
    """The folds of a piece by which some of its panels hang together."""
    parent = {fold.child: fold for fold in piece.tree}

    def line(name: str) -> list[str]:
        out = [name]
        while out[-1] in parent:
            out.append(parent[out[-1]].parent)
        return out

    lines = [line(name) for name in panels]
    shared = [n for n in lines[0] if all(n in other for other in lines)]
    meet = shared[0]  # the nearest panel from which all of them can be reached
    wanted = {n for one in lines for n in one[: one.index(meet)]}
    return [fold for fold in piece.tree if fold.child in wanted]


def _region(design: Design, piece: Piece, panel: Panel, folds: list[Fold]) -> Polygon:
    """What of a panel the sheet covers: it goes on over the folds to other covered panels."""
    whole = Polygon(panel.outline)
    mine = [f for f in folds if panel.name in (f.parent, f.child)]
    hinges = shapely.union_all([LineString([f.start, f.end]) for f in mine])
    free = whole.exterior.difference(hinges.buffer(ON_FOLD, cap_style="flat"))
    off = [free.buffer(NEAR, cap_style="flat", join_style="mitre")]
    for shadow in glued_to(design, (piece.name, panel.name)):
        off.append(shapely.make_valid(Polygon(shadow)).buffer(PAST_TAB, join_style="mitre"))
    off += [
        shapely.convex_hull(shapely.MultiPoint(o.points)).buffer(PAST_TAB)
        for o in panel.openings
        if o.kind != "window"
    ]
    left = whole.difference(shapely.union_all(off))
    parts = [p for p in shapely.get_parts(left) if isinstance(p, Polygon) and p.area > COVERED]
    return orient(max(parts, key=lambda p: float(p.area), default=Polygon()))


def _across(fold: Fold) -> Floats:
    """The unit vector from a fold into its child, in the flat piece."""
    way = (np.array(fold.end) - fold.start) / fold.length
    return np.array([-way[1], way[0]])


def _drawn_in(
    region: Polygon, name: str, folds: Sequence[Fold], shifts: Mapping[str, float]
) -> Polygon:
    """A region that ends at folds where the sheet, behind the board, is folded."""
    for fold in folds:
        if name not in (fold.parent, fold.child):
            continue
        way = (np.array(fold.end) - fold.start) / fold.length
        inward = _across(fold) * (1.0 if name == fold.child else -1.0)
        a, b = fold.start - FAR * way, fold.end + FAR * way
        band = shapely.MultiPoint([a, b, a - FAR * inward, b - FAR * inward]).convex_hull
        shift = shifts[fold.child] * inward
        if shifts[fold.child] < 0:  # the board bends away from it: there it is longer
            strip = LineString([fold.start, fold.end]).buffer(ON_FOLD, cap_style="flat")
            on = region.intersection(strip)
            region = region.union(
                shapely.union_all([on, affinity.translate(on, *shift)]).convex_hull
            )
        region = region.difference(affinity.translate(band, *shift))
    parts = [p for p in shapely.get_parts(region) if isinstance(p, Polygon)]
    whole = max(parts, key=lambda p: float(p.area), default=Polygon())
    return orient(shapely.remove_repeated_points(whole, SHORT))


def _panel(panel: Panel, region: Polygon, moved: Floats) -> Panel:
    outline = np.array(region.exterior.coords)[:-1] + moved
    holes = tuple(
        Opening("hole", np.array(orient(Polygon(ring)).exterior.coords)[:-1] + moved)
        for ring in region.interiors
    )
    size = (float(np.ptp(outline[:, 0])), float(np.ptp(outline[:, 1])))
    title = f"lining of {panel.title}"
    return Panel(panel.name, title, Role.LINING, outline, size, holes)


def _fold(fold: Fold, one: Polygon, other: Polygon, kind: str, shift: float, moved: Floats) -> Fold:
    """The part of a fold along which both of its panels are covered, where the sheet has it."""
    start, across = np.array(fold.start), _across(fold)
    way = np.array([across[1], -across[0]])
    low, high = 0.0, fold.length
    for region, sign in ((one, -1.0), (other, 1.0)):
        points = np.array(region.exterior.coords)
        on = np.abs((points - start) @ across - sign * shift) < 2 * ON_FOLD
        along = (points[on] - start) @ way
        if not len(along):
            low, high = 0.0, 0.0
            break
        low, high = max(low, float(along.min())), min(high, float(along.max()))
    at = start + moved - shift * across
    a, b = at + low * way, at + max(low, high) * way
    return Fold(fold.parent, fold.child, (float(a[0]), float(a[1])), (float(b[0]), float(b[1])),
                fold.angle, kind)  # fmt: skip


def _dress(draft: Design, asked: Asked) -> Design:
    """One sheet behind the net of each piece that has a lined window."""
    if linings_of(asked.task) != "sheet":
        return draft
    lined = [w for w in windows_of(asked.task, draft) if w.lined]
    for name in dict.fromkeys(w.piece for w in lined):
        piece = next((p for p in draft.pieces if p.name == name), None)
        if piece is None:
            continue
        cut = {p.name for p in piece.panels if any(o.kind == "window" for o in p.openings)}
        panels = [w.panel for w in lined if w.piece == name and w.panel in cut]
        if not panels:
            continue
        alike = [p.name for p in draft.pieces if p.panels is piece.panels]
        try:
            for one in alike:
                draft = with_lining_sheet(draft, one, panels, asked.boards[LINING])
        except FieldError as error:
            cure = Cure("Line each window", (("linings", "each"),))
            draft = without(draft, "lining", name, error, cure)
    return draft


def _room(task: Task, boards: Mapping[str, Board], family: ShapeFamily) -> Size:
    """It lies on the walls."""
    if linings_of(task) != "sheet" or not is_lined(task, family):
        return 0.0, 0.0, 0.0
    behind = 4 * boards[LINING].thickness
    return behind, behind, behind


LINING_SHEETS = Dressing("lining-sheets", _dress, room=_room)
