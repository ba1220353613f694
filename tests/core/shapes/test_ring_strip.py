"""What stands in the middle of a flower: a wound strip, a tuft, glitter; and its calyx below."""

from __future__ import annotations

import math
from collections import Counter

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.integrate import quad

from jadeite.core.boards import board_by_key
from jadeite.core.errors import FieldError
from jadeite.core.formats.fold_file import fold_text
from jadeite.core.nets import Design
from jadeite.core.pipeline import Work, at_hand, work_up
from jadeite.core.pipeline.cures import cured
from jadeite.core.project import Shape, Span, Task, changed
from jadeite.core.shapes import family_by_key, resolve_options
from tests import fold_reader
from tests.core.shapes.closing import boards_for

STRIP = "centre-strip"


def worked(width: float = 90.0, family: str = "layered-flower", **options: object) -> Work:
    """A flower with options; names with underscores for hyphens."""
    chosen = {key.replace("_", "-"): value for key, value in options.items()}
    task = changed(Task(), brief=Span(width=width), shape=Shape(key=family, options=chosen))
    work = work_up(task, None)
    assert work.design is not None, [f.message for f in work.findings]
    return work


def faces_of(design: Design) -> dict[str, np.ndarray]:
    """Facets of the strip as they stand, (n, 3) each, mm from the flower's axis."""
    model = fold_reader.read(fold_text(design))
    return {panel: f.points for (piece, panel), f in model.faces.items() if piece == STRIP}


def test_property_a_strip_is_wound_about_the_axis_and_stands_on_the_middle() -> None:
    """From the FOLD text: its foot in one plane, as wide as asked, its strands opening outwards."""
    counts: Counter[str] = Counter()

    @settings(max_examples=40)
    @given(
        width=st.floats(80.0, 240.0),
        across=st.floats(3.0, 14.0),
        high=st.floats(4.0, 30.0),
        board=st.sampled_from(["light-card", "medium-card", "translucent"]),
        petals=st.sampled_from(["5 4 3", "8 8 6 5", "6"]),
        edge=st.sampled_from(["fringe", "plain"]),
    )
    def every(width, across, high, board, petals, edge) -> None:  # type: ignore[no-untyped-def]
        counts["tried"] += 1
        family = family_by_key("layered-flower")
        chosen = {"centre-piece": "strip", "pearl": across, "strip-high": high, "petals": petals,
                  "strip-edge": edge}  # fmt: skip
        boards = {**boards_for(family, "medium-card"), STRIP: board_by_key(board)}
        options = resolve_options(family, chosen)
        try:
            design = family.build((width, 0.0, 0.0), boards, options)
        except FieldError as error:
            for way in error.ways:  # a refusal that names a way has tried it
                cured = {**options, **{p.removeprefix("shape.options."): v for p, v in way
                                       if p.startswith("shape.")}}  # fmt: skip
                span = next((v for p, v in way if p == "brief.width"), width)
                assert family.build((span, 0.0, 0.0), boards, resolve_options(family, cured))
            counts["refused"] += 1
            return
        counts["made"] += 1
        faces = faces_of(design)
        level = faces["disc"][:, 2]
        assert np.ptp(level) < 1e-6
        feet = {n: p for n, p in faces.items() if n != "disc" and not n.endswith("tip")}
        assert max(abs(p[:, 2].min() - level[0]) for p in feet.values()) < 1e-4
        out = np.concatenate([np.hypot(p[:, 0], p[:, 1]) for p in feet.values()])
        assert out.max() == pytest.approx(across / 2, rel=1e-3)
        assert out.min() > 0.2  # a winding tool went through it
        assert max(p[:, 2].max() for p in faces.values()) <= level[0] + high + 1e-6
        tips = {n: p for n, p in faces.items() if n.endswith("tip")}
        assert bool(tips) is (edge == "fringe")
        for name, points in tips.items():
            assert name.removesuffix(".tip") in feet
            by_height = points[np.argsort(points[:, 2])]
            root, top = by_height[:2], by_height[2:]
            outwards = np.hypot(*top.mean(axis=0)[:2]) - np.hypot(*root.mean(axis=0)[:2])
            assert outwards > 0  # it opens
            assert np.linalg.norm(top[0] - top[1]) >= 1.5 - 1e-6  # and is wide enough to be cut
        assert design.sizes["finished-height"].value >= high

    every()
    assert counts["made"] > 0.33 * counts["tried"]  # 18 of 40, less a quarter


