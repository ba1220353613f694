"""The shelf, the pictures of options, and cutting in two, in the real window."""

from __future__ import annotations

import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest

from jadeite.core.contents import Ball, Light
from jadeite.core.project import Hollow, Shape, Stock, Task, changed
from jadeite.core.shapes import PURPOSES, all_families, family_by_key
from tests.desktop.conftest import settle
from tests.jobs import project_of

LEFT = Qt.MouseButton.LeftButton


@pytest.fixture
def shelf(demo, qtbot):  # type: ignore[no-untyped-def]
    """The shelf of the demo project, all of it drawn and counted."""
    window = demo
    window.show_shelf()
    view = window.centre.shelf
    qtbot.waitUntil(lambda: len(view.entries) == len(all_families()), timeout=60_000)
    qtbot.waitUntil(lambda: not view.pending, timeout=60_000)
    return view


def test_the_shelf_is_sorted_and_sifted(shelf) -> None:  # type: ignore[no-untyped-def]
    """By any figure; filters leave only what passes, and say how many."""
    assert set(shelf.shown()) == {family.key for family in all_families()}
    shelf.sort.setCurrentIndex(shelf.sort.findData("board"))
    purposes = list(PURPOSES)
    order = [purposes.index(family_by_key(k).purpose) for k in shelf.shown()]
    assert order == sorted(order)
    assert len(set(order)) == 5  # to hold, to light, to bloom, to write on, to stand
    for purpose in set(order):
        held = [
            k for k, p in zip(shelf.shown(), order, strict=True)
            if p == purpose and not shelf.entries[k].why
        ]  # fmt: skip
        areas = [shelf.entries[key].area for key in held]
        assert areas == sorted(areas)
    places = [shelf.tiles[key].pos() for key in shelf.shown()]
    assert [(p.y(), p.x()) for p in places] == sorted((p.y(), p.x()) for p in places)
    shelf.filters["no-glue"].click()
    assert shelf.shown() == ["pyramid"]
    assert shelf.tiles["pyramid"].isVisible()
    assert not shelf.tiles["carton"].isVisible()
    assert "1 of" in shelf.note.text()
    shelf.filters["no-glue"].click()
    shelf.filters["no-scoring"].click()
    assert "pillow-box" not in shelf.shown()
    shelf.filters["no-scoring"].click()
    shelf.sort.setCurrentIndex(shelf.sort.findData("sheets"))
    for purpose in PURPOSES:
        counts = [
            shelf.sheets[k][0] for k in shelf.shown()
            if not shelf.entries[k].why and family_by_key(k).purpose == purpose
        ]  # fmt: skip
        assert counts == sorted(counts)
    assert "sheet" in " ".join(shelf.tiles["carton"].lines)
    assert not shelf.image().isNull()


def test_tiles_stay_where_they_are_until_all_are_drawn(demo, qtbot) -> None:  # type: ignore[no-untyped-def]
    """Nothing slides away under the pointer; the sorting is done once, at the end."""
    view = demo.centre.shelf
    demo.show_shelf()
    seen = set()

    def watch() -> bool:
        if view._busy:
            seen.add(tuple((t.pos().x(), t.pos().y()) for t in view.tiles.values()))
        return len(view.entries) == len(all_families()) and not view.pending

    qtbot.waitUntil(watch, timeout=60_000)
    assert len(seen) == 1
    places = [(t.pos().y(), t.pos().x()) for t in (view.tiles[k] for k in view.shown())]
    assert places == sorted(places)


def test_picking_a_shape_opens_it_on_the_table_and_can_be_taken_back(window, shelf, qtbot) -> None:  # type: ignore[no-untyped-def]
    """By the keyboard too; the options of a shape are as they were left."""
    window.session.set_field("shape.options.lid-depth", 11.0)
    settle(qtbot, window)
    tile = shelf.tiles["n-sided-box"]
    tile.setFocus()
    QTest.keyClick(tile, Qt.Key.Key_Space)
    settle(qtbot, window)
    assert window.session.task.shape.key == "n-sided-box"
    assert window.centre.stack.currentWidget() is window.centre.table
    assert window.centre.foot.isVisible()
    assert window.panels["shape"].chooser.name.text() == "N-sided box"
    window.show_shelf()
    shelf.pick("tray-with-lid")
    assert window.session.task.shape.options["lid-depth"] == 11.0
    window.session.undo()
    settle(qtbot, window)
    assert window.session.task.shape.key == "n-sided-box"


