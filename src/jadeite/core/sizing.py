"""The other school: the paper or a plate decides, and then what fits inside.

A design is never scaled: its inside grows, and slots, tabs and clearances
stay as the board asks.  All pieces change together.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

from jadeite.core.contents import AnyThing, Arrangement, Room, arrange, clearance, headroom
from jadeite.core.contents.things import MAX_COUNT, Block
from jadeite.core.cutting import profile_of
from jadeite.core.dressings import bare_design, boards_of, piece_colours
from jadeite.core.dressings.pressing import plate_on, pressed_panels
from jadeite.core.errors import FieldError
from jadeite.core.nets import Design, Piece, piece_area
from jadeite.core.project import Plate, Stock, Task
from jadeite.core.shapes import ShapeFamily, family_by_key, resolve_options
from jadeite.core.sheets import Layout, SheetPlan, lay_out, usable_area
from jadeite.core.units import format_size, number_text

__all__ = [
    "GROWTHS",
    "Fill",
    "PaperSize",
    "PlateSize",
    "largest_block",
    "paper_words",
    "size_by_paper",
    "size_by_plate",
    "what_fits",
]

GROWTHS: dict[str, str] = {
    "all": "all in proportion",
    "base": "length and width",
    "height": "height alone",
}
STEP = 0.1  # mm; setting, sizes are given to a tenth
PROBES = (0.01, 0.02, 0.03, 0.05, 0.08)  # from memory; larger sizes tried once more at the end
CLEAR = 1e-9  # mm; rounding

Size = tuple[float, float, float]
Step = Callable[[float, str], None]


@dataclass(frozen=True)
class PaperSize:
    """The largest inside (mm) that cuts from so many sheets, and how it lies on them."""

    inside: Size
    layout: Layout
    stock: Stock
    sheets: int


@dataclass(frozen=True)
class PlateSize:
    """The largest inside (mm) whose pieces fit a plate, and the piece that decides."""

    inside: Size
    piece: str
    turn: float


@dataclass(frozen=True)
class Fill:
    """How many of a thing a hollow takes; ``most`` says that there was no need to count on."""

    thing: int
    count: int
    most: bool
    arrangement: Arrangement | None


def _grown(start: Size, length: float, grow: str, family: ShapeFamily) -> Size:
    """The inside whose leading length is ``length`` mm, within what the shape can be.

    A length of 0 is as it comes, and stays so.
    """
    lead = _lead(grow)
    share = length / start[lead]
    axes = {"all": (0, 1, 2), "base": (0, 1), "height": (2,)}[grow]
    sides = [v * share if i in axes else v for i, v in enumerate(start)]
    ends = zip(sides, family.least, family.most, strict=True)
    x, y, z = (min(max(round(v, 4), low), high) if v > 0 else 0.0 for v, low, high in ends)
    return x, y, z


def _lead(grow: str) -> int:
    return 2 if grow == "height" else 0


def _range(start: Size, grow: str, family: ShapeFamily) -> tuple[float, float]:
    """Least and most of the leading length, so that no other length leaves the shape's range."""
    lead = _lead(grow)
    axes = {"all": (0, 1, 2), "base": (0, 1), "height": (2,)}[grow]
    grown = [i for i in axes if start[i] > 0]
    low = max(family.least[i] * start[lead] / start[i] for i in grown)
    high = min(family.most[i] * start[lead] / start[i] for i in grown)
    return low, high


def _largest(
    low: float, high: float, fits: Callable[[float], bool], step: Step, words: str
) -> float | None:
    """The largest length between two, to a tenth, that fits; None when not even the least does.

    The answer need not rise evenly (a layout is a search), so a few larger
    ones are tried once more.
    """
    if not fits(low):
        return None
    best, over = low, high
    whole = int(np.ceil(np.log2(max((high - low) / STEP, 2)))) + len(PROBES)
    done = 0
    while over - best > STEP:
        middle = (best + over) / 2
        step(done / whole, words)
        done += 1
        if fits(middle):
            best = middle
        else:
            over = middle
    for share in PROBES:
        step(min(done / whole, 1.0), words)
        done += 1
        longer = min(best * (1 + share), high)
        if longer > best and fits(longer):
            best = longer
    return float(np.floor(best / STEP + CLEAR) * STEP)


