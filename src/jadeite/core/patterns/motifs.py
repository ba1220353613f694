"""The motifs: shapes laid out in a window, each clear of the next by a bridge.

A motif draws into a window that is seen upright, in mm; what lies beyond it is
cut off afterwards, or left out.  ``number`` varies it from panel to panel.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass

from shapely.geometry import Polygon

from jadeite.core.patterns import sprigs, tiled, whole

__all__ = ["MOTIFS", "Motif"]

Draw = Callable[[Polygon, float, float, int], list[Polygon]]


@dataclass(frozen=True)
class Motif:
    """A motif: ``draw(window, size, bridge, number)`` gives its shapes, in mm.

    Of a motif that is not ``clipped`` only whole shapes are kept.  After
    ``varies`` numbers the shapes come again.  One that ``goes_on`` can run round all walls.
    """

    key: str
    title: str
    help: str
    draw: Draw
    clipped: bool = True
    varies: int = 2
    goes_on: bool = False


MOTIFS: Mapping[str, Motif] = {
    m.key: m
    for m in (
        Motif("lattice", "lattice", "Rhombs between bars that cross.", tiled.lattice, goes_on=True),
        Motif("rays", "rays", "Rays of light that spread from the foot.", tiled.rays),
        Motif("leaves", "leaves", "Sprigs of leaves that fill the window.", sprigs.leaves, False),
        Motif("stars", "stars", "Stars, small ones between large ones.", whole.stars, False),
        Motif("hexagons", "hexagons", "A honeycomb.", tiled.hexagons, goes_on=True),
        Motif(
            "moons",
            "moons",
            "From crescent to full and back, with stars between.",
            whole.moons,
            False,
            whole.PHASES,
        ),
        Motif(
            "ripples",
            "ripples",
            "Rings that spread, held by spokes.",
            tiled.ripples,
            varies=tiled.PLACES,
        ),
        Motif("scales", "scales", "Round scales, row over row.", tiled.scales, goes_on=True),
        Motif("waves", "waves", "Bands of water.", tiled.waves, goes_on=True),
        Motif("facets", "facets", "Triangles that point up and down.", tiled.facets, goes_on=True),
        Motif("blossoms", "blossoms", "Six petals round a middle.", whole.blossoms, False),
        Motif("firs", "fir trees", "A row of fir trees, or several.", whole.firs, False, 1),
        Motif("arches", "arches", "Rows of pointed arches.", whole.arches, False, 1),
        Motif("drops", "rain", "Drops, every other column lower.", whole.drops, False),
    )
}
