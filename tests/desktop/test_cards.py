"""Cards and pockets made in the window: names pasted and opened, what stands up, what goes in."""

from __future__ import annotations

from pathlib import Path

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest

from jadeite.core.contents import FlatPack
from jadeite.core.findings import Level
from jadeite.core.project import Face
from tests.desktop.conftest import add, settle

CHART = FlatPack(name="star chart", width=70, height=92, thickness=1.0, mass=8.0)


def made(window, qtbot, key: str):  # type: ignore[no-untyped-def]
    """One made thing of a shape and nothing else, from the shelf."""
    window.session.new()
    settle(qtbot, window)
    add(window, key)
    settle(qtbot, window)
    window.things.remove("box")
    settle(qtbot, window)
    return window


def looks(window) -> list[str]:  # type: ignore[no-untyped-def]
    """What of the chosen thing needs a look."""
    return [f.message for f in window.session.work.findings if f.level > Level.NOTE]


def test_names_are_pasted_and_each_gets_a_label(window, qtbot) -> None:  # type: ignore[no-untyped-def]
    """Three names, one of them twice and an empty line: three labels, said, and undone at once."""
    made(window, qtbot, "place-cards")
    window.open_station("contents")
    settle(qtbot, window)
    card = window.panels["contents"].names
    assert card.isVisible()
    assert not window.panels["contents"].add_card.isVisible()
    assert "No names yet" in card.words.text()
    card.list.setPlainText("Ada Rill; 3\n\nZoë Grünwald-Hollin; 3\nAda Rill; 4")
    assert card.take.isEnabled()
    QTest.mouseClick(card.take, Qt.MouseButton.LeftButton)
    settle(qtbot, window)
    session = window.session
    assert session.item.names == ("Ada Rill", "Zoë Grünwald-Hollin", "Ada Rill")
    assert session.item.tables == ("3", "3", "4")
    assert card.words.text() == (
        "3 names, a copy for each. 1 empty line left out; more than once: “Ada Rill”."
    )
    assert looks(window) == []
    window.open_station("sheets")
    settle(qtbot, window)
    titles = [piece.piece.title for piece in session.sheets.pieces.values()]
    assert [t for t in titles if t.startswith("label")] == [
        "label, Ada Rill", "label, Zoë Grünwald-Hollin", "label, Ada Rill",
    ]  # fmt: skip
    session.undo()
    settle(qtbot, window)
    assert session.item.names == ()


def test_a_table_is_opened_and_a_bad_one_changes_nothing(window, qtbot, tmp_path: Path) -> None:  # type: ignore[no-untyped-def]
    """CSV with heads; a file without a name is said, and the list stays."""
    made(window, qtbot, "place-cards")
    window.open_station("contents")
    settle(qtbot, window)
    card = window.panels["contents"].names
    good, bad = tmp_path / "helpers.csv", tmp_path / "empty.csv"
    good.write_text("table,name\n7,Orrin Gale\n8,Maren Stoke\n", encoding="utf-8")
    bad.write_text("\n\n", encoding="utf-8")
    card.take_in(good)
    settle(qtbot, window)
    assert window.session.item.names == ("Orrin Gale", "Maren Stoke")
    assert window.session.item.tables == ("7", "8")
    said: list[str] = []
    window.session.trouble.connect(said.append)
    card.take_in(bad)
    settle(qtbot, window)
    assert window.session.item.names == ("Orrin Gale", "Maren Stoke")
    assert "holds no name" in said[0]


@pytest.mark.parametrize("key", ["place-cards", "pop-up-card", "wobble-card"])
def test_a_card_from_the_shelf_needs_no_look(window, qtbot, key: str) -> None:  # type: ignore[no-untyped-def]
    """Chosen on the shelf it stands there, sized, proved, with steps."""
    made(window, qtbot, key)
    work = window.session.work
    assert work.family.key == key
    assert isinstance(window.session.item.brief, Face)
    assert looks(window) == []
    assert work.assembly is not None
    assert len(work.assembly.steps) > 5


