"""The round box: rolled from flat strips, proved from its FOLD text and by the cone's formulas."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest
import trimesh
from hypothesis import example, given, settings
from hypothesis import strategies as st

from jadeite.core.assembly import assembly_plan, lift_of
from jadeite.core.assembly.adhesives import ADHESIVES
from jadeite.core.boards import board_by_key, smallest_roll
from jadeite.core.contents import Ball
from jadeite.core.nets.bends import tightest_roll
from jadeite.core.nets.rolled import Rolled
from jadeite.core.pipeline import arrange_contents, work_up
from jadeite.core.project import Shape, Task, changed
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

FAMILY = family_by_key("round-box")
PLAIN = {"measured": "round", "flare": 0.0, "floor": "two", "lid": "lift-off", "lid-depth": 18.0}
INSIDE = (60.0, 60.0, 40.0)


@settings(max_examples=HEAVY)
@given(inside=sizes(12.0, 400.0), board=FOLDING, chosen=options_of(FAMILY))
@example((41.0, 41.0, 12.0), "craft-board", PLAIN)
@example((400.0, 400.0, 400.0), "craft-board", PLAIN | {"flare": 25.0, "measured": "block"})
@example((20.0, 20.0, 20.0), "medium-card", PLAIN)
def test_property_every_round_box_closes(inside, board, chosen) -> None:  # type: ignore[no-untyped-def]
    """Over all sizes, boards and options together; too narrow for teeth is refused."""
    assert closes_or_says_why(FAMILY, inside, board, chosen) or max(inside[:2]) < 41.0


def _facets(model: fold_reader.Model) -> list[fold_reader.Face]:
    faces = [f for (p, n), f in model.faces.items() if p == "wall" and n.startswith("facet.")]
    return sorted(faces, key=lambda f: int(f.panel.removeprefix("facet.")))


def _flat_wall(design):  # type: ignore[no-untyped-def]
    """Facets of the flat strip in their order, each (4, 2): child edge first."""
    return [p for p in design.piece("wall").panels if p.name.startswith("facet.")]


@given(
    low=st.floats(15.0, 200.0),
    more=st.floats(0.5, 120.0),
    height=st.floats(15.0, 300.0),
    facets=st.integers(8, 20).map(lambda n: 2 * n),
)
def test_a_cone_is_a_sector_of_its_flat_strip(low, more, height, facets) -> None:  # type: ignore[no-untyped-def]
    """Sector angle 360 r / s; arcs keep their length, r = s sin(half angle) (published).

    The folded facets are as long as the flat ones: a developable surface.
    """
    shape = Rolled(low, low + more, height, facets)
    half = math.asin(more / shape.slant)
    assert shape.sector == pytest.approx(2 * math.pi * math.sin(half))
    assert shape.from_apex(low) * shape.sector == pytest.approx(2 * math.pi * low)
    a, b = shape.corner(0, 0.0), shape.corner(1, 0.0)
    c, d = shape.corner(0, height), shape.corner(1, height)
    chord = 2 * shape.from_apex(low) * math.sin(shape.sector / facets / 2)
    assert np.linalg.norm(b - a) == pytest.approx(chord)
    assert np.linalg.norm(c - a) == pytest.approx(shape.slant)
    assert np.linalg.norm(d - c) == pytest.approx(chord * (low + more) / low)


@pytest.mark.parametrize("flare", [0.0, 6.0, 15.0, 25.0])
def test_the_flat_wall_opens_by_the_sector_angle(flare) -> None:  # type: ignore[no-untyped-def]
    """Measured between the first and the last ruling of the net; 0 for a cylinder's strip."""
    design = build(FAMILY, INSIDE, flare=flare, measured="round")
    apart = 0.0
    for panel in _flat_wall(design):
        sides = np.roll(panel.outline, -1, axis=0) - panel.outline
        long = [s for s in sides if np.hypot(*s) > 0.98 * design.sizes["strip-height"].value]
        (ax, ay), (bx, by) = long[0], -long[1]
        apart += math.degrees(abs(math.atan2(ax * by - ay * bx, ax * bx + ay * by)))
    want = design.sizes["sector-angle"].value if flare else 0.0
    assert apart == pytest.approx(want, abs=1e-6)
    across = design.sizes["strip-length"].value / math.pi
    if flare:
        s = design.sizes["sector-angle"].inputs[1].value
        assert want == pytest.approx(360.0 * (across / 2) / s)


