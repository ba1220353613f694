"""The wreath: as wide as asked, filled, proved from its exported FOLD geometry."""

from __future__ import annotations

import os

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.geometry import Polygon

from jadeite.core.findings import Level
from jadeite.core.nets.arrivals import When
from jadeite.core.nets.model import Design
from jadeite.core.pipeline import plan_sheets, work_up
from jadeite.core.pipeline.cures import cured
from jadeite.core.project import Shape, Span, Task, changed
from jadeite.core.proof import prove
from jadeite.core.shapes import family_by_key, resolve_options
from tests import fold_reader
from tests.core.shapes.closing import (
    FOLDING,
    boards_for,
    build,
    closes_or_says_why,
    options_of,
    text_of,
)

FAMILY = family_by_key("wreath")
SPANS = st.tuples(st.floats(180.0, 520.0), st.just(0.0), st.just(0.0))
EXAMPLES = 200 if os.environ.get("HYPOTHESIS_PROFILE") == "soak" else 10


def task(width: float = 300.0, **options: object) -> Task:
    """A wreath with options; names with underscores for hyphens."""
    chosen = {key.replace("_", "-"): value for key, value in options.items()}
    return changed(Task(), brief=Span(width=width), shape=Shape(key=FAMILY.key, options=chosen))


def faces_of(design: Design) -> list[np.ndarray]:
    """The panels of flowers and leaves in space, from the FOLD text."""
    model = fold_reader.read(text_of(design))
    base = {piece.name for piece in design.pieces if piece.part == "base"}
    return [face.points for (piece, _), face in model.faces.items() if piece not in base]


@settings(max_examples=EXAMPLES)
@given(span=SPANS, board=FOLDING, chosen=options_of(FAMILY))
def test_property_every_wreath_closes_or_says_why(span, board, chosen) -> None:  # type: ignore[no-untyped-def]
    """Over all options; refusals name what works."""
    closes_or_says_why(FAMILY, span, board, chosen)


@pytest.mark.parametrize("width", [180.0, 240.0, 300.0, 450.0, 900.0])
def test_the_usual_wreath_needs_no_look(width: float) -> None:
    """A default never warns about itself, and is full."""
    work = work_up(task(width), None)
    assert [f.message for f in work.findings if f.level >= Level.LOOK] == []
    assert work.sizes["fullness"].value > 68.0


@pytest.mark.parametrize(
    ("width", "options"),
    [(300.0, {}), (300.0, {"flowers": 40.0}), (420.0, {"arcs": 1.0, "sizes": "one"})],
)
def test_width_opening_and_fullness_are_those_of_the_geometry(width, options) -> None:  # type: ignore[no-untyped-def]
    """From the FOLD text: farthest and nearest places, and a count of 200 000 random points."""
    work = work_up(task(width, **options), None)
    assert work.design is not None
    faces = faces_of(work.design)
    points = np.concatenate(faces)
    wide = 2 * np.hypot(points[:, 0], points[:, 1]).max()
    assert wide == pytest.approx(work.sizes["finished-width"].value, abs=0.05)
    assert wide == pytest.approx(width, abs=0.05)
    shapes = [Polygon(face[:, :2]).buffer(0) for face in faces]
    opening = 2 * min(shapely.distance(shapes, shapely.Point(0, 0)))
    assert opening == pytest.approx(work.sizes["opening"].value, abs=0.05)
    assert opening >= 0.46 * width - 0.05
    rng = np.random.default_rng(5)
    low, high = (0.46 * width / 2) ** 2, (width / 2) ** 2
    far, turn = np.sqrt(rng.uniform(low, high, 200_000)), rng.uniform(0, 2 * np.pi, 200_000)
    tree = shapely.STRtree(shapes)
    places = shapely.points(far * np.cos(turn), far * np.sin(turn))
    seen = np.unique(tree.query(places, predicate="intersects")[0]).size / len(places)
    assert 100 * seen == pytest.approx(work.sizes["fullness"].value, abs=0.6)
    high = points[:, 2].max()
    thick = work.design.piece(work.design.body.name).board.thickness
    assert work.sizes["finished-height"].value == pytest.approx(high + thick / 2, abs=0.5)


