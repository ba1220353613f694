"""The proof ends at the file: what is written is the proved net, as regions and lines."""

from __future__ import annotations

from collections import Counter
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from lxml import etree

from jadeite.core.cutting import cutting_plan, profile_by_key
from jadeite.core.dressings import with_fold_kind
from jadeite.core.errors import FieldError, FileError
from jadeite.core.findings import Level
from jadeite.core.formats import load_project
from jadeite.core.formats.export import cut_files, plot_files, read_back
from jadeite.core.formats.fold_file import fold_document
from jadeite.core.formats.pages import PAPERS
from jadeite.core.formats.pdf import pdf_bytes
from jadeite.core.formats.true_size import true_size_pages
from jadeite.core.nets import Design
from jadeite.core.pipeline import SheetWork, plan_job_sheets, work_up_job
from jadeite.core.project import Hollow, Stock
from jadeite.core.proof import prove
from jadeite.core.shapes import all_families, family_by_key, resolve_options
from jadeite.core.sheets import GAP, lay_out
from tests import file_reader
from tests.core.shapes.closing import FOLDING, boards_for, build, fit, options_of
from tests.depth import SOAK, deep
from tests.jobs import job_of

EXAMPLES = deep(6, 200)
EXAMPLE = Path(__file__).parents[3] / "examples" / "invitation.jadeite"
MANY, SOME = 150, 0.4  # examples whose share says something, in bunches; of few so much of it
READERS = {
    "svg": file_reader.read_svg,
    "dxf": file_reader.read_dxf,
    "plt": file_reader.read_hpgl,
    "gcode": file_reader.read_gcode,
}
SHEET = Stock(name="roll", width=610.0, height=610.0)


def sheets_of(design: Design, copies: int = 1) -> SheetWork:
    """Every piece on sheets of 610 mm, turned freely."""
    profile = profile_by_key("hand")
    layout = lay_out(
        design.pieces, (SHEET,), copies=copies, reach=(600.0, 600.0), margin=5.0, free_turns=True
    )
    return SheetWork(layout, cutting_plan(design.pieces, layout, profile), ())


def wants_of(design: Design) -> dict[str, file_reader.Wanted]:
    """What the FOLD file asks for, by piece; copies are read once."""
    data = fold_document(design)
    frames = [data, *data["file_frames"]]
    names = {p.name: id(p.panels) for p in design.pieces}
    known: dict[int, file_reader.Wanted] = {}
    out = {}
    for frame in frames:
        if "creasePattern" in frame["frame_classes"]:
            key = names[frame["frame_title"]]
            known[key] = known.get(key) or file_reader.wanted(frame)
            out[frame["frame_title"]] = known[key]
    return out


def sheet_faults(name: str, data: bytes, sheets: SheetWork, wants) -> list[str]:  # type: ignore[no-untyped-def]
    """What is wrong with the file of a sheet."""
    number = int(name.rpartition("-")[2].partition(".")[0]) - 1
    plan = sheets.cutting.sheets[number].sheet
    placed = [wants[p.piece].placed(p.angle, p.x, p.y) for p in plan.placed]
    reader = READERS[name.rpartition(".")[2]]
    size = (plan.stock.width, plan.stock.height)
    read = reader(data)
    found = file_reader.faults(read, placed, sheet=size, gap=GAP)
    if name.endswith(("plt", "gcode")):
        told = [(p.role, p.passes) for p in sheets.cutting.sheets[number].paths]
        found += (
            [] if read.times == told else ["strokes in another order, or as often as not planned"]
        )
    return found


def piece_faults(name: str, data: bytes, want) -> list[str]:  # type: ignore[no-untyped-def]
    """What is wrong with the file of a piece, which lies 5 mm inside its sheet."""
    x0, y0, x1, y1 = want.region.bounds
    reader = file_reader.read_svg if name.endswith("svg") else file_reader.read_dxf
    size = (x1 - x0 + 10, y1 - y0 + 10)
    return file_reader.faults(reader(data), [want.placed(0.0, 5.0 - x0, 5.0 - y0)], sheet=size)


