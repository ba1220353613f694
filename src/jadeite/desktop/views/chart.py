"""What the drawn views share."""

from __future__ import annotations

from PyQt6.QtCore import QPoint, QSize
from PyQt6.QtGui import QColor, QImage, QPainter, QPaintEvent
from PyQt6.QtWidgets import QSizePolicy, QWidget

from jadeite.core.pictures import LIGHT, Palette, Picture
from jadeite.core.steps import Steps, finished
from jadeite.core.units import System
from jadeite.desktop.paint import paint_picture, painting
from jadeite.desktop.turns import AT_ONCE, Drawing

__all__ = ["Chart"]


class Chart(QWidget):
    """A widget that paints one picture of the session."""

    def __init__(self, name: str) -> None:
        super().__init__()
        self.setAccessibleName(name)
        self.setMinimumSize(QSize(300, 240))
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.palette_: Palette = LIGHT
        self.system: System = "mm"
        self._drawing = Drawing(self)

    def update(self, *where: object) -> None:  # type: ignore[override]
        """Paint it anew."""
        self._drawing.forget()
        super().update()

    def set_look(self, palette: Palette, system: System) -> None:
        """Colours and units."""
        self.palette_, self.system = palette, system
        self.update()

    def picture(self) -> Picture:
        """What is shown, in pixels."""
        return finished(self.drawing())

    def drawing(self) -> Steps[Picture]:
        """The same in steps."""
        yield
        return Picture()

    def image(self) -> QImage:
        """The view as an image, for the clipboard."""
        out = QImage(self.size() * 2, QImage.Format.Format_ARGB32)
        out.setDevicePixelRatio(2)
        out.fill(QColor(self.palette_.table))
        painter = QPainter(out)
        paint_picture(painter, self.picture())
        painter.end()
        return out

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), QColor(self.palette_.table))
        self._drawing.show(painter, QPoint(), self.size(), self._steps, AT_ONCE)
        painter.end()

    def _steps(self, painter: QPainter) -> Steps[None]:
        picture = yield from self.drawing()
        yield from painting(painter, picture)
