"""Printed pages of a list of names: every label at true size, and a list to check them against."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np

from jadeite.core.formats.fonts import text_width
from jadeite.core.formats.page import BODY, HAIR, HEAD, MARGIN, SMALL, Page
from jadeite.core.nets import Piece
from jadeite.core.pictures import LIGHT, Path, Picture, Stroke
from jadeite.core.pictures.flat import Transform, piece_paths
from jadeite.core.pipeline import JobPiece, JobWork, SheetWork

__all__ = ["bearing_pages", "fits_a_page", "name_list_pages"]

BETWEEN = 4.0  # mm between labels on a page; from memory, room for a knife
LINE = 0.5  # mm, of what is written; from memory
ROW, BOX = 6.0, 3.0  # mm of a line of the list, and of the box that is ticked; from memory
COLUMNS = (8.0, 20.0, 112.0, 140.0)  # mm: number, name, what belongs to it, sheet; from memory


class _At(Transform):
    """Flat mm to page mm, from the lower left of a piece."""

    def __init__(self, low: tuple[float, float], x: float, y: float) -> None:
        super().__init__(1.0, x, y)
        self.low = low

    def __call__(self, points: np.ndarray) -> np.ndarray:
        return np.column_stack(
            [self.x + points[:, 0] - self.low[0], self.y - (points[:, 1] - self.low[1])]
        )


def bearing_pages(cuts: Sequence[JobPiece], size: tuple[float, float], title: str) -> list[Page]:
    """Pieces that bear names, as many on a page as it holds, at true size.

    Raises
    ------
    ValueError
        One is larger than a page: such pieces are printed by themselves.
    """
    room = size[0] - 2 * MARGIN, size[1] - 2 * MARGIN - 10.0
    pages: list[Page] = []
    x = y = tall = 0.0
    for cut in cuts:
        points = np.concatenate([panel.outline for panel in cut.piece.panels])
        low, (wide, high) = points.min(axis=0), np.ptp(points, axis=0)
        if wide > room[0] or high > room[1]:
            raise ValueError("larger than a page")
        if x + wide > room[0]:
            x, y, tall = 0.0, y + tall + BETWEEN, 0.0
        if not pages or y + high > room[1]:
            page = Page(*size)
            words = f"{title}, 1 : 1, good side up" + (", continued" if pages else "")
            page.text(words, MARGIN, MARGIN + 1, BODY, weight=600)
            pages.append(page)
            x = y = tall = 0.0
        place = _At((float(low[0]), float(low[1])), MARGIN + x, MARGIN + 10.0 + y + float(high))
        drawn = list(piece_paths(cut.piece, place, LIGHT, HAIR, "#FFFFFF"))
        ink = tuple(place(v.points) for v in cut.piece.veins if v.trace.ink)
        if ink:
            drawn.append(Path(ink, closed=False, stroke=Stroke(LIGHT.ink, LINE)))
        clip = (MARGIN, MARGIN + 9.0, room[0], room[1] + 1.0)
        pages[-1].layers.append((Picture(items=list(drawn)), clip))
        x, tall = x + float(wide) + BETWEEN, max(tall, float(high))
    return pages


def fits_a_page(piece: Piece, size: tuple[float, float]) -> bool:
    """Whether a piece lies on one page at true size, as it is."""
    wide, high = np.ptp(np.concatenate([panel.outline for panel in piece.panels]), axis=0)
    return bool(wide <= size[0] - 2 * MARGIN and high <= size[1] - 2 * MARGIN - 10.0)


def name_list_pages(job: JobWork, sheets: SheetWork, size: tuple[float, float]) -> list[Page]:
    """Every name of every list, with a box to tick and the sheet on which it lies."""
    pages: list[Page] = []
    where = _sheets_of(job, sheets)
    for item, work in job.works.items():
        if not work.task.names:
            continue
        head = f"Names of the {item}" if job.several else "Names"
        y = size[1]
        for number, name in enumerate(work.task.names):
            if y + ROW > size[1] - MARGIN:
                page = Page(*size)
                words = head + (", continued" if number else "")
                page.text(words, MARGIN, MARGIN + 4, HEAD, weight=600)
                pages.append(page)
                y = MARGIN + 14
                _heads(page, y, tables=bool(work.task.tables))
                y += ROW
            _line(pages[-1], y, number, name, work.task.words_of(number)[1])
            _text(pages[-1], where.get((item, number), ""), COLUMNS[3], y)
            y += ROW
    return pages


def _heads(page: Page, y: float, *, tables: bool) -> None:
    for words, x in zip(("", "Name", "Table" if tables else "", "Sheet"), COLUMNS, strict=True):
        page.text(words, MARGIN + x, y, SMALL, colour=LIGHT.quiet)


def _line(page: Page, y: float, number: int, name: str, table: str) -> None:
    box = np.array([[0, 0], [BOX, 0], [BOX, BOX], [0, BOX]]) + np.array([MARGIN, y - BOX / 2])
    page.layers.append((Picture(items=[Path((box,), stroke=Stroke(LIGHT.ink, HAIR))]), None))
    _text(page, f"{number + 1}", COLUMNS[0], y)
    _text(page, _short(name, COLUMNS[2] - COLUMNS[1] - 2), COLUMNS[1], y)
    _text(page, _short(table, COLUMNS[3] - COLUMNS[2] - 2), COLUMNS[2], y)


def _text(page: Page, words: str, x: float, y: float) -> None:
    if words:
        page.text(words, MARGIN + x, y, BODY)


def _short(words: str, wide: float) -> str:
    """Words cut off where they are too wide for their column, in mm."""
    if text_width(words, BODY) <= wide:
        return words
    while words and text_width(f"{words}…", BODY) > wide:
        words = words[:-1]
    return f"{words}…"


def _sheets_of(job: JobWork, sheets: SheetWork) -> Mapping[tuple[str, int], str]:
    """On which sheets what bears a name lies, by item and number of the name."""
    on: dict[str, int] = {}
    for number, sheet in enumerate(sheets.layout.sheets, start=1):
        on |= {place.piece: number for place in sheet.placed}
    seen: dict[tuple[str, int], set[int]] = {}
    first = job.project.names[0]
    for cut in job.pieces:
        if cut.copy is not None and cut.piece.name in on:
            seen.setdefault((cut.item or first, cut.copy), set()).add(on[cut.piece.name])
    return {key: ", ".join(str(n) for n in sorted(numbers)) for key, numbers in seen.items()}
