"""The drawing itself: what is in it, where, and in which colours."""

from __future__ import annotations

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.geometry import Point, Polygon

from jadeite.core.assembly import lift_of
from jadeite.core.contents import Ball
from jadeite.core.pictures import (
    DARK,
    LIGHT,
    Camera,
    Label,
    Path,
    Picture,
    Scene,
    SceneStyle,
    mix,
    net_picture,
    sheet_picture,
)
from jadeite.core.pictures.hatch import hatch_lines
from jadeite.core.pictures.palette import BOARD_COLOURS, shade
from jadeite.core.pictures.scene_style import runs_of
from jadeite.core.pipeline import arrange_contents, bodies_of, plan_sheets, work_up
from jadeite.core.project import Shape, Task, changed
from jadeite.core.shapes import family_by_key
from tests.conftest import build_tray
from tests.core.shapes.closing import FREE, build


def luminance(colour: str) -> float:
    """Relative luminance as WCAG 2.2 defines it."""
    parts = [int(colour[i : i + 2], 16) / 255 for i in (1, 3, 5)]
    linear = [c / 12.92 if c <= 0.04045 else ((c + 0.055) / 1.055) ** 2.4 for c in parts]
    return 0.2126 * linear[0] + 0.7152 * linear[1] + 0.0722 * linear[2]


def contrast(a: str, b: str) -> float:
    """Contrast ratio as WCAG 2.2 defines it."""
    high, low = sorted((luminance(a), luminance(b)), reverse=True)
    return (high + 0.05) / (low + 0.05)


@pytest.mark.parametrize("palette", [LIGHT, DARK], ids=["light", "dark"])
def test_text_has_a_contrast_of_4_5_or_better(palette) -> None:  # type: ignore[no-untyped-def]
    """WCAG 2.2, level AA for text."""
    grounds = (palette.ground, palette.sheet)
    for words in (
        palette.ink,
        palette.quiet,
        palette.jade_text,
        palette.amber_text,
        palette.brick_text,
        palette.river_text,
    ):
        for ground in grounds:
            assert contrast(words, ground) >= 4.5, (words, ground)
    assert contrast(palette.on_jade, palette.jade) >= 4.5
    for words, wash in (
        (palette.jade_text, palette.jade_wash),
        (palette.amber_text, palette.amber_wash),
        (palette.brick_text, palette.brick_wash),
        (palette.ink, palette.river_wash),
    ):
        assert contrast(words, wash) >= 4.5, (words, wash)


def test_mixing_and_shading() -> None:
    """Ends are kept; shade darkens, more light brightens."""
    assert mix("#000000", "#ffffff", 0.0) == "#000000"
    assert mix("#000000", "#ffffff", 1.0) == "#ffffff"
    for _, colour in BOARD_COLOURS:
        assert luminance(shade(colour, 0.7)) < luminance(colour)
        assert luminance(shade(colour, 1.2)) >= luminance(colour)


def scene_at(value: float, **options):  # type: ignore[no-untyped-def]
    """A scene of the tray at a lift."""
    design = build_tray(**options)
    pose = lift_of(design).pose(value)
    return design, Scene(design, pose.matrices, flat=value == 0.0)


def faces(picture: Picture) -> dict[tuple[str, str], list[shapely.Polygon]]:
    """Painted polygons by panel."""
    out: dict[tuple[str, str], list[shapely.Polygon]] = {}
    for item in picture.items:
        if isinstance(item, Path) and item.tag is not None:
            out.setdefault(item.tag, []).append(shapely.Polygon(item.rings[0]))
    return out


def test_a_flat_net_is_drawn_to_scale() -> None:
    """Every panel with its own area, times the square of the scale."""
    design, scene = scene_at(0.0)
    picture = scene.draw(Camera(0, 90, 3.0), SceneStyle(LIGHT))
    painted = faces(picture)
    for piece in design.pieces:
        for panel in piece.panels:
            area = sum(p.area for p in painted[piece.name, panel.name])
            assert area == pytest.approx(9 * shapely.Polygon(panel.outline).area, rel=1e-6)
    assert picture.shadow == []


