"""What may be put on any shape: a step from draft to draft, and the parts that it brings."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace

from jadeite.core.boards import Board
from jadeite.core.contents import Arrangement
from jadeite.core.errors import FieldError
from jadeite.core.findings import Cure, Finding, Level
from jadeite.core.nets.model import Design
from jadeite.core.project import Task
from jadeite.core.shapes import ShapeFamily

__all__ = ["Asked", "Dressing", "Part", "Size", "without"]

Size = tuple[float, float, float]


@dataclass(frozen=True, eq=False)
class Asked:
    """What a draft is dressed for: the task, the board of each part, where the things stand."""

    task: Task
    boards: Mapping[str, Board]
    arrangement: Arrangement | None


@dataclass(frozen=True)
class Part:
    """A part that a dressing brings, and when; with the board and colour that it usually has.

    ``board`` and ``colour`` are empty where it takes those of the task.
    """

    key: str
    title: str
    wanted: Callable[[Task, ShapeFamily], bool]
    board: str = ""
    colour: str = ""


def _no_room(_: Task, __: Mapping[str, Board], ___: ShapeFamily) -> Size:
    return 0.0, 0.0, 0.0


@dataclass(frozen=True)
class Dressing:
    """One step from draft to draft, which leaves alone what it is not asked for.

    ``room`` says by how much in mm a hollow is made larger for it.
    """

    key: str
    dress: Callable[[Design, Asked], Design]
    parts: tuple[Part, ...] = ()
    room: Callable[[Task, Mapping[str, Board], ShapeFamily], Size] = _no_room


def without(draft: Design, what: str, where: str, error: FieldError, cure: Cure) -> Design:
    """The draft without something that one panel cannot have, and why not."""
    words = f"No {what}: {error.problem}. {error.cure}"
    finding = Finding(Level.LOOK, f"{what}-refused", words, where, "shape", cure)
    return replace(draft, findings=(*draft.findings, finding))
