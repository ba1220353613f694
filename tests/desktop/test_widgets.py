"""Small widgets, painting and printing."""

from __future__ import annotations

import numpy as np
import pypdfium2
import pytest
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QColor, QFont, QFontInfo, QFontMetricsF, QImage, QPainter
from PyQt6.QtPrintSupport import QPrinter
from PyQt6.QtTest import QTest

from jadeite.core.findings import Cure, Finding, Level
from jadeite.core.pictures import Label, Path, Picture, Stroke
from jadeite.core.pipeline import arrange_contents, plan_sheets, work_up
from jadeite.core.reckoning import Mark, constant, given, reckon
from jadeite.desktop.app import application
from jadeite.desktop.findings_bar import FindingsBar
from jadeite.desktop.lengths import LengthEdit
from jadeite.desktop.lift_bar import LiftBar
from jadeite.desktop.paint import _blurred, contains, paint_picture
from jadeite.desktop.printing import new_printer, print_pages_on
from jadeite.desktop.reckonings import ReckoningRow
from jadeite.desktop.theme import base_font, icon, load_fonts
from jadeite.desktop.widgets import Segmented
from tests.jobs import job_of

SQUARE = np.array([[10.0, 10.0], [50.0, 10.0], [50.0, 50.0], [10.0, 50.0]])


@pytest.fixture(autouse=True)
def _fonts(qapp) -> None:  # type: ignore[no-untyped-def]
    """The shipped typeface."""
    load_fonts()


def test_the_shipped_font_is_used_and_its_figures_do_not_jump() -> None:
    """All ten figures have one width, in every weight."""
    for weight in (400, 600, 700):
        font = base_font(10.5, weight)
        assert QFontInfo(font).family().startswith("Atkinson Hyperlegible Next")
        metrics = QFontMetricsF(font)
        assert len({round(metrics.horizontalAdvance(d), 3) for d in "0123456789"}) == 1
    assert isinstance(base_font(), QFont)


def test_icons_take_their_colour() -> None:
    """Drawn in the colour asked for."""
    image = icon("play", "#ff0000").pixmap(20, 20).toImage()
    colours = {
        image.pixelColor(x, y).name()
        for x in range(20)
        for y in range(20)
        if image.pixelColor(x, y).alpha() == 255
    }
    assert "#ff0000" in colours


def test_length_edit_keeps_the_exact_value(qtbot) -> None:  # type: ignore[no-untyped-def]
    """What is shown is rounded, what is kept is not; leaving the field changes nothing."""
    edit = LengthEdit("Width", 1.0, 500.0)
    qtbot.addWidget(edit)
    edit.set_value(12.3456789)
    assert edit.text() == "12.3 mm"
    seen: list[float] = []
    edit.edited.connect(seen.append)
    edit.editingFinished.emit()
    assert seen == []
    assert edit.value() == 12.3456789
    edit.set_value(25.4, "inches")
    assert edit.text() == "1 in"
    edit.selectAll()
    QTest.keyClicks(edit, "2 1/2")
    QTest.keyClick(edit, Qt.Key.Key_Return)
    assert seen == [63.5]
    refused: list[str] = []
    edit.refused.connect(refused.append)
    edit.selectAll()
    QTest.keyClicks(edit, "900")
    QTest.keyClick(edit, Qt.Key.Key_Return)
    assert "Width" in refused[0]
    assert edit.value() == 63.5


def test_segmented_says_only_what_the_maker_chose(qtbot) -> None:  # type: ignore[no-untyped-def]
    """Setting it from the document is silent; unknown keys are ignored."""
    choice = Segmented((("a", "A"), ("b", "B")), "Letters")
    qtbot.addWidget(choice)
    seen: list[str] = []
    choice.chosen.connect(seen.append)
    choice.set_value("b")
    choice.set_value("z")
    assert (choice.value(), seen) == ("b", [])
    choice.buttons["a"].click()
    assert (choice.value(), seen) == ("a", ["a"])
    assert choice.buttons["a"].accessibleName() == "Letters: A"


