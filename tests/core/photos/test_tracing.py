"""Figures cut free of their background: the area that was painted, no stray bits, by hand."""

from __future__ import annotations

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.geometry import Point, Polygon

from jadeite.core.errors import FieldError
from jadeite.core.photos import regions_of, rings_from_words, words_of_rings
from jadeite.core.photos.ground import Brush
from jadeite.core.photos.pixels import Pixels
from jadeite.core.photos.tracing import LEAST_BIT, traced
from tests.core.photos.drawn import blob, painted

SIZE = (640, 480)


@settings(max_examples=25, deadline=None)
@given(seed=st.integers(0, 10_000), busy=st.booleans(), reach=st.floats(0.14, 0.24))
def test_property_area_of_a_known_outline(seed: int, busy: bool, reach: float) -> None:
    """Within 2 % of the area that Pillow painted, one part, close to the outline all round."""
    outline = blob(seed, reach)
    found = traced(Pixels(painted(SIZE, outline, busy=busy)))
    assert found.way == ("busy" if busy else "plain")
    shape, known = regions_of(found.rings), Polygon(outline)
    assert found.parts == 1
    assert shape.area == pytest.approx(known.area, rel=0.02)
    assert shape.symmetric_difference(known).area < 0.03 * known.area
    off = shapely.hausdorff_distance(shape.exterior if hasattr(shape, "exterior")
                                     else shape.geoms[0].exterior, known.exterior)  # fmt: skip
    assert off < 0.02


def test_stray_bits_are_dropped_and_counted() -> None:
    """None is left that is under the stated share of the figure; larger ones stay, as parts."""
    outline = blob(3, 0.2)
    bits = ((-0.4, 0.3, 0.006), (0.42, -0.3, 0.009), (0.4, 0.3, 0.004))
    found = traced(Pixels(painted(SIZE, outline, bits=bits)))
    assert (found.stray, found.parts) == (3, 1)
    limit = LEAST_BIT / 100 * Polygon(outline).area
    assert all(Polygon(ring).area > limit for ring in found.rings)
    large = traced(Pixels(painted(SIZE, outline, bits=((-0.4, 0.28, 0.06),))))
    assert (large.stray, large.parts) == (0, 2)
    assert found.largest < LEAST_BIT / 100 * Polygon(outline).area * max(SIZE) ** 2


def test_a_transparent_background_is_used_as_it_is() -> None:
    """What covers says where the figure is, whatever its colours."""
    outline = blob(8, 0.22)
    plain = painted(SIZE, outline, noise=0.0)
    cover = np.where(painted(SIZE, outline, noise=0.0)[..., 0] < 180, 255, 0).astype(np.uint8)
    found = traced(Pixels(np.full_like(plain, 200), cover))
    assert found.way == "clear"
    assert regions_of(found.rings).area == pytest.approx(Polygon(outline).area, rel=0.02)


def test_brush_and_rubber_have_the_last_word() -> None:
    """A stroke joins what it covers to the figure; the rubber takes it away, a hole stays one."""
    outline = blob(5, 0.2)
    pixels = Pixels(painted(SIZE, outline))
    line = np.array([[0.0, 0.0], [0.42, 0.0]])
    more = traced(pixels, brushes=(Brush(True, 0.03, line),))
    assert regions_of(more.rings).covers(Point(0.42, 0.0))
    spot = np.array([[0.0, 0.0]])
    less = regions_of(traced(pixels, brushes=(Brush(False, 0.05, spot),)).rings)
    assert not less.covers(Point(0.0, 0.0))
    whole = regions_of(traced(pixels).rings)
    assert whole.area - less.area == pytest.approx(np.pi * 0.05**2, rel=0.06)
    with pytest.raises(FieldError, match="no figure") as refused:
        traced(pixels, brushes=(Brush(False, 0.5, np.array([[-0.4, 0.0], [0.4, 0.0]])),))
    assert "Paint over" in refused.value.cure


def test_only_what_is_cropped_is_looked_at() -> None:
    """The other figure outside the crop is not found; places stay those of the whole picture."""
    outline = blob(5, 0.14)
    moved = outline + np.array([-0.25, 0.0])
    both = painted(SIZE, moved, bits=((0.3, 0.0, 0.1),))
    found = regions_of(traced(Pixels(both), crop=(0.0, 0.0, 0.5, 1.0)).rings)
    known = Polygon(moved)
    assert found.symmetric_difference(known).area < 0.03 * known.area


def test_eyes_of_the_background_s_colour_are_not_cut_out() -> None:
    """What lies inside a figure is of it."""
    picture = painted(SIZE, blob(5, 0.25))
    picture[220:260, 300:340] = picture[2, 2]
    assert len(traced(Pixels(picture)).rings) == 1


@settings(max_examples=100)
@given(st.lists(st.floats(-0.5, 0.5).map(lambda v: round(v, 4)), min_size=2, max_size=2))
def test_property_words_keep_an_outline(at: list[float]) -> None:
    """Read back as they were, to the rounding that they say."""
    ring = blob(4, 0.1) + np.array(at) * 0.5
    again = rings_from_words(words_of_rings((ring,)), "outline")
    assert np.abs(again[0] - ring).max() <= 0.5e-4 + 1e-12


@pytest.mark.parametrize(
    "words", ["", "1,2 3,4", "1,2 3,4 x,5", "0,0 1,0 0,1;;", "99999,0 0,99999 0,0", "0,0 0,0 0,0"]
)
def test_words_that_are_no_outline_are_refused(words: str) -> None:
    """The field is named, with what helps."""
    with pytest.raises(FieldError, match="outline") as refused:
        rings_from_words(words, "outline")
    assert refused.value.cure
