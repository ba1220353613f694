"""The windows that a task asks for: each cut, and lined if that is wanted, or left out with why."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from contextlib import suppress
from dataclasses import replace

from jadeite.core.boards import Board
from jadeite.core.contents import Light
from jadeite.core.dressings.dressing import Asked, Dressing, Part, Size, without
from jadeite.core.dressings.frames import alike
from jadeite.core.dressings.shine import LEAST_OPEN, OPENER, dark_finding, shares_of
from jadeite.core.dressings.upright import along_walls, seen_upright
from jadeite.core.dressings.windows import LEAST_FRAME, Pane, framed, with_window
from jadeite.core.errors import FieldError
from jadeite.core.findings import Cure
from jadeite.core.nets.model import Design, Floats
from jadeite.core.nets.roles import Role
from jadeite.core.patterns import MOTIFS, Motif, own_motif
from jadeite.core.project import PLAIN, Task, Window
from jadeite.core.shapes import ShapeFamily, family_by_key
from jadeite.core.shapes.extra import LINING

__all__ = [
    "WINDOWS",
    "is_lined",
    "linings_of",
    "motif_of",
    "pane_of",
    "widths_of",
    "windows_made",
    "windows_of",
]

LEANS = 1.6  # room for a lining behind a wall that leans, in thicknesses; from memory


def motif_of(key: str, task: Task, field: str) -> Motif | None:
    """A pattern by its key, or one of the maker's own; None for a plain cut-out.

    Raises
    ------
    FieldError
        On ``field``: there is no such pattern.
    """
    if key == PLAIN:
        return None
    own = {o.key: own_motif(o.key, o.title, o.rings) for o in task.outlines}
    motif = MOTIFS.get(key) or own.get(key)
    if motif is None:
        known = ", ".join((PLAIN, *MOTIFS, *own))
        raise FieldError(field, f"“{key[:40]}” is no pattern", f"Use one of: {known}.")
    return motif


def pane_of(window: Window, task: Task) -> Pane:
    """What is wanted of a window, its motif found by name.

    Raises
    ------
    FieldError
        There is no such motif.
    """
    motif = motif_of(window.motif, task, f"windows.{window.piece}")
    whole, even = window.tabs == "whole", window.border == "even"
    sheet = window.lined and linings_of(task) == "sheet"
    return Pane(motif, window.frame, window.size, window.number, whole, even, sheet)


def widths_of(
    draft: Design, windows: Sequence[tuple[Window, Pane]], lining: Board | None
) -> dict[tuple[str, str], Floats]:
    """Widths of the frames' sides by panel, mm: alike where panels look alike.

    A panel that can have no window is left out.
    """
    places, frames = [], []
    for window, pane in windows:
        try:
            draft, frame = framed(
                draft, window.piece, window.panel, pane, lining if window.lined else None
            )
        except FieldError:
            continue
        piece = draft.piece(window.piece)
        places.append((window.piece, window.panel))
        frames.append((frame, seen_upright(draft, piece, piece.panel(window.panel))))
    return {where: frame.widths for where, frame in zip(places, alike(frames), strict=True)}


def windows_of(task: Task, design: Design) -> tuple[Window, ...]:
    """The windows of a task: those that were chosen, else those that its shape has at first.

    ``design`` is the shape with or without them.
    """
    motif = family_by_key(task.shape.key).window
    if task.windows or not (task.usual_windows and motif):
        return task.windows
    body = design.body
    walls = [panel.name for panel in body.panels if panel.role is Role.WALL]
    return tuple(
        Window(piece=body.name, panel=name, motif=motif, number=k, lined=True)
        for k, name in enumerate(walls)
    )


def linings_of(task: Task) -> str:
    """How windows of a task are lined: as it says, or as its shape is at first."""
    family = family_by_key(task.shape.key)
    usual = task.usual_windows and not task.windows and family.window and family.sheet
    return "sheet" if usual else task.linings


def windows_made(task: Task, design: Design) -> tuple[Window, ...]:
    """The windows that a design has: those of its task, or those that its shape has at first."""
    if task.windows:
        return task.windows
    usual = (w.model_copy(update={"motif": design.motif}) for w in windows_of(task, design))
    return tuple(
        w for w in usual
        if any(o.kind == "window" for o in design.piece(w.piece).panel(w.panel).openings)
    )  # fmt: skip


def _usual(draft: Design, task: Task, lining: Board | None) -> tuple[Window, ...]:
    """Windows that a shape has at first: of a pattern that opens its walls well, where they fit."""
    made = windows_of(task, draft)
    task = task.model_copy(update={"windows": made, "linings": linings_of(task)})
    for motif in dict.fromkeys((*(w.motif for w in made[:1]), *OPENER, PLAIN)):
        windows = tuple(w.model_copy(update={"motif": motif}) for w in made)
        opened = _opened(draft, windows, task, lining)
        if all(share == 0.0 or share >= LEAST_OPEN for share in opened) and any(opened):
            return tuple(w for w, share in zip(windows, opened, strict=True) if share)
    return ()


def _running(draft: Design, windows: Sequence[tuple[Window, Pane]]) -> list[tuple[Window, Pane]]:
    """The same, where patterns that run round all walls know how far round each begins."""
    lines = {w.piece: along_walls(draft, w.piece) for w, _ in windows if w.run == "round"}
    return [
        (w, replace(pane, round_=lines[w.piece].get(w.panel)) if w.run == "round" else pane)
        for w, pane in windows
    ]


def _dress(draft: Design, asked: Asked) -> Design:
    task = asked.task
    lining = asked.boards[LINING] if linings_of(task) == "each" else None
    if not task.windows:
        usual = _usual(draft, task, lining)
        task = task.model_copy(update={"windows": usual, "linings": linings_of(task)})
        draft = replace(draft, motif=usual[0].motif) if usual else draft
    windows: list[tuple[Window, Pane]] = []
    for window in task.windows:
        try:
            windows.append((window, pane_of(window, task)))
        except FieldError as error:
            cure = _left_whole(window, task)
            draft = without(draft, "window", f"{window.piece}/{window.panel}", error, cure)
    bare = draft
    windows = _running(draft, windows)
    widths = widths_of(draft, windows, lining)
    for window, pane in windows:
        where = window.piece, window.panel
        behind = lining if window.lined else None
        try:
            draft = with_window(draft, *where, pane, behind, widths.get(where))
        except FieldError as error:
            cure = _narrower(draft, window, task, behind)
            draft = without(draft, "window", "/".join(where), error, cure)

    def tried(others: Sequence[Window]) -> list[float]:
        return _opened(bare, others, task, lining)

    asked_for = [window for window, _ in windows]
    lit = any(isinstance(thing, Light) for thing in task.contents)
    dark = dark_finding(asked_for, shares_of(draft, asked_for), tried, lit=lit)
    return draft if dark is None else replace(draft, findings=(*draft.findings, dark))


def _opened(
    draft: Design, windows: Sequence[Window], task: Task, lining: Board | None
) -> list[float]:
    """Open shares of a draft's panels with other windows than a task has; 0 for one refused."""
    panes = _running(draft, [(window, pane_of(window, task)) for window in windows])
    widths = widths_of(draft, panes, lining)
    for window, pane in panes:
        where = window.piece, window.panel
        behind = lining if window.lined else None
        with suppress(FieldError):
            draft = with_window(draft, *where, pane, behind, widths.get(where))
    return shares_of(draft, windows)


