"""Mutated files: only our own errors, within a little time and memory.

A few hundred here; 100,000 project files, 5,000 worked up, 50,000 outlines and
10,000 board libraries in ``make soak``.
"""

from __future__ import annotations

import json
import os
import random
from pathlib import Path

import pytest

from jadeite.core.boards import CATALOGUE
from jadeite.core.errors import JadeiteError
from jadeite.core.formats.board_library import boards_csv, boards_from_csv, boards_json, load_boards
from jadeite.core.formats.project_file import project_from_text, project_text
from jadeite.core.formats.svg_outline import outline_from_text
from jadeite.core.pipeline import arrange_contents, plan_job_sheets, work_up_job
from jadeite.core.project import Project
from tests import fuzz

EXAMPLES = sorted(Path(__file__).parents[3].joinpath("examples").glob("*.jadeite"))
TEXTS = [path.read_text(encoding="utf-8") for path in EXAMPLES]
SHAPES = (
    '<path d="M10 10 C20 0 40 0 50 10 S80 20 90 40 L50 90 Z"/>',
    '<path d="M0 0 H40 V30 h-20 v20 q-10 -10 -20 0 t-10 5 z m5 5 h10 v10 h-10 z"/>',
    '<circle cx="30" cy="40" r="12.5"/><ellipse cx="80" cy="20" rx="9" ry="4"/>',
    '<rect x="5" y="6" width="50" height="20" rx="4"/>',
    '<polygon points="0,0 40,10 60,50 20,70"/><polyline points="1 1 5 9 12 3 1 1"/>',
    '<path d="M5 5 A20 30 15 1 1 70 40 A10 10 0 0 0 5 5 Z"/>',
    '<g transform="rotate(30) scale(2 0.5) translate(5,9)"><path d="M0 0h9v9h-9z"/></g>',
    '<defs><g id="a"><rect width="9" height="7"/></g></defs><use href="#a" x="4"/>'
    '<use xlink:href="#a" y="30"/>',
)
HEAD = (
    '<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" '
    'width="100mm" height="100mm" viewBox="0 0 100 100">'
)
LETTERS = "MmLlHhVvCcSsQqTtAaZz"


def read_project(seed: int) -> None:
    """A project file, mutated as data and as text."""
    rng = random.Random(seed)
    text = rng.choice(TEXTS)
    if rng.random() < 0.6:
        data = fuzz.mutated_data(json.loads(text), rng, rng.randint(1, 5))
        text = json.dumps(data, ensure_ascii=rng.random() < 0.7)
    if rng.random() < 0.6:
        text = fuzz.mutated_text(text, rng)
    try:
        project = project_from_text(text, "odd.jadeite")
    except JadeiteError as error:
        words = str(error)
    else:
        words = ""
        assert project_from_text(project_text(project)) == project
    words.encode()
    assert "\n" not in words


def odd_project(rng: random.Random) -> Project | None:
    """A project that reads, however odd."""
    text = rng.choice(TEXTS)
    for _ in range(30):
        data = fuzz.mutated_data(json.loads(text), rng, rng.randint(1, 4))
        try:
            return project_from_text(json.dumps(data), "odd.jadeite")
        except JadeiteError:
            continue
    return None


def work_up_project(seed: int) -> None:
    """An odd project worked up, laid out, lifted and made step by step."""
    project = odd_project(random.Random(seed))
    if project is None:
        return
    try:
        job = work_up_job(project, None, lambda _, task: arrange_contents(task, quick=True))
        if job.pieces:
            plan_job_sheets(job)
        for work in job.works.values():
            assert work.design is None or (work.assembly is not None and work.assembly.steps)
    except JadeiteError as error:
        str(error).encode()


def read_outline_text(seed: int) -> None:
    """An SVG outline with odd paths, transforms, references and numbers."""
    rng = random.Random(seed)
    shapes = [rng.choice(SHAPES) for _ in range(rng.randint(1, 4))]
    if rng.random() < 0.4:
        words = []
        for _ in range(rng.randint(2, 60)):
            words.append(rng.choice(LETTERS))
            words += [f"{rng.uniform(-90, 90):.2f}" for _ in range(rng.choice([1, 2, 4, 6, 7]))]
        shapes.append(f'<path d="M0 0 {" ".join(words)}"/>')
    text = f"{HEAD}{''.join(shapes)}</svg>"
    if rng.random() < 0.7:
        text = fuzz.mutated_text(text, rng)
    if rng.random() < 0.1:
        text = text.replace("<path", "<path d='" + "M0 0l1 1z" * rng.randint(1, 9000) + "'/><path")
    try:
        outline = outline_from_text(text, "odd.svg")
    except JadeiteError as error:
        str(error).encode()
        return
    assert outline.rings


def read_boards(seed: int) -> None:
    """A board library, as CSV and as JSON."""
    rng = random.Random(seed)
    some = [b for b in CATALOGUE if rng.random() < 0.5] or list(CATALOGUE[:1])
    text = boards_csv(some)
    if rng.random() < 0.5:
        text = boards_json(some)
        if rng.random() < 0.7:
            data = fuzz.mutated_data(json.loads(text), rng, rng.randint(1, 5))
            text = json.dumps(data, ensure_ascii=rng.random() < 0.7)
    if rng.random() < 0.7:
        text = fuzz.mutated_text(text, rng)
    if rng.random() < 0.02:
        text = text * 400
    path = Path(f"/tmp/jadeite-boards-{os.getpid()}.{'csv' if text[:1] != '{' else 'json'}")
    try:
        path.write_text(text, encoding="utf-8", errors="surrogatepass")
        boards = load_boards(path)
        assert boards_from_csv(boards_csv(boards)) is not None
    except JadeiteError as error:
        str(error).encode()
    finally:
        path.unlink(missing_ok=True)


CASES = {
    "projects": read_project,
    "worked": work_up_project,
    "outlines": read_outline_text,
    "boards": read_boards,
}
FEW = {"projects": 200, "worked": 15, "outlines": 60, "boards": 50}
MANY = {"projects": 100_000, "worked": 5_000, "outlines": 50_000, "boards": 10_000}


@pytest.mark.parametrize("name", CASES)
def test_mutated_files_bring_only_our_own_errors(name) -> None:  # type: ignore[no-untyped-def]
    """Within 10 s of CPU and 500 MB each."""
    found = fuzz.run_many(CASES[name], FEW[name])
    assert not found, found[0][1]


@pytest.mark.soak
@pytest.mark.parametrize("name", CASES)
def test_soak_many_mutated_files(name) -> None:  # type: ignore[no-untyped-def]
    """The same with many more."""
    found = fuzz.run_many(CASES[name], MANY[name], 1_000)
    assert not found, "\n".join(words for _, words in found[:20])
