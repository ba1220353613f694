"""The domed box, proved from its exported FOLD geometry and against published formulas."""

from __future__ import annotations

import math

import numpy as np
import pytest
import trimesh
from hypothesis import example, given, settings
from shapely.geometry import LineString, Polygon
from shapely.ops import unary_union

from jadeite.core.assembly import adhesive_by_key, assembly_plan, lift_of
from jadeite.core.boards import board_by_key
from jadeite.core.folding import fold_matrices, transform
from jadeite.core.nets.gores import Dome, gore_half_width, gore_ring
from jadeite.core.shapes import family_by_key
from tests import fold_reader
from tests.core.shapes.closing import (
    FOLDING,
    HEAVY,
    build,
    closes_or_says_why,
    options_of,
    sizes,
    text_of,
)

FAMILY = family_by_key("domed-box")
PLAIN = {"sides": 6, "measured": "ball", "brim": 13.0, "dome-plies": "two"}


@settings(max_examples=HEAVY)
@given(inside=sizes(30.0, 250.0), board=FOLDING, chosen=options_of(FAMILY))
@example((30.0, 30.0, 30.0), "craft-board", PLAIN | {"sides": 8})
@example((90.0, 90.0, 90.0), "medium-card", PLAIN)
def test_property_every_domed_box_closes(inside, board, chosen) -> None:  # type: ignore[no-untyped-def]
    """Over all sizes, boards and options together."""
    closes_or_says_why(FAMILY, inside, board, chosen)


@pytest.mark.parametrize("sides", [4, 6, 12])
def test_gores_have_the_published_width_and_area(sides) -> None:  # type: ignore[no-untyped-def]
    """Half width R tan(pi/n) sin(s/R); area n tan(pi/n)/pi times the sphere's part.

    Gores bent one way only, so that their seams lie in planes; +10.3 % for 6,
    +2.3 % for 12.
    """
    radius, steps = 45.0, 2000
    along = (np.arange(steps) + 0.5) / steps * radius * math.pi / 2
    widths = [2 * gore_half_width(radius, sides, s) for s in along]
    area = sides * sum(widths) * radius * math.pi / 2 / steps
    share = sides * math.tan(math.pi / sides) / math.pi
    assert area == pytest.approx(share * 2 * math.pi * radius**2, rel=1e-6)
    if sides > 4:
        assert share == pytest.approx({6: 1.103, 12: 1.023}[sides], abs=5e-4)


def test_facets_follow_the_gore_and_the_more_the_closer() -> None:
    """The board of faceted gores comes to the formula's area; their volume to the dome's.

    A dome of n gores has the volume (2/3) R^3 n tan(pi/n) (its level sections
    are n-gons of inradius sqrt(R^2 - z^2)); trimesh measures by divergence.
    """
    board, radius, sides = board_by_key("tissue"), 45.0, 6
    tangent = math.tan(math.pi / sides)
    errors = []
    for facets in (6, 24):
        dome = Dome(sides, radius, 0.0, -20.0, facets)
        pieces, placements, _ = gore_ring(dome, board, -90.0, None, 6.0)
        points = []
        for piece in (p for p in pieces if p.name.startswith("gore")):
            matrices = fold_matrices(piece, placements[piece.name])
            points += [
                transform(matrices[p.name], p.outline)
                for p in piece.panels
                if p.name.startswith(("foot", "facet", "tip"))
            ]
        corners = np.concatenate(points)
        hull = trimesh.Trimesh(corners).convex_hull
        foot = 20.0 * sides * tangent * radius**2  # the upright foot below the dome
        whole = 2 / 3 * radius**3 * sides * tangent + foot
        errors.append(abs(hull.volume / whole - 1))
    assert errors[0] < 0.03
    assert errors[1] < errors[0] / 4


