"""The shelf: every shape for the same contents, with its figures."""

from __future__ import annotations

import pytest

from jadeite.core.contents import Ball, Block
from jadeite.core.pictures import LIGHT
from jadeite.core.pipeline import arrange_contents, work_up
from jadeite.core.project import Hollow, Shape, Stock, Task, changed
from jadeite.core.shapes import all_families
from jadeite.core.shelf import SORTS, ShelfEntry, entry_of, sheets_of, shelf, sorted_shelf
from tests.core.shapes.closing import FACED, FLAT, FREE


def drawn(project: Task) -> dict[str, ShelfEntry]:
    """The whole shelf of a project."""
    out: list[ShelfEntry] = []
    shelf(project, {}, LIGHT, out.append)
    return {entry.key: entry for entry in out}


@pytest.fixture(scope="module")
def entries(request) -> dict[str, ShelfEntry]:  # type: ignore[no-untyped-def]
    """The shelf for a meteorite of 60 x 45 x 40 mm."""
    stone = Block(name="meteorite", length=60, width=45, height=40, mass=120)
    return drawn(changed(Task(), contents=(stone,)))


def test_every_family_is_on_the_shelf_with_its_nets_and_form(entries) -> None:  # type: ignore[no-untyped-def]
    """Real nets and a real folded form, the open shape first."""
    assert set(entries) == {family.key for family in all_families()}
    assert next(iter(entries)) == "tray-with-lid"
    for entry in entries.values():
        if entry.key in (*FLAT, *FREE):  # no shape for a stone, said in a few words
            assert "It is no shape for this" in entry.why
            continue
        assert entry.why == ""
        assert entry.form is not None
        assert entry.form.items
        assert 1 <= len(entry.nets) <= 4
        assert min(entry.outside) > 0
        assert entry.area > 0


def test_figures_are_those_of_the_design_itself(entries) -> None:  # type: ignore[no-untyped-def]
    """Worked up by itself, a shape has the same board, joints and minutes."""
    stone = Block(name="meteorite", length=60, width=45, height=40, mass=120)
    project = changed(Task(), contents=(stone,), shape=Shape(key="carton"))
    work = work_up(project, arrange_contents(project, quick=True))
    entry = entries["carton"]
    assert work.design is not None
    assert work.assembly is not None
    assert entry.area == pytest.approx(work.sizes["board-area"].value)
    glued = [j for j in work.design.joints if j.kind == "glue"]
    assert entry.glued == len({j.title for j in glued if not j.tab[0].startswith("lining")})
    assert entry.seconds == pytest.approx(work.assembly.seconds)
    assert entry_of(work, LIGHT).outside == pytest.approx(entry.outside)


def test_what_no_glue_and_no_scoring_tool_mean(entries) -> None:  # type: ignore[no-untyped-def]
    """The pyramid is tied; only the pillow has curved scores."""
    made = {k: e for k, e in entries.items() if not e.why}
    assert [k for k, e in made.items() if e.glued == 0] == ["pyramid"]
    assert [k for k, e in made.items() if e.curved] == ["pillow-box"]
    assert all(e.opens for e in made.values())


@pytest.mark.parametrize("by", [key for key, _ in SORTS])
def test_the_shelf_is_sorted_by_any_figure(entries, by) -> None:  # type: ignore[no-untyped-def]
    """Rising; shapes that cannot hold the contents come last."""
    refused = ShelfEntry("none", "A shape that cannot", "It is too narrow.")
    counts = {key: (number, 0) for number, key in enumerate(sorted(entries))}
    order = sorted_shelf([refused, *entries.values()], by, counts)
    last = {"none", *FLAT, *FREE}
    assert {entry.key for entry in order[-len(last) :]} == last
    value = {
        "name": lambda e: e.title,
        "board": lambda e: e.area,
        "size": lambda e: e.outside[0] * e.outside[1] * e.outside[2],
        "pieces": lambda e: e.pieces,
        "glued": lambda e: e.glued,
        "minutes": lambda e: e.seconds,
        "sheets": lambda e: counts[e.key][0],
    }[by]
    values = [value(entry) for entry in order if not entry.why]
    assert values == sorted(values)


def test_a_shape_that_cannot_hold_the_contents_says_why() -> None:
    """Two metres are more than any of them can be; each names the length."""
    project = changed(Task(), brief=Hollow(size=(2000.0, 60.0, 40.0)))
    found = drawn(project)
    made = {key for key, entry in found.items() if not entry.why}
    assert made == {*FACED, *FREE}  # they ask another size
    assert "2000" in found["tray-with-lid"].why


def test_with_nothing_to_go_in_each_shape_is_shown_as_itself() -> None:
    """Round something ordinary, and said so; a size that is typed is no example."""
    found = drawn(Task())
    assert not [entry.key for entry in found.values() if entry.why]
    assert all(entry.sample for entry in found.values() if entry.key not in (*FLAT, *FREE))
    assert found["star"].form is not None
    typed = drawn(changed(Task(), brief=Hollow(size=(90.0, 60.0, 40.0))))
    assert not [key for key, entry in typed.items() if entry.sample]
    assert typed["carton"].inside == (90.0, 60.0, 40.0)


def test_round_things_make_round_shapes_smaller() -> None:
    """A ball alone is measured as a ball: the dome and the six-sided box fit close round it."""
    ball = Ball(name="planet", diameter=90, mass=40)
    found = drawn(changed(Task(), contents=(ball,)))
    assert found["n-sided-box"].why == ""
    across = min(found["n-sided-box"].outside[:2])
    assert across < 110  # 93 mm, six sides, their tabs, and the lid over them
    assert found["domed-box"].outside[2] < 110


def test_sheets_are_counted_for_each_shape_on_the_stock_at_hand() -> None:
    """On sheets that are too small, pieces are left over."""
    stone = Block(name="meteorite", length=60, width=45, height=40, mass=120)
    project = changed(Task(), contents=(stone,))
    assert sheets_of(project, "carton", {}) == (1, 0)
    small = changed(project, stock=(Stock(name="scrap", width=100, height=100),))
    count = sheets_of(small, "carton", {})
    assert count is not None
    assert count[1] == 1
    assert not drawn(small)["carton"].reached
