"""What is said of the contents and the board, and that it is said only where it applies."""

from __future__ import annotations

import pytest

from jadeite.core.contents import Ball, Block, FlatPack, Light, Loose, Standing, Tag
from jadeite.core.findings import Level
from jadeite.core.pipeline import Work, arrange_contents, mass_of_contents, work_up
from jadeite.core.project import Hollow, Task, changed, with_change


def worked(*things, quick=False, **fields) -> Work:  # type: ignore[no-untyped-def]
    """Everything computed for some things."""
    project = changed(Task(), contents=things, **fields)
    return work_up(project, arrange_contents(project, quick=quick))


def codes(work: Work) -> set[str]:
    """What is said, by its code."""
    return {f.code for f in work.findings}


BLOCK = Block(name="block", length=60, width=40, height=30, mass=5)


def test_a_plain_block_says_nothing() -> None:
    """No caution, no note, nothing to look at."""
    assert codes(worked(BLOCK)) == set()


@pytest.mark.parametrize(
    ("thing", "code"),
    [
        (
            FlatPack(name="sachet", width=60, height=80, thickness=5, mass=3, tag=Tag()),
            "tag-outside",
        ),
        (Loose(name="beads", diameter=36, grains=20, mass=20), "fill-spread"),
        (Light(name="light", mass=20), "caution-flame"),
        (Light(name="light", mass=20), "caution-button-cell"),
        (Ball(name="bead", diameter=12, mass=2), "caution-small-parts"),
        (BLOCK.model_copy(update={"food": True}), "caution-food"),
        (BLOCK.model_copy(update={"mass": 0.0}), "mass-unknown"),
    ],
)
def test_each_thing_says_what_people_forget(thing, code) -> None:  # type: ignore[no-untyped-def]
    """As a note that names the thing, and never blocks."""
    work = worked(thing)
    found = next(f for f in work.findings if f.code == code)
    assert found.level is Level.NOTE
    assert not work.blocked


def test_what_stands_too_high_is_said_with_the_millimetres() -> None:
    """A fixed inside lower than the piece: the lid would press on it."""
    piece = Standing(name="place card", width=40, height=60, thickness=0.5, mass=1)
    work = worked(piece, brief=Hollow(size=(60, 30, 50)))
    found = next(f for f in work.findings if f.code == "stands-too-high")
    assert "10.0 mm higher" in found.message
    assert work.blocked
    assert "stands-too-high" not in codes(worked(piece))


def test_a_board_that_does_not_fold_is_said_with_a_cure() -> None:
    """Chipboard walls; the cure makes them of card."""
    work = worked(BLOCK, boards={"tray": "chipboard"})
    found = next(f for f in work.findings if f.code == "board-does-not-fold")
    assert found.level is Level.LOOK
    assert "caution-dust" in codes(work)
    assert found.cure is not None
    ((path, value),) = found.cure.changes
    cured = with_change(work.task, path, value)
    again = work_up(cured, work.arrangement)
    assert codes(again) == set()
    stiff = worked(
        BLOCK, shape={"options": {"floor": "doubled"}}, boards={"floor-ply": "chipboard"}
    )
    assert "board-does-not-fold" not in codes(stiff)  # a flat ply need not fold


def test_a_quick_arrangement_says_how_far_it_may_be_from_the_best() -> None:
    """Nine unlike blocks; the share is that of the bound."""
    blocks = [
        Block(name=f"b{i}", length=20 + 7 * i, width=12 + 3 * i, height=9 + i, mass=1)
        for i in range(9)
    ]
    work = worked(*blocks, quick=True)
    assert work.arrangement is not None
    found = next(f for f in work.findings if f.code == "arrangement-not-proved")
    assert f"{100 * work.arrangement.gap:.0f} %" in found.message


def test_the_weight_of_loose_fill_counts_once() -> None:
    """By weight, the weight is that of all grains together."""
    fill = Loose(name="pebbles", by="weight", weight=250, density=1.5)
    assert mass_of_contents(changed(Task(), contents=(fill, BLOCK))) == 255


def test_dividers_need_a_hollow_that_opens_upwards() -> None:
    """In a sleeve the wish is kept, and no strips are made."""
    two = BLOCK.model_copy(update={"count": 2})
    box = worked(two, dividers="fitted")
    assert box.design is not None
    assert any("divider" in p.name for p in box.design.pieces)
    sleeve = worked(two, dividers="fitted", shape={"key": "sleeve"})
    assert sleeve.design is not None
    assert [p.name for p in sleeve.design.pieces] == ["sleeve"]
    assert not sleeve.blocked
