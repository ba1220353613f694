"""Place cards: every design closes; every name is once on the sheets, on its label, in its ink."""

from __future__ import annotations

import io
import json
from collections import Counter

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.geometry import LineString, Polygon
from svgelements import SVG
from svgelements import Path as SvgPath

from jadeite.core.dressings import differing
from jadeite.core.findings import Level
from jadeite.core.formats.export import cut_files, read_back
from jadeite.core.formats.fold_file import fold_text
from jadeite.core.nets.model import Trace
from jadeite.core.pipeline import arrange_contents, plan_job_sheets, work_up, work_up_job
from jadeite.core.project import Face, Item, Project, Shape, Task, changed
from jadeite.core.shapes import family_by_key
from tests.core.shapes.closing import FOLDING, build, closes_or_says_why, values_of

FAMILY = family_by_key("place-cards")
USUAL = (89.0, 66.5, 0.0)  # mm closed; common practice, 3.5 x 5.25 in flat
FACES = st.tuples(st.floats(40.0, 200.0), st.floats(40.0, 200.0), st.just(0.0))
MM = 96 / 25.4  # svgelements reads into CSS pixels, 96 to the inch (CSS units, W3C)
LETTERS = "abdefghiklmnoprstuvzáàâäåçčéèêëíîïłñóôöøśšúüýžż"


def name_of(number: int) -> str:
    """A name of 1 to 60 letters of our own making, each another; some with hyphens."""
    rng = np.random.default_rng(number)
    long = 1 + number % 60
    words = "".join(rng.choice(list(LETTERS), long))
    for i in range(6, long, 9):
        words = words[:i] + ("-" if i % 2 else " ") + words[i + 1 :]
    return " ".join(part[:1].upper() + part[1:] for part in words.split())


def task_for(names: tuple[str, ...], **options: object) -> Task:
    """A task with names and options."""
    return changed(
        Task(), shape=Shape(key="place-cards", options=options), brief=Face(size=USUAL[:2]),
        names=names,
    )  # fmt: skip


@settings(max_examples=200)
@given(
    face=FACES,
    board=FOLDING,
    chosen=st.fixed_dictionaries({o.key: values_of(o, 80.0) for o in FAMILY.options}),
)
def test_property_every_place_card_closes(face, board, chosen) -> None:  # type: ignore[no-untyped-def]
    """Over all sizes, boards and options; a refusal names a label or ornament that lies on it."""
    made = closes_or_says_why(FAMILY, face, board, chosen)
    size = min(face[:2])
    label = chosen["label"] == "none" or (
        chosen["label-width"] <= face[0] - 4 and chosen["label-height"] <= face[1] - 4
    )
    assert made or not label or chosen["ornament-size"] > size - 8.1


def test_the_usual_one_is_as_makers_make_it_and_needs_no_look() -> None:
    """Common practice: 89 x 133 flat, a label of 70 x 44 in the middle, an ornament of 32 mm."""
    work = work_up(task_for(("Ada Rill",)), None)
    assert [f.message for f in work.findings if f.level > Level.NOTE] == []
    design = work.design
    assert design is not None
    flat = np.concatenate([p.outline for p in design.piece("card").panels])
    assert sorted(np.ptp(flat, axis=0)) == pytest.approx([89.0, 133.0])
    front, label = design.piece("card").panel("front").outline, design.piece("label").panels[0]
    assert np.ptp(label.outline, axis=0) == pytest.approx([70.0, 44.0])
    assert label.outline.min(axis=0) - front.min(axis=0) == pytest.approx([9.5, 11.25])
    ornament = design.piece("ornament").panels[0].outline
    assert max(np.ptp(ornament, axis=0)) == pytest.approx(32.0)
    assert shapely.LinearRing(front).distance(Polygon(ornament)) == pytest.approx(4.0)


@settings(max_examples=100)
@given(
    chosen=st.fixed_dictionaries({o.key: values_of(o, 60.0) for o in FAMILY.options}),
    face=FACES,
    tables=st.booleans(),
)
def test_property_what_is_written_lies_on_its_label_clear_of_the_ornament(
    chosen,  # type: ignore[no-untyped-def]
    face,
    tables: bool,
) -> None:
    """Ink of names and tables is on the label, and none of it under the ornament."""
    chosen |= {"names-by": "pen", "capitals-least": 2.0}
    # what always lies on its card, so that none is refused
    for key in ("label-width", "label-height", "ornament-size"):
        chosen[key] = min(chosen[key], 60.0)
    design = build(FAMILY, face, **chosen)
    task = changed(task_for(("Zoë Grünwald-Hollin",)), tables=("Comet",) if tables else ())
    ink = Polygon()
    for pieces in differing(design, task).values():
        piece = pieces[0]
        lines = [LineString(v.points) for v in piece.veins if v.trace is Trace.PEN]
        ink = shapely.union_all([ink, *shapely.buffer(lines, 0.25)])
        assert Polygon(piece.panel(design.blanks[0].panel).outline).covers(ink)
        assert lines
    if "ornament" in {p.name for p in design.pieces}:
        assert not ink.intersects(Polygon(design.piece("ornament").panels[0].outline))