@pytest.mark.parametrize(
    ("key", "options"),
    [
        ("domed-box", {"sides": 6.0}),
        ("gathered-box", {"seam": "tongue"}),
        ("chest", {"stand-ups": 3.0}),
        ("carton", {"bottom": "lock"}),
        ("petal-lantern", {"made-as": "single"}),
        ("petal-lantern", {"made-as": "whole"}),
        ("globe", {"sides": 8.0}),
        ("star", {"solid": "cube"}),
        ("spire", {"sides": 5.0}),
        ("lantern", {"handle": "strap", "bottom": "lock"}),
    ],
)
def test_families_stand_closed_in_the_window(window, qtbot, key, options) -> None:  # type: ignore[no-untyped-def]
    """Picked, lifted from flat to closed, stepped through, laid on sheets: nothing blocks."""
    things = (Ball(name="planet", diameter=90),) if key == "domed-box" else ()
    if key in ("petal-lantern", "globe", "star", "spire"):
        things = (Light(name="path light", mass=20),)
    inside = None if things else (120.0, 80.0, 70.0)
    project = changed(
        Task(),
        contents=things,
        brief=Hollow(size=inside),
        shape=Shape(key=key, options=options),
        stock=(Stock(name="large sheet", width=900, height=600),),
        cutter="hand",
    )
    window.session.open_copy(project_of(project))
    window.open_station("shape")
    settle(qtbot, window)
    assert not window.session.work.blocked
    assert "yes" in window.panels["shape"].closes.text()
    for value in (0.0, 0.3, 0.6, 0.85, 1.0):
        window.centre.lift.set_value(value)
        window.centre.table.repaint()
    window.open_station("assembly")
    panel = window.panels["assembly"]
    for number in range(len(panel.steps)):
        panel.go(number)
    window.open_station("sheets")
    settle(qtbot, window)
    assert window.session.sheets is not None
    assert len(window.session.sheets.layout.sheets) >= 1
    assert not window.grab().isNull()


def test_every_option_is_shown_by_pictures_that_set_it(demo, qtbot) -> None:  # type: ignore[no-untyped-def]
    """Each choice drawn from the shape itself; a click makes it so."""
    window = demo
    window.session.edit(shape=Shape(key="carton"))
    window.open_station("shape")
    settle(qtbot, window)
    panel = window.panels["shape"]
    panel.show_pictures.click()
    pictures = panel.pictures
    qtbot.waitUntil(lambda: all(t.entry for t in pictures.thumbs.values()), timeout=60_000)
    family = window.session.work.family
    assert {key for key, _ in pictures.thumbs} == {option.key for option in family.options}
    glued = pictures.thumbs["bottom", "glued"]
    assert glued.isVisible()
    assert glued.entry.glued > pictures.thumbs["bottom", "lock"].entry.glued
    QTest.mouseClick(glued, LEFT)
    settle(qtbot, window)
    assert window.session.task.shape.options["bottom"] == "glued"
    assert glued.isChecked()


