"""The layered flower, proved from its exported FOLD geometry."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.geometry import Polygon

from jadeite.core.contents import Block
from jadeite.core.errors import FieldError
from jadeite.core.findings import Level
from jadeite.core.pipeline import arrange_contents, places_for, plan_sheets, work_up
from jadeite.core.pipeline.at_hand import at_hand
from jadeite.core.project import Face, Shape, Span, Task, changed
from jadeite.core.proof import prove
from jadeite.core.shapes import family_by_key, resolve_options
from tests import fold_reader
from tests.core.shapes.closing import (
    FOLDING,
    HEAVY,
    boards_for,
    build,
    closes_or_says_why,
    faults,
    options_of,
    span_task,
    text_of,
)

FAMILY = family_by_key("layered-flower")
SPANS = st.tuples(st.floats(25.0, 400.0), st.just(0.0), st.just(0.0))
SMALL = {"petals": "5 4 4 3 3"}


def task(width: float = 90.0, height: float | None = None, **options: object) -> Task:
    """A flower with options."""
    return span_task(FAMILY.key, width, height, **options)


def points_of(design) -> np.ndarray:  # type: ignore[no-untyped-def, type-arg]
    """All corners of the finished flower, from its FOLD text."""
    model = fold_reader.read(text_of(design))
    return np.concatenate([face.points for face in model.faces.values()])


@settings(max_examples=HEAVY)
@given(span=SPANS, board=FOLDING, chosen=options_of(FAMILY, 40.0))
def test_property_every_flower_closes_or_says_why(span, board, chosen) -> None:  # type: ignore[no-untyped-def]
    """Over all options: its middles are glued, nothing is stretched; refusals name what works."""
    closes_or_says_why(FAMILY, span, board, chosen)


@settings(max_examples=30)
@given(
    width=st.floats(80.0, 300.0),
    rise=st.floats(0.0, 60.0),
    curl=st.sampled_from(["outward", "inward", "fold", "none"]),
    leaf=st.sampled_from([0.0, 30.0, 90.0]),
    slant=st.sampled_from([-30.0, 0.0, 15.0]),
)
def test_property_it_comes_out_as_wide_as_asked(width, rise, curl, leaf, slant) -> None:  # type: ignore[no-untyped-def]
    """From the FOLD text: twice the farthest corner from the axis, and never over the flat one."""
    design = build(
        FAMILY, (width, 0.0, 0.0), rise=rise, curl=curl, slant=slant, **{"leaf-fold": leaf}
    )
    points = points_of(design)
    wide = 2 * np.hypot(points[:, 0], points[:, 1]).max()
    assert wide == pytest.approx(width, abs=0.01)
    flat = 2 * max(
        float(np.hypot(*panel.outline.T).max()) for piece in design.pieces for panel in piece.panels
    )
    assert wide <= flat + 1e-6
    high = np.ptp(points[:, 2])
    thick = design.pieces[0].board.thickness
    assert design.sizes["finished-height"].value == pytest.approx(high + thick, abs=2 * thick)


@pytest.mark.parametrize("height", [16.0, 22.0, 30.0])
def test_a_height_that_is_asked_for_is_met(height: float) -> None:
    """Its petals rise until it is so high."""
    work = work_up(task(120.0, height), None)
    assert work.design is not None, [f.message for f in work.findings]
    assert work.design.sizes["finished-height"].value == pytest.approx(height, abs=0.01)
    assert work.design.sizes["finished-width"].value == pytest.approx(120.0, abs=0.01)


@pytest.mark.parametrize("height", [2.0, 300.0])
def test_a_height_that_cannot_be_names_one_that_can(height: float) -> None:
    """The cure is a button, and it works."""
    work = work_up(task(120.0, height), None)
    (finding,) = [f for f in work.findings if f.level is Level.BLOCKED]
    assert finding.cure is not None
    ((path, value),) = finding.cure.changes
    assert path == "brief.height"
    again = work_up(task(120.0, float(str(value))), None)
    assert again.design is not None
    assert not again.blocked


@pytest.mark.parametrize("width", [40.0, 60.0, 90.0, 120.0, 152.0, 200.0, 280.0])
def test_the_usual_flower_needs_no_look(width: float) -> None:
    """At any size: where one looked thin it takes another ring by itself, and says so."""
    work = work_up(task(width), None)
    assert work.design is not None
    assert [f.message for f in work.findings if f.level > Level.NOTE] == []
    rings = [p for p in work.design.pieces if p.part.startswith("ring")]
    assert len(rings) >= 5
    assert work.sizes["fullness"].value > 75.0
    assert work.sizes["layers-seen"].value >= 5


def test_scaled_up_it_says_when_a_ring_is_needed() -> None:
    """Chosen by the maker, the rings stay; the finding's cure ends it."""
    thin = work_up(task(220.0, **SMALL), None)
    (finding,) = [f for f in thin.findings if f.code == "flower-thin"]
    assert finding.cure is not None
    ((path, value),) = finding.cure.changes
    assert path == "shape.options.petals"
    assert value == "5 5 5 4 4 3 3"
    full = work_up(task(220.0, petals="5 5 5 5 4 4 3 3"), None)
    assert "flower-thin" not in {f.code for f in full.findings}


