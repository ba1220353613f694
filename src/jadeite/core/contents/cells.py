"""Cells: a thing in one of its turns, with all the room that it needs around it.

Glossary
--------
mouth
    The side through which things go in: along z for a box (its lid), along y
    for a sleeve.  No room is needed towards the wall opposite to it.
rules
    What a person would say of one thing: others may stand on it, it may stand
    on others, it must be reachable, it belongs at the front.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from typing import Any

from jadeite.core.boards.fits import USUAL, Fits
from jadeite.core.contents.clearance import finger_room, room_around, tag_axes, tag_room
from jadeite.core.contents.things import AnyThing, FlatPack, MadeThing, Turned

__all__ = ["CLOSE", "FREE", "Cell", "Packing", "Price", "Rules", "cells_of", "forbidden", "rests"]

Triple = tuple[float, float, float]
RESTS = 0.5  # share of a base that must be supported; from memory
CLOSE = 1e-6  # mm; rounding
UP = 2  # the axis against which things weigh


@dataclass(frozen=True)
class Cell:
    """One turn of a thing: its cell, the thing's own extent, a cylinder's axis; mm.

    ``tall`` is the axis of the thing's own height, ``inset`` how far the thing lies from
    the low corner of its cell: room for a finger or a tag is at the other end.
    """

    size: Triple
    solid: Triple
    axis: int
    tall: int = UP
    inset: Triple = (0.0, 0.0, 0.0)


@dataclass(frozen=True)
class Rules:
    """Whether others may stand on a thing, it on others, and how it is reached."""

    bears: bool = True
    stacks: bool = True
    reach: str = "anywhere"


FREE = Rules()


@dataclass(frozen=True)
class Packing:
    """Cells at their lower corners, the extent of all, and its cost."""

    cells: tuple[Cell, ...]
    lows: tuple[Triple, ...]
    size: Triple
    cost: float


@dataclass(frozen=True)
class Price:
    """What an extent costs, and a bound that no larger extent undercuts.

    Both take three numbers or three arrays.  ``bound`` must not fall when a
    length grows; ``cost`` may, where ``bound`` says how low it can go.
    """

    cost: Callable[[Any], Any]
    bound: Callable[[Any], Any] = field(default=lambda size: 0.0)

    @staticmethod
    def rising(cost: Callable[[Any], Any]) -> Price:
        """A cost that rises with every length is its own bound."""
        return Price(cost, cost)


def cells_of(thing: AnyThing, fits: Fits = USUAL, mouth: int = UP) -> tuple[Cell, ...]:
    """Every turn of a thing as a cell with its clearance.

    Parameters
    ----------
    fits : Fits
        The room that things of each kind have.
    mouth : int
        Axis through which things go in.
    """
    out: dict[tuple[Triple, Triple], Cell] = {}
    finger, tag = finger_room(thing, fits), tag_room(thing, fits)
    padding = thing.padding if thing.goes_in == "padded" else 0.0
    turns = thing.turns()
    for turned in [t for t in turns if _slides(thing, t, mouth)] or turns:
        size = [_extent(thing, turned, axis, fits, mouth, padding) for axis in range(3)]
        beside = [(size[a] - turned.size[a]) / 2 for a in range(3)]
        if mouth == UP:
            beside[UP] = padding
        if tag:
            size[turned.tall] += tag
            wide, _ = tag_axes(turned.size, turned.tall)
            assert isinstance(thing, FlatPack)
            if thing.tag is not None and thing.tag.width > size[wide]:  # wider than its pack
                size[wide] = thing.tag.width
                beside[wide] = (size[wide] - turned.size[wide]) / 2
        for axis in [a for a in (0, 1) if a != mouth] if finger else [0]:
            extent = list(size)
            extent[axis] += finger
            whole = (extent[0], extent[1], extent[2])
            inset = (beside[0], beside[1], beside[2])
            cell = Cell(whole, turned.size, turned.axis, turned.tall, inset)
            out.setdefault((whole, turned.size), cell)
    return tuple(out.values())


def _slides(thing: AnyThing, turned: Turned, mouth: int) -> bool:
    """Whether a thing goes in as hands would do it: what is flat slides in flat, its top last.

    Only a mouth at the side asks for that; a tag is then at the mouth.
    """
    if mouth == UP or not thing.flat:
        return True
    either = isinstance(thing, MadeThing)  # a card goes in by either edge
    return turned.size[UP] == min(turned.size) and (either or turned.tall == mouth)


def _extent(
    thing: AnyThing, turned: Turned, axis: int, fits: Fits, mouth: int, padding: float
) -> float:
    """A cell's extent along an axis; nothing but padding is needed towards the mouth."""
    if axis == mouth:
        return turned.size[axis] + 2 * padding
    return turned.size[axis] + 2 * room_around(thing, turned, axis, fits).value


def forbidden(first: Rules, second: Rules, axis: int, mouth: int = UP) -> bool:
    """Whether a thing with rules ``first`` may not lie before one with ``second`` along an axis.

    Whether something stands on a thing that bears nothing is :func:`rests`.
    """
    if axis == UP and not second.stacks:
        return True
    if axis == mouth and first.reach != "anywhere":
        return True
    return axis == 1 and mouth != 1 and second.reach == "front"


def rests(
    sizes: Sequence[Triple], lows: Sequence[Triple], rules: Sequence[Rules] | None = None
) -> bool:
    """Whether everything above the floor has half of its base on what bears it."""
    every = rules or [FREE] * len(sizes)
    return all(
        is_held(size, low, sizes, lows, every) for size, low in zip(sizes, lows, strict=True)
    )


def is_held(
    size: Triple,
    low: Triple,
    sizes: Sequence[Triple],
    lows: Sequence[Triple],
    rules: Sequence[Rules],
) -> bool:
    """Whether a cell stands on the floor, or with half of its base on cells that bear it."""
    (w, d, _), (x, y, z) = size, low
    if z < CLOSE:
        return True
    held = 0.0
    for (ow, od, oh), (ox, oy, oz), rule in zip(sizes, lows, rules, strict=True):
        if abs(oz + oh - z) < CLOSE:
            over_x = min(x + w, ox + ow) - max(x, ox)
            over_y = min(y + d, oy + od) - max(y, oy)
            share = max(0.0, over_x) * max(0.0, over_y)
            if share > CLOSE and not rule.bears:
                return False
            held += share
    return held >= RESTS * w * d