@pytest.mark.parametrize("height", [9.0, 14.0, 22.0])
def test_it_is_as_high_as_asked(height: float) -> None:
    """From the FOLD text: its petals rise until their tips are so high over the table."""
    asked = changed(task(), brief=Span(width=300.0, height=height))
    work = work_up(asked, None)
    assert work.design is not None
    model = fold_reader.read(text_of(work.design))
    points = np.concatenate([face.points for face in model.faces.values()])
    thick = work.design.body.board.thickness  # half of it under the middle surface of the lowest
    assert np.ptp(points[:, 2]) + thick / 2 == pytest.approx(height, abs=0.2)


def test_a_height_that_it_cannot_have_names_one_that_it_can() -> None:
    """Too flat and too high."""
    for height in (3.0, 80.0):
        asked = changed(task(), brief=Span(width=300.0, height=height))
        (finding,) = [f for f in work_up(asked, None).findings if f.level is Level.BLOCKED]
        assert finding.cure is not None
        assert work_up(cured(asked, finding.cure), None).design is not None


@pytest.mark.parametrize("flowers", [5.0, 21.0, 40.0])
def test_it_has_as_many_flowers_as_are_asked_for(flowers: float) -> None:
    """Each sits by its middle on one arc of the board; large and small ones are counted."""
    design = build(FAMILY, (300.0, 0.0, 0.0), flowers=flowers)
    on_ring = [j for j in design.joints if j.title == "on the ring"]
    assert len(on_ring) == flowers == design.sizes["flowers"].value


