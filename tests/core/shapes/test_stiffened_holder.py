"""The stiffened holder: closes by the FOLD text; borders even at every side and at the seam."""

from __future__ import annotations

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.geometry import LineString, Polygon, box

from jadeite.core.contents import FlatPack, Tag
from jadeite.core.findings import Level
from jadeite.core.pipeline import arrange_contents, plan_sheets, work_up
from jadeite.core.project import Shape, Task, changed
from jadeite.core.shapes import family_by_key
from tests import fold_reader
from tests.core.shapes.closing import FOLDING, build, closes_or_says_why, text_of, values_of

FAMILY = family_by_key("stiffened-holder")
INSIDES = st.tuples(st.floats(50.0, 180.0), st.floats(60.0, 200.0), st.floats(0.1, 10.0))
CHOSEN = st.fixed_dictionaries(
    {o.key: values_of(o, 60.0) for o in FAMILY.options}
    | {"border": st.floats(1.5, 9.0), "side-flap": st.floats(6.0, 20.0),
       "window-size": st.floats(12.0, 20.0)}
)  # fmt: skip
CHART = FlatPack(name="chart", width=72, height=104, thickness=1.5, mass=9.0)


@settings(max_examples=200)
@given(inside=INSIDES, board=FOLDING, chosen=CHOSEN)
def test_property_every_holder_closes(inside, board, chosen) -> None:  # type: ignore[no-untyped-def]
    """All tops, windows, borders and boards; what leaves no board or no cover is refused."""
    made = closes_or_says_why(FAMILY, inside, board, chosen)
    pocket = chosen["pocket-height"] / 100 * inside[1]
    upper = inside[1] - pocket
    narrow = min(inside[0], pocket, upper) < 2 * chosen["border"] + 10.5
    window = min(inside[0], pocket) < chosen["window-size"] + 4 * chosen["border"] + 9
    flaps = chosen["side-flap"] > (inside[0] - 4) / 2 - 2
    assert made or narrow or flaps or (chosen["window"] != "none" and window)


def even(line: np.ndarray, edge: shapely.Geometry) -> np.ndarray:
    """How far every half millimetre of a ring is from an edge, by Shapely."""
    ring = LineString(np.vstack([line, line[:1]]))
    return shapely.distance(shapely.points(np.array(shapely.segmentize(ring, 0.5).coords)), edge)


@settings(max_examples=60)
@given(
    inside=st.tuples(st.floats(60.0, 150.0), st.floats(90.0, 180.0), st.floats(0.5, 4.0)),
    border=st.floats(2.0, 7.0),
    top=st.sampled_from(["arch", "point", "straight"]),
    window=st.sampled_from(["none", "round", "star", "moon"]),
)
def test_property_borders_are_even_at_every_side_and_at_the_seam(
    inside, border, top, window
) -> None:  # type: ignore[no-untyped-def]
    """From the FOLD text, as it is seen from the front and from behind, to 0.02 mm.

    The pocket's cover keeps its border from the pocket's edges, the upper one from the edges
    of the back and from the pocket's upper edge, the one behind from the back's.
    """
    design = build(FAMILY, inside, border=border, top=top, window=window, window_size=16.0)
    model = fold_reader.read(text_of(design))
    flat = {key: face.points[:, :2] for key, face in model.faces.items()}
    back, pocket = flat["holder", "back"], flat["holder", "flap.pocket"]
    seam = pocket[:, 1].max()
    above = Polygon(back).intersection(box(-1e3, seam, 1e3, 1e3))
    for cover, region in (
        ("cover", Polygon(pocket)), ("upper-cover", above), ("back-cover", Polygon(back)),
    ):  # fmt: skip
        far = even(flat[cover, "overlay"], region.exterior)
        assert np.abs(far - border).max() < 0.02, cover
    gap = flat["upper-cover", "overlay"][:, 1].min() - seam
    assert gap == pytest.approx(border, abs=0.02)
    assert seam - flat["cover", "overlay"][:, 1].max() == pytest.approx(border, abs=0.02)
    cut = [o for o in design.piece("holder").panel("flap.pocket").openings if o.kind == "window"]
    if cut:
        ring = design.piece("cover").panels[0].openings[0].points
        far = even(ring, shapely.LinearRing(cut[0].points))
        assert np.abs(far - border).max() < 0.02


def test_the_usual_one_needs_no_look_and_says_its_borders() -> None:
    """Around a chart: heavy card for the holder, covers of text, the border as a number."""
    task = changed(Task(), shape=Shape(key="stiffened-holder"), contents=(CHART,))
    work = work_up(task, arrange_contents(task))
    assert [f.message for f in work.findings if f.level > Level.NOTE] == []
    assert work.design.piece("holder").board.key == "heavy-card"
    assert work.sizes["cover-border"].value == work.sizes["seam-border"].value == 4.0
    settings_ = [cut.setting for cut in plan_sheets(task, work.design).cutting.sheets]
    assert any("2 passes" in words for words in settings_)
    titles = [step.title for step in work.assembly.steps]
    assert any(title.startswith("Glue the cover on") for title in titles)


def test_it_is_deep_enough_for_the_thing_with_its_tag() -> None:
    """The third that is built today has room in its depth: here the first."""
    tag = CHART.model_copy(
        update={"tag": Tag(width=20, height=30, hangs="inside"), "thickness": 6.0}
    )
    task = changed(Task(), shape=Shape(key="stiffened-holder"), contents=(tag,))
    work = work_up(task, arrange_contents(task))
    assert work.sizes["inside-thickness"].value >= 6.0
    assert work.sizes["inside-height"].value >= 104 + 25
    assert [f.message for f in work.findings if f.level > Level.NOTE] == []
