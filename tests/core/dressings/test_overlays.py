"""Overlays with an even border, on any panel of any family."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.geometry import Polygon

from jadeite.cli import main
from jadeite.core.assembly import adhesive_by_key, assembly_plan, lift_of
from jadeite.core.boards import board_by_key
from jadeite.core.dressings.overlays import with_overlay
from jadeite.core.dressings.taken import taken_up
from jadeite.core.dressings.windows import Pane, with_window
from jadeite.core.errors import FieldError
from jadeite.core.formats import load_project
from jadeite.core.nets.arrivals import When
from jadeite.core.nets.roles import Role
from jadeite.core.patterns import MOTIFS
from jadeite.core.pictures import LIGHT, Camera, Scene, SceneStyle
from jadeite.core.pipeline import arrange_contents, at_hand, plan_sheets, work_up
from jadeite.core.project import Hollow, Overlay, Shape, Task, Window, changed, with_change
from jadeite.core.shapes import all_families, family_by_key
from tests import fold_reader
from tests.conftest import build_tray
from tests.core.shapes.closing import FOLDING, build, faults, text_of
from tests.jobs import only


@settings(max_examples=80)
@given(
    inside=st.tuples(*(st.floats(30.0, 200.0) for _ in range(3))),
    border=st.floats(1.0, 9.0),
    board=FOLDING,
    over=FOLDING,
    panel=st.sampled_from(["front", "back", "left", "right", "floor"]),
)
def test_property_the_border_is_even_and_the_overlay_lands(
    inside, border, board, over, panel
) -> None:  # type: ignore[no-untyped-def]
    """Measured with Shapely: every point of its edge is as far from the panel's edge."""
    design = with_overlay(build_tray(inside, board), "tray", panel, border, board_by_key(over))
    piece = design.piece("overlay-1")
    edge = Polygon(design.piece("tray").panel(panel).outline).exterior
    inner = Polygon(piece.panels[0].outline)
    gaps = [edge.distance(p) for p in map(inner.exterior.interpolate, np.linspace(0, 40, 9))]
    assert min(gaps) == pytest.approx(border, abs=1e-6)
    assert faults(design) == []


@settings(max_examples=60)
@given(
    inside=st.tuples(*(st.floats(40.0, 200.0) for _ in range(3))),
    border=st.floats(1.0, 9.0),
    over=FOLDING,
    stiff=st.sampled_from(["craft-board", "thin-chipboard", "chipboard", "basswood"]),
    panel=st.sampled_from(["front", "back", "left", "right", "floor"]),
)
def test_property_a_cover_wraps_over_its_stiffener(inside, border, over, stiff, panel) -> None:  # type: ignore[no-untyped-def]
    """Larger on each side by both thicknesses; folded, its edges meet the panel; read from FOLD."""
    under, cover = board_by_key(stiff), board_by_key(over)
    box = build_tray(inside, lid_depth=60.0, thumb_notches="none")
    design = with_overlay(box, "lid", panel, border, cover, under)
    core = design.piece("stiffener-1").panels[0].outline
    flat = np.concatenate([p.outline for p in design.piece("overlay-1").panels])
    wraps = under.thickness + cover.thickness
    assert np.ptp(flat, axis=0) == pytest.approx(np.ptp(core, axis=0) + 2 * wraps)
    assert design.sizes["overlay-1-wrap"].value == pytest.approx(wraps)
    assert faults(design) == []
    model = fold_reader.read(text_of(design))
    ground = model.faces["lid", panel]
    edges = [f for (p, n), f in model.faces.items() if p == "overlay-1" and n.startswith("wrap")]
    assert len(edges) == 4
    for edge in edges:
        heights = (edge.points - ground.points[0]) @ ground.normal
        assert heights.min() == pytest.approx(ground.thickness / 2)
        assert heights.max() - heights.min() == pytest.approx(wraps - cover.thickness / 2)


def test_a_cover_is_not_wrapped_round_a_curve_or_a_strip() -> None:
    """Refused with a border, or a plain overlay, that works."""
    card, chip = board_by_key("medium-card"), board_by_key("thin-chipboard")
    tub = build(family_by_key("round-box"), (60.0, 60.0, 40.0), measured="round", floor="one")
    with pytest.raises(FieldError, match="Use one without a stiffener"):
        with_overlay(tub, "lid-top", "lid-top", 4.0, card, chip)
    assert with_overlay(tub, "lid-top", "lid-top", 4.0, card).arrivals.at(When.FLAT)
    tray = build_tray((60.0, 60.0, 15.0), "medium-card")
    with pytest.raises(FieldError, match="Use 1") as caught:
        with_overlay(tray, "tray", "front", 4.0, card, chip)
    border = float(caught.value.cure.split()[1])
    assert with_overlay(tray, "tray", "front", border, card, chip).arrivals.at(When.FLAT)


