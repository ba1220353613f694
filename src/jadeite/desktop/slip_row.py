"""One slip at the docket's head: chosen, renamed in place, dragged to another."""

from __future__ import annotations

from dataclasses import dataclass

from PyQt6.QtCore import QMimeData, QPoint, QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import (
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
from PyQt6.QtWidgets import QAbstractButton, QApplication, QLineEdit

from jadeite.core.pictures import LIGHT, Picture
from jadeite.core.steps import Steps
from jadeite.desktop.paint import painting
from jadeite.desktop.theme import base_font
from jadeite.desktop.turns import AT_ONCE, Drawing

__all__ = ["HIGH", "MIME", "SLIP_PICTURE", "Slip", "SlipRow"]

HIGH = 40  # pixels of a slip
SLIP_PICTURE = (36.0, 30.0)  # pixels of its picture
EDGE = 0.28  # of a slip's height, at either end: dropped there it is put before or after
MIME = "application/x-jadeite-slip"


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
        self._drawing = Drawing(self)
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

    def show_picture(self, picture: Picture | None) -> None:
        """The thing in small; None while it is not known."""
        if picture is not self.picture:
            self.picture = picture
            self._drawing.forget()
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

    def _steps(self, painter: QPainter) -> Steps[None]:
        yield from painting(painter, self.picture or Picture())

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
            wide, high = SLIP_PICTURE
            at, size = QPoint(13, round((HIGH - high) / 2)), QSize(round(wide), round(high))
            self._drawing.show(painter, at, size, self._steps, AT_ONCE)
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
