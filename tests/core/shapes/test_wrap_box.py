"""The box of two halves, proved from its exported FOLD geometry."""

from __future__ import annotations

import dataclasses

import numpy as np
import pytest
from hypothesis import example, given, settings
from hypothesis import strategies as st

from jadeite.core.assembly import adhesive_by_key, assembly_plan, lift_of
from jadeite.core.folding import crossings, folded_faces
from jadeite.core.proof import prove
from jadeite.core.shapes import family_by_key
from tests.core.shapes.closing import FOLDING, build, closes_or_says_why, options_of, sizes

FAMILY = family_by_key("wrap-box")


@settings(max_examples=200)
@given(inside=sizes(20.0, 300.0), board=FOLDING, chosen=options_of(FAMILY))
@example((20.0, 20.0, 20.0), "craft-board", {"lid": "none", "finger-notch": "two"})
@example((20.0, 300.0, 20.0), "craft-board", {"lid": "none", "finger-notch": "two"})
def test_property_every_wrap_closes(inside, board, chosen) -> None:  # type: ignore[no-untyped-def]
    """Over all sizes, boards and options; nothing is refused."""
    assert closes_or_says_why(FAMILY, inside, board, chosen)


def test_both_halves_are_one_net() -> None:
    """Equal halves: one outline, cut twice, each glued to the other."""
    design = build(FAMILY, (90.0, 60.0, 70.0))
    one, other, _lid = design.pieces
    assert one.panels is other.panels
    glued = {
        (j.tab[0], j.target[0]) for j in design.joints if j.kind == "glue" and j.tab[0] != "lid"
    }
    assert glued == {("half-1", "half-2"), ("half-2", "half-1")}


def test_the_long_flaps_hook_through_their_slots() -> None:
    """Each lies above the other on one side; without the slots they would pass through."""
    design = build(FAMILY, (90.0, 60.0, 70.0))
    assert all(r.closed for r in prove(design)[0])
    faces = {(f.piece, f.panel): f for f in folded_faces(design)}
    one, other = (faces[f"half-{k}", "long-flap"].points for k in (1, 2))
    assert one[one[:, 0] > 1, 2].min() > other[other[:, 0] > 1, 2].max()
    assert one[one[:, 0] < -1, 2].max() < other[other[:, 0] < -1, 2].min()
    pieces = []
    for piece in design.pieces[:2]:
        flap = piece.panel("long-flap")
        ends = flap.outline[[0, 1, 2, 7]]  # the corners of the slot left out
        whole = dataclasses.replace(flap, outline=ends)
        panels = tuple(whole if p.name == "long-flap" else p for p in piece.panels)
        pieces.append(dataclasses.replace(piece, panels=panels))
    pieces += design.pieces[2:]
    faces = folded_faces(dataclasses.replace(design, pieces=tuple(pieces)))
    assert [(a.panel, b.panel) for a, b, _ in crossings(faces)].count(("long-flap", "long-flap"))


def test_slot_tab_and_overlap_do_not_grow_with_the_box() -> None:
    """Half, one and double size."""
    kept = []
    for factor in (0.5, 1.0, 2.0):
        inside = tuple(v * factor for v in (160.0, 120.0, 80.0))
        design = build(FAMILY, inside)
        flap = design.pieces[0].panel("long-flap").outline
        past = np.ptp(flap[:, 1]) - (inside[1] / 2 + 1.5 * 0.23)
        kept.append([design.sizes["flap-slot"].value, design.pieces[0].panel("tab").size[1], past])
    assert kept[0] == pytest.approx(kept[1], abs=0.1)
    assert kept[1] == pytest.approx(kept[2], abs=0.1)


def test_the_base_is_folded_once_the_halves_are_joined() -> None:
    """Steps: glue the halves, then the flaps."""
    design = build(FAMILY, (90.0, 60.0, 70.0))
    steps = assembly_plan(design, lift_of(design), adhesive_by_key("liquid-craft-glue")).steps
    titles = [s.title for s in steps]
    glued = next(i for i, t in enumerate(titles) if t.startswith("Glue the second half"))
    folded = next(i for i, t in enumerate(titles) if "long flap" in t)
    assert glued < folded


@given(inside=sizes(20.0, 300.0), board=FOLDING, deep=st.floats(5.0, 60.0))
def test_property_the_lid_has_its_air_on_every_side(inside, board, deep) -> None:  # type: ignore[no-untyped-def]
    """Between the lid's walls and the box's, from the folded faces; and it stops at the table."""
    design = build(FAMILY, inside, board, **{"lid-depth": deep})
    t = design.pieces[0].board.thickness
    faces = {(f.piece, f.panel): f.points for f in folded_faces(design)}
    halves = np.concatenate([p for (piece, _), p in faces.items() if piece.startswith("half")])
    walls = np.concatenate([faces["half-1", "long"], faces["half-2", "long"]])
    across = int(np.ptp(walls[:, 0]) >= np.ptp(walls[:, 1]))  # the axis across the lid's tabs
    for axis, side, other in ((0, "left", "right"), (1, "front", "back")):
        lid = faces["lid", other][:, axis].max() - faces["lid", side][:, axis].min() - t
        air = lid - 2 * t * (axis == across) - (np.ptp(walls[:, axis]) + t)
        assert air == pytest.approx(design.fits.lid_over(design.pieces[0].board).value, abs=0.01)
    below = min(p[:, 2].min() for (piece, _), p in faces.items() if piece == "lid")
    assert below >= halves[:, 2].min() - t / 2 - 0.01


def test_an_open_box_has_notches_and_no_lid() -> None:
    """The notches of the rim would lie behind a lid, so they go with an open box alone."""
    shut, bare = (build(FAMILY, (90.0, 60.0, 70.0), lid=lid) for lid in ("lift-off", "none"))
    assert [p.part for p in shut.pieces] == ["half", "half", "lid"]
    assert [p.part for p in bare.pieces] == ["half", "half"]
    assert len(shut.pieces[0].panel("long").outline) == 4
    assert len(bare.pieces[0].panel("long").outline) > 8
