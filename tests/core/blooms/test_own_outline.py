"""Outlines of the maker's own: drawings against the petals that are cut from them."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st
from shapely.geometry import Polygon

from jadeite.core.blooms import KINDS, own_petal, petal_from_words, widths_of
from jadeite.core.blooms.outlines import edge_of
from jadeite.core.blooms.own_outline import COUNT, widths_from_words, words_of
from jadeite.core.errors import FieldError, FileError
from jadeite.core.formats.petal_drawing import read_petal
from jadeite.core.shapes import family_by_key
from tests.core.shapes.closing import boards_for, faults, resolve_options

LENGTH, ROOT = 60.0, 3.0
DROP = (
    '<svg xmlns="http://www.w3.org/2000/svg" width="60mm" height="80mm" viewBox="0 0 60 80">'
    '<path d="M30 78 C 28 60 4 45 6 22 C 8 6 22 2 30 2 C 38 2 52 6 54 22 C 56 45 32 60 30 78 Z"/>'
    "</svg>"
)


def whole(edge: np.ndarray) -> Polygon:  # type: ignore[type-arg]
    """A petal from its upper edge, its root at the bottom."""
    points = np.vstack([edge, edge[::-1] * (1, -1)])
    return Polygon(points[:, ::-1])


@given(kind=st.sampled_from(sorted(KINDS)), width=st.floats(30.0, 120.0))
def test_property_what_is_drawn_is_what_is_cut(kind, width) -> None:  # type: ignore[no-untyped-def]
    """Our own outlines without notch and waves, drawn and read again: the same region but for 3 %.

    The first tenth, where the root leads over, is left out.
    """
    petal = petal_from_words(f"{kind} width={width:.1f} notch=0 depth=0")
    drawn = whole(edge_of(petal, LENGTH, ROOT))
    share, widths = widths_of(np.array(drawn.exterior.coords), "it")
    again = whole(edge_of(own_petal(widths, share), LENGTH, ROOT))
    above = shapely.box(-100, 0.12 * LENGTH, 100, LENGTH)
    off = drawn.symmetric_difference(again).intersection(above).area
    assert off < 0.03 * drawn.area
    assert again.bounds[3] == pytest.approx(LENGTH)
    assert again.bounds[2] - again.bounds[0] == pytest.approx(share / 100 * LENGTH, rel=0.02)


@given(st.lists(st.integers(1, 100), min_size=COUNT, max_size=COUNT))
def test_property_words_and_numbers_are_the_same(numbers) -> None:  # type: ignore[no-untyped-def]
    """Typed, kept and typed again; an edge never crosses the middle line."""
    numbers[COUNT // 2] = 100
    petal = own_petal(widths_from_words(words_of(tuple(numbers)), "outline"), 70.0)
    assert petal_from_words(petal.words) == petal
    edge = edge_of(petal, LENGTH, ROOT)
    assert (np.diff(edge[:, 0]) > 0).all()
    assert (edge[:-1, 1] > 0).all()
    assert edge[0, 1] == pytest.approx(ROOT)
    assert edge[-1].tolist() == [LENGTH, 0.0]


@pytest.mark.parametrize(
    "words",
    [
        "own",
        "own width=80",
        "own widths=1-2",
        f"own widths={'0-' * 20}0",
        f"own widths={'999-' * 20}0",
    ],
)
def test_what_cannot_be_followed_is_refused(words: str) -> None:
    """Nothing but what a drawing gives."""
    with pytest.raises(FieldError):
        petal_from_words(words)


def test_a_drawing_makes_a_flower(tmp_path: Path) -> None:
    """A drop with its broad end up: widest beyond its middle; the flower closes."""
    file = tmp_path / "drop.svg"
    file.write_text(DROP, encoding="utf-8")
    petal = read_petal(file)
    assert petal.belly > 60.0
    assert petal.width == pytest.approx(100 * 48.3 / 76, abs=1.5)
    family = family_by_key("layered-flower")
    options = resolve_options(family, {"outline": petal.words, "leaf-outline": petal.words})
    design = family.build((120.0, 0.0, 0.0), boards_for(family, "medium-card"), options)
    assert faults(design) == []


def test_what_is_drawn_too_slender_is_no_petal() -> None:
    """Named, with what is to be drawn."""
    with pytest.raises(FieldError, match="upright"):
        widths_of(np.array([[0.0, 0.0], [1.0, 0.0], [1.0, 40.0], [0.0, 40.0]]), "it")


def test_a_file_that_is_no_drawing_is_refused(tmp_path: Path) -> None:
    """As for windows."""
    file = tmp_path / "words.svg"
    file.write_text("no drawing", "utf-8")
    with pytest.raises(FileError):
        read_petal(file)
