"""The leaf spray: mirrored pairs, creases that fold, backs that lie on their leaves."""

from __future__ import annotations

import math

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from jadeite.core.findings import Level
from jadeite.core.nets.model import Design
from jadeite.core.nets.outline import piece_polygon
from jadeite.core.pipeline import work_up
from jadeite.core.pipeline.at_hand import at_hand
from jadeite.core.pipeline.cures import cured
from jadeite.core.project import Task
from jadeite.core.shapes import family_by_key
from tests import fold_reader
from tests.core.shapes.closing import (
    FOLDING,
    HEAVY,
    build,
    closes_or_says_why,
    options_of,
    span_task,
    text_of,
)

FAMILY = family_by_key("leaf-spray")
SPANS = st.tuples(st.floats(40.0, 300.0), st.just(0.0), st.just(0.0))


def task(width: float = 110.0, height: float | None = None, **options: object) -> Task:
    """A spray with options."""
    return span_task(FAMILY.key, width, height, **options)


def extents(design: Design) -> np.ndarray:  # type: ignore[type-arg]
    """Of the finished spray from its FOLD text, mm."""
    model = fold_reader.read(text_of(design))
    return np.asarray(np.ptp(np.concatenate([f.points for f in model.faces.values()]), axis=0))


@settings(max_examples=HEAVY)
@given(span=SPANS, board=FOLDING, chosen=options_of(FAMILY, 40.0))
def test_property_every_spray_closes_or_says_why(span, board, chosen) -> None:  # type: ignore[no-untyped-def]
    """Over all options: every foot and back lands, nothing stretches; refusals name what works."""
    closes_or_says_why(FAMILY, span, board, chosen)


@settings(max_examples=40)
@given(
    width=st.floats(80.0, 300.0),
    more=st.floats(0.0, 150.0),
    pairs=st.integers(1, 6),
    rise=st.floats(0.0, 60.0),
    crease=st.floats(4.0, 80.0),
)
def test_property_it_is_as_wide_and_as_high_as_asked(width, more, pairs, rise, crease) -> None:  # type: ignore[no-untyped-def]
    """From the FOLD text: across, and along the stem."""
    chosen = {"pairs": float(pairs), "rise": rise, "crease": crease}
    least = work_up(task(width, spacing=20.0, **chosen), None)
    height = least.sizes["finished-height"].value + more
    work = work_up(task(width, height, **chosen), None)
    assert work.design is not None, [f.message for f in work.findings]
    wide, high, _ = extents(work.design)
    assert wide == pytest.approx(width, abs=0.02)
    assert high == pytest.approx(height, abs=0.02)


@settings(max_examples=30)
@given(
    width=st.floats(80.0, 300.0),
    outline=st.sampled_from(["pointed", "lance", "heart", "toothed", "wavy", "split"]),
    crease=st.floats(4.0, 25.0),
    sides=st.sampled_from(["one", "two"]),
)
def test_property_pairs_and_backs_are_mirror_images(width, outline, crease, sides) -> None:  # type: ignore[no-untyped-def]
    """On the flat nets, by Shapely: left is right seen in a mirror; a back is its leaf's blade."""
    design = build(FAMILY, (width, 0.0, 0.0), outline=outline, crease=crease, sides=sides)
    for n in (1, 3, 5):
        right, left = (piece_polygon(design.piece(f"leaf-{k}")) for k in (n, n + 1))
        mirror = shapely.affinity.scale(left, -1.0, 1.0, origin=(0.0, 0.0))
        x, y = (np.array(g.bounds)[:2] for g in (right, mirror))
        mirror = shapely.affinity.translate(mirror, *(x - y))
        assert mirror.symmetric_difference(right).area < 1e-3
        if sides == "two":
            back, leaf = design.piece(f"back-{n}"), design.piece(f"leaf-{n}")
            areas = [
                sum(shapely.Polygon(piece.panel(half).outline).area for half in ("near", "far"))
                for piece in (back, leaf)
            ]
            assert 0.8 < areas[0] / areas[1] <= 1.0


def test_both_halves_of_a_back_lie_on_those_of_its_leaf() -> None:
    """From the FOLD text: each corner of a back is half of both boards from its leaf's half."""
    design = build(FAMILY, (160.0, 0.0, 0.0), board="heavy-card", sides="two", crease=60.0)
    model = fold_reader.read(text_of(design))
    thick = (design.piece("leaf-1").board.thickness + design.piece("back-1").board.thickness) / 2
    for n in range(1, 8):
        for half in ("near", "far"):
            on, back = model.faces[f"leaf-{n}", half], model.faces[f"back-{n}", half]
            off = (back.points - on.points[0]) @ on.normal
            assert np.abs(off) == pytest.approx(thick, abs=1e-6)
            assert np.ptp(off) < 1e-6


