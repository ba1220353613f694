"""What each option does, as small pictures: the shape itself, made one way and another."""

from __future__ import annotations

from PyQt6.QtCore import QPoint, QSize, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QColor, QPainter, QPaintEvent
from PyQt6.QtWidgets import QGridLayout, QPushButton, QWidget

from jadeite.core.pictures import LIGHT, Palette
from jadeite.core.pipeline import Work
from jadeite.core.shapes import Option, OptionValue
from jadeite.core.shelf import ShelfEntry, variants
from jadeite.core.steps import Steps
from jadeite.core.units import System, format_length, number_text
from jadeite.desktop.entry_picture import PICTURE, entry_painting
from jadeite.desktop.jobs import Job
from jadeite.desktop.session import Session
from jadeite.desktop.turns import Drawing

__all__ = ["OptionPictures", "value_words"]

SCALE = 0.49  # of a tile of the shelf; from memory
THUMB = QSize(140, 76)  # pixels; from memory
REDRAW = 300  # ms after the last change; from memory


def value_words(option: Option, value: OptionValue, system: System) -> str:
    """A value of an option in words."""
    if option.choices or option.words is not None:
        return dict(option.choices).get(str(value), str(value))
    if option.unit == "mm":
        return format_length(float(value), system)
    if option.unit == "count":
        return f"{float(value):.0f}"
    return f"{number_text(float(value))}{option.suffix}"


class _Thumb(QPushButton):
    """Nets and folded form with one value of an option; a click sets it."""

    def __init__(self, words: str, about: str) -> None:
        super().__init__()
        self.setProperty("role", "tile")
        tall = THUMB.height()
        self.setStyleSheet(f"padding: 0px; min-height: {tall}px; max-height: {tall}px;")
        self.setCheckable(True)
        self.setFixedSize(THUMB)
        self.words = words
        self.entry: ShelfEntry | None = None
        self.palette_: Palette = LIGHT
        self._drawing = Drawing(self)
        self.setAccessibleName(f"{about}: {words}")

    def paintEvent(self, event: QPaintEvent | None) -> None:
        super().paintEvent(event)
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        p, entry = self.palette_, self.entry
        font = painter.font()
        font.setPixelSize(11)
        painter.setFont(font)
        refused = entry is not None and entry.form is None
        painter.setPen(QColor(p.brick_text if refused else p.ink))
        words = f"{self.words}: not possible" if refused else self.words
        painter.drawText(6, THUMB.height() - 7, words)
        if entry is not None and entry.form is not None:
            self._drawing.show(painter, QPoint(4, 4), PICTURE * SCALE, self._steps)
        painter.end()

    def show_entry(self, entry: ShelfEntry) -> None:
        """Draw another design."""
        self.entry = entry
        self._drawing.clear()
        self.update()

    def _steps(self, painter: QPainter) -> Steps[None]:
        assert self.entry is not None
        painter.scale(SCALE, SCALE)
        yield from entry_painting(painter, self.entry)


class OptionPictures(QWidget):
    """Pictures for every option of the open shape, drawn by a process once they are looked at."""

    chosen = pyqtSignal(str, object)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.rows: dict[str, QWidget] = {}
        self.thumbs: dict[tuple[str, OptionValue], _Thumb] = {}
        self._palette: Palette = LIGHT
        self._drawn: object = None
        self._idle: frozenset[str] = frozenset()  # options that change nothing now
        self.wanted = False
        self.job = Job("options", self)
        session.extra_jobs.append(self.job)
        self.job.part.connect(self._on_part)
        self.job.failed.connect(session.trouble)
        self._later = QTimer(self)
        self._later.setSingleShot(True)
        self._later.setInterval(REDRAW)
        self._later.timeout.connect(self._ask)

    @property
    def pending(self) -> bool:
        """Whether something is still to be drawn."""
        return self.wanted and (self._later.isActive() or self.job.busy)

    def row(self, option: Option, value: OptionValue, system: System) -> QWidget:
        """Thumbs for an option, two in a row."""
        holder = QWidget()
        grid = QGridLayout(holder)
        grid.setContentsMargins(0, 0, 0, 6)
        grid.setSpacing(6)
        for i, variant in enumerate(variants(option, value)):
            thumb = _Thumb(value_words(option, variant, system), option.label)
            thumb.palette_ = self._palette
            thumb.setToolTip(option.help)
            thumb.clicked.connect(lambda _=False, k=option.key, v=variant: self.chosen.emit(k, v))
            self.thumbs[option.key, variant] = thumb
            grid.addWidget(thumb, i // 2, i % 2, Qt.AlignmentFlag.AlignLeft)
        self.rows[option.key] = holder
        holder.setVisible(False)
        return holder

    def clear(self) -> None:
        """Another shape: its thumbs are made anew."""
        self.rows, self.thumbs, self._drawn = {}, {}, None
        self._idle = frozenset()

    def show_rows(self, shown: bool) -> None:
        """Show or hide all pictures."""
        self.wanted = shown
        self._show_acting()
        if shown:
            self._later.start()

    def _show_acting(self) -> None:
        for key, row in self.rows.items():
            row.setVisible(self.wanted and key not in self._idle)

    def refresh(self, work: Work, palette: Palette) -> None:
        """Mark what is set, and draw anew where the document has changed.

        What the session works on may be of another shape meanwhile: the window comes back for it.
        """
        self._palette = palette
        values = work.options
        self._idle = frozenset(o.key for o in work.family.options if not o.acts(values))
        self._show_acting()
        for (key, variant), thumb in self.thumbs.items():
            thumb.setChecked(values.get(key) == variant)
            thumb.palette_ = palette
        if self.wanted and self._drawn != (self.session.task, palette):
            self._later.start()

    def _ask(self) -> None:
        if self.wanted:
            self._drawn = (self.session.task, self._palette)
            self.job.start(self._drawn, self.session.task, self._palette)

    def _on_part(self, part: object) -> None:
        if not isinstance(part, tuple):
            return
        key, value, entry = part
        thumb = self.thumbs.get((key, value))
        if thumb is not None:
            thumb.show_entry(entry)
