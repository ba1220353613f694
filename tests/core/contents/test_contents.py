"""Clearance and arranging, against brute force."""

from __future__ import annotations

import itertools
import math

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from jadeite.core.contents import (
    OBJECTIVES,
    Block,
    Cylinder,
    FlatPack,
    arrange,
    clearance,
    first_arrangement,
    solid_sizes,
)
from jadeite.core.contents.search import Cell, greedy, rests, search
from jadeite.core.errors import Cancelled


def board(size: tuple[float, float, float]) -> float:
    """Board of a simple box with a lid; rises with every length."""
    x, y, z = size
    return 2 * x * y + 2 * (x + y) * (z + 18)


LENGTH = st.floats(5.0, 120.0)
THINGS = st.one_of(
    st.builds(
        Block,
        name=st.just("b"),
        length=LENGTH,
        width=LENGTH,
        height=LENGTH,
        count=st.integers(1, 2),
        goes_in=st.sampled_from(["dropped", "snug", "finger"]),
    ),
    st.builds(
        Cylinder,
        name=st.just("c"),
        diameter=LENGTH,
        height=LENGTH,
        count=st.integers(1, 2),
        turn=st.sampled_from(["any", "upright", "lying"]),
    ),
    st.builds(
        FlatPack,
        name=st.just("f"),
        width=LENGTH,
        height=LENGTH,
        thickness=st.floats(0.5, 5.0),
        goes_in=st.just("soft"),
    ),
)


def overlap(a, b) -> bool:  # type: ignore[no-untyped-def]
    """Whether two cells share space."""
    return all(
        a.low[i] + a.cell[i] > b.low[i] + 1e-6 and b.low[i] + b.cell[i] > a.low[i] + 1e-6
        for i in range(3)
    )


@settings(max_examples=40)
@given(st.lists(THINGS, min_size=1, max_size=3), st.sampled_from(list(OBJECTIVES)))
def test_property_arrangements_hold_what_they_promise(things, objective) -> None:  # type: ignore[no-untyped-def]
    """Inside the hollow, no overlap, clearance on each side, headroom, at rest."""
    found = first_arrangement(things, board, objective, smallest=15.0)
    assert found is not None
    assert len(found.places) == sum(thing.count for thing in things)
    for place in found.places:
        thing = things[place.thing]
        assert place.solid in solid_sizes(thing)
        for axis in range(3):
            assert place.low[axis] >= -1e-6
            assert place.low[axis] + place.cell[axis] <= found.inside[axis] + 1e-6
        assert place.low[2] + place.solid[2] <= found.inside[2] - 1.0 + 1e-6
        for axis in (0, 1):
            room = clearance(thing, place.solid[axis]).value
            assert place.cell[axis] - place.solid[axis] >= 2 * room - 1e-6
    for a, b in itertools.combinations(found.places, 2):
        assert not overlap(a, b)
    assert rests([p.cell for p in found.places], [p.low for p in found.places])
    assert found.inside[0] >= found.inside[1]
    assert min(found.inside) >= 15.0


def brute_force(turns: list[tuple[Cell, ...]], cost) -> float:  # type: ignore[no-untyped-def]
    """The least cost over all normal patterns: places at sums of other cells' lengths."""
    best = math.inf
    for chosen in itertools.product(*turns):
        sizes = [c.size for c in chosen]
        grids = []
        for i in range(len(chosen)):
            axes = []
            for a in range(3):
                others = [s[a] for j, s in enumerate(sizes) if j != i]
                sums = {0.0}
                for r in range(1, len(others) + 1):
                    sums |= {round(sum(c), 9) for c in itertools.combinations(others, r)}
                axes.append(sorted(sums))
            grids.append(list(itertools.product(*axes)))
        for lows in itertools.product(*grids):
            extent = tuple(
                max(p[a] + s[a] for p, s in zip(lows, sizes, strict=True)) for a in range(3)
            )
            if cost(extent) >= best - 1e-9:
                continue
            clash = any(
                all(
                    lows[i][a] + sizes[i][a] > lows[j][a] + 1e-6
                    and lows[j][a] + sizes[j][a] > lows[i][a] + 1e-6
                    for a in range(3)
                )
                for i, j in itertools.combinations(range(len(sizes)), 2)
            )
            if not clash and rests(sizes, lows):
                best = cost(extent)
    return best


SIDES = st.sampled_from([10.0, 14.0, 23.0, 31.0])


@settings(max_examples=25)
@given(st.lists(st.tuples(SIDES, SIDES, SIDES), min_size=2, max_size=3), st.booleans())
def test_property_search_is_as_good_as_brute_force(sizes, turned) -> None:  # type: ignore[no-untyped-def]
    """The pair-by-pair search against every normal pattern, with and without turns."""
    turns = []
    for size in sizes:
        shapes = {size, (size[1], size[0], size[2])} if turned else {size}
        turns.append(tuple(Cell(s, s, 2) for s in sorted(shapes)))
    groups = list(range(len(turns)))
    found = search(turns, groups, board, greedy(turns, board), 10_000_000)
    assert found.complete
    assert found.packing.cost == pytest.approx(brute_force(turns, board))


def test_identical_things_are_searched_once() -> None:
    """Calling three equal blocks equal or different gives the same best."""
    cell = Cell((20.0, 30.0, 10.0), (20.0, 30.0, 10.0), 2)
    other = Cell((30.0, 20.0, 10.0), (30.0, 20.0, 10.0), 2)
    turns = [(cell, other)] * 4
    start = greedy(turns, board)
    same = search(turns, [0, 0, 0, 0], board, start, 10_000_000)
    apart = search(turns, [0, 1, 2, 3], board, start, 10_000_000)
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
    found = arrange(things, board, "lowest")
    assert found is not None
    assert found.exact
    assert found.inside[2] == pytest.approx(21.0)
    assert found.inside[0] * found.inside[1] == pytest.approx(80 * 40)


def test_lid_costs_headroom_and_dropped_things_get_room() -> None:
    """Hand-worked: 50 x 30 x 20 dropped in is 53 x 33 x 21; 200 mm gets 1.5 % a side."""
    one = arrange([Block(name="b", length=50, width=30, height=20, turn="upright")], board)
    assert one is not None
    assert one.inside == pytest.approx((53.0, 33.0, 21.0))
    long = arrange([Block(name="b", length=200, width=30, height=20, turn="upright")], board)
    assert long is not None
    assert long.inside[0] == pytest.approx(206.0)
    finger = arrange(
        [Block(name="b", length=50, width=30, height=20, turn="upright", goes_in="finger")], board
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
    found = arrange([thing], board, limit=(48.0, 40.0, 30.0))
    assert found is not None
    assert found.inside[0] == pytest.approx(53.0)
    fits = arrange([thing], board, limit=(60.0, 40.0, 30.0))
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
        arrange(things, board, step=stop)


def test_many_things_get_a_good_arrangement_that_says_it_is_not_exact() -> None:
    """Ten sample boxes: more than six, so not proved the best."""
    things = [Block(name="sample", count=10, length=20, width=20, height=20)]
    found = arrange(things, board)
    assert found is not None
    assert not found.exact
    volume = math.prod(found.inside)
    assert volume < 2.2 * 10 * 23 * 23 * 20
