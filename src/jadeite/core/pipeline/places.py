"""How wide a free-standing thing may be where it will sit, or from what it is cut."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from jadeite.core.cutting import profile_of
from jadeite.core.nets import Design
from jadeite.core.pipeline.work import Work
from jadeite.core.project import Span
from jadeite.core.units import rounded_down

__all__ = ["places_for"]


def _largest(design: Design) -> float:
    """The least square in mm that the largest piece lies in as it is cut."""
    sides = []
    for piece in design.pieces:
        points = np.concatenate([panel.outline for panel in piece.panels])
        sides.append(float(np.ptp(points, axis=0).max()))
    return max(sides)


def places_for(work: Work, others: Mapping[str, Work]) -> tuple[tuple[str, float], ...]:
    """Words and the finished width in mm of every place for a thing of a finished width.

    The widest that the cutter takes in one piece, and as wide as each of the
    ``others`` is from above.  What a curl takes from the width grows less than
    the width does, so the first is a little on the safe side.
    """
    brief, out = work.task.brief, []
    if isinstance(brief, Span) and work.design is not None:
        profile = profile_of(work.task)
        if not profile.by_hand:
            flat, reach = _largest(work.design), min(profile.reach) - 2 * profile.margin
            least = min(brief.width * reach / flat, brief.width + reach - flat)
            if least > 0:
                out.append(("the widest that the cutter takes", rounded_down(least)))
    for name, other in others.items():
        solid = other.solid
        if solid is not None:
            (x, y, _), _ = solid
            out.append((f"on “{name}”", rounded_down(min(x, y))))
    return tuple(out)
