"""Fine diagonal lines inside a polygon: where glue goes."""

from __future__ import annotations

from functools import lru_cache

import numpy as np

from jadeite.core.nets.model import Floats

__all__ = ["hatch_lines"]

SPACING = 2.0  # mm between lines; from memory


def hatch_lines(outline: Floats, spacing: float = SPACING) -> Floats:
    """Lines at 45 degrees inside a polygon (n, 2); returns (m, 2, 2) line ends in mm."""
    return _lines(tuple(map(tuple, outline.tolist())), spacing)


@lru_cache(maxsize=256)
def _lines(outline: tuple[tuple[float, float], ...], spacing: float) -> Floats:
    points = np.array(outline)
    level = (points[:, 1] - points[:, 0]) / np.sqrt(2)
    along = (points[:, 1] + points[:, 0]) / np.sqrt(2)
    first = np.ceil(level.min() / spacing + 1e-9)
    out = []
    for at in np.arange(first * spacing, level.max(), spacing):
        ends = []
        for i in range(len(points)):
            j = (i + 1) % len(points)
            if (level[i] > at) != (level[j] > at):
                share = (at - level[i]) / (level[j] - level[i])
                ends.append(along[i] + share * (along[j] - along[i]))
        ends.sort()
        for a, b in zip(ends[::2], ends[1::2], strict=False):
            out.append([[(v - at) / np.sqrt(2), (v + at) / np.sqrt(2)] for v in (a, b)])
    return np.array(out).reshape(-1, 2, 2)
