"""The envelope, proved from its exported FOLD geometry, alone and round a card."""

from __future__ import annotations

import json
import math

import numpy as np
import pytest
from hypothesis import example, given, settings
from hypothesis import strategies as st
from shapely.geometry import Point, Polygon

from jadeite.core.contents import FlatPack
from jadeite.core.contents.things import MadeThing
from jadeite.core.findings import Level
from jadeite.core.formats.fold_file import fold_text
from jadeite.core.nets import piece_area
from jadeite.core.pipeline import arrange_contents, work_up, work_up_job
from jadeite.core.project import Face, Hollow, Item, Project, Shape, Task, changed, edited
from jadeite.core.shapes import family_by_key, resolve_options, settled_design
from tests import fold_reader
from tests.core.shapes.closing import (
    FOLDING,
    boards_for,
    build,
    closes_or_says_why,
    text_of,
    values_of,
)

FAMILY = family_by_key("envelope")
SIZES = st.tuples(st.floats(40.0, 300.0), st.floats(40.0, 300.0), st.floats(0.1, 20.0))
USUAL = {o.key: values_of(o, 40.0) for o in FAMILY.options}
OPTIONS = st.fixed_dictionaries(
    USUAL
    | {
        "side-flap": st.floats(6.0, 18.0),
        "liner-border": st.floats(2.0, 6.0),
        "closing": st.sampled_from(["glue", "glue", "tuck", "tuck", "string"]),
    }
)
CARD = Item(name="card", shape=Shape(key="folded-card"), brief=Face(size=(105.0, 148.0)))
ENVELOPE = Item(
    name="envelope", shape=Shape(key="envelope"), contents=(MadeThing(name="card", item="card"),)
)


@settings(max_examples=200)
@given(inside=SIZES, board=FOLDING, chosen=OPTIONS)
@example((40.0, 40.0, 0.1), "craft-board", {"side-flap": 6.0})
@example((300.0, 40.0, 20.0), "tissue", {"side-flap": 18.0, "flap": "square"})
def test_property_every_envelope_closes(inside, board, chosen) -> None:  # type: ignore[no-untyped-def]
    """Over all sizes, boards and options; refused only where flaps leave no room."""
    made = closes_or_says_why(FAMILY, inside, board, chosen)
    room = min(inside[0] / 2 - chosen["side-flap"] - 3, 0.6 * inside[1] - chosen.get("overlap", 22))
    small = chosen.get("liner") == "one" and min(inside[:2]) < 75  # no room for one on the flap
    tied = chosen.get("closing") == "string" and (
        0.6 * inside[1] - chosen.get("overlap", 22) < 27 or inside[0] < 45
    )  # no room for two buttons
    assert made or room < 0 or small or tied


@settings(max_examples=100)
@given(inside=SIZES, board=FOLDING)
def test_property_flaps_stay_as_they_are(inside, board) -> None:  # type: ignore[no-untyped-def]
    """From the net: side flaps and what lies over keep their mm, whatever the size."""
    chosen = {"side-flap": 10.0, "overlap": 12.0}
    options = resolve_options(FAMILY, chosen)
    piece = FAMILY.build(inside, boards_for(FAMILY, board), options).pieces[0]
    assert piece.panel("side.left").size[1] == 10.0
    whole = piece.panel("flap.top").size[1] + piece.panel("flap.bottom").size[1]
    assert whole == pytest.approx(inside[1] + 12.0)
    estimate = FAMILY.board_area(inside, boards_for(FAMILY, board), options)
    assert estimate >= piece_area(piece) * 0.9


