"""The folded card, proved from its exported FOLD geometry."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import assume, example, given, settings
from hypothesis import strategies as st

from jadeite.core.boards import board_by_key
from jadeite.core.contents import Ball, Disc, FlatPack
from jadeite.core.contents.standards import CARDS, ENVELOPES, next_larger, standard_of
from jadeite.core.contents.things import MadeThing
from jadeite.core.findings import Level
from jadeite.core.nets.outline import drawn_folds, loops_of
from jadeite.core.pipeline import (
    arrange_contents,
    pieces_of,
    plan_sheets,
    work_up,
    work_up_job,
)
from jadeite.core.project import Face, Hollow, Item, Project, Shape, Span, Task, changed
from jadeite.core.shapes import family_by_key, resolve_options, settled_design
from tests import fold_reader
from tests.core.shapes.closing import (
    FOLDING,
    boards_for,
    build,
    closes_or_says_why,
    faults,
    text_of,
    values_of,
)

FAMILY = family_by_key("folded-card")
FACES = st.tuples(st.floats(30.0, 300.0), st.floats(30.0, 300.0), st.just(0.0))
PHOTO = FlatPack(name="photo", width=60, height=90, thickness=0.3)
A6 = (105.0, 148.0, 0.0)


def chosen_up_to(border: float, step: float):  # type: ignore[no-untyped-def]
    """All options together; borders and steps up to so many mm."""
    usual = {o.key: values_of(o, 150.0) for o in FAMILY.options}
    usual |= {"border": st.floats(2.0, border), "step": st.floats(1.0, step)}
    usual["pull"] = st.just("none")  # it has tests of its own
    return st.fixed_dictionaries(usual)


@settings(max_examples=200)
@given(face=FACES, board=FOLDING, chosen=chosen_up_to(20.0, 12.0))
@example((30.0, 30.0, 0.0), "craft-board", {"layers": 5.0, "border": 2.0, "step": 1.0})
def test_property_every_card_closes(face, board, chosen) -> None:  # type: ignore[no-untyped-def]
    """Over all sizes, boards and options; what is refused names a border or a count that works."""
    made = closes_or_says_why(FAMILY, face, board, chosen)
    leaf = face[0] / 2 - 0.5 if chosen.get("leaves") == "gate" else face[0]
    roomy = min(leaf, face[1]) > 2 * (chosen["border"] + chosen["layers"] * chosen["step"]) + 12
    assert made or not roomy


@settings(max_examples=100)
@given(face=FACES, chosen=chosen_up_to(6.0, 5.0))
def test_property_the_fold_is_exactly_central(face, chosen) -> None:  # type: ignore[no-untyped-def]
    """Turned over its fold, one leaf of the flat net lies on the other within 0.001 mm."""
    assume(min(face[:2]) > 80)
    card = build(FAMILY, face, **(chosen | {"leaves": "two"})).piece("card")
    ((line, _),) = drawn_folds(card)
    way = (line[1] - line[0]) / np.linalg.norm(line[1] - line[0])
    away = np.array([-way[1], way[0]])
    front = card.panel("front").outline
    mirrored = front - 2 * np.outer((front - line[0]) @ away, away)
    far = [np.linalg.norm(card.panel("back").outline - p, axis=1).min() for p in mirrored]
    assert max(far) < 0.001
    (ring,) = [loop.points for loop in loops_of(card)]
    size = sorted(np.ptp(ring, axis=0))
    whole = sorted((2 * face[0], face[1]) if chosen["fold"] == "side" else (face[0], 2 * face[1]))
    assert size == pytest.approx(whole, abs=0.001)


@pytest.mark.parametrize("fold", ["side", "top"])
def test_its_leaves_stand_on_the_table_open_as_asked(fold: str) -> None:
    """From the FOLD text: the lowest points of both leaves are level, the angle is the option's."""
    model = fold_reader.read(text_of(build(FAMILY, A6, fold=fold, opens=70.0)))
    leaves = [model.faces["card", name] for name in ("front", "back")]
    assert [leaf.points[:, 2].min() for leaf in leaves] == pytest.approx([0.0, 0.0], abs=1e-6)
    turn = np.degrees(np.arccos(np.clip(leaves[0].normal @ leaves[1].normal, -1, 1)))
    assert 180.0 - turn == pytest.approx(70.0)


