"""The hinged chest, proved from its exported FOLD geometry."""

from __future__ import annotations

import dataclasses

import numpy as np
import pytest
import shapely
import trimesh
from hypothesis import example, given, settings
from hypothesis import strategies as st
from shapely.geometry import MultiPoint, Polygon

from jadeite.core.assembly import adhesive_by_key, assembly_plan, lift_of
from jadeite.core.boards import board_by_key
from jadeite.core.contents import Block
from jadeite.core.dressings import boards_of
from jadeite.core.errors import FieldError
from jadeite.core.findings import Level
from jadeite.core.folding import box_body
from jadeite.core.judgement import swing_findings
from jadeite.core.pipeline import arrange_contents, work_up
from jadeite.core.project import Hollow, Shape, Task, changed, with_change
from jadeite.core.proof import prove
from jadeite.core.shapes import family_by_key, resolve_options
from tests import fold_reader
from tests.core.shapes.closing import (
    FOLDING,
    TALLY,
    boards_for,
    build,
    closes_or_says_why,
    cured,
    faults,
    options_of,
    sizes,
    text_of,
)

FAMILY = family_by_key("chest")
FULL = {
    "lid-depth": 22.0,
    "latch": "hook-over",
    "handle": "strap",
    "stand-ups": 3,
    "stand-on": "floor",
    "room": "lid",
    "catch-on": "board",
}


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


# ------------------------------------------------------------------ the lid swings


def _solid(face):  # type: ignore[no-untyped-def]
    """A face, which is convex, as a body of its board's thickness (trimesh)."""
    half = face.normal / np.linalg.norm(face.normal) * face.thickness / 2
    return trimesh.convex.convex_hull(np.concatenate([face.points + half, face.points - half]))


def _hits(design, bodies=()) -> list[tuple[int, str]]:  # type: ignore[no-untyped-def]
    """At which degree of its swing the lid meets what stands, from the FOLD text alone.

    The lid's front and its tabs, the ceiling and the handle's feet are turned about the
    strips' fold by every degree from 1 to 110; whether corners and edges of one solid lie in
    another is asked of trimesh, and of Shapely in the plane across the fold.
    """
    model = fold_reader.read(text_of(design))
    strip = model.faces["strip-1", "upper"].points
    axis = np.array([0.0, strip[:, 1].mean(), strip[:, 2].min()])
    moving = [f for (p, n), f in model.faces.items()
              if (p == "tray-2" and (n in ("front", "floor") or n.startswith("tab")))
              or (p == "handle" and n.startswith("foot"))]  # fmt: skip
    still = [(p, _solid(f)) for (p, n), f in model.faces.items()
             if p.startswith("stand-up") and n == "plate"]  # fmt: skip
    still += [(name, trimesh.convex.convex_hull(points)) for name, points in bodies]
    degrees = np.radians(np.arange(1, 111))
    out = []
    for solid in map(_solid, moving):
        for name, body in still:
            along = [max(m.bounds[0][0] for m in (solid, body)),
                     min(m.bounds[1][0] for m in (solid, body))]  # fmt: skip
            if along[1] < along[0] + 1e-3:
                continue
            # both are prisms across or along the fold: they meet where their outlines do
            one, other = (
                np.array(MultiPoint(m.vertices[:, 1:]).convex_hull.exterior.coords)
                for m in (solid, body)
            )
            y, z = (one - axis[1:]).T
            c, s = np.cos(degrees)[:, None], np.sin(degrees)[:, None]
            turned = np.stack([y * c + z * s, z * c - y * s], axis=-1) + axis[1:]
            met = shapely.area(shapely.intersection(shapely.polygons(turned), Polygon(other)))
            out += [(int(k) + 1, name) for k in np.flatnonzero(met > 1e-3)]
    return out


def assert_cured(inside, board, options, refused) -> None:  # type: ignore[no-untyped-def]
    """A refusal names a value that works."""
    assert cured(FAMILY, inside, boards_for(FAMILY, board), options, refused)


