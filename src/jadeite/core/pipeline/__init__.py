"""From the document to everything that is computed from it.

    Project -> fit -> design -> proof and findings
                        |-> layout -> cutting plan
                        '-> lift -> assembly plan

Each arrow is one function with one result; :func:`work_up` runs the quick
ones, :func:`plan_sheets` lays out and plans the cutting.
"""

from jadeite.core.judgement import mass_of_contents
from jadeite.core.parts import boards_of, divided, parts_of
from jadeite.core.pipeline.room import (
    arrange_contents,
    arrangements_of,
    bodies_of,
    room_of,
    thing_names,
)
from jadeite.core.pipeline.sheets import SheetWork, plan_sheets
from jadeite.core.pipeline.walls import windows_from, windows_in_walls
from jadeite.core.pipeline.work import Work, work_up

__all__ = [
    "SheetWork",
    "Work",
    "arrange_contents",
    "arrangements_of",
    "boards_of",
    "bodies_of",
    "divided",
    "mass_of_contents",
    "parts_of",
    "plan_sheets",
    "room_of",
    "thing_names",
    "windows_from",
    "windows_in_walls",
    "work_up",
]
