"""What shows of each ring of a flower from above, as a picture and in numbers."""

from __future__ import annotations

from PyQt6.QtCore import QSize
from PyQt6.QtGui import QPainter, QPaintEvent
from PyQt6.QtWidgets import QWidget

from jadeite.core.pictures import LIGHT, Palette, Picture
from jadeite.core.pictures.seen import seen_picture
from jadeite.core.pipeline import Work
from jadeite.desktop.paint import paint_picture
from jadeite.desktop.widgets import Card, label

__all__ = ["SeenCard"]

SIZE = QSize(286, 220)


class _View(QWidget):
    """The picture."""

    def __init__(self) -> None:
        super().__init__()
        self.picture = Picture()
        self.setFixedSize(SIZE)
        self.setAccessibleName("What is seen from above")

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        paint_picture(painter, self.picture)
        painter.end()


class SeenCard(Card):
    """A flower from above: what shows of each ring, and how much of the ground does."""

    def __init__(self) -> None:
        super().__init__("What shows from above")
        self.view = _View()
        self.add(self.view)
        self.rows = label("", "small", wrap=True)
        self.add(self.rows)
        self._known: tuple[object, ...] = ()

    def show_work(self, work: Work, palette: Palette = LIGHT) -> None:
        """Another flower, or other colours; nothing is shown of what is no flower."""
        self.setVisible(len(work.seen) > 1)
        known = (work.seen, palette)
        if known == self._known:
            return
        self._known = known
        size = (float(SIZE.width()), float(SIZE.height()))
        self.view.picture = seen_picture(work.seen, size, palette)
        self.view.update()
        titles = dict(work.family.parts)
        lines = [
            f"{number}  {titles.get(one.part, one.part)}: {one.share:.0%} of it shows, "
            f"{one.of_disc:.0%} of the disc"
            for number, one in enumerate(work.seen, start=1)
        ]
        bare = max(0.0, 1 - sum(one.of_disc for one in work.seen))
        self.rows.setText("\n".join([*lines, f"Bare within the disc: {bare:.0%}"]))
