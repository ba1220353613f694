"""Reading files with suspicion: size, encoding, depth, and numbers that are none."""

from __future__ import annotations

import json
import re
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from jadeite.core.errors import FileError
from jadeite.core.formats.atomic import reason

__all__ = ["MAX_BYTES", "check_format", "json_from_text", "text_of_file"]

MAX_BYTES = 4_000_000  # from memory; a job of 500 trials takes a tenth of it
HALF_LETTER = re.compile(r"\\u[dD][89a-fA-F]")  # half of a pair, in JSON's escapes
MAX_LIST = 3000  # entries; from memory, boards are the longest list of ours, up to 2000
MAX_DIGITS = 40  # of one number; no measure needs more


def text_of_file(path: Path) -> str:
    """The whole of a text file.

    Raises
    ------
    FileError
        It cannot be read, is too large, or is not UTF-8.
    """
    try:
        with path.open("rb") as file:
            raw = file.read(MAX_BYTES + 1)
    except OSError as error:
        raise FileError(str(path), reason(error)) from None
    if len(raw) > MAX_BYTES:
        raise FileError(str(path), f"it is larger than {MAX_BYTES // 1_000_000} MB")
    try:
        return raw.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise FileError(str(path), "it is not UTF-8 text", f"byte {error.start}") from None


def _refuse_constant(word: str) -> float:
    raise ValueError(f"{word} is not a number here")


def _short_int(digits: str) -> int:
    if len(digits) > MAX_DIGITS:
        raise ValueError("a number has too many digits")
    return int(digits)


def _short_float(digits: str) -> float:
    if len(digits) > MAX_DIGITS:
        raise ValueError("a number has too many digits")
    value = float(digits)
    if value in (float("inf"), float("-inf")):
        raise ValueError(f"{digits} is too large")
    return value


def json_from_text(text: str, name: str) -> Any:
    """Plain data from JSON.

    Raises
    ------
    FileError
        Not JSON, nested too deeply, or a number that is none; with the line.
    """
    try:
        data = json.loads(
            text,
            parse_constant=_refuse_constant,
            parse_int=_short_int,
            parse_float=_short_float,
        )
        if HALF_LETTER.search(text) and not _whole_letters(data):
            raise ValueError("it holds half of a letter, which no file can keep")
        if _longest(data) > MAX_LIST:
            raise ValueError(f"it holds a list of more than {MAX_LIST} entries")
    except json.JSONDecodeError as error:
        raise FileError(
            name, f"not readable as JSON: {error.msg}", f"line {error.lineno}"
        ) from None
    except RecursionError:
        raise FileError(name, "it is nested too deeply") from None
    except ValueError as error:
        raise FileError(name, str(error)) from None
    return data


def _parts(data: Any) -> Iterator[Any]:
    """The data and everything within it, keys as well, however deep."""
    left = [data]
    while left:
        part = left.pop()
        yield part
        if isinstance(part, dict):
            left += [*part.keys(), *part.values()]
        elif isinstance(part, list):
            left += part


def _whole_letters(data: Any) -> bool:
    """Whether every text is made of whole letters: JSON can escape one half of a pair."""
    texts = (part for part in _parts(data) if isinstance(part, str))
    return not any("\ud800" <= letter <= "\udfff" for text in texts for letter in text)


def _longest(data: Any) -> int:
    """Length of the longest list or record, at any depth."""
    return max((len(part) for part in _parts(data) if isinstance(part, list | dict)), default=0)


def check_format(data: Any, form: str, version: int, what: str, name: str) -> dict[str, Any]:
    """The record in a file of ours, once its format and version are right.

    Raises
    ------
    FileError
        Another format, or a newer version.
    """
    if not isinstance(data, dict) or data.get("format") != form:
        raise FileError(name, f"it is not {what}", "field format")
    found = data.get("version")
    if isinstance(found, int) and not isinstance(found, bool) and found > version:
        raise FileError(
            name,
            f"it was made by a newer Jadeite (format version {found}, this one reads "
            f"{version}); update Jadeite to open it",
            "field version",
        )
    return data
