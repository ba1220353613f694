"""The paper or a plate decides, and what then fits inside."""

from __future__ import annotations

from collections.abc import Iterable

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.geometry import MultiPoint, Polygon

from jadeite.core.contents import Ball, Block, Cylinder, Room, arrange
from jadeite.core.cutting import profile_by_key
from jadeite.core.dressings import bare_design, boards_of
from jadeite.core.errors import FieldError
from jadeite.core.nets import Design
from jadeite.core.nets.outline import piece_polygon
from jadeite.core.nets.roles import Role
from jadeite.core.project import Plate, Shape, Stock, Task, changed
from jadeite.core.shapes import family_by_key, resolve_options
from jadeite.core.sheets import placed_points
from jadeite.core.sizing import largest_block, size_by_paper, size_by_plate, what_fits

TWELVE = Stock(name="12 × 12 in", width=304.8, height=304.8)
SMALL = Stock(name="6 × 6 in", width=152.4, height=152.4)


def design_of(project: Task, inside) -> Design:  # type: ignore[no-untyped-def]
    """The design of an inside size."""
    family = family_by_key(project.shape.key)
    options = resolve_options(family, project.shape.options)
    return bare_design(family, inside, boards_of(project, family), options)


@pytest.mark.parametrize("shape", ["tray-with-lid", "sleeve"])
@pytest.mark.parametrize("grow", ["all", "base", "height"])
@pytest.mark.parametrize("sheets", [1, 2])
def test_the_largest_from_the_sheets_really_lies_on_them(shape, grow, sheets) -> None:  # type: ignore[no-untyped-def]
    """Every piece whole on its sheet, none on another, and no more sheets than asked."""
    project = Task(shape=Shape(key=shape), stock=(TWELVE,))
    start = (90.0, 60.0, 30.0)
    found = size_by_paper(project, TWELVE, start, sheets=sheets, grow=grow)
    assert len(found.layout.sheets) <= sheets
    assert not found.layout.unplaced
    design = design_of(project, found.inside)
    margin = profile_by_key(project.cutter).margin
    count = 0
    for sheet in found.layout.sheets:
        shapes = []
        for place in sheet.placed:
            outline = np.asarray(piece_polygon(design.piece(place.piece)).exterior.coords)
            shape_ = Polygon(placed_points(outline, place))
            x0, y0, x1, y1 = shape_.bounds
            assert min(x0, y0) >= margin - 1e-6
            assert x1 <= sheet.stock.width - margin + 1e-6
            assert y1 <= sheet.stock.height - margin + 1e-6
            assert all(shape_.distance(other) >= 1.4 for other in shapes)
            shapes.append(shape_)
        count += len(shapes)
    assert count == len(design.pieces)
    kept = {"all": (0, 1, 2), "base": (0, 1), "height": ()}[grow]
    for axis in kept:
        assert found.inside[axis] / found.inside[0] == pytest.approx(
            start[axis] / start[0], abs=2e-3
        )


def test_a_little_more_does_not_fit() -> None:
    """A tray that fills its sheet: by its own geometry the net is nearly as wide as the sheet."""
    project = Task(shape=Shape(key="sleeve"), stock=(TWELVE,))
    found = size_by_paper(project, TWELVE, (60.0, 100.0, 6.0), grow="base")
    design = design_of(project, found.inside)
    box = MultiPoint(np.concatenate([p.outline for p in design.pieces[0].panels]))
    usable = 304.8 - 2 * profile_by_key(project.cutter).margin
    sides = sorted(np.ptp(np.asarray(box.convex_hull.exterior.coords), axis=0))
    # turned freely, a strip may pass the side of its sheet but never the diagonal
    assert sides[1] <= usable * np.sqrt(2)
    assert sides[1] >= usable * 0.95


def test_more_sheets_and_larger_sheets_never_give_less() -> None:
    """One, two and three sheets, and a small one."""
    project = Task()
    start = (90.0, 60.0, 40.0)
    sizes = [size_by_paper(project, TWELVE, start, sheets=n).inside[0] for n in (1, 2, 3)]
    assert sizes == sorted(sizes)
    assert size_by_paper(project, SMALL, start).inside[0] < sizes[0]


def test_paper_that_is_too_small_is_refused_by_name() -> None:
    """A stamp of a sheet."""
    stamp = Stock(name="stamp", width=40, height=30)
    with pytest.raises(FieldError, match=r"sheets: .*stamp"):
        size_by_paper(Task(), stamp, (90.0, 60.0, 40.0))
    with pytest.raises(FieldError, match="at least one"):
        size_by_paper(Task(), TWELVE, (90.0, 60.0, 40.0), sheets=0)


