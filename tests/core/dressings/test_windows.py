"""Windows and linings in any panel of any family, measured on the FOLD text and with Shapely."""

from __future__ import annotations

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.geometry import Polygon

from jadeite.core.assembly import adhesive_by_key, assembly_plan, lift_of
from jadeite.core.boards import board_by_key
from jadeite.core.dressings import pane_of
from jadeite.core.dressings.behind import standing_at
from jadeite.core.dressings.frames import BESIDE_TAB
from jadeite.core.dressings.windows import LINING_MARGIN, Pane, with_window
from jadeite.core.errors import FieldError
from jadeite.core.nets import loops_of
from jadeite.core.nets.model import Design
from jadeite.core.nets.roles import Role
from jadeite.core.nets.turns import closed_matrix
from jadeite.core.patterns import MOTIFS, holds_together
from jadeite.core.pipeline import arrange_contents, windows_from, work_up
from jadeite.core.project import Hollow, Shape, Task, Window, changed
from jadeite.core.shapes import all_families, family_by_key
from tests import fold_reader
from tests.core.shapes.closing import FOLDING, build, faults, text_of

KEYS = ("plain", *MOTIFS)
GLUE = adhesive_by_key("liquid-craft-glue")
SLIM = board_by_key("translucent")


def _glued_on(model: fold_reader.Model, piece: str, panel: str) -> list[Polygon]:
    """Where tabs and linings lie on a panel, from the FOLD text, in its own plane."""
    target = model.faces[piece, panel]
    out = []
    for joint in model.joints:
        if joint["kind"] == "glue" and tuple(joint["target"]) == (piece, panel):
            flat, _ = fold_reader.flat_on(target, model.faces[tuple(joint["tab"])].points)
            out.append((joint["tab"][0], Polygon(flat)))
    return out


def _walls_at(design: Design, piece: str, panel: str) -> bool:
    """Whether walls of others end at a panel, within the thickness of a lining."""
    return any(True for _ in standing_at(design, (piece, panel), 0.2))


@settings(max_examples=80)
@given(data=st.data(), family=st.sampled_from(all_families()), board=FOLDING)
def test_property_windows_hold_and_linings_cover_them(data, family, board) -> None:  # type: ignore[no-untyped-def]
    """No tab nor seam under a window; the lining larger by its margin, clear of later glue."""
    inside = data.draw(st.tuples(*(st.floats(45.0, 150.0) for _ in range(3))))
    motif, lined = data.draw(st.sampled_from(KEYS)), data.draw(st.booleans())
    pane = Pane(MOTIFS.get(motif), data.draw(st.floats(3.0, 15.0)), data.draw(st.floats(7.0, 30.0)),
                data.draw(st.integers(0, 5)))  # fmt: skip
    try:
        plain = build(family, inside, board)
        piece = data.draw(
            st.sampled_from(([p for p in plain.pieces if p.folds] or plain.pieces)[:3])
        )
        panel = data.draw(st.sampled_from([p.name for p in piece.panels]))
        design = with_window(plain, piece.name, panel, pane, SLIM if lined else None)
    except FieldError:
        return  # what can have none is tested below
    cut = design.piece(piece.name).panel(panel)
    holes = [o.points for o in cut.openings if o.closed]  # a slit takes nothing away
    assert holes
    assert holds_together(cut.outline, holes)
    assert faults(design) == []
    model = fold_reader.read(text_of(design))
    face = model.faces[piece.name, panel]
    seen = _cut_outs(model, face)
    assert len(seen) == len(holes)
    window = shapely.union_all(seen)
    glued = _glued_on(model, piece.name, panel)
    tabs = [shape for name, shape in glued if not name.startswith("lining")]
    for tab in tabs:
        assert tab.distance(window) > 1.0 - 0.02  # 1 mm past every tab
    linings = [shape for name, shape in glued if name.startswith("lining")]
    assert len(linings) == int(lined)
    before = fold_reader.read(text_of(plain))  # holes for a cord are not lined
    others = shapely.union_all(_cut_outs(before, before.faces[piece.name, panel]))
    window = shapely.union_all([hole for hole in seen if not hole.buffer(-0.1).intersects(others)])
    assert not window.is_empty
    for lining in linings:
        assert lining.buffer(1e-6).contains(window)
        assert lining.exterior.distance(window) > BESIDE_TAB - 1e-4  # files have 5 decimals
        if not tabs and plain.has((piece.name, panel)) and not _walls_at(plain, piece.name, panel):
            assert lining.exterior.distance(window) > LINING_MARGIN - 1e-4
        for tab in tabs:
            assert lining.intersection(tab).area < 1e-6


