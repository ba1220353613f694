"""The maker's own cutters and learned settings, kept for every project."""

from __future__ import annotations

import logging
from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal

from jadeite.core.cutting.settings import learned_of
from jadeite.core.errors import FileError
from jadeite.core.formats.cutter_library import (
    Bench,
    load_bench,
    save_bench,
    with_cutter,
    with_learned,
    without_cutter,
)
from jadeite.core.project import Cutter, Learned

__all__ = ["CutterBench"]

log = logging.getLogger(__name__)
NAME = "cutters.json"


class CutterBench(QObject):
    """Every change is written at once; a file that cannot be read is never written over."""

    trouble = pyqtSignal(str)

    def __init__(self, folder: Path, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.path = folder / NAME
        self.known = Bench()
        self._unreadable = False
        if self.path.exists():
            try:
                self.known = load_bench(self.path)
            except FileError as error:
                self._unreadable = True
                log.warning("cutters: %s", error)

    def find(self, board: str, cutter: str) -> Learned | None:
        """How a board was cut best by a cutter."""
        return learned_of(self.known.learned, board, cutter)

    def learn(self, one: Learned) -> bool:
        """Keep a setting.  False when nothing was written."""
        return self._write(with_learned(self.known, one))

    def keep(self, cutter: Cutter) -> bool:
        """Keep a cutter.  False when nothing was written."""
        return self._write(with_cutter(self.known, cutter))

    def forget(self, key: str) -> bool:
        """Take a cutter out.  False when nothing was written."""
        return self._write(without_cutter(self.known, key))

    def _write(self, bench: Bench) -> bool:
        try:
            self.path.parent.mkdir(parents=True, exist_ok=True)
            if self._unreadable:  # it may be mended by hand
                self.path.replace(self.path.with_suffix(".unreadable.json"))
                self._unreadable = False
            save_bench(bench, self.path)
        except (OSError, FileError) as error:
            self.trouble.emit(f"The cutter could not be kept for other jobs: {error}")
            return False
        self.known = bench
        return True
