"""The simulated cutter and the program that tells it what to do."""

from __future__ import annotations

import itertools
import json
from collections import Counter
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from jadeite.core.cutting import cutting_plan, profile_by_key, stroke_seconds
from jadeite.core.formats import load_project
from jadeite.core.machine import Device, Fault, Run
from jadeite.core.machine.device import FAULTS, TELL
from jadeite.core.machine.lines import points_from, stroke_line
from jadeite.core.machine.motion import FINE, Ride
from jadeite.core.machine.run import AGAIN
from jadeite.core.pipeline import plan_job_sheets, work_up_job
from jadeite.core.pipeline.anew import cut_anew
from jadeite.core.project import Item, Project, Stock
from tests.core.machine.person import Person, cut_whole, gone_over, good_pieces, take_turn

EXAMPLES = Path(__file__).parents[3] / "examples"
SQUARE = Stock(name="square", width=304.8, height=304.8)


@pytest.fixture(scope="module")
def job():  # type: ignore[no-untyped-def]
    """Five trays with lids of two boards, on several sheets."""
    item = Item(
        name="tray",
        brief={"kind": "hollow", "size": (60, 40, 20)},
        copies=5,
        boards={"tray": "heavy-card", "lid": "text"},
    )
    project = Project(items=(item,), stock=(SQUARE,), free_turns=False)
    return project, plan_job_sheets(work_up_job(project))


def run_job(job, *faults: Fault, moves: bool = False, step: float = 5.0):  # type: ignore[no-untyped-def]
    """The whole job cut, with faults."""
    project, work = job
    run, device = Run(work.cutting.sheets), Device(faults=list(faults))
    person = Person(run, device, moves=moves)

    def anew(run: Run) -> None:
        plan, left = cut_anew(project, work, run.lost)
        assert not left
        run.add(plan.sheets)

    cut_whole(run, device, person, anew, step)
    return run, device, person


def assert_all_there(job, run: Run, device: Device) -> None:  # type: ignore[no-untyped-def]
    """Every copy of every piece once; gone over is what the cutter had not told of yet, at most.

    It tells where it is every 0.05 s; 80 mm/s make 4 mm of that, and 0.5 mm are joined on.
    """
    wanted = {(n, c): 1 for n, p in job[1].pieces.items() for c in range(p.count)}
    assert good_pieces(run, device) == wanted
    assert gone_over(device) <= TELL * 80 + AGAIN + 0.01


def test_without_a_fault_every_stroke_is_made_once(job) -> None:  # type: ignore[no-untyped-def]
    """Sheets, tools and settings are asked for as often as the plan says."""
    run, device, person = run_job(job)
    assert_all_there(job, run, device)
    plan = job[1].cutting
    assert person.asked.count("load") == len(plan.sheets) == person.asked.count("unload")
    assert person.asked.count("tool") == plan.tool_changes + 1
    order = [number for number, _ in itertools.groupby(m.number for m in device.marks)]
    assert order == [i for sheet in plan.sheets for i in range(len(sheet.paths))]


def test_the_time_is_that_of_the_cutters_own_clock(job) -> None:  # type: ignore[no-untyped-def]
    """Within 5 %: the plan adds up closed formulas, the cutter follows its motion in steps."""
    _, device, _ = run_job(job)
    assert job[1].cutting.seconds == pytest.approx(device.clock, rel=0.05)


