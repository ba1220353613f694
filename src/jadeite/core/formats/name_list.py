"""Lists of names, pasted or from a table: names, what belongs to each, and what was left out."""

from __future__ import annotations

import csv
from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path

from jadeite.core.errors import FieldError, FileError
from jadeite.core.formats.hostile import text_of_file
from jadeite.core.units import counted

__all__ = ["NameList", "parse_names", "read_names"]

NAME_HEADS = frozenset({"name", "names", "guest", "guests", "person"})
TABLE_HEADS = frozenset({"table", "tables", "seat", "place", "group"})
LONGEST = 60  # letters of a name; setting
SEPARATORS = ("\t", ";", ",")


@dataclass(frozen=True)
class NameList:
    """Names in their order, what belongs to each (or nothing at all), and what was left out."""

    names: tuple[str, ...] = ()
    tables: tuple[str, ...] = ()
    blanks: int = 0
    twice: tuple[str, ...] = ()

    @property
    def said(self) -> str:
        """What of the list is worth a word; empty where nothing is."""
        out = []
        if self.blanks:
            lines = counted(self.blanks, "empty line")
            out.append(f"{lines} left out")
        if self.twice:
            named = ", ".join(f"“{name}”" for name in self.twice[:3])
            more = len(self.twice) - 3
            out.append(f"more than once: {named}{f' and {more} more' if more > 0 else ''}")
        return "; ".join(out)


def parse_names(text: str, *, commas: bool = False) -> NameList:
    """A list as it is pasted: a name a line, or columns with tabs or semicolons.

    The first line may name the columns; else the first is the name and the second the table.
    A comma may be part of a pasted name; it parts ``commas`` columns in a table, and
    where the first line names several columns by it.

    Raises
    ------
    FieldError
        It holds no name, or one is too long.
    """
    lines = text.splitlines()
    head = {word.strip().lower() for word in lines[0].split(",")} if lines else set()
    marks = SEPARATORS if commas or (head & NAME_HEADS and head & TABLE_HEADS) else SEPARATORS[:2]
    comma = max(marks, key=lambda mark: sum(mark in line for line in lines))
    try:
        rows = [[cell.strip() for cell in row] for row in csv.reader(lines, delimiter=comma)]
    except csv.Error as error:
        raise FieldError("names", f"it is no table: {error}") from None
    while rows and not any(rows[-1]):
        rows.pop()  # the end of a text is no empty line
    first, second, begin = _columns(rows[0] if rows else [])
    kept: list[tuple[str, str]] = []
    blanks = 0
    for number, row in enumerate(rows[begin:], start=begin + 1):
        name = _cell(row, first)
        if not name:
            blanks += 1
            continue
        if len(name) > LONGEST:
            raise FieldError(
                "names",
                f"line {number} has {len(name)} letters",
                f"Use {LONGEST} at most for a name.",
            )
        kept.append((name, _cell(row, second)[:LONGEST]))
    if not kept:
        raise FieldError("names", "the list holds no name", "Give a name a line.")
    names = tuple(name for name, _ in kept)
    tables = tuple(table for _, table in kept)
    twice = tuple(name for name, times in Counter(names).items() if times > 1)
    return NameList(names, tables if any(tables) else (), blanks, twice)


def read_names(path: Path) -> NameList:
    """A list of names from a file in CSV.

    Raises
    ------
    FileError
        It cannot be read, or holds no name.
    """
    try:
        return parse_names(text_of_file(path), commas=True)
    except FieldError as error:
        words = f"{error.problem}. {error.cure}" if error.cure else error.problem
        raise FileError(str(path), words.rstrip(".")) from None


def _columns(head: Sequence[str]) -> tuple[int, int, int]:
    """Where names stand, where what belongs to them, and in which row they begin."""
    words = [cell.lower() for cell in head]
    names = [i for i, word in enumerate(words) if word in NAME_HEADS]
    if not names:
        return 0, 1, 0
    tables = [i for i, word in enumerate(words) if word in TABLE_HEADS]
    return names[0], tables[0] if tables else len(head), 1


def _cell(row: Sequence[str], column: int) -> str:
    return " ".join(row[column].split()) if column < len(row) else ""
