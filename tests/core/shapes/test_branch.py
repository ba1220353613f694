"""The branch: as wide as asked, proved from its exported FOLD geometry, and made as it is told."""

from __future__ import annotations

import os

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.geometry import Polygon

from jadeite.core.errors import FieldError
from jadeite.core.findings import Level
from jadeite.core.pipeline import work_up
from jadeite.core.project import Task
from jadeite.core.shapes import family_by_key, resolve_options
from tests import fold_reader
from tests.core.shapes.closing import (
    FOLDING,
    boards_for,
    build,
    closes_or_says_why,
    options_of,
    span_task,
    text_of,
)

FAMILY = family_by_key("branch")
SPANS = st.tuples(st.floats(220.0, 500.0), st.just(0.0), st.just(0.0))
EXAMPLES = 200 if os.environ.get("HYPOTHESIS_PROFILE") == "soak" else 8


def task(width: float = 240.0, height: float | None = None, **options: object) -> Task:
    """A branch with options."""
    return span_task(FAMILY.key, width, height, **options)


@settings(max_examples=EXAMPLES)
@given(span=SPANS, board=FOLDING, chosen=options_of(FAMILY))
def test_property_every_branch_closes_or_says_why(span, board, chosen) -> None:  # type: ignore[no-untyped-def]
    """Over all options; refusals name what works."""
    closes_or_says_why(FAMILY, span, board, chosen)


@pytest.mark.parametrize("width", [140.0, 165.0, 240.0, 400.0])
@pytest.mark.parametrize("bend", [0.0, 46.0, 100.0])
def test_the_usual_branch_needs_no_look(width: float, bend: float) -> None:
    """A default never warns about itself, is full for a branch, and as wide as asked."""
    work = work_up(task(width, bend=bend), None)
    assert [f.message for f in work.findings if f.level >= Level.LOOK] == []
    assert [f.code for f in work.findings if f.code == "wreath-bare"] == []
    assert work.sizes["finished-width"].value == pytest.approx(width, rel=0.03)
    assert work.sizes["finished-width"].value < width + 0.5
    assert work.sizes["flowers"].value >= 4


def test_width_depth_and_fullness_are_those_of_the_geometry() -> None:
    """From the FOLD text: extents, and a count of 200 000 random points of the band."""
    work = work_up(task(bend=0.0), None)
    assert work.design is not None
    model = fold_reader.read(text_of(work.design))
    points = np.concatenate([face.points for face in model.faces.values()])
    wide, deep = np.ptp(points[:, :2], axis=0)
    assert wide == pytest.approx(work.sizes["finished-width"].value, abs=0.05)
    assert deep == pytest.approx(work.sizes["finished-depth"].value, abs=0.05)
    # a straight stem: the band is a rectangle, and a disc as wide as the flower at its tip
    long, small = work.sizes["stem-length"].value, work.sizes["small-width"].value
    half = 0.44 * long / (1 - small / 2 / (long + small / 2)) / 2
    rng = np.random.default_rng(8)
    spots = rng.uniform(-0.5, 0.5, (200_000, 2)) * (long + small, 2 * half) + (small / 2, 0.0)
    x, y = spots.T
    band = (x >= (0.14 - 0.5) * long) & (x <= long / 2)
    spots = spots[band | (np.hypot(x - long / 2, y) <= small / 2)]
    base = {piece.name for piece in work.design.pieces if piece.part == "base"}
    faces = [face.points for (piece, _), face in model.faces.items() if piece not in base]
    tree = shapely.STRtree([Polygon(face[:, :2]).buffer(0) for face in faces])
    seen = np.unique(tree.query(shapely.points(spots), predicate="intersects")[0]).size
    assert 100 * seen / len(spots) == pytest.approx(work.sizes["fullness"].value, abs=0.6)


@pytest.mark.parametrize("back", ["ply", "none"])
def test_middles_and_feet_lie_on_the_board(back: str) -> None:
    """From the FOLD text: all that is glued on it, to 0.01 mm."""
    design = build(FAMILY, (260.0, 0.0, 0.0), back=back)
    model = fold_reader.read(text_of(design))
    on = ("base", "twig") if back == "none" else ("upper", "twig")
    board = Polygon(model.faces[on].points[:, :2]).buffer(0.01)
    glued = [j for j in design.joints if j.target == on]
    for joint in glued:
        assert board.contains(Polygon(model.faces[joint.tab[0], joint.tab[1]].points[:, :2]))
    assert len(glued) == design.sizes["flowers"].value + design.sizes["leaves"].value


