"""A process for long jobs of the core; the window starts it and may end it.

It reads one pickled request after another from standard input and writes
pickled replies to standard output, each with its length before it.  Both ends
are this program.
"""

from __future__ import annotations

import gc
import pickle
import struct
import sys
from collections.abc import Callable, Mapping
from pathlib import Path
from typing import TYPE_CHECKING, Any, BinaryIO, Protocol

from jadeite.core.boards import Board
from jadeite.core.choice import Comparison, Remedy, compare, with_board
from jadeite.core.contents import Arrangement
from jadeite.core.cutting import CutterProfile
from jadeite.core.errors import JadeiteError
from jadeite.core.photos import Ink
from jadeite.core.pictures import Palette, Picture
from jadeite.core.pipeline import (
    JobWork,
    SheetWork,
    Work,
    arrange_contents,
    arrangements_of,
    plan_job_sheets,
    plan_sheets,
    tightened,
    work_up,
    work_up_job,
)
from jadeite.core.project import Learned, Outline, Photo, Plate, Printer, Project, Stock, Task
from jadeite.core.shelf import ShelfEntry, option_pictures, sheets_of, small_form
from jadeite.core.shelf import shelf as draw_shelf
from jadeite.core.sizing import PaperSize, PlateSize, size_by_paper, size_by_plate
from jadeite.core.units import System

if TYPE_CHECKING:
    from jadeite.core.formats.page import Page

__all__ = ["frame", "main", "unframe"]

# Readers and writers of files are loaded by the jobs that need them: the other processes start
# sooner without.

HEADER = struct.Struct(">Q")


class Step(Protocol):
    """How a job says how far it is, and hands over what it has so far."""

    def __call__(self, fraction: float, text: str, /) -> None: ...

    def part(self, value: object, /) -> None:
        """Hand over a part of the result."""


def frame(message: object) -> bytes:
    """A message with its length before it."""
    data = pickle.dumps(message, protocol=pickle.HIGHEST_PROTOCOL)
    return HEADER.pack(len(data)) + data


def unframe(buffer: bytearray) -> list[Any]:
    """Take every whole message off the front of a buffer."""
    out = []
    while len(buffer) >= HEADER.size:
        (length,) = HEADER.unpack_from(buffer)
        if len(buffer) < HEADER.size + length:
            break
        out.append(pickle.loads(bytes(buffer[HEADER.size : HEADER.size + length])))
        del buffer[: HEADER.size + length]
    return out


Small = tuple[Palette, tuple[float, float]]  # colours and size of a small picture


def work(
    task: Task, arrangement: Arrangement | None, small: Small | None, _: Step
) -> tuple[Arrangement | None, Work, Picture | None]:
    """Everything that a task leads to but its sheets; things not arranged yet are, quickly.

    With ``small`` comes a picture of the finished thing.
    """
    if arrangement is None and task.contents:
        arrangement = arrange_contents(task, quick=True)
    made = work_up(task, arrangement)
    _ = made.lift, made.assembly, made.colours, made.bodies  # kept
    _ = made.solid, made.seen, made.schools
    return arrangement, made, None if small is None else small_form(made, *small)


def others(task: Task, found: Mapping[str, Arrangement], _: Step) -> dict[str, Work]:
    """The task with each of several arrangements, to be drawn side by side."""
    out = {}
    for name, arrangement in found.items():
        made = work_up(task, arrangement, cures=False)
        _lift = made.lift, made.colours, made.bodies  # kept with it
        out[name] = made
    return out


_works: dict[str, Work] = {}  # of the job that was last laid out, by item


def sheets(
    project: Project, arrangements: Mapping[str, Arrangement], step: Step
) -> SheetWork | None:
    """Layout and cutting plan of a job; None where one of its items is not made.

    Where fewer sheets might do, what is there at once comes as a part, then a better order.
    """
    made = work_up_job(project, _works, lambda name, _: arrangements.get(name), cures=False)
    _works.clear()
    _works.update(made.works)
    if not made.whole:
        return None
    first = plan_job_sheets(made, step)
    if first.layout.kept or first.layout.whole <= first.layout.fewest:
        return first
    step.part(first)
    return plan_job_sheets(made, step, seek=True)


