"""Every board at hand, compared in one design; and the lightest that holds."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from jadeite.core.boards import Board, with_own
from jadeite.core.choice.floor import Floor, floor_of, plies_on
from jadeite.core.choice.meaning import Meaning, figures_of
from jadeite.core.contents import Arrangement
from jadeite.core.cutting import profile_of
from jadeite.core.dressings import DIVIDER, boards_of, build_design, parts_of
from jadeite.core.errors import FieldError
from jadeite.core.nets import Design
from jadeite.core.project import Task, changed
from jadeite.core.shapes import family_by_key, resolve_options

__all__ = ["Comparison", "compare", "lightest_for_floor", "meaning_of"]

Size = tuple[float, float, float]


@dataclass(frozen=True)
class Comparison:
    """Boards along their weight, for the parts in ``focus``."""

    focus: tuple[str, ...]
    meanings: tuple[Meaning, ...]

    @property
    def lightest(self) -> Meaning | None:
        """The lightest board that holds."""
        return next((m for m in self.meanings if m.holds), None)

    @property
    def next_lighter(self) -> Meaning | None:
        """The board below the lightest that holds; it does not."""
        best = self.lightest
        if best is None:
            return None
        below = [m for m in self.meanings if m.board.grammage < best.board.grammage]
        return below[-1] if below else None

    def of(self, key: str) -> Meaning | None:
        """What one board means."""
        return next((m for m in self.meanings if m.board.key == key), None)

    @property
    def why(self) -> str:
        """Why the lightest is the lightest, in one or two sentences."""
        best, below = self.lightest, self.next_lighter
        if best is None:
            return "None of these boards holds by itself."
        words = next((f.words for f in best.figures if f.verdict == "holds"), "")
        text = f"{best.board.title}" + (f": {words}." if words else " holds.")
        if below is not None:
            text += f" {below.board.title}, the next lighter, does not hold: {below.failing}."
        return text


def meaning_of(
    task: Task,
    arrangement: Arrangement | None,
    inside: Size,
    focus: Sequence[str],
    board: Board,
    floor: Floor,
) -> Meaning:
    """What a board means when the parts in ``focus`` are made of it."""
    family = family_by_key(task.shape.key)
    options = resolve_options(family, task.shape.options)
    chosen = boards_of(task, family) | dict.fromkeys(focus, board)
    for part, source in family.follows.items():
        if part not in task.boards and source in focus:
            chosen[part] = board
    try:
        design = build_design(family, inside, chosen, options, arrangement, task)
    except FieldError as error:
        return Meaning(board, (), f"{error.field}: {error.problem}")
    figures = figures_of(
        design,
        chosen,
        focus,
        floor,
        task.contents,
        arrangement,
        family.roof,
        task.heavier,
        profile_of(task),
        task.learned,
    )
    return Meaning(board, figures)


def compare(
    task: Task,
    arrangement: Arrangement | None,
    inside: Size,
    focus: Sequence[str] = (),
) -> Comparison:
    """What every board at hand means for a task, lightest first.

    Parameters
    ----------
    inside : (3,) float
        mm.
    focus : sequence of str, optional
        Parts to be made of the board in question; all but the dividers, and
        plies with a board of their own, when empty.
    """
    family = family_by_key(task.shape.key)
    options = resolve_options(family, task.shape.options)
    made = [part for part, _ in parts_of(task, family, options)]
    if not focus:
        focus = [p for p in made if p != DIVIDER and p not in family.when]
    floor = floor_of(task.contents, arrangement, inside, family.mouth)
    meanings = tuple(
        meaning_of(task, arrangement, inside, focus, board, floor)
        for board in with_own(task.own_boards)
    )
    return Comparison(tuple(focus), meanings)


def lightest_for_floor(
    task: Task, arrangement: Arrangement | None, inside: Size, design: Design
) -> Board | None:
    """The lightest board that holds, in the part that bears the things; None where none does.

    The same as that of a whole comparison; boards whose floor sags are passed
    over before anything is built of them.
    """
    family = family_by_key(task.shape.key)
    part = family.parts[0][0]
    floor = floor_of(task.contents, arrangement, inside, family.mouth)
    divider = boards_of(task, family)[DIVIDER]
    glued, laid = plies_on(design)
    for board in with_own(task.own_boards):
        if floor.mass > 0 and not floor.sag(board, glued, laid, divider).holds:
            continue
        if meaning_of(task, arrangement, inside, (part,), board, floor).holds:
            return board
    return None


def with_board(task: Task, focus: Sequence[str], key: str) -> Task:
    """The task with the parts in ``focus`` made of one board."""
    return changed(task, boards=task.boards | dict.fromkeys(focus, key))