def test_a_tray_is_cut_for_a_small_cutter_and_the_cut_overruled(window, qtbot) -> None:  # type: ignore[no-untyped-def]
    """The finding's cure cuts it where it costs least; another fold, or whole, can be chosen."""
    project = changed(Task(), brief=Hollow(size=(80.0, 60.0, 30.0)), cutter="small")
    window.session.open_copy(project_of(project))
    window.open_station("sheets")
    settle(qtbot, window)
    finding = next(f for f in window.session.findings if f.code == "piece-fits-no-sheet")
    window.session.cure(finding)
    settle(qtbot, window)
    assert window.session.findings == ()
    card = window.panels["sheets"].split
    box = card.choices["tray"]
    assert box.currentData() == window.session.task.splits["tray"]
    assert box.count() == 6  # whole, four folds, two halves
    box.setCurrentIndex(box.findData("left"))
    box.activated.emit(box.currentIndex())
    settle(qtbot, window)
    assert window.session.task.splits == {"tray": "left"}
    box = card.choices["tray"]
    box.setCurrentIndex(0)
    box.activated.emit(0)
    settle(qtbot, window)
    assert window.session.task.splits == {}


def test_folds_are_perforated_from_the_cutting_station(demo, qtbot) -> None:  # type: ignore[no-untyped-def]
    """For a cutter that has no scoring tool."""
    window = demo
    window.open_station("cutting")
    settle(qtbot, window)
    box = window.panels["cutting"].folds
    box.setCurrentIndex(box.findData("perforated"))
    box.activated.emit(box.currentIndex())
    settle(qtbot, window)
    assert window.session.task.folds == "perforated"
    steps = {p.step for s in window.session.sheets.cutting.sheets for p in s.paths}
    assert "score" not in steps
    assert "perforate" in steps


def test_an_overlay_is_put_on_the_chosen_panel_and_taken_away(demo, qtbot) -> None:  # type: ignore[no-untyped-def]
    """Its border is a number that can be typed; one undo takes a change back."""
    window = demo
    window.open_station("shape")
    panel = window.panels["shape"]
    panel.choose(("tray", "front"))
    panel.panel_card.overlay.click()
    settle(qtbot, window)
    assert [o.border for o in window.session.task.overlays] == [4.0]
    assert not window.session.work.blocked
    assert "overlay-1" in {p.name for p in window.session.work.design.pieces}
    panel.panel_card.border.setFocus()
    panel.panel_card.border.selectAll()
    QTest.keyClicks(panel.panel_card.border, "6")
    QTest.keyClick(panel.panel_card.border, Qt.Key.Key_Return)
    settle(qtbot, window)
    assert [o.border for o in window.session.task.overlays] == [6.0]
    assert window.session.work.sizes["overlay-1-border"].value == 6.0
    assert panel.panel_card.overlay.text() == "Take the overlay away"
    QTest.mouseClick(panel.panel_card.stiffener.buttons["stiff"], LEFT)
    qtbot.wait(50)
    assert [o.stiffener for o in window.session.task.overlays] == [True]
    assert window.session.work.boards["stiffener"].key == "thin-chipboard"
    assert window.session.work.sizes["overlay-1-wrap"].value == pytest.approx(1.23)
    QTest.mouseClick(panel.panel_card.stiffener.buttons["plain"], LEFT)
    qtbot.wait(50)
    QTest.mouseClick(panel.panel_card.foam.buttons["2"], LEFT)
    qtbot.wait(50)
    leaves = panel.panel_card.cutouts.findData("leaves")
    panel.panel_card.cutouts.setCurrentIndex(leaves)
    panel.panel_card.cutouts.activated.emit(leaves)
    settle(qtbot, window)
    assert [(o.foam, o.pattern) for o in window.session.task.overlays] == [(2.0, "leaves")]
    assert window.session.work.sizes["overlay-1-foam"].value == 2.0
    assert len(window.session.work.design.piece("overlay-1").panels[0].openings) > 2
    for value in (0.0, 0.1, 0.5, 1.0):
        window.centre.lift.set_value(value)
        window.centre.table.repaint()
    panel.panel_card.overlay.click()
    settle(qtbot, window)
    assert window.session.task.overlays == ()
    told = []
    window.session.trouble.connect(told.append)
    panel.panel_card.border.set_value(30.0, "mm")
    panel.choose(("tray", "front"))
    panel.panel_card.overlay.click()  # refused, it is not kept; what would do is said
    settle(qtbot, window)
    assert window.session.task.overlays == ()
    assert any("leaves nothing of the" in words and "Use" in words for words in told)
    panel.choose(("tray", "tab.left.front"))
    assert not panel.panel_card.overlay.isEnabled()


