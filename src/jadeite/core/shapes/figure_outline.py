"""The outline along which a figure is cut: found in a picture, moved out by a border, rounded."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
import shapely
from shapely import affinity
from shapely.geometry import MultiPolygon, Polygon
from shapely.geometry.polygon import orient

from jadeite.core.errors import FieldError
from jadeite.core.nets.model import Floats
from jadeite.core.photos import Rings, regions_of, rings_from_words
from jadeite.core.shapes.figures import FIGURES, figure

__all__ = ["DRAWN", "CutFigure", "cut_figure", "drawn_figure", "outline_words", "rings_of"]

DRAWN = FIGURES  # figures that are there without a picture
FILLS = 0.9  # of the longer side of its picture, by a drawn figure; from memory
HEAD = 0.72  # of a drawn body's width is its head wide; from memory
QUARTER = 12  # setting: parts of a quarter of an arc
CLOSE = 0.01  # mm; half of what curves in files may be off, design rule
TRIES, NEAR = 12, 1e-4  # to be as wide as asked, within so many mm
SMALL_HOLE = 3.0  # mm; from memory, a narrower opening in a figure tears out, so it is filled
KEPT = 64  # setting: figures that are remembered


@dataclass(frozen=True, eq=False)
class CutFigure:
    """A figure as it is cut, about the middle of its bounds, in mm.

    ``outline`` is (n, 2), ccw, ``holes`` (m, 2) each; a picture has its longer side ``side`` mm
    long and its middle at ``centre``; ``lost`` are the areas, mm², of parts that do not hang on.
    """

    outline: Floats
    holes: tuple[Floats, ...]
    side: float
    centre: tuple[float, float]
    lost: tuple[float, ...]

    @property
    def size(self) -> tuple[float, float]:
        """Width and height in mm."""
        wide, high = np.ptp(self.outline, axis=0).tolist()
        return wide, high


def outline_words(words: str) -> str:
    """An outline as it is kept: a drawn figure's key, or rings.

    Raises
    ------
    FieldError
        It is neither.
    """
    if words not in dict(DRAWN):
        rings_from_words(words, "outline")
    return words


@lru_cache(maxsize=KEPT)
def rings_of(words: str) -> Rings:
    """The rings of an outline, in shares of its picture.

    Raises
    ------
    FieldError
        It is none.
    """
    return drawn_figure(words)[0] if words in dict(DRAWN) else rings_from_words(words, "outline")


@lru_cache(maxsize=KEPT)
def drawn_figure(key: str) -> tuple[Rings, Rings]:
    """Rings and lines of a figure that is there without a picture, in shares."""
    drawn = figure(key, HEAD, 1.0)
    up = np.array([0.0, drawn.neck])
    whole = shapely.union_all([Polygon(drawn.body), Polygon(drawn.head + up)])
    x0, y0, x1, y1 = whole.bounds
    scale = FILLS / max(x1 - x0, y1 - y0)
    middle = np.array([(x0 + x1) / 2, (y0 + y1) / 2])
    parts = [p for p in shapely.get_parts(whole) if isinstance(p, Polygon)]
    rings = tuple((np.array(orient(p).exterior.coords)[:-1] - middle) * scale for p in parts)
    lines = [*drawn.body_lines, *(line + up for line in drawn.head_lines)]
    head = np.vstack([drawn.head, drawn.head[:1]]) + up
    return rings, tuple((line - middle) * scale for line in (*lines, head))


@lru_cache(maxsize=KEPT)
def cut_figure(words: str, width: float, height: float, border: float, round_: float) -> CutFigure:
    """The outline of a figure so wide, and where ``height`` is not 0 not higher than that, mm.

    Parameters
    ----------
    border : float
        mm from the figure to the cut.
    round_ : float
        mm: no corner is tighter, no part narrower than twice that.

    Raises
    ------
    FieldError
        Nothing of it is wide enough to be cut; the text names what works.
    """
    rings = rings_of(words)
    figure_ = regions_of(rings)
    x0, y0, x1, y1 = figure_.bounds
    side = max((width - 2 * border) / (x1 - x0), 2 * round_)
    for _ in range(TRIES):
        shape, lost = _cut(figure_, side, border, round_)
        if shape is None:
            break
        low_x, low_y, high_x, high_y = shape.bounds
        over = max(high_x - low_x - width, (high_y - low_y - height) if height else -np.inf)
        if abs(over) < NEAR:
            break
        tall = bool(height) and high_y - low_y - height > high_x - low_x - width
        side -= over / (y1 - y0 if tall else x1 - x0)
        if side <= 0:
            shape = None
            break
    if shape is None:
        raise FieldError(
            "width", "nothing of this figure is wide enough to be cut",
            "Make it larger, or its border wider.",
        )  # fmt: skip
    low_x, low_y, high_x, high_y = shape.bounds
    middle = (low_x + high_x) / 2, (low_y + high_y) / 2
    left = [width / (high_x - low_x), *([height / (high_y - low_y)] if height else [])]
    rest = min(left)  # what thinning its corners took off
    shape = affinity.translate(shape, -middle[0], -middle[1])
    shape = affinity.scale(shape, rest, rest, origin=(0, 0))
    side, middle = side * rest, (middle[0] * rest, middle[1] * rest)
    ring = np.array(orient(shape).exterior.coords)[:-1]
    holes = tuple(np.array(orient(Polygon(h)).exterior.coords)[:-1] for h in shape.interiors)
    return CutFigure(ring, holes, side, (-middle[0], -middle[1]), lost)


def _cut(
    figure_: MultiPolygon, side: float, border: float, round_: float
) -> tuple[Polygon | None, tuple[float, ...]]:
    """The largest part of a figure with its border, rounded, and the areas of the others; mm."""
    shape = affinity.scale(figure_, side, side, origin=(0, 0))
    shape = _moved(shape, border) if border > 0 else shape
    shape = _moved(_moved(_moved(shape, -round_), 2 * round_), -round_)
    parts = sorted(
        (p for p in shapely.get_parts(shape) if isinstance(p, Polygon) and not p.is_empty),
        key=lambda p: -p.area,
    )
    if not parts:
        return None, ()
    whole = parts[0]
    room = [h for h in whole.interiors if not Polygon(h).buffer(-SMALL_HOLE / 2).is_empty]
    whole = shapely.simplify(Polygon(whole.exterior, room), CLOSE)
    return whole, tuple(float(p.area) for p in parts[1:])


def _moved(shape: shapely.Geometry, by: float) -> shapely.Geometry:
    return shape.buffer(by, quad_segs=QUARTER)
