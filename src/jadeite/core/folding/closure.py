"""Closure is proved: angle, distance and landing of every joint."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace

import numpy as np
import shapely

from jadeite.core.boards.fits import Fits
from jadeite.core.folding.kinematics import closed_matrices, transform
from jadeite.core.folding.slots import Slat, slot_fit, tongue_fit
from jadeite.core.nets.arrivals import Where
from jadeite.core.nets.model import Design, Floats, Joint, Kind, Panel, Piece
from jadeite.core.nets.seams import SMALL_TURN

__all__ = [
    "ANGLE_LIMIT",
    "DISTANCE_LIMIT",
    "LANDED_LIMIT",
    "PROOFS",
    "JointReport",
    "edges_apart",
    "joint_reports",
    "plies_apart",
    "small_turn",
    "tabs_in_one_place",
]

ANGLE_LIMIT = 0.1  # degrees; design rule
DISTANCE_LIMIT = 0.05  # mm; design rule
LANDED_LIMIT = 0.95  # share of the tab; design rule
GRID = 1e-6  # mm; rounding, the plain overlay may mistake shapes that share an edge
SAME_PLACE = 0.01  # mm2; below it two tabs only touch


@dataclass(frozen=True)
class JointReport:
    """A joint as measured on the folded form.

    ``angle`` in degrees between the faces, ``distance`` of their middle
    surfaces and the distance ``wanted`` in mm, ``landed`` the share of the
    tab that lies on its target.  ``place`` is the tab's shadow on the target.
    Of strips that are slotted into one another ``angle`` is what a right angle
    lacks, ``distance`` the play between the ends of both slots, and ``landed``
    the share of the strips' height over which they pass through each other freely.
    """

    joint: Joint
    angle: float
    distance: float
    wanted: float
    landed: float
    place: shapely.Polygon

    @property
    def closed(self) -> bool:
        """Whether it closes, by the proof of its kind."""
        return self.angle <= ANGLE_LIMIT and PROOFS[self.joint.kind].closed(self)


@dataclass(frozen=True, eq=False)
class _Side:
    """One side of a joint: its piece and panel, and where that is."""

    piece: Piece
    panel: Panel
    matrix: Floats

    @property
    def slat(self) -> Slat:
        return Slat(self.panel.outline, self.matrix, self.piece.board.thickness)


@dataclass(frozen=True)
class _Proof:
    """How a kind of joint is measured, and what then counts as closed."""

    measure: Callable[[Joint, _Side, _Side, Fits], JointReport]
    closed: Callable[[JointReport], bool]


def _lying(joint: Joint, tab: _Side, on: _Side, fits: Fits) -> JointReport:
    """A panel that lies on another: its distance, and how much of it lands there."""
    cosine = abs(float(tab.matrix[:3, 2] @ on.matrix[:3, 2]))
    angle = math.degrees(math.acos(min(1.0, cosine)))
    spatial = transform(tab.matrix, tab.panel.outline)
    flat = (spatial - on.matrix[:3, 3]) @ on.matrix[:3, :3]  # into the target's own flat frame
    mine, its = _sound(flat[:, :2]), _sound(on.panel.outline)
    landed, area = 1.0, mine.area
    if not its.covers(mine):  # the usual case, and much the quicker to find
        landed = shapely.intersection(mine, its, grid_size=GRID).area / area if area > 0 else 0.0
    wanted = (tab.piece.board.thickness + on.piece.board.thickness) / 2
    apart = float(np.abs(flat[:, 2]).mean())
    if apart < DISTANCE_LIMIT and small_turn(tab.piece, tab.panel.name):
        wanted = 0.0  # it lies in its target's own surface
    return JointReport(joint, angle, apart, wanted, float(landed), mine)


def _slotted(joint: Joint, tab: _Side, on: _Side, fits: Fits) -> JointReport:
    """Two strips that pass half way through one another."""
    fit = slot_fit(tab.slat, on.slat)
    return JointReport(joint, fit.off_square, fit.play, fits.slot_play, fit.free, shapely.Polygon())


def _through(joint: Joint, tab: _Side, on: _Side, fits: Fits) -> JointReport:
    """A tongue through one of the openings of a panel."""
    fit = tongue_fit(tab.slat, on.slat, tuple(o.points for o in on.panel.openings))
    return JointReport(joint, fit.off_square, fit.play, fits.tongue, fit.free, shapely.Polygon())


def _touches(report: JointReport) -> bool:
    """It need only lie against the other somewhere."""
    return report.landed > 0


def _fits(report: JointReport) -> bool:
    """The distance that is wanted, over all of it."""
    apart = abs(report.distance - report.wanted)
    return apart <= DISTANCE_LIMIT and report.landed >= LANDED_LIMIT


PROOFS: Mapping[Kind, _Proof] = {
    Kind.GLUE: _Proof(_lying, _fits),
    Kind.TUCK: _Proof(_lying, _touches),
    Kind.SLIDE: _Proof(_lying, _touches),
    Kind.SLOT: _Proof(_slotted, _fits),
    Kind.TONGUE: _Proof(_through, _fits),
}


def joint_reports(
    design: Design, matrices: Mapping[str, Mapping[str, Floats]] | None = None
) -> tuple[JointReport, ...]:
    """Measure every joint of a design in its closed form.

    ``matrices`` (piece, panel to 4 x 4) may be given to measure another pose.
    """
    places = closed_matrices(design) if matrices is None else matrices
    pieces = {piece.name: piece for piece in design.pieces}

    def side(where: Where) -> _Side:
        piece = pieces[where[0]]
        return _Side(piece, piece.panel(where[1]), places[where[0]][where[1]])

    return _together(
        [PROOFS[j.kind].measure(j, side(j.tab), side(j.target), design.fits) for j in design.joints]
    )


def _sound(outline: Floats) -> shapely.Polygon:
    """A panel's shape; one that crosses itself is a finding of its own, but is measured."""
    shape = shapely.Polygon(outline)
    return shape if shape.is_valid else shape.buffer(0)


