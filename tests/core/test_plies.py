"""Linings that lie where they must not: planted in a sound lantern, each found and named."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely import affinity
from shapely.geometry import Polygon

from jadeite.core.judgement import ply_findings
from jadeite.core.nets.model import Design
from jadeite.core.pipeline import windows_from, work_up
from jadeite.core.project import Hollow, Shape, Task, changed
from jadeite.core.proof import prove
from jadeite.core.shapes.extra import LINING


def lined(size: float, motif: str = "leaves", key: str = "lantern") -> Design:
    """A sound one, each window lined by itself."""
    task = changed(Task(), brief=Hollow(size=(size, size, size)), shape=Shape(key=key))
    task = changed(task, windows=windows_from(task, None, "walls", motif, lined=True))
    work = work_up(task, None, cures=False)
    assert work.design is not None
    return work.design


def with_lining(design: Design, grown: float) -> Design:
    """The same with its first lining larger by so many mm all round; smaller where negative."""
    first = next(p for p in design.pieces if p.part == LINING)
    (panel,) = first.panels
    outline = np.array(Polygon(panel.outline).buffer(grown, join_style="mitre").exterior.coords)[
        :-1
    ][::-1]
    changed_ = replace(first, panels=(replace(panel, outline=outline),))
    pieces = tuple(changed_ if p.name == first.name else p for p in design.pieces)
    return replace(design, pieces=pieces)


def codes(design: Design) -> set[str]:
    """What is said of its plies."""
    return {f.code for f in ply_findings(design, prove(design)[0])}


@settings(max_examples=20)
@given(size=st.floats(50, 140), motif=st.sampled_from(["leaves", "lattice", "stars", "plain"]))
def test_property_usual_linings_are_not_accused(size: float, motif: str) -> None:
    """As the program makes them."""
    assert codes(lined(size, motif)) == set()


@pytest.mark.parametrize("key", ["lantern", "gathered-box", "carton"])
@pytest.mark.parametrize(
    ("grown", "code"),
    [(12.0, "tab-on-lining"), (-6.0, "lining-edge"), (-2.9, "lining-narrow")],
)
def test_a_lining_that_is_too_large_or_too_small_is_found(key, grown, code) -> None:  # type: ignore[no-untyped-def]
    """Under a tab it takes its glue; short of the cut-outs it shows; hardly past them it parts."""
    design = lined(90.0, "plain", key)
    made = with_lining(design, grown)
    assert code in codes(made)
    found = next(f for f in ply_findings(made, prove(made)[0]) if f.code == code)
    assert "lining 1" in found.message.lower()
    assert "/" in found.where


def test_how_much_of_an_edge_shows_is_measured() -> None:
    """Half a lining: its edge crosses the window once, as long as the window is high or wide."""
    design = lined(90.0, "plain")
    first = next(p for p in design.pieces if p.part == LINING)
    (panel,) = first.panels
    whole = Polygon(panel.outline)
    low, bottom, _, top = whole.bounds
    half = affinity.scale(whole, 0.5, 1.0, origin=(low, bottom))
    outline = np.array(half.exterior.coords)[:-1]
    pieces = tuple(
        replace(p, panels=(replace(panel, outline=outline),)) if p.name == first.name else p
        for p in design.pieces
    )
    (found,) = [
        f for f in ply_findings(replace(design, pieces=pieces), []) if f.code == "lining-edge"
    ]
    shown = float(next(w for w in found.message.split() if w.isdigit() and w != "1"))
    assert shown == pytest.approx(top - bottom - 2 * 4.0, abs=1.0)  # 4 mm of margin at either end
