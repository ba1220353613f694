"""The lightest board that holds, and other cures."""

from __future__ import annotations

import pytest

from jadeite.core.boards import Board, board_by_key, floor_sag, with_own
from jadeite.core.choice import compare, lightest_for_floor
from jadeite.core.contents import Block, Loose
from jadeite.core.pipeline import Work, arrange_contents, work_up
from jadeite.core.project import Hollow, Shape, Task, changed, with_change


def worked(project: Task) -> Work:
    """Everything computed, with the quick arrangement."""
    return work_up(project, arrange_contents(project, quick=True))


def loaded(mass: float, **fields: object) -> Task:
    """A block of that many grams in a tray for which medium card was chosen."""
    block = Block(name="meteorite", length=90, width=60, height=35, mass=mass, turn="upright")
    chosen = dict.fromkeys(("tray", "lid"), "medium-card")
    return changed(Task(contents=(block,), boards=chosen), **fields)


@pytest.mark.parametrize("mass", [40, 150, 400, 900])
def test_the_lightest_that_holds_is_the_lightest(mass: float) -> None:
    """By hand, from the floor's plate alone: every lighter board fails, this one does not."""
    work = worked(loaded(mass))
    choice = work.comparison()
    best = choice.lightest
    if best is None:
        assert all(not m.holds for m in choice.meanings)
        return
    for meaning in choice.meanings:
        if meaning.board.grammage < best.board.grammage:
            assert not meaning.holds
            assert meaning.failing
    below = choice.next_lighter
    assert below is not None
    assert best.board.title in choice.why
    assert below.board.title in choice.why
    sag = floor_sag(best.board, *work.inside[:2], mass)  # a block covers nearly all of it
    assert best.figure("floor").value.value == pytest.approx(sag.sag.value, rel=0.2)  # type: ignore[union-attr]


@pytest.mark.parametrize("mass", [15, 150, 900, 5000])
@pytest.mark.parametrize("key", ["tray-with-lid", "drawer-box", "gusset-bag", "round-box"])
def test_the_lightest_for_the_floor_is_that_of_the_comparison(key: str, mass: float) -> None:
    """What passes boards over before they are built, against what builds them all."""
    work = worked(loaded(mass, shape=Shape(key=key)))
    assert work.design is not None
    best = work.comparison((work.family.parts[0][0],)).lightest
    found = lightest_for_floor(work.task, work.arrangement, work.inside, work.design)
    assert (found and found.key) == (best and best.board.key)


def test_every_figure_has_a_limit_or_says_why_not() -> None:
    """Whole catalogue; what cannot be limited is a plain fact of the board."""
    choice = worked(loaded(150)).comparison()
    assert [m.board.key for m in choice.meanings] == [b.key for b in with_own()]
    free = {"grain", "curl", "passes", "weight"}
    for meaning in choice.meanings:
        keys = {f.key for f in meaning.figures}
        assert {"floor", "tall", "lid", "fold", *free} <= keys
        for figure in meaning.figures:
            assert figure.limit is not None or figure.key in free
            assert figure.words
            if figure.limit is not None and figure.key != "strips":
                low, high = sorted((figure.value.value, figure.limit.value))
                within = (figure.value.value == low) != figure.least
                assert (figure.verdict == "holds") == within or low == high


@pytest.mark.parametrize(
    ("key", "inside", "tall"),
    [
        ("carton", (100.0, 100.0, 30.0), 30.0), ("carton", (45.0, 88.0, 47.0), 47.0),
        ("lantern", (70.0, 70.0, 54.6), 54.6), ("tray-with-lid", (96.0, 64.0, 41.0), 41.0),
        ("flared-tray", (90.0, 90.0, 40.0), 40.0),
    ],
)  # fmt: skip
def test_a_wall_is_as_high_as_it_stands(key: str, inside, tall: float) -> None:  # type: ignore[no-untyped-def]
    """Not as it reaches from its fold: a carton's walls hang side by side; worked by hand."""
    project = changed(Task(), shape=Shape(key=key), brief=Hollow(size=inside))
    choice = worked(project).comparison()
    meaning = next(m for m in choice.meanings if m.board.key == "medium-card")
    figure = meaning.figure("tall")
    assert figure is not None
    assert figure.value.value == pytest.approx(tall, abs=2.5)