@pytest.mark.parametrize("frame", [3.0, 5.0])
@pytest.mark.parametrize("board", ["medium-card", "craft-board"])
def test_a_lining_in_a_lid_keeps_off_the_walls_that_end_at_it(frame: float, board: str) -> None:
    """The tray's rim stands under the lid's top, where nothing is glued."""
    plain = build(family_by_key("tray-with-lid"), (86.5, 86.5, 86.5), board)
    design = with_window(plain, "lid", "floor", Pane(frame=frame), SLIM)
    assert faults(design) == []
    assert design.sizes["window-1-frame"].value >= 5.0
    walls = [Polygon(w) for w in standing_at(plain, ("lid", "floor"), 0.2)]
    top = fold_reader.read(text_of(design)).faces["lid", "floor"]
    lining = next(s for n, s in _glued_on(fold_reader.read(text_of(design)), "lid", "floor"))
    assert walls
    assert Polygon(fold_reader.flat_on(top, top.points)[0]).contains(lining)
    bare = with_window(plain, "lid", "floor", Pane(frame=frame))
    assert bare.sizes["window-1-frame"].value == frame


def _cut_outs(model: fold_reader.Model, face: fold_reader.Face) -> list[Polygon]:
    """Cut-outs of a face, closed from the cut edges of the file."""
    lines = []
    for edge in fold_reader.openings(model).get(face.piece, []):
        flat, heights = fold_reader.flat_on(face, edge)
        if np.abs(heights).max() < 1e-4:
            lines.append(shapely.LineString(np.round(flat, 5)))
    outline = Polygon(fold_reader.flat_on(face, face.points)[0])
    rings = shapely.polygonize(lines).geoms
    return [ring for ring in rings if outline.contains(ring.representative_point())]


def _sides(design: Design) -> dict[str, float]:
    """Width of a window's frame along each side, as the reckoning says it."""
    terms = design.sizes["window-1-frame"].inputs
    return {term.name: round(term.value, 1) for term in terms if term.rule}


def _gaps(design: Design, piece: str, name: str) -> dict[str, float]:
    """The same, measured on the panel of a plain window by Shapely."""
    panel = design.piece(piece).panel(name)
    x0, y0, x1, y1 = Polygon(panel.outline).bounds
    a0, b0, a1, b1 = Polygon(panel.openings[-1].points).bounds
    return {
        "left": round(a0 - x0, 1), "foot": round(b0 - y0, 1),
        "right": round(x1 - a1, 1), "top": round(y1 - b1, 1),
    }  # fmt: skip


def test_a_frame_is_as_wide_along_each_side_as_what_lies_behind_it() -> None:
    """6 mm; a tab of 6 mm and 1 mm; with a lining 6 + 3 + 1 mm (from memory); left as right."""
    design = build(family_by_key("tray-with-lid"), (120.0, 90.0, 80.0))
    floor = with_window(design, "lid", "floor", Pane())
    assert set(_sides(floor).values()) == {6.0}
    assert set(_sides(with_window(design, "tray", "right", Pane())).values()) == {6.0}
    front = with_window(design, "tray", "front", Pane())  # tabs of both neighbours lie behind
    assert _sides(front) == {"left": 7.0, "right": 7.0, "foot": 6.0, "top": 6.0}
    lined = with_window(design, "tray", "front", Pane(), SLIM)
    assert _sides(lined) == {"left": 10.0, "right": 10.0, "foot": 6.0, "top": 6.0}
    assert _gaps(lined, "tray", "front") == _sides(lined)
    whole = with_window(design, "tray", "front", Pane(whole=True), SLIM)
    assert _sides(whole) == {"left": 14.0, "right": 14.0, "foot": 6.0, "top": 6.0}
    even = with_window(design, "tray", "front", Pane(even=True), SLIM)
    assert set(_sides(even).values()) == {10.0}


def test_what_cannot_have_a_window_says_so() -> None:
    """Tabs, bent walls, what is glued all over; and a pattern that is none."""
    round_ = build(family_by_key("round-box"), (90.0, 90.0, 60.0), measured="round")
    for piece, panel in (("wall", "facet.3"), ("wall", "tooth.3"), ("wall", "nothing")):
        with pytest.raises(FieldError, match="Choose another panel"):
            with_window(round_, piece, panel, Pane())
    dome = build(family_by_key("domed-box"), (90.0, 90.0, 60.0))
    with pytest.raises(FieldError, match="leaves no window"):
        with_window(dome, "base-brim", "base-brim", Pane())
    tray = build(family_by_key("tray-with-lid"), (60.0, 40.0, 16.0))
    with pytest.raises(FieldError, match="leaves no window"):
        with_window(tray, "tray", "front", Pane())
    with pytest.raises(FieldError, match="plain, lattice"):
        pane_of(Window(piece="lid", panel="floor", motif="spirals"), Task())


