"""A net that is too large is cut along one of its folds and gets a tab there, or in two halves.

All pieces keep one scale.  The panel that is cut off carries the tab, or the
one that stays does; the tab lies on the outside of the other, so that nothing
inside becomes narrower.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass, replace
from itertools import islice

import numpy as np
import shapely
from shapely.geometry import Polygon

from jadeite.core.boards.fit_rules import MIN_TAB
from jadeite.core.boards.fits import USUAL, Fits
from jadeite.core.errors import FieldError
from jadeite.core.nets.arrivals import Arrival, When
from jadeite.core.nets.halves import HALVES, HALVES_WAYS, TURNED, middle_cuts, split_in_half
from jadeite.core.nets.model import Design, Floats, Fold, Joint, Kind, Panel, Piece
from jadeite.core.nets.roles import Role
from jadeite.core.nets.turns import closed_matrix
from jadeite.core.nets.veins import veins_on

__all__ = ["Split", "best_split", "extent_of", "split_along", "splits_of"]

NEAR = 1e-6  # mm; rounding, corners this close to a fold lie on it
CLEAR = 0.5  # mm; from memory, between the tab and the ends of what it lies on
LEAST_TURN, MOST_TURN = 45.0, 135.0  # degrees; from memory, other folds make no good seam
SMALLER = 0.9  # a cut that leaves more than this share of the length is no help; from memory
LEAST_SEAM = 12.0  # mm; from memory, a shorter seam holds nothing
TIP_SHARE = 0.5  # of the tab's root remains at its tip; from memory
SEAM_COST = 12.0  # mm² of board that a mm of seam counts as, for the work of gluing it; from memory


@dataclass(frozen=True)
class Split:
    """A fold along which a piece may be cut, and what that costs.

    ``child`` names the panel beyond the fold, or stands for two equal halves;
    ``parts`` are the extents of both pieces in mm; ``seam`` is the length of
    the new joint in mm.
    """

    piece: str
    child: str
    title: str
    seam: float
    parts: tuple[tuple[float, float], tuple[float, float]]

    @property
    def cost(self) -> float:
        """Board of the tab and the work of the seam, in mm²."""
        return self.seam * (USUAL.tab_depth + SEAM_COST)


def extent_of(panels: Iterable[Panel]) -> tuple[float, float]:
    """Least rectangle along the axes round panels, shorter side first; mm."""
    points = np.concatenate([panel.outline for panel in panels])
    small, large = sorted(np.ptp(points, axis=0).tolist())
    return small, large


def _beyond(piece: Piece, child: str) -> set[str]:
    """Names of the panels that hang on a panel, itself counted."""
    out = {child}
    for fold in piece.tree:
        if fold.parent in out:
            out.add(fold.child)
    return out


def splits_of(piece: Piece, fits: Fits = USUAL) -> tuple[Split, ...]:
    """Every way in which a piece may be cut in two, cheapest first."""
    out = []
    for fold in piece.tree:
        if fold.kind == "rolled" or not LEAST_TURN <= abs(fold.angle) <= MOST_TURN:
            continue
        if not piece.panel(fold.child).role.traits.split:
            continue
        away = _beyond(piece, fold.child)
        crossing = any(not f.tree and (f.parent in away) != (f.child in away) for f in piece.folds)
        if crossing or fold.length < LEAST_SEAM:
            continue
        parts = (
            extent_of(p for p in piece.panels if p.name not in away),
            extent_of(p for p in piece.panels if p.name in away),
        )
        title = f"between {piece.panel(fold.parent).title} and {piece.panel(fold.child).title}"
        out.append(Split(piece.name, fold.child, title, fold.length, parts))
    out += islice(_halves(piece, fits), 1)
    return tuple(sorted(out, key=lambda s: s.cost))


def _halves(piece: Piece, fits: Fits) -> Iterator[Split]:
    """Cuts across the middle, the nearest first, then the same with their laps turned."""
    cuts = tuple(islice(middle_cuts(piece, fits), len(TURNED)))
    ways = (*zip(HALVES_WAYS, cuts, strict=False), *zip(TURNED, cuts, strict=False))
    for child, cut in ways:
        title = "into two equal halves" if child == HALVES else "in two, beside the middle"
        yield Split(piece.name, child, title, cut.seam, cut.parts)


def best_split(
    design: Design,
    piece: Piece,
    reaches: Iterable[tuple[float, float]],
    closes: Callable[[Design], bool],
) -> Split | None:
    """The cheapest cut after which both parts fit one of ``reaches`` (mm).

    Where no one cut does it, that which leaves the smallest part to be cut
    again; None when there is none.  ``closes`` proves a design: a cut whose tab
    has no place is not offered.
    """
    rooms = [tuple(sorted(r)) for r in reaches]

    def fits(part: Piece) -> bool:
        small, large = extent_of(part.panels)
        return any(small <= a + NEAR and large <= b + NEAR for a, b in rooms)

    known = {p.name for p in design.pieces}
    ways = [*splits_of(piece, design.fits), *islice(_halves(piece, design.fits), 1, None)]
    least, fallback = SMALLER * extent_of(piece.panels)[1], None
    for split in ways:
        try:
            made = split_along(design, piece.name, split.child)
        except FieldError:
            continue
        parts = [p for p in made.pieces if p.name == piece.name or p.name not in known]
        largest = max(extent_of(part.panels)[1] for part in parts)
        if all(fits(part) for part in parts):
            if closes(made):
                return split
        elif largest < least and closes(made):
            least, fallback = largest, split
    return fallback


def split_along(design: Design, piece_name: str, child: str) -> Design:
    """Cut a piece at the fold of a panel; the cut-off part is glued on with a tab.

    The new piece is named after the old one, with a letter from b on.

    Raises
    ------
    FieldError
        There is no such fold, or no seam can be made of it.
    """
    piece = design.piece(piece_name)
    taken = {p.name for p in design.pieces}
    name = next(n for n in (f"{piece_name}-{c}" for c in "bcdefghijklmnop") if n not in taken)
    if child in HALVES_WAYS:
        return split_in_half(design, piece_name, name, child)
    known = {split.child: split for split in splits_of(piece, design.fits)}
    if child not in known:
        raise FieldError(
            f"splits.{piece_name}",
            f"the {piece.title} cannot be cut at “{child[:40]}”",
            f"Use one of: {', '.join(known)}." if known else "Use none.",
        )
    fold = next(f for f in piece.tree if f.child == child)
    away = _beyond(piece, child)
    panels, tab, target_outline = _seam(piece, fold, away, design.fits)
    stays = tuple(
        replace(p, outline=target_outline) if p.name == fold.parent else p
        for p in piece.panels
        if p.name not in away
    )
    # seen from the panel that is cut off, the other one lies beyond the same fold
    turn = Fold(child, tab.name, *_ends(tab), fold.angle, fold.kind)
    rest = replace(
        piece,
        panels=stays,
        folds=tuple(f for f in piece.folds if f.child not in away),
        before=tuple(b for b in piece.before if not away & set(b)),
        veins=veins_on(piece.veins, stays),
    )
    part = Piece(
        name,
        f"{piece.title}, {piece.panel(child).title}",
        piece.board,
        (*panels, tab),
        (*(f for f in piece.folds if f.child in away and f.child != child), turn),
        piece.good_side,
        tuple(b for b in piece.before if set(b) <= away),
        piece.curves,
        piece.part,
        veins_on(piece.veins, panels),
    )
    return _rewired(design, piece, rest, part, away, tab, fold)


def _ends(panel: Panel) -> tuple[tuple[float, float], tuple[float, float]]:
    (ax, ay), (bx, by) = panel.outline[0].tolist(), panel.outline[1].tolist()
    return (ax, ay), (bx, by)


def _seam(
    piece: Piece, fold: Fold, away: set[str], fits: Fits
) -> tuple[list[Panel], Panel, Floats]:
    """The panels cut off, with their seam moved out; the tab; and the trimmed target."""
    t = piece.board.thickness
    child, parent = piece.panel(fold.child), piece.panel(fold.parent)
    a, b = np.array(fold.start), np.array(fold.end)
    way = (b - a) / np.linalg.norm(b - a)
    inward = np.array([-way[1], way[0]])  # into the panel that is cut off
    offset = t / math.sin(math.radians(abs(fold.angle)))
    # the carrier reaches past the corner by d / sin(turn), as that of any outside tab
    ring, n = child.outline, len(child.outline)
    on = [abs(float((p - a) @ inward)) < NEAR for p in ring]
    sides = [i for i in range(n) if on[i] and on[(i + 1) % n]]
    first = max(sides, key=lambda i: float(np.linalg.norm(ring[(i + 1) % n] - ring[i])))
    ring = np.roll(ring, -first, axis=0)
    past = -inward * offset
    outline = np.vstack([ring[0] + past, ring[1] + past, ring[1:], ring[:1]])
    along = sorted(float((p - a) @ way) for p in ring[:2])
    low, high = along[0] + CLEAR, along[-1] - CLEAR
    root0, root1 = a - inward * offset + way * high, a - inward * offset + way * low
    depth = _deep(parent.outline, a, way, inward, low, high, fits.tab_depth)
    if depth < MIN_TAB:
        raise FieldError(
            f"splits.{piece.name}",
            f"the seam at the {child.title} has no room for a tab",
            "Use another fold.",
        )
    taper = min(depth, (high - low) * (1 - TIP_SHARE) / 2)
    out = -inward * depth
    tab = np.array([root0, root1, root1 + out + way * taper, root0 + out - way * taper])
    panel = Panel(
        f"tab.cut.{child.name}", f"{child.title} seam", Role.TAB, tab, (high - low, depth)
    )
    strip = Polygon(
        [a + way * (along[0] - 1), a + way * (along[-1] + 1),
         a + way * (along[-1] + 1) - inward * t / 2, a + way * (along[0] - 1) - inward * t / 2]
    )  # fmt: skip
    left = shapely.difference(Polygon(parent.outline).buffer(0), strip, grid_size=1e-9)
    if not isinstance(left, Polygon):
        raise FieldError(f"splits.{piece.name}", "the seam parts a panel", "Use another fold.")
    ring = np.array(shapely.geometry.polygon.orient(left).exterior.coords)[:-1]
    panels = [
        replace(p, outline=outline) if p.name == child.name else p
        for p in piece.panels
        if p.name in away
    ]
    return panels, panel, ring


def _deep(
    outline: Floats,
    a: Floats,
    way: Floats,
    inward: Floats,
    low: float,
    high: float,
    depth: float,
) -> float:
    """How deep a tab may lie on a panel beyond a seam, in mm."""
    local = np.column_stack([(outline - a) @ way, -(outline - a) @ inward])
    shape = Polygon(local).buffer(-CLEAR, join_style="mitre")
    while depth >= MIN_TAB:
        taper = min(depth, (high - low) * (1 - TIP_SHARE) / 2)
        tip = Polygon([(low, 1.0), (high, 1.0), (high - taper, depth), (low + taper, depth)])
        if shape.buffer(1e-6).contains(tip):
            return depth
        depth -= 0.5
    return 0.0


def _rewired(
    design: Design,
    old: Piece,
    rest: Piece,
    part: Piece,
    away: set[str],
    tab: Panel,
    fold: Fold,
) -> Design:
    """The design with the part as a piece of its own, and everything that named its panels."""

    def moved(where: tuple[str, str]) -> tuple[str, str]:
        return (part.name, where[1]) if where[0] == old.name and where[1] in away else where

    joints = [replace(j, tab=moved(j.tab), target=moved(j.target)) for j in design.joints]
    joints.append(
        Joint(Kind.GLUE, (part.name, tab.name), (old.name, fold.parent), f"{part.title}, seam",
              "outside")
    )  # fmt: skip
    pieces = []
    for piece in design.pieces:
        pieces += [rest, part] if piece.name == old.name else [piece]
    offset = closed_matrix(old, design.placements[old.name], fold.child)
    arrivals = design.arrivals.moved(lambda where: (moved(where),)).waiting_for(part.name, old.name)
    return replace(
        design,
        pieces=tuple(pieces),
        joints=tuple(joints),
        placements={**design.placements, part.name: offset},
        dimensions=tuple(
            replace(d, piece=part.name) if d.piece == old.name and d.panel in away else d
            for d in design.dimensions
        ),
        meetings=tuple((moved(a), moved(b)) for a, b in design.meetings),
        arrivals=arrivals.adding(Arrival(part.name, When.FOLDED, (old.name, fold.parent))),
    )
