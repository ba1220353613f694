"""Files of what is put on a net: windows, linings, overlays on foam or glue, a plate, a cut."""

from __future__ import annotations

from collections import Counter

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from jadeite.core.nets.split import splits_of
from jadeite.core.patterns import MOTIFS
from jadeite.core.pipeline import work_up
from jadeite.core.project import Hollow, Overlay, Plate, Shape, Task, Window, changed
from jadeite.core.shapes import family_by_key
from tests.core.formats.test_file_proof import file_faults
from tests.core.shapes.closing import build
from tests.depth import deep

FAMILIES = ("tray-with-lid", "lantern", "carton", "chest", "n-sided-box", "wrap-box")
SIZES = st.tuples(*(st.floats(55.0, 120.0) for _ in range(3)))
PATTERNS = st.sampled_from(["", "plain", *MOTIFS])


@pytest.mark.parametrize("key", FAMILIES)
def test_property_what_is_put_on_a_net_is_in_its_files(key: str) -> None:
    """Regions and lines of every piece, overlays and linings among them; most are made."""
    plain = build(family_by_key(key), (90.0, 80.0, 70.0))
    panels = [
        (piece.name, panel.name)
        for piece in plain.pieces
        for panel in piece.panels
        if panel.role.traits.window and panel.role.traits.cover
    ]
    cuts = [(split.piece, split.child) for piece in plain.pieces for split in splits_of(piece)]
    seen: Counter[str] = Counter()

    @settings(max_examples=deep(4, 60))
    @given(
        size=SIZES,
        window=st.sampled_from(panels),
        motif=st.sampled_from(["plain", *MOTIFS]),
        lined=st.booleans(),
        over=st.sampled_from(panels),
        border=st.floats(2.0, 12.0),
        foam=st.sampled_from([0.0, 1.0, 2.5]),
        pattern=PATTERNS,
        plate=st.booleans(),
        cut=st.sampled_from([None, *cuts]),
        kind=st.sampled_from(["svg", "dxf", "pdf"]),
    )
    def every(size, window, motif, lined, over, border, foam, pattern, plate, cut, kind) -> None:  # type: ignore[no-untyped-def]
        task = changed(
            Task(),
            brief=Hollow(size=size),
            shape=Shape(key=key),
            windows=(Window(piece=window[0], panel=window[1], motif=motif, lined=lined),),
            overlays=(
                Overlay(piece=over[0], panel=over[1], border=border, foam=foam, pattern=pattern),
            ),
            plate=Plate(width=400.0, height=400.0) if plate else None,
            splits={cut[0]: cut[1]} if cut else {},
        )
        seen["tried"] += 1
        design = work_up(task, None, cures=False).design
        if design is None:
            return
        parts = {piece.part for piece in design.pieces}
        seen["made"] += 1
        seen["dressed"] += "overlay" in parts or "lining" in parts
        assert file_faults(design, kind=kind) == []

    every()
    assert seen["made"] >= 0.5 * seen["tried"]
    assert seen["dressed"] >= 0.5 * seen["made"]
