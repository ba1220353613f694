"""A family in a package of its own: installed, it is on the shelf, proved, drawn and cut."""

from __future__ import annotations

import json
import os
import subprocess
import sys
from pathlib import Path

import pytest

from tests import file_reader, fold_reader

PACKAGE = Path(__file__).parent / "data" / "outside"
ROOT = Path(__file__).parent.parent
WINDOW = """
import sys
from pathlib import Path
from PyQt6.QtTest import QTest
from jadeite.desktop.app import application, new_window
app = application([])
window = new_window(*(Path(sys.argv[1]) / name for name in ("state", "config", "data")))
assert window.commands.open_path(Path(sys.argv[2]))
window.resize(1280, 800)
window.show()
window.centre.open_station("shape")
window.centre.show_shelf(True)
shelf = window.centre.shelf
for _ in range(1800):
    QTest.qWait(100)
    if window.session.settled() and "band" in shelf.entries:
        break
entry = shelf.entries["band"]
print(shelf.tiles["band"].accessibleName(), "|", entry.why, "|", window.session.work.design.title)
window.session.discard()
"""


@pytest.fixture(scope="module")
def installed(tmp_path_factory):  # type: ignore[no-untyped-def]
    """The environment of a program beside which the package is installed; nothing is fetched."""
    folder = tmp_path_factory.mktemp("site")
    command = [sys.executable, "-m", "pip", "install", "--quiet", "--no-deps", "--no-index",
               "--no-build-isolation", "--target", str(folder), str(PACKAGE)]  # fmt: skip
    subprocess.run(command, check=True, cwd=folder)
    return {**os.environ, "PYTHONPATH": str(folder), "QT_QPA_PLATFORM": "offscreen"}


MAIN = "from jadeite.cli import main; raise SystemExit(main())"


def _run(environment, *words: str) -> subprocess.CompletedProcess[str]:  # type: ignore[no-untyped-def]
    command = [sys.executable, "-c", MAIN, *words]
    return subprocess.run(command, env=environment, capture_output=True, text=True)


@pytest.fixture(scope="module")
def project(installed, tmp_path_factory) -> Path:  # type: ignore[no-untyped-def]
    """A band for a stack of notes, made by its key as any other shape."""
    file = tmp_path_factory.mktemp("project") / "band.jadeite"
    made = _run(installed, "new", "band", "--inside", "80x60x20mm", "--set", "band=40",
                "-o", str(file))  # fmt: skip
    assert made.returncode == 0, made.stderr
    return file


def test_it_is_listed_and_judged_by_itself(installed, project: Path) -> None:  # type: ignore[no-untyped-def]
    """Its options are described, its joint closes, and what its own judge says is heard."""
    listed = _run(installed, "shapes", "--json")
    (band,) = [row for row in json.loads(listed.stdout) if row["key"] == "band"]
    assert band["options"][0]["default"] == 30.0
    checked = json.loads(_run(installed, "check", str(project), "--json").stdout)
    assert [f["code"] for f in checked["findings"]] == ["band-narrow"]
    (joint,) = checked["joints"]
    assert joint["distance_mm"] == pytest.approx(0.23, abs=0.01)  # medium card, glued to itself
    assert joint["landed"] > 0.99
    wide = project.with_name("wide.jadeite")
    wide.write_text(project.read_text().replace("40.0", "90.0"))
    checked = json.loads(_run(installed, "check", str(wide), "--json").stdout)
    assert checked["findings"] == []


def test_it_is_proved_and_cut(installed, project: Path) -> None:  # type: ignore[no-untyped-def]
    """From its FOLD text and its SVG, by readers that share no code with the program."""
    out = project.parent
    done = _run(installed, "export", str(project), "--only", "fold,svg", "-o", str(out))
    assert done.returncode == 0, done.stderr
    (fold,) = out.rglob("*.fold")
    model = fold_reader.read(fold)
    assert fold_reader.structure_faults(model) == []
    assert fold_reader.open_joints(model) == []
    assert fold_reader.penetrations(model) == []
    data = json.loads(fold.read_text())
    (frame,) = [f for f in (data, *data["file_frames"]) if "creasePattern" in f["frame_classes"]]
    wanted = file_reader.wanted(frame)
    x0, y0, _, _ = wanted.region.bounds
    cut = out / "band-band.svg"
    read = file_reader.read_svg(cut.read_bytes())
    assert file_reader.faults(read, [wanted.placed(0.0, 5.0 - x0, 5.0 - y0)]) == []


def test_it_stands_on_the_shelf_of_the_window(installed, project: Path, tmp_path: Path) -> None:  # type: ignore[no-untyped-def]
    """Drawn by the worker's process, which finds it as well, and open on the table."""
    command = [sys.executable, "-c", WINDOW, str(tmp_path), str(project)]
    done = subprocess.run(command, env=installed, capture_output=True, text=True, cwd=tmp_path)
    assert done.returncode == 0, done.stderr
    name, why, title = done.stdout.strip().split(" | ")
    assert "Band" in name
    assert why == ""
    assert title == "Band"


def test_one_that_is_broken_is_left_out_and_named(tmp_path: Path) -> None:
    """The program goes on without it; with two of one key the first is kept."""
    for name, code in (("broken", "1 / 0"), ("second", "from jadeite.core.shapes import *\nX = 3")):
        (tmp_path / f"{name}_family.py").write_text(code)
        info = tmp_path / f"{name}-1.0.dist-info"
        info.mkdir()
        (info / "METADATA").write_text(f"Metadata-Version: 2.1\nName: {name}\nVersion: 1.0\n")
        entry = f"[jadeite.families]\n{name} = {name}_family:X\n"
        (info / "entry_points.txt").write_text(entry)
    shown = _run({**os.environ, "PYTHONPATH": str(tmp_path)}, "shapes")
    assert shown.returncode == 0
    assert "tray-with-lid" in shown.stdout
    assert "“broken” of an installed package is left out: division by zero" in shown.stderr
    assert "is no ShapeFamily" in shown.stderr
