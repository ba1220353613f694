"""Small widgets that the stations share."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence

from PyQt6.QtCore import QPointF, QSignalBlocker, Qt, pyqtSignal
from PyQt6.QtGui import QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import (
    QButtonGroup,
    QFrame,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QSizePolicy,
    QSpinBox,
    QVBoxLayout,
    QWidget,
)

__all__ = [
    "Card",
    "Disclosure",
    "Field",
    "NumberBox",
    "Segmented",
    "button",
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


class NumberBox(QSpinBox):
    """A whole number with its range: a count, an angle in degrees, a share."""

    chosen = pyqtSignal(float)

    def __init__(self, name: str, low: float, high: float, suffix: str = "") -> None:
        super().__init__()
        self.setRange(math.ceil(low), math.floor(high))
        self.setSuffix(suffix)
        self.setAccessibleName(name)
        self.setToolTip(f"{name}, {self.minimum()} to {self.maximum()}")
        self.setAlignment(Qt.AlignmentFlag.AlignRight)
        self.setFixedWidth(104)
        self.setKeyboardTracking(False)
        self.valueChanged.connect(lambda value: self.chosen.emit(float(value)))

    def nudge(self, by: float) -> None:
        """Change the number by so much, at least by one, and say so."""
        self.setValue(self.value() + (round(by) or (1 if by > 0 else -1)))

    def set_value(self, value: float) -> None:
        """Show a number without saying so."""
        with QSignalBlocker(self):
            self.setValue(round(value))


class Disclosure(QPushButton):
    """A line that opens and closes what stands below it."""

    def __init__(self, words: str, tip: str = "") -> None:
        super().__init__(words)
        self.setProperty("role", "plain")
        self.setCheckable(True)
        self.setToolTip(tip)
        self.setAccessibleName(words)
        self.setStyleSheet("text-align: left; padding: 2px 0px 2px 16px;")
        self._held: list[QWidget] = []
        self.toggled.connect(self._show)
        self._show(False)

    def holds(self, widget: QWidget) -> QWidget:
        """What it opens; once it has its place in a layout."""
        self._held.append(widget)
        widget.setVisible(self.isChecked())
        return widget

    def paintEvent(self, event: QPaintEvent | None) -> None:
        super().paintEvent(event)
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(self.palette().buttonText().color(), 1.5))
        y = self.height() / 2
        turned = [(3, y - 2), (7, y + 2), (11, y - 2)]
        if not self.isChecked():
            turned = [(5, y - 4), (9, y), (5, y + 4)]
        painter.drawPolyline(QPolygonF([QPointF(a, b) for a, b in turned]))
        painter.end()

    def _show(self, opened: bool) -> None:
        self.update()
        for widget in self._held:
            widget.setVisible(opened)


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
