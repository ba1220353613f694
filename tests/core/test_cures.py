"""Whatever a finding or a refusal offers ends it and brings nothing worse."""

from __future__ import annotations

import random

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from jadeite.core.boards import CATALOGUE
from jadeite.core.contents import Ball, Block, Disc
from jadeite.core.errors import FieldError, inside_way, option_way
from jadeite.core.findings import Cure, Finding, Level
from jadeite.core.pipeline import arrange_contents, work_up
from jadeite.core.pipeline.cures import cured, ends, offered, refusal
from jadeite.core.project import Hollow, Shape, Task, changed
from jadeite.core.shapes import all_families, family_by_key
from jadeite.core.units import rounded_down, rounded_up
from tests import cures, matrix
from tests.core.shapes.closing import FLAT, FREE


def worked(**fields):  # type: ignore[no-untyped-def]
    """A project worked up, its things arranged as they are while one types."""
    project = changed(Task(), **fields)
    return work_up(project, arrange_contents(project, quick=True))


@pytest.mark.parametrize("first", [416, 424])
def test_random_cures_work(first) -> None:  # type: ignore[no-untyped-def]
    """Random jobs, odd sizes, boards, windows and overlays: every cure that is offered."""
    seeds = range(first, first + 8)
    found = [one for seed in seeds for one in cures.taken(cures.job(random.Random(seed)))]
    assert len(found) >= 4
    assert [one for one in found if one.fault] == []


@pytest.mark.soak
@pytest.mark.parametrize("first", range(0, 80_000, 10_000))
def test_soak_a_thousand_cures_work(first) -> None:  # type: ignore[no-untyped-def]
    """125 of them, of which 99 in 100 at the least work; what it took is printed."""
    assert cures.main(125, first) == 0


@pytest.mark.parametrize("kind", ["ball", "flat", "cards"])
def test_ordinary_things_need_no_look(kind) -> None:  # type: ignore[no-untyped-def]
    """At the defaults every family makes them; only sheets that are too small are said."""
    for job in matrix.jobs(sizes=[1], kinds=[kind]):
        cell = matrix.cell(job)
        if cell.family in (*FLAT, *FREE) and not cell.made:
            assert "no shape for this" in cell.refusal
            continue
        assert cell.made, cell
        assert not cell.findings, cell


@pytest.mark.soak
def test_soak_the_whole_matrix() -> None:
    """Made with nothing to look at; a refusal has a button, or it is no shape for this."""
    assert matrix.main() == 0


@pytest.mark.parametrize("family", all_families(), ids=lambda f: f.key)
def test_a_ball_goes_into_what_is_made_for_it(family) -> None:  # type: ignore[no-untyped-def]
    """A ball is no polyhedron round it: it stands on the floor, not below."""
    work = worked(shape=Shape(key=family.key), contents=(Ball(name="moon", diameter=64, mass=20),))
    assert "thing-cannot-pass" not in {f.code for f in work.findings}


@given(value=st.floats(0.01, 900.0), places=st.integers(0, 3))
def test_rounding_up_is_never_too_little(value, places) -> None:  # type: ignore[no-untyped-def]
    """Up is no less, down no more, and neither by more than the last decimal."""
    up, down = rounded_up(value, places), rounded_down(value, places)
    assert down <= value <= up
    assert up - down <= 10.0**-places + 1e-9


@settings(max_examples=25)
@given(length=st.floats(60.0, 150.0), less=st.floats(0.0001, 9.0))
def test_the_inside_that_is_offered_suffices(length, less) -> None:  # type: ignore[no-untyped-def]
    """However little it lacks; the other lengths stay."""
    thing = Block(name="b", length=length, width=40, height=30, mass=1)
    need = worked(contents=(thing,)).arrangement.inside
    inside = tuple(max(1.0, n - less) if n == max(need) else n + 5 for n in need)
    work = worked(contents=(thing,), brief=Hollow(size=inside))
    found = next(f for f in work.findings if f.code == "contents-too-big")
    assert "lacks 0.0 mm" not in found.message
    assert found.cure is not None
    after = cured(work.task, found.cure)
    assert after.inside is not None
    assert all(a >= b for a, b in zip(after.inside, inside, strict=True))
    again = work_up(after, arrange_contents(after))
    assert "contents-too-big" not in {f.code for f in again.findings}