def tighten(project: Project, sheets: SheetWork, seconds: float, step: Step) -> SheetWork:
    """The same sheets packed tighter; every gain comes as a part."""
    return tightened(
        project, sheets, seconds, lambda share: step(share, "Packing tighter"), step.part
    )


def size(
    task: Task,
    stock: Stock,
    start: tuple[float, float, float],
    count: int,
    grow: str,
    plate: Plate | None,
    step: Step,
) -> PaperSize | PlateSize:
    """The largest inside from so many sheets, or that fits a plate; with sheets, both."""
    if plate is None:
        return size_by_paper(task, stock, start, sheets=count, grow=grow, step=step)
    paper = (stock, count) if count else None
    return size_by_plate(task, plate, start, grow=grow, paper=paper, step=step)


def board_sheets(
    task: Task,
    arrangement: Arrangement | None,
    focus: tuple[str, ...],
    key: str,
    step: Step,
) -> tuple[int, int, float | None]:
    """Sheets, pieces that fit none, and cost, with the parts in ``focus`` of one board."""
    made = work_up(with_board(task, focus, key), arrangement, cures=False)
    if made.design is None:
        return 0, 0, None
    layout = plan_sheets(made.task, made.design, step).layout
    prices = {b.key: b.price for b in made.boards.values() if b.price is not None}
    known = [prices[s.board.split()[0]] for s in layout.sheets if s.board.split()[0] in prices]
    return len(layout.sheets), len(layout.unplaced), sum(known) if known else None


def comparison(
    task: Task,
    arrangement: Arrangement | None,
    inside: tuple[float, float, float],
    focus: tuple[str, ...],
    _: Step,
) -> Comparison:
    """What every board means for a task."""
    return compare(task, arrangement, inside, focus)


def remedies(
    task: Task, arrangement: Arrangement | None, focus: tuple[str, ...], _: Step
) -> tuple[Remedy, ...]:
    """What would make the task hold; empty when it does."""
    made = work_up(task, arrangement, cures=False)
    return made.remedies(made.comparison(focus)) if made.design is not None else ()


def shelf(
    task: Task | None,
    kept: Mapping[str, Mapping[str, Any]],
    palette: Palette,
    share: slice,
    step: Step,
) -> None:
    """Shapes for the contents, or as themselves, part by part; then how many sheets each takes."""
    found: list[ShelfEntry] = []

    def tell(entry: ShelfEntry) -> None:
        found.append(entry)
        step.part(entry)

    draw_shelf(task, kept, palette, tell, share)
    for entry in found:
        if not entry.why:
            count = sheets_of(task, entry.key, kept)
            if count is not None:
                step.part((entry.key, count))


def options(task: Task, palette: Palette, step: Step) -> None:
    """The open shape with each option one way and another, part by part."""
    option_pictures(task, palette, lambda *part: step.part(part))


def outline(path: str, _: Step) -> Outline:
    """An outline for windows, from a drawing."""
    from jadeite.core.formats.svg_outline import read_outline

    return read_outline(Path(path))


def petal(path: str, _: Step) -> str:
    """An outline for petals, from a drawing, as it is kept."""
    from jadeite.core.formats.petal_drawing import read_petal

    return read_petal(Path(path)).words


def drawing(path: str, _: Step) -> str:
    """An outline for a shape, from a drawing, as it is kept."""
    from jadeite.core.formats.svg_outline import rings_words

    return rings_words(Path(path))


def photo(path: str, taken: tuple[str, ...], _: Step) -> Photo:
    """A picture of a file, under a key that is free."""
    from jadeite.core.formats.photo_file import photo_from

    return photo_from(Path(path), taken)


def figure(photo: Photo, _: Step) -> tuple[str, str]:
    """The outline of the figure in a picture as it is kept, and how it was found."""
    from jadeite.core.formats.photo_file import figure_of, said_of

    words, found = figure_of(photo)
    return words, said_of(found)


def ink(ink: Ink, most: int, _: Step) -> bytes:
    """What is printed of a picture, as a PNG file of so many pixels at most."""
    from jadeite.core.formats.photo_file import ink_png

    return ink_png(ink, most)


