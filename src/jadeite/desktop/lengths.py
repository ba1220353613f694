"""Lengths typed as people write them, or dragged."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QSignalBlocker, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QLineEdit, QVBoxLayout, QWidget

from jadeite.core.errors import FieldError
from jadeite.core.units import System, format_length, parse_length
from jadeite.desktop.widgets import NumberBox, set_role

__all__ = ["DragLabel", "LengthEdit", "LengthRow"]

NARROW = 84  # pixels of a length among others


class LengthEdit(QLineEdit):
    """A length typed as people write it; keeps the exact value."""

    edited = pyqtSignal(float)
    refused = pyqtSignal(str)

    def __init__(self, name: str, low: float = 0.0, high: float = 5000.0) -> None:
        super().__init__()
        self.name, self.low, self.high = name, low, high
        self.system: System = "mm"
        self._mm = 0.0
        self._places = 1
        self._text = ""
        self.setAccessibleName(name)
        self.setAlignment(Qt.AlignmentFlag.AlignRight)
        self.setFixedWidth(104)
        self.setToolTip(f'{name}. Type it your way: 70, 7 cm, 2 3/4 in, 2.75"')
        self.editingFinished.connect(self._finish)
        self.textEdited.connect(lambda: set_role(self, "", "state"))

    def value(self) -> float:
        """The exact length in mm."""
        return self._mm

    def set_value(self, mm: float, system: System = "mm", *, places: int = 1) -> None:
        """Show a length without saying so; a text under way is left alone.

        What is thin is always shown in mm, to ``places``.
        """
        self.system = system if places == 1 else "mm"
        self._places = places
        if self.hasFocus() and self.isModified() and mm == self._mm:
            return
        self._mm = mm
        self._text = format_length(mm, self.system, places=places)
        with QSignalBlocker(self):
            self.setText(self._text)
            self.setModified(False)
        set_role(self, "", "state")

    def nudge(self, mm: float) -> None:
        """Change the length by so much, kept in range, and say so."""
        wanted = min(max(self._mm + mm, self.low), self.high)
        if wanted != self._mm:
            self.setModified(False)
            self.set_value(wanted, self.system, places=self._places)
            self.edited.emit(wanted)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Up and Down change the length by a millimetre, with Shift by a tenth."""
        way = 0 if event is None else _STEPS.get(event.key(), 0)
        if event is None or not way:
            super().keyPressEvent(event)
            return
        fine = event.modifiers() & Qt.KeyboardModifier.ShiftModifier
        self.nudge(way * (0.1 if fine else 1.0))

    def _finish(self) -> None:
        if self.text() == self._text:
            return
        try:
            mm = parse_length(
                self.text(),
                self.system,
                field=self.name,
                low=self.low,
                high=self.high,
            )
        except FieldError as error:
            set_role(self, "wrong", "state")
            self.setToolTip(str(error))
            self.refused.emit(str(error))
            return
        self.setToolTip(f'{self.name}. Type it your way: 70, 7 cm, 2 3/4 in, 2.75"')
        self.setModified(False)
        before = self._mm
        self.set_value(mm, self.system, places=self._places)
        if mm != before:
            self.edited.emit(mm)


_STEPS = {Qt.Key.Key_Up.value: 1, Qt.Key.Key_Down.value: -1}


class DragLabel(QLabel):
    """The name of a length; dragged to the right the length grows, and the picture with it."""

    dragging = pyqtSignal(bool)  # begins, ends

    def __init__(self, words: str, edit: LengthEdit | NumberBox, step: float = 0.5) -> None:
        super().__init__(words)
        self._edit, self._step = edit, step
        self._last: float | None = None
        self.setProperty("role", "small")
        self.setBuddy(edit)
        self.setCursor(Qt.CursorShape.SizeHorCursor)
        self.setToolTip(
            "Drag to the right for more, to the left for less; with Shift in tenths. Up and Down "
            "keys do the same in the field."
        )

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and event.button() == Qt.MouseButton.LeftButton:
            self._last = event.globalPosition().x()
            self.dragging.emit(True)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None or self._last is None:
            return
        pixels = event.globalPosition().x() - self._last
        fine = event.modifiers() & Qt.KeyboardModifier.ShiftModifier
        steps = int(pixels / 2)
        if steps:
            self._last += 2 * steps
            self._edit.nudge(steps * (0.1 if fine else self._step))

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        if self._last is not None:
            self._last = None
            self.dragging.emit(False)


class LengthRow(QWidget):
    """Lengths side by side, each under its name, which may be dragged."""

    edited = pyqtSignal()
    refused = pyqtSignal(str)
    dragging = pyqtSignal(bool)

    def __init__(self, what: str, names: Sequence[str], low: float, high: float) -> None:
        super().__init__()
        self.line = QHBoxLayout(self)
        self.line.setContentsMargins(0, 0, 0, 0)
        self.line.setSpacing(6)
        self.edits: list[LengthEdit] = []
        for words in names:
            edit = LengthEdit(f"{what} {words.lower()}", low, high)
            edit.setFixedWidth(NARROW)
            edit.edited.connect(lambda _: self.edited.emit())
            edit.refused.connect(self.refused)
            name = DragLabel(words, edit)
            name.dragging.connect(self.dragging)
            pair = QVBoxLayout()
            pair.setSpacing(2)
            pair.addWidget(name)
            pair.addWidget(edit)
            self.line.addLayout(pair)
            self.edits.append(edit)
        self.line.addStretch(1)

    def values(self) -> tuple[float, ...]:
        """The exact lengths in mm."""
        return tuple(edit.value() for edit in self.edits)