def test_the_strip_is_as_long_as_the_circle_that_it_becomes() -> None:
    """2 pi r for the middle surface; it encloses a prism on a regular polygon of that perimeter.

    Area of a regular n-gon P^2 / (4 n tan(pi/n)) (published); volume by divergence (trimesh).
    """
    design = build(FAMILY, INSIDE, measured="round", lid="none")
    foot = design.sizes["strip-length"].value
    widths = [p.size[0] if p.size[0] < p.size[1] else p.size[1] for p in _flat_wall(design)]
    assert sum(widths) == pytest.approx(foot)
    facets = _facets(fold_reader.read(text_of(design)))
    hull = trimesh.Trimesh(np.concatenate([f.points for f in facets])).convex_hull
    r, high = foot / 2 / math.pi, design.sizes["strip-height"].value
    n = len(facets)
    assert hull.volume == pytest.approx(foot**2 / (4 * n * math.tan(math.pi / n)) * high)
    assert hull.volume == pytest.approx(math.pi * r * r * high, rel=0.005)
    inner = min(float(np.linalg.norm(f.points.mean(axis=0)[:2])) for f in facets)
    t = board_by_key("medium-card").thickness
    assert inner - 1.5 * t == pytest.approx(30.0)  # the wall, and the lap within


@pytest.mark.parametrize("factor", [0.5, 1.0, 2.0])
def test_only_panels_scale(factor) -> None:  # type: ignore[no-untyped-def]
    """Lid clearance, the floor's ease and the lap stay; teeth but by the rule of 0.7 r."""
    inside = tuple(90.0 * factor for _ in range(3))
    design = build(FAMILY, inside, measured="round")
    assert design.sizes["lid-clearance"].value == pytest.approx(1.6)
    assert design.sizes["floor-across"].inputs[1].value == 0.1
    assert design.sizes["tooth-depth"].value == pytest.approx(min(14.0, 0.7 * inside[0] / 2))
    lap = [p for p in design.piece("wall").panels if p.name.startswith("lap.")]
    assert sum(min(p.size) for p in lap) == pytest.approx(10.0, abs=0.2)


def test_hands_roll_it_stand_it_and_lay_the_floor_in() -> None:
    """The wall is glued to its base before the floor hides the teeth; the lid goes on last."""
    design = build(FAMILY, INSIDE, measured="round")
    lift = lift_of(design)
    stops = [label for _, label in lift.stops if label]
    assert stops.index("joined") < stops.index("floor in") < stops.index("filled")
    titles = [s.title for s in assembly_plan(design, lift, ADHESIVES[0], ["planet"]).steps]
    wanted = [
        "Glue the seam of the wall",
        "Fold in the wall's teeth",
        "Glue the wall to the base",
        "Glue the floor in",
        "Put in planet",
        "Put the lid on",
    ]
    assert list(dict.fromkeys(t for t in titles if t in wanted)) == wanted


def test_how_tight_it_is_rolled_is_measured_and_said() -> None:
    """A cylinder rolls to its own diameter; 25 thicknesses is the least (from memory)."""
    design = build(FAMILY, INSIDE, measured="round")
    rolled = tightest_roll(design.piece("wall"))
    assert rolled == pytest.approx(design.sizes["strip-length"].value / math.pi, rel=1e-9)
    stout = replace(board_by_key("craft-board"), key="stout", title="Stout card", thickness=2.0)
    project = changed(
        Task(),
        contents=(Ball(name="moon", diameter=38),),
        own_boards=(stout,),
        boards={"base": "stout"},
        shape=Shape(key="round-box", options={"floor": "one", "lid": "none"}),
    )
    work = work_up(project, arrange_contents(project, quick=True))
    found = next(f for f in work.findings if f.code == "rolled-tight")
    assert "stout card kinks under 50.0 mm" in found.message
    assert found.cure is not None
    (field, key), *_ = found.cure.changes
    assert field == "boards.wall"
    cured = changed(project, boards={"base": "stout", "wall": key})
    again = work_up(cured, arrange_contents(cured, quick=True))
    assert "rolled-tight" not in {f.code for f in again.findings}
    assert again.design is not None
    rolled = tightest_roll(again.design.piece("wall"))
    assert rolled is not None
    assert smallest_roll(board_by_key(key, (stout,))).value <= rolled