def calibration(printer: Printer, cutter: CutterProfile, folder: Path, _: Step) -> list[Path]:
    """The page by which a cutter is set to a printer, and its cuts, in a folder."""
    from jadeite.core.formats.calibration_sheet import write_calibration

    return write_calibration(printer, cutter, folder)


def trial(
    board: Board,
    heavier: str,
    profile: CutterProfile,
    learned: tuple[Learned, ...],
    folder: Path,
    _: Step,
) -> list[Path]:
    """The test cut of a board, in a folder."""
    from jadeite.core.formats.trial_sheet import write_trial

    return write_trial(board, heavier, profile, learned, folder)


def write(
    job: JobWork,
    sheets: SheetWork,
    folder: Path,
    paper: str,
    system: System,
    only: tuple[str, ...],
    _: Step,
) -> list[Path]:
    """The files of a job, in a folder; ``only`` names their formats."""
    from jadeite.core.formats import export_all

    return export_all(job, sheets, folder, only, paper=paper, system=system)


def pages(job: JobWork, sheets: SheetWork, paper: str, system: System, _: Step) -> list[Page]:
    """The printed pages of a job."""
    from jadeite.core.formats.pages import print_pages
    from jadeite.core.formats.printed_sheets import with_pictures

    return with_pictures(print_pages(job, sheets, paper, system))


def prints(sheets: SheetWork, _: Step) -> list[Page]:
    """The sheets that are printed before they are cut, each as large as its paper."""
    from jadeite.core.formats.printed_sheets import printed_pages, with_pictures

    return with_pictures(printed_pages(sheets))


JOBS: dict[str, Callable[..., object]] = {
    "work": work,
    "others": others,
    "arrange": arrangements_of,
    "outline": outline,
    "petal": petal,
    "drawing": drawing,
    "photo": photo,
    "figure": figure,
    "ink": ink,
    "calibration": calibration,
    "trial": trial,
    "sheets": sheets,
    "tighten": tighten,
    "size": size,
    "board-sheets": board_sheets,
    "shelf": shelf,
    "options": options,
    "compare": comparison,
    "remedies": remedies,
    "write": write,
    "pages": pages,
    "prints": prints,
}


KEPT = ("arrange", "sheets", "work")  # jobs whose answers follow from the question alone
MOST_KEPT = 32  # answers


def _read(source: BinaryIO) -> Any:
    head = source.read(HEADER.size)
    if len(head) < HEADER.size:
        return None
    (length,) = HEADER.unpack(head)
    return pickle.loads(source.read(length))


class _Report:
    """Sends what a job says, with its ticket."""

    def __init__(self, send: Callable[..., None], ticket: int) -> None:
        self._send, self._ticket = send, ticket

    def __call__(self, fraction: float, text: str, /) -> None:
        self._send("progress", self._ticket, fraction, text)

    def part(self, value: object, /) -> None:
        """Hand over a part of the result."""
        self._send("part", self._ticket, value)


def _answer(
    job: str, arguments: tuple[object, ...], report: _Report, kept: dict[bytes, object]
) -> object:
    """The result of a job; of those asked for again, as after undo, the last ones are kept."""
    if job not in KEPT:
        return JOBS[job](*arguments, report)
    key = pickle.dumps((job, arguments))
    if key not in kept:
        kept[key] = JOBS[job](*arguments, report)
        if len(kept) > MOST_KEPT:
            del kept[next(iter(kept))]
    return kept[key]


def main() -> None:
    """Serve requests (ticket, job, arguments) until the input ends."""
    source, sink = sys.stdin.buffer, sys.stdout.buffer

    def send(*message: object) -> None:
        sink.write(frame(message))
        sink.flush()

    gc.collect()
    gc.freeze()  # what is loaded stays, and is left out of every search for garbage
    kept: dict[bytes, object] = {}
    while (request := _read(source)) is not None:
        ticket, job, arguments = request

        try:
            send("done", ticket, _answer(job, arguments, _Report(send, ticket), kept))
        except JadeiteError as error:
            send("failed", ticket, str(error))


if __name__ == "__main__":
    main()
