"""The gathered box, proved from its exported FOLD geometry."""

from __future__ import annotations

import dataclasses
import math

import numpy as np
import pytest
from hypothesis import example, given, settings

from jadeite.core.assembly import adhesive_by_key, assembly_plan, lift_of
from jadeite.core.assembly.order import CLOSING
from jadeite.core.boards import board_by_key
from jadeite.core.errors import FieldError
from jadeite.core.nets import loops_of
from jadeite.core.nets.arrivals import Arrival, Arrivals, How, When
from jadeite.core.proof import prove
from jadeite.core.shapes import family_by_key
from tests import fold_reader
from tests.core.shapes.closing import FOLDING, build, closes_or_says_why, options_of, sizes, text_of

FAMILY = family_by_key("gathered-box")
PLAIN = {"slope": 65.0, "closing": "plain", "ribbon": 6.0, "seam": "tongue", "bottom": "glued"}


@settings(max_examples=200)
@given(inside=sizes(20.0, 300.0), board=FOLDING, chosen=options_of(FAMILY))
@example((20.0, 20.0, 30.0), "craft-board", PLAIN)
@example((20.0, 20.0, 20.0), "craft-board", PLAIN)
@example((300.0, 20.0, 20.0), "tissue", PLAIN | {"seam": "tab", "slope": 75.0})
def test_property_every_gathered_box_closes(inside, board, chosen) -> None:  # type: ignore[no-untyped-def]
    """Over all sizes, boards and options together."""
    closes_or_says_why(FAMILY, inside, board, chosen)


def test_gussets_keep_their_shape_when_folded() -> None:
    """A gusset's tip is as far from its corner as the top is high, in space as in the flat net."""
    design = build(FAMILY, (80.0, 60.0, 50.0))
    model = fold_reader.read(text_of(design))
    slant = design.sizes["top-height"].value
    one = model.faces["box", "gusset.right.back"].points
    other = model.faces["box", "gusset.back.right"].points
    corner = next(p for p in one if p[2] == one[:, 2].min())
    tip = next(p for p in one if np.linalg.norm(other - p, axis=1).min() < 1e-6 and p is not corner
               and np.linalg.norm(p - corner) > 1)  # fmt: skip
    assert np.linalg.norm(tip - corner) == pytest.approx(slant)
    lean = math.degrees(math.acos(model.faces["box", "top.right"].normal[2]))
    assert lean == pytest.approx(65.0)  # the slope that was asked for


@pytest.mark.parametrize("board", ["tissue", "medium-card", "craft-board"])
def test_glued_gussets_gape_no_wider_than_glue_bridges(board) -> None:  # type: ignore[no-untyped-def]
    """Measured on the FOLD text: the plies part by sqrt(2) (2 t + 0.4) less t at the edge."""
    design = build(FAMILY, (80.0, 60.0, 50.0), board, closing="glue")
    faces = fold_reader.read(text_of(design)).faces
    t = board_by_key(board).thickness
    for one, other in (("right", "back"), ("back", "left"), ("left", "front"), ("front", "right")):
        mine, its = (faces["box", f"gusset.{a}.{b}"] for a, b in ((one, other), (other, one)))
        apart = np.abs((mine.points - its.points[0]) @ its.normal).max()
        assert apart <= math.sqrt(2) * (2 * t + 0.4) + 1e-9
        assert apart - t < 1.6
    glue = adhesive_by_key("liquid-craft-glue")
    titles = [s.title for s in assembly_plan(design, lift_of(design), glue, ["tea"]).steps]
    assert titles[-1] == "Glue the two plies of each gusset together"
    assert "plies-apart" not in {f.code for f in prove(design)[1]}
    wide = Arrival("box", When.FILLED, ("box", "gusset.left.front"), How.PRESSED,
                   "gusset.right.back")  # fmt: skip
    gaping = dataclasses.replace(design, arrivals=Arrivals([wide]))
    assert "plies-apart" in {f.code for f in prove(gaping)[1]}


