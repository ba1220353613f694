"""The globe lantern, from its exported FOLD geometry and the geometry of bent gores."""

from __future__ import annotations

import math

import numpy as np
import pytest
import trimesh
from hypothesis import example, given, settings

from jadeite.core.nets.globe import Globe
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

FAMILY = family_by_key("globe")
INSIDE = (58.0, 58.0, 46.0)


@settings(max_examples=HEAVY)
@given(inside=sizes(20.0, 300.0), board=FOLDING, chosen=options_of(FAMILY))
@example((20.0, 20.0, 20.0), "extra-heavy-card", {"sides": 12, "across": 50.0})
@example((300.0, 300.0, 20.0), "tissue", {"sides": 6, "across": 50.0, "base": "ring"})
def test_property_every_globe_closes(inside, board, chosen) -> None:  # type: ignore[no-untyped-def]
    """Over all sizes, boards and options together."""
    closes_or_says_why(FAMILY, inside, board, chosen)


@pytest.mark.parametrize("sides", [6, 9, 12])
def test_gores_have_the_published_area(sides) -> None:  # type: ignore[no-untyped-def]
    """Bent one way only, n gores have n tan(pi/n)/pi times the area of the sphere's zone."""
    design = build(FAMILY, INSIDE, sides=sides, measured="round", across=160.0)
    faces = fold_reader.read(text_of(design)).faces.values()
    gores = [f for f in faces if f.panel.startswith("facet")]
    area = sum(
        np.linalg.norm(np.cross(f.points, np.roll(f.points, -1, axis=0)).sum(axis=0)) / 2
        for f in gores
    )
    z = np.concatenate([f.points[:, 2] for f in gores])
    radius, height = 80.0, float(np.ptp(z))
    want = sides * math.tan(math.pi / sides) / math.pi * 2 * math.pi * radius * height
    assert area == pytest.approx(want, rel=0.012)  # seams are set back by a ply as well


def test_volume_is_that_of_level_polygons() -> None:
    """Divergence theorem (trimesh) against the sum of polygons n tan(pi/n) r(z)^2."""
    globe = Globe(8, 38.0, 50.0, 29.0, 41)
    tangent = math.tan(math.pi / 8)
    rings = []
    for k in range(globe.facets + 1):
        r, z = globe.corner(k)
        turns = (np.arange(8) + 0.5) * math.pi / 4
        around = r / math.cos(math.pi / 8)
        rings.append(np.column_stack([around * np.cos(turns), around * np.sin(turns),
                                      np.full(8, z)]))  # fmt: skip
    hull = trimesh.Trimesh(np.concatenate(rings)).convex_hull
    half, r2 = 50.0, globe.radius**2
    assert hull.volume == pytest.approx(8 * tangent * 2 * (r2 * half - half**3 / 3), rel=2e-3)


@pytest.mark.parametrize(("inside", "across"), [(INSIDE, 120.0), (INSIDE, 50.0), (INSIDE, 300.0)])
def test_it_is_as_wide_as_wanted_and_wider_where_it_must_be(inside, across) -> None:  # type: ignore[no-untyped-def]
    """The rings' opening is as wide as what is inside needs, whatever the globe's width."""
    design = build(FAMILY, inside, measured="round", across=across)
    wide = design.sizes["globe-across"].value
    assert wide >= across
    if across >= 120.0:
        assert wide == pytest.approx(across + design.pieces[0].board.thickness, abs=0.1)
    else:
        assert wide > across
    opening = design.piece("ring").panels[0].openings[0].points
    assert np.abs(opening).max() >= 29.0
    assert design.piece("base").panels[0].openings == ()


def test_only_panels_scale() -> None:
    """Flanges are 9 mm less their ease, tabs at most 10 mm (from memory), whatever the size."""
    for factor in (1.0, 2.0):
        design = build(FAMILY, tuple(v * factor for v in INSIDE), across=120.0 * factor)
        gore = design.pieces[0]
        flange = gore.panel("flange.top")
        assert flange.size[1] == pytest.approx(9.0 - 0.3, abs=0.01)
        deep = [p.size[1] for p in gore.panels if p.name.startswith("tab")]
        assert max(deep) <= 10.0 + 1e-6
