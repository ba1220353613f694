"""The maker's own cutters and learned settings, kept for every project."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal

from jadeite.core.cutting.settings import learned_of
from jadeite.core.formats.cutter_library import (
    Bench,
    load_bench,
    save_bench,
    with_cutter,
    with_learned,
    without_cutter,
)
from jadeite.core.project import Cutter, Learned
from jadeite.desktop.kept_file import KeptFile

__all__ = ["CutterBench"]

NAME = "cutters.json"


class CutterBench(QObject):
    """Cutters, and how boards are cut best by each."""

    trouble = pyqtSignal(str)

    def __init__(self, folder: Path, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._file = KeptFile(folder / NAME, load_bench, save_bench, Bench())

    @property
    def path(self) -> Path:
        """Where they are kept."""
        return self._file.path

    @property
    def known(self) -> Bench:
        """All of them."""
        return self._file.value

    def find(self, board: str, cutter: str) -> Learned | None:
        """How a board was cut best by a cutter."""
        return learned_of(self.known.learned, board, cutter)

    def learn(self, one: Learned) -> bool:
        """Keep a setting.  False when nothing was written."""
        return self._put(with_learned(self.known, one))

    def keep(self, cutter: Cutter) -> bool:
        """Keep a cutter.  False when nothing was written."""
        return self._put(with_cutter(self.known, cutter))

    def forget(self, key: str) -> bool:
        """Take a cutter out.  False when nothing was written."""
        return self._put(without_cutter(self.known, key))

    def _put(self, bench: Bench) -> bool:
        wrong = self._file.put(bench)
        if wrong:
            self.trouble.emit(f"The cutter could not be kept for other jobs: {wrong}")
        return not wrong
