"""Layouts that are kept in the document, changed by hand, and packed tighter."""

from __future__ import annotations

import itertools
from pathlib import Path

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely import affinity
from shapely.geometry import Polygon

from jadeite.core.formats import load_project
from jadeite.core.nets.outline import loops_of
from jadeite.core.pipeline import plan_job_sheets, work_up_job
from jadeite.core.project import Item, Project, Stock, changed
from jadeite.core.sheets import GAP, Hand, Layout, Refusal, Spot, Why, laid_of, with_pins

DEMO = Path(__file__).parents[3] / "src/jadeite/assets/demo.jadeite"
LETTER = Stock(name="letter", width=215.9, height=279.4)
SQUARE = Stock(name="square", width=304.8, height=304.8)
OFFCUT = Stock(
    name="offcut",
    width=250.0,
    height=200.0,
    count=1,
    outline=((0, 0), (250, 0), (250, 90), (120, 200), (0, 200)),
)


def job(copies: int = 3, *stock: Stock, **fields) -> Project:  # type: ignore[no-untyped-def]
    """Trays with lids."""
    item = Item(name="tray", brief={"kind": "hollow", "size": (60, 40, 20)}, copies=copies)
    return Project(items=(item,), stock=stock or (LETTER,), **fields)


def sheets_of(project: Project):  # type: ignore[no-untyped-def]
    return plan_job_sheets(work_up_job(project))


def outlines(work) -> list[list[Polygon]]:  # type: ignore[no-untyped-def]
    """What is cut on every sheet; found from the loops of the pieces and nothing else."""
    out = []
    for sheet in work.layout.sheets:
        own = []
        for place in sheet.placed:
            loops = loops_of(work.pieces[place.piece].piece)
            shell = next(loop.points for loop in loops if not loop.hole)
            shape = affinity.rotate(Polygon(shell), place.angle, origin=(0, 0))
            own.append(affinity.translate(shape, place.x, place.y))
        out.append(own)
    return out


def assert_sound(work, project: Project) -> None:  # type: ignore[no-untyped-def]
    """Every copy of every piece once, inside its sheet, and apart (Shapely)."""
    lies = [(p.piece, p.copy) for s in work.layout.sheets for p in s.placed]
    wanted = [(n, c) for n, p in work.pieces.items() for c in range(p.count)]
    assert sorted([*lies, *work.layout.unplaced]) == sorted(wanted)
    for sheet, own in zip(work.layout.sheets, outlines(work), strict=True):
        assert all(sheet.stock.region.buffer(1e-3).covers(shape) for shape in own)
        for a, b in itertools.combinations(own, 2):
            assert a.distance(b) >= GAP - 1e-3


def where(layout: Layout) -> dict[tuple[str, int], tuple[str, float, float, float]]:
    """Where every copy lies."""
    return {
        (p.piece, p.copy): (s.stock.name, p.angle, p.x, p.y)
        for s in layout.sheets
        for p in s.placed
    }


def test_a_kept_layout_comes_back_to_the_letter() -> None:
    """A piece moved by hand lies there when the document is opened again, and all else too."""
    project = job()
    work = sheets_of(project)
    hand = Hand(work.layout, work.rules_of)
    moved = hand.to_stock(Spot(0, 1), project.stock[0])
    assert isinstance(moved, Layout)
    assert len(moved.sheets) == len(work.layout.sheets) + 1
    kept = changed(project, laid=laid_of(moved, work.of))
    again = Project.model_validate_json(kept.model_dump_json())
    back = sheets_of(again)
    assert back.layout.kept
    assert where(back.layout) == where(moved)
    assert where(back.layout) != where(work.layout)
    assert back.layout.fewest == work.layout.fewest < len(back.layout.sheets)
    assert_sound(back, again)


def test_what_is_pinned_stays_when_the_job_changes() -> None:
    """More copies: only what is pinned holds; without a pin nothing does."""
    project = job()
    work = sheets_of(project)
    first = work.layout.sheets[0].placed[0]
    pinned = with_pins(work.layout, {(first.piece, first.copy): True})
    more = changed(
        project,
        laid=laid_of(pinned, work.of),
        items=(changed(project.items[0], copies=5),),
    )
    back = sheets_of(more)
    assert not back.layout.kept
    lies = where(back.layout)[first.piece, first.copy]
    assert lies == where(work.layout)[first.piece, first.copy]
    assert_sound(back, more)
    pins = [p for s in back.layout.sheets for p in s.placed if p.pinned]
    assert [(p.piece, p.copy) for p in pins] == [(first.piece, first.copy)]