def test_a_lined_window_is_a_decision_of_the_project() -> None:
    """Board of its own, cut-outs counted, glued behind and dry before anything is folded."""
    windows = (
        Window(piece="tray", panel="front", motif="hexagons", lined=True),
        Window(piece="tray", panel="back", motif="hexagons", number=1, lined=True),
        Window(piece="lid", panel="floor", motif="moons", size=20.0),
    )
    project = changed(
        Task(), brief=Hollow(size=(120.0, 90.0, 80.0)), windows=windows, shape=Shape(options={})
    )
    work = work_up(project, None)
    assert not work.blocked
    design = work.design
    assert design is not None
    assert work.boards["lining"].key == "translucent"
    assert {p.board.key for p in design.pieces if p.name.startswith("lining")} == {"translucent"}
    plan = assembly_plan(design, lift_of(design), GLUE)
    titles = [s.title for s in plan.steps]
    glue = titles.index("Glue the 2 linings behind the windows")
    assert glue < next(i for i, t in enumerate(titles) if t.startswith("Crease"))
    assert "before you fold" in plan.steps[glue].detail
    cut = sum(loop.kind == "window" for loop in loops_of(design.piece("tray")))
    peel = next(s for s in plan.steps if s.title == "Peel the tray off")
    assert f"{cut} cut-outs" in peel.detail
    assert 5 < work.sizes["window-1-open"].value < 60
    stops = [label for _, label in lift_of(design).stops]
    assert stops.index("turned over") < stops.index("lined") < stops.index("walls")
    assert design.hollow.size[1] == 90.0  # the walls' linings lie beside the tabs' ply
    floor = changed(project, windows=(Window(piece="tray", panel="floor", lined=True),))
    lower = work_up(floor, None).design
    assert lower is not None
    assert lower.hollow.size[2] == pytest.approx(80.0 - 0.10)  # on the floor it takes its own


STRIPPED = [("lantern", {}), ("lantern", {"bottom": "open", "top": "open"}), ("carton", {}),
            ("n-sided-box", {}), ("tray-with-lid", {})]  # fmt: skip


def stripped(key: str, options, inside, sides: int | None = None):  # type: ignore[no-untyped-def]
    """A project with hexagons in every wall and one strip behind them, worked up."""
    chosen = options if sides is None else {**options, "sides": sides}
    known = {o.key for o in family_by_key(key).options}
    chosen = {k: v for k, v in chosen.items() if k in known}
    project = changed(
        Task(), brief=Hollow(size=inside), shape=Shape(key=key, options=chosen), linings="strip"
    )
    arrangement = arrange_contents(project)
    made = windows_from(project, arrangement, "walls", "hexagons", lined=True)
    return work_up(changed(project, windows=made), arrangement)


@settings(max_examples=25)
@given(
    case=st.sampled_from(STRIPPED), sides=st.integers(3, 10),
    inside=st.tuples(*(st.floats(70.0, 160.0) for _ in range(3))),
)  # fmt: skip
def test_property_one_strip_lines_all_windows(case, sides, inside) -> None:  # type: ignore[no-untyped-def]
    """It stands behind every cut-out and 4 mm above (from memory), its lap is glued, it closes."""
    key, options = case
    try:
        work = stripped(key, options, inside, sides if key == "lantern" else None)
    except FieldError:  # no wall is wide enough
        return
    assert work.design is not None
    refused = [f for f in work.findings if f.code == "lining-refused"]
    assert faults(work.design) == []
    if refused:
        assert work.design.pieces[-1].name != "lining-1"
        return
    strip = work.design.piece("lining-1")
    model = fold_reader.read(text_of(work.design))
    top = max(f.points[:, 2].max() for (p, _), f in model.faces.items() if p == "lining-1")
    place = work.design.placements
    cut = []
    for piece in work.design.pieces:
        for panel in piece.panels:
            m = closed_matrix(piece, place[piece.name], panel.name)
            cut += [(o.points @ m[:3, :2].T + m[:3, 3]) for o in panel.openings
                    if o.kind == "window"]  # fmt: skip
    hollow = work.design.hollow
    most = hollow.centre[2] + hollow.size[2] / 2
    highest = max(points[:, 2].max() for points in cut)
    assert top >= min(highest + 4.0, most) - 1e-6
    assert top > highest
    sides_of_it = [p for p in strip.panels if p.role is Role.STRIP]
    walls = [p for p in work.design.pieces[0].panels if p.role is Role.WALL]
    assert len(sides_of_it) == len(walls)
    assert [j for j in work.design.joints if j.tab == ("lining-1", "lap") and j.kind == "glue"]


def test_a_strip_slides_in_and_is_refused_where_walls_lean() -> None:
    """Its step says how; a spire's walls lean, so each window is lined by itself: one click."""
    work = stripped("lantern", {}, (70.0, 70.0, 100.0))
    assert {f.code for f in work.findings} == set()
    assert work.design is not None
    steps = assembly_plan(work.design, lift_of(work.design), GLUE).steps
    step = next(s for s in steps if s.title == "Stand the lining strip in")
    assert "holds by itself" in step.detail
    assert work.design.sizes["lining-1-length"].value < 4 * 71.0
    spire = stripped("spire", {}, (90.0, 90.0, 100.0))
    finding = next(f for f in spire.findings if f.code == "lining-refused")
    assert finding.cure is not None
    assert finding.cure.changes == (("linings", "each"),)
