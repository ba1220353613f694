"""A draft layout: pieces put down one after another, largest first.

Each piece goes to the lowest, then leftmost place of a lattice where it is free, in
quarter turns first and at other angles where these do not fit, and slides from there
down and left until it touches.  Where the lattice is too coarse, it is tried beside the
corners of what lies there.  Few pieces are laid out in several ways, of which the best is
kept.  Pieces of one board share sheets; no sheet carries two boards.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field

from shapely import affinity
from shapely.geometry import Polygon

from jadeite.core.nets.grain import allowed_turns
from jadeite.core.nets.model import Piece
from jadeite.core.nets.outline import piece_polygon
from jadeite.core.project import Stock
from jadeite.core.sheets.filling import Found, Sheet, Turned, different
from jadeite.core.sheets.lattice import Lattice
from jadeite.core.sheets.plan import GAP, Layout
from jadeite.core.sheets.stock import usable_area

__all__ = ["lay_out"]

QUARTERS = (0.0, 90.0, 180.0, 270.0)  # degrees; common practice, sides along the grain
FREE = tuple(float(a) for a in range(0, 360, 15) if a % 90)  # degrees; from memory
FEW = 160  # pieces; from memory, so few are laid out in several ways

Asked = tuple[Piece, int]  # a piece, and which copy of it


class _Turns:
    """Every piece in the turns in which it may lie; those that look alike once."""

    def __init__(
        self, shapes: Mapping[str, Polygon], grain: str, passes: tuple[tuple[float, ...], ...]
    ) -> None:
        self._shapes, self._grain, self.passes = shapes, grain, passes
        self._every: dict[int, list[Turned]] = {}
        self._ways: dict[tuple[int, tuple[float, ...] | None], list[Turned]] = {}

    def of(self, piece: Piece, kind: Stock) -> list[Turned]:
        """Ways to lie on a sheet, those to be tried first in front."""
        alike = id(piece.panels)
        if alike not in self._every:
            shape = self._shapes[piece.name]
            self._every[alike] = [
                {angle: affinity.rotate(shape, angle, origin=(0, 0)) for angle in some}
                for some in self.passes
            ]
        allowed = allowed_turns(piece, (kind.width, kind.height), self._grain)
        key = (alike, None if allowed is None else tuple(sorted(allowed)))
        if key not in self._ways:
            some = self._every[alike]
            if allowed is not None:
                some = [{a: s for a, s in some[0].items() if a in allowed and not a % 90}]
            self._ways[key] = different(some)
        return self._ways[key]


@dataclass
class _Filling:
    """Sheets of one board as they are opened and filled.

    ``left`` counts those of the stock that remain; ``found`` is shared by all with a like lattice.
    """

    stock: Sequence[Stock]
    board: str
    turns: _Turns
    reach: tuple[float, float]
    margin: float
    lattice: Lattice | None
    found: Found
    left: dict[int, int | None]
    sheets: list[Sheet] = field(default_factory=list)
    unplaced: list[tuple[str, int]] = field(default_factory=list)

    @property
    def worth(self) -> tuple[int, int]:
        """What is better is less: pieces left over, then sheets."""
        return len(self.unplaced), len(self.sheets)

    def put(self, piece: Piece, copy: int) -> None:
        """Lay a piece on the first sheet that has room, or on a new one."""
        job = (piece.name, copy, id(piece.panels))
        tries = [(sheet, self.turns.of(piece, sheet.stock)) for sheet in self.sheets]
        if any(
            sheet.try_place(job, ways[n])
            for n in range(len(self.turns.passes))
            for sheet, ways in tries
            if n < len(ways)
        ):
            return
        ways = [self.turns.of(piece, kind) for kind in self.stock]
        for n in range(max(len(w) for w in ways)):
            for i, kind in enumerate(self.stock):
                if self.left[i] == 0 or n >= len(ways[i]):
                    continue
                usable = usable_area((kind.width, kind.height), self.reach, self.margin)
                sheet = Sheet(kind, self.board, usable, self.found, self.lattice)
                if sheet.try_place(job, ways[i][n]):
                    self.sheets.append(sheet)
                    count = self.left[i]
                    self.left[i] = None if count is None else count - 1
                    return
        self.unplaced.append((piece.name, copy))

    @property
    def may_be_better(self) -> bool:
        """Whether fewer sheets might do, as far as areas say."""
        if self.unplaced:
            return True
        largest = max(sheet.usable[2] * sheet.usable[3] for sheet in self.sheets)
        return sum(sheet.area for sheet in self.sheets) <= (len(self.sheets) - 1) * largest


def lay_out(
    pieces: Sequence[Piece],
    stock: Sequence[Stock],
    *,
    copies: int | Mapping[str, int],
    reach: tuple[float, float],
    margin: float,
    free_turns: bool,
    colours: Mapping[str, str] | None = None,
    grain: str = "ignore",
    step: Callable[[float, str], None] | None = None,
    all_or_none: bool = False,
    around: float = 0.0,
) -> Layout:
    """Lay every piece, ``copies`` times or as often as is said of it, on sheets of the stock.

    Parameters
    ----------
    reach : (width, height)
        mm that the cutter reaches.
    margin : float
        mm kept free at the edges of a sheet.
    free_turns : bool
        Whether angles other than quarter turns are tried where these fail.
    colours : mapping, optional
        Piece to colour: sheets of one board in two colours are two boards.
    grain : str
        ``follow``, ``heavy`` or ``ignore``; see
        :func:`~jadeite.core.nets.grain.follows_grain`.
    all_or_none : bool
        Whether the first layout that takes all will do, and one that leaves a piece over is
        given up: quicker where sizes are tried.
    around : float
        mm that belong to every piece beyond its outline: ink past the cut.
    """
    colours = colours or {}
    shapes = {piece.name: piece_polygon(piece) for piece in pieces}
    if around > 0:
        shapes = {name: shape.buffer(around, quad_segs=4) for name, shape in shapes.items()}
    often = copies if isinstance(copies, Mapping) else dict.fromkeys(shapes, copies)
    boards: dict[str, list[Asked]] = {}  # the one with the largest piece first
    for piece in sorted(pieces, key=lambda piece: -shapes[piece.name].area):
        board = f"{piece.board.key} {colours.get(piece.name, '')}".strip()
        boards.setdefault(board, []).extend((piece, copy) for copy in range(often[piece.name]))
    in_turn = _Turns(shapes, grain, (QUARTERS, FREE) if free_turns else (QUARTERS,))
    lattice, found = Lattice(GAP), Found()
    ways: list[tuple[_Turns, Lattice | None, Found]] = [
        (in_turn, lattice, found),
        (in_turn, None, {}),
    ]
    if free_turns:
        ways.append((_Turns(shapes, grain, (QUARTERS + FREE,)), lattice, found))
    if all_or_none:
        ways[:2] = ways[1::-1]  # corners alone are tried sooner
    left = {i: kind.count for i, kind in enumerate(stock)}
    whole, done = sum(map(len, boards.values())), 0
    sheets: list[Sheet] = []
    unplaced: list[tuple[str, int]] = []
    for board, asked in boards.items():
        made: list[_Filling] = []
        for turns, at, known in ways:
            if made and (whole > FEW or not made[-1].may_be_better):
                break
            made.append(_Filling(stock, board, turns, reach, margin, at, known, dict(left)))
            for number, (piece, copy) in enumerate(asked):
                if step is not None:
                    step((done + number) / whole, "Laying out the pieces")
                made[-1].put(piece, copy)
                if all_or_none and made[-1].unplaced:
                    break
            if all_or_none and not made[-1].unplaced:
                break
        best = min(made, key=lambda filling: filling.worth)
        sheets += best.sheets
        unplaced += best.unplaced
        left, done = best.left, done + len(asked)
    return Layout(tuple(sheet.plan() for sheet in sheets), tuple(unplaced))
