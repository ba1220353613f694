"""The side from which a step is seen: where its panels are not hidden behind others."""

from __future__ import annotations

from collections.abc import Sequence, Set

import numpy as np
import shapely
from shapely.geometry import Polygon

from jadeite.core.folding import FoldedFace
from jadeite.core.folding.showing import spots_on
from jadeite.core.pictures.camera import Camera

__all__ = ["clearest_side", "seen_share"]

TURNS = (0.0, 90.0, 180.0, 270.0)  # degrees from the usual side
STEEP = 64.0  # degrees of pitch; from memory, looks into a box
ENOUGH = 0.2  # from memory; where so much is seen, the usual side is kept
GAIN = 0.15  # from memory; for less the usual side is kept
BEFORE = 1e-3  # mm; rounding, what lies in a panel's own plane does not hide it


def seen_share(faces: Sequence[FoldedFace], wanted: Set[tuple[str, str]], camera: Camera) -> float:
    """How much of some panels (piece, panel) a camera sees: 1 all of them, face on."""
    towards = camera.towards
    outlines = np.array([Polygon(camera.project(f.points)) for f in faces])
    total, seen = 0.0, 0.0
    for i, face in enumerate(faces):
        if (face.piece, face.panel) not in wanted:
            continue
        for spot in spots_on(face):
            total += 1.0
            x, y = camera.project(spot[None])[0].tolist()
            inside = shapely.contains_xy(outlines, x, y)
            inside[i] = False
            hidden = any(_before(faces[int(k)], spot, towards) for k in np.flatnonzero(inside))
            if not hidden:
                seen += abs(float(face.normal @ towards))
    return seen / total if total else 0.0


def _before(face: FoldedFace, spot: np.ndarray, towards: np.ndarray) -> bool:
    """Whether a face lies between a spot and the viewer, on the line of sight."""
    slope = float(towards @ face.normal)
    if abs(slope) < BEFORE:
        return False
    return float((face.points[0] - spot) @ face.normal) / slope > BEFORE


def clearest_side(
    faces: Sequence[FoldedFace], wanted: Set[tuple[str, str]], usual: Camera
) -> Camera:
    """The usual camera, or one turned about the table or raised that sees clearly more."""
    if not wanted:
        return usual
    best, most = usual, seen_share(faces, wanted, usual)
    if most > ENOUGH:
        return usual
    for yaw, pitch in (*((turn, usual.pitch) for turn in TURNS[1:]), (0.0, STEEP)):
        camera = Camera(usual.yaw + yaw, pitch)
        share = seen_share(faces, wanted, camera)
        if share > most + GAIN:
            best, most = camera, share
    return best
