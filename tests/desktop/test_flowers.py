"""Flowers made in the window: where they sit, their rings, their outlines, their steps."""

from __future__ import annotations

import numpy as np
import pytest
from PyQt6.QtTest import QTest

from jadeite.core.findings import Level
from jadeite.core.pictures.primitives import Path
from jadeite.core.project import Span
from tests.desktop.conftest import settle


@pytest.fixture
def flower(demo, qtbot):  # type: ignore[no-untyped-def]
    """The demo project with one more made thing: a layered flower from the shelf."""
    demo.docket.add_button.click()
    demo.centre.shelf.pick("layered-flower")
    settle(qtbot, demo)
    return demo


def test_a_flower_is_picked_from_the_shelf_and_asks_for_its_place(flower, qtbot) -> None:  # type: ignore[no-untyped-def]
    """Its first station is Place; nothing is asked of an inside."""
    assert flower.docket.lines["contents"].title == "Place"
    assert "90 mm wide" in flower.docket.lines["contents"].entry.words
    assert [f.message for f in flower.session.work.findings if f.level > Level.NOTE] == []
    flower.open_station("contents")
    panel = flower.panels["contents"]
    assert panel.place.isVisibleTo(panel)
    assert not panel.inside.isVisibleTo(panel)
    assert not panel.face.isVisibleTo(panel)
    assert not panel.add_card.isVisibleTo(panel)
    assert "fullness" in panel.results.rows


def test_its_width_and_height_are_typed(flower, qtbot) -> None:  # type: ignore[no-untyped-def]
    """As people write them; without a height it is as high as it comes."""
    flower.open_station("contents")
    place = flower.panels["contents"].place
    edit = place.edits[0]
    edit.setFocus()
    edit.selectAll()
    QTest.keyClicks(edit, "12 cm")
    QTest.keyClick(edit, qtbot_return())
    settle(qtbot, flower)
    assert flower.session.task.brief == Span(width=120.0)
    assert flower.session.work.sizes["finished-width"].value == pytest.approx(120.0)
    place.free.click()
    settle(qtbot, flower)
    brief = flower.session.task.brief
    assert isinstance(brief, Span)
    assert brief.height is not None
    assert place.edits[1].isEnabled()


def qtbot_return():  # type: ignore[no-untyped-def]
    """The key that ends a number."""
    from PyQt6.QtCore import Qt

    return Qt.Key.Key_Return


def test_as_wide_as_the_place_where_it_sits(flower, qtbot) -> None:  # type: ignore[no-untyped-def]
    """On another made thing of the job, or the widest that the cutter takes."""
    flower.open_station("contents")
    settle(qtbot, flower)
    where = flower.panels["contents"].place.where
    words = [where.itemText(i) for i in range(where.count())]
    assert words[0] == "anywhere"
    assert any("cutter" in text for text in words)
    other = next(i for i, text in enumerate(words) if text.startswith("on “"))
    where.setCurrentIndex(other)
    where.activated.emit(other)
    settle(qtbot, flower)
    box = next(iter(flower.session.job_work.works.values()))
    brief = flower.session.task.brief
    assert isinstance(brief, Span)
    solid = box.solid
    assert solid is not None
    assert min(solid[0][:2]) - 0.1 <= brief.width <= min(solid[0][:2])


def test_rings_are_added_and_taken_away(flower, qtbot) -> None:  # type: ignore[no-untyped-def]
    """By numbers for each ring, the outermost first; undone like anything."""
    flower.open_station("shape")
    editor = flower.panels["shape"]._editors["petals"]
    assert editor.value() == [5, 4, 4, 3, 3]
    editor.more.click()
    settle(qtbot, flower)
    assert flower.session.work.options["petals"] == "5 5 4 4 3 3"
    assert editor.value() == [5, 5, 4, 4, 3, 3]
    editor.less.click()
    editor.boxes[0].setValue(8)
    settle(qtbot, flower)
    assert flower.session.work.options["petals"] == "8 5 4 4 3"
    assert len([p for p in flower.session.work.design.pieces if p.part.startswith("ring")]) == 5
    flower.session.undo()
    settle(qtbot, flower)
    assert flower.session.work.options["petals"] == "5 5 4 4 3"


def test_an_outline_is_chosen_by_its_picture_and_changed_by_its_numbers(flower, qtbot) -> None:  # type: ignore[no-untyped-def]
    """For all rings, or for one of them."""
    flower.open_station("shape")
    editor = flower.panels["shape"]._editors["outline"]
    editor.tiles["heart"].click()
    settle(qtbot, flower)
    assert flower.session.work.options["outline"] == "heart"
    editor.numbers["width"].setValue(80)
    settle(qtbot, flower)
    assert flower.session.work.options["outline"] == "heart width=80"
    assert editor.tiles["heart"].isChecked()
    editor.which.setCurrentIndex(2)  # ring 2
    editor.which.activated.emit(2)
    editor.tiles["pointed"].click()
    settle(qtbot, flower)
    words = flower.session.work.options["outline"]
    assert words == "heart width=80 / pointed / heart width=80"
    assert editor.tiles["pointed"].isChecked()


