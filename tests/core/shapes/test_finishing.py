"""Where flowers and arrangements stay: sealed, with greenery, on a cord; what is said of it."""

from __future__ import annotations

import pytest

from jadeite.core.findings import Level
from jadeite.core.pipeline import Work, at_hand, work_up
from jadeite.core.pipeline.cures import cured
from jadeite.core.project import Shape, Span, Task
from jadeite.core.shapes import family_by_key
from tests.core.shapes.closing import FREE as SPANNED

FREE = tuple(key for key in SPANNED if key != "printed-figure")  # a print stays indoors
ARRANGED = ("branch", "table-piece", "wreath")
WIDTHS = {"rolled-flower": 30.0, "wreath": 300.0, "table-piece": 220.0, "branch": 240.0}


def worked(key: str, copies: int = 1, **options: object) -> Work:
    """One of these, with options."""
    width = WIDTHS.get(key, 120.0)
    task = Task(brief=Span(width=width), shape=Shape(key=key, options=options), copies=copies)
    work = work_up(task, None)
    assert work.design is not None
    assert work.assembly is not None
    return work


@pytest.mark.parametrize("key", FREE)
def test_what_stays_outdoors_is_sealed_last_and_told_what_that_does(key: str) -> None:
    """By the usual choice nothing is said; bare outdoors there is a cure, which ends it."""
    plain = worked(key)
    assert not [f for f in plain.findings if f.code.startswith("outdoors")]
    bare = worked(key, stays="roofed")
    (found,) = (f for f in bare.findings if f.code.startswith("outdoors"))
    assert found.level is Level.NOTE
    assert found.cure is not None
    work = work_up(cured(bare.task, found.cure), None)
    (after,) = (f for f in work.findings if f.code.startswith("outdoors"))
    assert after.code == "outdoors-sealed"
    assert "does not make paper weatherproof" in after.message
    last = work.assembly.steps[-1]
    assert last.title == "Seal it"
    assert "away from flame" in last.caution
    assert "open window" in last.caution
    assert "clear matt spray seal" in {thing.name for thing in at_hand({"it": work})}
    assert work.assembly.seconds >= plain.assembly.seconds + 180.0


@pytest.mark.parametrize("key", ARRANGED)
@pytest.mark.parametrize("greens", ["fresh", "preserved"])
def test_greenery_comes_last_with_its_caution(key: str, greens: str) -> None:
    """After the seal, which would not hold on it; what is done weeks before is said at once."""
    work = worked(key, greens=greens, stays="sealed")
    titles = [step.title for step in work.assembly.steps]
    assert titles[-2:] == ["Seal it", "Tuck greenery into the gaps"]
    assert "poisonous" in work.assembly.steps[-1].caution
    assert not [step for step in work.assembly.steps if "weeks" in step.detail.lower()]
    said = [f.message for f in work.findings if f.code == "greenery-preserved"]
    assert bool(said) == (greens == "preserved")
    assert all("glycerine" in words and "scalds" in words for words in said)


def test_a_wreath_hangs_by_a_cord_that_is_tied_before_flowers_cover_it() -> None:
    """Its length by hand: twice the ring, the loop twice, what knots take, and its edges."""
    work = worked("wreath", hang="cord")
    wide = work.sizes["base-width"].value
    by_hand = 2 * wide + 2 * 150.0 + 100.0
    assert by_hand < work.sizes["cord-length"].value < by_hand + 12.0
    titles = [step.title for step in work.assembly.steps]
    tied = titles.index("Tie a cord round the ring")
    assert "twice the weight" in work.assembly.steps[tied].caution
    first = next(i for i, title in enumerate(titles) if "flower" in title and "Glue" in title)
    assert tied < first
    thing = next(t for t in at_hand({"wreath": work}) if t.name.startswith("cord"))
    assert thing.length == work.sizes["cord-length"].value
    assert "cord-length" not in worked("wreath").sizes


def test_every_free_family_is_asked_where_it_stays() -> None:
    """And none of the others: a box is not sealed here."""
    for key in FREE:
        assert "stays" in {option.key for option in family_by_key(key).options}
    for key in ("tray-with-lid", "printed-figure"):
        assert "stays" not in {option.key for option in family_by_key(key).options}
