"""The items of a job: how they hang together, and what is done to them.

An item that holds another is computed after it, so items form a graph without
circles; a circle is said, never followed.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from graphlib import CycleError, TopologicalSorter
from typing import Any

from jadeite.core.contents.things import MadeThing, Triple
from jadeite.core.errors import FieldError
from jadeite.core.project.document import Item, Project, Task, changed, slug, with_change
from jadeite.core.project.fields import Trial

__all__ = [
    "circle_of",
    "edited",
    "free_name",
    "holders_of",
    "order_of",
    "put_into",
    "renamed",
    "task_of",
    "trials_of",
    "with_item",
    "with_item_change",
    "with_task",
    "without_item",
]


def circle_of(project: Project) -> tuple[str, ...]:
    """Names of items that hold one another in a circle, in their order; empty where none do."""
    try:
        TopologicalSorter({i.name: i.carried for i in project.items}).prepare()
    except CycleError as error:
        circle: list[str] = error.args[1][:-1]
        return tuple(circle)
    return ()


def order_of(project: Project) -> tuple[str, ...]:
    """Names of the items, each after those that it holds, else in their own order.

    What stands in a circle, or waits for one that does, is left out.
    """
    done: list[str] = []
    left = list(project.items)
    while ready := [item for item in left if set(item.carried) <= set(done)]:
        done.append(ready[0].name)
        left.remove(ready[0])
    return tuple(done)


def holders_of(project: Project, name: str) -> tuple[str, ...]:
    """Names of the items that hold an item."""
    return tuple(item.name for item in project.items if name in item.carried)


def task_of(project: Project, name: str, solids: Mapping[str, tuple[Triple, float]] | None) -> Task:
    """One item with its job; ``solids`` are extents in mm and mass in g of the items it holds.

    With None their sizes are left open: such a task is shown, never worked up.

    Raises
    ------
    FieldError
        An item among its contents has no size yet.
    """
    item = project.item(name)
    contents = []
    for thing in item.contents:
        if isinstance(thing, MadeThing) and solids is not None:
            if thing.item not in solids:
                raise FieldError(
                    "contents",
                    f"“{thing.item}” goes in, and is not made yet",
                    f"See to “{thing.item}” first.",
                )
            thing = thing.measured(*solids[thing.item])
        contents.append(thing)
    values = {
        field: getattr(item if field in Item.model_fields else project, field)
        for field in Task.model_fields
    }
    return Task.model_construct(**{**values, "contents": tuple(contents)})


def edited(project: Project, name: str, **fields: Any) -> Project:
    """The project with other fields, each of the item of this name or of the job.

    Raises
    ------
    FieldError
        A field or value that is not allowed.
    """
    own = {field: fields.pop(field) for field in tuple(fields) if field in Item.model_fields}
    if own:
        item = changed(project.item(name), **own)
        fields["items"] = tuple(item if i.name == name else i for i in project.items)
    return changed(project, **fields)


def with_task(project: Project, name: str, task: Task) -> Project:
    """The project with what a task says of its item and of the job.

    Raises
    ------
    FieldError
        The project does not allow it.
    """
    item = project.item(name)
    fields = {f: getattr(task, f) for f in Task.model_fields}
    fields["contents"] = tuple(t.asked() if isinstance(t, MadeThing) else t for t in task.contents)
    now = {f: getattr(item if f in Item.model_fields else project, f) for f in fields}
    return edited(project, name, **{f: v for f, v in fields.items() if v != now[f]})


def with_item_change(project: Project, name: str, path: str, value: Any) -> Project:
    """Set one dotted field of an item or of the job; None removes an entry.

    Raises
    ------
    FieldError
        No such field, or a value that is not allowed.
    """
    if path.partition(".")[0] not in Item.model_fields:
        return with_change(project, path, value)
    item = with_change(project.item(name), path, value)
    return changed(project, items=tuple(item if i.name == name else i for i in project.items))


def free_name(project: Project, wanted: str) -> str:
    """The wanted name, with a number behind it where another item has it."""
    taken = {slug(name) for name in project.names}
    base = wanted.strip()[:50] or "thing"
    if not slug(base):
        base = f"thing {base}"
    if slug(base) not in taken:
        return base
    number = 2
    while slug(f"{base} {number}") in taken:
        number += 1
    return f"{base} {number}"


def with_item(project: Project, item: Item) -> Project:
    """The project with one more item at its end; trials so far are said to be of the first.

    Raises
    ------
    FieldError
        Its name is taken, or there are too many.
    """
    first = project.names[0]
    trials = tuple(t if t.item else t.model_copy(update={"item": first}) for t in project.trials)
    return changed(project, items=(*project.items, item), trials=trials)


def without_item(project: Project, name: str) -> Project:
    """The project without an item.

    Raises
    ------
    FieldError
        It is the last, or another item holds it.
    """
    project.item(name)
    holders = holders_of(project, name)
    if holders:
        words = ", ".join(f"“{h}”" for h in holders)
        raise FieldError("item", f"“{name}” is in {words}", f"Take it out of {words} first.")
    if len(project.items) == 1:
        raise FieldError("item", f"“{name}” is all that is made", "Add another first.")
    trials = tuple(t for t in project.trials if t.item != name)
    items = tuple(i for i in project.items if i.name != name)
    return changed(project, items=items, trials=trials)


def renamed(project: Project, name: str, new: str) -> Project:
    """The project with another name for an item, wherever it is named.

    Raises
    ------
    FieldError
        The name is taken, or none.
    """
    project.item(name)

    def named(item: Item) -> Item:
        contents = tuple(
            t.model_copy(update={"item": new}) if isinstance(t, MadeThing) and t.item == name else t
            for t in item.contents
        )
        own = new if item.name == name else item.name
        return changed(item, name=own, contents=contents)

    trials = tuple(
        t.model_copy(update={"item": new}) if t.item == name else t for t in project.trials
    )
    return changed(project, items=tuple(named(i) for i in project.items), trials=trials)


def put_into(project: Project, name: str, holder: str) -> Project:
    """The project with an item among the contents of another.

    Raises
    ------
    FieldError
        It would hold itself, by however many others.
    """
    project.item(name)
    thing = MadeThing(name=name, item=name)
    item = project.item(holder)
    if name in item.carried:
        return project
    new = changed(item, contents=(*item.contents, thing))
    out = changed(project, items=tuple(new if i.name == holder else i for i in project.items))
    if circle := circle_of(out):
        raise FieldError("item", f"“{holder}” would be in itself ({_round(circle)})")
    return out


def _round(names: Iterable[str]) -> str:
    return " in ".join(f"“{n}”" for n in names)


def trials_of(project: Project, name: str) -> tuple[Trial, ...]:
    """The trials of a made thing; those that name none are of the first."""
    first = project.names[0]
    return tuple(trial for trial in project.trials if (trial.item or first) == name)
