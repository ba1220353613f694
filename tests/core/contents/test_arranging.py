"""Arranging: rules kept, the least by brute force, bounds that hold, an independent packer."""

from __future__ import annotations

import math

import numpy as np
import py3dbp
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from jadeite.core.boards import CATALOGUE, floor_sag, least_grammage
from jadeite.core.boards.fits import Fits
from jadeite.core.contents import (
    OBJECTIVES,
    Ball,
    Block,
    Cards,
    Cylinder,
    Disc,
    FlatPack,
    Light,
    Loose,
    Room,
    Standing,
    Tag,
    arrange,
    arrange_all,
    differing,
    room_around,
    tag_room,
)
from jadeite.core.contents.arrange import rules_of
from jadeite.core.contents.bounds import BoundTable, lower_bound
from jadeite.core.contents.cells import Cell, Price, Rules
from jadeite.core.contents.packer import greedy, improve
from jadeite.core.contents.search import search
from tests.core.contents.packing import board, brute_force, faults

PRICE = Price.rising(board)
LENGTH = st.floats(5.0, 120.0)
COMMON = {
    "name": st.just("thing"),
    "count": st.integers(1, 2),
    "bears": st.booleans(),
    "stacks": st.booleans(),
    "reach": st.sampled_from(["anywhere", "anywhere", "reachable", "front"]),
    "clearance": st.one_of(st.none(), st.floats(0, 6)),
}
WAYS = st.sampled_from(["dropped", "pocket", "snug", "finger", "padded", "soft"])
TURNS = st.sampled_from(["any", "upright", "lying"])
THINGS = st.one_of(
    st.builds(
        Block, length=LENGTH, width=LENGTH, height=LENGTH, goes_in=WAYS, turn=TURNS, **COMMON
    ),
    st.builds(Cylinder, diameter=LENGTH, height=LENGTH, goes_in=WAYS, turn=TURNS, **COMMON),
    st.builds(Disc, diameter=LENGTH, thickness=st.floats(0.5, 9), turn=TURNS, **COMMON),
    st.builds(Ball, diameter=LENGTH, goes_in=WAYS, **COMMON),
    st.builds(
        FlatPack,
        width=LENGTH,
        height=LENGTH,
        thickness=st.floats(0.5, 6.0),
        tag=st.one_of(st.none(), st.builds(Tag, hangs=st.sampled_from(["inside", "outside"]))),
        goes_in=WAYS,
        turn=TURNS,
        **COMMON,
    ),
    st.builds(
        Cards,
        width=LENGTH,
        height=LENGTH,
        thickness=st.just(0.3),
        sheets=st.integers(1, 60),
        **COMMON,
    ),
    st.builds(Standing, width=LENGTH, height=LENGTH, thickness=st.floats(0.3, 3), **COMMON),
    st.builds(Light, **COMMON),
    st.builds(Loose, grains=st.integers(1, 300), diameter=st.floats(3, 20), name=st.just("fill")),
)


@settings(max_examples=80)
@given(
    st.lists(THINGS, min_size=1, max_size=4),
    st.sampled_from(list(OBJECTIVES)),
    st.sampled_from([1, 2]),
    st.one_of(st.none(), st.floats(0, 8)),
)
def test_property_arrangements_hold_what_they_promise(things, objective, mouth, usual) -> None:  # type: ignore[no-untyped-def]
    """Inside the hollow, no overlap, room on each side, headroom, at rest, every rule kept."""
    found = arrange(
        things,
        Room(board, smallest=(15.0, 15.0, 15.0), mouth=mouth, fits=Fits(own=usual)),
        objective,
        quick=True,
    )
    assert found is not None
    assert len(found.places) == sum(thing.count for thing in things)
    for place in found.places:
        thing = things[place.thing]
        turned = next(t for t in thing.turns() if t.size == place.solid and t.axis == place.axis)
        for axis in range(3):
            assert place.low[axis] >= -1e-6
            head = 1.0 if axis == mouth else 0.0
            assert place.low[axis] + place.cell[axis] <= found.inside[axis] - head + 1e-6
            free = place.cell[axis] - place.solid[axis]
            if axis == turned.tall:
                free -= tag_room(thing)
            if axis != mouth:
                assert free >= 2 * room_around(thing, turned, axis, Fits(own=usual)).value - 1e-6
            elif thing.goes_in == "padded":
                assert free >= 2 * thing.padding - 1e-6
    rules = [rules_of(things[p.thing]) for p in found.places]
    if objective == "one-layer":
        rules = [Rules(r.bears, False, r.reach) for r in rules]
    sizes, lows = [p.cell for p in found.places], [p.low for p in found.places]
    front = min((p.low[1] for p in found.places), default=0.0)
    if mouth != 1 and not any(r.reach == "front" for r in rules):
        front = 0.0
    assert faults(sizes, [(x, y - front, z) for x, y, z in lows], rules, mouth) == []
    assert min(found.inside) >= 15.0
    assert found.bound <= found.cost * (1 + 1e-9)


