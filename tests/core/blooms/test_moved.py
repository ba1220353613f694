"""Flowers that were moved by hand: to the nearest free place, and kept as words."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from jadeite.core.blooms import (
    Band,
    Head,
    Patch,
    flowers_round,
    moved_from_words,
    moved_spots,
    with_moved,
    words_of_moved,
)
from jadeite.core.errors import FieldError
from jadeite.core.pipeline import work_up
from jadeite.core.pipeline.cures import cured
from jadeite.core.project import Shape, Span, Task, changed

HEADS = (Head(60.0, 9.0), Head(34.0, 6.0))
GROUNDS = (Band(70.0, 150.0, (80.0, 140.0), 6), Patch("oval", 300.0, 200.0, 16.0, 18.0))
PERCENT = st.floats(-55.0, 55.0).map(lambda v: round(v, 2))


@given(st.dictionaries(st.integers(1, 120), st.tuples(PERCENT, PERCENT), max_size=8))
def test_property_words_say_what_was_moved(moved: dict[int, tuple[float, float]]) -> None:
    words = words_of_moved(moved)
    assert moved_from_words(words) == moved
    again = with_moved(words, 7, (12.345, -80.0))
    assert moved_from_words(again) == {**moved, 7: (12.35, -60.0)} or moved_from_words(again) == {
        **moved,
        7: (12.34, -60.0),
    }


@pytest.mark.parametrize("words", ["", "0", "none", "  "])
def test_none_were_moved(words: str) -> None:
    assert moved_from_words(words) == {}


@pytest.mark.parametrize("words", ["3", "3:1", "0:1,2", "3:1,2,3", "a:1,2", "3:90,0", "1:nan,0"])
def test_other_words_are_refused_with_what_works(words: str) -> None:
    with pytest.raises(FieldError) as refused:
        moved_from_words(words)
    assert "Use" in refused.value.cure or "Write" in refused.value.cure


@settings(max_examples=25)  # each is a search over all places
@given(
    ground=st.sampled_from(GROUNDS),
    number=st.integers(1, 12),
    place=st.tuples(PERCENT, PERCENT),
)
def test_property_a_moved_flower_takes_the_nearest_free_place(ground, number, place) -> None:  # type: ignore[no-untyped-def]
    """By search over all places; the others stay, and no middle lies on another."""
    spots = flowers_round(ground, HEADS, [300, 300], 0.12, 3)
    assert len(spots) >= 12
    again = moved_spots(ground, HEADS, spots, {number: place}, 300.0)
    own = again[number - 1]
    assert [s for i, s in enumerate(again) if i != number - 1] == [
        s for i, s in enumerate(spots) if i != number - 1
    ]
    head = HEADS[own.sort]
    wanted = np.array(place) * 3.0
    best = np.inf
    for x, y in ground.places(head).tolist():
        clear = all(
            np.hypot(x - s.x, y - s.y) >= head.hub + HEADS[s.sort].hub + 1.0
            for i, s in enumerate(spots)
            if i != number - 1
        )
        if clear:
            best = min(best, float(np.hypot(x - wanted[0], y - wanted[1])))
    assert np.hypot(own.x - wanted[0], own.y - wanted[1]) == pytest.approx(best)


def test_flowers_that_are_moved_too_close_are_said_and_put_back() -> None:
    """The wreath is still proved; the cure ends the finding."""
    task = changed(Task(), brief=Span(width=300.0), shape=Shape(key="wreath"))
    plain = work_up(task, None)
    assert plain.design is not None
    other = plain.design.handles["large-1-2"]
    words = with_moved("", 1, other.at)
    shape = Shape(key="wreath", options={"moved": words})
    moved = changed(task, shape=shape)
    work = work_up(moved, None)
    assert not work.blocked
    assert all(report.closed for report in work.joints)
    (finding,) = [f for f in work.findings if f.code == "flowers-lap"]
    assert finding.cure is not None
    back = work_up(cured(moved, finding.cure), None)
    assert "flowers-lap" not in {f.code for f in back.findings}
    assert back.design is not None
    assert dict(back.design.handles) == dict(plain.design.handles)
