"""The gusseted bag, proved from its exported FOLD geometry."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import example, given, settings

from jadeite.core.cutting import strokes_of
from jadeite.core.findings import Level
from jadeite.core.nets import loops_of
from jadeite.core.proof import prove
from jadeite.core.shapes import family_by_key
from tests.core.shapes.closing import FOLDING, build, closes_or_says_why, options_of, sizes

FAMILY = family_by_key("gusset-bag")


@settings(max_examples=200)
@given(inside=sizes(20.0, 300.0), board=FOLDING, chosen=options_of(FAMILY))
@example((20.0, 20.0, 20.0), "craft-board", {"holes": "two", "above": 10.0})
@example((20.0, 300.0, 20.0), "tissue", {"holes": "two", "above": 10.0})
def test_property_every_bag_closes(inside, board, chosen) -> None:  # type: ignore[no-untyped-def]
    """Over all sizes, boards and options together."""
    closes_or_says_why(FAMILY, inside, board, chosen)


def creases_at(piece, point):  # type: ignore[no-untyped-def]
    """Directions in degrees and marks of the folds that end at a point of the flat net."""
    out = []
    for fold in piece.folds:
        ends = np.array([fold.start, fold.end])
        gaps = np.linalg.norm(ends - point, axis=1)
        if gaps.min() < 1e-6:
            way = ends[1 - gaps.argmin()] - point
            out.append((math.degrees(math.atan2(way[1], way[0])) % 360, fold.mark))
    return sorted(out)


@pytest.mark.parametrize("side", ["right", "left"])
def test_the_side_folds_flat(side) -> None:  # type: ignore[no-untyped-def]
    """Where its creases meet: Kawasaki (every other angle adds to 180 degrees) and Maekawa
    (mountains and valleys differ by two), the published conditions of flat folding."""
    piece = build(FAMILY, (90.0, 60.0, 90.0)).pieces[0]
    base, far = piece.panel(f"{side}-base").outline, piece.panel(f"{side}-far").outline
    apex = next(p for p in base if np.linalg.norm(far - p, axis=1).min() < 1e-6)
    turns, marks = zip(*creases_at(piece, apex), strict=True)
    angles = [(b - a) % 360 for a, b in zip(turns, [*turns[1:], turns[0]], strict=True)]
    assert len(angles) == 4
    assert sum(angles[::2]) == pytest.approx(180.0)
    assert abs(marks.count("mountain") - marks.count("valley")) == 2


def test_creases_that_stay_open_get_ticks_and_no_score() -> None:
    """By hand: a short tick at either end."""
    piece = build(FAMILY, (90.0, 60.0, 90.0)).pieces[0]
    ticks = [p for step, p, _ in strokes_of(piece) if step == "perforate"]
    creased = [f for f in piece.folds if f.kind == "hand-creased"]
    assert len(ticks) == 2 * len(creased)
    assert max(np.linalg.norm(p[1] - p[0]) for p in ticks) <= 3.0 + 1e-9


def test_holes_stay_as_large_and_as_far_from_the_edge() -> None:
    """Half, one and double size."""
    for factor in (0.5, 1.0, 2.0):
        inside = tuple(v * factor for v in (120.0, 80.0, 120.0))
        piece = build(FAMILY, inside).pieces[0]
        holes = [loop for loop in loops_of(piece) if loop.kind == "hole" and len(loop.points) == 24]
        assert len(holes) == 4
        top = max(p.outline[:, 1].max() for p in piece.panels)
        for hole in holes:
            assert np.ptp(hole.points[:, 0]) == pytest.approx(4.0, abs=0.05)
            assert top - hole.points[:, 1].mean() == pytest.approx(12.0)


def test_a_low_wide_bag_is_as_tall_as_its_slants_and_holes_need() -> None:
    """The sides meet half their width above the floor; holes stay 4 mm clear of that."""
    design = build(FAMILY, (60.0, 200.0, 40.0))
    slant, whole = (design.sizes[key].value for key in ("slant-height", "whole-height"))
    assert whole > slant + 12.0 + 2.0 + 4.0 - 1e-6
    assert not [f for f in prove(design)[1] if f.level > Level.NOTE]
    bare = build(FAMILY, (60.0, 200.0, 40.0), holes="none")
    assert bare.sizes["whole-height"].value < whole