def test_what_stands_proud_under_the_lid_takes_its_air() -> None:
    """1.03 mm beside a long wall: card leaves enough, chipboard is snug, card over it binds."""
    lid = {"lid-depth": 12.0}
    base = changed(
        Task(), brief=Hollow(size=(90.0, 60.0, 40.0)), contents=(), shape=Shape(options=lid)
    )

    def found(boards, stiffener, border=4.0):  # type: ignore[no-untyped-def]
        over = Overlay(piece="tray", panel="front", border=border, stiffener=stiffener)
        work = work_up(changed(base, overlays=(over,), boards=boards), None)
        return {f.code: f for f in work.findings}

    assert "overlay-under-lid" not in found({}, False)
    snug = found({"overlay": "thin-chipboard"}, False)["overlay-under-lid"]
    assert snug.level.word == "look"
    assert "1.00 mm of 1.03 mm" in snug.message
    assert found({}, True)["overlay-under-lid"].level.word == "blocked"
    assert "overlay-under-lid" not in found({}, True, border=13.0)  # it ends below the lid


def test_the_other_half_of_a_drawer_is_no_overlay_under_its_sleeve() -> None:
    """Cut into halves, with an overlay on the sleeve's outside: nothing takes from the air."""
    project = changed(
        Task(),
        brief=Hollow(size=(120.0, 134.0, 86.0)),
        shape=Shape(key="drawer-box"),
        overlays=(Overlay(piece="sleeve", panel="left", border=12.0),),
        splits={"drawer": "halves"},
    )
    work = work_up(project, None)
    assert work.design is not None
    assert {"drawer-b", "overlay-1"} <= {a.piece for a in work.design.arrivals.at(When.FLAT)}
    assert "overlay-under-lid" not in {f.code for f in work.findings}


@pytest.mark.parametrize("family", all_families(), ids=lambda f: f.key)
def test_any_plain_panel_of_any_family_takes_one(family) -> None:  # type: ignore[no-untyped-def]
    """On the first wall or floor; it moves with its panel from flat to closed."""
    try:
        design = build(family, (90.0, 70.0, 100.0))
    except FieldError:
        pytest.skip("not of this size")
    plain = [
        (p, q)
        for p in design.pieces
        for q in p.panels
        if q.role in (Role.WALL, Role.FLOOR)
        and not q.openings
        and min(np.ptp(q.outline, axis=0)) > 16
        and taken_up(design, (p.name, q.name)) is None
    ]
    if not plain:
        pytest.skip("all of it is rolled")
    piece, panel = plain[0]
    made = with_overlay(design, piece.name, panel.name, 3.0, board_by_key("light-card"))
    lift = lift_of(made)
    for value in (lift.came(When.FLAT), 0.5, 0.8, 1.0):
        pose = lift.pose(value).matrices
        on, over = pose[piece.name][panel.name], pose["overlay-1"]["overlay"]
        assert over[:3, :3] == pytest.approx(on[:3, :3])
        apart = (over[:3, 3] - on[:3, 3]) @ on[:3, 2]
        assert apart == pytest.approx((piece.board.thickness + 0.20) / 2)
    home = lift.pose(1.0).matrices
    if piece.name == design.pieces[0].name:
        there = made.placements["overlay-1"]
        assert home["overlay-1"]["overlay"][:3, :3] == pytest.approx(there[:3, :3], abs=1e-9)


def test_an_overlay_is_a_decision_of_the_project() -> None:
    """Its own board and part, its border among the sizes, glued before anything is folded."""
    project = changed(
        Task(),
        brief=Hollow(size=(90.0, 70.0, 60.0)),
        overlays=(Overlay(piece="tray", panel="front", border=5.0),),
        boards={"overlay": "light-card"},
    )
    work = work_up(project, None)
    assert work.design is not None
    assert not work.blocked
    assert work.design.piece("overlay-1").board.key == "light-card"
    assert work.sizes["overlay-1-border"].value == 5.0
    plan = assembly_plan(work.design, lift_of(work.design), adhesive_by_key("glue-stick"))
    titles = [step.title for step in plan.steps]
    glued = next(i for i, t in enumerate(titles) if t == "Glue overlay 1 on the front")
    assert glued < next(i for i, t in enumerate(titles) if t.startswith("Crease"))
    boards = {s.board for s in plan_sheets(project, work.design).layout.sheets}
    assert any("light-card" in b for b in boards)


