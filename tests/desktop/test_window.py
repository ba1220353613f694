"""The real window, driven as a person would."""

from __future__ import annotations

import json
import os
import signal
import subprocess
import sys
import textwrap
from pathlib import Path

import pytest
from PyQt6.QtCore import QEvent, QMimeData, QObject, QPoint, QPointF, Qt, QUrl
from PyQt6.QtGui import QDropEvent, QGuiApplication
from PyQt6.QtPrintSupport import QPrintPreviewDialog, QPrintPreviewWidget
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QAbstractButton, QLabel, QMessageBox, QPushButton, QWidget

from jadeite.core.formats import load_project, save_project
from jadeite.core.formats.journal import left_over
from jadeite.desktop.app import application, new_window
from jadeite.desktop.commands import demo_project
from jadeite.desktop.docket import STATIONS
from tests.desktop.conftest import settle

LEFT = Qt.MouseButton.LeftButton


def type_into(edit, text: str) -> None:  # type: ignore[no-untyped-def]
    """Replace the text of a field and finish it with Enter."""
    edit.setFocus()
    edit.selectAll()
    QTest.keyClicks(edit, text)
    QTest.keyClick(edit, Qt.Key.Key_Return)


def docket_words(window, key: str) -> str:  # type: ignore[no-untyped-def]
    """A station's line on the docket."""
    return window.docket.lines[key].entry.words


def test_empty_window_says_what_to_do(window) -> None:  # type: ignore[no-untyped-def]
    """No design, no error: what to do next."""
    assert docket_words(window, "contents") == "nothing yet: add a thing"
    assert not window.write_button.isEnabled()
    assert window.centre.table.picture() is None
    for key, _ in STATIONS:
        window.open_station(key)
        assert not window.grab().isNull()


def test_entering_contents_changes_the_docket(window, qtbot) -> None:  # type: ignore[no-untyped-def]
    """Add a round thing by its tile, measure it, and everything follows."""
    panel = window.panels["contents"]
    QTest.mouseClick(panel.add_tiles["cylinder"], LEFT)
    type_into(panel.editor.name, "eyepiece")
    type_into(panel.editor.measures["diameter"], "1 1/4 in")
    type_into(panel.editor.measures["height"], "34")
    panel.editor.count.setValue(2)
    type_into(panel.editor.mass, "60")
    settle(qtbot, window)
    (thing,) = window.session.task.contents
    assert (thing.name, thing.count, thing.mass) == ("eyepiece", 2, 60.0)
    assert thing.diameter == pytest.approx(31.75)
    assert "2 things" in docket_words(window, "contents")
    assert "8 glue joints" in docket_words(window, "shape")
    assert "floor sags" in docket_words(window, "board")
    assert "sheet" in docket_words(window, "sheets")
    assert "last seam" in docket_words(window, "assembly")
    before = docket_words(window, "contents")
    type_into(panel.editor.measures["height"], "5 cm")
    settle(qtbot, window)
    assert docket_words(window, "contents") != before
    assert window.session.work.design is not None
    assert window.write_button.isEnabled()


@pytest.mark.parametrize("text", ["0", "-4", "nan", "10 km", "wide", "1e999", ""])
def test_a_bad_number_is_said_and_loses_nothing(text, window) -> None:  # type: ignore[no-untyped-def]
    """The field turns, the foot names it with the cure, the document stays."""
    panel = window.panels["contents"]
    panel.add_thing("block")
    before = window.session.task
    edit = panel.editor.measures["length"]
    type_into(edit, text)
    if text == "":
        edit.clear()
        edit.setModified(True)
        edit.editingFinished.emit()
    assert window.session.task == before
    assert edit.property("state") == "wrong"
    assert "Length" in window.findings._trouble
    assert "Use" in window.findings._trouble or "Type" in window.findings._trouble
    type_into(edit, "61")
    assert window.session.task.contents[0].length == 61.0
    assert window.findings._trouble == ""