def _least_built(low: float, high: float, builds: Callable[[float], object]) -> float:
    """The least length in mm, to a tenth of it, from which a shape can be built."""
    length = low
    while length < high and builds(length) is None:
        length *= 1.1
    return min(length, high)


def _nothing(_: float, __: str) -> None:
    return None


def _by_board(design: Design, task: Task) -> list[list[Piece]]:
    """Pieces that can share a sheet: of one board in one colour."""
    colours = piece_colours(task, design)
    groups: dict[tuple[str, str], list[Piece]] = {}
    for piece in design.pieces:
        key = (piece.board.key, colours.get(piece.name, ""))
        groups.setdefault(key, []).append(piece)
    return list(groups.values())


def _cuts_from(task: Task, stock: Stock, sheets: int) -> Callable[[Design], Layout | None]:
    """What lays a design out on so many sheets of each board; None where it does not fit."""
    profile = profile_of(task)
    at_hand = (Stock(name=stock.name, width=stock.width, height=stock.height, count=sheets),)
    usable = usable_area((stock.width, stock.height), profile.reach, profile.margin)
    room = sheets * usable[2] * usable[3]

    def cuts(design: Design) -> Layout | None:
        plans: list[SheetPlan] = []
        groups = _by_board(design, task)
        if any(sum(map(piece_area, pieces)) > room for pieces in groups):
            return None  # as areas say, sooner than any layout
        for pieces in groups:
            layout = lay_out(
                pieces,
                at_hand,
                copies=1,
                reach=profile.reach,
                margin=profile.margin,
                free_turns=task.free_turns,
                grain=task.grain,
                all_or_none=True,
            )
            if layout.unplaced:
                return None
            plans += layout.sheets
        return Layout(tuple(plans), ())

    return cuts


def size_by_paper(
    task: Task,
    stock: Stock,
    start: Size,
    *,
    sheets: int = 1,
    grow: str = "all",
    step: Step | None = None,
) -> PaperSize:
    """The largest inside whose pieces all cut from ``sheets`` sheets of one size.

    Of two boards, or of one board in two colours, there are so many sheets of each.

    Parameters
    ----------
    start : (3,) float
        mm; its proportions are kept where lengths grow together.
    grow : str
        A key of :data:`GROWTHS`.

    Raises
    ------
    FieldError
        Not even the least size cuts from them.
    """
    if sheets < 1:
        raise FieldError("sheets", "at least one sheet is needed", "Use 1 or more.")
    family = family_by_key(task.shape.key)
    options = resolve_options(family, task.shape.options)
    boards = boards_of(task, family)
    found: dict[float, Layout] = {}
    cuts = _cuts_from(task, stock, sheets)

    def builds(length: float) -> Design | None:
        inside = _grown(start, float(np.floor(length / STEP + CLEAR) * STEP), grow, family)
        try:
            return bare_design(family, inside, boards, options)
        except FieldError:
            return None

    def fits(length: float) -> bool:
        design = builds(length)
        if design is None:
            return False
        whole = cuts(design)
        if whole is None:
            return False
        found[round(float(np.floor(length / STEP + CLEAR) * STEP), 4)] = whole
        return True

    low, high = _range(start, grow, family)
    high = min(high, 2 * sheets * (stock.width + stock.height))
    low = _least_built(low, high, builds)
    best = _largest(low, high, fits, step or _nothing, "Trying sizes on the sheet")
    if best is None:
        words = "one sheet" if sheets == 1 else f"{sheets} sheets"
        raise FieldError(
            "sheets",
            f"not even the smallest of this shape cuts from {words} of {stock.name}",
            "Use a larger sheet, or more of them.",
        )
    layout = found[round(best, 4)] if round(best, 4) in found else found[max(found)]
    return PaperSize(_grown(start, best, grow, family), layout, stock, sheets)


