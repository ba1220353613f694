"""What the maker has measured of printers and cutters, kept for every project."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal

from jadeite.core.formats.printer_library import (
    Calibrated,
    calibrated_for,
    load_printers,
    save_printers,
    with_calibrated,
)
from jadeite.desktop.kept_file import KeptFile

__all__ = ["Printers"]

NAME = "printers.json"


class Printers(QObject):
    """Corrections by printer, cutter and paper."""

    changed = pyqtSignal()
    trouble = pyqtSignal(str)

    def __init__(self, folder: Path, parent: QObject | None = None) -> None:
        super().__init__(parent)
        none: tuple[Calibrated, ...] = ()
        self._file = KeptFile(folder / NAME, load_printers, save_printers, none)

    @property
    def path(self) -> Path:
        """Where they are kept."""
        return self._file.path

    @property
    def known(self) -> tuple[Calibrated, ...]:
        """All of them, the newest first."""
        return self._file.value

    @property
    def names(self) -> tuple[str, ...]:
        """Of all printers that were measured."""
        return tuple(dict.fromkeys(one.printer for one in self.known))

    def find(self, printer: str, cutter: str, paper: str) -> Calibrated | None:
        """What was measured of a pair on a paper."""
        return calibrated_for(self.known, printer, cutter, paper)

    def keep(self, one: Calibrated) -> bool:
        """Keep a measure in place of the one before.  False when nothing was written."""
        wrong = self._file.put(with_calibrated(self.known, one))
        if wrong:
            self.trouble.emit(f"The readings could not be kept: {wrong}")
            return False
        self.changed.emit()
        return True