@settings(max_examples=20)  # each is a whole job
@given(
    face=st.tuples(st.floats(60.0, 200.0), st.floats(60.0, 200.0)),
    layers=st.integers(0, 3),
    board=FOLDING,
)
def test_property_the_card_goes_in_with_its_clearance(face, layers, board) -> None:  # type: ignore[no-untyped-def]
    """From the FOLD text of the envelope: 6 mm and the card's thickness in all, both ways.

    Between what bounds the card on either side, and nothing but air before its mouth.
    """
    card = changed(CARD, brief=Face(size=face), boards=dict.fromkeys(("card", "layer-1"), board),
                   shape=Shape(key="folded-card", options={"layers": float(layers)}))  # fmt: skip
    job = work_up_job(changed(Project(), items=(card, ENVELOPE)))
    assert job.refused is None
    work = job.works["envelope"]
    assert work.design is not None
    text = fold_text(work.design, work.bodies)
    model = fold_reader.read(text)
    (content,) = json.loads(text)["jadeite:contents"]
    assert not fold_reader.in_the_way(model, content)
    size = np.array(content["size_mm"])
    thick = min(size)
    assert sorted(size)[1:] == pytest.approx(sorted(face))
    assert thick == pytest.approx(job.works["card"].sizes["thickness"].value)
    faces = model.faces
    for axis, low, high in ((0, "edge.left", "edge.right"), (1, "edge.bottom", "edge.top")):
        inner = [
            f.points[:, axis].mean() + sign * f.thickness / 2
            for f, sign in ((faces["envelope", low], 1), (faces["envelope", high], -1))
        ]
        assert inner[1] - inner[0] - size[axis] == pytest.approx(6.0 + thick, abs=0.01)
    apart = (
        faces["envelope", "side.left"].points[:, 2].mean()
        - faces["envelope", "face"].points[:, 2].mean()
    )
    room = apart - faces["envelope", "face"].thickness
    assert room >= thick + 0.4 - 1e-6


def test_the_flaps_shut_over_one_another() -> None:
    """Sides under the bottom flap, it under the top flap; each lies on the next, none through."""
    model = fold_reader.read(text_of(build(FAMILY, (155.0, 112.0, 1.2))))
    level = {n: model.faces["envelope", n].points[:, 2].mean()
             for n in ("face", "side.left", "flap.bottom", "flap.top")}  # fmt: skip
    assert list(level) == sorted(level, key=level.__getitem__)
    top, bottom = (model.faces["envelope", f"flap.{n}"].points for n in ("top", "bottom"))
    assert bottom[:, 1].max() - top[:, 1].min() == pytest.approx(22.0, abs=0.5)


def test_a_change_of_the_card_changes_the_envelope() -> None:
    """10 mm more of card are 10 mm more of envelope; the envelope's own flaps stay."""
    project = changed(Project(), items=(CARD, ENVELOPE))
    before = work_up_job(project)
    larger = edited(project, "card", brief=Face(size=(105.0, 158.0)))
    after = work_up_job(larger, before.works)
    one, other = (job.works["envelope"].sizes["inside-width"].value for job in (before, after))
    assert other - one == pytest.approx(10.0)
    sides = [job.works["envelope"].sizes["side-flap"].value for job in (before, after)]
    assert sides == [15.0, 15.0]


@pytest.mark.parametrize(
    ("face", "words"),
    [((162.0, 114.0), "C6 (ISO 269)"), ((220.0, 110.0), "DL (ISO 269)"), ((229.0, 162.0), "C5")],
)
def test_standard_envelopes_by_their_outside(face, words: str) -> None:  # type: ignore[no-untyped-def]
    """ISO 269: C6 114 x 162, DL 110 x 220, C5 162 x 229 mm, measured outside from FOLD."""
    task = changed(Task(), shape=Shape(key="envelope"), brief=Face(size=face))
    work = work_up(task, None)
    assert work.design is not None
    points = np.concatenate(
        [f.points for f in fold_reader.read(text_of(work.design)).faces.values()]
    )
    t = work.design.pieces[0].board.thickness
    assert np.ptp(points, axis=0)[:2] + t == pytest.approx(face, abs=0.01)
    assert any(words in f.message for f in work.findings)


def test_a_thick_or_square_letter_is_for_the_post_to_say() -> None:
    """Over 6.35 mm (a quarter of an inch), or square."""

    def said(size: tuple[float, float, float]) -> str:
        options = resolve_options(FAMILY, {})
        design = settled_design(FAMILY, size, boards_for(FAMILY, "medium-card"), options)
        return " ".join(f.message for f in design.findings)

    for size, word in (((160, 112, 7.0), "thicker than 6.35"), ((150, 150, 1.0), "square")):
        assert word in said(size)
    assert "extra" not in said((160, 112, 1.0))


