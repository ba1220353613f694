"""A property that always refuses must fail: after each, how often its shape was made is asked."""

from __future__ import annotations

from collections.abc import Iterator

import pytest

from tests.core.shapes import closing

SOME, MANY = 25, 150  # examples from which half the share may be asked, and the whole of it
LEAST = 0.5  # made of all that a property asked for, with any board and any options
# of shapes whose options ask for room, or for one another; as measured, less a quarter
# (a spire must be higher than what stands in it, a ring of petals lean less than the next, a
# lantern's bottom and lid want some numbers of sides, many small flowers want a large table piece,
# a large wreath, or a long branch with its buds)
SELDOM = {"spire": 0.3, "petal-lantern": 0.15, "lantern": 0.4, "table-piece": 0.3, "wreath": 0.28,
          "branch": 0.34}  # fmt: skip


@pytest.fixture(autouse=True)
def made_often() -> Iterator[None]:
    """Count what ``closes_or_says_why`` makes in a test, and ask for enough of it."""
    closing.TALLY.clear()
    yield
    for family in {key for key, _ in closing.TALLY}:
        made, not_made = (closing.TALLY[family, what] for what in (True, False))
        if made + not_made >= SOME:  # they come in bunches: few are a draw
            share = made / (made + not_made)
            least = SELDOM.get(family, LEAST) * (1.0 if made + not_made >= MANY else 0.5)
            assert share >= least, f"{family}: made in {share:.0%} only"