@pytest.mark.parametrize("board", ["light-card", "medium-card"])
@pytest.mark.parametrize("across", [6.0, 12.0])
def test_it_is_as_long_as_an_even_spiral_from_the_tool_to_its_width(
    board: str, across: float
) -> None:
    """Against the arc of Archimedes' spiral by SciPy's quadrature, a layer from turn to turn."""
    family = family_by_key("layered-flower")
    options = resolve_options(family, {"centre-piece": "strip", "pearl": across})
    design = family.build((120.0, 0.0, 0.0), boards_for(family, board), options)
    layer = board_by_key(board).thickness * 1.4
    grows = layer / (2 * math.pi)
    turns = (across / 2 - 1.25) / grows
    arc, _ = quad(lambda a: math.hypot(1.25 + grows * a, grows), 0.0, turns)
    assert design.sizes["strip-length"].value == pytest.approx(arc, rel=0.01)
    (piece,) = [p for p in design.pieces if p.name == STRIP]
    flat = np.concatenate([p.outline for p in piece.panels if p.name != "disc"])
    assert np.ptp(flat[:, 0]) == pytest.approx(design.sizes["strip-length"].value, rel=0.03)
    assert np.ptp(flat[:, 1]) == pytest.approx(8.0)


@pytest.mark.parametrize("family", ["layered-flower", "fringed-flower"])
@pytest.mark.parametrize("edge", ["fringe", "plain"])
def test_it_is_wound_first_and_glued_on_last(family: str, edge: str) -> None:
    """Nothing needs a look, no strand goes through a petal, and hands do it in this order."""
    work = worked(110.0, family, centre_piece="strip", strip_edge=edge)
    assert not [f for f in work.findings if f.level > 0]
    assert work.assembly is not None
    titles = [step.title for step in work.assembly.steps]
    assert titles[-1].startswith("Glue the centre to ")
    assert titles.index("Wind the strip for the middle") < len(titles) - 1
    tells = next(s.detail for s in work.assembly.steps if s.title.startswith("Wind the strip"))
    assert ("fringe" in tells) is (edge == "fringe")


@pytest.mark.parametrize(("across", "board"), [(30.0, "copy-paper"), (3.0, "heavy-card")])
def test_a_coil_of_too_many_turns_or_too_few_names_one_that_can_be_wound(
    across: float, board: str
) -> None:
    """And that one is made."""
    family = family_by_key("layered-flower")
    boards = {**boards_for(family, "medium-card"), STRIP: board_by_key(board)}
    options = resolve_options(family, {"centre-piece": "strip", "pearl": across})
    with pytest.raises(FieldError) as caught:
        family.build((400.0, 0.0, 0.0), boards, options)
    ((path, value),) = caught.value.ways[0]
    assert path == "shape.options.pearl"
    assert family.build((400.0, 0.0, 0.0), boards, {**options, "pearl": value})


def test_glitter_is_strewn_last_and_is_on_the_list() -> None:
    """With its caution; it has no width."""
    work = worked(centre_piece="glitter")
    assert work.assembly is not None
    last = work.assembly.steps[-1]
    assert "glitter" in last.title
    assert "children" in last.caution
    (glitter,) = at_hand({"flower": work})
    assert glitter.words() == "glitter"


@pytest.mark.parametrize("rise", [0.0, 14.0])
def test_small_raised_leaves_are_a_calyx(rise: float) -> None:
    """They are as large as asked, and petals rise over them; none reaches through another."""
    work = worked(leaf_size=45.0, leaf_rise=rise, leaf_outline="lance")
    sizes = work.sizes
    assert sizes["leaf-ring-size"].value == pytest.approx(0.45 * sizes["ring-1-size"].value)
    assert sizes["finished-width"].value == pytest.approx(90.0)
    assert not [f for f in work.findings if f.level > 0]
    assert work.assembly is not None
    press = next(s for s in work.assembly.steps if s.title.startswith("Press the middle of"))
    assert (f"leaf ring {rise:.0f}°" in press.detail) is bool(rise)
    steeper = worked(leaf_size=45.0, leaf_rise=60.0, leaf_outline="lance")  # than its petals
    assert steeper.sizes["finished-height"].value <= work.sizes["finished-height"].value + 1.0


def test_leaves_too_small_to_be_held_are_larger_and_it_is_said() -> None:
    """The size that they have is the cure, and ends the note."""
    work = worked(60.0, leaf_size=30.0, leaves=12.0)
    (note,) = [f for f in work.findings if f.code == "leaves-larger"]
    assert note.cure is not None
    ((path, value),) = note.cure.changes
    assert path == "shape.options.leaf-size"
    again = worked(60.0, leaf_size=value, leaves=12.0)
    assert not [f for f in again.findings if f.code == "leaves-larger"]
    for one in (work, again):
        assert one.sizes["leaf-ring-size"].value < one.sizes["ring-1-size"].value * 1.4


def test_a_hole_under_the_strip_is_said_and_has_a_cure() -> None:
    """Its disc lies over the holes of all rings; with whole middles there is nothing to cover."""
    work = worked(120.0, centre_piece="strip", middle="hole", hole=3.0)
    found = next(f for f in work.findings if f.code == "cutout-covered")
    assert "nothing passes there" in found.message
    assert found.cure is not None
    after = work_up(cured(work.task, found.cure), None)
    assert not after.blocked
    assert "cutout-covered" not in {f.code for f in after.findings}
