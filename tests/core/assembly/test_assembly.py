"""Order of making, the lift, and the steps."""

from __future__ import annotations

import itertools

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from jadeite.core.assembly import (
    adhesive_by_key,
    assembly_plan,
    batch_seconds,
    lift_of,
    making_order,
)
from jadeite.core.boards import board_by_key
from jadeite.core.errors import FieldError
from jadeite.core.folding import crossings, transform
from jadeite.core.folding.kinematics import FoldedFace, fold_matrices
from jadeite.core.nets.mesh import mesh_of
from jadeite.core.nets.roles import Role
from jadeite.core.shapes import family_by_key, resolve_options
from tests.conftest import build_tray

GLUE = adhesive_by_key("liquid-craft-glue")
VARIANTS = list(
    itertools.product(["inside", "outside"], ["single", "double"], ["outside", "inside"])
)


def order_of(design, piece: str):  # type: ignore[no-untyped-def]
    """Level of every fold and seam of a piece."""
    folds, seams = {}, {}
    for move in making_order(design):
        if move.piece != piece:
            continue
        for name in move.folds:
            folds[name] = move.level
        if move.joint is not None:
            seams[move.joint.tab[1]] = move.level
    return folds, seams


def test_inside_tabs_stand_before_their_target_and_outside_tabs_after() -> None:
    """Which wall comes up first depends on where the tab lies."""
    folds, seams = order_of(build_tray(tabs="inside"), "tray")
    assert folds["left"] == folds["tab.left.back"] < folds["back"] < seams["tab.left.back"]
    folds, _ = order_of(build_tray(tabs="outside"), "tray")
    assert folds["back"] < folds["left"]


def test_walls_roll_over_only_glued_tabs() -> None:
    """A rolled wall hides its tabs for good."""
    folds, seams = order_of(build_tray(tray_walls="double"), "tray")
    assert seams["tab.left.back"] < folds["rim.back"]
    assert folds["rim.back"] < folds["rim.left"]
    assert folds["rim.back"] == folds["inner.back"] == folds["foot.back"] < seams["foot.back"]


@pytest.mark.parametrize(("tabs", "walls", "good"), VARIANTS)
def test_every_fold_and_seam_is_made_once(tabs: str, walls: str, good: str) -> None:
    """Nothing forgotten, nothing twice."""
    design = build_tray(tabs=tabs, tray_walls=walls, good_side=good, lid_walls=walls)
    moves = making_order(design)
    for piece in design.pieces:
        made = [n for m in moves if m.piece == piece.name for n in m.folds]
        assert sorted(made) == sorted(f.child for f in piece.tree)
    seams = [m.joint for m in moves if m.joint is not None]
    assert len(seams) == sum(j.kind == "glue" for j in design.joints)


@pytest.mark.parametrize(("tabs", "walls", "good"), VARIANTS)
def test_lift_begins_flat_and_ends_closed(tabs: str, walls: str, good: str) -> None:
    """Flat at 0 with the good side up; at 1 the closed form of the proof."""
    design = build_tray(tabs=tabs, tray_walls=walls, good_side=good)
    lift = lift_of(design)
    flat = lift.pose(0.0)
    for piece in design.pieces:
        for matrix in flat.matrices[piece.name].values():
            assert matrix[2, 2] == pytest.approx(1.0)
            assert matrix[2, 3] == pytest.approx(0.0)
    closed = lift.pose(1.0)
    home = np.eye(4)
    home[:2, 3] = lift.spot("tray", 1.0)
    for piece in design.pieces:
        proof = fold_matrices(piece, home @ design.placements[piece.name])
        for name, matrix in closed.matrices[piece.name].items():
            assert matrix == pytest.approx(proof[name], abs=1e-9)
    assert closed.contents == pytest.approx(home)
    assert flat.contents is None


@settings(max_examples=25)
@given(st.sampled_from(VARIANTS), st.floats(0.0, 1.0))
def test_property_lift_is_smooth_and_stays_on_the_table(variant, value) -> None:  # type: ignore[no-untyped-def]
    """A small step moves nothing far, and nothing sinks into the table while it lies on it."""
    tabs, walls, good = variant
    design = build_tray((70, 50, 35), tabs=tabs, tray_walls=walls, good_side=good)
    lift = lift_of(design)
    a, b = lift.pose(value), lift.pose(min(1.0, value + 1e-4))
    for piece in design.pieces:
        for panel in piece.panels:
            p = transform(a.matrices[piece.name][panel.name], panel.outline)
            q = transform(b.matrices[piece.name][panel.name], panel.outline)
            assert np.linalg.norm(p - q, axis=1).max() < 1.0
            if panel.role in (Role.FLOOR, Role.WALL):
                assert p[:, 2].min() > -1.0


