"""The petal lantern, from its exported FOLD geometry and the geometry of developable cones."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import example, given, settings
from hypothesis import strategies as st
from scipy.integrate import quad
from scipy.optimize import brentq
from shapely.geometry import Polygon

from jadeite.core.assembly import adhesive_by_key, assembly_plan, lift_of
from jadeite.core.contents import Light
from jadeite.core.nets.arrivals import When
from jadeite.core.nets.fans import Fan
from jadeite.core.pictures import Camera, Scene, SceneStyle
from jadeite.core.pictures.palette import LIGHT
from jadeite.core.pipeline import arrange_contents, plan_sheets, work_up
from jadeite.core.project import Hollow, Shape, Task, changed, with_change
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

FAMILY = family_by_key("petal-lantern")
GLUE = adhesive_by_key("liquid-craft-glue")
LEANS = ("lean-1", "lean-2", "lean-3")
INSIDE = (58.0, 58.0, 46.0)
COUNTS = {1: 3, 2: 5, 3: 5}


def falling(chosen):  # type: ignore[no-untyped-def]
    """The same options with leans that fall from ring to ring, as they must."""
    return chosen | dict(zip(LEANS, sorted((chosen[k] for k in LEANS), reverse=True), strict=True))


@settings(max_examples=HEAVY)
@given(inside=sizes(15.0, 250.0), board=FOLDING, chosen=options_of(FAMILY, 150.0).map(falling))
@example((15.0, 15.0, 15.0), "extra-heavy-card", {"made-as": "whole", "lean-1": 80.0})
@example((250.0, 250.0, 250.0), "tissue", {"petals-1": 6, "petals-2": 6, "petals-3": 3})
@example(
    (15.0, 161.0, 189.0),
    "tissue",
    {
        "made-as": "whole",
        "above": 29.0,
        "petals-1": 6,
        "lean-1": 63.0,
        "petals-2": 3,
        "lean-2": 20.0,
        "petals-3": 3,
        "lean-3": 20.0,
    },
)
def test_property_every_petal_lantern_closes(inside, board, chosen) -> None:  # type: ignore[no-untyped-def]
    """Over all sizes, boards and options together; none of them needs refusing."""
    assert closes_or_says_why(FAMILY, inside, board, chosen)


@given(inside=sizes(15.0, 250.0), board=FOLDING, chosen=options_of(FAMILY, 150.0))
def test_property_a_ring_steeper_than_the_one_inside_is_refused(inside, board, chosen) -> None:  # type: ignore[no-untyped-def]
    """With a lean that works."""
    built = closes_or_says_why(FAMILY, inside, board, chosen)
    assert built is (falling(chosen) == chosen)


# angle between the feet, fan of the flat petal, lean; degrees; worked by hand from
# fan = spread sin(half-angle), sin(feet / 2) = sin(half-angle) sin(spread / 2)
WORKED = [(72.0, 100.0, 32.3), (72.0, 120.0, 44.4)]


@pytest.mark.parametrize(("feet", "sector", "lean"), WORKED)
def test_the_worked_petals(feet, sector, lean) -> None:  # type: ignore[no-untyped-def]
    """A wanted lean gives the fan, within what a tenth of a degree of lean makes."""
    fan = Fan(math.radians(feet), math.radians(lean), 9)
    assert math.degrees(fan.sector) == pytest.approx(sector, abs=0.15)


@given(feet=st.floats(math.radians(40), math.radians(150)), lean=st.floats(0.05, math.radians(100)))
def test_property_a_fan_is_part_of_a_developable_cone(feet, lean) -> None:  # type: ignore[no-untyped-def]
    """Published geometry: unrolled, a cone keeps the length of its curve on the unit sphere.

    The curve is a circle through both feet and the leaning middle; it is found
    here by solving for the sphere's circle, and its length by quadrature (SciPy).
    """
    fan = Fan(feet, lean, 9)
    half, c = feet / 2, math.cos(feet / 2)
    up = lambda a: math.sin(lean) * math.sin(a) + math.cos(lean) * math.cos(a) - c * math.cos(a)  # noqa: E731
    axis_at = brentq(up, -math.pi / 2, math.pi / 2)  # elevation at which it is as far from all
    axis = np.array([math.cos(axis_at), 0.0, math.sin(axis_at)])
    foot, middle = np.array([c, math.sin(half), 0.0]), np.array([math.cos(lean), 0, math.sin(lean)])
    axis = axis if axis @ middle > 0 else -axis
    rho = math.acos(float(axis @ middle))
    assert fan.half_angle == pytest.approx(rho, abs=1e-9)
    up_way = (middle - axis * math.cos(rho)) / math.sin(rho)
    side = np.array([0.0, 1.0, 0.0])
    spread = 2 * math.atan2(float(foot @ side), float(foot @ up_way))
    assert fan.spread == pytest.approx(spread, abs=1e-9)
    length, _ = quad(lambda phi: math.sin(rho), -spread / 2, spread / 2)
    assert fan.sector == pytest.approx(length, abs=1e-9)
    assert math.sin(half) == pytest.approx(math.sin(rho) * math.sin(spread / 2), abs=1e-12)


@given(
    feet=st.floats(math.radians(40), math.radians(150)), lean=st.floats(0.1, math.radians(95)),
    facets=st.sampled_from([5, 9, 33, 301]),
)  # fmt: skip
def test_property_facets_have_the_flat_angle_of_the_fan(feet, lean, facets) -> None:  # type: ignore[no-untyped-def]
    """Their outer rulings lie in the base at the feet; many of them lean as the cone does."""
    fan = Fan(feet, lean, facets)
    r = fan.rulings
    assert np.linalg.norm(r, axis=1) == pytest.approx(np.ones(facets + 1))
    between = np.arccos(np.clip(np.sum(r[:-1] * r[1:], axis=1), -1, 1))
    assert between == pytest.approx(np.full(facets, fan.sector / facets), abs=1e-7)
    assert r[[0, -1], 2] == pytest.approx([0.0, 0.0], abs=1e-9)
    assert math.atan2(r[-1, 1], r[-1, 0]) == pytest.approx(feet / 2, abs=1e-9)
    middle = r[facets // 2] + r[facets // 2 + 1]
    off = abs(math.atan2(middle[2], middle[0]) - lean)
    assert off < 2.0 / facets**2 + 1e-6


@given(
    feet=st.floats(math.radians(40), math.radians(150)), lean=st.floats(0.1, math.radians(95)),
    share=st.floats(0.0, 1.0), far=st.floats(1.0, 300.0), k=st.integers(0, 8),
)  # fmt: skip
def test_property_a_fan_is_laid_out_as_it_was_cut(feet, lean, share, far, k) -> None:  # type: ignore[no-untyped-def]
    """Places on a facet keep their distance from the apex and their angle (by chords)."""
    fan = Fan(feet, lean, 9)
    a, b = fan.rulings[k], fan.rulings[k + 1]
    place = a * (1 - share) + b * share
    place *= far / np.linalg.norm(place)
    got_far, angle = fan.laid_out(place[None])
    chord = float(np.linalg.norm(place - far * a))
    within = 2 * math.asin(min(1.0, chord / 2 / far))
    assert got_far[0] == pytest.approx(far)
    assert angle[0] == pytest.approx(fan.sector * (k / 9 - 0.5) + within, abs=1e-7)


@pytest.mark.parametrize("how", ["single", "whole"])
def test_petals_stand_as_they_are_wanted(how) -> None:  # type: ignore[no-untyped-def]
    """Measured on the FOLD text: tips rise by the lean from the notch, feet lie level."""
    design = build(FAMILY, INSIDE, made_as=how, measured="round")
    faces = fold_reader.read(text_of(design)).faces
    for ring, lean in ((1, 75.0), (2, 58.0), (3, 40.0)):
        piece = f"ring-{ring}" if how == "whole" else f"petal-{ring}-1"
        head = "1." if how == "whole" else ""
        middle = faces[piece, f"{head}facet.4"].points
        level = float(faces[piece, f"{head}foot.left"].points[:, 2].mean())
        assert np.ptp(faces[piece, f"{head}foot.left"].points[:, 2]) < 1e-6
        tip = middle[np.argmax(middle[:, 2])]
        length = design.sizes["petal-length"].value
        rise = math.degrees(math.asin((tip[2] - level) / length))
        assert rise == pytest.approx(lean, abs=1.5)  # of nine facets; the cone's is exact
        apex = math.hypot(tip[0], tip[1]) - length * math.cos(math.radians(rise))
        outer = faces[piece, f"{head}facet.0"].points
        assert apex > 0
        assert np.linalg.norm(outer[:, :2], axis=1).max() > apex


def test_each_petal_fits_one_base_only_and_bases_are_the_same_for_both_ways() -> None:
    """Fans differ from ring to ring; flat petals are as wide as is said, in either version."""
    one, whole = (
        build(FAMILY, INSIDE, made_as=how, measured="round") for how in ("single", "whole")
    )
    sectors = [one.sizes[f"petal-sector-{k}"].value for k in (1, 2, 3)]
    assert len({round(v) for v in sectors}) == 3
    for k, count in COUNTS.items():
        bases = [d.piece(f"base-{k}").panels[0] for d in (one, whole)]
        assert bases[0].outline == pytest.approx(bases[1].outline)
        assert len(bases[0].openings) == 2
        piece = one.piece(f"petal-{k}-1")
        folds = [f for f in piece.folds if "foot" in f.child]
        ways = [np.subtract(f.end, f.start) for f in folds]
        cosine = abs(ways[0] @ ways[1]) / np.prod([np.linalg.norm(w) for w in ways])
        flat = math.degrees(math.acos(cosine))
        assert min(abs(flat - sectors[k - 1]), abs(180 - flat - sectors[k - 1])) < 1e-3
        assert sum(p.name.startswith(f"petal-{k}") for p in one.pieces) == count
    assert len(whole.pieces) == 6


@pytest.mark.parametrize("how", ["single", "whole"])
def test_dot_lies_on_dot_through_the_whole_stack(how) -> None:  # type: ignore[no-untyped-def]
    """And triangle on triangle; turned by any notch of a ring, some mark would be covered."""
    design = build(FAMILY, INSIDE, made_as=how)
    stacked = [p for p in design.pieces if any(panel.openings for panel in p.panels)]
    assert len(stacked) == (6 if how == "whole" else 3)
    seen = []
    for piece in stacked:
        m = design.placements[piece.name]
        marks = [o.points for panel in piece.panels for o in panel.openings]
        seen.append([Polygon(pts @ m[:2, :2].T + m[:2, 3]) for pts in marks])
    for marks in seen[1:]:
        for one, other in zip(seen[0], marks, strict=True):
            assert one.symmetric_difference(other).area < 1e-6


def test_petals_slide_in_from_outside_and_the_steps_say_how() -> None:
    """A foot goes under its points along the notch; marks turn the rings right."""
    design = build(FAMILY, INSIDE)
    lift = lift_of(design)
    stage = next(s for s in lift.stages if s.when is When.FOLDED)
    pose = lift.pose(stage.start + 0.8 * (stage.end - stage.start))
    base = pose.matrices["base-3"]["base-3"]
    away = pose.matrices["petal-3-1"]["facet.4"][:3, 3] - base[:3, 3]
    end = lift.pose(stage.end).matrices["petal-3-1"]["facet.4"][:3, 3] - base[:3, 3]
    assert np.linalg.norm(away[:2]) > np.linalg.norm(end[:2]) + 5.0
    assert away[2] == pytest.approx(end[2], abs=1e-6)
    words = " ".join(s.detail for s in assembly_plan(design, lift, GLUE, ["light"]).steps)
    assert "Slide its feet under" in words
    assert "dot on dot, triangle on triangle" in words


def test_petals_of_translucent_paper_glow_round_the_light() -> None:
    """The light stands on the inner base with its air; lit, petals are drawn brighter."""
    light = Light(name="path light", mass=20)
    project = changed(
        Task(), contents=(light,), shape=Shape(key="petal-lantern"),
        boards={"petal-1": "translucent"},
    )  # fmt: skip
    work = work_up(project, arrange_contents(project, quick=True))
    assert not work.blocked
    assert work.design is not None
    assert work.lift is not None
    pose = work.lift.pose(1.0)
    scene = Scene(work.design, pose.matrices, work.bodies, pose.contents)

    def fills(*, lit: bool) -> set[str]:
        picture = scene.draw(Camera(28.0, 36.0), SceneStyle(LIGHT, work.colours, lit=lit))
        return {i.fill for i in picture.items if str(getattr(i, "tag", "")).startswith("('petal")}

    def brightness(colours: set[str]) -> float:
        return float(np.mean([[int(c[k : k + 2], 16) for k in (1, 3)] for c in colours]))

    assert brightness(fills(lit=True)) > brightness(fills(lit=False)) + 10


def test_rings_too_wide_for_the_cutter_are_cut_petal_by_petal() -> None:
    """The finding's cure makes single petals, and they fit."""
    light = Light(name="path light", diameter=60, height=60)
    project = changed(
        Task(), contents=(light,), shape=Shape(key="petal-lantern", options={"made-as": "whole"})
    )
    arrangement = arrange_contents(project, quick=True)
    design = work_up(project, arrangement).design
    assert design is not None
    found = plan_sheets(project, design).findings
    ring = next(f for f in found if f.code == "piece-fits-no-sheet" and "ring" in f.where)
    assert ring.cure is not None
    assert ring.cure.label == "Cut the petals one by one"
    for field, value in ring.cure.changes:
        project = with_change(project, field, value)
    design = work_up(project, arrangement).design
    assert design is not None
    assert not [f for f in plan_sheets(project, design).findings if "petal" in f.where]


def test_whole_rings_have_the_board_and_the_colour_of_their_petals() -> None:
    """A ring is of the part of its petals: figures, colours and sheets follow from that."""
    project = changed(
        Task(), shape=Shape(key=FAMILY.key, options={"made-as": "whole"}),
        brief=Hollow(size=(60.0, 60.0, 60.0)), colours={"petal-1": "#3A5F7D", "petal-2": "#7D3A5F"},
        boards={"petal-1": "light-card"},
    )  # fmt: skip
    work = work_up(project, None, cures=False)
    assert work.design is not None
    rings = {p.name: p for p in work.design.pieces if p.name.startswith("ring")}
    assert {p.part for p in rings.values()} == {"petal-1", "petal-2", "petal-3"}
    assert work.colours["ring-1"] == "#3A5F7D"
    assert work.colours["ring-2"] == "#7D3A5F"
    assert rings["ring-1"].board.key == "light-card"
