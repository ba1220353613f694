"""Jobs of several made things: order, circles, removal, names, and one layout for all."""

from __future__ import annotations

import csv
import io
import json
from itertools import pairwise
from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from jadeite.cli import main
from jadeite.core.contents import Block
from jadeite.core.contents.things import MadeThing
from jadeite.core.errors import FieldError
from jadeite.core.findings import Level
from jadeite.core.formats import (
    export_all,
    load_project,
    project_from_text,
    project_text,
    save_project,
)
from jadeite.core.pipeline import plan_job_sheets, work_up_job
from jadeite.core.project import (
    Face,
    Hollow,
    Item,
    Project,
    Shape,
    Trial,
    changed,
    circle_of,
    edited,
    free_name,
    order_of,
    put_into,
    renamed,
    task_of,
    trials_of,
    with_item,
    with_item_change,
    without_item,
)
from tests import fold_reader

TRAY = Item(name="tray", brief=Hollow(size=(60.0, 40.0, 20.0)))
CARD = Item(name="card", shape=Shape(key="folded-card"), brief=Face(size=(105.0, 148.0)))


def box(name: str, *held: str) -> Item:
    """A tray for other items."""
    return Item(name=name, contents=tuple(MadeThing(name=h, item=h) for h in held))


def job(*items: Item) -> Project:
    """A job of items."""
    return changed(Project(), items=items)


def test_a_made_thing_has_the_size_and_weight_of_its_design() -> None:
    """From the FOLD text of the inner tray: extents over every ply go into the outer one."""
    from jadeite.core.formats.fold_file import fold_text

    made = work_up_job(job(box("outer", "tray"), TRAY))
    assert made.refused is None
    inner, outer = made.works["tray"], made.works["outer"]
    assert list(made.works) == ["tray", "outer"]
    assert inner.design is not None
    model = fold_reader.read(fold_text(inner.design))
    t = inner.design.pieces[0].board.thickness
    (thing,) = outer.task.contents
    for axis in range(3):
        points = [p[axis] for face in model.faces.values() for p in face.points]
        assert thing.size[axis] == pytest.approx(max(points) - min(points) + t, abs=1e-3)
    assert outer.sizes["contents-mass"].value == pytest.approx(inner.sizes["weight"].value)
    (body,) = outer.bodies
    assert sorted(body.size) == pytest.approx(sorted(thing.size))


def test_only_what_hangs_on_a_change_is_computed_again() -> None:
    """Of four items one holds another; the others keep what is known, the very object."""
    project = job(TRAY, box("outer", "tray"), CARD, changed(TRAY, name="other"))
    before = work_up_job(project)
    after = work_up_job(
        edited(project, "tray", brief=Hollow(size=(70.0, 40.0, 20.0))), before.works
    )
    kept = {name for name in project.names if after.works[name] is before.works[name]}
    assert kept == {"card", "other"}
    same = work_up_job(edited(project, "tray", title="Another title"), before.works)
    assert all(same.works[n] is before.works[n] for n in project.names)


@settings(max_examples=200)
@given(st.lists(st.tuples(st.integers(0, 5), st.integers(0, 5)), max_size=8))
def test_property_order_and_circles(links) -> None:  # type: ignore[no-untyped-def]
    """Each item after those that it holds; a circle is found just where a plain search does."""
    held = {n: {b for a, b in links if a == n} for n in range(6)}
    project = job(*(box(f"i{n}", *(f"i{m}" for m in sorted(held[n]))) for n in range(6)))
    order = order_of(project)
    for n in order:
        before = order[: order.index(n)]
        assert {f"i{m}" for m in held[int(n[1])]} <= set(before)

    def reaches(start: int, goal: int) -> bool:
        seen, stack = set(), [start]
        while stack:
            for m in held[stack.pop()]:
                if m == goal:
                    return True
                if m not in seen:
                    seen.add(m)
                    stack.append(m)
        return False

    in_circle = {f"i{n}" for n in range(6) if reaches(n, n)}
    circle = circle_of(project)
    assert bool(circle) == bool(in_circle)
    assert set(circle) <= in_circle
    assert in_circle.isdisjoint(order)


def test_a_circle_is_a_finding_that_names_it() -> None:
    """Also for what waits for it; what does not is made."""
    made = work_up_job(job(box("a", "b"), box("b", "a"), box("c", "a"), TRAY))
    assert list(made.works) == ["tray"]
    assert {f.item for f in made.findings} == {"a", "b", "c"}
    assert all(f.level is Level.BLOCKED for f in made.findings)
    words = made.findings[0].message
    assert "“a” is in “b”" in words
    assert "“b” is in “a”" in words
    assert made.refused is not None