def test_rings_by_a_step_are_cut_so_much_smaller() -> None:
    """Six equal rings, each half an inch smaller across than the last: common practice."""
    work = work_up(task(152.0, petals="6 6 6 6 6 6", sizes="step", step=12.7), None)
    assert work.design is not None
    cut = [work.sizes[f"ring-{n}-size"].value for n in range(1, 7)]
    assert -np.diff(cut) == pytest.approx([12.7] * 5, abs=0.01)


def test_inner_rings_are_a_shade_darker_and_other_schools_may_be_chosen() -> None:
    """Colours of the pieces, by how light they are."""

    def light(school: str) -> list[int]:
        colours = work_up(task(tones=school), None).colours
        return [int(colours[f"ring-{n}"][1:3], 16) for n in range(1, 6)]

    inner, outer, each, one = (light(s) for s in ("inner-darker", "outer-darker", "each", "one"))
    assert inner[-1] < inner[0]
    assert outer[-1] > outer[0]
    assert each == sorted(each, reverse=True)
    assert len(set(each)) == 5
    assert len(set(one)) == 1
    own = changed(task(), colours={"ring-1": "#4A5870", "ring-5": "#112233"})
    colours = work_up(own, None).colours
    assert colours["ring-1"] == "#4A5870"
    assert colours["ring-5"] == "#112233"
    assert colours["ring-2"] != "#E8DDC5"


def test_spacers_and_a_hole_go_between_and_through_all_rings() -> None:
    """Every joint closes; a spacer lifts each ring by its board; the hole is in every piece."""
    design = build(FAMILY, (120.0, 0.0, 0.0), spacers="all", middle="hole", hole=3.0)
    plain = build(FAMILY, (120.0, 0.0, 0.0))
    assert len(design.pieces) == 2 * len(plain.pieces) - 1
    for piece in design.pieces:
        (hole,) = piece.panels[0].openings
        assert np.hypot(*hole.points.T) == pytest.approx(1.5)
    disc = design.piece("spacer-1").board.thickness
    height = {p: design.placements[p][2, 3] for p in ("ring-1", "ring-2")}
    was = {p: plain.placements[p][2, 3] for p in ("ring-1", "ring-2")}
    lift = height["ring-2"] - height["ring-1"] - was["ring-2"] + was["ring-1"]
    assert lift == pytest.approx(disc)


@pytest.mark.parametrize("thick", [1.0, 2.0, 3.5])
def test_foam_lifts_every_ring_and_holds_by_itself(thick: float) -> None:
    """Each ring is so much higher; pads are on the list; what sticks takes no glue and no time."""
    design = build(FAMILY, (120.0, 0.0, 0.0), spacers="foam", foam=thick)
    plain = build(FAMILY, (120.0, 0.0, 0.0))
    assert faults(design) == []
    assert [p.name for p in design.pieces] == [p.name for p in plain.pieces]
    for n, name in enumerate(p.name for p in plain.pieces):
        up = design.placements[name][2, 3] - plain.placements[name][2, 3]
        assert up == pytest.approx(n * thick)
    (pads,) = design.bought
    assert pads.count == len(design.pieces) - 1
    for piece in design.pieces:  # a pad is seen beside no middle
        corners = piece.panels[0].outline
        edges = [shapely.LineString(pair) for pair in zip(corners, np.roll(corners, -1, axis=0),
                                                           strict=True)]  # fmt: skip
        assert min(edge.distance(shapely.Point(0, 0)) for edge in edges) > pads.across / 2
    work = work_up(task(120.0, spacers="foam", foam=thick), None)
    (words,) = [thing.words() for thing in at_hand({"flower": work})]
    assert words.startswith("5 foam pads, ")
    assert words.endswith(f"{thick:.1f} mm thick")
    assert work.assembly is not None
    stuck = [step for step in work.assembly.steps if step.title.startswith("Stick ")]
    assert len(stuck) == 5
    assert all("peel its backing off" in step.detail and not step.hold for step in stuck)
    assert all(school.grams == 0 for school in work.schools)


