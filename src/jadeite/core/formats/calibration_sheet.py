"""The sheet by which a cutter is set to a printer: a page to print, and the file that cuts it."""

from __future__ import annotations

from pathlib import Path

import numpy as np

from jadeite.core.cutting import CutPath, CutterProfile
from jadeite.core.cutting.calibration import LINES, LONG, Comb, combs, cut_lines, printed_lines
from jadeite.core.errors import FieldError
from jadeite.core.formats.atomic import write_all
from jadeite.core.formats.cut_svg import cut_svg
from jadeite.core.formats.dxf import dxf_text
from jadeite.core.formats.page import HAIR, Page
from jadeite.core.formats.pdf import pdf_bytes
from jadeite.core.formats.printed_sheets import BAR
from jadeite.core.nets.model import Floats
from jadeite.core.pictures import LIGHT, Label, Picture, Stroke
from jadeite.core.pictures import Path as Drawn
from jadeite.core.project import Printer
from jadeite.core.sheets.marks import MARK_AT, PAPERS, commanded, mark_lines

__all__ = ["HOW", "calibration_files", "calibration_page", "write_calibration"]

STEM = "calibration"
EVERY = 5  # lines from number to number
NUMBER, WORDS = 2.4, 3.0  # mm, sizes of text; from memory
HOW = (
    "1  Print this page at 100 % on plain paper, and measure the 50 mm line.",
    "2  Load it as a printed sheet is loaded, the cross without a ring at the lower left,",
    "    and cut it with calibration.svg, lightly.",
    "3  At each of the eight combs, find the cut that runs on in a printed line. Its number",
    "    is the reading: 0 in the middle, right and up count on, left and down are minus.",
    "    Between two lines it is a half. Read in the order of the letters A to H.",
    "4  Type the eight readings. Print and cut again until all are within 3.",
)


def calibration_page(printer: Printer, cutter: CutterProfile) -> Page:
    """What is printed: one half of each comb, with numbers, the marks, and how it is read off."""
    width, height = size = PAPERS[printer.paper]
    page, picture = Page(width, height), Picture()

    def onto(points: Floats) -> Floats:
        return np.column_stack([points[:, 0], height - points[:, 1]])

    lines = [onto(line) for line in mark_lines(size)]
    for number, comb in enumerate(combs(size, cutter.reach)):
        lines += [onto(line) for line in printed_lines(comb)]
        _numbers(picture, comb, chr(ord("A") + number), height)
    x, y = (width - BAR) / 2, height - MARK_AT
    lines += [np.array([[x, y], [x + BAR, y]])]
    lines += [np.array([[x + at, y - 1.2], [x + at, y + 1.2]]) for at in (0.0, BAR)]
    picture.add(Drawn(tuple(lines), closed=False, stroke=Stroke("#000000", HAIR)))
    words = f"Calibration of {cutter.title.lower()} to “{printer.name}”"
    picture.add(Label(words, width / 2, MARK_AT, WORDS, LIGHT.ink, weight=600))
    picture.add(Label("50 mm", width / 2, y + 3.4, NUMBER, LIGHT.quiet))
    page.layers.append((picture, None))
    left = max(MARK_AT + 4, width / 2 - 62)
    for row, line in enumerate(HOW):
        page.text(line, left, height / 2 - 14 + 5.0 * row, WORDS)
    return page


def _numbers(picture: Picture, comb: Comb, letter: str, height: float) -> None:
    """Numbers at every fifth line, and the letter of the comb."""
    x, y = comb.middle
    for k in range(-LINES, LINES + 1, EVERY):
        at = (x + 2.0 * k, y + LONG + 2.2) if comb.axis == 0 else (x + LONG + 3.4, y + 2.0 * k)
        picture.add(Label(f"{k:d}", at[0], height - at[1], NUMBER, LIGHT.ink))
    at = (x, y - LONG - 3.0) if comb.axis == 0 else (x - LONG - 3.0, y)
    picture.add(Label(letter, at[0], height - at[1], 4.2, LIGHT.ink, weight=700))


def calibration_files(printer: Printer, cutter: CutterProfile) -> dict[str, bytes]:
    """The page, and the cuts as the cutter is told them with the correction so far; by name.

    Raises
    ------
    FieldError
        It is cut by hand: a hand follows the print.
    """
    if cutter.by_hand:
        raise FieldError(
            "cutter", "a hand follows the printed line and needs no calibration",
            "Choose a cutter first.",
        )  # fmt: skip
    size = PAPERS[printer.paper]
    paths = tuple(
        CutPath("inner", STEM, 0, commanded(line, printer.correction, size), 1)
        for comb in combs(size, cutter.reach)
        for line in cut_lines(comb)
    )
    marks = mark_lines(size)
    title = f"Calibration, {cutter.title}"
    return {
        f"{STEM}.pdf": pdf_bytes([calibration_page(printer, cutter)], title),
        f"{STEM}.svg": cut_svg(paths, *size, title, sheet=True, marks=marks),
        f"{STEM}.dxf": dxf_text(paths, marks).encode(),
    }


def write_calibration(printer: Printer, cutter: CutterProfile, folder: Path) -> list[Path]:
    """Write the page and both cut files into a folder, which is made when missing.

    Raises
    ------
    JadeiteError
        It is cut by hand, or the folder cannot be written.
    """
    return write_all(folder, calibration_files(printer, cutter))
