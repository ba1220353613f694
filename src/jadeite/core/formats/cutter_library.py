"""The maker's own cutters, and how boards are cut best by each, for every project."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Literal

from pydantic import Field, ValidationError

from jadeite.core.errors import FileError
from jadeite.core.formats.atomic import write_whole
from jadeite.core.formats.hostile import check_format, json_from_text, text_of_file
from jadeite.core.project import Cutter, Learned, field_error
from jadeite.core.project.fields import Model

__all__ = ["Bench", "load_bench", "save_bench", "with_cutter", "with_learned", "without_cutter"]

FORMAT, VERSION = "jadeite-cutters", 1
MOST_CUTTERS, MOST_LEARNED = 20, 400  # from memory, as many as a project holds


class Bench(Model):
    """What stands on the maker's bench: cutters, and settings that were learned."""

    format: Literal["jadeite-cutters"] = "jadeite-cutters"
    version: Literal[1] = 1
    cutters: tuple[Cutter, ...] = Field(default=(), max_length=MOST_CUTTERS)
    learned: tuple[Learned, ...] = Field(default=(), max_length=MOST_LEARNED)


def load_bench(path: Path) -> Bench:
    """What was kept, from a file of ours.

    Raises
    ------
    FileError
        It cannot be read, or is none; with the place.
    """
    name = str(path)
    data = check_format(
        json_from_text(text_of_file(path), name), FORMAT, VERSION, "a list of cutters", name
    )
    try:
        return Bench.model_validate(data)
    except ValidationError as error:
        complaint = field_error(error)
        raise FileError(name, complaint.problem, f"field {complaint.field}") from None


def save_bench(bench: Bench, path: Path) -> None:
    """Write it whole, and keep the version before."""
    data = bench.model_dump(mode="json")
    write_whole(path, (json.dumps(data, indent=1, ensure_ascii=False) + "\n").encode(), keep=True)


def with_cutter(bench: Bench, new: Cutter) -> Bench:
    """The bench with a cutter in place of the one with its key, else at its end."""
    others = [own for own in bench.cutters if own.key != new.key]
    return bench.model_copy(update={"cutters": (*others, new)[-MOST_CUTTERS:]})


def without_cutter(bench: Bench, key: str) -> Bench:
    """The bench without a cutter; projects that use it keep their own copy."""
    return bench.model_copy(
        update={"cutters": tuple(own for own in bench.cutters if own.key != key)}
    )


def with_learned(bench: Bench, new: Learned) -> Bench:
    """The bench with a setting in place of that of the same board and cutter, at its front."""
    same = new.board, new.cutter, new.stock
    others = [one for one in bench.learned if (one.board, one.cutter, one.stock) != same]
    return bench.model_copy(update={"learned": (new, *others)[:MOST_LEARNED]})
