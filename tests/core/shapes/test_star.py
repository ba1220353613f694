"""Star lanterns and the regular solids they stand on, from the FOLD text and a handbook."""

from __future__ import annotations

import dataclasses
import math

import numpy as np
import pytest
import trimesh
from hypothesis import example, given, settings

from jadeite.core.assembly import adhesive_by_key, assembly_plan, lift_of
from jadeite.core.contents import Light
from jadeite.core.nets.arrivals import When
from jadeite.core.nets.solids import SOLIDS, solid
from jadeite.core.pipeline import arrange_contents, windows_from, work_up
from jadeite.core.project import Shape, Task, changed
from jadeite.core.proof import prove
from jadeite.core.shapes import family_by_key
from tests import fold_reader
from tests.core.shapes.closing import FOLDING, build, closes_or_says_why, options_of, sizes, text_of

FAMILY = family_by_key("star")
# degrees; any geometry handbook
DIHEDRAL = {"tetrahedron": 70.529, "cube": 90.0, "octahedron": 109.471, "dodecahedron": 116.565,
            "icosahedron": 138.190}  # fmt: skip
# vertices, edges, faces; any geometry handbook
COUNTS = {"tetrahedron": (4, 6, 4), "cube": (8, 12, 6), "octahedron": (6, 12, 8),
          "dodecahedron": (20, 30, 12), "icosahedron": (12, 30, 20)}  # fmt: skip
GLUE = adhesive_by_key("liquid-craft-glue")


@settings(max_examples=200)
@given(inside=sizes(15.0, 250.0), board=FOLDING, chosen=options_of(FAMILY, 200.0))
@example((15.0, 15.0, 15.0), "craft-board", {"solid": "cube", "spike": 12.0})
@example((250.0, 250.0, 250.0), "tissue", {"solid": "octahedron", "spike": 12.0})
def test_property_every_star_closes(inside, board, chosen) -> None:  # type: ignore[no-untyped-def]
    """Over all sizes, boards and options together; sides too short for flanges are refused."""
    closes_or_says_why(FAMILY, inside, board, chosen)


@pytest.mark.parametrize("key", SOLIDS)
def test_the_solids_are_those_of_the_handbook(key) -> None:  # type: ignore[no-untyped-def]
    """Dihedral angle, counts and Euler's formula; volume by the divergence theorem (trimesh)."""
    body = solid(key)
    vertices = {tuple(np.round(p, 6)) for face in body.faces for p in face}
    counted = (len(vertices), len(body.edges), len(body.faces))
    assert counted == COUNTS[key]
    assert counted[0] - counted[1] + counted[2] == 2
    assert math.degrees(body.dihedral) == pytest.approx(DIHEDRAL[key], abs=5e-4)
    for (i, k), (j, m) in body.edges:
        one, other = (body.frame(f)[:3, 2] for f in (i, j))
        assert math.degrees(math.acos(-one @ other)) == pytest.approx(DIHEDRAL[key], abs=5e-4)
        ends = np.linalg.norm(body.faces[i][k] - body.faces[j][(m + 1) % body.corners])
        assert ends == pytest.approx(0.0, abs=1e-9)
    hull = trimesh.Trimesh(np.concatenate(body.faces)).convex_hull
    area = body.corners / 4 / math.tan(math.pi / body.corners) * len(body.faces)
    assert hull.volume == pytest.approx(area * body.inradius / 3)
    assert hull.area == pytest.approx(area)