def fits_plate(points: np.ndarray, width: float, height: float, angles: Iterable[int]) -> bool:
    """Whether points fit a rectangle at one of some turns; an independent look."""
    for turn in np.radians(list(angles)):
        c, s = np.cos(turn), np.sin(turn)
        x, y = np.ptp(points @ np.array([[c, s], [-s, c]]), axis=0)
        if x <= width + 1e-6 and y <= height + 1e-6:
            return True
    return False


@settings(max_examples=25)
@given(
    plate=st.tuples(st.floats(130, 300), st.floats(130, 300)),
    panel=st.sampled_from(["", "floor", "front"]),
    turns=st.sampled_from(["square", "any"]),
)
def test_property_a_plate_holds_the_net_without_its_flaps(plate, panel, turns) -> None:  # type: ignore[no-untyped-def]
    """Every piece fits; half a millimetre more in proportion and one of them does not."""
    project = Task()
    pressing = Plate(width=plate[0], height=plate[1], area=panel or "net", turns=turns)
    found = size_by_plate(project, pressing, (90.0, 60.0, 20.0))

    def pressed(inside):  # type: ignore[no-untyped-def]
        for piece in design_of(project, inside).pieces:
            panels = [
                p for p in piece.panels if p.role is not Role.TAB and (not panel or p.name == panel)
            ]
            yield np.concatenate([p.outline for p in panels])

    angles = range(180) if turns == "any" else (0, 90)
    assert all(fits_plate(points, *plate, angles) for points in pressed(found.inside))
    longer = tuple(v * 1.03 for v in found.inside)
    assert not all(fits_plate(points, *plate, angles) for points in pressed(longer))


def test_a_panel_that_is_not_there_is_refused() -> None:
    """With the names that are."""
    with pytest.raises(FieldError, match="floor"):
        size_by_plate(Task(), Plate(width=150, height=150, area="roof"), (90.0, 60.0, 20.0))


def test_what_then_fits_inside() -> None:
    """Counts against plain division, for things that fill a row."""
    room = Room(lambda s: s[0] * s[1] + (s[0] + s[1]) * s[2])
    inside = (100.0, 60.0, 41.0)
    cube = Block(name="cube", length=17, width=17, height=17, turn="upright", clearance=1.5)
    ball = Ball(name="ball", diameter=39, clearance=0.0)
    tall = Cylinder(name="tube", diameter=20, height=80, turn="upright")
    fills = what_fits([cube, ball, tall], room, inside)
    assert fills[0].count == 5 * 3 * 2  # 20 mm cells, two layers under 40 mm
    assert fills[1].count == 2
    assert fills[2].count == 0
    assert fills[0].arrangement is not None
    again = arrange([cube.model_copy(update={"count": 31})], Room(room.board_area, limit=inside))
    assert again is not None
    assert any(n > have for n, have in zip(again.inside, inside, strict=True))


@given(st.tuples(st.floats(15, 400), st.floats(15, 400), st.floats(15, 400)))
def test_property_the_largest_block_needs_just_that_inside(inside) -> None:  # type: ignore[no-untyped-def]
    """Dropped in, it asks for the hollow it came from."""
    x, y, z = largest_block(inside, 2)
    block = Block(name="block", length=x, width=y, height=z, turn="upright")
    found = arrange([block], Room(lambda s: s[0] * s[1] + (s[0] + s[1]) * s[2]), quick=True)
    assert found is not None
    assert sorted(found.inside[:2]) == pytest.approx(sorted(inside[:2]), abs=1e-3)
    assert found.inside[2] == pytest.approx(inside[2], abs=1e-6)


def test_changing_all_pieces_together() -> None:
    """The plate decides one piece; the other follows, and they still close."""
    project = changed(Task(), boards={"tray": "craft-board"})
    found = size_by_plate(project, Plate(width=160, height=160), (90.0, 60.0, 20.0))
    design = design_of(project, found.inside)
    lid, tray = design.piece("lid"), design.piece("tray")
    assert lid.panel("floor").size[0] > tray.panel("floor").size[0]
    assert found.piece in ("tray", "lid")


def test_a_plate_and_sheets_together() -> None:
    """As large as the smaller of both answers, which lie apart; the piece that decides is named."""
    plate, start = Plate(width=170, height=170), (90.0, 60.0, 20.0)
    by_plate = size_by_plate(Task(), plate, start).inside[0]
    by_paper = size_by_paper(Task(), TWELVE, start).inside[0]
    both = size_by_plate(Task(), plate, start, paper=(TWELVE, 1))
    assert abs(by_plate - by_paper) > 5
    assert both.inside[0] == pytest.approx(min(by_plate, by_paper), rel=0.03)
