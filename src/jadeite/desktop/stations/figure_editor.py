"""Which figure is cut out: one of those that are drawn, or that of a picture."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QWidget

from jadeite.core.shapes import Option
from jadeite.desktop.widgets import Segmented

__all__ = ["FigureEdit"]

PICTURE = "picture"


class FigureEdit(QWidget):
    """The drawn figures side by side; a picture stands for itself once one was chosen."""

    chosen = pyqtSignal(str)

    def __init__(self, option: Option) -> None:
        super().__init__()
        self.setAccessibleName(option.label)
        line = QHBoxLayout(self)
        line.setContentsMargins(0, 0, 0, 0)
        self._drawn = dict(option.choices)
        self._picture = ""  # the outline that was found last
        self.choice = Segmented((*option.choices, (PICTURE, "a picture")), option.label)
        self.choice.buttons[PICTURE].setToolTip("Chosen at the first station, with its outline.")
        self.choice.chosen.connect(self._choose)
        line.addWidget(self.choice)

    def _choose(self, key: str) -> None:
        self.chosen.emit(self._picture if key == PICTURE else key)

    def set_value(self, words: str) -> None:
        """Show a figure without saying so."""
        if words not in self._drawn:
            self._picture = words
        self.choice.buttons[PICTURE].setEnabled(bool(self._picture))
        self.choice.set_value(words if words in self._drawn else PICTURE)
