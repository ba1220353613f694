"""How a carriage moves along a line: it gathers speed, keeps it, and slows down for corners."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from jadeite.core.nets.model import Floats

__all__ = ["Ride"]

FINE = 8  # steps in which gathering speed and slowing down are followed; from memory
TURN = 30.0  # degrees; from memory, at a sharper corner the carriage stops


class Ride:
    """The motion along a line from a stand to a stop: where the carriage is at any time.

    Parameters
    ----------
    points : (n, 2) float
        mm.
    speed : float
        mm/s that it does not exceed.
    acceleration : float
        mm/s², gathering speed and slowing down.
    """

    def __init__(self, points: Floats, speed: float, acceleration: float) -> None:
        at, limit = _sampled(points, speed, acceleration)
        gap = np.diff(at)
        fast = limit**2
        for i in range(1, len(fast)):  # gathering speed
            fast[i] = min(fast[i], fast[i - 1] + 2 * acceleration * gap[i - 1])
        for i in range(len(fast) - 2, -1, -1):  # in time to slow down
            fast[i] = min(fast[i], fast[i + 1] + 2 * acceleration * gap[i])
        pace = np.sqrt(fast)
        takes = 2 * gap / np.maximum(pace[1:] + pace[:-1], 1e-9)
        self._at = at
        self._time = np.concatenate([[0.0], np.cumsum(takes)])

    @property
    def seconds(self) -> float:
        """From the stand to the stop."""
        return float(self._time[-1])

    @property
    def length(self) -> float:
        """Of the line, mm."""
        return float(self._at[-1])

    def reached(self, seconds: float) -> float:
        """How far it has come after a time, mm."""
        return float(np.interp(seconds, self._time, self._at))


def _sampled(
    points: Floats, speed: float, acceleration: float
) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Distances along a line, mm, and how fast it may be passed there: not at all at corners."""
    way = np.diff(points, axis=0)
    lengths = np.linalg.norm(way, axis=1)
    way, lengths = way[lengths > 0], lengths[lengths > 0]
    if not len(lengths):
        return np.zeros(1), np.zeros(1)
    ends = np.concatenate([[0.0], np.cumsum(lengths)])
    unit = way / lengths[:, None]
    straight = (unit[1:] * unit[:-1]).sum(axis=1) >= np.cos(np.radians(TURN))
    brake = speed**2 / (2 * acceleration)
    fine = np.linspace(0.0, 1.0, FINE + 1)
    at, limit = [np.zeros(1)], [np.zeros(1)]
    for i, length in enumerate(lengths):
        reach = min(brake, length / 2)
        own = np.unique(np.concatenate([fine * reach, length - fine * reach]))[1:]
        pace = np.full(len(own), speed)
        if i + 1 == len(lengths) or not straight[i]:
            pace[-1] = 0.0
        at.append(ends[i] + own)
        limit.append(pace)
    return np.concatenate(at), np.concatenate(limit)
