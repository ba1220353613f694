"""A draft layout: pieces put down one after another, largest first.

Each piece goes to the lowest, then leftmost place of a lattice where it is free, in
quarter turns first and at other angles where these do not fit, and slides from there
down and left until it touches.  Where the lattice is too coarse, it is tried beside the
corners of what lies there.  Pieces of one board share sheets; no sheet carries two boards.
"""

from __future__ import annotations

from collections import Counter
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
FEW = 160  # pieces; from memory, of so few two layouts are made, and the better is kept


class _Turns:
    """Every piece in the turns in which it may lie; those that look alike once."""

    def __init__(self, shapes: Mapping[str, Polygon], grain: str, *, free: bool) -> None:
        self._shapes, self._grain = shapes, grain
        self.passes = (QUARTERS, FREE) if free else (QUARTERS,)
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
                some = [{a: s for a, s in some[0].items() if a in allowed}]
            self._ways[key] = different(some)
        return self._ways[key]


@dataclass
class _Filling:
    """Sheets as they are opened and filled; ``left`` counts those of the stock that remain."""

    stock: Sequence[Stock]
    turns: _Turns
    reach: tuple[float, float]
    margin: float
    lattice: Lattice | None
    left: dict[int, int | None] = field(default_factory=dict)
    sheets: list[Sheet] = field(default_factory=list)
    unplaced: list[tuple[str, int]] = field(default_factory=list)
    found: Found = field(default_factory=dict)

    def __post_init__(self) -> None:
        self.left = {i: kind.count for i, kind in enumerate(self.stock)}

    @property
    def worth(self) -> tuple[int, int]:
        """What is better is less: pieces left over, then sheets."""
        return len(self.unplaced), len(self.sheets)

    def put(self, piece: Piece, copy: int, board: str) -> None:
        """Lay a piece on the first sheet of its board that has room, or on a new one."""
        job = (piece.name, copy, id(piece.panels))
        same = [sheet for sheet in self.sheets if sheet.board == board]
        tries = [(sheet, self.turns.of(piece, sheet.stock)) for sheet in same]
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
                sheet = Sheet(kind, board, usable, self.found, self.lattice)
                if sheet.try_place(job, ways[i][n]):
                    self.sheets.append(sheet)
                    count = self.left[i]
                    self.left[i] = None if count is None else count - 1
                    return
        self.unplaced.append((piece.name, copy))

    def layout(self) -> Layout:
        """Sheets of one board beside one another, in the order in which boards came."""
        order = {board: i for i, board in enumerate(dict.fromkeys(s.board for s in self.sheets))}
        plans = [sheet.plan() for sheet in sorted(self.sheets, key=lambda s: order[s.board])]
        return Layout(tuple(plans), tuple(self.unplaced))


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
    """
    colours = colours or {}
    shapes = {piece.name: piece_polygon(piece) for piece in pieces}
    turns = _Turns(shapes, grain, free=free_turns)
    often = copies if isinstance(copies, Mapping) else dict.fromkeys(shapes, copies)
    jobs = [
        (piece, copy, f"{piece.board.key} {colours.get(piece.name, '')}".strip())
        for piece in pieces
        for copy in range(often[piece.name])
    ]
    jobs.sort(key=lambda job: -shapes[job[0].name].area)
    made: list[_Filling] = []
    for lattice in (Lattice(GAP), None):
        if made and (len(jobs) > FEW or not _may_do_better(made[0])):
            break
        made.append(_Filling(stock, turns, reach, margin, lattice))
        for number, (piece, copy, board) in enumerate(jobs):
            if step is not None:
                step(number / len(jobs), "Laying out the pieces")
            made[-1].put(piece, copy, board)
    return min(made, key=lambda filling: filling.worth).layout()


def _may_do_better(filling: _Filling) -> bool:
    """Whether fewer sheets of a board might do, as far as areas say."""
    if filling.unplaced:
        return True
    count = Counter(sheet.board for sheet in filling.sheets)
    return any(
        sum(s.area for s in filling.sheets if s.board == board)
        <= (number - 1) * max(s.usable[2] * s.usable[3] for s in filling.sheets)
        for board, number in count.items()
    )
