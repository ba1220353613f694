"""Dragging pieces of a finished thing about on the table: a flower of an arrangement."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np
from PyQt6.QtCore import QPointF
from shapely.geometry import MultiPoint

from jadeite.core.folding import closed_matrices, transform
from jadeite.core.nets.model import Design, Floats, Handle
from jadeite.core.pictures import Camera, Palette, Path
from jadeite.core.pictures.primitives import Stroke

__all__ = ["DONE", "Grip", "grip_at"]

DONE = 0.97  # of the lift, from which it stands as it is finished; from memory
FLAT_VIEW = 0.12  # sine of the pitch under which a drag across the table cannot be seen
LINE, DASH = 2.4, (6.0, 3.0)  # pixels, of the outline that follows the pointer
SEEN = 0.45  # from memory, what lies under it stays visible

Matrices = Mapping[str, Mapping[str, Floats]]


class Grip:
    """A handle that is held, and how far the pointer has gone with it since."""

    def __init__(self, handle: Handle, at: QPointF) -> None:
        self.handle, self._from, self._to = handle, at, at

    def drag(self, to: QPointF) -> None:
        """The pointer is there now."""
        self._to = to

    @property
    def by(self) -> tuple[float, float]:
        """Pixels across and down."""
        way = self._to - self._from
        return way.x(), way.y()

    def millimetres(
        self, design: Design, matrices: Matrices, camera: Camera
    ) -> tuple[float, float]:
        """The same on the thing's own ground, mm.

        ``matrices`` are (4, 4) float, those of the panels on the table.
        """
        across = camera.axes[:, :2] * camera.scale
        way = np.append(np.linalg.solve(across, np.array(self.by)), 0.0)
        body = design.body
        panel = body.panels[0].name
        closed = closed_matrices(design)[body.name][panel][:3, :3]
        x, y, _ = closed @ matrices[body.name][panel][:3, :3].T @ way
        return float(x), float(y)

    def outline(
        self, design: Design, matrices: Matrices, camera: Camera, palette: Palette
    ) -> Path | None:
        """Round what is moved, where it would come to lie.

        ``matrices`` are (4, 4) float.
        """
        points = [
            camera.project(transform(matrices[piece.name][panel.name], panel.outline))
            for piece in design.pieces
            if design.handles.get(piece.name) == self.handle
            for panel in piece.panels
        ]
        if not points:
            return None
        hull = MultiPoint(np.concatenate(points) + np.array(self.by)).convex_hull
        line = np.array(hull.exterior.coords)[:-1]
        edge = Stroke(palette.jade, LINE, DASH)
        return Path((line,), fill=palette.jade, stroke=edge, opacity=SEEN)


def grip_at(
    design: Design, pressed: str, chosen: str, lift: float, camera: Camera, at: QPointF
) -> Grip | None:
    """The grip on what is pressed, if it has been chosen before and can be moved now."""
    handle = design.handles.get(pressed)
    if handle is None or handle != design.handles.get(chosen) or lift < DONE:
        return None
    return Grip(handle, at) if abs(float(camera.towards[2])) > FLAT_VIEW else None
