"""Several made things in the window: slips, the card's face, assembly from one to the next."""

from __future__ import annotations

import pytest
from PyQt6.QtCore import QMimeData, QPointF, Qt
from PyQt6.QtGui import QDropEvent
from PyQt6.QtTest import QTest

from jadeite.core.project import Face, Hollow
from jadeite.desktop.docket import Docket
from jadeite.desktop.slip_row import HIGH, MIME, Slip
from tests.desktop.conftest import add, settle


def names(window) -> list[str]:  # type: ignore[no-untyped-def]
    """What the slips say."""
    return [row.slip.name for row in window.docket.slips.rows]


def drop(window, name: str, on: str, share: float) -> None:  # type: ignore[no-untyped-def]
    """Let a slip go over another, at a share of its height."""
    row = next(r for r in window.docket.slips.rows if r.slip.name == on)
    data = QMimeData()
    data.setData(MIME, name.encode())
    event = QDropEvent(
        QPointF(60, share * HIGH),
        Qt.DropAction.MoveAction,
        data,
        Qt.MouseButton.LeftButton,
        Qt.KeyboardModifier.NoModifier,
    )
    row.dropEvent(event)


@pytest.fixture
def invitation(window, qtbot):  # type: ignore[no-untyped-def]
    """A card and an envelope round it, made in the window from nothing."""
    window.session.new()
    settle(qtbot, window)
    add(window, "folded-card")
    settle(qtbot, window)
    add(window, "envelope")
    settle(qtbot, window)
    window.things.remove("box")
    settle(qtbot, window)
    drop(window, "card", "envelope", 0.5)
    settle(qtbot, window)
    return window


def test_one_made_thing_has_no_slips_only_its_name(demo) -> None:  # type: ignore[no-untyped-def]
    """No clutter; how another is added stays in sight."""
    assert not demo.docket.slips.isVisible()
    assert demo.docket.name.text() == "Eyepiece box"
    assert demo.docket.add_button.isVisible()


def test_an_invitation_is_made_in_the_window(invitation, qtbot) -> None:  # type: ignore[no-untyped-def]
    """Its envelope follows the card: 10 mm more of card are 10 mm more of envelope."""
    window = invitation
    assert names(window) == ["card", "envelope"]
    assert window.session.chosen == "envelope"
    assert window.docket.slips.rows[1].slip.holds == ("card",)
    before = window.session.work.sizes["inside-width"].value
    assert before == pytest.approx(154.84)
    window.docket.slips.rows[0].click()
    settle(qtbot, window)
    assert window.docket.lines["contents"].title == "Face"
    face = window.panels["contents"].face
    assert face.isVisible()
    assert not window.panels["contents"].inside.isVisible()
    edit = face.edits[1]
    edit.setText("158")
    edit.setModified(True)
    QTest.keyClick(edit, Qt.Key.Key_Return)
    settle(qtbot, window)
    assert window.session.item.brief == Face(size=(105.0, 158.0))
    after = window.session.bench.works["envelope"].sizes["inside-width"].value
    assert after - before == pytest.approx(10.0)
    assert window.session.sheets is not None
    assert {"card", "envelope"} <= {cut.item for cut in window.session.sheets.pieces.values()}
    assert all(row.picture is not None for row in window.docket.slips.rows)


def test_everything_done_to_slips_can_be_taken_back(invitation, qtbot) -> None:  # type: ignore[no-untyped-def]
    """Renamed, copied, ordered, taken out, removed; then undone to the first."""
    window = invitation
    start = window.session.project
    row = window.docket.slips.rows[0]
    row.rename()
    row.editor.setText("invitation card")
    QTest.keyClick(row.editor, Qt.Key.Key_Return)
    settle(qtbot, window)
    assert names(window) == ["invitation card", "envelope"]
    assert window.session.project.item("envelope").carried == ("invitation card",)
    window.docket.slips.asked.emit("copy", "envelope")
    settle(qtbot, window)
    assert names(window) == ["invitation card", "envelope", "envelope 2"]
    drop(window, "envelope 2", "invitation card", 0.1)
    settle(qtbot, window)
    assert names(window)[0] == "envelope 2"
    QTest.keyClick(window.docket.slips.rows[0], Qt.Key.Key_Down, Qt.KeyboardModifier.AltModifier)
    settle(qtbot, window)
    assert names(window) == ["invitation card", "envelope 2", "envelope"]
    QTest.keyClick(window.docket.slips.rows[1], Qt.Key.Key_Delete)
    settle(qtbot, window)
    window.docket.slips.asked.emit("out:envelope", "invitation card")
    settle(qtbot, window)
    assert window.session.project.item("envelope").contents == ()
    for _ in range(6):
        window.session.undo()
    settle(qtbot, window)
    assert window.session.project == start


def test_what_cannot_be_done_is_said(invitation, qtbot) -> None:  # type: ignore[no-untyped-def]
    """Into itself, removed while another holds it, a name that is taken."""
    window = invitation
    said: list[str] = []
    window.session.trouble.connect(said.append)
    before = window.session.project
    drop(window, "envelope", "card", 0.5)
    window.things.remove("card")
    window.things.rename("card", "envelope")
    assert window.session.project == before
    assert "would be in itself" in said[0]
    assert "is in “envelope”" in said[1]
    assert "two items" in said[2]


