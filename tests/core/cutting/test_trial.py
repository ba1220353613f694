"""Settings that are learned, cutters of one's own, and the test cut."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from shapely.geometry import Polygon

from jadeite.core.boards import CATALOGUE, board_by_key
from jadeite.core.cutting import PROFILES, own_from, profile_by_key, profile_of
from jadeite.core.cutting.settings import setting_for
from jadeite.core.cutting.trial import forces_of, passes_of, trial_paths, trial_size
from jadeite.core.errors import FieldError
from jadeite.core.formats.trial_sheet import trial_files
from jadeite.core.pipeline import plan_job_sheets, work_up_job
from jadeite.core.project import Cutter, Item, Learned, Project, changed, with_item_change
from tests import file_reader

CUT = [b for b in CATALOGUE if b.pressure != "by-hand"]


@given(st.sampled_from(CUT), st.integers(0, 60), st.sampled_from(["second-pass", "pressure"]))
def test_property_a_test_cut_is_about_the_setting(board, steps: int, heavier: str) -> None:  # type: ignore[no-untyped-def]
    """Forces rise within the cutter's steps round the present one; squares keep apart."""
    profile = replace(profile_by_key("large"), force_steps=steps)
    setting = setting_for(board, heavier, profile)
    forces, passes = forces_of(setting, profile), passes_of(setting)
    assert setting.passes in passes
    assert list(passes) == sorted(set(passes))
    if steps:
        assert list(forces) == sorted(set(forces))
        assert forces[0] >= 1
        assert forces[-1] <= steps
        assert forces[0] <= setting.force <= forces[-1]
    paths = trial_paths(setting, profile)
    width, height = trial_size(setting, profile)
    for path in paths:
        assert path.points.min() >= 0
        assert (path.points <= (width, height)).all()
    squares = [Polygon(p.points) for p in paths if p.step == "outline"]
    triangles = [Polygon(p.points) for p in paths if p.step == "inner"]
    assert len(squares) == len(triangles) == len(forces) * len(passes)
    for i, (square, triangle) in enumerate(zip(squares, triangles, strict=True)):
        assert square.area == pytest.approx(100)  # 10 mm, as the craft has it
        assert square.contains(triangle)
        assert all(square.distance(other) >= 4.9 for other in squares[:i])
    assert {p.passes for p in paths if p.step != "pen"} == set(passes)


def test_its_files_say_the_same() -> None:
    """Squares and triangles of every file, read by other readers; passes where a file has them."""
    profile = replace(profile_by_key("large"), force_steps=33)
    files = trial_files(board_by_key("heavy-card"), "second-pass", profile)
    reads = {
        name.rpartition(".")[2]: {"svg": file_reader.read_svg, "dxf": file_reader.read_dxf,
                                  "plt": file_reader.read_hpgl, "gcode": file_reader.read_gcode}[
            name.rpartition(".")[2]
        ](data)
        for name, data in files.items()
    }  # fmt: skip
    for read in reads.values():
        areas = sorted(round(Polygon(ring).area, 0) for ring in read.rings)
        assert areas == [11] * 20 + [100] * 20  # 10 mm squares; triangles of 5 mm: 10.8 mm²
    told = [times for role, times in reads["plt"].times if role == "cut"]
    assert sorted(told) == sorted([1, 2, 3, 4] * 10)
    with pytest.raises(FieldError, match="by hand"):
        trial_files(board_by_key("heavy-card"), "second-pass", profile_by_key("hand"))


def project(**fields) -> Project:  # type: ignore[no-untyped-def]
    """A tray of heavy card."""
    item = Item(
        name="tray",
        brief={"kind": "hollow", "size": (60, 40, 20)},
        boards={"tray": "heavy-card", "lid": "heavy-card"},
    )
    return Project(items=(item,), **fields)


def planned(job: Project):  # type: ignore[no-untyped-def]
    return plan_job_sheets(work_up_job(job))


def test_what_was_learned_is_used_everywhere() -> None:
    """Passes, force and speed; of another cutter and of other boards nothing is changed."""
    learned = Learned(board="heavy-card", cutter="large", passes=3, speed=20.0, by="test-cut")
    before, after = planned(project()), planned(project(learned=(learned,)))
    assert {p.passes for s in after.cutting.sheets for p in s.paths if p.role == "cut"} == {3}
    assert after.cutting.sheets[0].setting == (
        "Heavy card: usual pressure, 3 passes, 20 mm/s, by your test cut"
    )
    assert after.cutting.seconds > 1.5 * before.cutting.seconds
    other = learned.model_copy(update={"cutter": "small"})
    assert planned(project(learned=(other,))).cutting.seconds == before.cutting.seconds


@pytest.mark.parametrize("profile", [p for p in PROFILES if not p.by_hand], ids=lambda p: p.key)
def test_a_cutter_of_ones_own_begins_as_another(profile) -> None:  # type: ignore[no-untyped-def]
    """Nothing changes until a number does."""
    own = own_from(profile, "own-1")
    job = project(own_cutters=(own,), cutter="own-1")
    made = profile_of(job)
    assert made.reach == profile.reach
    assert dict(made.speeds) == pytest.approx(dict(profile.speeds))
    assert planned(job).cutting.seconds == pytest.approx(
        planned(project(cutter=profile.key)).cutting.seconds
    )


def test_its_numbers_count() -> None:
    """Reach, force, times; an unknown cutter is refused by name."""
    own = Cutter(key="own-1", title="Mine", width=150, length=200, force_steps=30, loading=600)
    sheets = planned(project(own_cutters=(own,), cutter="own-1"))
    for sheet in sheets.layout.sheets:
        assert sheet.usable[2:] == (150, 200) or sheet.usable[2:] == (200, 150)
        points = np.concatenate([p.points for p in sheets.cutting.sheets[0].paths])
        assert np.ptp(points, axis=0).max() <= 200
    assert "force 15" in sheets.cutting.sheets[0].setting
    assert sheets.cutting.seconds > 600 * len(sheets.layout.sheets)
    with pytest.raises(FieldError, match="no cutter"):
        profile_of(project(cutter="own-7"))


def test_a_cutter_without_a_tool_is_told_of() -> None:
    """With a cure that ends it."""
    own = Cutter(key="own-1", title="Mine", score=False)
    job = project(own_cutters=(own,), cutter="own-1")
    (found,) = [f for f in planned(job).findings if f.code == "no-scoring-tool"]
    assert found.cure is not None
    for path, value in found.cure.changes:
        job = with_item_change(job, "tray", path, value)
    assert not any(f.code == "no-scoring-tool" for f in planned(job).findings)
    usual = changed(job, cutter="large")
    assert not any(f.code.startswith("no-") for f in planned(usual).findings)