@pytest.mark.parametrize("value", [0.3, 0.6, 0.85, 1.0])
def test_split_faces_lose_nothing(value: float) -> None:
    """What the order splits is painted whole again: area seen from above is kept."""
    design, scene = scene_at(value, tray_walls="double")
    camera = Camera(30, 40, 2.0)
    painted = faces(scene.draw(camera, SceneStyle(LIGHT)))
    pose = lift_of(design).pose(value)
    from jadeite.core.folding import transform

    for piece in design.pieces:
        for panel in piece.panels:
            points = transform(pose.matrices[piece.name][panel.name], panel.outline)
            whole = shapely.Polygon(camera.project(points)).area
            parts = sum(p.area for p in painted[piece.name, panel.name])
            assert parts == pytest.approx(whole, rel=1e-3, abs=0.05)


def test_the_reverse_of_the_board_is_darker() -> None:
    """The floor seen from above: good side up it is lighter than good side down."""
    fills = {}
    for good in ("inside", "outside"):
        _, scene = scene_at(0.6, good_side=good)
        picture = scene.draw(Camera(28, 60, 2.0), SceneStyle(LIGHT, {"tray": "#E8DDC5"}))
        fills[good] = next(
            i.fill for i in picture.items if isinstance(i, Path) and i.tag == ("tray", "floor")
        )
    assert luminance(fills["outside"]) < luminance(fills["inside"])


def test_walls_are_shaded_by_their_direction() -> None:
    """Two walls at right angles differ."""
    _, scene = scene_at(0.7)
    picture = scene.draw(Camera(28, 36, 2.0), SceneStyle(LIGHT))
    fills = {i.tag: i.fill for i in picture.items if isinstance(i, Path) and i.tag}
    assert fills["tray", "front"] != fills["tray", "right"]
    assert picture.shadow


def test_the_edge_of_thick_board_shows() -> None:
    """More polygons once a thickness is wider than a hairline."""
    _, scene = scene_at(0.8, board="craft-board")
    near = scene.draw(Camera(28, 36, 6.0), SceneStyle(LIGHT, dimensions=False))
    far = scene.draw(Camera(28, 36, 0.5), SceneStyle(LIGHT, dimensions=False))
    assert len(near.items) > len(far.items)


def labels(picture: Picture) -> list[Label]:
    """All labels."""
    return [i for i in picture.items if isinstance(i, Label)]


def test_dimension_lines_stay_attached_and_avoid_one_another() -> None:
    """Inside lengths on labels that do not overlap, at every moment, upright."""
    design = build_tray()
    lift = lift_of(design)
    for value in np.linspace(0, 1, 21):
        pose = lift.pose(float(value))
        scene = Scene(
            design, pose.matrices, flat=value == 0.0, flatness=lift.flatness(float(value))
        )
        camera = scene.fitted(Camera(28, 36), 640, 600, (60, 60, 60, 60))
        found = labels(scene.draw(camera, SceneStyle(LIGHT)))
        assert {"96.0"} <= {label.text for label in found}
        assert all(label.turn == 0 for label in found)
        for i, a in enumerate(found):
            for b in found[i + 1 :]:
                assert abs(a.x - b.x) > 20 or abs(a.y - b.y) > 12, (value, a.text, b.text)


def test_inches_on_the_dimension_lines() -> None:
    """The same lines, in fractions."""
    _, scene = scene_at(0.0)
    found = labels(scene.draw(Camera(0, 90, 3.0), SceneStyle(LIGHT, system="inches")))
    assert any("3 3/4" in label.text for label in found)


def test_contents_are_ghosts_with_names(eyepiece_box) -> None:  # type: ignore[no-untyped-def]
    """Translucent, named, and under the lid when it is on."""
    work = work_up(eyepiece_box, arrange_contents(eyepiece_box))
    pose = work.lift.pose(work.lift.filled)
    scene = Scene(work.design, pose.matrices, work.bodies, pose.contents)
    picture = scene.draw(Camera(), SceneStyle(LIGHT))
    assert {"eyepiece", "filter case", "cloth"} <= {label.text for label in labels(picture)}
    ghosts = [i for i in picture.items if isinstance(i, Path) and i.opacity < 0.5 and i.fill]
    assert len(ghosts) > 20
    assert len(bodies_of(eyepiece_box, work.arrangement, work.design)) == 4
    assert bodies_of(eyepiece_box, None, work.design) == ()