def page_faults(design: Design, wants) -> list[str]:  # type: ignore[no-untyped-def]
    """What is wrong with the printed nets, from the drawing operators of their pages."""
    out = []
    seen: set[int] = set()
    for piece in design.pieces:
        if id(piece.panels) in seen:
            continue
        seen.add(id(piece.panels))
        pages = file_reader.read_pdf(pdf_bytes(true_size_pages(piece, PAPERS["a4"]), "nets"))
        want = wants[piece.name]
        for _, read in pages:
            read.size = None
            low = np.concatenate(read.rings).min(axis=0)
            found = []
            for angle in (0.0, 90.0):  # a quarter turn saves paper; a mirror image never
                turned = want.placed(angle, 0.0, 0.0)
                x, y, *_ = turned.region.bounds
                moved = turned.placed(0.0, low[0] - x, low[1] - y)
                moved.dashes, read.dashes = [], []  # printed as dashes of the stroke
                moved.scores, read.scores = moved.scores if read.scores else [], read.scores
                found.append(file_reader.faults(read, [moved]))
            if all(found):
                out.append(f"{piece.name}: {min(found, key=len)}")
    return out


def file_faults(design: Design, copies: int = 1, kind: str = "svg") -> list[str]:
    """Everything that is wrong with the files of one kind: ``svg``, ``dxf`` or ``pdf``."""
    wants = wants_of(design)
    if kind == "pdf":
        return page_faults(design, wants)
    sheets = sheets_of(design, copies)
    out: list[str] = []
    if kind in ("hpgl", "gcode"):
        files = plot_files(sheets, "job", "Job", kind)
        read_back(files, design.pieces, sheets, "job")
        return [
            f"{n}: {f}" for n, data in files.items() for f in sheet_faults(n, data, sheets, wants)
        ]
    # all pieces are on the sheets; of their own files, quickly, one of each part is read
    own = {id(p.panels) if SOAK else p.part: p for p in design.pieces}.values()
    files = cut_files(own, sheets, "job", "Job", kind)
    read_back(files, design.pieces, sheets, "job")
    for name, data in files.items():
        if "-sheet-" in name:
            out += [f"{name}: {f}" for f in sheet_faults(name, data, sheets, wants)]
        else:
            want = wants[name.removeprefix("job-").rpartition(".")[0]]
            out += [f"{name}: {f}" for f in piece_faults(name, data, want)]
    return out


@pytest.mark.parametrize("family", all_families(), ids=lambda f: f.key)
def test_property_every_file_is_the_proved_net(family) -> None:  # type: ignore[no-untyped-def]
    """All options, boards, sizes and ways of folding together; more than half are made."""
    counts: Counter[str] = Counter()

    @settings(max_examples=EXAMPLES)
    @given(
        inside=st.tuples(
            *(st.floats(min(max(family.smallest, 22.0), 100.0), 120.0) for _ in range(3))
        ),
        board=FOLDING,
        chosen=options_of(family, 250.0 if family.key == "spire" else 90.0),
        folds=st.sampled_from(["scored", "scored", "perforated", "hand-creased"]),
        copies=st.sampled_from([1, 1, 2]),
        kind=st.sampled_from(["svg", "dxf", "pdf", "hpgl", "gcode"]),
    )
    def every(inside, board, chosen, folds, copies, kind) -> None:  # type: ignore[no-untyped-def]
        counts["tried"] += 1
        boards = boards_for(family, board)
        try:
            design = family.build(fit(family, inside), boards, resolve_options(family, chosen))
        except FieldError:
            return
        if any(f.level is Level.BLOCKED for f in prove(design)[1]):
            return
        counts["made"] += 1
        assert file_faults(with_fold_kind(design, folds), copies, kind) == []

    every()
    least = LEAST_MADE.get(family.key, 0.5) * (1.0 if counts["tried"] >= MANY else SOME)
    assert counts["made"] > least * counts["tried"]


def test_hairs_between_rounded_corners_are_no_difference() -> None:
    """A globe of many long sides, whose corners stand in the file to four decimals."""
    family = family_by_key("globe")
    chosen = {"across": 60.06087733389659, "base": "disc", "measured": "block", "sides": 7}
    inside = (91.7300353520204, 60.06087733389659, 91.7300353520204)
    boards = boards_for(family, "translucent")
    design = family.build(inside, boards, resolve_options(family, chosen))
    assert file_faults(design) == []


def test_corners_that_are_one_but_for_rounding_do_not_cross_once_turned() -> None:
    """A tray by 135 degrees, where the union of its panels has corners 4e-14 mm from others."""
    family = family_by_key("tray-with-lid")
    chosen = {"thumb-notches": "none", "tabs": "outside", "lid-depth": 30.5, "floor": "doubled",
              "good-side": "outside", "lid-walls": "double", "tray-walls": "double"}  # fmt: skip
    boards = boards_for(family, "medium-card")
    design = family.build((116.47197167463987,) * 3, boards, resolve_options(family, chosen))
    assert file_faults(design, copies=2) == []


