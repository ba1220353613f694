"""The same window in every wall, with frames that look alike."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from jadeite.core.contents import Arrangement
from jadeite.core.dressings import (
    LINING,
    boards_of,
    build_design,
    pane_of,
    widths_of,
)
from jadeite.core.dressings.windows import Pane, with_window
from jadeite.core.errors import FieldError
from jadeite.core.folding import folded_faces
from jadeite.core.folding.showing import covered_openings
from jadeite.core.nets.roles import Role
from jadeite.core.pipeline.room import inside_of
from jadeite.core.project import Task, Window, changed
from jadeite.core.shapes import family_by_key, resolve_options

__all__ = ["windows_from", "windows_in_walls"]

NOTHING_MORE: Mapping[str, Any] = {}


def windows_in_walls(
    task: Task, arrangement: Arrangement | None, window: Window, *, vary: bool
) -> tuple[Window, ...]:
    """The same window in every wall of its piece that can have one.

    ``vary`` lets its pattern move on from wall to wall.
    """
    family = family_by_key(task.shape.key)
    options = resolve_options(family, task.shape.options)
    boards = boards_of(task, family)
    bare = changed(task, windows=(), usual_windows=False, overlays=())
    inside = inside_of(task, arrangement, boards)
    design = build_design(family, inside, boards, options, arrangement, bare)
    each = window.lined and task.linings == "each"
    lining = boards[LINING] if each else None

    walls = [p.name for p in design.piece(window.piece).panels if p.role is Role.WALL]
    wanted = [_moved_on(window, name, k if vary else window.number) for k, name in enumerate(walls)]
    panes = [(one, pane_of(one, task)) for one in wanted]
    widths = widths_of(design, panes, lining)

    def has_place(one: Window, pane: Pane) -> bool:
        """Whether a wall can have its window, and nothing lies over it."""
        try:
            made = with_window(
                design, one.piece, one.panel, pane, lining, widths.get((one.piece, one.panel))
            )
        except FieldError:
            return False  # glued over, or too small: it stays whole
        covered = covered_openings(made, folded_faces(made))
        return all((c.piece, c.panel) != (one.piece, one.panel) for c in covered)

    return tuple(one for one, pane in panes if has_place(one, pane))


def windows_from(
    task: Task,
    arrangement: Arrangement | None,
    where: str,
    motif: str,
    *,
    lined: bool,
    more: Mapping[str, Any] = NOTHING_MORE,
) -> tuple[Window, ...]:
    """Windows as they are named in words: ``piece/panel``, or ``walls`` of the first piece.

    ``more`` are other fields of a window, by name.

    Raises
    ------
    FieldError
        There is no such piece or pattern, or no wall is wide enough.
    """
    pane_of(Window(piece="walls", panel="walls", motif=motif), task)
    if where != "walls":
        piece, _, panel = where.partition("/")
        return (Window(piece=piece, panel=panel or piece, motif=motif, lined=lined, **more),)
    family = family_by_key(task.shape.key)
    options = resolve_options(family, task.shape.options)
    boards = boards_of(task, family)
    inside = inside_of(task, arrangement, boards)
    design = build_design(family, inside, boards, options, arrangement, task)
    first = design.body.name
    wanted = Window(piece=first, panel="walls", motif=motif, lined=lined, **more)
    made = windows_in_walls(task, arrangement, wanted, vary=True)
    if not made:
        raise FieldError(
            "windows", "no wall is wide enough for its frame", "Use a larger inside, or no lining."
        )
    return made


def _moved_on(window: Window, panel: str, number: int) -> Window:
    """A window in another panel, its pattern moved on."""
    return window.model_copy(update={"panel": panel, "number": number})
