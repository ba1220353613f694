"""Sheets packed tighter, one at a time: what lies on the emptiest goes onto the others.

Each try takes seconds and may fail.  What it finds is checked by the rules of the layout,
which share nothing with the packer, and only a gain is taken.  How much is found depends
on how fast the machine is, so the result is no function of the job alone.
"""

from __future__ import annotations

import itertools
import random
import time
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field, replace

import shapely

from jadeite.core.sheets.plan import GAP, Layout, PlacedPiece, SheetPlan
from jadeite.core.sheets.rules import Rules
from jadeite.core.sheets.strip import Bundle, bundles_of, packed

__all__ = ["sound", "tighten", "worth"]

TELL = 0.1  # s; from memory, so often it says how far it is
EACH = 3  # s; from memory, what a try takes at most
FULL = 0.995  # of a sheet, from memory: no try asks for more
SHIFT = 5.0  # mm; from memory, of a wider strip that is left of a sheet it is worth a try

Rulebook = Callable[[str], Rules]  # of a piece, by its name


def worth(layout: Layout, rules_of: Rulebook) -> tuple[float, ...]:
    """What is better is less: pieces left over, sheets, cost, then what is left in one part."""
    cost = sum(sheet.stock.price or 0.0 for sheet in layout.sheets if sheet.stock.whole)
    filled = -sum(sheet.used**2 for sheet in layout.sheets)
    left = -max((_left(sheet, rules_of) for sheet in layout.sheets), default=0.0)
    return len(layout.unplaced), layout.whole, cost, round(filled, 9), round(left, 1)


def _left(sheet: SheetPlan, rules_of: Rulebook) -> float:
    """The larger strip beside or above all that lies on a sheet, mm²."""
    rules = rules_of(sheet.placed[0].piece)
    x, y, wide, high = sheet.usable
    _, _, right, top = shapely.total_bounds([rules.lying(one) for one in sheet.placed])
    return float(max((x + wide - right) * high, (y + high - top) * wide))


def sound(layout: Layout, rules_of: Rulebook) -> bool:
    """Whether every piece lies where it may, and none twice."""
    seen: set[tuple[str, int]] = set()
    for sheet in layout.sheets:
        rules = rules_of(sheet.placed[0].piece)
        for one in sheet.placed:
            if (one.piece, one.copy) in seen or rules.board(one.piece) != sheet.board:
                return False
            seen.add((one.piece, one.copy))
            if rules.refusal(sheet.stock, one, ()) is not None:
                return False
        if any(True for _ in rules.too_near(sheet.placed)):
            return False
    return True


def tighten(
    layout: Layout,
    rules_of: Rulebook,
    *,
    seconds: float,
    seed: int = 0,
    step: Callable[[float], None] | None = None,
    better: Callable[[Layout], None] | None = None,
) -> Layout:
    """The layout with fewer sheets, or with more left of one, as far as seconds suffice.

    What is pinned and what lies on offcuts stays.  It is never worse than it was.

    Parameters
    ----------
    step : callable, optional
        Told the share of the seconds that has passed.
    better : callable, optional
        Told every better layout.
    """
    work = _Work(layout, rules_of, seconds, random.Random(seed), step)
    for made in work.found():
        if better is not None:
            better(made)
    return work.layout


