"""A real window with a state folder of its own."""

from __future__ import annotations

from pathlib import Path

import pytest
from pytestqt.qtbot import QtBot

from jadeite.desktop.app import application, new_window
from jadeite.desktop.commands import demo_project
from jadeite.desktop.window import Window

LIMIT = 300_000  # ms; a slow machine that is busy besides is waited for, one that hangs is not


@pytest.fixture(scope="session")
def qapp_cls():  # type: ignore[no-untyped-def]
    """The application with its fonts, made by our own start."""
    from PyQt6.QtWidgets import QApplication

    return QApplication


@pytest.fixture(autouse=True)
def patient(monkeypatch: pytest.MonkeyPatch) -> None:
    """A change is worked up and shown before the next line of a test, however slow it is."""
    monkeypatch.setattr("jadeite.desktop.session.PATIENCE", 30_000)
    monkeypatch.setattr("jadeite.desktop.window.AT_ONCE", 30.0)


@pytest.fixture
def window(qtbot: QtBot, tmp_path: Path) -> Window:
    """An open, empty window."""
    application([])
    made = new_window(tmp_path / "state", tmp_path / "config", tmp_path / "data")
    made.set_theme("light", remember=False)
    qtbot.addWidget(made, before_close_func=lambda w: w.session.discard())
    made.resize(1280, 800)
    made.show()
    with qtbot.waitActive(made):
        made.activateWindow()
    return made


def settle(qtbot: QtBot, window: Window) -> None:
    """Wait until nothing is being computed."""
    qtbot.waitUntil(window.session.settled, timeout=LIMIT)


def compared(qtbot: QtBot, window: Window) -> None:
    """Wait until every board is compared for what is made now."""
    settle(qtbot, window)
    choice = window.panels["board"].choice
    qtbot.waitUntil(lambda: not choice.compare_job.busy, timeout=LIMIT)


@pytest.fixture
def demo(window: Window, qtbot: QtBot) -> Window:
    """A window with the demo project, settled."""
    window.session.open_copy(demo_project())
    settle(qtbot, window)
    return window


def add(window: Window, key: str) -> None:
    """One more made thing, from the shelf."""
    window.docket.add_button.click()
    assert window.centre.shelf.isVisible()
    window.centre.shelf.tiles[key].click()
