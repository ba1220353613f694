"""The test cut: small squares with a triangle in them, at rising force and passes."""

from __future__ import annotations

import numpy as np

from jadeite.core.cutting.plan import CutPath
from jadeite.core.cutting.profiles import CutterProfile
from jadeite.core.cutting.settings import Setting
from jadeite.core.lettering.spacing import line_of
from jadeite.core.nets.model import Floats

__all__ = ["forces_of", "passes_of", "trial_paths", "trial_size"]

SIDE, SIDE_WITHIN = 10.0, 5.0  # mm, of a square and its triangle; common practice
PITCH = 15.0  # mm from square to square; from memory
EDGE = 12.0  # mm for the numbers at the left and above; from memory
CAPITAL = 3.0  # mm, height of the numbers; from memory
COLUMNS = 5  # from memory, so many forces are tried
STEP = 0.08  # of all steps of force, from one square to the next; from memory
MOST = 4  # passes are tried, or two more than are usual; from memory


def forces_of(setting: Setting, profile: CutterProfile) -> tuple[int | None, ...]:
    """Steps of force that are tried, rising, with the present one in the middle.

    Of a cutter that is told no force there is one: whatever it is set to.
    """
    steps = profile.force_steps
    if not steps or setting.force is None:
        return (None,)
    by = max(1, round(STEP * steps))
    first = setting.force - by * (COLUMNS // 2)
    first = min(max(1, first), max(1, steps - by * (COLUMNS - 1)))
    return tuple(f for f in range(first, first + by * COLUMNS, by) if f <= steps)


def passes_of(setting: Setting) -> tuple[int, ...]:
    """Passes that are tried, rising."""
    return tuple(range(1, max(MOST, setting.passes + 2) + 1))


def trial_size(setting: Setting, profile: CutterProfile) -> tuple[float, float]:
    """Width and height of the test cut, mm."""
    columns, rows = len(forces_of(setting, profile)), len(passes_of(setting))
    return EDGE + PITCH * columns, EDGE + PITCH * rows


def trial_paths(setting: Setting, profile: CutterProfile) -> tuple[CutPath, ...]:
    """The strokes, in mm from the lower left: numbers by the pen, triangles, squares.

    Forces stand above their columns, passes before their rows.  A stroke is named after its
    square (``force 12, 2 passes``) and has that many passes.
    """
    forces, passes = forces_of(setting, profile), passes_of(setting)
    _, height = trial_size(setting, profile)
    pen: list[CutPath] = []
    inner: list[CutPath] = []
    outer: list[CutPath] = []
    written = "pen" in profile.tools
    for row, times in enumerate(passes):
        y = height - EDGE - PITCH * (row + 1) + (PITCH - SIDE) / 2
        if written:
            pen += _number(f"{times}x", 2.0, y + (SIDE - CAPITAL) / 2)
        for column, force in enumerate(forces):
            x = EDGE + PITCH * column + (PITCH - SIDE) / 2
            if row == 0 and written and force is not None:
                pen += _number(str(force), x + 2.0, height - EDGE + 3.0)
            name = f"{times} passes" if force is None else f"force {force}, {times} passes"
            inner.append(CutPath("inner", name, 0, _triangle(x, y), times))
            outer.append(CutPath("outline", name, 0, _square(x, y), times))
    return (*pen, *inner, *outer)


def _square(x: float, y: float) -> Floats:
    corners = np.array([[0, 0], [1, 0], [1, 1], [0, 1], [0, 0]], dtype=float)
    return corners * SIDE + (x, y)


def _triangle(x: float, y: float) -> Floats:
    high = SIDE_WITHIN * np.sqrt(3) / 2
    corners = np.array([[0, 0], [SIDE_WITHIN, 0], [SIDE_WITHIN / 2, high], [0, 0]])
    low = np.array([x + (SIDE - SIDE_WITHIN) / 2, y + (SIDE - high) / 2])
    return np.asarray(corners + low)


def _number(words: str, x: float, y: float) -> list[CutPath]:
    """Words with the lower left of their ink there."""
    line = line_of(words)
    left, low, *_ = line.box
    at = np.array([x, y])
    return [
        CutPath("pen", "number", 0, (stroke - (left, low)) * CAPITAL + at, 1)
        for stroke in line.strokes
    ]
