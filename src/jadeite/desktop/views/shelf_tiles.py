"""The tiles of the shelf, and how they lie: by purpose, in as many columns as there is room for."""

from __future__ import annotations

import itertools

from PyQt6.QtCore import QEvent, QPoint, QRect, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QPainter, QPaintEvent, QResizeEvent
from PyQt6.QtWidgets import QPushButton, QWidget

from jadeite.core.pictures import LIGHT, Palette
from jadeite.core.shapes import PURPOSES
from jadeite.core.shelf import ShelfEntry
from jadeite.core.steps import Steps
from jadeite.core.units import System, counted, format_area, format_duration, format_size
from jadeite.desktop.entry_picture import PICTURE, entry_painting
from jadeite.desktop.turns import Drawing
from jadeite.desktop.widgets import label

__all__ = ["EDGE", "ShelfGrid", "ShelfTile"]

TILE, GAP, EDGE, HEAD = QSize(286, 196), 10, 12, 24  # pixels; from memory


class ShelfTile(QPushButton):
    """A shape drawn for the present contents: its nets, its folded form, its figures."""

    def __init__(self, key: str, title: str, about: str) -> None:
        super().__init__()
        self.key, self.title = key, title
        self.setProperty("role", "tile")
        self.setStyleSheet("text-align: left; padding: 0px;")
        self.setCheckable(True)
        self.setToolTip(about)
        self.setAccessibleName(title)
        self.setFixedSize(TILE)
        self.entry: ShelfEntry | None = None
        self.sheets: tuple[int, int] | None = None
        self._palette: Palette = LIGHT
        self._system: System = "mm"
        self._drawing = Drawing(self)

    def show_entry(self, entry: ShelfEntry | None, palette: Palette, system: System) -> None:
        """Draw another design."""
        if entry is not self.entry:
            self._drawing.clear()
        self.entry, self._palette, self._system = entry, palette, system
        self.setAccessibleDescription(" ".join(self.lines))
        self.update()

    @property
    def lines(self) -> tuple[str, ...]:
        """The figures, or what keeps it from holding the contents."""
        entry = self.entry
        if entry is None:
            return ("is being drawn",)
        if entry.why:
            return (entry.why,)
        outside = format_size(entry.outside, self._system, places=0)
        pieces = counted(entry.pieces, "piece")
        glued = counted(entry.glued, "glue joint")
        count = "sheets follow"
        if self.sheets is not None:
            number, left = self.sheets
            count = counted(number, "sheet")
            if left:
                count = f"{left} piece{'s fit' if left != 1 else ' fits'} no sheet"
        return (
            f"{'for example' if entry.sample else 'outside'} {outside}",
            f"{format_area(entry.area, self._system)} board · {pieces} · {count}",
            f"{glued if entry.glued else 'no glue'} · {format_duration(entry.seconds)}",
        )

    def paintEvent(self, event: QPaintEvent | None) -> None:
        super().paintEvent(event)
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        p, entry = self._palette, self.entry
        held = entry is not None and not entry.why
        if entry is not None and entry.form is not None:
            painter.setOpacity(1.0 if held else 0.35)
            self._drawing.show(painter, QPoint(10, 10), PICTURE, self._steps)
            painter.setOpacity(1.0)
        font = painter.font()
        font.setPixelSize(14)
        font.setBold(True)
        painter.setFont(font)
        painter.setPen(QColor(p.ink))
        top = 120
        painter.drawText(QRect(12, top, self.width() - 24, 18), Qt.AlignmentFlag.AlignLeft,
                         self.title)  # fmt: skip
        font.setBold(False)
        font.setPixelSize(12)
        painter.setFont(font)
        painter.setPen(QColor(p.quiet if held or entry is None else p.brick_text))
        words = self.lines if held or entry is None else (self.lines[0],)
        wrap = Qt.TextFlag.TextWordWrap if not held else Qt.TextFlag.TextSingleLine
        for i, line in enumerate(words):
            box = QRect(12, top + 20 + i * 16, self.width() - 24, 16 if held else 48)
            painter.drawText(box, int(Qt.AlignmentFlag.AlignLeft) | int(wrap), line)
        painter.end()

    def _steps(self, painter: QPainter) -> Steps[None]:
        assert self.entry is not None
        yield from entry_painting(painter, self.entry)


class ShelfGrid(QWidget):
    """Tiles by what their shapes are for, in as many columns as there is room for."""

    left = pyqtSignal()  # by the pointer

    def __init__(self) -> None:
        super().__init__()
        self.groups: list[tuple[str, list[ShelfTile]]] = []
        self.heads = {words: label(words, "strong") for words in PURPOSES.values()}
        for head in self.heads.values():
            head.setParent(self)

    def place(self, groups: list[tuple[str, list[ShelfTile]]]) -> None:
        """Show these tiles in this order, each group under its words; the tab key follows it."""
        tiles = [tile for _, mine in groups for tile in mine]
        for before, after in itertools.pairwise(tiles):
            QWidget.setTabOrder(before, after)
        self.groups = groups
        shown = {words for words, _ in groups}
        for words, head in self.heads.items():
            head.setVisible(words in shown)
        self._arrange()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        self._arrange()

    def leaveEvent(self, event: QEvent | None) -> None:
        self.left.emit()

    def _arrange(self) -> None:
        step = TILE.width() + GAP
        columns = max(1, (self.width() - 2 * EDGE + GAP) // step)
        used = columns * step - GAP
        left = max(EDGE, (self.width() - used) // 2)
        top = EDGE // 2
        for words, tiles in self.groups:
            self.heads[words].setGeometry(left, top, used, HEAD)
            top += HEAD
            for i, tile in enumerate(tiles):
                row, column = divmod(i, columns)
                tile.move(QPoint(left + column * step, top + row * (TILE.height() + GAP)))
            top += -(-len(tiles) // columns) * (TILE.height() + GAP)
        self.setMinimumHeight(top - GAP + EDGE)
