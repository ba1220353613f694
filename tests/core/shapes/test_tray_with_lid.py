"""The tray with lid, proved from its exported FOLD geometry."""

from __future__ import annotations

import json
import subprocess
import sys
from pathlib import Path

import numpy as np
import pytest
from hypothesis import example, given, settings
from hypothesis import strategies as st

from jadeite.core.boards import CATALOGUE, board_by_key
from jadeite.core.errors import FieldError
from jadeite.core.findings import Level
from jadeite.core.formats.fold_file import fold_text
from jadeite.core.nets import piece_area
from jadeite.core.proof import prove
from jadeite.core.shapes import all_families, family_by_key, resolve_options
from tests import fold_reader
from tests.conftest import build_tray
from tests.core.shapes.closing import boards_for, fit

FAMILY = family_by_key("tray-with-lid")
SIZES = st.tuples(*(st.floats(15.0, 300.0) for _ in range(3)))
BOARDS = st.sampled_from([b.key for b in CATALOGUE if b.folds])  # the rest is cut and hinged
OPTIONS = st.fixed_dictionaries(
    {
        option.key: st.sampled_from([key for key, _ in option.choices])
        if option.choices
        else st.floats(option.low, 320.0)
        for option in FAMILY.options
    }
)


def assert_closes(design, inside) -> None:  # type: ignore[no-untyped-def]
    """Everything that a closed tray with lid owes, read from the FOLD text alone."""
    model = fold_reader.read(fold_text(design))
    assert fold_reader.structure_faults(model) == []
    assert fold_reader.open_joints(model) == []
    assert fold_reader.penetrations(model) == []
    assert fold_reader.stretch(model) < 1e-6
    assert fold_reader.fold_angle_fault(model) < 1e-4
    assert fold_reader.inside_size(model, "tray") == pytest.approx(inside, abs=0.05)


@pytest.mark.parametrize("good_side", ["outside", "inside"])  # 200 examples each, side by side
@settings(max_examples=200)
@given(inside=SIZES, tray=BOARDS, lid=BOARDS, chosen=OPTIONS)
@example(
    (15.0, 15.0, 15.0), "craft-board", "craft-board", {o.key: o.default for o in FAMILY.options}
)
@example(
    (300.0, 15.0, 300.0),
    "text",
    "craft-board",
    {
        "lid-depth": 320.0,
        "tabs": "outside",
        "tray-walls": "double",
        "lid-walls": "double",
        "thumb-notches": "two",
        "good-side": "inside",
    },
)
def test_property_every_tray_closes(good_side, inside, tray, lid, chosen) -> None:  # type: ignore[no-untyped-def]
    """Over all sizes, boards and options together."""
    boards = {"tray": board_by_key(tray), "lid": board_by_key(lid), "floor-ply": board_by_key(tray)}
    options = resolve_options(FAMILY, chosen | {"good-side": good_side})
    design = FAMILY.build(inside, boards, options)  # nothing in this range is refused
    assert_closes(design, inside)
    model = fold_reader.read(fold_text(design))
    lid_inside = fold_reader.inside_size(model, "lid")
    tray_outside = fold_reader.outside_size(model, "tray")
    thick = max(boards["tray"].thickness, boards["lid"].thickness)
    ease = 1.6 + 2 * max(0.0, thick - 0.35)  # common practice, from memory beyond 0.35 mm
    for axis in (0, 1):
        assert lid_inside[axis] - tray_outside[axis] == pytest.approx(ease, abs=0.05)
    _, findings = prove(design)
    assert [f for f in findings if f.level is Level.BLOCKED] == []


@pytest.mark.soak
@settings(max_examples=3000)
@given(inside=st.tuples(*(st.floats(15.0, 1000.0) for _ in range(3))), board=BOARDS, chosen=OPTIONS)
def test_soak_large_trays_close(inside, board, chosen) -> None:  # type: ignore[no-untyped-def]
    """Up to the largest sizes allowed."""
    boards = {part: board_by_key(board) for part, _ in FAMILY.parts}
    assert_closes(FAMILY.build(inside, boards, resolve_options(FAMILY, chosen)), inside)


@pytest.mark.parametrize("family", all_families(), ids=lambda f: f.key)
def test_default_design_of_every_family_is_proved(family) -> None:  # type: ignore[no-untyped-def]
    """What every family owes with its defaults."""
    boards = boards_for(family, "medium-card")
    design = family.build(fit(family, (96.0, 64.0, 41.0)), boards, resolve_options(family, {}))
    reports, findings = prove(design)
    assert all(report.closed for report in reports)
    assert [f for f in findings if f.level is Level.BLOCKED] == []


def test_command_line_tray_is_as_asked(tmp_path: Path) -> None:
    """96 x 64 x 41 mm in medium card, measured from the exported file alone."""

    def jadeite(*words: str) -> subprocess.CompletedProcess[str]:
        return subprocess.run(
            [sys.executable, "-m", "jadeite.cli", *words],
            capture_output=True,
            text=True,
            check=False,
        )

    file = tmp_path / "box.jadeite"
    made = jadeite(
        "new", "tray-with-lid", "--inside", "96x64x41mm", "--board", "medium-card", "-o", str(file)
    )
    assert made.returncode == 0, made.stderr
    checked = jadeite("check", str(file), "--json")
    assert checked.returncode == 0, checked.stderr
    told = json.loads(checked.stdout)
    assert told["sizes"]["tray-inside-length"]["value"] == 96.0
    assert {j["kind"] for j in told["joints"]} == {"glue", "slide"}
    assert all(j["landed"] >= 0.95 for j in told["joints"] if j["kind"] == "glue")
    assert jadeite("export", str(file), "-o", str(tmp_path), "--only", "fold").returncode == 0
    model = fold_reader.read(next(tmp_path.glob("*.fold")))
    assert fold_reader.structure_faults(model) == []
    assert fold_reader.open_joints(model) == []
    assert fold_reader.penetrations(model) == []
    assert fold_reader.inside_size(model, "tray") == pytest.approx((96, 64, 41), abs=0.05)
    lid, tray = fold_reader.inside_size(model, "lid"), fold_reader.outside_size(model, "tray")
    assert lid[0] - tray[0] == pytest.approx(1.6, abs=0.05)  # common practice (1/16 in)
    assert lid[1] - tray[1] == pytest.approx(1.6, abs=0.05)


