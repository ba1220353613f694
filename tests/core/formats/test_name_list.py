"""Lists of names as people have them, and the pages on which they are printed."""

from __future__ import annotations

import csv
import io

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.geometry import LineString, MultiLineString

from jadeite.core.errors import FieldError
from jadeite.core.formats.name_list import parse_names
from jadeite.core.formats.pages import print_pages
from jadeite.core.formats.pdf import pdf_bytes
from jadeite.core.pipeline import plan_job_sheets, work_up_job
from jadeite.core.project import Face, Item, Project, Shape, changed
from tests.file_reader import read_pdf

NAMES = ("Ada Rill", "Zoë Grünwald-Hollin", "Åse Øvreås", "Orrin Gale", "Łucja Brandt")
PLAIN = st.text(st.characters(whitelist_categories=("L",)), min_size=1, max_size=30)


@pytest.mark.parametrize(("text", "names", "tables"), [
    ("Ada Rill\nOrrin Gale", ("Ada Rill", "Orrin Gale"), ()),
    ("Ada Rill; 3\nOrrin Gale;4", ("Ada Rill", "Orrin Gale"), ("3", "4")),
    ("Ada Rill\t3\nOrrin Gale", ("Ada Rill", "Orrin Gale"), ("3", "")),
    ("Rill, Ada\nGale, Orrin", ("Rill, Ada", "Gale, Orrin"), ()),
    ("Table,Name\n3,Ada Rill\n4,Orrin Gale", ("Ada Rill", "Orrin Gale"), ("3", "4")),
    ("name\n  Ada   Rill ", ("Ada Rill",), ()),
])  # fmt: skip
def test_lists_are_read_as_they_are_pasted(text: str, names, tables) -> None:  # type: ignore[no-untyped-def]
    """A name a line, columns, heads in any order; a comma may be part of a name."""
    found = parse_names(text)
    assert (found.names, found.tables) == (names, tables)


def test_empty_lines_and_doubles_are_said() -> None:
    """In the middle they count, at the end they are no lines."""
    found = parse_names("Ada Rill\n\nOrrin Gale\n \nAda Rill\n\n\n")
    assert found.blanks == 2
    assert found.said == "2 empty lines left out; more than once: “Ada Rill”"
    for bad in ("", "\n\n", "x" * 61):
        with pytest.raises(FieldError):
            parse_names(bad)


@settings(max_examples=100)
@given(rows=st.lists(st.tuples(PLAIN, PLAIN), min_size=2, max_size=30))
def test_property_what_csv_writes_is_read_back(rows) -> None:  # type: ignore[no-untyped-def]
    """Python's csv module writes it, whatever is in the cells."""
    buffer = io.StringIO()
    csv.writer(buffer).writerows([("name", "table"), *rows])
    found = parse_names(buffer.getvalue(), commas=True)
    assert found.names == tuple(name for name, _ in rows)
    assert found.tables == tuple(table for _, table in rows)


def test_every_name_is_on_the_list_and_its_label_at_true_size() -> None:
    """Of the PDF by pypdf: each name once on the list with its sheet; the strokes of its label are
    those that the pen writes, at 1 : 1."""
    item = changed(Item(), name="cards", shape=Shape(key="place-cards"), names=NAMES,
                   brief=Face(size=(89.0, 66.5)), tables=("1", "1", "2", "2", "3"))  # fmt: skip
    job = work_up_job(Project(items=(item,)), cures=False)
    sheets = plan_job_sheets(job)
    pages = read_pdf(pdf_bytes(print_pages(job, sheets), "Names"))
    (listed,) = [text for text, _ in pages if "Names" in text and "Orrin Gale" in text]
    lines = listed.splitlines()
    for name in NAMES:
        assert lines.count(name) == 1
    labels = next(lines for text, lines in pages if text.startswith("label, 1 : 1"))
    wide = [float(np.ptp(ring[:, 0])) for ring in labels.rings]
    assert sum(abs(w - 70.0) < 0.05 for w in wide) == len(NAMES)
    wanted = [cut for cut in job.pieces if cut.copy is not None]
    strokes = sum(len(cut.piece.veins) for cut in wanted)
    assert len(labels.ink) == strokes
    for cut in wanted:
        sizes = [np.ptp(vein.points, axis=0) for vein in cut.piece.veins]
        for size in sizes:
            assert any(np.abs(np.ptp(line, axis=0) - size).max() < 0.05 for line in labels.ink)
    assert MultiLineString([LineString(v.points) for v in wanted[0].piece.veins]).length > 50