def _left_whole(window: Window, task: Task) -> Cure:
    others = tuple(w for w in task.windows if w is not window)
    return Cure("Leave it whole", (("windows", others),))


def _narrower(draft: Design, window: Window, task: Task, lining: Board | None) -> Cure:
    """The widest frame that leaves a window, in half millimetres; or none."""

    def framed(halves: int) -> Window:
        return window.model_copy(update={"frame": halves / 2})

    def fits(halves: int) -> bool:
        try:
            pane = pane_of(framed(halves), task)
            with_window(draft, window.piece, window.panel, pane, lining)
        except FieldError:
            return False
        return True

    low, high = math.ceil(2 * LEAST_FRAME), math.ceil(2 * window.frame) - 1
    if low > high or not fits(low):
        return _left_whole(window, task)
    while low < high:  # halved, as each try cuts the whole pattern anew
        middle = (low + high + 1) // 2
        low, high = (middle, high) if fits(middle) else (low, middle - 1)
    windows = tuple(framed(low) if w is window else w for w in task.windows)
    return Cure(f"Use {low / 2:.1f} mm", (("windows", windows),))


def is_lined(task: Task, family: ShapeFamily) -> bool:
    """Whether any window of a task is lined, or those are that its shape has at first."""
    usual = task.usual_windows and bool(family.window) and not task.windows
    return usual or any(window.lined for window in task.windows)


def _room(task: Task, boards: Mapping[str, Board], family: ShapeFamily) -> Size:
    """Linings stand in the hollow."""
    if linings_of(task) != "each" or not is_lined(task, family):
        return 0.0, 0.0, 0.0
    behind = 2 * LEANS * boards[LINING].thickness
    return behind, behind, behind


WINDOWS = Dressing(
    "windows",
    _dress,
    (Part(LINING, "Linings", is_lined, board="translucent"),),  # from memory
    _room,
)