def test_a_ball_is_refused_and_a_thick_thing_is_for_a_box() -> None:
    """No shape for it, said in words; nothing is made."""
    thick = FlatPack(name="book", width=150, height=200, thickness=24)
    task = changed(Task(), shape=Shape(key="envelope"), contents=(thick,))
    work = work_up(task, arrange_contents(task))
    assert work.design is None
    assert work.findings[0].level is Level.BLOCKED
    assert "no shape for this" in work.findings[0].message


@settings(max_examples=60)
@given(
    inside=st.tuples(st.floats(80.0, 250.0), st.floats(80.0, 250.0), st.floats(0.2, 6.0)),
    border=st.floats(2.0, 12.0),
    flap=st.sampled_from(["pointed", "square"]),
    board=st.sampled_from(["text", "light-card", "medium-card"]),
)
def test_property_a_liners_scores_lie_on_the_envelopes(inside, border, flap, board) -> None:  # type: ignore[no-untyped-def]
    """Laid on the flat envelope as its FOLD text says: scores to 0.05 mm, the border even.

    The crease patterns are put on one another by the middle of the face: the liner's is seen
    from its other side.
    """
    design = build(FAMILY, inside, board, liner="one", liner_border=border, flap=flap)
    data = json.loads(fold_text(design))
    frames = {f["frame_title"]: f for f in [data, *data["file_frames"]]
              if "creasePattern" in f.get("frame_classes", [])}  # fmt: skip

    def scores(name: str) -> list[np.ndarray]:
        frame = frames[name]
        points = np.array(frame["vertices_coords"])[:, :2] * (1, -1 if name == "liner" else 1)
        return [points[edge] for edge, fold in zip(frame["edges_vertices"],
                frame["edges_jadeite:fold"], strict=True) if fold == "scored"]  # fmt: skip

    level = sorted(s[0, 1] for s in scores("envelope") if abs(s[0, 1] - s[1, 1]) < 1e-6)
    own = sorted(s[0, 1] for s in scores("liner"))
    assert len(own) == 2
    for score in own:
        assert min(abs(score - other) for other in level) <= 0.05
    piece, liner = design.piece("envelope"), design.piece("liner")
    flat = Polygon(piece.panel("flap.top").outline)
    top = liner.panel("flap").outline * (1, -1)
    hinge = flat.bounds[3]
    free = [p for p in top if p[1] < hinge - 1.0]
    far = [flat.exterior.distance(Point(p)) for p in free]
    assert min(far) == pytest.approx(border, abs=0.06)
    assert flat.buffer(0.06).covers(Polygon(top))


def test_a_lined_envelope_takes_its_card_and_folds_in_one() -> None:
    """C6 outside as asked; both layers in one step; the card has its room; usual ones are clean."""
    task = changed(Task(), shape=Shape(key="envelope", options={"liner": "one"}),
                   brief=Face(size=(162.0, 114.0)))  # fmt: skip
    work = work_up(task, None)
    assert [f.message for f in work.findings if f.level > Level.NOTE] == []
    assert work.sizes["outside-width"].value == pytest.approx(162.0)
    assert work.sizes["outside-height"].value == pytest.approx(114.0)
    titles = [step.title for step in work.assembly.steps]
    assert "Crease both folds of the liner" not in titles
    assert titles.index("Glue the liner in the envelope") < titles.index(
        "Crease all 8 folds of the envelope"
    )
    assert sum("top flap" in title for title in titles) == 1
    card = FlatPack(name="card", width=150, height=102, thickness=2.0)
    task = changed(task, contents=(card,), brief=Hollow())
    work = work_up(task, arrange_contents(task))
    assert [f.message for f in work.findings if f.level > Level.NOTE] == []
    assert work.sizes["inside-width"].value >= 156.0


def test_a_string_round_two_buttons_closes_it() -> None:
    """Both lie on their flaps with room, one under the other, 26 mm apart; string by hand."""
    design = build(FAMILY, (168.0, 120.0, 1.0), closing="string")
    model = fold_reader.read(text_of(design))
    middles = [model.faces[f"button-{n}", "overlay"].points.mean(axis=0) for n in (1, 2)]
    assert np.linalg.norm((middles[0] - middles[1])[:2]) == pytest.approx(26.0, abs=0.01)
    assert abs(middles[0][0] - middles[1][0]) < 1e-6
    for number, flap in ((1, "flap.top"), (2, "flap.bottom")):
        own = Polygon(model.faces[f"button-{number}", "overlay"].points[:, :2])
        on = Polygon(model.faces["envelope", flap].points[:, :2])
        assert on.contains(own.buffer(1.9))
    tip = model.faces["envelope", "flap.top"].points[:, 1]
    assert min(abs(middles[1][1] - tip.min()), abs(middles[1][1] - tip.max())) > 9.0  # it is free
    # three times there and back, half a turn of an 8 mm dot at each end, and 120 mm to hold
    assert design.sizes["string-length"].value == pytest.approx(3 * (52 + math.pi * 8) + 120)
    bare = build(FAMILY, (168.0, 120.0, 1.0)).sizes["outside-thickness"].value
    more = design.sizes["outside-thickness"].value - bare
    assert more == pytest.approx(1.5 + design.piece("button-1").board.thickness)