@pytest.mark.parametrize(("back", "own_step"), [("ply", False), ("none", True)])
def test_a_wire_is_on_the_list_and_comes_before_it_is_covered(back: str, own_step: bool) -> None:
    """Between both plies it comes with them; behind one it has a step of its own."""
    work = work_up(task(back=back, wire="along"), None)
    assert work.design is not None
    (wire,) = work.design.bought
    assert work.sizes["stem-length"].value - 25 <= wire.length < work.sizes["stem-length"].value
    steps = work.assembly.steps
    texts = [f"{step.title} {step.detail}" for step in steps]
    assert any("wire" in words for words in texts)
    assert any(step.title == "Glue a wire behind the stem" for step in steps) == own_step
    assert any("cut ends" in words or "ends of cut wire" in words
               for words in [*texts, wire.caution])  # fmt: skip


def test_so_many_flowers_as_are_asked_for() -> None:
    """They are made just so small that they fit; too many are refused with a number that works."""
    for count in (3, 6, 9):
        assert work_up(task(320.0, flowers=float(count)), None).sizes["flowers"].value == count
    (finding,) = [f for f in work_up(task(200.0, flowers=20.0), None).findings
                  if f.level is Level.BLOCKED]  # fmt: skip
    assert finding.cure is not None


def test_a_number_of_flowers_that_is_named_works() -> None:
    """As wide as asked their petals would be a little too short; so it stays as it is."""
    wide = {"stem": 23.07, "seed": 13.0, "petals": "7 3", "bend": 5.173, "leaves": 0.0,
            "bare": 18.1, "large": 30.0, "lap": 0.0, "depth": 75.93, "moved": "5:44,44",
            "outline": "lance waist=62.09", "rise": 40.29, "inner-rise": 41.57,
            "small": 58.46}  # fmt: skip
    boards = boards_for(FAMILY, "heavy-card")
    size = (271.4045818404338, 0.0, 0.0)
    with pytest.raises(FieldError) as caught:
        FAMILY.build(size, boards, resolve_options(FAMILY, {**wide, "flowers": 19.0}))
    ((path, value),) = caught.value.ways[0]
    assert path == "shape.options.flowers"
    options = resolve_options(FAMILY, {**wide, "flowers": value})
    assert FAMILY.build(size, boards, options).sizes["flowers"].value == value


@pytest.mark.parametrize("buds", [1, 3, 8])
def test_buds_are_at_the_tip_and_in_a_calyx(buds: int) -> None:
    """So many more than flowers; from the FOLD text nearer to the tip, closed, green outside."""
    work = work_up(task(320.0, flowers=6.0, buds=float(buds)), None)
    assert work.design is not None
    assert [
        f.message for f in work.findings if f.level >= Level.LOOK and f.code != "unplaced"
    ] == []
    assert (work.sizes["flowers"].value, work.sizes["buds"].value) == (6, buds)
    faces = fold_reader.read(text_of(work.design)).faces

    def middles(part: str, name: str) -> np.ndarray:
        pieces = [p.name for p in work.design.pieces if p.part == part and p.name.startswith(name)]
        return np.array([faces[piece, "middle"].points.mean(axis=0) for piece in pieces])

    sepals, petals = middles("leaf", "bud"), middles("bud", "bud")
    assert (len(sepals), len(petals)) == (buds, 2 * buds)
    assert sepals[:, 0].min() > middles("small", "small")[:, 0].mean()
    for bud in sepals:  # two rings in each, one above the other
        own = petals[np.hypot(*(petals - bud)[:, :2].T) < 0.01]
        assert len(own) == 2
        assert (own[:, 2] > bud[2]).all()


def test_tips_that_curl_either_way_are_told_apart() -> None:
    """Flowers open outwards, buds close inwards; without buds there is one step for all."""
    for buds, wanted in (
        (0.0, ["Curl the tips of all petals"]),
        (2.0, ["Curl these tips outwards", "Curl these tips inwards"]),
    ):
        work = work_up(task(buds=buds), None)
        assert work.assembly is not None
        steps = [step for step in work.assembly.steps if step.title.startswith("Curl")]
        assert [step.title for step in steps] == wanted
        assert "Each tip down" in steps[0].detail
        assert "sepalss" not in " ".join(step.title for step in work.assembly.steps)
    assert "Those of bud sepal ring" in steps[-1].detail
    assert "Each tip up" in steps[-1].detail


@pytest.mark.parametrize("height", [10.0, 16.0])
def test_it_is_as_high_as_asked(height: float) -> None:
    """From the FOLD text: petals rise until their tips are so high over the table."""
    work = work_up(task(240.0, height), None)
    assert work.design is not None
    model = fold_reader.read(text_of(work.design))
    points = np.concatenate([face.points for face in model.faces.values()])
    thick = work.design.body.board.thickness
    assert np.ptp(points[:, 2]) + thick / 2 == pytest.approx(height, abs=0.2)
