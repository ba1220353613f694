"""The proof can fail: damaged designs are found out."""

from __future__ import annotations

import dataclasses

import numpy as np
import pytest

from jadeite.core.boards import board_by_key
from jadeite.core.findings import Level
from jadeite.core.folding import (
    body_gap,
    box_body,
    crossings,
    cylinder_body,
    folded_faces,
    joint_reports,
    tabs_in_one_place,
)
from jadeite.core.folding.kinematics import FoldedFace
from jadeite.core.formats.fold_file import fold_text
from jadeite.core.nets import Design, Hollow, NetBuilder, Piece
from jadeite.core.proof import prove
from tests import fold_reader
from tests.conftest import build_tray


def damaged(design: Design, piece_name: str, change) -> Design:  # type: ignore[no-untyped-def]
    """The design with one piece changed."""
    pieces = tuple(change(p) if p.name == piece_name else p for p in design.pieces)
    return dataclasses.replace(design, pieces=pieces)


def refold(child: str, angle: float):  # type: ignore[no-untyped-def]
    """Change one fold's angle."""

    def change(piece: Piece) -> Piece:
        folds = tuple(
            dataclasses.replace(f, angle=angle) if f.child == child else f for f in piece.folds
        )
        return dataclasses.replace(piece, folds=folds)

    return change


def moved(panel_name: str, shift: tuple[float, float]):  # type: ignore[no-untyped-def]
    """Shift one panel's outline."""

    def change(piece: Piece) -> Piece:
        panels = tuple(
            dataclasses.replace(p, outline=p.outline + np.array(shift))
            if p.name == panel_name
            else p
            for p in piece.panels
        )
        return dataclasses.replace(piece, panels=panels)

    return change


def codes(design: Design) -> set[str]:
    """Codes of everything that blocks."""
    return {f.code for f in prove(design)[1] if f.level is Level.BLOCKED}


def test_a_sound_design_has_no_fault() -> None:
    """The undamaged tray, by both readers."""
    design = build_tray()
    assert codes(design) == set()
    assert fold_reader.open_joints(fold_reader.read(fold_text(design))) == []


def test_a_wall_that_leans_opens_its_joints() -> None:
    """One degree is more than the tenth allowed."""
    design = damaged(build_tray(), "tray", refold("back", -89.0))
    assert "joint-open" in codes(design)
    assert fold_reader.open_joints(fold_reader.read(fold_text(design)))


@pytest.mark.parametrize("set_back", [True, False])
def test_a_tab_scored_at_the_corner_is_found(set_back: bool) -> None:
    """Without its setback the tab lies in the wall it is glued to: distance 0 instead of t."""
    net = NetBuilder("p", "piece", board_by_key("craft-board"), "inside")
    floor = net.base("floor", 60, 40)
    wall = net.wall("wall", floor.side("right"), 30)
    target = net.wall("target", floor.side("back"), 30)
    net.tab("tab", wall.side("start"), target, "end", 10.0)
    if not set_back:
        wall.start_inset = 0.0
    piece = net.build()
    hollow = Hollow((1.0, 1.0, 1.0), (0.0, 0.0, 5.0))
    design = Design("x", "x", (piece,), {"p": np.eye(4)}, tuple(net.joints), hollow, {})
    (report,) = joint_reports(design)
    assert report.distance == pytest.approx(0.5 if set_back else 0.0, abs=1e-9)
    assert report.closed is set_back
    assert ("joint-open" in codes(design)) is not set_back


def test_a_tab_that_misses_its_target_is_found() -> None:
    """Shifted up over the rim by a tenth of its length it lands less than 95 %."""
    design = damaged(build_tray(), "tray", moved("tab.left.back", (-6.0, 0.0)))
    report = next(r for r in joint_reports(design) if r.joint.tab[1] == "tab.left.back")
    assert report.landed < 0.95
    assert "joint-open" in codes(design)


def test_a_wall_folded_too_far_goes_through() -> None:
    """At 100 degrees the wall leans into the tabs behind it."""
    design = damaged(build_tray(), "tray", refold("back", -100.0))
    found = codes(design)
    assert "panels-cross" in found or "hollow-small" in found
    assert fold_reader.penetrations(fold_reader.read(fold_text(design)))


def test_two_tabs_in_one_place_are_found() -> None:
    """The same tab glued twice claims its place twice."""
    design = build_tray()
    twice = dataclasses.replace(design, joints=(*design.joints, design.joints[0]))
    assert tabs_in_one_place(joint_reports(design)) == []
    assert len(tabs_in_one_place(joint_reports(twice))) == 1
    assert "tabs-in-one-place" in codes(twice)


