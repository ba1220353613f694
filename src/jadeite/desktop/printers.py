"""What the maker has measured of printers and cutters, kept for every project."""

from __future__ import annotations

import logging
from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal

from jadeite.core.errors import FileError
from jadeite.core.formats.printer_library import (
    Calibrated,
    calibrated_for,
    load_printers,
    save_printers,
    with_calibrated,
)

__all__ = ["Printers"]

log = logging.getLogger(__name__)
NAME = "printers.json"


class Printers(QObject):
    """Corrections by printer, cutter and paper; every change is written at once."""

    changed = pyqtSignal()
    trouble = pyqtSignal(str)

    def __init__(self, folder: Path, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.path = folder / NAME
        self.known: tuple[Calibrated, ...] = ()
        self._unreadable = False
        if self.path.exists():
            try:
                self.known = load_printers(self.path)
            except FileError as error:
                self._unreadable = True
                log.warning("printers: %s", error)

    @property
    def names(self) -> tuple[str, ...]:
        """Of all printers that were measured."""
        return tuple(dict.fromkeys(one.printer for one in self.known))

    def find(self, printer: str, cutter: str, paper: str) -> Calibrated | None:
        """What was measured of a pair on a paper."""
        return calibrated_for(self.known, printer, cutter, paper)

    def keep(self, one: Calibrated) -> bool:
        """Keep a measure in place of the one before.  False when nothing was written."""
        known = with_calibrated(self.known, one)
        try:
            self.path.parent.mkdir(parents=True, exist_ok=True)
            if self._unreadable:  # never written over: it may be mended by hand
                self.path.replace(self.path.with_suffix(".unreadable.json"))
                self._unreadable = False
            save_printers(known, self.path)
        except (OSError, FileError) as error:
            self.trouble.emit(f"The readings could not be kept: {error}")
            return False
        self.known = known
        self.changed.emit()
        return True
