"""The example projects: made from the command line, closed, and as they are kept."""

from __future__ import annotations

import json
import subprocess
import sys
from pathlib import Path

import numpy as np
import pytest

from jadeite.cli import main
from jadeite.core.boards import board_by_key
from jadeite.core.cutting import profile_by_key
from jadeite.core.errors import FieldError
from jadeite.core.formats import load_project
from jadeite.core.formats.fold_file import fold_text
from jadeite.core.nets.arrivals import When
from jadeite.core.nets.halves import HALVES
from jadeite.core.nets.split import best_split, extent_of, split_along, splits_of
from jadeite.core.pipeline import arrange_contents, plan_sheets, work_up, work_up_job
from jadeite.core.project import Hollow, Shape, Task, changed
from jadeite.core.shapes import all_families
from jadeite.core.solid import Form
from tests import fold_reader
from tests.conftest import build_tray
from tests.core.shapes.closing import build, faults
from tests.jobs import only

FOLDER = Path(__file__).parents[2] / "examples"
FILES = sorted(FOLDER.glob("*.jadeite"))


def jadeite(*words: str) -> subprocess.CompletedProcess[str]:
    """The command line, as a process."""
    return subprocess.run(
        [sys.executable, "-m", "jadeite.cli", *words], capture_output=True, text=True, check=False
    )


@pytest.fixture(scope="module")
def made(tmp_path_factory) -> Path:  # type: ignore[no-untyped-def]
    """The examples written anew by the script that made them, line by line."""
    folder = tmp_path_factory.mktemp("examples")
    script = (Path(__file__).parents[2] / "tools" / "examples.sh").read_text(encoding="utf-8")
    lines = script.replace("\\\n", " ").splitlines()
    import shlex

    for line in (line for line in lines if line.startswith("jadeite ")):
        words = shlex.split(line.replace("$out", str(folder)))[1:]
        assert main(words) == 0, line
    return folder


def test_the_examples_are_what_their_script_writes(made: Path) -> None:
    """Each file kept here comes from the command line just so."""
    assert len(FILES) >= 5
    for file in FILES:
        assert (made / file.name).read_text(encoding="utf-8") == file.read_text(encoding="utf-8")


def test_words_of_a_step_suit_what_was_done_before_it() -> None:
    """Nothing is creased "before any glue" on which something is glued already."""
    creased = {"Before any glue is on it": 0, "Once what is glued on is dry": 0}
    for file in FILES:
        for work in work_up_job(load_project(file), cures=False).works.values():
            assert work.assembly is not None
            assert work.design is not None
            arrivals = work.design.arrivals
            onto = {
                arrival.piece: arrival.onto[0]
                for arrival in (*arrivals.at(When.FLAT), *arrivals.at(When.BEHIND))
                if arrival.onto is not None
            }
            glued: set[str] = set()
            for step in work.assembly.steps:
                pieces = {piece for piece, _ in step.panels}
                if step.operation == "glue":
                    glued |= {onto[piece] for piece in pieces & set(onto)}
                    glued |= pieces & set(onto)
                if step.operation == "crease":
                    when = step.detail.partition(":")[0]
                    creased[when] += 1
                    assert (when != "Before any glue is on it") == bool(glued & pieces), step.title
    assert min(creased.values()) > 0


@pytest.mark.parametrize("file", FILES, ids=lambda f: f.stem)
def test_every_example_closes_round_what_is_in_it(file: Path) -> None:
    """From the exported FOLD text: joints, plies, contents; and nothing blocks."""
    job = work_up_job(load_project(file))
    assert job.refused is None
    for work in job.works.values():
        assert work.design is not None
        assert faults(work.design) == []
        text = fold_text(work.design, work.bodies)
        model = fold_reader.read(text)
        for content in json.loads(text)["jadeite:contents"]:
            assert fold_reader.in_the_way(model, content) == 0
    assert main(["check", str(file)]) == 0


def test_a_dome_for_a_ball_of_90_mm(made: Path) -> None:
    """Six gores; the ball is measured as a ball."""
    work = work_up(*_opened(made / "planet-dome.jadeite"))
    assert work.design is not None
    assert work.design.hollow.form is Form.BALL
    assert sum(p.name.startswith("gore") for p in work.design.pieces) == 6
    assert work.design.hollow.size[0] == pytest.approx(93.0)


def _opened(file: Path):  # type: ignore[no-untyped-def]
    project = only(load_project(file))
    return project, arrange_contents(project)


