"""How the table comes to its picture: scene, camera and style, in steps."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass

import numpy as np

from jadeite.core.folding import transform
from jadeite.core.nets.mesh import mesh_of
from jadeite.core.nets.model import Design, Dimension, Floats
from jadeite.core.pictures import LIGHT, Camera, Palette, Picture, Scene, SceneStyle
from jadeite.core.pictures.scene import DISC, DISC_AWAY
from jadeite.core.pictures.viewpoint import FLAT, ViewPoint
from jadeite.core.pipeline import Work
from jadeite.core.project import Span
from jadeite.core.steps import Steps
from jadeite.core.units import System

__all__ = ["Staging", "View", "dimensions_of", "heavy"]

MARGINS = (58.0, 56.0, 58.0, 44.0)  # pixels left, top, right, bottom, for dimension lines
FINISHED = 0.999  # of the lift; rounding
MANY = 90  # faces; from memory, with more the view is drawn plainer while it moves
Where = tuple[str, str]  # piece, panel


@dataclass(frozen=True, eq=False)
class View:
    """What is to be shown; the side from which it is seen belongs to the view point."""

    work: Work | None
    lift: float
    hidden: frozenset[str] = frozenset()
    pointed: Where | None = None
    chosen: Where | None = None
    marked: frozenset[Where] = frozenset()
    dimensions: bool = True
    disc: bool = False
    moving: bool = False
    palette: Palette = LIGHT
    system: System = "mm"
    size: tuple[float, float] = (0.0, 0.0)  # width and height in pixels
    pixels: float = 1.0  # for each mm of the screen
    night: bool = False

    def same_pose(self, other: View) -> bool:
        """Whether the same pieces stand in the same places."""
        return self.work is other.work and self.hidden == other.hidden and self.lift == other.lift

    def same_corners(self, other: View) -> bool:
        """Whether the same has to be in view, wherever the lift is."""
        same = self.work is other.work and self.hidden == other.hidden
        return same and self.dimensions == other.dimensions

    def same_stage(self, other: View) -> bool:
        """Whether the same pieces are shown in the same room."""
        return self.work is other.work and self.hidden == other.hidden and self.size == other.size


def heavy(design: Design) -> bool:
    """Whether it is drawn plainer at first, and while it moves."""
    return sum(len(piece.panels) for piece in design.pieces) > MANY


def dimensions_of(view: View) -> tuple[Dimension, ...]:
    """The lengths that are shown: those of the finished thing once it is finished."""
    if view.work is None or view.work.design is None:
        return ()
    finished = view.lift >= FINISHED
    return tuple(d for d in view.work.design.dimensions if finished or not d.finished)


class Staging:
    """The view point, with the scene and the corners that serve from picture to picture."""

    def __init__(self) -> None:
        self.viewpoint = ViewPoint(MARGINS)
        self._scene: tuple[View, Scene] | None = None
        self._corners: dict[float, Floats] = {}
        self._cornered: View | None = None

    def picture(self, now: Callable[[], View]) -> Steps[Picture | None]:
        """The picture of what is to be shown, None where there is nothing.

        ``now`` says what that is; where other pieces are to be shown before the
        drawing is begun, it is begun with those.
        """
        while True:
            view = now()
            scene = yield from self._built(view)
            if scene is None:
                return None
            assert view.work is not None
            assert view.work.lift is not None
            for stop in self.viewpoint.stops(view.work.lift, view.lift):
                self._points(view, stop)
                yield
            if now().same_stage(view):
                break
        picture = yield from scene.drawing(self.camera(view), _style(view, scene))
        return picture

    def camera(self, view: View) -> Camera:
        """The camera of a view."""
        if view.work is None or view.work.lift is None:
            return Camera()

        def points(stop: float) -> Floats:
            return self._points(view, stop)

        return self.viewpoint.camera(view.work.lift, view.lift, points, view.size, view.pixels)

    def matrices(self, view: View) -> Mapping[str, Mapping[str, Floats]] | None:
        """Where every panel of a view stands, once its scene is made."""
        if self._scene is None or not self._scene[0].same_pose(view):
            return None
        return self._scene[1].matrices

    def _built(self, view: View) -> Steps[Scene | None]:
        """The scene; it is kept for as long as nothing in it has moved."""
        work = view.work
        if work is None or work.design is None or work.lift is None:
            return None
        if self._scene is not None:
            had, scene = self._scene
            if had.same_pose(view):
                return scene
        for piece in work.design.pieces:
            mesh_of(piece)  # kept with the piece
            yield
        pose = work.lift.pose(view.lift)
        yield
        flatness = work.lift.flatness(view.lift)
        yield
        scene = Scene(
            work.design,
            pose.matrices,
            work.bodies,
            pose.contents,
            flat=view.lift < FLAT,
            flatness=flatness,
            hidden=view.hidden,
            ribbons=pose.ribbons,
        )
        self._scene = view, scene
        yield
        return scene

    def _points(self, view: View, lift: float) -> Floats:
        """Every corner of what is shown at a lift."""
        had = self._cornered
        if had is None or not had.same_corners(view):
            self._corners, self._cornered = {}, view
        if lift not in self._corners:
            work = view.work
            assert work is not None
            assert work.design is not None
            assert work.lift is not None
            pose = work.lift.pose(lift)
            matrices = pose.matrices
            parts = [
                transform(matrices[piece.name][panel.name], panel.outline)
                for piece in work.design.pieces
                if piece.name not in view.hidden
                for panel in piece.panels
            ]
            for strip, place in pose.ribbons:
                parts += [transform(place, edge) for edge in strip.edges]
            if isinstance(work.task.brief, Span) and lift >= FLAT and view.dimensions:
                parts += _beside(work.design, matrices, np.concatenate(parts))
            self._corners[lift] = np.concatenate(parts)
        return self._corners[lift]


def _beside(
    design: Design, matrices: Mapping[str, Mapping[str, Floats]], points: Floats
) -> list[Floats]:
    """What is shown beside a free-standing thing: its dimension lines, and the disc for scale."""
    ends = [
        transform(matrices[d.piece][d.panel], np.array([d.start, d.end])) for d in design.dimensions
    ]
    low, high = points.min(axis=0), points.max(axis=0)
    spot = np.array([(low[0] + high[0]) / 2, low[1] - DISC_AWAY * DISC, 0.0])
    reach = np.array([DISC / 2, DISC / 2, 0.0])
    return [*ends, np.array([spot - reach, spot + reach])]


def _style(view: View, scene: Scene) -> SceneStyle:
    work = view.work
    assert work is not None
    assert work.design is not None
    assert work.lift is not None
    covered = work.lift.covered(view.lift)
    lids = work.design.arrivals.lids
    below = [p.name for p in work.design.pieces if p.name not in lids]
    return SceneStyle(
        view.palette,
        work.colours,
        pointed=view.pointed,
        chosen=view.chosen,
        point_out=view.marked,
        system=view.system,
        dimensions=view.dimensions and not view.night,
        finished=view.lift >= FINISHED,
        disc=view.disc and not covered,
        names=not covered and not view.night,
        ghosts=not covered and not view.night,
        undimensioned=frozenset(below) if covered else frozenset(),
        lit=work.lit,
        lamps=work.lamps,
        night=view.night,
        moving=view.moving and len(scene.faces) > MANY,
    )
