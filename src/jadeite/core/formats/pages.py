"""The printed job: a cover with the scale check, nets at true size, then the steps.

Pages are pictures in millimetres, so the PDF and the printer get the same.
"""

from __future__ import annotations

from collections.abc import Iterable

import numpy as np

from jadeite.core.cutting.advice import advice_for
from jadeite.core.formats.fonts import text_width, wrapped
from jadeite.core.formats.name_pages import bearing_pages, fits_a_page, name_list_pages
from jadeite.core.formats.page import BODY, HAIR, HEAD, LEADING, MARGIN, SMALL, Page
from jadeite.core.formats.reckoning_text import reckoning_text
from jadeite.core.formats.step_pages import step_pages
from jadeite.core.formats.true_size import true_size_pages
from jadeite.core.pictures import (
    LIGHT,
    Label,
    Path,
    Picture,
    Stroke,
    sheet_picture,
)
from jadeite.core.pipeline import JobPiece, JobWork, SheetWork, Work, at_hand
from jadeite.core.reckoning import alike
from jadeite.core.units import System, counted, format_duration, in_system

__all__ = ["PAPERS", "print_pages"]

PAPERS = {"a4": (210.0, 297.0), "letter": (215.9, 279.4)}  # mm; published: ISO 216, Y14.1
TITLE = 9.0  # mm, of the title; from memory
CHECK = 50.0  # mm; side of the scale check square, design rule


def print_pages(
    job: JobWork, sheets: SheetWork, paper: str = "a4", system: System = "mm"
) -> list[Page]:
    """Every page of the job.

    Raises
    ------
    KeyError
        A paper that is not in :data:`PAPERS`.
    """
    size = PAPERS[paper]
    pages = _cover(job, sheets, size, system)
    for cuts in _alike(job.pieces):
        if cuts[0].copy is not None and fits_a_page(cuts[0].piece, size):
            title = cuts[0].piece.title.rpartition(", ")[0]
            pages += bearing_pages(cuts, size, title)
            continue
        titles = [cut.piece.title for cut in cuts]
        pages += true_size_pages(cuts[0].piece, size, titles, sum(cut.count for cut in cuts))
    pages += _cutting(sheets, size)
    pages += name_list_pages(job, sheets, size)
    for name, work in job.works.items():
        pages += step_pages(
            work, size, f"Assembly of the {name}" if job.several else "Assembly", system
        )
    for number, page in enumerate(pages, start=1):
        page.text(
            f"{job.project.title} · {number} of {len(pages)}",
            size[0] - MARGIN,
            size[1] - 7,
            SMALL,
            colour=LIGHT.quiet,
            anchor="end",
        )
    return pages


def _alike(pieces: Iterable[JobPiece]) -> Iterable[list[JobPiece]]:
    """Pieces that are cut alike from one board together: one print is the pattern for all."""
    out: dict[tuple[str, int | str, str, str], list[JobPiece]] = {}
    for cut in pieces:
        own = cut.own if cut.copy is not None else id(cut.piece.panels)
        key = (cut.item, own, cut.piece.board.key, cut.colour)
        out.setdefault(key, []).append(cut)
    return out.values()


def _cover(
    job: JobWork, sheets: SheetWork, size: tuple[float, float], system: System
) -> list[Page]:
    """Scale check, sizes and findings."""
    page = Page(*size)
    project = job.project
    room = size[0] - 2 * MARGIN - CHECK - TITLE / 2  # a long title is set smaller
    large = min(TITLE, TITLE * room / text_width(project.title, TITLE, 700))
    page.text(project.title, MARGIN, 20, large, weight=700)
    first = next(iter(job.works.values()), None)
    what = ", ".join(project.names) if job.several or first is None else first.family.title
    page.text(project.occasion or what, MARGIN, 28, BODY, colour=LIGHT.quiet)
    square = np.array([[0, 0], [CHECK, 0], [CHECK, CHECK], [0, CHECK]], dtype=float)
    square += (size[0] - MARGIN - CHECK, 14.0)
    check = Picture(items=[Path((square,), stroke=Stroke(LIGHT.ink, HAIR))])
    middle = square.mean(axis=0)
    check.add(Label("50 mm", float(middle[0]), float(middle[1]) - 3, 5.0, LIGHT.ink, weight=600))
    check.add(
        Label("measure this square", float(middle[0]), float(middle[1]) + 4, SMALL, LIGHT.quiet)
    )
    page.layers.append((check, None))
    y = page.block(
        "Print at 100 %, not fitted to the page. If the square does not measure 50 mm "
        "both ways, correct the printer's scale first.",
        MARGIN,
        38,
        110,
        SMALL,
        colour=LIGHT.quiet,
    )
    flow = _Flow(page, max(y, 14 + CHECK) + 10)
    wide = size[0] - 2 * MARGIN
    for number, (name, work) in enumerate(job.works.items()):
        flow.y += 6 if number else 0
        flow.head(f"Sizes of the {name}" if job.several else "Sizes")
        _sizes(flow, work, wide, system)
    besides = at_hand(job.works)
    schools = {name: work.school for name, work in job.works.items()}
    glued = {name: one for name, one in schools.items() if one and (one.grams or one.tape)}
    if besides or glued:
        flow.y += 6
        flow.head("Besides board")
    for name, school in glued.items():
        who = f"{name[0].upper()}{name[1:]}: " if job.several else ""
        takes = school.takes(job.works[name].task.count, system)
        _lines(flow, f"{who}{school.adhesive.title}, {takes}.", wide)
    for thing in besides:
        who = f"{thing.item[0].upper()}{thing.item[1:]}: " if job.several else ""
        _lines(flow, f"{who}{thing.words(system)}.", wide)
    found = [*job.findings, *(f for w in job.works.values() for f in w.findings), *sheets.findings]
    if found:
        flow.y += 6
        flow.head("To look at")
    for finding in found:
        _lines(flow, in_system(f"{finding.level.word}: {finding.message}", system), wide)
    return flow.pages


