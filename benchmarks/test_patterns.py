"""How long the patterns of a lantern take: ten panels, 100 ms or less wanted."""

from __future__ import annotations

import numpy as np
import pytest

from jadeite.core.patterns import MOTIFS, fill, holds_together
from jadeite.core.pipeline import work_up
from jadeite.core.project import Hollow, Shape, Task, Window, changed

PANEL = np.array([[0.0, 0.0], [71.0, 0.0], [71.0, 100.0], [0.0, 100.0]])
WINDOW = np.array([[10.0, 10.0], [61.0, 10.0], [61.0, 90.0], [10.0, 90.0]])


@pytest.mark.parametrize("motif", MOTIFS)
def test_patterns_of_ten_panels(benchmark, motif) -> None:  # type: ignore[no-untyped-def]
    """Drawn, clipped to the window, and their bridges measured, each anew."""

    def ten() -> int:
        count = 0
        for number in range(10):
            holes = fill(WINDOW, MOTIFS[motif], 14.0, number).holes
            count += len(holes) if holds_together(PANEL, holes) else 0
        return count

    assert benchmark(ten) > 10


@pytest.mark.parametrize("lined", [False, True])
def test_a_lantern_of_ten_walls(benchmark, lined) -> None:  # type: ignore[no-untyped-def]
    """From a changed number to the proved design with a window in every wall."""
    windows = tuple(
        Window(piece="lantern", panel=f"wall-{k}", motif="hexagons", number=k, frame=17.5,
               size=9.0, lined=lined)
        for k in range(1, 11)
    )  # fmt: skip
    shape = Shape(key="lantern", options={"sides": 10.0})
    project = changed(
        Task(), brief=Hollow(size=(180.0, 180.0, 110.0)), shape=shape, windows=windows
    )
    lengths = iter(110 + i * 0.001 for i in range(1_000_000))

    def change():  # type: ignore[no-untyped-def]
        return work_up(changed(project, brief=Hollow(size=(180.0, 180.0, next(lengths)))), None)

    work = benchmark(change)
    assert work.design is not None
    assert sum(len(p.openings) > 0 for p in work.design.pieces[0].panels) == 10
