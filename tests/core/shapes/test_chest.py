"""The hinged chest, proved from its exported FOLD geometry."""

from __future__ import annotations

import dataclasses

import pytest
from hypothesis import example, given, settings

from jadeite.core.assembly import lift_of
from jadeite.core.boards import board_by_key
from jadeite.core.dressings import boards_of
from jadeite.core.errors import FieldError
from jadeite.core.project import Hollow, Shape, Task, changed
from jadeite.core.proof import prove
from jadeite.core.shapes import family_by_key
from tests import fold_reader
from tests.core.shapes.closing import (
    FOLDING,
    boards_for,
    build,
    closes_or_says_why,
    options_of,
    sizes,
    text_of,
)

FAMILY = family_by_key("chest")
FULL = {"lid-depth": 22.0, "latch": "hook-over", "handle": "strap", "stand-ups": 3}


@settings(max_examples=200)
@given(inside=sizes(30.0, 250.0), board=FOLDING, chosen=options_of(FAMILY))
@example((64.0, 30.0, 28.0), "craft-board", FULL)
@example((120.0, 80.0, 50.0), "medium-card", FULL)
def test_property_every_chest_closes(inside, board, chosen) -> None:  # type: ignore[no-untyped-def]
    """Over all sizes, boards and options together."""
    closes_or_says_why(FAMILY, inside, board, chosen)


def test_three_stand_up_pieces_end_below_the_closed_lid() -> None:
    """Measured in the FOLD text: 1 mm or more (from memory) under all that is below the lid."""
    design = build(FAMILY, (120.0, 80.0, 50.0), stand_ups=3)
    model = fold_reader.read(text_of(design))
    t = 0.23
    tops = [f.points[:, 2].max() for (p, n), f in model.faces.items() if p.startswith("stand-up")]
    hanging = [
        f.points[:, 2].min() - t / 2
        for (p, n), f in model.faces.items()
        if p == "handle" and n.startswith("foot")
    ]
    ceiling = model.faces["tray-2", "floor"].points[:, 2].min() - t / 2
    assert len([p for p, n in model.faces if n == "leg"]) == 3
    assert max(tops) <= min([*hanging, ceiling]) - 1.0 + 1e-6


def test_the_handle_passes_two_slots_wide_enough_for_its_board() -> None:
    """Thin board: slits, 0.6 mm longer than the strap; 1 mm board: slots of t + 0.15 (memory)."""
    design = build(FAMILY, (120.0, 80.0, 50.0))
    openings = design.piece("tray-2").panel("floor").openings
    assert [o.kind for o in openings] == ["slit", "slit"]
    reports = [r for r in prove(design)[0] if r.joint.kind == "tongue"]
    assert len(reports) == 2
    assert all(r.closed and r.distance == pytest.approx(0.6) for r in reports)
    boards = boards_for(FAMILY, "medium-card") | {"handle": board_by_key("thin-chipboard")}
    thick = FAMILY.build((120.0, 80.0, 50.0), boards, {**FULL, "stand-ups": 0})
    slot = thick.piece("tray-2").panel("floor").openings[0]
    assert slot.kind == "slot"
    assert min(slot.points[:, 0].max() - slot.points[:, 0].min(), 9) == pytest.approx(1.15)


def test_a_slot_too_narrow_for_its_board_is_found() -> None:
    """With a slit half as long, the riser passes through the board beside it."""
    design = build(FAMILY, (120.0, 80.0, 50.0))
    lid = design.piece("tray-2")
    floor = lid.panel("floor")
    short = dataclasses.replace(floor.openings[0], points=floor.openings[0].points * [1.0, 0.5])
    marked = dataclasses.replace(floor, openings=(short, *floor.openings[1:]))
    panels = tuple(marked if p.name == "floor" else p for p in lid.panels)
    pieces = tuple(
        dataclasses.replace(p, panels=panels) if p.name == "tray-2" else p for p in design.pieces
    )
    codes = {f.code for f in prove(dataclasses.replace(design, pieces=pieces))[1]}
    assert {"joint-open", "panels-cross"} <= codes


def test_the_latch_holds_because_its_catch_stands_proud() -> None:
    """A pad as thin as the latch is refused; chipboard, the usual one, holds."""
    project = changed(Task(), brief=Hollow(size=(120.0, 80.0, 50.0)), shape=Shape(key="chest"))
    boards = boards_of(project, FAMILY)
    assert boards["pad"].thickness == 2.0
    design = build(FAMILY, (120.0, 80.0, 50.0))
    assert design.sizes["catch-proud"].value > boards["latch"].thickness
    with pytest.raises(FieldError, match="pad"):
        FAMILY.build((120.0, 80.0, 50.0), boards | {"pad": boards["tray"]}, FULL)


def test_straps_and_gaps_do_not_grow_with_the_chest() -> None:
    """Half, one and double size."""
    kept = []
    for factor in (0.5, 1.0, 2.0):
        inside = tuple(v * factor for v in (240.0, 160.0, 100.0))
        design = build(FAMILY, inside)
        panel = {p.name: p for p in design.piece("latch").panels}
        kept.append([design.sizes["rim-gap"].value, design.sizes["catch-proud"].value,
                     design.sizes["hinge-strip"].value, panel["lower"].size[1],
                     design.piece("handle").panel("foot.right").size[1]])  # fmt: skip
    assert kept[0] == pytest.approx(kept[1])
    assert kept[1] == pytest.approx(kept[2])


def test_what_is_glued_to_the_lid_goes_on_with_it() -> None:
    """At the end of the lift everything stands where the design has it."""
    design = build(FAMILY, (120.0, 80.0, 50.0), stand_ups=2)
    pose = lift_of(design).pose(1.0).matrices
    home = pose["tray"]["floor"][:3, 3] - design.placements["tray"][:3, 3]
    for piece in design.pieces:
        here = pose[piece.name][piece.panels[0].name]
        there = design.placements[piece.name]
        assert here[:3, :3] == pytest.approx(there[:3, :3], abs=1e-9)
        assert here[:3, 3] - home == pytest.approx(there[:3, 3], abs=1e-6)