def test_reckoning_rows_open_only_where_there_is_a_why(qtbot) -> None:  # type: ignore[no-untyped-def]
    """A typed number has none; a row shows another value in place while it stays open."""
    plain = ReckoningRow(given("Width", 3.0), "mm")
    terms = (given("a", 1.0), constant("b", 2.0, "mm", Mark.PUBLISHED, "a book"))
    row = ReckoningRow(reckon("Sum", 3.0, "a and b", *terms), "mm")
    for widget in (plain, row):
        qtbot.addWidget(widget)
    assert not hasattr(plain, "button")
    row.button.click()
    assert row.why is not None
    assert row.show_value(reckon("Sum", 4.0, "a and b", *terms), "mm")
    assert row.button.text() == "4.0 mm"
    assert row.why is not None
    assert not row.why.isHidden()
    assert not row.show_value(given("Sum", 4.0), "mm")


def test_findings_bar_leads_with_the_worst(qtbot) -> None:  # type: ignore[no-untyped-def]
    """Its colour, its words, the count of the others, and what was refused just now."""
    bar = FindingsBar()
    qtbot.addWidget(bar)
    bar.show()
    assert bar.property("role") == "finding-settled"
    found = (
        Finding(Level.BLOCKED, "x", "Bad."),
        Finding(Level.LOOK, "y", "Look."),
        Finding(Level.NOTE, "z", "Note."),
    )
    bar.show_findings(found)
    assert bar.property("role") == "finding-blocked"
    assert bar.first is not None
    assert bar.first.finding.code == "x"
    assert bar.more.text() == "2 more"
    bar.toggle()
    assert bar.more.text() == "close"
    bar.say("Width: it is 0.")
    assert bar.first is None
    bar.show_findings(found)
    assert bar.first is not None
    bar.show_findings(())
    assert bar.property("role") == "finding-settled"
    assert not bar.more.isVisible()


def test_findings_and_cures_are_told_in_inches(qtbot) -> None:  # type: ignore[no-untyped-def]
    """Where inches are chosen; back in mm once they are not."""
    bar = FindingsBar()
    qtbot.addWidget(bar)
    cure = Cure("Use 50.8 mm", (("shape.options.lid-depth", 50.8),))
    found = (Finding(Level.LOOK, "y", "It reaches 25.4 mm too far.", "lid", cure=cure),)
    for system, words, label_ in (
        ("inches", "It reaches 1 in too far.", "Use 2 in"),
        ("mm", "It reaches 25.4 mm too far.", "Use 50.8 mm"),
    ):
        bar.show_findings(found, system)
        assert bar.first is not None
        assert words in bar.first.accessibleName()
        assert bar.first.cure_button.text() == label_


def test_lift_bar_plays_from_the_start_once_it_is_at_the_end(qtbot) -> None:  # type: ignore[no-untyped-def]
    """And stops by itself at the end."""
    bar = LiftBar("the lift", seconds=0.3)
    qtbot.addWidget(bar)
    bar.slider.set_stops(((0.0, "flat"), (0.5, "half"), (1.0, "closed")))
    bar.set_value(1.0)
    seen: list[float] = []
    bar.moved.connect(seen.append)
    bar.toggle()
    qtbot.waitUntil(lambda: not bar.playing, timeout=5000)
    assert seen[0] < 0.5
    assert bar.value() == 1.0
    QTest.keyClick(bar.slider, Qt.Key.Key_PageDown)
    assert bar.value() == 0.5
    QTest.keyClick(bar.slider, Qt.Key.Key_PageDown)
    assert bar.value() == 0.0
    QTest.mouseClick(
        bar.slider, Qt.MouseButton.LeftButton, pos=QPointF(bar.slider._x(0.5) + 3, 14).toPoint()
    )
    assert bar.value() == 0.5  # a stop holds the handle
    assert not bar.grab().isNull()


