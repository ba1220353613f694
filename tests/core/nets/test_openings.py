"""Slots, slits, holes and windows, from the panel to the file."""

from __future__ import annotations

import dataclasses
import json

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from jadeite.core.boards import CATALOGUE, board_by_key, perforation
from jadeite.core.boards.fits import USUAL
from jadeite.core.cutting import fold_strokes, strokes_of
from jadeite.core.findings import Level
from jadeite.core.formats.fold_file import fold_text
from jadeite.core.nets import Opening, flat_findings, loops_of, piece_area, piece_polygon
from jadeite.core.nets.model import Panel, Piece
from jadeite.core.nets.openings import slot_for, window
from jadeite.core.nets.roles import Role
from jadeite.core.proof import prove
from tests import fold_reader
from tests.conftest import build_tray


def opened(*openings: Opening):  # type: ignore[no-untyped-def]
    """A tray of 96 x 64 mm with openings in its floor."""
    design = build_tray()
    piece = design.piece("tray")
    floor = dataclasses.replace(piece.panels[0], openings=openings)
    marked = dataclasses.replace(piece, panels=(floor, *piece.panels[1:]))
    pieces = tuple(marked if p.name == "tray" else p for p in design.pieces)
    return dataclasses.replace(design, pieces=pieces)


def box(x0: float, y0: float, x1: float, y1: float) -> Opening:
    """A rectangular window."""
    return window(np.array([x0, y0]), np.array([x1, y1]))


@pytest.mark.parametrize("board", [b.key for b in CATALOGUE])
def test_a_slot_is_as_wide_as_its_board_and_ease_or_a_slit(board) -> None:  # type: ignore[no-untyped-def]
    """t + 0.1 up to 0.5 mm, t + 0.15 beyond (from memory); under 1 mm it is a slit."""
    made = slot_for(board_by_key(board), np.zeros(2), np.array([0.0, 1.0]), 20.0, USUAL)
    t = board_by_key(board).thickness
    width = t + (0.1 if t <= 0.5 else 0.15)
    assert USUAL.slot_ease(t) == pytest.approx(width - t)
    assert np.ptp(made.points[:, 1]) == pytest.approx(20.6)  # the tongue and 0.6 mm
    if width < 1.0:
        assert made.kind == "slit"
        assert not made.closed
        assert len(made.points) == 2
    else:
        assert made.kind == "slot"
        assert np.ptp(made.points[:, 0]) == pytest.approx(width)


def test_what_falls_out_is_no_board_and_a_slit_takes_nothing() -> None:
    """Area and polygon, against Shapely."""
    plain = build_tray().piece("tray")
    slit = Opening("slit", np.array([[-30.0, 10.0], [-10.0, 10.0]]))
    piece = opened(box(-10, -10, 20, 15), slit).piece("tray")
    assert piece_area(plain) - piece_area(piece) == pytest.approx(30 * 25)
    assert piece_polygon(piece).area == pytest.approx(piece_area(piece))
    assert [loop.kind for loop in loops_of(piece)] == ["outline", "window", "slit"]
    assert loops_of(piece)[2].length == pytest.approx(20.0)


def test_inner_cuts_come_before_the_outline_and_a_slit_is_an_open_stroke() -> None:
    """In the order of working."""
    slit = Opening("slit", np.array([[-30.0, 10.0], [-10.0, 10.0]]))
    strokes = list(strokes_of(opened(box(-10, -10, 20, 15), slit).piece("tray")))
    steps = [step for step, _, _ in strokes if step != "score"]
    assert steps == ["inner", "inner", "outline"]
    inner = [points for step, points, _ in strokes if step == "inner"]
    assert sorted(len(points) for points in inner) == [2, 5]
    ring = max(inner, key=len)
    assert ring[0] == pytest.approx(ring[-1])


def test_openings_are_cut_edges_of_no_face_in_the_fold_file() -> None:
    """FOLD 1.2: assignment C; they move with their panel."""
    design = opened(box(-10, -10, 20, 15))
    text = fold_text(design)
    model = fold_reader.read(text)
    assert fold_reader.structure_faults(model) == []
    frame = json.loads(text)
    cuts = [e for e, k in zip(frame["edges_vertices"], frame["edges_assignment"], strict=True)
            if k == "C"]  # fmt: skip
    assert len(cuts) == 4
    used = {v for ring in frame["faces_vertices"] for v in ring}
    assert not used & {v for edge in cuts for v in edge}
    lines = fold_reader.openings(model)["tray"]
    floor = model.faces["tray", "floor"]
    for line in lines:
        assert np.abs(fold_reader.flat_on(floor, line)[1]).max() < 1e-9


