"""Pieces laid by hand in the real window: drag, turn, pin, swap, move, tighten, take back."""

from __future__ import annotations

import numpy as np
import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest
from pytestqt.qtbot import QtBot

from jadeite.core.project import Item, Project
from jadeite.core.sheets import Spot
from jadeite.desktop.window import Window
from tests.core.sheets.test_kept import OFFCUT, SQUARE
from tests.desktop.conftest import LIMIT, settle

LEFT = Qt.MouseButton.LeftButton


@pytest.fixture
def sheets(window: Window, qtbot: QtBot) -> Window:
    """Seven trays with lids on an offcut and squares; the station Sheets is open."""
    item = Item(name="tray", brief={"kind": "hollow", "size": (60, 40, 20)}, copies=7)
    window.session.open_copy(Project(items=(item,), stock=(OFFCUT, SQUARE)))
    settle(qtbot, window)
    window.open_station("sheets")
    drawn(qtbot, window)
    return window


def drawn(qtbot: QtBot, window: Window) -> None:
    """Wait until the sheets are drawn as they lie."""
    settle(qtbot, window)
    view = window.centre.sheets
    qtbot.waitUntil(lambda: not window.busy, timeout=LIMIT)
    view.picture()
    assert len(view.frames) == len(window.session.sheets.layout.sheets)


def middle(window: Window, spot: Spot) -> QPoint:
    """A point of the view within the piece at a spot."""
    hand = window.laying.hand
    place = hand.at(spot)
    inside = hand.rules_of(place.piece).lying(place).representative_point()
    x, y = window.centre.sheets.frames[spot.sheet].pixels(np.array([[inside.x, inside.y]]))[0]
    return QPoint(round(x), round(y))


def drag(window: Window, start: QPoint, end: QPoint) -> None:
    """Press, move in two steps, let go."""
    view = window.centre.sheets
    QTest.mousePress(view, LEFT, pos=start)
    QTest.mouseMove(view, start + (end - start) / 2)
    QTest.mouseMove(view, end)
    QTest.mouseRelease(view, LEFT, pos=end)


def lies(window: Window) -> dict[tuple[str, int], tuple[int, float, float, float]]:
    """Sheet, turn and place of every copy."""
    sheets = window.session.sheets.layout.sheets
    return {
        (p.piece, p.copy): (i, p.angle, round(p.x, 6), round(p.y, 6))
        for i, sheet in enumerate(sheets)
        for p in sheet.placed
    }


def last(window: Window) -> Spot:
    """The piece that was laid last."""
    sheets = window.session.sheets.layout.sheets
    return Spot(len(sheets) - 1, len(sheets[-1].placed) - 1)


def test_a_piece_is_dragged_stays_pinned_and_is_taken_back(sheets: Window, qtbot: QtBot) -> None:
    """It lies where it was let go, to a pixel; undo brings it back; the files follow."""
    before, spot = lies(sheets), last(sheets)
    place = sheets.laying.hand.at(spot)
    frame = sheets.centre.sheets.frames[spot.sheet]
    start = middle(sheets, spot)
    drag(sheets, start, start + QPoint(60, -50))
    drawn(qtbot, sheets)
    now = lies(sheets)[place.piece, place.copy]
    assert now[0] == spot.sheet
    assert now[2] - place.x == pytest.approx(60 / frame.scale, abs=0.01)
    assert now[3] - place.y == pytest.approx(50 / frame.scale, abs=0.01)
    assert sheets.session.project.laid.pinned == 1
    assert sheets.session.sheets_current
    others = {k: v for k, v in lies(sheets).items() if k != (place.piece, place.copy)}
    assert others == {k: v for k, v in before.items() if k != (place.piece, place.copy)}
    sheets.session.undo()
    drawn(qtbot, sheets)
    assert lies(sheets) == before
    assert sheets.session.project.laid.pinned == 0


def test_a_collision_is_refused_in_words(sheets: Window, qtbot: QtBot) -> None:
    """While it is carried and when it is let go; nothing has changed."""
    before = lies(sheets)
    view = sheets.centre.sheets
    start, end = middle(sheets, Spot(0, 0)), middle(sheets, Spot(0, 1))
    QTest.mousePress(view, LEFT, pos=start)
    QTest.mouseMove(view, start + (end - start) / 2)
    QTest.mouseMove(view, end)
    told = [item.text for item in view.over().items if hasattr(item, "text")]
    assert any("nearer than 1.5 mm" in words for words in told)
    QTest.mouseRelease(view, LEFT, pos=end)
    settle(qtbot, sheets)
    assert "It stays where it is" in sheets.findings._trouble
    assert lies(sheets) == before
    assert not sheets.session.history.can_undo
    drag(sheets, start, QPoint(2, 2))
    assert lies(sheets) == before


