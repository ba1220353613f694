"""Overlays with an even border, on any panel of any family."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.geometry import Polygon

from jadeite.core.assembly import adhesive_by_key, assembly_plan, lift_of
from jadeite.core.boards import board_by_key
from jadeite.core.errors import FieldError
from jadeite.core.pipeline import plan_sheets, work_up
from jadeite.core.project import Overlay, Project, Shape, changed
from jadeite.core.shapes import all_families
from jadeite.core.shapes.overlays import with_overlay
from tests.conftest import build_tray
from tests.core.shapes.closing import FOLDING, build, faults


@settings(max_examples=80)
@given(
    inside=st.tuples(*(st.floats(30.0, 200.0) for _ in range(3))),
    border=st.floats(1.0, 9.0),
    board=FOLDING,
    over=FOLDING,
    panel=st.sampled_from(["front", "back", "left", "right", "floor"]),
)
def test_property_the_border_is_even_and_the_overlay_lands(
    inside, border, board, over, panel
) -> None:  # type: ignore[no-untyped-def]
    """Measured with Shapely: every point of its edge is as far from the panel's edge."""
    design = with_overlay(build_tray(inside, board), "tray", panel, border, board_by_key(over))
    piece = design.piece("overlay-1")
    edge = Polygon(design.piece("tray").panel(panel).outline).exterior
    inner = Polygon(piece.panels[0].outline)
    gaps = [edge.distance(p) for p in map(inner.exterior.interpolate, np.linspace(0, 40, 9))]
    assert min(gaps) == pytest.approx(border, abs=1e-6)
    assert faults(design) == []


@pytest.mark.parametrize("family", all_families(), ids=lambda f: f.key)
def test_any_plain_panel_of_any_family_takes_one(family) -> None:  # type: ignore[no-untyped-def]
    """On the first wall or floor; it moves with its panel from flat to closed."""
    try:
        design = build(family, (90.0, 70.0, 100.0))
    except FieldError:
        pytest.skip("not of this size")
    plain = [
        (p, q)
        for p in design.pieces
        for q in p.panels
        if q.role in ("wall", "floor") and not q.openings and min(np.ptp(q.outline, axis=0)) > 16
    ]
    if not plain:
        pytest.skip("all of it is rolled")
    piece, panel = plain[0]
    made = with_overlay(design, piece.name, panel.name, 3.0, board_by_key("light-card"))
    lift = lift_of(made)
    for value in (lift.laid, 0.5, 0.8, 1.0):
        pose = lift.pose(value).matrices
        on, over = pose[piece.name][panel.name], pose["overlay-1"]["overlay"]
        assert over[:3, :3] == pytest.approx(on[:3, :3])
        apart = (over[:3, 3] - on[:3, 3]) @ on[:3, 2]
        assert apart == pytest.approx((piece.board.thickness + 0.20) / 2)
    home = lift.pose(1.0).matrices
    if piece.name == design.pieces[0].name:
        there = made.placements["overlay-1"]
        assert home["overlay-1"]["overlay"][:3, :3] == pytest.approx(there[:3, :3], abs=1e-9)


def test_an_overlay_is_a_decision_of_the_project() -> None:
    """Its own board and part, its border among the sizes, glued before anything is folded."""
    project = changed(
        Project(),
        inside=(90.0, 70.0, 60.0),
        overlays=(Overlay(piece="tray", panel="front", border=5.0),),
        boards={"overlay": "light-card"},
    )
    work = work_up(project, None)
    assert work.design is not None
    assert not work.blocked
    assert work.design.piece("overlay-1").board.key == "light-card"
    assert work.sizes["overlay-1-border"].value == 5.0
    plan = assembly_plan(work.design, lift_of(work.design), adhesive_by_key("glue-stick"))
    titles = [step.title for step in plan.steps]
    glued = next(i for i, t in enumerate(titles) if t == "Glue the overlay 1 on the front")
    assert glued < next(i for i, t in enumerate(titles) if t.startswith("Crease"))
    boards = {s.board for s in plan_sheets(project, work.design).layout.sheets}
    assert any("light-card" in b for b in boards)


@pytest.mark.parametrize(
    ("panel", "border", "words"),
    [("front", 29.0, "leaves nothing"), ("ceiling", 4.0, "no panel"),
     ("tab.left.front", 1.0, "glued")],
)  # fmt: skip
def test_where_no_overlay_can_lie_is_refused(panel, border, words) -> None:  # type: ignore[no-untyped-def]
    """With the border that fits, or another panel."""
    with pytest.raises(FieldError, match=words) as caught:
        with_overlay(build_tray(), "tray", panel, border, board_by_key("light-card"))
    if words == "leaves nothing":
        fits = float(caught.value.cure.split()[1])
        with_overlay(build_tray(), "tray", panel, fits, board_by_key("light-card"))
    blocked = changed(
        Project(), inside=(90.0, 70.0, 60.0), shape=Shape(),
        overlays=(Overlay(piece="tray", panel=panel, border=min(border, 30)),),
    )  # fmt: skip
    if words != "leaves nothing":
        assert work_up(blocked, None).design is None