def test_a_ball_of_90_mm_stands_clear_on_all_sides() -> None:
    """From the FOLD text: the nearest ply surface is not nearer than the ball's radius."""
    design = build(FAMILY, (93.0, 93.0, 93.0), measured="ball")
    model = fold_reader.read(text_of(design))
    centre = np.array(design.hollow.centre)
    gaps = [
        fold_reader.to_triangle(t - centre) for t in fold_reader.surfaces(model, centre, np.inf)
    ]
    assert min(gaps) >= 46.5 - 2e-3
    assert min(gaps) < 47.5  # and it is not needlessly large


def test_the_lid_opens_freely_and_stands_on_the_brim() -> None:
    """The foot's inside is the base's outside and 1.6 mm (common practice) in all."""
    design = build(FAMILY, (80.0, 80.0, 60.0), measured="round")
    model = fold_reader.read(text_of(design))
    t = 0.23
    foot = model.faces["gore-1", "foot"]
    tab = (
        max(
            float(np.abs(f.points @ foot.normal).max())
            for (p, n), f in model.faces.items()
            if p == "gore-6" and n == "tab.0"
        )
        - t / 2
    )
    outer = max(
        float(((f.points + f.normal * t / 2) @ foot.normal).max())
        for (p, n), f in model.faces.items()
        if p == "base" and n.startswith("wall")
    )
    assert tab - outer == pytest.approx(0.8, abs=0.02)
    flange = model.faces["gore-1", "flange"].points[:, 2].mean() - t / 2
    brim = model.faces["base-brim", "base-brim"].points[:, 2].mean() + t / 2
    assert flange == pytest.approx(brim, abs=1e-6)


def test_copies_are_one_step_and_one_board() -> None:
    """Six gores are curled in one step; each belongs to the part that they all share."""
    design = build(FAMILY, (80.0, 80.0, 60.0))
    plan = assembly_plan(design, lift_of(design), adhesive_by_key("liquid-craft-glue"))
    curls = [s for s in plan.steps if s.title.startswith("Curl")]
    assert [s.title for s in curls] == ["Curl gores 1 to 6"]
    assert "good side outwards" in curls[0].detail
    assert "with the ply glued behind it" in curls[0].detail
    assert {p.part for p in design.pieces} == {key for key, _ in FAMILY.parts} - {"panel"}


def test_gaps_and_tabs_do_not_grow_with_the_box() -> None:
    """Half, one and double size."""
    kept = []
    for factor in (0.5, 1.0, 2.0):
        inside = tuple(v * factor for v in (120.0, 120.0, 100.0))
        design = build(FAMILY, inside, measured="round")
        gore = design.piece("gore-1").panel
        brim = design.piece("lid-brim").panel("ring.1").size[1]
        kept.append([design.sizes["lid-clearance"].value, gore("tab.0").size[1], brim])
    assert kept[0] == pytest.approx(kept[1])
    assert kept[1] == pytest.approx(kept[2])


def test_facets_of_a_gore_are_as_wide_as_the_formula_where_they_touch_the_circle() -> None:
    """Measured on the net: half width R tan(pi/n) sin(s/R) in the middle of every facet."""
    dome = Dome(6, 45.0, 0.0, -20.0, 6)
    gore = gore_ring(dome, board_by_key("tissue"), -90.0, None, 6.0)[0][0]
    length = {fold.child: fold.length for fold in gore.folds}
    for k in range(1, 7):
        along = 45.0 * (math.pi / 2 - k * dome.step)
        above = f"facet.{k + 1}" if k < 6 else "tip"
        middle = (length[f"facet.{k}"] + length[above]) / 2
        assert middle == pytest.approx(2 * gore_half_width(45.0, 6, along))


def _steps(**chosen):  # type: ignore[no-untyped-def]
    design = build(FAMILY, (80.0, 80.0, 60.0), **chosen)
    glue = adhesive_by_key("liquid-craft-glue")
    return design, glue, assembly_plan(design, lift_of(design), glue).steps