def test_what_holds_something_that_is_refused_waits_for_it() -> None:
    """It says which."""
    bad = changed(TRAY, brief=Hollow(size=(5000.0, 40.0, 20.0)))
    made = work_up_job(job(bad, box("outer", "tray")))
    assert made.works["tray"].design is None
    (finding,) = made.findings
    assert (finding.item, finding.code) == ("outer", "waits-for-item")
    assert "“tray”" in finding.message


def test_an_item_that_another_holds_is_not_removed() -> None:
    """It says who holds it; taken out, it can go. The last stays."""
    project = job(TRAY, box("outer", "tray"))
    with pytest.raises(FieldError, match="“tray” is in “outer”"):
        without_item(project, "tray")
    free = edited(project, "outer", contents=())
    alone = without_item(free, "tray")
    assert alone.names == ("outer",)
    with pytest.raises(FieldError, match="all that is made"):
        without_item(alone, "outer")


def test_a_new_name_is_taken_over_everywhere() -> None:
    """In what holds it as well; a name that is taken, or none, is refused."""
    project = renamed(job(TRAY, box("outer", "tray")), "tray", "inner tray")
    assert project.item("outer").carried == ("inner tray",)
    for name in ("Outer", "…", ""):
        with pytest.raises(FieldError):
            renamed(project, "inner tray", name)
    assert free_name(project, "outer") == "outer 2"


def test_an_item_is_put_into_another_but_never_into_itself() -> None:
    """By however many others."""
    project = put_into(job(TRAY, box("a"), box("b")), "tray", "a")
    project = put_into(project, "a", "b")
    assert project.item("b").carried == ("a",)
    assert put_into(project, "a", "b") is project
    with pytest.raises(FieldError, match="would be in itself"):
        put_into(project, "b", "a")
    with pytest.raises(FieldError, match="would be in itself"):
        put_into(project, "a", "a")


def test_changes_go_to_the_item_or_to_the_job() -> None:
    """Each field has one place."""
    project = job(TRAY, CARD)
    out = edited(project, "card", copies=4, cutter="small", title="Both")
    assert (out.item("card").copies, out.item("tray").copies) == (4, 1)
    assert (out.cutter, out.title) == ("small", "Both")
    deep = with_item_change(project, "card", "shape.options.layers", 3.0)
    assert deep.item("card").shape.options == {"layers": 3.0}
    assert with_item_change(project, "card", "cutter", "small").cutter == "small"
    assert task_of(out, "card", {}).cutter == "small"


def test_sizes_of_made_things_are_not_kept() -> None:
    """The file says which item, not how large it is."""
    project = job(TRAY, box("outer", "tray"))
    task = work_up_job(project).works["outer"].task
    kept = edited(project, "outer", contents=task.contents)
    assert kept == project
    text = project_text(kept)
    assert "extents" not in text
    assert project_from_text(text) == project


@pytest.mark.parametrize(
    ("items", "part"),
    [
        ([{"name": "a"}, {"name": "A"}], "two items"),
        ([{"name": "…"}], "no letter"),
        ([{"name": "a", "contents": [{"kind": "made", "name": "x", "item": "x"}]}], "no item"),
        ([], "items"),
        ([{"name": "a", "inside": [1, 2, 3]}], "inside"),
        ([{"name": "a", "brief": {"kind": "face", "size": [1, 2, 3]}}], "brief"),
        ([{"name": "a", "brief": {"kind": "cloud"}}], "brief"),
        ([{"name": f"a{n}", "copies": 200} for n in range(3)], "400"),
        ([{"name": f"a{n}"} for n in range(41)], "items"),
    ],
)
def test_items_that_cannot_be_are_refused_in_one_line(items, part: str) -> None:  # type: ignore[no-untyped-def]
    """The field is named."""
    from jadeite.core.errors import FileError

    text = json.dumps({"format": "jadeite-project", "version": 2, "items": items})
    with pytest.raises(FileError, match=part) as caught:
        project_from_text(text)
    assert "\n" not in str(caught.value)