def test_a_joint_on_foam_that_is_not_there_is_open() -> None:
    """The proof, and the reader of the file, ask for the foam's thickness."""
    design = build(FAMILY, (120.0, 0.0, 0.0), spacers="foam")
    bare = replace(design, joints=tuple(replace(j, pad=0.0) for j in design.joints))
    assert any(not report.closed for report in prove(bare)[0])
    assert faults(bare) != []


def test_a_spacer_lies_within_the_triangle_of_three_petals() -> None:
    """The edges between narrow roots come nearer to the middle than the roots do."""
    wide = {"leaves": 10.0, "singles": 5.0, "middle": "hole", "hole": 10.5}  # of all middles
    design = build(FAMILY, (97.0, 0.0, 0.0), spacers="all", **wide)
    assert faults(design) == []
    disc = Polygon(design.piece("spacer-5").panels[0].outline)
    assert Polygon(design.piece("ring-5").panels[0].outline).contains(disc)


@pytest.mark.parametrize("options", [{}, {"spacers": "all", "middle": "hole"}, {"base": "none"}])
def test_rings_too_large_are_cut_petal_by_petal(options) -> None:  # type: ignore[no-untyped-def]
    """Their feet lie under a disc; every joint closes; it is as wide as before."""
    design = build(FAMILY, (150.0, 0.0, 0.0), singles=2.0, **options)
    assert faults(design) == []
    lowest = "ring-1" if options.get("base") == "none" else "leaf-ring"
    what = "petal" if lowest == "ring-1" else "leaf"
    petals = [p for p in design.pieces if p.name.startswith(f"{lowest}-{what}")]
    assert len(petals) == 5
    assert len({id(p.panels) for p in petals}) == 1
    plain = build(FAMILY, (150.0, 0.0, 0.0), **options)
    width = [d.sizes["finished-width"].value for d in (design, plain)]
    assert width[0] == pytest.approx(width[1])
    plan = work_up(task(150.0, singles=2.0, **options), None).assembly
    assert plan is not None
    titles = [step.title for step in plan.steps]
    glued = "Glue ring 1 petals 1 to 5 to ring 1" if what == "petal" else (
        "Glue leaves 1 to 5 to the leaf ring"
    )  # fmt: skip
    assert glued in titles
    assert titles.index(glued) < titles.index(next(t for t in titles if "ring 2" in t))


def test_a_ring_that_fits_no_sheet_offers_single_petals() -> None:
    """The cure, taken, lets all of it lie."""
    large = task(340.0)
    work = work_up(large, None)
    assert work.design is not None
    found = [f for f in plan_sheets(large, work.design).findings if f.cure is not None]
    assert found
    for _ in range(5):  # one ring after another
        cures = [f.cure for f in found if f.cure is not None]
        if not cures:
            break
        ((path, value),) = max((c.changes for c in cures), key=lambda c: float(str(c[0][1])))
        assert path == "shape.options.singles"
        large = task(340.0, singles=value)
        work = work_up(large, None)
        assert work.design is not None
        found = list(plan_sheets(large, work.design).findings)
    assert plan_sheets(large, work.design).layout.unplaced == ()


