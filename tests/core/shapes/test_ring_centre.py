"""What is bought for a flower: pearl, knotted cord and wire; from FOLD geometry and steps."""

from __future__ import annotations

import json
import math
from collections import Counter

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from jadeite.core.errors import FieldError
from jadeite.core.findings import Level
from jadeite.core.formats.fold_file import fold_text
from jadeite.core.nets.ties import BOW
from jadeite.core.pipeline import Work, at_hand, work_up
from jadeite.core.project import Hollow, Shape, Span, Task, changed
from jadeite.core.shapes import family_by_key, resolve_options
from tests import fold_reader
from tests.core.shapes.closing import boards_for


def made(width: float = 90.0, family: str = "layered-flower", **options: object) -> Work:
    """A flower with options; names with underscores for hyphens."""
    chosen = {key.replace("_", "-"): value for key, value in options.items()}
    task = changed(Task(), brief=Span(width=width), shape=Shape(key=family, options=chosen))
    work = work_up(task, None)
    assert work.design is not None, [f.message for f in work.findings]
    return work


def cuts_of(frame: dict) -> list[np.ndarray]:  # type: ignore[type-arg]
    """Cut edges of a crease pattern, (2, 2) each."""
    points = np.array(frame["vertices_coords"])
    pairs = zip(frame["edges_vertices"], frame["edges_assignment"], strict=True)
    return [points[ends] for ends, kind in pairs if kind == "C"]


def test_property_a_pearl_has_its_place_or_is_said_to_press() -> None:
    """Where no finding says so, no ply reaches into it, and it lies on the middle."""
    counts: Counter[str] = Counter()

    @settings(max_examples=40)
    @given(
        width=st.floats(60.0, 250.0),
        pearl=st.floats(3.0, 28.0),
        petals=st.sampled_from(["5 4 3", "5 5 4 4 3 3", "8 6", "12 10 8"]),
        inner=st.floats(10.0, 70.0),
        curl=st.sampled_from(["outward", "inward", "none"]),
    )
    def every(width, pearl, petals, inner, curl) -> None:  # type: ignore[no-untyped-def]
        work = made(
            width,
            centre_piece="pearl",
            pearl=pearl,
            petals=petals,
            inner_rise=inner,
            curl=curl,
        )
        text = fold_text(work.design, work.bodies)
        model = fold_reader.read(text)
        (ball,) = json.loads(text)["jadeite:contents"]
        assert ball["radius_mm"] == pytest.approx(pearl / 2)
        pressed = any(f.code == "pearl-wide" for f in work.findings)
        counts["pressed" if pressed else "free"] += 1
        top = np.array(ball["pose"])[2][3] + pearl / 2
        low = min(float(face.points[:, 2].min()) for face in model.faces.values())
        assert work.sizes["finished-height"].value >= top - low - 0.01
        if not pressed:
            assert fold_reader.in_the_way(model, ball, touch=0.05) == 0
            lowered = json.loads(json.dumps(ball))
            lowered["pose"][2][3] -= 0.2
            assert fold_reader.in_the_way(model, lowered, touch=0.05) > 0  # it does lie on it

    every()
    assert counts["free"] >= 15
    assert counts["pressed"] >= 3


@pytest.mark.parametrize("width", [60.0, 90.0, 152.0])
def test_a_pearl_too_wide_is_said_and_the_cure_ends_it(width: float) -> None:
    """It names the widest that lies free."""
    work = made(width, centre_piece="pearl", pearl=28.0)
    (finding,) = [f for f in work.findings if f.code == "pearl-wide"]
    assert finding.cure is not None
    ((path, value),) = finding.cure.changes
    again = made(width, centre_piece="pearl", **{path.removeprefix("shape.options."): value})
    assert not [f for f in again.findings if f.level > Level.NOTE]


def test_a_cord_goes_through_a_cross_in_every_ring() -> None:
    """Whole otherwise, each ring gets two crossing cuts, as long as asked."""
    work = made(120.0, petals="10 10 8 8 6", outline="lance", centre_piece="knot", hole=4.0)
    assert work.design is not None
    data = json.loads(fold_text(work.design))
    frames = [f for f in (data, *data["file_frames"]) if "creasePattern" in f["frame_classes"]]
    assert len(frames) == 6
    for frame in frames:
        cuts = cuts_of(frame)
        assert sum(float(np.linalg.norm(a - b)) for a, b in cuts) == pytest.approx(8.0)
        ends = np.concatenate(cuts)
        assert np.hypot(*ends.T).max() == pytest.approx(2.0)
    assert work.assembly is not None
    last = work.assembly.steps[-1]
    assert "cord" in last.title
    assert "needle" in last.detail
    (cord,) = at_hand({"flower": work})
    assert cord.length > 150.0 + 6 * 5.0
    assert work.sizes["cord-length"].value == cord.length


@pytest.mark.parametrize("stem", ["wire", "stick"])
def test_a_flower_has_one_stem(stem: str) -> None:
    """A wire or a stick beside the cord is refused, and what works is named."""
    family = family_by_key("layered-flower")
    boards = boards_for(family, "medium-card")
    options = resolve_options(family, {"centre-piece": "knot", "stem": stem})
    with pytest.raises(FieldError) as caught:
        family.build((90.0, 0.0, 0.0), boards, options)
    ((path, value),) = caught.value.ways[0]
    cured = {**options, path.removeprefix("shape.options."): value}
    assert [one.name for one in family.build((90.0, 0.0, 0.0), boards, cured).bought] == ["cord"]


