"""Boards along their weight, each with the sag of its floor drawn to scale."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QPointF, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent

from jadeite.core.boards import CATALOGUE, Board, Sag, floor_sag, smallest_roll
from jadeite.core.pictures import Label, Path, Picture, Stroke, mix
from jadeite.core.pipeline import mass_of_contents
from jadeite.core.units import format_length, number_text
from jadeite.desktop.session import Session
from jadeite.desktop.stations.board import lightest_that_holds
from jadeite.desktop.views.chart import Chart

__all__ = ["BoardChart"]

LEFT, RIGHT, TOP = 36.0, 24.0, 64.0
SCORES = {
    "no": "no score",
    "light": "light score",
    "yes": "score",
    "wheel": "score, wheel",
    "hinge": "cut, hinge",
}


class BoardChart(Chart):
    """Choosing a board here uses it for every part."""

    picked = pyqtSignal(str)

    def __init__(self, session: Session) -> None:
        super().__init__("Boards along their weight, with the sag of the floor")
        self.session = session
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setToolTip("Choose a board to use it for every part. Arrow keys move along.")
        self.setMouseTracking(True)

    def _columns(self) -> list[tuple[Board, float]]:
        """Boards with the middle of their column; even columns, the weight axis below."""
        boards = sorted(CATALOGUE, key=lambda b: b.grammage)
        step = (self.width() - LEFT - RIGHT) / len(boards)
        return [(b, LEFT + step * (i + 0.5)) for i, b in enumerate(boards)]

    def _in_use(self) -> str:
        return self.session.project.board_of(self.session.work.family.parts[0][0])

    def _at(self, at: QPointF) -> Board | None:
        columns = self._columns()
        half = (columns[1][1] - columns[0][1]) / 2
        return next((b for b, x in columns if abs(at.x() - x) < half), None)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and (board := self._at(event.position())) is not None:
            self.picked.emit(board.key)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        keys = [b.key for b, _ in self._columns()]
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()))
        if step is None:
            super().keyPressEvent(event)
            return
        i = keys.index(self._in_use()) + step
        if 0 <= i < len(keys):
            self.picked.emit(keys[i])

    def _sags(self) -> dict[str, Sag]:
        work = self.session.work
        mass = mass_of_contents(self.session.project)
        if work.design is None or mass <= 0:
            return {}
        length, width = work.inside[:2]
        return {b.key: floor_sag(b, length, width, mass) for b in CATALOGUE}

    def picture(self) -> Picture:
        """Columns of boards with their sag."""
        out = Picture()
        p = self.palette_
        work = self.session.work
        mass = mass_of_contents(self.session.project)
        sags = self._sags()
        words = "Boards along their weight"
        if sags:
            words += f", and how the floor sags under {number_text(mass, 0)} g"
        out.add(Label(words, 22, 28, 16, p.ink, "start", 600))
        larger = self._larger(sags)
        tail = (
            f"Sag and its limit drawn {larger:g} times larger than life; it counts when the box "
            "is lifted or hung."
            if sags
            else "Give the contents a weight to see the floor sag."
        )
        out.add(Label(tail, 22, 50, 13, p.quiet, "start"))
        columns = self._columns()
        step = columns[1][1] - columns[0][1]
        lightest = lightest_that_holds(*work.inside[:2], mass) if sags else ""
        for board, x in columns:
            self._draw_column(out, board, x, step, board.key == lightest)
            if sags:
                self._draw_sag(out, sags[board.key], x, step / 2 - 16, larger)
        y = self._axis_y()
        ends = np.array([[LEFT - 22, y], [self.width() - RIGHT + 12, y]])
        out.add(Path((ends,), closed=False, stroke=Stroke(p.ink, 1.5)))
        out.add(Label("lighter", LEFT - 22, y + 128, 12, p.quiet, "start"))
        out.add(Label("heavier", self.width() - RIGHT + 12, y + 128, 12, p.quiet, "end"))
        return out

    def _axis_y(self) -> float:
        return self.height() - 148.0

    def _deepest(self) -> float:
        """Pixels that the deepest sag may take."""
        return max(40.0, self._axis_y() - TOP - 200.0)

    def _larger(self, sags: dict[str, Sag]) -> float:
        """A round enlargement at which sags and limits fill the room there is."""
        most = max(
            (max(min(s.sag.value, 3 * s.limit.value), s.limit.value) for s in sags.values()),
            default=1.0,
        )
        pixels = self.logicalDpiX() / 25.4
        for larger in (100, 50, 40, 30, 25, 20, 15, 10, 8, 5, 4, 3, 2):
            if most * pixels * larger <= self._deepest():
                return float(larger)
        return 1.0

    def _draw_column(self, out: Picture, board: Board, x: float, step: float, best: bool) -> None:
        p = self.palette_
        axis = self._axis_y()
        half = step / 2 - 4
        used = board.key == self._in_use()
        box = np.array(
            [
                [x - half, TOP + 6],
                [x + half, TOP + 6],
                [x + half, axis + 112],
                [x - half, axis + 112],
            ]
        )
        if used:
            out.add(Path((box,), fill=p.jade_wash, stroke=Stroke(p.jade, 2)))
        elif best:
            out.add(Path((box,), stroke=Stroke(p.jade, 1.2, (4, 4))))
        y = TOP + 24
        if used:
            out.add(Label("in use", x, y, 13, p.jade_text, weight=600))
        if best:
            out.add(Label("lightest", x, y + 18, 12.5, p.jade_text))
            out.add(Label("that holds", x, y + 33, 12.5, p.jade_text))
        # the board's edge, twenty times its thickness
        thick = board.thickness * 20 * self.logicalDpiX() / 25.4 * 0.5
        slab = np.array(
            [
                [x - half + 14, axis - thick],
                [x + half - 14, axis - thick],
                [x + half - 14, axis],
                [x - half + 14, axis],
            ]
        )
        out.add(Path((slab,), fill=mix(p.sand, p.sheet, 0.45), stroke=Stroke(p.ink, 1)))
        curl = format_length(smallest_roll(board).value, self.system)
        out.add(Label(f"curls to {curl}", x, axis - thick - 14, 12, p.quiet))
        title = board.title.replace("Extra-heavy", "Extra-h.") if step < 100 else board.title
        passes = "1 pass" if board.passes == 1 else f"{board.passes} passes"
        lines = (
            (title, 13.0, p.jade_text if used else p.ink, 600),
            (f"{board.grammage:.0f} g/m²", 13.0, p.ink, 400),
            (f"{number_text(board.thickness, 2)} mm", 12.0, p.quiet, 400),
            (SCORES[board.score], 12.0, p.quiet, 400),
            (passes, 12.0, p.quiet, 400),
        )
        for i, (text, size, colour, weight) in enumerate(lines):
            out.add(Label(text, x, axis + 20 + 19 * i, size, colour, weight=weight))

    def _draw_sag(self, out: Picture, sag: Sag, x: float, half: float, larger: float) -> None:
        """A floor between two walls, enlarged, beside its limit."""
        p = self.palette_
        pixels = self.logicalDpiX() / 25.4 * larger
        y = TOP + 96.0
        deep = min(sag.sag.value * pixels, self._deepest() + 20)
        limit = sag.limit.value * pixels
        colour = p.jade_text if sag.holds else p.amber_text
        walls = (
            np.array([[x - half, y - 22], [x - half, y]]),
            np.array([[x + half, y - 22], [x + half, y]]),
        )
        t = np.linspace(-1, 1, 41)
        floor = np.column_stack([x + half * t, y + deep * (1 - t * t)])
        out.add(Path((floor,), fill=mix(colour, p.table, 0.8)))
        out.add(Path(walls, closed=False, stroke=Stroke(p.ink, 2)))
        out.add(Path((floor,), closed=False, stroke=Stroke(colour, 2.5)))
        line = np.array([[x - half - 4, y + limit], [x + half + 4, y + limit]])
        out.add(Path((line,), closed=False, stroke=Stroke(p.brick, 1.2, (3, 3))))
        low = y + max(deep, limit)
        cut = " +" if sag.sag.value * pixels > deep + 1e-6 else ""
        out.add(
            Label(f"{number_text(sag.sag.value, 2)} mm{cut}", x, low + 17, 13.5, colour, weight=600)
        )
        out.add(Label(f"limit {number_text(sag.limit.value, 2)}", x, low + 35, 12, p.brick_text))
