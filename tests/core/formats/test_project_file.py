"""The project file under friendly and hostile hands."""

from __future__ import annotations

import contextlib
import errno
import itertools
import json
import multiprocessing
import os
import random
import shutil
import signal
import subprocess
import sys
import textwrap
import threading
import time
from collections.abc import Callable
from multiprocessing.connection import Connection
from pathlib import Path

import jsonschema
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from jadeite.core.errors import FieldError, FileError
from jadeite.core.formats import (
    load_project,
    project_from_text,
    project_schema,
    project_text,
    save_project,
)
from jadeite.core.formats.atomic import PART, sweep, write_whole
from jadeite.core.formats.journal import Journal, left_over
from jadeite.core.project import Project, Task, changed, with_change
from tests.jobs import project_of

GOOD = {"format": "jadeite-project", "version": 1}
DEMO = Path(__file__).parents[3] / "src/jadeite/assets/demo.jadeite"


@pytest.fixture
def eyepiece_job(eyepiece_box: Task) -> Project:
    """The box of the demo as a document."""
    return project_of(eyepiece_box)


def test_round_trip(eyepiece_job: Project, tmp_path: Path) -> None:
    """What is saved is what is read; the previous version is kept beside it."""
    file = tmp_path / "box.jadeite"
    save_project(eyepiece_job, file)
    assert load_project(file) == eyepiece_job
    later = changed(eyepiece_job, title="Second")
    save_project(later, file)
    assert load_project(file) == later
    assert load_project(tmp_path / "box.jadeite~") == eyepiece_job
    assert sorted(p.name for p in tmp_path.iterdir()) == ["box.jadeite", "box.jadeite~"]


def test_files_obey_the_published_schema(eyepiece_job: Project) -> None:
    """jsonschema accepts what we write, and the schema in docs/ is the present one."""
    schema = project_schema()
    jsonschema.Draft202012Validator.check_schema(schema)
    jsonschema.validate(json.loads(project_text(eyepiece_job)), schema)
    jsonschema.validate(json.loads(DEMO.read_text()), schema)
    published = Path(__file__).parents[3] / "docs/project.schema.json"
    assert json.loads(published.read_text()) == schema


@pytest.mark.parametrize(
    ("text", "part"),
    [
        ("", "JSON"),
        ("{", "line 1"),
        ('{"format": "jadeite-project",\n "version": 1,\n "title": "x', "line 3"),
        ("[]", "format"),
        ('{"format": "other"}', "format"),
        (json.dumps({**GOOD, "version": 3}), "newer Jadeite"),
        (json.dumps({**GOOD, "version": "1"}), "version"),
        (json.dumps({**GOOD, "title": 5}), "title"),
        (json.dumps({**GOOD, "surprise": 1}), "surprise"),
        (json.dumps({**GOOD, "copies": 0}), "copies"),
        (json.dumps({**GOOD, "copies": 1.5}), "copies"),
        (json.dumps({**GOOD, "inside": [1, 2]}), "brief"),
        (json.dumps({**GOOD, "inside": [0, 1, 1]}), "brief"),
        (json.dumps({**GOOD, "contents": [{"kind": "ball"}]}), "contents"),
        (json.dumps({**GOOD, "contents": {"kind": "block"}}), "contents"),
        (json.dumps({**GOOD, "shape": {"key": "../x"}}), "shape.key"),
        ('{"format": "jadeite-project", "version": 1, "inside": [NaN, 1, 1]}', "NaN"),
        ('{"format": "jadeite-project", "version": 1, "inside": [1e999, 1, 1]}', "too large"),
        ('{"format": "jadeite-project", "version": 1, "copies": ' + "9" * 5000 + "}", "digits"),
        ("[" * 100_000, "nested"),
        (
            '{"format": "jadeite-project", "version": 1, "notes": ' + "[" * 900 + "]" * 900 + "}",
            "notes",
        ),
    ],
)
def test_bad_files_are_refused_in_one_line(text: str, part: str) -> None:
    """Truncated, hostile, newer or of wrong types: the place is named, no traceback."""
    with pytest.raises(FileError) as caught:
        project_from_text(text, "box.jadeite")
    message = str(caught.value)
    assert message.startswith("box.jadeite")
    assert part in message
    assert "\n" not in message
    assert len(message) < 400


@settings(max_examples=150)
@given(
    st.recursive(
        st.none() | st.booleans() | st.floats() | st.text(max_size=8) | st.integers(),
        lambda c: (
            st.lists(c, max_size=3)
            | st.dictionaries(st.sampled_from(list(Project.model_fields)), c, max_size=4)
        ),
        max_leaves=12,
    )
)
def test_property_no_data_breaks_the_reader(data) -> None:  # type: ignore[no-untyped-def]
    """Any JSON value is read or refused, never anything else."""
    body = GOOD | data if isinstance(data, dict) else data
    try:
        project = project_from_text(json.dumps(body))
    except FileError as error:
        assert str(error)  # noqa: PT017 - either outcome is right
    else:
        assert project_from_text(project_text(project)) == project


