"""Pieces in two equal halves: the whole again once lapped, proved from the FOLD text."""

from __future__ import annotations

import dataclasses

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely import union_all
from shapely.geometry import Polygon

from jadeite.core.assembly import adhesive_by_key, assembly_plan, lift_of
from jadeite.core.contents import Block
from jadeite.core.errors import FieldError
from jadeite.core.folding import closed_matrices
from jadeite.core.nets import piece_area
from jadeite.core.nets.arrivals import When
from jadeite.core.nets.halves import HALVES, middle_cut
from jadeite.core.nets.split import split_along
from jadeite.core.pipeline import arrange_contents, plan_sheets, work_up
from jadeite.core.pipeline.cures import cured
from jadeite.core.project import Hollow, Shape, Task, Window, changed
from jadeite.core.shapes import all_families, family_by_key
from tests.core.shapes.closing import FOLDING, build, faults

BOXES = ("tray-with-lid", "gathered-box", "gusset-bag", "carton", "sleeve", "wrap-box", "pyramid")
GLUE = adhesive_by_key("liquid-craft-glue")


def _covered(piece) -> Polygon:  # type: ignore[no-untyped-def]
    shapes = [Polygon(p.outline) for p in piece.panels if not p.name.startswith("lap.")]
    return union_all(shapes, grid_size=1e-6)


@settings(max_examples=40)
@given(
    key=st.sampled_from(BOXES),
    inside=st.tuples(*(st.floats(40.0, 160.0) for _ in range(3))),
    board=FOLDING,
)
def test_property_two_halves_close_as_the_whole_does(key, inside, board) -> None:  # type: ignore[no-untyped-def]
    """Nothing is lost or claimed twice, and every panel stands where it stood."""
    try:
        whole = build(family_by_key(key), inside, board)
    except FieldError:
        return
    piece = whole.pieces[0]
    cut = middle_cut(piece)
    if cut is None:
        with pytest.raises(FieldError, match="Cut it at a fold"):
            split_along(whole, piece.name, HALVES)
        return
    made = split_along(whole, piece.name, HALVES)
    halves = [p for p in made.pieces if p.name in (piece.name, f"{piece.name}-b")]
    one, other = (_covered(p) for p in halves)
    assert one.intersection(other).area < 1e-3
    assert one.union(other).symmetric_difference(_covered(piece)).area < 0.01
    length = max(np.ptp(np.concatenate([p.outline for p in piece.panels]), axis=0))
    for half in halves:
        extent = np.ptp(np.concatenate([p.outline for p in half.panels]), axis=0)[cut.axis]
        assert extent < 0.66 * length + 10.0  # within 15 % of the middle, and a lap
    before, after = closed_matrices(whole), closed_matrices(made)
    for half in halves:
        for panel in half.panels:
            if panel.name in piece.index:
                there = before[piece.name][panel.name]
                assert after[half.name][panel.name] == pytest.approx(there, abs=1e-6)
    assert faults(made) == []


@pytest.mark.parametrize("family", all_families(), ids=lambda f: f.key)
def test_any_piece_of_any_family_is_lapped_or_left_whole(family) -> None:  # type: ignore[no-untyped-def]
    """Board grows by the laps alone; in the lift both halves move as one once they are glued."""
    design = build(family, (90.0, 70.0, 80.0))
    for piece in {p.title.rstrip(" 0123456789"): p for p in design.pieces}.values():
        cut = middle_cut(piece)
        if cut is None:
            continue
        made = split_along(design, piece.name, HALVES)
        second = made.piece(f"{piece.name}-b")
        laps = sum(Polygon(p.outline).area for p in second.panels if p.name.startswith("lap."))
        area = piece_area(made.piece(piece.name)) + piece_area(second)
        assert area == pytest.approx(piece_area(piece) + laps, abs=0.01)
        lift = lift_of(made)
        shared = [p.name for p in second.panels[:1] if p.name in made.piece(piece.name).index]
        for value in (lift.came(When.FLAT), 0.5, 1.0):
            pose = lift.pose(value).matrices
            for name in shared:
                mine, its = pose[second.name][name], pose[piece.name][name]
                assert mine == pytest.approx(its, abs=1e-6)


def test_a_bag_too_long_for_the_cutter_is_joined_end_to_end() -> None:
    """The gathered box's gussets cross every fold: halves are its only cut, and the cure."""
    block = Block(name="star atlas", length=110, width=60, height=90, mass=200, turn="upright")
    project = changed(Task(), contents=(block,), shape=Shape(key="gathered-box"))
    work = work_up(project, arrange_contents(project, quick=True))
    assert work.design is not None
    finding = next(
        f for f in plan_sheets(project, work.design).findings if f.code == "piece-fits-no-sheet"
    )
    assert "into two equal halves" in finding.message
    assert finding.cure is not None
    assert finding.cure.changes == (("splits.box", HALVES),)
    cut = changed(project, splits={"box": HALVES})
    work = work_up(cut, work.arrangement)
    assert not work.blocked
    assert work.design is not None
    assert not plan_sheets(cut, work.design).layout.unplaced
    steps = [s.title for s in assembly_plan(work.design, lift_of(work.design), GLUE).steps]
    glued = steps.index("Glue both halves of the box end to end")
    assert glued < next(i for i, t in enumerate(steps) if t.startswith("Raise"))


def test_a_lap_keeps_off_what_is_glued_there_and_off_openings() -> None:
    """The teeth lie under the floor of a round box: its lap goes above."""
    design = build(family_by_key("round-box"), (90.0, 90.0, 60.0), measured="round")
    made = split_along(design, "floor", HALVES)
    sides = {j.side for j in made.joints if j.tab[1] == "lap.floor"}
    assert sides == {"inside"}
    assert faults(made) == []
    slotted = build(family_by_key("gathered-box"), (90.0, 70.0, 80.0))
    cut = middle_cut(slotted.pieces[0])
    assert cut is not None
    for panel in slotted.pieces[0].panels:
        for opening in panel.openings:
            off = np.abs(opening.points[:, cut.axis] - cut.at).min()
            crossed = np.ptp(np.sign(panel.outline[:, cut.axis] - cut.at)) > 1
            assert not crossed or off > 4.0


def test_a_half_that_slips_is_found() -> None:
    """A lap that no longer lies on its half is an open joint."""
    design = build(family_by_key("sleeve"), (90.0, 70.0, 80.0))
    made = split_along(design, "sleeve", HALVES)
    moved = made.placements["sleeve-b"].copy()
    moved[:3, 3] += 0.2
    assert faults(dataclasses.replace(made, placements={**made.placements, "sleeve-b": moved}))


@pytest.mark.parametrize("panel", ["right", "front"])
def test_a_cut_that_another_choice_rules_out_is_refused_not_a_crash(panel) -> None:  # type: ignore[no-untyped-def]
    """Cut into thirds, then a window where the second cut runs: said, with a way out that works."""
    windows = (Window(piece="box", panel=panel, frame=16.0),)
    project = changed(
        Task(), brief=Hollow(size=(151.0, 108.0, 38.71)), boards={"box": "photo-paper"},
        shape=Shape(key="gathered-box", options={"slope": 73.0, "closing": "glue"}),
        splits={"box": "halves", "box-b": "halves"}, windows=windows,
    )  # fmt: skip
    work = work_up(project, None)
    assert work.design is None
    assert work.findings[0].where.startswith("splits")
    assert work.findings[0].cure is not None
    after = work_up(cured(project, work.findings[0].cure), None)
    assert not after.blocked
