"""Tabs and tuck flaps behind a window, trimmed as far as they still hold.

A tab keeps 6 mm and a tuck flap 8 mm of its depth, along the whole of its
hinge: less would hold badly.  What is glued beyond them was there to spare.
"""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from jadeite.core.boards.fit_rules import MIN_TAB
from jadeite.core.dressings.behind import Where
from jadeite.core.nets.model import Design, Floats, Fold, Joint, Kind, Panel
from jadeite.core.nets.roles import Role

__all__ = ["LEAST_TUCK", "trimmed_behind"]

LEAST_TUCK = 8.0  # mm; from memory, a shallower tuck flap springs out
FINE = 1e-6  # mm; rounding


def trimmed_behind(design: Design, where: Where, depth: float) -> Design:
    """The design with tabs and tuck flaps behind a panel no deeper than wanted, in mm.

    None gets shallower than it may be and hold; what is glued on another way stays.
    """
    for joint in design.joints:
        if joint.target == where:
            design = _trimmed(design, joint, depth)
    return design


def _least(joint: Joint, panel: Panel) -> float | None:
    """The depth that a tab must keep, in mm; None where it is not trimmed at all."""
    if joint.region:
        return None
    if joint.kind is Kind.GLUE and panel.role is Role.TAB:
        return MIN_TAB
    return LEAST_TUCK if joint.kind is Kind.TUCK and panel.role is Role.FLAP else None


def _trimmed(design: Design, joint: Joint, depth: float) -> Design:
    piece = design.piece(joint.tab[0])
    panel = piece.panel(joint.tab[1])
    least = _least(joint, panel)
    fold = next((f for f in piece.folds if f.child == panel.name), None)
    carries = any(panel.name == f.parent for f in piece.folds)
    if least is None or fold is None or fold.kind == "rolled" or carries or panel.openings:
        return design
    keep = max(least, depth)
    heights = _heights(fold, panel.outline)
    if heights.max() <= keep + FINE:
        return design
    if panel.role is Role.TAB:
        outline = _below(panel.outline, heights, keep)
    else:  # a flap keeps its shape: its corners are rounded so that they do not catch
        way = (np.array(fold.end) - fold.start) / fold.length
        lower = heights * (1 - keep / float(heights.max()))
        outline = panel.outline - np.outer(lower, np.array([-way[1], way[0]]))
    cut = replace(panel, outline=outline, size=(panel.size[0], keep))
    panels = tuple(cut if p is panel else p for p in piece.panels)
    return replace(
        design,
        pieces=tuple(
            replace(p, panels=panels) if p.panels is piece.panels else p for p in design.pieces
        ),
    )


def _heights(fold: Fold, points: Floats) -> Floats:
    """How far from a fold points lie, on the side of its child, mm."""
    way = (np.array(fold.end) - fold.start) / fold.length
    return np.asarray((points - fold.start) @ np.array([-way[1], way[0]]))


def _below(ring: Floats, heights: Floats, limit: float) -> Floats:
    """A ring, (n, 2), cut off above a height; it begins where it began."""
    out: list[Floats] = []
    for i, (point, height) in enumerate(zip(ring, heights, strict=True)):
        after, then = ring[(i + 1) % len(ring)], heights[(i + 1) % len(ring)]
        if height <= limit:
            out.append(point)
        if (height <= limit) != (then <= limit):
            out.append(point + (limit - height) / (then - height) * (after - point))
    return np.array(out)
