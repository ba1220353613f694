"""The maker's own boards and measured printers, kept under the user's data directory."""

from __future__ import annotations

import logging
from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal

from jadeite.core.boards import Board
from jadeite.core.errors import FileError
from jadeite.core.formats.board_library import load_boards, merged, save_boards
from jadeite.desktop.bench import CutterBench
from jadeite.desktop.printers import Printers

__all__ = ["Library"]

log = logging.getLogger(__name__)
NAME = "boards.json"


class Library(QObject):
    """Boards that are at hand in every project; every change is written at once."""

    changed = pyqtSignal()
    trouble = pyqtSignal(str)

    def __init__(self, folder: Path, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.path = folder / NAME
        self.printers = Printers(folder, self)
        self.printers.trouble.connect(self.trouble)
        self.bench = CutterBench(folder, self)
        self.bench.trouble.connect(self.trouble)
        self.boards: tuple[Board, ...] = ()
        self.unreadable = ""
        if self.path.exists():
            try:
                self.boards = load_boards(self.path)
            except FileError as error:
                self.unreadable = str(error)
                log.warning("own boards: %s", error)

    def keep(self, *boards: Board) -> bool:
        """Keep boards; those with the same key are replaced.  False when nothing was written."""
        return self._write(merged(self.boards, boards))

    def forget(self, key: str) -> bool:
        """Take a board out; projects that use it keep their own copy."""
        return self._write(tuple(b for b in self.boards if b.key != key))

    def take_in(self, path: Path) -> int:
        """Take in the boards of a JSON or CSV file; how many.

        Raises
        ------
        FileError
            The file is not readable or a board in it is none; nothing was taken in.
        """
        found = load_boards(path)
        return len(found) if self.keep(*found) else 0

    def write_to(self, path: Path) -> None:
        """Write all of them to a file, as CSV where the name ends so.

        Raises
        ------
        FileError
            Nothing was written.
        """
        save_boards(self.boards, path)

    def _write(self, boards: tuple[Board, ...]) -> bool:
        try:
            self.path.parent.mkdir(parents=True, exist_ok=True)
            if self.unreadable:  # never written over: it may be mended by hand
                self.path.replace(self.path.with_suffix(".unreadable.json"))
                self.unreadable = ""
            save_boards(boards, self.path)
        except (OSError, FileError) as error:
            self.trouble.emit(f"Your own boards could not be kept: {error}")
            return False
        self.boards = boards
        self.changed.emit()
        return True
