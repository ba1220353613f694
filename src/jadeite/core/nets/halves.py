"""A piece cut across the middle of its panels, and joined end to end by laps.

Where no fold will do, a piece is parted into two equal halves by one straight
cut.  Every panel that the cut crosses gets a lap on the second half, glued on
the outside of the first, or inside where that is taken, while both lie flat.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from itertools import islice

import numpy as np
import shapely
from shapely.geometry import LineString, Polygon, box
from shapely.geometry.polygon import orient

from jadeite.core.boards.fit_rules import MIN_TAB, SLOT_AROUND
from jadeite.core.boards.fits import USUAL, Fits
from jadeite.core.errors import FieldError
from jadeite.core.nets.arrivals import Arrival, How, When
from jadeite.core.nets.model import Design, Floats, Fold, Joint, Kind, Panel, Piece
from jadeite.core.nets.roles import Role
from jadeite.core.nets.turns import closed_matrix
from jadeite.core.nets.veins import veins_on

__all__ = ["HALVES", "HALVES_WAYS", "Cut", "middle_cut", "middle_cuts", "split_in_half"]

HALVES = "halves"  # stands for this cut where else a fold's panel is named
BESIDE = tuple(f"{HALVES}-{k}" for k in range(2, 9))  # cuts beside it
TURNED = tuple(f"{way}-turned" for way in (HALVES, *BESIDE))  # with laps on the other side
HALVES_WAYS = (HALVES, *BESIDE, *TURNED)
APART = 4  # tries; from memory, a cut this near another does no better
GRID = 1e-6  # mm; rounding, the plain overlay may mistake shapes that share an edge
ONE = 1e-4  # mm; rounding, corners this close are one
NEAR = 1e-6  # mm; rounding, corners this close to the cut lie on it
FAR = 1e5  # mm; beyond any net
INSETS = (0.5, 4.0, 8.0)  # mm; from memory, between a lap's ends and the edges beside it
WIDE = 12.0  # mm; from memory, a narrower strip is cut through without a lap
ASIDE = 0.15  # of the length, by which a cut may miss the middle; from memory
SQUARE = 0.9  # of the longer side; from memory, one so near it may be cut across as well
LEAST_PART = 1.0  # mm; from memory, a narrower strip beside a cut tears off
TOUCH = 0.01  # mm2; rounding, what covers less does not land
TRIES = 31  # places looked at for a cut; design rule


@dataclass(frozen=True)
class Cut:
    """A straight cut across a flat piece: where it crosses ``axis`` (0 or 1), in mm.

    ``way`` (1 or -1) is the side that carries the laps and is glued on.  ``seam``
    is the length of all laps in mm; ``parts`` the extents of both halves,
    shorter side first, laps left out.
    """

    axis: int
    at: float
    way: float
    seam: float
    parts: tuple[tuple[float, float], tuple[float, float]]


def middle_cut(piece: Piece, fits: Fits = USUAL) -> Cut | None:
    """The cut nearest the middle of the longer side, across panels that can be lapped."""
    return next(middle_cuts(piece, fits), None)


def middle_cuts(piece: Piece, fits: Fits = USUAL) -> Iterator[Cut]:
    """Cuts across the middle of the longer side, across panels that can be lapped; nearest first.

    Of a piece that is about square the other side is cut across as well.  None
    lies beside another that is joined in the same way.
    """
    points = np.concatenate([panel.outline for panel in piece.panels])
    low, high = points.min(axis=0), points.max(axis=0)
    lengths = high - low
    longer = int(np.argmax(lengths))
    axes = (longer, 1 - longer) if lengths.min() >= SQUARE * lengths.max() else (longer,)
    made: dict[tuple[int, float], list[int]] = {}
    for k in range(TRIES):
        step = (k + 1) // 2 * (1 if k % 2 else -1)
        for axis in axes:
            at = float((low[axis] + high[axis]) / 2 + step * 2 * ASIDE * lengths[axis] / TRIES)
            for way in _carriers(piece, axis, at):
                others = made.setdefault((axis, way), [])
                if any(abs(step - other) < APART for other in others):
                    continue
                seam = _seam_at(piece, axis, at, way, fits)
                if seam is not None and _connected(piece, axis, at):
                    others.append(step)
                    yield Cut(axis, at, way, seam, _parts(piece, axis, at))


def _parts(piece: Piece, axis: int, at: float) -> tuple[tuple[float, float], tuple[float, float]]:
    """Extents of both halves in mm, shorter side first."""
    parts = (np.concatenate([o for _, o in _side(piece, axis, at, way)]) for way in (-1.0, 1.0))
    small, large = (sorted(np.ptp(part, axis=0).tolist()) for part in parts)
    return (small[0], small[1]), (large[0], large[1])


def _half(outline: Floats, axis: int, at: float, way: float) -> Floats | None:
    """What of an outline lies on one side of the cut, counter-clockwise; None where nothing does.

    Raises
    ------
    ValueError
        It would fall into several parts.
    """
    off = way * (outline[:, axis] - at)
    if off.min() > -NEAR:
        return outline
    if off.max() < NEAR:
        return None
    low, high = [-FAR, -FAR], [FAR, FAR]
    (low if way > 0 else high)[axis] = at
    part = Polygon(outline).intersection(box(*low, *high))
    if not isinstance(part, Polygon) or part.buffer(-ONE).is_empty:
        raise ValueError("the cut parts a panel twice, or leaves a hair of it")
    part = shapely.remove_repeated_points(part, ONE)
    return np.asarray(np.array(orient(part).exterior.coords)[:-1])


def _side(piece: Piece, axis: int, at: float, way: float) -> Iterator[tuple[Panel, Floats]]:
    for panel in piece.panels:
        outline = _half(panel.outline, axis, at, way)
        if outline is not None:
            yield panel, outline


def _crossed(panel: Panel, axis: int, at: float) -> bool:
    off = panel.outline[:, axis] - at
    return bool(off.min() < -NEAR and off.max() > NEAR)


def _hinge(fold: Fold, axis: int, at: float, way: float) -> tuple[Floats, Floats] | None:
    """What of a fold's line lies on one side of the cut."""
    a, b = np.array(fold.start), np.array(fold.end)
    da, db = way * (a[axis] - at), way * (b[axis] - at)
    if max(da, db) < NEAR:
        return None
    if min(da, db) < -NEAR:
        middle = a + (b - a) * da / (da - db)
        a, b = (middle, b) if da < 0 else (a, middle)
    return a, b


