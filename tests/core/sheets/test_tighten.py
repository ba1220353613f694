"""Packing tighter: what it finds is sound and a gain, and it can be ended at any moment."""

from __future__ import annotations

import itertools
import subprocess
import sys
from dataclasses import replace

import pytest
from benchmarks.drawn import Drawn
from shapely import affinity
from shapely.geometry import Polygon, box

from jadeite.core.project import Stock
from jadeite.core.sheets import GAP, Layout, PlacedPiece, SheetPlan
from jadeite.core.sheets import strip as strips
from jadeite.core.sheets.strip import bundles_of, packed
from jadeite.core.sheets.tighten import sound, tighten

STOCK = Stock(name="sheet", width=200, height=200)
REACH = (200.0, 200.0)
TRIANGLE = Polygon([(0, 0), (60, 0), (0, 60)])
FRAME = box(0, 0, 90, 90) - box(15, 15, 75, 75)
SMALL = box(-5, -5, 15, 15)


def rules(**shapes: Polygon) -> Drawn:
    """Outlines on sheets of 200 mm."""
    return Drawn([], REACH, 0.0, False, outlines=shapes)


def sheet(*placed: PlacedPiece, own: Drawn) -> SheetPlan:
    """One sheet with what lies on it."""
    area = sum(own.shapes[one.piece].area for one in placed)
    return SheetPlan(STOCK, "board", own.usable(STOCK), placed, area / 40_000)


def outlines(layout: Layout, own: Drawn) -> list[list[Polygon]]:
    """What lies on every sheet, turned and moved without the layout's help."""
    return [
        [
            affinity.translate(
                affinity.rotate(own.outlines[one.piece], one.angle, origin=(0, 0)), one.x, one.y
            )
            for one in plan.placed
        ]
        for plan in layout.sheets
    ]


def assert_sound(layout: Layout, own: Drawn) -> None:
    """Inside the sheets, apart, and in turns that are allowed (Shapely)."""
    for shapes in outlines(layout, own):
        assert all(box(0, 0, 200, 200).buffer(1e-3).covers(shape) for shape in shapes)
        for a, b in itertools.combinations(shapes, 2):
            assert a.distance(b) >= GAP - 1e-3
    for plan in layout.sheets:
        assert all(one.angle in own.angles for one in plan.placed)


def loose(count: int, own: Drawn) -> Layout:
    """Triangles that lie two to a sheet where many fit."""
    places = [PlacedPiece("triangle", i, 0.0, 5.0 + 90 * (i % 2), 5.0) for i in range(count)]
    pairs = [places[i : i + 2] for i in range(0, count, 2)]
    return Layout(tuple(sheet(*pair, own=own) for pair in pairs), (), 1)


def test_sheets_that_are_half_empty_become_fewer() -> None:
    """Ten triangles on five sheets lie on one in the end; each gain was told and is sound."""
    own = rules(triangle=TRIANGLE)
    told: list[Layout] = []
    before = loose(10, own)
    after = tighten(before, lambda _: own, seconds=60, better=told.append)
    assert len(after.sheets) == 1
    counts = [len(layout.sheets) for layout in told]
    assert counts == sorted(counts, reverse=True)
    for layout in told:
        assert_sound(layout, own)
        lies = sorted(p.copy for plan in layout.sheets for p in plan.placed)
        assert lies == list(range(10))


def test_what_is_pinned_stays_where_it_is() -> None:
    """A sheet with a pin is neither emptied nor filled."""
    own = rules(triangle=TRIANGLE)
    first, *others = loose(4, own).sheets
    pinned = replace(first, placed=tuple(replace(p, pinned=True) for p in first.placed))
    after = tighten(Layout((pinned, *others), (), 1), lambda _: own, seconds=5)
    assert after.sheets[0].placed == pinned.placed


def test_what_lies_in_a_cut_out_goes_with_its_frame() -> None:
    """The packer knows no holes: frames with something within stay together, however turned."""
    own = rules(frame=FRAME, small=SMALL)
    placed = [
        PlacedPiece("frame", 0, 90.0, 95.0, 2.0),
        PlacedPiece("small", 0, 90.0, 60.0, 40.0),
        PlacedPiece("frame", 1, 0.0, 100.0, 100.0),
    ]
    bundles = bundles_of(own, placed)
    assert [len(one.places) for one in bundles] == [2, 1]
    again = packed(bundles, own, STOCK, seconds=1, seed=3)
    assert again is not None
    layout = Layout((sheet(*again, own=own),), ())
    assert_sound(layout, own)
    shapes = dict(zip([(p.piece, p.copy) for p in again], outlines(layout, own)[0], strict=True))
    hull = Polygon(shapes["frame", 0].exterior)
    assert hull.contains(shapes["small", 0])
    turned = bundles[0].at(270.0, 10.0, 150.0)
    assert turned.within[0].angle == 270.0
    own_shapes = outlines(Layout((sheet(*turned.places, own=own),), ()), own)[0]
    assert Polygon(own_shapes[0].exterior).contains(own_shapes[1])
    assert own_shapes[0].distance(own_shapes[1]) == pytest.approx(
        shapes["frame", 0].distance(shapes["small", 0])
    )


def test_what_does_not_fit_is_not_taken() -> None:
    """Five frames on one sheet of four: nothing is found, and the packer's process is gone."""
    own = rules(frame=FRAME)
    placed = [PlacedPiece("frame", i, 0.0, 0.0, 0.0) for i in range(5)]
    assert packed(bundles_of(own, placed), own, STOCK, seconds=1, seed=1) is None


def test_a_layout_that_is_wrong_is_told_from_one_that_is_right() -> None:
    """The check that a gain must pass: overlap, edge, a copy twice."""
    own = rules(triangle=TRIANGLE)
    good = loose(2, own)
    assert sound(good, lambda _: own)
    one = good.sheets[0].placed[0]
    for wrong in (
        replace(one, copy=5, x=one.x + 10),
        replace(one, copy=5, x=170.0, y=100.0),
        replace(one, y=100.0),
        replace(one, copy=5, y=100.0, angle=45.0),
    ):
        spoilt = sheet(*good.sheets[0].placed, wrong, own=own)
        assert not sound(Layout((spoilt,), ()), lambda _: own)


def test_the_packer_ends_when_nobody_waits_for_it() -> None:
    """Its input closed, as when the program is gone: the process ends long before its job."""
    process = subprocess.Popen(
        [sys.executable, str(strips.PACKER)], stdin=subprocess.PIPE, stdout=subprocess.PIPE
    )
    assert process.stdin is not None
    process.stdin.write(
        b'{"items": [{"shape": [[0, 0], [9, 0], [0, 9]], "count": 60, "turns": [0.0, 90.0]}],'
        b' "height": 99, "gap": 1.5, "seconds": 600, "workers": 1, "seed": 1}\n'
    )
    process.stdin.flush()
    assert process.stdout is not None
    assert process.stdout.readline()
    process.stdin.close()
    assert process.wait(timeout=60) == 0