def _together(reports: list[JointReport]) -> tuple[JointReport, ...]:
    """A tab that lies on both halves of its target lands on them together."""
    whole: dict[tuple[str, tuple[str, str], str], float] = {}
    for r in reports:
        key = (r.joint.title, r.joint.tab, r.joint.side)
        whole[key] = whole.get(key, 0.0) + r.landed
    if len(whole) == len(reports):
        return tuple(reports)
    return tuple(
        replace(r, landed=min(1.0, whole[r.joint.title, r.joint.tab, r.joint.side]))
        for r in reports
    )


def edges_apart(
    design: Design,
    matrices: Mapping[str, Mapping[str, Floats]],
    one: tuple[str, str],
    other: tuple[str, str],
) -> float:
    """How far apart in mm the nearest two sides of two panels lie, over what both have.

    ``matrices`` are (4, 4) float, by piece and panel.
    """
    rings = [
        transform(matrices[piece][panel], design.piece(piece).panel(panel).outline)
        for piece, panel in (one, other)
    ]
    sides = [list(zip(ring, np.roll(ring, -1, axis=0), strict=True)) for ring in rings]
    gaps = [
        max(_from_segment(p, *long) for p in short)
        for mine in sides[0]
        for its in sides[1]
        for short, long in (sorted((mine, its), key=lambda s: float(np.linalg.norm(s[1] - s[0]))),)
    ]
    return min(gaps)


def plies_apart(
    design: Design,
    matrices: Mapping[str, Mapping[str, Floats]],
    one: tuple[str, str],
    other: tuple[str, str],
) -> float:
    """Air in mm between two plies where they stand farthest apart: a wedge that glue fills.

    ``matrices`` are (4, 4) float, by piece and panel.
    """
    gaps = []
    for mine, its in ((one, other), (other, one)):
        corners = transform(matrices[mine[0]][mine[1]],
                            design.piece(mine[0]).panel(mine[1]).outline)  # fmt: skip
        plane = matrices[its[0]][its[1]]
        gaps.append(float(np.abs((corners - plane[:3, 3]) @ plane[:3, 2]).max()))
    plies = [design.piece(piece).board.thickness for piece, _ in (one, other)]
    return max(0.0, max(gaps) - sum(plies) / 2)


def _from_segment(point: Floats, a: Floats, b: Floats) -> float:
    way = b - a
    share = min(1.0, max(0.0, float((point - a) @ way) / max(float(way @ way), 1e-18)))
    return float(np.linalg.norm(a + share * way - point))


def small_turn(piece: Piece, tab: str) -> bool:
    """Whether a tab turns so little that it may lie in its target's own surface."""
    turns = [abs(fold.angle) for fold in piece.folds if fold.child == tab]
    return bool(turns) and max(turns) < SMALL_TURN


def tabs_in_one_place(reports: tuple[JointReport, ...]) -> list[tuple[Joint, Joint, float]]:
    """Pairs of tabs glued to the same side of one target that overlap, with mm²."""
    out = []
    glued = [r for r in reports if r.joint.kind is Kind.GLUE]
    for i, one in enumerate(glued):
        for other in glued[i + 1 :]:
            if one.joint.target != other.joint.target or one.joint.side != other.joint.side:
                continue
            area = shapely.intersection(one.place, other.place, grid_size=GRID).area
            if area > SAME_PLACE:
                out.append((one.joint, other.joint, float(area)))
    return out