def test_a_hole_of_rounding_is_none() -> None:
    """A small pyramid whose panels leave a hole of two corners between them, 1e-6 mm apart."""
    family = family_by_key("pyramid")
    chosen = {"sides": 3, "slope": 40.0, "ribbon": 3.0}
    boards = boards_for(family, "tissue")
    design = family.build(fit(family, (22.0,) * 3), boards, resolve_options(family, chosen))
    assert file_faults(design) == []


# a spire refuses heights that are no spire; a gathered box wide ribbons, a carton small locks
LEAST_MADE = {
    "table-piece": 0.25,
    "branch": 0.28,  # 75 of 200, less a quarter: many flowers, and buds, want a large one
    "fringed-flower": 0.36,  # 97 of 200, less a quarter: small ones have no room for strands
    "spire": 0.1,
    "petal-lantern": 0.1,
    "gathered-box": 0.25,
    "chest": 0.15,
    "folded-card": 0.15,  # 81 of 400, less a quarter: narrow halves, wide borders, many layers
    "envelope": 0.37,  # half of 400, less a quarter: flaps that meet, no room for two buttons
    "stiffened-holder": 0.12,  # 4 of 25, less a quarter: wide borders leave nothing of its covers
    "tri-fold-holder": 0.36,  # half of 400, less a quarter: large seals, deep foot flaps
    "wobble-card": 0.36,  # half of 400, less a quarter: large heads on low cards
    "lantern": 0.37,  # 99 of 200 were made, less a quarter
    "layered-flower": 0.36,  # 12 of 25, less a quarter: small ones have no room for many petals
}


# ---------------------------------------------------------------- planted defects


Job = tuple[Design, SheetWork, dict[str, bytes], dict[str, file_reader.Wanted]]


def _job(key: str) -> Job:
    design = build(family_by_key(key), (96.0, 64.0, 41.0))
    sheets = sheets_of(design)
    return design, sheets, cut_files(design.pieces, sheets, "job", "Job", "svg"), wants_of(design)


@pytest.fixture(scope="module")
def jobs() -> dict[str, Job]:
    """A chest of many pieces with slots, and a carton, which has a left and a right."""
    return {key: _job(key) for key in ("chest", "carton")}


def _paths(root, role: str):  # type: ignore[no-untyped-def]
    return [p for p in root.iter("{*}path") if p.get("data-role") == role]


def _points(path) -> np.ndarray:  # type: ignore[no-untyped-def]
    words = path.get("d").strip("MZ ").replace("L", " ").split()
    return np.array([[float(v) for v in word.split(",")] for word in words])


def _set(path, points: np.ndarray) -> None:  # type: ignore[no-untyped-def]
    closed = path.get("d").rstrip().endswith("Z")
    path.set("d", "M" + " L".join(f"{x:.4f},{y:.4f}" for x, y in points) + (" Z" if closed else ""))


def _outline(root):  # type: ignore[no-untyped-def]
    """The largest ring."""
    return max(_paths(root, "cut"), key=lambda p: np.prod(np.ptp(_points(p), axis=0)))


def bowed(root) -> None:  # type: ignore[no-untyped-def]
    """A straight edge becomes a curve."""
    path = _outline(root)
    points = _points(path)
    i = int(np.linalg.norm(np.diff(points, axis=0), axis=1).argmax())
    way = points[i + 1] - points[i]
    middle = (points[i] + points[i + 1]) / 2 + np.array([-way[1], way[0]]) * 0.01
    _set(path, np.insert(points, i + 1, middle, axis=0))


def dropped_hole(root) -> None:  # type: ignore[no-untyped-def]
    """A slot of the lid is gone."""
    hole = min((p for p in _paths(root, "cut") if p.get("d").endswith("Z")),
               key=lambda p: np.prod(np.ptp(_points(p), axis=0)))  # fmt: skip
    hole.getparent().remove(hole)


def doubled_line(root) -> None:  # type: ignore[no-untyped-def]
    """The outline is cut twice."""
    path = _outline(root)
    path.getparent().append(etree.fromstring(etree.tostring(path)))


def shifted_score(root) -> None:  # type: ignore[no-untyped-def]
    """A score lies half a millimetre beside its fold."""
    path = max(_paths(root, "score"), key=lambda p: np.ptp(_points(p), axis=0).sum())
    points = _points(path)
    way = points[-1] - points[0]
    _set(path, points + np.array([-way[1], way[0]]) / np.linalg.norm(way) * 0.5)