def test_keys_turn_move_and_pin(sheets: Window, qtbot: QtBot) -> None:
    """What the pointer does can be done without it."""
    view, spot = sheets.centre.sheets, last(sheets)
    view.setFocus()
    QTest.keyClick(view, Qt.Key.Key_PageUp)
    place = sheets.laying.hand.at(spot)
    assert sheets.laying.chosen == ((place.piece, place.copy),)
    QTest.keyClick(view, Qt.Key.Key_R)
    drawn(qtbot, sheets)
    turned = sheets.laying.place
    assert (turned.angle - place.angle) % 360 == 90
    QTest.keyClick(view, Qt.Key.Key_Up, Qt.KeyboardModifier.ShiftModifier)
    drawn(qtbot, sheets)
    assert sheets.laying.place.y == pytest.approx(turned.y + 10)
    assert sheets.laying.place.pinned
    QTest.keyClick(view, Qt.Key.Key_P)
    drawn(qtbot, sheets)
    assert not sheets.laying.place.pinned
    QTest.keyClick(view, Qt.Key.Key_Escape)
    assert sheets.laying.chosen == ()
    assert not sheets.panels["sheets"].hand.pin.isEnabled()


def test_two_pieces_are_swapped_and_one_goes_to_another_sheet(sheets: Window, qtbot: QtBot) -> None:
    """With Shift a second piece is chosen; the list names the sheets that there are."""
    view, card = sheets.centre.sheets, sheets.panels["sheets"].hand
    layout = sheets.session.sheets.layout
    trays = [
        Spot(i, k)
        for i, sheet in enumerate(layout.sheets)
        for k, p in enumerate(sheet.placed)
        if p.piece == layout.sheets[0].placed[0].piece
    ]
    one, other = trays[0], trays[-1]
    a, b = sheets.laying.hand.at(one), sheets.laying.hand.at(other)
    QTest.mouseClick(view, LEFT, pos=middle(sheets, one))
    QTest.mouseClick(view, LEFT, Qt.KeyboardModifier.ShiftModifier, middle(sheets, other))
    card.swap.click()
    drawn(qtbot, sheets)
    assert lies(sheets)[a.piece, a.copy][0] == other.sheet
    assert lies(sheets)[b.piece, b.copy][0] == one.sheet
    QTest.mouseClick(view, LEFT, pos=middle(sheets, Spot(0, 0)))
    words = [card.target.itemText(i) for i in range(card.target.count())]
    number = next(i for i, w in enumerate(words) if w.startswith(f"Sheet {len(layout.sheets)}"))
    asked = sheets.laying.chosen[0]
    card.target.setCurrentIndex(number)
    card.target.activated.emit(number)
    drawn(qtbot, sheets)
    assert lies(sheets)[asked][0] == len(layout.sheets) - 1


def test_tightening_gains_a_sheet_stops_at_once_and_is_one_change(
    sheets: Window, qtbot: QtBot
) -> None:
    """Loosened by hand, cancelled, tightened: never more sheets, one undo, pins stay."""
    laying, card = sheets.laying, sheets.panels["sheets"].hand
    spot = last(sheets)
    for _ in range(2):
        laying.choose((sheets.session.sheets.layout.sheets[1].placed[0].piece,
                       sheets.session.sheets.layout.sheets[1].placed[0].copy))  # fmt: skip
        laying.send_to_new(SQUARE)
        drawn(qtbot, sheets)
    laying.let_go()
    drawn(qtbot, sheets)
    loose = len(sheets.session.sheets.layout.sheets)
    assert loose == spot.sheet + 3
    card.tighten.click()
    assert laying.busy
    card.stop.click()
    assert not laying.busy
    drawn(qtbot, sheets)
    assert len(sheets.session.sheets.layout.sheets) <= loose
    with qtbot.waitSignal(sheets.session.said, timeout=LIMIT):
        card.tighten.click()
    drawn(qtbot, sheets)
    tight = len(sheets.session.sheets.layout.sheets)
    assert tight < loose
    assert sheets.session.sheets.layout.kept
    sheets.session.undo()
    drawn(qtbot, sheets)
    assert len(sheets.session.sheets.layout.sheets) == loose
    card.again.click()
    drawn(qtbot, sheets)
    assert len(sheets.session.sheets.layout.sheets) == spot.sheet + 1


def test_sheets_are_written_for_a_machine(sheets: Window, qtbot: QtBot, tmp_path) -> None:  # type: ignore[no-untyped-def]
    """From the File menu: one file for each sheet, and no others."""
    count = len(sheets.session.sheets.layout.sheets)
    for kind, suffix in (("hpgl", "plt"), ("gcode", "gcode")):
        folder = tmp_path / kind
        with qtbot.waitSignal(sheets.output.wrote, timeout=LIMIT):
            sheets.output.write_to(folder, (kind,))
        assert len(list(folder.iterdir())) == len(list(folder.glob(f"*.{suffix}"))) == count
