"""Long jobs: results, progress, cancelling, and a process that dies."""

from __future__ import annotations

import os
import pickle
from functools import cached_property

import pytest

from jadeite.core.contents import OBJECTIVES, Block
from jadeite.core.pipeline import arrangements_of
from jadeite.core.project import Project, Task, changed
from jadeite.desktop.jobs import Job
from jadeite.worker import HEADER, frame, sheets, unframe, work
from tests.jobs import project_of

HARD = changed(
    Task(),
    contents=tuple(
        Block(name=n, length=60 - 3 * i, width=41 - 2 * i, height=23 + i)
        for i, n in enumerate("abcdef")
    ),
)


@pytest.fixture
def job(qtbot):  # type: ignore[no-untyped-def]
    """An arranging job."""
    made = Job("arrange")
    yield made
    made.close()


def test_frames_are_taken_apart_whole() -> None:
    """Messages may arrive in pieces."""
    data = frame(("done", 1)) + frame(("progress", 2))
    buffer = bytearray()
    out = []
    for i in range(0, len(data), 7):
        buffer += data[i : i + 7]
        out += unframe(buffer)
    assert out == [("done", 1), ("progress", 2)]
    assert not buffer
    assert frame("x")[: HEADER.size] == HEADER.pack(len(pickle.dumps("x", protocol=5)))


def test_a_result_comes_with_what_it_was_asked_for(job, qtbot, eyepiece_box) -> None:  # type: ignore[no-untyped-def]
    """All objectives, from another process."""
    with qtbot.waitSignal(job.succeeded, timeout=60_000) as got:
        job.start("token", eyepiece_box)
    result, wanted = got.args
    assert wanted == "token"
    assert set(result) == set(OBJECTIVES)
    assert not job.busy


def test_a_new_request_replaces_the_old_one(job, qtbot, eyepiece_box) -> None:  # type: ignore[no-untyped-def]
    """The old result never arrives."""
    seen = []
    job.succeeded.connect(lambda result, wanted: seen.append(wanted))
    job.start("old", HARD)
    with qtbot.waitSignal(job.succeeded, timeout=60_000):
        job.start("new", eyepiece_box)
    qtbot.wait(200)
    assert seen == ["new"]


def test_cancelling_ends_it_at_once(job, qtbot) -> None:  # type: ignore[no-untyped-def]
    """No result, and the next request works."""
    seen = []
    job.succeeded.connect(lambda *_: seen.append(1))
    job.start("hard", HARD)
    with qtbot.waitSignal(job.progressed, timeout=60_000):
        pass
    with qtbot.waitSignal(job.cancelled):
        job.cancel()
    assert not job.busy
    qtbot.wait(200)
    assert seen == []


def test_a_process_that_dies_is_said(job, qtbot, eyepiece_box) -> None:  # type: ignore[no-untyped-def]
    """The window lives on and says what to do."""
    job.start("x", HARD)
    qtbot.waitUntil(lambda: job._process is not None and job._process.processId() > 0)
    with qtbot.waitSignal(job.failed, timeout=20_000) as got:
        job._process.kill()
    assert "try again" in got.args[0]


def test_a_process_stands_back_from_its_start(job, qtbot) -> None:  # type: ignore[no-untyped-def]
    """While it still loads its modules it works at full tilt, beside what the maker clicks."""
    job.start("x", HARD)
    pid = job._process.processId()
    assert os.getpriority(os.PRIO_PROCESS, pid) > os.getpriority(os.PRIO_PROCESS, 0)


def test_worker_functions(eyepiece_box) -> None:  # type: ignore[no-untyped-def]
    """The same functions without a process."""
    steps = []
    found = arrangements_of(eyepiece_box, lambda f, t: steps.append(f))
    assert steps
    assert all(0 <= f <= 1 for f in steps)
    work = sheets(project_of(eyepiece_box), {"box": found["least-board"]}, lambda f, t: None)
    assert work is not None
    assert work.layout.unplaced == ()
    assert sheets(Project(), {}, lambda f, t: None) is None


def test_what_is_measured_of_a_made_thing_comes_with_it(eyepiece_box) -> None:  # type: ignore[no-untyped-def]
    """What takes long is there when it arrives: the window's own thread measures nothing."""
    _, made, _ = unframe(bytearray(frame(work(eyepiece_box, None, None, lambda f, t: None))))[0]
    lazy = {n for n, v in vars(type(made)).items() if isinstance(v, cached_property)}
    assert "solid" in lazy
    assert lazy <= set(vars(made))
