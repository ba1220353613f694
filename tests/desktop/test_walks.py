"""Whole jobs in the real window, as a maker does them."""

from __future__ import annotations

from pathlib import Path

import pytest
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtGui import QMouseEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QComboBox

from jadeite.core.boards import board_by_key
from jadeite.core.contents.arrange import rules_of
from jadeite.core.findings import Level
from jadeite.core.formats import load_project
from jadeite.core.formats.board_library import load_boards
from jadeite.core.pictures import Label
from jadeite.desktop.app import new_window
from tests.core.contents.packing import faults
from tests.desktop.conftest import compared, settle
from tests.desktop.test_window import docket_words, type_into

LEFT = Qt.MouseButton.LeftButton
# kind, name, lengths in mm, as a maker would type them
TWELVE = (
    ("block", "filter case", ("48", "34", "14")),
    ("block", "battery", ("50", "26", "17")),
    ("block", "notebook", ("105", "74", "9")),
    ("cylinder", "eyepiece", ("31.7", "34")),
    ("cylinder", "pill tube", ("18", "62")),
    ("disc", "moon filter", ("30", "8")),
    ("ball", "cork ball", ("25",)),
    ("flat", "cloth", ("90", "60", "4")),
    ("cards", "chart cards", ("89", "57", "0.3")),
    ("standing", "place card", ("60", "38", "0.5")),
    ("light", "red light", ("38", "36")),
    ("loose", "dew beads", ("6",)),
)


def add(window, kind: str, name: str, lengths: tuple[str, ...]) -> None:  # type: ignore[no-untyped-def]
    """Add a thing by its tile and measure it."""
    panel = window.panels["contents"]
    QTest.mouseClick(panel.add_tiles[kind], LEFT)
    type_into(panel.editor.name, name)
    for edit, text in zip(panel.editor.measures.values(), lengths, strict=True):
        type_into(edit, text)


def blocked(window) -> list[str]:  # type: ignore[no-untyped-def]
    """What blocks, in words."""
    return [f.message for f in window.session.findings if f.level is Level.BLOCKED]


def words(view) -> list[str]:  # type: ignore[no-untyped-def]
    """All text of a drawn view."""
    return [i.text for i in view.picture().items if isinstance(i, Label)]


def test_twelve_unlike_things_into_one_box(window, qtbot) -> None:  # type: ignore[no-untyped-def]
    """Every kind, arranged without overlap, with two or three answers and a bound."""
    for kind, name, lengths in TWELVE:
        add(window, kind, name, lengths)
    settle(qtbot, window)
    things = window.session.task.contents
    assert [t.name for t in things] == [name for _, name, _ in TWELVE]
    assert docket_words(window, "contents").startswith("12 things")
    assert blocked(window) == []
    arrangement = window.session.arrangement()
    places = arrangement.places
    rules = [rules_of(things[p.thing]) for p in places]
    assert faults([p.cell for p in places], [p.low for p in places], rules) == []
    strip = window.centre.arrangements
    offered = [k for k, t in strip.tiles.items() if not t.isHidden()]
    assert 2 <= len(offered) <= 3
    assert arrangement.bound <= arrangement.cost
    assert "bound" in strip.words.text() or "Proved" in strip.words.text()
    sizes = {window.session.arrangements[k].inside for k in offered}
    assert len(sizes) == len(offered)
    other = next(k for k in offered if k != "least-board")
    strip.tiles[other].click()
    settle(qtbot, window)
    assert window.session.work.inside == window.session.arrangements[other].inside
    assert blocked(window) == []
    assert not window.grab().isNull()


