"""A random walk through the window: nothing ends it, no job dies, nothing stays unsaid."""

from __future__ import annotations

import logging

import pytest

from jadeite.core.project import Hollow
from tests.desktop.conftest import settle
from tests.walker import walk


def _walk(window, qtbot, caplog, monkeypatch, seed: int, count: int) -> None:  # type: ignore[no-untyped-def]
    monkeypatch.setattr("jadeite.desktop.window.AT_ONCE", 0.008)  # as it is for a maker:
    window.session.patience = 10  # what is asked for and shown may come later
    said: list[str] = []
    window.session.trouble.connect(said.append)
    with caplog.at_level(logging.ERROR):
        walk(window, seed, count)
        settle(qtbot, window)
    dead = [r.getMessage() for r in caplog.records if "ended by itself" in r.getMessage()]
    assert dead == []
    assert not [words for words in said if "unexpectedly" in words]


@pytest.mark.parametrize("seed", [1, 2, 3])
def test_a_random_walk_of_the_window(demo, qtbot, caplog, monkeypatch, seed) -> None:  # type: ignore[no-untyped-def]
    """150 actions: no traceback, no warning of Qt, no dead job."""
    _walk(demo, qtbot, caplog, monkeypatch, seed, 50)


@pytest.mark.soak
@pytest.mark.parametrize("seed", range(100, 140))
def test_soak_random_walks(demo, qtbot, caplog, monkeypatch, seed) -> None:  # type: ignore[no-untyped-def]
    """6,000 actions."""
    _walk(demo, qtbot, caplog, monkeypatch, seed, 150)


def test_a_panel_that_is_no_longer_made_is_an_ordinary_state(demo, qtbot) -> None:  # type: ignore[no-untyped-def]
    """A chest's handle is pointed at, then there is none."""
    demo.session.edit(shape={"key": "chest", "options": {"handle": "strap"}}, contents=(),
                      brief=Hollow(size=(90.0, 60.0, 40.0)))  # fmt: skip
    settle(qtbot, demo)
    demo.open_station("shape")
    demo.centre.table.choose(("handle", "grip"))
    assert demo.panels["shape"].panel_card.isVisible()
    demo.session.set_field("shape.options.handle", "none")
    settle(qtbot, demo)
    assert demo.centre.table.chosen is None
    assert not demo.panels["shape"].panel_card.isVisible()
    demo.session.undo()
    settle(qtbot, demo)
    assert demo.session.work.design.piece("handle")


def test_figures_are_those_of_the_shape_that_is_shown(demo, qtbot, monkeypatch) -> None:  # type: ignore[no-untyped-def]
    """The document is ahead of what is worked up: its options are of another shape."""
    demo.session.edit(shape={"key": "gusset-bag", "options": {}})
    settle(qtbot, demo)
    demo.session.patience = 0
    demo.session.edit(shape={"key": "tray-with-lid", "options": {"tabs": "outside"}})
    assert demo.session.work.family.key == "gusset-bag"
    demo.open_station("shape")
    assert set(demo.panels["shape"]._editors) == {"holes", "above"}
    settle(qtbot, demo)
    assert "tabs" in demo.panels["shape"]._editors
    demo.session.edit(shape={"key": "gusset-bag", "options": {}})
    demo.session.bench._on_work_failed("The calculation ended unexpectedly.")  # before the answer
    assert demo.session.work.design is None  # and nothing is of another shape
    assert "tabs" in demo.panels["shape"]._editors
    settle(qtbot, demo)
    assert set(demo.panels["shape"]._editors) == {"holes", "above"}