def test_the_seam_with_a_tongue_is_glued_twice_and_passes_its_slit() -> None:
    """Two glue joints and a slot; the slit is 0.6 mm longer than the tongue (from memory)."""
    design = build(FAMILY, (80.0, 60.0, 60.0), seam="tongue")
    seam = [j for j in design.joints if "seam" in j.title]
    assert [(j.kind, j.side) for j in seam] == [("glue", "outside"), ("glue", "inside")]
    reports = prove(design)[0]
    slot = next(r for r in reports if r.joint.kind == "tongue")
    assert slot.closed
    assert slot.distance == pytest.approx(0.6)
    slit = next(loop for loop in loops_of(design.pieces[0]) if loop.kind == "slit")
    tongue = design.pieces[0].panel("tongue").size[0]
    assert slit.length == pytest.approx(tongue + 0.6)
    plan = assembly_plan(design, lift_of(design), adhesive_by_key("liquid-craft-glue"))
    assert sum("seam" in step.title for step in plan.steps) == 2


def test_slits_and_laps_do_not_grow_with_the_box() -> None:
    """Half, one and double size."""
    kept = []
    for factor in (0.5, 1.0, 2.0):
        inside = tuple(v * factor for v in (160.0, 120.0, 120.0))
        design = build(FAMILY, inside, seam="tongue", ribbon=8.0)
        panel = design.pieces[0].panel
        kept.append([design.sizes["ribbon-slit"].value, panel("lap.outside").size[1],
                     panel("tongue").size[1], panel("tab.right").size[1]])  # fmt: skip
    assert kept[0] == pytest.approx(kept[1])
    assert kept[1] == pytest.approx(kept[2])


def test_all_tops_are_gathered_at_once_after_filling() -> None:
    """One movement of the lift."""
    lift = lift_of(build(FAMILY, (80.0, 60.0, 60.0)))
    fill = next(s for s in lift.stages if s.kind == "fill")
    assert [s.start >= fill.end - 1e-6 for s in lift.stages if s.level >= CLOSING] == [True]


def test_a_ribbon_too_wide_is_refused_with_one_that_fits() -> None:
    """The width in the cure builds."""
    with pytest.raises(FieldError, match="ribbon") as caught:
        build(FAMILY, (60.0, 60.0, 60.0), ribbon=25.0)
    build(FAMILY, (60.0, 60.0, 60.0), ribbon=float(caught.value.cure.split()[1]))


@pytest.mark.parametrize("family", ["gathered-box", "carton"])
def test_a_lock_is_folded_when_the_tube_is_glued_and_in_the_order_of_hands(family: str) -> None:
    """Common practice: the notched flap, both sides over it, the last one into its notch."""
    design = build(family_by_key(family), (60.0, 50.0, 70.0), bottom="lock")
    steps = assembly_plan(design, lift_of(design), adhesive_by_key("liquid-craft-glue")).steps
    titles = [step.title for step in steps]
    marks = ("seam, left to back", "notched flap", "side flap", "last flap", "top")
    order = [next(i for i, t in enumerate(titles) if mark in t) for mark in marks]
    assert order == sorted(set(order))
    assert "upside down" in steps[order[1]].detail
    assert "notch" in steps[order[3]].detail


def test_a_lock_stands_as_high_as_a_floor_and_carries_no_glue() -> None:
    """Walls are lower by the plies under the hollow; only the seam is glued."""
    glued, lock = (build(FAMILY, (80.0, 60.0, 50.0), bottom=b) for b in ("glued", "lock"))
    assert [j.title for j in lock.joints if j.kind == "glue"] == ["seam, left to back"]
    t = lock.pieces[0].board.thickness
    lowest = min(f.points[:, 2].min() for f in fold_reader.read(text_of(lock)).faces.values())
    assert lowest == pytest.approx(-3.5 * t)
    assert glued.hollow == lock.hollow