@settings(max_examples=40)
@given(
    st.lists(st.tuples(st.floats(0, 200), st.floats(0, 200)), min_size=2, max_size=12),
    st.floats(5, 200),
    st.floats(300, 5000),
)
def test_property_a_ride_keeps_to_its_limits(points, speed: float, acceleration: float) -> None:
    """Never faster, never gathering speed faster; between the bounds of mechanics."""
    line = np.array(points)
    assume(np.linalg.norm(np.diff(line, axis=0), axis=1).min() > 0.5)
    ride = Ride(line, speed, acceleration)
    times = np.linspace(0, ride.seconds, 400)
    at = np.array([ride.reached(t) for t in times])
    gap = times[1] - times[0]
    pace = np.diff(at) / gap
    assert pace.max() <= speed * 1.001
    step = speed**2 / (2 * acceleration) / FINE  # mm, in which one pace is kept
    assert (at <= acceleration * times**2 / 2 + step + 1e-9).all()
    straight = ride.length / speed
    corners = len(line) - 1
    assert ride.seconds >= straight - 1e-9
    assert ride.seconds <= straight + corners * speed / acceleration + 1e-6
    path = job_path(line)
    fast = replace(profile_by_key("large"), acceleration=acceleration, speeds=(("cut", speed),))
    shortest = np.linalg.norm(np.diff(line, axis=0), axis=1).min()
    if shortest > speed**2 / acceleration:  # it comes to its speed on every length
        assert stroke_seconds(path, fast) == pytest.approx(ride.seconds, rel=0.05)


def job_path(line):  # type: ignore[no-untyped-def]
    """A stroke that cuts along a line once."""
    from jadeite.core.cutting import CutPath

    return CutPath("inner", "piece", 0, line, 1)


