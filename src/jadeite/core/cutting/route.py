"""The order of strokes in which the tool travels little between them.

Nearest first, then two kinds of change until neither helps: a run of strokes is made
the other way round, or a few strokes move to a better place.  Only places near an end
of a stroke are tried.
"""

from __future__ import annotations

from collections import deque
from collections.abc import Iterator
from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy.spatial import cKDTree  # type: ignore[import-untyped]

__all__ = ["route", "travel"]

NEAR = 9  # ends; from memory, more gain little
RUN = 3  # strokes that move together at most; from memory
LEAST = 1e-6  # mm; rounding, a smaller gain is none
MOST_TRIES = 30  # times the number of strokes; from memory, a bound that is not reached

Ends = NDArray[np.float64]


def travel(ends: Ends, order: list[int], turned: list[bool], start: tuple[float, float]) -> float:
    """Length in mm between strokes: ``ends`` (n, 2, 2) are the first and last point of each."""
    there = ends[order]
    flip = np.array(turned, dtype=bool)
    there[flip] = there[flip][:, ::-1]
    before = np.vstack([[start], there[:-1, 1]]) if len(order) else np.zeros((0, 2))
    return float(np.linalg.norm(there[:, 0] - before, axis=1).sum())


def route(ends: Ends, start: tuple[float, float]) -> tuple[list[int], list[bool]]:
    """An order of strokes, and which are made from their last point to their first.

    Parameters
    ----------
    ends : (n, 2, 2) float
        First and last point of each stroke, mm; a closed one has one point twice.
    start : (x, y)
        Where the tool is before, mm.
    """
    if not len(ends):
        return [], []
    tour = _Tour(ends, start)
    tour.improve()
    return tour.strokes, tour.turned


def _nearest(ends: Ends, start: tuple[float, float]) -> Iterator[tuple[int, bool]]:
    """Strokes, each from its end that is nearest to where the last one ended."""
    x, y = ends[:, :, 0].copy(), ends[:, :, 1].copy()
    here = start
    for _ in range(len(ends)):
        apart = (x - here[0]) ** 2 + (y - here[1]) ** 2
        stroke, end = divmod(int(apart.argmin()), 2)
        x[stroke] = np.inf  # made; never nearest again
        yield stroke, end == 1
        here = (float(ends[stroke, 1 - end, 0]), float(ends[stroke, 1 - end, 1]))