def test_other_stock_lets_go_of_what_is_not_pinned() -> None:
    """A sheet that is gone from the stock holds nothing, and nothing is lost."""
    project = job()
    work = sheets_of(project)
    laid = laid_of(with_pins(work.layout, {("tray-bottom", 0): True}), work.of)
    other = changed(project, laid=laid, stock=(SQUARE,))
    back = sheets_of(other)
    assert {s.stock.name for s in back.layout.sheets} == {"square"}
    assert_sound(back, other)


@settings(max_examples=25, deadline=None)
@given(
    st.integers(1, 4),
    st.lists(st.sampled_from([LETTER, SQUARE, OFFCUT]), min_size=1, max_size=3, unique=True),
    st.randoms(use_true_random=False),
)
def test_property_what_a_file_says_of_sheets_is_never_believed(copies, stock, rng) -> None:  # type: ignore[no-untyped-def]
    """Places spoilt at random: whatever still holds stays, and the layout is sound."""
    project = job(copies, *stock)
    work = sheets_of(project)
    sheets = list(work.layout.sheets)
    rng.shuffle(sheets)
    data = laid_of(Layout(tuple(sheets), ()), work.of).model_dump()
    for sheet in data["sheets"]:
        for piece in sheet["pieces"]:
            if rng.random() < 0.3:
                piece[rng.choice(("x", "y"))] += rng.uniform(-80, 80)
            if rng.random() < 0.1:
                piece["angle"] = rng.uniform(-360, 360)
            if rng.random() < 0.1:
                piece["number"] = rng.randrange(6)
            piece["pinned"] = rng.random() < 0.5
    spoilt = changed(project, laid=data)
    assert_sound(sheets_of(spoilt), spoilt)


def test_property_hands_do_what_is_allowed_and_nothing_else() -> None:
    """Drags, turns, swaps and moves at random; what is made is sound, what is refused is wrong."""
    made, refused = 0, 0

    @settings(max_examples=25, deadline=None)
    @given(st.integers(2, 4), st.randoms(use_true_random=False))
    def holds(copies, rng) -> None:  # type: ignore[no-untyped-def]
        nonlocal made, refused
        project = job(copies, SQUARE, OFFCUT, free_turns=rng.random() < 0.5)
        work = sheets_of(project)
        layout = work.layout
        for _ in range(6):
            hand = Hand(layout, work.rules_of)
            spots = [Spot(i, k) for i, s in enumerate(layout.sheets) for k in range(len(s.placed))]
            one, other = rng.sample(spots, 2)
            place = hand.at(one)
            what = rng.randrange(5)
            if what == 0:
                shifted = type(place)(
                    place.piece,
                    place.copy,
                    place.angle,
                    place.x + rng.uniform(-60, 60),
                    place.y + rng.uniform(-60, 60),
                )
                done = hand.moved(one, rng.randrange(len(layout.sheets)), shifted)
            elif what == 1:
                done = hand.turned(one, rng.choice((90.0, -90.0, 15.0)))
            elif what == 2:
                done = hand.swapped(one, other)
            elif what == 3:
                done = hand.to_sheet(one, other.sheet)
            else:
                done = hand.to_stock(one, rng.choice(hand.spare(project.stock)))
            if isinstance(done, Refusal):
                refused += 1
                continue
            made += 1
            layout = done
            kept = changed(project, laid=laid_of(layout, work.of))
            back = sheets_of(kept)
            assert where(back.layout) == where(layout)
            assert back.layout.kept
            assert_sound(back, kept)

    holds()
    assert made > 40
    assert refused > 20


def test_a_refusal_says_why() -> None:
    """Beyond the edge, too near another, on other board, across the grain."""
    project = job(3, SQUARE)
    work = sheets_of(project)
    hand = Hand(work.layout, work.rules_of)
    place = hand.at(Spot(0, 0))
    off = type(place)(place.piece, place.copy, place.angle, place.x - 300, place.y)
    refused = hand.moved(Spot(0, 0), 0, off)
    assert isinstance(refused, Refusal)
    assert refused.why is Why.OFF
    other = hand.at(Spot(0, 1))
    onto = type(place)(place.piece, place.copy, other.angle, other.x, other.y)
    refused = hand.moved(Spot(0, 0), 0, onto)
    assert isinstance(refused, Refusal)
    assert (refused.why, refused.other) == (Why.NEAR, other.piece)
    strict = job(3, SQUARE, grain="follow", free_turns=False)
    work = sheets_of(strict)
    hand = Hand(work.layout, work.rules_of)
    refused = hand.turned(Spot(0, 0), 45.0)
    assert isinstance(refused, Refusal)
    assert refused.why is Why.TURN


