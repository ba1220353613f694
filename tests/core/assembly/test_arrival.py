"""The lift ends where the proof begins: every panel in its closed place, by one motion for all."""

from __future__ import annotations

import numpy as np
import pytest

from jadeite.core.assembly import lift_of
from jadeite.core.folding import closed_matrices
from jadeite.core.shapes import all_families
from tests.core.shapes.closing import build


def _choices(family):  # type: ignore[no-untyped-def]
    """The defaults, and every choice of every option by itself."""
    yield {}
    for option in family.options:
        for key, _ in option.choices:
            yield {option.key.replace("-", "_"): key}


@pytest.mark.parametrize("family", all_families(), ids=lambda f: f.key)
def test_the_lift_ends_in_the_closed_form(family) -> None:  # type: ignore[no-untyped-def]
    """Panels, pieces and contents move as one rigid body from the closed form to the table."""
    for chosen in _choices(family):
        size = (180.0, 140.0, 80.0) if family.purpose == "write" else (90.0, 70.0, 80.0)
        design = build(family, size, **chosen)
        closed = closed_matrices(design)
        pose = lift_of(design).pose(1.0)
        first = design.pieces[0]
        name = first.panels[0].name
        motion = pose.matrices[first.name][name] @ np.linalg.inv(closed[first.name][name])
        assert np.linalg.det(motion[:3, :3]) == pytest.approx(1.0)
        for piece in design.pieces:
            for panel in piece.panels:
                want = motion @ closed[piece.name][panel.name]
                got = pose.matrices[piece.name][panel.name]
                assert got == pytest.approx(want, abs=1e-6), (chosen, piece.name, panel.name)
        assert pose.contents == pytest.approx(motion, abs=1e-6), chosen
