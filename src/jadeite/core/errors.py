"""The one root of Jadeite's errors, and its few branches."""

from __future__ import annotations

__all__ = ["Cancelled", "FieldError", "FileError", "JadeiteError"]


class JadeiteError(Exception):
    """Anything Jadeite refuses; its text is one line for the maker."""


class FieldError(JadeiteError):
    """A value that cannot be used, with the field and the cure."""

    def __init__(self, field: str, problem: str, cure: str = "") -> None:
        super().__init__(field, problem, cure)  # picklable
        self.field, self.problem, self.cure = field, problem, cure

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