def test_a_sheet_can_be_cut_from_another() -> None:
    """All of it lies there as it lay to one another; a sheet that is too small is refused."""
    project = job(1, SQUARE, Stock(name="wide", width=400, height=320))
    work = sheets_of(project)
    hand = Hand(work.layout, work.rules_of)
    made = hand.cut_from(0, project.stock[1])
    assert isinstance(made, Layout)
    before, after = work.layout.sheets[0].placed, made.sheets[0].placed
    pairs = zip(before, after, strict=True)
    shifts = {(round(b.x - a.x, 6), round(b.y - a.y, 6)) for a, b in pairs}
    assert len(shifts) == 1
    assert made.sheets[0].stock.name == "wide"
    assert isinstance(hand.cut_from(0, Stock(name="tiny", width=60, height=60)), Refusal)
    assert np.isfinite([s.used for s in made.sheets]).all()
    assert not shapely.is_empty(made.sheets[0].stock.region)


@pytest.mark.parametrize("number", [-1, 10_001])
def test_a_copy_that_cannot_be_is_refused(number: int) -> None:
    """The field is named."""
    from jadeite.core.errors import FieldError

    piece = {"piece": "tray", "number": number, "angle": 0, "x": 0, "y": 0}
    with pytest.raises(FieldError, match="number"):
        changed(Project(), laid={"of": "", "sheets": [{"stock": "letter", "pieces": [piece]}]})


def test_grain_of_a_sheet_and_sheets_for_others() -> None:
    """A sheet whose grain is known turns pieces; what is kept for others is not used."""
    upward = Stock(name="a", width=280, height=280, grain="upward")
    across = upward.model_copy(update={"grain": "across"})
    turns = []
    for entry in (upward, across):
        work = sheets_of(job(2, entry, grain="follow", free_turns=False))
        turns.append({p.angle % 180 for s in work.layout.sheets for p in s.placed})
    assert turns[0] == {(angle + 90) % 180 for angle in turns[1]}
    few = upward.model_copy(update={"count": 3, "reserved": 2})
    work = sheets_of(job(12, few))
    assert len(work.layout.sheets) == 1
    assert work.layout.unplaced
    (found,) = [f for f in work.findings if f.code == "stock-runs-out"]
    cured = changed(job(12, few), stock=dict(found.cure.changes)["stock"])
    assert sheets_of(cured).layout.unplaced == ()
    assert dict(found.cure.changes)["stock"][0].reserved == 2


def test_parts_have_sheets_to_themselves_where_asked() -> None:
    """Trays on some sheets, lids on others; kept layouts of the other way do not hold."""
    mixed, apart = job(6, SQUARE), job(6, SQUARE, together=True)
    work = sheets_of(apart)
    parts = [{work.pieces[p.piece].piece.part for p in s.placed} for s in work.layout.sheets]
    assert all(len(some) == 1 for some in parts)
    assert len(set().union(*parts)) == 2
    assert_sound(work, apart)
    other = sheets_of(mixed)
    held = sheets_of(changed(apart, laid=laid_of(other.layout, other.of)))
    assert where(held.layout) == where(work.layout)


def test_a_piece_that_fits_no_sheet_is_told_by_how_much() -> None:
    """The least that would do, by the cutter and the sheet together."""
    item = Item(name="tray", brief={"kind": "hollow", "size": (230, 180, 40)})
    work = sheets_of(Project(items=(item,), stock=(SQUARE,), free_turns=False))
    told = [f for f in work.findings if f.code == "piece-fits-no-sheet"]
    assert told
    for finding in told:
        piece = next(p for p in work.pieces.values() if p.own == finding.where)
        points = np.concatenate([panel.outline for panel in piece.piece.panels])
        size = np.sort(np.ptp(points, axis=0))
        assert f"{max(size - 292.0):.1f} mm too large" in finding.message


@pytest.mark.parametrize("copies", [1, 9])
def test_the_demo_lies_well(copies: int) -> None:
    """The project that everybody sees first, as it is and as a batch; allowed turns only."""
    demo = load_project(DEMO)
    project = changed(demo, items=tuple(changed(item, copies=copies) for item in demo.items))
    work = sheets_of(project)
    assert work.layout.unplaced == ()
    assert_sound(work, project)
    for sheet in work.layout.sheets:
        for place in sheet.placed:
            assert work.rules_of(place.piece).may_turn(place.piece, sheet.stock, place.angle)
