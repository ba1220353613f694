"""How pieces lie on their sheets, where the maker or a long search has laid them."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from jadeite.core.project.fields import Model

__all__ = ["Laid", "LaidPiece", "LaidSheet"]

MOST_PIECES = 2_000  # on one sheet; from memory, far more than can be cut
MOST_SHEETS = 1_000  # from memory; a print run has as many

Coordinate = Annotated[float, Field(ge=-10_000, le=10_000, allow_inf_nan=False)]


class LaidPiece(Model):
    """A copy of a piece, by its number: turned by ``angle`` degrees, then moved by (x, y) mm.

    A ``pinned`` one stays there whatever else is laid anew.
    """

    piece: str = Field(min_length=1, max_length=300)
    number: int = Field(ge=0, le=10_000)
    angle: float = Field(ge=-360, le=360, allow_inf_nan=False)
    x: Coordinate
    y: Coordinate
    pinned: bool = False


class LaidSheet(Model):
    """What lies on one sheet of the stock, which is known by its name."""

    stock: str = Field(min_length=1, max_length=60)
    pieces: tuple[LaidPiece, ...] = Field(min_length=1, max_length=MOST_PIECES)


class Laid(Model):
    """Sheets as they were laid ``of`` certain pieces on a certain stock.

    Of other pieces or another stock only what is pinned holds.
    """

    of: str = Field(default="", max_length=64)
    sheets: tuple[LaidSheet, ...] = Field(default=(), max_length=MOST_SHEETS)

    @property
    def pinned(self) -> int:
        """How many pieces are pinned."""
        return sum(piece.pinned for sheet in self.sheets for piece in sheet.pieces)
