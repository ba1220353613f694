"""What laying out is for: fewer sheets, on a batch of flowers."""

from __future__ import annotations

import math
from collections import Counter, defaultdict

import pytest

from jadeite.core.nets import piece_area
from jadeite.core.pipeline import plan_job_sheets, work_up_job
from jadeite.core.project import Shape, Span, Task, changed
from tests.jobs import project_of


@pytest.mark.parametrize("width", [50.0, 60.0, 70.0, 80.0, 90.0])
def test_twelve_flowers_take_one_sheet_more_than_their_area_at_most(width: float) -> None:
    """Counted for each tone by itself, as each is a sheet of its own.

    Of larger ones no layout was found that does: from 110 mm a packer with 20 s and an endless
    strip (spyrrow) needs two more as well, as a ring of five petals fills little more than half
    of its circle.
    """
    task = changed(
        Task(), brief=Span(width=width), copies=12, shape=Shape(key="layered-flower", options={})
    )
    job = work_up_job(project_of(task), cures=False)
    layout = plan_job_sheets(job).layout
    assert layout.unplaced == ()
    area: dict[str, float] = defaultdict(float)
    pieces = {own.piece.name: own.piece for own in job.pieces}
    for sheet in layout.sheets:
        for place in sheet.placed:
            area[sheet.board] += piece_area(pieces[place.piece])
    stock = layout.sheets[0].stock
    least = sum(math.ceil(whole / (stock.width * stock.height)) for whole in area.values())
    used = Counter(sheet.board for sheet in layout.sheets)
    assert sum(used.values()) <= least + 1, (used, area)
    assert layout.fewest >= least
