"""The whole job: each item worked up after those that it holds, and all their pieces."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from functools import cached_property

from jadeite.core.contents import Arrangement
from jadeite.core.contents.things import Triple
from jadeite.core.dressings import differing, piece_colours
from jadeite.core.findings import Finding, Level
from jadeite.core.nets import Design, Piece
from jadeite.core.pipeline.room import arrange_contents
from jadeite.core.pipeline.work import Work, work_up
from jadeite.core.project import Project, Task, circle_of, order_of, slug, task_of

__all__ = ["JobPiece", "JobWork", "circle_findings", "pieces_of", "work_up_job"]

Arranger = Callable[[str, Task], Arrangement | None]


@dataclass(frozen=True, eq=False)
class JobPiece:
    """A piece of one item, named so that no other item's piece has its name.

    ``own`` is its name within the item; ``count`` how many are cut, ``colour``
    empty where it has none, ``copy`` the number of the name that is written on it.
    """

    piece: Piece
    item: str
    own: str
    count: int
    colour: str
    copy: int | None = None


@dataclass(frozen=True, eq=False)
class JobWork:
    """Everything known of a job but its sheets; ``works`` by item, in the order of making."""

    project: Project
    works: Mapping[str, Work]
    findings: tuple[Finding, ...] = ()

    @property
    def several(self) -> bool:
        """Whether items are told apart in what is written."""
        return len(self.project.items) > 1

    @property
    def refused(self) -> Finding | None:
        """The first finding that keeps the job from being made, if any."""
        for work in self.works.values():
            if work.design is None or work.blocked:
                return work.findings[0]
        return next((f for f in self.findings if f.level is Level.BLOCKED), None)

    @property
    def whole(self) -> bool:
        """Whether every item has a design."""
        made = [work for work in self.works.values() if work.design is not None]
        return len(made) == len(self.project.items)

    @cached_property
    def pieces(self) -> tuple[JobPiece, ...]:
        """Every piece of every item that has a design; no two have the same name."""
        out: dict[str, JobPiece] = {}
        for item, work in self.works.items():
            if work.design is None:
                continue
            for cut in pieces_of(work.task, work.design, item if self.several else ""):
                name, number = cut.piece.name, 2
                while name in out:
                    name, number = f"{cut.piece.name}-{number}", number + 1
                if name != cut.piece.name:
                    cut = replace(cut, piece=replace(cut.piece, name=name))
                out[name] = cut
        return tuple(out.values())


def pieces_of(task: Task, design: Design, item: str = "") -> tuple[JobPiece, ...]:
    """The pieces of one item; with a name of the item, theirs begin with it."""
    colours, bearing = piece_colours(task, design), differing(design, task)
    out = []
    for piece in design.pieces:
        own, colour = piece.name, colours.get(piece.name, "")
        if item:
            same = piece.title.lower() == item.lower()
            name = slug(item) if own == slug(item) else f"{slug(item)}-{own}"
            title = piece.title if same else f"{item}, {piece.title}"
            piece = replace(piece, name=name, title=title)
        for number, bears in enumerate(bearing.get(own, ())):
            words = task.names[number]
            name = f"{piece.name}-{number + 1:03d}-{slug(words)}".rstrip("-")
            title = f"{piece.title}, {words}"
            named = replace(bears, name=name, title=title, part=piece.part)
            out.append(JobPiece(named, item, own, 1, colour, number))
        if own not in bearing:
            out.append(JobPiece(piece, item, own, task.count, colour))
    return tuple(out)


def work_up_job(
    project: Project,
    known: Mapping[str, Work] | None = None,
    arrange: Arranger = lambda name, task: arrange_contents(task),
    *,
    cures: bool = True,
) -> JobWork:
    """Every item of a job worked up, each after those that it holds.

    Parameters
    ----------
    known : mapping, optional
        What was worked up before, by item; it is kept where nothing of the task changed.
    arrange : callable
        How the things of a task are arranged, from the item's name and its task.

    Raises
    ------
    FieldError
        A key that does not exist (shape, board, option).
    """
    works: dict[str, Work] = {}
    solids: dict[str, tuple[Triple, float]] = {}
    found = list(circle_findings(project))
    for name in order_of(project):
        waits = [held for held in project.item(name).carried if held not in solids]
        if waits:
            found.append(_waits(name, waits[0]))
            continue
        task = task_of(project, name, solids)
        before = known.get(name) if known else None
        places = arrange(name, task)
        if before is not None and (before.task, before.arrangement) == (task, places):
            works[name] = before
        else:
            works[name] = work_up(task, places, cures=cures)
        solid = works[name].solid
        if solid is not None:
            solids[name] = solid
    return JobWork(project, works, tuple(found))


def _waits(name: str, held: str) -> Finding:
    words = f"“{name}” holds “{held}”, which is not made yet. See to “{held}” first."
    return Finding(Level.BLOCKED, "waits-for-item", words, "contents", "contents", item=name)


def circle_findings(project: Project) -> tuple[Finding, ...]:
    """That items hold one another in a circle, and those that wait for them; empty if none do."""
    circle = circle_of(project)
    if not circle:
        return ()
    words = " is in ".join(f"“{name}”" for name in (*circle, circle[0]))
    text = f"{words}: nothing can be made. Take one of them out of the contents."
    made = order_of(project)
    return tuple(
        Finding(Level.BLOCKED, "items-in-circle", text, "contents", "contents", item=name)
        for name in project.names
        if name not in made
    )