@settings(max_examples=60)
@given(
    inside=st.tuples(st.floats(80.0, 250.0), st.floats(80.0, 250.0), st.floats(0.2, 6.0)),
    over=st.floats(10.0, 40.0),
    flap=st.sampled_from(["pointed", "square"]),
    liner=st.sampled_from(["none", "one"]),
    board=st.sampled_from(["text", "light-card", "medium-card"]),
)
def test_property_a_tucked_flap_lies_between_the_card_and_the_bottom_flap(  # type: ignore[no-untyped-def]
    inside, over, flap, liner, board
) -> None:
    """From its FOLD text: as deep as asked, next to what lies in it, under side flaps and bottom.

    Every one is made; it runs clear of the edges between which it slides in, and has its step.
    """
    chosen = {"closing": "tuck", "overlap": over, "flap": flap, "liner": liner}
    design = build(FAMILY, inside, board, **chosen)
    faces = fold_reader.read(text_of(design)).faces
    names = ("face", "flap.top", "side.left", "flap.bottom")
    level = [faces["envelope", name].points[:, 2].mean() for name in names]
    paper = faces["envelope", "face"].thickness
    assert np.diff(level)[1:] == pytest.approx([paper, paper], abs=0.01)
    lined = sum(p.board.thickness for p in design.pieces if p.name == "liner")
    room = level[1] - level[0] - paper - 2 * lined
    assert room == pytest.approx(max(inside[2], 0.5 - paper), abs=0.01)
    top, bottom = (faces["envelope", f"flap.{n}"].points for n in ("top", "bottom"))
    assert bottom[:, 1].max() - top[:, 1].min() == pytest.approx(over, abs=0.5)
    assert np.ptp(top[:, 0]) == pytest.approx(inside[0] - 0.6, abs=0.01)  # 0.3 mm at either end


def test_a_tucked_flap_has_its_step() -> None:
    """It goes in after what lies there; nothing is asked for that would hold it."""
    task = changed(Task(), shape=Shape(key="envelope", options={"closing": "tuck"}),
                   brief=Face(size=(162.0, 114.0)))  # fmt: skip
    work = work_up(task, None)
    assert [f.message for f in work.findings if f.level > Level.NOTE] == []
    last = work.assembly.steps[-1]
    assert "between the bottom flap and what lies in it" in last.detail
    assert (last.hold, last.dry) == (0.0, 0.0)


def test_what_the_post_may_ask_more_for_is_said() -> None:
    """Thick, square, stiff, by a string, heavy: each with its reason, none with a price."""

    def said(face: tuple[float, float], thick: float, mass: float, **options: str) -> list[str]:
        card = FlatPack(name="card", width=face[0], height=face[1], thickness=thick, mass=mass)
        task = changed(Task(), shape=Shape(key="envelope", options=options), contents=(card,))
        found = work_up(task, arrange_contents(task)).findings
        return [f.message for f in found if f.code.startswith("post-")]

    assert said((105.0, 148.0), 0.6, 8.0) == []
    (thick,) = said((105.0, 148.0), 7.0, 8.0)
    assert "thicker than 6.35 mm (¼ in) and too stiff for the rollers" in thick
    (square,) = said((130.0, 130.0), 0.6, 8.0)
    assert "square" in square
    (tied,) = said((105.0, 148.0), 0.6, 8.0, closing="string")
    assert "closed by a string" in tied
    (heavy,) = said((105.0, 148.0), 0.6, 40.0)
    assert "up to 50 g" in heavy
    assert not any(sign in heavy for sign in "€$£")
