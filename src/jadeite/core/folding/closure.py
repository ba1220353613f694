"""Closure is proved: angle, distance and landing of every joint."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, replace

import numpy as np
import shapely

from jadeite.core.boards.fit_rules import SLOT_LONGER
from jadeite.core.folding.kinematics import closed_matrices, transform
from jadeite.core.folding.slots import Slat, slot_fit, tongue_fit
from jadeite.core.nets.model import Design, Floats, Joint, Piece
from jadeite.core.nets.seams import SMALL_TURN
from jadeite.core.nets.slats import SLOT_PLAY

__all__ = [
    "ANGLE_LIMIT",
    "DISTANCE_LIMIT",
    "LANDED_LIMIT",
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
        """Whether a glue joint closes; other kinds only need to be parallel."""
        if self.angle > ANGLE_LIMIT:
            return False
        if self.joint.kind not in ("glue", "slot"):
            return self.landed > 0
        apart = abs(self.distance - self.wanted)
        return apart <= DISTANCE_LIMIT and self.landed >= LANDED_LIMIT


def joint_reports(
    design: Design, matrices: Mapping[str, Mapping[str, Floats]] | None = None
) -> tuple[JointReport, ...]:
    """Measure every joint of a design in its closed form.

    ``matrices`` (piece, panel to 4 x 4) may be given to measure another pose.
    """
    if matrices is None:
        matrices = closed_matrices(design)
    pieces = {piece.name: piece for piece in design.pieces}
    reports: list[JointReport] = []
    for joint in design.joints:
        (tab_piece, tab_name), (on_piece, on_name) = joint.tab, joint.target
        m_tab, m_on = matrices[tab_piece][tab_name], matrices[on_piece][on_name]
        if joint.kind == "slot":
            one, other = (
                Slat(pieces[p].panel(n).outline, m, pieces[p].board.thickness)
                for (p, n), m in ((joint.tab, m_tab), (joint.target, m_on))
            )
            openings = tuple(o.points for o in pieces[on_piece].panel(on_name).openings)
            fit = tongue_fit(one, other, openings) if openings else slot_fit(one, other)
            play = SLOT_LONGER if openings else SLOT_PLAY
            report = (fit.off_square, fit.play, play, fit.free)
            reports.append(JointReport(joint, *report, shapely.Polygon()))
            continue
        cosine = abs(float(m_tab[:3, 2] @ m_on[:3, 2]))
        angle = math.degrees(math.acos(min(1.0, cosine)))
        outline = pieces[tab_piece].panel(tab_name).outline
        spatial = transform(m_tab, outline)
        flat = (spatial - m_on[:3, 3]) @ m_on[:3, :3]  # into the target's own flat frame
        tab = _sound(flat[:, :2])
        target = _sound(pieces[on_piece].panel(on_name).outline)
        area = tab.area
        landed = shapely.intersection(tab, target, grid_size=GRID).area / area if area > 0 else 0.0
        wanted = (pieces[tab_piece].board.thickness + pieces[on_piece].board.thickness) / 2
        apart = float(np.abs(flat[:, 2]).mean())
        if apart < DISTANCE_LIMIT and small_turn(pieces[tab_piece], tab_name):
            wanted = 0.0  # it lies in its target's own surface
        reports.append(JointReport(joint, angle, apart, wanted, float(landed), tab))
    return _together(reports)


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
    """How far apart in mm the nearest two sides of two panels lie, over what both have."""
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
    """Air in mm between two plies where they stand farthest apart: a wedge that glue fills."""
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
    glued = [r for r in reports if r.joint.kind == "glue"]
    for i, one in enumerate(glued):
        for other in glued[i + 1 :]:
            if one.joint.target != other.joint.target or one.joint.side != other.joint.side:
                continue
            area = shapely.intersection(one.place, other.place, grid_size=GRID).area
            if area > SAME_PLACE:
                out.append((one.joint, other.joint, float(area)))
    return out
