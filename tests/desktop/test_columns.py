"""The figures beside the table lie within their column, whatever the shape has to say."""

from __future__ import annotations

import pytest
from PyQt6.QtWidgets import QScrollArea, QWidget

from jadeite.core.project import Hollow, Shape, Span, Task, changed
from tests.desktop.conftest import settle
from tests.jobs import project_of

WHOLE = (1280, 800)
WIDEST = (
    ("wreath", Span(width=360.0), {}),
    ("fringed-flower", Span(width=90.0), {}),
    ("layered-flower", Span(width=90.0), {"centre-piece": "strip"}),
    ("chest", Hollow(size=(120.0, 80.0, 70.0)), {"stand-ups": 2.0}),
    ("leaf-spray", Span(width=150.0), {}),
)


def column_of(panel: QWidget) -> QScrollArea:
    """What a station's panel scrolls in, or itself."""
    found: QWidget | None = panel
    while found is not None and not isinstance(found, QScrollArea):
        found = found.parentWidget()
    return found or panel.findChild(QScrollArea)


@pytest.mark.parametrize(("key", "brief", "options"), WIDEST)
def test_no_card_is_wider_than_its_column(window, qtbot, key, brief, options) -> None:  # type: ignore[no-untyped-def]
    """At the usual size of the window nothing is cut off at its right."""
    window.resize(*WHOLE)
    task = changed(Task(), brief=brief, shape=Shape(key=key, options=options))
    window.session.open_copy(project_of(task))
    settle(qtbot, window)
    for station, panel in window.panels.items():
        window.open_station(station)
        settle(qtbot, window)
        column = column_of(panel)
        inner, view = column.widget(), column.viewport()
        assert inner is not None
        assert view is not None
        assert inner.minimumSizeHint().width() <= view.width(), station