@pytest.mark.parametrize("moves", [False, True])
@pytest.mark.parametrize("kind", [kind for kind in FAULTS if kind != "registration"])
def test_each_fault_at_every_stage(job, kind: str, moves: bool) -> None:  # type: ignore[no-untyped-def]
    """First, middle and last stroke of every step of every sheet; begun, half made, nearly done."""
    if moves and kind not in ("jam", "power"):
        return
    plan, happened = job[1].cutting, 0
    for number, sheet in enumerate(plan.sheets):
        by_step: dict[str, list[int]] = {}
        for i, path in enumerate(sheet.paths):
            by_step.setdefault(path.step, []).append(i)
        for numbers in by_step.values():
            for stroke in {numbers[0], numbers[len(numbers) // 2], numbers[-1]}:
                for share in (0.0, 0.4, 0.99) if kind in ("jam", "power", "slip") else (0.0,):
                    fault = Fault(kind, number, stroke, share, 1.3, -0.8)
                    run, device, person = run_job(job, fault, moves=moves)
                    assert_all_there(job, run, device)
                    happened += not device.faults
                    signs = {"not-through": "shallow", "slip": "slipped"}
                    if kind != "not-through" or any(not m.through for m in device.marks):
                        assert signs.get(kind, kind) in person.asked
    assert happened >= 12


@pytest.mark.parametrize(("off", "asked"), [((1.3, -0.8), ""), ((-2.9, 0.2), ""), ((4, 3), "far")])
def test_a_printed_sheet_is_found_by_its_marks(job, off, asked: str) -> None:  # type: ignore[no-untyped-def]
    """What lies beside its marks is cut there; what lies too far off is loaded again."""
    _, work = job
    cuts = tuple(replace(c, sheet=replace(c.sheet, printed=True)) for c in work.cutting.sheets)
    faults = [Fault("registration", number, 0, 0.0, *off) for number in range(len(cuts))]
    run, device = Run(cuts), Device(faults=faults)
    person = Person(run, device)
    cut_whole(run, device, person)
    wanted = {(n, c): 1 for n, p in work.pieces.items() for c in range(p.count)}
    assert good_pieces(run, device) == wanted
    assert gone_over(device) == 0
    assert ("far" in person.asked) == (asked == "far")
    assert "slipped" not in person.asked
    assert {m.off for m in device.marks} <= {off, (0.0, 0.0)}


def test_property_many_faults_in_one_job(job) -> None:  # type: ignore[no-untyped-def]
    """Two to five faults anywhere, also on sheets that replace others."""
    kinds: Counter[str] = Counter()

    @settings(max_examples=25, deadline=None)
    @given(
        st.lists(
            st.builds(
                Fault,
                st.sampled_from(["not-through", "slip", "jam", "power"]),
                st.integers(0, 3),
                st.integers(0, 60),
                st.floats(0, 1),
                st.floats(0.2, 4),
                st.floats(-3, 3),
            ),
            min_size=2,
            max_size=5,
            unique_by=lambda f: (f.sheet, f.stroke),
        ),
        st.booleans(),
        st.floats(0.3, 30),
    )
    def holds(faults, moves: bool, step: float) -> None:  # type: ignore[no-untyped-def]
        run, device, person = run_job(job, *faults, moves=moves, step=step)
        assert_all_there(job, run, device)
        kinds.update(person.asked)

    holds()
    assert min(kinds[kind] for kind in ("shallow", "slipped", "jam", "power")) >= 3


def test_a_stroke_is_a_line_and_back() -> None:
    """To a tenth of a micrometre."""
    from jadeite.core.machine.lines import Stroke

    stroke = Stroke(7, np.array([[1.23456, 2.0], [3.0, -4.5], [0.0, 0.0]]), 2, 12.5)
    back = points_from(stroke_line(stroke).split(" ")[1:])
    assert (back.number, back.passes, back.begin) == (7, 2, 12.5)
    assert np.abs(back.points - stroke.points).max() < 1e-4


@pytest.mark.parametrize(
    "line",
    ["STROKE", "STROKE 1 1 0 1,2", "STROKE x 1 0 1,2 3,4", "STROKE 1 0 0 1,2 3,4", "HUM", "SET 1",
     "SHEET", ""],
)  # fmt: skip
def test_a_line_that_says_nothing_is_answered_by_a_fault(line: str) -> None:
    """And the cutter goes on."""
    device = Device()
    (reply,) = device.told(line)
    assert reply.startswith("FAULT")
    assert device.told("SHEET 0 10 10 card") == ["LOAD 0"]
    assert device.told("STROKE 1 1 0 1,2 3,4") == ["FAULT no sheet or no tool"]


def test_hand_cut_sheets_are_not_told_to_a_cutter(job) -> None:  # type: ignore[no-untyped-def]
    """Where all is cut by hand there is nothing to run."""
    _, work = job
    pieces = [piece.piece for piece in work.pieces.values()]
    plan = cutting_plan(pieces, work.layout, profile_by_key("hand"))
    run = Run(plan.sheets)
    run.begin()
    assert run.done
    assert run.share() == 1.0


@pytest.mark.parametrize("name", ["globe", "path-lantern", "star"])
def test_the_time_of_fine_work_is_that_of_the_cutters_clock(name: str) -> None:
    """Curves, patterns and many small strokes, where stops count: within 5 %."""
    project = load_project(EXAMPLES / f"{name}.jadeite")
    cuts = plan_job_sheets(work_up_job(project, cures=False)).cutting.sheets
    run, device = Run(cuts), Device()
    cut_whole(run, device, Person(run, device), step=1e6)
    assert sum(cut.seconds for cut in cuts) == pytest.approx(device.clock, rel=0.05)
    assert run.share() == 1.0


@settings(max_examples=20, deadline=None)
@given(st.lists(st.integers(1, 400), min_size=1, max_size=3), st.floats(0.05, 3.0))
def test_property_it_goes_on_after_the_program_was_gone(job, steps, step: float) -> None:  # type: ignore[no-untyped-def]
    """Ended at any moment, what was kept is read by another run; the cutter stands as it stood."""
    work = job[1]
    device, kept = Device(), None
    for number in (*steps, None):
        run = Run(work.cutting.sheets)
        if kept is not None:
            assert run.restore(json.loads(json.dumps(kept)))
        run.begin()
        person = Person(run, device)
        for _ in itertools.count() if number is None else range(number):
            take_turn(run, device, person, step)
            if run.done:
                break
        kept = run.state(len(work.cutting.sheets))
        for line in device.told("STOP"):  # a machine stops when nobody tells it more
            run.heard(line)
    assert run.done
    assert_all_there(job, run, device)


@pytest.mark.parametrize(
    "spoilt", [{}, {"sheets": []}, {"sheets": 3, "lost": []}, {"sheets": [{}], "lost": [["a"]]}]
)
def test_what_was_kept_of_another_job_is_not_taken(job, spoilt) -> None:  # type: ignore[no-untyped-def]
    """And the run begins at its first stroke."""
    run = Run(job[1].cutting.sheets)
    assert not run.restore(spoilt)
    assert run.share() == 0.0
