"""The flared tray, proved from its exported FOLD geometry and by the formulas of a frustum."""

from __future__ import annotations

import math

import numpy as np
import pytest
import trimesh
from hypothesis import example, given, settings

from jadeite.core.assembly import lift_of
from jadeite.core.nets.roles import Role
from jadeite.core.shapes import family_by_key
from tests import fold_reader
from tests.core.shapes.closing import FOLDING, build, closes_or_says_why, options_of, sizes, text_of

FAMILY = family_by_key("flared-tray")
PLAIN = {"sides": 6, "measured": "round", "flare": 18.0}


@settings(max_examples=200)
@given(inside=sizes(12.0, 400.0), board=FOLDING, chosen=options_of(FAMILY))
@example((12.0, 12.0, 12.0), "craft-board", PLAIN | {"sides": 10, "flare": 40.0})
@example((12.0, 12.0, 400.0), "craft-board", PLAIN | {"sides": 3, "flare": 3.0})
def test_property_every_flared_tray_closes(inside, board, chosen) -> None:  # type: ignore[no-untyped-def]
    """Over all sizes, boards and options together."""
    closes_or_says_why(FAMILY, inside, board, chosen)


@pytest.mark.parametrize("sides", range(3, 11))
@pytest.mark.parametrize("flare", [5.0, 20.0, 40.0])
def test_slant_turn_and_dihedral_angle_are_those_of_a_frustum(sides, flare) -> None:  # type: ignore[no-untyped-def]
    """Slant sqrt(h^2 + (r1 - r2)^2); turn acos(cos^2 a cos(2 pi / n) + sin^2 a) (published)."""
    design = build(FAMILY, (80.0, 80.0, 40.0), sides=sides, flare=flare, measured="round")
    slant = design.sizes["slant-height"]
    rise, high, low = (r.value for r in slant.inputs)
    assert slant.value == pytest.approx(math.hypot(rise, high - low))
    assert math.degrees(math.atan2(high - low, rise)) == pytest.approx(flare)
    faces = fold_reader.read(text_of(design)).faces
    one, other, floor = (faces["tray", n] for n in ("wall-1", "wall-2", "floor"))
    a = math.radians(flare)
    want = math.acos(math.cos(a) ** 2 * math.cos(2 * math.pi / sides) + math.sin(a) ** 2)
    turn = math.acos(float(one.normal @ other.normal))
    assert math.degrees(turn) == pytest.approx(math.degrees(want), abs=1e-6)
    at_floor = math.degrees(math.acos(float(one.normal @ floor.normal)))
    assert at_floor == pytest.approx(90.0 - flare, abs=1e-6)  # it leans out


def test_what_it_holds_is_a_frustum() -> None:
    """V = h / 3 (A1 + A2 + sqrt(A1 A2)) (published); trimesh by the divergence theorem."""
    design = build(FAMILY, (80.0, 80.0, 40.0), sides=5, measured="round")
    model = fold_reader.read(text_of(design))
    points = np.concatenate([f.points for f in model.faces.values() if "tab" not in f.panel])
    rise, high, low = (r.value for r in design.sizes["slant-height"].inputs)
    areas = [5 * r * r * math.tan(math.pi / 5) for r in (low, high)]
    volume = rise / 3 * (sum(areas) + math.sqrt(areas[0] * areas[1]))
    hull = trimesh.Trimesh(points).convex_hull
    assert hull.volume == pytest.approx(volume, rel=0.02)  # walls end short of corners by a ply


@pytest.mark.parametrize("factor", [0.5, 1.0, 2.0])
def test_only_panels_scale(factor) -> None:  # type: ignore[no-untyped-def]
    """Tabs stay 10 mm deep (from memory), and what lies within a wall is 1.5 plies."""
    inside = tuple(v * factor for v in (90.0, 90.0, 60.0))
    design = build(FAMILY, inside, measured="round")
    piece = design.pieces[0]
    depths = [p.size[1] for p in piece.panels if p.role is Role.TAB]
    assert depths == pytest.approx([10.0] * 6)
    t, lean = piece.board.thickness, math.radians(18.0)
    low = design.sizes["side"].inputs[0].value
    plies = 1.5 * t / math.cos(lean) - t / 2 * math.tan(lean)
    assert low - inside[0] / 2 == pytest.approx(plies)


def test_walls_come_up_before_it_is_filled() -> None:
    """An open tray: the last stop is the filling."""
    stops = [label for _, label in lift_of(build(FAMILY, (80.0, 60.0, 40.0))).stops if label]
    assert stops.index("walls") < stops.index("filled")
