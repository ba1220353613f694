"""A file of the maker's own that is kept for every project."""

from __future__ import annotations

import logging
from collections.abc import Callable
from pathlib import Path
from typing import Generic, TypeVar

from jadeite.core.errors import FileError

__all__ = ["KeptFile"]

log = logging.getLogger(__name__)
Value = TypeVar("Value")


class KeptFile(Generic[Value]):
    """What a file holds; every change is written at once.

    A file that cannot be read is never written over: it may be mended by hand.
    """

    def __init__(
        self,
        path: Path,
        load: Callable[[Path], Value],
        save: Callable[[Value, Path], None],
        empty: Value,
    ) -> None:
        self.path, self._save, self.value = path, save, empty
        self._unreadable = False
        if path.exists():
            try:
                self.value = load(path)
            except FileError as error:
                self._unreadable = True
                log.warning("%s: %s", path.name, error)

    def put(self, value: Value) -> str:
        """Keep another value; why it could not be, or nothing."""
        try:
            self.path.parent.mkdir(parents=True, exist_ok=True)
            if self._unreadable:
                self.path.replace(self.path.with_suffix(".unreadable.json"))
                self._unreadable = False
            self._save(value, self.path)
        except (OSError, FileError) as error:
            return str(error)
        self.value = value
        return ""
