"""A job cut from the window on the simulated cutter: asked, answered, gone wrong, gone on."""

from __future__ import annotations

import subprocess
import sys
from pathlib import Path

import pytest
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QPushButton
from pytestqt.qtbot import QtBot

from jadeite.core.project import Item, Project, Stock
from jadeite.desktop.window import Window
from tests.desktop.conftest import LIMIT, settle

SQUARE = Stock(name="square", width=304.8, height=304.8)
FAST = 2000.0  # times


@pytest.fixture
def cutting(window: Window, qtbot: QtBot) -> Window:
    """Trays of heavy card, lids of text weight, on two sheets; the station Cutting is open."""
    item = Item(
        name="tray",
        brief={"kind": "hollow", "size": (60, 40, 20)},
        copies=2,
        boards={"tray": "heavy-card", "lid": "text"},
    )
    window.session.open_copy(Project(items=(item,), stock=(SQUARE,)))
    settle(qtbot, window)
    window.open_station("cutting")
    qtbot.waitUntil(lambda: not window.busy, timeout=LIMIT)
    return window


def answers(window: Window) -> list[QPushButton]:
    """Buttons under the question; none where nothing is asked."""
    return [
        b for b in window.panels["cutting"].cut.asking.findChildren(QPushButton) if b.isVisible()
    ]


def go_on(window: Window, qtbot: QtBot, *, wrong: str = "", at: float = 0.1) -> list[str]:
    """Press the first answer to whatever is asked, until all is cut; what was asked."""
    run, asked, broken = window.cut_run, [], False

    def ready() -> bool:
        nonlocal broken
        if wrong and not broken and run.run and run.run.doing is not None and run.run.share() > at:
            run.misbehave(wrong)
            broken = True
        return bool(answers(window)) or not run.busy

    while run.busy:
        qtbot.waitUntil(ready, timeout=LIMIT)
        if not run.busy:
            break
        asked.append(run.run.ask.kind if run.run.ask else "silent")
        answers(window)[0].click()
        QTest.qWait(1)
    return asked


def begin(window: Window, qtbot: QtBot, pace: float = FAST) -> None:
    """Press the button, at a pace of our own."""
    card = window.panels["cutting"].cut
    card.pace.addItem("fast", pace)
    card.pace.setCurrentIndex(card.pace.count() - 1)
    card.begin.click()
    assert window.cut_run.busy


def test_a_job_is_cut_sheet_by_sheet(cutting: Window, qtbot: QtBot) -> None:
    """Sheets and tools are asked for in the plan's order, then it says that all is cut."""
    plan = cutting.session.sheets.cutting
    with qtbot.waitSignal(cutting.session.said, timeout=LIMIT) as said:
        begin(cutting, qtbot)
        qtbot.waitUntil(lambda: bool(answers(cutting)), timeout=LIMIT)
        assert not cutting.centre.play_foot.isVisible()
        words = cutting.cut_run.run.ask.words
        assert "Load sheet 1" in words
        assert plan.sheets[0].setting in words
        asked = go_on(cutting, qtbot)
    assert said.args == ["All is cut."]
    assert asked.count("load") == asked.count("unload") == len(plan.sheets)
    assert asked.count("tool") == plan.tool_changes + 1
    assert cutting.centre.play_foot.isVisible()
    assert cutting.cut_run.kept() is None


@pytest.mark.parametrize(
    ("wrong", "told"),
    [("jam", "jam"), ("slip", "slipped"), ("not-through", "shallow"), ("power", "silent")],
)
def test_what_goes_wrong_is_asked_about_and_mended(
    cutting: Window, qtbot: QtBot, wrong: str, told: str
) -> None:
    """Each fault from the list; the job comes to its end."""
    cutting.cut_run._silence.setInterval(400)
    begin(cutting, qtbot, 60.0)
    asked = go_on(cutting, qtbot, wrong=wrong, at=0.05)
    assert told in asked
    assert not cutting.cut_run.busy
    if wrong == "power":
        assert "power" in asked
    if wrong == "slip":  # what it spoilt was cut from one more sheet
        assert asked.count("load") == len(cutting.session.sheets.cutting.sheets) + 1


def test_a_stopped_job_goes_on_where_it_was(cutting: Window, qtbot: QtBot) -> None:
    """Also in another window; a changed job begins anew, and is told to be another."""
    begin(cutting, qtbot, 100.0)
    run = cutting.cut_run
    qtbot.waitUntil(lambda: bool(answers(cutting)), timeout=LIMIT)
    while run.run.share() < 0.4:
        if answers(cutting):
            answers(cutting)[0].click()
        QTest.qWait(10)
    cutting.panels["cutting"].cut.stop.click()
    assert not run.busy
    kept = run.kept()
    assert kept is not None
    done = sum(sum(sheet["finished"]) for sheet in kept["sheets"])
    assert done > 5
    assert cutting.panels["cutting"].cut.begin.text() == "Go on cutting"
    begin(cutting, qtbot)
    qtbot.waitUntil(lambda: bool(answers(cutting)), timeout=LIMIT)
    assert run.run.share() > 0.3
    cutting.session.edit(copies=3)
    qtbot.waitUntil(lambda: not cutting.busy, timeout=LIMIT)
    assert "as it was" in cutting.panels["cutting"].cut.said.text()
    go_on(cutting, qtbot)
    assert run.kept() is None


def test_a_machine_that_listens_is_told_the_job(
    cutting: Window, qtbot: QtBot, tmp_path: Path
) -> None:
    """By the path of its socket; where nothing listens it is said, and nothing hangs."""
    card, run = cutting.panels["cutting"].cut, cutting.cut_run
    card.opener.setChecked(True)
    run._retry.setInterval(1)
    card.where.setText(str(tmp_path / "nowhere"))
    with qtbot.waitSignal(cutting.session.trouble, timeout=LIMIT) as told:
        card.cut.click()
    assert "No cutter answers" in told.args[0]
    assert not run.busy
    path = tmp_path / "machine"
    words = ["-m", "jadeite", "cutter", "--socket", str(path), "--pace", "3000"]
    with subprocess.Popen([sys.executable, *words], stdout=subprocess.PIPE, text=True) as machine:
        assert machine.stdout is not None
        assert "listening" in machine.stdout.readline()
        card.where.setText(str(path))
        card.where.returnPressed.emit()
        assert run.busy
        assert not card.break_it.isVisible()
        asked = go_on(cutting, qtbot)
        assert asked.count("load") == len(cutting.session.sheets.cutting.sheets)
        assert machine.wait(timeout=LIMIT / 1000) == 0