@pytest.mark.parametrize(
    ("panel", "border", "words"),
    [("front", 29.0, "leaves nothing"), ("ceiling", 4.0, "no panel"),
     ("tab.left.front", 1.0, "glued")],
)  # fmt: skip
def test_where_no_overlay_can_lie_is_refused(panel, border, words) -> None:  # type: ignore[no-untyped-def]
    """With the border that fits, or another panel."""
    with pytest.raises(FieldError, match=words) as caught:
        with_overlay(build_tray(), "tray", panel, border, board_by_key("light-card"))
    if words == "leaves nothing":
        fits = float(caught.value.cure.split()[1])
        with_overlay(build_tray(), "tray", panel, fits, board_by_key("light-card"))
    project = changed(
        Task(), brief=Hollow(size=(90.0, 70.0, 60.0)), shape=Shape(),
        overlays=(Overlay(piece="tray", panel=panel, border=min(border, 30)),),
    )  # fmt: skip
    work = work_up(project, None)
    assert work.design is not None  # the box itself is made, without the overlay
    found = next(f for f in work.findings if f.code == "overlay-refused")
    assert words in found.message
    assert found.cure is not None
    (field, value), *_ = found.cure.changes
    assert work_up(with_change(project, field, value), None).findings == ()


@settings(max_examples=60)
@given(
    border=st.floats(1.0, 3.0), motif=st.sampled_from(["plain", *MOTIFS]),
    frame=st.floats(9.0, 16.0), over=FOLDING,
)  # fmt: skip
def test_property_a_second_frame_leaves_the_window_free(border, motif, frame, over) -> None:  # type: ignore[no-untyped-def]
    """1 mm of the panel shows round the pattern; the ring is even outside, and holds."""
    design = build(family_by_key("lantern"), (70.0, 70.0, 100.0), sides=4, top="open")
    pane = Pane(MOTIFS.get(motif), frame)
    cut = with_window(design, "lantern", "wall-2", pane, board_by_key("translucent"))
    made = with_overlay(cut, "lantern", "wall-2", border, board_by_key(over))
    panel = made.piece("lantern").panel("wall-2")
    over_panel = made.piece("overlay-1").panels[0]
    ring = Polygon(over_panel.outline, [o.points for o in over_panel.openings])
    holes = [Polygon(o.points) for o in panel.openings]
    assert min(ring.distance(h) for h in holes) == pytest.approx(1.0, abs=1e-6)
    assert len(ring.interiors) == 1
    assert isinstance(ring.buffer(-1.2), Polygon)
    assert Polygon(panel.outline).exterior.distance(ring.exterior) == pytest.approx(border)
    assert faults(made) == []


def test_a_second_frame_that_finds_no_room_says_which_border_does() -> None:
    """Or that the window needs a wider frame; it takes no stiffener."""
    design = build(family_by_key("lantern"), (70.0, 70.0, 100.0), sides=4, top="open")
    card = board_by_key("medium-card")
    cut = with_window(design, "lantern", "wall-2", Pane(None, 12.0))
    with pytest.raises(FieldError, match=r"Use 8\.5 mm"):
        with_overlay(cut, "lantern", "wall-2", 9.5, card)
    assert with_overlay(cut, "lantern", "wall-2", 8.5, card)
    with pytest.raises(FieldError, match="takes no stiffener"):
        with_overlay(cut, "lantern", "wall-2", 3.0, card, board_by_key("thin-chipboard"))
    slim = with_window(design, "lantern", "wall-3", Pane(None, 4.0))
    with pytest.raises(FieldError, match="wider frame"):
        with_overlay(slim, "lantern", "wall-3", 1.0, card)


