"""The frame round a window: along each side of a panel as wide as what lies behind it asks for.

A tab behind one side makes that side wider, and no other, except that windows
which are seen together are alike, and the left of one is as wide as its right:
an uneven frame is the first thing that people see.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
import shapely
from shapely.geometry import Polygon
from shapely.geometry.polygon import orient

from jadeite.core.dressings.behind import COVERED
from jadeite.core.nets.model import Floats, Opening

__all__ = [
    "BESIDE_TAB",
    "LINING_MARGIN",
    "NEAR",
    "OFF_WALL",
    "PAST_TAB",
    "Frame",
    "alike",
    "bordered",
    "frame_round",
    "heights_over",
    "inset",
    "side_names",
    "sides_of",
]

OFF_WALL = 0.1  # mm; from memory, that a lining keeps from a wall that ends at its panel
PAST_TAB = 1.0  # mm that a frame is wider than the tab behind it; from memory
LINING_MARGIN = 4.0  # mm that a lining is larger than its window on every side; from memory
BESIDE_TAB = 3.0  # mm, the same where a tab or a wall lies behind: notched for it; from memory
NEAR = 0.5  # mm that a lining keeps from the panel's edges; from memory
MOST_SIDES = 12  # design rule; an outline of more is a curve: its frame is even
MOST_REACH = 0.6  # of what is across a panel; from memory
STRAIGHT = 0.2  # mm; rounding, sides in a line to this are one
ALIKE = 2.5  # mm; from memory, panels that differ by less look the same
FINE = 1e-4  # mm; rounding
FAR = 5000.0  # mm; rounding, longer than any panel
SIDEWAYS = 0.5  # sine; a side that leans out more than 30 degrees is a left or a right one


@dataclass(frozen=True, eq=False)
class Frame:
    """Sides of a panel, and how wide its frame is along each, in mm.

    ``sides`` are (n, 2, 2) float, the ends of each side of the panel's hull,
    counter-clockwise; ``glued`` how far from it tabs and flaps reach that lie
    behind, ``walls`` how far walls of others that end there.  An outline of
    curves has one side, all round it, without ends.
    """

    outline: Floats
    sides: Floats
    glued: Floats
    walls: Floats
    wanted: float
    lined: bool
    widths: Floats

    @property
    def even(self) -> bool:
        """Whether there is one border all round."""
        return not len(self.sides)

    @property
    def margins(self) -> Floats:
        """By how much a lining is larger than the window along each side, mm."""
        behind = (self.glued > 0) | (self.walls > 0)
        return np.where(behind, BESIDE_TAB, LINING_MARGIN)

    def window(self) -> Polygon:
        """What the frame leaves of the panel."""
        return self._within(self.widths)

    def lining(self) -> Polygon:
        """What a lining may cover: it keeps off the panel's edges, and what lies behind them."""
        inner = Polygon(self.outline).buffer(-NEAR, join_style="mitre")
        return self._within(self.widths - self.margins).intersection(inner)

    def _within(self, widths: Floats) -> Polygon:
        return bordered(self.outline, self.sides, widths)


def bordered(outline: Floats, sides: Floats, widths: Floats) -> Polygon:
    """What a border leaves of an outline that is as wide along each side as its width says.

    ``outline`` is (n, 2) float, ``sides`` (m, 2, 2) their ends, ``widths`` (m,), mm.
    """
    whole, least = Polygon(outline), float(widths.min())
    if not len(sides):
        return whole.buffer(-least, join_style="mitre")
    if len(sides) == len(outline):  # convex: its sides are all that there is
        return whole.difference(_bands(sides, widths))
    wider = widths > least + FINE
    inner = whole.buffer(-least, join_style="mitre")
    return inner.difference(_bands(sides[wider], widths[wider])).simplify(FINE)


def sides_of(outline: Floats) -> Floats:
    """Sides of the hull of an outline, (n, 2, 2), counter-clockwise; none of one of curves.

    ``outline`` is (m, 2) float, mm.
    """
    hull = Polygon(outline).convex_hull.simplify(STRAIGHT)
    corners = np.array(orient(hull).exterior.coords)[:-1]
    sides = np.stack([corners, np.roll(corners, -1, axis=0)], axis=1)
    return sides if len(sides) <= MOST_SIDES else np.zeros((0, 2, 2))


def heights_over(sides: Floats, points: Floats) -> Floats:
    """How far inward from each side points lie; (n, m), mm.

    ``sides`` are (n, 2, 2) float, ``points`` (m, 2).
    """
    way = sides[:, 1] - sides[:, 0]
    way = way / np.hypot(way[:, 0], way[:, 1])[:, None]
    left = np.column_stack([-way[:, 1], way[:, 0]])
    return np.asarray(np.einsum("sk,spk->sp", left, points[None] - sides[:, :1]))


def _bands(sides: Floats, widths: Floats) -> Polygon:
    """What lies within a width of each side, and all beyond it."""
    way = sides[:, 1] - sides[:, 0]
    way = way / np.hypot(way[:, 0], way[:, 1])[:, None]
    left = np.column_stack([-way[:, 1], way[:, 0]])
    low, high = sides[:, 0] - way * FAR, sides[:, 1] + way * FAR
    inner = left * widths[:, None]
    corners = np.stack([low - left * FAR, high - left * FAR, high + inner, low + inner], axis=1)
    return shapely.union_all(shapely.polygons(corners))


