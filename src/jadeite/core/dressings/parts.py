"""Every part of a made thing, of its family and of what is put on it; board and colour of each."""

from __future__ import annotations

from collections.abc import Mapping

from jadeite.core.boards import Board, board_by_key
from jadeite.core.dressings.dividers import DIVIDERS
from jadeite.core.dressings.dressing import Dressing, Size
from jadeite.core.dressings.lining_sheet import LINING_SHEETS
from jadeite.core.dressings.lining_strip import LINING_STRIPS
from jadeite.core.dressings.names import NAMES
from jadeite.core.dressings.overlays import OVERLAYS, overlay_motif, with_overlay
from jadeite.core.dressings.panes import WINDOWS
from jadeite.core.dressings.pressing import PRESSING
from jadeite.core.dressings.prints import PRINTS
from jadeite.core.dressings.scores import SCORES
from jadeite.core.dressings.splits import SPLITS
from jadeite.core.errors import FieldError
from jadeite.core.nets.model import Design
from jadeite.core.project import Overlay, Task, changed
from jadeite.core.shapes import OptionValue, ShapeFamily, family_by_key, resolve_options
from jadeite.core.shapes.extra import OVERLAY, STIFFENER

__all__ = [
    "DRESSINGS",
    "PARTS",
    "boards_of",
    "overlay_refused",
    "parts_of",
    "piece_colours",
    "room_for_dressings",
]

# in the order in which a draft gets them: what is cut out before what covers it, and all of
# that before a piece is cut in two
DRESSINGS: tuple[Dressing, ...] = (
    DIVIDERS,
    WINDOWS,
    LINING_STRIPS,
    LINING_SHEETS,
    OVERLAYS,
    PRINTS,
    NAMES,
    SPLITS,
    SCORES,
    PRESSING,
)
PARTS = tuple(part for dressing in DRESSINGS for part in dressing.parts)


def parts_of(
    task: Task, family: ShapeFamily, options: Mapping[str, OptionValue]
) -> tuple[tuple[str, str], ...]:
    """Every part that is made, as key and title."""
    more = ((part.key, part.title) for part in PARTS if part.wanted(task, family))
    return (*family.parts_made(options), *more)


def boards_of(task: Task, family: ShapeFamily) -> dict[str, Board]:
    """The board of every part of the family, and of every part that a dressing may bring.

    Raises
    ------
    FieldError
        A key that is no board.
    """
    out = {}
    usual = {part.key: part.board for part in PARTS if part.board} | dict(family.usual)
    titles = (*family.parts, *((part.key, part.title) for part in PARTS))
    for part, title in titles:
        source = part
        while source not in task.boards and source in family.follows:
            source = family.follows[source]
        key = task.board_of(source)
        if source not in task.boards:
            key = usual.get(source, key)
        out[part] = board_by_key(key, task.own_boards, field=f"board of the {title.lower()}")
    return out


def room_for_dressings(task: Task, boards: Mapping[str, Board]) -> Size:
    """By how much a hollow is made larger for what stands in it besides the contents; mm."""
    family = family_by_key(task.shape.key)
    rooms = [dressing.room(task, boards, family) for dressing in DRESSINGS]
    x, y, z = (sum(room[axis] for room in rooms) for axis in range(3))
    return x, y, z


def piece_colours(task: Task, design: Design) -> dict[str, str]:
    """The colour of each piece whose part has one, or the part whose board it follows."""
    family = family_by_key(task.shape.key)
    colours = {part.key: part.colour for part in PARTS if part.colour} | dict(task.colours)
    if family.tones is not None:
        chosen = {**resolve_options(family, task.shape.options), **design.settled}
        colours = {**family.tones(task.colours, chosen), **colours}
    follows = family.follows
    out = {}
    for piece in design.pieces:
        part = piece.part
        while part not in colours and part in follows:
            part = follows[part]
        if part in colours:
            out[piece.name] = colours[part]
    return out


def overlay_refused(task: Task, family: ShapeFamily, design: Design, over: Overlay) -> str:
    """Why a panel of a design cannot have an overlay, and what would do; empty where it can.

    Of a piece that was cut in two since it cannot be said here: the next design tells.
    """
    if not design.has((over.piece, over.panel)):
        return ""
    boards = boards_of(changed(task, overlays=(*task.overlays, over)), family)
    under = boards[STIFFENER] if over.stiffener else None
    try:
        with_overlay(
            design, over.piece, over.panel, over.border, boards[OVERLAY], under,
            foam=over.foam, motif=overlay_motif(over, task),
        )  # fmt: skip
    except FieldError as error:
        return str(error)
    return ""
