"""A window filled with a motif: clipped to its outline, and measured, not hoped.

Whether bridges hold is found by erosion: where board is worn off by half a
bridge all round, it must still be one piece round as many cut-outs as before.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import Polygon
from shapely.geometry.polygon import orient

from jadeite.core.patterns.motifs import Motif

__all__ = [
    "BRIDGE",
    "LEAST_CELL",
    "MOST_CELL",
    "USUAL_CELL",
    "Filled",
    "fill",
    "holds_together",
    "open_share",
]

Floats = NDArray[np.float64]

BRIDGE = 1.5  # mm between two cut-outs; from memory
LEAST_HOLE = 2.0  # mm; from memory, a narrower cut-out tears
LEAST_CELL, MOST_CELL, USUAL_CELL = 7.0, 60.0, 14.0  # mm; from memory
BESIDE = 0.44  # of a window's width is the most that a cell of whole shapes takes; from memory
WORN = 0.999  # of half a bridge; rounding, erosion at the very width closes nothing
STRAIGHT = 1e-3  # mm; rounding, corners flatter than this are left out


@dataclass(frozen=True, eq=False)
class Filled:
    """Cut-outs (n, 2) in mm, counter-clockwise, the first corner not repeated."""

    holes: tuple[Floats, ...]

    @property
    def area(self) -> float:
        """Of all cut-outs together, in mm²."""
        return float(sum(Polygon(hole).area for hole in self.holes))


def fill(
    window: Floats, motif: Motif | None, size: float, number: int = 0, bridge: float = BRIDGE
) -> Filled:
    """The cut-outs of a window.

    Parameters
    ----------
    window : (n, 2) float
        Outline in mm, counter-clockwise.
    motif : Motif or None
        One of ``MOTIFS``, or the maker's own; None for the whole window.
    size : float
        mm, of one cell of the motif; in a narrow window it may be less.
    number : int
        Varies the motif from panel to panel.
    bridge : float
        mm of board between two cut-outs, at least.
    """
    area = Polygon(window)
    if motif is None:
        return Filled((_ring(area),)) if _wide(area) else Filled(())
    if not (motif.clipped or motif.alone):  # two whole shapes at least stand side by side
        wide = min(area.bounds[2] - area.bounds[0], area.bounds[3] - area.bounds[1])
        size = max(LEAST_CELL, min(size, BESIDE * wide))
    shapes = np.array(motif.draw(area.bounds, size, bridge, number))
    if not len(shapes):
        return Filled(())
    if not motif.clipped:
        kept = [p for p in shapes[shapely.covers(area, shapes)].tolist() if _wide(p)]
        return Filled(tuple(_ring(part) for part in _apart(kept, bridge)))
    inside = shapes[shapely.intersects(shapes, area)]
    parts = shapely.get_parts(shapely.intersection(inside, area))
    # a clipped cell may end in a sliver: what is narrower than a cut-out may be is left as board
    slim = shapely.buffer(parts, -LEAST_HOLE / 2, join_style="mitre")
    whole = shapely.buffer(slim, LEAST_HOLE / 2, join_style="mitre", mitre_limit=20.0)
    kept = shapely.get_parts(shapely.intersection(whole, parts))
    kept = [p for p in kept if isinstance(p, Polygon) and _wide(p)]
    return Filled(tuple(_ring(part) for part in _apart(kept, bridge)))


def _wide(shape: Polygon) -> bool:
    """Whether a cut-out is somewhere as wide as it must be."""
    return not shape.buffer(-LEAST_HOLE / 2 * WORN).is_empty


def _apart(shapes: list[Polygon], bridge: float) -> list[Polygon]:
    """Cut-outs of which none comes closer than a bridge to one that was kept before."""
    out: list[Polygon] = []
    tree = shapely.STRtree(shapes)
    left: set[int] = set()
    for i, shape in enumerate(shapes):
        near = tree.query(shape.buffer(bridge * WORN), predicate="intersects")
        if any(j in left for j in near.tolist()):
            continue
        left.add(i)
        out.append(shape)
    return out


def _ring(shape: Polygon) -> Floats:
    simple = orient(shape.simplify(STRAIGHT))
    return np.asarray(np.array(simple.exterior.coords)[:-1])


def holds_together(outline: Floats, holes: Sequence[Floats], bridge: float = BRIDGE) -> bool:
    """Whether no bridge of a panel is narrower than ``bridge`` mm, by erosion."""
    board = Polygon(outline, holes)
    worn = board.buffer(-bridge / 2 * WORN)
    return isinstance(worn, Polygon) and len(worn.interiors) == len(holes)


def open_share(outline: Floats, holes: Sequence[Floats]) -> float:
    """Share of a panel through which light comes, 0 to 1."""
    return float(sum(Polygon(hole).area for hole in holes) / Polygon(outline).area)