def test_undo_and_redo_of_everything(demo) -> None:  # type: ignore[no-untyped-def]
    """By the keys that people know, back to the first document and forward again."""
    first = demo.session.task
    demo.panels["shape"]._editors["tabs"].buttons["outside"].click()
    demo.panels["board"].choose_board("craft-board")
    demo.open_station("sheets")
    demo.panels["sheets"].counts[demo.session.chosen].setValue(3)
    last = demo.session.task
    assert last.copies == 3
    for _ in range(3):
        QTest.keyClick(demo, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert demo.session.task == first
    assert not demo.undo_button.isEnabled()
    for _ in range(3):
        demo.redo_button.click()
    assert demo.session.task == last
    assert not demo.session.history.can_redo


def test_lifting_the_net(demo, qtbot) -> None:  # type: ignore[no-untyped-def]
    """The space bar plays it, a key holds it, the slider goes anywhere."""
    demo.open_station("shape")
    lift = demo.centre.lift
    lift.set_value(0.0)
    table = demo.centre.table
    assert table.lift == 0.0
    assert table.view[1] == 90.0  # exactly from above
    table.setFocus()
    QTest.keyClick(table, Qt.Key.Key_Space)
    assert lift.playing
    qtbot.waitUntil(lambda: table.lift > 0.05, timeout=5000)
    QTest.keyClick(table, Qt.Key.Key_Space)
    assert not lift.playing
    held = table.lift
    qtbot.wait(60)
    assert table.lift == held
    QTest.keyClick(lift.slider, Qt.Key.Key_PageUp)
    stops = [at for at, _ in demo.session.work.lift.stops]
    assert any(abs(table.lift - at) < 1e-3 for at in stops)
    lift.set_value(1.0)
    assert table.view[1] < 60.0
    assert not demo.grab().isNull()


def test_turning_zooming_and_fitting(demo) -> None:  # type: ignore[no-untyped-def]
    """Drag turns; zoom keeps what is under the pointer; F shows everything again."""
    demo.open_station("shape")
    table = demo.centre.table
    demo.centre.lift.set_value(0.7)
    yaw, pitch, scale = table.view
    QTest.mousePress(table, LEFT, pos=QPoint(200, 300))
    QTest.mouseMove(table, QPoint(240, 300))
    QTest.mouseMove(table, QPoint(260, 320))
    QTest.mouseRelease(table, LEFT, pos=QPoint(260, 320))
    assert table.view[0] != yaw
    camera = table.camera()
    at = QPointF(222.0, 333.0)
    spot = ((at.x() - camera.x) / camera.scale, (at.y() - camera.y) / camera.scale)
    table.zoom_by(1.7, at)
    after = table.camera()
    assert after.scale == pytest.approx(camera.scale * 1.7)
    assert (at.x() - after.x) / after.scale == pytest.approx(spot[0])
    assert (at.y() - after.y) / after.scale == pytest.approx(spot[1])
    QTest.keyClick(table, Qt.Key.Key_F)
    assert table.view == pytest.approx((yaw, pitch, scale))


def test_pointing_at_and_choosing_a_panel(demo, qtbot) -> None:  # type: ignore[no-untyped-def]
    """The middle of the flat tray is its floor; choosing it opens its figures."""
    demo.open_station("shape")
    demo.centre.lift.set_value(0.0)
    qtbot.wait(50)  # the table takes the room that the strip leaves
    table = demo.centre.table
    qtbot.waitUntil(lambda: not table.busy, timeout=20_000)  # what is seen is pointed at
    x, y = table.camera().project(
        __import__("numpy").array([[*demo.session.work.lift.spot("tray", 0.0), 0.0]])
    )[0]
    assert table.panel_at(QPointF(x, y)) == ("tray", "floor")
    QTest.mouseMove(table, QPoint(int(x), int(y)))
    QTest.mouseClick(table, LEFT, pos=QPoint(int(x), int(y)))
    panel = demo.panels["shape"]
    assert panel.chosen == ("tray", "floor")
    assert not panel.panel_card.isHidden()
    assert panel.panel_card.rows["panel-width"].reckoning.value == pytest.approx(90.28)
    QTest.keyClick(table, Qt.Key.Key_Escape)
    assert panel.chosen is None


def test_opening_a_reckoning(demo) -> None:  # type: ignore[no-untyped-def]
    """The clearance opens to its terms, its rule and its mark, and stays open."""
    demo.open_station("shape")
    panel = demo.panels["shape"]
    row = panel.results.rows["lid-clearance"]
    assert row.button.text() == "1.6 mm"
    row.button.click()
    words = [w.text() for w in row.why.findChildren(type(row.words))]
    assert "ease of a card lid" in words
    assert "common practice" in words
    panel._editors["tabs"].buttons["outside"].click()
    again = panel.results.rows["lid-clearance"]
    assert again.why is not None
    assert not again.why.isHidden()


def test_curing_a_finding_with_its_button(demo, qtbot) -> None:  # type: ignore[no-untyped-def]
    """A lid too deep is a note with a cure; the button makes the change; undo takes it back."""
    demo.open_station("shape")
    type_into(demo.panels["shape"]._editors["lid-depth"], "80")
    settle(qtbot, demo)
    row = demo.findings.first
    assert row is not None
    assert row.finding.code == "lid-stops"
    QTest.mouseClick(row.cure_button, LEFT)
    assert "lid-stops" not in {f.code for f in demo.session.findings}
    assert demo.session.task.shape.options["lid-depth"] < 40
    demo.session.undo()
    assert demo.session.task.shape.options["lid-depth"] == 80.0


def test_pointing_at_a_finding_shows_its_place(demo) -> None:  # type: ignore[no-untyped-def]
    """The floor that sags is marked on the table."""
    demo.session.edit(boards={"tray": "text", "lid": "text"})
    finding = next(f for f in demo.session.findings if f.code == "floor-sags")
    demo._point_at(finding)
    assert demo.centre.table.marked == {("tray", "floor")}
    demo._point_at(None)
    assert demo.centre.table.marked == frozenset()
    demo.findings.toggle()
    demo.session.cure(finding)
    assert demo.session.task.board_of("tray") != "text"


def test_save_reopen_export(demo, qtbot, tmp_path: Path) -> None:  # type: ignore[no-untyped-def]
    """What is saved is what is reopened; every file of the job is written."""
    file = tmp_path / "mine.jadeite"
    assert demo.commands.save_path(file)
    assert not demo.session.dirty
    assert load_project(file) == demo.session.project
    demo.session.edit(copies=2)
    assert demo.session.dirty
    demo.session.save(file)
    demo.session.new()
    assert demo.commands.open_path(file)
    settle(qtbot, demo)
    assert demo.session.task.copies == 2
    assert str(file) in demo.commands.recent
    written: list[Path] = []
    demo.output.wrote.connect(written.extend)
    demo.output.write_to(tmp_path / "out")
    assert demo.saved.text() == "writing the files …"
    qtbot.waitUntil(lambda: bool(written), timeout=20_000)
    assert demo.saved.text().startswith(f"{len(written)} files written")
    assert {p.suffix for p in written} == {".svg", ".dxf", ".pdf", ".fold", ".glb", ".csv"}
    assert all(p.stat().st_size > 0 for p in written)


def test_a_broken_file_leaves_the_present_one_open(demo, tmp_path: Path) -> None:  # type: ignore[no-untyped-def]
    """One line at the foot, nothing lost."""
    before = demo.session.task
    (tmp_path / "bad.jadeite").write_text('{"format": "jadeite-project", "version": 9}')
    assert not demo.commands.open_path(tmp_path / "bad.jadeite")
    assert demo.session.task == before
    assert "newer Jadeite" in demo.findings._trouble
    assert not demo.commands.save_path(tmp_path / "no" / "such" / "folder.jadeite")
    assert demo.session.dirty
    assert "no such file or folder" in demo.findings._trouble


def test_dropping_a_project_opens_it(demo, tmp_path: Path) -> None:  # type: ignore[no-untyped-def]
    """Drag a file onto the window."""
    file = tmp_path / "dropped.jadeite"
    demo.session.save(file)
    demo.session.new()
    data = QMimeData()
    data.setUrls([QUrl.fromLocalFile(str(file))])
    event = QDropEvent(
        QPointF(50, 50), Qt.DropAction.CopyAction, data, LEFT, Qt.KeyboardModifier.NoModifier
    )
    demo.dropEvent(event)
    assert demo.session.project.title == "Eyepiece box"


def test_closing_asks_only_when_something_would_be_lost(demo, monkeypatch) -> None:  # type: ignore[no-untyped-def]
    """Cancel keeps the window open."""
    asked = []

    def answer(box: QMessageBox) -> QMessageBox.StandardButton:
        asked.append(box.text())
        return QMessageBox.StandardButton.Cancel

    monkeypatch.setattr(QMessageBox, "exec", answer)
    assert demo.session.dirty
    demo.close()
    assert demo.isVisible()
    assert "Eyepiece box" in asked[0]
    demo.session.new()
    assert demo.commands.may_leave()
    assert len(asked) == 1


def test_units_change_only_the_display(demo, tmp_path) -> None:  # type: ignore[no-untyped-def]
    """Fractions to 1/16, said to be about; the exact value is kept."""
    before = demo.session.task
    demo.open_station("shape")
    demo.units.buttons["inches"].click()
    assert "in" in docket_words(demo, "contents")
    edit = demo.panels["shape"]._editors["lid-depth"]
    assert edit.text() == "~5/8 in"
    edit.setFocus()
    edit.editingFinished.emit()
    assert demo.session.task == before
    type_into(edit, "3/4")
    assert demo.session.task.shape.options["lid-depth"] == pytest.approx(19.05)
    demo.units.buttons["mm"].click()
    assert edit.text() == "19.0 mm"
    assert not demo.grab().isNull()


def test_light_and_dark(demo, qtbot) -> None:  # type: ignore[no-untyped-def]
    """Every part changes with the theme, seen or hidden, and so do the dialogs' style sheets."""

    def look(theme: str) -> tuple[int, int, set[str]]:
        demo.set_theme(theme, remember=False)
        qtbot.waitUntil(lambda: not demo.restyler.busy, timeout=20_000)
        image = demo.grab().toImage()
        docket = demo.docket.geometry().topLeft() + QPoint(8, 8)
        cards = [card for panel in demo.panels.values() for card in panel.styled()]
        parts = (demo.docket, demo.centre, demo.findings, *cards)
        sheets = {part.styleSheet() for part in parts} | {demo.commands.sheet}
        return image.pixelColor(5, 60).lightness(), image.pixelColor(docket).lightness(), sheets

    (dark_ground, dark_docket, dark), (ground, docket, light) = look("dark"), look("light")
    assert dark_ground < 60 < 200 < ground
    assert dark_docket < 60 < 200 < docket
    assert len(dark) == len(light) == 1
    assert dark != light
    styled = {*demo.restyler.parts}
    for part in demo.findChildren(QLabel) + demo.findChildren(QAbstractButton):
        over = part
        while over is not None and over not in styled:  # none is left out
            over = over.parentWidget()
        assert over is not None or not demo.isAncestorOf(part), part


def test_a_part_is_styled_before_it_is_shown(demo) -> None:  # type: ignore[no-untyped-def]
    """A station opened while the theme still changes does not show its old look."""
    cards = demo.panels["board"].styled()
    before = {card.styleSheet() for card in cards}
    demo.set_theme("dark", remember=False)
    assert {card.styleSheet() for card in cards} == before  # their turn has not come
    demo.open_station("board")
    assert {card.styleSheet() for card in cards} == {demo.commands.sheet} != before


class Flashes(QObject):
    """Widgets that are shown before they have a parent: they flash as windows of their own."""

    def __init__(self) -> None:
        super().__init__()
        self.seen: list[str] = []

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        shown = event is not None and event.type() == QEvent.Type.Show
        if shown and isinstance(watched, QWidget) and watched.isWindow():
            self.seen.append(f"{type(watched).__name__} {watched.accessibleName()}")
        return False


def test_nothing_flashes_as_a_window_of_its_own(qtbot, tmp_path) -> None:  # type: ignore[no-untyped-def]
    """From the start through the demo: only the window itself is ever a window."""
    app = application([])
    watch = Flashes()
    app.installEventFilter(watch)
    made = new_window(tmp_path / "state", tmp_path / "config", tmp_path / "data")
    qtbot.addWidget(made, before_close_func=lambda w: w.session.discard())
    made.show()
    made.session.open_copy(demo_project())
    settle(qtbot, made)
    for key, _ in STATIONS:
        made.open_station(key)
    made.session.edit(contents=())
    made.session.edit(copies=3)
    settle(qtbot, made)
    qtbot.wait(300)  # the shelf draws a moment after the last change
    app.removeEventFilter(watch)
    assert watch.seen == ["Window "]


def test_every_station_by_keyboard(demo) -> None:  # type: ignore[no-untyped-def]
    """Alt and a number; every control has a name to be read out."""
    for number, (key, _) in enumerate(STATIONS, start=1):
        QTest.keyClick(demo, Qt.Key(Qt.Key.Key_0.value + number), Qt.KeyboardModifier.AltModifier)
        assert demo.station == key
        assert demo.figures.currentWidget() is demo.panels[key]
        for child in demo.panels[key].findChildren(QAbstractButton):
            assert child.accessibleName() or child.text(), child
        assert not demo.grab().isNull()
    seen = set()
    demo.docket.lines["contents"].setFocus()
    for _ in range(60):
        focused = demo.focusWidget()
        seen.add(id(focused))
        QTest.keyClick(focused, Qt.Key.Key_Tab)
    assert len(seen) > 12


def test_arrangements_are_offered_and_chosen(demo, qtbot) -> None:  # type: ignore[no-untyped-def]
    """Three objectives, drawn; choosing one changes the inside, undoably."""
    tiles = demo.centre.arrangements
    shown = [k for k, t in tiles.tiles.items() if not t.isHidden()]
    assert shown[0] == "least-board"
    assert 2 <= len(shown) <= 3
    before = demo.session.work.inside
    tiles.tiles["lowest"].click()
    settle(qtbot, demo)
    assert demo.session.work.inside[2] <= before[2]
    assert demo.session.task.objective == "lowest"


def test_fixed_inside_too_small_blocks_with_a_cure(demo, qtbot) -> None:  # type: ignore[no-untyped-def]
    """The thing is named; the cure gives a size that works."""
    panel = demo.panels["contents"]
    panel.inside.choose("fixed")
    type_into(panel.inside.edits[0], "70")
    settle(qtbot, demo)
    finding = demo.session.findings[0]
    assert finding.code == "contents-too-big"
    assert not demo.write_button.isEnabled()
    demo.output.write_to(Path("/nowhere"))
    assert demo.findings._trouble.startswith("Nothing written.")
    demo.session.cure(finding)
    settle(qtbot, demo)
    assert "contents-too-big" not in {f.code for f in demo.session.findings}


def test_sheets_and_cutting(demo, qtbot) -> None:  # type: ignore[no-untyped-def]
    """Copies fill sheets; a cutter too small for a piece is said; playback runs."""
    demo.open_station("sheets")
    demo.panels["sheets"].counts[demo.session.chosen].setValue(4)
    settle(qtbot, demo)
    assert sum(len(s.placed) for s in demo.session.sheets.layout.sheets) == 8
    demo.open_station("cutting")
    demo.centre.playback.set_value(0.5)
    assert not demo.grab().isNull()
    demo.centre.sheet_next.click()
    assert demo.centre.cutting.sheet == 1
    cutter = demo.panels["cutting"].cutter
    cutter.setCurrentIndex(cutter.findData("small"))
    cutter.activated.emit(cutter.currentIndex())
    settle(qtbot, demo)
    codes = {f.code for f in demo.session.findings}
    assert "piece-fits-no-sheet" in codes
    assert demo.docket.lines["sheets"].entry.state == "look"


def test_assembly_steps_and_hold_timer(demo, qtbot) -> None:  # type: ignore[no-untyped-def]
    """Steps go on; the space bar starts and stops the hold."""
    demo.open_station("assembly")
    panel = demo.panels["assembly"]
    panel.go(0)
    panel.next.click()
    assert panel.number == 1
    glue = next(i for i, s in enumerate(panel.steps) if s.operation == "glue")
    panel.go(glue)
    assert demo.centre.table.marked
    assert demo.centre.table.hidden == {"lid"}
    QTest.keyClick(demo.centre.table, Qt.Key.Key_Space)
    assert panel._timer.isActive()
    assert "more" in panel.hold.text()
    QTest.keyClick(demo.centre.table, Qt.Key.Key_Space)
    assert not panel._timer.isActive()
    panel.next.setFocus()
    QTest.keyClick(panel.next, Qt.Key.Key_Space)  # a button keeps its own space bar
    assert panel.number == glue + 1
    demo.centre.timeline.step_chosen.emit(3)
    assert panel.number == 3
    assert not demo.grab().isNull()


def test_notebook_records_a_trial(demo) -> None:  # type: ignore[no-untyped-def]
    """What came out is kept in the project, and can be taken back."""
    demo.open_station("notebook")
    panel = demo.panels["notebook"]
    before = len(demo.session.project.trials)
    type_into(panel.measured[0], "89.7")
    panel.verdict.buttons["too-tight"].click()
    type_into(panel.by, "0.4")
    panel.note.setPlainText("Sand the tabs.")
    panel.record.click()
    trial = demo.session.project.trials[-1]
    assert len(demo.session.project.trials) == before + 1
    assert trial.measured[0] == 89.7
    assert (trial.verdict, trial.by, trial.note) == ("too-tight", 0.4, "Sand the tabs.")
    assert trial.clearance == pytest.approx(1.6)
    assert "too tight" in docket_words(demo, "notebook")
    assert not demo.grab().isNull()
    demo.session.undo()
    assert len(demo.session.project.trials) == before


def test_a_folder_that_cannot_be_written_is_said(demo, qtbot, tmp_path: Path) -> None:  # type: ignore[no-untyped-def]
    """The job in the process fails with our own words."""
    (tmp_path / "file").write_text("in the way")
    demo.output.write_to(tmp_path / "file")
    qtbot.waitUntil(lambda: "file" in demo.findings._trouble, timeout=20_000)
    assert not demo.output._write_job.busy


def test_a_window_that_closes_lets_its_files_be_written(demo, tmp_path: Path) -> None:  # type: ignore[no-untyped-def]
    """Closed in the middle of writing."""
    demo.session.save(tmp_path / "job.jadeite")
    demo.output.write_to(tmp_path / "out")
    demo.close()
    assert len(list((tmp_path / "out").iterdir())) > 10
    assert not list((tmp_path / "out").glob("*part*"))


def test_copying_and_previewing(demo, qtbot) -> None:  # type: ignore[no-untyped-def]
    """The picture goes to the clipboard; the preview has the pages of the PDF."""
    demo.copy_picture()
    clipboard = QGuiApplication.clipboard()
    assert not clipboard.image().isNull()
    shown: list[QPrintPreviewDialog] = []
    demo.output.previewed.connect(shown.append)
    demo.output.preview()
    qtbot.waitUntil(lambda: bool(shown), timeout=20_000)
    assert shown[0].isVisible()
    view = shown[0].findChild(QPrintPreviewWidget)
    qtbot.waitUntil(lambda: view.pageCount() > 4, timeout=20_000)
    shown[0].close()


def test_kill_and_recover(tmp_path: Path, window, qtbot) -> None:  # type: ignore[no-untyped-def]
    """A window killed with kill -9 leaves its document; the next start offers exactly it."""
    state = tmp_path / "crash"
    program = textwrap.dedent(
        """
        import sys
        from pathlib import Path
        from jadeite.desktop.app import application, new_window
        from jadeite.desktop.commands import demo_project
        app = application([])
        home = Path(sys.argv[1])
        window = new_window(home, home / "config", home / "data")
        window.session.open_copy(demo_project())
        window.session.edit(title="Never saved")
        print("ready", flush=True)
        app.exec()
        """
    )
    env = os.environ | {"QT_QPA_PLATFORM": "offscreen"}
    process = subprocess.Popen(
        [sys.executable, "-c", program, str(state)], stdout=subprocess.PIPE, env=env
    )
    assert process.stdout is not None
    assert process.stdout.readline().strip() == b"ready"
    process.send_signal(signal.SIGKILL)
    process.wait()
    process.stdout.close()
    window.commands.look_for_left_over(state / "journal")
    assert window.centre.banner.isVisible()
    words = [w.text() for w in window.centre.banner.findChildren(QPushButton)]
    assert words == ["Bring it back", "Throw it away"]
    window.centre.take_button.click()
    settle(qtbot, window)
    assert window.session.project.title == "Never saved"
    assert window.session.dirty
    assert left_over(state / "journal") == []
    assert not window.centre.banner.isVisible()


def test_an_option_of_another_shape_is_refused(demo, qtbot, tmp_path: Path) -> None:  # type: ignore[no-untyped-def]
    """From an editor that still shows the shape before, and from a file: said, nothing is lost."""
    said: list[str] = []
    demo.session.trouble.connect(said.append)
    demo.session.edit(shape={"key": "star", "options": {"solid": "cube"}})
    settle(qtbot, demo)
    demo.session.edit(shape={"key": "pillow-box", "options": {}})
    demo.session.set_field("shape.options.solid", "cube")
    assert "no option “solid”" in said[-1]
    assert demo.session.task.shape.options == {}
    settle(qtbot, demo)
    file = tmp_path / "odd.jadeite"
    save_project(demo.session.project, file)
    data = json.loads(file.read_text())
    data["items"][0]["shape"] = {"key": "pillow-box", "options": {"solid": "cube"}}
    file.write_text(json.dumps(data))
    before = demo.session.task
    assert not demo.commands.open_path(file)
    assert demo.session.task == before
    for key in demo.panels:
        demo.open_station(key)
    settle(qtbot, demo)