def test_scaling_keeps_tabs_gaps_and_clearance() -> None:
    """Half, one and double size: panels scale; tabs, lid clearance and rolled gaps do not."""
    for tabs in ("inside", "outside"):
        half, one, two = (
            build_tray((f * 80, f * 64, f * 60), tabs=tabs, tray_walls="double")
            for f in (0.5, 1.0, 2.0)
        )
        for other in (half, two):
            for key in ("tab-depth", "lid-clearance"):
                assert one.sizes[key].value == other.sizes[key].value
            for name in ("rim.front", "rim.left", "foot.front", "tab.left.front"):
                a, b = one.piece("tray").panel(name), other.piece("tray").panel(name)
                assert a.size[1] == pytest.approx(b.size[1])
        heights = [d.piece("tray").panel("front").size[1] for d in (half, one, two)]
        assert heights[1] - heights[0] == pytest.approx(30)
        assert heights[2] - heights[1] == pytest.approx(60)


def test_bare_pair_and_tabs_follow_the_stated_allowances() -> None:
    """Hand-worked: S = inside + t; walls that receive inside tabs cost 2t more."""
    t = 0.5
    inner = build_tray((80, 60, 40), board="craft-board", tabs="inside").piece("tray")
    outer = build_tray((80, 60, 40), board="craft-board", tabs="outside").piece("tray")
    assert np.ptp(inner.panels[0].outline, axis=0) == pytest.approx([80 + t, 60 + 3 * t])
    assert np.ptp(outer.panels[0].outline, axis=0) == pytest.approx([80 + t, 60 + t])
    assert inner.panel("front").size[1] == pytest.approx(40 + t / 2)


def test_good_side_decides_the_folds() -> None:
    """Good side outside: mountains, and the piece is turned over; inside: valleys."""
    outside = build_tray(good_side="outside")
    inside = build_tray(good_side="inside")
    for design, mark in ((outside, "mountain"), (inside, "valley")):
        walls = [f for f in design.piece("tray").folds if f.parent == "floor"]
        assert {f.mark for f in walls} == {mark}
    for design, sign in ((outside, -1.0), (inside, 1.0)):
        assert design.placements["tray"][2, 2] == sign  # which way the floor's good side looks


def test_lid_deeper_than_the_tray_stops_at_the_table() -> None:
    """The finding says so and offers a depth that works."""
    design = build_tray((90, 60, 20), lid_depth=200.0)
    finding = next(f for f in design.findings if f.code == "lid-stops")
    assert finding.cure is not None
    value = dict(finding.cure.changes)["shape.options.lid-depth"]
    again = build_tray((90, 60, 20), lid_depth=value)
    assert not [f for f in again.findings if f.code == "lid-stops"]
    model = fold_reader.read(fold_text(design))
    lowest = min(f.points[:, 2].min() for (p, _), f in model.faces.items() if p == "lid")
    assert lowest == pytest.approx(-0.23 / 2)  # the underside of the tray's floor


def test_a_wall_too_low_for_its_board_is_said_with_a_depth_that_works() -> None:
    """A fold under 5 mm (from memory) needs a look; the cure ends it."""
    design = build_tray((60, 50, 30), board="craft-board", lid_depth=4.0)
    assert "fold-short" in {f.code for f in prove(design)[1]}
    finding = next(f for f in design.findings if f.code == "wall-low")
    assert finding.cure is not None
    value = dict(finding.cure.changes)["shape.options.lid-depth"]
    cured = build_tray((60, 50, 30), board="craft-board", lid_depth=value)
    assert "wall-low" not in {f.code for f in cured.findings}
    assert "fold-short" not in {f.code for f in prove(cured)[1]}


@pytest.mark.parametrize(
    ("inside", "axis"),
    [
        ((14.0, 60, 40), "length"),
        ((60, 1001.0, 40), "width"),
        ((60, 50, 2.0), "height"),
        ((float("nan"), 60, 40), "length"),
    ],
)
def test_sizes_out_of_range_are_refused_by_name(inside, axis) -> None:  # type: ignore[no-untyped-def]
    """The text names the axis and a value that works."""
    with pytest.raises(FieldError) as caught:
        build_tray(inside)
    assert axis in str(caught.value)
    assert "Use " in str(caught.value)


def test_board_area_estimate_rises_and_is_near_the_true_area() -> None:
    """Arranging compares by it, so it must not fall when a length grows."""
    boards = {part: board_by_key("medium-card") for part, _ in FAMILY.parts}
    options = resolve_options(FAMILY, {})
    sizes = [(60.0, 50.0, 30.0), (61.0, 50.0, 30.0), (60.0, 51.0, 30.0), (60.0, 50.0, 31.0)]
    areas = [FAMILY.board_area(s, boards, options) for s in sizes]
    assert all(a > areas[0] for a in areas[1:])
    true = sum(piece_area(p) for p in build_tray((60.0, 50.0, 30.0)).pieces)
    assert true == pytest.approx(areas[0], rel=0.25)
