"""Outlines to lay out: stars, nets of crosses, frames with a hole, oblongs."""

from __future__ import annotations

import math

import numpy as np
from hypothesis import strategies as st
from shapely import affinity
from shapely.geometry import Polygon, box

__all__ = ["CROSSES", "FRAMES", "OBLONGS", "OUTLINES", "STARS", "star"]


def star(corners: int, outer: float, inner: float, turn: float) -> Polygon:
    """A star with its lower left corner at the origin."""
    angles = math.radians(turn) + np.pi * np.arange(2 * corners) / corners
    reach = np.where(np.arange(2 * corners) % 2, inner, outer)
    shape = Polygon(np.column_stack([reach * np.cos(angles), reach * np.sin(angles)]))
    return affinity.translate(shape, -shape.bounds[0], -shape.bounds[1])


def _cross(wide: float, high: float, wall: float) -> Polygon:
    upright = box(wall, 0, wall + wide, 2 * wall + high)
    return upright.union(box(0, wall, 2 * wall + wide, wall + high))


def _frame(side: float, border: float) -> Polygon:
    return box(0, 0, side, side * 0.8) - box(border, border, side - border, side * 0.8 - border)


STARS = st.builds(
    star, st.integers(3, 7), st.floats(15.0, 45.0), st.floats(5.0, 15.0), st.floats(0.0, 90.0)
)
CROSSES = st.builds(_cross, st.floats(10, 60), st.floats(10, 40), st.floats(6, 25))
FRAMES = st.builds(_frame, st.floats(50, 110), st.floats(4, 12))
OBLONGS = st.builds(lambda w, h: box(0, 0, w, h), st.floats(5, 120), st.floats(5, 60))
OUTLINES = st.one_of(STARS, CROSSES, FRAMES, OBLONGS)
