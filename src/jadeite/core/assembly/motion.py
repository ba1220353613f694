"""Ways from one place to another: easing in and out, turning, lifting over."""

from __future__ import annotations

import math

import numpy as np

from jadeite.core.nets.model import Floats

__all__ = ["about_x", "brought", "ramp", "straight_between", "turned_between"]


def straight_between(start: Floats, end: Floats, share: float) -> Floats:
    """A matrix on the straight way from one place to another.

    ``start`` and ``end`` are (4, 4) float.
    """
    out = np.eye(4)
    out[:3, :3] = turned_between(end[:3, :3] @ start[:3, :3].T, share) @ start[:3, :3]
    out[:3, 3] = start[:3, 3] + (end[:3, 3] - start[:3, 3]) * share
    return out


def brought(start: Floats, end: Floats, share: float, reach: float) -> Floats:
    """A matrix on the way from one place to another: up, turned, across, and straight down.

    ``start`` and ``end`` are (4, 4) float; ``reach`` in mm.
    """
    out = np.eye(4)
    turn = turned_between(end[:3, :3] @ start[:3, :3].T, ramp(share, 0.1, 0.6))
    out[:3, :3] = turn @ start[:3, :3]
    out[:3, 3] = start[:3, 3] + (end[:3, 3] - start[:3, 3]) * ramp(share, 0.25, 0.75)
    top = max(float(start[2, 3]), float(end[2, 3])) + reach
    if share < 0.75:
        out[2, 3] = start[2, 3] + (top - start[2, 3]) * ramp(share, 0.0, 0.4)
    else:
        out[2, 3] = top + (end[2, 3] - top) * ramp(share, 0.75, 1.0)
    return out


def ramp(x: float, low: float, high: float) -> float:
    """0 up to ``low``, 1 from ``high`` on, easing in and out between."""
    s = min(1.0, max(0.0, (x - low) / (high - low)))
    return s * s * (3 - 2 * s)


def turned_between(end: Floats, share: float) -> Floats:
    """A share of the turn from lying flat to ``end``, about its one axis (Rodrigues).

    ``end`` is a turn, (3, 3) float.
    """
    angle = math.acos(min(1.0, max(-1.0, (float(np.trace(end)) - 1) / 2)))
    if angle < 1e-9 or share >= 1:
        return end if share > 0 else np.eye(3)
    skew = (end - end.T) / (2 * math.sin(angle)) if angle < math.pi - 1e-6 else np.zeros((3, 3))
    part = angle * share
    return np.asarray(np.eye(3) + math.sin(part) * skew + (1 - math.cos(part)) * skew @ skew)


def about_x(degrees: float, at: tuple[float, float, float]) -> Floats:
    """4 x 4 turn about the x axis, and the place it ends at."""
    c, s = math.cos(math.radians(degrees)), math.sin(math.radians(degrees))
    return np.array([[1, 0, 0, at[0]], [0, c, -s, at[1]], [0, s, c, at[2]], [0, 0, 0, 1.0]])
