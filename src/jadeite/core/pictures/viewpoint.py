"""From where the table is looked at while the lift moves.

Flat, the net is seen exactly from above at a round scale.  As it lifts, the
view sinks to the usual side, and the scale follows what is shown, smoothly,
because it is fitted at every stop of the lift and blended between them.  The
maker's own turning, zooming and shifting come on top.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

import numpy as np

from jadeite.core.assembly.lift import Lift
from jadeite.core.nets.arrivals import When
from jadeite.core.nets.model import Floats
from jadeite.core.pictures.camera import FROM_ABOVE, Camera, fitted, round_scale

__all__ = ["FLAT", "USUAL", "ViewPoint"]

FLAT = 5e-4  # from memory, lift below which the nets lie flat
USUAL = (28.0, 36.0)  # yaw and pitch in degrees; from memory, shows three sides well
LOWEST, HIGHEST = 4.0, FROM_ABOVE  # degrees of pitch
LEAST, MOST = 0.2, 40.0  # of zoom; from memory
ON_THE_WAY = (0.2, 0.4, 0.55, 0.7, 0.85)  # of a stage in which pieces travel far; from memory
TRAVEL = {When.FOLDED, When.LAST}


def _eased(share: float) -> float:
    share = min(1.0, max(0.0, share))
    return share * share * (3 - 2 * share)


class ViewPoint:
    """The view of one table.

    ``margins`` are left, top, right and bottom, in picture units.
    """

    def __init__(self, margins: tuple[float, float, float, float]) -> None:
        self.margins = margins
        self.by_hand = False  # the maker has turned the view while the net lay flat
        self.scale_words = ""
        self._yaw, self._pitch = USUAL
        self._turned = False  # the maker has turned the view at all
        self._zoom, self._pan = 1.0, np.zeros(2)
        self._fits: dict[float, Camera] = {}

    @property
    def moved(self) -> bool:
        """Whether the maker has turned, zoomed or shifted the flat view."""
        return self.by_hand or self._zoom != 1.0

    def forget_fits(self) -> None:
        """What is shown, or its size, has changed."""
        self._fits = {}

    def reset(self) -> None:
        """Everything in view again, from the usual side."""
        self._yaw, self._pitch = USUAL
        self.by_hand = self._turned = False
        self._zoom, self._pan = 1.0, np.zeros(2)
        self._fits = {}

    def turn(self, yaw: float, pitch: float, lift: Lift | None, value: float) -> None:
        """Turn by degrees, from the direction that is seen now."""
        if lift is not None and value < self._lifted_at(lift):
            seen = self.direction(lift, value)
            self._yaw, self._pitch, self.by_hand = seen.yaw, seen.pitch, True
        self._turned = True
        self._yaw += yaw
        self._pitch = min(HIGHEST, max(LOWEST, self._pitch + pitch))
        self._fits = {}

    def look(self, camera: Camera | None) -> None:
        """Look from a camera's side, or the usual one, unless the maker has turned the view."""
        if not self._turned:
            self._yaw, self._pitch = (camera.yaw, camera.pitch) if camera else USUAL
            self._fits = {}

    def zoom(self, factor: float, x: float, y: float) -> None:
        """Zoom so that what lies at (x, y) of the picture stays there."""
        new = min(MOST, max(LEAST, self._zoom * factor))
        at = np.array([x, y])
        self._pan = at + (self._pan - at) * (new / self._zoom)
        self._zoom = new

    def shift(self, dx: float, dy: float) -> None:
        """Move the picture."""
        self._pan = self._pan + np.array([dx, dy])

    @staticmethod
    def _lifted_at(lift: Lift) -> float:
        """Lift from which the usual side view is reached."""
        return lift.turned if lift.turned > 0 else lift.stops[1][0] * 0.6

    def direction(self, lift: Lift, value: float) -> Camera:
        """Yaw and pitch at a lift: from above while flat."""
        if self.by_hand:
            return Camera(self._yaw, self._pitch)
        share = _eased(value / self._lifted_at(lift))
        return Camera(self._yaw * share, FROM_ABOVE + (self._pitch - FROM_ABOVE) * share)

    @staticmethod
    def stops(lift: Lift, value: float) -> tuple[float, ...]:
        """The one or two lifts at which the view is fitted to what is shown at another."""
        stops = [stop for stop, _ in lift.stops]
        travels = [s for s in lift.stages if s.when in TRAVEL or s is lift.stages[-1]]
        stops += [s.start + (s.end - s.start) * share for s in travels for share in ON_THE_WAY]
        stops = sorted(set(stops))
        i = min(max(int(np.searchsorted(stops, value, side="right")) - 1, 0), len(stops) - 1)
        return tuple(stops[i : i + 2])

    def camera(
        self,
        lift: Lift,
        value: float,
        points: Callable[[float], Floats],
        size: tuple[float, float],
        units_per_mm: float,
    ) -> Camera:
        """The camera at a lift.

        Parameters
        ----------
        points : callable
            Every corner shown at a lift, (n, 3) in mm.
        size : width, height
            Of the picture.
        units_per_mm : float
            Of the picture at true size, for the round scale.
        """
        stops = self.stops(lift, value)

        def fit(stop: float) -> Camera:
            if stop not in self._fits:
                self._fits[stop] = self._fit(lift, stop, points(stop), size, units_per_mm)
            return self._fits[stop]

        a = fit(stops[0])
        scale, x, y = a.scale, a.x, a.y
        if len(stops) > 1:
            b = fit(stops[1])
            share = _eased((value - stops[0]) / (stops[1] - stops[0]))
            scale *= (b.scale / a.scale) ** share
            x, y = x + (b.x - x) * share, y + (b.y - y) * share
        z = self._zoom
        return replace(
            self.direction(lift, value),
            scale=scale * z,
            x=x * z + float(self._pan[0]),
            y=y * z + float(self._pan[1]),
        )

    def _fit(
        self, lift: Lift, stop: float, points: Floats, size: tuple[float, float], true: float
    ) -> Camera:
        """The camera that shows everything at a stop; ``true`` is units per mm at true size."""
        camera = fitted(points, self.direction(lift, stop), *size, self.margins)
        return self._rounded(camera, size, true) if stop < FLAT and not self.by_hand else camera

    def _rounded(self, camera: Camera, size: tuple[float, float], units_per_mm: float) -> Camera:
        """The camera at the next smaller round scale, about the middle of the room."""
        scale, self.scale_words = round_scale(camera.scale, units_per_mm)
        left, top, right, bottom = self.margins
        x = left + (size[0] - left - right) / 2
        y = top + (size[1] - top - bottom) / 2
        k = scale / camera.scale
        return replace(camera, scale=scale, x=x + (camera.x - x) * k, y=y + (camera.y - y) * k)