def test_a_project_of_one_item_reads_as_short_as_before() -> None:
    """A few lines more than without items, whatever is in it."""
    project = job(TRAY)
    assert len(project_text(project).splitlines()) <= 20
    assert json.loads(project_text(project))["items"] == [
        {"name": "tray", "brief": {"kind": "hollow", "size": [60.0, 40.0, 20.0]}}
    ]


# ------------------------------------------------------------------ sheets and files


def test_all_items_lie_on_the_same_sheets_as_often_as_they_are_made(tmp_path: Path) -> None:
    """Three cards and two trays: pieces counted in the cut files by another reader."""
    project = job(changed(TRAY, copies=2), changed(CARD, copies=3))
    made = work_up_job(project)
    sheets = plan_job_sheets(made)
    assert sheets.layout.unplaced == ()
    files = export_all(made, sheets, tmp_path)
    names = {path.name for path in files}
    assert {"untitled-box-card.fold", "untitled-box-tray.fold", "untitled-box-card.svg"} <= names
    rows = list(csv.DictReader(io.StringIO(
        (tmp_path / "untitled-box-cut-list.csv").read_text("utf-8-sig"))))  # fmt: skip
    assert {(r["item"], r["copies"]) for r in rows} == {("tray", "2"), ("card", "3")}
    placed = [place.piece for sheet in sheets.layout.sheets for place in sheet.placed]
    assert {r["piece"]: placed.count(r["piece"]) for r in rows} == {
        r["piece"]: int(r["copies"]) for r in rows
    }


def test_pieces_of_items_that_sound_alike_have_names_of_their_own() -> None:
    """Item “a” with a piece “b-c”, item “a b” with “c”: no file is written over another."""
    card = changed(CARD, name="card")
    alike = changed(CARD, name="card layer", shape=Shape(key="folded-card"))
    pieces = work_up_job(job(card, alike)).pieces
    names = [cut.piece.name for cut in pieces]
    assert len(names) == len(set(names))


def test_names_count_the_copies_and_stand_on_a_list() -> None:
    """Thirty place cards differ in a name."""
    from jadeite.core.formats.pages import print_pages

    helpers = tuple(f"Helper {n}" for n in range(30))
    project = job(changed(CARD, names=helpers, brief=Face(size=(89.0, 66.0))))
    made = work_up_job(project)
    assert made.works["card"].task.count == 30
    sheets = plan_job_sheets(made)
    placed = [place.piece for sheet in sheets.layout.sheets for place in sheet.placed]
    assert placed.count("card") == 30
    pages = print_pages(made, sheets)
    words = " ".join(
        item.text for page in pages for picture, _ in page.layers for item in picture.items
        if hasattr(item, "text")
    )  # fmt: skip
    assert all(name in words for name in helpers)


# ------------------------------------------------------------------ command line


def run(capsys, *words: object) -> tuple[int, str, str]:  # type: ignore[no-untyped-def]
    """Exit code, output and errors."""
    try:
        code = main([str(word) for word in words])
    except SystemExit as stop:
        code = int(stop.code or 0)
    said = capsys.readouterr()
    return code, said.out, said.err


def test_a_card_and_its_envelope_from_the_command_line(capsys, tmp_path: Path) -> None:  # type: ignore[no-untyped-def]
    """The words that scripts rely on; check gives a record for each item."""
    file = tmp_path / "invitation.jadeite"
    new = ("new", "folded-card", "--item", "card", "--face", "105x148mm", "-o", file)
    assert run(capsys, *new)[0] == 0
    add = ("add", file, "envelope", "--item", "envelope", "--around", "card")
    assert run(capsys, *add)[0] == 0
    code, out, _ = run(capsys, "check", file, "--json")
    assert code == 0
    items = json.loads(out)["items"]
    assert list(items) == ["card", "envelope"]
    assert all(
        set(record) == {"sizes", "findings", "joints", "bought"} for record in items.values()
    )
    assert items["envelope"]["sizes"]["inside-width"]["value"] == pytest.approx(154.84)
    code, out, _ = run(capsys, "export", file, "-o", tmp_path / "out", "--only", "fold,svg")
    assert code == 0
    assert (tmp_path / "out" / "folded-card-envelope.fold").exists()


def test_one_item_keeps_the_form_of_check(capsys, tmp_path: Path) -> None:  # type: ignore[no-untyped-def]
    """Sizes, findings, joints, bought things and counts of sheets at the top."""
    file = tmp_path / "box.jadeite"
    assert run(capsys, "new", "tray-with-lid", "--inside", "60x40x20mm", "-o", file)[0] == 0
    record = json.loads(run(capsys, "check", file, "--json")[1])
    assert set(record) == {"sizes", "findings", "joints", "bought", "sheets"}


