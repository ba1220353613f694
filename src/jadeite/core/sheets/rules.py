"""Where and how pieces may lie, whoever lays them: the draft, a search, or the maker's hand."""

from __future__ import annotations

import enum
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property

import shapely
from shapely import affinity
from shapely.geometry import MultiPolygon, Polygon, box

from jadeite.core.nets.grain import allowed_turns
from jadeite.core.nets.model import Piece
from jadeite.core.nets.outline import piece_polygon
from jadeite.core.project import Stock
from jadeite.core.sheets.nesting import QUARTERS
from jadeite.core.sheets.plan import GAP, PlacedPiece
from jadeite.core.sheets.stock import usable_area

__all__ = ["NEAR", "Refusal", "Rules", "Why", "lying"]

FREE = tuple(float(a) for a in range(0, 360, 15) if a % 90)  # degrees; from memory
NEAR = 1e-3  # mm; from memory, no cutter and no eye tells less


class Why(enum.Enum):
    """What keeps a piece from lying somewhere."""

    OFF = "off"  # it stands out of what can be cut
    NEAR = "near"  # it lies on another, or nearer than the gap
    TURN = "turn"  # folds would run across the grain, or the angle is not allowed
    BOARD = "board"  # that sheet is of other board or colour


@dataclass(frozen=True, slots=True)
class Refusal:
    """Why a piece may not lie somewhere; ``other`` is what it would lie too near to."""

    why: Why
    other: str = ""


@dataclass(frozen=True, eq=False)
class Rules:
    """What holds of the pieces of a job on any sheet.

    Parameters
    ----------
    reach : (width, height)
        mm that the cutter reaches.
    margin : float
        mm kept free at the edges of a sheet.
    free_turns : bool
        Whether angles other than quarter turns are allowed.
    colours : mapping, optional
        Piece to colour: sheets of one board in two colours are two boards.
    grain : str
        ``follow``, ``heavy`` or ``ignore``; see
        :func:`~jadeite.core.nets.grain.follows_grain`.
    around : float
        mm that belong to every piece beyond its outline: ink past the cut.
    together : bool
        Whether pieces of one part have sheets to themselves: there is nothing to sort then.
    """

    pieces: Sequence[Piece]
    reach: tuple[float, float]
    margin: float
    free_turns: bool
    colours: Mapping[str, str] = field(default_factory=dict)
    grain: str = "ignore"
    around: float = 0.0
    together: bool = False

    @cached_property
    def shapes(self) -> dict[str, Polygon]:
        """What every piece takes, by name, mm from its own origin."""
        shapes = {piece.name: piece_polygon(piece) for piece in self.pieces}
        if self.around <= 0:
            return shapes
        return {name: shape.buffer(self.around, quad_segs=4) for name, shape in shapes.items()}

    @cached_property
    def _by_name(self) -> dict[str, Piece]:
        return {piece.name: piece for piece in self.pieces}

    def colour(self, piece: str) -> str:
        """Of a piece; empty where it has none."""
        return self.colours.get(piece, "")

    def board(self, piece: str) -> str:
        """Board and colour that a piece is cut from: pieces of one share sheets."""
        own = self._by_name[piece]
        board = f"{own.board.key} {self.colour(piece)}".strip()
        return f"{board} {own.part}" if self.together else board

    def suits(self, piece: str, stock: Stock) -> bool:
        """Whether a piece is cut from such sheets."""
        return stock.suits(self._by_name[piece].board.key, self.colour(piece))

    def usable(self, stock: Stock) -> tuple[float, float, float, float]:
        """What of a sheet the cutter reaches: x, y, width, height in mm."""
        return usable_area((stock.width, stock.height), self.reach, self.margin)

    def room(self, stock: Stock) -> Polygon | MultiPolygon:
        """Where pieces may lie on a sheet, mm from its lower left.

        An offcut has a margin along its own outline.
        """
        x, y, width, height = self.usable(stock)
        whole = box(x, y, x + width, y + height)
        return whole if stock.whole else whole.intersection(stock.region.buffer(-self.margin))

    def turns(self, piece: str, stock: Stock) -> tuple[tuple[float, ...], tuple[float, ...]]:
        """Turns of a piece on a sheet, degrees: by quarters, and others that are free to it."""
        own = self._by_name[piece]
        allowed = allowed_turns(own, (stock.width, stock.height), self.grain, stock.grain)
        if allowed is not None:
            return tuple(a for a in QUARTERS if a in allowed), ()
        return QUARTERS, FREE if self.free_turns else ()

    def may_turn(self, piece: str, stock: Stock, angle: float) -> bool:
        """Whether a piece may lie at an angle; at any where it is free."""
        straight, askew = self.turns(piece, stock)
        return bool(askew) or angle % 360 in straight

    def refusal(
        self, stock: Stock, place: PlacedPiece, others: Iterable[PlacedPiece]
    ) -> Refusal | None:
        """What keeps a piece from a place on a sheet with others on it; None for nothing."""
        if not self.suits(place.piece, stock):
            return Refusal(Why.BOARD)
        if not self.may_turn(place.piece, stock, place.angle):
            return Refusal(Why.TURN)
        shape = self.lying(place)
        if not self.room(stock).buffer(NEAR).covers(shape):
            return Refusal(Why.OFF)
        for other in others:
            if shapely.dwithin(shape, self.lying(other), GAP - NEAR):
                return Refusal(Why.NEAR, other.piece)
        return None

    def lying(self, place: PlacedPiece) -> Polygon:
        """What a piece takes where it lies, mm from the sheet's lower left."""
        return lying(self.shapes[place.piece], place)

    def too_near(self, places: Sequence[PlacedPiece]) -> Iterator[tuple[int, int]]:
        """Numbers of pieces on one sheet that lie nearer to one another than the gap."""
        if len(places) < 2:
            return
        shapes = [self.lying(place) for place in places]
        first, other = shapely.STRtree(shapes).query(
            shapes, predicate="dwithin", distance=GAP - NEAR
        )
        pairs = zip(first.tolist(), other.tolist(), strict=True)
        yield from sorted((a, b) for a, b in pairs if a < b)


def lying(shape: Polygon, place: PlacedPiece) -> Polygon:
    """A shape turned and moved as a piece is on its sheet."""
    turned = affinity.rotate(shape, place.angle, origin=(0, 0))
    return affinity.translate(turned, place.x, place.y)
