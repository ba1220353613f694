"""Promises that the repository itself makes."""

from __future__ import annotations

import ast
import json
import os
import re
import shutil
import subprocess
import sys
from pathlib import Path

import pytest

from jadeite.core.shapes import all_families

ROOT = Path(__file__).parents[1]
CORE = sorted((ROOT / "src/jadeite/core").rglob("*.py"))
MARKS = re.compile(
    r"published|common practice|from memory|exact|design rule|rounding|hairline|picture|shape|"
    r"setting|degrees|format|no measure",
    re.IGNORECASE,
)


def constants(path: Path) -> list[tuple[int, str, str]]:
    """Module-level numbers: line, name, and the comment beside or above."""
    source = path.read_text(encoding="utf-8")
    lines = source.splitlines()
    out = []
    for node in ast.parse(source).body:
        if not isinstance(node, ast.Assign) or not isinstance(node.targets[0], ast.Name):
            continue
        name = node.targets[0].id
        numbers = [
            n
            for n in ast.walk(node.value)
            if isinstance(n, ast.Constant) and isinstance(n.value, float)
        ]
        if name.isupper() and numbers:
            first = node.lineno - 1
            above = []
            while first > 0 and lines[first - 1].strip() != "":
                first -= 1
                above.append(lines[first])
            out.append((node.lineno, name, "\n".join([*above, lines[node.lineno - 1]])))
    return out


def test_every_number_carries_its_mark() -> None:
    """Published source named, common practice, from memory, or what else it is."""
    found = [(p, *c) for p in CORE for c in constants(p)]
    assert len(found) > 60
    bare = [
        f"{p.relative_to(ROOT)}:{line} {name}"
        for p, line, name, words in found
        if not MARKS.search(words)
    ]
    assert bare == []


def test_the_core_knows_no_window() -> None:
    """Also checked by the import contracts."""
    for path in CORE:
        assert "PyQt6" not in path.read_text(encoding="utf-8"), path


def test_every_public_function_of_the_core_is_explained() -> None:
    """A docstring on every public class and function."""
    bare = []
    for path in CORE:
        top = ast.parse(path.read_text(encoding="utf-8")).body
        classes = [n for n in top if isinstance(n, ast.ClassDef) and n.name[0] != "_"]
        for node in [*top, *(m for c in classes for m in c.body)]:
            if not isinstance(node, ast.FunctionDef | ast.ClassDef):
                continue
            if not node.name.startswith("_") and ast.get_docstring(node) is None:
                bare.append(f"{path.relative_to(ROOT)}: {node.name}")
    assert bare == []


def test_versions_are_pinned() -> None:
    """Exact versions, one for each package."""
    lines = [
        x
        for x in (ROOT / "requirements.lock").read_text().splitlines()
        if x and not x.startswith("#")
    ]
    assert all(re.fullmatch(r"[A-Za-z0-9_.-]+==[A-Za-z0-9_.]+", x) for x in lines)
    names = [x.split("==")[0].lower() for x in lines]
    assert len(set(names)) == len(names)


def test_readme_starts_with_the_two_commands_and_its_pictures_exist() -> None:
    """And every relative link leads somewhere."""
    text = (ROOT / "README.md").read_text(encoding="utf-8")
    head = text.splitlines()[2:4]
    assert "make demo" in head[0]
    assert "make test" in head[1]
    for target in re.findall(r"\]\(([^)]+)\)", text):
        assert (ROOT / target).exists(), target


def test_the_plugin_of_the_virtual_display_has_its_libraries() -> None:
    """ldd finds every library that Qt's xcb plugin wants."""
    import PyQt6

    plugin = Path(PyQt6.__file__).parent / "Qt6/plugins/platforms/libqxcb.so"
    if shutil.which("ldd") is None:
        pytest.skip("no ldd here")
    told = subprocess.run(["ldd", str(plugin)], capture_output=True, text=True, check=True).stdout
    assert "not found" not in told


