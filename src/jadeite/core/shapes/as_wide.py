"""An arrangement as wide and as high as asked: its outline is made a little wider or narrower."""

from __future__ import annotations

import contextlib
from collections.abc import Callable, Mapping

import numpy as np
from shapely.geometry.base import BaseGeometry

from jadeite.core.boards import Board
from jadeite.core.errors import FieldError
from jadeite.core.shapes.arranged import Arranged, Arranging
from jadeite.core.shapes.arranged_design import opened
from jadeite.core.shapes.registry import OptionValue

__all__ = ["as_asked", "extent_of"]

AS_WIDE, TRIES = 0.5, 3  # mm within which it is as wide as asked, if so many tries find it

Boards = Mapping[str, Board]
Options = Mapping[str, OptionValue]
Seen = Callable[[Arranged], tuple[BaseGeometry, ...]]  # all of it, from above


def extent_of(shapes: tuple[BaseGeometry, ...]) -> tuple[float, float]:
    """Width and depth of all that is seen from above, mm."""
    bounds = np.array([shape.bounds for shape in shapes])
    low, high = bounds[:, :2].min(axis=0), bounds[:, 2:].max(axis=0)
    return float(high[0] - low[0]), float(high[1] - low[1])


def as_asked(
    arranging: Arranging,
    size: tuple[float, float],
    boards: Boards,
    options: Options,
    seen: Seen,
    *,
    plies: int,
    what: str,
) -> tuple[Arranged, Options]:
    """That of a ``size``, width and height in mm, and the options with which it is so high.

    It is as wide as asked from tip to tip, or a little less; a height of 0 is any.  ``seen`` is
    all of an arrangement that its width is taken over, ``plies`` its board, ``what`` its name.

    Raises
    ------
    FieldError
        It cannot be so high, its flowers would be too small, or so many do not fit; the text
        names what works.
    """
    width, height = size
    if height <= 0:
        return _as_wide(arranging, width, boards, options, seen), options
    risen = {**options, **opened(arranging, size, boards, options, plies, what)}
    made = _as_wide(arranging, width, boards, risen, seen)
    with contextlib.suppress(FieldError):  # so close to the least or most, that first one counts
        size = (made.width, height)  # its flowers have another size by now
        again = {**options, **opened(arranging, size, boards, options, plies, what)}
        made, risen = arranging.of(made.width, boards, again), again
    return made, risen


def _as_wide(
    arranging: Arranging, width: float, boards: Boards, options: Options, seen: Seen
) -> Arranged:
    """That which is as wide as asked, mm, or a little less."""
    made: list[tuple[float, Arranged]] = []
    outline = width
    for _ in range(TRIES):
        try:
            found = arranging.of(outline, boards, options)
        except FieldError:  # its petals are just long enough as it is
            if not made:
                raise
            break
        wide = extent_of(seen(found))[0]
        made.append((wide, found))
        if abs(wide - width) < AS_WIDE:
            break
        outline *= width / wide
    within = [one for one in made if one[0] < width + AS_WIDE]
    if within:
        return max(within, key=lambda one: one[0])[1]
    return min(made, key=lambda one: one[0])[1]
