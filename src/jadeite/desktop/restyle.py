"""The window's parts get a new style sheet one after another, what is seen first.

A style sheet of the whole application visits every widget in one go, for half
a second; a part of the window takes some hundredths of one.
"""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtWidgets import QWidget

from jadeite.core.steps import Steps
from jadeite.desktop.turns import Turns

__all__ = ["Restyler"]


class Restyler:
    """Keeps the parts of a window in one look.

    What is seen changes within a moment, part by part.  Painting is not stopped
    meanwhile: Qt forgets a window whose painting was due while that was
    disabled.  Parts that are hidden follow.
    """

    def __init__(self, window: QWidget, parts: Sequence[QWidget]) -> None:
        self._window, self.parts = window, tuple(parts)
        self._waiting: list[QWidget] = []
        self._sheet = ""
        self._turns = Turns()

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
        self._turns.take("all", self._all())
        if not self._window.isVisible():
            self._turns.finish()

    def clear(self) -> None:
        """The window is closed."""
        self._waiting = []
        self._turns.clear()

    def within(self, widget: QWidget) -> Steps[None]:
        """What is about to be shown does not wait for its turn; left after each part."""
        for part in tuple(self._waiting):
            if part is widget or widget.isAncestorOf(part):
                self._restyle(part)
                yield

    def _all(self) -> Steps[None]:
        while self._waiting:
            self._restyle(self._waiting[0])
            yield

    def _restyle(self, part: QWidget) -> None:
        if part in self._waiting:
            self._waiting.remove(part)
            part.setStyleSheet(self._sheet)
