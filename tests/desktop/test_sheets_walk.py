"""From a batch to the last sheet in the real window: stock, hand, Tighten, test cut, cutting."""

from __future__ import annotations

from collections import Counter

from PyQt6.QtCore import QPoint
from pytestqt.qtbot import QtBot

from jadeite.core.project import Item, Project, Stock
from jadeite.core.sheets import Spot
from jadeite.desktop.window import Window
from tests.desktop.conftest import LIMIT, settle
from tests.desktop.test_cut_run import begin, go_on
from tests.desktop.test_laying import OFFCUT, drag, drawn, lies, middle

STOCK = (
    OFFCUT,
    Stock(name="square", width=304.8, height=304.8),
    Stock(name="long", width=304.8, height=609.6, count=4),
)


def batch() -> Project:
    """Thirty trays of heavy card, their lids of medium card, a divider of text weight."""
    item = Item(
        name="tray",
        brief={"kind": "hollow", "size": (48, 32, 16)},
        copies=30,
        boards={"tray": "heavy-card", "lid": "medium-card"},
    )
    card = Item(
        name="slip",
        brief={"kind": "face", "size": (60, 40)},
        copies=30,
        shape={"key": "folded-card"},
        boards={"card": "text"},
    )
    return Project(items=(item, card), stock=STOCK)


def test_a_batch_from_stock_to_the_last_sheet(window: Window, qtbot: QtBot) -> None:
    """Three boards, two sizes and an offcut; nothing is lost or cut twice on the way."""
    window.session.open_copy(batch())
    settle(qtbot, window)
    window.open_station("sheets")
    drawn(qtbot, window)
    wanted = Counter({n: p.count for n, p in window.session.sheets.pieces.items()})
    boards = {sheet.board for sheet in window.session.sheets.layout.sheets}
    assert len(boards) == 3
    assert "offcut" in {sheet.stock.name for sheet in window.session.sheets.layout.sheets}

    def all_there() -> None:
        placed = Counter(piece for piece, _ in lies(window))
        assert placed == wanted
        assert window.session.sheets.layout.unplaced == ()

    all_there()
    # a piece of the emptiest sheet is dragged up, which pins it
    sheets = window.session.sheets.layout.sheets
    number = min(range(len(sheets)), key=lambda i: sheets[i].used)
    spot = Spot(number, len(sheets[number].placed) - 1)
    place = window.laying.hand.at(spot)
    start = middle(window, spot)
    frame = window.centre.sheets.frames[number]
    drag(window, start, start + QPoint(0, -round(15 * frame.scale)))
    drawn(qtbot, window)
    pinned = lies(window)[place.piece, place.copy]
    assert pinned[3] - place.y > 10
    assert window.session.project.laid.pinned == 1
    all_there()
    # tightened, stopped, tightened: the pinned one stays, no sheet is added
    before = len(window.session.sheets.layout.sheets)
    card = window.panels["sheets"].hand
    card.tighten.click()
    card.stop.click()
    drawn(qtbot, window)
    card.seconds.setCurrentIndex(0)
    with qtbot.waitSignal(window.session.said, timeout=LIMIT):
        card.tighten.click()
    drawn(qtbot, window)
    assert len(window.session.sheets.layout.sheets) <= before
    assert lies(window)[place.piece, place.copy][1:] == pinned[1:]
    all_there()
    # the cut is played, a setting is changed after a test cut, and the job is cut
    window.open_station("cutting")
    qtbot.waitUntil(lambda: not window.busy, timeout=LIMIT)
    window.centre.playback.set_value(0.5)
    assert window.centre.cutting.picture().items
    setting = window.panels["cutting"].setting
    setting.pick("heavy-card")
    setting.first.setCurrentIndex(setting.first.findText("3 passes"))
    setting.take.click()
    settle(qtbot, window)
    qtbot.waitUntil(lambda: not window.busy, timeout=LIMIT)
    cuts = window.session.sheets.cutting.sheets
    assert {p.passes for c in cuts if c.board.key == "heavy-card" for p in c.paths} == {1, 3}
    assert lies(window)[place.piece, place.copy][1:] == pinned[1:]
    begin(window, qtbot, 20_000.0)
    asked = go_on(window, qtbot)
    assert asked.count("load") == len(cuts)
    assert window.cut_run.kept() is None
