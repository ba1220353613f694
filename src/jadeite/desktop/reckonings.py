"""Results that open to show where they come from."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QFrame,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from jadeite.core.formats.reckoning_text import reckoning_text
from jadeite.core.reckoning import Mark, Reckoning
from jadeite.core.units import System, in_system
from jadeite.desktop.widgets import label

__all__ = ["ReckoningRow"]


class ReckoningRow(QWidget):
    """A result that opens to show its reckoning."""

    def __init__(self, value: Reckoning, system: System, title: str = "") -> None:
        super().__init__()
        self.reckoning = value
        self._system = system
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(3)
        line = QHBoxLayout()
        line.setSpacing(8)
        self.words = label(title or value.name)
        line.addWidget(self.words)
        line.addStretch(1)
        text = reckoning_text(value, system)
        self.opens = _opens(value)
        if self.opens:
            self.button = QPushButton(text)
            self.button.setProperty("role", "link")
            self.button.setCheckable(True)
            self.button.setCursor(Qt.CursorShape.PointingHandCursor)
            self.button.setToolTip("Why? Opens the reckoning.")
            self.button.setAccessibleName(f"{self.words.text()}: {text}, open the reckoning")
            self.button.toggled.connect(self.open)
            line.addWidget(self.button)
        else:
            self.text = label(text, "strong")
            line.addWidget(self.text)
        column.addLayout(line)
        self._column = column
        self.why: QFrame | None = None

    def show_value(self, value: Reckoning, system: System, title: str = "") -> bool:
        """Show another value in place; False when it needs another kind of row."""
        if _opens(value) != self.opens:
            return False
        if value == self.reckoning and system == self._system:
            return True
        self.reckoning, self._system = value, system
        text = reckoning_text(value, system)
        self.words.setText(title or value.name)
        if not self.opens:
            self.text.setText(text)
            return True
        self.button.setText(text)
        self.button.setAccessibleName(f"{self.words.text()}: {text}, open the reckoning")
        if self.why is not None:
            shown = not self.why.isHidden()
            self.why.hide()
            self.why.deleteLater()
            self.why = None
            self.open(shown)
        return True

    def open(self, shown: bool) -> None:
        """Show or hide the terms."""
        if self.why is None and shown:
            self.why = _why(self.reckoning, self._system)
            self._column.addWidget(self.why)
        if self.why is not None:
            self.why.setVisible(shown)


def _opens(value: Reckoning) -> bool:
    """Whether there is something to be asked about a value."""
    return bool(value.inputs) or value.mark not in (Mark.GIVEN, Mark.RECKONED)


def _why(value: Reckoning, system: System) -> QFrame:
    frame = QFrame()
    frame.setProperty("role", "why")
    column = QVBoxLayout(frame)
    column.setContentsMargins(9, 6, 9, 6)
    column.setSpacing(3)
    for term in value.inputs:
        column.addLayout(_term(term, system))
    if value.inputs:
        rule = QFrame()
        rule.setProperty("role", "rule")
        column.addWidget(rule)
    else:
        column.addWidget(_mark(value), alignment=Qt.AlignmentFlag.AlignLeft)
    if value.rule:
        column.addWidget(label(in_system(value.rule, system), "small", wrap=True))
    if value.source and not value.inputs:
        column.addWidget(label(value.source, "small", wrap=True))
    return frame


def _mark(value: Reckoning) -> QLabel:
    out = label(str(value.mark), "mark")
    out.setToolTip(value.source or f"This number is {value.mark}.")
    return out


def _term(term: Reckoning, system: System) -> QHBoxLayout:
    line = QHBoxLayout()
    line.setSpacing(6)
    words = label(term.name, "small", wrap=True)
    words.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Preferred)
    line.addWidget(words, 1)
    if term.mark not in (Mark.RECKONED, Mark.GIVEN):
        line.addWidget(_mark(term), alignment=Qt.AlignmentFlag.AlignTop)
    line.addWidget(label(reckoning_text(term, system), "small"))
    return line
