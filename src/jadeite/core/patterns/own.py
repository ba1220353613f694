"""A motif of the maker's own: an outline, repeated over a window or alone in its middle."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray
from shapely import affinity
from shapely.geometry import Polygon

from jadeite.core.patterns.grids import grid_of
from jadeite.core.patterns.motifs import Motif

__all__ = ["own_motif"]

FITS = 0.999  # of a cell's width; rounding, an outline alone in a window stays inside


def own_motif(key: str, title: str, rings: Sequence[Sequence[tuple[float, float]]]) -> Motif:
    """A motif from closed outlines whose longer side is 1; their middle comes into that of a cell.

    Every other wall shows it mirrored, where the windows of a lantern vary.
    """
    points: NDArray[np.float64] = np.concatenate([np.asarray(ring, float) for ring in rings])
    middle = (points.min(axis=0) + points.max(axis=0)) / 2
    shapes = [Polygon(np.asarray(ring, float) - middle) for ring in rings]
    wide, high = np.ptp(points, axis=0).tolist()

    def draw(area: Polygon, size: float, bridge: float, number: int) -> list[Polygon]:
        grid = grid_of(area, size * wide / max(wide, high), high / wide)
        gap = bridge if len(grid.middles) > 1 else 0.0
        scale = FITS * min((grid.wide - gap) / wide, (grid.high - gap) / high)
        flip = -1.0 if number % 2 else 1.0
        return [
            affinity.affine_transform(shape, [flip * scale, 0, 0, scale, x, y])
            for x, y in grid.middles.tolist()
            for shape in shapes
        ]

    return Motif(key, title, "Your own outline.", draw, clipped=False)
