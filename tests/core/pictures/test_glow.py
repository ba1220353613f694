"""Light in the dark: by the law of distance and slant, and along straight rays."""

from __future__ import annotations

import numpy as np
import pytest

from jadeite.core.contents import Light
from jadeite.core.folding import transform
from jadeite.core.nets.model import Floats
from jadeite.core.pictures import LIGHT, Camera, Scene, SceneStyle
from jadeite.core.pictures.glow import EYE, glow_of
from jadeite.core.pipeline import Work, arrange_contents, work_up
from jadeite.core.project import Hollow, Shape, Task, Window, changed


def lantern(*, lined: bool, motif: str = "plain", board: str = "translucent") -> Work:
    """A lantern of 60 x 60 x 100 mm with a window in each wall, a light in it."""
    task = changed(
        Task(), brief=Hollow(size=(60.0, 60.0, 100.0)), shape=Shape(key="lantern"),
        contents=(Light(name="path light", mass=20),), boards={"lining": board},
        windows=tuple(Window(piece="lantern", panel=f"wall-{k}", motif=motif, lined=lined)
                      for k in range(1, 5)),
    )  # fmt: skip
    return work_up(task, arrange_contents(task))


def closed(work: Work) -> dict[str, dict[str, Floats]]:
    """Where every panel stands in the closed lantern, the middle of its floor at the origin."""
    assert work.lift is not None
    pose = work.lift.pose(1.0)
    back = np.linalg.inv(pose.contents)
    return {
        piece: {name: back @ matrix for name, matrix in panels.items()}
        for piece, panels in pose.matrices.items()
    }


def test_spots_are_where_rays_through_the_cut_outs_end() -> None:
    """Each corner of a spot, the corner of its cut-out and the lamp lie on one line."""
    work = lantern(lined=False, motif="lattice")
    assert work.design is not None
    lamp = np.array([2.0, -3.0, 70.0])
    glow = glow_of(work.design, closed(work), lamp, 0.0)
    assert not glow.pool
    assert len(glow.spots) > 20
    holes = [
        transform(closed(work)["lantern"][panel.name], o.points)
        for panel in work.design.piece("lantern").panels
        for o in panel.openings
    ]
    low = [h for h in holes if h[:, 2].max() < lamp[2]]
    for ring, strength in glow.spots:
        assert 0 < strength <= 1
        assert np.abs(ring[:, 2]).max() < 1e-9
        ways = (ring - lamp) / np.linalg.norm(ring - lamp, axis=1)[:, None]
        spread = min(
            max(_off(way, (h - lamp) / np.linalg.norm(h - lamp, axis=1)[:, None]) for way in ways)
            for h in low
        )
        edge = np.linalg.norm(ring[:, :2], axis=1).max() > 5.6 * 31  # cut off far away
        assert spread < 1e-6 or edge


def _off(way: Floats, ways: Floats) -> float:
    return float(np.linalg.norm(ways - way, axis=1).min())


def test_a_window_is_bright_by_the_square_of_its_distance_and_its_slant() -> None:
    """Two lined cut-outs of one wall against each other, less what is thrown about (Lambert)."""
    work = lantern(lined=True, motif="lattice")
    assert work.design is not None
    lamp = np.array([0.0, 0.0, 20.0])
    matrices = closed(work)
    glow = glow_of(work.design, matrices, lamp, 0.0)
    panel = work.design.piece("lantern").panel("wall-2")
    matrix = matrices["lantern"]["wall-2"]
    values = np.array(glow.windows["lantern", "wall-2"]) ** (1 / EYE)
    middles = np.array([transform(matrix, o.points).mean(axis=0) for o in panel.openings])
    way = middles - lamp
    normal = matrix[:3, 2] * np.sign(matrix[:3, 2] @ way[0])
    falls = (way @ normal) / np.linalg.norm(way, axis=1) ** 3
    # values are a (falls + b): a straight line through all cut-outs
    slope, rest = np.polyfit(falls, values, 1)
    assert slope > 0
    assert rest > 0
    assert np.abs(values - (slope * falls + rest)).max() < 1e-9
    assert max(max(v) for v in glow.windows.values()) == pytest.approx(1.0)


def test_linings_scatter_and_clear_film_does_not() -> None:
    """A pool about the lantern, as wide to the left as to the right; film throws shapes."""
    work = lantern(lined=True)
    assert work.design is not None
    glow = glow_of(work.design, closed(work), np.array([0.0, 0.0, 60.0]), 0.0)
    assert not glow.spots
    levels = [level for _, level in glow.pool]
    assert levels == sorted(levels)
    for level in (0.36, 0.66):
        points = np.vstack([ring for ring, own in glow.pool if own == level])[:, :2]
        low, high = points.min(axis=0), points.max(axis=0)
        assert low == pytest.approx(-high, abs=4.0)  # the seam's wall stands a board further out
    film = lantern(lined=True, board="clear-film")
    assert film.design is not None
    other = glow_of(film.design, closed(film), np.array([0.0, 0.0, 60.0]), 0.0)
    assert not other.pool
    assert len(other.spots) == 0  # of a high window no ray comes down


def test_by_night_only_the_light_is_drawn() -> None:
    """Windows shine in the picture, and board is darker than by day."""
    work = lantern(lined=True)
    assert work.design is not None
    bodies = work.bodies
    scene = Scene(work.design, closed(work), bodies, np.eye(4))
    camera = scene.fitted(Camera(28, 32), 400, 300, (10, 10, 10, 10))
    fills = {}
    for night in (False, True):
        style = SceneStyle(LIGHT, lit=True, lamps=work.lamps, night=night)
        picture = scene.draw(camera, style)
        fills[night] = {i.fill for i in picture.items if getattr(i, "fill", None)}
    assert "#E8DDC5" not in fills[True]
    assert fills[True] != fills[False]
    assert len(picture.items) > 5
