"""The side from which a step is seen, checked against lines of sight through triangles."""

from __future__ import annotations

import numpy as np
import pytest

from jadeite.core.assembly import adhesive_by_key, assembly_plan, lift_of
from jadeite.core.folding import FoldedFace, folded_faces
from jadeite.core.folding.showing import spots_on
from jadeite.core.pictures import LIGHT, Camera, Path, Scene, SceneStyle
from jadeite.core.pictures.side import clearest_side, seen_share
from jadeite.core.shapes import all_families
from tests.conftest import build_tray
from tests.core.shapes.closing import build

USUAL = Camera(24.0, 38.0)
GLUE = adhesive_by_key("liquid-craft-glue")


def _fan(face: FoldedFace) -> np.ndarray:
    """Triangles of a convex face, (n, 3, 3)."""
    p = face.points
    return np.array([[p[0], p[i], p[i + 1]] for i in range(1, len(p) - 1)])


@pytest.mark.parametrize("yaw", [0.0, 24.0, 114.0, 204.0, 294.0])
def test_what_is_seen_agrees_with_rays_through_triangles(yaw) -> None:  # type: ignore[no-untyped-def]
    """Each line of sight against every triangle of a tray's walls, by a published method."""
    design = build_tray(thumb_notches="none")
    faces = [f for f in folded_faces(design) if f.piece == "tray"]
    camera = Camera(yaw, 38.0)
    towards = camera.towards
    for face in faces:
        if not face.panel.startswith("tab"):
            continue
        spots = np.array(list(spots_on(face)))
        walls = np.concatenate([_fan(f) for f in faces if f is not face])
        hidden = np.array([any(_meets(spot, towards, t) for t in walls) for spot in spots])
        want = float((~hidden).mean()) * abs(float(face.normal @ towards))
        got = seen_share(faces, {("tray", face.panel)}, camera)
        assert got == pytest.approx(want, abs=1e-6)


def _meets(start: np.ndarray, way: np.ndarray, triangle: np.ndarray) -> bool:
    """Moeller and Trumbore, Fast, Minimum Storage Ray/Triangle Intersection (1997)."""
    a, b, c = triangle
    across = np.cross(way, c - a)
    size = float((b - a) @ across)
    if abs(size) < 1e-9:
        return False
    u = float((start - a) @ across) / size
    other = np.cross(start - a, b - a)
    v, far = float(way @ other) / size, float((c - a) @ other) / size
    return u >= 0 and v >= 0 and u + v <= 1 and far > 1e-3


@pytest.mark.parametrize("family", all_families(), ids=lambda f: f.key)
def test_every_glue_step_shows_what_is_glued(family) -> None:  # type: ignore[no-untyped-def]
    """Never less than from the usual side; what stays hidden is outlined through what hides it."""
    design = build(family, (90.0, 70.0, 80.0))
    lift = lift_of(design)
    for step in assembly_plan(design, lift, GLUE, ["lamp"]).steps:
        if step.operation != "glue":
            continue
        shown = lift.shown({p for p, _ in step.panels}, step.shows, step.lift)
        poses = folded_faces(design, lift.pose(step.lift).matrices)
        faces = [f for f in poses if f.piece in shown]
        camera = clearest_side(faces, set(step.panels), USUAL)
        seen = seen_share(faces, set(step.panels), camera)
        assert seen >= seen_share(faces, set(step.panels), USUAL)
        scene = Scene(design, lift.pose(step.lift).matrices, flat=False)
        style = SceneStyle(LIGHT, point_out=frozenset(step.panels), dimensions=False, names=False)
        picture = scene.draw(scene.fitted(camera, 80.0, 60.0, (2, 2, 2, 2)), style)
        dashed = [i for i in picture.items if isinstance(i, Path) and i.stroke and i.stroke.dash]
        assert len(dashed) >= len(set(step.panels))
