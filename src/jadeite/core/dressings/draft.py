"""The design of a task: its family's draft, dressed in the fixed order."""

from __future__ import annotations

from collections.abc import Mapping

from jadeite.core.boards import USUAL, Board, Fits
from jadeite.core.contents import Arrangement, form_of
from jadeite.core.dressings.dressing import Asked, Size
from jadeite.core.dressings.parts import DRESSINGS
from jadeite.core.nets.model import Design
from jadeite.core.project import Task
from jadeite.core.shapes import OptionValue, ShapeFamily, measured_for, settled_design

__all__ = ["bare_design", "build_design"]


def bare_design(
    family: ShapeFamily,
    inside: Size,
    boards: Mapping[str, Board],
    options: Mapping[str, OptionValue],
    fits: Fits = USUAL,
) -> Design:
    """A shape of an inside size in mm with nothing on it, measured for a block.

    Raises
    ------
    FieldError
        The shape cannot be of that size or board.
    """
    return settled_design(family, inside, boards, measured_for(family, options), fits=fits)


def build_design(
    family: ShapeFamily,
    inside: Size,
    boards: Mapping[str, Board],
    options: Mapping[str, OptionValue],
    arrangement: Arrangement | None,
    task: Task,
) -> Design:
    """The design of a task for an inside size in mm, with all that is put on it.

    A shape that may be measured for something round is, when the task's
    things are round and stand on one another in the middle.

    Raises
    ------
    FieldError
        The shape cannot be of that size or board.
    """
    options = measured_for(family, options, form_of(arrangement, task.contents))
    free = frozenset(options) - set(task.shape.options)
    draft = settled_design(family, inside, boards, options, free, task.fits)
    asked = Asked(task, boards, arrangement)
    for dressing in DRESSINGS:
        draft = dressing.dress(draft, asked)
    return draft