def test_through_a_second_frame_the_pattern_is_seen() -> None:
    """In the picture it is a ring: what it leaves open is not painted over."""
    project = changed(
        Task(), brief=Hollow(size=(70.0, 70.0, 100.0)), shape=Shape(key="lantern"),
        windows=(Window(piece="lantern", panel="wall-2", motif="stars", frame=14.0),),
        overlays=(Overlay(piece="lantern", panel="wall-2", border=3.0),),
    )  # fmt: skip
    work = work_up(project, arrange_contents(project))
    assert {f.code for f in work.findings} == set()
    assert work.design is not None
    assert work.lift is not None
    scene = Scene(work.design, work.lift.pose(1.0).matrices)
    picture = scene.draw(Camera(-60.0, 20.0), SceneStyle(LIGHT, work.colours))
    rings = [i.rings for i in picture.items if getattr(i, "tag", None) == ("overlay-1", "overlay")]
    assert [len(r) for r in rings] == [2]


def test_a_side_too_short_to_be_wrapped_is_refused() -> None:
    """A wall that narrows almost to a point: its border may leave a side shorter than a fold."""
    tray = build_tray()
    piece, made, refused = tray.piece("tray"), 0, 0
    for top in np.linspace(4.0, 12.0, 161):
        ring = np.array([[-40.0, 0.0], [40.0, 0.0], [top / 2, 60.0], [-top / 2, 60.0]])
        panels = tuple(replace(p, outline=ring) if p.name == "front" else p for p in piece.panels)
        design = replace(tray, pieces=(replace(piece, panels=panels), *tray.pieces[1:]))
        boards = board_by_key("medium-card"), board_by_key("thin-chipboard")
        try:
            with_overlay(design, "tray", "front", 4.0, *boards)
        except FieldError as error:
            refused += "cannot be wrapped" in str(error)
        else:
            made += 1
    assert made > 80
    assert refused


@pytest.mark.parametrize("panel", ["tray/front", "tray/back", "tray/left", "tray/right",
                                   "tray-2/front", "tray-2/back", "tray-2/floor"])  # fmt: skip
def test_every_outer_panel_of_a_chest_takes_an_overlay(panel) -> None:  # type: ignore[no-untyped-def]
    """Clear of latch, catch, strips and slots: measured on the closed form, by its own reader."""
    chest = build(family_by_key("chest"), (120.0, 80.0, 60.0), stand_ups=1)
    piece, name = panel.split("/")
    design = with_overlay(chest, piece, name, 4.0, board_by_key("medium-card"))
    assert faults(design) == []
    model = fold_reader.read(text_of(design))
    mine = next(f for (p, _), f in model.faces.items() if p == "overlay-1")
    flat, _ = fold_reader.flat_on(mine, mine.points)
    shape = Polygon(flat)
    for (other, _), face in model.faces.items():
        if other not in ("latch", "catch", "strip-1", "strip-2"):
            continue
        points, heights = fold_reader.flat_on(mine, face.points)
        if np.abs(heights).max() < 6.0:  # it lies on the same panel
            assert shape.distance(Polygon(points)) > 1.4
    whole = Polygon(chest.piece(piece).panel(name).outline).area
    assert shape.area > 0.4 * whole
    holes = design.pieces[-1].panels[0].openings
    assert len(holes) == (2 if panel == "tray-2/floor" else 0)


def test_an_overlay_with_slots_or_parts_on_it_takes_no_stiffener() -> None:
    """Refused with a way that works."""
    chest = build(family_by_key("chest"), (120.0, 80.0, 60.0))
    card, chip = board_by_key("medium-card"), board_by_key("thin-chipboard")
    for piece, panel in (("tray", "front"), ("tray-2", "floor")):
        with pytest.raises(FieldError, match="Use one without a stiffener"):
            with_overlay(chest, piece, panel, 4.0, card, chip)
        assert with_overlay(chest, piece, panel, 4.0, card)


