"""Sheets as they are printed before they are cut: ink past the cuts, and the marks to find them by.

A cutter needs no line of a cut, which would show where the cut is off; a hand does.
"""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from jadeite.core.cutting import SheetCut
from jadeite.core.formats.page import HAIR, Page
from jadeite.core.formats.pdf import png_for
from jadeite.core.nets.model import Floats, Trace
from jadeite.core.pictures import LIGHT, Image, Label, Path, Picture, Stroke
from jadeite.core.pictures.prints import print_paths
from jadeite.core.pipeline import SheetWork
from jadeite.core.sheets import PlacedPiece, placed_points
from jadeite.core.sheets.marks import MARK_AT, mark_lines

__all__ = ["BAR", "printed_pages", "with_pictures"]

BAR = 50.0  # mm that are measured to see whether the printer keeps to size; design rule
WORDS, LINE = 2.6, 0.5  # mm: of the words along the edges, and of printed lines; from memory
INK = "#000000"  # marks are as dark as a printer makes them


def printed_pages(sheets: SheetWork) -> list[Page]:
    """A page for each sheet that is printed, as large as the sheet."""
    own = [
        (number, cut)
        for number, cut in enumerate(sheets.cutting.sheets, start=1)
        if cut.sheet.printed
    ]
    return [_page(sheets, number, cut) for number, cut in own]


def _page(sheets: SheetWork, number: int, cut: SheetCut) -> Page:
    width, height = cut.sheet.size
    page, picture = Page(width, height), Picture()
    mirrored = sheets.printer.mirrored

    def onto(points: Floats) -> Floats:
        """Mm on the sheet, y up, to the page, y down; seen in a mirror where that is wished."""
        x = width - points[:, 0] if mirrored else points[:, 0]
        return np.column_stack([x, height - points[:, 1]])

    for placed in cut.sheet.placed:
        piece = sheets.pieces[placed.piece].piece

        def put(points: Floats, placed: PlacedPiece = placed) -> Floats:
            return onto(placed_points(points, placed))

        picture.items.extend(print_paths(piece.prints, put))
        lines = tuple(put(v.points) for v in piece.veins if v.trace is Trace.PRINT)
        if lines:
            picture.add(Path(lines, closed=False, stroke=Stroke(LIGHT.ink, LINE)))
    if cut.profile.by_hand:  # a hand has no other line to follow
        outlines = tuple(onto(path.points) for path in cut.paths)
        picture.add(Path(outlines, closed=False, stroke=Stroke(LIGHT.quiet, HAIR)))
    page.layers.append((picture, None))
    marks = Picture()
    lines = tuple(onto(line) for line in mark_lines(cut.sheet.size))
    marks.add(Path(lines, closed=False, stroke=Stroke(INK, HAIR)))
    _bar(marks, width, height)
    side = "mirrored; the printed side then lies down" if mirrored else "on the good side"
    words = f"Sheet {number} · print at 100 %, not fitted to the page, {side} · {cut.board.title}"
    marks.add(Label(words, width / 2, MARK_AT, WORDS, LIGHT.quiet))
    page.layers.append((marks, None))
    return page


def _bar(picture: Picture, width: float, height: float) -> None:
    """A line of a known length at the foot, between the marks."""
    x, y = (width - BAR) / 2, height - MARK_AT
    ends = [np.array([[x + at, y - 1.2], [x + at, y + 1.2]]) for at in (0.0, BAR)]
    line = np.array([[x, y], [x + BAR, y]])
    picture.add(Path((line, *ends), closed=False, stroke=Stroke(INK, HAIR)))
    words = "50 mm: measure it; the cross without a ring is at the lower left"
    picture.add(Label(words, width / 2, y + 3.4, WORDS, LIGHT.quiet))


def with_pictures(pages: list[Page]) -> list[Page]:
    """Pages that hold the pixels of their pictures, for who paints them elsewhere.

    Raises
    ------
    FileError
        A picture is gone, or another by now.
    """
    for page in pages:
        for picture, _ in page.layers:
            for number, item in enumerate(picture.items):
                if isinstance(item, Image):
                    picture.items[number] = replace(item, png=png_for(item))
    return pages
