"""Boards along their weight: each a row, with its sag drawn to scale against the limit."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from PyQt6.QtCore import QEvent, QPointF, Qt, pyqtSignal
from PyQt6.QtGui import QHelpEvent, QKeyEvent, QMouseEvent
from PyQt6.QtWidgets import QToolTip

from jadeite.core.boards import weight_words
from jadeite.core.choice import Comparison, Meaning
from jadeite.core.pictures import Label, Path, Picture, Stroke, mix
from jadeite.core.steps import Steps
from jadeite.core.units import format_length, in_system, number_text
from jadeite.desktop.board_choice import BoardChoice, Laid
from jadeite.desktop.views.chart import Chart

__all__ = ["BoardChart"]

TOP, FOOT, LEFT, RIGHT = 96.0, 14.0, 22.0, 18.0
LEAST_ROW, MOST_ROW = 34.0, 60.0
WIDEST = 1180.0  # pixels; farther apart, a row is hard to follow
NAMES = 170.0  # pixels for slab and name
LEAST_BAR = 96.0
LABEL = 32.0  # a figure beside its bar
EDGE_LARGER = 3.0  # a board's edge is drawn so many times larger than life
SCORES = {
    "no": "no score",
    "light": "light score",
    "yes": "score",
    "wheel": "wheel score",
    "hinge": "cut, hinge",
}
SHORT = {
    "lid": "lid sags",
    "tall": "walls lean",
    "wall": "walls bulge",
    "strips": "does not fold",
    "curl": "cracks rolled",
}


@dataclass(frozen=True)
class _Columns:
    """Where the columns stand, in pixels; those that find no room are left out."""

    bar: tuple[float, float]
    others: tuple[tuple[str, str, float], ...]  # key, heading, right end


def _columns(width: float, priced: bool, inches: bool) -> _Columns:
    wanted = [
        ("score", "folds", 76.0),
        ("curl", "curls to", 84.0 if inches else 58.0),
        ("passes", "passes", 48.0),
        ("weight", "weighs", 46.0),
        ("sheets", "sheets, cost" if priced else "sheets", 78.0 if priced else 62.0),
    ]
    for drop in ("curl", "score", "passes", "weight"):
        if width - LEFT - NAMES - RIGHT - sum(w for _, _, w in wanted) >= LEAST_BAR:
            break
        wanted = [c for c in wanted if c[0] != drop]
    end = width - RIGHT
    placed = []
    for key, words, wide in reversed(wanted):
        placed.append((key, words, end))
        end -= wide
    return _Columns((LEFT + NAMES, end - 12), tuple(reversed(placed)))


class BoardChart(Chart):
    """Choosing a board here uses it for the parts that are compared."""

    picked = pyqtSignal(str)

    def __init__(self, choice: BoardChoice) -> None:
        super().__init__("Boards along their weight, with the sag of the floor")
        self.choice = choice
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        choice.changed.connect(self._on_changed)

    # ------------------------------------------------------------- rows

    def _meanings(self) -> tuple[Meaning, ...]:
        found = self.choice.comparison
        return found.meanings if found is not None else ()

    def _on_changed(self) -> None:
        self.setMinimumHeight(round(TOP + FOOT + LEAST_ROW * max(1, len(self._meanings()))))
        self.update()

    def _row_height(self) -> float:
        count = max(1, len(self._meanings()))
        return min(max((self.height() - TOP - FOOT) / count, LEAST_ROW), MOST_ROW)

    def row_middle(self, key: str) -> QPointF:
        """The middle of a board's row, in the widget."""
        keys = [m.board.key for m in self._meanings()]
        y = TOP + self._row_height() * (keys.index(key) + 0.5)
        return QPointF(self.width() / 2, y)

    def _at(self, at: QPointF) -> Meaning | None:
        row = int((at.y() - TOP) // self._row_height())
        meanings = self._meanings()
        return meanings[row] if 0 <= row < len(meanings) and at.y() >= TOP else None

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and (meaning := self._at(event.position())) is not None:
            self.picked.emit(meaning.board.key)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        ways = {
            Qt.Key.Key_Up: -1,
            Qt.Key.Key_Left: -1,
            Qt.Key.Key_Down: 1,
            Qt.Key.Key_Right: 1,
        }
        step = ways.get(Qt.Key(event.key()))
        keys = [m.board.key for m in self._meanings()]
        if step is None or self.choice.used() not in keys:
            super().keyPressEvent(event)
            return
        i = keys.index(self.choice.used()) + step
        if 0 <= i < len(keys):
            self.picked.emit(keys[i])

    def event(self, event: QEvent | None) -> bool:
        """A tool tip says what a board means, in words."""
        if isinstance(event, QHelpEvent) and event.type() == QEvent.Type.ToolTip:
            meaning = self._at(QPointF(event.pos()))
            if meaning is not None:
                QToolTip.showText(event.globalPos(), _words(meaning), self)
                return True
        return super().event(event)

    # ------------------------------------------------------------- painting

    def drawing(self) -> Steps[Picture]:
        """The whole chart."""
        out = Picture()
        p = self.palette_
        found = self.choice.comparison
        out.add(Label("Boards along their weight", LEFT, 28, 16, p.ink, "start", 600))
        if found is None:
            words = "Every board is compared here as soon as it is known what is made."
            if self.choice.comparing:
                words = "Comparing every board…"
            out.add(Label(words, LEFT, 52, 13, p.quiet, "start"))
            return out
        columns = self._placed()
        larger = self._larger(found, columns)
        self._head(out, found, columns, larger)
        best = found.lightest
        for i, meaning in enumerate(found.meanings):
            yield
            self._row(out, meaning, i, columns, larger, best is meaning)
        limit = _limit(found)
        if limit is not None and larger:
            x = columns.bar[0] + limit * self._pixels() * larger
            end = TOP + self._row_height() * len(found.meanings)
            line = np.array([[x, TOP - 4], [x, end]])
            out.add(Path((line,), closed=False, stroke=Stroke(p.brick, 1.3, (4, 3))))
        return out

    def _wide(self) -> float:
        """Width that the rows take, in pixels."""
        return min(float(self.width()), WIDEST)

    def _placed(self) -> _Columns:
        priced = any(laid.cost is not None for laid in self.choice.laid.values())
        return _columns(self._wide(), priced, self.system != "mm")

    def _pixels(self) -> float:
        return self.logicalDpiX() / 25.4

    def _larger(self, found: Comparison, columns: _Columns) -> float:
        """A round enlargement at which sags and limit fill their column; 0 without a load."""
        limit = _limit(found)
        if limit is None:
            return 0.0
        sags = [f.value.value for m in found.meanings if (f := m.figure("floor")) is not None]
        most = max(min(max(sags), 2.5 * limit), limit)
        room = columns.bar[1] - columns.bar[0] - 44
        for larger in (100, 50, 40, 30, 25, 20, 15, 10, 8, 6, 5, 4, 3, 2):
            if most * self._pixels() * larger <= room:
                return float(larger)
        return 1.0

    def _head(self, out: Picture, found: Comparison, columns: _Columns, larger: float) -> None:
        p = self.palette_
        if larger:
            words = (
                f"Bars: how far the floor sags when the box is lifted, {larger:g} times larger "
                "than life."
            )
        else:
            words = "What each board would mean for this shape."
            if self.choice.session.work.holds:
                words = "Give the contents a weight to see the floor sag."
        if self.width() < 560:
            words = words.replace(" when the box is lifted,", ",")
        out.add(Label(words, LEFT, 52, 13, p.quiet, "start"))
        y = TOP - 14
        edge = f"edge, {EDGE_LARGER:g} ×"
        out.add(Label(edge, LEFT, y, 11.5, p.quiet, "start"))
        limit = _limit(found)
        if limit is not None and larger:
            x = columns.bar[0] + limit * self._pixels() * larger
            words = f"limit {number_text(limit, 2)} mm"
            x = min(max(x, columns.bar[0] + 38), columns.bar[1] - 30)
            out.add(Label(words, x, y, 12, p.brick_text, weight=600))
        for _, words, end in columns.others:
            out.add(Label(words, end, y, 11.5, p.quiet, "end"))

    def _row(
        self,
        out: Picture,
        meaning: Meaning,
        number: int,
        columns: _Columns,
        larger: float,
        best: bool,
    ) -> None:
        p = self.palette_
        high = self._row_height()
        y0 = TOP + number * high
        y = y0 + high / 2
        used = meaning.board.key == self.choice.used()
        end = self._wide() - RIGHT + 8
        box = np.array([[LEFT - 8, y0], [end, y0], [end, y0 + high], [LEFT - 8, y0 + high]])
        if used:
            out.add(Path((box,), fill=p.jade_wash, stroke=Stroke(p.jade, 1.5)))
        else:
            rule = np.array([[LEFT - 8, y0 + high], [end, y0 + high]])
            out.add(Path((rule,), closed=False, stroke=Stroke(p.line, 0.8)))
        colour = p.jade if meaning.holds else p.amber
        notch = np.array(
            [[LEFT - 8, y - 9], [LEFT - 3, y - 9], [LEFT - 3, y + 9], [LEFT - 8, y + 9]]
        )
        out.add(Path((notch,), fill=colour))
        self._slab(out, meaning, y)
        self._name(out, meaning, y, used, best)
        if larger:
            self._bar(out, meaning, y, columns, larger)
        for key, _, right in columns.others:
            words, tone = self._cell(meaning, key)
            out.add(Label(words, right, y, 12.5, tone, "end"))

    def _slab(self, out: Picture, meaning: Meaning, y: float) -> None:
        """The board's edge, enlarged."""
        p = self.palette_
        half = max(meaning.board.thickness * self._pixels() * EDGE_LARGER / 2, 0.5)
        half = min(half, self._row_height() / 2 - 3)
        x0, x1 = LEFT + 4, LEFT + 38
        slab = np.array([[x0, y - half], [x1, y - half], [x1, y + half], [x0, y + half]])
        out.add(Path((slab,), fill=mix(p.sand, p.sheet, 0.45), stroke=Stroke(p.ink, 0.8)))

    def _name(self, out: Picture, meaning: Meaning, y: float, used: bool, best: bool) -> None:
        p = self.palette_
        board = meaning.board
        x = LEFT + 48
        title = board.title if len(board.title) <= 20 else f"{board.title[:19]}…"
        out.add(Label(title, x, y - 8, 13, p.jade_text if used else p.ink, "start", 600))
        about = "~" if board.thickness_from == "grammage" else ""
        weight = weight_words(board, self.system).partition(" · ")[0]
        thick = in_system(f"{number_text(board.thickness, 2)} mm", self.system)
        second = f"{weight} · {about}{thick}"
        tone = p.quiet
        if best:
            second, tone = f"{weight} · lightest", p.jade_text
        out.add(Label(second, x, y + 9, 11.5, tone, "start", 600 if best else 400))

    def _bar(
        self, out: Picture, meaning: Meaning, y: float, columns: _Columns, larger: float
    ) -> None:
        p = self.palette_
        figure = meaning.figure("floor")
        x0, x1 = columns.bar
        if figure is None:
            words = "cannot be made of it" if meaning.refused else ""
            out.add(Label(words, x0, y, 12, p.quiet, "start"))
            return
        fails = figure.verdict == "fails"
        long = figure.value.value * self._pixels() * larger
        room = x1 - x0 - 40
        shown = min(long, room)
        bar = np.array([[x0, y - 6], [x0 + shown, y - 6], [x0 + shown, y + 6], [x0, y + 6]])
        fill = mix(p.amber if fails else p.jade, p.sheet, 0.45)
        tone = p.amber_text if fails else p.jade_text
        out.add(Path((bar,), fill=fill, stroke=Stroke(tone, 0.8)))
        more = "+" if long > room else ""
        words = f"{number_text(figure.value.value, 2)}{more}"
        x = x0 + shown + 5
        line = x0 + figure.limit.value * self._pixels() * larger if figure.limit else 0.0
        if x - 4 < line < x + LABEL:  # clear of the limit
            x = line + 5
        out.add(Label(words, x, y, 12.5, tone, "start", 600))

    def _cell(self, meaning: Meaning, key: str) -> tuple[str, str]:
        """Words and colour of one cell."""
        p = self.palette_
        board = meaning.board
        if key == "score":
            bad = next(
                (f for f in meaning.figures if f.verdict == "fails" and f.key != "floor"), None
            )
            if bad is not None:
                return SHORT.get(bad.key, "fails"), p.amber_text
            return SCORES[board.score], p.quiet
        if key == "passes":
            own = meaning.figure(key)
            return (f"{own.value.value:g}" if own else ""), p.quiet
        if key == "sheets":
            return _laid_words(self.choice.laid.get(board.key), self.choice.busy), p.quiet
        figure = meaning.figure(key)
        if figure is None:
            return "", p.quiet
        if key == "weight":
            return f"{number_text(figure.value.value, 0)} g", p.quiet
        return in_system(format_length(figure.value.value, places=0), self.system), p.quiet


def _limit(found: Comparison) -> float | None:
    """The floor's limit in mm; the same for every board."""
    for meaning in found.meanings:
        figure = meaning.figure("floor")
        if figure is not None and figure.limit is not None:
            return figure.limit.value
    return None


def _laid_words(laid: Laid | None, busy: bool) -> str:
    if laid is None:
        return "…" if busy else ""
    if laid.unplaced:
        return "too large"
    cost = "" if laid.cost is None else f" · {laid.cost:.2f}"
    return f"{laid.sheets}{cost}"


def _words(meaning: Meaning) -> str:
    lines = [f"{meaning.board.title}: {meaning.failing or 'it holds'}."]
    lines += [f"{f.title}: {f.words}." for f in meaning.figures if f.verdict != "fails"]
    if meaning.board.note:
        lines.append(meaning.board.note)
    return "\n".join(lines)
