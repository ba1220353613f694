"""The spire, proved from its exported FOLD geometry and by the formulas of a frustum."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import example, given, settings

from jadeite.core.contents import Light
from jadeite.core.pipeline import arrange_contents, work_up
from jadeite.core.project import Shape, Task, Window, changed
from jadeite.core.shapes import family_by_key
from tests import fold_reader
from tests.core.shapes.closing import FOLDING, build, closes_or_says_why, options_of, sizes, text_of

FAMILY = family_by_key("spire")
PLAIN = {"sides": 5, "measured": "round", "spire-height": 180.0}


@settings(max_examples=200)
@given(inside=sizes(12.0, 200.0), board=FOLDING, chosen=options_of(FAMILY, 600.0))
@example((12.0, 12.0, 12.0), "craft-board", PLAIN | {"sides": 10, "spire-height": 600.0})
@example((150.0, 150.0, 20.0), "tissue", PLAIN | {"sides": 3, "spire-height": 40.0})
def test_property_every_spire_closes(inside, board, chosen) -> None:  # type: ignore[no-untyped-def]
    """Over all sizes, boards and options together; a roof is refused with a height that is none."""
    closes_or_says_why(FAMILY, inside, board, chosen)


def test_the_five_sided_spire_of_the_handbook() -> None:
    """n 5, inradii 60 and 20, height 150: the turn between two sides is 69.21 degrees.

    Published formula acos(cos^2 a cos(2 pi / n) + sin^2 a) with tan a = (r1 - r2) / h.
    """
    a = math.atan2(60.0 - 20.0, 150.0)
    want = math.acos(math.cos(a) ** 2 * math.cos(2 * math.pi / 5) + math.sin(a) ** 2)
    assert math.degrees(want) == pytest.approx(69.21, abs=0.005)


@pytest.mark.parametrize("sides", range(3, 11))
def test_slant_and_turn_are_those_of_a_frustum(sides) -> None:  # type: ignore[no-untyped-def]
    """Measured on the FOLD text; the tip's fold is no shorter than fingers can make."""
    design = build(FAMILY, (41.0, 41.0, 30.0), sides=sides, measured="round")
    slant = design.sizes["slant-height"]
    height, low, high = (r.value for r in slant.inputs)
    assert slant.value == pytest.approx(math.hypot(height, low - high))
    faces = fold_reader.read(text_of(design)).faces
    a = math.atan2(low - high, height)
    want = math.acos(math.cos(a) ** 2 * math.cos(2 * math.pi / sides) + math.sin(a) ** 2)
    for k in range(1, sides):
        one, other = (faces["spire", f"wall-{i}"].normal for i in (k, k + 1))
        assert math.acos(float(one @ other)) == pytest.approx(want, abs=1e-9)
    tops = [f.points[f.points[:, 2] > height - 1e-6] for f in faces.values() if "wall" in f.panel]
    assert max(float(np.linalg.norm(p[0] - p[-1])) for p in tops) == pytest.approx(5.0, abs=0.01)


@pytest.mark.parametrize("factor", [0.5, 1.0, 2.0])
def test_only_panels_scale(factor) -> None:  # type: ignore[no-untyped-def]
    """The seam is 10 mm deep unless its wall is narrower, the tip 5 mm (both from memory)."""
    inside = tuple(v * factor for v in (60.0, 60.0, 40.0))
    design = build(FAMILY, inside, measured="round", spire_height=200.0 * factor)
    seam = design.pieces[0].panel("seam")
    assert seam.size[1] == pytest.approx(10.0)
    assert design.sizes["tip-side"].value == 5.0


def test_a_lit_spire_with_a_window_in_every_wall() -> None:
    """A 38 mm battery light with 10 mm of air; lined; no tab under a window; it closes."""
    windows = tuple(
        Window(piece="spire", panel=f"wall-{k}", motif="stars", number=k, frame=6.0, lined=True)
        for k in range(1, 6)
    )
    project = changed(
        Task(),
        contents=(Light(name="path light", mass=20),),
        shape=Shape(key="spire", options={"spire-height": 220.0}),
        windows=windows,
    )
    work = work_up(project, arrange_contents(project, quick=True))
    assert not work.blocked
    assert "window-refused" not in {f.code for f in work.findings}
    assert work.lit
    assert {f.code for f in work.findings} >= {"caution-flame", "caution-button-cell"}
    assert work.inside[0] >= 38.0 + 2 * 10.0
