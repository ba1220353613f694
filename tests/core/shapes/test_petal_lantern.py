"""The petal lantern, from its exported FOLD geometry and the geometry of developable cones."""

from __future__ import annotations

import math

import numpy as np
import pytest
import shapely
from hypothesis import example, given, settings
from hypothesis import strategies as st
from scipy.integrate import quad
from scipy.optimize import brentq
from scipy.spatial import ConvexHull
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
COUNTS = {1: 4, 2: 4, 3: 4}
SMALL_REACH = 108.0  # mm; the width that the small cutter reaches
FULL = 85.0  # % that petals cover by default, as is wanted


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
    for ring, lean in ((1, 65.0), (2, 50.0), (3, 35.0)):
        piece = f"ring-{ring}" if how == "whole" else f"petal-{ring}-1"
        head = "1." if how == "whole" else ""
        middle = faces[piece, f"{head}facet.4"].points
        level = float(faces[piece, f"{head}foot.left"].points[:, 2].mean())
        assert np.ptp(faces[piece, f"{head}foot.left"].points[:, 2]) < 1e-6
        tip = middle[np.argmax(middle[:, 2])]
        length = design.sizes[f"petal-length-{ring}"].value
        rise = math.degrees(math.asin((tip[2] - level) / length))
        assert rise == pytest.approx(lean, abs=1.5)  # of nine facets; the cone's is exact
        apex = math.hypot(tip[0], tip[1]) - length * math.cos(math.radians(rise))
        outer = faces[piece, f"{head}facet.0"].points
        assert apex > 0
        assert np.linalg.norm(outer[:, :2], axis=1).max() > apex


def test_each_petal_fits_one_base_only() -> None:
    """Fans differ from ring to ring; flat petals are as wide as is said."""
    one, whole = (
        build(FAMILY, INSIDE, made_as=how, measured="round") for how in ("single", "whole")
    )
    sectors = [one.sizes[f"petal-sector-{k}"].value for k in (1, 2, 3)]
    assert len({round(v) for v in sectors}) == 3
    for k, count in COUNTS.items():
        piece = one.piece(f"petal-{k}-1")
        folds = [f for f in piece.folds if "foot" in f.child]
        ways = [np.subtract(f.end, f.start) for f in folds]
        cosine = abs(ways[0] @ ways[1]) / np.prod([np.linalg.norm(w) for w in ways])
        flat = math.degrees(math.acos(cosine))
        assert min(abs(flat - sectors[k - 1]), abs(180 - flat - sectors[k - 1])) < 1e-3
        assert sum(p.name.startswith(f"petal-{k}") for p in one.pieces) == count
    assert len(whole.pieces) == 6


@pytest.mark.parametrize("how", ["single", "whole"])
def test_two_pins_go_through_the_whole_stack(how) -> None:  # type: ignore[no-untyped-def]
    """Their holes lie over one another in all bases and hubs; a third mark tells the ring."""
    design = build(FAMILY, INSIDE, made_as=how)
    stacked = {p.name: p for p in design.pieces if p.name.startswith(("base", "ring"))}
    assert len(stacked) == (6 if how == "whole" else 3)
    pins, corners = [], {}
    for name, piece in stacked.items():
        m = design.placements[name]
        marks = [o.points for panel in piece.panels for o in panel.openings]
        placed = [Polygon(pts @ m[:2, :2].T + m[:2, 3]) for pts in marks]
        pins.append(placed[:2])
        corners[name] = len(marks[2])
    for both in pins[1:]:
        for one, other in zip(pins[0], both, strict=True):
            assert one.symmetric_difference(other).area < 1e-6
    own = [corners[f"base-{k}"] for k in (1, 2, 3)]
    assert own == [24, 3, 4]  # a dot, a triangle, a square
    for k in (1, 2, 3):
        if how == "whole":
            assert corners[f"ring-{k}"] == own[k - 1]
            continue
        feet = [q for q in design.piece(f"petal-{k}-1").panels if "foot" in q.name]
        assert [len(o.points) for q in feet for o in q.openings] == [own[k - 1]] * 2
        for foot in feet:  # the mark lies well within the glue
            hole = Polygon(foot.openings[0].points)
            assert Polygon(foot.outline).buffer(-1.0).contains(hole)


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
    assert "through the hole in the middle of both" in words
    assert "line up with the sides at once" in words