@settings(max_examples=60)
@given(
    inside=st.tuples(*(st.floats(60.0, 200.0) for _ in range(3))),
    border=st.floats(1.0, 9.0),
    foam=st.floats(1.0, 3.0),
    motif=st.sampled_from([None, *MOTIFS]),
    panel=st.sampled_from(["front", "back", "left", "right", "floor"]),
)
def test_property_foam_lifts_a_layer_and_its_pads_stay_behind_it(
    inside, border, foam, motif, panel
) -> None:  # type: ignore[no-untyped-def]
    """Off the panel by the foam, read from FOLD; a pad fits into the rim; the pattern in a rim."""
    board = board_by_key("light-card")
    drawn = MOTIFS[motif] if motif else None
    design = with_overlay(build_tray(inside), "tray", panel, border, board, foam=foam, motif=drawn)
    assert faults(design) == []
    faces = fold_reader.read(text_of(design)).faces
    ground, layer = faces["tray", panel], faces["overlay-1", "overlay"]
    apart = abs(float((layer.points[0] - ground.points[0]) @ ground.normal))
    tray = design.piece("tray").board.thickness
    assert apart == pytest.approx(tray / 2 + foam + board.thickness / 2, abs=1e-6)
    (pads,) = design.bought
    assert pads.thick == foam
    assert pads.count >= 4
    made = design.piece("overlay-1").panels[0]
    whole = Polygon(made.outline)
    cuts = [Polygon(opening.points) for opening in made.openings]
    assert bool(cuts) is (motif is not None)
    rim = min((whole.exterior.distance(cut) for cut in cuts), default=np.inf)
    assert rim >= pads.across - 1e-6
    assert shapely.union_all(cuts).area < 0.8 * whole.area


def test_a_layer_on_the_lid_counts_in_the_closed_height_and_under_a_lid_in_its_air() -> None:
    """On top by foam and board; the same on a wall under the lid binds, and is told so."""
    shape = Shape(key="tray-with-lid", options={"lid-depth": 30.0})
    plain = changed(Task(), brief=Hollow(size=(90.0, 70.0, 40.0)), shape=shape)
    bare = work_up(plain, None)
    for piece, panel in (("lid", "floor"), ("tray", "front")):
        over = Overlay(piece=piece, panel=panel, foam=2.0)
        work = work_up(changed(plain, overlays=(over,)), None)
        assert work.design is not None
        assert bare.design is not None
        board = work.design.piece("overlay-1").board
        more = 2.0 + board.thickness if piece == "lid" else 0.0
        heights = [w.design.sizes["outside-height"].value for w in (bare, work)]
        assert heights[1] - heights[0] == pytest.approx(more)
        binds = [f for f in work.findings if f.code == "overlay-under-lid"]
        assert bool(binds) is (piece == "tray")


def test_foam_is_stuck_without_glue_and_stands_on_the_list() -> None:
    """A step that counts the pads and says where they go; no drying."""
    over = Overlay(piece="lid", panel="floor", foam=2.0, pattern="stars")
    task = changed(Task(), brief=Hollow(size=(90.0, 70.0, 40.0)), overlays=(over,))
    work = work_up(task, None)
    assert work.assembly is not None
    step = next(s for s in work.assembly.steps if s.title.startswith("Stick overlay 1"))
    (pads,) = [b for b in at_hand({"box": work}) if b.name == "foam pad"]
    assert f"{pads.count} foam pads" in step.detail
    assert "weight" not in step.detail
    assert not step.caution
    assert len(work.design.piece("overlay-1").panels[0].openings) > 3


@pytest.mark.parametrize(
    ("words", "part"),
    [
        ("lid/floor", "has no ="),
        ("lid/floor=0.2mm", "1.0 mm"),
        ("lid/floor=4mm,foam=9mm", "3.0 mm"),
        ("lid/floor=4mm,pattern=leves", "leaves"),
        ("lid/floor=4mm,pattern=Leaves!", "no panel and pattern"),
        ("lid/flor=4mm", "lid/floor"),
        ("lid/floor=4mm,loud", "says nothing"),
        ("lid/floor=4mm,stiffener,pattern=leaves", "no pattern of its own"),
    ],
)
def test_overlays_on_the_command_line(words, part, tmp_path, capsys) -> None:  # type: ignore[no-untyped-def]
    """What is wrong is named with what would do, and nothing is written."""
    out = tmp_path / "box.jadeite"
    command = ["new", "tray-with-lid", "--inside", "90x70x40mm", "-o", str(out)]
    assert main([*command, "--overlay", words]) != 0
    assert part in capsys.readouterr().err
    assert not out.exists()
    good = "lid/floor=4mm,foam=2mm,pattern=leaves"
    assert main([*command, "--overlay", good, "--overlay", "tray/front=1/4in,stiffener"]) == 0
    first, second = only(load_project(out)).overlays
    assert (first.foam, first.pattern, first.border) == (2.0, "leaves", 4.0)
    assert second.stiffener
    assert second.border == pytest.approx(6.35)