def _edge(outline: Floats, axis: int, at: float) -> tuple[float, float]:
    """Both ends of the cut edge of a half, along it."""
    along = outline[np.abs(outline[:, axis] - at) < NEAR][:, 1 - axis]
    return (float(along.min()), float(along.max())) if len(along) else (0.0, 0.0)


def _lap(panel: Panel, axis: int, at: float, way: float, fits: Fits = USUAL) -> Floats | None:
    """Outline of the lap beyond the cut, its hinge first; None where there is no room.

    ``way`` points into the half that carries it.
    """
    near, far = (_half(panel.outline, axis, at, w) for w in (way, -way))
    if near is None or far is None:
        return None
    ends = [_edge(outline, axis, at) for outline in (near, far)]
    low, high = max(e[0] for e in ends), min(e[1] for e in ends)
    room = Polygon(far).buffer(1e-6)
    for opening in panel.openings:
        off = way * (opening.points[:, axis] - at)
        covered = opening.kind == "mark"  # and may be, but not cut in two
        reach = 0.0 if covered else fits.tab_depth
        if off.max() > -(reach + SLOT_AROUND) and off.min() < SLOT_AROUND:
            return None
    depth = fits.tab_depth
    while depth >= MIN_TAB:
        for inset in INSETS:
            first, last = low + inset, high - inset
            local = [
                (first, 0.0),
                (last, 0.0),
                (last - depth / 2, -depth),
                (first + depth / 2, -depth),
            ]
            lap = np.zeros((4, 2))
            for i, (u, v) in enumerate(local):
                lap[i, 1 - axis], lap[i, axis] = u, at + way * v
            if last - first > 2 * depth and room.contains(Polygon(lap)):
                return lap if Polygon(lap).exterior.is_ccw else lap[[1, 0, 3, 2]]
        depth -= 0.5
    return None


def _seam_at(piece: Piece, axis: int, at: float, way: float, fits: Fits) -> float | None:
    """Length of all laps in mm; None where the cut does not do."""
    seam = 0.0
    try:
        for panel in piece.panels:
            if not _crossed(panel, axis, at):
                continue
            parts = [_part(panel, axis, at, w) for w in (way, -way)]
            if min(float(np.ptp(part[:, axis])) for part in parts) < LEAST_PART:
                return None
            low, high = _edge(parts[0], axis, at)
            if panel.role.traits.bends:
                return None
            if not panel.role.traits.lap or high - low < WIDE:
                if panel.openings:
                    return None
                continue
            if _lap(panel, axis, at, way, fits) is None:
                return None
            seam += high - low
    except ValueError:
        return None
    return seam or None


def _part(panel: Panel, axis: int, at: float, way: float) -> Floats:
    half = _half(panel.outline, axis, at, way)
    if half is None:
        raise ValueError("the cut misses the panel")
    return half