def test_a_pearl_is_chosen_shown_and_put_on_the_list(flower, qtbot) -> None:  # type: ignore[no-untyped-def]
    """In the middle of the finished flower, in the last step, and among what is needed."""
    flower.open_station("shape")
    settle(qtbot, flower)
    editor = flower.panels["shape"]._editors["centre-piece"]
    index = editor.findData("pearl")
    editor.setCurrentIndex(index)
    editor.activated.emit(index)
    settle(qtbot, flower)
    assert [body.name for body in flower.session.work.bodies] == ["pearl"]
    flower.open_station("assembly")
    settle(qtbot, flower)
    panel = flower.panels["assembly"]
    assert panel.besides.isVisibleTo(panel)
    assert panel.besides_words.text() == "1 pearl, 5.0 mm"
    panel.go(len(panel.steps) - 1)
    assert "pearl" in panel.title.text()
    assert "children" in panel.caution.text()


def test_rings_are_lapped_round_a_wound_strip(flower, qtbot) -> None:  # type: ignore[no-untyped-def]
    """Chosen in their lists; the strip's own numbers come with it, and the steps tell of both."""
    flower.open_station("shape")
    panel = flower.panels["shape"]
    rows = panel._lines
    assert not rows["strip-high"].isVisibleTo(panel)
    for key, value in (("gather", "laps"), ("centre-piece", "strip")):
        editor = panel._editors[key]
        index = editor.findData(value)
        editor.setCurrentIndex(index)
        editor.activated.emit(index)
        settle(qtbot, flower)
    for key, degrees in (("rise", 45.0), ("inner-rise", 65.0)):
        flower.session.set_field(f"shape.options.{key}", degrees)
        settle(qtbot, flower)
    assert rows["strip-high"].isVisibleTo(panel)
    work = flower.session.work
    assert [f.message for f in work.findings if f.level > Level.NOTE] == []
    laps = [joint for joint in work.design.joints if joint.title == "laps"]
    assert len(laps) == len({joint.tab for joint in laps}) > 5
    assert "centre" in {piece.title for piece in work.design.pieces}
    flower.open_station("assembly")
    settle(qtbot, flower)
    titles = [step.title for step in flower.panels["assembly"].steps]
    lap = next(n for n, title in enumerate(titles) if title.startswith("Lap the feet of "))
    assert lap < titles.index("Wind the strip for the middle") < len(titles) - 1
    assert titles[-1].startswith("Glue the centre to ring")


def test_an_outline_is_read_from_a_drawing(flower, qtbot, tmp_path) -> None:  # type: ignore[no-untyped-def]
    """It shows in its tile, its numbers are those that it takes, and the flower is made with it."""
    file = tmp_path / "drop.svg"
    path = "M30 78 C 28 60 4 45 6 22 C 8 6 22 2 30 2 C 38 2 52 6 54 22 C 56 45 32 60 30 78 Z"
    file.write_text(f'<svg xmlns="http://www.w3.org/2000/svg"><path d="{path}"/></svg>', "utf-8")
    flower.open_station("shape")
    settle(qtbot, flower)
    panel = flower.panels["shape"]
    editor = panel._editors["outline"]
    with qtbot.waitSignal(panel.drawings.job.succeeded, timeout=60_000):
        panel.drawings.take_in(editor, file)
    settle(qtbot, flower)
    assert flower.session.work.options["outline"].startswith("own widths=")
    assert flower.session.work.design is not None
    assert editor.tiles["own"].isChecked()
    assert editor.numbers["width"].isEnabled()
    assert not editor.numbers["belly"].isEnabled()
    said: list[str] = []
    flower.session.trouble.connect(said.append)
    with qtbot.waitSignal(panel.drawings.job.failed, timeout=60_000):
        panel.drawings.take_in(editor, tmp_path / "none.svg")
    assert said
    assert said[0].startswith("Outline: ")


def test_what_shows_from_above_is_a_picture_with_numbers(flower, qtbot) -> None:  # type: ignore[no-untyped-def]
    """On the Shape station, for a flower only."""
    flower.open_station("shape")
    settle(qtbot, flower)
    card = flower.panels["shape"].seen
    assert card.isVisibleTo(flower.panels["shape"])
    lines = card.rows.text().splitlines()
    assert lines[0].startswith("a  Leaf ring: ")
    assert lines[-1].startswith("Bare within the disc: ")
    assert len(lines) == len(flower.session.work.seen) + 1
    other = next(name for name in flower.session.project.names if name != flower.session.chosen)
    flower.session.choose(other)
    settle(qtbot, flower)
    assert not card.isVisibleTo(flower.panels["shape"])


