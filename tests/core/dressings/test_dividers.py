"""Dividers and second floors are real pieces: slots meet, heights agree, all of it proved."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from jadeite.core.assembly import adhesive_by_key, assembly_plan, lift_of
from jadeite.core.boards import CATALOGUE, board_by_key
from jadeite.core.boards.fits import USUAL
from jadeite.core.contents.grid import Grid
from jadeite.core.dressings.dividers import with_dividers
from jadeite.core.folding import joint_reports
from jadeite.core.formats.fold_file import fold_text
from jadeite.core.nets import Piece
from jadeite.core.proof import prove
from tests import fold_reader
from tests.conftest import build_tray

BOARDS = st.sampled_from([b.key for b in CATALOGUE if b.thickness >= 0.15])
CELLS = st.lists(st.floats(8.0, 70.0), min_size=1, max_size=5)


def divided(columns, rows, board: str, height: float = 30.0, **options):  # type: ignore[no-untyped-def]
    """A tray as large as a grid, with the grid in it."""
    strip = board_by_key(board)
    grid = Grid(tuple(columns), tuple(rows), strip.thickness, height)
    x, y = (max(15.0, v) for v in grid.size)
    design = build_tray((x, y, height + 1.0), **options)  # a millimetre under the lid
    return with_dividers(design, grid.widened(x, y), strip)


@settings(max_examples=60)
@given(CELLS, CELLS, BOARDS, st.floats(14.5, 90.0))
def test_property_every_grid_interlocks(columns, rows, board, height) -> None:  # type: ignore[no-untyped-def]
    """Proved by us, and again from the FOLD text alone."""
    design = divided(columns, rows, board, height)
    reports, findings = prove(design)
    slots = [r for r in reports if r.joint.kind == "slot"]
    assert len(slots) == (len(columns) - 1) * (len(rows) - 1)
    assert all(r.closed for r in reports)
    assert not [f for f in findings if f.code in ("joint-open", "panels-cross", "hollow-small")]
    assert len(design.cells) == len(columns) * len(rows)
    model = fold_reader.read(fold_text(design))
    assert fold_reader.penetrations(model) == []
    assert fold_reader.open_slots(model) == []


def test_slots_are_as_the_craft_says() -> None:
    """Half the height and half a millimetre deep, board and ease wide (from memory)."""
    design = divided((40.0, 30.0), (25.0, 35.0), "medium-card", 30.0)
    strip = design.piece("divider-long-1").panels[0]
    whole = shapely.Polygon(strip.outline)
    gap = shapely.box(*whole.bounds).difference(whole)
    x0, y0, x1, y1 = gap.bounds
    assert x1 - x0 == pytest.approx(0.23 + USUAL.slot_ease(0.23))
    assert y1 - y0 == pytest.approx(15.5)
    assert design.sizes["divider-slot-depth"].value == pytest.approx(15.5)
    assert [c.size[0] for c in design.cells[:2]] == pytest.approx([40.0, 30.0])


def damaged(design, name: str, change):  # type: ignore[no-untyped-def]
    """The design with the outline of one strip changed."""
    pieces = []
    for piece in design.pieces:
        if piece.name == name:
            panel = piece.panels[0]
            panel = replace(panel, outline=change(panel.outline.copy()))
            piece = Piece(piece.name, piece.title, piece.board, (panel,), ())
        pieces.append(piece)
    return replace(design, pieces=tuple(pieces))


def shallow(outline: np.ndarray) -> np.ndarray:
    """Slot 2 mm less deep."""
    inner = outline[:, 1] == np.sort(np.unique(outline[:, 1]))[1]
    outline[inner, 1] += 2.0
    return outline


def narrow(outline: np.ndarray) -> np.ndarray:
    """Slot closed to a third of its width."""
    middle = outline[2:6, 0].mean()
    outline[2:6, 0] = middle + (outline[2:6, 0] - middle) / 3
    return outline


def high(outline: np.ndarray) -> np.ndarray:
    """The whole strip a millimetre higher."""
    outline[outline[:, 1] > 29, 1] += 1.0
    return outline


@pytest.mark.parametrize("change", [shallow, narrow, high])
def test_a_strip_cut_wrongly_does_not_pass(change) -> None:  # type: ignore[no-untyped-def]
    """The proof can fail: slots too shallow or too narrow, heights that differ."""
    design = divided((40.0, 30.0), (25.0, 35.0), "thin-chipboard", 30.0)
    assert all(r.closed for r in joint_reports(design))
    bad = damaged(design, "divider-long-1", change)
    assert not all(r.closed for r in joint_reports(bad) if r.joint.kind == "slot")


@pytest.mark.parametrize("walls", ["single", "double"])
@pytest.mark.parametrize("ply", ["medium-card", "thin-chipboard", "chipboard"])
def test_a_second_floor_closes_and_keeps_the_inside(walls: str, ply: str) -> None:
    """Its thickness goes into the wall, not into the hollow."""
    design = build_tray((96.0, 64.0, 41.0), floor="doubled", tray_walls=walls, floor_ply=ply)
    reports, findings = prove(design)
    assert all(r.closed for r in reports)
    assert [f for f in findings if f.level == 2] == []
    plain = build_tray((96.0, 64.0, 41.0), tray_walls=walls)
    thicker = board_by_key(ply).thickness
    taller = design.sizes["wall-height"].value - plain.sizes["wall-height"].value
    assert taller == pytest.approx(thicker)
    model = fold_reader.read(fold_text(design))
    assert fold_reader.open_joints(model) == []
    assert fold_reader.penetrations(model) == []
    assert fold_reader.inside_size(model, "tray")[2] == pytest.approx(41.0, abs=0.05)


def test_the_steps_say_what_makes_dividers_carry_the_floor() -> None:
    """The floor's sag counts on it: every strip is glued along its foot and its ends."""
    design = divided((40.0, 40.0), (30.0, 30.0), "medium-card")
    plan = assembly_plan(design, lift_of(design), adhesive_by_key("liquid-craft-glue"))
    strips = [step for step in plan.steps if "divider" in step.title and "Stand" in step.title]
    assert len(strips) == 2
    assert all("glue along its foot and its ends" in step.detail for step in strips)
