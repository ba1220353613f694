"""The domed box, proved from its exported FOLD geometry and against published formulas."""

from __future__ import annotations

import math

import numpy as np
import pytest
import trimesh
from hypothesis import example, given, settings

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
    assert {p.part for p in design.pieces} == {key for key, _ in FAMILY.parts}


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
