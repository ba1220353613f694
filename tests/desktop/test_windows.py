"""Windows cut, lined and repeated from the Shape station."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest

from jadeite.core.contents import Light
from jadeite.core.pictures.face_paint import LIT_LINED
from jadeite.core.project import Hollow, Shape
from tests.desktop.conftest import settle


def choose(box, key) -> None:  # type: ignore[no-untyped-def]
    """Choose by its data, as a maker would."""
    box.setCurrentIndex(box.findData(key))
    box.activated.emit(box.currentIndex())


LEFT = Qt.MouseButton.LeftButton


def test_a_lantern_is_made_from_a_carton(demo, qtbot) -> None:  # type: ignore[no-untyped-def]
    """A pattern in one wall, a lining, then in every wall; it glows; one undo takes a step back."""
    window = demo
    lamp = Light(name="path lamp", mass=20)
    window.session.edit(
        contents=(lamp,),
        brief=Hollow(size=(70.0, 70.0, 110.0)),
        shape=Shape(key="carton", options={}),
    )
    window.open_station("shape")
    settle(qtbot, window)
    panel = window.panels["shape"]
    card = panel.window_card
    panel.choose(("carton", "front"))
    assert not card.walls.isEnabled()
    QTest.mouseClick(card.motif.tiles["hexagons"], LEFT)
    settle(qtbot, window)
    assert [(w.panel, w.motif) for w in window.session.task.windows] == [("front", "hexagons")]
    kinds = [card.lining.itemData(i) for i in range(card.lining.count())]
    assert kinds[0] == ""
    assert {"translucent", "tissue", "clear-film"} <= set(kinds)
    choose(card.lining, "tissue")
    settle(qtbot, window)
    assert window.session.work.boards["lining"].key == "tissue"
    steps = [s.title for s in window.panels["assembly"].steps]
    assert "Cut lining 1 out of tissue by hand" in steps
    choose(card.lining, "translucent")
    settle(qtbot, window)
    assert window.session.work.boards["lining"].key == "translucent"
    QTest.mouseClick(card.varied, LEFT)
    settle(qtbot, window)
    windows = window.session.task.windows
    assert {w.panel for w in windows} == {"front", "back", "left", "right"}
    assert len({w.frame for w in windows}) == 1  # an even frame all round
    assert sorted(w.number for w in windows) == [0, 1, 2, 3]
    assert not window.session.work.blocked
    window.centre.lift.set_value(1.0)
    qtbot.wait(50)
    fills = {getattr(i, "fill", "") for i in window.centre.table.picture().items}
    assert LIT_LINED in fills
    window.session.undo()
    assert len(window.session.task.windows) == 1


def test_a_window_that_no_longer_fits_leaves_the_box_standing(demo, qtbot) -> None:  # type: ignore[no-untyped-def]
    """It is a finding with a cure; the cure fills it in."""
    window = demo
    window.open_station("shape")
    panel = window.panels["shape"]
    panel.choose(("tray", "right"))
    card = panel.window_card
    QTest.mouseClick(card.motif.tiles["plain"], LEFT)
    settle(qtbot, window)
    card.frame.setText("19")
    card.frame.editingFinished.emit()
    settle(qtbot, window)
    assert window.session.work.design is not None
    finding = next(f for f in window.session.findings if f.code == "window-refused")
    assert "No window" in finding.message
    assert finding.cure.label == "Use 16.5 mm"
    window.session.cure(finding)
    settle(qtbot, window)
    assert [w.frame for w in window.session.task.windows] == [16.5]
    assert not [f for f in window.session.findings if f.code == "window-refused"]


def test_an_outline_of_ones_own_from_an_svg_file(demo, qtbot, tmp_path) -> None:  # type: ignore[no-untyped-def]
    """Read once, it is among the patterns of the project; what is no drawing is said."""
    window = demo
    window.open_station("shape")
    panel = window.panels["shape"]
    panel.choose(("tray", "right"))
    card = panel.window_card
    said: list[str] = []
    window.session.trouble.connect(said.append)
    bad = tmp_path / "notes.svg"
    bad.write_text("no drawing", encoding="utf-8")
    card.take_in(bad)
    qtbot.waitUntil(lambda: bool(said), timeout=20_000)
    assert "no SVG drawing" in said[-1]
    assert window.session.task.outlines == ()
    file = tmp_path / "Comet.svg"
    file.write_text(
        '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 40 20">'
        '<path d="M0 10 L22 4 A8 8 0 1 1 22 16 Z"/></svg>', encoding="utf-8",
    )  # fmt: skip
    card.take_in(file)
    qtbot.waitUntil(lambda: bool(window.session.task.outlines), timeout=20_000)
    settle(qtbot, window)
    assert [o.key for o in window.session.task.outlines] == ["own-comet"]
    assert card.motif.value() == "own-comet"
    design = window.session.work.design
    assert design is not None
    cut = next(p for p in design.piece("tray").panels if p.name == "right").openings
    assert len(cut) > 1
    assert not window.session.work.blocked
