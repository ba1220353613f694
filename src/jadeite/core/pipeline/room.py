"""What goes in: the room that it needs, its arrangements, its places in the closed design."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import replace

import numpy as np

from jadeite.core.boards import Board, least_grammage, with_own
from jadeite.core.contents import (
    OBJECTIVES,
    AnyThing,
    Arrangement,
    Room,
    arrange,
    arrange_all,
)
from jadeite.core.dressings import (
    DIVIDER,
    boards_of,
    divided,
    room_for_dressings,
)
from jadeite.core.errors import FieldError
from jadeite.core.folding import Body, ball_body
from jadeite.core.judgement import (
    mass_of_contents,
)
from jadeite.core.nets import Design
from jadeite.core.placing import bodies_in, bodies_on
from jadeite.core.project import Brief, Face, Hollow, Shape, Span, Task, changed
from jadeite.core.shapes import OptionValue, ShapeFamily, family_by_key, resolve_options

__all__ = [
    "Size",
    "answering",
    "arrange_contents",
    "arrangements_of",
    "asked_of",
    "bodies_of",
    "bought_bodies",
    "inside_of",
    "room_of",
    "thing_names",
    "things_of",
    "usual_brief",
]

Size = tuple[float, float, float]
WORDS = {"hollow": "inside", "face": "face", "span": "finished width"}


def things_of(task: Task, family: ShapeFamily) -> tuple[AnyThing, ...]:
    """The contents, each as it goes into a shape of this family.

    Raises
    ------
    FieldError
        The shape is not for one of them.
    """
    if family.takes is None:
        return task.contents
    options = resolve_options(family, task.shape.options)
    return tuple(family.takes(thing, options) for thing in task.contents)


def usual_brief(family: ShapeFamily, *, sized: bool) -> Brief:
    """What is asked of a family at first; ``sized`` gives a flat thing a size to begin with."""
    width, height = family.starts
    kind = family.answers[0]
    if kind == "span":
        return Span(width=width, height=height or None)
    return Face(size=family.starts if sized else None) if kind == "face" else Hollow()


def answering(task: Task, family: ShapeFamily) -> Task:
    """The task in a shape, with a brief that this answers: its own where it does."""
    brief: Brief = task.brief
    if brief.kind not in family.answers:
        brief = usual_brief(family, sized=not task.contents)
    windows = task.windows if task.shape.key == family.key else ()
    return changed(
        task, brief=brief, shape=Shape(key=family.key), windows=windows, usual_windows=not windows
    )


def asked_of(
    task: Task,
    family: ShapeFamily,
    boards: Mapping[str, Board],
    options: Mapping[str, OptionValue],
) -> Size | None:
    """The size that is asked for, as the family builds it, in mm; None where the contents give it.

    Raises
    ------
    FieldError
        The family does not answer such a brief.
    """
    brief = task.brief
    if brief.kind not in family.answers:
        usual = usual_brief(family, sized=False)
        raise FieldError(
            "size",
            f"the {family.title.lower()} is not sized by its {WORDS[brief.kind]}",
            f"Size it by its {WORDS[family.answers[0]]}.",
            ((("brief", usual.model_dump()),),),
        )
    if isinstance(brief, Span):
        return brief.width, brief.height or 0.0, 0.0
    if brief.size is None:
        return None
    if isinstance(brief, Hollow):
        return brief.size
    if family.within is not None:
        return family.within(brief.size, boards, options)
    return *brief.size, 0.0


def room_of(task: Task) -> Room:
    """What the task's shape says of its hollow, or of its face."""
    family = family_by_key(task.shape.key)
    options = resolve_options(family, task.shape.options)
    boards = boards_of(task, family)
    fits = task.fits
    if fits.own is None and family.border is not None:
        fits = replace(fits, own=family.border(options))
    return Room(
        lambda size: family.board_area(size, boards, options),
        least_grammage(with_own(task.own_boards), mass_of_contents(task)),
        asked_of(task, family, boards, options),
        family.least,
        family.mouth,
        fits,
        task.dividers if divided(task, family) else "none",
        boards[DIVIDER].thickness,
    )


def arrange_contents(
    task: Task, step: Callable[[float, str], None] | None = None, *, quick: bool = False
) -> Arrangement | None:
    """The best arrangement of the task's contents; may take seconds unless ``quick``.

    None where there are none, or where they have no place in such a shape.
    """
    try:
        things, room = things_of(task, family_by_key(task.shape.key)), room_of(task)
    except FieldError:  # said where the task is worked up
        return None
    return arrange(things, room, task.objective, step=step, quick=quick)


def arrangements_of(
    task: Task, step: Callable[[float, str], None] | None = None
) -> dict[str, Arrangement]:
    """The best arrangement for every objective, the task's own first."""
    keys = [task.objective, *(k for k in OBJECTIVES if k != task.objective)]
    try:
        things, room = things_of(task, family_by_key(task.shape.key)), room_of(task)
    except FieldError:
        return {}
    return arrange_all(things, room, keys, step=step)


def thing_names(task: Task) -> list[str]:
    """Names of the things, with their counts."""
    return [t.name if t.count == 1 else f"{t.count} × {t.name}" for t in task.contents]


def bodies_of(
    task: Task, arrangement: Arrangement | None, design: Design, facets: int = 24
) -> tuple[Body, ...]:
    """The things in their places in the shared space of the closed design."""
    if arrangement is None:
        return ()
    family = family_by_key(task.shape.key)
    things = things_of(task, family)
    if design.hollow is None:
        return bodies_on(things, arrangement, design)
    return bodies_in(things, arrangement, design, family.mouth, facets)


def bought_bodies(design: Design) -> tuple[Body, ...]:
    """What is bought and seen on the closed design."""
    return tuple(
        replace(ball_body(one.name, one.across, np.array(one.centre)), fixed=True)
        for one in design.bought
        if one.centre is not None
    )


def inside_of(task: Task, arrangement: Arrangement | None, boards: Mapping[str, Board]) -> Size:
    """The size that the family builds, in mm: as typed, or what contents and linings need.

    Raises
    ------
    FieldError
        There is neither, or the shape is not for them.
    """
    family = family_by_key(task.shape.key)
    options = resolve_options(family, task.shape.options)
    asked = asked_of(task, family, boards, options)
    things_of(task, family)
    raised = 0.0
    if family.border is not None and arrangement is not None:
        raised = max(place.low[2] + place.solid[2] for place in arrangement.places)
    if asked is not None:
        return (asked[0], asked[1], raised) if family.border is not None else asked
    if arrangement is None:
        hollow = family.answers[0] == "hollow"
        raise FieldError(
            "contents",
            "nothing is to go in yet" if hollow else "it has no size yet",
            f"Add a thing, or choose {'a fixed inside' if hollow else 'its size'}.",
        )
    x, y, z = arrangement.inside
    if family.border is not None:
        return x, y, raised
    dx, dy, dz = room_for_dressings(task, boards)
    return x + dx, y + dy, z + dz