@pytest.mark.parametrize(
    ("key", "inside", "options"),
    [("round-box", (90.0, 90.0, 40.0), {"measured": "round"}),
     ("tray-with-lid", (90.0, 90.0, 40.0), {}),
     ("chest", (90.0, 90.0, 60.0), {}), ("carton", (90.0, 90.0, 60.0), {}),
     ("drawer-box", (90.0, 90.0, 40.0), {}), ("n-sided-box", (90.0, 90.0, 40.0), {})],
)  # fmt: skip
def test_a_lid_sags_as_wide_as_it_is(key: str, inside, options) -> None:  # type: ignore[no-untyped-def]
    """The level panel over the hollow, never a facet of its rim; a plate of that size (Navier)."""
    project = changed(Task(), shape=Shape(key=key, options=options), brief=Hollow(size=inside))
    work = worked(project)
    choice = work.comparison((work.family.roof,))
    meaning = next(m for m in choice.meanings if m.board.key == "medium-card")
    figure = meaning.figure("lid")
    assert figure is not None
    board = meaning.board
    across = [(w, floor_sag(board, w, w, board.grammage * w * w / 1e6).sag.value)
              for w in (90.0, 115.0)]  # fmt: skip
    assert across[0][1] * 0.8 < figure.value.value < across[1][1]


def test_a_board_that_does_not_fold_is_no_body_but_a_stiffener() -> None:
    """Chipboard is never the lightest that holds; it is offered on the floor."""
    project = loaded(900)
    work = worked(project)
    choice = work.comparison()
    chip = choice.of("chipboard")
    assert chip is not None
    assert not chip.holds
    assert "does not fold" in chip.failing
    found = work.remedies(choice)
    assert found
    stiff = next(r for r in found if r.key == "stiffener")
    assert stiff.holds
    assert stiff.board > 0
    assert stiff.minutes > 0


def test_a_cure_cures_what_it_says() -> None:
    """Every remedy that claims to hold is made, and the finding is gone."""
    for mass in (250, 900):
        project = loaded(mass)
        work = worked(project)
        assert "floor-sags" in {f.code for f in work.findings}
        remedies = work.remedies(work.comparison())
        assert any(r.holds for r in remedies)
        for remedy in (r for r in remedies if r.holds):
            after = project
            for path, value in remedy.cure.changes:
                after = with_change(after, path, value)
            again = worked(after)
            assert "floor-sags" not in {f.code for f in again.findings}, remedy.key
            assert again.design is not None
            assert not again.blocked
            more = again.sizes["board-area"].value - work.sizes["board-area"].value
            assert remedy.board == pytest.approx(more, rel=0.05, abs=200)


def test_what_holds_needs_no_cure() -> None:
    """A light load: nothing fails, nothing is offered."""
    work = worked(loaded(5))
    assert work.remedies(work.comparison()) == ()


def test_loose_fill_bulges_the_wall_and_double_walls_help() -> None:
    """Heavy loose fill behind a tall thin wall."""
    fill = Loose(name="pebbles", by="weight", weight=2500, density=1.6)
    project = changed(Task(contents=(fill,)), boards={"tray": "text", "lid": "text"})
    one = worked(project).comparison().of("text")
    two = worked(
        changed(project, shape=Shape(key="tray-with-lid", options={"tray-walls": "double"}))
    ).comparison()
    bulge, doubled = one.figure("wall"), two.of("text").figure("wall")  # type: ignore[union-attr]
    assert bulge is not None
    assert doubled is not None
    assert doubled.value.value < bulge.value.value
    work = worked(project)
    keys = {r.key for r in work.remedies(work.comparison())}
    assert "double-walls" in keys or bulge.verdict == "holds"


def test_parts_may_differ() -> None:
    """Only the lid is compared: the tray's floor says nothing, the lid's own sag does."""
    work = worked(loaded(900))
    lid = work.comparison(("lid",))
    assert lid.focus == ("lid",)
    paper = lid.of("copy-paper")
    assert paper is not None
    assert paper.figure("floor") is None
    assert paper.figure("lid") is not None
    assert paper.holds
    heavy = lid.of("extra-heavy-card")
    light = lid.of("light-card")
    assert heavy is not None
    assert light is not None
    a, b = heavy.figure("weight"), light.figure("weight")
    assert a is not None
    assert b is not None
    assert a.value.value > b.value.value


def test_an_own_board_takes_part() -> None:
    """A measured board of the maker's own stands among the others, by weight."""
    own = Board("sea-blue", "Sea blue", 300.0, 0.45, "yes", 1, "usual", thickness_from="measured")
    project = loaded(150, own_boards=(own,))
    work = worked(project)
    choice = compare(project, work.arrangement, work.inside)
    order = [m.board.key for m in choice.meanings]
    assert order.index("extra-heavy-card") < order.index("sea-blue") < order.index("craft-board")
    assert choice.of("sea-blue").figure("weight").value.value > 0  # type: ignore[union-attr]


def test_a_board_too_thick_for_the_size_is_refused_in_words() -> None:
    """What cannot be built of a board is said, and the others are still compared."""
    own = Board("plank", "Plank", 6000.0, 11.0, "yes", 1, "usual")
    project = changed(Task(brief=Hollow(size=(15, 15, 15))), own_boards=(own,))
    choice = work_up(project, None).comparison()
    assert choice.of("plank") is not None
    assert choice.of(board_by_key("medium-card").key).holds  # type: ignore[union-attr]