def _carriers(piece: Piece, axis: int, at: float) -> tuple[float, ...]:
    """The side that is glued on: the one on which less of the base lies; of one panel, either."""
    less = -1.0 if float(piece.panels[0].outline[:, axis].mean()) > at else 1.0
    return (less, -less) if len(piece.panels) == 1 else (less,)


def _kept(piece: Piece, axis: int, at: float, way: float) -> tuple[Panel, ...] | None:
    """Panels of one side, the one on which all others hang first; None where they fall apart."""
    panels = []
    for panel, outline in _side(piece, axis, at, way):
        openings = tuple(
            o for o in panel.openings if way * (float(o.points[:, axis].mean()) - at) > 0
        )
        size = tuple(np.ptp(outline, axis=0).tolist()) if _crossed(panel, axis, at) else panel.size
        panels.append(
            replace(
                panel, outline=outline, openings=openings, size=(float(size[0]), float(size[1]))
            )
        )
    kept = {id(fold) for fold, _ in _hinges(piece, panels, axis, at, way)}
    hung = {fold.child for fold in piece.tree if id(fold) in kept}
    roots = [panel for panel in panels if panel.name not in hung]
    if len(roots) != 1:
        return None
    return (roots[0], *(panel for panel in panels if panel.name in hung))


def _connected(piece: Piece, axis: int, at: float) -> bool:
    try:
        return all(_kept(piece, axis, at, way) is not None for way in (-1.0, 1.0))
    except ValueError:
        return False


def _hinges(
    piece: Piece, panels: Sequence[Panel], axis: int, at: float, way: float
) -> Iterator[tuple[Fold, tuple[Floats, Floats]]]:
    """Folds of one side with what is left of their lines, where both panels still meet there."""
    shapes = {panel.name: Polygon(panel.outline) for panel in panels}
    for fold in piece.folds:
        hinge = _hinge(fold, axis, at, way)
        if hinge is None or not {fold.parent, fold.child} <= set(shapes):
            continue
        shared = LineString(hinge)
        for name in (fold.parent, fold.child):
            shared = shared.intersection(shapes[name].buffer(ONE))
        if shared.length > LEAST_PART:
            yield fold, hinge


def _folds(
    piece: Piece, panels: tuple[Panel, ...], axis: int, at: float, way: float
) -> Iterator[Fold]:
    names = {panel.name for panel in panels}
    for fold, hinge in _hinges(piece, panels, axis, at, way):
        (x0, y0), (x1, y1) = (end.tolist() for end in hinge)
        covers = tuple(name for name in fold.covers if name in names)
        yield replace(fold, start=(x0, y0), end=(x1, y1), covers=covers)


def split_in_half(design: Design, piece_name: str, name: str, way: str = HALVES) -> Design:
    """Part a piece across its middle; the second half is a piece of its own, called ``name``.

    ``way`` is one of :data:`HALVES_WAYS`: the cut nearest the middle that can be
    lapped, or another, with the laps outside or inside.

    Raises
    ------
    FieldError
        No straight cut near its middle can be lapped.
    """
    piece = design.piece(piece_name)
    number, turned = HALVES_WAYS.index(way) % len(TURNED), way in TURNED
    cut = next(islice(middle_cuts(piece, design.fits), number, None), None)
    if cut is None:
        raise FieldError(
            f"splits.{piece_name}",
            f"no cut across the middle of the {piece.title} can be lapped",
            "Cut it at a fold.",
        )
    axis, at, carrier = cut.axis, cut.at, cut.way
    made = []
    for side in (-carrier, carrier):
        panels = _kept(piece, axis, at, side)
        assert panels is not None  # middle_cut has seen to it
        names = {panel.name for panel in panels}
        before = tuple(pair for pair in piece.before if set(pair) <= names)
        folds = tuple(_folds(piece, panels, axis, at, side))
        veins = veins_on(piece.veins, panels)
        made.append(replace(piece, panels=panels, folds=folds, before=before, veins=veins))
    stays, goes = made
    joints, laps, turns = [], [], []
    for panel in piece.panels:
        wide = panel.role.traits.lap and _crossed(panel, axis, at)
        lap = _lap(panel, axis, at, carrier, design.fits) if wide else None
        if lap is None:
            continue
        tab = f"lap.{panel.name}"
        (x0, y0), (x1, y1) = lap[0].tolist(), lap[1].tolist()
        size = (float(np.linalg.norm(lap[1] - lap[0])), float(np.ptp(lap[:, axis])))
        laps.append(Panel(tab, f"lap of the {panel.title}", Role.LAP, lap, size))
        turns.append(Fold(panel.name, tab, (x0, y0), (x1, y1), 0.0, "rolled"))
        title = f"both halves of the {piece.title}"
        on = (piece_name, panel.name)
        taken = any(j.kind is Kind.GLUE and on in (j.tab, j.target) and j.side == "outside"
                    for j in design.joints)  # fmt: skip
        face = "inside" if taken != turned else "outside"  # where nothing inside gets narrower
        joints.append(Joint(Kind.GLUE, (name, tab), on, title, face))
    goes = replace(
        goes,
        name=name,
        title=f"{piece.title}, second half",
        panels=(*goes.panels, *laps),
        folds=(*goes.folds, *turns),
    )
    return _joined(design, piece, (stays, goes), joints)


