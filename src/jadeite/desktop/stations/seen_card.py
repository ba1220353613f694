"""What shows of each ring of a flower from above, as a picture and in numbers."""

from __future__ import annotations

from PyQt6.QtCore import QSize
from PyQt6.QtGui import QPainter, QPaintEvent
from PyQt6.QtWidgets import QWidget

from jadeite.core.pictures import LIGHT, Palette, Picture
from jadeite.core.pictures.seen import marks_of, seen_picture
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
        names = dict(work.family.parts)
        titles = [names.get(one.part, one.part) for one in work.seen]
        marks = marks_of(titles)
        self.view.picture = seen_picture(work.seen, marks, size, palette)
        self.view.update()
        lines = [
            f"{mark}  {title}: {one.share:.0%} of it shows, {one.of_disc:.0%} of the disc"
            for mark, title, one in zip(marks, titles, work.seen, strict=True)
        ]
        bare = max(0.0, 1 - sum(one.of_disc for one in work.seen))
        self.rows.setText("\n".join([*lines, f"Bare within the disc: {bare:.0%}"]))
