"""The n-sided box, proved from its exported FOLD geometry."""

from __future__ import annotations

import math

import numpy as np
import pytest
import trimesh
from hypothesis import example, given, settings

from jadeite.core.errors import FieldError
from jadeite.core.shapes import family_by_key
from tests import fold_reader
from tests.core.shapes.closing import FOLDING, build, closes_or_says_why, options_of, sizes, text_of

FAMILY = family_by_key("n-sided-box")
PLAIN = {"sides": 6, "measured": "round", "walls": "single", "lid": "none", "lid-depth": 18.0}


@settings(max_examples=200)
@given(inside=sizes(15.0, 250.0), board=FOLDING, chosen=options_of(FAMILY))
@example((15.0, 15.0, 15.0), "craft-board", PLAIN | {"sides": 12, "walls": "double"})
@example((30.0, 30.0, 8.0 + 8.0), "craft-board", PLAIN | {"sides": 3, "lid": "lift-off"})
def test_property_every_ring_closes(inside, board, chosen) -> None:  # type: ignore[no-untyped-def]
    """Over all sizes, boards and options together."""
    closes_or_says_why(FAMILY, inside, board, chosen)


@pytest.mark.parametrize("sides", range(3, 13))
def test_the_floor_is_the_polygon_of_the_handbook(sides) -> None:  # type: ignore[no-untyped-def]
    """Side a = 2 r tan(pi/n), area n a r / 2 (any geometry handbook), with the plies between."""
    design = build(FAMILY, (90.0, 90.0, 40.0), sides=sides, measured="round")
    t = 0.23
    r = 45.0 + 1.5 * t  # inside, the tab, and half of the wall
    floor = design.piece("tray").panel("floor").outline
    side = np.linalg.norm(np.roll(floor, -1, axis=0) - floor, axis=1)
    assert side == pytest.approx(2 * r * math.tan(math.pi / sides))
    x, y = floor.T
    area = abs(np.dot(x, np.roll(y, -1)) - np.dot(y, np.roll(x, -1))) / 2
    assert area == pytest.approx(sides * side[0] * r / 2)


def test_a_block_in_four_sides_needs_its_longer_side_square() -> None:
    """Worked by hand: 60 x 40 in a regular square is 60 across; round it, 72.1 (its diagonal)."""
    square = build(FAMILY, (60.0, 40.0, 30.0), sides=4, measured="block")
    assert square.sizes["inradius"].value == pytest.approx(30.0)
    many = build(FAMILY, (60.0, 40.0, 30.0), sides=12, measured="block")
    assert 30.0 < many.sizes["inradius"].value < math.hypot(60, 40) / 2


def test_the_lid_is_larger_by_its_clearance_and_no_more() -> None:
    """1.6 mm in total for card (common practice), over the outermost ply of the tray."""
    for sides in (3, 4, 8, 12):
        design = build(FAMILY, (80.0, 80.0, 40.0), sides=sides, measured="round")
        sizes_ = design.sizes
        across = sizes_["lid-inside-across"].value - sizes_["outside-across"].value
        assert across == pytest.approx(1.6)


def test_tabs_gaps_and_clearance_do_not_grow_with_the_box() -> None:
    """Half, one and double size: only panels scale."""
    kept = []
    for factor in (0.5, 1.0, 2.0):
        inside = tuple(v * factor for v in (100.0, 100.0, 60.0))
        design = build(FAMILY, inside, measured="round", walls="double")
        tray = design.piece("tray")
        kept.append(
            [design.sizes[k].value for k in ("tab-depth", "lid-clearance")]
            + [tray.panel(n).size[1] for n in ("tab.1", "rim.wall-1", "foot.wall-1")]
        )
    assert kept[0] == pytest.approx(kept[1])
    assert kept[1] == pytest.approx(kept[2])


def test_sides_too_short_for_a_tab_are_refused_with_a_number_that_works() -> None:
    """The value in the cure builds."""
    with pytest.raises(FieldError, match="sides") as caught:
        build(FAMILY, (15.0, 15.0, 30.0), "craft-board", sides=12, measured="round")
    number = int(caught.value.cure.split()[1])
    build(FAMILY, (15.0, 15.0, 30.0), "craft-board", sides=number, measured="round")


@pytest.mark.parametrize("sides", [3, 5, 8, 12])
def test_its_walls_enclose_a_prism(sides) -> None:  # type: ignore[no-untyped-def]
    """Built of tissue, its middle surfaces hold n r^2 tan(pi/n) h (trimesh, by divergence)."""
    design = build(FAMILY, (80.0, 80.0, 50.0), "tissue", sides=sides, measured="round", lid="none")
    faces = fold_reader.read(text_of(design)).faces
    corners = np.concatenate(
        [f.points for (_, n), f in faces.items() if n == "floor" or n.startswith("wall")]
    )
    r = 40.0 + 1.5 * 0.03
    volume = sides * r * r * math.tan(math.pi / sides) * float(np.ptp(corners[:, 2]))
    assert trimesh.Trimesh(corners).convex_hull.volume == pytest.approx(volume, rel=5e-3)