def test_a_dome_is_drawn_plainer_only_while_it_is_turned_or_lifted(window, qtbot) -> None:  # type: ignore[no-untyped-def]
    """Dragging view or lift leaves out faint lines and edges; letting go brings them back."""
    project = changed(
        Task(), contents=(Ball(name="planet", diameter=90),), shape=Shape(key="domed-box")
    )
    window.session.open_copy(project_of(project))
    window.open_station("shape")
    settle(qtbot, window)
    window.centre.lift.set_value(1.0)
    table = window.centre.table
    qtbot.waitUntil(lambda: not (window.busy or table.busy), timeout=60_000)
    whole = len(table.picture().items)
    spot = table.rect().center()
    QTest.mousePress(table, LEFT, pos=spot)
    QTest.mouseMove(table, spot + QPoint(30, 10))
    QTest.mouseMove(table, spot + QPoint(60, 15))
    assert table.turning
    assert len(table.picture().items) < 0.8 * whole
    QTest.mouseRelease(table, LEFT, pos=spot + QPoint(60, 15))
    assert not table.turning
    assert len(table.picture().items) > 0.9 * whole
    slider = window.centre.lift.slider
    end = QPoint(round(slider._x(1.0)), 14)
    QTest.mousePress(slider, LEFT, pos=end)  # held, it is moving: as plain as while it turns
    assert len(table.picture().items) < 0.8 * whole
    QTest.mouseRelease(slider, LEFT, pos=end)
    assert window.centre.lift.value() == 1.0
    assert len(table.picture().items) > 0.9 * whole


def test_one_more_made_thing_is_picked_from_the_shelf(demo, qtbot) -> None:  # type: ignore[no-untyped-def]
    """Each shape as itself, none greyed for what is in the open one; or none after all."""
    demo.docket.add_button.click()
    shelf = demo.centre.shelf
    assert shelf.asking.isVisible()
    qtbot.waitUntil(lambda: len(shelf.entries) == len(all_families()), timeout=60_000)
    assert not [key for key, entry in shelf.entries.items() if entry.why]
    assert not any(tile.isChecked() for tile in shelf.tiles.values())
    shelf.left.emit()
    assert not shelf.asking.isVisible()
    assert demo.centre.stack.currentWidget() is demo.centre.table
    assert len(demo.session.project.items) == 1
    demo.docket.add_button.click()
    shelf.tiles["envelope"].click()
    settle(qtbot, demo)
    assert [item.shape.key for item in demo.session.project.items] == ["tray-with-lid", "envelope"]
    assert demo.station == "contents"
    demo.show_shelf()
    assert not shelf.asking.isVisible()
    qtbot.waitUntil(lambda: not shelf.pending, timeout=60_000)


def test_the_inside_of_contents_counts_what_is_on_the_walls(demo, qtbot) -> None:  # type: ignore[no-untyped-def]
    """A lined lantern: its inside as it is reckoned is the one that the docket tells."""
    light = Light(name="path light", diameter=38, height=30)
    demo.session.edit(
        contents=(light,), shape=Shape(key="lantern"), brief=Hollow(), boards={},
        usual_windows=True, windows=(),
    )  # fmt: skip
    settle(qtbot, demo)
    inside = demo.session.work.inside
    assert inside[0] > demo.session.arrangement().inside[0]  # linings lie on the walls
    rows = {key: value for key, value, _ in demo.panels["contents"]._results()}
    told = [rows[f"inside-{name}"].value for name in ("length", "width", "height")]
    assert told == pytest.approx(inside)
    for axis, name in enumerate(("length", "width")):
        terms = rows[f"inside-{name}"].inputs
        assert sum(t.value for t in terms if "walls" in t.name) == pytest.approx(
            inside[axis] - demo.session.arrangement().inside[axis]
        )
