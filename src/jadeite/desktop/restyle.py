"""The window's parts get a new style sheet one after another, what is seen first.

A style sheet of the whole application visits every widget in one go, for half
a second; a part of the window takes some hundredths of one.
"""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QObject, QTimer
from PyQt6.QtWidgets import QWidget

from jadeite.core.steps import Steps

__all__ = ["Restyler"]


class Restyler(QObject):
    """Keeps the parts of a window in one look.

    What is seen changes within a moment, part by part.  Painting is not stopped
    meanwhile: Qt forgets a window whose painting was due while that was
    disabled.  Parts that are hidden follow.
    """

    def __init__(self, window: QWidget, parts: Sequence[QWidget]) -> None:
        super().__init__(window)
        self._window, self.parts = window, tuple(parts)
        self._waiting: list[QWidget] = []
        self._sheet = ""
        self._next = QTimer(self)
        self._next.setSingleShot(True)
        self._next.setInterval(0)
        self._next.timeout.connect(self._step)

    @property
    def busy(self) -> bool:
        """Whether a part still has its old look."""
        return bool(self._waiting)

    def apply(self, sheet: str) -> None:
        """Give every part this style sheet; at once while the window is not yet open."""
        self._sheet = sheet
        self._waiting = sorted(
            (part for part in self.parts if part.styleSheet() != sheet),
            key=lambda part: not part.isVisible(),
        )
        if not self._window.isVisible():
            for part in tuple(self._waiting):
                self._restyle(part)
        self._go_on()

    def within(self, widget: QWidget) -> Steps[None]:
        """What is about to be shown does not wait for its turn; left after each part."""
        for part in tuple(self._waiting):
            if part is widget or widget.isAncestorOf(part):
                self._restyle(part)
                yield

    def _restyle(self, part: QWidget) -> None:
        if part in self._waiting:
            self._waiting.remove(part)
            part.setStyleSheet(self._sheet)

    def _step(self) -> None:
        if self._waiting:
            self._restyle(self._waiting[0])
        self._go_on()

    def _go_on(self) -> None:
        if self._waiting:
            self._next.start()