def test_seams_of_one_ply_lie_on_the_middles_of_the_other() -> None:
    """From the FOLD text: angles at which arcs of either ply end."""
    design = build(FAMILY, (300.0, 0.0, 0.0), arcs=5.0)
    model = fold_reader.read(text_of(design))
    ends: dict[str, set[int]] = {"lower": set(), "upper": set()}
    for (piece, _), face in model.faces.items():
        ply, _, number = piece.partition("-")
        if ply in ends and number.isdigit():
            turns = np.degrees(np.arctan2(face.points[:, 1], face.points[:, 0]))
            ends[ply] |= {round(turn) % 360 for turn in (turns[0], turns[len(turns) // 2])}
    assert ends["upper"] == {0, 72, 144, 216, 288}
    assert ends["lower"] >= {36, 108, 180, 252, 324}
    half = [p for p in design.pieces if p.part == "base"]
    assert len(half) == 10


def test_leaves_are_in_mirrored_pairs() -> None:
    """Two nets of leaves, one the mirror image of the other, equally often."""
    design = build(FAMILY, (300.0, 0.0, 0.0))
    kinds: dict[int, list[np.ndarray]] = {}
    for piece in design.pieces:
        if piece.part == "leaf":
            kinds.setdefault(id(piece.panels), []).append(piece.panels[1].outline)
    one, other = kinds.values()
    assert len(one) == len(other) > 8
    mirrored = other[0][::-1] * [1.0, -1.0]
    assert Polygon(one[0]).symmetric_difference(Polygon(mirrored)).area < 1e-6


def test_its_steps_are_those_of_the_hands() -> None:
    """The ring, petals bent in bulk, flowers stacked, then set on; greenery last."""
    work = work_up(task(flowers=12.0), None)
    assert work.assembly is not None
    titles = [step.title for step in work.assembly.steps]
    ring = next(i for i, t in enumerate(titles) if t.startswith("Glue the arcs to a ring"))
    bent = titles.index("Curl the tips of all petals")
    stacked = next(i for i, t in enumerate(titles) if "middle rings" in t and "outer rings" in t)
    large = next(i for i, t in enumerate(titles) if t.startswith("Glue large flower"))
    small = next(i for i, t in enumerate(titles) if t.startswith("Glue small flower"))
    leaves = next(i for i, t in enumerate(titles) if t.startswith("Glue leaves"))
    assert ring < bent < stacked < large < small < leaves == len(titles) - 1
    assert len(titles) <= 12  # operations in bulk: not one for each flower
    comes = {a.piece for a in work.design.arrivals.at(When.FOLDED)}  # type: ignore[union-attr]
    assert len(comes) > 40


@pytest.mark.parametrize(
    ("width", "chosen", "what"),
    [
        (300.0, {"flowers": 120.0}, "shorter than"),
        (300.0, {"petals": "12 12 12 12", "small": 45.0}, "shorter than"),
        (180.0, {"opening": 75.0}, "shorter than"),
        (1200.0, {}, "outside what a wreath can be"),
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


@pytest.mark.parametrize("arcs", [1.0, 5.0, 6.0])
def test_its_cord_goes_round_the_ring_where_it_hangs(arcs: float) -> None:
    """Against the FOLD text: over both edges of the board there, and as long as is listed."""
    design = build(FAMILY, (300.0, 0.0, 0.0), hang="cord", arcs=arcs)
    (cord,) = [one for one in design.bought if one.strips]
    band, loop = (np.array(strip.points) for strip in cord.strips)
    model = fold_reader.read(text_of(design))
    base = {piece.name for piece in design.pieces if piece.part == "base"}
    rims = np.concatenate([f.points for (p, _), f in model.faces.items() if p in base])
    far = np.linalg.norm(rims[:, :2], axis=1).max()
    assert band[:, 1].max() == pytest.approx(far, abs=1.5)  # an arc's chord, and off the board
    low, high = rims[:, 2].min(), rims[:, 2].max()
    assert band[:, 2].min() < low
    assert band[:, 2].max() > high
    assert loop[:, 1].min() >= far - 0.5
    drawn = sum(np.linalg.norm(np.diff(line, axis=0), axis=1).sum() for line in (band, loop))
    assert cord.length == pytest.approx(drawn + 100.0, abs=1.0)  # the knots
    flat = {(piece, panel): Polygon(f.points[:, :2]) for (piece, panel), f in model.faces.items()}
    middle = (band[:, 1].min() + band[:, 1].max()) / 2
    assert flat[cord.on].buffer(1e-6).contains(shapely.Point(0.0, middle))


def test_a_bare_one_says_so() -> None:
    """One size without leaves: how much of it is bare, as a note."""
    bare = work_up(task(sizes="one", leaves=0.0, large=60.0, lap=0.0), None)
    (note,) = [f for f in bare.findings if f.code == "wreath-bare"]
    assert f"cover {bare.sizes['fullness'].value:.0f} %" in note.message


def test_a_ring_too_large_for_the_sheet_is_cut_in_more_arcs() -> None:
    """The cure of one arc on a sheet of 305 mm."""
    asked = task(420.0, arcs=1.0)
    work = work_up(asked, None)
    assert work.design is not None
    found = [f for f in plan_sheets(asked, work.design).findings if f.cure is not None]
    cure = next(f.cure for f in found if f.cure and "more arcs" in f.cure.label)
    after = cured(asked, cure)
    again = work_up(after, None)
    assert again.design is not None
    left = plan_sheets(after, again.design).findings
    assert not [f for f in left if f.level is Level.BLOCKED]


def test_arcs_that_share_a_seam_do_not_pass_through_one_another() -> None:
    """Here a plain overlay took the whole of an arc for what it and its neighbour both claim."""
    options = {"opening": 26.6, "sizes": "one", "lap": 7.4, "rise": 42.0, "leaf": 78.6,
               "leaf-outline": "pointed"}  # fmt: skip
    boards = boards_for(FAMILY, "clear-film")
    design = FAMILY.build(
        (0.55 * FAMILY.largest, 0.0, 0.0), boards, resolve_options(FAMILY, options)
    )
    assert [f.message for f in prove(design)[1] if f.code == "panels-cross"] == []
