"""Every sheet that will be cut, at one scale; or one sheet as the blade sees it."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from PyQt6.QtCore import QPointF, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent

from jadeite.core.cutting import SheetCut, place_at, stroke_seconds
from jadeite.core.machine import Run
from jadeite.core.nets.model import Floats
from jadeite.core.pictures import Label, Picture, sheet_picture
from jadeite.core.pictures.flat import ABOVE, BELOW, around_sheet
from jadeite.core.steps import Steps
from jadeite.core.units import format_duration
from jadeite.desktop.session import Session
from jadeite.desktop.views.chart import Chart

__all__ = ["Frame", "SheetsView"]

SPACE = 26.0  # pixels between sheets


@dataclass(frozen=True, slots=True)
class Frame:
    """Where a sheet is drawn: its lower left corner (x, y) and size in pixels, and its scale.

    ``scale`` is pixels to the mm.
    """

    sheet: int
    x: float
    y: float
    scale: float
    width: float
    height: float

    def holds(self, at: QPointF) -> bool:
        """Whether a point of the widget is on the sheet."""
        across, up = at.x() - self.x, self.y - at.y()
        return 0 <= across <= self.width and 0 <= up <= self.height

    def millimetres(self, at: QPointF) -> tuple[float, float]:
        """A point of the widget on the sheet, mm from its lower left."""
        return (at.x() - self.x) / self.scale, (self.y - at.y()) / self.scale

    def pixels(self, points: Floats) -> Floats:
        """Points (n, 2) of the sheet, mm, in the widget."""
        return np.array([self.x, self.y]) + points * (self.scale, -self.scale)


class SheetsView(Chart):
    """Sheets side by side; with ``playing`` one sheet with what is cut so far."""

    sheet_chosen = pyqtSignal(int)

    def __init__(self, session: Session, *, playing: bool = False) -> None:
        super().__init__("The sheet as the blade sees it" if playing else "Sheets, at one scale")
        self.session, self.playing = session, playing
        self.sheet = 0
        self.time = 1.0  # share of the time that has run
        self.run: Run | None = None  # that is cutting now, in place of what would be cut
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self._cells: list[tuple[float, float, float, float]] = []
        self.frames: list[Frame] = []  # of the sheets as they were drawn last

    def set_time(self, share: float) -> None:
        """Play back: go to a share of the sheet's time."""
        self.time = share
        self.update()

    def choose(self, sheet: int) -> None:
        """Show another sheet."""
        count = len(self._cuts())
        if count:
            self.sheet = max(0, min(sheet, count - 1))
            self.sheet_chosen.emit(self.sheet)
            self.update()

    def _cuts(self) -> tuple[SheetCut, ...]:
        if self.run is not None:
            return tuple(sheet.cut for sheet in self.run.sheets)
        return self.session.sheets.cutting.sheets if self.session.sheets else ()

    def _head(self) -> float:
        """Room for the clock above a sheet that is played back."""
        return 44.0 if self.playing else 0.0

    def _grid(self, cuts: tuple[SheetCut, ...]) -> tuple[int, float]:
        """Columns, and pixels per mm, that show all sheets as large as can be."""
        widest = max(c.sheet.stock.width for c in cuts)
        tallest = max(c.sheet.stock.height for c in cuts)
        best = (1, 0.0)
        for columns in range(1, len(cuts) + 1):
            rows = math.ceil(len(cuts) / columns)
            across = (self.width() - SPACE * (columns + 1)) / columns
            down = (self.height() - self._head() - SPACE * (rows + 1)) / rows - ABOVE - BELOW
            for about in (across, 0.0):  # a narrow sheet has less beside it
                scale = min((across - 2 * around_sheet(about)) / widest, down / tallest)
                if around_sheet(scale * widest) <= around_sheet(about) and scale > best[1]:
                    best = (columns, scale)
        return best[0], max(best[1], 0.02)

    def drawing(self) -> Steps[Picture]:
        """All sheets, or the one that is being cut."""
        out = Picture()
        p = self.palette_
        design, cuts = self.session.work.design, self._cuts()
        if not cuts or design is None:
            self._cells, self.frames = [], []
            words = (
                "Laying out the pieces …"
                if self.session.sheets_busy
                else (
                    "No piece fits a sheet at hand: add a larger sheet on the right."
                    if design
                    else "Add contents first; the sheets follow by themselves."
                )
            )
            out.add(Label(words, self.width() / 2, self.height() / 2, 15, p.quiet))
            return out
        wanted = self.sheet if self.run is None else self.run.number
        self.sheet = chosen = min(wanted, len(cuts) - 1)
        shown = (cuts[chosen],) if self.playing else cuts
        columns, scale = self._grid(shown)
        sheets = self.session.sheets
        pieces = {name: cut.piece for name, cut in sheets.pieces.items()} if sheets else {}
        colours = sheets.colours if sheets else {}
        widest = max(
            width + 2 * around_sheet(width)
            for width in (c.sheet.stock.width * scale for c in shown)
        )
        tallest = max(c.sheet.stock.height for c in shown) * scale + ABOVE + BELOW
        rows = math.ceil(len(shown) / columns)
        left = (self.width() - columns * widest - (columns - 1) * SPACE) / 2
        head = self._head()
        top = head + (self.height() - head - rows * tallest - (rows - 1) * SPACE) / 2
        cells, frames = [], []
        for i, cut in enumerate(shown):
            number = chosen if self.playing else i
            done = None
            if self.playing:
                done = self._done(cut)
            title = f"Sheet {number + 1}: {cut.sheet.stock.name}, {cut.board.title.lower()}"
            picture = sheet_picture(
                cut, pieces, p, colours, scale, 1.0, done=done, system=self.system, title=title
            )
            x = left + (i % columns) * (widest + SPACE)
            y = top + (i // columns) * (tallest + SPACE)
            cells.append((x, y, widest, tallest))
            wide, high = cut.sheet.stock.width * scale, cut.sheet.stock.height * scale
            frames.append(
                Frame(number, x + around_sheet(wide), y + ABOVE + high, scale, wide, high)
            )
            out.items.extend(picture.moved(x, y).items)
            yield
        self._cells, self.frames = cells, frames
        if self.playing:
            self._add_clock(out, shown[0])
        return out

    def _done(self, cut: SheetCut) -> tuple[int, float]:
        """The stroke under way, and how much of it is done."""
        if self.run is None:
            return place_at(cut, self.time * cut.seconds)
        sheet = self.run.sheet
        number = self.run.doing
        if number is None:
            return sum(sheet.finished) - 1, 1.0
        path = cut.paths[number]
        return number, min(1.0, sheet.at[number] / (path.length * path.passes))

    def _add_clock(self, out: Picture, cut: SheetCut) -> None:
        p = self.palette_
        seconds = self.time * cut.seconds
        index, share = self._done(cut)
        if self.run is not None:
            seconds = (
                cut.starts[index] + share * stroke_seconds(cut.paths[index], cut.profile)
                if index >= 0
                else 0.0
            )
        words = {
            "score": "scoring",
            "inner": "cutting out the inside",
            "outline": "cutting the outline",
            "pen": "drawing",
            "perforate": "perforating",
        }
        loading = "loading the sheet"
        if not cut.sheet.stock.whole:
            loading = "loading the offcut: its lower left corner in that of the carrier"
        now = (
            loading
            if index < 0
            else (
                f"{words[cut.paths[index].step]} {index + 1} of {len(cut.paths)}, "
                f"{cut.paths[index].piece}"
            )
        )
        if self.run is None and self.time >= 1.0:
            now = "done: look before you unload"
        clock = f"{format_duration(seconds)} of {format_duration(cut.seconds)}"
        out.add(Label(clock, self.width() - 16, 20, 14, p.ink, "end", 600))
        out.add(Label(now, self.width() - 16, 40, 13, p.quiet, "end"))
        out.add(Label(cut.setting, 16, 20, 13, p.quiet, "start"))
        if len(self._cuts()) > 1:
            words_ = f"sheet {self.sheet + 1} of {len(self._cuts())}"
            out.add(Label(words_, 16, 40, 13, p.quiet, "start"))

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        at: QPointF = event.position()
        for i, (x, y, w, h) in enumerate(self._cells):
            if not self.playing and x <= at.x() <= x + w and y <= at.y() <= y + h:
                self.choose(i)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()))
        if step is None:
            super().keyPressEvent(event)
        else:
            self.choose(self.sheet + step)
