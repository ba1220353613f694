"""Light through windows: frames by side, tabs that still hold, patterns upright, open shares."""

from __future__ import annotations

import os

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.geometry import Polygon

from jadeite.core.dressings import windows_made
from jadeite.core.dressings.upright import along_walls, seen_upright
from jadeite.core.errors import FieldError
from jadeite.core.nets.model import Design
from jadeite.core.nets.roles import Role
from jadeite.core.nets.turns import closed_matrix
from jadeite.core.patterns import MOTIFS, holds_together, open_share
from jadeite.core.pipeline import Work, arrange_contents, windows_from, work_up
from jadeite.core.project import Hollow, Shape, Task, changed
from tests import fold_reader
from tests.core.dressings.test_windows import _cut_outs, _glued_on
from tests.core.shapes.closing import FOLDING, faults, text_of

LANTERNS = ("lantern", "spire", "pyramid", "carton", "n-sided-box", "gathered-box")
MANY = 200 if os.environ.get("HYPOTHESIS_PROFILE") == "soak" else 30  # all of 200 in the soak
LEAST_TAB, LEAST_TUCK = 6.0, 8.0  # mm that hold (from memory)
MADE: dict[str, int] = {"windows": 0, "asked": 0}


def lit(key: str, inside: tuple[float, float, float], motif: str, **more: object) -> Work:
    """A shape with the same windows in all its walls, worked up."""
    linings = more.pop("linings", "each")
    options, boards = more.pop("options", {}), more.pop("boards", {})
    task = changed(
        Task(), brief=Hollow(size=inside), shape=Shape(key=key, options=options),
        linings=linings, boards=boards,
    )  # fmt: skip
    places = arrange_contents(task)
    made = windows_from(task, places, "walls", motif, lined=True, more=more)
    return work_up(changed(task, windows=made), places)


def _windowed(design: Design) -> list[tuple[str, str]]:
    return [
        (p.name, q.name)
        for p in design.pieces
        if p.part not in ("lining", "overlay")
        for q in p.panels
        if any(o.kind == "window" for o in q.openings)
    ]


def _depth(model: fold_reader.Model, tab: tuple[str, str], design: Design) -> float:
    """How far a tab reaches from its fold, on the FOLD text, mm."""
    piece = design.piece(tab[0])
    fold = next(f for f in piece.folds if f.child == tab[1])
    place = closed_matrix(piece, design.placements[tab[0]], tab[1])
    ends = np.array([[*fold.start, 0.0], [*fold.end, 0.0]]) @ place[:3, :3].T + place[:3, 3]
    way = (ends[1] - ends[0]) / np.linalg.norm(ends[1] - ends[0])
    rel = model.faces[tab].points - ends[0]
    return float(np.linalg.norm(rel - np.outer(rel @ way, way), axis=1).max())


@settings(max_examples=MANY)
@given(
    key=st.sampled_from(LANTERNS),
    motif=st.sampled_from(("plain", *MOTIFS)),
    inside=st.tuples(*(st.floats(50.0, 130.0) for _ in range(3))),
    board=FOLDING,
    size=st.floats(8.0, 28.0),
    frame=st.floats(3.0, 12.0),
    linings=st.sampled_from(("each", "sheet")),
)
def test_property_light_comes_out_of_lanterns(
    key, motif, inside, board, size, frame, linings
) -> None:  # type: ignore[no-untyped-def]
    """Frames as wide as wanted and past what lies behind, tabs hold, bridges and linings do."""
    MADE["asked"] += 1
    boards = {"body": board, key: board}
    try:
        work = lit(key, inside, motif, size=size, frame=frame, linings=linings,
                   boards={k: v for k, v in boards.items() if k == key})  # fmt: skip
    except FieldError:
        return
    design = work.design
    if design is None:
        return
    MADE["windows"] += 1
    assert faults(design) == []
    model = fold_reader.read(text_of(design))
    for where in _windowed(design):
        panel = design.piece(where[0]).panel(where[1])
        holes = [o.points for o in panel.openings if o.closed]
        assert holds_together(panel.outline, holes)
        face = model.faces[where]
        window = shapely.union_all(_cut_outs(model, face))
        outline = Polygon(fold_reader.flat_on(face, face.points)[0])
        assert outline.exterior.distance(window) > min(frame, 4.0) - 0.02
        for name, shape in _glued_on(model, *where):
            if name.startswith("lining"):
                assert shape.buffer(1e-4).covers(window)
                assert shape.exterior.distance(window) > 2.0 - 1e-3
            else:
                assert shape.distance(window) > 1.0 - 0.02
        tabs = [s for n, s in _glued_on(model, *where) if not n.startswith("lining")]
        for name, lining in _glued_on(model, *where):
            if name.startswith("lining"):
                assert sum(lining.intersection(tab).area for tab in tabs) < 1e-3
        for joint in design.joints:
            if joint.target == where and not joint.tab[0].startswith("lining"):
                tab = design.piece(joint.tab[0]).panel(joint.tab[1])
                least = {Role.TAB: LEAST_TAB, Role.FLAP: LEAST_TUCK}.get(tab.role, 0.0)
                plain = float(tab.size[1])
                if least and joint.kind in ("glue", "tuck"):
                    assert _depth(model, joint.tab, design) > min(least, plain) - 0.02


