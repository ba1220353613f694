"""The proof that a design closes.

Every joint is measured in the closed form, every pair of panels is tested for
passing through one another, and the hollow must be free.  A failure blocks.
"""

from __future__ import annotations

import numpy as np

from jadeite.core.findings import Finding, Level
from jadeite.core.folding import (
    FoldedFace,
    JointReport,
    body_gap,
    closed_matrices,
    crossings,
    edges_apart,
    folded_faces,
    joint_reports,
    loop_gap,
    plies_apart,
    round_gap,
    tabs_in_one_place,
)
from jadeite.core.nets import Design, flat_findings
from jadeite.core.nets.arrivals import How
from jadeite.core.nets.model import Kind
from jadeite.core.solid import Form

__all__ = ["prove"]

INTO = 1e-6  # mm; rounding when the hollow lies against a face
MEETS = 0.05  # mm; design rule, as for the distance of a joint
PINCH = 1.6  # mm; from memory, glue and a clip close no wider a gap between two plies
LOOP = 1e-6  # mm; rounding of folds that close a loop


def prove(design: Design) -> tuple[tuple[JointReport, ...], tuple[Finding, ...]]:
    """Prove that a design closes; every failure blocks."""
    closed = closed_matrices(design)
    reports = joint_reports(design, closed)
    found: list[Finding] = []
    for r in reports:
        if not r.closed:
            tab = design.piece(r.joint.tab[0]).panel(r.joint.tab[1])
            target = design.piece(r.joint.target[0]).panel(r.joint.target[1])
            if tab.size[1] > max(target.size):
                found.append(
                    Finding(
                        Level.BLOCKED,
                        "tab-too-deep",
                        f"{r.joint.title}: the tab is {tab.size[1]:.1f} mm deep, deeper than "
                        f"what it is glued to ({max(target.size):.1f} mm).",
                        "/".join(r.joint.tab),
                    )
                )
            found.append(
                Finding(
                    Level.BLOCKED,
                    "joint-open",
                    f"{r.joint.title}: does not close. Angle {r.angle:.2f}°, distance "
                    f"{r.distance:.2f} mm for {r.wanted:.2f} mm, {r.landed:.0%} of it lands.",
                    "/".join(r.joint.tab),
                )
            )
    for (one_piece, one_name), (other_piece, other_name) in design.meetings:
        gap = edges_apart(design, closed, (one_piece, one_name), (other_piece, other_name))
        if gap > MEETS:
            titles = [
                design.piece(p).panel(n).title
                for p, n in ((one_piece, one_name), (other_piece, other_name))
            ]
            found.append(
                Finding(
                    Level.BLOCKED,
                    "edges-apart",
                    f"{titles[0]} and {titles[1]} should meet, but gape by {gap:.2f} mm.",
                    f"{one_piece}/{one_name}",
                )
            )
    for first, second in design.arrivals.pairs(How.PRESSED):
        gap = plies_apart(design, closed, first, second)
        if gap > PINCH:
            title = design.piece(first[0]).panel(first[1]).title
            found.append(
                Finding(
                    Level.BLOCKED,
                    "plies-apart",
                    f"{title}: its plies stand {gap:.1f} mm apart; glue closes {PINCH} mm.",
                    "/".join(first),
                )
            )
    for one, other, area in tabs_in_one_place(reports):
        found.append(
            Finding(
                Level.BLOCKED,
                "tabs-in-one-place",
                f"{one.title} and {other.title} claim the same {area:.1f} mm².",
                "/".join(one.tab),
            )
        )
    joined = {
        frozenset(((p.name, f.parent), (p.name, f.child))) for p in design.pieces for f in p.folds
    }
    for r in reports:  # a tab in its target's own surface shares that plane by intent
        if r.joint.kind is Kind.GLUE and r.wanted == 0:
            joined.add(frozenset((r.joint.tab, r.joint.target)))
    faces = folded_faces(design, closed)
    leaning = frozenset((p.name, panel) for p in design.pieces for panel in p.leaning)
    for a, b, length in crossings(faces, frozenset(joined), leaning):
        found.append(
            Finding(
                Level.BLOCKED,
                "panels-cross",
                f"{design.piece(a.piece).panel(a.panel).title} passes through "
                f"{design.piece(b.piece).panel(b.panel).title} over {length:.1f} mm.",
                f"{a.piece}/{a.panel}",
            )
        )
    nets: set[int] = set()  # copies are alike: what is said of the first holds for all
    for piece in design.pieces:
        gap = loop_gap(piece, closed[piece.name])
        if gap > LOOP:
            found.append(
                Finding(
                    Level.BLOCKED,
                    "loop-open",
                    f"{piece.title}: a fold gapes by {gap:.2f} mm.",
                    piece.name,
                )
            )
        if id(piece.panels) not in nets:
            found += flat_findings(piece)
        nets.add(id(piece.panels))
    found += _hollow_findings(design, faces)
    return reports, tuple(found)


def _hollow_findings(design: Design, faces: tuple[FoldedFace, ...]) -> list[Finding]:
    found = []
    for hollow in design.cells or ((design.hollow,) if design.hollow else ()):
        centre, half = np.array(hollow.centre), np.array(hollow.size) / 2
        if hollow.form is Form.BLOCK:
            room, face = body_gap(faces, centre - half, centre + half)
        else:
            room, face = round_gap(faces, hollow.form, centre, hollow.size)
        if room >= -INTO or face is None:
            continue
        panel = design.piece(face.piece).panel(face.panel)
        found.append(
            Finding(
                Level.BLOCKED,
                "hollow-small",
                f"{panel.title} of the {face.piece} reaches {-room:.2f} mm into the hollow.",
                f"{face.piece}/{face.panel}",
            )
        )
    return found
