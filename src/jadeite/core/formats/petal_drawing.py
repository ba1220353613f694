"""An outline for petals or leaves, read from an SVG drawing."""

from __future__ import annotations

from pathlib import Path

import numpy as np
from shapely.geometry import Polygon

from jadeite.core.blooms import NUMBERS, Petal, own_petal, widths_of
from jadeite.core.formats.svg_outline import read_outline

__all__ = ["read_petal"]


def read_petal(path: Path) -> Petal:
    """The largest closed shape of a drawing as a petal that stands on its root, its tip up.

    Raises
    ------
    FileError
        It cannot be read, or has no closed shape.
    FieldError
        The shape is too slender.
    """
    rings = read_outline(path).rings
    ring = max(rings, key=lambda points: float(Polygon(points).area))
    width, widths = widths_of(np.array(ring), f"“{path.name[:40]}”")
    _, low, high = NUMBERS["width"]
    return own_petal(widths, float(round(min(max(width, low), high))))
