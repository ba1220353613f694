"""The ring on which the flowers of a wreath sit: for a width, an opening, and so large flowers."""

from __future__ import annotations

from collections.abc import Mapping

from jadeite.core.blooms import Band, Head
from jadeite.core.shapes.arranged import Arranging
from jadeite.core.shapes.registry import OptionValue

__all__ = ["LARGEST", "SMALLEST", "WREATHS", "band_of"]

SMALLEST, LARGEST = 180.0, 900.0  # mm; from memory
RIM = 0.12  # of the band is free of board at either edge; from memory, petals hide it

Options = Mapping[str, OptionValue]


def _deep(width: float, options: Options) -> float:
    """From the opening to the rim, mm."""
    return width / 2 * (1 - float(options["opening"]) / 100)


def band_of(width: float, heads: tuple[Head, ...], options: Options) -> Band:
    """The band of a wreath of a width in mm, for flowers of these sizes, the largest first."""
    outer = width / 2
    inner = outer - _deep(width, options)
    free = RIM * (outer - inner)
    half, hub = heads[0].width / 2, heads[0].hub + 1.0
    base = (min(inner + free, inner + half - hub), max(outer - free, outer - half + hub))
    arcs = int(float(options["arcs"]))
    return Band(inner, outer, base, arcs if arcs > 1 else 0)


WREATHS = Arranging(LARGEST, _deep, band_of)
