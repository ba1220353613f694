"""From the document to everything that is computed from it.

    Task -> fit -> design -> proof and findings
                        |-> layout -> cutting plan
                        '-> lift -> assembly plan

Each arrow is one function with one result; :func:`work_up` runs the quick
ones, :func:`plan_sheets` lays out and plans the cutting.
"""

from jadeite.core.dressings import boards_of, divided, parts_of
from jadeite.core.judgement import mass_of_contents
from jadeite.core.pipeline.at_hand import AtHand, at_hand
from jadeite.core.pipeline.job import (
    JobPiece,
    JobWork,
    circle_findings,
    pieces_of,
    work_up_job,
)
from jadeite.core.pipeline.places import places_for
from jadeite.core.pipeline.printing import (
    PICTURES,
    outline_option,
    print_from,
    with_figure,
    with_prints,
)
from jadeite.core.pipeline.room import (
    answering,
    arrange_contents,
    arrangements_of,
    bodies_of,
    room_of,
    thing_names,
    usual_brief,
)
from jadeite.core.pipeline.sheets import SheetWork, plan_job_sheets, plan_sheets, tightened
from jadeite.core.pipeline.walls import windows_from, windows_in_walls
from jadeite.core.pipeline.work import Work, work_up

__all__ = [
    "PICTURES",
    "AtHand",
    "JobPiece",
    "JobWork",
    "SheetWork",
    "Work",
    "answering",
    "arrange_contents",
    "arrangements_of",
    "at_hand",
    "boards_of",
    "bodies_of",
    "circle_findings",
    "divided",
    "mass_of_contents",
    "outline_option",
    "parts_of",
    "pieces_of",
    "places_for",
    "plan_job_sheets",
    "plan_sheets",
    "print_from",
    "room_of",
    "thing_names",
    "tightened",
    "usual_brief",
    "windows_from",
    "windows_in_walls",
    "with_figure",
    "with_prints",
    "work_up",
    "work_up_job",
]
