"""Pockets of an outline: even borders and bands by Shapely, closure by the FOLD text."""

from __future__ import annotations

import itertools
import math
from pathlib import Path

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely import affinity
from shapely.geometry import LineString, Point, Polygon, box

from jadeite.cli import main
from jadeite.core.contents import Ball, FlatPack, Tag
from jadeite.core.errors import FieldError
from jadeite.core.findings import Level
from jadeite.core.formats import load_project
from jadeite.core.pipeline import arrange_contents, work_up, work_up_job
from jadeite.core.project import Shape, Task, changed
from jadeite.core.shapes import family_by_key
from jadeite.core.shapes.own_outlines import own_outline, own_words
from jadeite.core.shapes.pocket_outlines import OUTLINES, inner_room, outline_for, within_border
from tests import fold_reader
from tests.core.shapes.closing import (
    FOLDING,
    build,
    closes_or_says_why,
    faults,
    text_of,
    values_of,
)

FAMILY = family_by_key("outline-pocket")
KEYS = [key for key, _ in OUTLINES]
INSIDES = st.tuples(st.floats(20.0, 150.0), st.floats(20.0, 150.0), st.floats(0.1, 6.0))
CHOSEN = st.fixed_dictionaries({o.key: values_of(o, 60.0) for o in FAMILY.options})
CHART = FlatPack(name="chart", width=70, height=90, thickness=1.0, mass=8.0)


@settings(max_examples=200)
@given(inside=INSIDES, board=FOLDING, chosen=CHOSEN)
def test_property_every_pocket_closes(inside, board, chosen) -> None:  # type: ignore[no-untyped-def]
    """All outlines, options and boards: every one is made and closes."""
    assert closes_or_says_why(FAMILY, inside, board, chosen)


@settings(max_examples=60)
@given(
    key=st.sampled_from(KEYS),
    size=st.tuples(st.floats(30, 120), st.floats(30, 120)),
    border=st.floats(2.0, 8.0),
    tall=st.floats(0.7, 1.8),
)
def test_property_borders_are_even_for_every_outline(key, size, border, tall) -> None:  # type: ignore[no-untyped-def]
    """Every point of the inner line is as far from the outline as asked, to 0.02 mm.

    The distance is Shapely's, of densified points to lines: not how it was offset.
    """
    outline = outline_for(key, size, 5.0, tall=tall).outline
    inner = within_border(outline, border)
    edge = shapely.LinearRing(outline)
    ring = np.vstack([inner, inner[:1]])
    dense = shapely.segmentize(LineString(ring), 0.5)
    far = shapely.distance(shapely.points(np.array(dense.coords)), edge)
    assert np.abs(far - border).max() < 0.02


@settings(max_examples=60)
@given(size=st.tuples(st.floats(30, 120), st.floats(30, 120)), border=st.floats(1.0, 12.0))
def test_property_parallel_curves_obey_steiner(size, border) -> None:  # type: ignore[no-untyped-def]
    """Steiner's formula for a convex region: area(r) = area + length r + pi r^2, length + 2 pi r.

    The inner line moved out again is the outline, where no corner was sharper than the border.
    """
    shape = outline_for("round", size, 5.0).shape.convex_hull
    outer = np.array(shape.buffer(border, quad_segs=64).exterior.coords)[:-1]
    inner = Polygon(within_border(outer, border))
    assert inner.area == pytest.approx(shape.area, rel=2e-4)
    whole = Polygon(outer)
    assert whole.area == pytest.approx(
        inner.area + inner.length * border + math.pi * border**2, rel=5e-4
    )
    assert whole.length == pytest.approx(inner.length + 2 * math.pi * border, rel=5e-4)


@settings(max_examples=60)
@given(
    key=st.sampled_from(KEYS),
    size=st.tuples(st.floats(30, 120), st.floats(30, 120)),
    band=st.floats(3.0, 12.0),
)
def test_property_the_thing_keeps_off_the_glue_and_reaches_the_mouth(key, size, band) -> None:  # type: ignore[no-untyped-def]
    """Its rectangle lies in the outline, `band` from every edge but the mouth; none is smaller.

    Found anew with Shapely from the outline alone; a pocket 2 % smaller has no room for it.
    """
    pocket = outline_for(key, size, band)
    x, thing = pocket.middle, None
    thing = box(x - size[0] / 2, -size[1], x + size[0] / 2, 0.0)
    shape = Polygon(pocket.outline)
    ring = np.vstack([pocket.outline, pocket.outline[:1]])
    sides = [LineString(s) for s in itertools.pairwise(ring) if s[0][1] + s[1][1] < -1e-6]
    assert shape.buffer(1e-4).covers(thing)
    assert shapely.union_all(sides).distance(thing) >= band - 0.03
    less = affinity.scale(shape, 0.98, 0.98, origin=(0, 0))
    room = inner_room(less, band)
    spots = np.linspace(room.bounds[0] + size[0] / 2, room.bounds[2] - size[0] / 2, 200)
    fits = [
        room.buffer(1e-6).covers(box(s - size[0] / 2, -size[1], s + size[0] / 2, -1e-6))
        for s in spots
    ]
    assert not any(fits) or room.bounds[2] - room.bounds[0] < size[0]


