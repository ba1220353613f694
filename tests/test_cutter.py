"""The simulated cutter as a program of its own: files, socket, pseudo-terminal."""

from __future__ import annotations

import os
import socket
import subprocess
import sys
import time
import tty
from pathlib import Path

import pytest

from jadeite.cli import main
from jadeite.core.formats import export_all
from jadeite.core.machine import Run
from jadeite.core.pipeline import plan_job_sheets, work_up_job
from jadeite.core.project import Item, Project, Stock

SQUARE = Stock(name="square", width=304.8, height=304.8)
LIMIT = 300.0  # s; a slow machine is waited for, one that hangs is not


@pytest.fixture(scope="module")
def job():  # type: ignore[no-untyped-def]
    """A tray with a lid of heavy card, which is cut twice."""
    item = Item(
        name="tray",
        brief={"kind": "hollow", "size": (60, 40, 20)},
        boards={"tray": "heavy-card", "lid": "heavy-card"},
    )
    made = work_up_job(Project(items=(item,), stock=(SQUARE,)))
    return made, plan_job_sheets(made)


@pytest.mark.parametrize("kind", ["hpgl", "gcode"])
def test_the_files_of_a_job_take_as_long_as_the_plan_says(
    job, kind: str, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:  # type: ignore[no-untyped-def]
    """Within 5 % by the cutter's own clock, for every sheet; nothing is left to look at."""
    from jadeite.core.machine import Device
    from jadeite.cutter import play

    made, sheets = job
    files = sorted(export_all(made, sheets, tmp_path, [kind]))
    assert len(files) == len(sheets.cutting.sheets)
    for file, cut in zip(files, sheets.cutting.sheets, strict=True):
        assert play(file, Device()) == pytest.approx(cut.seconds, rel=0.05)
        assert main(["cutter", str(file)]) == 0
    assert "done" in capsys.readouterr().out
    assert main(["cutter", str(files[0]), "--fault", "slip@1:3"]) == 1
    assert "off 2" in capsys.readouterr().err
    assert main(["cutter", str(files[0]), "--fault", "jam@1:3"]) == 2
    assert "stroke 3: jam" in capsys.readouterr().err


@pytest.mark.parametrize(
    ("words", "told"),
    [
        (["nowhere.plt"], "No such file"),
        (["x.doc"], "use a file in"),
        ([], "nothing to listen on"),
        (["a.plt", "--fault", "hum@1:2"], "is no fault"),
        (["a.plt", "--fault", "jam@0:2"], "is no fault"),
        (["a.plt", "--pace", "0"], "out of its range"),
    ],
)
def test_what_it_cannot_play_is_said(words, told: str, capsys) -> None:  # type: ignore[no-untyped-def]
    """In one line, and nothing runs on."""
    assert main(["cutter", *words]) == 2
    assert told in capsys.readouterr().err


def test_a_file_is_never_taken_for_a_socket(tmp_path: Path, capsys) -> None:  # type: ignore[no-untyped-def]
    """What stands there stays."""
    (tmp_path / "notes").write_text("mine")
    assert main(["cutter", "--socket", str(tmp_path / "notes")]) == 2
    assert (tmp_path / "notes").read_text() == "mine"
    assert "it stays" in capsys.readouterr().err


def _exchange(run: Run, read, write) -> None:  # type: ignore[no-untyped-def]
    """Let a run be cut over a line, a person saying yes to everything."""
    run.begin()
    buffer, ends = b"", time.monotonic() + LIMIT
    while not run.done and time.monotonic() < ends:
        while run.ask is not None:
            run.answer(run.ask.answers[0][0])
        while run.send:
            write(f"{run.send.pop(0)}\n".encode())
        if run.done:
            break
        buffer += read()
        *lines, buffer = buffer.split(b"\n")
        for line in lines:
            run.heard(line.decode())
    assert run.done
    assert run.share() == 1.0


def _started(*words: str) -> subprocess.Popen[str]:
    return subprocess.Popen(
        [sys.executable, "-m", "jadeite", "cutter", *words, "--pace", "5000"],
        stdout=subprocess.PIPE,
        text=True,
    )


def test_a_job_is_cut_over_a_local_socket(job, tmp_path: Path) -> None:  # type: ignore[no-untyped-def]
    """Started as a program; with a jam on the way; it ends when we are gone."""
    path = tmp_path / "cutter"
    process = _started("--socket", str(path), "--fault", "jam@1:5")
    assert process.stdout is not None
    assert "listening" in process.stdout.readline()
    with socket.socket(socket.AF_UNIX, socket.SOCK_STREAM) as line:
        line.settimeout(LIMIT)
        line.connect(str(path))
        _exchange(Run(job[1].cutting.sheets), lambda: line.recv(65536), line.sendall)
    assert process.wait(timeout=LIMIT) == 0
    assert not path.exists()


def test_a_job_is_cut_over_a_pseudo_terminal(job) -> None:  # type: ignore[no-untyped-def]
    """The name of the terminal is the first that it says."""
    process = _started("--pty")
    assert process.stdout is not None
    handle = os.open(process.stdout.readline().strip(), os.O_RDWR | os.O_NOCTTY)
    tty.setraw(handle)

    def write(data: bytes) -> None:
        while data:
            data = data[os.write(handle, data[:512]) :]

    try:
        _exchange(Run(job[1].cutting.sheets), lambda: os.read(handle, 65536), write)
    finally:
        os.close(handle)
        process.kill()
        process.wait(timeout=LIMIT)
