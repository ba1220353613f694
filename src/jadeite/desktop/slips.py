"""The slips at the docket's head: one for each made thing of the job."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from PyQt6.QtCore import QPoint, QPointF, Qt, pyqtSignal
from PyQt6.QtGui import QAction, QColor, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QFrame, QMenu, QScrollArea, QVBoxLayout, QWidget

from jadeite.core.pictures import LIGHT, Palette, Picture
from jadeite.desktop.slip_row import HIGH, Slip, SlipRow

__all__ = ["Slips"]

MOST_SEEN = 4  # slips without scrolling; from memory, more leave no room for the stations
MARGIN = 4  # pixels below them
LEAST_SEEN = 2  # in a low window; from memory
JOIN = 8  # pixels between the hairlines of things that hold one another


class _Rows(QWidget):
    """The slips one under another; hairlines join what holds with what it holds."""

    def __init__(self) -> None:
        super().__init__()
        self.column = QVBoxLayout(self)
        self.column.setContentsMargins(8, 2, 20, 2)
        self.column.setSpacing(0)
        self.palette_ = LIGHT
        self.rows: list[SlipRow] = []

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(QColor(self.palette_.quiet), 1.2))
        middle = {row.slip.name: row.geometry().center().y() for row in self.rows}
        x0, lane = self.width() - 20.0, 0
        for row in self.rows:
            for held in row.slip.holds:
                if held not in middle:
                    continue
                a, b = middle[row.slip.name], middle[held]
                x = x0 + 6 + (lane % 2) * JOIN / 2
                lane += 1
                painter.drawPolyline(
                    [QPointF(x0, a), QPointF(x, a), QPointF(x, b), QPointF(x0 + 2, b)]
                )
                painter.drawLine(QPointF(x0, b), QPointF(x0 + 4, b - 3))  # it points at what is in
                painter.drawLine(QPointF(x0, b), QPointF(x0 + 4, b + 3))
        painter.end()


class Slips(QFrame):
    """All slips; with one made thing only its name, without clutter."""

    chosen = pyqtSignal(str)
    renamed = pyqtSignal(str, str)
    moved = pyqtSignal(str, int)
    put = pyqtSignal(str, str)
    asked = pyqtSignal(str, str)  # copy, remove, out:HOLDER, of which

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName("Made things of this job")
        self.setFrameShape(QFrame.Shape.NoFrame)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, MARGIN)
        column.setSpacing(0)
        self.scroll = QScrollArea()
        self.scroll.setWidgetResizable(True)
        self.scroll.setSizeAdjustPolicy(QScrollArea.SizeAdjustPolicy.AdjustToContents)
        self.scroll.setFrameShape(QFrame.Shape.NoFrame)
        self.scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self._rows = _Rows()
        self.scroll.setWidget(self._rows)
        column.addWidget(self.scroll)
        self.palette_ = LIGHT
        self._shown = ""

    @property
    def rows(self) -> list[SlipRow]:
        """The slips that are shown."""
        return self._rows.rows

    def set_palette(self, palette: Palette) -> None:
        """Colours."""
        self.palette_ = self._rows.palette_ = palette
        for row in self.rows:
            row.palette_ = palette
            row.update()
        self._rows.update()

    def show_slips(
        self, slips: Sequence[Slip], chosen: str, pictures: Mapping[str, Picture]
    ) -> None:
        """Every slip, the chosen one marked; nothing where there is only one."""
        several = len(slips) > 1
        self.setVisible(several)
        rows = self.rows
        while len(rows) > len(slips):
            row = rows.pop()
            self._rows.column.removeWidget(row)
            row.hide()
            row.setParent(None)
            row.deleteLater()
        while len(rows) < len(slips):
            row = SlipRow(slips[len(rows)])
            row.palette_ = self.palette_
            row.clicked.connect(lambda _=False, r=row: self.chosen.emit(r.slip.name))
            row.renamed.connect(self.renamed)
            row.dropped.connect(self._on_dropped)
            row.asked.connect(self._on_asked)
            self._rows.column.addWidget(row)
            rows.append(row)
        for row, slip in zip(rows, slips, strict=True):
            row.show_picture(pictures.get(slip.name))
            row.show_slip(slip)
            row.setChecked(slip.name == chosen)
        self.scroll.setMinimumHeight(min(len(slips), LEAST_SEEN) * HIGH + 4)
        self.setMaximumHeight(min(len(slips), MOST_SEEN) * HIGH + 4 + MARGIN)
        self._rows.update()
        if chosen != self._shown and several:
            self._shown = chosen
            for row in rows:
                if row.slip.name == chosen:
                    self.scroll.ensureWidgetVisible(row, 0, 4)

    # ------------------------------------------------------------- what is asked

    def _place(self, name: str) -> int:
        return [row.slip.name for row in self.rows].index(name)

    def _on_dropped(self, name: str, on: str, where: int) -> None:
        if where == 0:
            self.put.emit(name, on)
        else:
            self.moved.emit(name, self._place(on) + (where > 0))

    def _on_asked(self, what: str, name: str) -> None:
        place = self._place(name)
        if what == "up" and place > 0:
            self.moved.emit(name, place - 1)
        elif what == "down" and place + 1 < len(self.rows):
            self.moved.emit(name, place + 2)
        elif what == "menu":
            row = self.rows[place]
            self.menu_of(name).popup(row.mapToGlobal(QPoint(40, HIGH)))
        elif what == "remove":
            self.asked.emit(what, name)

    def menu_of(self, name: str) -> QMenu:
        """What can be done with a slip."""
        row = self.rows[self._place(name)]
        menu = QMenu(self)
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)

        def entry(words: str, run: object, keys: str = "") -> None:
            action = QAction(f"{words}\t{keys}" if keys else words, menu)
            action.triggered.connect(run)
            menu.addAction(action)

        entry("Rename", row.rename, "F2")
        entry("Copy", lambda: self.asked.emit("copy", name))
        others = [r.slip for r in self.rows if r.slip.name != name]
        into = [s.name for s in others if name not in s.holds]
        out = [s.name for s in others if name in s.holds]
        if into:
            inner = menu.addMenu("Put into")
            assert inner is not None
            for holder in into:
                action = QAction(holder, inner)
                action.triggered.connect(lambda _=False, h=holder: self.put.emit(name, h))
                inner.addAction(action)
        for holder in out:
            entry(
                f"Take out of {holder}", lambda _=False, h=holder: self.asked.emit(f"out:{h}", name)
            )
        menu.addSeparator()
        entry("Remove", lambda: self.asked.emit("remove", name), "Del")
        return menu
