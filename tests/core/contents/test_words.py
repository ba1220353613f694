"""Things typed as words."""

from __future__ import annotations

import pytest

from jadeite.core.contents import Ball, Block, Cylinder
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
