"""How the table is looked at: parallel projection, so that lengths stay true."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from jadeite.core.nets.model import Floats

__all__ = ["FROM_ABOVE", "Camera", "fitted", "round_scale"]

FROM_ABOVE = 90.0  # degrees of pitch
SCALES = (10, 5, 4, 3, 2, 1.5, 1, 1 / 1.5, 0.5, 0.4, 1 / 3, 0.25, 0.2, 0.1, 0.05, 0.02, 0.01)


@dataclass(frozen=True)
class Camera:
    """A view of the table.

    ``yaw`` turns about the upright; ``pitch`` is 90 from above and 0 from the
    side, in degrees; ``scale`` is picture units per mm; the point (cx, cy, cz)
    of the table lies at (x, y) of the picture.
    """

    yaw: float = 28.0
    pitch: float = 34.0
    scale: float = 3.0
    centre: tuple[float, float, float] = (0.0, 0.0, 0.0)
    x: float = 0.0
    y: float = 0.0

    @cached_property
    def towards(self) -> Floats:
        """Unit vector towards the viewer."""
        a, p = math.radians(self.yaw), math.radians(self.pitch)
        return np.array([math.sin(a) * math.cos(p), -math.cos(a) * math.cos(p), math.sin(p)])

    @cached_property
    def axes(self) -> Floats:
        """(2, 3): the picture's x and y (down) in space."""
        a, p = math.radians(self.yaw), math.radians(self.pitch)
        return np.array(
            [
                [math.cos(a), math.sin(a), 0.0],
                [math.sin(a) * math.sin(p), -math.cos(a) * math.sin(p), -math.cos(p)],
            ]
        )

    def project(self, points: Floats) -> Floats:
        """Points (n, 3) in mm to (n, 2) in the picture."""
        return np.asarray(points @ self._matrix + self._offset)

    def shift(self, way: Floats) -> Floats:
        """How far a step of (3,) mm is in the picture, (2,)."""
        return np.asarray(way @ self._matrix)

    @cached_property
    def _matrix(self) -> Floats:
        return np.ascontiguousarray(self.axes.T * self.scale)

    @cached_property
    def _offset(self) -> Floats:
        return np.array([self.x, self.y]) - np.array(self.centre) @ self._matrix


def round_scale(most: float, units_per_mm: float) -> tuple[float, str]:
    """The largest round scale that is no larger than ``most`` picture units per mm.

    Parameters
    ----------
    units_per_mm : float
        Of the picture at true size (pixels per mm of the screen).

    Returns
    -------
    scale, words
        Picture units per mm, and ``1 : 2`` or ``2 : 1``.
    """
    for ratio in SCALES:
        if ratio * units_per_mm <= most:
            words = f"{ratio:g} : 1" if ratio >= 1 else f"1 : {1 / ratio:g}"
            return ratio * units_per_mm, words
    return most, "small"


def fitted(
    points: Floats, camera: Camera, width: float, height: float, margins: tuple[float, ...]
) -> Camera:
    """The camera moved and scaled so that all points (n, 3) are in the picture.

    ``margins`` are left, top, right and bottom, in picture units.
    """
    flat = points @ camera.axes.T
    span = np.maximum(np.ptp(flat, axis=0), 1.0)
    left, top, right, bottom = margins
    room = (max(width - left - right, 1.0), max(height - top - bottom, 1.0))
    scale = float(min(room[0] / span[0], room[1] / span[1]))
    middle = (flat.min(axis=0) + flat.max(axis=0)) / 2
    x = left + room[0] / 2 - float(middle[0]) * scale
    y = top + room[1] / 2 - float(middle[1]) * scale
    return replace(camera, scale=scale, centre=(0.0, 0.0, 0.0), x=x, y=y)
