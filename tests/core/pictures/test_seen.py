"""What is seen of a flower from above, against rays, against its fullness, and as a picture."""

from __future__ import annotations

import itertools

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from jadeite.core.pictures import DARK, LIGHT, Label, Path
from jadeite.core.pictures.seen import marks_of, seen_from_above, seen_picture
from jadeite.core.pipeline import Work, work_up
from jadeite.core.project import Hollow, Shape, Span, Task, changed
from jadeite.core.shapes import family_by_key
from tests import fold_reader
from tests.core.shapes.closing import build, text_of

FAMILY = family_by_key("layered-flower")


def made(width: float = 120.0, **options: object) -> Work:
    """A layered flower."""
    chosen = {key.replace("_", "-"): value for key, value in options.items()}
    task = changed(Task(), brief=Span(width=width), shape=Shape(key=FAMILY.key, options=chosen))
    return work_up(task, None)


@settings(max_examples=15)
@given(
    width=st.floats(60.0, 220.0),
    petals=st.sampled_from(["5 4 4 3 3", "6 6 6", "8 5 3", "5"]),
    inner=st.floats(10.0, 75.0),
    base=st.sampled_from(["leaves", "none"]),
)
def test_property_shares_agree_with_the_flowers_own_fullness(width, petals, inner, base) -> None:  # type: ignore[no-untyped-def]
    """Regions of polygons here, cells about the axis there: within a percent of the disc."""
    work = made(width, petals=petals, inner_rise=inner, base=base)
    if work.design is None:
        return
    seen = work.seen
    assert sum(one.of_disc for one in seen) * 100 == pytest.approx(
        work.sizes["fullness"].value, abs=1.0
    )
    assert all(0 < one.share <= 1 + 1e-6 for one in seen)
    assert seen[-1].share == pytest.approx(1.0, abs=1e-3)  # nothing lies over the innermost
    for one, other in itertools.pairwise(seen):
        assert shapely.intersection(one.region, other.region, grid_size=1e-3).area < 0.5


def test_a_ray_from_above_meets_that_part_first() -> None:
    """Rays down at a thousand places on the corners and planes of the FOLD file."""
    design = build(FAMILY, (120.0, 0.0, 0.0))
    seen = seen_from_above(design)
    model = fold_reader.read(text_of(design))
    part = {piece.name: piece.part for piece in design.pieces}
    rng = np.random.default_rng(4)
    places = rng.uniform(-50.0, 50.0, (1000, 2))
    right = wrong = 0
    for x, y in places:
        best: tuple[float, str] | None = None
        for (piece, _), face in model.faces.items():
            if not shapely.contains_xy(shapely.Polygon(face.points[:, :2]), x, y):
                continue
            normal = np.cross(face.points[1] - face.points[0], face.points[-1] - face.points[0])
            a = face.points[0]
            z = a[2] - (normal[0] * (x - a[0]) + normal[1] * (y - a[1])) / normal[2]
            if best is None or z > best[0]:
                best = float(z), part[piece]
        mine = next((s.part for s in seen if shapely.contains_xy(s.region, x, y)), None)
        if mine == (None if best is None else best[1]):
            right += 1
        else:
            wrong += 1
    assert right > 900
    assert wrong < 0.06 * len(places)  # where petals lean on others, the level says which is seen


@pytest.mark.parametrize("palette", [LIGHT, DARK], ids=["light", "dark"])
def test_the_picture_has_every_region_and_its_number(palette) -> None:  # type: ignore[no-untyped-def]
    """Within its size, in proportion; numbers stand within their regions."""
    seen = made().seen
    marks = marks_of(["Leaf ring", *(f"Ring {n}" for n in range(1, len(seen)))])
    assert marks[:3] == ["a", "1", "2"]
    picture = seen_picture(seen, marks, (286.0, 220.0), palette)
    numbers = [item.text for item in picture.items if isinstance(item, Label)]
    assert numbers == marks
    points = np.concatenate(
        [ring for item in picture.items if isinstance(item, Path) for ring in item.rings]
    )
    assert points.min() >= 0
    assert (points.max(axis=0) <= (286.0, 220.0)).all()
    filled = sum(
        shapely.Polygon(item.rings[0], list(item.rings[1:])).area
        for item in picture.items
        if isinstance(item, Path) and item.fill
    )
    assert filled == pytest.approx(
        sum(one.of_disc for one in seen) * np.pi * (110.0 - 4.0) ** 2, rel=0.03
    )


def test_a_box_has_none() -> None:
    """Only where layers that are seen are counted."""
    box = work_up(changed(Task(), brief=Hollow(size=(60.0, 50.0, 40.0))), None)
    assert box.seen == ()
    assert seen_picture((), (), (100.0, 100.0), LIGHT).items == []