@pytest.mark.parametrize("key", KEYS)
def test_what_is_glued_is_all_but_the_mouth(key: str) -> None:
    """From the FOLD text: the joints' regions lie on both plies, and leave the hollow free.

    Their area is what the outline has more than the room inside, and none lies in the mouth.
    """
    design = build(FAMILY, (70.0, 90.0, 1.0), outline=key, band=5.0)
    model = fold_reader.read(text_of(design))
    front = model.faces["front", "plate"].points[:, :2]
    regions = [Polygon(np.array(j["region"])[:, :2]) for j in model.joints if "region" in j]
    assert len(regions) == 2
    hollow = design.room
    x, y = hollow.centre[0], hollow.centre[1]
    thing = box(x - 35.0, y - 45.0, x + 35.0, y + 45.0)
    for region in regions:
        assert region.is_valid
        assert region.intersection(thing).area < 1e-3
        assert region.area / 100 == pytest.approx(design.sizes["glued-area"].value, rel=1e-3)
        assert not region.covers(Point(0.0, -0.5))
        whole = Polygon(front)
        assert whole.buffer(1e-6).covers(region)
        assert region.area == pytest.approx(whole.area - inner_room(whole, 5.0).area, rel=0.03)


def test_a_pair_is_mirrored() -> None:
    """Turned to the left is the mirror image of turned to the right, piece by piece."""
    right, left = (build(FAMILY, (70.0, 90.0, 1.0), outline="mitten", hand=hand)
                   for hand in ("right", "left"))  # fmt: skip
    for piece in ("front", "lining", "back", "cuff"):
        one, other = (Polygon(d.piece(piece).panels[0].outline) for d in (right, left))
        assert affinity.scale(one, -1, 1, origin=(0, 0)).symmetric_difference(other).area < 1e-6


def test_it_holds_the_thing_with_its_tag_and_says_what_it_is_not_for() -> None:
    """Deep enough for a sachet with its tag inside; a ball is for a box; usual ones are clean."""
    task = changed(Task(), shape=Shape(key="outline-pocket"), contents=(CHART,))
    work = work_up(task, arrange_contents(task))
    assert [f.message for f in work.findings if f.level > Level.NOTE] == []
    bare = work.sizes["inside-height"].value
    tagged = CHART.model_copy(update={"tag": Tag(width=20, height=30, hangs="inside")})
    task = changed(task, contents=(tagged,))
    deep = work_up(task, arrange_contents(task)).sizes["inside-height"].value
    assert deep > bare + 20
    task = changed(task, contents=(Ball(name="planet", diameter=40),))
    (finding,) = work_up(task, arrange_contents(task)).findings
    assert "Planet is not flat" in finding.message


def test_a_drawing_becomes_a_pocket(tmp_path: Path) -> None:
    """The outline below its mouth is that of the SVG, as Shapely has it; a chart has its room."""
    drawing = tmp_path / "egg.svg"
    drawing.write_text(
        '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 100 120">'
        '<path d="M20,5 L80,5 C110,40 100,90 50,118 C0,90 -10,40 20,5 Z"/></svg>'
    )
    file = tmp_path / "pocket.jadeite"
    assert main(["new", "outline-pocket", "--thing", "chart: flat 70x92x1mm", "--set",
                 f"outline={drawing}", "-o", str(file)]) == 0  # fmt: skip
    (work,) = work_up_job(load_project(file)).works.values()
    assert [f.message for f in work.findings if f.level > Level.NOTE] == []
    assert work.design is not None
    shape = Polygon(work.design.piece("front").panels[0].outline)
    # the drawn curve by its own Bezier polynomial, scaled to the pocket's width
    t = np.linspace(0, 1, 200)[:, None]
    ends = [np.array(p, float) for p in ((80, 5), (110, 40), (100, 90), (50, 118))]
    shares = (1 - t) ** 3, 3 * t * (1 - t) ** 2, 3 * t**2 * (1 - t), t**3
    right = sum(share * end for share, end in zip(shares, ends, strict=True))
    left = np.column_stack([100 - right[::-1, 0], right[::-1, 1]])
    egg = Polygon(np.vstack([right, left]) * (1, -1))
    wide = shape.bounds[2] - shape.bounds[0]
    egg = affinity.scale(egg, *(wide / (egg.bounds[2] - egg.bounds[0]),) * 2)
    egg = affinity.translate(egg, shape.bounds[0] - egg.bounds[0], shape.bounds[1] - egg.bounds[1])
    below = egg.intersection(box(-1e3, -1e3, 1e3, shape.bounds[3]))
    assert shape.symmetric_difference(below).area < 0.01 * shape.area


@pytest.mark.parametrize("words", ["text:H", "text:STAR", "text:Åse"])
def test_letters_become_a_pocket(words: str) -> None:
    """One piece with one mouth on top, that runs from -0.5 to 0.5; letters are as many bumps."""
    plain = own_outline(own_words(words, "outline"))
    assert plain.geom_type == "Polygon"
    ring = np.array(plain.exterior.coords)
    top = ring[ring[:, 1] > -1e-6]
    assert (top[:, 0].min(), top[:, 0].max()) == pytest.approx((-0.5, 0.5), abs=1e-6)
    assert ring[:, 1].max() == pytest.approx(0.0, abs=1e-9)
    design = build(FAMILY, (40.0, 40.0, 1.0), outline=words)
    assert faults(design) == []


@pytest.mark.parametrize("words", ["text:", "text:ABCDEFGHIJKLM", "text:שלום", "a boot of mine"])
def test_an_outline_that_is_none_is_refused(words: str) -> None:
    """The field is named, and what to type."""
    with pytest.raises(FieldError, match="outline") as refused:
        build(FAMILY, (40.0, 40.0, 1.0), outline=words)
    assert refused.value.cure