@pytest.mark.parametrize(
    ("words", "part"),
    [
        (("envelope", "--around", "nobody"), "no item “nobody”"),
        (("envelope", "--item", "Tray"), "named “Tray”"),
        (("folded-card", "--inside", "90x60x1mm"), "--face"),
        (("tray-with-lid", "--face", "90x60mm", "--item", "b"), "--inside"),
        (("tray-with-lid", "--width", "90mm", "--item", "b"), "--inside"),
        (("folded-card", "--height", "90mm"), "--height"),
        (("folded-card", "--face", "90x60mm", "--inside", "1x1x1mm"), "do not go together"),
        (("folded-card", "--face", "90mm"), "width and a height"),
        (("folded-card", "--face", "5x5mm"), "outside what a card can be"),
        (("folded-card", "--copies", "many"), "--copies"),
        (("folded-card", "--copies", "0"), "copies"),
    ],
)
def test_what_cannot_be_added_is_refused_and_nothing_changes(capsys, tmp_path, words, part) -> None:  # type: ignore[no-untyped-def]
    """Exit 2, one line that names the field, the file as it was."""
    file = tmp_path / "job.jadeite"
    save_project(job(TRAY), file)
    before = file.read_text()
    code, _, err = run(capsys, "add", file, *words)
    assert code == 2
    assert part in err
    assert err.count("\n") == 1
    assert file.read_text() == before


def test_names_from_a_table(capsys, tmp_path: Path) -> None:  # type: ignore[no-untyped-def]
    """The first column; a table without a name is refused with its file."""
    table, file = tmp_path / "helpers.csv", tmp_path / "cards.jadeite"
    table.write_text('\ufeffAda Moon,front\n\n"Bo Comet, elder",back\n', encoding="utf-8")
    new = ("new", "folded-card", "--face", "89x66mm", "--names", table, "-o", file)
    assert run(capsys, *new)[0] == 0
    assert load_project(file).items[0].names == ("Ada Moon", "Bo Comet, elder")
    table.write_text("\n\n")
    code, _, err = run(capsys, *new)
    assert code == 2
    assert "helpers.csv" in err


def test_a_job_with_a_circle_says_so_and_exits_1(capsys, tmp_path: Path) -> None:  # type: ignore[no-untyped-def]
    """Nothing is exported."""
    file = tmp_path / "circle.jadeite"
    save_project(job(box("a", "b"), box("b", "a"), TRAY), file)
    code, out, _ = run(capsys, "check", file)
    assert code == 1
    assert "is in" in out
    code, _, err = run(capsys, "export", file, "-o", tmp_path / "out")
    assert code == 2
    assert not (tmp_path / "out").exists()
    assert "Nothing was written" in err


def test_thirteen_trays_each_in_the_next() -> None:
    """Every one holds the one before it, and is as much larger as its walls and room ask."""
    first = Item(name="tray 1", contents=(Block(name="meteorite", length=20, width=15, height=8),))
    items = [first, *(box(f"tray {n}", f"tray {n - 1}") for n in range(2, 14))]
    made = work_up_job(changed(Project(), items=tuple(reversed(items))), cures=False)
    sizes = [made.works[f"tray {n}"].inside for n in range(1, 14)]
    assert all(b > a for one, two in pairwise(sizes)
               for a, b in zip(sorted(one), sorted(two), strict=True))  # fmt: skip


def test_trials_stay_with_the_thing_that_was_tried() -> None:
    """Written down while it was the only one; then another comes, it is moved, one goes."""
    trial = Trial(date="2026-03-01", board="medium-card", intended=(60, 40, 20), clearance=1.6)
    one = changed(Project(), trials=(trial,))
    name = one.names[0]
    assert trials_of(one, name) == (trial,)
    two = with_item(one, Item(name="sleeve", shape=Shape(key="sleeve")))
    turned = changed(two, items=tuple(reversed(two.items)))
    assert [t.intended for t in trials_of(turned, name)] == [trial.intended]
    assert trials_of(turned, "sleeve") == ()
    again = renamed(turned, name, "lens box")
    assert len(trials_of(again, "lens box")) == 1
    assert without_item(again, "lens box").trials == ()
    assert len(without_item(again, "sleeve").trials) == 1
