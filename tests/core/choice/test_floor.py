"""What a floor bears, against beams and plates of the handbooks and plain statics."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jadeite.core.boards import board_by_key, floor_sag
from jadeite.core.choice import floor_of, plies_on
from jadeite.core.contents import Block, Cylinder, Loose, Room, arrange
from jadeite.core.placing import loads_on_floor
from tests.conftest import build_tray
from tests.core.contents.test_arranging import THINGS

BOARD = board_by_key("medium-card")


def area(size) -> float:  # type: ignore[no-untyped-def]
    """A tray's board, roughly."""
    return 2 * size[0] * size[1] + 2 * (size[0] + size[1]) * size[2]


@given(things=st.lists(THINGS, min_size=1, max_size=5))
def test_property_no_weight_is_lost(things) -> None:  # type: ignore[no-untyped-def]
    """What is stacked is passed down: the floor bears everything, on its own area."""
    found = arrange(things, Room(area), quick=True)
    assert found is not None
    loads = loads_on_floor(things, found, found.inside, 2)
    whole = sum(t.each_mass * t.count for t in things)
    assert sum(load.mass for load in loads) == pytest.approx(whole)
    for load in loads:
        assert abs(load.x) + load.length / 2 <= found.inside[0] / 2 + 1e-6
        assert abs(load.y) + load.width / 2 <= found.inside[1] / 2 + 1e-6


def test_a_thing_on_another_presses_where_the_other_stands() -> None:
    """Two blocks, one on the other: one load, as wide as the lower, with both weights."""
    lower = Block(name="lower", length=60, width=40, height=20, mass=100, turn="upright")
    upper = Block(name="upper", length=60, width=40, height=10, mass=50, turn="upright")
    found = arrange([lower, upper], Room(area), "smallest-footprint")
    assert found is not None
    (load,) = loads_on_floor([lower, upper], found, found.inside, 2)
    assert load.mass == pytest.approx(150)
    assert sorted((load.length, load.width)) == pytest.approx([40, 60])


def test_a_load_all_over_is_the_even_load() -> None:
    """A block as large as the floor sags it as the table for an even load says (table 8)."""
    fill = Block(name="fill", length=90, width=60, height=20, mass=100, clearance=0)
    room = Room(area, limit=(90.0, 60.0, 21.0))
    found = arrange([fill], room, quick=True)
    assert found is not None
    floor = floor_of([fill], found, (90.0, 60.0, 21.0), 2)
    even = floor_sag(BOARD, 90.0, 60.0, 100.0)
    assert floor.sag(BOARD).sag.value == pytest.approx(even.sag.value, rel=0.01)


def test_a_load_in_the_middle_sags_more() -> None:
    """A small heavy thing in the middle of a large floor, against the even load."""
    thing = Cylinder(name="weight", diameter=20, height=20, mass=100, turn="upright")
    found = arrange([thing], Room(area, limit=(90.0, 60.0, 30.0)), quick=True)
    floor = floor_of([thing], found, (90.0, 60.0, 30.0), 2)
    assert floor.sag(BOARD).sag.value > floor_sag(BOARD, 90.0, 60.0, 100.0).sag.value


def test_a_second_floor_counts_glued_or_laid() -> None:
    """Glued all over it is stiffer than laid; single walls glue it, feet keep it off."""
    glued, laid = plies_on(build_tray(floor="doubled"))
    assert (len(glued), len(laid)) == (1, 0)
    glued, laid = plies_on(build_tray(floor="doubled", tray_walls="double"))
    assert (len(glued), len(laid)) == (0, 1)
    fill = [Loose(name="pebbles", by="weight", weight=100, density=1.5)]
    floor = floor_of(fill, None, (90.0, 60.0, 30.0), 2)
    alone, both, loose = (
        floor.sag(BOARD),
        floor.sag(BOARD, (BOARD,)),
        floor.sag(BOARD, (), (BOARD,)),
    )
    assert both.sag.value < loose.sag.value < alone.sag.value


def test_dividers_that_are_glued_carry_the_floor() -> None:
    """Between strips the floor is four small plates, and the strips are stiff beams."""
    things = [
        Block(name=f"stone {i}", length=40, width=40, height=30, mass=150, turn="upright")
        for i in range(4)
    ]
    room = Room(area, divided="fitted", strip=BOARD.thickness)
    cells = arrange(things, room)
    open_floor = arrange(things, Room(area), "squarest")
    assert cells is not None
    assert open_floor is not None
    held = floor_of(things, cells, cells.inside, 2).sag(BOARD, divider=BOARD)
    free = floor_of(things, open_floor, open_floor.inside, 2).sag(BOARD)
    assert held.sag.value < free.sag.value
    names = [term.name for term in held.sag.walk()]
    assert "divider that bends most" in names