@settings(max_examples=200)
@given(
    inside=st.tuples(st.floats(60.0, 250.0), st.floats(45.0, 250.0), st.floats(30.0, 200.0)),
    board=st.sampled_from(["text", "medium-card", "heavy-card"]),
    chosen=st.fixed_dictionaries({
        "lid-depth": st.floats(14.0, 80.0), "room": st.sampled_from(["lid", "rim"]),
        "handle": st.sampled_from(["strap", "none"]), "stand-ups": st.sampled_from([0.0, 1.0, 2.0]),
        "stand-on": st.sampled_from(["floor", "walls"]),
    }),
)  # fmt: skip
def test_property_the_lid_swings_clear_at_every_degree(inside, board, chosen) -> None:  # type: ignore[no-untyped-def]
    """Of stand-up pieces, and of a block as large as the whole hollow."""
    options = resolve_options(FAMILY, {**FULL, **chosen})
    try:
        design = FAMILY.build(inside, boards_for(FAMILY, board), options)
    except FieldError as refused:
        TALLY[FAMILY.key, False] += 1
        assert_cured(inside, board, options, refused)
        return
    TALLY[FAMILY.key, True] += 1
    hollow = design.hollow
    block = box_body("block", hollow.size, np.array(hollow.centre))
    assert _hits(design, [("block", np.concatenate(block.faces))]) == []
    assert swing_findings([block], design) == []


def test_a_plate_up_to_the_lid_over_its_whole_width_is_hit() -> None:
    """The finding and the sampled swing agree on a stand-up piece that was not cut to the swing."""
    design = build(FAMILY, (120.0, 60.0, 60.0), stand_ups=1)
    piece = design.piece("stand-up-1")
    plate = piece.panel("plate")
    low, high = plate.outline.min(axis=0), plate.outline.max(axis=0)
    square = np.array([low, [high[0], low[1]], high, [low[0], high[1]]])
    whole = dataclasses.replace(plate, outline=square)
    panels = tuple(whole if p.name == "plate" else p for p in piece.panels)
    pieces = tuple(
        dataclasses.replace(p, panels=panels) if p is piece else p for p in design.pieces
    )
    spoilt = dataclasses.replace(design, pieces=pieces)
    assert _hits(design) == []
    assert swing_findings([], design) == []
    assert {name for _, name in _hits(spoilt)} == {"stand-up-1"}
    assert [f.code for f in swing_findings([], spoilt)] == ["lid-hits"]


def test_a_thing_that_the_lid_hits_gets_an_inside_where_it_does_not() -> None:
    """The cure is tried with the whole task: the swing is free, and all else goes in."""
    tall = Block(name="lens", length=80, width=48, height=70)
    task = changed(
        Task(),
        contents=(tall,),
        shape=Shape(key="chest"),
        brief=Hollow(size=(140.0, 60.0, 40.0)),
    )
    found = {f.code: f for f in work_up(task, arrange_contents(task)).findings}
    assert found["lid-hits"].cure is not None
    after = task
    for field, value in found["lid-hits"].cure.changes:
        after = with_change(after, field, value)
    assert not work_up(after, arrange_contents(after)).blocked


@pytest.mark.parametrize("stand", ["floor", "walls"])
@pytest.mark.parametrize("count", [1, 2])
def test_like_things_stand_between_the_pieces_that_divide_it(stand: str, count: int) -> None:
    """On the legs, if need be, and clear of them: nothing is asked of the maker."""
    tin = Block(name="tin", length=40, width=40, height=35, count=count + 1)
    options = {"stand-ups": float(count), "stand-on": stand}
    task = changed(Task(), contents=(tin,), shape=Shape(key="chest", options=options))
    work = work_up(task, arrange_contents(task))
    found = [f.message for f in work.findings if f.level is Level.BLOCKED]
    assert found == []
    assert work.design is not None
    assert sum(piece.part == "stand-up" for piece in work.design.pieces) == count


def test_a_thing_too_long_for_a_bay_is_told_how_many_pieces_leave_room() -> None:
    long = Block(name="lens", length=90, width=30, height=30)
    tin = Block(name="tin", length=30, width=30, height=20)
    task = changed(
        Task(), contents=(long, tin), shape=Shape(key="chest", options={"stand-ups": 2.0})
    )
    work = work_up(task, arrange_contents(task))
    hits = [f for f in work.findings if f.code == "thing-hits-board"]
    assert hits
    assert "stand-up piece" in hits[0].message
    assert hits[0].cure is not None
    after = task
    for field, value in hits[0].cure.changes:
        after = with_change(after, field, value)
    assert not work_up(after, arrange_contents(after)).blocked


