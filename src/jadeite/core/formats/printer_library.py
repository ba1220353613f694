"""By how much each cutter misses each printer's print, as the maker has measured it."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Annotated, Literal

from pydantic import Field, ValidationError

from jadeite.core.errors import FileError
from jadeite.core.formats.atomic import write_whole
from jadeite.core.formats.hostile import check_format, json_from_text, text_of_file
from jadeite.core.project import Correction, field_error
from jadeite.core.project.fields import Key, Model

__all__ = ["Calibrated", "calibrated_for", "load_printers", "save_printers", "with_calibrated"]

FORMAT, VERSION = "jadeite-printers", 1
MOST = 200  # pairs of printer and cutter; from memory


class Calibrated(Model):
    """One pair of printer and cutter: the correction, when it was read off, and what was left.

    ``off`` is by how much at most the cut missed the print where it was last read, mm.
    """

    printer: str = Field(min_length=1, max_length=60)
    cutter: Key
    paper: Literal["a4", "letter", "a3"] = "a4"
    correction: Correction
    date: str = Field(pattern=r"^\d{4}-\d{2}-\d{2}$")
    off: Annotated[float, Field(ge=0, le=10, allow_inf_nan=False)]


class _Kept(Model):
    format: Literal["jadeite-printers"] = "jadeite-printers"
    version: Literal[1] = 1
    printers: tuple[Calibrated, ...] = Field(default=(), max_length=MOST)


def load_printers(path: Path) -> tuple[Calibrated, ...]:
    """What was measured, from a file of ours.

    Raises
    ------
    FileError
        It cannot be read, or is none; with the place.
    """
    name = str(path)
    data = check_format(
        json_from_text(text_of_file(path), name), FORMAT, VERSION, "a list of printers", name
    )
    try:
        return _Kept.model_validate(data).printers
    except ValidationError as error:
        complaint = field_error(error)
        raise FileError(name, complaint.problem, f"field {complaint.field}") from None


def save_printers(printers: tuple[Calibrated, ...], path: Path) -> None:
    """Write them whole, and keep the version before."""
    data = _Kept(printers=printers).model_dump(mode="json")
    write_whole(path, (json.dumps(data, indent=1, ensure_ascii=False) + "\n").encode(), keep=True)


def with_calibrated(known: tuple[Calibrated, ...], new: Calibrated) -> tuple[Calibrated, ...]:
    """The list with a new measure in place of the one of the same pair, at its front."""
    pair = (new.printer, new.cutter, new.paper)
    return (new, *(c for c in known if (c.printer, c.cutter, c.paper) != pair))[:MOST]


def calibrated_for(
    known: tuple[Calibrated, ...], printer: str, cutter: str, paper: str
) -> Calibrated | None:
    """The measure of a pair on a paper; None where it was never taken."""
    pair = (printer, cutter, paper)
    return next((c for c in known if (c.printer, c.cutter, c.paper) == pair), None)