def _lines(flow: _Flow, words: str, wide: float) -> None:
    """Wrapped text that is not parted by the end of a page."""
    lines = wrapped(words, BODY, wide)
    y = flow.take(BODY * LEADING * len(lines))
    for i, line in enumerate(lines):
        flow.page.text(line, MARGIN, y + i * BODY * LEADING)


def _sizes(flow: _Flow, work: Work, wide: float, system: System) -> None:
    """Every size with its rule; where nothing lies in it, there is nothing to weigh."""
    for key, value in alike(work.sizes).items():
        if key == "contents-mass" and not value.value:
            continue
        told = in_system(value.rule, system) or str(value.mark)
        rule = wrapped(told, SMALL, wide - 98)[:2]
        y = flow.take(SMALL * 1.35 * (len(rule) - 1) + BODY * 1.5)
        flow.page.text(in_system(value.name, system), MARGIN, y)
        figure = reckoning_text(value, system)
        flow.page.text(figure, MARGIN + 92, y, weight=600, anchor="end")
        for i, line in enumerate(rule):
            below = y + i * SMALL * 1.35
            flow.page.text(line, MARGIN + 98, below, SMALL, colour=LIGHT.quiet)


class _Flow:
    """Text from top to bottom, on as many pages as it needs."""

    def __init__(self, page: Page, y: float) -> None:
        self.pages, self.y, self._title = [page], y, ""

    @property
    def page(self) -> Page:
        """That which is being filled."""
        return self.pages[-1]

    def take(self, height: float) -> float:
        """Room of a height in mm that is not parted; returns where it begins."""
        if self.y + height > self.page.height - MARGIN:
            self.pages.append(Page(self.page.width, self.page.height))
            self.y = MARGIN + 8
            self.page.text(f"{self._title}, continued", MARGIN, self.y, HEAD, weight=600)
            self.y += 8
        y, self.y = self.y, self.y + height
        return y

    def head(self, title: str) -> None:
        """A heading, never the last line of a page."""
        if self.y + 24 > self.page.height - MARGIN:
            self.pages.append(Page(self.page.width, self.page.height))
            self.y = MARGIN + 8
        self._title = title
        self.page.text(title, MARGIN, self.y, HEAD, weight=600)
        self.y += 8


def _cutting(sheets: SheetWork, size: tuple[float, float]) -> list[Page]:
    if not sheets.cutting.sheets:
        return []
    plan = sheets.cutting
    pieces = {name: cut.piece for name, cut in sheets.pieces.items()}
    colours = sheets.colours
    pages: list[Page] = []
    y = size[1]
    for number, cut in enumerate(plan.sheets, start=1):
        stock = cut.sheet.stock
        scale = min((size[0] - 2 * MARGIN - 16) / stock.width, 86.0 / stock.height)
        titles = {name: piece.title for name, piece in pieces.items()}
        told = advice_for(cut, number, titles)
        lines = told.lines
        need = stock.height * scale + 30 + 4.4 * len(lines)
        if y + need > size[1] - MARGIN:
            pages.append(Page(*size))
            y = MARGIN + 4
            pages[-1].text(
                "Cutting" if len(pages) == 1 else "Cutting, continued", MARGIN, y, HEAD, weight=600
            )
            y += 8
            if len(pages) == 1:
                total = format_duration(plan.seconds)
                pages[-1].text(
                    f"{plan.profile.title} · {total} · {counted(plan.tool_changes, 'tool change')}",
                    MARGIN,
                    y,
                    BODY,
                    colour=LIGHT.quiet,
                )
                for line in told.habits:
                    y += 5
                    pages[-1].text(line, MARGIN, y, SMALL, colour=LIGHT.quiet)
                y += 7
        page = pages[-1]
        first = "print it first, then " if cut.sheet.printed else ""
        lies = "" if stock.whole else "; lay the offcut's lower left corner in that of the carrier"
        page.text(f"Sheet {number}: {first}{cut.setting}{lies}", MARGIN, y, BODY, weight=600)
        picture = sheet_picture(cut, pieces, LIGHT, colours, scale, 0.27)
        page.layers.append((picture.moved(MARGIN, y + 2), None))
        y += stock.height * scale + 22
        for line in lines:
            page.text(line, MARGIN, y, SMALL, colour=LIGHT.quiet)
            y += 4.4
        y += 6
    return pages
