"""The side from which a step is seen: where its panels are not hidden behind others."""

from __future__ import annotations

from collections.abc import Sequence, Set

import numpy as np
import shapely
from numpy.typing import NDArray

from jadeite.core.folding import FoldedFace
from jadeite.core.folding.showing import spots_on
from jadeite.core.nets.model import Floats
from jadeite.core.pictures.camera import Camera

__all__ = ["clearest_side", "seen_share"]

TURNS = (0.0, 90.0, 180.0, 270.0)  # degrees from the usual side
STEEP = 64.0  # degrees of pitch; from memory, looks into a box
ENOUGH = 0.2  # from memory; where so much is seen, the usual side is kept
GAIN = 0.15  # from memory; for less the usual side is kept
BEFORE = 1e-3  # mm; rounding, what lies in a panel's own plane does not hide it


def seen_share(faces: Sequence[FoldedFace], wanted: Set[tuple[str, str]], camera: Camera) -> float:
    """How much of some panels (piece, panel) a camera sees: 1 all of them, face on."""
    return _Spots(faces, wanted).seen(camera)


class _Spots:
    """Places on some panels among all that stand there, which a camera sees or does not."""

    def __init__(self, faces: Sequence[FoldedFace], wanted: Set[tuple[str, str]]) -> None:
        self._points = np.concatenate([face.points for face in faces])
        self._counts = [len(face.points) for face in faces]
        self._firsts = np.array([face.points[0] for face in faces])
        self._normals = np.array([face.normal for face in faces])
        own = [i for i, face in enumerate(faces) if (face.piece, face.panel) in wanted]
        spots = [spots_on(faces[i]) for i in own]
        self._own = np.repeat(own, [len(some) for some in spots]).astype(np.intp)
        self._spots = np.concatenate([np.zeros((0, 3)), *spots])

    def seen(self, camera: Camera) -> float:
        """The share that is seen, each place by how far its panel faces the camera."""
        if not len(self._spots):
            return 0.0
        numbers = np.repeat(np.arange(len(self._counts)), self._counts)
        rings = shapely.linearrings(camera.project(self._points), indices=numbers)
        outlines = np.asarray(shapely.polygons(rings))
        x, y = camera.project(self._spots).T
        spot, face = shapely.STRtree(outlines).query(shapely.points(x, y))
        over = (face != self._own[spot]) & shapely.contains_xy(outlines[face], x[spot], y[spot])
        hidden = spot[over][self._before(face[over], spot[over], camera.towards)]
        facing = np.abs(self._normals[self._own] @ camera.towards)
        facing[hidden] = 0.0
        return float(facing.mean())

    def _before(
        self, face: NDArray[np.intp], spot: NDArray[np.intp], towards: Floats
    ) -> NDArray[np.bool_]:
        """Whether a face lies between a spot and the viewer, on the line of sight."""
        slope = self._normals[face] @ towards
        far = ((self._firsts[face] - self._spots[spot]) * self._normals[face]).sum(axis=1)
        across = np.abs(slope) >= BEFORE
        return np.asarray(across & (far * np.sign(slope) > BEFORE * np.abs(slope)))


def clearest_side(
    faces: Sequence[FoldedFace], wanted: Set[tuple[str, str]], usual: Camera
) -> Camera:
    """The usual camera, or one turned about the table or raised that sees clearly more."""
    if not wanted:
        return usual
    spots = _Spots(faces, wanted)
    best, most = usual, spots.seen(usual)
    if most > ENOUGH:
        return usual
    for yaw, pitch in (*((turn, usual.pitch) for turn in TURNS[1:]), (0.0, STEEP)):
        camera = Camera(usual.yaw + yaw, pitch)
        share = spots.seen(camera)
        if share > most + GAIN:
            best, most = camera, share
    return best