@pytest.mark.parametrize("count", [3, 5, 6])
def test_the_last_two_petals_of_a_ring_come_together(count) -> None:  # type: ignore[no-untyped-def]
    """They crowd each other; all others of the ring stand by then."""
    design = build(FAMILY, INSIDE, petals_2=float(count))
    steps = assembly_plan(design, lift_of(design), GLUE).steps
    mine = [s for s in steps if s.title.startswith("Glue middle petal")]
    assert [len({p for p, _ in s.panels}) for s in mine] == [count - 2, 2]
    assert "crowd each other" in mine[1].detail
    assert "triangle in its feet" in mine[0].detail


def _rasterised(design, light, up, way):  # type: ignore[no-untyped-def]
    """Shares of petals and of bases in what a thread round the tips encloses, in %.

    From the FOLD text alone: a z-buffer of cells, filled facet by facet (Shapely's test of
    points in a polygon), depths from the plane of each facet.
    """
    faces = fold_reader.read(text_of(design)).faces.values()
    base = next(f for f in faces if f.piece == "base-1")
    middle = base.points.mean(axis=0)
    c, s = math.cos(way), math.sin(way)
    sight = np.array([c * math.cos(up), s * math.cos(up), math.sin(up)])
    right = np.array([-s, c, 0.0])
    above = np.cross(sight, right)
    seen = [(f, (f.points - middle) @ np.array([right, above, sight]).T) for f in faces]
    seen = [(f, p) for f, p in seen if "foot" not in f.panel and f.panel != "hub"]
    spread = np.concatenate([p[:, :2] for _, p in seen])
    low, step = spread.min(axis=0), float(np.ptp(spread, axis=0).max()) / CELLS
    across = (np.indices((CELLS + 1, CELLS + 1)).reshape(2, -1).T + 0.5) * step + low
    depth = np.full(len(across), -np.inf)
    shows = np.zeros(len(across), dtype=int)
    for face, points in seen:
        within = np.flatnonzero(((across >= points[:, :2].min(axis=0))
                                 & (across <= points[:, :2].max(axis=0))).all(axis=1))  # fmt: skip
        inside = shapely.contains_xy(Polygon(points[:, :2]), *across[within].T)
        within = within[inside]
        plane, *_ = np.linalg.lstsq(np.column_stack([points[:, :2], np.ones(len(points))]),
                                    points[:, 2], rcond=None)  # fmt: skip
        far = np.column_stack([across[within], np.ones(len(within))]) @ plane
        front = within[far > depth[within]]
        depth[front] = far[far > depth[within]]
        shows[front] = 2 if face.piece.startswith("base") else 1
    if light:
        shows[np.linalg.norm(across, axis=1) < light] = 1
    hull = Polygon(spread[ConvexHull(spread).vertices]).area / step**2
    return 100 * (shows == 1).sum() / hull, 100 * (shows == 2).sum() / hull


CELLS = 150


@settings(max_examples=HEAVY)
@given(inside=sizes(15.0, 150.0), chosen=options_of(FAMILY, 150.0).map(falling))
@example((40.0, 40.0, 40.0), {})
def test_property_fullness_is_what_a_picture_of_the_file_shows(inside, chosen) -> None:  # type: ignore[no-untyped-def]
    """Cells of another size in another order, with depths: within 3 % of what is said."""
    design = build(FAMILY, inside, **{k.replace("-", "_"): v for k, v in chosen.items()})
    said = design.sizes
    light = said["inside-across"].value / 2
    petals, bases = _rasterised(design, light, math.radians(90.0), 0.0)
    assert said["fullness"].value == pytest.approx(petals, abs=3.0)
    assert said["fullness"].inputs[0].value == pytest.approx(bases, abs=3.0)
    ways = [_rasterised(design, 0.0, math.radians(30.0), w) for w in np.arange(11) * math.pi / 5.5]
    assert said["fullness-side"].value == pytest.approx(np.mean([w[0] for w in ways]), abs=4.0)


