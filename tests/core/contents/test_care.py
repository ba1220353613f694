"""Measuring guide, cautions, and loose fill."""

from __future__ import annotations

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jadeite.core.boards import board_by_key
from jadeite.core.contents import (
    GUIDES,
    KINDS,
    Ball,
    Block,
    Cylinder,
    Disc,
    Light,
    Loose,
    bulk_spread,
    bulk_volume,
    cautions_for,
)
from jadeite.core.contents.cautions import is_small_part


def keys(things, boards=()) -> set[str]:  # type: ignore[no-untyped-def]
    """What is warned of."""
    return {c.key for c in cautions_for(things, boards)}


def test_every_kind_has_a_guide() -> None:
    """Where the ruler goes, and what people forget."""
    assert set(GUIDES) == set(KINDS)
    for guide in GUIDES.values():
        assert guide.title
        assert guide.ruler.endswith(".")
        assert guide.forgotten.endswith(".")


# 16 CFR 1501.4: a cylinder 31.7 mm wide, 25.4 to 57.1 mm deep
@pytest.mark.parametrize(
    ("thing", "small"),
    [
        (Ball(name="ball", diameter=31.7), True),
        (Ball(name="ball", diameter=31.8), False),
        (Cylinder(name="rod", diameter=10, height=57.0), True),
        (Cylinder(name="rod", diameter=10, height=58.0), False),
        (Block(name="cube", length=22, width=22, height=22), True),
        (Block(name="cube", length=23, width=23, height=23), False),
        (Disc(name="coin", diameter=31, thickness=2), True),
        (Disc(name="coaster", diameter=40, thickness=2), False),
        (Loose(name="beads", diameter=8), True),
        (Loose(name="conkers", diameter=35), False),
        (Loose(name="gravel", by="weight"), True),
    ],
)
def test_small_parts_by_the_test_cylinder(thing, small) -> None:  # type: ignore[no-untyped-def]
    """Just within, and just beyond."""
    assert ("small-parts" in keys([thing])) is small


@given(st.tuples(*(st.floats(1, 80) for _ in range(3))))
def test_property_turning_a_thing_changes_nothing(size) -> None:  # type: ignore[no-untyped-def]
    """And a larger one is never smaller."""
    a, b, c = size
    assert is_small_part((a, b, c)) == is_small_part((c, a, b))
    if not is_small_part(size):
        assert not is_small_part((a + 1, b + 1, c + 1))


def test_each_caution_where_it_belongs() -> None:
    """Lights, food, dust; nothing for a plain block."""
    block = Block(name="block", length=60, width=40, height=30)
    assert keys([block]) == set()
    assert keys([Light(name="light")]) == {"flame", "button-cell"}
    assert keys([block.model_copy(update={"food": True})]) == {"food"}
    assert keys([block], [board_by_key("chipboard")]) == {"dust"}
    for caution in cautions_for([Light(name="light")], []):
        assert caution.words.endswith("Local rules and the makers' instructions come first.")


def test_loose_fill_by_count() -> None:
    """Equal balls shaken down: 0.64 of the room (Scott 1960, random close packing)."""
    fill = Loose(name="balls", by="count", diameter=10, grains=1000, packed="shaken")
    solid = 1000 * math.pi / 6 * 10**3 / 1000  # ml
    assert bulk_volume(fill).value == pytest.approx(solid / 0.64)
    loosely = fill.model_copy(update={"packed": "poured"})
    assert bulk_volume(loosely).value > bulk_volume(fill).value
    assert bulk_spread(fill).value == pytest.approx(0.12 * bulk_volume(fill).value)


def test_loose_fill_by_weight_and_by_volume() -> None:
    """Weight over bulk density, and what the mug says."""
    assert bulk_volume(Loose(name="x", by="weight", weight=140, density=0.7)).value == 200
    assert bulk_volume(Loose(name="x", by="volume", volume=250)).value == 250
    heavy = Loose(name="x", by="weight", weight=140, density=0.7)
    assert heavy.each_mass == 140
    assert heavy.bulk_density == 0.7
