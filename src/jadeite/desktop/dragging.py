"""Dragging pieces of a finished thing about on the table: a flower of an arrangement."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
from PyQt6.QtCore import QPointF
from shapely.geometry import MultiPoint

from jadeite.core.folding import closed_matrices, transform
from jadeite.core.nets.model import Design, Floats, Handle
from jadeite.core.pictures import Camera, Palette, Path
from jadeite.core.pictures.primitives import Stroke

__all__ = ["Hand", "Held"]

NUDGE = 3.0  # mm for each press of Ctrl and an arrow key
DONE = 0.97  # of the lift, from which it stands as it is finished; from memory
FLAT_VIEW = 0.12  # sine of the pitch under which a drag across the table cannot be seen
LINE, DASH = 2.4, (6.0, 3.0)  # pixels, of the outline that follows the pointer
SEEN = 0.45  # from memory, what lies under it stays visible

Matrices = Mapping[str, Mapping[str, Floats]]
Moved = tuple[Handle, float, float]


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


@dataclass(frozen=True)
class Held:
    """What a hand may move: the thing that is chosen on the table, as it is seen.

    ``matrices`` are (4, 4) float, those of the panels on the table.
    """

    design: Design
    chosen: str
    lift: float
    matrices: Matrices
    camera: Camera

    def grip(self, pressed: str, at: QPointF) -> Grip | None:
        """The grip on what is pressed, if it has been chosen before and can be moved now."""
        handle = self.design.handles.get(pressed)
        if handle is None or handle != self.design.handles.get(self.chosen) or self.lift < DONE:
            return None
        return Grip(handle, at) if abs(float(self.camera.towards[2])) > FLAT_VIEW else None


class Hand:
    """Takes hold of a handle, and says by how much it was moved, mm on the thing's own ground."""

    def __init__(self) -> None:
        self.grip: Grip | None = None

    def take(self, held: Held | None, pressed: tuple[str, str] | None, at: QPointF) -> None:
        """Hold what is pressed, if that may be moved; else nothing."""
        self.grip = held.grip(pressed[0], at) if held and pressed else None

    def dropped(self, held: Held | None) -> Moved | None:
        """What was held, and by how much it was moved."""
        return _moved(held, self.grip) if held and self.grip else None

    def nudged(self, held: Held | None, way: tuple[float, float]) -> Moved | None:
        """The chosen thing, moved by a step across the picture and down."""
        grip = held.grip(held.chosen, QPointF(0.0, 0.0)) if held else None
        if held is None or grip is None:
            return None
        grip.drag(QPointF(*way) * NUDGE * held.camera.scale)
        return _moved(held, grip)

    def outline(self, held: Held | None, palette: Palette) -> Path | None:
        """Round what is held, where it would come to lie."""
        if held is None or self.grip is None:
            return None
        return self.grip.outline(held.design, held.matrices, held.camera, palette)


def _moved(held: Held, grip: Grip) -> Moved:
    return (grip.handle, *grip.millimetres(held.design, held.matrices, held.camera))
