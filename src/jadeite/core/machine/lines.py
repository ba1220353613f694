"""The lines that program and cutter exchange: words parted by spaces, one line at a time.

To the cutter: ``SHEET n width height words``, ``LOADED``, ``TOOL words``, ``FITTED``,
``SET force speed``, ``STROKE number passes from x,y x,y …``, ``STOP``, ``FIND``, ``LOOK``,
``END``, ``UNLOADED``.  ``force`` is 0 where none is told, ``from`` mm of all passes that are
done already.

From the cutter: ``HELLO``, ``READY``, ``LOAD n``, ``FIT words``, ``AT number mm``,
``DONE number``, ``STOPPED number mm``, ``FOUND x y degrees``, ``SEEN …``, ``UNLOAD n``,
``FAULT jam number mm``, ``FAULT words``.
"""

from __future__ import annotations

import numpy as np

from jadeite.core.nets.model import Floats

__all__ = ["Stroke", "points_from", "stroke_line"]


class Stroke:
    """A stroke as a machine is told it.

    ``points`` are (n, 2) mm from the sheet's lower left; ``begin`` mm of all passes are done.
    """

    def __init__(self, number: int, points: Floats, passes: int, begin: float = 0.0) -> None:
        self.number, self.points, self.passes, self.begin = number, points, passes, begin

    @property
    def length(self) -> float:
        """Of one pass, mm."""
        return float(np.linalg.norm(np.diff(self.points, axis=0), axis=1).sum())


def stroke_line(stroke: Stroke) -> str:
    """A stroke as a line."""
    points = " ".join(f"{x:.4f},{y:.4f}" for x, y in stroke.points)
    return f"STROKE {stroke.number} {stroke.passes} {stroke.begin:.3f} {points}"


def points_from(words: list[str]) -> Stroke:
    """A stroke from the words of its line after the first.

    Raises
    ------
    ValueError
        They are none.
    """
    number, passes, begin = int(words[0]), int(words[1]), float(words[2])
    points = np.array([[float(v) for v in pair.split(",")] for pair in words[3:]])
    if points.ndim != 2 or points.shape[1] != 2 or len(points) < 2 or passes < 1:
        raise ValueError("a stroke has two points at least, each x,y, and a pass")
    return Stroke(number, points, passes, begin)