@pytest.mark.parametrize("centre", ["none", "pearl"])
def test_a_stick_is_glued_behind_before_a_pearl_lies_in_front(centre: str) -> None:
    """No ring has a hole for it; it is as long as asked, and held as far as the middle is wide."""
    work = made(150.0, stem="stick", behind=300.0, centre_piece=centre)
    assert work.design is not None
    assert work.assembly is not None
    assert not any(panel.openings for piece in work.design.pieces for panel in piece.panels)
    lowest = min(work.design.pieces, key=lambda p: work.design.placements[p.name][2, 3])
    wide = np.hypot(*lowest.panels[0].outline.T).max()  # of its middle, from the centre
    stick = next(thing for thing in at_hand({"flower": work}) if thing.name == "wooden stick")
    assert 300.0 + wide < stick.length <= 300.0 + 2 * wide + 1.0
    titles = [step.title for step in work.assembly.steps]
    glued = titles.index("Glue a stick behind the leaf ring")
    assert "point" in work.assembly.steps[glued].caution
    rings = [n for n, title in enumerate(titles) if "ring 5" in title]
    assert max(rings) < glued
    if centre == "pearl":
        assert "pearl" in titles[-1]
        assert glued < len(titles) - 1


@pytest.mark.parametrize("base", ["leaves", "none"])
@pytest.mark.parametrize("singles", [0.0, 1.0])
def test_a_wire_is_anchored_before_the_next_ring_covers_it(base: str, singles: float) -> None:
    """Only the lowest ring has a hole; the step comes before anything is glued on that ring."""
    work = made(120.0, stem="wire", base=base, singles=singles)
    assert work.design is not None
    assert work.assembly is not None
    holed = [p for p in work.design.pieces if any(q.openings for q in p.panels)]
    lowest = min(work.design.pieces, key=lambda p: work.design.placements[p.name][2, 3])
    assert len(holed) == 1
    assert holed[0].part == lowest.part
    titles = [step.title for step in work.assembly.steps]
    wire = next(i for i, title in enumerate(titles) if "wire" in title)
    covered = next(
        i for i, step in enumerate(work.assembly.steps)
        if step.operation == "glue" and i != wire and "petal" not in step.title
        and "lea" not in step.title.split(" to ")[0]
    )  # fmt: skip
    assert wire < covered
    assert not [f for f in work.findings if f.code == "cutout-covered"]


def test_a_ribbon_is_as_long_as_its_way_and_a_bow() -> None:
    """Round a pyramid: a polygon through the middles of the slits, read from the FOLD file."""
    task = changed(
        Task(),
        brief=Hollow(size=(60.0, 60.0, 60.0)),
        shape=Shape(key="pyramid", options={"sides": 5.0, "ribbon": 8.0}),
    )
    work = work_up(task, None)
    assert work.design is not None
    (found,) = work.design.bought
    data = json.loads(fold_text(work.design))
    points = np.array(data["file_frames"][0]["vertices_coords"])
    ends = [e for e, kind in zip(data["edges_vertices"], data["edges_assignment"], strict=True)
            if kind == "C"]  # fmt: skip
    middles = np.array([points[e].mean(axis=0) for e in ends])
    radius = float(np.hypot(*(middles[:, :2] - middles[:, :2].mean(axis=0)).T).mean())
    assert len(ends) == 5
    assert found.across == pytest.approx(8.0)
    # three times straight inside, twice round a corner outside
    way = 3 * 2 * radius * math.sin(math.pi / 5) + 2 * 2 * radius * math.tan(math.pi / 5)
    assert found.length == pytest.approx(way + BOW, rel=0.02)


def test_words_of_a_list() -> None:
    """Counts, lengths in all, and inches."""
    task = changed(
        Task(), brief=Span(width=90.0), copies=4,
        shape=Shape(key="layered-flower", options={"stem": "wire", "centre-piece": "pearl"}),
    )  # fmt: skip
    wire, pearl = at_hand({"flower": work_up(task, None)})
    assert wire.words() == "4 × 175 mm of stem wire, 0.9 mm: 700 mm in all"
    assert pearl.words() == "4 pearls, 5.0 mm"
    assert wire.words("inches") == "4 × ~6 7/8 in of stem wire, 0.035 in: ~27 9/16 in in all"
    assert pearl.words("inches") == "4 pearls, ~3/16 in"


@pytest.mark.parametrize("family", ["layered-flower", "fringed-flower"])
@pytest.mark.parametrize("base", ["leaves", "none"])
def test_a_cord_finds_its_way_through_discs_and_crosses(family: str, base: str) -> None:
    """A disc has a hole where the rings have crosses; neither is said to cover the other."""
    work = made(150.0, family, centre_piece="knot", spacers="all", base=base)
    assert not [f for f in work.findings if f.code == "cutout-covered"]
    discs = [p for p in work.design.pieces if p.part == "spacer"]
    assert discs
    assert all(len(p.panels[0].openings) == 1 for p in discs)