@dataclass(eq=False)
class _Work:
    layout: Layout
    rules_of: Rulebook
    seconds: float
    rng: random.Random
    step: Callable[[float], None] | None
    start: float = field(default_factory=time.monotonic)
    _told: float = 0.0  # s after the start, when it was said last how far it is

    def _over(self, left: float = 0.0) -> bool:
        """Whether the seconds are over, or fewer than some are left."""
        passed = time.monotonic() - self.start
        if self.step is not None and passed >= self._told + TELL:
            self._told = passed
            self.step(min(1.0, passed / self.seconds))
        return passed >= self.seconds - left

    def found(self) -> Iterator[Layout]:
        """Every better layout: fewer sheets, board by board in turn, then what is left of them."""
        boards = list(dict.fromkeys(sheet.board for sheet in self.layout.sheets))
        last = min(EACH * len(boards), self.seconds / 2)  # s for what is left of sheets
        tried = dict.fromkeys(boards, 0)
        hopeful = boards
        while hopeful := [board for board in hopeful if self._may_be_fewer(board)]:
            for board in hopeful:
                if self._over(last):
                    hopeful = []
                    break
                if self._try(board, tried[board]):
                    tried[board] = 0
                    yield self.layout
                else:
                    tried[board] += 1
        for board in boards:
            yield from self._shifted(board)

    def _may_be_fewer(self, board: str) -> bool:
        """Whether the pieces of the sheets that may be changed could lie on one sheet less."""
        free = self._free(board)
        if len(free) < 2:
            return False
        sheets = [self.layout.sheets[i] for i in free]
        rules = self.rules_of(sheets[0].placed[0].piece)
        lies = [one for sheet in sheets for one in bundles_of(rules, sheet.placed)]
        rooms = [float(rules.room(sheet.stock).buffer(GAP / 2).area) for sheet in sheets]
        return sum(_area(rules, one) for one in lies) <= sum(rooms) - min(rooms)

    def _free(self, board: str) -> list[int]:
        """Sheets of a board whose pieces may be moved, the emptiest first."""
        free = [
            i
            for i, sheet in enumerate(self.layout.sheets)
            if sheet.board == board
            and sheet.stock.whole
            and not any(one.pinned for one in sheet.placed)
        ]
        return sorted(free, key=lambda i: self.layout.sheets[i].used)

    def _try(self, board: str, tried: int) -> bool:
        """Whether pieces of the emptiest sheet have found a place on another."""
        free = self._free(board)
        source, target = free[0], free[1 + tried % (len(free) - 1)]
        made = self._merged(source, target, whole=tried < len(free) - 1)
        return made is not None and self._taken(made)

    def _shifted(self, board: str) -> Iterator[Layout]:
        """The emptiest sheet is packed to one side."""
        free = self._free(board)
        if not free or self._over():
            return
        sheet = self.layout.sheets[free[0]]
        rules = self.rules_of(sheet.placed[0].piece)
        if _left(sheet, self.rules_of) < SHIFT * max(sheet.usable[2:]):
            return
        placed = self._pack(sheet, bundles_of(rules, sheet.placed), narrow=True)
        if placed is not None and self._taken({free[0]: placed}):
            yield self.layout

    def _merged(
        self, source: int, target: int, *, whole: bool
    ) -> dict[int, tuple[PlacedPiece, ...]] | None:
        """More on one sheet and less on another: all of it, some of it, or some exchanged."""
        here, there = self.layout.sheets[source], self.layout.sheets[target]
        rules = self.rules_of(here.placed[0].piece)
        lies, comes = bundles_of(rules, there.placed), bundles_of(rules, here.placed)
        room = FULL * float(rules.room(there.stock).buffer(GAP / 2).area)
        has = sum(_area(rules, one) for one in lies)
        if whole and has + sum(_area(rules, one) for one in comes) <= room:
            placed = self._pack(there, [*lies, *comes])
            if placed is not None:
                return {source: (), target: placed}
        chosen, rest = self._chosen(rules, lies, comes, room, has)
        if not chosen:
            return None
        placed = self._pack(there, chosen)
        if placed is None:
            return None
        stays = [one for one in comes if one in rest]
        if len(stays) == len(rest):  # nothing came back
            return {source: tuple(p for one in stays for p in one.places), target: placed}
        back = self._pack(here, rest)
        return None if back is None else {source: back, target: placed}

    def _chosen(
        self,
        rules: Rules,
        lies: Sequence[Bundle],
        comes: Sequence[Bundle],
        room: float,
        has: float,
    ) -> tuple[list[Bundle], list[Bundle]]:
        """What lies on the fuller sheet after an exchange that fills it more, and what does not."""
        pool = [*lies, *comes]
        if self.rng.random() < 0.5:  # all that lies there stays
            chosen, total, rest = list(lies), has, []
            for one in self.rng.sample(list(comes), len(comes)):
                area = _area(rules, one)
                if total + area <= room and self.rng.random() < 0.7:
                    chosen.append(one)
                    total += area
                else:
                    rest.append(one)
        else:
            chosen, rest, total = [], [], 0.0
            wanted = self.rng.uniform(has, room)
            for one in self.rng.sample(pool, len(pool)):
                area = _area(rules, one)
                if total + area <= wanted:
                    chosen.append(one)
                    total += area
                else:
                    rest.append(one)
        return (chosen, rest) if total > has + 1.0 else ([], rest)

    def _pack(
        self, sheet: SheetPlan, bundles: Sequence[Bundle], *, narrow: bool = False
    ) -> tuple[PlacedPiece, ...] | None:
        rules = self.rules_of(bundles[0].host.piece)
        left = self.seconds - (time.monotonic() - self.start)
        return packed(
            bundles,
            rules,
            sheet.stock,
            seconds=int(max(1, min(EACH, left))),
            seed=self.rng.randrange(1 << 30),
            width=None if narrow else sheet.usable[2],
            step=self._over,
        )

    def _taken(self, plans: dict[int, tuple[PlacedPiece, ...]]) -> bool:
        """Whether other pieces on some sheets are a gain that holds; then it is the layout."""
        sheets = []
        for i, sheet in enumerate(self.layout.sheets):
            placed = plans.get(i, sheet.placed)
            if placed:
                areas = [self.rules_of(one.piece).shapes[one.piece].area for one in placed]
                used = float(sum(areas) / sheet.stock.region.area)
                sheets.append(replace(sheet, placed=placed, used=used))
        made = replace(self.layout, sheets=tuple(sheets), kept=not self.layout.unplaced)
        if worth(made, self.rules_of) >= worth(self.layout, self.rules_of):
            return False
        if _asked(made) != _asked(self.layout) or not sound(made, self.rules_of):
            return False
        self.layout = made
        return True


def _area(rules: Rules, bundle: Bundle) -> float:
    """What a piece takes with half of the gap around it, and all within its cut-outs, mm²."""
    return float(rules.shapes[bundle.host.piece].buffer(GAP / 2, quad_segs=4).area)


def _asked(layout: Layout) -> list[tuple[str, int]]:
    """All that lies somewhere, in order."""
    placed = itertools.chain.from_iterable(sheet.placed for sheet in layout.sheets)
    return sorted((one.piece, one.copy) for one in placed)