def _joined(design: Design, old: Piece, halves: tuple[Piece, Piece], laps: list[Joint]) -> Design:
    """The design with both halves, and everything that named a panel of the whole."""
    stays, goes = halves

    def homes(where: tuple[str, str]) -> list[tuple[str, str]]:
        if where[0] != old.name:
            return [where]
        return [(half.name, where[1]) for half in halves if where[1] in half.index]

    def home(where: tuple[str, str]) -> tuple[str, str]:
        return homes(where)[0]

    joints = []
    for joint in design.joints:
        ways = [(a, b) for a in homes(joint.tab) for b in homes(joint.target)]
        if len(ways) > 1:
            area = {way: _lands(design, old, halves, *way) for way in ways}
            best = max(ways, key=lambda way: area[way])
            ways = [
                w for w in ways if area[w] > TOUCH and joint.kind not in (Kind.SLOT, Kind.TONGUE)
            ] or [best]
        for tab, target in ways:
            moved = replace(joint, tab=tab, target=target)
            if joint.region and old.name in (joint.tab[0], joint.target[0]):
                parts = _regions(design, old, halves, moved)
                joints += [replace(moved, region=region) for region in parts]
            else:
                joints.append(moved)
    pieces: list[Piece] = []
    for piece in design.pieces:
        pieces += [stays, goes] if piece.name == old.name else [piece]
    root = goes.panels[0].name
    on = root if root in stays.index else stays.panels[0].name
    place = closed_matrix(old, design.placements[old.name], root)
    first = closed_matrix(old, design.placements[old.name], stays.panels[0].name)
    return replace(
        design,
        pieces=tuple(pieces),
        joints=(*joints, *laps),
        placements={**design.placements, old.name: first, goes.name: place},
        dimensions=tuple(replace(d, piece=home((d.piece, d.panel))[0]) for d in design.dimensions),
        meetings=tuple((home(a), home(b)) for a, b in design.meetings),
        arrivals=design.arrivals.moved(homes).adding(
            Arrival(goes.name, When.FLAT, (old.name, on), How.LAPPED)
        ),
    )


def _regions(
    design: Design, old: Piece, halves: tuple[Piece, Piece], joint: Joint
) -> list[tuple[tuple[float, float], ...]]:
    """What of a joint's region lies on both its panels once one of them is cut in two."""
    new = {half.name: half for half in halves}
    places, outlines = [], []
    for name, panel in (joint.tab, joint.target):
        whole = old if name in new else design.piece(name)
        places.append(closed_matrix(whole, design.placements[whole.name], panel))
        outlines.append(new.get(name, whole).panel(panel).outline)
    at, onto = places
    turn = at[:3, :2].T @ onto[:3, :2]  # from the tab's flat piece into the target's
    shift = (at[:3, 3] - onto[:3, 3]) @ onto[:3, :2]
    its = Polygon((outlines[1] - shift) @ np.linalg.inv(turn)).buffer(0)
    left = Polygon(joint.region).buffer(0)
    for other in (Polygon(outlines[0]).buffer(0), its):
        left = shapely.intersection(left, other, grid_size=GRID)
    parts = [p for p in shapely.get_parts(left) if p.geom_type == "Polygon" and p.area > TOUCH]
    return [
        tuple((float(x), float(y)) for x, y in orient(part).exterior.coords[:-1]) for part in parts
    ]


def _lands(
    design: Design,
    old: Piece,
    halves: tuple[Piece, Piece],
    tab: tuple[str, str],
    target: tuple[str, str],
) -> float:
    """Area in mm² of a tab that lies on one half of its target, in the closed form."""
    new = {half.name: half for half in halves}
    shapes = []
    for name, panel in (tab, target):
        whole = old if name in new else design.piece(name)
        matrix = closed_matrix(whole, design.placements[whole.name], panel)
        outline = new.get(name, whole).panel(panel).outline
        shapes.append((matrix, outline))
    (at, mine), (onto, its) = shapes
    spatial = mine @ at[:3, :2].T + at[:3, 3]
    flat = (spatial - onto[:3, 3]) @ onto[:3, :2]
    one, other = (Polygon(ring).buffer(0) for ring in (flat, its))
    return float(shapely.intersection(one, other, grid_size=GRID).area)
