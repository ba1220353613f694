"""What shows and what is hidden: backs outside, cut-outs that something covers."""

from __future__ import annotations

import dataclasses
from collections import Counter

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.spatial import ConvexHull

from jadeite.core.boards import board_by_key
from jadeite.core.errors import FieldError
from jadeite.core.findings import Finding
from jadeite.core.folding import folded_faces
from jadeite.core.folding.showing import _Sight, backs_outside, covered_openings
from jadeite.core.nets.arrivals import Arrivals
from jadeite.core.nets.model import Opening, Panel, Piece
from jadeite.core.nets.roles import Role
from jadeite.core.pipeline import work_up
from jadeite.core.project import Hollow, Shape, Task, changed, with_change
from jadeite.core.shapes import all_families, family_by_key
from tests.core.shapes.closing import boards_for, build, fit, options_of, sizes

FOIL = "glitter-card"
TURNED = {"good-side": "inside"}


# petals are seen from both sides, and curl their backs outwards: there the finding is true
CLOSED = [family for family in all_families() if family.key != "petal-lantern"]


@settings(max_examples=30)
@given(data=st.data(), family=st.sampled_from(CLOSED), inside=sizes(40.0, 200.0))
def test_property_no_family_shows_the_back_or_hides_a_cut_out(data, family, inside) -> None:  # type: ignore[no-untyped-def]
    """Over all options, but for the one that turns the good side in."""
    chosen = data.draw(options_of(family))
    if "good-side" in chosen:
        chosen["good-side"] = "outside"
    try:
        design = family.build(fit(family, inside), boards_for(family, FOIL), chosen)
    except FieldError:
        return
    faces = folded_faces(design)
    assert backs_outside(design, faces) == []
    covered = covered_openings(design, faces)
    if chosen.get("centre-piece") == "strip" and chosen["middle"] == "hole":
        covered = [c for c in covered if c.by[0] != "centre-strip"]  # asked for, and said
    assert covered == []


def test_petals_of_one_sided_board_show_their_backs() -> None:
    """Of foil, the bases from below and every petal from outside."""
    design = build(family_by_key("petal-lantern"), (60.0, 60.0, 60.0), FOIL)
    found = {piece.split("-")[0] for piece, _, _ in backs_outside(design, folded_faces(design))}
    assert found == {"base", "petal"}


def test_backs_that_show_are_the_sides_of_the_hull() -> None:
    """Turned in, a tray without lid shows every panel that lies on its convex hull (SciPy)."""
    design = build(family_by_key("tray-with-lid"), (90.0, 70.0, 40.0), FOIL, good_side="inside")
    alone = dataclasses.replace(
        design,
        pieces=design.pieces[:1],
        arrivals=Arrivals(),
        joints=tuple(j for j in design.joints if j.tab[0] == j.target[0] == "tray"),
    )
    faces = folded_faces(alone)
    hull = ConvexHull(np.concatenate([f.points for f in faces]))
    on_hull = {
        f.panel
        for f in faces
        for plane in hull.equations
        if np.abs(f.points @ plane[:3] + plane[3]).max() < 0.3 and abs(f.normal @ plane[:3]) > 0.99
    }
    walls = {"front", "back", "left", "right", "floor"}
    assert {panel for _, panel, _ in backs_outside(alone, faces)} == walls == on_hull & walls


def test_a_line_of_sight_is_laid_against_few_outlines(monkeypatch) -> None:  # type: ignore[no-untyped-def]
    """Hundreds of facets of one-sided board: each outline is made once, each line meets few."""
    counts: Counter[str] = Counter()
    blocked, outline, prepare = _Sight.blocked, _Sight._outline, shapely.prepare

    def counted(name, call):  # type: ignore[no-untyped-def]
        def run(*arguments):  # type: ignore[no-untyped-def]
            counts[name] += 1
            return call(*arguments)

        return run

    monkeypatch.setattr(_Sight, "blocked", counted("lines", blocked))
    monkeypatch.setattr(_Sight, "_outline", counted("outlines", outline))
    monkeypatch.setattr(shapely, "prepare", counted("made", prepare))
    design = build(family_by_key("petal-lantern"), (126.0, 126.0, 61.0), FOIL)
    faces = folded_faces(design)
    counts.clear()
    assert ("base-3", "base-3") in {
        (piece, name) for piece, name, _ in backs_outside(design, faces)
    }
    assert counts["lines"] > 100
    assert counts["made"] <= len(faces)
    assert counts["outlines"] < 4 * counts["lines"]


def _said(project: Task, code: str) -> Finding | None:
    return next((f for f in work_up(project, None).findings if f.code == code), None)


def test_the_back_of_foil_is_said_and_turned() -> None:
    """With the option that turns it; plain card has two good sides and says nothing."""
    foil = {"tray": FOIL, "lid": FOIL}
    project = changed(
        Task(), brief=Hollow(size=(90.0, 70.0, 40.0)), boards=foil, shape=Shape(options=TURNED)
    )
    found = _said(project, "back-shows")
    assert found is not None
    assert "has one good side" in found.message
    assert found.cure is not None
    for field, value in found.cure.changes:
        project = with_change(project, field, value)
    assert _said(project, "back-shows") is None
    plain = changed(project, boards={}, shape=Shape(options=TURNED))
    assert _said(plain, "back-shows") is None


@pytest.mark.parametrize(
    ("away", "hole", "covered"),
    [(1.0, False, True), (3.5, False, True), (6.0, False, False), (1.0, True, False)],
)
def test_a_cut_out_is_covered_by_what_lies_close_behind_it(away, hole, covered) -> None:  # type: ignore[no-untyped-def]
    """A plate behind a ribbon slit; farther off, or with a hole there too, it does not matter."""
    design = build(family_by_key("pyramid"), (60.0, 60.0, 40.0))
    piece = design.pieces[0]
    panel = piece.panel("side-1")
    middle = panel.openings[0].points.mean(axis=0)
    square = np.array([[-20.0, -9.0], [20.0, -9.0], [20.0, 9.0], [-20.0, 9.0]])
    cuts = (Opening("hole", middle + square * 0.4),) if hole else ()
    plate = Piece(
        "plate",
        "plate",
        board_by_key("medium-card"),
        (Panel("plate", "plate", Role.PLATE, middle + square, (40.0, 18.0), cuts),),
        (),
    )
    side = next(f for f in folded_faces(design) if f.panel == "side-1")
    fold = next(f for f in piece.folds if f.child == "side-1")
    a, b = np.array(fold.start), np.array(fold.end)
    x, y = (b - a) / np.linalg.norm(b - a), np.array([-(b - a)[1], (b - a)[0]])
    y = y / np.linalg.norm(y)
    # the plate's frame: that of the side, moved inwards
    ends = [side.points[np.abs((panel.outline - p).sum(axis=1)).argmin()] for p in (a, b)]
    across = (ends[1] - ends[0]) / np.linalg.norm(ends[1] - ends[0])
    up = np.cross(side.normal, across)
    place = np.eye(4)
    place[:3, 0] = across * x[0] + up * y[0]
    place[:3, 1] = across * x[1] + up * y[1]
    place[:3, 2] = side.normal
    place[:3, 3] = ends[0] - place[:3, :2] @ a - side.normal * away
    more = dataclasses.replace(
        design, pieces=(piece, plate), placements={**design.placements, "plate": place}
    )
    found = [(c.panel, c.by[0]) for c in covered_openings(more, folded_faces(more))]
    assert (("side-1", "plate") in found) is covered