def mirrored_piece(root) -> None:  # type: ignore[no-untyped-def]
    """One piece with all its lines is seen from its back."""
    name = _outline(root).get("data-piece")
    mine = [p for p in root.iter("{*}path") if p.get("data-piece") == name]
    every = np.concatenate([_points(p) for p in mine])
    middle = every[:, 0].min() + every[:, 0].max()
    for path in mine:
        _set(path, _points(path) * (-1.0, 1.0) + (middle, 0.0))


def wrong_scale(root) -> None:  # type: ignore[no-untyped-def]
    """A millimetre is no millimetre any more: 72 to the inch for 25.4."""
    for name in ("width", "height"):
        root.set(name, f"{float(root.get(name)[:-2]) * 1.01:.4f}mm")


def missing_tab(root) -> None:  # type: ignore[no-untyped-def]
    """The outline cuts straight past a tab."""
    path = _outline(root)
    points = _points(path)
    steps = np.linalg.norm(np.roll(points, -1, axis=0) - points, axis=1)
    i = next(i for i in range(len(points) - 3) if steps[i : i + 3].min() > 5 and steps[i + 1] < 40)
    _set(path, np.delete(points, [i + 1, i + 2], axis=0))


def overlapping_neighbours(root) -> None:  # type: ignore[no-untyped-def]
    """One piece is pushed onto the next."""
    names = list(dict.fromkeys(p.get("data-piece") for p in _paths(root, "cut")))
    first = np.concatenate([_points(p) for p in root.iter("{*}path")
                            if p.get("data-piece") == names[0]])  # fmt: skip
    for path in root.iter("{*}path"):
        if path.get("data-piece") == names[1]:
            points = _points(path)
            _set(path, points - points.mean(axis=0) + first.mean(axis=0))


def beyond_the_sheet(root) -> None:  # type: ignore[no-untyped-def]
    """A corner leaves the sheet."""
    path = _outline(root)
    points = _points(path)
    points[0] = (-3.0, points[0, 1])
    _set(path, points)


def score_across_a_cut_out(root) -> None:  # type: ignore[no-untyped-def]
    """A score runs through a slot."""
    hole = min((p for p in _paths(root, "cut") if p.get("d").endswith("Z")),
               key=lambda p: np.prod(np.ptp(_points(p), axis=0)))  # fmt: skip
    middle = _points(hole).mean(axis=0)
    group = _paths(root, "score")[0].getparent()
    path = etree.fromstring(etree.tostring(_paths(root, "score")[0]))
    group.append(path)
    aside = np.array([12.0, 0.0])
    _set(path, np.array([middle - aside, middle + aside]))


DEFECTS = (
    bowed,
    dropped_hole,
    doubled_line,
    shifted_score,
    mirrored_piece,
    wrong_scale,
    missing_tab,
    overlapping_neighbours,
    beyond_the_sheet,
    score_across_a_cut_out,
)


def test_the_sound_files_are_sound(jobs) -> None:  # type: ignore[no-untyped-def]
    """Without a defect nobody complains."""
    for design, sheets, files, wants in jobs.values():
        read_back(files, design.pieces, sheets, "job")
        for name, data in files.items():
            if "-sheet-" in name:
                assert sheet_faults(name, data, sheets, wants) == []


@pytest.mark.parametrize("defect", DEFECTS, ids=lambda d: d.__name__)
def test_a_planted_defect_is_found_by_both(jobs, defect) -> None:  # type: ignore[no-untyped-def]
    """By the tests' readers, and by the quick form, which refuses to write and names the place."""
    design, sheets, files, wants = jobs["carton" if defect is mirrored_piece else "chest"]
    pieces = ("tray-2", "carton")
    sheet = next(i for i, s in enumerate(sheets.cutting.sheets, 1)
                 if any(p.piece in pieces for p in s.sheet.placed))  # fmt: skip
    name = f"job-sheet-{sheet}.svg"
    root = etree.fromstring(files[name])
    defect(root)
    bad = etree.tostring(root)
    assert bad != files[name]
    assert sheet_faults(name, bad, sheets, wants) != []
    with pytest.raises(FileError) as caught:
        read_back({**files, name: bad}, design.pieces, sheets, "job")
    assert name in str(caught.value)
    assert " mm" in str(caught.value)
    assert "nothing was written" in str(caught.value)


