"""Dressings: a fixed order; each leaves alone what it is not asked for, and brings its parts."""

from __future__ import annotations

import ast
from itertools import islice
from pathlib import Path

import numpy as np
import pytest

import jadeite
from jadeite.core.contents import Block
from jadeite.core.dressings import (
    DRESSINGS,
    LINING,
    Asked,
    boards_of,
    parts_of,
    room_for_dressings,
)
from jadeite.core.pipeline import arrange_contents
from jadeite.core.pipeline.room import inside_of
from jadeite.core.project import Task, Window, changed
from jadeite.core.shapes import all_families, family_by_key, resolve_options
from tests.core.shapes.closing import FLAT, build, fit
from tests.depth import deep
from tests.standing import jobs, worked

SOURCES = Path(jadeite.__file__).parent / "core"


@pytest.mark.parametrize("family", all_families(), ids=lambda f: f.key)
def test_what_is_not_asked_for_leaves_the_draft_as_it_is(family) -> None:  # type: ignore[no-untyped-def]
    """The very same object: nothing is made anew for nothing."""
    draft = build(family, fit(family, (90.0, 90.0, 60.0)))
    task = changed(Task(), shape=Task().shape.model_copy(update={"key": family.key}))
    asked = Asked(task, boards_of(task, family), None)
    for dressing in DRESSINGS:
        assert dressing.dress(draft, asked) is draft


@pytest.mark.parametrize("family", [f.key for f in all_families()])
def test_every_piece_is_of_a_part_that_is_made(family: str) -> None:
    """With dressings as without: the board, the colour and the card of a part are found by it."""
    shape, seen = family_by_key(family), set()
    for task in islice(jobs(family), deep(5, 12)):
        work = worked(task)
        if work.design is None:
            continue
        options = resolve_options(shape, task.shape.options) | dict(work.design.settled)
        made = {part for part, _ in parts_of(task, shape, options)}
        own = {part for part, _ in shape.parts}
        for piece in work.design.pieces:
            assert piece.part in made, piece.name
            assert piece.board == work.boards[piece.part]
            seen.add(piece.part in own)
    assert True in seen or family in FLAT


def test_dividers_come_before_all_and_cuts_after_what_is_cut() -> None:
    """A window is cut before its overlay is, and both before the piece falls in two."""
    keys = [dressing.key for dressing in DRESSINGS]
    assert len(set(keys)) == len(keys)
    order = ("dividers", "windows", "lining-strips", "lining-sheets", "overlays", "prints",
             "names", "splits", "scores", "pressing")  # fmt: skip
    assert tuple(keys) == order


def test_no_family_knows_of_a_dressing() -> None:
    """By their imports: a shape is made without a thought of what is put on it."""
    for path in (SOURCES / "shapes").rglob("*.py"):
        for node in ast.walk(ast.parse(path.read_text())):
            names = [a.name for a in node.names] if isinstance(node, ast.Import) else []
            names += [node.module or ""] if isinstance(node, ast.ImportFrom) else []
            assert not any("dressings" in name for name in names), path


@pytest.mark.parametrize("linings", ["each", "strip"])
def test_the_inside_grows_by_the_room_of_the_linings(linings: str) -> None:
    """They stand in the hollow: sized by its contents, it is as much larger, and no more."""
    block = Block(name="tin", length=60.0, width=60.0, height=80.0)
    shape = Task().shape.model_copy(update={"key": "lantern"})
    bare = changed(Task(), shape=shape, contents=(block,), linings=linings)
    task = changed(bare, windows=(Window(piece="lantern", panel="wall-1", lined=True),))
    family = family_by_key("lantern")
    boards = boards_of(task, family)
    inside = [inside_of(t, arrange_contents(t, quick=True), boards) for t in (bare, task)]
    room = room_for_dressings(task, boards)
    assert np.subtract(inside[1], inside[0]) == pytest.approx(room)
    assert room[0] >= 2 * boards[LINING].thickness
    assert (room[2] == 0) == (linings == "strip")
    assert room_for_dressings(bare, boards) == (0.0, 0.0, 0.0)