def test_every_option_has_pictures_that_can_be_picked(flower, qtbot) -> None:  # type: ignore[no-untyped-def]
    """Of rings and outlines as of all others."""
    flower.open_station("shape")
    panel = flower.panels["shape"]
    panel.show_pictures.setChecked(True)
    thumbs = panel.pictures.thumbs
    qtbot.waitUntil(lambda: all(t.entry is not None for t in thumbs.values()), timeout=300_000)
    assert ("petals", "6 6 6 6 6") in thumbs
    thumbs["petals", "6 6 6 6 6"].click()
    settle(qtbot, flower)
    assert flower.session.work.options["petals"] == "6 6 6 6 6"


def test_options_that_change_nothing_are_put_away(flower, qtbot) -> None:  # type: ignore[no-untyped-def]
    """The rod of petals that are folded, leaves where there are none; back when they act."""
    flower.open_station("shape")
    panel = flower.panels["shape"]
    panel.show_pictures.setChecked(True)

    def shown() -> set[str]:
        lines = panel._lines
        assert {k for k, row in panel.pictures.rows.items() if row.isVisibleTo(panel)} == {
            key for key, row in lines.items() if row.isVisibleTo(panel)
        }
        return {key for key, row in lines.items() if row.isVisibleTo(panel)}

    assert {"rod", "tips", "slant", "leaves", "leaf-fold", "centre"} <= shown()
    assert shown().isdisjoint({"fold", "step", "foam", "pearl", "behind", "hole"})
    for key, value in (("curl", "fold"), ("base", "none"), ("sizes", "step")):
        flower.session.set_field(f"shape.options.{key}", value)
        settle(qtbot, flower)
    assert {"fold", "step"} <= shown()
    assert shown().isdisjoint({"rod", "tips", "slant", "leaves", "leaf-fold", "centre"})


def test_another_shape_while_the_options_are_being_shown(flower, qtbot) -> None:  # type: ignore[no-untyped-def]
    """The rest of what was begun is shown still: it is of the shape of which it was begun."""
    flower.open_station("shape")
    settle(qtbot, flower)
    begun = flower.panels["shape"].refreshing()
    next(begun)
    flower.session.set_field("shape.key", "pyramid")
    settle(qtbot, flower)
    assert flower.session.work.family.key == "pyramid"
    for _ in begun:
        pass
    flower.refresh()
    settle(qtbot, flower)
    assert flower.panels["shape"]._editors.keys() >= {"sides"}


def test_a_rolled_flower_beside_it(flower, qtbot) -> None:  # type: ignore[no-untyped-def]
    """Wound on the table by the lift; laid on sheets and made in steps with all the rest."""
    flower.docket.add_button.click()
    flower.centre.shelf.pick("rolled-flower")
    settle(qtbot, flower)
    work = flower.session.work
    assert work.family.key == "rolled-flower"
    assert work.lift is not None
    assert "wound" in [label for _, label in work.lift.stops]
    for value in (0.0, 0.4, 1.0):
        flower.centre.lift.set_value(value)
        qtbot.waitUntil(lambda: not flower.centre.table.busy, timeout=60_000)
        assert flower.centre.table.picture() is not None
    assert flower.session.sheets is not None
    names = {placed.piece for s in flower.session.sheets.layout.sheets for placed in s.placed}
    assert any("rolled" in name for name in names)


def test_each_step_fills_the_table(demo, qtbot) -> None:  # type: ignore[no-untyped-def]
    """One flower of many that is glued is shown as large as the table allows, not where it ends."""
    demo.docket.add_button.click()
    demo.centre.shelf.pick("branch")
    settle(qtbot, demo)
    demo.open_station("assembly")
    steps = demo.session.work.assembly.steps
    table = demo.centre.table
    shown = []
    for number, step in enumerate(steps):
        if not step.title.startswith("Glue"):
            continue
        demo.panels["assembly"].go(number)
        settle(qtbot, demo)
        lines = [line for item in table.picture().items if isinstance(item, Path)
                 and item.tag for line in item.rings]  # fmt: skip
        wide, high = np.ptp(np.concatenate(lines), axis=0)
        shown.append(max(wide / table.width(), high / table.height()))
    assert len(shown) >= 4
    assert min(shown) > 0.5


def test_a_place_chosen_as_another_thing_opens_changes_nothing(flower, qtbot) -> None:  # type: ignore[no-untyped-def]
    """Its card is shown until that is drawn; what is sized by its contents has no place."""
    flower.open_station("contents")
    place = flower.panels["contents"].place
    place.where.addItem("on a lid", 55.0)
    flower.session.choose(flower.session.project.items[0].name)
    brief = flower.session.task.brief
    assert not isinstance(brief, Span)
    place.where.activated.emit(place.where.count() - 1)
    place.free.click()
    settle(qtbot, flower)
    assert flower.session.task.brief == brief
