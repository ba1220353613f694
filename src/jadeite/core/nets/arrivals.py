"""How the pieces and folds of a design come together: one graph for all that reads it.

Whatever comes names what it comes onto, what must be done before, and what it
waits for among those that come at the same stage.  The lift, the steps, what
passes the mouth and cutting in two all read it; none of them keeps an order of
its own.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from enum import Enum, IntEnum
from functools import cached_property
from graphlib import TopologicalSorter

__all__ = ["Arrival", "Arrivals", "How", "When", "Where", "made_at", "tied_round"]

Where = tuple[str, str]  # (piece, panel)


class When(IntEnum):
    """What must be done before something comes: the stages of the work, in their order."""

    FLAT = 0  # nothing: the nets lie flat, good side up
    BEHIND = 1  # what carries it lies on its good side
    FOLDED = 2  # it and what carries it are folded
    JOINED = 3  # the pieces are joined
    STANDING = 4  # the walls stand: it is put in
    FILLED = 5  # the contents are in
    LAST = 6  # all is done: it is put over the others


class How(Enum):
    """In which way something comes to what carries it."""

    GLUED = "glued"
    LAPPED = "lapped"  # end to end, both halves of one that was too large
    PUT = "put"  # it lies or stands there by itself
    FOLDED = "folded"  # a fold of a piece, made only then
    PRESSED = "pressed"  # two plies with glue between, though they stand apart at their ends
    PADDED = "padded"  # on foam that sticks on both sides: no glue, nothing to dry
    TIED = "tied"  # a ribbon runs from the slit of one panel to that of the next


@dataclass(frozen=True)
class Arrival:
    """One thing that comes: a whole piece, or where ``panel`` is named that panel of it.

    ``onto`` is the (piece, panel) that carries it, None where it comes over
    all; ``path`` the direction in which it is moved away from its place, in the
    shared space, where it is not brought from above; ``hint`` how it is put
    right; ``after`` names pieces that come before it at the same stage; ``called``
    is its title by then, where what it carries has made it another thing.  ``rides`` are
    panels of it whose folds are made with those of panels of what carries it, as a lining's
    are: pairs of both names.
    """

    piece: str
    when: When
    onto: Where | None = None
    how: How = How.GLUED
    panel: str = ""
    path: tuple[float, float, float] | None = None
    hint: str = ""
    after: tuple[str, ...] = ()
    called: str = ""
    rides: tuple[tuple[str, str], ...] = ()


def made_at(when: When, piece: str, panels: Iterable[str], hint: str = "") -> tuple[Arrival, ...]:
    """Folds of a piece that are made late, by the panels that they carry; how, if it is said."""
    return tuple(Arrival(piece, when, how=How.FOLDED, panel=panel, hint=hint) for panel in panels)


def tied_round(piece: str, panels: Sequence[str]) -> tuple[Arrival, ...]:
    """A ribbon through a ring of panels of a piece, tied once the contents are in."""
    return tuple(
        Arrival(piece, When.FILLED, (piece, after), How.TIED, panel)
        for panel, after in zip(panels, (*panels[1:], *panels[:1]), strict=True)
    )


class Arrivals:
    """All that comes together in a design, in the order in which it was said.

    Raises
    ------
    ValueError
        A piece comes twice, or some wait for one another in a circle.
    """

    def __init__(self, arrivals: Iterable[Arrival] = ()) -> None:
        self._all = tuple(arrivals)
        self._of = {a.piece: a for a in self._all if not a.panel}
        if len(self._of) != sum(not a.panel for a in self._all):
            raise ValueError("a piece comes to others twice")

    def __iter__(self) -> Iterator[Arrival]:
        return iter(self._all)

    def adding(self, *more: Arrival) -> Arrivals:
        """The same with others that come as well."""
        return Arrivals((*self._all, *more))

    def of(self, piece: str) -> Arrival | None:
        """How a piece comes; None for one on which others come, and that lies there first."""
        return self._of.get(piece)

    def comes(self, piece: str, *when: When) -> bool:
        """Whether a piece comes at one of these stages."""
        return piece in self._of and self._of[piece].when in when

    def at(self, when: When) -> tuple[Arrival, ...]:
        """The pieces that come at a stage, those that wait for none first."""
        mine = [a for a in self._of.values() if a.when is when]
        return tuple(sorted(mine, key=lambda a: self.turn(a.piece)))

    def folds(self, when: When) -> frozenset[Where]:
        """The panels whose folds are made at a stage."""
        return frozenset(
            (a.piece, a.panel) for a in self._all if a.when is when and a.how is How.FOLDED
        )

    def fold_hint(self, where: Where) -> str:
        """How the fold of a panel that is made late is put right; nothing where none says so."""
        mine = (a.hint for a in self._all if a.how is How.FOLDED and (a.piece, a.panel) == where)
        return next(mine, "")

    def pairs(self, how: How) -> tuple[tuple[Where, Where], ...]:
        """Pairs of panels that come together in a way: pressed, or tied."""
        return tuple(((a.piece, a.panel), a.onto) for a in self._all if a.how is how and a.onto)

    def turn(self, piece: str) -> int:
        """How many come one after another before a piece at its stage."""
        return self._turns[piece]

    @cached_property
    def _turns(self) -> Mapping[str, int]:
        turns: dict[str, int] = {}
        waits = {a.piece: [b for b in a.after if self.comes(b, a.when)] for a in self._of.values()}
        for piece in TopologicalSorter(waits).static_order():  # a circle is a ValueError
            turns[piece] = max((turns[b] + 1 for b in waits[piece]), default=0)
        return turns

    @cached_property
    def carried_first(self) -> Mapping[str, int]:
        """How many carriers each piece that comes stands on, one over the other."""
        on = {a.piece: [a.onto[0]] if a.onto else [] for a in self._of.values()}
        depth: dict[str, int] = {}
        for piece in TopologicalSorter(on).static_order():
            depth[piece] = max((depth[b] + 1 for b in on.get(piece, ())), default=0)
        return depth

    def with_carried(self, pieces: Iterable[str]) -> frozenset[str]:
        """Pieces with all that comes onto them before the contents are in."""
        out = set(pieces)
        carried = [a for a in self._of.values() if a.onto and a.when < When.STANDING]
        while more := {a.piece for a in carried if a.onto and a.onto[0] in out} - out:
            out |= more
        return frozenset(out)

    @cached_property
    def ridden(self) -> Mapping[Where, Where]:
        """Panels whose folds are made with those of others, and these."""
        return {
            (a.piece, own): (a.onto[0], other)
            for a in self._of.values()
            if a.onto is not None
            for own, other in a.rides
        }

    @cached_property
    def lids(self) -> frozenset[str]:
        """What is put over the others at the end, with all that it carries."""
        return self.with_carried(a.piece for a in self._of.values() if a.when is When.LAST)

    def lying_on(self, where: Where) -> tuple[str, ...]:
        """Pieces that are glued on a panel while it is flat."""
        flat = (When.FLAT, When.BEHIND)
        return tuple(a.piece for a in self._of.values() if a.onto == where and a.when in flat)

    def moved(self, homes: Callable[[Where], Iterable[Where]]) -> Arrivals:
        """The same where panels have gone to other pieces: to one, or parted on several.

        A piece is carried by the first of the homes of its panel.
        """

        def home(where: Where | None) -> Where | None:
            return None if where is None else next(iter(homes(where)))

        out: list[Arrival] = []
        for a in self._all:
            if a.how is How.FOLDED:
                out += [replace(a, piece=p, panel=n) for p, n in homes((a.piece, a.panel))]
            elif a.panel:
                piece, panel = next(iter(homes((a.piece, a.panel))))
                out.append(replace(a, piece=piece, panel=panel, onto=home(a.onto)))
            else:
                out.append(replace(a, onto=home(a.onto)))
        return Arrivals(out)

    def waiting_for(self, part: str, *whole: str) -> Arrivals:
        """The same, where what comes with or onto pieces of ``whole`` waits for a part of them."""
        names = set(whole)
        return Arrivals(
            replace(a, after=(*a.after, part))
            if not a.panel and (a.piece in names or (a.onto is not None and a.onto[0] in names))
            else a
            for a in self._all
        )