SIDES = st.sampled_from([10.0, 14.0, 23.0, 31.0])
RULES = st.builds(Rules, st.booleans(), st.booleans(), st.sampled_from(["anywhere", "reachable"]))


@settings(max_examples=20)
@given(st.lists(st.tuples(SIDES, SIDES, SIDES, RULES), min_size=2, max_size=3), st.booleans())
def test_property_search_is_as_good_as_brute_force(drawn, turned) -> None:  # type: ignore[no-untyped-def]
    """The pair-by-pair search against every normal pattern, with turns and rules."""
    turns, rules = [], []
    for *size, rule in drawn:
        x, y, z = size
        shapes = {(x, y, z), (y, x, z)} if turned else {(x, y, z)}
        turns.append(tuple(Cell(s, s, 2) for s in sorted(shapes)))
        rules.append(rule)
    groups = list(range(len(turns)))
    start = greedy(turns, PRICE, rules=rules)
    assert faults([c.size for c in start.cells], start.lows, rules) == []
    found = search(turns, groups, PRICE, start, 10_000_000, rules=rules)
    assert found.complete
    least = brute_force(turns, board, rules)
    assert found.packing.cost == pytest.approx(least)
    assert lower_bound(turns, PRICE, rules=rules) <= least * (1 + 1e-9)
    assert BoundTable(turns, PRICE, rules=rules).least <= least * (1 + 1e-9)


@settings(max_examples=25)
@given(st.lists(st.tuples(LENGTH, LENGTH, LENGTH), min_size=2, max_size=6), st.integers(0, 99))
def test_property_the_bound_holds_for_every_packing_that_is_larger(sizes, seed) -> None:  # type: ignore[no-untyped-def]
    """Whatever chance packs costs no less than the table says for any part of its extent."""
    turns = [(Cell(s, s, 2), Cell((s[1], s[0], s[2]), s, 2)) for s in sizes]
    table = BoundTable(turns, PRICE)
    chance = np.random.default_rng(seed)
    packed = improve(turns, {"a": PRICE}, {"a": greedy(turns, PRICE)}, 10, chance)["a"]
    for share in (0.0, 0.4, 0.9, 1.0):
        assert table.at(*(v * share for v in packed.size)) <= packed.cost * (1 + 1e-9)


def unlike_things(count: int, seed: int) -> list[Block]:
    """Blocks of different sizes that may be turned any way, with no room around them."""
    chance = np.random.default_rng(seed)
    return [
        Block(
            name=f"sample {i}",
            length=float(chance.uniform(15, 70)),
            width=float(chance.uniform(15, 60)),
            height=float(chance.uniform(8, 40)),
            clearance=0.0,
        )
        for i in range(count)
    ]


def packed_by_library(things: list[Block], inside: tuple[float, float, float]) -> bool:
    """Whether py3dbp (an independent packing library) puts all things into a hollow."""
    packer = py3dbp.Packer()
    packer.add_bin(py3dbp.Bin("hollow", *inside, 1e9))
    for thing in things:
        packer.add_item(py3dbp.Item(thing.name, thing.length, thing.width, thing.height, 1))
    packer.pack(bigger_first=True, number_of_decimals=3)
    return not packer.bins[0].unfitted_items


@pytest.mark.parametrize(("count", "seed"), [(8, 1), (12, 2), (16, 3)])
def test_larger_sets_against_an_independent_packing_library(count: int, seed: int) -> None:
    """The least hollow of our proportions that py3dbp fills costs more board than ours."""
    things = unlike_things(count, seed)
    found = arrange_all(things, Room(board), ("least-board",), tries=2000)["least-board"]
    assert found.bound <= found.cost
    x, y, z = found.inside
    ours, theirs = found.cost, math.inf
    for scale in np.arange(0.90, 1.6, 0.02):
        hollow = (x * scale, y * scale, (z - 1.0) * scale)
        if packed_by_library(things, hollow):
            theirs = board((hollow[0], hollow[1], hollow[2] + 1.0))
            break
    assert ours <= theirs * 1.001