@settings(max_examples=60)
@given(layers=st.integers(1, 4), border=st.floats(3.0, 12.0), step=st.floats(1.5, 6.0))
def test_property_borders_are_even(layers, border, step) -> None:  # type: ignore[no-untyped-def]
    """Measured on the closed form: each layer keeps its border on all four sides."""
    design = build(FAMILY, A6, layers=float(layers), border=border, step=step)
    model = fold_reader.read(text_of(design))
    below = model.faces["card", "front"].points
    for number in range(1, layers + 1):
        own = model.faces[f"layer-{number}", "overlay"].points
        for axis in (0, 2):
            gaps = (own[:, axis].min() - below[:, axis].min(),
                    below[:, axis].max() - own[:, axis].max())  # fmt: skip
            assert gaps == pytest.approx((border if number == 1 else step,) * 2, abs=1e-6)
        below = own


def test_it_is_sized_by_what_is_mounted_on_it() -> None:
    """60 x 90, a border of 6 and a layer's step of 4 on each side: 80 x 110 (by hand)."""
    task = changed(Task(), shape=Shape(key="folded-card"), contents=(PHOTO,), brief=Face())
    work = work_up(task, arrange_contents(task))
    assert work.design is not None
    assert [f.message for f in work.findings if f.level > Level.NOTE] == []
    assert sorted((work.sizes["face-width"].value, work.sizes["face-height"].value)) == [80, 110]
    (photo,) = work.bodies
    model = fold_reader.read(text_of(work.design))
    face = model.faces["layer-1", "overlay"]
    points = np.concatenate(photo.faces)
    above = (points - face.points[0]) @ face.normal
    assert above.min() == pytest.approx(face.thickness / 2)
    assert above.max() == pytest.approx(face.thickness / 2 + 0.3)
    for axis in (0, 2):  # 4 mm of the layer show on every side
        assert points[:, axis].min() - face.points[:, axis].min() == pytest.approx(4.0)
        assert face.points[:, axis].max() - points[:, axis].max() == pytest.approx(4.0)
    titles = [step.title for step in work.assembly.steps]
    assert titles[-2:] == ["Fold the card in the middle", "Mount photo"]


def test_what_is_not_flat_or_too_large_is_said() -> None:
    """A ball is for a box; a photo larger than the card names the size that takes it."""
    ball = changed(Task(), shape=Shape(key="folded-card"), brief=Face(size=A6[:2]),
                   contents=(Ball(name="planet", diameter=40),))  # fmt: skip
    (finding,) = work_up(ball, arrange_contents(ball)).findings
    assert "Planet is not flat" in finding.message
    assert finding.code == "no-shape-for-it"
    small = changed(Task(), shape=Shape(key="folded-card"), brief=Face(size=(70.0, 90.0)),
                    contents=(PHOTO, Disc(name="seal", diameter=20, thickness=1)))  # fmt: skip
    work = work_up(small, arrange_contents(small))
    big = next(f for f in work.findings if f.code == "contents-too-big")
    assert big.cure is not None
    fits = changed(small, brief=Face(size=big.cure.changes[0][1]))
    after = work_up(fits, arrange_contents(fits)).findings
    assert not any(f.level is Level.BLOCKED for f in after)


def test_a_card_is_asked_for_its_face_not_its_inside() -> None:
    """The cure of a brief that it does not answer makes it one that it does."""
    task = changed(Task(), shape=Shape(key="folded-card"), brief=Hollow(size=(90.0, 60.0, 40.0)),
                   contents=(PHOTO,))  # fmt: skip
    work = work_up(task, arrange_contents(task))
    assert work.design is None
    assert "not sized by its inside" in work.findings[0].message
    box = changed(Task(), brief=Face(size=(90.0, 60.0)), contents=(PHOTO,))
    (found,) = work_up(box, arrange_contents(box)).findings
    assert "not sized by its face" in found.message
    assert found.cure is not None