def test_a_board_left_alone_holds_the_floor() -> None:
    """A heavy book in a tray of medium card: the lightest board that holds, and a note says so."""
    book = Block(name="atlas", length=120, width=84, height=30, mass=240)
    left = worked(contents=(book,))
    assert left.design is not None
    assert left.sag is not None
    assert left.sag.holds
    note = next(f for f in left.findings if f.code == "usual-gave-way")
    assert note.level is Level.NOTE
    used = left.boards["tray"]
    assert note.message.startswith(used.title)
    assert {p.board.key for p in left.design.pieces} == {
        used.key
    }  # one board, one cutter's setting
    assert left.task.boards == {}
    assert left.settled.boards["tray"] == used.key
    chosen = worked(contents=(book,), boards={"tray": "medium-card"})
    found = next(f for f in chosen.findings if f.code == "floor-sags")
    assert found.cure is not None
    assert dict(found.cure.changes) == {"boards.tray": used.key}
    for lighter in (b for b in CATALOGUE if b.folds and b.grammage < used.grammage):
        again = worked(contents=(book,), boards={"tray": lighter.key})
        assert any(f.level is Level.LOOK for f in again.findings), lighter.key


def test_an_option_left_alone_takes_what_works() -> None:
    """A carton for a flat thing has another bottom; one that was chosen is refused, with a cure."""
    thing = Disc(name="star wheel", diameter=60, thickness=8, mass=20)
    shape = Shape(key="carton")
    small = (46.0, 15.0, 58.0)
    work = worked(shape=shape, brief=Hollow(size=small))
    assert work.design is not None
    assert work.design.settled == {"bottom": "glued"}
    assert work.options["bottom"] == "glued"
    note = next(f for f in work.findings if f.code == "usual-gave-way")
    assert note.level is Level.NOTE
    assert "Bottom: glued" in note.message
    chosen = worked(shape=Shape(key="carton", options={"bottom": "lock"}), brief=Hollow(size=small))
    assert chosen.design is None
    (found,) = chosen.findings
    assert found.cure is not None
    assert found.cure.label == "Bottom: glued"
    assert not work_up(cured(chosen.task, found.cure), None).blocked
    assert worked(shape=shape, contents=(thing,)).design is not None


def test_a_hollow_sized_by_its_contents_is_as_large_as_the_shape_asks() -> None:
    """A round box has room for its teeth; a size that was typed is refused with a cure."""
    thing = Disc(name="filter", diameter=25, thickness=5, mass=5)
    work = worked(shape=Shape(key="round-box"), contents=(thing,))
    assert work.design is not None
    assert work.inside[0] == pytest.approx(41.0)
    assert "made-larger" in {f.code for f in work.findings}
    typed = worked(shape=Shape(key="round-box"), brief=Hollow(size=(28.0, 28.0, 14.0)))
    (found,) = typed.findings
    assert found.cure is not None
    assert "41" in found.cure.label
    assert not work_up(cured(typed.task, found.cure), None).blocked


def test_what_nothing_ends_is_no_shape_for_it() -> None:
    """The refusal says so, and offers no button."""
    family = family_by_key("carton")
    error = FieldError("inside", "it cannot be", "Use magic.", (inside_way("length", 50.0),))
    found = refusal(error, Task(), (40.0, 30.0, 20.0), family, lambda _: None)
    assert found.code == "no-shape-for-it"
    assert found.cure is None
    assert "no shape for this" in found.message


def test_a_cure_that_does_not_end_its_finding_is_not_offered() -> None:
    """Nor one that brings something worse, nor one that changes nothing."""
    finding = Finding(Level.LOOK, "x", "X.", cure=Cure("Do", (("copies", 2),)))
    worse = Finding(Level.BLOCKED, "y", "Y.")
    same = Finding(Level.NOTE, "z", "Z.")
    assert ends(finding, [finding], [same])
    assert not ends(finding, [finding], [finding])
    assert not ends(finding, [finding], [worse])
    assert not ends(finding, [finding], None)
    assert offered(Task(), [finding], lambda _: [same])[0].cure is not None
    assert offered(Task(), [finding], lambda _: [worse])[0].cure is None
    idle = Finding(Level.LOOK, "x", "X.", cure=Cure("Do", (("copies", 1),)))
    assert offered(Task(), [idle], lambda _: [same])[0].cure is None


def test_errors_carry_their_ways_between_processes() -> None:
    """A refusal is pickled on its way from the worker."""
    import pickle

    error = FieldError("sides", "few", "Use 4.", (option_way("sides", 4.0),))
    again = pickle.loads(pickle.dumps(error))
    assert (again.field, again.problem, again.cure, again.ways) == (
        error.field, error.problem, error.cure, error.ways,
    )  # fmt: skip
