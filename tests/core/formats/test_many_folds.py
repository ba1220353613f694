"""FOLD files of random designs: valid, no edge without length, every joint closed."""

from __future__ import annotations

import random

import pytest

from jadeite.core.boards import CATALOGUE
from jadeite.core.errors import FieldError
from jadeite.core.nets import Design
from jadeite.core.shapes import ShapeFamily, all_families, resolve_options
from tests.core.shapes.closing import boards_for, faults, fit

FOLDING = [b.key for b in CATALOGUE if b.folds]
MADE = 110  # of each family; twenty-one families make more than 2,000
MOST_TRIED = 4  # for each that is to be made; most are made


def random_design(family: ShapeFamily, rng: random.Random) -> Design | None:
    """Any size up to 160 mm, any board, any options; None where it is refused."""
    lengths = [round(rng.uniform(max(family.smallest, 20.0), 160.0), 1) for _ in range(3)]
    inside = fit(family, lengths)  # what is flat is not that thick
    options: dict[str, float | str] = {}
    for option in family.options:
        if rng.random() < 0.5:
            continue
        if option.choices:
            options[option.key] = rng.choice(option.choices)[0]
        elif option.unit == "count":
            options[option.key] = float(rng.randint(int(option.low), int(option.high)))
        else:
            options[option.key] = round(
                rng.uniform(option.low, min(option.high, max(option.low, 120.0))), 1
            )
    boards = boards_for(family, rng.choice(FOLDING))
    try:
        return family.build(inside, boards, resolve_options(family, options))
    except FieldError:
        return None


def wrong_of(family: ShapeFamily, wanted: int) -> list[tuple[int, list[str]]]:
    """Seeds of designs with faults, of so many that are made."""
    wrong, made = [], 0
    for seed in range(wanted * MOST_TRIED):
        design = random_design(family, random.Random(f"{family.key} {seed}"))
        if design is None:
            continue
        made += 1
        found = faults(design)
        if found:
            wrong.append((seed, found))
        if made == wanted:
            return wrong
    raise AssertionError(f"{family.key}: only {made} of {wanted * MOST_TRIED} were made")


@pytest.mark.soak
@pytest.mark.parametrize("family", all_families(), ids=lambda f: f.key)
def test_soak_two_thousand_random_designs_close_as_fold(family) -> None:  # type: ignore[no-untyped-def]
    """Structure, lengths of edges, joints, stretch and ways through, by the tests' own reader."""
    assert wrong_of(family, MADE) == []
