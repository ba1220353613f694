"""Small widgets that the stations share."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PyQt6.QtCore import QSignalBlocker, Qt, pyqtSignal
from PyQt6.QtWidgets import (
    QButtonGroup,
    QFrame,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QPushButton,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from jadeite.core.errors import FieldError
from jadeite.core.formats.reckoning_text import reckoning_text
from jadeite.core.reckoning import Mark, Reckoning
from jadeite.core.units import System, format_length, parse_length

__all__ = [
    "Card",
    "Field",
    "LengthEdit",
    "ReckoningRow",
    "Segmented",
    "clear_layout",
    "label",
    "set_role",
]


def set_role(widget: QWidget, role: str, name: str = "role") -> None:
    """Give a widget a role of the style sheet, now."""
    if widget.property(name) == role:
        return
    widget.setProperty(name, role)
    style = widget.style()
    if style is not None:
        style.unpolish(widget)
        style.polish(widget)


def label(text: str, role: str = "", *, wrap: bool = False) -> QLabel:
    """A label with a role of the style sheet."""
    out = QLabel(text)
    if role:
        out.setProperty("role", role)
    out.setWordWrap(wrap)
    return out


def clear_layout(layout: QVBoxLayout | QHBoxLayout) -> None:
    """Take everything out of a layout."""
    while (item := layout.takeAt(0)) is not None:
        widget = item.widget()
        if widget is not None:
            widget.hide()
            widget.setParent(None)
            widget.deleteLater()
        elif (inner := item.layout()) is not None:
            clear_layout(inner)  # type: ignore[arg-type]


class Card(QFrame):
    """A slip of paper with a heading."""

    def __init__(self, title: str = "", parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setProperty("role", "card")
        self.body = QVBoxLayout(self)
        self.body.setContentsMargins(14, 10, 14, 12)
        self.body.setSpacing(7)
        self.heading = label(title, "head")
        self.body.addWidget(self.heading)
        self.heading.setVisible(bool(title))  # once it has a parent, or it flashes as a window

    def add(self, widget: QWidget) -> QWidget:
        """Put a widget at the end."""
        self.body.addWidget(widget)
        return widget

    def row(self, words: str, widget: QWidget, tip: str = "") -> QWidget:
        """A line: words on the left, a control on the right."""
        return self.add(Field(words, widget, tip))


class Field(QWidget):
    """Words on the left, a control on the right."""

    def __init__(self, words: str, widget: QWidget, tip: str = "") -> None:
        super().__init__()
        line = QHBoxLayout(self)
        line.setContentsMargins(0, 0, 0, 0)
        line.setSpacing(8)
        self.words = label(words)
        self.words.setBuddy(widget)
        line.addWidget(self.words)
        line.addStretch(1)
        line.addWidget(widget)
        self.setToolTip(tip)
        if not widget.accessibleName():
            widget.setAccessibleName(words)
        if tip and not widget.toolTip():
            widget.setToolTip(tip)


class Segmented(QWidget):
    """A few choices side by side; arrow keys move between them."""

    chosen = pyqtSignal(str)

    def __init__(self, choices: Sequence[tuple[str, str]], name: str = "") -> None:
        super().__init__()
        self.setAccessibleName(name)
        line = QHBoxLayout(self)
        line.setContentsMargins(0, 0, 0, 0)
        line.setSpacing(0)
        self._group = QButtonGroup(self)
        self._group.setExclusive(True)
        self.buttons: dict[str, QPushButton] = {}
        for i, (key, words) in enumerate(choices):
            button = QPushButton(words)
            button.setCheckable(True)
            button.setProperty("role", "segment")
            last = i == len(choices) - 1
            place = "first" if i == 0 else ("last" if last else "middle")
            button.setProperty("place", "only" if len(choices) == 1 else place)
            button.setAccessibleName(f"{name}: {words}" if name else words)
            button.clicked.connect(lambda _=False, k=key: self.chosen.emit(k))
            self._group.addButton(button)
            self.buttons[key] = button
            line.addWidget(button)
        self.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Fixed)

    def value(self) -> str:
        """Key of the choice that is set."""
        return next((k for k, b in self.buttons.items() if b.isChecked()), "")

    def set_value(self, key: str) -> None:
        """Set a choice without saying so."""
        if key in self.buttons:
            self.buttons[key].setChecked(True)


class LengthEdit(QLineEdit):
    """A length typed as people write it; keeps the exact value."""

    edited = pyqtSignal(float)
    refused = pyqtSignal(str)

    def __init__(self, name: str, low: float = 0.0, high: float = 5000.0) -> None:
        super().__init__()
        self.name, self.low, self.high = name, low, high
        self.system: System = "mm"
        self._mm = 0.0
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

    def set_value(self, mm: float, system: System = "mm") -> None:
        """Show a length without saying so; a text under way is left alone."""
        self.system = system
        if self.hasFocus() and self.isModified() and mm == self._mm:
            return
        self._mm = mm
        self._text = format_length(mm, system)
        with QSignalBlocker(self):
            self.setText(self._text)
            self.setModified(False)
        set_role(self, "", "state")

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
        self.set_value(mm, self.system)
        if mm != before:
            self.edited.emit(mm)


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
        column.addWidget(label(value.rule, "small", wrap=True))
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


def button(
    words: str, on_click: Callable[[], object], role: str = "", tip: str = ""
) -> QPushButton:
    """A push button."""
    out = QPushButton(words)
    if role:
        out.setProperty("role", role)
    if tip:
        out.setToolTip(tip)
    out.clicked.connect(lambda: on_click())
    return out