def test_demo_walks_the_stations_on_a_virtual_display(tmp_path: Path) -> None:
    """The real program on the real plugin: a picture of every station."""
    if shutil.which("xvfb-run") is None:
        pytest.skip("no virtual display here")
    env = {k: v for k, v in os.environ.items() if k not in ("QT_QPA_PLATFORM", "DISPLAY")}
    env |= {
        "XDG_STATE_HOME": str(tmp_path / "state"),
        "XDG_CONFIG_HOME": str(tmp_path / "config"),
        "XDG_DATA_HOME": str(tmp_path / "data"),
        "JADEITE_WALK": str(tmp_path / "pictures"),
    }
    program = "import sys; from jadeite.cli import main; sys.exit(main(['--demo']))"
    done = subprocess.run(
        ["xvfb-run", "-a", "-s", "-screen 0 1400x900x24", sys.executable, "-c", program],
        env=env,
        capture_output=True,
        text=True,
        timeout=900,
        check=False,
    )
    assert done.returncode == 0, done.stderr
    pictures = sorted((tmp_path / "pictures").glob("*.png"))
    assert len(pictures) == 19
    assert all(p.stat().st_size > 20_000 for p in pictures)
    assert not list((tmp_path / "state").rglob("*.journal"))


def test_the_demo_uses_only_the_invented_scenario() -> None:
    """Hollin Rigg Sky Watch, eyepieces, filters."""
    data = json.loads((ROOT / "src/jadeite/assets/demo.jadeite").read_text(encoding="utf-8"))
    assert "Hollin Rigg Sky Watch" in data["notes"]
    (item,) = data["items"]
    assert {c["name"] for c in item["contents"]} == {"eyepiece", "filter case", "cloth"}


def test_the_gallery_of_families_is_as_the_registry_says(monkeypatch) -> None:  # type: ignore[no-untyped-def]
    """`make gallery` was run: the page tells of every option as it is, a picture lies beside."""
    monkeypatch.syspath_prepend(str(ROOT / "tools"))
    import gallery

    page = (ROOT / "docs/families.md").read_text(encoding="utf-8")
    assert page == gallery.text()
    named = set(re.findall(r"families/([a-z-]+[.]png)", page))
    assert named == {path.name for path in (ROOT / "docs/families").glob("*.png")}
    assert len(named) == len(all_families())


def test_every_module_can_be_imported() -> None:
    """Window, command line, worker, benchmarks: no type check sees these."""
    names = [
        ".".join(path.relative_to(base).with_suffix("").parts)
        for base, folder in ((ROOT / "src", "jadeite"), (ROOT, "benchmarks"))
        for path in sorted((base / folder).rglob("*.py"))
    ]
    assert len(names) > 200
    code = "import importlib, sys\nfor name in sys.argv[1:]: importlib.import_module(name)"
    done = subprocess.run(
        [sys.executable, "-c", code, *names],
        cwd=ROOT, capture_output=True, text=True,
        env={**os.environ, "PYTHONPATH": str(ROOT), "QT_QPA_PLATFORM": "offscreen"},
    )  # fmt: skip
    assert done.returncode == 0, done.stderr


SHAPES = re.compile(r"\((n|m|k), ?\d?\)|\(\d,\)|\(\d, \d\)|4 x 4")


def test_functions_that_take_arrays_say_their_shape_and_those_that_raise_say_when() -> None:
    """Of every public function and method of the core, nested ones left out."""
    bare = []
    for path in CORE:
        top = ast.parse(path.read_text(encoding="utf-8")).body
        classes = [n for n in top if isinstance(n, ast.ClassDef) and n.name[0] != "_"]
        for node in [*top, *(m for c in classes for m in c.body)]:
            if not isinstance(node, ast.FunctionDef) or node.name.startswith("_"):
                continue
            words = ast.get_docstring(node) or ""
            takes = [
                a for a in node.args.args if a.annotation and "Floats" in ast.unparse(a.annotation)
            ]
            if takes and "Parameters" not in words and not SHAPES.search(words):
                bare.append(f"{path.relative_to(ROOT)}: {node.name}, shape of {takes[0].arg}")
            raises = any(isinstance(r, ast.Raise) and r.exc is not None for r in ast.walk(node))
            if raises and "Raises" not in words:
                bare.append(f"{path.relative_to(ROOT)}: {node.name}, what it raises")
    assert bare == []
