"""Small plain ornaments: outlines without holes or stems, which are cut small."""

from __future__ import annotations

import math

import numpy as np

from jadeite.core.nets.model import Floats

__all__ = ["ORNAMENTS", "ornament"]

NONE = "none"
# of our own
ORNAMENTS = (
    (NONE, "none"),
    ("star", "star"),
    ("moon", "moon"),
    ("leaf", "leaf"),
    ("round", "disc"),
)
WAIST = 0.48  # of a star's radius, its inner corners; from memory
PHASE = 0.45  # of a moon's radius, by how much it is bitten; from memory
SLIM = 0.56  # of a leaf's length, its width; from memory
FINE = 48  # setting: corners of a round


def ornament(key: str, size: float) -> Floats:
    """The outline of an ornament about (0, 0), its longer side ``size`` mm; (n, 2), ccw.

    Raises
    ------
    KeyError
        There is none of this key.
    """
    ring = {"star": _star, "moon": _moon, "leaf": _leaf, "round": _round}[key]()
    low, high = ring.min(axis=0), ring.max(axis=0)
    return np.asarray((ring - (low + high) / 2) * size / float((high - low).max()))


def _round() -> Floats:
    turn = np.linspace(0, 2 * math.pi, FINE, endpoint=False)
    return np.column_stack([np.cos(turn), np.sin(turn)])


def _star() -> Floats:
    turn = math.pi / 2 + np.arange(10) * math.pi / 5
    far = np.where(np.arange(10) % 2 == 0, 1.0, WAIST)
    return np.column_stack([far * np.cos(turn), far * np.sin(turn)])


def _moon() -> Floats:
    """Two arcs between the same horns."""
    horn = math.radians(60)
    outer = np.linspace(horn, 2 * math.pi - horn, FINE)
    left = np.column_stack([np.cos(outer), np.sin(outer)])
    x, y = math.cos(horn), math.sin(horn)
    deep = x - (-1 + PHASE * 2 * 0.9)  # from the horns' chord to the deepest of the bite
    radius = (deep**2 + y**2) / (2 * deep)
    middle = x - deep + radius
    half = math.atan2(y, x - middle)
    inner = np.linspace(2 * math.pi - half, half, FINE)[1:-1]
    right = np.column_stack([middle + radius * np.cos(inner), radius * np.sin(inner)])
    return np.concatenate([left, right])


def _leaf() -> Floats:
    """Two arcs that meet in points, upright."""
    t = np.linspace(0, math.pi, FINE // 2)
    side = np.column_stack([SLIM * np.sin(t) ** 1.2, -np.cos(t)])
    return np.concatenate([side, -side[1:-1]])
