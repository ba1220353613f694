"""Boards, cures, sheets and sizes for every family: nothing is left to fall over."""

from __future__ import annotations

import pytest

from jadeite.core.contents import Block, FlatPack
from jadeite.core.pipeline import answering, arrange_contents, plan_sheets, work_up
from jadeite.core.project import Shape, Stock, Task, changed
from jadeite.core.shapes import all_families, resolve_options
from jadeite.core.sizing import size_by_paper
from tests.core.shapes.closing import BARE, FLAT, FREE, LIGHTER, brief_for, fit
from tests.depth import deep

CHART = FlatPack(name="star chart", width=120, height=90, thickness=2, mass=9)
STONE = Block(name="meteorite", length=60, width=45, height=40, mass=400, turn="upright")


@pytest.mark.parametrize("family", all_families(), ids=lambda f: f.key)
def test_every_board_and_cure_has_its_figures(family) -> None:  # type: ignore[no-untyped-def]
    """A comparison of all boards, part by part, and cures that were tried."""
    flat = family.key in FLAT
    bare = family.key in (*FREE, *BARE)
    project = answering(
        changed(Task(), contents=() if bare else (CHART if flat else STONE,)), family
    )
    if family.key in BARE:
        project = changed(project, brief=brief_for(family, (90.0, 70.0, 0.0)))
    arrangement = arrange_contents(project)
    work = work_up(project, arrangement)
    assert work.design is not None, [f.message for f in work.findings]
    assert not work.blocked, [f.message for f in work.findings]
    options = resolve_options(family, {})
    parts = [(part,) for part, _ in family.parts_made(options)]
    for focus in ((), *parts[: deep(1, len(parts))]):
        comparison = work.comparison(focus)
        assert any(meaning.figures for meaning in comparison.meanings)
    for remedy in work.remedies(work.comparison()):
        assert remedy.cure.label


@pytest.mark.parametrize("family", all_families(), ids=lambda f: f.key)
def test_every_family_is_laid_out_and_sized_by_the_paper(family) -> None:  # type: ignore[no-untyped-def]
    """One large sheet: the largest of this shape that it yields is larger than the start."""
    stock = Stock(name="roll", width=1000, height=900)
    project = changed(
        Task(),
        brief=brief_for(family, (60.0, 45.0, 40.0)),
        shape=Shape(key=family.key, options=LIGHTER.get(family.key, {})),
        stock=(stock,),
        cutter="hand",
    )
    work = work_up(project, None)
    assert work.design is not None
    sheets = plan_sheets(project, work.design)
    assert sheets.layout.unplaced == ()
    assert sheets.cutting.seconds > 0
    start = fit(family, (60.0, 45.0, 40.0))
    found = size_by_paper(project, stock, start, sheets=len(sheets.layout.sheets))
    assert min(b - a for a, b in zip(start, found.inside, strict=True)) > -1e-6