def test_chosen_and_pointed_panels_change_colour() -> None:
    """Only those."""
    _, scene = scene_at(0.7)
    camera = Camera(28, 36, 2.0)

    def fill(style: SceneStyle, where: tuple[str, str]) -> str | None:
        items = scene.draw(camera, style).items
        return next(i.fill for i in items if isinstance(i, Path) and i.tag == where)

    plain = SceneStyle(LIGHT)
    where = ("tray", "front")
    for style in (
        SceneStyle(LIGHT, chosen=where),
        SceneStyle(LIGHT, pointed=where),
        SceneStyle(LIGHT, point_out=frozenset({where})),
    ):
        assert fill(style, where) != fill(plain, where)
        assert fill(style, ("tray", "right")) == fill(plain, ("tray", "right"))


@settings(max_examples=40)
@given(st.floats(6, 60), st.floats(6, 60), st.floats(0, 5))
def test_property_hatching_stays_inside(width: float, height: float, taper: float) -> None:
    """Every line within the tab, by Shapely."""
    taper = min(taper, width / 3)
    outline = np.array([[0, 0], [width, 0], [width - taper, height], [taper, height]])
    lines = hatch_lines(outline)
    assert len(lines) > 0
    room = shapely.Polygon(outline).buffer(1e-6)
    assert all(room.covers(shapely.LineString(line)) for line in lines)


def test_moving_a_picture_moves_everything() -> None:
    """Paths, labels and the shadow."""
    ring = np.array([[0.0, 0.0], [1.0, 0.0], [0.0, 1.0]])
    picture = Picture(items=[Path((ring,)), Label("x", 1.0, 2.0, 3.0, "#000000")], shadow=[ring])
    moved = picture.moved(10.0, 20.0)
    assert moved.items[0].rings[0][0].tolist() == [10.0, 20.0]
    assert (moved.items[1].x, moved.items[1].y) == (11.0, 22.0)
    assert moved.shadow[0][1].tolist() == [11.0, 20.0]
    assert picture.items[1].x == 1.0


def test_nets_and_sheets_are_drawn_to_scale(eyepiece_box) -> None:  # type: ignore[no-untyped-def]
    """A sheet picture holds its pieces inside the sheet; played back, only what is done."""
    work = work_up(eyepiece_box, arrange_contents(eyepiece_box))
    plan = plan_sheets(eyepiece_box, work.design)
    pieces = {p.name: p for p in work.design.pieces}
    (cut,) = plan.cutting.sheets
    whole = sheet_picture(cut, pieces, LIGHT, {}, 1.5, 1.0, title="Sheet 1")
    sheet = shapely.Polygon(whole.items[0].rings[0])
    assert sheet.area == pytest.approx((304.8 * 1.5) ** 2)
    for item in whole.items:
        if isinstance(item, Path) and item.tag:
            assert sheet.covers(shapely.Polygon(item.rings[0]).buffer(-1e-6))
    texts = {label.text for label in labels(whole)}
    assert {"tray", "lid", "grain", "304.8 mm", "Sheet 1"} <= texts
    lines = [
        len(list(sheet_picture(cut, pieces, LIGHT, {}, 1.5, 1.0, done=d).items))
        for d in ((-1, 0.0), (3, 0.5), (len(cut.paths) - 1, 1.0))
    ]
    assert lines[0] < lines[1] < lines[2]
    net = net_picture(work.design.piece("tray"), LIGHT, "#ffffff", 200, 100, 0.5)
    points = np.concatenate([r for i in net.items if isinstance(i, Path) for r in i.rings])
    assert points.min() >= 0
    assert (points.max(axis=0) <= (200, 100)).all()


