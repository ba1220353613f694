"""Eases and gaps are one value: whatever they are, every shape closes, and has just these."""

from __future__ import annotations

import ast
from dataclasses import fields, replace
from pathlib import Path

import numpy as np
import pytest
from hypothesis import Phase, given, settings
from hypothesis import strategies as st

import jadeite
from jadeite.core.boards import USUAL, Fits, board_by_key
from jadeite.core.contents import Block
from jadeite.core.errors import FieldError
from jadeite.core.pipeline import arrange_contents
from jadeite.core.project import Task, changed
from jadeite.core.shapes import (
    all_families,
    family_by_key,
    measured_for,
    resolve_options,
    settled_design,
)
from tests import fold_reader
from tests.core.shapes.closing import boards_for, faults, fit, text_of

BETWEEN = tuple(f.name for f in fields(Fits))[: [f.name for f in fields(Fits)].index("dropped")]
# what a maker might try: from tight to twice as loose
RANGES = {name: (0.5 * getattr(USUAL, name), 2.0 * getattr(USUAL, name)) for name in BETWEEN} | {
    "tab_depth": (7.0, 14.0),
    "disc": (0.05, 0.15),  # with more, a round floor leaves the teeth under it too little
}
ANY = st.builds(Fits, **{name: st.floats(*ends) for name, ends in RANGES.items()})
INSIDE = (110.0, 90.0, 60.0)


def made(family: str, fits: Fits, inside=INSIDE, board: str = "medium-card", **chosen):  # type: ignore[no-untyped-def]
    """A shape with these eases, its other options as they are."""
    shape = family_by_key(family)
    options = measured_for(shape, resolve_options(shape, chosen))
    free = frozenset(options) - set(chosen)
    boards = boards_for(shape, board)
    return settled_design(shape, fit(shape, inside), boards, options, free, fits)


@settings(max_examples=80, phases=[Phase.explicit, Phase.reuse, Phase.generate])
@given(ANY, st.sampled_from([f.key for f in all_families()]),
       st.sampled_from(["medium-card", "heavy-card", "craft-board"]))  # fmt: skip
def test_property_every_shape_closes_with_any_fits(fits: Fits, family: str, board: str) -> None:
    """Read from the FOLD text; what is refused says why, and seldom."""
    try:
        design = made(family, fits, board=board)
    except FieldError as error:
        design, why = None, error
    if design is None:
        assert why.cure
        assert board == "craft-board"  # too thick for some: never the eases alone
        return
    assert design.fits == fits
    assert faults(design) == []


@settings(max_examples=25)
@given(st.floats(0.4, 4.0), st.sampled_from(["medium-card", "heavy-card"]))
def test_property_a_lid_has_the_air_that_is_asked_for(lid: float, board: str) -> None:
    """From the FOLD text: between the lid's walls less over the tray's, in both directions."""
    design = made("tray-with-lid", replace(USUAL, lid=lid), board=board)
    model = fold_reader.read(text_of(design))
    within = fold_reader.inside_size(model, "lid")
    outside = fold_reader.outside_size(model, "tray")
    asked = replace(USUAL, lid=lid).lid_over(board_by_key(board)).value
    assert np.subtract(within[:2], outside) == pytest.approx([asked, asked], abs=1e-6)
    assert design.sizes["lid-clearance"].value == pytest.approx(asked)


def test_a_change_of_one_ease_changes_only_what_it_is_for() -> None:
    """The tray stays as it is when its lid gets more air; the drawer when its sleeve does."""
    for family, still, change in (
        ("tray-with-lid", "tray", {"lid": 3.0}),
        ("drawer-box", "drawer", {"drawer_width": 4.0, "drawer_height": 3.0}),
    ):
        one, other = made(family, USUAL), made(family, replace(USUAL, **change))
        for piece in one.pieces:
            same = all(
                np.allclose(p.outline, q.outline)
                for p, q in zip(piece.panels, other.piece(piece.name).panels, strict=True)
            )
            assert same == (piece.name == still), piece.name


def test_the_makers_own_room_is_in_the_fits_of_the_job() -> None:
    """Typed for all things at once; the inside grows by it on either side."""
    block = Block(name="b", length=50, width=30, height=20, turn="upright")
    task = changed(Task(), contents=(block,), clearance=4.0)
    assert task.fits == Fits(own=4.0)
    found = arrange_contents(task, quick=True)
    assert found is not None
    assert found.inside[:2] == pytest.approx((58.0, 38.0))


def test_no_module_keeps_an_ease_of_its_own() -> None:
    """What is left under such a name keeps cuts and tabs apart in the flat net, or is no length."""
    drafting = {"TAB_CLEAR", "WEDGE_AIR", "TAB_GAP", "LAP_CLEAR", "TOOTH_AIR", "FLANGE_EASE",
                "FLANGE_AIR", "PLY_CLEAR", "FEET_AIR", "EDGE_AIR", "NECK_AIR", "ROLL_EASE",
                "CLEAR", "STACK_AIR", "GAP", "FOOT_ROOM", "GUSSET_ROOM", "TIP_ROOM"}  # fmt: skip
    found = set()
    for folder in ("shapes", "dressings", "contents", "nets"):
        for path in (Path(jadeite.__file__).parent / "core" / folder).rglob("*.py"):
            for node in ast.parse(path.read_text(encoding="utf-8")).body:
                if isinstance(node, ast.Assign) and isinstance(node.targets[0], ast.Name):
                    name = node.targets[0].id
                    if name.endswith(("EASE", "CLEAR", "AIR", "PLAY", "GAP", "LONGER", "ROOM")):
                        found.add(name)
    assert found <= drafting, found - drafting
