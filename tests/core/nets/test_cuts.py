"""Every cut that is offered, in every family, can be laid out and made step by step."""

from __future__ import annotations

import pytest

from jadeite.core.nets.split import splits_of
from jadeite.core.pipeline import plan_sheets, work_up
from jadeite.core.project import Shape, Task, changed
from jadeite.core.shapes import all_families
from tests.core.shapes.closing import brief_for


@pytest.mark.parametrize("family", all_families(), ids=lambda f: f.key)
def test_every_cut_can_be_made(family) -> None:  # type: ignore[no-untyped-def]
    """A piece on which others are mounted as well; or it is refused in words.

    Both parts stay of the part of the shape that they were, with its board and colour.
    """
    brief = brief_for(family, (70.0, 60.0, 50.0))
    project = changed(Task(), shape=Shape(key=family.key), brief=brief,
                      colours={part: "#3A5F7D" for part, _ in family.parts[:1]})  # fmt: skip
    work = work_up(project, None, cures=False)
    assert work.design is not None
    before = {p.name for p in work.design.pieces}
    seen: set[int] = set()
    for piece in work.design.pieces:
        if id(piece.panels) in seen:
            continue
        seen.add(id(piece.panels))
        for split in splits_of(piece)[:4]:
            cut = changed(project, splits={piece.name: split.child})
            again = work_up(cut, None, cures=False)
            if again.design is None:
                assert again.findings[0].code in ("size-refused", "no-shape-for-it")
                continue
            sheets = plan_sheets(cut, again.design)
            mine = {p.name for p in again.design.pieces if p.part == piece.part}
            assert {p.name for p in again.design.pieces} - mine < before
            assert len({again.colours.get(name) for name in mine}) == 1
            laid = [{p.piece for p in sheet.placed} for sheet in sheets.layout.sheets]
            assert len({s.board for s, on in zip(sheets.layout.sheets, laid, strict=True)
                        if on & mine}) <= 1  # fmt: skip
            assert again.assembly is not None
            assert again.assembly.steps
