"""Sheets at hand as a table in CSV: what a drawer holds, offcuts with their outline."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from pathlib import Path
from typing import Any

from pydantic import ValidationError

from jadeite.core.errors import FileError
from jadeite.core.formats.atomic import write_whole
from jadeite.core.formats.csv_rows import table_rows
from jadeite.core.formats.hostile import text_of_file
from jadeite.core.formats.tables import csv_text
from jadeite.core.project import MOST_SHEETS_AT_HAND, Stock, field_error

__all__ = ["load_stock", "save_stock", "stock_csv", "stock_from_csv"]

# column, field; a count of none is plenty
COLUMNS = {
    "name": "name",
    "width_mm": "width",
    "height_mm": "height",
    "count": "count",
    "reserved": "reserved",
    "grain": "grain",
    "board": "board",
    "colour": "colour",
    "price": "price",
    "outline_mm": "outline",
}


def stock_csv(stock: Iterable[Stock]) -> str:
    """A row for each size of sheet, and for each offcut."""
    rows: list[Sequence[object]] = [list(COLUMNS)]
    for entry in stock:
        cells = {column: getattr(entry, field) for column, field in COLUMNS.items()}
        cells["outline_mm"] = "; ".join(f"{x:g} {y:g}" for x, y in entry.outline)
        rows.append(["" if cell is None else cell for cell in cells.values()])
    return csv_text(rows)


def stock_from_csv(text: str, name: str = "sheets.csv") -> tuple[Stock, ...]:
    """Sheets from a table with our column names; others are refused by name.

    Raises
    ------
    FileError
        No such column, or a cell that is not allowed; with row and column.
    """
    needed = ("name", "width_mm", "height_mm")
    out = []
    for number, cells in table_rows(
        text, name, tuple(COLUMNS), needed, MOST_SHEETS_AT_HAND, "sizes of sheets"
    ):
        fields: dict[str, Any] = {COLUMNS[head]: cell for head, cell in cells.items()}
        if "outline" in fields:
            fields["outline"] = _corners(fields["outline"], name, number)
        try:
            out.append(Stock.model_validate(fields))
        except ValidationError as error:
            complaint = field_error(error)
            place = f"row {number}, {complaint.field}"
            raise FileError(name, complaint.problem, place) from None
    if not out:
        raise FileError(name, "it holds no sheets", "row 2")
    return tuple(out)


def _corners(words: str, name: str, number: int) -> tuple[tuple[float, float], ...]:
    try:
        pairs = [tuple(float(part) for part in pair.split()) for pair in words.split(";")]
        return tuple((x, y) for x, y in pairs)
    except ValueError:
        place = f"row {number}, outline_mm"
        raise FileError(name, "corners are written as 0 0; 80 0; 80 40", place) from None


def load_stock(path: Path) -> tuple[Stock, ...]:
    """Sheets from a CSV file.

    Raises
    ------
    FileError
        It cannot be read, or holds something that is no sheet; with the place.
    """
    return stock_from_csv(text_of_file(path), str(path))


def save_stock(stock: Iterable[Stock], path: Path) -> None:
    """Write the sheets whole."""
    write_whole(path, stock_csv(stock).encode(), keep=False)
