"""Pictures in the window: chosen, brushed, cropped, printed on panels; the printer calibrated."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtGui import QImage
from PyQt6.QtPrintSupport import QPrintPreviewDialog
from PyQt6.QtTest import QTest

from jadeite.core.formats import load_project
from jadeite.core.nets.model import Trace
from jadeite.core.photos import Ink, regions_of, rings_from_words
from jadeite.core.project import Hollow
from jadeite.desktop.paint import INKS
from tests.core.photos.drawn import blob, jpeg, painted
from tests.desktop.conftest import LIMIT, settle
from tests.desktop.test_cards import looks, made

OUTLINE = blob(21, 0.22)
SIZE = (1200, 900)


@pytest.fixture
def picture(tmp_path: Path) -> Path:
    """A picture of a known outline before a background of one colour."""
    path = tmp_path / "elsewhere" / "moth.jpg"
    path.parent.mkdir()
    path.write_bytes(jpeg(painted(SIZE, OUTLINE)))
    return path


def figured(window, qtbot, picture: Path):  # type: ignore[no-untyped-def]
    """A printed figure cut out of the picture, at its first station."""
    made(window, qtbot, "printed-figure")
    window.open_station("contents")
    settle(qtbot, window)
    card = window.panels["contents"].picture
    assert card.isVisible()
    assert "A drawn figure" in card.words.text()
    assert not card.view.isVisible()
    card.take_in(picture)
    qtbot.waitUntil(lambda: bool(window.session.task.photos), timeout=LIMIT)
    settle(qtbot, window)
    return card


def region(window):  # type: ignore[no-untyped-def]
    """The outline as it is kept, in shares."""
    return regions_of(rings_from_words(str(window.session.task.shape.options["outline"]), "x"))


def wait_for(window, qtbot, what) -> None:  # type: ignore[no-untyped-def]
    """Until something is so, and nothing is computed."""
    qtbot.waitUntil(what, timeout=LIMIT)
    settle(qtbot, window)


def stroke(view, *spots: tuple[float, float]) -> None:  # type: ignore[no-untyped-def]
    """Draw over the picture through places in shares."""
    points = [QPoint(round(p.x()), round(p.y())) for p in view._spot(np.array(spots))]
    QTest.mousePress(view, Qt.MouseButton.LeftButton, pos=points[0])
    for point in points[1:]:
        QTest.mouseMove(view, point)
    QTest.mouseRelease(view, Qt.MouseButton.LeftButton, pos=points[-1])


def test_a_figure_is_cut_out_of_a_picture(window, qtbot, picture: Path) -> None:  # type: ignore[no-untyped-def]
    """Found in a process, shown with its outline, printed in its place; undone in one go."""
    card = figured(window, qtbot, picture)
    found = region(window)
    assert found.area == pytest.approx(regions_of((OUTLINE,)).area, rel=0.02)
    assert window.session.task.prints[0].photo == "moth"
    design = window.session.work.design
    assert [p.ink.figure != "" for p in design.piece("figure").prints] == [True]
    assert not [v for v in design.piece("figure").veins if v.trace is Trace.PRINT]
    assert "1200 × 900 pixels" in card.words.text()
    assert "background of one colour" in card.words.text()
    assert window.centre.stack.currentWidget() is window.centre.photo
    wait_for(window, qtbot, lambda: len(INKS) >= 2)
    whole = INKS[Ink(str(picture), window.session.task.photos[0].digest)]
    assert whole.width() / whole.height() == pytest.approx(4 / 3, rel=0.01)
    shown = window.centre.photo.grab().toImage()
    assert _share_of_brick(shown) > 0.0005  # the outline is drawn
    QTest.mouseClick(card.view.buttons["table"], Qt.MouseButton.LeftButton)
    settle(qtbot, window)
    assert window.centre.stack.currentWidget() is window.centre.table
    (blurred,) = [f for f in window.session.findings if f.code == "picture-blurred"]
    window.session.cure(blurred)  # 1200 pixels do for a smaller one
    settle(qtbot, window)
    assert looks(window) == []
    window.session.undo()
    window.session.undo()
    settle(qtbot, window)
    assert not window.session.task.photos
    assert "A drawn figure" in card.words.text()


def _share_of_brick(image: QImage) -> float:
    bits = image.convertToFormat(QImage.Format.Format_RGB888)
    data = np.frombuffer(bits.constBits().asstring(bits.sizeInBytes()), np.uint8)
    rows = data.reshape(bits.height(), bits.bytesPerLine())[:, : 3 * bits.width()]
    colours = rows.reshape(bits.height(), bits.width(), 3).astype(int)
    return float((np.abs(colours - (0xB0, 0x45, 0x2F)).max(axis=2) < 24).mean())


def test_brush_rubber_and_crop_by_hand(window, qtbot, picture: Path) -> None:  # type: ignore[no-untyped-def]
    """Strokes in the real view change the outline; all of them are taken back at once."""
    card = figured(window, qtbot, picture)
    view, first = window.centre.photo, region(window)
    stroke(view, (0.0, 0.0), (0.3, 0.2), (0.42, 0.3))
    wait_for(window, qtbot, lambda: len(window.session.task.photos[0].strokes) == 1)
    more = region(window)
    assert more.area > first.area + 0.005
    QTest.mouseClick(card.tool.buttons["drop"], Qt.MouseButton.LeftButton)
    card.wide.setValue(80)
    stroke(view, (-0.22, 0.0), (-0.1, 0.0))
    wait_for(window, qtbot, lambda: len(window.session.task.photos[0].strokes) == 2)
    assert window.session.task.photos[0].strokes[1].radius == pytest.approx(0.08)
    assert region(window).area < more.area - 0.005
    QTest.mouseClick(card.tool.buttons["crop"], Qt.MouseButton.LeftButton)
    stroke(view, (-0.5, 0.375), (0.0, 0.1), (0.0, -0.375))
    wait_for(window, qtbot, lambda: window.session.task.photos[0].crop[2] < 0.6)
    assert region(window).bounds[2] == pytest.approx(0.0, abs=0.02)
    QTest.mouseClick(card.undo, Qt.MouseButton.LeftButton)
    wait_for(window, qtbot, lambda: not window.session.task.photos[0].strokes)
    assert region(window).symmetric_difference(first).area < 1e-6


def test_the_way_it_is_found_is_the_makers(window, qtbot, picture: Path) -> None:  # type: ignore[no-untyped-def]
    """All of the picture: then it is cut as a rectangle."""
    card = figured(window, qtbot, picture)
    card.way.setCurrentIndex(card.way.findData("whole"))
    card.way.activated.emit(card.way.currentIndex())
    wait_for(window, qtbot, lambda: window.session.task.photos[0].way == "whole")
    assert region(window).area == pytest.approx(0.75, rel=0.01)  # 1 by 3/4 of the longer side
    assert "as all of the picture" in card.words.text()


def test_a_file_that_is_no_picture_is_said_and_changes_nothing(
    window, qtbot, tmp_path: Path
) -> None:  # type: ignore[no-untyped-def]
    """One line, and the drawn owl stays."""
    made(window, qtbot, "printed-figure")
    window.open_station("contents")
    settle(qtbot, window)
    said: list[str] = []
    window.session.trouble.connect(said.append)
    bad = tmp_path / "notes.png"
    bad.write_text("no picture")
    before = window.session.project
    window.panels["contents"].picture.take_in(bad)
    qtbot.waitUntil(lambda: bool(said), timeout=LIMIT)
    assert "no PNG or JPEG picture" in said[0]
    assert window.session.project == before


def test_saving_brings_the_picture_along(window, qtbot, picture: Path, tmp_path: Path) -> None:  # type: ignore[no-untyped-def]
    """Beside the project by then; the document is saved, and reads back as itself."""
    figured(window, qtbot, picture)
    folder = tmp_path / "saved"
    folder.mkdir()
    window.session.save(folder / "moth.jadeite")
    settle(qtbot, window)
    assert not window.session.dirty
    assert (folder / "moth.jpg").read_bytes() == picture.read_bytes()
    assert window.session.task.photos[0].file == str(folder / "moth.jpg")
    assert load_project(folder / "moth.jadeite") == window.session.project


def test_a_colour_words_and_a_picture_on_panels_of_a_box(window, qtbot, picture: Path) -> None:  # type: ignore[no-untyped-def]
    """Each on its own panel; sheets are those of the printer then, and can be previewed."""
    window.session.new()
    window.session.edit(brief=Hollow(size=(80.0, 60.0, 40.0)))
    settle(qtbot, window)
    window.open_station("shape")
    settle(qtbot, window)
    panel, card = window.panels["shape"], window.panels["shape"].print_card
    window.centre.table.choose(("tray", "front"))
    settle(qtbot, window)
    assert card.isVisible()

    def choose(key: str) -> None:
        card.what.setCurrentIndex(card.what.findData(key))
        card.what.activated.emit(card.what.currentIndex())
        settle(qtbot, window)

    choose("colour")
    assert window.session.work.design.piece("tray").prints[0].colour == "#2e7d66".upper()
    assert card.colour.isVisible()
    assert not card.words.isVisible()
    window.centre.table.choose(("tray", "back"))
    settle(qtbot, window)
    choose("words")
    card.words.setText("Hollin Rigg")
    card.words.editingFinished.emit()
    settle(qtbot, window)
    lines = [v for v in window.session.work.design.piece("tray").veins if v.trace is Trace.PRINT]
    assert len(lines) > 10
    window.centre.table.choose(("lid", "floor"))
    settle(qtbot, window)
    card.take_in(picture)
    wait_for(window, qtbot, lambda: len(window.session.task.prints) == 3)
    card.scale.setValue(150)
    settle(qtbot, window)
    printed = window.session.work.design.piece("lid").prints[0]
    assert printed.ink.file == str(picture)
    assert window.session.task.prints[2].scale == 150.0
    assert {p.panel for p in window.session.task.prints} == {"front", "back", "floor"}
    assert panel.isVisible()
    window.open_station("cutting")
    settle(qtbot, window)
    assert all(sheet.sheet.printed for sheet in window.session.sheets.cutting.sheets)
    shown: list[QPrintPreviewDialog] = []
    window.output.previewed.connect(shown.append)
    QTest.mouseClick(window.panels["cutting"].printer.print, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: bool(shown), timeout=LIMIT)
    shown[0].close()
    window.open_station("shape")
    window.centre.table.choose(("tray", "front"))
    settle(qtbot, window)
    choose("")
    assert not window.session.work.design.piece("tray").prints


def test_a_printer_is_calibrated_and_remembered(window, qtbot, tmp_path: Path) -> None:  # type: ignore[no-untyped-def]
    """Readings of a sheet are kept for the pair; another printer begins anew, the first returns."""
    made(window, qtbot, "printed-figure")
    window.open_station("cutting")
    settle(qtbot, window)
    card, session = window.panels["cutting"].printer, window.session
    assert card.isVisible()
    assert "Not calibrated yet" in card.words.text()
    card.more.setChecked(True)
    card.write_to(tmp_path / "sheet")
    qtbot.waitUntil(lambda: "3 files written" in card.words.text(), timeout=LIMIT)
    assert (tmp_path / "sheet" / "calibration.svg").exists()
    said: list[str] = []
    session.trouble.connect(said.append)
    card.readings.setText("1 2 3")
    card.take()
    assert "3 readings" in said[-1]
    card.readings.setText("3 -2 3 -2 3 -2 3 -2")
    QTest.keyClick(card.readings, Qt.Key.Key_Return)
    settle(qtbot, window)
    assert session.task.printer.correction.right == pytest.approx(0.3)
    assert session.task.printer.correction.up == pytest.approx(-0.2)
    assert "the cut was up to 0.30 mm beside it" in card.words.text()
    card.name.setCurrentText("Study printer")
    card.name.lineEdit().editingFinished.emit()
    settle(qtbot, window)
    assert session.task.printer.name == "Study printer"
    assert session.task.printer.correction.right == 0.0
    card.name.setCurrentText("printer")
    card.name.lineEdit().editingFinished.emit()
    settle(qtbot, window)
    assert session.task.printer.correction.right == pytest.approx(0.3)
    card.paper.setCurrentIndex(card.paper.findData("letter"))
    card.paper.activated.emit(card.paper.currentIndex())
    settle(qtbot, window)
    assert session.task.printer.paper == "letter"
    assert session.sheets.cutting.sheets[0].sheet.stock.width == pytest.approx(215.9)
    window.session.edit(cutter="hand")
    settle(qtbot, window)
    assert "the knife follows" in card.words.text()
