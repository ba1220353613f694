"""Windows cut, lined and repeated from the Shape station."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest

from jadeite.core.contents import Light
from jadeite.core.pictures.scene import LIT_LINED
from jadeite.core.project import Shape
from tests.desktop.conftest import settle

LEFT = Qt.MouseButton.LeftButton


def test_a_lantern_is_made_from_a_carton(demo, qtbot) -> None:  # type: ignore[no-untyped-def]
    """A pattern in one wall, a lining, then in every wall; it glows; one undo takes a step back."""
    window = demo
    lamp = Light(name="path lamp", mass=20)
    window.session.edit(
        contents=(lamp,), inside=(70.0, 70.0, 110.0), shape=Shape(key="carton", options={})
    )
    window.open_station("shape")
    settle(qtbot, window)
    panel = window.panels["shape"]
    card = panel.window_card
    panel.choose(("carton", "front"))
    assert not card.walls.isEnabled()
    card.motif.setCurrentIndex(card.motif.findData("hexagons"))
    card.motif.activated.emit(card.motif.currentIndex())
    settle(qtbot, window)
    assert [(w.panel, w.motif) for w in window.session.project.windows] == [("front", "hexagons")]
    QTest.mouseClick(card.lining.buttons["lined"], LEFT)
    settle(qtbot, window)
    assert window.session.work.boards["lining"].key == "translucent"
    QTest.mouseClick(card.varied, LEFT)
    settle(qtbot, window)
    windows = window.session.project.windows
    assert {w.panel for w in windows} == {"front", "back", "left", "right"}
    assert len({w.frame for w in windows}) == 1  # an even frame all round
    assert sorted(w.number for w in windows) == [0, 1, 2, 3]
    assert not window.session.work.blocked
    window.centre.lift.set_value(1.0)
    qtbot.wait(50)
    fills = {getattr(i, "fill", "") for i in window.centre.table.picture().items}
    assert LIT_LINED in fills
    window.session.undo()
    assert len(window.session.project.windows) == 1


def test_a_window_that_no_longer_fits_leaves_the_box_standing(demo, qtbot) -> None:  # type: ignore[no-untyped-def]
    """It is a finding with a cure; the cure fills it in."""
    window = demo
    window.open_station("shape")
    panel = window.panels["shape"]
    panel.choose(("tray", "right"))
    card = panel.window_card
    card.motif.setCurrentIndex(card.motif.findData("plain"))
    card.motif.activated.emit(1)
    settle(qtbot, window)
    card.frame.setText("19")
    card.frame.editingFinished.emit()
    settle(qtbot, window)
    assert window.session.work.design is not None
    finding = next(f for f in window.session.findings if f.code == "window-refused")
    assert "No window" in finding.message
    window.session.cure(finding)
    settle(qtbot, window)
    assert window.session.project.windows == ()
