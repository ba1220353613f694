"""Sheets that are wanting: said by what is wanting, and ended by the cure that is offered."""

from __future__ import annotations

import pytest

from jadeite.core.pipeline import plan_job_sheets, work_up_job
from jadeite.core.project import Hollow, Stock, Task, changed, with_item_change
from tests.jobs import project_of

SHEET = Stock(name="12 × 12 in", width=304.8, height=304.8)


def told(project):  # type: ignore[no-untyped-def]
    """Findings of the sheets of a job."""
    return plan_job_sheets(work_up_job(project, cures=False)).findings


def taken(project, finding):  # type: ignore[no-untyped-def]
    """The job once a cure is taken, as the window takes it."""
    for path, value in finding.cure.changes:
        project = with_item_change(project, finding.item or project.names[0], path, value)
    return project


@pytest.mark.parametrize("copies", [3, 8])
@pytest.mark.parametrize("count", [0, 1, 2])
def test_too_few_sheets_say_how_many_more(copies: int, count: int) -> None:
    """With so many more all pieces lie; with one fewer they do not."""
    stock = (SHEET.model_copy(update={"count": count}),)
    task = changed(Task(), brief=Hollow(size=(110.0, 90.0, 40.0)), copies=copies, stock=stock)
    project = project_of(task)
    (finding,) = told(project)
    assert finding.code == "stock-runs-out"
    cured = taken(project, finding)
    more = cured.stock[0].count - count
    assert f"{more} more of 12 × 12 in will do" in finding.message
    assert told(cured) == ()
    fewer = changed(task, stock=(SHEET.model_copy(update={"count": count + more - 1}),))
    assert [f.code for f in told(project_of(fewer))] == ["stock-runs-out"]


def test_a_board_of_which_there_is_no_sheet() -> None:
    """It is named, and a sheet of it is offered; one in another colour is told apart."""
    text = SHEET.model_copy(update={"board": "text"})
    task = changed(Task(), brief=Hollow(size=(60.0, 40.0, 20.0)), stock=(text,))
    project = project_of(task)
    (finding,) = told(project)
    assert finding.code == "no-sheet-of-board"
    assert "is of medium card, for 2 pieces" in finding.message
    assert told(taken(project, finding)) == ()
    blue = SHEET.model_copy(update={"board": "medium-card", "colour": "#0000ff"})
    (finding,) = told(project_of(changed(task, stock=(blue,))))
    assert "medium card in this colour" in finding.message
    assert told(taken(project_of(changed(task, stock=(blue,))), finding)) == ()


def test_too_large_is_not_too_few() -> None:
    """A piece larger than any sheet is said to be so, however few there are."""
    stock = (SHEET.model_copy(update={"count": 1}),)
    task = changed(Task(), brief=Hollow(size=(400.0, 300.0, 100.0)), stock=stock)
    assert {f.code for f in told(project_of(task))} == {"piece-fits-no-sheet"}
