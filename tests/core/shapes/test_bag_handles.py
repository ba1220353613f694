"""The cords of a bag: through its holes, as long as they are listed, told in one step."""

from __future__ import annotations

import numpy as np
import pytest
from shapely.geometry import Point, Polygon

from jadeite.core.assembly import adhesive_by_key, assembly_plan, lift_of
from jadeite.core.pipeline import arrange_contents, work_up
from jadeite.core.pipeline.at_hand import at_hand
from jadeite.core.project import Hollow, Shape, Task, changed
from jadeite.core.shapes import family_by_key
from tests import fold_reader
from tests.core.shapes.closing import build, text_of

FAMILY = family_by_key("gusset-bag")
INSIDE = (90.0, 60.0, 120.0)


def test_each_handle_goes_through_the_holes_of_its_own_wall() -> None:
    """Against the FOLD text: into the board at both holes, else outside of it and above it."""
    design = build(FAMILY, INSIDE)
    model = fold_reader.read(text_of(design))
    assert {one.on[1] for one in design.bought} == {"front", "back"}
    for one in design.bought:
        wall = model.faces[one.on].points
        (line,) = (np.array(strip.points) for strip in one.strips)
        panel = design.piece(one.on[0]).panel(one.on[1])
        assert len([o for o in panel.openings if o.kind == "hole"]) == 2
        out = np.sign(wall[0, 1])
        for end in (line[0], line[-1]):
            assert end[1] == pytest.approx(wall[:, 1].mean(), abs=0.5)
            assert Polygon(wall[:, [0, 2]]).contains(Point(end[[0, 2]]))
        assert np.all(out * (line[1:-1, 1] - wall[:, 1].mean()) > 0)
        assert line[:, 2].max() > wall[:, 2].max() + 50  # room for a hand
        drawn = np.linalg.norm(np.diff(line, axis=0), axis=1).sum()
        assert one.length == pytest.approx(drawn + 60.0, abs=1.0)  # both knots


def test_both_are_one_step_and_one_line_of_what_is_at_hand() -> None:
    task = changed(Task(), shape=Shape(key=FAMILY.key), brief=Hollow(size=INSIDE))
    work = work_up(task, arrange_contents(task))
    (cords,) = at_hand({"bag": work})
    assert cords.count == 2
    assert f"2 × {cords.length:.0f} mm" in cords.words()
    design = build(FAMILY, INSIDE)
    steps = assembly_plan(design, lift_of(design), adhesive_by_key("liquid-craft-glue")).steps
    assert sum("cords" in step.title for step in steps) == 1
    assert not build(FAMILY, INSIDE, holes="none").bought