def test_both_plies_are_glued_flat_and_dry_before_they_are_curled_together() -> None:
    """From the steps: ply and panel on each gore first, then one curl; it waits for the glue."""
    _, glue, steps = _steps(panels="gores")
    titles = [s.title for s in steps]
    curl = titles.index("Curl gores 1 to 6")
    for layer in ("outside panels 1 to 6 on", "inner plies 1 to 6 behind"):
        at = titles.index(f"Glue {layer} gores 1 to 6")
        assert at < curl
        assert "quite dry" in steps[at].detail
        assert steps[at].dry == glue.dry
    assert not [t for t in titles if t.startswith(("Curl inner", "Curl outside"))]


def test_the_shell_is_glued_in_two_halves_and_the_last_two_seams_close_it() -> None:
    """Seams of three gores, of the other three, then both that are left; each held for long."""
    design, glue, steps = _steps()
    halves = [s for s in steps if s.title.startswith(("Glue gores", "Glue the second half"))]
    assert len(halves) == 3
    seams = [{tuple(sorted((j.tab[0], j.target[0]))) for j in design.joints if j.tab in s.panels
              and j.target[0].startswith("gore") and j.tab[0].startswith("gore")}
             for s in halves]  # fmt: skip
    assert [len(s) for s in seams] == [2, 2, 2]
    assert seams[2] == {("gore-3", "gore-4"), ("gore-1", "gore-6")}
    for step, mine in zip(halves, seams, strict=True):
        long = sum(
            design.piece(a).panel(t).size[0]
            for (a, t) in step.panels
            if t.startswith("tab.") and t != "tab.0"
        )
        assert mine
        assert step.hold == pytest.approx(glue.hold + 30.0 * long / 85.0, rel=1e-6)
    assert "finger through the open foot" in halves[2].detail


@pytest.mark.parametrize("sides", [4, 5, 6, 7, 8])
@pytest.mark.parametrize("layer", ["ply-1", "panel-1"])
def test_layers_of_a_gore_narrow_to_their_tip_without_a_hook(sides, layer) -> None:  # type: ignore[no-untyped-def]
    """Cut across at any height they are one strip, each narrower than the one below."""
    design = build(FAMILY, (90.0, 90.0, 80.0), sides=float(sides), panels="gores")
    piece = design.piece(layer)
    whole = unary_union([Polygon(p.outline).buffer(1e-6) for p in piece.panels])
    box = np.array(whole.exterior.coords)
    fold = piece.folds[0]
    axis = 1 if abs(fold.start[1] - fold.end[1]) < abs(fold.start[0] - fold.end[0]) else 0
    low, high = box[:, axis].min(), box[:, axis].max()
    widths = []
    for at in np.linspace(low + 0.2, high - 0.2, 60):
        line = [(at, -500), (at, 500)] if axis == 0 else [(-500, at), (500, at)]
        cut = whole.intersection(LineString(line))
        assert cut.geom_type == "LineString"
        widths.append(cut.length)
    steps = np.diff(widths)
    assert (steps < 1e-6).all() or (steps > -1e-6).all()


def test_the_dome_springs_without_a_crease() -> None:
    """The fold between the upright foot and the first facet is bent, not scored."""
    gore = build(FAMILY, (80.0, 80.0, 60.0)).piece("gore-1")
    spring = next(f for f in gore.folds if (f.parent, f.child) == ("foot", "facet.1"))
    assert spring.kind == "rolled"


def test_a_double_wall_leaves_the_inside_as_it_was_asked() -> None:
    """The floor's top, feet counted, is where the hollow begins; the closed height says so."""
    one, two = (build(FAMILY, (80.0, 80.0, 60.0), walls=how) for how in ("single", "double"))
    t = one.piece("base").board.thickness
    below = [d.sizes["outside-height"].inputs[2].value for d in (one, two)]
    assert below == pytest.approx([2 * t, 3 * t])  # floor and brim; feet as well
    for design, ply in ((one, 0.0), (two, t)):  # from the FOLD text: what lies highest on the floor
        model = fold_reader.read(text_of(design))
        floor = model.faces["base", "floor"].points[:, 2].mean() + t / 2 + ply
        assert floor == pytest.approx(design.hollow.centre[2] - design.hollow.size[2] / 2, abs=1e-6)
    assert two.hollow.size == one.hollow.size