def painted(picture: Picture, size: int = 60) -> QImage:
    """A picture on white."""
    image = QImage(size, size, QImage.Format.Format_RGB32)
    image.fill(QColor("#ffffff"))
    painter = QPainter(image)
    paint_picture(painter, picture, size, size)
    painter.end()
    return image


def test_painting_fills_strokes_and_leaves_holes() -> None:
    """Rings are filled even-odd."""
    hole = SQUARE * 0.5 + 15
    picture = Picture(items=[Path((SQUARE, hole), fill="#ff0000", stroke=Stroke("#0000ff", 2.0))])
    image = painted(picture)
    assert image.pixelColor(15, 15).name() == "#ff0000"
    assert image.pixelColor(30, 30).name() == "#ffffff"
    assert image.pixelColor(30, 10).blue() > 200
    assert contains(picture.items[0], 15, 15)
    assert not contains(picture.items[0], 30, 30)


def test_labels_are_anchored() -> None:
    """Start, middle and end put the ink on the right side of the point."""

    def ink(anchor: str) -> tuple[int, int]:
        image = painted(Picture(items=[Label("mm", 30, 30, 12, "#000000", anchor)]))
        columns = [x for x in range(60) for y in range(60) if image.pixelColor(x, y).value() < 128]
        return min(columns), max(columns)

    assert ink("start")[0] >= 29
    assert ink("end")[1] <= 31
    low, high = ink("middle")
    assert abs((low + high) / 2 - 30) < 3


def test_blurring_keeps_the_whole_and_softens_the_edge() -> None:
    """A box blur keeps the sum (away from the edge of the image)."""
    grey = np.zeros((41, 41))
    grey[15:26, 15:26] = 100.0
    soft = _blurred(grey, 3)
    assert soft.sum() == pytest.approx(grey.sum(), rel=1e-9)
    assert soft.shape == grey.shape
    assert soft[20, 20] > soft[20, 13] > 0
    assert soft == pytest.approx(soft.T)


def test_the_shadow_is_soft_and_under_everything() -> None:
    """It darkens the ground beside a face."""
    picture = Picture(
        items=[Path((SQUARE,), fill="#ff0000")],
        shadow=[SQUARE + 6],
        shadow_colour="#000000",
        shadow_blur=4.0,
    )
    image = painted(picture)
    assert image.pixelColor(30, 30).name() == "#ff0000"
    assert image.pixelColor(54, 40).value() < 250


def test_printing_is_at_true_size(tmp_path, eyepiece_box) -> None:  # type: ignore[no-untyped-def]
    """Printed into a PDF by Qt, the check square measures 50 mm too."""
    application([])
    work = work_up(eyepiece_box, arrange_contents(eyepiece_box))
    from jadeite.core.formats.pages import print_pages

    pages = print_pages(job_of(work), plan_sheets(eyepiece_box, work.design))
    printer = new_printer(pages)
    printer.setOutputFormat(QPrinter.OutputFormat.PdfFormat)
    printer.setOutputFileName(str(tmp_path / "printed.pdf"))
    print_pages_on(printer, pages)
    document = pypdfium2.PdfDocument(tmp_path / "printed.pdf")
    assert len(document) == len(pages)
    assert document[0].get_width() == pytest.approx(210 / 25.4 * 72, abs=1.0)
    image = np.asarray(document[0].render(scale=300 / 72, grayscale=True).to_pil()).astype(int)
    per_mm = 300 / 25.4
    band = image[int(16 * per_mm) : int(62 * per_mm), int(140 * per_mm) :] < 160
    columns = np.nonzero(band.mean(axis=0) > 0.85)[0]
    assert (columns.max() - columns.min()) / per_mm == pytest.approx(50.0, abs=0.4)
