"""The cutter and the setting of a board in the window: changed, tried, read off."""

from __future__ import annotations

from pathlib import Path

import pytest
from pytestqt.qtbot import QtBot

from jadeite.core.project import Stock, changed
from jadeite.desktop.bench import CutterBench
from jadeite.desktop.window import Window
from tests.desktop.conftest import LIMIT, settle
from tests.desktop.test_cut_run import cutting

__all__ = ["cutting"]


def ready(window: Window, qtbot: QtBot) -> None:
    """Wait until all is shown."""
    settle(qtbot, window)
    qtbot.waitUntil(lambda: not window.busy, timeout=LIMIT)


def test_a_changed_cutter_is_the_makers_own(cutting: Window, qtbot: QtBot) -> None:
    """The first change copies it; the plan follows; removed, the large one is back."""
    card = cutting.panels["cutting"].with_
    before = cutting.session.sheets.cutting.seconds
    card.opener.setChecked(True)
    card.numbers["loading"].setValue(300)
    ready(cutting, qtbot)
    assert cutting.session.task.cutter == "own-1"
    assert card.cutter.currentText() == "My large cutter"
    assert cutting.session.sheets.cutting.seconds > before + 200
    card.steps.setValue(33)
    ready(cutting, qtbot)
    assert len(cutting.session.task.own_cutters) == 1
    assert "force" in cutting.session.sheets.cutting.sheets[0].setting
    card.title.setText("The old one")
    card.title.editingFinished.emit()
    ready(cutting, qtbot)
    assert card.cutter.currentText() == "The old one"
    card.tools["score"].setChecked(False)
    ready(cutting, qtbot)
    assert any(f.code == "no-scoring-tool" for f in cutting.session.findings)
    card.remove.click()
    ready(cutting, qtbot)
    assert cutting.session.task.cutter == "large"
    assert cutting.session.sheets.cutting.seconds == pytest.approx(before)


def test_a_test_cut_is_written_read_and_kept(cutting: Window, qtbot: QtBot, tmp_path: Path) -> None:
    """From the files to the setting in the plan; forgotten again by one button."""
    card = cutting.panels["cutting"].setting
    card.pick("heavy-card")
    card.write_to(tmp_path / "trial")
    qtbot.waitUntil(lambda: len(list(tmp_path.glob("trial/*"))) == 4, timeout=LIMIT)
    number = card.first.findText("3 passes")
    assert number > 0
    card.first.setCurrentIndex(number)
    card.take.click()
    ready(cutting, qtbot)
    settings = [sheet.setting for sheet in cutting.session.sheets.cutting.sheets]
    assert any("3 passes, by your test cut" in words for words in settings)
    assert "Read off a test cut" in card.said.text()
    card.passes.setValue(4)
    ready(cutting, qtbot)
    assert "As you set it" in card.said.text()
    card.usual.click()
    ready(cutting, qtbot)
    assert cutting.session.task.learned == ()
    assert "usual" in card.said.text()
    assert card.known.isVisible()  # what was set is known to other jobs
    assert card.known.text() == "As in another job: 4 passes"
    card.known.click()
    ready(cutting, qtbot)
    assert cutting.session.task.learned[0].passes == 4


def test_a_cutter_stands_on_the_bench_for_the_next_job(cutting: Window, qtbot: QtBot) -> None:
    """Chosen in another job it comes into that; a spoilt file is kept aside, never lost."""
    card = cutting.panels["cutting"].with_
    card.numbers["loading"].setValue(90)
    ready(cutting, qtbot)
    bench = cutting.session.library.bench
    assert [own.loading for own in bench.known.cutters] == [90]
    project = cutting.session.project
    cutting.session.open_copy(changed(project, own_cutters=(), cutter="small"))
    ready(cutting, qtbot)
    number = card.cutter.findData("own-1")
    assert number >= 0
    card.cutter.setCurrentIndex(number)
    card.cutter.activated.emit(number)
    ready(cutting, qtbot)
    assert cutting.session.task.own_cutters[0].loading == 90
    bench.path.write_text("{")
    again = CutterBench(bench.path.parent)
    assert again.known.cutters == ()
    assert again.keep(cutting.session.task.own_cutters[0])
    assert bench.path.with_suffix(".unreadable.json").read_text() == "{"
    assert CutterBench(bench.path.parent).known.cutters[0].loading == 90


def test_sheets_of_one_size_have_a_setting_of_their_own(cutting: Window, qtbot: QtBot) -> None:
    """Where a board lies on several: those alone are cut otherwise, and other jobs know nothing."""
    few = Stock(name="first", width=304.8, height=304.8, count=1, board="heavy-card")
    cutting.session.edit(stock=(few, *cutting.session.project.stock), copies=16)
    ready(cutting, qtbot)
    card = cutting.panels["cutting"].setting
    words = [card.board.itemText(i) for i in range(card.board.count())]
    assert "Heavy card, only first" in words
    card.pick("heavy-card", "first")
    card.passes.setValue(5)
    ready(cutting, qtbot)
    passes = {
        (cut.sheet.stock.name, path.passes)
        for cut in cutting.session.sheets.cutting.sheets
        for path in cut.paths
        if cut.board.key == "heavy-card" and path.role == "cut"
    }
    assert passes == {("first", 5), ("square", 2)}
    assert cutting.session.library.bench.known.learned == ()
    changes = [words for _, words in cutting.session.sheets.cutting.setting_changes]
    assert sum("Heavy card" in words for words in changes) == 2
    card.usual.click()
    ready(cutting, qtbot)
    assert cutting.session.task.learned == ()