def test_steps_are_right_the_first_time() -> None:
    """Peeled, curled, pressed, and only then stacked, each ring on the one below."""
    plan = work_up(task(), None).assembly
    assert plan is not None
    titles = [step.title for step in plan.steps]
    assert titles[0].startswith("Peel all")
    assert titles[1].startswith("Curl the tips")
    assert titles[2].startswith("Press the middle")
    assert titles[3] == "Glue ring 1 to the leaf ring"
    assert titles[-1] == "Glue ring 5 to ring 4"
    assert "order of their sizes" in plan.steps[0].detail
    assert "ring 5" in plan.steps[2].detail


def test_a_thick_board_is_not_curled_over_a_thin_rod() -> None:
    """The finding names a rod that does not kink it, and that ends it."""
    own = changed(task(rod=5.0), boards={"ring-1": "extra-heavy-card"})
    (finding,) = [f for f in work_up(own, None).findings if f.code == "rod-tight"]
    assert finding.cure is not None
    ((_, value),) = finding.cure.changes
    again = changed(task(rod=value), boards={"ring-1": "extra-heavy-card"})
    assert "rod-tight" not in {f.code for f in work_up(again, None).findings}


def test_the_widest_that_the_cutter_takes_is_taken() -> None:
    """Its largest ring then fits, and is no more than a fiftieth from the edge."""
    small = changed(task(), cutter="small")
    ((words, width),) = places_for(work_up(small, None), {})
    assert "cutter" in words
    made = work_up(changed(small, brief=Span(width=width)), None)
    assert made.design is not None
    sides = [
        np.ptp(np.concatenate([q.outline for q in p.panels]), axis=0).max()
        for p in made.design.pieces
    ]
    assert 108.0 / 1.04 < max(sides) <= 108.0
    sheets = plan_sheets(made.task, made.design)
    assert sheets.layout.unplaced == ()


def test_a_flower_holds_nothing_and_is_not_sized_inside() -> None:
    """Each refusal names its cure."""
    stone = Block(name="meteorite", length=60, width=45, height=40)
    holding = changed(task(), contents=(stone,))
    assert "holds no meteorite" in work_up(holding, arrange_contents(holding)).findings[0].message
    flat = changed(task(), brief=Face(size=(90.0, 90.0)))
    assert "finished width" in work_up(flat, None).findings[0].message


@pytest.mark.parametrize(
    ("option", "value", "what"),
    [
        ("petals", "", "no ring"),
        ("petals", "5 2", "“2” petals"),
        ("petals", "5 x", "“x” petals"),
        ("petals", " ".join(["5"] * 11), "11 rings"),
        ("outline", "rose", "no outline"),
        ("leaf-outline", "round width=1", "outside the range"),
    ],
)
def test_bad_words_are_refused(option: str, value: str, what: str) -> None:
    """They name the field, and what works."""
    with pytest.raises(FieldError, match=what) as caught:
        resolve_options(FAMILY, {option: value})
    assert caught.value.cure


def test_small_ones_name_what_works() -> None:
    """Eight rings of nine at 60 mm: what each refusal names is taken, until it is made."""
    options: dict[str, Any] = {"petals": "9 9 9 9 9 9 9 9"}
    boards = boards_for(FAMILY, "medium-card")
    for _ in range(9):
        try:
            FAMILY.build((60.0, 0.0, 0.0), boards, resolve_options(FAMILY, options))
            break
        except FieldError as error:
            options |= {path.removeprefix("shape.options."): v for path, v in error.ways[0]}
    assert float(options.get("centre", 36.0)) > 36.0 or len(options["petals"].split()) < 8
    FAMILY.build((60.0, 0.0, 0.0), boards, resolve_options(FAMILY, options))


@pytest.mark.parametrize(
    ("lines", "words"),
    [("middle", "a ruler. Where"), ("veins", "outwards"), ("cuts", "a ruler. Where")],
)
def test_lines_are_pressed_flat_before_and_pinched_after_petals_are_curled(
    lines: str, words: str
) -> None:
    """And how long the cutter takes for them is among the sizes; without any nothing is said."""
    options = {"petal-lines": lines, "leaf-lines": "middle"}
    asked = changed(Task(), brief=Span(width=120.0), shape=Shape(key=FAMILY.key, options=options))
    work = work_up(asked, None)
    assert work.assembly is not None
    titles = [step.title for step in work.assembly.steps]
    press = titles.index("Press the lines of petals and leaves")
    curl = titles.index("Curl the tips of all petals and leaves")
    pinch = titles.index("Pinch along the middle lines of petals and leaves")
    assert press < curl < pinch < titles.index("Press the middle of each ring with a ball")
    assert words in work.assembly.steps[press].detail
    assert ("cuts open" in work.assembly.steps[curl].detail) == (lines == "cuts")
    assert work.sizes["lines-time"].value > 20.0
    plain = work_up(changed(asked, shape=Shape(key=FAMILY.key)), None)
    assert "lines-time" not in plain.sizes
    assert plain.assembly is not None
    assert not any("lines" in step.title for step in plain.assembly.steps)