def test_what_chance_improves_is_never_worse_and_repeats() -> None:
    """The same seed, the same packing; several prices at once."""
    things = unlike_things(9, 5)
    first = arrange_all(things, Room(board), ("least-board", "lowest"), tries=900)
    again = arrange_all(things, Room(board), ("least-board", "lowest"), tries=900)
    assert first == again
    for name, found in first.items():
        quick = arrange(things, Room(board), name, quick=True)
        assert quick is not None
        assert found.cost <= quick.cost
        assert 0 <= found.gap < 1
    assert first["lowest"].inside[2] <= first["least-board"].inside[2]


def test_objectives_differ_where_they_should() -> None:
    """One layer stacks nothing, the squarest has the shortest long side."""
    things = unlike_things(7, 8)
    found = arrange_all(things, Room(board), tries=1500)
    assert all(p.low[2] < 1e-6 for p in found["one-layer"].places)
    longest = {name: max(a.inside[:2]) for name, a in found.items()}
    assert longest["squarest"] == min(longest.values())
    base = {name: a.inside[0] * a.inside[1] for name, a in found.items()}
    assert base["smallest-footprint"] == min(base.values())
    shown = differing(found, "lowest")
    assert shown[0] == "lowest"
    assert 2 <= len(shown) <= 3


def test_the_lightest_board_decides_the_base() -> None:
    """The base is chosen for the board that its floor asks for, found board by board."""
    grammage = least_grammage(CATALOGUE, 300.0)
    for size in ((60.0, 60.0, 30.0), (120.0, 80.0, 30.0), (300.0, 40.0, 30.0)):
        held = [b for b in CATALOGUE if b.folds and floor_sag(b, *size[:2], 300.0).holds]
        least = min((b.grammage for b in held), default=3500.0)  # ten times the heaviest
        assert grammage(size) == pytest.approx(least)
    things = [Block(name="sample", count=4, length=50, width=50, height=30, turn="upright")]
    room = Room(board, grammage)
    found = arrange_all(things, room, ("least-board", "lightest-board"), tries=400)
    light, least = found["lightest-board"], found["least-board"]
    assert grammage(light.inside) <= grammage(least.inside)
    assert light.exact


def test_a_tag_inside_adds_its_own_height_and_one_outside_nothing() -> None:
    """The item that people forget: string and tag above the sachet."""
    plain = FlatPack(name="s", width=62, height=70, thickness=4, turn="upright")
    outside = plain.model_copy(update={"tag": Tag(height=30)})
    inside = plain.model_copy(update={"tag": Tag(height=30, hangs="inside")})
    heights = [arrange([t], Room(board)).inside[2] for t in (plain, outside, inside)]  # type: ignore[union-attr]
    assert heights == pytest.approx([71.0, 71.0, 106.0])


def test_a_pocket_takes_three_millimetres_and_ends_below_its_mouth() -> None:
    """Hand-worked: 62 x 70 x 4 slid in lying is 65 wide, 76 deep, 5 thick."""
    pack = FlatPack(
        name="s", width=62, height=70, thickness=4, turn="lying", goes_in="pocket", clearance=None
    )
    found = arrange([pack], Room(lambda s: s[0] * 1e6 + board(s), mouth=1))
    assert found is not None
    assert found.inside == pytest.approx((65.0, 76.0, 5.0))


def test_a_front_thing_stands_at_the_front_wall() -> None:
    """Also where the hollow is wider than everything in it."""
    things = [
        Block(name="case", length=60, width=40, height=20, turn="upright"),
        Block(name="key", length=20, width=10, height=10, reach="front", turn="upright"),
    ]
    found = arrange(things, Room(board, limit=(120.0, 90.0, 60.0)))
    assert found is not None
    key = next(p for p in found.places if p.thing == 1)
    assert key.low[1] == pytest.approx(0.0)


@pytest.mark.parametrize("way", ["dropped", "snug"])
def test_your_own_clearance_comes_first(way: str) -> None:
    """A thing's own before the project's, the project's before ours."""
    block = Block(name="b", length=50, width=30, height=20, turn="upright", goes_in=way)
    assert arrange([block], Room(board, fits=Fits(own=4.0))).inside[:2] == pytest.approx((58, 38))  # type: ignore[union-attr]
    own = block.model_copy(update={"clearance": 2.0})
    assert arrange([own], Room(board, fits=Fits(own=4.0))).inside[:2] == pytest.approx((54, 34))  # type: ignore[union-attr]