def test_a_sachet_with_a_tag_into_a_sleeve(window, qtbot, tmp_path) -> None:  # type: ignore[no-untyped-def]
    """Measured, its tag not forgotten, slid into a sleeve that is picked from the shelf."""
    add(window, "flat", "sachet", ("65", "80", "6"))
    editor = window.panels["contents"].editor
    QTest.mouseClick(editor.ways["pocket"], LEFT)
    editor.tag.click()
    assert any("tag hangs outside" in f.message for f in window.session.findings)
    window.open_station("shape")
    QTest.mouseClick(window.panels["shape"].chooser.view.buttons["shelf"], LEFT)
    shelf = window.centre.shelf
    qtbot.waitUntil(lambda: "sleeve" in shelf.entries, timeout=30_000)
    assert shelf.tiles["sleeve"].title == "Sleeve"
    assert "mm" in shelf.tiles["sleeve"].lines[0]
    shelf.scroll.ensureWidgetVisible(shelf.tiles["sleeve"])
    QTest.mouseClick(shelf.tiles["sleeve"], LEFT)
    settle(qtbot, window)
    work = window.session.work
    assert work.family.key == "sleeve"
    assert blocked(window) == []
    # 3 mm in its width in all, 6 mm below the mouth, half a millimetre beside its thickness
    assert work.inside == pytest.approx((68.0, 86.0, 7.0))
    assert set(window.panels["shape"]._editors) == {"bottom", "finger-notch"}
    editor.hangs.buttons["inside"].click()
    settle(qtbot, window)
    assert window.session.work.inside[1] == pytest.approx(86.0 + 5.0 + 30.0)  # string and tag
    assert len(window.session.work.bodies) == 2
    file = tmp_path / "sachet.jadeite"
    window.session.save(file)
    assert load_project(file) == window.session.project
    window.session.undo()
    window.session.undo()
    assert window.session.work.family.key == "tray-with-lid"


def test_the_largest_tray_from_one_sheet(window, qtbot) -> None:  # type: ignore[no-untyped-def]
    """12 x 12 in: found in the background, and it really cuts from one sheet."""
    add(window, "block", "meteorite", ("60", "40", "25"))
    inside = window.panels["contents"].inside
    inside.choose("paper")
    assert inside.stock.currentText() == "12 × 12 in"
    before = window.session.work.inside
    QTest.mouseClick(inside.find, LEFT)
    assert not inside.stop.isHidden()
    settle(qtbot, window)
    assert "cuts from one sheet" in inside.found.text()
    assert "Meteorite" in inside.found.text()
    size = window.session.work.inside
    assert all(a > b for a, b in zip(size, before, strict=True))
    assert len(window.session.sheets.layout.sheets) == 1
    assert window.session.sheets.layout.unplaced == ()
    assert docket_words(window, "sheets").startswith("1 sheet ")
    window.session.undo()
    assert window.session.task.inside is None


def test_sized_by_a_plate(window, qtbot) -> None:  # type: ignore[no-untyped-def]
    """The floor alone, then the whole net, which must be smaller."""
    add(window, "block", "meteorite", ("60", "40", "25"))
    settle(qtbot, window)
    inside = window.panels["contents"].inside
    inside.choose("plate")
    for edit, text in zip(inside.plate, ("150", "110"), strict=True):
        type_into(edit, text)
    pick(inside.panel, "tray floor")
    assert window.session.task.plate.area == "floor"
    inside.find.click()
    settle(qtbot, window)
    floor = window.session.work.inside
    assert "fits the plate" in inside.found.text()
    pick(inside.panel, "net without flaps")
    inside.find.click()
    settle(qtbot, window)
    assert window.session.work.inside[0] < floor[0]
    assert len(window.session.work.design.pressed) == 2
    inside.both.click()
    inside.find.click()
    settle(qtbot, window)
    assert len(window.session.sheets.layout.sheets) == 1
    QTest.mouseClick(inside.over.buttons["wax"], LEFT)
    titles = [step.title for step in window.session.work.assembly.steps]
    assert "Rub wax over the raised pattern" in titles
    type_into(inside.plate[0], "20")
    inside.find.click()
    settle(qtbot, window)
    assert "larger plate" in inside.found.text()
    assert any(f.code == "plate-small" for f in window.session.findings)
    inside.choose("fixed")
    assert window.session.task.plate is None
    assert window.session.work.design.pressed == ()


def pick(combo: QComboBox, words: str) -> None:
    """Choose an entry as the maker does."""
    combo.setCurrentIndex(combo.findText(words))
    combo.activated.emit(combo.currentIndex())


def test_the_lightest_board_for_900_g(window, qtbot) -> None:  # type: ignore[no-untyped-def]
    """No card holds it alone; the reason is said, a cure is taken, and then it holds."""
    add(window, "block", "meteorite", ("90", "60", "35"))
    type_into(window.panels["contents"].editor.mass, "900")
    settle(qtbot, window)
    window.open_station("board")
    panel, chart = window.panels["board"], window.centre.board
    assert any(f.code == "floor-sags" for f in window.session.findings)
    compared(qtbot, window)
    found = panel.choice.comparison
    assert all(m.failing for m in found.meanings if not m.holds)
    assert any(w.startswith("limit ") for w in words(chart))
    best = found.lightest
    if best is None:
        assert "None of these boards holds" in panel.why.text()
    else:
        assert best.board.title in panel.why.text()
        assert "the next lighter, does not hold" in panel.why.text()
    qtbot.waitUntil(lambda: bool(panel.choice.remedies), timeout=60_000)
    remedy = next(r for r in panel.choice.remedies if r.holds)
    panel.choice.cure(remedy)
    settle(qtbot, window)
    assert not any(f.code == "floor-sags" for f in window.session.findings)
    assert blocked(window) == []
    assert window.session.work.sag.holds
    qtbot.waitUntil(lambda: not panel.choice.busy, timeout=60_000)
    assert panel.choice.laid[panel.choice.used()].sheets == len(window.session.sheets.layout.sheets)
    window.session.undo()
    assert any(f.code == "floor-sags" for f in window.session.findings)


