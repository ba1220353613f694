"""The tri-fold holder: closes over what lies in it, by the FOLD text; its numbers by hand."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from jadeite.core.contents import Ball, FlatPack
from jadeite.core.findings import Level
from jadeite.core.nets.ties import ribbon_length
from jadeite.core.pipeline import arrange_contents, at_hand, work_up
from jadeite.core.project import Face, Shape, Task, changed
from jadeite.core.shapes import family_by_key
from tests import fold_reader
from tests.core.shapes.closing import FOLDING, build, closes_or_says_why, text_of, values_of

FAMILY = family_by_key("tri-fold-holder")
INSIDES = st.tuples(st.floats(40.0, 200.0), st.floats(40.0, 200.0), st.floats(0.1, 8.0))
CHART = FlatPack(name="chart", width=70, height=85, thickness=1.0, mass=8.0)


@settings(max_examples=200)
@given(
    inside=INSIDES,
    board=FOLDING,
    chosen=st.fixed_dictionaries({o.key: values_of(o, 60.0) for o in FAMILY.options}),
)
def test_property_every_holder_closes(inside, board, chosen) -> None:  # type: ignore[no-untyped-def]
    """All options, boards and sizes; refused are a flap, a seal or a ribbon too large for it."""
    made = closes_or_says_why(FAMILY, inside, board, chosen)
    small = min(inside[:2]) < chosen["seal-size"] + 16 or inside[1] < chosen["ribbon"] + 18
    foot = chosen["foot"] > inside[1] * chosen["pocket-height"] / 200 - 0.1
    assert made or small or foot


def test_the_usual_one_is_as_makers_make_it() -> None:
    """Common practice: 248 x 95 mm flat, scores at 83 mm from both ends, 3 x 83 in all.

    Over each of both scores of an edge there is as much as lies under it.
    """
    task = changed(Task(), shape=Shape(key="tri-fold-holder"), brief=Face(size=(83.0, 95.0)))
    work = work_up(task, None)
    assert [f.message for f in work.findings if f.level > Level.NOTE] == []
    holder = work.design.piece("holder")
    outline = np.concatenate([p.outline for p in holder.panels if p.name != "foot"])
    assert np.ptp(outline[:, 0]) == pytest.approx(248.0, abs=3.0)
    assert np.ptp(holder.panel("middle").outline, axis=0) == pytest.approx([82.77, 94.77])
    titles = [step.title for step in work.assembly.steps]
    steps = (
        "Glue the pocket on foot flap",
        "Draw the ribbon through its slits",
        "Stick the seal to the holder",
        "Fold in the holder's cover",
        "Tie the ribbon round it in a bow",
    )
    order = [titles.index(title) for title in steps]
    assert order == sorted(order)
    (ribbon,) = [b for b in at_hand({"h": work}) if b.name == "ribbon"]
    assert ribbon.length == pytest.approx(4 * (82.54 + 0.8 + 6 * 0.23) + 300.0, abs=0.01)
    # and so long is what is drawn, with both ends round the back
    (tied,) = [b for b in work.design.bought if b.strips]
    assert ribbon_length(tied.strips) == pytest.approx(ribbon.length, rel=0.05)


def test_it_is_sized_by_what_goes_in_and_that_can_be_drawn_out() -> None:
    """A chart of 70 x 85 has room; it leaves through the mouth, over the pocket's edge."""
    task = changed(Task(), shape=Shape(key="tri-fold-holder"), contents=(CHART,))
    work = work_up(task, arrange_contents(task))
    assert [f.message for f in work.findings if f.level > Level.NOTE] == []
    inside = [work.sizes[f"inside-{name}"].value for name in ("width", "height", "thickness")]
    assert inside[0] >= 72.0
    assert inside[1] >= 87.0
    model = fold_reader.read(text_of(work.design))
    middle, pocket = model.faces["holder", "middle"], model.faces["holder", "flap.pocket"]
    apart = abs(float((pocket.points[0] - middle.points[0]) @ middle.normal))
    assert apart == pytest.approx(inside[2] + 0.23 + 0.23, abs=1e-6)  # the foot flap lies there too
    task = changed(task, contents=(Ball(name="planet", diameter=40),))
    (finding,) = work_up(task, arrange_contents(task)).findings
    assert "Planet is not flat" in finding.message


@pytest.mark.parametrize("hand", ["left", "right"])
def test_the_cover_is_on_the_hand_that_is_asked(hand: str) -> None:
    """Seen from the front with the mouth up: the fold of the cover is on that side."""
    model = fold_reader.read(text_of(build(FAMILY, (82.0, 94.0, 0.8), opens_to=hand)))
    edge = model.faces["holder", f"edge.{'left' if hand == 'left' else 'right'}"].points
    cover = model.faces["holder", "flap.cover"].points
    near = np.abs(cover[:, 0] - edge[:, 0].mean()).min()
    assert near < 0.5
    assert bool(edge[:, 0].mean() < 0) is (hand == "left")