def test_property_light_was_made_often() -> None:
    """Of the designs above more than half have windows; walls that are too narrow have none."""
    if MADE["asked"]:
        assert MADE["windows"] > MADE["asked"] / 2


@pytest.mark.parametrize("motif", ["plain", *MOTIFS])
@pytest.mark.parametrize("key", ["lantern", "carton", "gathered-box", "tray-with-lid"])
def test_a_lined_wall_of_60_mm_is_open_enough(key: str, motif: str) -> None:
    """45 % plain, 25 % of what is cut in cells, 18 % of stars and moons, 15 % of all others."""
    work = lit(key, (60.0, 60.0, 60.0), motif)
    least = {"plain": 45.0, "stars": 18.0, "moons": 18.0}.get(motif, 15.0)
    if motif in ("lattice", "leaves", "hexagons", "rays", "ripples"):
        least = 25.0
    shares = [v.value for k, v in work.sizes.items() if k.endswith("-open")]
    assert len(shares) == 4
    assert min(shares) >= least
    assert "window-dark" not in {f.code for f in work.findings}


def test_the_open_share_is_that_of_points_thrown_at_the_file() -> None:
    """Random points on the wall of the FOLD text, counted by the even-odd rule (Monte Carlo)."""
    work = lit("lantern", (60.0, 60.0, 80.0), "leaves")
    assert work.design is not None
    model = fold_reader.read(text_of(work.design))
    face = model.faces["lantern", "wall-2"]
    wall = Polygon(fold_reader.flat_on(face, face.points)[0])
    rng = np.random.default_rng(5)
    low, high = np.array(wall.bounds[:2]), np.array(wall.bounds[2:])
    spots = rng.uniform(low, high, (60_000, 2))
    spots = spots[shapely.contains_xy(wall, *spots.T)]
    within = np.zeros(len(spots), bool)
    for hole in _cut_outs(model, face):
        ring = np.array(hole.exterior.coords)[:-1]
        for a, b in zip(ring, np.roll(ring, -1, axis=0), strict=True):
            crosses = (a[1] > spots[:, 1]) != (b[1] > spots[:, 1])
            with np.errstate(divide="ignore", invalid="ignore"):
                at = a[0] + (spots[:, 1] - a[1]) / (b[1] - a[1]) * (b[0] - a[0])
            within ^= crosses & (spots[:, 0] < at)
    assert work.sizes["window-2-open"].value == pytest.approx(100 * within.mean(), abs=1.0)


@pytest.mark.parametrize("key", ["lantern", "spire", "pyramid", "carton", "tray-with-lid", "chest",
                                 "n-sided-box", "gathered-box", "flared-tray"])  # fmt: skip
def test_trees_stand_upright_on_every_wall(key: str) -> None:
    """From the middle of each tree to its tip it goes up, as steep as its wall; in the closed form.

    The tip of a fir is the corner that is farthest from its middle.
    """
    work = lit(key, (70.0, 80.0, 75.0), "firs")
    assert work.design is not None
    walls = 0
    for piece, name in _windowed(work.design):
        panel = work.design.piece(piece).panel(name)
        place = closed_matrix(work.design.piece(piece), work.design.placements[piece], name)
        steepest = np.array([0.0, 0.0, 1.0]) - place[2, 2] * place[:3, 2]
        steepest /= np.linalg.norm(steepest)
        walls += 1
        for opening in panel.openings:
            if opening.kind != "window" or len(opening.points) < 12:
                continue
            middle = np.array(Polygon(opening.points).centroid.coords[0])
            tip = opening.points[np.argmax(np.linalg.norm(opening.points - middle, axis=1))]
            way = place[:3, :2] @ (tip - middle)
            assert way @ steepest > 0.999 * np.linalg.norm(way)
    assert walls >= 3


