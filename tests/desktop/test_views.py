"""The drawn views: boards, sheets, timeline, notebook."""

from __future__ import annotations

import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest

from jadeite.core.boards import with_own
from jadeite.core.pictures import Label, Path
from jadeite.core.project import Hollow, Shape
from tests.desktop.conftest import compared, settle

LEFT = Qt.MouseButton.LeftButton


def words(view) -> list[str]:  # type: ignore[no-untyped-def]
    """All text of a view."""
    return [i.text for i in view.picture().items if isinstance(i, Label)]


def inside_the_view(view) -> bool:  # type: ignore[no-untyped-def]
    """Whether everything painted lies in the widget."""
    return all(
        (ring >= -1).all() and (ring[:, 0] <= view.width() + 1).all()
        and (ring[:, 1] <= view.height() + 1).all()
        for i in view.picture().items if isinstance(i, Path) for ring in i.rings
    )  # fmt: skip


def test_boards_show_their_sag_and_can_be_chosen(demo, qtbot) -> None:  # type: ignore[no-untyped-def]
    """Every board with its sag and limit; a click and the arrow keys choose."""
    demo.open_station("board")
    compared(qtbot, demo)
    chart = demo.centre.board
    told = words(chart)
    assert [b.title for b in with_own() if b.title in told] == [b.title for b in with_own()]
    assert any(w.startswith("limit 0.6") for w in told)
    assert "160 g/m² · lightest" in told
    assert inside_the_view(chart)
    last, before = (m.board.key for m in (chart._meanings()[-1], chart._meanings()[-2]))
    QTest.mouseClick(chart, LEFT, pos=chart.row_middle(last).toPoint())
    assert demo.session.task.board_of("tray") == last
    assert demo.session.task.board_of("lid") == last
    chart.setFocus()
    QTest.keyClick(chart, Qt.Key.Key_Up)
    assert demo.session.task.board_of("tray") == before


def test_the_lightest_board_that_holds_is_named_with_its_reason(demo, qtbot) -> None:  # type: ignore[no-untyped-def]
    """And why the next lighter does not."""
    demo.open_station("board")
    panel = demo.panels["board"]
    compared(qtbot, demo)
    assert "the next lighter" in panel.why.text()
    demo.session.set_field("contents.0.mass", 20000.0)
    compared(qtbot, demo)
    assert "None of these boards holds" in panel.why.text()
    for i in range(3):
        demo.session.set_field(f"contents.{i}.mass", 0.0)
    compared(qtbot, demo)
    assert "No weight is known" in panel.why.text()
    assert "Give the contents a weight to see the floor sag." in words(demo.centre.board)


def test_sheets_at_one_scale_stay_in_the_view(demo, qtbot) -> None:  # type: ignore[no-untyped-def]
    """From one sheet to many."""
    demo.open_station("sheets")
    qtbot.wait(50)  # the view takes the room that the strip leaves
    for copies in (1, 5, 20):
        demo.panels["sheets"].counts[demo.session.chosen].setValue(copies)
        settle(qtbot, demo)
        view = demo.centre.sheets
        assert inside_the_view(view)
        assert sum(w.startswith("Sheet ") for w in words(view)) == len(
            demo.session.sheets.layout.sheets
        )


def test_stock_is_edited(demo, qtbot) -> None:  # type: ignore[no-untyped-def]
    """Add a size, put it first, count it, remove it; one size must stay."""
    demo.open_station("sheets")
    panel = demo.panels["sheets"].stock
    panel.add_size.setCurrentIndex(3)
    panel.add_size.activated.emit(3)
    assert [s.name for s in demo.session.task.stock] == ["12 × 12 in", "A4"]
    panel._first(1)
    assert demo.session.task.stock[0].name == "A4"
    panel._count(0, 2)
    assert demo.session.task.stock[0].count == 2
    panel._remove(1)
    panel._remove(0)
    assert [s.name for s in demo.session.task.stock] == ["A4"]
    assert "one size must stay" in demo.findings._trouble
    panel.own_width.set_value(500.0)
    panel.own_height.set_value(200.0)
    panel._add_own()
    assert demo.session.task.stock[1].width == 500.0


