"""Bare outlines under the rules of a layout: no net is needed to lay them out."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from shapely.geometry import Polygon

from jadeite.core.project import Stock
from jadeite.core.sheets import Layout, PlacedPiece, Rules, SheetPlan
from jadeite.core.sheets.nesting import Engine, Nest

__all__ = ["Drawn", "layout_of"]


@dataclass(frozen=True, eq=False)
class Drawn(Rules):
    """Outlines by name, all of one board; the angles in which each may lie, degrees."""

    outlines: Mapping[str, Polygon] = field(default_factory=dict)
    angles: tuple[float, ...] = (0.0, 90.0, 180.0, 270.0)

    @property
    def shapes(self) -> dict[str, Polygon]:  # type: ignore[override]
        """The outlines."""
        return dict(self.outlines)

    def board(self, piece: str) -> str:
        """The one board."""
        return "board"

    def suits(self, piece: str, stock: Stock) -> bool:
        """On every sheet."""
        return True

    def turns(self, piece: str, stock: Stock) -> tuple[tuple[float, ...], tuple[float, ...]]:
        """The angles, and no others."""
        return self.angles, ()


def layout_of(nest: Nest, engine: Engine, stock: list[Stock], rules: Rules) -> Layout:
    """What was laid of outlines that are named by their numbers, on sheets of the stock."""
    sheets, copies = [], dict.fromkeys(rules.shapes, 0)
    for kind, filled in nest.fields:
        usable = rules.usable(stock[kind])
        placed = []
        for one in filled.lying:
            part, angle = one.turned
            shape = engine.masks.shapes[part]
            x, y = filled.room.middle(shape.form(angle), one.row, one.column)
            a, b, c, d = shape.turned(angle).bounds
            name = str(part)
            at = usable[0] + x - (a + c) / 2, usable[1] + y - (b + d) / 2
            placed.append(PlacedPiece(name, copies[name], angle, *at))
            copies[name] += 1
        used = filled.area / float(stock[kind].region.area)
        sheets.append(SheetPlan(stock[kind], "board", usable, tuple(placed), used))
    left = tuple((str(part), 0) for part in nest.left)
    return Layout(tuple(sheets), left, engine.fewest or 0)
