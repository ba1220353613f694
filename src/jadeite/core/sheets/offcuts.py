"""What is left of sheets when a job is cut: offcuts worth keeping, and the stock after it."""

from __future__ import annotations

import itertools
from collections import Counter
from collections.abc import Mapping, Sequence

import shapely
from shapely import affinity
from shapely.geometry import Polygon, box

from jadeite.core.nets.grain import grain_upward
from jadeite.core.nets.model import Piece
from jadeite.core.nets.outline import piece_polygon
from jadeite.core.project import MOST_CORNERS, MOST_SHEETS_AT_HAND, Stock
from jadeite.core.sheets.plan import GAP, Layout, SheetPlan

__all__ = ["after_job", "offcuts_of", "used_of"]

NARROW = 25.0  # mm; from memory, of a narrower part nothing is cut
LEAST = 4000.0  # mm²; from memory, a smaller one is lost before it is used
ROUGH = 0.5  # mm; from memory, an offcut's outline is known no better


def offcuts_of(sheet: SheetPlan, pieces: Mapping[str, Piece]) -> list[Polygon]:
    """Parts of a sheet that are left and worth keeping, largest first, mm from its lower left.

    They keep clear of all that is cut, and are nowhere narrower than what can be used.
    """
    cut = [
        affinity.translate(
            affinity.rotate(Polygon(piece_polygon(pieces[one.piece]).exterior), one.angle,
                            origin=(0, 0)),
            one.x, one.y,
        )
        for one in sheet.placed
    ]  # fmt: skip
    left = sheet.stock.region.difference(shapely.union_all(cut).buffer(GAP / 2 + ROUGH))
    wide = left.buffer(-NARROW / 2, join_style="mitre").buffer(NARROW / 2, join_style="mitre")
    parts = [_one_outline(part) for part in _polygons(wide.intersection(left))]
    kept = [
        part
        for whole in parts
        for part in _polygons(whole.simplify(ROUGH).intersection(sheet.stock.region))
        if part.area >= LEAST and len(part.exterior.coords) <= MOST_CORNERS
    ]
    return sorted(kept, key=lambda part: -part.area)


def _polygons(shape: shapely.Geometry) -> list[Polygon]:
    return [part for part in shapely.get_parts(shape) if isinstance(part, Polygon)]


def _one_outline(part: Polygon) -> Polygon:
    """The largest part in which nothing is cut out: beside, below or above what is."""
    while part.interiors:
        a, b, c, d = part.bounds
        x0, y0, x1, y1 = part.interiors[0].bounds
        sides = (
            box(a, b, x0, d), box(x1, b, c, d), box(a, b, c, y0), box(a, y1, c, d),
        )  # fmt: skip
        beside = [p for side in sides for p in _polygons(part.intersection(side))]
        part = max(beside, key=lambda p: p.area)
    return part


def used_of(layout: Layout, stock: Sequence[Stock]) -> list[int]:
    """How many sheets of each entry of the stock a layout takes; of like ones the first's first."""
    left = Counter(_key(sheet.stock) for sheet in layout.sheets)
    out = []
    for entry in stock:
        key = _key(entry)
        taken = left[key] if entry.free is None else min(left[key], entry.free)
        left[key] -= taken
        out.append(taken)
    return out


def after_job(
    stock: Sequence[Stock],
    layout: Layout,
    pieces: Mapping[str, Piece],
    colours: Mapping[str, str],
) -> tuple[Stock, ...]:
    """The stock once a layout is cut: used sheets are gone, offcuts worth keeping are there.

    Of too many offcuts the largest are kept.
    """
    out: list[Stock] = []
    for entry, used in zip(stock, used_of(layout, stock), strict=True):
        count = None if entry.count is None else max(0, entry.count - used)
        if entry.whole or count:
            out.append(entry.model_copy(update={"count": count}))
    found: list[Stock] = []
    taken = {entry.name.partition(",")[0] for entry in out}
    numbers = (n for n in itertools.count(1) if f"Offcut {n}" not in taken)
    for sheet in layout.sheets:
        first = sheet.placed[0].piece
        for part in offcuts_of(sheet, pieces):
            a, b, c, d = part.bounds
            corners = [(round(x - a, 2), round(y - b, 2)) for x, y in part.exterior.coords[:-1]]
            found.append(
                Stock(
                    name=f"Offcut {next(numbers)}, {pieces[first].board.title.lower()}"[:60],
                    width=round(c - a, 2),
                    height=round(d - b, 2),
                    count=1,
                    board=pieces[first].board.key,
                    colour=colours.get(first, ""),
                    outline=tuple(corners),
                    grain="upward" if _upward(sheet, pieces[first]) else "across",
                )
            )
    found.sort(key=lambda entry: -entry.region.area)
    return (*out, *found[: max(0, MOST_SHEETS_AT_HAND - len(out))])


def _upward(sheet: SheetPlan, piece: Piece) -> bool:
    """Whether the grain runs along a sheet's height: of what is left of it too."""
    return grain_upward(piece.board, sheet.size, sheet.stock.grain)


def _key(stock: Stock) -> tuple[object, ...]:
    """What tells entries of the stock apart, whatever their count."""
    return stock.name, stock.width, stock.height, stock.board, stock.colour, stock.outline
