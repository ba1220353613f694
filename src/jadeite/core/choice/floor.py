"""The floor of a design: alone, doubled, or carried by dividers."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import pairwise

from jadeite.core.boards import Board, Load, Sag, floor_sag
from jadeite.core.boards.plates import GRAVITY, beam_sag, patch_flexibility
from jadeite.core.contents import AnyThing, Arrangement
from jadeite.core.contents.grid import Grid
from jadeite.core.nets import Design
from jadeite.core.nets.arrivals import When
from jadeite.core.nets.model import Kind
from jadeite.core.nets.roles import Role
from jadeite.core.placing import loads_on_floor
from jadeite.core.reckoning import Mark, Reckoning, constant, given, reckon

__all__ = ["Floor", "floor_of", "plies_on"]

NOTCHED = 0.5  # design rule; a strip bends as if its half-lap slots ran along all of it
Size = tuple[float, float, float]


def plies_on(design: Design) -> tuple[tuple[Board, ...], tuple[Board, ...]]:
    """Boards glued flat on the floor of the body, and boards that only lie on it."""
    body = design.body
    floors = {(body.name, p.name) for p in body.panels if p.role is Role.FLOOR}
    glued: list[Board] = []
    laid: list[Board] = []
    for name in (a.piece for a in design.arrivals.at(When.STANDING)):
        piece = design.piece(name)
        if len(piece.panels) != 1 or piece.panels[0].role is not Role.PLY:
            continue
        bonded = any(
            j.kind is Kind.GLUE and j.tab[0] == name and j.target in floors for j in design.joints
        )
        (glued if bonded else laid).append(piece.board)
    return tuple(glued), tuple(laid)


@dataclass(frozen=True, slots=True)
class _Span:
    """A rectangle of floor between supports: mm, what stands on it, and its flexibility."""

    length: float
    width: float
    loads: tuple[Load, ...]
    flexibility: float | None

    @property
    def mass(self) -> float:
        return sum(load.mass for load in self.loads)


@dataclass(frozen=True)
class Floor:
    """What a floor has to bear; ready to be asked for many boards.

    ``length`` and ``width`` are the whole floor's in mm, ``mass`` what stands
    on it in g.
    """

    length: float
    width: float
    mass: float
    spans: tuple[_Span, ...]
    grid: Grid | None = None

    def sag(
        self,
        board: Board,
        plies: Sequence[Board] = (),
        laid: Sequence[Board] = (),
        divider: Board | None = None,
    ) -> Sag:
        """Sag of the floor in a board, and its limit.

        Parameters
        ----------
        plies, laid : sequence of Board
            Further plies, glued all over, or only laid on it.
        divider : Board, optional
            Of the strips that carry it, where there are any.
        """
        sags = [
            floor_sag(
                board,
                span.length,
                span.width,
                span.mass,
                plies=plies,
                laid=laid,
                loads=span.loads,
                flexibility=span.flexibility,
            )
            for span in self.spans
        ]
        worst = max(sags, key=lambda s: s.sag.value)
        if self.grid is None or divider is None:
            return worst
        strip = _strip_sag(self, divider)
        whole = reckon(
            "Floor sags",
            worst.sag.value + strip.value,
            "the floor between its dividers, and the divider that bends most; they carry it when "
            "they are glued along their feet and ends",
            replace(worst.sag, name="floor of the cell that sags most"),
            strip,
        )
        alone = floor_sag(board, self.length, self.width, 0.0, plies=plies)
        return Sag(whole, alone.limit)


def _strip_sag(floor: Floor, board: Board) -> Reckoning:
    """How far the divider bends that carries most, in mm."""
    grid = floor.grid
    assert grid is not None
    modulus = (board.stiff_along * board.stiff_across) ** 0.5 * 1000
    stiffness = modulus * board.thickness * (grid.height * NOTCHED) ** 3 / 12
    cases = []
    for lengths, span in ((grid.columns, grid.size[1]), (grid.rows, grid.size[0])):
        whole = sum(lengths)
        for a, b in pairwise(lengths):
            share = floor.mass * (a + b) / 2 / whole  # half of what stands on either side
            cases.append((beam_sag(share / 1000 * GRAVITY, span, stiffness), share, span))
    value, share, span = max(cases, default=(0.0, 0.0, 0.0))
    return reckon(
        "divider that bends most",
        value,
        "beam on two supports under an even load, half as high as it is for its slots",
        given("load", share, "g"),
        given("span", span),
        given("height", grid.height),
        constant("beam coefficient", 5 / 384, "", Mark.PUBLISHED, "any beam handbook, 5/384"),
    )


def floor_of(
    things: Sequence[AnyThing], arrangement: Arrangement | None, inside: Size, mouth: int
) -> Floor:
    """What the floor of a hollow bears, from the things in their places; mm."""
    length, width = inside[:2]
    if arrangement is None:
        mass = sum(t.each_mass * t.count for t in things)
        return Floor(
            length, width, mass, (_span(length, width, (Load(0, 0, length, width, mass),)),)
        )
    loads = loads_on_floor(things, arrangement, inside, mouth)
    mass = sum(load.mass for load in loads)
    if arrangement.grid is None:
        return Floor(length, width, mass, (_span(length, width, loads),))
    grid = arrangement.grid.widened(length, width)
    spans = []
    for x0, column in zip(grid.starts()[0], grid.columns, strict=True):
        for y0, row in zip(grid.starts()[1], grid.rows, strict=True):
            x, y = x0 + column / 2 - length / 2, y0 + row / 2 - width / 2
            here = tuple(
                replace(load, x=load.x - x, y=load.y - y)
                for load in loads
                if abs(load.x - x) <= column / 2 and abs(load.y - y) <= row / 2
            )
            spans.append(_span(column, row, here))
    return Floor(length, width, mass, tuple(spans), grid)


def _span(length: float, width: float, loads: tuple[Load, ...]) -> _Span:
    heavy = tuple(load for load in loads if load.mass > 0)
    flexibility = patch_flexibility(length, width, heavy)[0] if heavy else None
    return _Span(length, width, heavy, flexibility)
