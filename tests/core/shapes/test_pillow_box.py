"""The pillow box with its curved scores, proved from its exported FOLD geometry."""

from __future__ import annotations

import dataclasses
import math

import numpy as np
import pytest
from hypothesis import example, given, settings

from jadeite.core.boards import board_by_key
from jadeite.core.cutting import strokes_of
from jadeite.core.errors import FieldError
from jadeite.core.nets import piece_area
from jadeite.core.shapes import family_by_key
from tests import fold_reader
from tests.core.shapes.closing import (
    FOLDING,
    HEAVY,
    build,
    closes_or_says_why,
    options_of,
    sizes,
    text_of,
)

FAMILY = family_by_key("pillow-box")


@settings(max_examples=HEAVY)
@given(inside=sizes(8.0, 250.0), board=FOLDING, chosen=options_of(FAMILY))
@example((8.0, 8.0, 8.0), "craft-board", {"bow": 60.0})
@example((8.0, 250.0, 8.0), "tissue", {"bow": 25.0})
def test_property_every_pillow_closes(inside, board, chosen) -> None:  # type: ignore[no-untyped-def]
    """Over all sizes, boards and options; nothing is refused."""
    assert closes_or_says_why(FAMILY, inside, board, chosen)


def test_ends_are_the_faces_mirrored_in_the_plane_of_the_score() -> None:
    """A curved score in a plane: the rulings beyond it are those before it, reflected.

    So the score makes the same angle with the rulings of both sides, in space
    and in the flat net (the published property of planar curved creases).
    """
    model = fold_reader.read(text_of(build(FAMILY, (90.0, 60.0, 20.0))))
    for key, end in ((("pillow", "top.5"), ("pillow", "end.top.right.5")),):
        face, flap = model.faces[key], model.faces[end]
        shared = [p for p in face.points if np.linalg.norm(flap.points - p, axis=1).min() < 1e-6]
        assert len(shared) == 2
        crease = (shared[1] - shared[0]) / np.linalg.norm(shared[1] - shared[0])
        ruling, down = np.array([1.0, 0.0, 0.0]), np.array([0.0, 0.0, 1.0])
        assert abs(crease @ ruling) == pytest.approx(abs(crease @ down))


def test_a_developable_face_keeps_its_length() -> None:
    """Along the bow the flat face is as long as the arc (chords within 0.1 %), r times 2 alpha."""
    design = build(FAMILY, (90.0, 60.0, 20.0), bow=45.0)
    arc = design.sizes["face-width"].value
    assert arc == pytest.approx(2 * design.sizes["bow-radius"].value * math.radians(45.0))
    panels = [p for p in design.pieces[0].panels if p.name.startswith("low.")]
    points = np.concatenate([p.outline for p in panels])
    assert np.ptp(points[:, 1]) == pytest.approx(arc, rel=1e-3)


def test_a_curved_score_is_one_line_and_close_to_its_curve() -> None:
    """Four curved scores, each one stroke through the corners of its facets."""
    design = build(FAMILY, (90.0, 60.0, 20.0))
    scores = [line for step, line, _ in strokes_of(design.pieces[0]) if step == "score"]
    assert min(sorted(len(line) for line in scores)[-4:]) > 18  # smoother than 17 facets
    assert len(scores) == 6  # and the two straight ones
    radius = design.sizes["bow-radius"].value
    for line in scores:
        turns = np.diff(np.unwrap(np.arctan2(*np.diff(line, axis=0).T[::-1])))
        assert np.abs(turns).max(initial=0.0) < math.sqrt(8 * 0.02 / radius)  # sagitta 0.02 mm


def test_the_bow_turns_with_its_option_and_never_tighter_than_the_board_bears() -> None:
    """Rounder is a smaller radius; a diameter of 25 thicknesses (from memory) is always kept."""
    slim, round_ = (build(FAMILY, (80.0, 50.0, 20.0), bow=b).sizes for b in (30.0, 60.0))
    assert slim["bow-radius"].value > round_["bow-radius"].value
    tight = build(FAMILY, (8.0, 8.0, 8.0), "craft-board", bow=60.0).sizes
    assert 2 * tight["bow-radius"].value > tight["smallest-curl"].value


def test_a_board_too_thick_is_refused() -> None:
    """The seam's set-back must leave some of the facet that carries it."""
    thick = dataclasses.replace(board_by_key("craft-board"), thickness=1.8)
    with pytest.raises(FieldError, match="too thick"):
        FAMILY.build((8.0, 8.0, 8.0), {"pillow": thick}, {"bow": 60.0})


def test_the_quick_area_is_near_the_true_one() -> None:
    """For comparing; within a fifth."""
    design = build(FAMILY, (90.0, 60.0, 20.0))
    assert FAMILY.board_area((90.0, 60.0, 20.0), {}, {"bow": 40.0}) == pytest.approx(
        piece_area(design.pieces[0]), rel=0.2
    )


def test_the_seam_is_as_deep_whatever_the_size() -> None:
    """Half, one and double size: facets of the tab add up to 10 mm, up to one more facet."""
    for factor in (0.5, 1.0, 2.0):
        inside = tuple(v * factor for v in (120.0, 90.0, 30.0))
        piece = build(FAMILY, inside).pieces[0]
        deep = sum(p.size[1] for p in piece.panels if p.name.startswith("tab."))
        facet = piece.panel("low.0").size[1]
        assert 10.0 <= deep <= 10.0 + facet + 1.0
