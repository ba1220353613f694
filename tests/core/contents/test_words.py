"""Things typed as words."""

from __future__ import annotations

import contextlib

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jadeite.core.contents import Ball, Block, Cards, Cylinder, FlatPack, Loose, Standing
from jadeite.core.contents.words import thing_from_words
from jadeite.core.errors import FieldError


@pytest.mark.parametrize(
    ("words", "kind", "name", "size"),
    [
        ("ball 90mm", Ball, "ball", (90, 90, 90)),
        ("paper planet: ball 9 cm", Ball, "paper planet", (90, 90, 90)),
        ("lamp: block 70x45x95mm", Block, "lamp", (70, 45, 95)),
        ("block 2 x 3 x 4 in", Block, "block", (50.8, 76.2, 101.6)),
        ("eyepiece: cylinder 31x34mm", Cylinder, "eyepiece", (31, 31, 34)),
        ("Cylinder 31x34", Cylinder, "cylinder", (31, 31, 34)),
        ("filter: disc 50.8x6mm", None, "filter", (50.8, 50.8, 6)),
    ],
)
def test_a_thing_in_words(words, kind, name, size) -> None:  # type: ignore[no-untyped-def]
    """Kind, name and lengths in any unit."""
    thing = thing_from_words(words)
    assert kind is None or isinstance(thing, kind)
    assert thing.name == name
    assert thing.size == pytest.approx(size)


@pytest.mark.parametrize(
    "words", ["", "cube 90", "ball", "ball x", "block 3x4", "cylinder 3", "disc 1x2x3", "ball nan"]
)
def test_words_that_make_no_thing_are_refused(words) -> None:  # type: ignore[no-untyped-def]
    """By name, with how to write it or the range."""
    with pytest.raises(FieldError):
        thing_from_words(words)


FACTS = [
    ("meteorite: block 90x60x35mm, 900 g, count 2",
     Block(name="meteorite", length=90, width=60, height=35, mass=900, count=2)),
    ("ball 90mm, 2 lb, goes-in padded, padding 4 mm",
     Ball(name="ball", diameter=90, mass=2 * 453.59237, goes_in="padded", padding=4.0)),
    ("sachet: flat 46x58x5mm, tag 25x30, turn upright",
     FlatPack(name="sachet", width=46, height=58, thickness=5, turn="upright",
              tag={"width": 25, "height": 30})),
    ("charts: cards 105x148x0.3, sheets 12, reach=front",
     Cards(name="charts", width=105, height=148, thickness=0.3, sheets=12, reach="front")),
    ("owl: standing 50x60x0.5mm", Standing(name="owl", width=50, height=60, thickness=0.5)),
    ("beads: loose 6mm, grains 200", Loose(name="beads", diameter=6, grains=200)),
    ("sweets: loose, 150 g, density 0.6",
     Loose(name="sweets", by="weight", weight=150, density=0.6)),
    ("block 1.5x2x4in, food yes, clearance 1/8 in",
     Block(name="block", length=38.1, width=50.8, height=101.6, food=True, clearance=3.175)),
]  # fmt: skip


@pytest.mark.parametrize(("words", "thing"), FACTS)
def test_every_kind_with_its_facts_in_words(words, thing) -> None:  # type: ignore[no-untyped-def]
    """All that the editor of things can say, on one line."""
    told, wanted = (t.model_dump() for t in (thing_from_words(words), thing))
    assert told == pytest.approx(wanted, nan_ok=True) if "tag" not in wanted else told == wanted


@pytest.mark.parametrize(
    ("words", "cure"),
    [
        ("ball 90mm, colour red", "Use a mass, or any of: count"),
        ("ball 90mm, count many", "Write ball D"),
        ("ball 90mm, count 400", "Write ball D"),
        ("owl: standing 50x60", "Write ball D"),
    ],
)
def test_a_fact_that_a_thing_has_not_is_refused_with_those_that_it_has(words, cure) -> None:  # type: ignore[no-untyped-def]
    """And a value that cannot be, by its field."""
    with pytest.raises(FieldError) as caught:
        thing_from_words(words)
    assert cure in caught.value.cure


@given(st.text(max_size=40))
def test_property_any_words_make_a_thing_or_a_refusal(words) -> None:  # type: ignore[no-untyped-def]
    """Never another error, whatever is typed after a kind that is known."""
    for head in ("", "ball 90mm, ", "flat 46x58x5mm, tag ", "loose, "):
        with contextlib.suppress(FieldError):
            assert thing_from_words(head + words).name