@pytest.mark.parametrize("sides", [3, 4, 5, 8])
def test_a_lattice_runs_round_all_walls_as_one(sides: int) -> None:
    """Rolled out side by side, middles of its whole rhombs lie on one grid that closes."""
    work = lit("lantern", (80.0, 80.0, 90.0), "lattice", run="round",
               options={"sides": float(sides)})  # fmt: skip
    assert work.design is not None
    piece = work.design.piece("lantern")
    walls = along_walls(work.design, "lantern")
    assert len(walls) == sides
    whole = next(iter(walls.values()))[1]
    places = []
    for name, (start, _) in walls.items():
        seen = seen_upright(work.design, piece, piece.panel(name))
        left = (piece.panel(name).outline @ seen.T)[:, 0].min()
        holes = [Polygon(o.points @ seen.T) for o in piece.panel(name).openings]
        most = max(hole.area for hole in holes)
        places += [start + h.centroid.x - left for h in holes if h.area > 0.999 * most]
    assert len(places) > 4 * sides
    half = whole / round(whole / 14.0) / 2  # cells of about 14 mm, whole ones round it
    steps = (np.array(places) - places[0]) / half
    assert np.abs(steps - np.round(steps)).max() < 1e-3


@pytest.mark.parametrize("key", ["lantern", "spire", "pyramid", "star"])
def test_a_lantern_arrives_as_a_lantern(key: str) -> None:
    """With lined windows that say nothing against themselves; they can be taken away."""
    task = changed(
        Task(), brief=Hollow(size=(70.0, 70.0, 70.0)), shape=Shape(key=key), usual_windows=True
    )
    work = work_up(task, arrange_contents(task))
    assert work.design is not None
    made = windows_made(task, work.design)
    assert len(made) >= 4
    assert all(window.lined for window in made)
    assert any(p.part == "lining" for p in work.design.pieces)
    assert {f.code for f in work.findings} <= {"no-sheet"}
    for window in made:
        panel = work.design.piece(window.piece).panel(window.panel)
        cut = [o.points for o in panel.openings if o.kind == "window"]
        assert open_share(panel.outline, cut) >= 0.15
    bare = changed(task, usual_windows=False)
    plain = work_up(bare, arrange_contents(bare))
    assert plain.design is not None
    assert not windows_made(bare, plain.design)


@pytest.mark.parametrize("motif", ["stars", "blossoms", "moons"])
def test_a_window_that_leaves_little_open_is_found_and_cured(motif: str) -> None:
    """Of a small lantern; one click ends it."""
    work = lit("lantern", (36.0, 36.0, 36.0), motif)
    finding = next(f for f in work.findings if f.code == "window-dark")
    assert finding.cure is not None
    ((field, windows),) = finding.cure.changes
    cured = changed(work.task, **{field: windows})
    again = work_up(cured, arrange_contents(cured))
    assert "window-dark" not in {f.code for f in again.findings}
    assert "window-refused" not in {f.code for f in again.findings}


@pytest.mark.parametrize("key", ["lantern", "spire", "pyramid", "star", "tray-with-lid", "chest"])
def test_folds_of_a_lining_sheet_lie_on_those_of_the_board(key: str) -> None:
    """In the closed form of the FOLD text each corner of the sheet lies on its panel's plane."""
    work = lit(key, (70.0, 70.0, 70.0), "lattice", linings="sheet", boards={"lining": "tissue"})
    assert work.design is not None
    assert faults(work.design) == []
    sheets = [p for p in work.design.pieces if p.part == "lining"]
    assert sheets
    model = fold_reader.read(text_of(work.design))
    for sheet in sheets:
        assert len(sheet.panels) > 1
        onto = {j.tab[1]: j.target for j in work.design.joints if j.tab[0] == sheet.name}
        for panel in sheet.panels:
            face = model.faces[onto[panel.name]]
            flat, heights = fold_reader.flat_on(face, model.faces[sheet.name, panel.name].points)
            assert np.abs(heights).max() < 0.05
            outline = Polygon(fold_reader.flat_on(face, face.points)[0])
            assert outline.buffer(0.05).covers(Polygon(flat))
