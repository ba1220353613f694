"""What is printed on a panel, as it is seen in a picture: flat or in space."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence

import numpy as np
import shapely
from shapely.geometry import Polygon

from jadeite.core.nets.model import Floats, Printed
from jadeite.core.pictures.palette import shade
from jadeite.core.pictures.primitives import Image, Path

__all__ = ["print_paths"]

ENDS = np.array([[0.0, 0.0], [1.0, 0.0], [0.0, 1.0]])  # shares that fix how a picture lies


def print_paths(
    prints: Sequence[Printed],
    to_picture: Callable[[Floats], Floats],
    *,
    clip: Sequence[Floats] = (),
    light: float = 1.0,
) -> list[Path | Image]:
    """Prints as they are painted, in their order.

    Parameters
    ----------
    to_picture : callable
        Carries flat mm, (n, 2), into the picture by an affine map.
    clip : rings, (n, 2) each, in the picture
        What is seen of the panel; all that is printed where there are none.
    light : float
        How light a colour looks, 1 as it is.
    """
    out: list[Path | Image] = []
    seen = _region(clip) if clip else None
    for printed in prints:
        rings = tuple(to_picture(ring) for ring in printed.within)
        if seen is not None:
            rings = _rings(_region(rings).intersection(seen))
        if not rings:
            continue
        if printed.ink is None:
            out.append(Path(rings, fill=shade(printed.colour, light)))
        else:
            corner, right, up = to_picture(_flat_of(printed))
            matrix = np.column_stack([right - corner, up - corner, corner])
            out.append(Image(printed.ink, matrix, rings))
    return out


def _flat_of(printed: Printed) -> Floats:
    """Where the shares of :data:`ENDS` lie in the flat piece, (3, 2) mm."""
    turn = math.radians(printed.turn)
    along = np.array([[math.cos(turn), math.sin(turn)], [-math.sin(turn), math.cos(turn)]])
    return np.asarray(ENDS @ along * printed.side + np.array(printed.centre))


def _region(rings: Sequence[Floats]) -> shapely.Geometry:
    out: shapely.Geometry = Polygon()
    for ring in rings:
        out = out.symmetric_difference(shapely.make_valid(Polygon(ring)))
    return out


def _rings(region: shapely.Geometry) -> tuple[Floats, ...]:
    parts = [part for part in shapely.get_parts(region) if isinstance(part, Polygon)]
    return tuple(
        np.array(ring.coords)[:-1]
        for part in parts
        if not part.is_empty
        for ring in (part.exterior, *part.interiors)
    )
