"""The docket: the job as a slip of paper, with each station's result."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QKeyEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import (
    QAbstractButton,
    QButtonGroup,
    QFrame,
    QHBoxLayout,
    QVBoxLayout,
    QWidget,
)

from jadeite.core.pictures import LIGHT, Palette, Picture
from jadeite.desktop.slip_row import Slip
from jadeite.desktop.slips import Slips
from jadeite.desktop.theme import base_font
from jadeite.desktop.widgets import button, label

__all__ = ["STATIONS", "Docket", "Entry"]

HIGH, LOW = 63, 54  # pixels of a station's line, and where slips stand above them
FIRST = 100  # share of free height, so that slips take it before any stays empty
NAMED = 118  # pixels for the name beside the button that adds another
STATIONS = (
    ("contents", "Contents"),
    ("shape", "Shape"),
    ("board", "Board"),
    ("sheets", "Sheets"),
    ("cutting", "Cutting"),
    ("assembly", "Assembly"),
    ("notebook", "Notebook"),
)


@dataclass(frozen=True)
class Entry:
    """A station's result in one line, and how it stands."""

    words: str
    state: str  # settled, look, blocked, waiting


class _Line(QAbstractButton):
    """One station on the docket."""

    def __init__(self, key: str, title: str, number: int) -> None:
        super().__init__()
        self.key, self.title = key, title
        self.setCheckable(True)
        self.number = number
        self.setFixedHeight(HIGH)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setToolTip(f"{title} (Alt+{number})")
        self.entry = Entry("", "waiting")
        self.palette_ = LIGHT

    def sizeHint(self) -> QSize:
        return QSize(246, self.height())

    def retitle(self, title: str) -> None:
        """Another name for the same place in the work."""
        if title != self.title:
            self.title = title
            self.setToolTip(f"{title} (Alt+{self.number})")
            self.show_entry(self.entry)

    def show_entry(self, entry: Entry) -> None:
        """The result of the station."""
        self.entry = entry
        self.setAccessibleName(f"{self.title}: {entry.words} ({entry.state})")
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        p = self.palette_
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if self.isChecked():
            painter.fillRect(QRectF(0, 0, self.width(), self.height() - 1), QColor(p.jade_wash))
        notch = {"settled": p.jade, "look": p.amber, "blocked": p.brick, "waiting": p.line}
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(notch[self.entry.state]))
        lift = (HIGH - self.height()) / 2
        painter.translate(0, -lift)
        painter.drawRoundedRect(QRectF(-4, 14, 11, 20), 3.5, 3.5)
        painter.setFont(base_font(11.5, 600))
        painter.setPen(QColor(p.jade_text if self.isChecked() else p.ink))
        painter.drawText(QPointF(22, 26), self.title)
        painter.setFont(base_font(10))
        painter.setPen(QColor(p.quiet))
        metrics = painter.fontMetrics()
        words = metrics.elidedText(self.entry.words, Qt.TextElideMode.ElideRight, self.width() - 32)
        painter.drawText(QPointF(22, 46), words)
        painter.translate(0, lift)
        pen = QPen(QColor(p.line), 1, Qt.PenStyle.DashLine)
        painter.setPen(pen)
        painter.drawLine(
            QPointF(0, self.height() - 0.5), QPointF(self.width(), self.height() - 0.5)
        )
        if self.hasFocus():
            painter.setPen(QPen(QColor(p.jade), 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRoundedRect(QRectF(2, 2, self.width() - 4, self.height() - 5), 4, 4)
        painter.end()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.click()
            return
        super().keyPressEvent(event)


class _Hole(QWidget):
    """The punched hole of the slip."""

    def __init__(self) -> None:
        super().__init__()
        self.setFixedHeight(22)
        self.palette_ = LIGHT

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(QColor(self.palette_.line), 1.2))
        painter.setBrush(QColor(self.palette_.ground))
        painter.drawEllipse(QPointF(self.width() / 2, 13), 6, 6)
        painter.end()


class _Foot(QWidget):
    """Totals of the job."""

    def __init__(self) -> None:
        super().__init__()
        self.setFixedHeight(46)
        self.palette_ = LIGHT
        self.totals: tuple[tuple[str, str], ...] = ()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        p = self.palette_
        painter = QPainter(self)
        painter.setPen(QPen(QColor(p.ink), 2))
        painter.drawLine(QPointF(0, 1), QPointF(self.width(), 1))
        x = 16.0
        for figure, words in self.totals:
            for text, size, weight, colour in (
                (figure, 11.5, 600, p.ink),
                (words, 9.5, 400, p.quiet),
            ):
                font = base_font(size, weight)
                painter.setFont(font)
                painter.setPen(QColor(colour))
                painter.drawText(QPointF(x, 29), text)
                x += painter.fontMetrics().horizontalAdvance(text) + 4
            x += 4
        painter.end()


class Docket(QFrame):
    """The made things of the job, and seven stations in working order; choosing one opens it."""

    opened = pyqtSignal(str)
    add_asked = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.setProperty("role", "docket")
        self.setFixedWidth(248)
        column = QVBoxLayout(self)
        column.setContentsMargins(1, 0, 1, 1)
        column.setSpacing(0)
        self._hole = _Hole()
        column.addWidget(self._hole)
        column.addWidget(self._build_head())
        self.slips = Slips()
        column.addWidget(self.slips, FIRST)
        group = QButtonGroup(self)
        group.setExclusive(True)
        self.lines: dict[str, _Line] = {}
        for number, (key, title) in enumerate(STATIONS, start=1):
            line = _Line(key, title, number)
            line.clicked.connect(lambda _=False, k=key: self.opened.emit(k))
            group.addButton(line)
            self.lines[key] = line
            column.addWidget(line)
        column.addStretch(1)
        self._foot = _Foot()
        column.addWidget(self._foot)

    def _build_head(self) -> QWidget:
        """The name of the only made thing, and how another is added."""
        head = QWidget()
        line = QHBoxLayout(head)
        line.setContentsMargins(18, 0, 8, 2)
        self.name = label("", "strong")
        line.addWidget(self.name, 1)
        self.add_button = button(
            "Add a made thing",
            self.add_asked.emit,
            "plain",
            "One more thing in this job, from the shelf: a card, its envelope, a box for them.",
        )
        self.add_button.setAccessibleName("Add a made thing")
        line.addWidget(self.add_button)
        return head

    def show_things(
        self, slips: Sequence[Slip], chosen: str, pictures: Mapping[str, Picture], first: str
    ) -> None:
        """The slips, or the name of the only made thing; ``first`` is the first station's name."""
        several = len(slips) > 1
        name = "" if several else slips[0].name.capitalize()
        metrics = self.name.fontMetrics()
        self.name.setText(metrics.elidedText(name, Qt.TextElideMode.ElideRight, NAMED))
        self.name.setToolTip(f"{name}: the made thing of this job.")
        self.add_button.setText("Add a made thing" if several else "Add another")
        self.slips.show_slips(slips, chosen, pictures)
        for line in self.lines.values():
            line.setFixedHeight(LOW if several else HIGH)
        self.lines["contents"].retitle(first)

    def set_palette(self, palette: Palette) -> None:
        """Colours."""
        self.slips.set_palette(palette)
        for widget in (*self.lines.values(), self._hole, self._foot):
            widget.palette_ = palette
            widget.update()

    def choose(self, key: str) -> None:
        """Mark a station as open."""
        self.lines[key].setChecked(True)

    def show_entries(self, entries: dict[str, Entry], totals: tuple[tuple[str, str], ...]) -> None:
        """Every station's line, and the totals at the foot."""
        for key, entry in entries.items():
            self.lines[key].show_entry(entry)
        self._foot.totals = totals
        self._foot.setAccessibleName(", ".join(f"{a} {b}" for a, b in totals))
        self._foot.update()
