"""Pieces on sheets of the stock: those of one board in one colour share them, no others."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace

import shapely
from shapely import affinity
from shapely.geometry import box

from jadeite.core.nets.model import Piece
from jadeite.core.project import Stock
from jadeite.core.sheets.field import Field
from jadeite.core.sheets.nesting import Engine, Kind, Nest, NestJob, Part, least_sheets
from jadeite.core.sheets.orders import draft, search
from jadeite.core.sheets.plan import GAP, Layout, PlacedPiece, SheetPlan
from jadeite.core.sheets.rules import Rules

__all__ = ["lay_by", "lay_out"]

ROUND = 1.01  # times the gap is kept from what is fixed; exact, chords of arcs lie inside them

Asked = tuple[str, int]  # a piece, and which copy of it


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
    seek: float = 0.0,
    together: bool = False,
    fixed: Sequence[SheetPlan] = (),
) -> Layout:
    """Lay every piece, ``copies`` times or as often as is said of it, on sheets of the stock.

    Reach, margin, turns, colours, grain, what is around a piece and what is kept together are as
    in :class:`~jadeite.core.sheets.rules.Rules`.

    Parameters
    ----------
    all_or_none : bool
        Whether the first layout that takes all will do, and one that leaves a piece over is
        given up: quicker where sizes are tried.
    seek : float
        About how many nanoseconds a better order is sought for boards that take more sheets
        than their area needs; the same number gives the same layout.
    fixed : sequence of SheetPlan
        Sheets with what lies there already and is not moved; they are of the stock.
    """
    rules = Rules(pieces, reach, margin, free_turns, colours or {}, grain, around, together)
    often = copies if isinstance(copies, Mapping) else dict.fromkeys(rules.shapes, copies)
    return lay_by(rules, stock, often, step=step, all_or_none=all_or_none, seek=seek, fixed=fixed)


def lay_by(
    rules: Rules,
    stock: Sequence[Stock],
    often: Mapping[str, int],
    *,
    step: Callable[[float, str], None] | None = None,
    all_or_none: bool = False,
    seek: float = 0.0,
    fixed: Sequence[SheetPlan] = (),
) -> Layout:
    """The same as :func:`lay_out` for pieces and rules in one value, each piece so often."""
    boards = _boards(rules)
    lies = {(one.piece, one.copy) for sheet in fixed for one in sheet.placed}
    left = _left(stock, fixed)
    whole, done, fewest = sum(often.values()), 0, 0
    sheets: list[SheetPlan] = []
    unplaced: list[Asked] = []
    for board, some in boards.items():
        own = [sheet for sheet in fixed if sheet.board == board]
        group = _Board(rules, board, some, often, stock, own, lies)
        number = sum(often[piece.name] for piece in some)

        def told(share: float, done: int = done, number: int = number) -> None:
            if step is not None:
                step((done + share * number) / whole, "Laying out the pieces")

        laid = group.laid(left, all_or_none=all_or_none, step=told, seek=seek / len(boards))
        sheets += laid.sheets
        unplaced += laid.unplaced
        fewest += laid.fewest
        done += number
    kept = bool(lies) and not unplaced and len(lies) == whole
    return Layout(tuple(sheets), tuple(unplaced), fewest, kept)


def _boards(rules: Rules) -> dict[str, list[Piece]]:
    """Pieces by board and colour, the one with the largest piece first."""
    boards: dict[str, list[Piece]] = {}
    for piece in sorted(rules.pieces, key=lambda piece: -rules.shapes[piece.name].area):
        boards.setdefault(rules.board(piece.name), []).append(piece)
    # sheets of one board follow one another in all its colours: its setting is changed once
    first: dict[str, int] = {}
    for some in boards.values():
        first.setdefault(some[0].board.key, len(first))
    return dict(sorted(boards.items(), key=lambda pair: first[pair[1][0].board.key]))


def _left(stock: Sequence[Stock], fixed: Sequence[SheetPlan]) -> list[int | None]:
    """How many of each entry of the stock are left beside the sheets that are in use."""
    used = Counter(sheet.stock for sheet in fixed)
    out: list[int | None] = []
    for kind in stock:
        taken = used[kind] if kind.free is None else min(used[kind], kind.free)
        used[kind] -= taken
        out.append(None if kind.free is None else kind.free - taken)
    return out


def _alike(pieces: Sequence[Piece]) -> list[list[Piece]]:
    """Pieces that share their panels are of one shape."""
    out: dict[int, list[Piece]] = {}
    for piece in pieces:
        out.setdefault(id(piece.panels), []).append(piece)
    return list(out.values())


def _whole(nest: Nest, kinds: Sequence[Kind]) -> int:
    """Sheets that are opened anew and are no offcuts."""
    return sum(kinds[kind].region is None for kind, _ in nest.fields)


@dataclass(eq=False)
class _Board:
    """Pieces of one board in one colour, with the sheets that are theirs already."""

    rules: Rules
    board: str
    pieces: Sequence[Piece]
    often: Mapping[str, int]
    stock: Sequence[Stock]
    fixed: Sequence[SheetPlan]
    lies: set[Asked]
    groups: list[list[Piece]] = field(init=False)

    def __post_init__(self) -> None:
        self.groups = _alike(self.pieces)

    def laid(
        self,
        left: list[int | None],
        *,
        all_or_none: bool,
        step: Callable[[float], None],
        seek: float,
    ) -> Layout:
        """What is not fixed is laid; ``left`` are sheets that can be opened, and then remain."""
        suiting = [i for i, s in enumerate(self.stock) if self.rules.suits(self.pieces[0].name, s)]
        suiting.sort(key=lambda i: self.stock[i].whole)  # offcuts first, else as the maker has them
        at_hand = [self.stock[i] for i in suiting]
        free = [self._kind(self.stock[i], left[i]) for i in suiting]
        asked = [list(self._copies(group)) for group in self.groups]
        sheets = [sheet.stock for sheet in self.fixed] + at_hand
        kinds = (*map(self._begun, self.fixed), *free)
        wanting = [i for i, own in enumerate(asked) if own]
        begun = len(self.fixed)
        plans = list(self.fixed)
        unplaced: list[Asked] = []
        never: set[int] = set()
        if wanting:
            job = NestJob(
                tuple(self._part(self.groups[i], len(asked[i]), sheets) for i in wanting),
                kinds,
                GAP,
            )
            nest, engine = self._nested(job, all_or_none=all_or_none, step=step, seek=seek)
            never = {wanting[i] for i in engine.hopeless}
            names = [iter(asked[i]) for i in wanting]
            for of, filled in nest.fields:
                placed = tuple(_placed(filled, engine, names, self.rules.usable(sheets[of])))
                if of < begun:
                    plan = plans[of]
                    plans[of] = replace(plan, placed=(*plan.placed, *placed))
                    continue
                i = suiting[of - begun]
                count = left[i]
                left[i] = None if count is None else count - 1
                usable = self.rules.usable(sheets[of])
                plans.append(SheetPlan(sheets[of], self.board, usable, placed, 0.0))
            unplaced = [next(names[part]) for part in nest.left]
        plans = [replace(plan, used=self._used(plan)) for plan in plans]
        whole = [
            self._part(group, sum(self.often[piece.name] for piece in group), ())
            for i, group in enumerate(self.groups)
            if i not in never
        ]
        least = least_sheets(whole, [*map(self._unused, self.fixed), *free], GAP)
        opened = sum(plan.stock.whole for plan in plans)
        return Layout(tuple(plans), tuple(unplaced), opened if least is None else least)

    def _nested(
        self,
        job: NestJob,
        *,
        all_or_none: bool,
        step: Callable[[float], None],
        seek: float,
    ) -> tuple[Nest, Engine]:
        found = draft(job, all_or_none=all_or_none, step=step)
        least = found[1].fewest
        if seek and (least is None or _whole(found[0], job.kinds) > least):
            found = search(found, budget=seek, step=step)
        return found

    def _used(self, plan: SheetPlan) -> float:
        area = sum(self.rules.shapes[one.piece].area for one in plan.placed)
        return float(area / plan.stock.region.area)

    def _copies(self, group: Sequence[Piece]) -> Iterator[Asked]:
        """Every copy of some pieces that lies nowhere yet, in the order in which they are laid."""
        for piece in group:
            for copy in range(self.often[piece.name]):
                if (piece.name, copy) not in self.lies:
                    yield piece.name, copy

    def _part(self, group: Sequence[Piece], count: int, stock: Sequence[Stock]) -> Part:
        """Pieces of one shape, and how they may lie on each kind of sheet."""
        turns = [self.rules.turns(group[0].name, kind) for kind in stock]
        askew = tuple(turn[1] for turn in turns) if self.rules.free_turns else ()
        shape = self.rules.shapes[group[0].name]
        return Part(shape, count, tuple(turn[0] for turn in turns), askew)

    def _kind(self, stock: Stock, count: int | None) -> Kind:
        """Sheets at hand as the layout sees them."""
        x, y, width, height = self.rules.usable(stock)
        region = None
        if not stock.whole:
            region = affinity.translate(self.rules.room(stock), -x, -y)
        cost = 0.0 if region is not None else stock.price or 0.0
        return Kind((width, height), count, cost, region, float(stock.region.area))

    def _unused(self, plan: SheetPlan) -> Kind:
        """A sheet in use, as one that could be filled anew."""
        return self._kind(plan.stock, 1)

    def _begun(self, plan: SheetPlan) -> Kind:
        """A sheet in use: what is free of it is like an offcut."""
        x, y, width, height = plan.usable
        taken = [self.rules.lying(place).buffer(ROUND * GAP) for place in plan.placed]
        room = self.rules.room(plan.stock).intersection(box(x, y, x + width, y + height))
        region = affinity.translate(room.difference(shapely.union_all(taken)), -x, -y)
        return Kind((width, height), 1, 0.0, region)


def _placed(
    field: Field,
    engine: Engine,
    copies: Sequence[Iterator[Asked]],
    usable: tuple[float, float, float, float],
) -> Iterator[PlacedPiece]:
    """Where pieces lie on their sheet, mm."""
    for lying in field.lying:
        part, angle = lying.turned
        shape = engine.masks.shapes[part]
        x, y = field.room.middle(shape.form(angle), lying.row, lying.column)
        a, b, c, d = shape.turned(angle).bounds
        name, copy = next(copies[part])
        yield PlacedPiece(
            name, copy, angle, usable[0] + x - (a + c) / 2, usable[1] + y - (b + d) / 2
        )
