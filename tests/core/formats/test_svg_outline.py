"""Outlines of the maker's own, read from SVG as its specification (W3C SVG 1.1) has it."""

from __future__ import annotations

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st
from shapely import affinity
from shapely.geometry import Polygon

from jadeite.core.errors import FieldError, FileError
from jadeite.core.formats.svg_outline import read_outline
from jadeite.core.patterns import BRIDGE, fill, holds_together, own_motif
from jadeite.core.pipeline import arrange_contents, windows_from, work_up
from jadeite.core.project import Hollow, Shape, Task, Window, changed

HEAD = '<svg xmlns="http://www.w3.org/2000/svg" width="80mm" height="40mm" viewBox="0 0 80 40">'
PANEL = [(0.0, 0.0), (90.0, 0.0), (90.0, 60.0), (0.0, 60.0)]


@pytest.fixture
def read(tmp_path):  # type: ignore[no-untyped-def]
    """Reads the body of a drawing."""

    def reader(body: str, name: str = "Comet tail.svg"):  # type: ignore[no-untyped-def]
        file = tmp_path / name
        file.write_text(f"{HEAD}{body}</svg>", encoding="utf-8")
        return read_outline(file)

    return reader


# area against the square of the longer side; plane geometry
SHAPES = [
    ('<circle cx="20" cy="20" r="10"/>', math.pi / 4),
    ('<rect x="1" y="2" width="40" height="10"/>', 0.25),
    ('<ellipse cx="40" cy="20" rx="30" ry="15"/>', math.pi / 8),
    ('<polygon points="0,0 30,0 0,30"/>', 0.5),
    ('<path d="M10 10 h20 v20 h-20 z"/>', 1.0),
    ('<g transform="rotate(30) scale(3,1)"><rect width="4" height="12"/></g>',
     1 / (math.sqrt(3) / 2 + 0.5) ** 2),
    ('<path d="M0 20 A20 20 0 0 1 40 20 Z"/>', math.pi / 8),
]  # fmt: skip


@pytest.mark.parametrize(("body", "share"), SHAPES)
def test_shapes_have_their_area_and_longer_side_1(read, body, share) -> None:  # type: ignore[no-untyped-def]
    """Curves within 0.02 mm at 60 mm."""
    (ring,) = read(body).rings
    shape = Polygon(ring)
    x0, y0, x1, y1 = shape.bounds
    assert max(x1 - x0, y1 - y0) == pytest.approx(1.0, abs=1e-3)
    assert (x0 + x1, y0 + y1) == pytest.approx((0.0, 0.0), abs=2e-3)
    assert shape.area == pytest.approx(share, rel=4e-3)


def test_up_in_the_drawing_is_up_in_the_window(read) -> None:  # type: ignore[no-untyped-def]
    """SVG's y points down."""
    (ring,) = read('<polygon points="0,20 20,20 10,0"/>').rings
    assert max(ring, key=lambda p: p[1])[0] == pytest.approx(0.0, abs=1e-6)


def test_what_would_fall_out_is_left_out_and_a_ground_is_no_shape(read) -> None:  # type: ignore[no-untyped-def]
    """The hole of a ring falls out with it; a rectangle behind all is paper."""
    ring = '<path fill-rule="evenodd" d="M0 0h40v40h-40z M10 10h20v20h-20z"/>'
    assert len(read(ring).rings) == 1
    two = '<circle cx="20" cy="20" r="8"/><circle cx="60" cy="20" r="8"/>'
    assert len(read(f'<rect width="80" height="40"/>{two}').rings) == 2
    joined = read('<circle cx="20" cy="20" r="8"/><circle cx="30" cy="20" r="8"/>')
    assert len(joined.rings) == 1