def test_assembly_goes_on_with_the_next_made_thing(invitation, qtbot) -> None:  # type: ignore[no-untyped-def]
    """The card first, as the envelope holds it; back again to its last step."""
    window = invitation
    window.docket.slips.rows[0].click()
    settle(qtbot, window)
    window.open_station("assembly")
    settle(qtbot, window)
    panel = window.panels["assembly"]
    panel.go(len(panel.steps) - 1)
    assert panel.title.text().startswith("Card, 7 of 7")
    assert panel.next.text() == "Next: envelope"
    panel.next.click()
    settle(qtbot, window)
    assert window.session.chosen == "envelope"
    assert panel.title.text().startswith("Envelope, 1 of 7")
    panel.back.click()
    settle(qtbot, window)
    assert panel.title.text().startswith("Card, 7 of 7")


def test_a_face_from_a_standard_turned_and_by_what_is_on_it(invitation, qtbot) -> None:  # type: ignore[no-untyped-def]
    """Sizes by name; a card for a bought envelope goes into it."""
    window = invitation
    window.session.choose("card")
    settle(qtbot, window)
    panel = window.panels["contents"]
    combo = panel.face.standard
    assert combo.currentText() == "A6"
    combo.activated.emit(combo.findText("A5"))
    settle(qtbot, window)
    assert window.session.item.brief == Face(size=(148.0, 210.0))
    panel.face._turn()
    settle(qtbot, window)
    assert window.session.item.brief == Face(size=(210.0, 148.0))
    combo.activated.emit(combo.findText("for a C6 envelope"))
    settle(qtbot, window)
    assert window.session.bench.works["envelope"].sizes["outside-width"].value <= 162.0
    panel.add_thing("flat")
    settle(qtbot, window)
    panel.face.carried.click()
    settle(qtbot, window)
    assert window.session.item.brief == Face()
    assert window.session.work.design is not None


def test_another_made_thing_goes_in_from_the_tiles(invitation, qtbot) -> None:  # type: ignore[no-untyped-def]
    """“Made here” offers what is not in yet; taken off the list it is out again."""
    window = invitation
    add(window, "carton")
    settle(qtbot, window)
    panel = window.panels["contents"]
    assert panel.made_tile.isVisible()
    panel._fill_made()
    assert [a.text() for a in panel.made_menu.actions()] == ["card", "envelope"]
    panel.made_menu.actions()[1].trigger()
    settle(qtbot, window)
    assert window.session.item.carried == ("envelope",)
    assert window.session.work.design is not None
    panel.remove_thing(0)
    settle(qtbot, window)
    assert window.session.item.carried == ()


def test_nothing_is_said_of_the_open_thing_while_another_is_added(invitation, qtbot) -> None:  # type: ignore[no-untyped-def]
    """A station, a slip or “Add none” leads back to what was open."""
    window = invitation
    window.open_station("shape")
    panel, shelf = window.panels["shape"], window.centre.shelf

    def back() -> bool:
        return not shelf.adding and panel.options.isVisibleTo(panel) and not shelf.isVisible()

    for leave in (
        lambda: window.docket.slips.rows[0].click(),
        lambda: window.open_station("board"),
        lambda: shelf.left.emit(),
        lambda: panel.chooser.view.buttons["table"].click(),
    ):
        window.open_station("shape")
        window.docket.add_button.click()
        settle(qtbot, window)
        assert shelf.adding
        assert shelf.isVisible()
        assert panel.chooser.name.text() == "A new made thing"
        assert not panel.options.isVisibleTo(panel)
        assert not panel.results.isVisibleTo(panel)
        leave()
        settle(qtbot, window)
        window.open_station("shape")
        assert back()
        assert panel.chooser.name.text() != "A new made thing"
    assert len(window.session.project.items) == 2


def test_a_shape_that_asks_for_another_size_is_picked_with_it(demo, qtbot) -> None:  # type: ignore[no-untyped-def]
    """A card is asked for its face, a box for its inside; both ways can be taken back."""
    demo.session.edit(contents=())
    settle(qtbot, demo)
    demo.show_shelf()
    demo.centre.shelf.pick("folded-card")
    settle(qtbot, demo)
    assert isinstance(demo.session.item.brief, Face)
    demo.centre.shelf.pick("tray-with-lid")
    settle(qtbot, demo)
    assert isinstance(demo.session.item.brief, Hollow)
    demo.session.undo()
    settle(qtbot, demo)
    assert isinstance(demo.session.item.brief, Face)


def test_each_made_thing_has_its_count(invitation, qtbot) -> None:  # type: ignore[no-untyped-def]
    """Thirty cards, one envelope: all on the same sheets."""
    window = invitation
    window.open_station("sheets")
    settle(qtbot, window)
    window.panels["sheets"].counts["card"].setValue(30)
    settle(qtbot, window)
    assert window.session.project.item("card").copies == 30
    assert window.docket.slips.rows[0].slip.count == 30
    placed = [p.piece for s in window.session.sheets.layout.sheets for p in s.placed]
    assert (placed.count("card"), placed.count("envelope")) == (30, 1)


@pytest.mark.parametrize(("high", "seen"), [(690, 4), (560, 2)])
def test_slips_take_the_free_height_before_any_stays_empty(qtbot, high, seen) -> None:  # type: ignore[no-untyped-def]
    """Four in a window of 800 pixels; in a low one two, and every station whole."""
    docket = Docket()
    qtbot.addWidget(docket)
    docket.resize(248, high)
    slips = [Slip(name, 1, "settled") for name in ("tray", "card", "flower", "envelope")]
    docket.show_things(slips, "tray", {}, "Contents")
    with qtbot.waitExposed(docket):
        docket.show()
    assert docket.slips.height() <= 4 * HIGH + 8
    rows = docket.slips.rows
    whole = [r for r in rows if r.visibleRegion().boundingRect().height() == r.height()]
    assert len(whole) == seen
    for line in docket.lines.values():
        assert line.visibleRegion().boundingRect().height() == line.height()
