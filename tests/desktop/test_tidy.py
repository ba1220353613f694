"""Garbage is looked for at rest, never while something is being done."""

from __future__ import annotations

import gc
import weakref
from collections.abc import Iterator

import pytest
from pytestqt.qtbot import QtBot

from jadeite.desktop import tidy
from jadeite.desktop.tidy import Tidy
from jadeite.desktop.window import Window


class _Knot:
    """Only a search frees it: it holds itself."""

    def __init__(self) -> None:
        self.me = self


@pytest.fixture(autouse=True)
def usual_thresholds() -> Iterator[None]:
    """What the program sets is taken back after a test."""
    before = gc.get_threshold()
    yield
    gc.set_threshold(*before)
    gc.unfreeze()


def test_the_oldest_are_searched_once_the_window_rests(
    window: Window, qtbot: QtBot, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(tidy, "REST", 200)
    Tidy(window.session)
    assert gc.get_threshold()[2] == tidy.SELDOM
    assert gc.get_freeze_count() > 0
    knot = _Knot()
    seen = weakref.ref(knot)
    gc.collect(1)  # it has become one of the oldest
    del knot
    gc.collect(1)
    assert seen() is not None
    window.session.changed.emit()
    qtbot.waitUntil(lambda: seen() is None, timeout=20_000)


def test_nothing_is_searched_while_a_button_is_held(
    window: Window, qtbot: QtBot, monkeypatch: pytest.MonkeyPatch
) -> None:
    from PyQt6.QtCore import Qt
    from PyQt6.QtWidgets import QApplication

    monkeypatch.setattr(tidy, "REST", 20)
    held = [Qt.MouseButton.LeftButton]
    monkeypatch.setattr(QApplication, "mouseButtons", lambda: held[0])
    Tidy(window.session)
    knot = _Knot()
    seen = weakref.ref(knot)
    gc.collect(1)
    del knot
    window.session.changed.emit()
    qtbot.wait(300)
    assert seen() is not None
    held[0] = Qt.MouseButton.NoButton
    qtbot.waitUntil(lambda: seen() is None, timeout=20_000)