class _Tour:
    """Strokes in their order: where each is entered and left, as complex numbers."""

    def __init__(self, ends: Ends, start: tuple[float, float]) -> None:
        pairs = list(_nearest(ends, start))
        self.strokes = [stroke for stroke, _ in pairs]
        self.turned = [turned for _, turned in pairs]
        points = (ends[..., 0] + 1j * ends[..., 1]).tolist()
        self._start = complex(*start)
        self._in = [points[s][t] for s, t in pairs]
        self._out = [points[s][1 - t] for s, t in pairs]
        self._at = [0] * len(pairs)
        for i, stroke in enumerate(self.strokes):
            self._at[stroke] = i
        flat = ends.reshape(-1, 2)
        count = min(len(flat), NEAR + 1)
        _, near = cKDTree(flat).query(flat, k=count)
        self._near = [[j // 2 for j in row] for row in np.atleast_2d(near).tolist()]

    def improve(self) -> None:
        """Make every change that helps."""
        waiting = deque(self.strokes)
        queued = [True] * len(self.strokes)
        tries = MOST_TRIES * len(self.strokes)
        while waiting and tries > 0:
            tries -= 1
            stroke = waiting.popleft()
            queued[stroke] = False
            for changed in iter(lambda s=stroke: self._changed(s), None):  # type: ignore[misc]
                for other in changed:
                    if not queued[other]:
                        queued[other] = True
                        waiting.append(other)

    def _neighbours(self, stroke: int, turned: bool) -> list[int]:
        """Strokes with an end near one end of a stroke: its first, or its last if ``turned``."""
        return self._near[2 * stroke + turned]

    def _before(self, i: int) -> complex:
        return self._out[i - 1] if i else self._start

    def _gap(self, i: int) -> float:
        """The way to the stroke at a place; after the last there is none."""
        return abs(self._before(i) - self._in[i]) if i < len(self._in) else 0.0

    def _link(self, a: complex, i: int) -> float:
        """From a point to the stroke at a place."""
        return abs(a - self._in[i]) if i < len(self._in) else 0.0

    def _changed(self, stroke: int) -> list[int] | None:
        """Make one change round a stroke that helps; the strokes that it touches, None for none."""
        return self._reversed(stroke) or self._moved(stroke) or None

    def _reversed(self, stroke: int) -> list[int]:
        i = self._at[stroke]
        # the stroke before would go on to the end of a later one
        if i:
            last, now = self._out[i - 1], self._gap(i)
            previous = self.strokes[i - 1]
            for other in self._neighbours(previous, not self.turned[i - 1]):
                j = self._at[other]
                if j >= i:
                    new = abs(last - self._out[j]) + self._link(self._in[i], j + 1)
                    if now + self._gap(j + 1) - new > LEAST:
                        return self._turn(i, j)
        # the stroke would be followed to its first point by one that comes before
        here, now = self._in[i], self._gap(i)
        for other in self._neighbours(stroke, self.turned[i]):
            k = self._at[other]
            if k < i:
                new = abs(here - self._in[k]) + abs(self._before(k) - self._out[i - 1])
                if now + self._gap(k) - new > LEAST:
                    return self._turn(k, i - 1)
        # or the last ones are made the other way round
        new = abs(self._before(i) - self._out[-1])
        if self._gap(i) - new > LEAST:
            return self._turn(i, len(self.strokes) - 1)
        return []

    def _moved(self, stroke: int) -> list[int]:
        i, many = self._at[stroke], len(self.strokes)
        for run in range(1, RUN + 1):
            for first in {i, i - run + 1}:
                last = first + run - 1
                if first < 0 or last >= many:
                    continue
                after = last + 1
                saved = self._gap(first) + self._gap(after) - self._link(self._before(first), after)
                if saved > LEAST:
                    found = self._place(first, last, saved)
                    if found is not None:
                        return self._move(first, last, *found)
        return []

    def _place(self, first: int, last: int, saved: float) -> tuple[int, bool] | None:
        """A place before which a run costs less than is saved, and whether it is turned there."""
        ends = (
            (self._in[first], self.strokes[first], self.turned[first]),
            (self._out[last], self.strokes[last], not self.turned[last]),
        )
        best, found = saved - LEAST, None
        for _, stroke, turned in ends:
            for other in self._neighbours(stroke, turned):
                k = self._at[other]
                if first <= k <= last:
                    continue
                for place in (k, k + 1):
                    if first <= place <= last + 1:
                        continue
                    before, gap = self._before(place), self._gap(place)
                    for flip in (False, True):
                        a, b = (ends[1][0], ends[0][0]) if flip else (ends[0][0], ends[1][0])
                        cost = abs(before - a) + self._link(b, place) - gap
                        if cost < best:
                            best, found = cost, (place, flip)
        return found

    def _turn(self, first: int, last: int) -> list[int]:
        """Make a run of strokes the other way round."""
        part = slice(first, last + 1)
        self.strokes[part] = self.strokes[part][::-1]
        self.turned[part] = [not turned for turned in self.turned[part][::-1]]
        self._in[part], self._out[part] = self._out[part][::-1], self._in[part][::-1]
        for i in range(first, last + 1):
            self._at[self.strokes[i]] = i
        return self._round(first, last)

    def _move(self, first: int, last: int, place: int, flip: bool) -> list[int]:
        """Put a run of strokes before another place."""
        run = last - first + 1
        if flip:
            self._turn(first, last)
        at = place if place < first else place - run
        rows: tuple[list[Any], ...] = (self.strokes, self.turned, self._in, self._out)
        for row in rows:
            part = row[first : last + 1]
            del row[first : last + 1]
            row[at:at] = part
        low, high = min(first, place), max(last + 1, place)
        for i in range(low, min(high, len(self.strokes))):
            self._at[self.strokes[i]] = i
        return [*self._round(low, low + run - 1), *self._round(high - run, high - 1)]

    def _round(self, first: int, last: int) -> list[int]:
        """Strokes at and beside the ends of a run."""
        places = {first - 1, first, last, last + 1}
        return [self.strokes[i] for i in places if 0 <= i < len(self.strokes)]