def size_by_plate(
    task: Task,
    plate: Plate,
    start: Size,
    *,
    grow: str = "all",
    paper: tuple[Stock, int] | None = None,
    step: Step | None = None,
) -> PlateSize:
    """The largest inside whose pieces, or what is pressed of each, fit a plate without flaps.

    Parameters
    ----------
    paper : (Stock, int), optional
        Sheets of one size from which all pieces are to be cut as well, so many of each board.

    Raises
    ------
    FieldError
        No piece has such a panel, or not even the least size fits.
    """
    family = family_by_key(task.shape.key)
    options = resolve_options(family, task.shape.options)
    boards = boards_of(task, family)
    cuts = _cuts_from(task, *paper) if paper is not None else None
    decides: dict[float, str] = {}

    def design_of(length: float) -> Design | None:
        try:
            return bare_design(family, _grown(start, length, grow, family), boards, options)
        except FieldError:
            return None

    low, high = _range(start, grow, family)
    low = _least_built(low, high, design_of)
    least = design_of(low)
    if least is not None and not any(pressed_panels(p, plate.area) for p in least.pieces):
        names = sorted({p.name for piece in least.pieces for p in piece.panels})
        raise FieldError(
            "plate", f"there is no panel “{plate.area[:40]}”", f"Use one of: {', '.join(names)}."
        )

    def fits(length: float) -> bool:
        design = design_of(float(np.floor(length / STEP + CLEAR) * STEP))
        if design is None:
            return False
        for piece in design.pieces:
            if pressed_panels(piece, plate.area) and plate_on(piece, plate) is None:
                decides[length] = piece.name
                return False
        return cuts is None or cuts(design) is not None

    best = _largest(low, high, fits, step or _nothing, "Trying sizes on the plate")
    if best is None:
        raise FieldError(
            "plate",
            f"not even the smallest of this shape fits {number_text(plate.width)} × "
            f"{number_text(plate.height)} mm" + (" and the sheets" if paper else ""),
            "Use a larger plate, or press one panel of it.",
        )
    inside = _grown(start, best, grow, family)
    # what does not fit just beyond it is what decides; else the sheets or the shape do
    piece = min(decides.items())[1] if decides else ""
    design = bare_design(family, inside, boards, options)
    shown = next((p for p in design.pieces if p.name == piece), design.body)
    place = plate_on(shown, plate)
    return PlateSize(inside, piece, place[1] if place is not None else 0.0)


def largest_block(inside: Size, mouth: int) -> Size:
    """The largest block in mm that can be dropped into a hollow with its usual room."""
    out = []
    for axis, length in enumerate(inside):
        if axis == mouth:
            out.append(length - headroom().value)
            continue
        if axis == 2:
            out.append(length)
            continue
        low, high = 0.0, length
        for _ in range(50):  # room depends on the size
            middle = (low + high) / 2
            thing = Block(name="block", length=max(middle, 0.1), width=10.0, height=10.0)
            if middle + 2 * clearance(thing, middle).value <= length:
                low = middle
            else:
                high = middle
        out.append(low)
    x, y, z = (max(0.0, v) for v in out)
    return x, y, z


def what_fits(things: Sequence[AnyThing], room: Room, inside: Size) -> tuple[Fill, ...]:
    """How many of each thing, by itself, a hollow of an inside size (mm) takes."""
    limited = Room(room.board_area, room.grammage, inside, room.smallest, room.mouth, room.fits)
    out = []
    for i, thing in enumerate(things):
        low, high = 0, MAX_COUNT + 1
        best: Arrangement | None = None
        while high - low > 1:
            middle = (low + high) // 2
            found = arrange([thing.model_copy(update={"count": middle})], limited, quick=True)
            if found is not None and all(
                n <= have + 1e-6 for n, have in zip(found.inside, inside, strict=True)
            ):
                low, best = middle, found
            else:
                high = middle
        out.append(Fill(i, low, low == MAX_COUNT, best))
    return tuple(out)


def paper_words(found: PaperSize) -> str:
    """What a size by the paper says, in one line."""
    sheets = "one sheet" if found.sheets == 1 else f"{found.sheets} sheets"
    if len({s.board for s in found.layout.sheets}) > 1:
        sheets += " of each board"
    used = round(100 * found.layout.used)
    return f"Inside {format_size(found.inside)} cuts from {sheets}, {used} % of the paper used."