def test_300_names_are_once_each_on_the_sheets_and_in_the_pens_layer() -> None:
    """Names of 1 to 60 letters with accents and hyphens, read back from the cut files.

    Each label of the sheets holds ink, inside it and centred on its blank to 0.2 mm; as many
    labels as names, no two names' ink alike; below the least height only what is said.
    """
    names = tuple(dict.fromkeys(name_of(n) for n in range(330)))[:300]
    assert len(names) == 300
    assert len({len(n) for n in names}) > 50
    # wide labels, so that most fit; the longest words do not
    task = task_for(names, ornament="none")
    project = Project(items=(changed(Item(), **{f: getattr(task, f) for f in Item.model_fields
                                                if f != "name"}),))  # fmt: skip
    job = work_up_job(project, cures=False)
    work = next(iter(job.works.values()))
    sheets = plan_job_sheets(job)
    assert not sheets.layout.unplaced
    placed = [p for sheet in sheets.layout.sheets for p in sheet.placed]
    titles = Counter(sheets.pieces[p.piece].piece.title for p in placed)
    assert titles["card"] == 300
    assert all(titles[f"label, {name}"] == 1 for name in names)
    made = {
        name: data
        for name, data in cut_files(
            [p.piece for p in job.pieces], sheets, "job", "t", "svg"
        ).items()
        if "-sheet-" in name
    }
    (blank,) = work.design.blanks
    seen, low = Counter(), set()
    for number, sheet in enumerate(sheets.layout.sheets, start=1):
        drawing = SVG.parse(io.BytesIO(made[f"job-sheet-{number}.svg"]), reify=True)
        ink: dict[str, list[np.ndarray]] = {}
        rings: dict[str, Polygon] = {}
        for path in drawing.elements():
            if isinstance(path, SvgPath) and "data-piece" in path.values:
                points = np.array([[s.end.x, s.end.y] for s in path.segments()]) / MM
                if path.values["data-role"] == "pen":
                    ink.setdefault(path.values["data-piece"], []).append(points)
                elif path.values["data-role"] == "cut":
                    rings[path.values["data-piece"]] = Polygon(points)
        for place in sheet.placed:
            if place.piece not in ink:
                continue
            lines = shapely.union_all([LineString(line) for line in ink[place.piece]])
            own = rings[place.piece]
            assert own.buffer(-blank.pen / 2).covers(lines)
            drawn = np.array(lines.bounds).reshape(2, 2).mean(axis=0)
            assert np.hypot(*(drawn - np.array(own.centroid.coords[0]))) < 0.2
            seen[place.piece] += 1
            if (np.ptp(np.array(lines.bounds).reshape(2, 2), axis=0) < 1.0).all():
                low.add(place.piece)
    assert set(seen.values()) == {1}
    assert len(seen) == 300
    assert not low
    read_back(made, [p.piece for p in job.pieces], sheets, "job")
    said = next(f for f in work.findings if f.code == "name-low")
    assert "and the least is 4.0 mm" in said.message


def test_the_pen_writes_before_anything_is_cut() -> None:
    """On each sheet all lines of the pen come first, with a change of tool after them."""
    project = Project(items=(changed(Item(), shape=Shape(key="place-cards"), names=("Ada", "Bo"),
                                     brief=Face(size=USUAL[:2])),))  # fmt: skip
    cutting = plan_job_sheets(work_up_job(project)).cutting
    steps = [[path.step for path in sheet.paths] for sheet in cutting.sheets]
    written = next(row for row in steps if "pen" in row)
    count = written.count("pen")
    assert set(written[:count]) == {"pen"}
    assert count > 10
    sheet = next(s for s, row in zip(cutting.sheets, steps, strict=True) if row is written)
    assert sheet.tool_changes >= 1


def test_cut_letters_are_windows_of_each_label() -> None:
    """Cut instead of written: the label's region has as much less as the letters take."""
    task = task_for(("Ada Rill", "Bo"), **{"names-by": "cut"})
    work = work_up(task, arrange_contents(task))
    assert [f.message for f in work.findings if f.level > Level.NOTE] == []
    ada, bo = differing(work.design, task)["label"]
    assert not any(v.trace is Trace.PEN for v in (*ada.veins, *bo.veins))
    assert len(ada.panels[0].openings) > len(bo.panels[0].openings) > 1
    data = json.loads(fold_text(work.design))
    label = next(f for f in [data, *data["file_frames"]] if f["frame_title"] == "label")
    assert label["edges_assignment"].count("C") > 20


def test_letters_that_would_tear_are_said_of_every_name() -> None:
    """Not of the first alone, which the design shows: by the name whose accents are too near."""
    task = task_for(("Ada Rill", "ėė Zoë"), **{"names-by": "cut"})
    (found,) = [f for f in work_up(task, None).findings if f.level > Level.NOTE]
    assert found.code == "letters-tear"
    assert "“ėė Zoë”" in found.message
    assert "Ada" not in found.message


def test_what_cannot_be_written_is_left_blank_and_said() -> None:
    """A name from right to left stays for the hand; one that is twice is said, with a way out."""
    task = changed(task_for(("Ada Rill", "משה", "Ada Rill")), tables=("1", "2", "3"))
    work = work_up(task, None)
    codes = {f.code: f for f in work.findings}
    assert "right to left" in codes["name-unwritten"].message
    pieces = differing(work.design, task)["label"]
    assert len(pieces) == 3
    inks = [sum(v.trace is Trace.PEN for v in p.veins) for p in pieces]
    assert inks[0] > inks[1] > 0  # its table is written all the same
    cure = codes["names-twice"].cure
    for path, value in cure.changes:
        task = changed(task, **{path: value})
    assert (task.names, task.tables) == (("Ada Rill", "משה"), ("1", "2"))
    assert "names-twice" not in {f.code for f in work_up(task, None).findings}
