"""The one root of Jadeite's errors, and its few branches."""

from __future__ import annotations

from typing import Any

__all__ = [
    "Cancelled",
    "FieldError",
    "FileError",
    "JadeiteError",
    "Way",
    "inside_way",
    "option_way",
]


class JadeiteError(Exception):
    """Anything Jadeite refuses; its text is one line for the maker."""


# a change to the document that ends a refusal: dotted fields with their values; a length of
# the inside is inside.length, inside.width or inside.height, in mm
Way = tuple[tuple[str, Any], ...]


class FieldError(JadeiteError):
    """A value that cannot be used, with the field and the cure.

    ``cure`` says it in words; ``ways`` are the changes that would do it, the
    best first.
    """

    def __init__(
        self, field: str, problem: str, cure: str = "", ways: tuple[Way, ...] = ()
    ) -> None:
        super().__init__(field, problem, cure, ways)  # picklable
        self.field, self.problem, self.cure, self.ways = field, problem, cure, ways

    def __str__(self) -> str:
        tail = f" {self.cure}" if self.cure else ""
        return f"{self.field}: {self.problem}.{tail}"


class FileError(JadeiteError):
    """A file that cannot be read or written, with the place in it."""

    def __init__(self, path: str, problem: str, place: str = "") -> None:
        super().__init__(path, problem, place)
        self.path, self.problem, self.place = path, problem, place

    def __str__(self) -> str:
        where = f"{self.path}, {self.place}" if self.place else self.path
        return f"{where}: {self.problem}."


class Cancelled(JadeiteError):  # noqa: N818 - says what happened, not what failed
    """A long job was stopped by the maker."""

    def __str__(self) -> str:
        return "Stopped."


def inside_way(axis: str, value: float) -> Way:
    """Another length of the inside, in mm; ``axis`` is ``length``, ``width`` or ``height``."""
    return ((f"inside.{axis}", value),)


def option_way(key: str, value: float | str) -> Way:
    """Another value of an option of the shape."""
    return ((f"shape.options.{key}", value),)
