"""The lantern, proved from its exported FOLD geometry; its lid opens, its light comes out."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import example, given, settings

from jadeite.core.assembly import adhesive_by_key, assembly_plan, lift_of
from jadeite.core.contents import Light
from jadeite.core.errors import FieldError
from jadeite.core.folding import crossings, folded_faces
from jadeite.core.nets.arrivals import When
from jadeite.core.nets.roles import Role
from jadeite.core.patterns import MOTIFS
from jadeite.core.pipeline import arrange_contents, windows_in_walls, work_up
from jadeite.core.project import Hollow, Shape, Task, Window, changed
from jadeite.core.shapes import family_by_key
from tests import fold_reader
from tests.core.shapes.closing import FOLDING, build, closes_or_says_why, options_of, sizes, text_of

FAMILY = family_by_key("lantern")
PLAIN = {"sides": 4, "measured": "round", "top": "lid", "bottom": "glued"}
GLUE = adhesive_by_key("liquid-craft-glue")
LIGHT = Light(name="path light", mass=20)  # 38 mm across, common practice


@settings(max_examples=200)
@given(inside=sizes(25.0, 300.0), board=FOLDING, chosen=options_of(FAMILY))
@example((25.0, 25.0, 25.0), "craft-board", PLAIN | {"sides": 10})
@example((25.0, 25.0, 25.0), "craft-board", PLAIN | {"sides": 3})
def test_property_every_lantern_closes(inside, board, chosen) -> None:  # type: ignore[no-untyped-def]
    """Over all sizes, boards and options together."""
    closes_or_says_why(FAMILY, inside, board, chosen)


@pytest.mark.parametrize("sides", range(3, 11))
def test_the_lid_opens_for_the_light(sides) -> None:  # type: ignore[no-untyped-def]
    """Nothing of it is glued, it closes after the light is in, and the light passes its mouth."""
    design = build(FAMILY, (58.0, 58.0, 40.0), sides=sides, measured="round")
    names = {name for _, name in design.arrivals.folds(When.FILLED)}
    assert len(names) == sides  # the lid, and a flap behind every wall but its own
    assert not any({j.tab[1], j.target[1]} & names for j in design.joints if j.kind == "glue")
    stops = [label for _, label in lift_of(design).stops if label]
    assert stops.index("filled") < stops.index("closed")
    faces = fold_reader.read(text_of(design)).faces
    walls = [f for (_, n), f in faces.items() if n.startswith("wall-")]
    mouth = min(float(np.abs(f.points[:, :2] @ f.normal[:2]).min()) for f in walls)
    t = design.pieces[0].board.thickness
    assert 2 * (mouth - 1.5 * t) >= 58.0  # the light with 10 mm of air all round
    tucked = [f for (_, n), f in faces.items() if n.startswith("tuck.")]
    rim = max(float(f.points[:, 2].max()) for f in walls)
    depth = rim - min(float(f.points[:, 2].min()) for f in tucked)
    assert depth == pytest.approx(12.0 + t / 2, abs=0.3)


@pytest.mark.parametrize("factor", [0.5, 1.0, 2.0])
def test_only_panels_scale(factor) -> None:  # type: ignore[no-untyped-def]
    """Flaps of the lid and tabs stay, but for the rule of 0.3 of the height; play is 0.3 mm."""
    inside = tuple(v * factor for v in (80.0, 80.0, 60.0))
    design = build(FAMILY, inside, measured="round")
    assert design.sizes["lid-flap"].value == pytest.approx(min(12.0, 0.3 * inside[2]))
    t = design.pieces[0].board.thickness
    wall = design.sizes["side"].inputs[0].value
    assert wall - inside[0] / 2 == pytest.approx(1.5 * t + 0.3)
    depths = [p.size[1] for p in design.pieces[0].panels if p.role is Role.TAB]
    assert depths == pytest.approx([10.0] * 4)


def test_walls_turn_as_a_prism_does() -> None:
    """360 / n between neighbours (published), and the floor is square to them."""
    for sides in (3, 5, 8):
        faces = fold_reader.read(text_of(build(FAMILY, (60.0, 60.0, 60.0), sides=sides))).faces
        for k in range(1, sides):
            one, other = (faces["lantern", f"wall-{i}"].normal for i in (k, k + 1))
            turn = math.degrees(math.acos(float(one @ other)))
            assert turn == pytest.approx(360.0 / sides, abs=1e-6)
        assert abs(float(faces["lantern", "floor"].normal[2])) == pytest.approx(1.0)


@pytest.mark.parametrize("motif", ["plain", *MOTIFS])
def test_a_path_lantern_with_patterned_sides(motif) -> None:  # type: ignore[no-untyped-def]
    """Four lined windows for a 38 mm battery light, perforated for a cutter that cannot score."""
    project = changed(
        Task(), contents=(LIGHT,), folds="perforated", shape=Shape(key="lantern", options={}),
        brief=Hollow(size=(60.0, 60.0, 90.0)),
    )  # fmt: skip
    arrangement = arrange_contents(project, quick=True)
    first = Window(piece="lantern", panel="wall-1", motif=motif, lined=True)
    windows = windows_in_walls(project, arrangement, first, vary=True)
    assert [w.panel for w in windows] == [f"wall-{k}" for k in range(1, 5)]
    work = work_up(changed(project, windows=windows), arrangement)
    assert not work.blocked
    assert {f.code for f in work.findings} == {"caution-flame", "caution-button-cell"}
    assert work.design is not None
    kinds = {fold.kind for fold in work.design.piece("lantern").folds}
    assert kinds == {"perforated"}
    titles = [s.title for s in assembly_plan(work.design, lift_of(work.design), GLUE).steps]
    assert "Glue the 4 linings behind the windows" in titles


@pytest.mark.parametrize(("sides", "across"), [(4, 58.0), (6, 80.0), (10, 140.0), (4, 30.0)])
def test_the_lid_opens_under_the_handle(sides, across) -> None:  # type: ignore[no-untyped-def]
    """At every moment of its fold, its flaps bent, nothing passes the strap."""
    design = build(FAMILY, (across, across, 60.0), sides=sides, handle="strap", measured="round")
    lift = lift_of(design)
    joined, passed = lift.came(When.FOLDED), 0
    for value in np.linspace(joined, 1.0, 60):
        matrices = lift.pose(float(value)).matrices
        faces = folded_faces(design, matrices)
        hits = crossings(faces)
        strap = [(a.panel, b.panel) for a, b, _ in hits if "handle" in (a.piece, b.piece)]
        bent = abs(matrices["lantern"]["tuck.2"][:3, 2] @ matrices["lantern"]["lid"][:3, 2]) < 0.02
        assert not (bent and [pair for pair in strap if set(pair) & LID])
        lid = matrices["lantern"]["lid"][:3, 2]
        passed += bool(abs(lid[2]) < 0.99)
    assert passed > 3


LID = {"lid", *(f"tuck.{k}" for k in range(2, 11))}


def test_a_folded_lock_has_four_flaps_and_no_glue_below() -> None:
    """Other numbers of sides are refused with a cure."""
    design = build(FAMILY, (70.0, 70.0, 100.0), bottom="lock")
    names = {p.name for p in design.pieces[0].panels if p.name.startswith("lock-")}
    assert {"lock-back", "lock-front", "lock-wall-2", "lock-wall-4"} <= names
    assert not [j for j in design.joints if j.kind == "glue" and "lock" in j.tab[1]]
    for chosen in ({"bottom": "lock", "sides": 5}, {"handle": "strap", "sides": 5}):
        with pytest.raises(FieldError, match=r"Use [46]"):
            build(FAMILY, (70.0, 70.0, 100.0), **chosen)
