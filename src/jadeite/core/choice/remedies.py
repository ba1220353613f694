"""What makes a weak design hold, and what each costs in board and minutes."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from jadeite.core.assembly import adhesive_by_key, assembly_plan, lift_of
from jadeite.core.boards import board_by_key, with_own
from jadeite.core.choice.compare import Comparison, meaning_of
from jadeite.core.choice.floor import floor_of
from jadeite.core.choice.meaning import Meaning
from jadeite.core.contents import Arrangement
from jadeite.core.contents.cells import UP
from jadeite.core.dressings import boards_of, build_design
from jadeite.core.errors import FieldError
from jadeite.core.findings import Cure
from jadeite.core.nets import Design, piece_area
from jadeite.core.project import Task, with_change
from jadeite.core.shapes import family_by_key, resolve_options

__all__ = ["Remedy", "remedies_for", "stiffener_for"]

STIFFENER = "stiffener"
Size = tuple[float, float, float]


@dataclass(frozen=True)
class Remedy:
    """One way to make it hold: the change, what it then means, and what it costs.

    ``board`` is the further board in mm², ``minutes`` the further time of
    hands, ``grams`` the further weight; any of them may be below 0.
    """

    key: str
    cure: Cure
    meaning: Meaning
    board: float
    minutes: float
    grams: float

    @property
    def holds(self) -> bool:
        """Whether the design then holds."""
        return self.meaning.holds


def _measure(task: Task, design: Design) -> tuple[float, float, float]:
    """Board in mm², minutes of hands, and grams."""
    plan = assembly_plan(design, lift_of(design), adhesive_by_key(task.adhesive), [])
    areas = [(piece_area(p), p.board.grammage) for p in design.pieces]
    return sum(a for a, _ in areas), plan.hands / 60, sum(a * g / 1e6 for a, g in areas)


def _design(task: Task, arrangement: Arrangement | None, inside: Size) -> Design:
    family = family_by_key(task.shape.key)
    options = resolve_options(family, task.shape.options)
    return build_design(family, inside, boards_of(task, family), options, arrangement, task)


def remedies_for(
    task: Task,
    arrangement: Arrangement | None,
    inside: Size,
    comparison: Comparison,
    divided: tuple[Arrangement, Size] | None = None,
) -> tuple[Remedy, ...]:
    """Ways to make the task's own board hold, those that do first, then the cheapest.

    Parameters
    ----------
    comparison : Comparison
        Of the same task; the heavier board comes from it.
    divided : (Arrangement, inside), optional
        The same things between dividers; without it these are not offered.
    """
    family = family_by_key(task.shape.key)
    first = family.parts[0][0]
    own = comparison.of(task.board_of(comparison.focus[0]))
    if own is None:
        return ()
    weak = {f.key for f in own.figures if f.verdict == "fails"}
    if not weak and not own.refused:
        return ()
    try:
        before = _measure(task, _design(task, arrangement, inside))
    except FieldError:
        before = None
    changes: list[tuple[str, str, tuple[tuple[str, object], ...]]] = []
    best = comparison.lightest
    if best is not None:
        fields = tuple((f"boards.{part}", best.board.key) for part in comparison.focus)
        changes.append(("heavier", f"Use {best.board.title.lower()}", fields))
    for key, label, against, pairs in family.cures:
        if not weak & set(against):
            continue
        if key == STIFFENER and (cure := stiffener_for(task, arrangement, inside)):
            label, pairs = cure.label, cure.changes
        changes.append((key, label, pairs))
    out = []
    for key, label, pairs in changes:
        remedy = _tried(task, key, label, pairs, comparison.focus, arrangement, inside, before)
        if remedy is not None:
            out.append(remedy)
    if divided is not None and "floor" in weak and family.mouth == UP and first in comparison.focus:
        cells, size = divided
        put = (("dividers", "fitted"),)
        words = "Put in dividers, glued down"
        remedy = _tried(task, "dividers", words, put, comparison.focus, cells, size, before)
        if remedy is not None:
            out.append(remedy)
    if not any(remedy.holds for remedy in out):
        out += _both(task, comparison, weak, arrangement, inside, before)
    return tuple(sorted(out, key=lambda r: (not r.holds, r.board, r.minutes)))


def stiffener_for(task: Task, arrangement: Arrangement | None, inside: Size) -> Cure | None:
    """The lightest board that holds the floor when it is glued on as a second ply.

    None where the shape has no second floor, or no board at hand is stiff enough.
    """
    family = family_by_key(task.shape.key)
    pairs = next((c for key, _, _, c in family.cures if key == STIFFENER), None)
    if pairs is None:
        return None
    floor = floor_of(task.contents, arrangement, inside, family.mouth)
    own = boards_of(task, family)[family.parts[0][0]]
    for ply in with_own(task.own_boards):
        if floor.sag(own, (ply,)).holds:
            fields = tuple((p, ply.key if p.startswith("boards.") else v) for p, v in pairs)
            return Cure(f"Glue {ply.title.lower()} on the floor", fields)
    return None


def _both(
    task: Task,
    comparison: Comparison,
    weak: set[str],
    arrangement: Arrangement | None,
    inside: Size,
    before: tuple[float, float, float] | None,
) -> list[Remedy]:
    """A cure of the shape together with the lightest heavier board that then holds."""
    family = family_by_key(task.shape.key)
    own = board_by_key(task.board_of(comparison.focus[0]), task.own_boards)
    heavier = [
        m.board for m in comparison.meanings if m.board.grammage > own.grammage and m.board.folds
    ]
    out = []
    for key, label, against, pairs in family.cures:
        if not weak & set(against) or key == STIFFENER:
            continue
        for board in heavier:
            fields = (*((f"boards.{part}", board.key) for part in comparison.focus), *pairs)
            words = f"{label}, in {board.title.lower()}"
            both = f"{key}-heavier"
            remedy = _tried(
                task, both, words, fields, comparison.focus, arrangement, inside, before
            )
            if remedy is not None and remedy.holds:
                out.append(remedy)
                break
    return out


def _tried(
    task: Task,
    key: str,
    label: str,
    pairs: Sequence[tuple[str, object]],
    focus: Sequence[str],
    arrangement: Arrangement | None,
    inside: Size,
    before: tuple[float, float, float] | None,
) -> Remedy | None:
    """A change made on paper and measured; None where it cannot be made or changes nothing."""
    then = task
    for path, value in pairs:
        then = with_change(then, path, value)
    if then == task:
        return None
    family = family_by_key(then.shape.key)
    board = board_by_key(then.board_of(focus[0]), then.own_boards)
    floor = floor_of(then.contents, arrangement, inside, family.mouth)
    meaning = meaning_of(then, arrangement, inside, focus, board, floor)
    if meaning.refused:
        return None
    after = _measure(then, _design(then, arrangement, inside))
    more = [a - b for a, b in zip(after, before or after, strict=True)]
    return Remedy(key, Cure(label, tuple(pairs)), meaning, more[0], more[1], more[2])