def test_a_disc_gives_the_scale() -> None:
    """25 mm across on the table, from above."""
    _, scene = scene_at(0.7)
    with_disc = scene.draw(Camera(0, 90, 2.0), SceneStyle(LIGHT, disc=True, dimensions=False))
    without = scene.draw(Camera(0, 90, 2.0), SceneStyle(LIGHT, dimensions=False))
    assert len(with_disc.items) == len(without.items) + 3
    ring = with_disc.items[0].rings[0]
    assert np.ptp(ring, axis=0) == pytest.approx([50.0, 50.0], abs=0.2)
    assert "25 mm" in {label.text for label in labels(with_disc)}


@pytest.mark.parametrize(
    ("flags", "runs"),
    [
        ((1, 1, 1), [[0, 1, 2, 0]]),
        ((1, 2, 1, 1), [[2, 3, 0, 1]]),
        ((2, 1, 2, 1), [[1, 2], [3, 0]]),
        ((2, 2), []),
    ],
)
def test_neighbouring_edges_are_stroked_as_one_line(flags, runs) -> None:  # type: ignore[no-untyped-def]
    """Also across the first corner, and all round."""
    assert runs_of(flags, 1) == runs


def test_a_ball_is_painted_once_however_the_order_parts_space() -> None:
    """A dome's many planes pass through it; still it is one disc and one spot of light."""
    project = changed(
        Task(), contents=(Ball(name="planet", diameter=90),), shape=Shape(key="domed-box")
    )
    work = work_up(project, arrange_contents(project))
    assert work.design is not None
    assert work.lift is not None
    pose = work.lift.pose(1.0)
    scene = Scene(work.design, pose.matrices, work.bodies, pose.contents)
    parts = scene.order.parts
    walked = scene.order.walk(Camera(28, 32).towards)
    balls = [part for part in walked if scene.faces[parts.tags[part]].radius]
    assert len(balls) == 1
    assert parts.polygons[balls[0]] == len(work.bodies[0].faces)


@pytest.mark.parametrize("key", ["domed-box", "globe", "star"])
def test_no_glue_is_seen_on_what_is_closed(key: str) -> None:
    """Tabs lie under what they are glued to, also where the order has cut them in parts."""
    design = build(family_by_key(key), (90.0, 80.0, 50.0))
    scene = Scene(design, lift_of(design).pose(1.0).matrices)
    style = SceneStyle(LIGHT, dimensions=False, shadow=False)
    painted = [i for i in scene.draw(Camera(28.0, 34.0, 3.0), style).items if isinstance(i, Path)]
    board, glue, seen = "", 0, 0
    for number, item in enumerate(painted):
        if item.fill:
            board = item.fill
        elif item.stroke and item.stroke.colour == mix(LIGHT.sand, board, 0.25):
            over = [Polygon(o.rings[0]).buffer(0) for o in painted[number + 1 :] if o.fill]
            for line in item.rings:
                glue += 1
                seen += not any(shape.contains(Point(line.mean(axis=0))) for shape in over)
    assert glue > 50
    assert seen < 0.03 * glue  # of those on the very rim, half may stand out


@pytest.mark.parametrize("key", FREE)
def test_what_the_finished_thing_measures_is_not_shown_on_flat_pieces(key) -> None:  # type: ignore[no-untyped-def]
    """Nothing there is so long; finished, the width that the design has stands beside it."""
    design = build(family_by_key(key), (120.0, 60.0, 70.0))
    lift = lift_of(design)
    camera = Camera(28, 36, 3.0)
    texts = []
    for share in (0.0, 1.0):
        scene = Scene(design, lift.pose(share).matrices, flat=share == 0.0)
        style = SceneStyle(LIGHT, finished=share == 1.0)
        texts.append({label.text for label in labels(scene.draw(camera, style))})
    wanted = {f"{d.value:.1f}" for d in design.dimensions}
    assert f"{design.sizes['finished-width'].value:.1f}" in texts[1] & wanted
    assert wanted.isdisjoint(texts[0])
