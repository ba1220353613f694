"""The figures of a whole design: board, weight, how well its seams close."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from jadeite.core.cutting.profiles import CutterProfile
from jadeite.core.cutting.settings import setting_for
from jadeite.core.folding import JointReport
from jadeite.core.nets import Design, piece_area
from jadeite.core.nets.model import Kind
from jadeite.core.project import Learned
from jadeite.core.reckoning import Mark, Reckoning, constant, given, reckon

__all__ = ["lines_time", "totals", "weight_of"]


def weight_of(design: Design) -> float:
    """Of all pieces, in g."""
    return sum(piece_area(p) * p.board.grammage / 1e6 for p in design.pieces)


def totals(design: Design, mass: float, joints: tuple[JointReport, ...]) -> dict[str, Reckoning]:
    """Board in mm², weights in g, and the largest gap in a seam in mm."""
    areas = [(piece, piece_area(piece)) for piece in design.pieces]
    board = reckon(
        "Board used",
        sum(a for _, a in areas),
        "all panels of all pieces",
        *(given(piece.title, a, "mm2") for piece, a in areas),
        unit="mm2",
    )
    weight = reckon(
        "Finished weight",
        sum(a * p.board.grammage / 1e6 for p, a in areas),
        "area times grammage, contents not counted",
        *(
            given(f"{p.title}, {p.board.grammage:.0f} g/m²", a * p.board.grammage / 1e6, "g")
            for p, a in areas
        ),
        unit="g",
    )
    glued = [r for r in joints if r.joint.kind is Kind.GLUE]
    apart = max((abs(r.distance - r.wanted) for r in glued), default=0.0)
    closes = reckon(
        "Largest gap in a seam",
        apart,
        "distance of the plies against half of both thicknesses",
        given("glue joints", len(glued), ""),
    )
    return {
        "board-area": board,
        "weight": weight,
        "contents-mass": given("Contents", mass, "g"),
        "seam-gap": closes,
    }


def lines_time(
    design: Design, profile: CutterProfile, heavier: str, learned: Sequence[Learned]
) -> dict[str, Reckoning]:
    """How long a cutter takes for the lines on petals and leaves, in s; empty without any."""
    lines = [(p, vein) for p in design.pieces for vein in p.veins if not vein.trace.ink]
    if not lines:
        return {}
    pressed = cut = 0.0
    for piece, vein in lines:
        length = float(np.linalg.norm(np.diff(vein.points, axis=0), axis=1).sum())
        if vein.cut:
            cut += length * setting_for(piece.board, heavier, profile, learned).passes
        else:
            pressed += length
    seconds = pressed / profile.speed("score") + cut / profile.speed("cut")
    seconds += profile.lift * len(lines)
    return {
        "lines-time": reckon(
            "Lines take",
            seconds,
            "of the cutting time of one: length at the cutter's speed, and a lift for each line",
            given("pressed", pressed),
            given("cut, each pass", cut),
            given("lines", len(lines), ""),
            constant("from line to line", profile.lift, "s", Mark.MEMORY),
            unit="s",
        )
    }
