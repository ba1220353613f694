"""Printed pages: words that stay on them and off one another, nets with what their lines mean."""

from __future__ import annotations

import itertools
import math
from pathlib import Path

import pypdf
import pypdfium2

from jadeite.core.contents import Light
from jadeite.core.formats import load_project
from jadeite.core.formats.pages import PAPERS, print_pages
from jadeite.core.formats.pdf import pdf_bytes
from jadeite.core.formats.true_size import true_size_pages
from jadeite.core.nets.roles import Role
from jadeite.core.patterns import MOTIFS
from jadeite.core.pipeline import (
    arrange_contents,
    plan_job_sheets,
    plan_sheets,
    windows_from,
    work_up,
    work_up_job,
)
from jadeite.core.project import Hollow, Item, Project, Shape, Span, Task, changed
from jadeite.core.reckoning import alike
from jadeite.core.shapes import all_families
from tests.core.shapes.closing import build
from tests.jobs import job_of, project_of

EXAMPLES = Path(__file__).parents[3] / "examples"


def _beyond(path: Path) -> list[str]:
    """Words that do not lie whole on their page, by pypdfium2 from the written file."""
    out = []
    document = pypdfium2.PdfDocument(path)
    for number, page in enumerate(document, start=1):
        width, height = page.get_size()
        text = page.get_textpage()
        for i in range(text.count_rects()):
            left, bottom, right, top = text.get_rect(i)
            if left < 8 or bottom < 8 or right > width - 8 or top > height - 8:  # points
                out.append(f"page {number}: {text.get_text_bounded(left, bottom, right, top)}")
    return out


def _over_one_another(path: Path) -> list[str]:
    """Lines of words that lie on others by more than a point, by pypdfium2 from the file."""
    out = []
    for number, page in enumerate(pypdfium2.PdfDocument(path), start=1):
        text = page.get_textpage()
        rects = [text.get_rect(i) for i in range(text.count_rects())]
        for (a, b, c, d), (e, f, g, h) in itertools.combinations(rects, 2):
            if min(c, g) - max(a, e) > 1 and min(d, h) - max(b, f) > 1:
                out.append(f"page {number}: {text.get_text_bounded(a, b, c, d)}")
    return out


def test_no_words_lie_over_others(tmp_path) -> None:  # type: ignore[no-untyped-def]
    """Two made things with long names, whose last seams have long names as well."""
    names = ("translucent rose of the long table by the gate, the third", "leaves")
    shape = Shape(key="leaf-spray")
    items = tuple(Item(name=name, brief=Span(width=120.0), shape=shape) for name in names)
    project = changed(Project(), items=items)
    job = work_up_job(project)
    (tmp_path / "job.pdf").write_bytes(pdf_bytes(print_pages(job, plan_job_sheets(job)), "job"))
    words = "".join(p.extract_text() for p in pypdf.PdfReader(tmp_path / "job.pdf").pages)
    assert "Assembly of the translucent rose" in words
    assert "in all, dry after" in words
    assert _over_one_another(tmp_path / "job.pdf") == []
    assert _beyond(tmp_path / "job.pdf") == []


def test_words_stay_on_the_paper(tmp_path) -> None:  # type: ignore[no-untyped-def]
    """Twelve walls with windows of their own: sizes and findings take more than one page."""
    lamp = Light(name="lamp", diameter=110, height=90, mass=90)
    shape = Shape(key="n-sided-box", options={"sides": 12.0})
    project = changed(Task(), shape=shape, contents=(lamp,))
    arrangement = arrange_contents(project, quick=True)
    windows = windows_from(project, arrangement, "walls", "leaves", lined=True)
    motifs = list(MOTIFS)[: len(windows)]
    unlike = [changed(own, motif=motif) for own, motif in zip(windows, motifs, strict=True)]
    project = changed(project, windows=tuple(unlike))
    work = work_up(project, arrangement)
    assert work.design is not None
    told = alike(work.sizes).values()
    assert len(told) > 28
    for paper in ("a4", "letter"):
        pages = print_pages(job_of(work), plan_sheets(project, work.design), paper)
        (tmp_path / "job.pdf").write_bytes(pdf_bytes(pages, "job"))
        assert _beyond(tmp_path / "job.pdf") == []
        document = pypdfium2.PdfDocument(tmp_path / "job.pdf")
        first, second = (document[i].get_textpage().get_text_range() for i in (0, 1))
        assert "To look at" in second
        assert all(value.name in first + second for value in told)


def test_a_list_that_goes_on_says_so(tmp_path) -> None:  # type: ignore[no-untyped-def]
    """The sizes of four made things take three pages."""
    job = work_up_job(load_project(EXAMPLES / "moonflower-tables.jadeite"))
    (tmp_path / "job.pdf").write_bytes(pdf_bytes(print_pages(job, plan_job_sheets(job)), "job"))
    document = pypdfium2.PdfDocument(tmp_path / "job.pdf")
    pages = [document[i].get_textpage().get_text_range() for i in (0, 1, 2)]
    assert "Sizes of the moonflower" in pages[0]
    assert "continued" in pages[1] + pages[2]
    assert _beyond(tmp_path / "job.pdf") == []


def test_every_net_says_what_its_lines_mean(tmp_path) -> None:  # type: ignore[no-untyped-def]
    """In a row that stays on the paper; the bends of a strip that is wound up are no lines."""
    for paper in ("a4", "letter"):
        for family in all_families():
            design = build(family, (90.0, 60.0, 70.0))
            pieces = {piece.part: piece for piece in design.pieces}.values()
            pages = [true_size_pages(piece, PAPERS[paper])[0] for piece in pieces]
            (tmp_path / "nets.pdf").write_bytes(pdf_bytes(pages, "nets"))
            assert _beyond(tmp_path / "nets.pdf") == []
            assert _over_one_another(tmp_path / "nets.pdf") == []
            read = pypdf.PdfReader(tmp_path / "nets.pdf").pages
            for piece, page in zip(pieces, read, strict=True):
                words = page.extract_text()
                marks = {fold.mark for fold in piece.folds if fold.kind == "scored"}
                assert ("score, folds away" in words) == ("mountain" in marks)
                assert ("score, folds toward you" in words) == ("valley" in marks)
                wound = any(panel.role is Role.WOUND for panel in piece.panels)
                bent = any(f.kind == "rolled" for f in piece.folds) and not wound
                assert ("rolled, not scored" in words) == bent


def test_two_sheets_lie_on_a_page(tmp_path) -> None:  # type: ignore[no-untyped-def]
    """Five large trays on as many sheets: three pages, on either paper none runs off."""
    task = changed(
        Task(), brief=Hollow(size=(150.0, 100.0, 60.0)), shape=Shape(key="tray-with-lid")
    )
    job = work_up_job(project_of(task))
    sheets = plan_job_sheets(job)
    for paper in PAPERS:
        (tmp_path / "job.pdf").write_bytes(pdf_bytes(print_pages(job, sheets, paper), "job"))
        pages = [p.extract_text() for p in pypdf.PdfReader(tmp_path / "job.pdf").pages]
        cut = [page for page in pages if "Sheet 1:" in page or "Cutting, continued" in page]
        if paper == "a4":
            assert len(cut) == math.ceil(len(sheets.cutting.sheets) / 2)
        assert _beyond(tmp_path / "job.pdf") == []
        assert "Contents" not in pages[0]
