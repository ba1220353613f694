"""The outline of an overlay: within an even border, clear of what is there, round a window.

A pattern of its own is cut out of it within a rim.
"""

from __future__ import annotations

import numpy as np
import shapely
from shapely.geometry import Polygon
from shapely.geometry.polygon import orient

from jadeite.core.dressings.frames import bordered, heights_over, inset, sides_of
from jadeite.core.errors import FieldError
from jadeite.core.nets.model import Floats, Opening, Panel
from jadeite.core.patterns import USUAL_CELL, Motif, fill, holds_together

__all__ = [
    "LEAST_BORDER",
    "LEAST_RING",
    "LEAST_WIDTH",
    "MOST_BORDER",
    "REVEAL",
    "clear_of",
    "convex",
    "cut_out",
    "moved_in",
    "round_window",
    "within_border",
]

LEAST_BORDER, MOST_BORDER = 1.0, 30.0  # mm; from memory
LEAST_WIDTH = 5.0  # mm; from memory, a narrower strip is no overlay
REVEAL = 1.0  # mm; from memory, of the panel's own frame that a second one leaves round a window
LEAST_RING = 2.5  # mm; from memory, a narrower second frame cannot be glued straight
FINE = 1e-6  # mm; rounding
RIM = 5.0  # mm; from memory, of an overlay round a pattern of its own
LEAST_PATTERN = 8.0  # mm; from memory, in less no pattern is seen


def within_border(panel: Panel, border: float, least: float, field: str) -> Floats:
    """The panel's outline within its border, (n, 2), counter-clockwise; mm.

    Raises
    ------
    FieldError
        On ``field``: the border leaves nothing of it.
    """
    inner = Polygon(panel.outline).buffer(-border, join_style="mitre")
    fits = isinstance(inner, Polygon) and not inner.is_empty
    if not fits or float(np.min(np.ptp(np.array(inner.exterior.coords), axis=0))) < least:
        small = min(float(v) for v in np.ptp(panel.outline, axis=0))
        most = max(LEAST_BORDER, int(10 * (small - least) / 2) / 10)
        raise FieldError(
            field, f"a border of {border:.1f} mm leaves nothing of the {panel.title}",
            f"Use {most:.1f} mm.",
        )  # fmt: skip
    outline = np.array(inner.exterior.coords)[:-1]
    return np.asarray(outline if inner.exterior.is_ccw else outline[::-1])


def clear_of(
    panel: Panel, outline: Floats, taken: shapely.Geometry, border: float, field: str
) -> tuple[Floats, list[Opening]]:
    """The overlay's outline, (n, 2), and holes, clear of slots and of what else lies there.

    Raises
    ------
    FieldError
        On ``field``: that parts it, or leaves nothing.
    """
    left = shapely.difference(Polygon(outline), taken)
    worn = left.buffer(-LEAST_RING / 2, join_style="mitre")  # no strip that cannot be glued
    left = shapely.get_parts(worn.buffer(LEAST_RING / 2, join_style="mitre"))
    left = [p for p in left if not p.is_empty]
    wide = [p for p in left if min(np.ptp(np.array(p.exterior.coords), axis=0)) >= LEAST_WIDTH]
    if len(wide) != 1:
        raise FieldError(
            field,
            f"what lies on the {panel.title} leaves no overlay in one piece",
            "Choose another panel, or a narrower border." if border > LEAST_BORDER
            else "Choose another panel.",
        )  # fmt: skip
    (whole,) = wide
    whole = orient(whole)
    holes = [Opening("hole", np.array(r.coords)[:-1][::-1]) for r in whole.interiors]
    return np.asarray(np.array(whole.exterior.coords)[:-1]), holes


def round_window(panel: Panel, outline: Floats, border: float, field: str) -> Floats:
    """What a second frame leaves open: the panel's shape round all cut-outs, and a little more.

    Along each side it is even to that side of the panel, in mm; ``outline`` is (n, 2).

    Raises
    ------
    FieldError
        On ``field``: no ring is left round it.
    """
    cut = shapely.union_all([Polygon(opening.points) for opening in panel.openings])
    whole, sides = Polygon(panel.outline), sides_of(panel.outline)
    points = shapely.get_coordinates(cut)
    if len(sides):
        even = heights_over(sides, points).min(axis=1)
    else:
        even = np.array([min(whole.exterior.distance(shapely.points(points)))])
    free = bordered(panel.outline, sides, np.maximum(0.0, even - REVEAL))
    room = float(Polygon(outline).exterior.distance(free))
    if not Polygon(outline).contains(free) or room < LEAST_RING - FINE:
        inside = float(whole.exterior.distance(free))
        most = int(10 * (inside - LEAST_RING) + FINE) / 10
        raise FieldError(
            field,
            f"a border of {border:.1f} mm leaves no second frame round the window of the "
            f"{panel.title}",
            f"Use {most:.1f} mm." if most >= LEAST_BORDER else "Use a wider frame of the window.",
        )
    return np.asarray(np.array(orient(free).exterior.coords)[:-1])


def moved_in(outline: Floats, by: float) -> Floats:
    """A convex outline, (n, 2), moved inward by so many mm."""
    inner = np.array(Polygon(outline).buffer(-by, join_style="mitre").exterior.coords)[:-1]
    return np.asarray(inner if Polygon(inner).exterior.is_ccw else inner[::-1])


def convex(outline: Floats) -> bool:
    """Whether an outline, (n, 2), counter-clockwise, has no corner that turns in."""
    way = np.roll(outline, -1, axis=0) - outline
    after = np.roll(way, -1, axis=0)
    return bool((way[:, 0] * after[:, 1] - way[:, 1] * after[:, 0] > 0).all())


def cut_out(
    outline: Floats, holes: list[Opening], motif: Motif, rim: float, seen: Floats, field: str
) -> list[Opening]:
    """A pattern that is cut out of an overlay, within a ``rim`` in mm.

    ``outline`` is (n, 2), ``seen`` the (2, 2) turn under which it stands upright.

    Raises
    ------
    FieldError
        There is no room for it.
    """
    area = inset(
        Polygon(outline).buffer(-max(rim, RIM), join_style="mitre"), holes, RIM, LEAST_PATTERN
    )
    if area is not None:
        at = outline[int(np.argmin(outline @ seen[0]))]
        found = fill(np.asarray(_ccw((area - at) @ seen.T)), motif, USUAL_CELL).holes
        cuts = [_ccw(hole @ seen + at) for hole in found]
        if cuts and holds_together(outline, [*(hole.points for hole in holes), *cuts]):
            return [Opening("window", hole) for hole in cuts]
    raise FieldError(
        field, "the overlay has no room for a pattern of its own",
        "Use one without a pattern, or a narrower border.",
    )  # fmt: skip


def _ccw(ring: Floats) -> Floats:
    return ring if shapely.LinearRing(ring).is_ccw else ring[::-1]