def test_the_split_tray_fits_a_cutter_of_108_mm(made: Path, tmp_path: Path) -> None:
    """Whole it does not; cut along a fold, every piece is placed, all at one scale."""
    project, arrangement = _opened(made / "small-cutter-box.jadeite")
    whole = changed(project, splits={})
    before = work_up(whole, arrangement).design
    assert before is not None
    assert [f.code for f in plan_sheets(whole, before).findings] == ["piece-fits-no-sheet"]
    work = work_up(project, arrangement)
    assert work.design is not None
    sheets = plan_sheets(project, work.design)
    assert sheets.findings == ()
    assert sheets.layout.unplaced == ()
    reach = sorted(profile_by_key("small").reach)
    for piece in work.design.pieces:
        small, large = extent_of(piece.panels)
        assert small <= reach[0]
        assert large <= reach[1]
    for name in ("front", "left", "right"):  # one scale: panels are as before
        a, b = (d.piece("tray").panel(name).size for d in (before, work.design))
        assert a == pytest.approx(b)
    done = jadeite("export", str(made / "small-cutter-box.jadeite"), "-o", str(tmp_path))
    assert done.returncode == 0, done.stderr
    assert list(tmp_path.glob("*tray-b*.svg"))


def test_the_finding_offers_the_cheapest_cut_and_it_ends_the_finding() -> None:
    """The cure of a piece that fits no sheet cuts it; the cheapest is the shortest seam."""
    project = changed(
        Task(),
        brief=Hollow(size=(80.0, 60.0, 30.0)),
        cutter="small",
        shape=Shape(key="tray-with-lid"),
    )
    work = work_up(project, None)
    assert work.design is not None
    finding = plan_sheets(project, work.design).findings[0]
    assert finding.cure is not None
    changes = dict(finding.cure.changes)
    child = changes["splits.tray"]
    cured = changed(project, splits={"tray": child})
    again = work_up(cured, None)
    assert again.design is not None
    assert not again.blocked
    assert plan_sheets(cured, again.design).findings == ()
    reach = profile_by_key("small").reach
    piece = work.design.piece("tray")
    best = best_split(work.design, piece, [reach], lambda _: True)
    assert best is not None
    assert best.child == child
    fitting = [
        s.cost
        for s in splits_of(piece)
        if all(
            extent_of(p.panels)[0] <= 108.0
            for p in split_along(work.design, "tray", s.child).pieces
            if p.name.startswith("tray")
        )
    ]
    assert best.cost == min(fitting)


@pytest.mark.parametrize("family", all_families(), ids=lambda f: f.key)
def test_every_cut_that_is_offered_closes(family) -> None:  # type: ignore[no-untyped-def]
    """Or has no place for its tab: then the proof says so, and it is not offered."""
    try:
        design = build(family, (90.0, 70.0, 100.0))
    except FieldError:
        pytest.skip("not of this size")
    whole = {p.name for p in design.pieces}
    for piece in design.pieces[:2]:
        for split in splits_of(piece)[:4]:
            try:
                made = split_along(design, piece.name, split.child)
            except FieldError:
                continue
            wrong = faults(made)
            words = ("seam", "passes through", "claim the same")
            seam = {w for w in wrong if any(word in w for word in words)}
            assert set(wrong) == seam
            if not wrong:
                part = next(p for p in made.pieces if p.name not in whole)
                arrival = made.arrivals.of(part.name)
                assert arrival is not None
                assert arrival.onto is not None
                assert arrival.onto[0] == piece.name
                flat = split.child == HALVES
                assert arrival.when is (When.FLAT if flat else When.FOLDED)


def test_an_unknown_cut_is_refused_with_those_there_are() -> None:
    """By name."""
    with pytest.raises(FieldError, match="right, left"):
        split_along(build_tray(), "tray", "ceiling")


def test_perforated_folds_are_cut_in_dashes_by_the_board() -> None:
    """No score is left; dashes and gaps of the board (from memory), whole ends, one line each."""
    project = changed(Task(), brief=Hollow(size=(80.0, 60.0, 30.0)), folds="perforated")
    work = work_up(project, None)
    assert work.design is not None
    cutting = plan_sheets(project, work.design).cutting
    steps = {path.step for sheet in cutting.sheets for path in sheet.paths}
    assert steps == {"perforate", "outline"}
    dashes = [p for s in cutting.sheets for p in s.paths if p.step == "perforate"]
    lengths = [float(np.linalg.norm(np.diff(p.points, axis=0))) for p in dashes]
    assert max(lengths) < 2 * 2.5 + 1.2
    assert board_by_key("medium-card").thickness == 0.23
    hand = changed(project, folds="hand-creased")
    marked = work_up(hand, None).design
    assert marked is not None
    kinds = {f.kind for p in marked.pieces for f in p.folds}
    assert kinds == {"hand-creased"}