def test_unreadable_places(tmp_path: Path) -> None:
    """Missing, a folder, not text, too large."""
    with pytest.raises(FileError, match="no such file"):
        load_project(tmp_path / "missing.jadeite")
    with pytest.raises(FileError, match="folder"):
        load_project(tmp_path)
    (tmp_path / "bytes").write_bytes(b"\xff\xfe\x00")
    with pytest.raises(FileError, match="UTF-8"):
        load_project(tmp_path / "bytes")
    with (tmp_path / "large").open("wb") as file:
        file.truncate(5_000_000)
    with pytest.raises(FileError, match="larger than 4 MB"):
        load_project(tmp_path / "large")


@pytest.mark.parametrize(
    ("code", "words"), [(errno.ENOSPC, "disk is full"), (errno.EROFS, "only be read")]
)
def test_a_full_or_read_only_disk_loses_nothing(
    code: int, words: str, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """The old file is as it was, no half file is left, and the text says what to do."""
    file = tmp_path / "box.jadeite"
    save_project(Project(), file)
    before = file.read_bytes()

    def refuse(handle: int) -> None:
        raise OSError(code, os.strerror(code))

    monkeypatch.setattr(os, "fsync", refuse)
    with pytest.raises(FileError, match=words):
        save_project(changed(Project(), title="Lost?"), file)
    assert file.read_bytes() == before
    assert [p.name for p in tmp_path.iterdir()] == ["box.jadeite"]


def test_kill_in_the_middle_of_saves_leaves_a_whole_file(tmp_path: Path) -> None:
    """kill -9 while saving again and again: the file is always one whole version."""
    file = tmp_path / "box.jadeite"
    program = textwrap.dedent(
        """
        import sys
        from pathlib import Path
        from jadeite.core.formats import save_project
        from jadeite.core.project import Project, changed
        path = Path(sys.argv[1])
        n = 0
        while True:
            n += 1
            save_project(changed(Project(), title=f"version {n}", notes="x" * 4000), path)
            if n == 3:
                print("going", flush=True)
        """
    )
    for _ in range(3):
        process = subprocess.Popen(
            [sys.executable, "-c", program, str(file)], stdout=subprocess.PIPE
        )
        assert process.stdout is not None
        process.stdout.readline()
        time.sleep(0.05)
        process.send_signal(signal.SIGKILL)
        process.wait()
        process.stdout.close()
        assert load_project(file).title.startswith("version ")


def _saving(folder: Path, said: Connection) -> None:
    """Change, journal and save for ever; say what was acknowledged."""
    journal = Journal(folder, f"{os.getpid()}-0")
    for n in itertools.count(1):
        project = changed(Project(), title=f"version {n}", notes="x" * (n % 8) * 500)
        journal.record(project, folder / "box.jadeite")
        said.send(("journal", n))
        if n % 3 == 0:
            save_project(project, folder / "box.jadeite")
            said.send(("file", n))


MOST_KILLS = 20  # times as many as are asked for


def _kills(tmp_path: Path, count: int, seed: int) -> None:
    """Kill a program that saves, at any moment; look at what it left after each.

    On a quick disk few are killed in the middle of a write: it goes on until one was.
    """
    rng = random.Random(seed)
    context = multiprocessing.get_context("fork")
    litter = 0
    for number in range(MOST_KILLS * count):
        if number >= count and litter:
            break
        folder = tmp_path / str(number)
        folder.mkdir()
        mine, its = context.Pipe(duplex=False)
        child = context.Process(target=_saving, args=(folder, its))
        child.start()
        its.close()
        last = {"journal": 0, "file": 0}
        deadline = rng.uniform(0.004, 0.03)
        while mine.poll(deadline):
            kind, n = mine.recv()
            last[kind] = n
            deadline = rng.uniform(0.0, 0.004)
            if rng.random() < 0.15:
                break
        assert child.pid is not None
        os.kill(child.pid, signal.SIGKILL)
        child.join()
        with contextlib.suppress(EOFError, OSError):
            while mine.poll():
                kind, n = mine.recv()
                last[kind] = n
        litter += len(list(folder.glob(f".*{PART}")))
        found = left_over(folder)
        sweep(folder)
        if last["journal"]:
            assert int(found[0].project.title.split()[1]) >= last["journal"]
        if last["file"]:
            assert int(load_project(folder / "box.jadeite").title.split()[1]) >= last["file"]
        names = {path.name for path in folder.iterdir()}
        assert names <= {"box.jadeite", "box.jadeite~", f"{child.pid}-0.journal"}, names
        shutil.rmtree(folder)
    assert litter > 0  # there was something to clear away, or it proves nothing


def test_kills_lose_nothing_and_leave_no_litter(tmp_path: Path) -> None:
    """At any moment of a save or a change; what is half written goes at the next start."""
    _kills(tmp_path, 80, 1)


@pytest.mark.soak
def test_soak_two_thousand_kills(tmp_path: Path) -> None:
    """The same, 2,000 times."""
    _kills(tmp_path, 2000, 2)


def test_write_whole_replaces_a_link_target_safely(tmp_path: Path) -> None:
    """The new bytes appear under the name; permissions are ordinary."""
    path = tmp_path / "a.txt"
    write_whole(path, b"one")
    write_whole(path, b"two", keep=True)
    assert path.read_bytes() == b"two"
    assert (tmp_path / "a.txt~").read_bytes() == b"one"
    assert path.stat().st_mode & 0o777 == 0o644


def test_changes_are_validated() -> None:
    """A refused change names its field; the document is untouched."""
    project = Task()
    with pytest.raises(FieldError, match="copies"):
        changed(project, copies=0)
    with pytest.raises(FieldError, match="stock"):
        changed(project, stock=())
    deeper = with_change(project, "shape.options.lid-depth", 20.0)
    assert deeper.shape.options == {"lid-depth": 20.0}
    assert with_change(deeper, "shape.options.lid-depth", None).shape.options == {}
    assert project.shape.options == {}


# ------------------------------------------------------------------ journal

DEAD = 2**22 + 1  # no process has this number: above the largest pid of Linux


def test_journal_brings_back_the_last_change(tmp_path: Path) -> None:
    """A window that died leaves exactly what was there."""
    journal = Journal(tmp_path, f"{DEAD}-0")
    for n in range(5):
        journal.record(changed(Project(), title=f"change {n}"), Path("/home/box.jadeite"))
    (found,) = left_over(tmp_path)
    assert found.project.title == "change 4"
    assert found.path == Path("/home/box.jadeite")


def _soon(true: Callable[[], bool]) -> None:
    """Wait until something is so, in another thread."""
    for _ in range(2000):
        if true():
            return
        time.sleep(0.01)
    raise AssertionError("it never was")


def test_a_change_is_with_the_system_at_once_and_no_caller_waits_for_the_disk(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """The disk is slow, then refuses: the line is there, and the refusal comes with the next."""
    slow, flushed = threading.Event(), []

    def fsync(file: int) -> None:
        if not os.path.sameopenfile(file, kept):
            return  # a journal of another test, still flushing
        flushed.append(threading.current_thread())
        slow.wait(20)
        if len(flushed) > 1:
            raise OSError(errno.ENOSPC, "full")

    journal = Journal(tmp_path, f"{DEAD}-0")
    kept = os.open(journal.path, os.O_RDONLY | os.O_CREAT)
    monkeypatch.setattr(os, "fsync", fsync)
    first, second = (Project(title=title) for title in ("first", "second"))
    journal.record(first, None)
    (found,) = left_over(tmp_path)
    assert found.project == first
    _soon(lambda: len(flushed) == 1)
    journal.record(second, None)
    slow.set()
    _soon(lambda: journal._flushing._trouble is not None)
    assert threading.main_thread() not in flushed
    with pytest.raises(FileError):
        journal.record(second, None)
    (found,) = left_over(tmp_path)
    assert found.project == second
    monkeypatch.setattr(os, "fsync", lambda file: None)
    journal.close()
    os.close(kept)
    assert not journal.path.exists()


def test_journal_cut_off_in_the_middle_of_a_write(tmp_path: Path) -> None:
    """The last whole line counts."""
    journal = Journal(tmp_path, f"{DEAD}-0")
    journal.record(changed(Project(), title="whole"), None)
    journal.record(changed(Project(), title="half"), None)
    data = journal.path.read_bytes()
    for cut in (1, 10, 100):
        journal.path.write_bytes(data[:-cut])
        (found,) = left_over(tmp_path)
        assert found.project.title == ("half" if cut == 1 else "whole")


def test_journals_of_the_living_are_left_alone(tmp_path: Path) -> None:
    """Only a dead window's journal is offered; an empty one is swept away."""
    Journal(tmp_path, f"{os.getpid()}-0").record(Project(), None)
    (tmp_path / f"{DEAD}-1.journal").write_text("rubbish\n")
    assert left_over(tmp_path) == []
    assert [p.name for p in tmp_path.iterdir()] == [f"{os.getpid()}-0.journal"]
    assert left_over(tmp_path / "nowhere") == []


def test_journal_does_not_grow_without_end(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """It starts anew, and still holds the last change."""
    monkeypatch.setattr("jadeite.core.formats.journal.TURN_OVER", 2000)
    journal = Journal(tmp_path, f"{DEAD}-0")
    for n in range(60):
        journal.record(changed(Project(), title=f"change {n}"), None)
    assert journal.path.stat().st_size < 4000
    assert left_over(tmp_path)[0].project.title == "change 59"
    journal.close()
    assert left_over(tmp_path) == []
