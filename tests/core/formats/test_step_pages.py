"""Printed steps: no words over others, none beyond the page, on either paper."""

from __future__ import annotations

import itertools
from collections import defaultdict

import pytest

from jadeite.core.formats.page import LEADING, MARGIN, Page
from jadeite.core.formats.pages import PAPERS
from jadeite.core.formats.step_pages import step_pages
from jadeite.core.pictures import Label
from jadeite.core.pipeline import work_up
from jadeite.core.project import Hollow, Shape, Span, Task, changed

LAPPED = {"gather": "laps", "rise": 45.0, "inner-rise": 65.0, "petals": "5 5 5 4 4 3 3",
          "centre-piece": "strip", "stem": "wire", "slant": 20.0}  # fmt: skip
JOBS = {
    "flower": changed(
        Task(), brief=Span(width=160.0), shape=Shape(key="layered-flower", options=LAPPED)
    ),
    "branch": changed(Task(), brief=Span(width=280.0), shape=Shape(key="branch", options={})),
    "chest": changed(Task(), brief=Hollow(size=(90, 60, 40)), shape=Shape(key="chest")),
    "carton": changed(Task(), brief=Hollow(size=(45, 70, 40)), shape=Shape(key="carton")),
}


def lines_of(page: Page) -> dict[float, list[Label]]:
    """Lines of text by the column in which they begin, from above."""
    found: dict[float, list[Label]] = defaultdict(list)
    for picture, clip in page.layers:
        if clip is None:
            for item in picture.items:
                assert isinstance(item, Label)
                found[item.x].append(item)
    return {x: sorted(lines, key=lambda one: one.y) for x, lines in found.items()}


@pytest.mark.parametrize("paper", sorted(PAPERS))
@pytest.mark.parametrize("job", sorted(JOBS))
def test_words_of_a_step_end_before_the_next_begins(job: str, paper: str) -> None:
    """Line by line in each column; a step of many words takes them from its picture."""
    work = work_up(JOBS[job], None)
    assert work.assembly is not None
    pages = step_pages(work, PAPERS[paper], "Assembly")
    assert len(pages) == -(-len(work.assembly.steps) // 6)
    longest = 0
    for page in pages:
        for lines in lines_of(page).values():
            longest = max(longest, len(lines))
            for one, other in itertools.pairwise(lines):
                apart = (one.size + other.size) / 2 * LEADING
                assert other.y - one.y >= 0.85 * apart, (one.text, other.text)
            assert lines[-1].y <= page.height - MARGIN
        for _, clip in page.layers:
            assert clip is None or clip[3] >= 15.0  # a picture is still seen
    assert longest > 10
