"""What a layout is: pieces where they lie on sheets of a stock."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from jadeite.core.nets.model import Floats
from jadeite.core.project import Stock

__all__ = ["GAP", "Layout", "PlacedPiece", "SheetPlan", "placed_points"]

GAP = 1.5  # mm between pieces; from memory


@dataclass(frozen=True)
class PlacedPiece:
    """A piece on a sheet: turned by ``angle`` degrees, then moved by (x, y) mm.

    A ``pinned`` one stays there when others are laid anew.
    """

    piece: str
    copy: int
    angle: float
    x: float
    y: float
    pinned: bool = False


@dataclass(frozen=True)
class SheetPlan:
    """One sheet: its size, its board, and what is cut from it."""

    stock: Stock
    board: str
    usable: tuple[float, float, float, float]
    placed: tuple[PlacedPiece, ...]
    used: float  # share of the sheet's area
    printed: bool = False  # with marks by which it is found

    @property
    def size(self) -> tuple[float, float]:
        """Width and height in mm."""
        return self.stock.width, self.stock.height


@dataclass(frozen=True)
class Layout:
    """Every sheet of the job, and the pieces that fit on none.

    By their areas the pieces that fit need ``fewest`` whole sheets; no layout can do with less.
    What is ``kept`` lies as it did, by hand or after a long search: nothing was laid anew.
    """

    sheets: tuple[SheetPlan, ...]
    unplaced: tuple[tuple[str, int], ...]
    fewest: int = 0
    kept: bool = False

    @property
    def used(self) -> float:
        """Share of all sheets' area that becomes pieces."""
        areas = [float(sheet.stock.region.area) for sheet in self.sheets]
        part = sum(sheet.used * area for sheet, area in zip(self.sheets, areas, strict=True))
        return part / sum(areas) if areas else 0.0

    @property
    def whole(self) -> int:
        """Sheets that are no offcuts."""
        return sum(sheet.stock.whole for sheet in self.sheets)


def placed_points(points: Floats, place: PlacedPiece) -> Floats:
    """Flat points (n, 2) of a piece where it lies on its sheet, mm."""
    c, s = np.cos(np.radians(place.angle)), np.sin(np.radians(place.angle))
    if place.angle % 90 == 0:  # keep right angles exact
        c, s = np.round(c), np.round(s)
    return np.asarray(points @ np.array([[c, s], [-s, c]]) + (place.x, place.y))
