"""What needs a look about the closed thing, measured on its panels."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from shapely.geometry import Polygon

from jadeite.core.assembly.clock import the
from jadeite.core.assembly.order import making_order
from jadeite.core.contents import Arrangement
from jadeite.core.findings import Finding, Level
from jadeite.core.folding import Body, JointReport, body_gap, folded_faces, round_gap
from jadeite.core.folding.passing import in_the_way
from jadeite.core.folding.showing import backs_outside, covered_openings
from jadeite.core.nets import Design
from jadeite.core.nets.model import Kind
from jadeite.core.placing import beyond_round
from jadeite.core.project import Task
from jadeite.core.shapes import ShapeFamily
from jadeite.core.solid import Form
from jadeite.core.units import number_text

__all__ = [
    "body_findings",
    "overlay_findings",
    "passing_findings",
    "round_findings",
    "showing_findings",
]

TOUCH = 1e-3  # mm; rounding, a thing may touch a ply
UPRIGHT = 0.999  # cosine; rounding
INTO = 1e-6  # mm; rounding when contents lie against a face
SNUG = 0.3  # mm on each side; from memory, with less air a lid has to be pressed on
Size = tuple[float, float, float]


def round_findings(
    task: Task, arrangement: Arrangement | None, family: ShapeFamily, design: Design
) -> list[Finding]:
    """Whether what is in a shape that was measured for something round is round."""
    if arrangement is None:
        return []
    over = beyond_round(arrangement, design, task.contents)
    if over <= INTO:
        return []
    return [
        Finding(
            Level.BLOCKED,
            "measured-round",
            f"It is measured for something round, but what is in it reaches out of that by "
            f"{number_text(over)} mm.",
            "contents",
            "shape",
            family.cure_for("measured-round"),
        )
    ]


def body_findings(bodies: Sequence[Body], design: Design) -> list[Finding]:
    """Things that a ply runs into, in the closed design: measured on each thing itself."""
    if not bodies:
        return []
    faces = folded_faces(design)
    out = []
    for body in bodies:
        points = np.concatenate(body.faces)
        centre = body.pose[:3, 3]
        if body.form is Form.BALL:
            room, face = round_gap(faces, Form.BALL, centre, body.size)
        elif body.form is Form.CYLINDER and abs(body.pose[2, 2]) > UPRIGHT:
            room, face = round_gap(faces, Form.CYLINDER, centre, body.size)
        else:
            room, face = body_gap(faces, points.min(axis=0), points.max(axis=0))
        if room < -TOUCH and face is not None:
            piece = design.piece(face.piece)
            walls = (design.body.name, *design.arrivals.lids)
            hit = piece.panel(face.panel).title if face.piece in walls else piece.title
            out.append(
                Finding(
                    Level.BLOCKED,
                    "thing-hits-board",
                    f"{body.name[:1].upper()}{body.name[1:]} runs into {the(hit)} by "
                    f"{number_text(-room)} mm.",
                    f"{face.piece}/{face.panel}",
                    "contents",
                )
            )
    return out


def passing_findings(bodies: Sequence[Body], design: Design) -> list[Finding]:
    """Things that do not go straight in and out through the mouth, its flaps and lids open."""
    opened = {(m.piece, name) for m in making_order(design) if m.closing for name in m.folds}
    opened |= {own for own, led in design.arrivals.ridden.items() if led in opened}
    out = []
    for met in in_the_way(design, [body for body in bodies if not body.poured], opened):
        panel = design.piece(met.piece).panel(met.panel)
        out.append(
            Finding(
                Level.LOOK,
                "thing-cannot-pass",
                f"{met.body[:1].upper()}{met.body[1:]} does not go straight in or out: "
                f"{panel.title} reaches {number_text(met.depth)} mm into its way. Tilt it, or "
                "make the opening larger.",
                f"{met.piece}/{met.panel}",
                "contents",
            )
        )
    return out


def overlay_findings(design: Design, joints: Sequence[JointReport]) -> list[Finding]:
    """Overlays over which something slides: they take from its air, and may leave none."""
    worst: tuple[float, float, str, str, str] | None = None
    for report in joints:
        if report.joint.kind is not Kind.SLIDE:
            continue
        inner = design.piece(report.joint.target[0])
        outer = design.piece(report.joint.tab[0])
        air = report.distance - (inner.board.thickness + outer.board.thickness) / 2
        proud = _proud_under(design, report)
        if proud > 0 and air - proud < SNUG and (worst is None or air - proud < worst[0]):
            title = inner.panel(report.joint.target[1]).title
            where = "/".join(report.joint.target)
            worst = (air - proud, air, title, report.joint.title, where)
    if worst is None:
        return []
    left, air, panel, title, where = worst
    binds = left < 0
    return [
        Finding(
            Level.BLOCKED if binds else Level.LOOK,
            "overlay-under-lid",
            f"{title[0].upper()}{title[1:]}: the overlay on the {panel} takes "
            f"{number_text(air - left, 2)} mm of {number_text(air, 2)} mm of air; it "
            f"{'binds' if binds else 'is snug'}. Take it away, or make the lid less deep.",
            where,
        )
    ]


def _proud_under(design: Design, report: JointReport) -> float:
    """How far in mm overlays stand proud of a panel where another slides over it."""
    proud = 0.0
    level = {report.joint.target}
    while level:
        lying = [
            name
            for on in level
            for name in design.arrivals.lying_on(on)
            if design.piece(name).panels[0].role.traits.proud
        ]
        under = [
            name
            for name in lying
            if report.place.intersection(Polygon(design.piece(name).panels[0].outline)).area > 0
        ]
        proud += max(
            (design.piece(name).board.thickness + _foam_under(design, name) for name in under),
            default=0.0,
        )
        level = {(name, design.piece(name).panels[0].name) for name in under}
    return proud


def _foam_under(design: Design, piece: str) -> float:
    """How thick the foam is on which a piece stands off what carries it, in mm."""
    return max((j.pad for j in design.joints if j.tab[0] == piece), default=0.0)


def showing_findings(design: Design, family: ShapeFamily) -> list[Finding]:
    """Backs of one-sided boards that show outside, and cut-outs that something covers."""
    faces = folded_faces(design)
    out = []
    backs = backs_outside(design, faces)
    if backs:
        piece = design.piece(backs[0][0])
        panel = piece.panel(backs[0][1])
        out.append(
            Finding(
                Level.LOOK,
                "back-shows",
                f"{piece.title[0].upper()}{piece.title[1:]}: {piece.board.title.lower()} has one "
                f"good side, and its back shows outside, on the {panel.title}.",
                f"{piece.name}/{panel.name}",
                "shape",
                family.cure_for("back-shows"),
            )
        )
    for hidden in covered_openings(design, faces):
        piece, other = design.piece(hidden.piece), design.piece(hidden.by[0])
        windows = any(o.kind == "window" for o in piece.panel(hidden.panel).openings)
        if windows and family.flat and design.hollow is not None:
            continue  # of a pouch it shows what lies in it
        so = "it shows in the light" if windows else "nothing passes there"
        out.append(
            Finding(
                Level.LOOK,
                "cutout-covered",
                f"{piece.title[0].upper()}{piece.title[1:]}: {other.panel(hidden.by[1]).title} "
                f"lies over {hidden.share:.0%} of a cut-out in the "
                f"{piece.panel(hidden.panel).title}: {so}.",
                f"{hidden.piece}/{hidden.panel}",
                "shape",
                family.cure_for("cutout-covered"),
            )
        )
    return out
