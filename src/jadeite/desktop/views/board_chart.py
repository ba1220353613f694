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

LEFT, RIGHT, TOP = 54.0, 34.0, 64.0
SCORES = {"no": "no score", "light": "light score", "yes": "score", "wheel": "score, wheel"}


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
        words = "Boards along their weight"
        if work.design is not None and mass > 0:
            words += f", and how the floor sags under {number_text(mass, 0)} g"
        out.add(Label(words, 22, 28, 16, p.ink, "start", 600))
        sags = self._sags()
        tail = (
            "Sag is drawn ten times larger than life; it counts when the box is lifted or hung."
            if sags
            else "Give the contents a weight to see the floor sag."
        )
        out.add(Label(tail, 22, 50, 13, p.quiet, "start"))
        columns = self._columns()
        step = columns[1][1] - columns[0][1]
        self._draw_axis(out, columns)
        lightest = lightest_that_holds(*work.inside[:2], mass) if work.design else ""
        for board, x in columns:
            self._draw_column(out, board, x, step, sags.get(board.key), board.key == lightest)
        return out

    def _axis_y(self) -> float:
        return self.height() - 128.0

    def _draw_axis(self, out: Picture, columns: list[tuple[Board, float]]) -> None:
        p, y = self.palette_, self._axis_y()
        ends = np.array([[LEFT - 20, y], [self.width() - RIGHT + 10, y]])
        out.add(Path((ends,), closed=False, stroke=Stroke(p.ink, 1.5)))
        out.add(Label("lighter", LEFT - 20, y + 100, 12, p.quiet, "start"))
        out.add(Label("heavier", self.width() - RIGHT + 10, y + 100, 12, p.quiet, "end"))

    def _draw_column(
        self, out: Picture, board: Board, x: float, step: float, sag: Sag | None, best: bool
    ) -> None:
        p = self.palette_
        axis = self._axis_y()
        half = step / 2 - 6
        used = board.key == self._in_use()
        box = np.array(
            [[x - half, TOP + 8], [x + half, TOP + 8], [x + half, axis + 84], [x - half, axis + 84]]
        )
        if used:
            out.add(Path((box,), fill=p.jade_wash, stroke=Stroke(p.jade, 2)))
        elif best:
            out.add(Path((box,), stroke=Stroke(p.jade, 1.2, (4, 4))))
        # the board itself: a stack as thick as the board, to scale 20 : 1
        thick = board.thickness * 20
        slab = np.array(
            [
                [x - half + 12, axis - thick],
                [x + half - 12, axis - thick],
                [x + half - 12, axis],
                [x - half + 12, axis],
            ]
        )
        out.add(Path((slab,), fill=mix(p.sand, p.sheet, 0.45), stroke=Stroke(p.ink, 1)))
        out.add(Label(board.title, x, axis + 18, 13, p.jade_text if used else p.ink, weight=600))
        out.add(Label(f"{board.grammage:.0f} g/m²", x, axis + 37, 13, p.ink))
        out.add(Label(f"{number_text(board.thickness, 2)} mm thick", x, axis + 55, 12, p.quiet))
        passes = "1 pass" if board.passes == 1 else f"{board.passes} passes"
        out.add(Label(f"{SCORES[board.score]}, {passes}", x, axis + 72, 12, p.quiet))
        y = TOP + 30
        if used:
            out.add(Label("in use", x, y, 12.5, p.jade_text, weight=600))
        y += 18
        if best:
            out.add(Label("lightest that holds", x, y, 12.5, p.jade_text))
        y += 24
        if sag is not None:
            self._draw_sag(out, sag, x, half - 12, y)
        curl = format_length(smallest_roll(board).value, self.system)
        out.add(Label(f"curls to {curl}", x, axis - thick - 16, 12, p.quiet))

    def _draw_sag(self, out: Picture, sag: Sag, x: float, half: float, y: float) -> None:
        """A floor on two walls, sagging ten times its true sag, beside its limit."""
        p = self.palette_
        pixels = self.logicalDpiX() / 25.4 * 10
        most = max(30.0, self._axis_y() - y - 130)
        deep = min(sag.sag.value * pixels, most)
        limit = min(sag.limit.value * pixels, most)
        colour = p.jade_text if sag.holds else p.amber_text
        walls = (
            np.array([[x - half, y], [x - half, y + 26]]),
            np.array([[x + half, y], [x + half, y + 26]]),
        )
        out.add(Path(walls, closed=False, stroke=Stroke(p.ink, 2)))
        t = np.linspace(-1, 1, 33)
        floor = np.column_stack([x + half * t, y + 26 + deep * (1 - t * t)])
        top = np.array([[x + half, y + 26], [x - half, y + 26]])
        out.add(Path((np.vstack([floor, top]),), fill=mix(colour, p.table, 0.75)))
        out.add(Path((floor,), closed=False, stroke=Stroke(colour, 2.5)))
        line = np.array([[x - half, y + 26 + limit], [x + half, y + 26 + limit]])
        out.add(Path((line,), closed=False, stroke=Stroke(p.brick, 1, (3, 3))))
        words = f"{number_text(sag.sag.value, 1)} mm"
        if sag.sag.value * pixels > most:
            words += " (cut off)"
        low = y + 26 + max(deep, limit)
        out.add(Label(words, x, low + 16, 13.5, colour, weight=600))
        out.add(Label(f"limit {number_text(sag.limit.value, 1)} mm", x, low + 34, 12, p.brick_text))
