"""Flowers of lapped rings: they close as cups over all other options, and say why where not."""

from __future__ import annotations

from collections import Counter

from hypothesis import given, settings
from hypothesis import strategies as st

from jadeite.core.blooms.pieces import LAP
from jadeite.core.shapes import family_by_key, resolve_options
from tests.core.shapes.closing import (
    FOLDING,
    HEAVY,
    boards_for,
    closes_or_says_why,
    options_of,
)

FAMILY = family_by_key("layered-flower")
CUPPED = st.fixed_dictionaries(
    {
        "gather": st.just("laps"),
        "curl": st.sampled_from(["outward", "inward", "none"]),
        "petals": st.sampled_from(["5 5 4 4", "4 3", "6 6 5 5", "3 3 3", "8 8 6", "5"]),
        "rise": st.floats(25.0, 70.0),
        "inner-rise": st.floats(30.0, 85.0),
        "singles": st.sampled_from([0, 0, 0, 2]),
        "pearl": st.floats(3.0, 10.0),
        "stem": st.sampled_from(["none", "wire"]),
        "centre-piece": st.sampled_from(["none", "strip", "pearl"]),
    }
)


def test_property_lapped_flowers_close_or_say_why() -> None:
    """Flaps of most of them are glued; where a board is too thick or a ring too flat, none is."""
    counts: Counter[str] = Counter()

    @settings(max_examples=HEAVY)
    @given(width=st.floats(50.0, 300.0), board=FOLDING, chosen=options_of(FAMILY, 40.0), own=CUPPED)
    def every(width, board, chosen, own) -> None:  # type: ignore[no-untyped-def]
        span, options = (width, 0.0, 0.0), {**chosen, **own}
        if not closes_or_says_why(FAMILY, span, board, options):
            return
        design = FAMILY.build(span, boards_for(FAMILY, board), resolve_options(FAMILY, options))
        laps = [joint for joint in design.joints if joint.tab[1].endswith(LAP)]
        counts["lapped" if laps else "pressed"] += 1

    every()
    assert counts["lapped"] > counts.total() / 2
