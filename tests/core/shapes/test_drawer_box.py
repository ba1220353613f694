"""Sleeve and drawer, proved from its exported FOLD geometry."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import example, given, settings

from jadeite.core.assembly import lift_of
from jadeite.core.errors import FieldError
from jadeite.core.folding import folded_faces
from jadeite.core.nets.arrivals import When
from jadeite.core.shapes import family_by_key
from tests import fold_reader
from tests.core.shapes.closing import FOLDING, build, closes_or_says_why, options_of, sizes, text_of

FAMILY = family_by_key("drawer-box")
PLAIN = {"pull": "notch", "ribbon": 6.0, "drawer-walls": "double"}


@settings(max_examples=200)
@given(inside=sizes(15.0, 300.0), board=FOLDING, chosen=options_of(FAMILY))
@example((15.0, 15.0, 15.0), "craft-board", PLAIN)
def test_property_every_drawer_closes(inside, board, chosen) -> None:  # type: ignore[no-untyped-def]
    """Over all sizes, boards and options together."""
    closes_or_says_why(FAMILY, inside, board, chosen)


@pytest.mark.parametrize("factor", [0.5, 1.0, 2.0])
@pytest.mark.parametrize("walls", ["single", "double"])
def test_a_drawer_runs_with_2_mm_in_width_and_1_5_in_height(factor, walls) -> None:  # type: ignore[no-untyped-def]
    """From memory (craft rules), whatever the size: measured between the plies in the FOLD text."""
    inside = tuple(v * factor for v in (90.0, 60.0, 40.0))
    model = fold_reader.read(text_of(build(FAMILY, inside, drawer_walls=walls)))
    t = 0.23
    drawer = [f.points for (p, _), f in model.faces.items() if p == "drawer"]
    sleeve = {n: f.points for (p, n), f in model.faces.items() if p == "sleeve"}
    across = sleeve["right"][:, 1].mean() - sleeve["left"][:, 1].mean() - t
    high = sleeve["top"][:, 2].mean() - sleeve["bottom"][:, 2].mean() - t
    wide = max(p[:, 1].max() for p in drawer) - min(p[:, 1].min() for p in drawer) + t
    floor = min(p[:, 2].min() for p in drawer) - t / 2
    rim = max(p[:, 2].max() for p in drawer)
    assert across - wide == pytest.approx(2.0, abs=1e-6)
    # a rolled rim is a ply, half of it above its middle; a bare rim ends at it
    top = rim + (t / 2 if walls == "double" else 0.0)
    assert high - (top - floor) == pytest.approx(1.5, abs=t)


def test_the_sleeve_is_slid_on_from_the_side() -> None:
    """Half way it stands beside the drawer, at its height."""
    lift = lift_of(build(FAMILY, (90.0, 60.0, 40.0)))
    stage = next(s for s in lift.stages if s.when is When.LAST)
    half = lift.pose((stage.start + stage.end) / 2).matrices["sleeve"]["bottom"]
    done = lift.pose(1.0).matrices["sleeve"]["bottom"]
    away = half[:3, 3] - done[:3, 3]
    assert away[0] > 90.0
    assert abs(away[1]) < 1e-6
    assert abs(away[2]) < 1e-6


def test_a_ribbon_too_wide_for_the_front_is_refused() -> None:
    """With one that fits."""
    with pytest.raises(FieldError, match="ribbon") as caught:
        build(FAMILY, (60.0, 25.0, 20.0), pull="ribbon", ribbon=25.0)
    width = float(caught.value.cure.split()[1])
    assert "pull-slit" in build(FAMILY, (60, 25.0, 20), pull="ribbon", ribbon=width).sizes


def test_the_ribbon_passes_both_plies_of_a_double_front() -> None:
    """The slits of the front and of its inner wall lie behind one another in the closed thing."""
    for inside in ((60.0, 40.0, 20.0), (160.0, 90.0, 60.0)):
        design = build(FAMILY, inside, pull="ribbon", drawer_walls="double")
        cut = {f.panel: f.openings for f in folded_faces(design) if f.piece == "drawer"}
        (outer,), (inner,) = cut["right"], cut["inner.right"]
        assert np.sort(outer[:, 1:], axis=0) == pytest.approx(np.sort(inner[:, 1:], axis=0))
        assert np.abs(outer[:, 0] - inner[:, 0]).max() < 1.0