def test_adding_80_lb_cover_by_typing_it(demo, qtbot, tmp_path) -> None:  # type: ignore[no-untyped-def]
    """Pounds alone are asked about; with the kind it is on the shelf, in the chart, in use."""
    demo.open_station("board")
    panel, chart = demo.panels["board"], demo.centre.board
    type_into(panel.shelf.packet, "80 lb")
    assert "of what" in panel.shelf.read.text()
    assert "cover" in panel.shelf.read.text()
    assert demo.session.library.boards == ()
    type_into(panel.shelf.packet, "80 lb cover")
    (board,) = demo.session.library.boards
    assert board.grammage == pytest.approx(216.3, abs=0.05)  # 80 x 1406.139 / (20 x 26)
    assert load_boards(demo.session.library.path) == (board,)
    compared(qtbot, demo)
    assert board.title in words(chart)
    QTest.mouseClick(chart, LEFT, pos=chart.row_middle(board.key).toPoint())
    settle(qtbot, demo)
    assert demo.session.task.board_of("tray") == board.key
    assert board in demo.session.task.own_boards
    assert blocked(demo) == []
    file = tmp_path / "own.jadeite"
    demo.session.save(file)
    other = new_window(tmp_path / "other", tmp_path / "config", tmp_path / "elsewhere")
    qtbot.addWidget(other, before_close_func=lambda w: w.session.discard())
    other.session.load(file)  # another machine, without the shelf
    assert other.session.work.boards["tray"] == board
    settle(qtbot, other)
    demo.session.undo()
    assert demo.session.task.board_of("tray") == "heavy-card"


def test_a_board_is_measured_priced_carried_and_taken_off(demo, qtbot, tmp_path) -> None:  # type: ignore[no-untyped-def]
    """One of the catalogue becomes one's own; CSV and JSON carry it; bad files change nothing."""
    demo.open_station("board")
    panel = demo.panels["board"]
    shelf = panel.shelf
    shelf.opener.click()
    shelf.which.setCurrentIndex(shelf.which.findData("heavy-card"))
    shelf._show_board()
    type_into(shelf.thickness, "0.31")
    type_into(shelf.numbers["price"], "0.4")
    type_into(shelf.texts["sheets"], "12 x 12 in; 210 x 297")
    own = board_by_key("heavy-card", demo.session.library.boards)
    assert (own.thickness, own.price, own.thickness_from) == (0.31, 0.4, "measured")
    assert own.sheets == ((pytest.approx(304.8), pytest.approx(304.8)), (210, 297))
    assert demo.session.work.boards["tray"].thickness == 0.31  # it is in use, so it counts now
    qtbot.waitUntil(lambda: not panel.choice.busy, timeout=60_000)
    assert panel.choice.laid["heavy-card"].cost is not None
    type_into(shelf.texts["sheets"], "12 by 12")
    assert "no size" in demo.findings._trouble
    for name in ("mine.csv", "mine.json"):
        shelf.write_out(tmp_path / name)
        assert load_boards(tmp_path / name)[0].price == 0.4
    shelf._forget()
    assert demo.session.library.boards == ()
    assert demo.session.work.boards["tray"].thickness == 0.31  # the project keeps its copy
    shelf.take_in(tmp_path / "mine.csv")
    assert demo.session.library.boards[0].thickness == 0.31
    (tmp_path / "bad.csv").write_text("key,title,grammage_g_m2,thickness_mm\nx,X,-4,0.2\n")
    shelf.take_in(tmp_path / "bad.csv")
    assert "grammage" in shelf.read.text()
    assert len(demo.session.library.boards) == 1


