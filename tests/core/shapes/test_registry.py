"""Families and their options."""

from __future__ import annotations

import itertools
import math
from collections.abc import Mapping

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jadeite.core.errors import FieldError
from jadeite.core.shapes import (
    Option,
    OptionValue,
    ShapeFamily,
    all_families,
    family_by_key,
    register,
    resolve_options,
)
from tests.core.shapes.closing import boards_for, text_of

DEPTH = Option("depth", "Depth", 10.0, "How deep.", unit="mm", low=3.0, high=50.0)
SIDE = Option("side", "Side", "in", "Which side.", choices=(("in", "inside"), ("out", "outside")))


@given(st.floats(3.0, 50.0))
def test_property_lengths_in_range_are_taken(value: float) -> None:
    """As numbers, and typed with their unit."""
    assert DEPTH.accept(value) == value
    assert DEPTH.accept(f"{value!r} mm") == pytest.approx(value)


@pytest.mark.parametrize("value", [2.9, 50.1, math.nan, math.inf, True, None, [1], "deep", "0"])
def test_other_values_are_refused_with_the_range(value) -> None:  # type: ignore[no-untyped-def]
    """The field is named."""
    with pytest.raises(FieldError) as caught:
        DEPTH.accept(value)
    assert caught.value.field == "depth"
    assert "Use" in str(caught.value) or "Type" in str(caught.value)


@pytest.mark.parametrize("value", ["up", "", None, 1, "IN"])
def test_choices_are_exact(value) -> None:  # type: ignore[no-untyped-def]
    """The choices are listed."""
    assert SIDE.accept("out") == "out"
    with pytest.raises(FieldError, match="in, out"):
        SIDE.accept(value)


@pytest.mark.parametrize("family", all_families(), ids=lambda f: f.key)
def test_every_family_describes_itself(family: ShapeFamily) -> None:
    """Labels, help, defaults within range, every part with a name."""
    assert family_by_key(family.key) is family
    assert family.title
    assert family.about
    assert family.parts
    for option in family.options:
        assert option.label
        assert option.help.endswith(".")
        assert option.accept(option.default) == option.default
    defaults = resolve_options(family, {})
    assert set(defaults) == {o.key for o in family.options}
    with pytest.raises(FieldError, match="no option"):
        resolve_options(family, {"sparkle": 1})
    with pytest.raises(ValueError, match="twice"):
        register(family)


SIDES = Option("sides", "Sides", 6.0, "How many.", unit="count", low=3.0, high=12.0)
SLOPE = Option("slope", "Slope", 60.0, "How steep.", unit="deg", low=40.0, high=75.0)


@pytest.mark.parametrize(
    ("option", "typed", "value"),
    [
        (SIDES, 6, 6.0),
        (SIDES, "8", 8.0),
        (SIDES, 12.0, 12.0),
        (SLOPE, "62.5°", 62.5),
        (SLOPE, 40, 40),
    ],
)
def test_counts_and_angles_are_read_as_typed(option, typed, value) -> None:  # type: ignore[no-untyped-def]
    """Numbers, or words with a degree sign."""
    assert option.accept(typed) == value


@pytest.mark.parametrize(
    ("option", "typed"),
    [(SIDES, 2), (SIDES, 13), (SIDES, 6.5), (SIDES, "six"), (SIDES, True), (SIDES, None),
     (SLOPE, float("nan")), (SLOPE, "90°"), (SLOPE, "")],
)  # fmt: skip
def test_what_is_no_count_or_angle_is_refused_with_the_range(option, typed) -> None:  # type: ignore[no-untyped-def]
    """The field, and what may be used."""
    with pytest.raises(FieldError, match=option.key) as caught:
        option.accept(typed)
    assert caught.value.cure.startswith("Use ")


def test_parts_are_made_with_a_choice_or_with_some_of_a_count() -> None:
    """The chest's latch by its option; its stand-up pieces when there are any."""
    family = family_by_key("chest")

    def made(**chosen: float | str) -> set[str]:
        options = resolve_options(family, {k.replace("_", "-"): v for k, v in chosen.items()})
        return {part for part, _ in family.parts_made(options)}

    assert "stand-up" not in made()
    assert "stand-up" in made(stand_ups=2.0)
    assert {"latch", "catch"} <= made()
    assert "pad" not in made()
    assert "pad" in made(catch_on="board")
    assert not {"latch", "pad", "catch"} & made(latch="none")


DEPENDENT = [(family, option) for family in all_families() for option in family.options
             if option.only]  # fmt: skip


@pytest.mark.parametrize(
    ("family", "option"), DEPENDENT, ids=lambda value: getattr(value, "key", "")
)
def test_an_option_that_is_put_away_changes_nothing_and_one_that_is_shown_does(
    family: ShapeFamily, option: Option
) -> None:
    """With every choice of the others: by the FOLD text, what is bought, and how it is bent."""
    boards = boards_for(family, "medium-card")
    named = dict(option.only)
    other = [o for o in family.options if o.key in named]
    if option.words is not None:
        tried: OptionValue = "heart width=90"
    elif option.choices:
        tried = next(key for key, _ in reversed(option.choices) if key != option.default)
    else:
        default = float(option.default)
        tried = default + max(1.0, round((option.high - default) / 10))

    def made(chosen: Mapping[str, OptionValue]) -> str:
        span = (max(160.0, 1.5 * family.smallest), 0.0, 0.0)
        size = span if family.answers[0] == "span" else (100.0, 100.0, min(60.0, family.most[2]))
        design = family.build(size, boards, resolve_options(family, chosen))
        bent = [(shaping.title, shaping.words) for shaping in design.shaping]
        return f"{text_of(design)} {bent} {design.bought}"

    shown = 0
    all_of = ([key for key, _ in o.choices] or [o.default, named[o.key][0]] for o in other)
    for values in itertools.product(*all_of):
        chosen = dict(zip([o.key for o in other], values, strict=True))
        if chosen.get("centre-piece") == "knot" and chosen.get("stem", "none") != "none":
            continue  # refused
        acts = option.acts(resolve_options(family, chosen))
        assert (made(chosen) != made({**chosen, option.key: tried})) == acts, chosen
        shown += acts
    assert shown
