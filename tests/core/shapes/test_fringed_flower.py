"""The fringed flower: plies that are cut alike, fringes in one another, steps of the hands."""

from __future__ import annotations

import itertools
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

FAMILY = family_by_key("fringed-flower")
SPANS = st.tuples(st.floats(60.0, 300.0), st.just(0.0), st.just(0.0))
FRINGES = ("fringe-large", "fringe-medium", "fringe-small")


def task(width: float = 100.0, **options: object) -> Task:
    """A flower with options."""
    return span_task(FAMILY.key, width, **options)


def plies(design: Design, part: str) -> list[str]:
    """The pieces of a part, in their order."""
    return [piece.name for piece in design.pieces if piece.part == part]


@settings(max_examples=HEAVY // 2 + 15)
@given(span=SPANS, board=FOLDING, chosen=options_of(FAMILY, 40.0))
def test_property_every_fringed_flower_closes_or_says_why(span, board, chosen) -> None:  # type: ignore[no-untyped-def]
    """Over all options: every middle is glued, no length changes; refusals name what works."""
    closes_or_says_why(FAMILY, span, board, chosen)


@settings(max_examples=20)
@given(
    sizes=st.integers(1, 3),
    count=st.integers(1, 5),
    strands=st.integers(10, 20),
    tuft=st.sampled_from(["crossed", "none"]),
)
def test_property_plies_are_cut_alike_and_never_in_line(sizes, count, strands, tuft) -> None:  # type: ignore[no-untyped-def]
    """As many as were asked for; the same region, by Shapely; turned apart, by the FOLD text."""
    design = build(FAMILY, (100.0, 0.0, 0.0), fringes=float(sizes), plies=float(count),
                   strands=float(strands), tuft=tuft)  # fmt: skip
    model = fold_reader.read(text_of(design))
    wanted = dict.fromkeys(FRINGES[:sizes], count) | {"tuft": 6 * (tuft == "crossed")}
    for part in (*FRINGES, "tuft"):
        names = plies(design, part)
        assert len(names) == wanted.get(part, 0)
        regions = [piece_polygon(design.piece(name)) for name in names]
        for one, other in itertools.pairwise(regions):
            assert one.symmetric_difference(other).area == 0.0
        ways = []
        for name in names:
            tip = model.faces[name, "1.1"].points.mean(axis=0)
            ways.append(math.degrees(math.atan2(tip[1], tip[0])))
        for one, other in itertools.combinations(ways, 2):
            apart = (one - other) % (360 / strands)
            assert min(apart, 360 / strands - apart) > 0.05 * 360 / strands


def test_each_fringe_stands_within_the_larger_one() -> None:
    """From the FOLD text: rims, heights and middles step inwards; the tuft spreads below."""
    design = build(FAMILY, (120.0, 0.0, 0.0))
    model = fold_reader.read(text_of(design))
    reach, high, steep = [], [], []
    for part in FRINGES:
        faces = [f.points for (piece, _), f in model.faces.items() if piece in plies(design, part)]
        points = np.concatenate(faces)
        reach.append(float(np.hypot(points[:, 0], points[:, 1]).max()))
        high.append(float(points[:, 2].max()))
        name = plies(design, part)[0]
        normal = model.faces[name, "1.3"].normal
        steep.append(math.degrees(math.acos(min(1.0, abs(float(normal[2]))))))
    assert reach == sorted(reach, reverse=True)
    assert high[0] > high[-1] - 3.0
    assert steep == sorted(steep)
    tuft = np.concatenate([f.points for (piece, _), f in model.faces.items()
                           if piece in plies(design, "tuft")])  # fmt: skip
    assert tuft[:, 2].max() < min(high)


def test_strands_are_wide_enough_and_stand_apart() -> None:
    """On the flat net, by Shapely: no strand is narrower than 1.5 mm at its root, none touch."""
    design = build(FAMILY, (100.0, 0.0, 0.0))
    piece = design.piece("fringe-small-1")
    roots = [fold for fold in piece.folds if fold.parent == "middle"]
    assert len(roots) == 16
    for fold in roots:
        assert math.dist(fold.start, fold.end) >= 1.5 - 1e-9
    strands = [
        shapely.union_all([shapely.Polygon(panel.outline) for panel in piece.panels
                           if panel.name.split(".")[0] == str(n)])
        for n in (1, 2)
    ]  # fmt: skip
    assert strands[0].distance(strands[1]) > 0.3


@pytest.mark.parametrize("width", [40.0, 60.0, 80.0, 100.0, 152.0, 240.0])
def test_the_usual_fringed_flower_needs_no_look(width: float) -> None:
    """At any size; where strands would be too short, the smallest fringe is larger."""
    work = work_up(task(width), None)
    assert work.design is not None
    assert [f.message for f in work.findings if f.level > Level.NOTE] == []
    assert work.sizes["finished-width"].value == pytest.approx(width, abs=0.01)
    assert work.sizes["fullness"].value > 75.0


def test_its_steps_are_those_of_the_hands() -> None:
    """Alike ones are glued first, curled together, gathered, and set into one another."""
    plan = work_up(task(), None).assembly
    assert plan is not None
    titles = [step.title for step in plan.steps]
    wanted = [
        "Peel all 18 pieces off",
        "Glue on one another what is alike",
        "Curl the tips of all petals and leaves",
        "Press the middle of each ring with a ball",
        "Curl the tips of the strands",
        "Gather the fringes up",
        "Glue ring 1 to the leaf ring",
        "Glue ring 2 to ring 1",
        "Glue the tuft to ring 2",
        "Glue the large fringe to the tuft",
        "Glue the medium fringe to the large fringe",
        "Glue the small fringe to the medium fringe",
    ]
    assert titles == wanted
    assert plan.steps[1].detail.startswith("6 tufts, 3 large fringes, 3 medium fringes and 3 sm")


@pytest.mark.parametrize(
    ("width", "chosen", "what"),
    [
        (60.0, {"strands": 20.0, "fringe": 40.0, "smallest": 60.0}, "strands of the"),
        (
            70.0,
            {"middle": "hole", "hole": 12.0, "fringe": 40.0, "smallest": 60.0},
            "strands of the",
        ),
        (
            60.0,  # neither a larger ring nor a larger fringe is enough by itself
            {"petals": "11 3", "centre": 15.0, "fringe": 40.0, "smallest": 60.0, "strands": 10.0},
            "petals of the ring 2",
        ),
        (900.0, {}, "outside what a fringed flower can be"),
    ],
)
def test_what_cannot_be_names_what_can(width: float, chosen: dict[str, object], what: str) -> None:
    """The cure that is offered works."""
    asked = task(width, **chosen)
    (finding,) = [f for f in work_up(asked, None).findings if f.level is Level.BLOCKED]
    assert what in finding.message
    assert finding.cure is not None
    again = work_up(cured(asked, finding.cure), None)
    assert again.design is not None, [f.message for f in again.findings]
    assert not again.blocked
