"""How many flowers of an arrangement were moved by hand, and the way to put them back."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from jadeite.core.blooms import moved_from_words
from jadeite.core.shapes import Option
from jadeite.core.units import counted
from jadeite.desktop.widgets import button, label

__all__ = ["MovedEdit"]


class MovedEdit(QWidget):
    """Says how flowers are moved on the table, and puts them back."""

    chosen = pyqtSignal(str)

    def __init__(self, option: Option) -> None:
        super().__init__()
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        line = QHBoxLayout()
        words = label(option.label)
        words.setToolTip(option.help)
        line.addWidget(words)
        line.addStretch(1)
        self.count = label("", "strong")
        line.addWidget(self.count)
        column.addLayout(line)
        column.addWidget(label(option.help, "small", wrap=True))
        self.back = button("Put all back", lambda: self.chosen.emit(""), "plain")
        column.addWidget(self.back)

    def set_value(self, words: str) -> None:
        """Show other places without saying so."""
        count = len(moved_from_words(words))
        self.count.setText(counted(count, "flower") if count else "none")
        self.back.setEnabled(count > 0)
