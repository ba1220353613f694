"""Clearance and arranging: worked examples and promises."""

from __future__ import annotations

import math

import pytest

from jadeite.core.contents import Block, Cylinder, FlatPack, Room, arrange, solid_sizes
from jadeite.core.contents.cells import Cell, Price
from jadeite.core.contents.packer import greedy
from jadeite.core.contents.search import search
from jadeite.core.errors import Cancelled, FieldError
from jadeite.core.project import Task, changed
from tests.core.contents.packing import board

PRICE = Price.rising(board)
ROOM = Room(board)


def test_identical_things_are_searched_once() -> None:
    """Calling three equal blocks equal or different gives the same best."""
    cell = Cell((20.0, 30.0, 10.0), (20.0, 30.0, 10.0), 2)
    other = Cell((30.0, 20.0, 10.0), (30.0, 20.0, 10.0), 2)
    turns = [(cell, other)] * 4
    start = greedy(turns, PRICE)
    same = search(turns, [0, 0, 0, 0], PRICE, start, 10_000_000)
    apart = search(turns, [0, 1, 2, 3], PRICE, start, 10_000_000)
    assert same.packing.cost == pytest.approx(apart.packing.cost)


def test_six_things_of_three_kinds_are_exact() -> None:
    """The promise of the first slice, by a packing that is known: a full block.

    Two blocks of 40 x 20 x 20 and four of 20 x 20 x 20 fill 80 x 40 x 20 without
    a gap (snug room counted in), so nothing smaller can hold them.
    """
    snug = 0.6
    things = [
        Block(
            name="long",
            count=2,
            length=40 - snug,
            width=20 - snug,
            height=20,
            goes_in="snug",
            turn="upright",
        ),
        Block(
            name="short",
            count=4,
            length=20 - snug,
            width=20 - snug,
            height=20,
            goes_in="snug",
            turn="upright",
        ),
    ]
    found = arrange(things, ROOM, "lowest")
    assert found is not None
    assert found.exact
    assert found.inside[2] == pytest.approx(21.0)
    assert found.inside[0] * found.inside[1] == pytest.approx(80 * 40)


def test_lid_costs_headroom_and_dropped_things_get_room() -> None:
    """Hand-worked: 50 x 30 x 20 dropped in is 53 x 33 x 21; 200 mm gets 1.5 % a side."""
    one = arrange([Block(name="b", length=50, width=30, height=20, turn="upright")], ROOM)
    assert one is not None
    assert one.inside == pytest.approx((53.0, 33.0, 21.0))
    long = arrange([Block(name="b", length=200, width=30, height=20, turn="upright")], ROOM)
    assert long is not None
    assert long.inside[0] == pytest.approx(206.0)
    finger = arrange(
        [Block(name="b", length=50, width=30, height=20, turn="upright", goes_in="finger")], ROOM
    )
    assert finger is not None
    assert finger.inside[:2] == pytest.approx((71.0, 33.0))  # 18 mm more on one side


def test_turn_rules_are_kept() -> None:
    """Upright stays upright, lying lies."""
    round_thing = Cylinder(name="c", diameter=30, height=80)
    assert (30, 30, 80) in solid_sizes(round_thing)
    upright = round_thing.model_copy(update={"turn": "upright"})
    assert solid_sizes(upright) == ((30, 30, 80),)
    lying = round_thing.model_copy(update={"turn": "lying"})
    assert set(solid_sizes(lying)) == {(80, 30, 30), (30, 80, 30)}
    flat = FlatPack(name="f", width=90, height=60, thickness=4, turn="lying")
    assert {s[2] for s in solid_sizes(flat)} == {4}


def test_limit_says_by_how_much_things_do_not_fit() -> None:
    """A fixed inside that lacks 5 mm in length gives an inside 5 mm too long."""
    thing = Block(name="b", length=50, width=30, height=20, turn="upright")
    found = arrange([thing], Room(board, limit=(48.0, 40.0, 30.0)))
    assert found is not None
    assert found.inside[0] == pytest.approx(53.0)
    fits = arrange([thing], Room(board, limit=(60.0, 40.0, 30.0)))
    assert fits is not None
    assert fits.inside == (60.0, 40.0, 30.0)


def test_arranging_can_be_stopped() -> None:
    """The step may raise; nothing is swallowed."""

    def stop(fraction: float, text: str) -> None:
        raise Cancelled

    things = [
        Block(name=n, length=30 + i, width=20 + i, height=10 + i) for i, n in enumerate("abcde")
    ]
    with pytest.raises(Cancelled):
        arrange(things, ROOM, step=stop)


def test_many_things_get_a_good_arrangement_that_says_it_is_not_exact() -> None:
    """Ten sample boxes: more than six, so not proved the best."""
    things = [Block(name="sample", count=10, length=20, width=20, height=20)]
    found = arrange(things, ROOM)
    assert found is not None
    assert not found.exact
    volume = math.prod(found.inside)
    assert volume < 2.2 * 10 * 23 * 23 * 20


def test_more_things_than_can_be_arranged_are_refused() -> None:
    """By name, with what to do instead."""
    many = tuple(Block(name=f"b{i}", length=9, width=9, height=9, count=40) for i in range(4))
    assert changed(Task(), contents=many[:3]).contents
    with pytest.raises(FieldError, match=r"contents: more than 120 .* loose fill"):
        changed(Task(), contents=many)