BAD = [
    ('<path d="M0 0 L10 10"/>', "no closed shape"),
    ("", "no closed shape"),
    ("<path", "no SVG drawing"),
    ('<circle r="nan"/>', "no"),
    ("".join(f'<circle cx="{i}" cy="{j}" r="0.3"/>' for i in range(10) for j in range(10)),
     "more than 60 shapes"),
]  # fmt: skip


@pytest.mark.parametrize(("body", "words"), BAD)
def test_bad_drawings_are_refused_with_their_name(read, body, words) -> None:  # type: ignore[no-untyped-def]
    """One line, with the file and what to do."""
    with pytest.raises(FileError, match=words) as caught:
        read(body, "bad.svg")
    assert "bad.svg" in str(caught.value)


def test_entities_and_other_files_are_refused(tmp_path) -> None:  # type: ignore[no-untyped-def]
    """A small file must not grow to fill the memory."""
    bomb = tmp_path / "bomb.svg"
    bomb.write_text('<!DOCTYPE svg [<!ENTITY a "aaaa">]><svg>&a;</svg>', encoding="utf-8")
    with pytest.raises(FileError, match="entities"):
        read_outline(bomb)
    with pytest.raises(FileError):
        read_outline(tmp_path / "none.svg")


@given(
    size=st.floats(7.0, 60.0), number=st.integers(0, 9),
    points=st.integers(3, 9), waist=st.floats(0.25, 1.0), turn=st.floats(0, 360),
)  # fmt: skip
def test_property_own_outlines_keep_their_bridges(size, number, points, waist, turn) -> None:  # type: ignore[no-untyped-def]
    """Stars of every kind: bridges by erosion, whole shapes only, inside the window."""
    ring = [
        (0.5 * (waist if i % 2 else 1.0) * math.cos(math.pi * i / points),
         0.5 * (waist if i % 2 else 1.0) * math.sin(math.pi * i / points))
        for i in range(2 * points)
    ]  # fmt: skip
    shape = affinity.rotate(Polygon(ring), turn, origin=(0, 0))
    motif = own_motif("own-star", "star", [list(shape.exterior.coords)[:-1]])
    window = Polygon(PANEL).buffer(-6.0, join_style="mitre")
    holes = fill(list(window.exterior.coords)[:-1], motif, size, number).holes
    if not holes:  # it has no place as wide as a cut-out must be, 2 mm (from memory)
        assert affinity.scale(shape, size - BRIDGE, size - BRIDGE).buffer(-1.01).is_empty
        return
    assert holds_together(PANEL, holes)
    assert all(window.buffer(1e-6).covers(Polygon(h)) for h in holes)
    areas = [Polygon(h).area for h in holes]
    assert max(areas) == pytest.approx(min(areas), rel=1e-3)
    cut = [Polygon(h) for h in holes]
    apart = [a.distance(b) for i, a in enumerate(cut) for b in cut[:i]]
    assert min(apart, default=BRIDGE) >= BRIDGE * 0.998


def test_an_own_outline_in_a_project(read) -> None:  # type: ignore[no-untyped-def]
    """It is kept in the project, in every wall; another name is refused with those there are."""
    outline = read('<circle cx="20" cy="20" r="10"/>')
    project = changed(
        Task(),
        brief=Hollow(size=(70.0, 70.0, 90.0)),
        shape=Shape(key="lantern"),
        outlines=(outline,),
    )
    arrangement = arrange_contents(project)
    made = windows_from(project, arrangement, "walls", outline.key, lined=True)
    assert len(made) == 4
    work = work_up(changed(project, windows=made), arrangement)
    assert not work.blocked
    again = Task.model_validate_json(changed(project, windows=made).model_dump_json())
    assert again.outlines == (outline,)
    with pytest.raises(FieldError, match="own-comet-tail"):
        windows_from(project, arrangement, "walls", "own-moth", lined=False)
    odd = changed(project, windows=(Window(piece="lantern", panel="wall-1", motif="own-moth"),))
    assert "window-refused" in {f.code for f in work_up(odd, arrangement).findings}
