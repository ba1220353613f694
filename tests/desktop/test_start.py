"""An empty start: the last projects, and examples with pictures."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest

from jadeite.core.pipeline import work_up_job
from jadeite.desktop.views.start_view import EXAMPLES, example_project
from tests.desktop.conftest import settle

LEFT = Qt.MouseButton.LeftButton


def test_an_empty_window_offers_examples(window, qtbot) -> None:  # type: ignore[no-untyped-def]
    """One is opened as a copy that is saved nowhere; then the table is shown, and undo is empty."""
    settle(qtbot, window)
    start = window.centre.start
    assert window.centre.stack.currentWidget() is start
    assert list(start.tiles) == list(EXAMPLES)
    assert not start.recent_words.isVisible()
    QTest.mouseClick(start.tiles["path-lantern"], LEFT)
    settle(qtbot, window)
    assert window.centre.stack.currentWidget() is window.centre.table
    assert window.session.path is None
    assert window.session.project.title == "Path lantern"
    assert window.centre.table.hasFocus()  # not the title, which a click elsewhere would change
    QTest.mouseClick(window.centre.table, LEFT)
    settle(qtbot, window)
    assert window.title.text() == window.session.project.title == "Path lantern"
    assert window.session.work.design is not None
    window.open_station("contents")
    window.session.new()
    settle(qtbot, window)
    qtbot.waitUntil(lambda: window.centre.stack.currentWidget() is start)


def test_the_last_projects_are_one_click_away(window, qtbot, tmp_path) -> None:  # type: ignore[no-untyped-def]
    """The newest first; a file that is gone is not offered."""
    window.session.open_copy(example_project("filter-chest"))
    settle(qtbot, window)
    for name in ("first", "second"):
        assert window.commands.save_path(tmp_path / f"{name}.jadeite")
    (tmp_path / "first.jadeite").unlink()
    window.session.new()
    settle(qtbot, window)
    start = window.centre.start
    start.show_recent(window.commands.recent)
    assert [b.text().split()[0] for b in start.recent] == ["second"]
    QTest.mouseClick(start.recent[0], LEFT)
    settle(qtbot, window)
    assert window.session.path == (tmp_path / "second.jadeite").resolve()
    assert window.centre.stack.currentWidget() is window.centre.table


def test_the_first_thing_takes_the_place_of_the_start(window, qtbot) -> None:  # type: ignore[no-untyped-def]
    """With a thing, the box appears where examples were."""
    settle(qtbot, window)
    window.session.edit(contents=example_project("path-lantern").items[0].contents)
    settle(qtbot, window)
    assert window.centre.stack.currentWidget() is window.centre.table


def test_every_example_is_made_without_a_finding() -> None:
    """What is shown first says nothing against itself."""
    for name in EXAMPLES:
        job = work_up_job(example_project(name))
        for work in job.works.values():
            assert work.design is not None
            assert not [f for f in work.findings if f.level > 0], name