def test_play_back_tells_what_the_tool_does(demo) -> None:  # type: ignore[no-untyped-def]
    """Loading, scoring, cutting, done."""
    demo.open_station("cutting")
    seen = []
    for share in (0.0, 0.55, 0.93, 1.0):
        demo.centre.playback.set_value(share)
        seen.append(" ".join(words(demo.centre.cutting)))
    assert "loading" in seen[0]
    assert "scoring" in seen[1]
    assert "cutting the outline" in seen[2]
    assert "look before you unload" in seen[3]
    assert inside_the_view(demo.centre.cutting)


def test_by_hand_there_are_printed_pages(demo, qtbot) -> None:  # type: ignore[no-untyped-def]
    """Instead of a cutter."""
    demo.open_station("cutting")
    panel = demo.panels["cutting"]
    assert panel.printed.isHidden()
    demo.session.edit(cutter="hand")
    settle(qtbot, demo)
    assert not panel.printed.isHidden()
    assert "Time with the knife" in panel.results.rows["time"].words.text()


def test_the_timeline_opens_steps(demo) -> None:  # type: ignore[no-untyped-def]
    """Pressing a bar shows its step; waiting belongs to the step after it."""
    demo.open_station("assembly")
    line, plan = demo.centre.timeline, demo.session.work.assembly
    step = next(s for s in plan.steps if s.operation == "fill")
    at = int(line._x(step.start - step.wait / 2))
    QTest.mouseClick(line, LEFT, pos=QPoint(at, 44))
    assert demo.panels["assembly"].steps[demo.panels["assembly"].number].operation == "fill"
    assert any("fully dry after" in w for w in words(line))
    assert inside_the_view(line)


def test_the_notebook_draws_what_was_tried(demo) -> None:  # type: ignore[no-untyped-def]
    """Clearance against verdict, and how far sizes came out; empty, what to do."""
    demo.open_station("notebook")
    told = words(demo.centre.notebook)
    assert {"too tight", "right", "too loose", "2026-10-03"} <= set(told)
    assert any(w.startswith("now 1.6") for w in told)
    assert inside_the_view(demo.centre.notebook)
    demo.panels["notebook"]._remove(0)
    assert len(demo.session.project.trials) == 1
    demo.session.edit(trials=())
    assert "Nothing tried yet." in words(demo.centre.notebook)


@pytest.mark.parametrize("size", [(1024, 700), (1280, 800), (2560, 1440)])
def test_every_station_fits_small_and_large_windows(demo, qtbot, size) -> None:  # type: ignore[no-untyped-def]
    """Nothing is wider than its column."""
    demo.resize(*size)
    for key in demo.panels:
        demo.open_station(key)
        qtbot.wait(20)
        panel = demo.panels[key]
        assert panel.widget().width() <= panel.viewport().width(), key
        assert demo.width() == size[0]


def test_slots_and_slits_carry_their_measure_on_the_flat_net(demo, qtbot) -> None:  # type: ignore[no-untyped-def]
    """Once for what is alike, in the unit that is shown, and only while the net lies flat."""
    window = demo
    window.session.edit(
        contents=(),
        brief=Hollow(size=(80.0, 60.0, 60.0)),
        shape=Shape(key="gathered-box", options={}),
    )
    window.open_station("shape")
    settle(qtbot, window)
    table = window.centre.table
    window.centre.lift.set_value(0.0)
    qtbot.wait(50)

    def words() -> list[str]:
        return [i.text for i in table._captions().items if isinstance(i, Label)]

    assert words().count("slit 8.0 mm") == 1
    window.set_system("inches")
    qtbot.wait(50)
    assert any(w.startswith("slit ~5/16") for w in words())
    window.centre.lift.set_value(0.5)
    qtbot.wait(50)
    assert not any(w.startswith("slit") for w in words())
