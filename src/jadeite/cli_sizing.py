"""A size that the paper or a plate decides, as it is typed on the command line."""

from __future__ import annotations

import argparse
import sys
from typing import TYPE_CHECKING, Any

from jadeite.core.errors import FieldError

if TYPE_CHECKING:
    from jadeite.core.project import Plate, Project

__all__ = ["plate_from", "sized_by", "sizing_arguments"]

SUCH_AS = "150x150mm, or 150x150mm,walls,wax"
MOST_SHEETS = 20  # from memory, as in the window


def sizing_arguments(parser: argparse.ArgumentParser) -> None:
    """What can be said of a plate and of sheets that decide the size."""
    say = parser.add_argument
    say(
        "--plate",
        metavar="SIZE[,AREA]",
        help="a plate that presses a pattern: 150x150mm; ,net (usual), ,walls or a panel's name, "
        ",any for any turn, and ,wax or ,ink may follow",
    )
    say(
        "--from-sheets",
        metavar="COUNT",
        help="with --grow: the largest inside that cuts from so many sheets of the first --sheet; "
        "--inside gives its proportions",
    )
    say(
        "--grow",
        choices=("all", "base", "height"),
        help="make it as large as the --plate and --from-sheets allow: all in proportion, its "
        "base, or its height",
    )


def plate_from(options: argparse.Namespace) -> Plate | None:
    """The plate as it was typed; None where there is none.

    Raises
    ------
    FieldError
        It has no size, or something else that is said of it is nothing.
    """
    from jadeite.core.project import Plate
    from jadeite.core.units import parse_face

    if not options.plate:
        return None
    first, *others = options.plate.split(",")
    width, height = parse_face(first, field="--plate")
    more: dict[str, Any] = {}
    for other in (words.strip() for words in others):
        if other in ("wax", "ink"):
            more["over"] = other
        elif other == "any":
            more["turns"] = "any"
        else:
            more["area"] = other
    try:
        return Plate(width=width, height=height, **more)
    except ValueError:
        raise FieldError(
            "--plate", f"“{options.plate[:40]}” is no plate", f"Write --plate {SUCH_AS}."
        ) from None


def sized_by(project: Project, name: str, options: argparse.Namespace) -> Project:
    """The job with an item as large as its plate and its sheets allow, if that was asked for.

    Raises
    ------
    FieldError
        There are no proportions to begin with, nothing that decides, or nothing fits.
    """
    from jadeite.core.project import Hollow, edited, task_of
    from jadeite.core.sizing import paper_words, size_by_paper, size_by_plate
    from jadeite.core.units import format_size

    if options.grow is None:
        if options.from_sheets is not None:
            raise FieldError("--from-sheets", "nothing says what grows", "Add --grow all.")
        return project
    task = task_of(project, name, None)
    if not isinstance(task.brief, Hollow) or task.brief.size is None:
        raise FieldError("--grow", "there are no proportions to keep", "Add --inside 90x60x40mm.")
    words = options.from_sheets
    if words is not None and not (words.isdigit() and 1 <= int(words) <= MOST_SHEETS):
        raise FieldError(
            "--from-sheets", f"“{words[:20]}” is no count of sheets", f"Use 1 to {MOST_SHEETS}."
        )
    stock = task.stock[0]
    if task.plate is not None:
        paper = (stock, int(words)) if words is not None else None
        found = size_by_plate(task, task.plate, task.brief.size, grow=options.grow, paper=paper)
        inside, said = found.inside, f"Inside {format_size(found.inside)} fits the plate."
    elif words is not None:
        largest = size_by_paper(task, stock, task.brief.size, sheets=int(words), grow=options.grow)
        inside, said = largest.inside, paper_words(largest)
    else:
        raise FieldError("--grow", "nothing decides how far", "Add --plate or --from-sheets.")
    print(said, file=sys.stderr)
    return edited(project, name, brief=Hollow(size=inside))
