"""Dimension lines and names that stay attached to what they measure."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np

from jadeite.core.folding import transform
from jadeite.core.nets.model import Design, Dimension, Floats, Piece
from jadeite.core.nets.pressed import Pressed
from jadeite.core.pictures.camera import Camera
from jadeite.core.pictures.palette import Palette
from jadeite.core.pictures.primitives import Label, Path, Picture, Stroke
from jadeite.core.units import format_length

__all__ = ["Marks"]

STAND_OFF = 20.0  # hairlines between a panel and its dimension line
TICK = 4.5  # hairlines
SHORTEST = 16.0  # hairlines; a shorter line would hide behind its own label
TEXT = 12.5  # hairlines


def _beyond(piece: Piece, dim: Dimension) -> float:
    """How far in mm the flat net reaches beyond a dimension's line, the way it stands off."""
    away = np.array(dim.away[:2])
    start = np.array(dim.start[:2])
    return max(float(((panel.outline - start) @ away).max()) for panel in piece.panels)


class Marks:
    """Adds marks to a picture; labels keep out of one another's way."""

    def __init__(
        self, picture: Picture, camera: Camera, palette: Palette, unit: float, system: str
    ) -> None:
        self.picture, self.camera, self.palette = picture, camera, palette
        self.unit, self.system = unit, system
        self.taken: list[tuple[float, float, float, float]] = []

    def _free(self, x: float, y: float, width: float, height: float) -> bool:
        return all(
            abs(x - cx) > (width + w) / 2 or abs(y - cy) > (height + h) / 2
            for cx, cy, w, h in self.taken
        )

    def _room(
        self, at: Floats, along: Floats, width: float, height: float, steps: tuple[float, ...]
    ) -> Floats:
        """The first spot along a line where a label is free."""
        for step in steps:
            spot = at + along * step
            if self._free(float(spot[0]), float(spot[1]), width, height):
                break
        else:
            spot = at
        self.taken.append((float(spot[0]), float(spot[1]), width, height))
        return np.asarray(spot)

    def dimensions(
        self,
        design: Design,
        matrices: Mapping[str, Mapping[str, Floats]],
        hidden: frozenset[str],
        flatness: float,
        shown: Sequence[Dimension],
    ) -> None:
        """Those dimensions of the design that are ``shown``, where their panels now are.

        With ``flatness`` 1 the lines stand clear of the whole flat net.

        ``matrices`` are (4, 4) float, by piece and panel.
        """
        for dimension in shown:
            if dimension.piece not in hidden:
                clear = _beyond(design.piece(dimension.piece), dimension) * flatness
                self._dimension(dimension, matrices[dimension.piece][dimension.panel], clear)

    def _dimension(self, dim: Dimension, matrix: Floats, clear: float) -> None:
        u = self.unit
        ends = np.array([dim.start, dim.end]) @ matrix[:3, :3].T + matrix[:3, 3]
        a, b = self.camera.project(ends)
        line = b - a
        length = float(np.linalg.norm(line))
        if length < SHORTEST * u:
            return
        away = self.camera.axes @ (matrix[:3, :3] @ np.array(dim.away))
        size = float(np.linalg.norm(away))
        if size < 0.15:  # it would stand off towards the viewer
            return
        out = away / size * STAND_OFF * u * max(size, 0.6) + away * clear * self.camera.scale
        p, q = a + out, b + out
        river = self.palette.river
        thin = Stroke(river, 0.5 * u)
        over = 4 * u * out / max(float(np.linalg.norm(out)), 1e-9)
        extensions = (np.array([a + over, p + over]), np.array([b + over, q + over]))
        self.picture.add(Path(extensions, closed=False, stroke=thin, opacity=0.7))
        along = line / length
        tick = (along + np.array([-along[1], along[0]])) * TICK * u * 0.7
        self.picture.add(
            Path(
                (np.array([p, q]), np.array([p - tick, p + tick]), np.array([q - tick, q + tick])),
                closed=False,
                stroke=Stroke(river, 1.1 * u),
            )
        )
        text = format_length(dim.value, "inches" if self.system == "inches" else "mm", unit=False)
        width, height = (len(text) * 6.6 + 14) * u, 20 * u
        reach = length / 2
        spot = self._room(
            (p + q) / 2, along, width, height, (0.0, 0.3 * reach, -0.3 * reach, 0.6 * reach)
        )
        self.picture.add(
            Label(
                text,
                float(spot[0]),
                float(spot[1]),
                TEXT * u,
                self.palette.river_text,
                weight=600,
                pill=self.palette.sheet,
                edge=self.palette.line,
            )
        )

    def plates(
        self,
        pressed: Sequence[Pressed],
        matrices: Mapping[str, Mapping[str, Floats]],
        hidden: frozenset[str],
        *,
        sizes: bool,
    ) -> None:
        """The rectangle of each plate on its flat piece, and if it is asked for its size.

        ``matrices`` are (4, 4) float, by piece and panel.
        """
        for one in pressed:
            if one.piece in hidden:
                continue
            matrix = next(iter(matrices[one.piece].values()))
            ring = self.camera.project(transform(matrix, np.array(one.corners)))
            dashes = (12 * self.unit, 5 * self.unit)
            self.picture.add(
                Path((ring,), stroke=Stroke(self.palette.ink, 1.1 * self.unit, dashes))
            )
            if not sizes:
                continue
            wide, high = (
                format_length(v, "inches" if self.system == "inches" else "mm", unit=False)
                for v in one.size
            )
            text = f"plate {wide} × {high}"
            y = float(ring[:, 1].min())
            width = (len(text) * 6.6 + 14) * self.unit
            middle = np.array([float(ring[:, 0].mean()), y])
            spot = self._room(middle, np.array([0.0, -1.0]), width, 20 * self.unit,
                              (0.0, 14 * self.unit, 28 * self.unit))  # fmt: skip
            self.picture.add(
                Label(text, float(spot[0]), float(spot[1]), TEXT * self.unit, self.palette.ink,
                      weight=600, pill=self.palette.sheet, edge=self.palette.ink)
            )  # fmt: skip

    def names(self, places: list[tuple[str, Floats]]) -> None:
        """Names of the things, on their tops.

        ``places`` are (3,) float, mm.
        """
        u = self.unit
        for name, place in places:
            x, y = self.camera.project(place[None])[0]
            width, height = (len(name) * 6.2 + 6) * u, 15 * u
            spot = self._room(
                np.array([x, y]),
                np.array([0.0, 1.0]),
                width,
                height,
                (0.0, -16 * u, 16 * u, -32 * u, 32 * u),
            )
            self.picture.add(
                Label(
                    name,
                    float(spot[0]),
                    float(spot[1]),
                    12 * u,
                    self.palette.river_text,
                    weight=600,
                    pill=self.palette.river_wash,  # it must be read on any board
                )
            )
