"""What lets a piece lie on a sheet: other making, a smaller reach, cuts, or the knife."""

from __future__ import annotations

from collections.abc import Set
from dataclasses import dataclass, field, replace

import numpy as np

from jadeite.core.cutting import profile_of
from jadeite.core.errors import FieldError
from jadeite.core.findings import Cure, Level
from jadeite.core.nets import Design, Piece
from jadeite.core.nets.halves import HALVES_WAYS
from jadeite.core.nets.split import Split, best_split, extent_of, split_along
from jadeite.core.pipeline.cures import cured
from jadeite.core.pipeline.job import pieces_of
from jadeite.core.pipeline.laying import laid_out
from jadeite.core.pipeline.room import arrange_contents
from jadeite.core.pipeline.work import work_up
from jadeite.core.project import Task
from jadeite.core.proof import prove
from jadeite.core.shapes import family_by_key, resolve_options

__all__ = ["Known", "sheet_cure"]

MOST_CUTS = 5  # of one piece; from memory, more parts are a puzzle
BY_HAND = Cure("Cut it by hand, with knife and ruler", (("cutter", "hand"),))


@dataclass(eq=False)
class Known:
    """What has been tried for one item: parts are often helped by the same change."""

    cures: dict[str, Cure | None] = field(default_factory=dict)  # by part
    made: dict[Cure, tuple[Task, Design] | None] = field(default_factory=dict)  # with a cure taken


def sheet_cure(task: Task, design: Design, piece: Piece, known: Known) -> Cure | None:
    """What lets all of a piece lie on a sheet; tried, so that it does.

    ``known`` are the cures of parts that have been sought before.
    """
    if piece.part not in known.cures:
        known.cures[piece.part] = _made_otherwise(task, known, piece.part)
    return (
        known.cures[piece.part]
        or _cuts(task, design, piece.name)
        or _knife(task, known, piece.part)
    )


def _made_otherwise(task: Task, known: Known, part: str) -> Cure | None:
    """Changes of the shape that make all pieces of a part small enough, the mildest."""
    family = family_by_key(task.shape.key)
    changes: tuple[tuple[str, object], ...] = ()
    if part in family.smaller:
        made = Cure(*family.smaller[part])
        if cured(task, made) != task:
            if _all_lie(task, known, made, part):
                return made
            changes = made.changes
    if part not in family.lessens:
        return None
    key, least, step, words = family.lessens[part]
    now = float(resolve_options(family, task.shape.options)[key])
    tries = [
        Cure(words.format(f"{value:g}"), (*changes, (f"shape.options.{key}", float(value))))
        for value in np.arange(least, now - step / 2, step)
    ]
    # the least does if any does; of the others the largest that does is found by halving
    first, last = 0, len(tries)
    while first < last:
        middle = (first + last) // 2
        if _all_lie(task, known, tries[middle], part):
            first = middle + 1
        else:
            last = middle
    return tries[first - 1] if first else None


def _knife(task: Task, known: Known, part: str) -> Cure | None:
    """The knife reaches all of a sheet; None where that does not do either."""
    key = f"{part} by hand"
    if key not in known.cures:
        known.cures[key] = BY_HAND if _all_lie(task, known, BY_HAND, part) else None
    return known.cures[key]


def _all_lie(task: Task, known: Known, cure: Cure, part: str) -> bool:
    """Whether every piece of a part lies on a sheet once a cure is taken."""
    if cure not in known.made:
        known.made[cure] = _made_with(task, cure)
    made = known.made[cure]
    if made is None:
        return False
    task, design = made
    return not _too_large(task, design, {p.name for p in design.pieces if p.part == part})


def _made_with(task: Task, cure: Cure) -> tuple[Task, Design] | None:
    """What is made once a cure is taken; None where it does not hold."""
    try:
        task = cured(task, cure)
        work = work_up(task, arrange_contents(task, quick=True), cures=False)
    except FieldError:
        return None
    return None if work.design is None or work.blocked else (task, work.design)


def _too_large(task: Task, design: Design, names: Set[str]) -> set[str]:
    """Which of some pieces lie on no sheet, even alone; alike ones are tried once."""
    pieces = [piece for piece in pieces_of(task, design) if piece.own in names]
    once = {id(piece.piece.panels): replace(piece, count=1) for piece in pieces}
    left = {name for name, _ in laid_out(task, tuple(once.values())).unplaced}
    kinds = {kind for kind, piece in once.items() if piece.piece.name in left}
    return {piece.own for piece in pieces if id(piece.piece.panels) in kinds}


def _cuts(task: Task, design: Design, name: str) -> Cure | None:
    """The cut, or the few cuts, after which every part of a piece lies on a sheet."""
    profile, margin = profile_of(task), 2 * profile_of(task).margin
    rooms = [
        (min(w, profile.reach[0]) - margin, min(h, profile.reach[1]) - margin)
        for stock in task.stock
        for w, h in ((stock.width, stock.height), (stock.height, stock.width))
    ]
    made, parts = design, {name}
    splits: list[Split] = []
    while len(splits) < MOST_CUTS:
        unplaced = _too_large(task, made, parts)
        if not unplaced:
            break
        worst = max(unplaced, key=lambda n: extent_of(made.piece(n).panels))
        if worst in task.splits or any(split.piece == worst for split in splits):
            return None  # a task keeps one cut for each piece
        split = best_split(made, made.piece(worst), rooms, _closes)
        if split is None:
            return None
        before = {p.name for p in made.pieces}
        made = split_along(made, worst, split.child)
        parts |= {p.name for p in made.pieces} - before
        splits.append(split)
    else:
        return None
    changes = tuple((f"splits.{split.piece}", split.child) for split in splits)
    if len(splits) > 1:
        return Cure(f"Cut it into {len(splits) + 1} parts", changes)
    across = splits[0].child in HALVES_WAYS
    return Cure(f"Cut it {'' if across else 'in two '}{splits[0].title}", changes)


def _closes(design: Design) -> bool:
    try:
        return not any(f.level is Level.BLOCKED for f in prove(design)[1])
    except ValueError:  # a cut beside a fold leaves panels that do not meet
        return False