def test_standard_sizes_are_those_of_the_standards() -> None:
    """ISO 216: A6 is A4 folded twice, 297/2 x 210/2 rounded down. ISO 269: C6 is 114 x 162."""
    assert standard_of(148, 105, CARDS).name == "A6"  # type: ignore[union-attr]
    assert (297 // 2, 210 // 2) == (148, 105)
    assert standard_of(162, 114, ENVELOPES).name == "C6"  # type: ignore[union-attr]
    assert standard_of(120, 120, ENVELOPES) is None
    # a C envelope holds the A sheet of its number: the geometric mean of A and B (ISO 269)
    for name, side in (("C6", (105, 148)), ("C5", (148, 210)), ("C4", (210, 297))):
        assert next_larger(*side, tuple(s for s in ENVELOPES if s.name[0] == "C")).name == name  # type: ignore[union-attr]
    c6 = standard_of(162, 114, ENVELOPES)
    assert c6 is not None
    assert c6.short == pytest.approx((105 * 125) ** 0.5, abs=1.0)
    assert c6.long == pytest.approx((148 * 176) ** 0.5, abs=1.0)


@pytest.mark.parametrize(
    ("family", "size", "codes"),
    [
        ("folded-card", (105.0, 148.0, 0.0), {"standard-card"}),
        ("folded-card", (106.5, 148.0, 0.0), set()),
        ("envelope", (161.8, 113.8, 1.0), {"standard-envelope"}),  # C6 with its paper, ISO 269
        ("envelope", (120.0, 119.0, 1.0), {"standard-envelope", "post-extra"}),
        ("envelope", (161.8, 113.8, 8.0), {"standard-envelope", "post-extra"}),
    ],
)
def test_card_and_envelope_judge_themselves(family, size, codes) -> None:  # type: ignore[no-untyped-def]
    """Which standard it is, and what the post may ask more for; 6.35 mm is a quarter inch."""
    shape = family_by_key(family)
    boards = boards_for(shape, "medium-card")
    design = settled_design(shape, size, boards, resolve_options(shape, {}))
    assert {f.code for f in design.findings} == codes
    assert all(f.level is Level.NOTE for f in design.findings)


def test_layers_have_boards_of_their_own_and_lie_on_their_sheets() -> None:
    """Card, layer and panel inside: three boards are three sheets."""
    boards = {"card": "heavy-card", "layer-1": "glitter-card"}
    task = changed(Task(), shape=Shape(key="folded-card"), brief=Face(size=A6[:2]), boards=boards)
    work = work_up(task, None)
    assert work.design is not None
    plan = plan_sheets(task, work.design)
    assert {s.board for s in plan.layout.sheets} == {"heavy-card", "glitter-card", "text"}
    assert work.design.piece("inset").board is board_by_key("text")


@settings(max_examples=60)
@given(width=st.floats(70.0, 200.0), height=st.floats(70.0, 200.0), opens=st.floats(20.0, 150.0))
def test_property_gate_and_three_leaves_shut_flat(width, height, opens) -> None:  # type: ignore[no-untyped-def]
    """Folded by hand, about their scores alone: the halves meet, the leaf inside is free."""
    gate = build(FAMILY, (width, height, 0.0), leaves="gate", opens=opens).piece("card")
    left, right = (_shut(gate, name) for name in ("front-left", "front-right"))
    between = max(left[0], right[0]) - min(left[1], right[1])
    assert between == pytest.approx(1.0, abs=1e-6)
    assert (min(left[0], right[0]), max(left[1], right[1])) == pytest.approx(
        (-width / 2, width / 2), abs=1e-6
    )
    three = build(FAMILY, (width, height, 0.0), leaves="three", opens=opens).piece("card")
    front, flap = _shut(three, "front"), _shut(three, "flap")
    assert front == pytest.approx((-width / 2, width / 2), abs=1e-6)
    assert flap[1] - flap[0] == pytest.approx(width - 1.5, abs=1e-6)
    free = max(flap[0] + width / 2, width / 2 - flap[1])
    assert free == pytest.approx(1.5, abs=1e-6)


def _shut(card, name: str) -> tuple[float, float]:  # type: ignore[no-untyped-def]
    """From where to where a leaf lies across the back once it is folded over its score."""
    (fold,) = [f for f in card.folds if f.child == name]
    over = 2 * fold.start[0] - card.panel(name).outline[:, 0]
    return float(over.min()), float(over.max())


def test_layers_of_a_gate_are_even_on_both_halves() -> None:
    """From the FOLD text: 6 mm round each, named apart, of one part."""
    design = build(FAMILY, A6, leaves="gate", layers=2.0)
    model = fold_reader.read(text_of(design))
    for leaf, name in (("front-left", "layer-1"), ("front-right", "layer-1-right")):
        below, own = model.faces["card", leaf].points, model.faces[name, "overlay"].points
        along = below[1] - below[0], below[2] - below[1]
        for way in along:
            way = way / np.linalg.norm(way)
            low, high = (
                (own @ way).min() - (below @ way).min(),
                (below @ way).max() - (own @ way).max(),
            )
            assert (low, high) == pytest.approx((6.0, 6.0), abs=1e-6)
    assert {p.part for p in design.pieces if p.name.startswith("layer-1")} == {"layer-1"}


def test_a_layer_on_foam_stands_off_and_counts() -> None:
    """2 mm of foam: the layer's distance from the card by the FOLD text, and the thickness shut."""
    flat, raised = (build(FAMILY, A6, foam=key) for key in ("0", "2"))
    more = raised.sizes["thickness"].value - flat.sizes["thickness"].value
    assert more == pytest.approx(2.0)
    model = fold_reader.read(text_of(raised))
    card, layer = model.faces["card", "front"], model.faces["layer-1", "overlay"]
    apart = float((layer.points[0] - card.points[0]) @ card.normal)
    assert abs(apart) == pytest.approx(2.0 + (card.thickness + layer.thickness) / 2)


def test_a_guest_s_name_on_each_card() -> None:
    """Written on the top layer by the pen, each copy another; by hand there is no blank."""
    names = ("Ada Rill", "Zoë Grünwald-Hollin")
    task = changed(Task(), shape=Shape(key="folded-card", options={"names-by": "pen"}),
                   brief=Face(size=A6[:2]), names=names)  # fmt: skip
    work = work_up(task, None)
    assert [f.message for f in work.findings if f.level > Level.NOTE] == []
    own = [p for p in pieces_of(task, work.design) if p.own == "layer-1"]
    assert [p.piece.title for p in own] == [f"layer 1, {name}" for name in names]
    assert len({len(p.piece.veins) for p in own}) == 2
    bare = work_up(changed(task, shape=Shape(key="folded-card")), None).design
    assert bare is not None
    assert bare.blanks == ()


def test_nothing_is_mounted_across_a_gate() -> None:
    """It says what does carry it, and that works."""
    task = changed(Task(), shape=Shape(key="folded-card", options={"leaves": "gate"}),
                   contents=(PHOTO,), brief=Face())  # fmt: skip
    (finding,) = work_up(task, arrange_contents(task)).findings
    assert "across the opening of a gate" in finding.message
    other = changed(task, shape=Shape(key="folded-card", options={"leaves": "three"}))
    work = work_up(other, arrange_contents(other))
    assert [f.message for f in work.findings if f.level > Level.NOTE] == []


def test_a_flower_made_here_on_a_card_in_its_envelope() -> None:
    """Its height counts in the card's thickness, and the envelope has room for it: by hand."""
    flat = {"petals": "5 5 4", "base": "none", "curl": "none", "rise": 10.0, "inner-rise": 14.0}
    flower = Shape(key="layered-flower", options=flat)
    bloom = Item(name="bloom", brief=Span(width=48.0), shape=flower)
    card = Item(name="card", brief=Face(size=A6[:2]), shape=Shape(key="folded-card"),
                contents=(MadeThing(name="bloom", item="bloom"),))  # fmt: skip
    envelope = Item(name="envelope", shape=Shape(key="envelope"),
                    contents=(MadeThing(name="card", item="card"),))  # fmt: skip
    works = work_up_job(changed(Project(), items=(bloom, card, envelope))).works
    for work in works.values():
        assert [f.message for f in work.findings if f.level > Level.NOTE] == []
    high = works["bloom"].sizes["finished-height"].value
    bare = work_up(changed(Task(), shape=Shape(key="folded-card"), brief=Face(size=A6[:2])), None)
    thick = works["card"].sizes["thickness"].value
    assert thick == pytest.approx(bare.sizes["thickness"].value + high, abs=0.05)
    assert 3.0 < high < 9.0
    inside = works["envelope"].sizes["inside-thickness"].value
    assert inside >= thick
    steep = changed(flower, options={"petals": "5 5 4 4", "rise": 45.0, "inner-rise": 70.0})
    high_one = changed(bloom, brief=Span(width=90.0), shape=steep)
    works = work_up_job(changed(Project(), items=(high_one, card))).works
    assert "a card carries up to 9" in works["card"].findings[0].message


@settings(max_examples=25, deadline=None)
@given(
    leaves=st.sampled_from(["two", "gate", "three"]), inset=st.sampled_from(["none", "one", "all"]),
    foam=st.sampled_from(["0", "3"]), board=FOLDING, opens=st.floats(20.0, 150.0),
)  # fmt: skip
def test_property_it_closes_at_every_opening(leaves, inset, foam, board, opens) -> None:  # type: ignore[no-untyped-def]
    """The very same nets at any angle, nothing through anything, by the FOLD text."""
    chosen = {"leaves": leaves, "inset": inset, "foam": foam}
    boards = boards_for(FAMILY, board)
    usual = FAMILY.build(A6, boards, resolve_options(FAMILY, chosen))
    other = FAMILY.build(A6, boards, resolve_options(FAMILY, chosen | {"opens": opens}))
    assert faults(other) == []
    for one, two in zip(usual.pieces, other.pieces, strict=True):
        for p, q in zip(one.panels, two.panels, strict=True):
            assert np.abs(p.outline - q.outline).max() < 1e-9
