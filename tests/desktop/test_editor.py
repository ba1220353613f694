"""Every kind of thing in the editor: what it shows, what it takes, what it refuses."""

from __future__ import annotations

import pytest
from PyQt6.QtCore import QEvent, QPoint, Qt
from PyQt6.QtGui import QHelpEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication

from jadeite.core.contents import GUIDES, KINDS
from jadeite.core.pictures import Label
from jadeite.desktop.stations.kinds import NEW, TILES, TURNS, WAYS, ways_of
from tests.desktop.conftest import settle
from tests.desktop.test_window import type_into

LEFT = Qt.MouseButton.LeftButton


def test_every_kind_has_a_tile_and_every_tile_a_thing() -> None:
    """The string lights are a light of another make."""
    assert {thing.kind for thing in NEW.values()} == set(KINDS) - {"made"}  # of the job
    assert [key for key, _, _ in TILES] == list(NEW)
    for thing in NEW.values():
        assert thing.goes_in in ways_of(thing.kind)
        assert thing.turn in dict(TURNS.get(thing.kind, (("any", ""),)))


@pytest.mark.parametrize("kind", list(NEW))
def test_each_kind_is_added_measured_and_explained(window, qtbot, kind: str) -> None:  # type: ignore[no-untyped-def]
    """Its lengths can be typed, its ways chosen, its guide read; the box closes."""
    panel = window.panels["contents"]
    QTest.mouseClick(panel.add_tiles[kind], LEFT)
    editor = panel.editor
    thing = window.session.task.contents[0]
    assert thing == NEW[kind]
    assert GUIDES[thing.kind].ruler in editor.guide_words.text()
    for key, edit in editor.measures.items():
        before = getattr(window.session.task.contents[0], key)
        type_into(edit, f"{before + 1:g}")
        assert getattr(window.session.task.contents[0], key) == pytest.approx(before + 1)
    shown = [k for k, tile in editor.ways.items() if not tile.isHidden()]
    assert shown == list(ways_of(thing.kind))
    for way in shown:
        editor.ways[way].click()
        assert window.session.task.contents[0].goes_in == way
        assert editor.padding_row.isHidden() is (way != "padded")
    settle(qtbot, window)
    assert window.session.work.design is not None
    assert not window.session.work.blocked
    assert not window.grab().isNull()


def test_loose_fill_is_measured_three_ways(window) -> None:  # type: ignore[no-untyped-def]
    """By count, by volume, by weight: only the numbers that are needed are shown."""
    panel = window.panels["contents"]
    panel.add_thing("loose")
    editor = panel.editor
    rows = {
        "count": {"grains", "mass"},
        "volume": {"volume", "mass"},
        "weight": {"weight", "density"},
    }
    asked = {"grains", "volume", "weight", "density", "sheets", "mass"}
    for by, wanted in rows.items():
        editor.by.setCurrentIndex(editor.by.findData(by))
        editor.by.activated.emit(0)
        assert {k for k in asked if not editor.number_rows[k].isHidden()} == wanted
        assert editor.grid.isHidden() is (by != "count")
    type_into(editor.numbers["weight"], "300 g")
    type_into(editor.numbers["density"], "0,6")
    assert window.session.task.contents[0].bulk == pytest.approx(500_000)  # 300 / 0.6 ml


@pytest.mark.parametrize(
    ("key", "text", "words"),
    [
        ("grains", "many", "How many grains"),
        ("grains", "2.5", "How many grains"),
        ("density", "nan", "density"),
        ("density", "-1", "density"),
    ],
)
def test_bad_numbers_are_named_and_lose_nothing(window, key, text, words) -> None:  # type: ignore[no-untyped-def]
    """At the foot of the window; the document stays."""
    panel = window.panels["contents"]
    panel.add_thing("loose")
    if key == "density":
        panel.editor.by.setCurrentIndex(2)
        panel.editor.by.activated.emit(2)
    before = window.session.task
    type_into(panel.editor.numbers[key], text)
    assert window.session.task == before
    assert words in window.findings._trouble


def test_a_squeeze_beyond_a_tenth_is_refused(window) -> None:  # type: ignore[no-untyped-def]
    """Soft things give by up to 10 %."""
    panel = window.panels["contents"]
    panel.add_thing("flat")
    panel.editor.ways["soft"].click()
    type_into(panel.editor.numbers["squeeze"], "8 %")
    assert window.session.task.contents[0].squeeze == 8
    type_into(panel.editor.numbers["squeeze"], "25")
    assert window.session.task.contents[0].squeeze == 8
    assert "squeeze" in window.findings._trouble


def test_every_way_and_every_tile_can_be_painted(window) -> None:  # type: ignore[no-untyped-def]
    """Light and dark, without a picture left empty."""
    panel = window.panels["contents"]
    panel.add_thing("cards")
    for theme in ("light", "dark"):
        window.set_theme(theme, remember=False)
        for tile in (*panel.add_tiles.values(), *panel.editor.ways.values()):
            tile.palette_ = panel.palette_
            image = tile.grab().toImage()
            colours = {
                image.pixelColor(x, y).rgb()
                for x in range(0, image.width(), 2)
                for y in range(0, image.height(), 2)
            }
            assert len(colours) > 6
    assert len(panel.editor.ways) == len(WAYS)


def test_the_board_chart_drops_columns_before_it_crowds(demo, qtbot) -> None:  # type: ignore[no-untyped-def]
    """Wide, usual and narrow: nothing overlaps, sheets stay to the last."""
    demo.open_station("board")
    chart = demo.centre.board
    qtbot.waitUntil(lambda: not demo.choice.busy, timeout=300_000)
    counts = []
    for width in (1560, 1280, 1020):
        demo.resize(width, 800)
        qtbot.wait(30)
        width = chart.width()
        items = [i for i in chart.picture().items if isinstance(i, Label)]
        heads = [
            w for w in ("folds", "curls to", "passes", "weighs", "sheets")
            if any(i.text == w for i in items)
        ]  # fmt: skip
        counts.append(len(heads))
        assert heads[-1] == "sheets"
        assert [i.text for i in items if not 0 <= i.x <= width] == []
    assert counts == sorted(counts, reverse=True)
    assert counts[0] == 5
    assert counts[-1] < 5


def test_a_tool_tip_tells_what_a_board_means(demo, monkeypatch) -> None:  # type: ignore[no-untyped-def]
    """In words, with the reason why it does not hold."""
    said = []
    monkeypatch.setattr(
        "jadeite.desktop.views.board_chart.QToolTip.showText", lambda *a: said.append(a[1])
    )
    demo.open_station("board")
    chart = demo.centre.board
    for key in ("tissue", "heavy-card"):
        at = chart.row_middle(key).toPoint()
        event = QHelpEvent(QEvent.Type.ToolTip, at, chart.mapToGlobal(at))
        QApplication.sendEvent(chart, event)
    assert said[0].startswith("Tissue: the floor sags")
    assert said[1].startswith("Heavy card: it holds")
    outside = QHelpEvent(QEvent.Type.ToolTip, QPoint(5, 5), chart.mapToGlobal(QPoint(5, 5)))
    QApplication.sendEvent(chart, outside)
    assert len(said) == 2
