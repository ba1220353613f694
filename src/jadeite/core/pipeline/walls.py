"""The same window in every wall, with one even frame."""

from __future__ import annotations

import math

from jadeite.core.contents import Arrangement
from jadeite.core.dressings import (
    LINING,
    boards_of,
    build_design,
    pane_of,
)
from jadeite.core.dressings.windows import with_window
from jadeite.core.errors import FieldError
from jadeite.core.folding import folded_faces
from jadeite.core.folding.showing import covered_openings
from jadeite.core.nets.roles import Role
from jadeite.core.pipeline.room import inside_of
from jadeite.core.project import Task, Window, changed
from jadeite.core.shapes import family_by_key, resolve_options

__all__ = ["windows_from", "windows_in_walls"]


def windows_in_walls(
    task: Task, arrangement: Arrangement | None, window: Window, *, vary: bool
) -> tuple[Window, ...]:
    """The same window in every wall of its piece that can have one.

    ``vary`` lets its pattern move on from wall to wall.
    """
    family = family_by_key(task.shape.key)
    options = resolve_options(family, task.shape.options)
    boards = boards_of(task, family)
    bare = changed(task, windows=(), overlays=())
    inside = inside_of(task, arrangement, boards)
    design = build_design(family, inside, boards, options, arrangement, bare)
    each = window.lined and task.linings == "each"
    lining = boards[LINING] if each else None

    def frame_of(one: Window) -> float | None:
        """The frame that a window gets in a panel; None where it has no place."""
        try:
            made = with_window(design, one.piece, one.panel, pane_of(one, task), lining)
        except FieldError:
            return None  # glued over, or too small: it stays whole
        faces = folded_faces(made)
        if any((c.piece, c.panel) == (one.piece, one.panel) for c in covered_openings(made, faces)):
            return None  # another ply lies over it: nothing would shine through
        return made.sizes["window-1-frame"].value

    walls = [p.name for p in design.piece(window.piece).panels if p.role is Role.WALL]
    wanted = [
        _moved_on(window, name, k if vary else window.number, window.frame)
        for k, name in enumerate(walls)
    ]
    frames = [frame for frame in map(frame_of, wanted) if frame is not None]
    # one frame for all: an uneven one is seen first
    widest = math.ceil(10 * max(frames, default=window.frame)) / 10
    even = [_moved_on(one, one.panel, one.number, widest) for one in wanted]
    return tuple(one for one in even if frame_of(one) is not None)


def windows_from(
    task: Task, arrangement: Arrangement | None, where: str, motif: str, *, lined: bool
) -> tuple[Window, ...]:
    """Windows as they are named in words: ``piece/panel``, or ``walls`` of the first piece.

    Raises
    ------
    FieldError
        There is no such piece or pattern, or no wall is wide enough.
    """
    pane_of(Window(piece="walls", panel="walls", motif=motif), task)
    if where != "walls":
        piece, _, panel = where.partition("/")
        return (Window(piece=piece, panel=panel or piece, motif=motif, lined=lined),)
    family = family_by_key(task.shape.key)
    options = resolve_options(family, task.shape.options)
    boards = boards_of(task, family)
    inside = inside_of(task, arrangement, boards)
    design = build_design(family, inside, boards, options, arrangement, task)
    first = design.body.name
    wanted = Window(piece=first, panel="walls", motif=motif, lined=lined)
    made = windows_in_walls(task, arrangement, wanted, vary=True)
    if not made:
        raise FieldError(
            "windows", "no wall is wide enough for its frame", "Use a larger inside, or no lining."
        )
    return made


def _moved_on(window: Window, panel: str, number: int, frame: float) -> Window:
    """A window in another panel, its pattern moved on."""
    return Window(**{**window.model_dump(), "panel": panel, "number": number, "frame": frame})
