"""Typing and showing lengths."""

from __future__ import annotations

import math
import re
from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jadeite.core.errors import FieldError
from jadeite.core.units import (
    all_of,
    format_area,
    format_duration,
    format_length,
    format_size,
    in_runs,
    in_system,
    number_text,
    parse_length,
    parse_size,
)


@pytest.mark.parametrize(
    ("text", "mm"),
    [
        ("70", 70.0),
        ("7 cm", 70.0),
        ("7,5 cm", 75.0),
        ("0.07 m", 70.0),
        ("70mm", 70.0),
        ("2 3/4 in", 2.75 * 25.4),  # the inch is 25.4 mm exactly (1959)
        ('2.75"', 2.75 * 25.4),
        ("2-3/4", 2.75 * 25.4),
        ("3/8 in", 9.525),
        ("1 inch", 25.4),
        ("  12 inches ", 304.8),
        (".5 in", 12.7),
        ("1e1", 10.0),
    ],
)
def test_lengths_as_people_write_them(text: str, mm: float) -> None:
    """Each spelling of the interface is read."""
    assert parse_length(text) == pytest.approx(mm, abs=1e-12)


def test_a_bare_number_takes_the_unit_shown() -> None:
    """In inches 2 means two inches."""
    assert parse_length("2", "inches") == 50.8


@pytest.mark.parametrize(
    "text",
    [
        "",
        "abc",
        "12 furlongs",
        "-5",
        "0",
        "1/0",
        "nan",
        "inf",
        "1e999",
        "10 km",
        "5000.1",
        "- 3 mm",
        "9" * 70,
        "1 2 3",
        "2 3/4 in 5",
    ],
)
def test_what_is_no_length_is_refused_by_field_and_cure(text: str) -> None:
    """Zero, negative, NaN, 10 km and words name the field and say what to type."""
    with pytest.raises(FieldError) as caught:
        parse_length(text, field="lid depth")
    assert str(caught.value).startswith("lid depth: ")
    assert caught.value.cure


@given(st.integers(1, 16 * 100))
def test_property_sixteenths_survive_a_round_trip(sixteenths: int) -> None:
    """A fraction shown in full is read back as itself."""
    mm = float(Fraction(sixteenths, 16)) * 25.4
    text = format_length(mm, "inches")
    assert not text.startswith("~")
    assert parse_length(text) == pytest.approx(mm, abs=1e-9)


@given(st.floats(0.5, 4000.0))
def test_property_a_rounded_fraction_says_so(mm: float) -> None:
    """The display is within 1/32 inch, and says about unless it is the value."""
    text = format_length(mm, "inches")
    shown = parse_length(text.removeprefix("~")) if text != "~0 in" else 0.0
    assert abs(shown - mm) <= 25.4 / 32 + 1e-9
    assert text.startswith("~") == (abs(shown - mm) > 0.005)


@given(st.floats(0.1, 5000.0))
def test_property_millimetres_survive_to_their_places(mm: float) -> None:
    """One place is shown."""
    assert parse_length(format_length(mm)) == pytest.approx(mm, abs=0.0501)


def test_sizes() -> None:
    """Three lengths in one word, any unit, any sign between."""
    assert parse_size("96x64x41mm") == (96.0, 64.0, 41.0)
    assert parse_size("4 x 3 x 2 in") == pytest.approx((101.6, 76.2, 50.8))
    assert parse_size("10cm×64×41mm") == (100.0, 64.0, 41.0)
    assert format_size((96.0, 64.0, 41.0)) == "96.0 × 64.0 × 41.0 mm"
    assert format_size((96.0, 25.4, 12.7), "inches") == "~3 3/4 × 1 × 1/2 in"
    for wrong in ("96x64", "96x64x0mm", "axbxc", "96x64x41x3"):
        with pytest.raises(FieldError, match="size"):
            parse_size(wrong)


def test_numbers_for_people() -> None:
    """No negative zero, a true minus, times in the words of a kitchen."""
    assert number_text(-0.04) == "0.0"
    assert number_text(-1.25, 1) == "−1.2"
    assert number_text(math.nan) == "–"
    assert format_area(41_000) == "410 cm²"
    assert format_area(410_000) == "4100 cm²"
    assert format_area(2_410_000) == "2.41 m²"
    assert format_area(25.4**2 * 12, "inches") == "12 sq in"
    assert [format_duration(s) for s in (40, 840, 3960)] == ["40 s", "14 min", "1 h 06"]


@pytest.mark.parametrize(
    ("count", "words"), [(1, "the fold"), (2, "both folds"), (3, "all 3 folds")]
)
def test_so_many_together(count: int, words: str) -> None:
    """Two are both, not all."""
    assert all_of(count, "fold") == words


@pytest.mark.parametrize(
    ("words", "told"),
    [
        (["ring 1"], "ring 1"),
        (["ring 1", "ring 2"], "ring 1 and ring 2"),
        (["leaf ring", "ring 1", "ring 2", "ring 3"], "leaf ring and rings 1 to 3"),
        (["ring 1", "ring 3", "ring 4", "ring 5"], "ring 1 and rings 3 to 5"),
        (["ring 3", "ring 2", "gore 3"], "ring 3, ring 2 and gore 3"),
        (["large fringe", "tuft"], "large fringe and tuft"),
        (["ring 2", "12"], "ring 2 and 12"),
    ],
)
def test_numbered_words_in_a_row_are_told_together(words: list[str], told: str) -> None:
    """Three or more that follow one another; what has no number stays as it is."""
    assert in_runs(words) == told


SENTENCES = [
    ("The floor sags by 1.40 mm.", "The floor sags by 0.055 in."),
    ("Use 50.8 mm, or no latch.", "Use 2 in, or no latch."),
    ("holds 1 × base (304.8 mm × 330.2 mm)", "holds 1 × base (12 in × 13 in)"),
    ("inside 101.6 × 76.2 × 38.1 mm", "inside 4 × 3 × 1 1/2 in"),
    ("petals of 2 to 12.7 mm", "petals of 0.079 to 1/2 in"),
    ("Over a rod of 6.35 mm, good side outwards", "Over a rod of 1/4 in, good side outwards"),
    ("It reaches 30 mm too far.", "It reaches ~1 3/16 in too far."),
    ("an area of 300 mm² of 176 g/m²", "an area of 300 mm² of 176 g/m²"),
    ("on a sheet of 12 × 12 in", "on a sheet of 12 × 12 in"),
]


@pytest.mark.parametrize(("words", "inches"), SENTENCES)
def test_lengths_in_sentences_are_told_in_inches(words, inches) -> None:  # type: ignore[no-untyped-def]
    """Worked by hand with 25.4 mm to the inch; in mm a sentence stays as it is."""
    assert in_system(words, "inches") == inches
    assert in_system(words, "mm") == words


@given(st.floats(0.05, 2000.0))
def test_property_a_length_in_a_sentence_is_within_a_thirty_second_of_an_inch(mm) -> None:  # type: ignore[no-untyped-def]
    """Read back by the reader of typed lengths; small ones within half a thousandth."""
    told = in_system(f"It reaches {mm:.2f} mm into the hollow.", "inches")
    found = re.fullmatch(r"It reaches (.*) in into the hollow\.", told)
    assert found
    back = parse_length(f"{found[1]} in", "inches", field="x", low=0.0, high=5000.0)
    near = 0.0005 * 25.4 if mm < 3.17 else 25.4 / 32
    assert back == pytest.approx(mm, abs=near + 0.006)