def test_a_crease_turns_its_halves_by_what_was_asked() -> None:
    """From the FOLD text: the angle between both halves, and that of the near one to the stem."""
    design = build(FAMILY, (120.0, 0.0, 0.0), crease=35.0, rise=20.0)
    model = fold_reader.read(text_of(design))
    for n in range(1, 8):
        near, far = (model.faces[f"leaf-{n}", half].normal for half in ("near", "far"))
        assert math.degrees(math.acos(float(near @ far))) == pytest.approx(35.0, abs=1e-4)
        assert math.degrees(math.acos(abs(float(near[2])))) == pytest.approx(20.0, abs=1e-4)


@pytest.mark.parametrize("width", [45.0, 80.0, 110.0, 200.0, 320.0])
@pytest.mark.parametrize("sides", ["one", "two"])
def test_the_usual_spray_needs_no_look(width: float, sides: str) -> None:
    """At any size, of one side or two."""
    work = work_up(task(width, sides=sides), None)
    assert work.design is not None
    assert [f.message for f in work.findings if f.level > Level.NOTE] == []
    assert 40.0 < work.sizes["fullness"].value < 95.0


def test_its_steps_are_those_of_the_hands() -> None:
    """Creased before anything is glued, backs glued and bent while wet, then onto the stem."""
    plan = work_up(task(sides="two"), None).assembly
    assert plan is not None
    assert [step.title for step in plan.steps] == [
        "Peel all 16 pieces off",
        "Crease all 21 folds of leaves 1 to 7 and backs 1 to 7",
        "Glue backs 1 to 7 behind leaves 1 to 7",
        "Bend all leaves",
        "Glue leaves 1 to 7 to the stem",
        "Glue the second strip to the stem",
    ]
    assert plan.steps[3].detail.startswith("While the glue is wet")
    plain = work_up(task(cover="none", tip="none"), None).assembly
    assert plain is not None
    assert [step.title for step in plain.steps][1:] == [
        "Crease all 12 folds of leaves 1 to 6",
        "Bend all leaves",
        "Glue leaves 1 to 6 to the stem",
    ]


@pytest.mark.parametrize(
    ("width", "height", "chosen", "what"),
    [
        (20.0, None, {}, "outside what a leaf spray can be"),
        (900.0, None, {}, "outside what a leaf spray can be"),
        (110.0, 60.0, {}, "too low for so many pairs"),
        (110.0, 20.0, {"pairs": 1.0}, "too low for so many pairs"),
        (41.0, None, {"scale": 40.0, "off": 75.0, "outline": "round width=140"}, "shorter than"),
    ],
)
def test_what_cannot_be_names_what_can(
    width: float, height: float | None, chosen: dict[str, object], what: str
) -> None:
    """The cure that is offered works."""
    asked = task(width, height, **chosen)
    (finding,) = [f for f in work_up(asked, None).findings if f.level is Level.BLOCKED]
    assert what in finding.message
    assert finding.cure is not None
    again = work_up(cured(asked, finding.cure), None)
    assert again.design is not None, [f.message for f in again.findings]
    assert not again.blocked


@pytest.mark.parametrize("sides", ["one", "two"])
def test_a_wire_in_each_leaf_is_on_the_list_and_comes_in_time(sides: str) -> None:
    work = work_up(task(sides=sides, wire="along", leaf_lines="veins"), None)
    assert work.design is not None
    wires = work.design.bought
    assert sum(wire.count for wire in wires) == 7
    longest = work.sizes["leaf-length"].value
    assert [w.length < longest for w in wires] == [True] * len(wires)
    total = work.sizes["wire-length"].value
    assert total == sum(wire.count * wire.length for wire in wires)
    (hand, *_) = at_hand({"spray": work})
    assert hand.words() == "2 × 61 mm of leaf wire, 0.4 mm: 122 mm in all"
    assert work.assembly is not None
    steps = work.assembly.steps
    titles = [step.title for step in steps]
    press = titles.index("Press the veins of all leaves")
    if sides == "two":
        told = next(i for i, step in enumerate(steps) if "a wire along its crease" in step.detail)
        assert "Glue a wire behind each leaf" not in titles
        assert press < told < titles.index("Bend all leaves")
    else:
        told = titles.index("Glue a wire behind each leaf")
        assert "cut wire" in steps[told].caution
        assert press < titles.index("Bend all leaves") < told
    assert told < next(i for i, title in enumerate(titles) if title.endswith("to the stem"))


@pytest.mark.parametrize("end", ["83-61-44-30-19-12-10", "81-58-39-24-12-4-2"])
def test_waves_that_meet_the_corners_of_an_outline_cross_nothing(end: str) -> None:
    """A corner of a wave on one of the outline but for rounding: two in one crossed."""
    own = f"own widths=20-21-23-26-30-34-41-50-59-65-71-82-93-100-{end} belly=25 waves=12 depth=20"
    assert closes_or_says_why(FAMILY, (40.0, 0.0, 0.0), "tissue", {
        "pairs": 1, "outline": own, "scale": 40.0, "off": 37.5, "rise": 0.0, "crease": 4.0,
        "spacing": 20.0, "stem": 8.0, "cover": "strip",
    })  # fmt: skip