@pytest.mark.parametrize(
    ("openings", "codes"),
    [
        ((box(-10, -10, 20, 15),), set()),
        ((box(-10, -10, -8.5, 15),), {"cutout-small"}),
        ((box(-20, -10, 0, 10), box(1.0, -10, 20, 10)), {"bridge-narrow"}),
        ((box(-20, -10, 0, 10), box(1.6, -10, 20, 10)), set()),
        ((Opening("slit", np.array([[-45.0, 0.0], [-20.0, 0.0]])),), {"slot-near-edge"}),
        ((Opening("slit", np.array([[-40.0, 0.0], [-20.0, 0.0]])),), set()),
        ((box(-48.0, -10, 0, 10),), {"bridge-narrow"}),
    ],
)
def test_bridges_cut_outs_and_slots_too_small_are_said(openings, codes) -> None:  # type: ignore[no-untyped-def]
    """1.5 mm of bridge, 2 mm of cut-out, 4 mm of board round a slot (all from memory)."""
    found = flat_findings(opened(*openings).piece("tray"))
    assert {f.code for f in found} == codes
    assert all(f.level is Level.LOOK for f in found)


def test_a_panel_that_crosses_itself_blocks() -> None:
    """A bow tie is no panel."""
    design = build_tray()
    piece = design.piece("tray")
    floor = piece.panels[0]
    bow = dataclasses.replace(floor, outline=floor.outline[[0, 2, 1, 3]])
    wrong = dataclasses.replace(piece, panels=(bow, *piece.panels[1:]), folds=())
    assert not shapely.Polygon(bow.outline).is_valid
    codes = {f.code for f in flat_findings(wrong)}
    assert "panel-crosses-itself" in codes


def test_openings_change_nothing_about_closure() -> None:
    """A window in the floor: every joint as before."""
    before, after = prove(build_tray())[0], prove(opened(box(-10, -10, 20, 15)))[0]
    assert [r.landed for r in before] == pytest.approx([r.landed for r in after])


@settings(max_examples=80)
@given(
    board=st.sampled_from([b.key for b in CATALOGUE]),
    length=st.floats(8.0, 400.0),
    turn=st.floats(0.0, 6.28),
)
def test_property_perforations_leave_board_at_both_ends(board, length, turn) -> None:  # type: ignore[no-untyped-def]
    """Equal dashes on the line, gaps by the board between them and at either end."""
    kind = board_by_key(board)
    way = np.array([np.cos(turn), np.sin(turn)])
    line = np.array([[3.0, 4.0], [3.0, 4.0] + way * length])
    dash, gap = perforation(kind)
    made = fold_strokes(line, "perforated", kind)
    along = np.array([[(p - line[0]) @ way for p in points] for _, points in made])
    across = np.array([[(p - line[0]) @ [-way[1], way[0]] for p in points] for _, points in made])
    assert np.abs(across).max() < 1e-9
    assert along[0, 0] == pytest.approx(gap)
    assert along[-1, 1] == pytest.approx(length - gap)
    lengths = along[:, 1] - along[:, 0]
    assert np.ptp(lengths) < 1e-9
    assert dash <= lengths[0] + 1e-9 < 2 * dash + gap + 1e-6
    assert along[1:, 0] - along[:-1, 1] == pytest.approx(gap)


def test_what_crosses_itself_is_told_and_ends_in_no_error() -> None:
    """A spike of no width beside another panel: what is left of it is no board."""
    outline = np.array([[0, 0], [10, 0], [10, 10], [15, 10], [10, 10], [0, 10]], float)
    beside = np.array([[10, 0], [20, 0], [20, 20], [10, 20]], float)
    panels = tuple(
        Panel(name, name, Role.WALL, points, (10.0, 10.0))
        for name, points in (("spiked", outline), ("beside", beside))
    )
    piece = Piece("odd", "odd", board_by_key("medium-card"), panels, (), "outside")
    codes = [finding.code for finding in flat_findings(piece)]
    assert codes[0] == "panel-crosses-itself"