def test_nothing_is_written_when_a_file_is_not_the_net(tmp_path, monkeypatch) -> None:  # type: ignore[no-untyped-def]
    """The whole job is refused, not only the bad file."""
    from jadeite.core.formats import export, export_all
    from jadeite.core.pipeline import plan_sheets, work_up
    from jadeite.core.project import Task, changed

    project = changed(Task(), brief=Hollow(size=(60.0, 50.0, 30.0)))
    work = work_up(project, None)
    assert work.design is not None
    sheets = plan_sheets(project, work.design)
    whole = export.cut_files

    def bad(*words):  # type: ignore[no-untyped-def]
        files = whole(*words)
        name = next(iter(files))
        root = etree.fromstring(files[name])
        bowed(root)
        return files | {name: etree.tostring(root)}

    monkeypatch.setattr(export, "cut_files", bad)
    with pytest.raises(FileError, match="tray, at"):
        export_all(job_of(work), sheets, tmp_path / "out", ("svg", "csv"))
    assert not (tmp_path / "out").exists()


def test_two_pieces_too_near_are_refused() -> None:
    """The gap of the plan is kept in the file, whoever laid it out."""
    design = build(family_by_key("tray-with-lid"), (60.0, 40.0, 20.0))
    sheets = sheets_of(design)
    plan = sheets.layout.sheets[0]
    near = tuple(replace(p, x=p.x, y=p.y) if i == 0 else replace(p, x=plan.placed[0].x + 3.0,
                 y=plan.placed[0].y, angle=0.0) for i, p in enumerate(plan.placed))  # fmt: skip
    layout = replace(sheets.layout, sheets=(replace(plan, placed=near),))
    other = SheetWork(layout, cutting_plan(design.pieces, layout, profile_by_key("hand")), ())
    with pytest.raises(FileError, match="less than"):
        read_back(cut_files(design.pieces, other, "job", "Job", "svg"), design.pieces, other, "job")


def test_sheets_of_a_job_of_several_things_are_their_proved_nets() -> None:
    """An invitation and its envelope: on shared sheets each region is that of its own FOLD file."""
    job = work_up_job(load_project(EXAMPLE))
    assert job.several
    sheets = plan_job_sheets(job)
    wants = {}
    for cut in job.pieces:
        design = job.works[cut.item].design
        assert design is not None
        wants[cut.piece.name] = wants_of(design)[cut.own]
    for kind in ("svg", "dxf"):
        files = cut_files([cut.piece for cut in job.pieces], sheets, "job", "Job", kind)
        seen = 0
        for name, data in files.items():
            if "-sheet-" in name:
                assert sheet_faults(name, data, sheets, wants) == []
                seen += 1
            else:
                own = wants[name.removeprefix("job-").rpartition(".")[0]]
                assert piece_faults(name, data, own) == []
        assert seen == len(sheets.layout.sheets)
    swapped = wants | {"card": wants["envelope"], "envelope": wants["card"]}
    files = cut_files([cut.piece for cut in job.pieces], sheets, "job", "Job", "svg")
    bad = [f for n, d in files.items() if "-sheet-" in n
           for f in sheet_faults(n, d, sheets, swapped)]  # fmt: skip
    assert bad != []


@pytest.mark.parametrize("kind", ["hpgl", "gcode"])
def test_a_plot_that_is_spoilt_is_not_written(kind: str) -> None:
    """A stroke left out, made once more, in another order, or shifted is seen before writing."""
    design = build(family_by_key("tray-with-lid"), (60.0, 40.0, 20.0), "heavy-card")
    sheets = sheets_of(design)
    (name, data), *_ = plot_files(sheets, "job", "Job", kind).items()
    lines = data.decode().splitlines()
    begins = [i for i, line in enumerate(lines) if line.startswith(("PU", "G0 X"))]
    strokes = [i for i in begins if not lines[i].startswith(("PU;", "PUSP"))]
    first, last = strokes[0], strokes[-1]
    size = strokes[1] - strokes[0]
    spoilt = {
        "left out": lines[:first] + lines[first + size :],
        "once more": lines[: first + size] + lines[first:],
        "shifted": [*lines[:last], lines[last].replace("1", "7"), *lines[last + 1 :]],
    }
    read_back({name: data}, design.pieces, sheets, "job")
    for text in spoilt.values():
        with pytest.raises(FileError):
            read_back({name: "\n".join(text).encode()}, design.pieces, sheets, "job")