def test_room_under_the_lid_counts_for_things() -> None:
    """A chest for 60 mm is lower by what the lid gives, and a little wider so that it swings."""
    up, rim = (build(FAMILY, (120.0, 60.0, 60.0), room=how) for how in ("lid", "rim"))
    tall = [float(np.ptp(fold_reader.read(text_of(d)).faces["tray", "front"].points[:, 2]))
            for d in (up, rim)]  # fmt: skip
    assert tall[1] - tall[0] == pytest.approx(22.0 + 0.2 - 1.0 - 0.23, abs=1e-6)
    assert up.hollow.size == rim.hollow.size == (120.0, 60.0, 60.0)
    assert 60.0 < up.sizes["inside-swing"].value < 66.0
    assert rim.sizes["inside-swing"].value == 60.0


def test_the_hinges_are_glued_to_the_lid_then_to_the_tray_and_the_handle_is_threaded() -> None:
    """In that order, before anything is put in; feet are folded only when they are through."""
    design = build(FAMILY, (120.0, 60.0, 60.0), stand_ups=1)
    glue = adhesive_by_key("liquid-craft-glue")
    titles = [s.title for s in assembly_plan(design, lift_of(design), glue, ["planet"]).steps]
    order = [
        "Put the handle through the lid",
        "Glue the left foot under the lid",
        "Set the lid on the tray and glue hinge strips 1 and 2 to its back",
        "Glue stand-up piece 1 in",
        "Put in planet",
        "Close the lid",
    ]
    at = [titles.index(title) for title in order]
    assert at == sorted(at)
    assert titles.index("Glue hinge strips 1 and 2 to the lid") < at[2]
    assert not [t for t in titles if t.startswith("Raise the handle's left foot")]


def test_the_catch_stands_on_foam_or_on_a_pad() -> None:
    """Foam is bought, and counted in its height; a pad of chipboard is cut."""
    foam, pad = (build(FAMILY, (120.0, 60.0, 60.0), catch_on=how) for how in ("foam", "board"))
    assert [b.name for b in foam.bought] == ["foam pad"]
    assert not foam.bought[0].title
    assert {p.name for p in pad.pieces} - {p.name for p in foam.pieces} == {"pad"}
    proud = [float(-design.placements["catch"][1, 3]) for design in (foam, pad)]
    assert proud[0] == pytest.approx(proud[1], abs=1e-6)  # both 2 mm


@pytest.mark.parametrize("inside", [(140.0, 90.0, 60.0), (90.0, 140.0, 60.0)])
def test_pieces_held_by_the_walls_leave_the_floor_free(inside: tuple[float, float, float]) -> None:
    """Two flaps on front and back in place of a leg, on which things would lie; all closes."""
    legs, held = (
        build(FAMILY, inside, stand_ups=3.0, stand_on=where) for where in ("floor", "walls")
    )
    assert faults(held) == []
    t = held.pieces[0].board.thickness
    on = [j.target for j in held.joints if j.tab[0].startswith("stand-up")]
    assert sorted(on) == sorted([("tray", "front"), ("tray", "back")] * 3)
    feet = [d.cells[0].centre[2] - d.cells[0].size[2] / 2 for d in (held, legs)]
    assert feet[1] - feet[0] == pytest.approx(t)
    assert held.cells[0].size[2] == legs.cells[0].size[2]
    faces = fold_reader.read(text_of(held)).faces
    for k, towards in ((1, 1.0), (2, -1.0), (3, -1.0)):  # to the middle, away from the corners
        plate = faces[f"stand-up-{k}", "plate"].points[:, 0].mean()
        flap = faces[f"stand-up-{k}", "tab.front"].points[:, 0].mean()
        assert np.sign(flap - plate) == towards
    top = max(f.points[:, 2].max() for (p, n), f in faces.items()
              if p.startswith("stand-up") and n.startswith("tab"))  # fmt: skip
    assert top <= faces["tray", "front"].points[:, 2].max() - 0.9
