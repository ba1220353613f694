"""Garbage is looked for while nobody does anything: a search holds the window up."""

from __future__ import annotations

import gc

from PyQt6.QtCore import QObject, Qt, QTimer
from PyQt6.QtWidgets import QApplication

from jadeite.desktop.session import Session

__all__ = ["Tidy"]

REST = 5_000  # ms without a change; from memory, by then a hand has left the mouse
# rounds of the younger generations to one of the oldest: only a flood of changes without a rest
# comes to it; from memory, two million objects are some 200 MB
SELDOM = 300


class Tidy(QObject):
    """Searches everything once the session has rested, and leaves what stays out of the next.

    Results are trees that free themselves; what only such a search finds is little.
    """

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        young, middle, _ = gc.get_threshold()
        gc.set_threshold(young, middle, SELDOM)
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.setInterval(REST)
        self._timer.timeout.connect(self._rested)
        session.changed.connect(self._timer.start)
        self.tidy()

    def _rested(self) -> None:
        if QApplication.mouseButtons() == Qt.MouseButton.NoButton:
            self.tidy()
        else:
            self._timer.start()  # something is being turned or dragged

    @staticmethod
    def tidy() -> None:
        """Search everything, now."""
        gc.unfreeze()
        gc.collect()
        gc.freeze()
