"""The maker's own boards: kept as JSON, carried elsewhere as JSON or CSV."""

from __future__ import annotations

import json
from collections.abc import Iterable, Sequence
from pathlib import Path
from typing import Any

from pydantic import TypeAdapter, ValidationError

from jadeite.core.boards import Board
from jadeite.core.errors import FieldError, FileError
from jadeite.core.formats.atomic import write_whole
from jadeite.core.formats.csv_rows import table_rows
from jadeite.core.formats.hostile import check_format, json_from_text, text_of_file
from jadeite.core.formats.tables import csv_text
from jadeite.core.project import field_error

__all__ = ["boards_csv", "boards_from_csv", "boards_json", "load_boards", "merged", "save_boards"]

FORMAT, VERSION = "jadeite-boards", 1
MAX_BOARDS = 2000  # from memory; no drawer holds more
NEEDED = ("key", "title", "grammage_g_m2", "thickness_mm")  # columns
_BOARDS = TypeAdapter(tuple[Board, ...])
# column, field; lists and pairs have columns of their own
COLUMNS = (
    ("key", "key"),
    ("title", "title"),
    ("grammage_g_m2", "grammage"),
    ("thickness_mm", "thickness"),
    ("score", "score"),
    ("passes", "passes"),
    ("pressure", "pressure"),
    ("grain", "grain"),
    ("good_side", "good_side"),
    ("translucency", "translucency"),
    ("finish", "finish"),
    ("colour", "colour"),
    ("stiff_along_gpa", "stiff_along"),
    ("stiff_across_gpa", "stiff_across"),
    ("price_per_sheet", "price"),
    ("dusty", "dusty"),
    ("mark", "mark"),
    ("thickness_from", "thickness_from"),
    ("grammage_from", "grammage_from"),
    ("note", "note"),
)


def _validated(rows: list[Any], name: str, place: str) -> tuple[Board, ...]:
    """Boards from plain rows; the first that is not one is named by its place."""
    if len(rows) > MAX_BOARDS:
        raise FileError(name, f"it holds more than {MAX_BOARDS} boards")
    out: dict[str, Board] = {}
    for number, row in enumerate(rows, start=1):
        try:
            board = _BOARDS.validate_python((row,))[0]
        except ValidationError as error:
            complaint = field_error(error)
            field = complaint.field.removeprefix("0.")
            raise FileError(name, complaint.problem, f"{place} {number}, {field}") from None
        except FieldError as error:
            raise FileError(name, f"{error.field}: {error.problem}", f"{place} {number}") from None
        if board.key in out:
            raise FileError(name, f"“{board.key}” stands twice", f"{place} {number}, key")
        out[board.key] = board
    return tuple(out.values())


def boards_json(boards: Iterable[Board]) -> str:
    """The boards as a file of ours."""
    rows = _BOARDS.dump_python(tuple(boards), mode="json")
    head = {"format": FORMAT, "version": VERSION, "boards": rows}
    return json.dumps(head, indent=1, ensure_ascii=False) + "\n"


def _from_json(text: str, name: str) -> tuple[Board, ...]:
    data = check_format(json_from_text(text, name), FORMAT, VERSION, "a list of boards", name)
    rows = data.get("boards")
    if not isinstance(rows, list):
        raise FileError(name, "it has no list of boards", "field boards")
    return _validated(rows, name, "board")


def boards_csv(boards: Iterable[Board]) -> str:
    """A table with a row for each board."""
    heads = [column for column, _ in COLUMNS]
    rows: list[Sequence[object]] = [[*heads, "basis_kind", "basis_lb", "sheets_mm"]]
    for board in boards:
        cells = [getattr(board, field) for _, field in COLUMNS]
        kind, pounds = board.basis or ("", "")
        sheets = "; ".join(f"{w:g}x{h:g}" for w, h in board.sheets)
        rows.append([*("" if c is None else c for c in cells), kind, pounds, sheets])
    return csv_text(rows)


def boards_from_csv(text: str, name: str = "boards.csv") -> tuple[Board, ...]:
    """Boards from a table with our column names; others are refused by name.

    Raises
    ------
    FileError
        No such column, or a cell that is not allowed; with row and column.
    """
    fields = dict(COLUMNS)
    heads = (*fields, "basis_kind", "basis_lb", "sheets_mm")
    rows = [
        _row(cells, fields, name, number)
        for number, cells in table_rows(text, name, heads, NEEDED, MAX_BOARDS, "boards")
    ]
    return _validated(rows, name, "board")


def _row(cells: dict[str, str], fields: dict[str, str], name: str, number: int) -> dict[str, Any]:
    """One row of the table as the fields of a board."""
    out: dict[str, Any] = {"score": "yes", "passes": 1, "pressure": "usual"}
    out |= {fields[h]: c for h, c in cells.items() if h in fields}
    if "basis_kind" in cells:
        out["basis"] = (cells["basis_kind"], cells.get("basis_lb", ""))
    if "sheets_mm" in cells:
        pairs = [part.strip().lower().split("x") for part in cells["sheets_mm"].split(";")]
        if any(len(pair) != 2 for pair in pairs):
            raise FileError(
                name, "sheets are written as 305x305; 210x297", f"row {number}, sheets_mm"
            )
        out["sheets"] = tuple((w.strip(), h.strip()) for w, h in pairs)
    return out


def load_boards(path: Path) -> tuple[Board, ...]:
    """Boards from a JSON or CSV file, told apart by its ending.

    Raises
    ------
    FileError
        It cannot be read, or holds something that is no board; with the place.
    """
    text = text_of_file(path)
    if path.suffix.lower() == ".csv":
        return boards_from_csv(text, str(path))
    return _from_json(text, str(path))


def save_boards(boards: Iterable[Board], path: Path) -> None:
    """Write boards whole, as CSV where the name ends so, else as JSON."""
    text = boards_csv(boards) if path.suffix.lower() == ".csv" else boards_json(boards)
    write_whole(path, text.encode(), keep=path.suffix.lower() != ".csv")


def merged(old: Iterable[Board], new: Iterable[Board]) -> tuple[Board, ...]:
    """Old boards with the new ones; the same key is replaced."""
    found = {b.key: b for b in old} | {b.key: b for b in new}
    return tuple(found.values())
