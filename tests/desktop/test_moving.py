"""A flower of a table piece or a branch is clicked and dragged on the table, in a real window."""

from __future__ import annotations

import numpy as np
import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest
from shapely.geometry import Point, Polygon

from jadeite.core.blooms import moved_from_words
from jadeite.core.findings import Level
from jadeite.core.folding import transform
from tests.desktop.conftest import settle

FLOWER = "small-1-4"  # its outermost ring


def picked(window, qtbot, key: str) -> None:  # type: ignore[no-untyped-def]
    """One more made thing from the shelf, finished on the table."""
    window.docket.add_button.click()
    window.centre.shelf.pick(key)
    settle(qtbot, window)
    window.open_station("shape")
    window.centre.lift.set_value(1.0)
    settle(qtbot, window)


@pytest.fixture
def piece(demo, qtbot):  # type: ignore[no-untyped-def]
    """The demo project with a table piece from the shelf, finished on the table."""
    picked(demo, qtbot, "table-piece")
    return demo


def spot_of(window, qtbot, name: str) -> QPoint:  # type: ignore[no-untyped-def]
    """Where a petal of a flower is seen on the table."""
    table = window.centre.table
    qtbot.waitUntil(lambda: not table.busy, timeout=20_000)
    matrices = table._staging.matrices(table._view())
    design = window.session.work.design
    for panel in design.piece(name).panels:
        middle = panel.outline.mean(axis=0, keepdims=True)
        at = table.camera().project(transform(matrices[name][panel.name], middle))[0]
        point = QPoint(round(at[0]), round(at[1]))
        if (table.panel_at(point.toPointF()) or ("", ""))[0] == name:
            return point
    raise AssertionError(f"{name} is hidden")


def drag(window, qtbot, start: QPoint, by: QPoint) -> None:  # type: ignore[no-untyped-def]
    """Press, move in steps, and let go."""
    table = window.centre.table
    QTest.mousePress(table, Qt.MouseButton.LeftButton, pos=start)
    for share in (0.3, 0.7, 1.0):
        QTest.mouseMove(table, start + by * share)
        qtbot.wait(10)
    QTest.mouseRelease(table, Qt.MouseButton.LeftButton, pos=start + by)
    settle(qtbot, window)


def test_a_chosen_flower_is_dragged_and_the_view_is_not_turned(piece, qtbot) -> None:  # type: ignore[no-untyped-def]
    """It comes to lie about where it was let go; undo puts it back."""
    table, session = piece.centre.table, piece.session
    before = session.work.design.handles[FLOWER]
    start = spot_of(piece, qtbot, FLOWER)
    QTest.mouseClick(table, Qt.MouseButton.LeftButton, pos=start)
    settle(qtbot, piece)
    view = table.view
    drag(piece, qtbot, start, QPoint(40, 0))
    assert table.view[:2] == view[:2]
    words = session.task.shape.options["moved"]
    assert list(moved_from_words(str(words))) == [before.number]
    after = session.work.design.handles[FLOWER]
    gone = (np.array(after.at) - np.array(before.at)) * before.per
    wanted = table.camera().axes[0, :2] * 40 / table.camera().scale
    assert np.hypot(*(gone - wanted)) < 12.0  # the nearest free place
    assert np.hypot(*gone) > 1.0
    editor = piece.panels["shape"]._editors["moved"]
    assert editor.count.text() == "1 flower"
    session.undo()
    settle(qtbot, piece)
    assert session.work.design.handles[FLOWER] == before
    assert editor.count.text() == "none"


def test_a_flower_of_a_branch_takes_its_twig_along(demo, qtbot) -> None:  # type: ignore[no-untyped-def]
    """Dragged away from the stem, board is under it where it was let go, and nothing blocks."""
    picked(demo, qtbot, "branch")
    name, session = "small-1-2", demo.session
    before = session.work.design
    start = spot_of(demo, qtbot, name)
    QTest.mouseClick(demo.centre.table, Qt.MouseButton.LeftButton, pos=start)
    settle(qtbot, demo)
    drag(demo, qtbot, start, QPoint(30, -30))
    after = session.work.design
    (place, was) = (design.placements[name][:2, 3] for design in (after, before))
    assert np.hypot(*(place - was)) > 5.0
    hub = Point(place).buffer(np.hypot(*after.piece(name).panels[0].outline.T).max())
    assert not Polygon(before.piece("upper").panels[0].outline).contains(hub)
    assert Polygon(after.piece("upper").panels[0].outline).contains(hub)
    assert not [f for f in session.work.findings if f.level is Level.BLOCKED]


def test_what_is_not_chosen_turns_the_view_as_before(piece, qtbot) -> None:  # type: ignore[no-untyped-def]
    """No flower is moved by chance."""
    table = piece.centre.table
    view = table.view
    drag(piece, qtbot, spot_of(piece, qtbot, FLOWER), QPoint(40, 0))
    assert table.view[:2] != view[:2]
    assert "moved" not in piece.session.task.shape.options


def test_keys_move_it_and_a_button_puts_it_back(piece, qtbot) -> None:  # type: ignore[no-untyped-def]
    """Ctrl and an arrow key; without Ctrl the view turns."""
    table = piece.centre.table
    QTest.mouseClick(table, Qt.MouseButton.LeftButton, pos=spot_of(piece, qtbot, FLOWER))
    settle(qtbot, piece)
    QTest.keyClick(table, Qt.Key.Key_Right, Qt.KeyboardModifier.ControlModifier)
    settle(qtbot, piece)
    assert piece.session.task.shape.options["moved"]
    piece.panels["shape"]._editors["moved"].back.click()
    settle(qtbot, piece)
    assert piece.session.task.shape.options.get("moved", "") == ""
