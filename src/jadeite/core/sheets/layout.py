"""Pieces on sheets of the stock: those of one board in one colour share them, no others."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence

from shapely import affinity
from shapely.geometry import Polygon, box

from jadeite.core.nets.grain import allowed_turns
from jadeite.core.nets.model import Piece
from jadeite.core.nets.outline import piece_polygon
from jadeite.core.project import Stock
from jadeite.core.sheets.field import Field
from jadeite.core.sheets.nesting import QUARTERS, Engine, Kind, Nest, NestJob, Part
from jadeite.core.sheets.orders import draft, search
from jadeite.core.sheets.plan import GAP, Layout, PlacedPiece, SheetPlan
from jadeite.core.sheets.stock import usable_area

__all__ = ["lay_out"]

FREE = tuple(float(a) for a in range(0, 360, 15) if a % 90)  # degrees; from memory

Usable = tuple[float, float, float, float]
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
    seek : float
        About how many nanoseconds a better order is sought for boards that take more sheets
        than their area needs; the same number gives the same layout.
    """
    colours = colours or {}
    shapes = {piece.name: piece_polygon(piece) for piece in pieces}
    if around > 0:
        shapes = {name: shape.buffer(around, quad_segs=4) for name, shape in shapes.items()}
    often = copies if isinstance(copies, Mapping) else dict.fromkeys(shapes, copies)
    boards: dict[str, list[Piece]] = {}  # the one with the largest piece first
    for piece in sorted(pieces, key=lambda piece: -shapes[piece.name].area):
        board = f"{piece.board.key} {colours.get(piece.name, '')}".strip()
        boards.setdefault(board, []).append(piece)
    # sheets of one board follow one another in all its colours: its setting is changed once
    first: dict[str, int] = {}
    for some in boards.values():
        first.setdefault(some[0].board.key, len(first))
    boards = dict(sorted(boards.items(), key=lambda pair: first[pair[1][0].board.key]))
    usable = [usable_area((kind.width, kind.height), reach, margin) for kind in stock]
    left = [kind.count for kind in stock]
    whole, done, fewest = sum(often.values()), 0, 0
    sheets: list[SheetPlan] = []
    unplaced: list[Asked] = []
    for board, some in boards.items():
        groups = _alike(some)
        colour = colours.get(some[0].name, "")
        suiting = [i for i, kind in enumerate(stock) if kind.suits(some[0].board.key, colour)]
        suiting.sort(key=lambda i: stock[i].whole)  # offcuts first, else as the maker has them
        at_hand = [stock[i] for i in suiting]
        kinds = tuple(_kind(stock[i], usable[i], left[i], margin) for i in suiting)
        turns = (QUARTERS, FREE) if free_turns else (QUARTERS, ())
        parts = tuple(_part(group, shapes, often, at_hand, grain, turns) for group in groups)
        number = sum(part.count for part in parts)

        def told(share: float, done: int = done, number: int = number) -> None:
            if step is not None:
                step((done + share * number) / whole, "Laying out the pieces")

        found = draft(NestJob(parts, kinds, GAP), all_or_none=all_or_none, step=told)
        least = found[1].fewest
        if seek and (least is None or _whole(found[0], kinds) > least):
            found = search(found, budget=seek / len(boards), step=told)
        nest, engine = found
        fewest += _whole(nest, kinds) if least is None else least
        copied = [_copies(group, often) for group in groups]
        for of, field in nest.fields:
            i = suiting[of]
            placed = tuple(_placed(field, engine, copied, usable[i]))
            share = field.area / float(stock[i].region.area)
            sheets.append(SheetPlan(stock[i], board, usable[i], placed, share))
            count = left[i]
            left[i] = None if count is None else count - 1
        unplaced += [next(copied[part]) for part in nest.left]
        done += number
    return Layout(tuple(sheets), tuple(unplaced), fewest)


def _whole(nest: Nest, kinds: Sequence[Kind]) -> int:
    """Sheets that are no offcuts."""
    return sum(kinds[kind].region is None for kind, _ in nest.fields)


def _kind(stock: Stock, usable: Usable, count: int | None, margin: float) -> Kind:
    """Sheets at hand as the layout sees them: an offcut has a margin along its own outline."""
    x, y, width, height = usable
    region = None
    if not stock.whole:
        inner = box(x, y, x + width, y + height).intersection(stock.region.buffer(-margin))
        region = affinity.translate(inner, -x, -y)
    cost = 0.0 if region is not None else stock.price or 0.0
    return Kind((width, height), count, cost, region)


def _alike(pieces: Sequence[Piece]) -> list[list[Piece]]:
    """Pieces that share their panels are of one shape."""
    out: dict[int, list[Piece]] = {}
    for piece in pieces:
        out.setdefault(id(piece.panels), []).append(piece)
    return list(out.values())


def _part(
    group: Sequence[Piece],
    shapes: Mapping[str, Polygon],
    often: Mapping[str, int],
    stock: Sequence[Stock],
    grain: str,
    turns: tuple[tuple[float, ...], tuple[float, ...]],
) -> Part:
    """Pieces of one shape, and how they may lie on each kind of sheet."""
    straight: list[tuple[float, ...]] = []
    askew: list[tuple[float, ...]] = []
    for kind in stock:
        allowed = allowed_turns(group[0], (kind.width, kind.height), grain)
        if allowed is None:
            straight.append(turns[0])
            askew.append(turns[1])
        else:
            straight.append(tuple(a for a in QUARTERS if a in allowed))
            askew.append(())
    count = sum(often[piece.name] for piece in group)
    return Part(shapes[group[0].name], count, tuple(straight), tuple(askew) if turns[1] else ())


def _copies(group: Sequence[Piece], often: Mapping[str, int]) -> Iterator[Asked]:
    """Every copy of some pieces, in the order in which they are laid."""
    for piece in group:
        for copy in range(often[piece.name]):
            yield piece.name, copy


def _placed(
    field: Field, engine: Engine, copies: Sequence[Iterator[Asked]], usable: Usable
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
