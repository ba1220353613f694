"""The carton, proved from its exported FOLD geometry."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import example, given, settings

from jadeite.core.assembly import lift_of
from jadeite.core.assembly.order import making_order
from jadeite.core.errors import FieldError
from jadeite.core.shapes import family_by_key
from tests.core.shapes.closing import FOLDING, build, closes_or_says_why, options_of, sizes

FAMILY = family_by_key("carton")
LOCK = {"bottom": "lock", "friction-slits": "two", "thumb-notch": "one"}


@settings(max_examples=200)
@given(inside=sizes(15.0, 300.0), board=FOLDING, chosen=options_of(FAMILY))
@example((30.0, 24.0, 15.0), "craft-board", LOCK)
@example((15.0, 15.0, 15.0), "craft-board", LOCK | {"bottom": "tuck"})
@example((300.0, 24.0, 15.0), "tissue", LOCK)
def test_property_every_carton_closes(inside, board, chosen) -> None:  # type: ignore[no-untyped-def]
    """Over all sizes, boards and options together."""
    built = closes_or_says_why(FAMILY, inside, board, chosen)
    assert built == (chosen["bottom"] != "lock" or (inside[0] >= 30 and inside[1] >= 24))


def test_walls_stand_apart_as_the_plies_ask() -> None:
    """Worked by hand: length + t, and width + 3t for the tuck flap and the seam's tab."""
    design = build(FAMILY, (80.0, 50.0, 110.0), "craft-board")
    assert design.sizes["between-sides"].value == pytest.approx(80.5)
    assert design.sizes["between-front-back"].value == pytest.approx(51.5)
    piece = design.pieces[0]
    assert np.ptp(piece.panel("back").outline[:, 0]) == pytest.approx(80.5)


def test_flaps_that_must_not_scale_do_not() -> None:
    """Half, one and double size: tab, tuck flap, friction slits and clearances stay."""
    kept = []
    for factor in (0.5, 1.0, 2.0):
        inside = tuple(v * factor for v in (160.0, 120.0, 200.0))
        design = build(FAMILY, inside, bottom="lock")
        piece = design.pieces[0]
        lid, back = piece.panel("lid").outline, piece.panel("back").outline
        tuck = piece.panel("tuck")
        kept.append(
            [
                piece.panel("tab.seam").size[1],
                tuck.size[1],
                design.sizes["friction-slit"].value,
                np.ptp(back[:, 0]) - np.ptp(lid[:, 0]),
                np.ptp(lid[:, 0]) - np.ptp(tuck.outline[:, 0]),
            ]
        )
    assert kept[0] == pytest.approx(kept[1])
    assert kept[1] == pytest.approx(kept[2])


def test_the_lock_is_folded_in_its_order() -> None:
    """First the notched flap, then both sides, and the last one tucks under the first."""
    moves = making_order(build(FAMILY, (80.0, 50.0, 110.0), bottom="lock"))
    at = {move.folds[0]: move.level for move in moves if move.folds}
    sides = at["lock-right"], at["lock-left"]
    assert at["lock-back"] < min(sides)
    assert max(sides) < at["lock-front"]
    tongue = next(move for move in moves if move.folds and move.folds[0] == "lock-front")
    assert "lock-tongue" in tongue.folds  # the tongue goes in with its flap


def test_the_top_closes_after_filling() -> None:
    """Stood up, filled, then side flaps before the lid."""
    design = build(FAMILY, (80.0, 50.0, 110.0))
    stops = [words for _, words in lift_of(design).stops]
    assert stops.index("stood up") < stops.index("filled") < stops.index("closed")
    at = {m.folds[0]: m.level for m in making_order(design) if m.folds}
    assert at["dust-left"] < at["lid"] <= at["tuck"]


def test_closed_pose_of_the_lift_is_the_design_itself() -> None:
    """At the end of the lift the piece stands where the design has it, up to its spot."""
    design = build(FAMILY, (80.0, 50.0, 110.0))
    pose = lift_of(design).pose(1.0).matrices["carton"]["back"]
    assert pose[:3, :3] == pytest.approx(design.placements["carton"][:3, :3])
    assert pose[2, 3] == pytest.approx(design.placements["carton"][2, 3])


@pytest.mark.parametrize(("inside", "axis"), [((25, 50, 90), "length"), ((50, 20, 90), "width")])
def test_a_lock_bottom_needs_room_for_its_tongue(inside, axis) -> None:  # type: ignore[no-untyped-def]
    """Refused with the length that works, or a bottom that does."""
    with pytest.raises(FieldError, match=f"inside {axis}"):
        build(FAMILY, inside, bottom="lock")
    build(FAMILY, inside, bottom="glued")
