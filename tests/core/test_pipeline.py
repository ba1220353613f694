"""From the document to findings: contents that fit, boards that hold."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from jadeite.core.contents import Block, Cylinder, FlatPack, clearance
from jadeite.core.errors import Cancelled, FieldError, FileError
from jadeite.core.findings import Cure, Finding, Level, worst
from jadeite.core.folding import body_gap, folded_faces
from jadeite.core.formats.fold_file import fold_text
from jadeite.core.formats.reckoning_text import reckoning_text
from jadeite.core.judgement import mass_of_contents
from jadeite.core.pipeline import (
    arrange_contents,
    plan_sheets,
    thing_names,
    work_up,
)
from jadeite.core.project import Hollow, Stock, Task, changed, with_change
from jadeite.core.reckoning import Mark, Reckoning, constant, reckon
from jadeite.core.reckoning import given as given_value
from jadeite.core.solid import Form
from tests import fold_reader

LENGTH = st.floats(8.0, 90.0)
THINGS = st.lists(
    st.one_of(
        st.builds(
            Block,
            name=st.just("block"),
            length=LENGTH,
            width=LENGTH,
            height=LENGTH,
            goes_in=st.sampled_from(["dropped", "snug", "finger"]),
        ),
        st.builds(
            Cylinder, name=st.just("round"), diameter=LENGTH, height=LENGTH, count=st.integers(1, 2)
        ),
        st.builds(
            FlatPack,
            name=st.just("flat"),
            width=LENGTH,
            height=LENGTH,
            thickness=st.floats(0.5, 6.0),
            goes_in=st.just("soft"),
        ),
    ),
    min_size=1,
    max_size=3,
)


@settings(max_examples=40)
@given(THINGS, st.sampled_from(["single", "double"]), st.sampled_from(["inside", "outside"]))
def test_property_contents_fit_the_folded_box(things, walls, tabs) -> None:  # type: ignore[no-untyped-def]
    """Each thing with its clearance is clear of every ply, and the lid closes over it."""
    project = changed(
        Task(),
        contents=tuple(things),
        shape={"key": "tray-with-lid", "options": {"tray-walls": walls, "tabs": tabs}},
    )
    work = work_up(project, arrange_contents(project, quick=True))
    assert work.design is not None
    assert not work.blocked
    faces = folded_faces(work.design)
    assert work.arrangement is not None
    for place, body in zip(work.arrangement.places, work.bodies, strict=True):
        points = np.concatenate(body.faces)
        low, high = points.min(axis=0), points.max(axis=0)
        if body.form is Form.CYLINDER:  # pictures facet it on the outside; measure the true size
            centre = body.pose[:3, 3]
            low, high = centre - np.array(place.solid) / 2, centre + np.array(place.solid) / 2
        room = np.array([clearance(things[place.thing], s).value for s in place.solid[:2]] + [0.0])
        gap, face = body_gap(faces, low - room, high + room)
        assert gap >= -1e-6, (face, gap)
        assert high[2] <= work.design.surfaces["rim"] - 1.0 + 1e-6
    assert fold_reader.open_joints(fold_reader.read(fold_text(work.design))) == []


def test_the_demo_is_settled(eyepiece_box) -> None:  # type: ignore[no-untyped-def]
    """Nothing blocks; sizes and the assembly are known."""
    work = work_up(eyepiece_box, arrange_contents(eyepiece_box))
    assert not work.blocked
    assert work.assembly is not None
    assert work.assembly.last_seam.startswith("lid")
    assert thing_names(eyepiece_box) == ["2 × eyepiece", "filter case", "cloth"]
    assert mass_of_contents(eyepiece_box) == 154.0
    assert {"floor-sag", "weight", "board-area", "lid-clearance"} <= set(work.sizes)


def test_an_empty_project_says_what_to_do() -> None:
    """A note, not an error."""
    work = work_up(Task(), None)
    assert work.design is None
    assert not work.blocked
    assert "Add a thing" in work.findings[0].message
    assert work.lift is None
    assert work.assembly is None
    assert work.bodies == ()


def test_every_reckoned_size_says_where_it_comes_from(eyepiece_box) -> None:  # type: ignore[no-untyped-def]
    """A derived number has a rule and terms; a constant has a mark."""
    work = work_up(eyepiece_box, arrange_contents(eyepiece_box))
    for value in work.sizes.values():
        for term in value.walk():
            if term.mark is Mark.RECKONED:
                assert term.rule, term.name
            if term.mark is Mark.PUBLISHED:
                assert term.source, term.name
        data = value.to_json()
        assert {"name", "value", "unit", "mark"} <= set(data)
        assert reckoning_text(value)
        assert reckoning_text(value, "inches")


def test_sums_are_the_sums_of_their_terms(eyepiece_box) -> None:  # type: ignore[no-untyped-def]
    """Where the rule adds terms, they add up."""
    sizes = work_up(eyepiece_box, arrange_contents(eyepiece_box)).sizes
    for key in (
        "lid-inside-length",
        "lid-inside-width",
        "lid-clearance",
        "tray-outside-length",
        "board-area",
        "weight",
    ):
        value = sizes[key]
        assert value.value == pytest.approx(sum(t.value for t in value.inputs)), key


def test_a_floor_that_sags_offers_the_board_that_holds(eyepiece_box) -> None:  # type: ignore[no-untyped-def]
    """The cure ends the finding."""
    heavy = with_change(eyepiece_box, "contents.0.mass", 90.0)
    heavy = changed(heavy, boards={"tray": "text"})
    arrangement = arrange_contents(heavy)
    finding = next(f for f in work_up(heavy, arrangement).findings if f.code == "floor-sags")
    assert finding.station == "board"
    assert finding.cure is not None
    cured = heavy
    for path, value in finding.cure.changes:
        cured = with_change(cured, path, value)
    assert "floor-sags" not in {f.code for f in work_up(cured, arrangement).findings}
    crushed = with_change(heavy, "contents.0.mass", 20_000.0)
    finding = next(f for f in work_up(crushed, arrangement).findings if f.code == "floor-sags")
    assert finding.cure is None
    assert "No board here holds it" in finding.message


def test_unknown_weight_is_a_note() -> None:
    """Sag is not invented."""
    project = changed(Task(), contents=(Block(name="b", length=50, width=40, height=30),))
    work = work_up(project, arrange_contents(project, quick=True))
    assert work.sag is None
    assert "mass-unknown" in {f.code for f in work.findings}


@pytest.mark.parametrize("inside", [(10.0, 60.0, 40.0), (60.0, 50.0, 1200.0), (5000.0, 50.0, 40.0)])
def test_a_size_that_cannot_be_is_a_finding_with_a_size_that_can(inside) -> None:  # type: ignore[no-untyped-def]
    """The nearest value that works, and it does."""
    project = changed(Task(), brief=Hollow(size=inside))
    work = work_up(project, None)
    assert work.blocked
    finding = work.findings[0]
    assert finding.code == "size-refused"
    assert finding.cure is not None
    for path, value in finding.cure.changes:
        project = with_change(project, path, value)
    assert not work_up(project, None).blocked


def test_pieces_that_fit_no_sheet_are_counted(eyepiece_box) -> None:  # type: ignore[no-untyped-def]
    """Nothing at hand, and stock that runs out, are told apart."""
    tiny = changed(eyepiece_box, stock=(Stock(name="small", width=100, height=100),), copies=3)
    work = work_up(tiny, arrange_contents(tiny))
    findings = plan_sheets(tiny, work.design).findings
    assert {f.where for f in findings} == {"tray", "lid"}
    assert all("3 ×" in f.message and f.level is Level.LOOK for f in findings)
    few = changed(
        eyepiece_box, copies=9, stock=(Stock(name="one", width=304.8, height=304.8, count=1),)
    )
    words = [f.message for f in plan_sheets(few, work.design).findings]
    assert any("do not suffice" in w for w in words)


def test_reckonings_and_findings_as_values() -> None:
    """Small, frozen, comparable; the worst finding leads."""
    one = reckon(
        "sum",
        3.0,
        "a and b",
        given_value("a", 1.0),
        constant("b", 2.0, "mm", Mark.PUBLISHED, "a book"),
    )
    assert float(one) == 3.0
    assert [t.name for t in one.walk()] == ["sum", "a", "b"]
    assert one.to_json()["inputs"][1]["source"] == "a book"
    assert reckoning_text(Reckoning("x", 0.234, "mm")) == "0.23 mm"
    assert reckoning_text(Reckoning("x", 175.8, "g/m2")) == "175.8 g/m²"
    assert reckoning_text(Reckoning("x", 3.0, "")) == "3"
    assert reckoning_text(Reckoning("x", 90.0, "s")) == "2 min"
    note = Finding(Level.NOTE, "a", "note")
    block = Finding(Level.BLOCKED, "b", "block", cure=Cure("Use 2", (("copies", 2),)))
    assert worst((note, block)) is block
    assert worst(()) is None
    assert block.to_json() == {
        "level": "blocked",
        "code": "b",
        "message": "block",
        "where": "",
        "cure": "Use 2",
    }


def test_errors_are_one_line_and_survive_a_process() -> None:
    """They are pickled between processes."""
    import pickle

    for error in (
        FieldError("width", "it is 0", "Use 5 mm."),
        FileError("a", "full", "line 3"),
        Cancelled(),
    ):
        again = pickle.loads(pickle.dumps(error))
        assert str(again) == str(error)
        assert "\n" not in str(error)
    assert str(FieldError("width", "it is 0", "Use 5 mm.")) == "width: it is 0. Use 5 mm."
    assert str(FileError("a", "full", "line 3")) == "a, line 3: full."
