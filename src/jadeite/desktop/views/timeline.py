"""The whole making as a line of hands, holding and drying."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QSize, Qt, pyqtSignal
from PyQt6.QtGui import QMouseEvent
from PyQt6.QtWidgets import QSizePolicy

from jadeite.core.pictures import Label, Path, Picture, Stroke
from jadeite.core.steps import Steps
from jadeite.core.units import format_duration
from jadeite.desktop.session import Session
from jadeite.desktop.views.chart import Chart

__all__ = ["Timeline"]

TICK = 74.0  # pixels for the words of a minute; from memory
NARROW = 460  # pixels; from memory, a narrower line gets short words only

LEFT, RIGHT = 18.0, 18.0


class Timeline(Chart):
    """Steps along the time; pressing one opens it."""

    step_chosen = pyqtSignal(int)

    def __init__(self, session: Session) -> None:
        super().__init__("Timeline of hands, holding and drying")
        self.session = session
        self.number = 0
        self.setFixedHeight(92)
        self.setMinimumSize(QSize(300, 92))
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)

    def show_step(self, number: int) -> None:
        """Mark a step."""
        self.number = number
        self.update()

    def _x(self, seconds: float) -> float:
        plan = self.session.work.assembly
        whole = plan.seconds if plan else 1.0
        return LEFT + (self.width() - LEFT - RIGHT) * seconds / max(whole, 1.0)

    def drawing(self) -> Steps[Picture]:
        """Bars of every step, with a scale of minutes."""
        yield
        out = Picture()
        p = self.palette_
        plan = self.session.work.assembly
        if plan is None:
            return out
        top, height = 34.0, 22.0

        def bar(start: float, end: float, fill: str, edge: Stroke | None = None) -> None:
            x0, x1 = self._x(start), self._x(end)
            ring = np.array([[x0, top], [x1, top], [x1, top + height], [x0, top + height]])
            out.add(Path((ring,), fill=fill, stroke=edge))

        for number, step in enumerate(plan.steps):
            if step.wait:
                bar(step.start - step.wait, step.start, p.line)
            bar(step.start, step.start + step.hands, p.jade, Stroke(p.table, 1))
            if step.hold:
                bar(step.start + step.hands, step.end, p.amber, Stroke(p.table, 1))
            if number == self.number:
                x0, x1 = self._x(step.start), self._x(step.end)
                ring = np.array(
                    [
                        [x0 - 2, top - 4],
                        [x1 + 2, top - 4],
                        [x1 + 2, top + height + 4],
                        [x0 - 2, top + height + 4],
                    ]
                )
                out.add(Path((ring,), stroke=Stroke(p.ink, 2)))
        minutes = max(1, round(plan.seconds / 60 / min(8.0, self.width() / TICK)))
        for minute in range(0, int(plan.seconds // 60) + 1, minutes):
            x = self._x(minute * 60)
            tick = np.array([[x, top + height + 4], [x, top + height + 9]])
            out.add(Path((tick,), closed=False, stroke=Stroke(p.quiet, 1)))
            text = f"{minute} min" if minute else "start"
            anchor = "start" if minute == 0 else "middle"
            if x > self.width() - TICK / 2:  # the last stands within the line
                anchor = "end"
            out.add(Label(text, x, top + height + 20, 11.5, p.quiet, anchor))
        x = LEFT
        for words, colour in (("hands", p.jade), ("holding", p.amber), ("waiting", p.line)):
            ring = np.array([[x, 11], [x + 12, 11], [x + 12, 21], [x, 21]])
            out.add(Path((ring,), fill=colour))
            out.add(Label(words, x + 18, 16, 12, p.ink, "start"))
            x += 30 + len(words) * 7
        dry = format_duration(plan.dry_at)
        whole = f"{format_duration(plan.seconds)} in all"
        words = f"{whole}, fully dry after {dry}" if self.width() > NARROW else whole
        out.add(Label(words, self.width() - RIGHT, 16, 12, p.ink, "end"))
        return out

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        plan = self.session.work.assembly
        if event is None or plan is None or event.button() != Qt.MouseButton.LeftButton:
            return
        for number, step in enumerate(plan.steps):
            if self._x(step.start - step.wait) <= event.position().x() <= self._x(step.end):
                self.step_chosen.emit(number)
                return
