"""Closure is proved: angle, distance and landing of every joint."""

from __future__ import annotations

import itertools
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np
import shapely
from numpy.typing import NDArray

from jadeite.core.boards.fits import Fits
from jadeite.core.folding.kinematics import closed_matrices, transform
from jadeite.core.folding.slots import Slat, SlotFit, slot_fit, tongue_fit
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
Shapes = NDArray[np.object_]  # of shapely polygons


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


@dataclass(frozen=True, eq=False)
class _Met:
    """A joint and both its sides in the pose that is measured."""

    joint: Joint
    tab: _Side
    on: _Side


@dataclass(frozen=True)
class _Proof:
    """How joints of a kind are measured, and when one counts as closed."""

    measure: Callable[[Sequence[_Met], Fits], list[JointReport]]
    closed: Callable[[JointReport], bool]


def _lying(met: Sequence[_Met], fits: Fits) -> list[JointReport]:
    """Panels that lie on others: their distance, and how much of them lands there."""
    tabs, ons = [m.tab for m in met], [m.on for m in met]
    places, planes = np.array([s.matrix for s in tabs]), np.array([s.matrix for s in ons])
    cosines = np.abs((places[:, :3, 2] * planes[:, :3, 2]).sum(axis=1))
    angles = np.degrees(np.arccos(np.minimum(1.0, cosines)))
    into = np.swapaxes(planes[:, :3, :3], 1, 2)  # each target's own flat frame
    turns, shifts = into @ places[:, :3, :2], into @ (places[:, :3, 3:] - planes[:, :3, 3:])
    joined = [np.array(m.joint.region) if m.joint.region else m.tab.panel.outline for m in met]
    counts = np.array([len(outline) for outline in joined])
    whose = np.repeat(np.arange(len(met)), counts)
    corners = np.concatenate(joined)
    flat = (turns[whose] @ corners[:, :, None] + shifts[whose])[:, :, 0]
    away = np.add.reduceat(np.abs(flat[:, 2]), np.cumsum(counts) - counts) / counts
    mine = _sound(shapely.polygons(shapely.linearrings(flat[:, :2], indices=whose)))
    target = {id(s.panel.outline): i for i, s in enumerate(ons)}  # copies are alike
    alike = _sound(np.array([shapely.Polygon(ons[i].panel.outline) for i in target.values()]))
    shape = dict(zip(target, alike, strict=True))
    its = np.array([shape[id(s.panel.outline)] for s in ons])
    areas, landed = shapely.area(mine), np.ones(len(met))
    part = ~shapely.covers(its, mine)  # the usual case, and much the quicker to find
    lies = shapely.area(shapely.intersection(mine[part], its[part], grid_size=GRID))
    landed[part] = np.divide(lies, areas[part], out=np.zeros(len(lies)), where=areas[part] > 0)
    out = []
    for m, angle, apart, share, place in zip(
        met, angles.tolist(), away.tolist(), landed.tolist(), mine, strict=True
    ):
        wanted = (
            (m.tab.piece.board.thickness + m.on.piece.board.thickness) / 2
            + m.joint.pad
            + m.joint.gives
        )
        if m.joint.flush:
            wanted = 0.0
        elif apart < DISTANCE_LIMIT and small_turn(m.tab.piece, m.tab.panel.name):
            wanted = 0.0  # it lies in its target's own surface
        out.append(JointReport(m.joint, angle, apart, wanted, share, place))
    return out


def _slotted(met: Sequence[_Met], fits: Fits) -> list[JointReport]:
    """Strips that pass half way through one another."""
    return [_passed(m, slot_fit(m.tab.slat, m.on.slat), fits.slot_play) for m in met]


def _through(met: Sequence[_Met], fits: Fits) -> list[JointReport]:
    """Tongues, each through one of the openings of a panel."""

    def fit(m: _Met) -> SlotFit:
        return tongue_fit(m.tab.slat, m.on.slat, tuple(o.points for o in m.on.panel.openings))

    return [_passed(m, fit(m), fits.tongue) for m in met]


def _passed(m: _Met, fit: SlotFit, play: float) -> JointReport:
    return JointReport(m.joint, fit.off_square, fit.play, play, fit.free, shapely.Polygon())


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

    ways: dict[Callable[..., list[JointReport]], list[_Met]] = {}
    for joint in design.joints:
        met = _Met(joint, side(joint.tab), side(joint.target))
        ways.setdefault(PROOFS[joint.kind].measure, []).append(met)
    measured = {
        id(report.joint): report
        for measure, met in ways.items()
        for report in measure(met, design.fits)
    }
    return _together([measured[id(joint)] for joint in design.joints])


def _sound(shapes: Shapes) -> Shapes:
    """Panels' shapes; one that crosses itself is a finding of its own, but is measured."""
    crossed = ~shapely.is_valid(shapes)
    shapes[crossed] = shapely.buffer(shapes[crossed], 0)
    return shapes


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
    alike: dict[tuple[Where, str], list[JointReport]] = {}
    for r in reports:
        if r.joint.kind is Kind.GLUE:
            alike.setdefault((r.joint.target, r.joint.side), []).append(r)
    for glued in alike.values():
        for one, other in itertools.combinations(glued, 2):
            area = shapely.intersection(one.place, other.place, grid_size=GRID).area
            if area > SAME_PLACE:
                out.append((one.joint, other.joint, float(area)))
    return out
