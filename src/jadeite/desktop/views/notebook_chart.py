"""Trials: intended against measured, and lid clearance against verdict."""

from __future__ import annotations

import numpy as np

from jadeite.core.pictures import Label, Path, Picture, Stroke, mix
from jadeite.core.project import Trial, trials_of
from jadeite.core.steps import Steps
from jadeite.core.units import format_length, in_system, number_text
from jadeite.desktop.session import Session
from jadeite.desktop.views.chart import Chart

__all__ = ["NotebookChart"]

ROWS = (("too-loose", "too loose"), ("right", "right"), ("too-tight", "too tight"))


class NotebookChart(Chart):
    """Clearance across, verdict upward; below, what came out against what was meant."""

    def __init__(self, session: Session) -> None:
        super().__init__("Trials: lid clearance against verdict")
        self.session = session

    def drawing(self) -> Steps[Picture]:
        """Both charts, or what to do first."""
        yield
        out = Picture()
        p = self.palette_
        trials = trials_of(self.session.project, self.session.chosen)
        out.add(Label("What was tried, and how it came out", 22, 28, 16, p.ink, "start", 600))
        if not trials:
            middle = self.width() / 2
            out.add(
                Label("Nothing tried yet.", middle, self.height() / 2 - 14, 16, p.ink, weight=600)
            )
            out.add(
                Label(
                    "Build one, measure it, and record it on the right: the clearance that",
                    middle,
                    self.height() / 2 + 12,
                    14,
                    p.quiet,
                )
            )
            out.add(
                Label(
                    "worked then stays with the project.",
                    middle,
                    self.height() / 2 + 32,
                    14,
                    p.quiet,
                )
            )
            return out
        split = self.height() * 0.54
        self._draw_clearance(out, trials, 74.0, split - 30)
        self._draw_sizes(out, trials, split + 34, self.height() - 30.0)
        return out

    def _draw_clearance(
        self, out: Picture, trials: tuple[Trial, ...], top: float, bottom: float
    ) -> None:
        p = self.palette_
        left, right = 112.0, self.width() - 40.0
        out.add(Label("Lid clearance against verdict", 22, top - 16, 13.5, p.quiet, "start", 600))
        now = self.session.work.sizes.get("lid-clearance")
        values = [t.clearance for t in trials] + ([now.value] if now else [])
        low, high = max(0.0, min(values) - 0.8), max(values) + 0.8
        step = (bottom - top - 44) / 2

        def x(value: float) -> float:
            return left + (right - left) * (value - low) / (high - low)

        rows = {key: top + 16 + i * step for i, (key, _) in enumerate(ROWS)}
        for key, words in ROWS:
            y = rows[key]
            line = np.array([[left, y], [right, y]])
            out.add(Path((line,), closed=False, stroke=Stroke(p.line, 1)))
            out.add(Label(words, left - 14, y, 13, p.ink, "end"))
        ticks = np.arange(np.ceil(low * 2) / 2, high, 0.5 if high - low < 6 else 1.0)
        for value in ticks:
            out.add(Label(f"{value:.1f}", x(float(value)), bottom - 10, 12, p.quiet))
        out.add(Label("mm in total", right, bottom + 8, 12, p.quiet, "end"))
        if now is not None:
            line = np.array([[x(now.value), top + 2], [x(now.value), bottom - 20]])
            out.add(Path((line,), closed=False, stroke=Stroke(p.river, 1.5, (5, 4))))
            out.add(
                Label(
                    f"now {number_text(now.value)} mm",
                    x(now.value) + 8,
                    top + 4,
                    12.5,
                    p.river_text,
                    "start",
                )
            )
        seen: dict[tuple[float, str], int] = {}
        for trial in trials:
            spot = (round(trial.clearance, 2), trial.verdict)
            seen[spot] = seen.get(spot, 0) + 1
            colour = p.jade if trial.verdict == "right" else p.amber
            cx = x(trial.clearance) + (seen[spot] - 1) * 13
            circle = np.array(
                [
                    [cx + 6 * np.cos(a), rows[trial.verdict] + 6 * np.sin(a)]
                    for a in np.linspace(0, 2 * np.pi, 20)
                ]
            )
            out.add(Path((circle,), fill=colour, stroke=Stroke(p.sheet, 1.5)))

    def _draw_sizes(
        self, out: Picture, trials: tuple[Trial, ...], top: float, bottom: float
    ) -> None:
        """How far each measured length is from what was meant."""
        p = self.palette_
        out.add(Label("Measured inside, less intended", 22, top - 14, 13.5, p.quiet, "start", 600))
        measured = [t for t in trials if t.measured is not None][-6:]
        if not measured:
            out.add(Label("No trial has been measured yet.", 22, top + 14, 13, p.quiet, "start"))
            return
        off = [
            [m - i for m, i in zip(t.measured or t.intended, t.intended, strict=True)]
            for t in measured
        ]
        most = max(0.5, max(abs(v) for row in off for v in row))
        left, right = 150.0, self.width() - 60.0
        middle = (left + right) / 2
        step = min(46.0, (bottom - top) / len(measured))
        zero = np.array([[middle, top], [middle, top + step * len(measured)]])
        out.add(Path((zero,), closed=False, stroke=Stroke(p.ink, 1)))
        names = ("length", "width", "height")
        for r, (trial, row) in enumerate(zip(measured, off, strict=True)):
            y = top + r * step + step / 2
            out.add(Label(trial.date, 22, y, 12.5, p.ink, "start"))
            for a, value in enumerate(row):
                yy = y + (a - 1) * step * 0.27
                end = middle + (right - left) / 2 * value / most
                bar = np.array([[middle, yy - 4], [end, yy - 4], [end, yy + 4], [middle, yy + 4]])
                if abs(value) > 1e-6:
                    out.add(Path((bar,), fill=mix(p.river, p.table, 0.2 + 0.25 * a)))
                text = f"{names[a]} {in_system(format_length(value), self.system)}"
                right_side = value >= 0
                out.add(
                    Label(
                        text,
                        end + (8 if right_side else -8),
                        yy,
                        11.5,
                        p.quiet,
                        "start" if right_side else "end",
                    )
                )
