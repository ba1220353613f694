"""The slips at the docket's head: one for each made thing of the job."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from PyQt6.QtCore import QMimeData, QPoint, QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import (
    QAction,
    QColor,
    QContextMenuEvent,
    QDrag,
    QDragEnterEvent,
    QDragLeaveEvent,
    QDragMoveEvent,
    QDropEvent,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
)
from PyQt6.QtWidgets import (
    QAbstractButton,
    QApplication,
    QFrame,
    QLineEdit,
    QMenu,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from jadeite.core.pictures import LIGHT, Palette, Picture
from jadeite.desktop.paint import paint_picture
from jadeite.desktop.theme import base_font

__all__ = ["SLIP_PICTURE", "Slip", "SlipRow", "Slips"]

HIGH = 40  # pixels of a slip
SLIP_PICTURE = (36.0, 30.0)  # pixels of its picture
MOST_SEEN = 4  # slips without scrolling; from memory, more leave no room for the stations
LEAST_SEEN = 2  # in a low window; from memory
EDGE = 0.28  # of a slip's height, at either end: dropped there it is put before or after
MIME = "application/x-jadeite-slip"
JOIN = 8  # pixels between the hairlines of things that hold one another


@dataclass(frozen=True)
class Slip:
    """What a slip says: its name, how many are made, how it stands, what it holds."""

    name: str
    count: int
    state: str  # settled, look, blocked, waiting
    holds: tuple[str, ...] = ()


class SlipRow(QAbstractButton):
    """One slip: chosen by a click, renamed in place, dragged to another."""

    renamed = pyqtSignal(str, str)
    dropped = pyqtSignal(str, str, int)  # what, on which, -1 before it, 0 into it, 1 after it
    asked = pyqtSignal(str, str)  # what is asked for, of which

    def __init__(self, slip: Slip) -> None:
        super().__init__()
        self.slip = slip
        self.picture: Picture | None = None
        self.palette_ = LIGHT
        self._over: int | None = None
        self._pressed_at = QPoint()
        self.setCheckable(True)
        self.setFixedHeight(HIGH)
        self.setAcceptDrops(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setToolTip(
            "Click to choose it, double-click to rename it, drag it onto another to put it in "
            "there, or between two to move it."
        )
        self.editor: QLineEdit | None = None
        self.show_slip(slip)

    def show_slip(self, slip: Slip) -> None:
        """What it says now."""
        self.slip = slip
        count = f"{slip.count} × " if slip.count > 1 else ""
        held = f", holds {', '.join(slip.holds)}" if slip.holds else ""
        self.setAccessibleName(f"{count}{slip.name}{held} ({slip.state})")
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(150, HIGH)

    # ------------------------------------------------------------- renaming

    def rename(self) -> None:
        """Type another name in its place."""
        if self.editor is not None:
            return
        self.editor = editor = QLineEdit(self.slip.name, self)
        editor.setMaxLength(60)
        editor.setAccessibleName(f"Name of {self.slip.name}")
        editor.setGeometry(60, 6, self.width() - 68, HIGH - 12)
        editor.editingFinished.connect(self._rename_done)
        editor.show()
        editor.selectAll()
        editor.setFocus()

    def _rename_done(self) -> None:
        editor, self.editor = self.editor, None
        if editor is None:
            return
        words = editor.text().strip()
        editor.hide()
        editor.deleteLater()
        if words and words != self.slip.name:
            self.renamed.emit(self.slip.name, words)

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        self.rename()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        key, held = event.key(), event.modifiers()
        if key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.click()
        elif key == Qt.Key.Key_F2:
            self.rename()
        elif key == Qt.Key.Key_Delete:
            self.asked.emit("remove", self.slip.name)
        elif key == Qt.Key.Key_Escape and self.editor is not None:
            self.editor.setText(self.slip.name)
            self._rename_done()
        elif held & Qt.KeyboardModifier.AltModifier and key == Qt.Key.Key_Up:
            self.asked.emit("up", self.slip.name)
        elif held & Qt.KeyboardModifier.AltModifier and key == Qt.Key.Key_Down:
            self.asked.emit("down", self.slip.name)
        else:
            super().keyPressEvent(event)

    def contextMenuEvent(self, event: QContextMenuEvent | None) -> None:
        if event is not None:
            self.asked.emit("menu", self.slip.name)

    # ------------------------------------------------------------- dragging

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None:
            self._pressed_at = event.position().toPoint()
        super().mousePressEvent(event)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None or not event.buttons() & Qt.MouseButton.LeftButton:
            return
        way = (event.position().toPoint() - self._pressed_at).manhattanLength()
        if way < QApplication.startDragDistance():
            return
        self.setDown(False)
        drag, data = QDrag(self), QMimeData()
        data.setData(MIME, self.slip.name.encode())
        drag.setMimeData(data)
        drag.setPixmap(self.grab())
        drag.setHotSpot(self._pressed_at)
        drag.exec(Qt.DropAction.MoveAction)

    def _name_in(self, data: QMimeData | None) -> str:
        if data is None or not data.hasFormat(MIME):
            return ""
        return bytes(data.data(MIME).data()).decode()

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        if event is not None and self._name_in(event.mimeData()) not in ("", self.slip.name):
            event.acceptProposedAction()

    def dragMoveEvent(self, event: QDragMoveEvent | None) -> None:
        if event is not None:
            self._over = self._spot(event.position().y())
            event.acceptProposedAction()
            self.update()

    def dragLeaveEvent(self, event: QDragLeaveEvent | None) -> None:
        self._over = None
        self.update()

    def dropEvent(self, event: QDropEvent | None) -> None:
        self._over = None
        self.update()
        if event is None:
            return
        name = self._name_in(event.mimeData())
        if name not in ("", self.slip.name):
            event.acceptProposedAction()
            self.dropped.emit(name, self.slip.name, self._spot(event.position().y()))

    @staticmethod
    def _spot(y: float) -> int:
        """Before it, into it, or after it."""
        return -1 if y < EDGE * HIGH else (1 if y > (1 - EDGE) * HIGH else 0)

    # ------------------------------------------------------------- painting

    def paintEvent(self, event: QPaintEvent | None) -> None:
        p = self.palette_
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        whole = QRectF(0.5, 2.5, self.width() - 1, HIGH - 5)
        into = self._over == 0
        ground = p.jade_wash if self.isChecked() else p.river_wash if into else p.ground
        painter.setBrush(QColor(ground))
        edge = p.jade if self.isChecked() else p.river if into else p.line
        painter.setPen(QPen(QColor(edge), 2.0 if into else 1.0))
        painter.drawRoundedRect(whole, 4, 4)
        notch = {"settled": p.jade, "look": p.amber, "blocked": p.brick, "waiting": p.line}
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(notch[self.slip.state]))
        painter.drawRoundedRect(QRectF(1, 10, 5, HIGH - 20), 2, 2)
        if self.picture is not None:
            painter.save()
            painter.translate(13, (HIGH - SLIP_PICTURE[1]) / 2)
            painter.setClipRect(QRectF(0, 0, *SLIP_PICTURE))
            paint_picture(painter, self.picture)
            painter.restore()
        count = f"×{self.slip.count}" if self.slip.count > 1 else ""
        painter.setFont(base_font(10))
        metrics = painter.fontMetrics()
        room = metrics.horizontalAdvance(count) + 12 if count else 8
        painter.setPen(QColor(p.quiet))
        if count:
            painter.drawText(
                QRectF(self.width() - room, 0, room - 8, HIGH),
                Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight,
                count,
            )
        painter.setFont(base_font(10.5, 600 if self.isChecked() else 400))
        painter.setPen(QColor(p.jade_text if self.isChecked() else p.ink))
        metrics = painter.fontMetrics()
        wide = self.width() - 60 - room
        words = metrics.elidedText(self.slip.name, Qt.TextElideMode.ElideRight, wide)
        painter.drawText(QRectF(58, 0, wide + 2, HIGH), Qt.AlignmentFlag.AlignVCenter, words)
        if self._over in (-1, 1):
            y = 1.5 if self._over < 0 else HIGH - 1.5
            painter.setPen(QPen(QColor(p.river), 2.5))
            painter.drawLine(QPointF(0, y), QPointF(self.width(), y))
        if self.hasFocus():
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(QColor(p.jade), 2))
            painter.drawRoundedRect(whole.adjusted(1, 1, -1, -1), 4, 4)
        painter.end()


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
        column.setContentsMargins(0, 0, 0, 4)
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
            row.picture = pictures.get(slip.name)
            row.show_slip(slip)
            row.setChecked(slip.name == chosen)
        self.scroll.setMinimumHeight(min(len(slips), LEAST_SEEN) * HIGH + 4)
        self.scroll.setMaximumHeight(min(len(slips), MOST_SEEN) * HIGH + 4)
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