@pytest.mark.parametrize("tabs", ["inside", "outside"])
def test_nothing_passes_through_anything_on_the_way(tabs: str) -> None:
    """Single walls: at any moment of the lift, as hands would do it."""
    design = build_tray((80, 60, 30), tabs=tabs)
    lift = lift_of(design)
    joined = frozenset(
        frozenset(((p.name, f.parent), (p.name, f.child))) for p in design.pieces for f in p.folds
    )
    for value in np.linspace(0.0, 1.0, 41):
        pose = lift.pose(float(value))
        faces = tuple(
            FoldedFace(
                piece.name,
                panel.name,
                transform(
                    pose.matrices[piece.name][panel.name], mesh_of(piece).vertices[list(face)]
                ),
                pose.matrices[piece.name][panel.name][:3, 2],
                piece.board.thickness,
            )
            for piece in design.pieces
            for panel, face in zip(piece.panels, mesh_of(piece).faces, strict=True)
        )
        found = crossings(faces, joined)
        assert [(a.panel, b.panel, round(n, 2)) for a, b, n in found] == [], f"at {value:.3f}"


def test_stops_are_named_in_order() -> None:
    """Turned over only when the good side ends outside."""
    stops = lift_of(build_tray()).stops
    assert [name for _, name in stops] == [
        "flat",
        "turned over",
        "walls",
        "tabs glued",
        "filled",
        "closed",
    ]
    assert [at for at, _ in stops] == sorted(at for at, _ in stops)
    inside = [name for _, name in lift_of(build_tray(good_side="inside")).stops]
    assert "turned over" not in inside
    double = [name for _, name in lift_of(build_tray(tray_walls="double")).stops]
    assert "rolled over" in double


def test_steps_follow_the_craft() -> None:
    """All folds before any glue; the last seam named; contents before the lid."""
    design = build_tray()
    plan = assembly_plan(design, lift_of(design), GLUE, ["2 × eyepiece", "cloth"])
    operations = [s.operation for s in plan.steps]
    assert max(i for i, o in enumerate(operations) if o == "crease") < operations.index("glue")
    assert operations[-2:] == ["fill", "close"]
    assert plan.last_seam in [s for s in plan.steps if s.operation == "glue"][-1].title
    assert "last seam" in [s for s in plan.steps if s.operation == "glue"][-1].detail
    assert "2 × eyepiece and cloth" in plan.steps[-2].title
    assert sum(o == "glue" for o in operations) == 7  # eight seams, the last two at once


def test_glue_sets_before_the_box_is_filled() -> None:
    """Five minutes until it may be handled (from memory), while other work goes on."""
    design = build_tray()
    plan = assembly_plan(design, lift_of(design), GLUE, ["cloth"])
    last_tray = [s for s in plan.steps if s.operation == "glue" and "tray" in s.title][-1]
    fill = next(s for s in plan.steps if s.operation == "fill")
    assert fill.start >= last_tray.end + 300 - 1e-9
    for a, b in itertools.pairwise(plan.steps):
        assert b.start == pytest.approx(a.end + b.wait)
    tape = assembly_plan(design, lift_of(design), adhesive_by_key("double-sided-tape"))
    assert tape.seconds < plan.seconds
    assert all(s.wait == 0 for s in tape.steps)


def test_narrow_boxes_get_a_tool_for_the_finger() -> None:
    """Under 18 mm (from memory) no finger fits inside."""
    design = build_tray((60, 16, 30))
    plan = assembly_plan(design, lift_of(design), GLUE)
    assert any("pencil" in s.detail for s in plan.steps if s.operation == "glue")


def test_batches_in_either_order() -> None:
    """Step by step is quicker for the hands; one box costs the same either way."""
    design = build_tray()
    plan = assembly_plan(design, lift_of(design), GLUE, ["cloth"])
    one = batch_seconds(plan, 1)
    assert one["operation"] == one["piece"]
    many = batch_seconds(plan, 12)
    assert many["operation"] < many["piece"]
    assert many["piece"] == pytest.approx(12 * one["piece"])


def test_hot_glue_warns_and_unknown_glue_is_refused() -> None:
    """A caution where it applies, deferring to the maker's instructions."""
    design = build_tray()
    plan = assembly_plan(design, lift_of(design), adhesive_by_key("hot-glue"))
    glue = next(s for s in plan.steps if s.operation == "glue")
    assert "burns" in glue.caution
    assert "instructions" in glue.caution
    with pytest.raises(FieldError, match="glue-stick"):
        adhesive_by_key("spit")


def test_the_last_two_seams_that_mirror_one_another_are_glued_together() -> None:
    """One step for both, with the time of both; every seam is still glued once."""
    design = build_tray()
    plan = assembly_plan(design, lift_of(design), adhesive_by_key("liquid-craft-glue"))
    glue = [step for step in plan.steps if step.operation == "glue"]
    assert " and " in glue[-1].title
    assert "Both at once" in glue[-1].detail
    assert len(glue[-1].panels) == 2
    assert sum(len(step.panels) for step in glue) == 8
    assert glue[-1].hands == pytest.approx(2 * glue[0].hands)


def test_the_last_seam_of_joined_pieces_is_between_them() -> None:
    """Two halves are glued to one another after their own folds."""
    family = family_by_key("wrap-box")
    boards = {part: board_by_key("medium-card") for part, _ in family.parts}
    design = family.build((90.0, 60.0, 70.0), boards, resolve_options(family, {}))
    plan = assembly_plan(design, lift_of(design), adhesive_by_key("liquid-craft-glue"))
    assert plan.last_seam == "the second half to the first half"
