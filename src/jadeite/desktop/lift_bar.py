"""The lift: a slider with named stops and a play button."""

from __future__ import annotations

from PyQt6.QtCore import QElapsedTimer, QPointF, QSize, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QColor, QFontMetricsF, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QHBoxLayout, QSizePolicy, QSlider, QToolButton, QWidget

from jadeite.core.pictures import LIGHT, Palette
from jadeite.desktop.theme import base_font, icon

__all__ = ["LiftBar", "StopSlider"]

STEPS = 10_000
FRAME = 16  # ms


class StopSlider(QSlider):
    """A slider from 0 to 1 with named stops; keys step and jump between stops."""

    def __init__(self, name: str) -> None:
        super().__init__(Qt.Orientation.Horizontal)
        self.setRange(0, STEPS)
        self.setAccessibleName(name)
        self.setSingleStep(STEPS // 100)
        self.setPageStep(STEPS // 10)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setFixedHeight(44)
        self.palette_ = LIGHT
        self.stops: tuple[tuple[float, str], ...] = ()

    def _x(self, share: float) -> float:
        return 14 + share * (self.width() - 28)

    def set_stops(self, stops: tuple[tuple[float, str], ...]) -> None:
        """Positions with names, 0 to 1; what stood at a stop goes with it."""
        share = self.value() / STEPS
        name = next((n for at, n in self.stops if n and abs(at - share) < 1e-3), "")
        self.stops = stops
        moved = next((at for at, n in stops if n == name and name), None)
        if moved is not None and abs(moved - share) > 1e-3:
            self.setValue(round(moved * STEPS))
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        p = self.palette_
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        share = self.value() / STEPS
        y = 14.0
        for colour, end in ((p.line, 1.0), (p.jade, share)):
            pen = QPen(QColor(colour), 4)
            pen.setCapStyle(Qt.PenCapStyle.RoundCap)
            painter.setPen(pen)
            painter.drawLine(QPointF(self._x(0), y), QPointF(self._x(end), y))
        painter.setFont(base_font(9.5))
        metrics = QFontMetricsF(painter.font())
        taken = -1e9
        for at, name in self.stops:
            x = self._x(at)
            painter.setPen(QPen(QColor(p.quiet), 1.5))
            painter.drawLine(QPointF(x, y - 6), QPointF(x, y + 6))
            width = metrics.horizontalAdvance(name)
            left = min(max(x - width / 2, 2), self.width() - width - 2)
            if name and left > taken + 8:
                painter.setPen(QColor(p.ink if abs(at - share) < 1e-3 else p.quiet))
                painter.drawText(QPointF(left, y + 24), name)
                taken = left + width
        painter.setPen(QPen(QColor(p.jade), 2.5))
        painter.setBrush(QColor(p.sheet))
        painter.drawEllipse(QPointF(self._x(share), y), 9, 9)
        if self.hasFocus():
            painter.setPen(QPen(QColor(p.ink), 1.2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawEllipse(QPointF(self._x(share), y), 12.5, 12.5)
        painter.end()

    def _set_from(self, x: float) -> None:
        share = min(1.0, max(0.0, (x - 14) / max(1, self.width() - 28)))
        for at, _ in self.stops:  # a stop holds the handle a little
            if abs(self._x(at) - x) < 5:
                share = at
        self.setValue(round(share * STEPS))

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None:
            self.setFocus(Qt.FocusReason.MouseFocusReason)
            self.setSliderDown(True)
            self._set_from(event.position().x())

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and self.isSliderDown():
            self._set_from(event.position().x())

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        self.setSliderDown(False)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        marks = [round(at * STEPS) for at, _ in self.stops]
        if event.key() == Qt.Key.Key_PageUp:
            self.setValue(next((m for m in marks if m > self.value()), STEPS))
        elif event.key() == Qt.Key.Key_PageDown:
            self.setValue(next((m for m in reversed(marks) if m < self.value()), 0))
        elif event.key() == Qt.Key.Key_Space:
            event.ignore()
        else:
            super().keyPressEvent(event)


class LiftBar(QWidget):
    """Play button and slider; used for the lift and for playing back the cutting."""

    moved = pyqtSignal(float)
    held = pyqtSignal(bool)  # whether it goes on moving, by itself or under the hand

    def __init__(self, name: str, seconds: float = 9.0) -> None:
        super().__init__()
        self.seconds = seconds
        line = QHBoxLayout(self)
        line.setContentsMargins(16, 4, 14, 8)
        line.setSpacing(10)
        self.play_button = QToolButton()
        self.play_button.setFixedSize(QSize(38, 38))
        self.play_button.setIconSize(QSize(20, 20))
        self.play_button.setAccessibleName(f"Play: {name}")
        self.play_button.setToolTip(f"Play: {name} (space bar)")
        self.play_button.clicked.connect(self.toggle)
        self.slider = StopSlider(name)
        self.slider.setToolTip(f"{name}. Page up and down go from stop to stop.")
        self.slider.valueChanged.connect(lambda v: self.moved.emit(v / STEPS))
        self.slider.sliderPressed.connect(self._say_held)
        self.slider.sliderReleased.connect(self._say_held)
        line.addWidget(self.play_button)
        line.addWidget(self.slider, 1)
        self._timer = QTimer(self)
        self._timer.setTimerType(Qt.TimerType.PreciseTimer)
        self._timer.setInterval(FRAME)
        self._timer.timeout.connect(self._tick)
        self._clock = QElapsedTimer()
        self._from = 0.0
        self.set_palette(LIGHT)

    def value(self) -> float:
        """Position, 0 to 1."""
        return self.slider.value() / STEPS

    def set_value(self, value: float) -> None:
        """Go to a position."""
        self.slider.setValue(round(value * STEPS))

    def set_palette(self, palette: Palette) -> None:
        """Colours."""
        self._palette = palette
        self.slider.palette_ = palette
        self.play_button.setStyleSheet(
            f"QToolButton {{ background: {palette.jade}; border-radius: 19px; border: none; }}"
            f"QToolButton:focus {{ border: 2px solid {palette.ink}; }}"
        )
        self._show_icon()
        self.slider.update()

    def _show_icon(self) -> None:
        name = "pause" if self.playing else "play"
        self.play_button.setIcon(icon(name, self._palette.on_jade))

    @property
    def playing(self) -> bool:
        """Whether it moves by itself."""
        return self._timer.isActive()

    def toggle(self) -> None:
        """Play, or hold."""
        if self.playing:
            self.stop()
            return
        self._from = 0.0 if self.value() >= 0.9999 else self.value()
        self._clock.start()
        self._timer.start()
        self._show_icon()
        self._say_held()

    def stop(self) -> None:
        """Hold where it is."""
        self._timer.stop()
        self._show_icon()
        self._say_held()

    def _say_held(self) -> None:
        self.held.emit(self.playing or self.slider.isSliderDown())

    def _tick(self) -> None:
        value = self._from + self._clock.elapsed() / 1000 / self.seconds
        self.set_value(min(1.0, value))
        if value >= 1.0:
            self.stop()