def test_a_hollow_that_is_not_free_is_found() -> None:
    """A tenth of a millimetre too long touches the walls."""
    design = build_tray()
    x, y, z = design.hollow.size
    larger = dataclasses.replace(design, hollow=Hollow((x + 0.1, y, z), design.hollow.centre))
    assert "hollow-small" in codes(larger)


def face(points: list[tuple[float, float, float]], name: str, thickness: float = 0.2) -> FoldedFace:
    """A face in space."""
    array = np.array(points, dtype=float)
    return FoldedFace("p", name, array, fold_reader.newell(array), thickness)


def test_crossing_faces_and_touching_faces() -> None:
    """A cross is found with its length; a T, a corner and a gap are not."""
    level = face([(0, 0, 0), (10, 0, 0), (10, 10, 0), (0, 10, 0)], "level")
    through = face([(5, 2, -3), (5, 8, -3), (5, 8, 3), (5, 2, 3)], "through")
    standing = face([(8, 2, 0), (8, 8, 0), (8, 8, 3), (8, 2, 3)], "standing")
    beside = face([(12, 2, -3), (12, 8, -3), (12, 8, 3), (12, 2, 3)], "beside")
    same = face([(2, 2, 0), (6, 2, 0), (6, 6, 0), (2, 6, 0)], "same")
    above = face([(2, 2, 0.2), (6, 2, 0.2), (6, 6, 0.2), (2, 6, 0.2)], "above")
    found = {
        (a.panel, b.panel): length
        for a, b, length in crossings((level, through, standing, beside, above))
    }
    assert set(found) == {("level", "through"), ("through", "above")}
    assert found["level", "through"] == pytest.approx(6.0)
    assert len(crossings((level, same))) == 1
    assert (
        crossings((level, through), frozenset({frozenset({("p", "through"), ("p", "level")})}))
        == []
    )


def test_room_between_a_block_and_a_face() -> None:
    """Hand-worked: half a thickness counts, and a leaning face is measured along its normal."""
    low, high = np.zeros(3), np.array([10.0, 10.0, 10.0])
    wall = face([(12, 0, 0), (12, 10, 0), (12, 10, 10), (12, 0, 10)], "wall", 0.4)
    assert body_gap((wall,), low, high)[0] == pytest.approx(1.8)
    inside = face([(9, 0, 0), (9, 10, 0), (9, 10, 10), (9, 0, 10)], "inside", 0.4)
    assert body_gap((inside,), low, high)[0] < 0
    s = 2**0.5
    lean = face([(10 + 2, 0, 10), (10 + 2, 10, 10), (10, 10, 12), (10, 0, 12)], "lean", 0.2)
    assert body_gap((lean,), low, high)[0] == pytest.approx(s - 0.1, abs=1e-9)


def test_bodies_are_closed_and_hold_their_size() -> None:
    """Volume by the divergence theorem against the formula (trimesh as reference)."""
    import trimesh

    for body, volume, slack in (
        (box_body("b", (3, 4, 5), np.array([1.0, 2.0, 3.0])), 60.0, 1e-9),
        (cylinder_body("c", 10, 20, np.array([0.0, 0.0, 0.0]), 0, 96), np.pi * 25 * 20, 0.003),
    ):
        vertices, faces = [], []
        for polygon in body.faces:
            base = sum(len(v) for v in vertices)
            vertices.append(polygon)
            faces += [[base, base + i, base + i + 1] for i in range(1, len(polygon) - 1)]
        mesh = trimesh.Trimesh(np.concatenate(vertices), faces)
        assert mesh.is_watertight
        assert mesh.volume == pytest.approx(volume, rel=max(slack, 1e-9))


def test_folded_faces_are_every_panel() -> None:
    """Nothing is left out of the proof."""
    design = build_tray(tray_walls="double")
    assert len(folded_faces(design)) == sum(len(p.panels) for p in design.pieces)


def test_a_tab_deeper_than_its_target_is_said_so() -> None:
    """In these words, beside the joint that does not close."""

    def deepen(piece: Piece) -> Piece:
        def longer(panel):  # type: ignore[no-untyped-def]
            if panel.name != "tab.left.back":
                return panel
            outline = panel.outline.copy()
            outline[2:, 1] += 150.0 * np.sign(outline[2, 1] - outline[0, 1])
            return dataclasses.replace(panel, outline=outline, size=(panel.size[0], 160.0))

        return dataclasses.replace(piece, panels=tuple(longer(p) for p in piece.panels))

    assert {"tab-too-deep", "joint-open"} <= codes(damaged(build_tray(), "tray", deepen))