def frame_round(
    outline: Floats,
    glued: Sequence[Polygon],
    walls: Sequence[Polygon],
    wanted: float,
    *,
    lined: bool,
) -> Frame:
    """The frame of a panel, (n, 2) float, for what lies behind it, in the same plane.

    Each of them is put down to the side from which it reaches the least.
    """
    sides = sides_of(outline)
    by_glued, by_walls = (_reach(outline, sides, shadows) for shadows in (glued, walls))
    frame = Frame(outline, sides, by_glued, by_walls, wanted, lined, by_glued)
    margins = frame.margins if lined else np.zeros(len(by_glued))
    least = LINING_MARGIN + PAST_TAB if lined else 0.0
    widths = np.full(len(by_glued), max(wanted, least))
    widths = np.maximum(widths, np.where(by_glued > 0, by_glued + margins + PAST_TAB, 0.0))
    widths = np.maximum(widths, np.where(by_walls > 0, by_walls + margins + OFF_WALL, 0.0))
    return replace(frame, widths=widths)


def _reach(outline: Floats, sides: Floats, shadows: Sequence[Polygon]) -> Floats:
    """How far from each side shadows reach that are put down to it, mm."""
    whole = Polygon(outline)
    out = np.zeros(max(1, len(sides)))
    for shadow in shadows:
        part = shadow.intersection(whole)
        if float(part.area) < COVERED:
            continue
        points = shapely.get_coordinates(part)
        if not len(sides):
            out[0] = max(out[0], *(whole.exterior.distance(shapely.points(points)).tolist()))
            continue
        deep = heights_over(sides, points).max(axis=1)
        side = int(np.argmin(deep))
        if deep[side] > MOST_REACH * heights_over(sides, outline).max(axis=1)[side]:
            return np.asarray(deep)  # it lies over the middle: no side is free
        out[side] = max(out[side], float(deep[side]))
    return out


def alike(frames: Sequence[tuple[Frame, Floats]]) -> list[Frame]:
    """The same frames, where panels look the same with the same widths, left as wide as right.

    Each comes with the (2, 2) matrix that shows its panel upright.
    """
    keys = [_middles(frame, seen) for frame, seen in frames]
    widths = [frame.widths.copy() for frame, _ in frames]
    for one, mine in enumerate(keys):
        for other, theirs in enumerate(keys):
            for flip in (1.0, -1.0):
                if (one, flip) == (other, 1.0):
                    continue
                pairs = _pairs(mine, theirs * np.array([flip, 1.0]))
                if pairs is not None:
                    widths[one] = np.maximum(widths[one], frames[other][0].widths[pairs])
    return [replace(frame, widths=wide) for (frame, _), wide in zip(frames, widths, strict=True)]


def _middles(frame: Frame, seen: Floats) -> Floats:
    """Middles of the sides as they are seen, about the middle of the panel; (n, 2)."""
    if frame.even:
        low, high = frame.outline.min(axis=0), frame.outline.max(axis=0)
        return np.asarray((high - low)[None] / 2)
    points = frame.sides @ seen.T
    low, high = points.reshape(-1, 2).min(axis=0), points.reshape(-1, 2).max(axis=0)
    return np.asarray(points.mean(axis=1) - (low + high) / 2)


def _pairs(mine: Floats, theirs: Floats) -> Floats | None:
    """For each of some middles the one of others at the same place; None where one has none."""
    if len(mine) != len(theirs):
        return None
    apart = np.linalg.norm(mine[:, None] - theirs[None], axis=2)
    nearest = apart.argmin(axis=1)
    fits = apart.min(axis=1).max() < ALIKE and len(set(nearest.tolist())) == len(mine)
    return np.asarray(nearest) if fits else None


def side_names(frame: Frame, seen: Floats) -> list[str]:
    """What a maker calls the sides of a panel that ``seen``, (2, 2) float, shows upright."""
    if frame.even:
        return ["all round"]
    way = (frame.sides[:, 1] - frame.sides[:, 0]) @ seen.T
    out = np.column_stack([way[:, 1], -way[:, 0]]) * np.linalg.det(seen)
    out = out / np.hypot(out[:, 0], out[:, 1])[:, None]
    names = []
    for x, y in out.tolist():
        if abs(x) > SIDEWAYS and abs(x) >= abs(y):
            names.append("right" if x > 0 else "left")
        else:
            names.append("top" if y > 0 else "foot")
    return names


def inset(
    inner: Polygon, openings: Sequence[Opening], beside: float, least: float
) -> Floats | None:
    """What a frame leaves, counter-clockwise, (n, 2); None where it is narrower than ``least``.

    It ends ``beside`` mm before a slot or a slit, and goes round a hole as far off.
    """
    for opening in openings:
        if opening.kind in ("slot", "slit"):
            keep_off = _across(opening.points, beside)
        else:
            keep_off = Polygon(opening.points).buffer(beside)
        parts = [p for p in shapely.get_parts(inner.difference(keep_off)) if p.area > COVERED]
        inner = max(parts, key=lambda part: float(part.area), default=Polygon())
    parts = [p for p in shapely.get_parts(inner) if p.area > COVERED]
    inner = max(parts, key=lambda part: float(part.area), default=Polygon())
    if not isinstance(inner, Polygon) or inner.buffer(-least / 2).is_empty:
        return None
    return np.asarray(np.array(orient(inner).exterior.coords)[:-1])


def _across(points: Floats, beside: float) -> Polygon:
    """A band along a slot or a slit, across the whole panel and ``beside`` mm to either side."""
    middle = points.mean(axis=0)
    way = np.linalg.svd(points - middle)[2][0]  # the direction in which it is longest
    band = shapely.LineString([middle - FAR * way, middle + FAR * way])
    side = float(np.abs((points - middle) @ np.array([-way[1], way[0]])).max())
    return band.buffer(side + beside, cap_style="flat")
