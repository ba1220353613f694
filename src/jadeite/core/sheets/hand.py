"""A layout changed by hand: each change is allowed by the rules, or refused with the reason."""

from __future__ import annotations

import itertools
from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np
import shapely
from shapely import affinity

from jadeite.core.project import Stock
from jadeite.core.sheets.field import Field, Room
from jadeite.core.sheets.forms import Shape
from jadeite.core.sheets.nofit import NoFit
from jadeite.core.sheets.offcuts import used_of
from jadeite.core.sheets.plan import GAP, Layout, PlacedPiece, SheetPlan
from jadeite.core.sheets.rules import Refusal, Rules, Why

__all__ = ["Hand", "Spot"]

CELLS = (2.0, 1.0)  # mm; from memory, of lattices on which a free place is looked for in turn
ROUND = 1.01  # times the gap is kept; exact, chords of arcs lie inside them


@dataclass(frozen=True, slots=True)
class Spot:
    """Where a piece lies: the number of its sheet, and its own among what lies there."""

    sheet: int
    number: int


@dataclass(frozen=True, eq=False)
class Hand:
    """A layout, and the rules by which a piece of it may lie elsewhere."""

    layout: Layout
    rules_of: Callable[[str], Rules]

    def at(self, spot: Spot) -> PlacedPiece:
        """What lies at a spot."""
        return self.layout.sheets[spot.sheet].placed[spot.number]

    def refusal(self, spot: Spot, sheet: int, place: PlacedPiece) -> Refusal | None:
        """What keeps a piece that is taken from a spot from another place; None for nothing."""
        rules = self.rules_of(place.piece)
        target = self.layout.sheets[sheet]
        if self.layout.sheets[spot.sheet].board != target.board:
            return Refusal(Why.BOARD)
        others = [
            one for i, one in enumerate(target.placed) if (sheet, i) != (spot.sheet, spot.number)
        ]
        return rules.refusal(target.stock, place, others)

    def moved(self, spot: Spot, sheet: int, place: PlacedPiece) -> Layout | Refusal:
        """A piece put down elsewhere, and pinned there."""
        refused = self.refusal(spot, sheet, place)
        return refused or self._put(spot, sheet, replace(place, pinned=True))

    def turned(self, spot: Spot, by: float) -> Layout | Refusal:
        """A piece turned to the left by so many degrees, and pinned.

        About its middle, or where that is refused with a corner of its box where it was.
        """
        turned = self.turn(self.at(spot), by)
        made = self.moved(spot, spot.sheet, turned)
        if isinstance(made, Layout):
            return made
        before, after = self._box(self.at(spot)), self._box(turned)
        for i, k in itertools.product((0, 2), (1, 3)):
            x, y = turned.x + before[i] - after[i], turned.y + before[k] - after[k]
            other = self.moved(spot, spot.sheet, replace(turned, x=x, y=y))
            if isinstance(other, Layout):
                return other
        return made

    def turn(self, place: PlacedPiece, by: float) -> PlacedPiece:
        """A piece turned to the left about the middle of its box, degrees."""
        angle = (place.angle + by) % 360
        middle = self._middle(place)
        return self._about(replace(place, angle=angle), middle)

    def swapped(self, one: Spot, other: Spot) -> Layout | Refusal:
        """Two pieces, each where the other lay; turned as it was, or as the other was."""
        a, b = self.at(one), self.at(other)
        if self.layout.sheets[one.sheet].board != self.layout.sheets[other.sheet].board:
            return Refusal(Why.BOARD)
        refused: list[Refusal] = []
        for turns in ((a.angle, b.angle), (b.angle, a.angle)):
            first = self._about(replace(a, angle=turns[0], pinned=True), self._middle(b))
            second = self._about(replace(b, angle=turns[1], pinned=True), self._middle(a))
            # each beside all that stays there, and the later also beside the earlier
            made = Hand(self._both(one, second, other, first), self.rules_of)
            wrong = made.refusal(one, one.sheet, second) or made.refusal(other, other.sheet, first)
            if wrong is None:
                return made.layout
            refused.append(wrong)
        return refused[0]

    def to_sheet(self, spot: Spot, sheet: int) -> Layout | Refusal:
        """A piece on another sheet in the first place that is free there, and pinned."""
        target, place = self.layout.sheets[sheet], self.at(spot)
        if target.board != self.layout.sheets[spot.sheet].board:
            return Refusal(Why.BOARD)
        found = self._free(place, target.stock, target)
        return Refusal(Why.NEAR) if found is None else self.moved(spot, sheet, found)

    def to_stock(self, spot: Spot, stock: Stock) -> Layout | Refusal:
        """A piece on a sheet of its own, and pinned."""
        place = self.at(spot)
        rules = self.rules_of(place.piece)
        if not rules.suits(place.piece, stock):
            return Refusal(Why.BOARD)
        found = self._free(place, stock, None)
        if found is None:
            return Refusal(Why.OFF)
        board = self.layout.sheets[spot.sheet].board
        printed = self.layout.sheets[spot.sheet].printed
        empty = SheetPlan(stock, board, rules.usable(stock), (), 0.0, printed)
        wider = replace(self.layout, sheets=(*self.layout.sheets, empty))
        return Hand(wider, self.rules_of).moved(spot, len(self.layout.sheets), found)

    def cut_from(self, sheet: int, stock: Stock) -> Layout | Refusal:
        """All that lies on a sheet on another one instead, in the same order to one another."""
        plan = self.layout.sheets[sheet]
        rules = self.rules_of(plan.placed[0].piece)
        usable = rules.usable(stock)
        by = (usable[0] - plan.usable[0], usable[1] - plan.usable[1])
        placed = tuple(replace(p, x=p.x + by[0], y=p.y + by[1]) for p in plan.placed)
        for place in placed:
            refused = rules.refusal(stock, place, ())
            if refused is not None:
                return refused
        return self._with({sheet: replace(plan, stock=stock, usable=usable, placed=placed)})

    def spare(self, stock: tuple[Stock, ...]) -> tuple[Stock, ...]:
        """Entries of a stock of which a sheet is left beside this layout."""
        used = used_of(self.layout, stock)
        return tuple(
            entry
            for entry, taken in zip(stock, used, strict=True)
            if entry.free is None or entry.free > taken
        )

    def _free(self, place: PlacedPiece, stock: Stock, plan: SheetPlan | None) -> PlacedPiece | None:
        """The lowest, then leftmost free place of a piece, turned as little as can be."""
        found = (self._free_on(place, stock, plan, cell) for cell in CELLS)
        return next((one for one in found if one is not None), None)

    def _free_on(
        self, place: PlacedPiece, stock: Stock, plan: SheetPlan | None, cell: float
    ) -> PlacedPiece | None:
        """The same on a lattice of so many mm."""
        rules = self.rules_of(place.piece)
        shape = Shape(rules.shapes[place.piece], cell, GAP)
        masks = NoFit([shape])
        x, y, width, height = rules.usable(stock)
        room = Room((width, height), cell)
        free = rules.room(stock)
        if plan is not None and plan.placed:
            taken = [rules.lying(one).buffer(ROUND * GAP) for one in plan.placed]
            free = free.difference(shapely.union_all(taken))
        barred = shapely.box(x, y, x + width, y + height).difference(free)
        if not barred.is_empty:
            room = room.without(affinity.translate(barred, -x, -y))
        straight, askew = rules.turns(place.piece, stock)
        turns = [place.angle % 360] if rules.may_turn(place.piece, stock, place.angle) else []
        others = askew if cell == CELLS[0] else ()  # a finer look at all of them takes too long
        for angle in dict.fromkeys([*turns, *straight, *others]):
            at = Field(room, masks).first((0, angle))
            if at is not None:
                mid = room.middle(shape.form(angle), *at)
                return self._about(replace(place, angle=angle), (mid[0] + x, mid[1] + y))
        return None

    def _box(self, place: PlacedPiece) -> tuple[float, float, float, float]:
        """Left, lower, right and upper end of what a piece takes, mm."""
        a, b, c, d = self.rules_of(place.piece).lying(place).bounds
        return float(a), float(b), float(c), float(d)

    def _middle(self, place: PlacedPiece) -> tuple[float, float]:
        a, b, c, d = self._box(place)
        return (a + c) / 2, (b + d) / 2

    def _about(self, place: PlacedPiece, middle: tuple[float, float]) -> PlacedPiece:
        """A place with the middle of its box there, mm."""
        now = self._middle(place)
        return replace(place, x=place.x + middle[0] - now[0], y=place.y + middle[1] - now[1])

    def _put(self, spot: Spot, sheet: int, place: PlacedPiece) -> Layout:
        plans = {}
        source, target = self.layout.sheets[spot.sheet], self.layout.sheets[sheet]
        if spot.sheet == sheet:
            placed = list(source.placed)
            placed[spot.number] = place
            plans[sheet] = replace(source, placed=tuple(placed))
        else:
            rest = tuple(p for i, p in enumerate(source.placed) if i != spot.number)
            plans[spot.sheet] = replace(source, placed=rest)
            plans[sheet] = replace(target, placed=(*target.placed, place))
        return self._with(plans)

    def _both(self, one: Spot, a: PlacedPiece, other: Spot, b: PlacedPiece) -> Layout:
        """Two spots with what now lies there."""
        plans: dict[int, SheetPlan] = {}
        for spot, place in ((one, a), (other, b)):
            plan = plans.get(spot.sheet, self.layout.sheets[spot.sheet])
            placed = list(plan.placed)
            placed[spot.number] = place
            plans[spot.sheet] = replace(plan, placed=tuple(placed))
        return self._with(plans)

    def _with(self, plans: dict[int, SheetPlan]) -> Layout:
        """The layout with other sheets; those with nothing on them are gone."""
        sheets = [plans.get(i, plan) for i, plan in enumerate(self.layout.sheets)]
        kept = tuple(self._counted(plan) for plan in sheets if plan.placed)
        return replace(self.layout, sheets=kept, kept=not self.layout.unplaced)

    def _counted(self, plan: SheetPlan) -> SheetPlan:
        areas = [self.rules_of(one.piece).shapes[one.piece].area for one in plan.placed]
        return replace(plan, used=float(np.sum(areas) / plan.stock.region.area))
