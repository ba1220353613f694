"""What goes in: the room that it needs, its arrangements, its places in the closed design."""

from __future__ import annotations

from collections.abc import Callable, Mapping

from jadeite.core.boards import Board, least_grammage, with_own
from jadeite.core.contents import OBJECTIVES, Arrangement, Room, arrange, arrange_all
from jadeite.core.errors import FieldError
from jadeite.core.folding import Body
from jadeite.core.judgement import (
    mass_of_contents,
)
from jadeite.core.nets import Design
from jadeite.core.parts import (
    DIVIDER,
    boards_of,
    divided,
    lining_room,
)
from jadeite.core.placing import bodies_in
from jadeite.core.project import Task
from jadeite.core.shapes import family_by_key, resolve_options

__all__ = [
    "Size",
    "arrange_contents",
    "arrangements_of",
    "bodies_of",
    "inside_of",
    "room_of",
    "thing_names",
]

Size = tuple[float, float, float]


def room_of(task: Task) -> Room:
    """What the task's shape says of its hollow."""
    family = family_by_key(task.shape.key)
    options = resolve_options(family, task.shape.options)
    boards = boards_of(task, family)
    return Room(
        lambda size: family.board_area(size, boards, options),
        least_grammage(with_own(task.own_boards), mass_of_contents(task)),
        task.inside,
        family.smallest,
        family.mouth,
        task.clearance,
        task.dividers if divided(task, family) else "none",
        boards[DIVIDER].thickness,
    )


def arrange_contents(
    task: Task, step: Callable[[float, str], None] | None = None, *, quick: bool = False
) -> Arrangement | None:
    """The best arrangement of the task's contents; may take seconds unless ``quick``."""
    return arrange(task.contents, room_of(task), task.objective, step=step, quick=quick)


def arrangements_of(
    task: Task, step: Callable[[float, str], None] | None = None
) -> dict[str, Arrangement]:
    """The best arrangement for every objective, the task's own first."""
    keys = [task.objective, *(k for k in OBJECTIVES if k != task.objective)]
    return arrange_all(task.contents, room_of(task), keys, step=step)


def thing_names(task: Task) -> list[str]:
    """Names of the things, with their counts."""
    return [t.name if t.count == 1 else f"{t.count} × {t.name}" for t in task.contents]


def bodies_of(
    task: Task, arrangement: Arrangement | None, design: Design, facets: int = 24
) -> tuple[Body, ...]:
    """The things in their places in the shared space of the closed design."""
    if arrangement is None:
        return ()
    mouth = family_by_key(task.shape.key).mouth
    return bodies_in(task.contents, arrangement, design, mouth, facets)


def inside_of(task: Task, arrangement: Arrangement | None, boards: Mapping[str, Board]) -> Size:
    """The inside in mm: as typed, or what the contents and linings need.

    Raises
    ------
    FieldError
        There is neither.
    """
    if task.inside is not None:
        return task.inside
    if arrangement is None:
        raise FieldError(
            "contents",
            "nothing is to go in yet",
            "Add a thing, or type the inside size.",
        )
    x, y, z = arrangement.inside
    dx, dy, dz = lining_room(task, boards)
    return x + dx, y + dy, z + dz
