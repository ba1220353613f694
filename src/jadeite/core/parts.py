"""The parts that a task makes, and the board of each."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import replace

from jadeite.core.boards import Board, board_by_key
from jadeite.core.contents import AnyThing, Arrangement, Loose
from jadeite.core.contents.cells import UP
from jadeite.core.errors import FieldError
from jadeite.core.findings import Cure, Finding, Level
from jadeite.core.nets import Design
from jadeite.core.nets.mesh import mesh_of
from jadeite.core.nets.split import split_along
from jadeite.core.patterns import MOTIFS, own_motif
from jadeite.core.project import PLAIN, Task, Window
from jadeite.core.shapes import OptionValue, ShapeFamily, family_by_key, settled_design
from jadeite.core.shapes.dividers import with_dividers
from jadeite.core.shapes.extra import DIVIDER, LINING, OVERLAY, STIFFENER
from jadeite.core.shapes.lining_strip import AIR as STRIP_AIR
from jadeite.core.shapes.lining_strip import with_lining_strip
from jadeite.core.shapes.overlays import with_overlay
from jadeite.core.shapes.windows import LEAST_FRAME, Pane, with_window

__all__ = [
    "DIVIDER",
    "LINING",
    "OVERLAY",
    "STIFFENER",
    "boards_of",
    "build_design",
    "divided",
    "lining_room",
    "pane_of",
    "parts_of",
    "piece_colours",
    "round_form",
    "with_fold_kind",
]

# the boards of stiffeners and linings until others are chosen; from memory
USUAL = {STIFFENER: "thin-chipboard", LINING: "translucent"}
EXTRA = (
    (DIVIDER, "Dividers"),
    (OVERLAY, "Overlays"),
    (STIFFENER, "Stiffeners"),
    (LINING, "Linings"),
)
OVERLAY_COLOUR = "#D9B978"  # until the maker gives them another; from memory
LEANS = 1.6  # room for a lining behind a wall that leans, in thicknesses; from memory
ON_AXIS = 1e-6  # mm; rounding, things whose middles agree stand on one axis
Size = tuple[float, float, float]


def divided(task: Task, family: ShapeFamily) -> bool:
    """Whether strips stand in the hollow; only in boxes that open at the top."""
    return task.dividers != "none" and bool(task.contents) and family.mouth == UP


def parts_of(
    task: Task, family: ShapeFamily, options: Mapping[str, OptionValue]
) -> tuple[tuple[str, str], ...]:
    """Every part that is made, as key and title."""
    parts = family.parts_made(options)
    if divided(task, family):
        parts = (*parts, (DIVIDER, "Dividers"))
    if task.overlays:
        parts = (*parts, (OVERLAY, "Overlays"))
    if any(over.stiffener for over in task.overlays):
        parts = (*parts, (STIFFENER, "Stiffeners"))
    if any(window.lined for window in task.windows):
        parts = (*parts, (LINING, "Linings"))
    return parts


def boards_of(task: Task, family: ShapeFamily) -> dict[str, Board]:
    """The board of every part of the family, and of dividers, overlays and stiffeners.

    Raises
    ------
    FieldError
        A key that is no board.
    """
    out = {}
    usual = {**USUAL, **family.usual}
    for part, title in (*family.parts, *EXTRA):
        source = part
        while source not in task.boards and source in family.follows:
            source = family.follows[source]
        key = task.board_of(source)
        if source not in task.boards:
            key = usual.get(source, key)
        out[part] = board_by_key(key, task.own_boards, field=f"board of the {title.lower()}")
    return out


def lining_room(task: Task, boards: Mapping[str, Board]) -> Size:
    """By how much a hollow is made larger for linings, which stand in it; mm."""
    if not any(window.lined for window in task.windows):
        return 0.0, 0.0, 0.0
    t = boards[LINING].thickness
    if task.linings == "each":
        return 2 * LEANS * t, 2 * LEANS * t, 2 * LEANS * t
    wall = max(boards[part].thickness for part, _ in family_by_key(task.shape.key).parts)
    beside = 2 * (wall + STRIP_AIR + 2 * t)
    return beside, beside, 0.0


def piece_colours(task: Task, design: Design) -> dict[str, str]:
    """The colour of each piece whose part has one, or the part whose board it follows."""
    colours = {OVERLAY: OVERLAY_COLOUR} | dict(task.colours)
    follows = family_by_key(task.shape.key).follows
    out = {}
    for piece in design.pieces:
        part = piece.part
        while part not in colours and part in follows:
            part = follows[part]
        if part in colours:
            out[piece.name] = colours[part]
    return out


def round_form(arrangement: Arrangement | None, things: Sequence[AnyThing]) -> str:
    """``ball`` or ``round`` where that is all that goes in, upright and on one axis, else block."""
    if arrangement is None or not arrangement.places or arrangement.grid is not None:
        return "block"
    places = arrangement.places
    x, y, _ = places[0].centre
    for place in places:
        form = things[place.thing].form
        upright = form == "ball" or (form == "cylinder" and place.axis == UP)
        beside = abs(place.centre[0] - x) + abs(place.centre[1] - y) > ON_AXIS
        if not upright or beside or isinstance(things[place.thing], Loose):
            return "block"
    alone = len(places) == 1 and things[places[0].thing].form == "ball"
    return "ball" if alone else "round"


def build_design(
    family: ShapeFamily,
    inside: Size,
    boards: Mapping[str, Board],
    options: Mapping[str, OptionValue],
    arrangement: Arrangement | None,
    task: Task | None = None,
) -> Design:
    """The design of an inside size in mm, with the dividers that an arrangement asks for.

    A shape that may be measured for something round is, when the task's
    things are round and stand on one another in the middle.  Pieces are cut
    where the task says so, and folds made in its way.

    Raises
    ------
    FieldError
        The shape cannot be of that size or board.
    """
    if options.get("measured") == "auto":
        choices = next(o.choices for o in family.options if o.key == "measured")
        form = round_form(arrangement, task.contents if task else ())
        if form == "ball" and "ball" not in dict(choices):
            form = "round"
        options = {**options, "measured": form if form in dict(choices) else "block"}
    free = frozenset(options) - set(task.shape.options) if task is not None else frozenset()
    design = settled_design(family, inside, boards, options, free)
    if arrangement is not None and arrangement.grid is not None:
        design = with_dividers(design, arrangement.grid, boards[DIVIDER])
    if task is None:
        return design
    for window in task.windows:
        strip = task.linings == "strip"
        lining = boards[LINING] if window.lined and not strip else None
        try:
            pane = pane_of(window, task)
            design = with_window(design, window.piece, window.panel, pane, lining)
        except FieldError as error:
            cure = _window_cure(design, window, task, lining)
            design = _refused(design, "window", f"{window.piece}/{window.panel}", error, cure)
    if task.linings == "strip":
        design = _with_strips(design, task, boards[LINING])
    for over in task.overlays:
        under = boards[STIFFENER] if over.stiffener else None
        try:
            design = with_overlay(
                design, over.piece, over.panel, over.border, boards[OVERLAY], under
            )
        except FieldError as error:
            overlays = tuple(o for o in task.overlays if o is not over)
            cure = Cure("Leave it off", (("overlays", overlays),))
            design = _refused(design, "overlay", f"{over.piece}/{over.panel}", error, cure)
    for piece, child in task.splits.items():
        if any(p.name == piece for p in design.pieces):
            design = _cut(design, piece, child)
    return with_fold_kind(design, task.folds)


def _cut(design: Design, name: str, child: str) -> Design:
    """The design with a piece cut where the maker said, which another choice may have ruled out."""
    piece = design.piece(name)
    whole = (((f"splits.{name}", None),),)
    try:
        cut = split_along(design, name, child)
        for half in cut.pieces:
            mesh_of(half)
    except ValueError:  # a cut beside a fold leaves panels that do not meet
        raise FieldError(
            "splits",
            f"the {piece.title} can no longer be cut there",
            "Leave it whole, or cut it elsewhere.",
            whole,
        ) from None
    except FieldError as error:
        ways = error.ways or whole
        raise FieldError(error.field, error.problem, error.cure, ways) from None
    return replace(cut, wholes={**design.wholes, name: piece})


def _with_strips(design: Design, task: Task, board: Board) -> Design:
    """One strip behind the windows of each piece that has a lined one."""
    for piece in dict.fromkeys(w.piece for w in task.windows if w.lined):
        if not any(p.name == piece and any(q.openings for q in p.panels) for p in design.pieces):
            continue
        try:
            design = with_lining_strip(design, piece, board)
        except FieldError as error:
            cure = Cure("Line each window", (("linings", "each"),))
            design = _refused(design, "lining", piece, error, cure)
    return design


def pane_of(window: Window, task: Task) -> Pane:
    """What is wanted of a window, its motif found by name.

    Raises
    ------
    FieldError
        There is no such motif.
    """
    motif = None
    if window.motif != PLAIN:
        own = {o.key: own_motif(o.key, o.title, o.rings) for o in task.outlines}
        motif = MOTIFS.get(window.motif) or own.get(window.motif)
        if motif is None:
            known = ", ".join((PLAIN, *MOTIFS, *own))
            raise FieldError(
                f"windows.{window.piece}",
                f"“{window.motif[:40]}” is no pattern",
                f"Use one of: {known}.",
            )
    return Pane(motif, window.frame, window.size, window.number)


def _window_cure(design: Design, window: Window, task: Task, lining: Board | None) -> Cure:
    """The widest frame that leaves a window, in half millimetres; or none."""

    def narrower(halves: int) -> Window:
        return window.model_copy(update={"frame": halves / 2})

    def fits(halves: int) -> bool:
        try:
            pane = pane_of(narrower(halves), task)
            with_window(design, window.piece, window.panel, pane, lining)
        except FieldError:
            return False
        return True

    low, high = math.ceil(2 * LEAST_FRAME), math.ceil(2 * window.frame) - 1
    if low > high or not fits(low):
        others = tuple(w for w in task.windows if w is not window)
        return Cure("Leave it whole", (("windows", others),))
    while low < high:  # halved, as each try cuts the whole pattern anew
        middle = (low + high + 1) // 2
        low, high = (middle, high) if fits(middle) else (low, middle - 1)
    windows = tuple(narrower(low) if w is window else w for w in task.windows)
    return Cure(f"Use {low / 2:.1f} mm", (("windows", windows),))


def _refused(design: Design, what: str, where: str, error: FieldError, cure: Cure) -> Design:
    """The design without something that one panel cannot have, and why not."""
    words = f"No {what}: {error.problem}. {error.cure}"
    finding = Finding(Level.LOOK, f"{what}-refused", words, where, "shape", cure)
    return replace(design, findings=(*design.findings, finding))


def with_fold_kind(design: Design, kind: str) -> Design:
    """The design with its scores made another way: perforated, or creased by hand."""
    if kind == "scored":
        return design
    pieces = tuple(
        replace(
            piece,
            folds=tuple(replace(f, kind=kind) if f.kind == "scored" else f for f in piece.folds),
        )
        for piece in design.pieces
    )
    return replace(design, pieces=pieces)