@pytest.mark.parametrize("key", ["tri-fold-holder", "outline-pocket", "stiffened-holder"])
def test_a_pocket_takes_the_chart(window, qtbot, key: str) -> None:  # type: ignore[no-untyped-def]
    """A flat thing added in the window has room in it."""
    made(window, qtbot, key)
    window.session.edit(contents=(CHART,))
    settle(qtbot, window)
    work = window.session.work
    assert looks(window) == []
    assert work.sizes["inside-width"].value >= 72.0
    assert work.sizes["inside-height"].value >= 94.0


def test_a_pop_up_opens_by_its_number_and_its_net_stays(window, qtbot) -> None:  # type: ignore[no-untyped-def]
    """Typed at Shape: another angle, the same nets; a height that peeps out is cured by a click."""
    made(window, qtbot, "pop-up-card")
    session = window.session
    before = [p.outline.tolist() for piece in session.work.design.pieces for p in piece.panels]
    session.set_field("shape.options.opens", 140.0)
    settle(qtbot, window)
    after = [p.outline.tolist() for piece in session.work.design.pieces for p in piece.panels]
    assert after == before
    session.set_field("shape.options.height", 80.0)
    settle(qtbot, window)
    finding = next(f for f in session.work.findings if f.code == "peeps-out")
    session.cure(finding)
    settle(qtbot, window)
    assert looks(window) == []


def test_a_pocket_of_a_word_and_of_a_drawing(window, qtbot, tmp_path: Path) -> None:  # type: ignore[no-untyped-def]
    """The list of outlines has both; a word is typed, a drawing is read in a process."""
    made(window, qtbot, "outline-pocket")
    window.session.edit(contents=(CHART,))
    window.open_station("shape")
    settle(qtbot, window)
    editor = window.panels["shape"]._editors["outline"]
    editor.box.setCurrentIndex(editor.box.findData("text"))
    editor.box.activated.emit(editor.box.currentIndex())
    settle(qtbot, window)
    assert window.session.task.shape.options["outline"] == "text:STAR"
    assert editor.word.isVisible()
    editor.word.setText("OWL")
    editor.word.editingFinished.emit()
    settle(qtbot, window)
    assert window.session.task.shape.options["outline"] == "text:OWL"
    assert looks(window) == []
    drawing = tmp_path / "egg.svg"
    drawing.write_text(
        '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 100 120">'
        '<path d="M20,5 L80,5 C110,40 100,90 50,118 C0,90 -10,40 20,5 Z"/></svg>'
    )
    editor.take_in(drawing)
    qtbot.waitUntil(lambda: "," in window.session.task.shape.options["outline"], timeout=60_000)
    settle(qtbot, window)
    assert editor.box.currentText() == "your drawing"
    assert not editor.word.isVisible()
    assert looks(window) == []
    editor.box.setCurrentIndex(editor.box.findData("boot"))
    editor.box.activated.emit(editor.box.currentIndex())
    settle(qtbot, window)
    assert window.session.task.shape.options["outline"] == "boot"


def test_a_gate_card_and_a_tied_envelope_in_the_window(window, qtbot) -> None:  # type: ignore[no-untyped-def]
    """Chosen by their buttons; an option that does not act is put away."""
    made(window, qtbot, "folded-card")
    window.open_station("shape")
    settle(qtbot, window)
    panel = window.panels["shape"]
    assert panel._lines["fold"].isVisible()
    QTest.mouseClick(panel._editors["leaves"].buttons["gate"], Qt.MouseButton.LeftButton)
    settle(qtbot, window)
    assert not panel._lines["fold"].isVisible()
    names = {p.name for p in window.session.work.design.pieces}
    assert {"layer-1", "layer-1-right", "inset"} <= names
    assert looks(window) == []
    card = window.session.chosen
    add(window, "envelope")
    settle(qtbot, window)
    window.panels["contents"].put_in(card)
    settle(qtbot, window)
    window.open_station("shape")
    settle(qtbot, window)
    closing = panel._editors["closing"]
    for key in ("string", "tuck"):
        closing.setCurrentIndex(closing.findData(key))
        closing.activated.emit(closing.currentIndex())
        settle(qtbot, window)
        assert ("string-length" in window.session.work.sizes) == (key == "string")
        assert looks(window) == []
    assert "behind" in window.session.work.design.joints[-1].title