def test_an_unreadable_shelf_is_said_and_not_written_over(qtbot, tmp_path: Path) -> None:
    """What cannot be read is put aside, never lost."""
    (tmp_path / "data").mkdir()
    broken = tmp_path / "data" / "boards.json"
    broken.write_text("{ not json")
    made = new_window(tmp_path / "state", tmp_path / "config", tmp_path / "data")
    qtbot.addWidget(made, before_close_func=lambda w: w.session.discard())
    shelf = made.panels["board"].shelf
    assert "cannot be read" in shelf.read.text()
    type_into(shelf.packet, "2 mm greyboard")
    assert len(load_boards(broken)) == 1
    assert (tmp_path / "data" / "boards.unreadable.json").read_text() == "{ not json"


def drag(widget, pixels: int) -> None:  # type: ignore[no-untyped-def]
    """Press, move in steps, and release."""
    start = QPoint(10, widget.height() // 2)
    QTest.mousePress(widget, LEFT, pos=start)
    for step in range(4, pixels + 1, 4):
        at = QPointF(start + QPoint(step, 0))
        event = QMouseEvent(
            QMouseEvent.Type.MouseMove,
            at,
            QPointF(widget.mapToGlobal(at.toPoint())),
            LEFT,
            LEFT,
            Qt.KeyboardModifier.NoModifier,
        )
        QApplication.sendEvent(widget, event)
    QTest.mouseRelease(widget, LEFT, pos=start + QPoint(pixels, 0))


def test_dragging_a_number_drags_the_picture(demo, qtbot) -> None:  # type: ignore[no-untyped-def]
    """The box grows while the name is dragged; one undo takes all of it back."""
    panel = demo.panels["contents"]
    before = demo.session.task
    picture = demo.centre.table.picture()
    name = panel.editor._grid.itemAtPosition(0, 1).widget()
    assert name.text() == "Height"
    drag(name, 40)
    assert panel.editor.measures["height"].value() == pytest.approx(34.0 + 10.0)
    assert demo.session.work.inside[2] == pytest.approx(49.0, abs=5)
    assert demo.centre.table.picture() is not picture
    settle(qtbot, demo)
    demo.session.undo()
    assert demo.session.task == before
    edit = panel.editor.measures["height"]
    edit.setFocus()
    QTest.keyClick(edit, Qt.Key.Key_Up)
    assert edit.value() == 35.0
    QTest.keyClick(edit, Qt.Key.Key_Down, Qt.KeyboardModifier.ShiftModifier)
    assert edit.value() == pytest.approx(34.9)


def test_rules_room_and_dividers(demo, qtbot) -> None:  # type: ignore[no-untyped-def]
    """What a maker may say of a thing, and of all of them, changes the arrangement."""
    panel = demo.panels["contents"]
    editor = panel.editor
    editor.rules.click()
    editor.flags["bears"].click()
    editor.reach.setCurrentIndex(editor.reach.findData("front"))
    editor.reach.activated.emit(0)
    thing = demo.session.task.contents[0]
    assert (thing.bears, thing.reach) == (False, "front")
    before = demo.session.work.inside
    editor.room.own.click()
    type_into(editor.room.edit, "8")
    settle(qtbot, demo)
    assert demo.session.task.contents[0].clearance == 8.0
    assert demo.session.work.inside != before
    assert "Your own value" in editor.room.learned.text()
    panel.inside.usual.click()
    type_into(panel.inside.usual_edit, "3")
    assert demo.session.task.clearance == 3.0
    panel.inside.dividers.buttons["fitted"].click()
    settle(qtbot, demo)
    names = [p.name for p in demo.session.work.design.pieces]
    assert any(n.startswith("divider-") for n in names)
    assert blocked(demo) == []
    demo.open_station("board")
    assert "divider" in demo.panels["board"].boards
    demo.panels["board"].choice.use_in(("divider",), "heavy-card")
    assert demo.session.work.boards["divider"].key == "heavy-card"


def test_a_hollow_that_is_no_box(demo) -> None:  # type: ignore[no-untyped-def]
    """The eyepiece in a six-sided box: side = 2 r tan(30°), r half its width and its room."""
    form = demo.panels["contents"].other
    form.opener.click()
    side = form.results.rows["side"].reckoning.value
    assert side == pytest.approx(2 * (31 / 2 + 1.5) * 3**-0.5)
    form.form.setCurrentIndex(1)
    form._show()
    highest = form.results.rows["highest"].reckoning.value
    assert highest == pytest.approx(150 * (60 - 17.0) / 60 - 34)
    type_into(form.edits["bottom"], "10")
    assert "does not fit" in form.words.text()