def test_the_time_of_lines_is_that_of_the_cutting_plan() -> None:
    """With and without them, on the same cutter: what the plan takes longer, but for its ways."""
    asked = changed(Task(), brief=Span(width=120.0), shape=Shape(key=FAMILY.key))
    lined = changed(asked, shape=Shape(key=FAMILY.key, options={"petal-lines": "veins"}))
    plans, works = [], []
    for task in (asked, lined):
        works.append(work_up(task, None))
        assert works[-1].design is not None
        plans.append(plan_sheets(task, works[-1].design).cutting)
    longer = plans[1].seconds - plans[0].seconds
    more_tools = plans[1].tool_changes - plans[0].tool_changes
    longer -= more_tools * plans[0].profile.tool_change
    said = works[1].sizes["lines-time"].value
    assert said == pytest.approx(longer, rel=0.15)


def test_folded_petals_are_creased_then_opened() -> None:
    """One step creases all, the next says how far each ring springs open; no rod is named."""
    work = work_up(task(110.0, curl="fold", **{"leaf-fold": 30.0}), None)
    assert work.design is not None
    folds = [f for p in work.design.pieces for f in p.folds if not f.tree]
    assert [f.angle for f in folds] == [30.0] * 5 + [40.0] * 19
    plan = work.assembly
    assert plan is not None
    titles = [step.title for step in plan.steps]
    crease = next(k for k, title in enumerate(titles) if title.startswith("Crease all 24 folds"))
    opened = plan.steps[crease + 1]
    assert opened.title == "Open the folds of petals and leaves"
    assert "leaf ring 15°" in opened.detail
    assert "20°" in opened.detail
    assert "rod" not in " ".join(step.detail for step in plan.steps)


def test_a_rod_that_lies_aslant_is_told_of() -> None:
    """Which end lies farther out, and by how much on each ring; a flower that lies well."""
    work = work_up(task(110.0, slant=-20.0, outline="pointed"), None)
    assert work.design is not None
    assert [f.message for f in work.findings if f.level > Level.NOTE] == []
    plan = work.assembly
    assert plan is not None
    (curl,) = [step for step in plan.steps if step.title.startswith("Curl the tips")]
    assert "the rod's right end lies farther out" in curl.detail
    assert "rings 1 to 4 by 20°, ring 5 by 14° off straight across" in curl.detail  # it is short


@pytest.mark.parametrize("petals", ["5 4 4 3 3", "6 6 6 6 6", "8 7 5", "4 4 3"])
@pytest.mark.parametrize("curl", ["fold", "outward"])
def test_raised_edges_do_not_reach_through_the_next_ring(petals: str, curl: str) -> None:
    """Of folded leaves and petals, however many stand on how many: they rise until they pass."""
    work = work_up(task(130.0, petals=petals, curl=curl, **{"leaf-fold": 30.0}), None)
    assert work.design is not None
    assert work.sizes["petals-lean"].value < 0.6


def test_small_petals_stay_out_of_feet_under_the_middle_below() -> None:
    """Where petals are cut one by one, the middle lies over their feet, a board higher."""
    options = {
        "petals": "6 8", "centre": 15.0, "inner-rise": 0.0, "rise": 0.0, "rod": 3.0,
        "tips": 27.4, "slant": 20.5, "leaves": 3, "leaf-rise": 20.5, "leaf-fold": 15.0,
        "leaf-size": 30.0, "spacers": "foam", "foam": 0.5, "singles": 6,
    }  # fmt: skip
    boards = boards_for(FAMILY, "photo-paper")
    design = FAMILY.build((185.8, 0.0, 0.0), boards, resolve_options(FAMILY, options))
    assert faults(design) == []
