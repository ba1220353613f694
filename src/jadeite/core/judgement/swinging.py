"""Whether a hinged lid swings clear of what stands below it."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from jadeite.core.findings import Finding, Level
from jadeite.core.folding import Body, folded_faces
from jadeite.core.nets import Design
from jadeite.core.nets.model import Floats
from jadeite.core.units import number_text

__all__ = ["swing_findings"]

TOUCH = 1e-3  # mm; rounding, the lid may touch what it passes
OFF = 1.0  # mm; from memory, what ends so near the hinge's height is a wall below the rim


def swing_findings(bodies: Sequence[Body], design: Design) -> list[Finding]:
    """Things and pieces that the lid's front would hit as it comes round, by how much."""
    swing = design.swing
    if swing is None:
        return []
    standing: list[tuple[str, str, Floats]] = [
        (body.name, "contents", np.concatenate(body.faces)) for body in bodies if not body.poured
    ]
    lids = design.arrivals.lids
    for face in folded_faces(design):
        if face.piece not in lids and face.points[:, 2].max() > swing.z + OFF:
            half = face.normal * face.thickness / 2
            points = np.concatenate([face.points + half, face.points - half])
            standing.append((design.piece(face.piece).title, f"{face.piece}/{face.panel}", points))
    out = []
    for name, where, points in standing:
        by = swing.hit(points)
        if by > TOUCH:
            out.append(
                Finding(
                    Level.BLOCKED,
                    "lid-hits",
                    f"{name[:1].upper()}{name[1:]} is in the way of the lid's front as it swings, "
                    f"by {number_text(by)} mm. Make it lower, or stand it farther back.",
                    where,
                    "contents" if where == "contents" else "shape",
                )
            )
    return out
