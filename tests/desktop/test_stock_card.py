"""The card of sheets at hand, in the real window: board, price, offcuts, tables."""

from __future__ import annotations

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QLabel

from tests.desktop.conftest import settle
from tests.desktop.test_views import words


def told(card) -> str:  # type: ignore[no-untyped-def]
    """All words on a card."""
    return " | ".join(w.text() for w in card.findChildren(QLabel) if not w.isHidden())


@pytest.fixture
def card(demo):  # type: ignore[no-untyped-def]
    """The card, its station open."""
    demo.open_station("sheets")
    return demo.panels["sheets"].stock


def test_what_is_left_is_kept_and_used_first(demo, card, qtbot) -> None:  # type: ignore[no-untyped-def]
    """Ten sheets, some used; offcuts come to the list, and the next layout begins with one."""
    card._count(0, 10)
    settle(qtbot, demo)
    used = demo.session.sheets.layout.whole
    assert f"{used} used, {10 - used} left" in told(card)
    qtbot.mouseClick(card.keep, Qt.MouseButton.LeftButton)
    settle(qtbot, demo)
    stock = demo.session.project.stock
    assert stock[0].count == 10 - used
    offcuts = [entry for entry in stock if not entry.whole]
    assert offcuts
    assert all(entry.board for entry in offcuts)
    assert "offcut" in card.said.text()
    assert demo.session.sheets.layout.whole <= used
    first = next(i for i, s in enumerate(demo.session.sheets.layout.sheets) if not s.stock.whole)
    demo.open_station("cutting")
    demo.centre.cutting.choose(first)
    demo.centre.playback.set_value(0.0)
    assert "loading the offcut" in " ".join(words(demo.centre.cutting))
    demo.session.undo()
    settle(qtbot, demo)
    assert demo.session.project.stock[0].count == 10


def test_few_sheets_left_are_said_in_amber(demo, card, qtbot) -> None:  # type: ignore[no-untyped-def]
    """As many as are used: none is left."""
    settle(qtbot, demo)
    used = demo.session.sheets.layout.whole
    card._count(0, used)
    settle(qtbot, demo)
    low = [w for w in card.findChildren(QLabel) if "0 left" in w.text() and not w.isHidden()]
    assert [w.property("role") for w in low] == ["look"]


def test_a_sheet_gets_its_board_and_price(demo, card, qtbot) -> None:  # type: ignore[no-untyped-def]
    """Pieces of another board are then not cut from it; the finding says so."""
    settle(qtbot, demo)
    card.opener.setChecked(True)
    card.board.setCurrentIndex(card.board.findData("text"))
    card.board.activated.emit(card.board.currentIndex())
    card.price.setValue(1.5)
    settle(qtbot, demo)
    entry = demo.session.project.stock[0]
    assert (entry.board, entry.price) == ("text", 1.5)
    assert demo.session.sheets.layout.unplaced
    card.board.setCurrentIndex(0)
    card.board.activated.emit(0)
    settle(qtbot, demo)
    assert demo.session.project.stock[0].board == ""
    assert not demo.session.sheets.layout.unplaced


def test_sheets_are_carried_as_a_table(demo, card, qtbot, tmp_path) -> None:  # type: ignore[no-untyped-def]
    """Written, changed elsewhere, taken in; a table that is none changes nothing."""
    path = tmp_path / "sheets.csv"
    card.write_out(path)
    path.write_text(path.read_text().replace(",,0,", ",7,0,", 1))
    card.take_in(path)
    settle(qtbot, demo)
    before = demo.session.project.stock
    assert before[0].count == 7
    path.write_text("name,width_mm\r\nA4,210\r\n")
    card.take_in(path)
    assert demo.session.project.stock == before
    assert "height_mm is missing" in card.said.text()