@pytest.mark.parametrize("diameter", [20.0, 40.0, 60.0, 90.0, 140.0])
@pytest.mark.parametrize("height", [15.0, 60.0])
def test_by_default_a_flower_is_full(diameter, height) -> None:  # type: ignore[no-untyped-def]
    """From above and from 30 degrees, round lights of all sizes; bases hardly show."""
    design = build(FAMILY, (diameter, diameter, height), measured="round")
    assert design.sizes["fullness"].value >= FULL
    assert design.sizes["fullness-side"].value >= FULL - 1.0
    assert design.sizes["fullness"].inputs[0].value < 12.0  # beside the light, which stands there
    assert design.sizes["fullness-side"].inputs[0].value < 6.0
    assert not design.findings


def test_a_thin_flower_is_said_and_its_cure_makes_it_full() -> None:
    """Short petals round a wide light; with the reach that is named, the finding is gone."""
    project = changed(
        Task(), shape=Shape(key=FAMILY.key, options={"spread": 30.0}),
        brief=Hollow(size=(120.0, 120.0, 30.0)),
    )  # fmt: skip
    thin = next(f for f in work_up(project, None).findings if f.code == "flower-thin")
    assert thin.cure is not None
    for field, value in thin.cure.changes:
        project = with_change(project, field, value)
    assert not [f for f in work_up(project, None).findings if f.code == "flower-thin"]


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


@pytest.mark.parametrize("across", [12.0, 40.0, 58.0])
def test_a_narrow_cutter_gets_a_flower_that_it_can_cut(across: float) -> None:
    """Cures are taken one after another until every piece lies on a sheet, and it closes."""
    light = Light(name="path light", diameter=across, height=25)
    task = changed(Task(), contents=(light,), shape=Shape(key=FAMILY.key), cutter="small")
    taken = []
    for _ in range(6):
        arrangement = arrange_contents(task, quick=True)
        work = work_up(task, arrangement, cures=False)
        assert work.design is not None
        assert not work.blocked
        found = [f for f in plan_sheets(task, work.design).findings if f.cure]
        if not found:
            break
        cure = found[0].cure
        assert cure is not None
        taken += [field for field, _ in cure.changes]
        for field, value in cure.changes:
            task = with_change(task, field, value)
    layout = plan_sheets(task, work.design).layout
    assert not layout.unplaced
    assert task.cutter == "small"
    assert "shape.options.spread" in taken
    assert "splits.base-3" in taken
    for piece in work.design.pieces:
        points = np.concatenate([panel.outline for panel in piece.panels])
        hull = shapely.MultiPoint(points).minimum_rotated_rectangle.exterior.coords
        sides = np.linalg.norm(np.diff(np.array(hull), axis=0), axis=1)
        assert sides.min() <= SMALL_REACH
    full = [own.value for own in work.sizes.values() if own.name.startswith("Fullness")]
    assert min(full) > 70


def test_like_petals_that_are_too_large_are_told_of_once() -> None:
    light = Light(name="path light", diameter=80, height=25)
    task = changed(Task(), contents=(light,), shape=Shape(key=FAMILY.key), cutter="small")
    work = work_up(task, arrange_contents(task, quick=True), cures=False)
    assert work.design is not None
    findings = plan_sheets(task, work.design).findings
    told = [f.message for f in findings]
    assert sum("petals 1 to 4" in words for words in told) == 3
    assert not [words for words in told if "petal 1 " in words]
    by_hand = next(
        f for f in plan_sheets(task, work.design).findings if "inner petals" in f.message
    )
    assert by_hand.cure is not None
    assert by_hand.cure.changes == (("cutter", "hand"),)
    task = changed(task, cutter="hand")
    assert not plan_sheets(task, work.design).layout.unplaced


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
