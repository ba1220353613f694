"""Rows of a table that somebody else may have written, as plain cells under known heads."""

from __future__ import annotations

import csv
import io
from collections.abc import Sequence

from jadeite.core.errors import FileError
from jadeite.core.formats.tables import plain_cell

__all__ = ["table_rows"]

MAX_LINE = 20_000  # letters; from memory, ten times the longest row


def table_rows(
    text: str, name: str, known: Sequence[str], needed: Sequence[str], most: int, what: str
) -> list[tuple[int, dict[str, str]]]:
    """Rows of a CSV file with their numbers: cells that are not empty, by their head.

    ``what`` the rows are is said where there are more than ``most``.

    Raises
    ------
    FileError
        No CSV, a head that is not known, one that is missing, or a row of another length.
    """
    lines = text.splitlines()
    if len(lines) > 2 * most or any(len(line) > MAX_LINE for line in lines):
        raise FileError(name, f"it holds more than {most} {what}, or a line without end")
    try:
        table = list(csv.reader(io.StringIO(text), strict=True))
    except csv.Error as error:
        raise FileError(name, f"not readable as CSV: {error}") from None
    if not table:
        raise FileError(name, "it is empty", "row 1")
    heads = [head.strip() for head in table[0]]
    for head in heads:
        if head not in known:
            raise FileError(name, f"there is no column “{head[:30]}”", "row 1")
    for column in needed:
        if column not in heads:
            raise FileError(name, f"the column {column} is missing", "row 1")
    rows = []
    for number, cells in enumerate(table[1:], start=2):
        if not any(cell.strip() for cell in cells):
            continue
        if len(cells) != len(heads):
            raise FileError(name, f"{len(cells)} cells for {len(heads)} columns", f"row {number}")
        plain = {head: plain_cell(c).strip() for head, c in zip(heads, cells, strict=True)}
        rows.append((number, {head: cell for head, cell in plain.items() if cell != ""}))
    return rows