@pytest.mark.parametrize("key", [k for k in SOLIDS if k != "tetrahedron"])
def test_sides_of_neighbouring_points_meet_at_the_angle_of_their_solid(key) -> None:  # type: ignore[no-untyped-def]
    """Each side turns out of its face by atan(height / inradius of the foot), on both sides."""
    design = build(FAMILY, (58.0, 58.0, 40.0), solid=key, spike=30.0)
    faces = fold_reader.read(text_of(design)).faces
    foot = next(r for r in design.sizes["point-slant"].inputs if "foot" in r.name).value
    up = math.degrees(math.atan2(30.0, foot))
    for (i, k), (j, m) in solid(key).edges[:6]:
        one = faces[f"point-{i + 1}", f"side-{k + 1}"].normal
        other = faces[f"point-{j + 1}", f"side-{m + 1}"].normal
        between = math.degrees(math.acos(float(np.clip(one @ other, -1, 1))))
        want = abs(180.0 - DIHEDRAL[key] - 2 * up)
        assert between == pytest.approx(want, abs=1e-3)


def test_flanges_lie_on_one_another_and_only_panels_scale() -> None:
    """8 mm deep (from memory) whatever the size, a ply apart, all of each on the other."""
    for inside in ((29.0, 29.0, 20.0), (58.0, 58.0, 40.0), (116.0, 116.0, 80.0)):
        design = build(FAMILY, inside, solid="cube")
        flanges = [p for p in design.pieces[0].panels if p.name.startswith("flange")]
        assert {round(p.size[1], 6) for p in flanges} == {8.0}
        reports = [r for r in prove(design)[0] if r.joint.tab[1].startswith("flange")]
        assert len(reports) == 12
        for report in reports:
            assert report.distance == pytest.approx(design.pieces[0].board.thickness)
            assert report.landed == pytest.approx(1.0)


def test_the_last_point_opens_for_the_light() -> None:
    """It is not glued; a point that is turned out of its place is found."""
    design = build(FAMILY, (58.0, 58.0, 40.0))
    last = design.arrivals.at(When.LAST)[0].piece
    kinds = {
        j.kind for j in design.joints if last in (j.tab[0], j.target[0]) and j.tab[0] != j.target[0]
    }
    assert kinds == {"tuck"}
    titles = [s.title for s in assembly_plan(design, lift_of(design), GLUE, ["light"]).steps]
    assert titles.index("Put in light") < titles.index("Put the lid on")
    glued = next(p.name for p in design.pieces[1:] if p.name != last)
    turned = design.placements[glued].copy()
    turned[:3, 3] *= 1.01
    bad = dataclasses.replace(design, placements={**design.placements, glued: turned})
    assert "joint-open" in {f.code for f in prove(bad)[1]}


def test_a_lit_star_with_windows_in_its_points() -> None:
    """Every side of a point has one; all points are alike, so each is cut the same."""
    light = Light(name="string lights", make="bundle", diameter=30, height=25, mass=15)
    project = changed(Task(), contents=(light,), shape=Shape(key="star", options={"solid": "cube"}))
    arrangement = arrange_contents(project, quick=True)
    made = windows_from(project, arrangement, "walls", "plain", lined=False)
    assert {w.panel for w in made} == {"side-1", "side-2", "side-3", "side-4"}
    work = work_up(changed(project, windows=made), arrangement)
    assert not work.blocked
    assert work.design is not None
    cut = [p.panels for p in work.design.pieces if p.name.startswith("point")]
    assert len(cut) == 6
    assert all(panels is cut[0] for panels in cut)  # still copies of one net
    assert sum(len(p.openings) for p in cut[0]) == 4


def test_only_the_point_that_opens_moves_when_it_is_closed() -> None:
    """The others stay where they stand, and the light stays inside them."""
    design = build(FAMILY, (58.0, 58.0, 40.0), solid="octahedron")
    lift = lift_of(design)
    stage = next(s for s in lift.stages if s.when is When.LAST)
    middle = lift.pose((stage.start + stage.end) / 2)
    end = lift.pose(1.0)
    for piece in design.pieces:
        one, other = (pose.matrices[piece.name]["side-1"] for pose in (middle, end))
        assert np.allclose(one, other) is (piece.name not in design.arrivals.lids)
    assert middle.contents is not None
    assert end.contents is not None
    assert np.allclose(middle.contents, end.contents)
