"""A layout kept in the document, and taken from it again as far as it still holds."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace

from jadeite.core.project import Laid, LaidPiece, LaidSheet, Stock
from jadeite.core.sheets.plan import Layout, PlacedPiece, SheetPlan
from jadeite.core.sheets.rules import Rules

__all__ = ["laid_from", "laid_of", "with_pins"]


def laid_of(layout: Layout, of: str) -> Laid:
    """A layout as it is kept, with what tells the pieces and the stock that it is ``of``."""
    sheets = tuple(
        LaidSheet(
            stock=sheet.stock.name,
            pieces=tuple(
                LaidPiece(
                    piece=one.piece,
                    number=one.copy,
                    angle=one.angle,
                    x=one.x,
                    y=one.y,
                    pinned=one.pinned,
                )
                for one in sheet.placed
            ),
        )
        for sheet in layout.sheets
    )
    return Laid(of=of, sheets=sheets)


def laid_from(
    laid: Laid, of: str, rules: Rules, stock: Sequence[Stock], often: Mapping[str, int]
) -> tuple[SheetPlan, ...]:
    """Sheets on which pieces lie as they were laid.

    Of other pieces or another stock only those that are pinned stay.  What is no longer to
    be cut, lies on no sheet at hand, or lies too near to another is left out.

    Parameters
    ----------
    often : mapping
        How many of each piece are cut, by name.
    """
    left = [entry.free for entry in stock]
    seen: set[tuple[str, int]] = set()
    out: list[SheetPlan] = []
    for sheet in laid.sheets:
        places = [
            PlacedPiece(one.piece, one.number, one.angle, one.x, one.y, one.pinned)
            for one in sheet.pieces
            if (laid.of == of or one.pinned)
            and one.piece in rules.shapes
            and one.number < often[one.piece]
        ]
        entry = _entry(sheet.stock, stock, left, rules, places)
        if entry is None:
            continue
        board = rules.board(places[0].piece)
        sound = [
            place
            for place in places
            if rules.board(place.piece) == board
            and (place.piece, place.copy) not in seen
            and rules.refusal(stock[entry], place, ()) is None
        ]
        barred: set[int] = set()
        for a, b in rules.too_near(sound):
            if a not in barred:
                barred.add(b)
        sound = [place for i, place in enumerate(sound) if i not in barred]
        sound = list({(place.piece, place.copy): place for place in sound}.values())
        if not sound:
            continue
        seen |= {(place.piece, place.copy) for place in sound}
        count = left[entry]
        left[entry] = None if count is None else count - 1
        usable = rules.usable(stock[entry])
        area = sum(rules.shapes[place.piece].area for place in sound)
        used = float(area / stock[entry].region.area)
        out.append(SheetPlan(stock[entry], board, usable, tuple(sound), used))
    return tuple(out)


def _entry(
    name: str,
    stock: Sequence[Stock],
    left: Sequence[int | None],
    rules: Rules,
    places: Sequence[PlacedPiece],
) -> int | None:
    """Number of the entry of the stock that a sheet was taken from; None where it is gone."""
    if not places:
        return None
    for i, entry in enumerate(stock):
        if entry.name == name and left[i] != 0 and rules.suits(places[0].piece, entry):
            return i
    return None


def with_pins(layout: Layout, pins: Mapping[tuple[str, int], bool]) -> Layout:
    """A layout in which some copies of pieces are pinned, or no longer."""
    sheets = tuple(
        replace(
            sheet,
            placed=tuple(
                replace(one, pinned=pins.get((one.piece, one.copy), one.pinned))
                for one in sheet.placed
            ),
        )
        for sheet in layout.sheets
    )
    return replace(layout, sheets=sheets)
