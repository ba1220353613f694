"""Whether things pass the opening: against shadows worked by hand, and through real shapes."""

from __future__ import annotations

import dataclasses
import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from jadeite.core.assembly.order import making_order
from jadeite.core.contents import Block, Light
from jadeite.core.contents.words import thing_from_words
from jadeite.core.errors import FieldError
from jadeite.core.folding import box_body, cylinder_body
from jadeite.core.folding.passing import in_the_way
from jadeite.core.formats.fold_file import fold_text
from jadeite.core.nets.arrivals import When
from jadeite.core.pipeline import arrange_contents, windows_from, work_up
from jadeite.core.project import Shape, Task, changed, with_change
from jadeite.core.shapes import all_families, family_by_key
from jadeite.core.solid import Form
from tests import fold_reader
from tests.core.shapes.closing import build

GLOBE = family_by_key("globe")
LIGHT = Light(name="path light", mass=20)


@given(wide=st.floats(20.0, 90.0), aside=st.floats(0.0, 8.0))
def test_property_a_disc_passes_a_ring_when_it_is_narrower(wide, aside) -> None:  # type: ignore[no-untyped-def]
    """A regular polygon's inradius decides; a thing may be moved to the middle first."""
    design = build(GLOBE, (58.0, 58.0, 46.0), measured="round")
    opening = design.sizes["inradius"].value
    body = cylinder_body("lamp", wide, 30.0, np.array([aside, 0.0, 15.0]), 2)
    met = in_the_way(design, (body,))
    if wide / 2 < opening - 0.05:
        assert met == []
    elif wide / 2 > opening / math.cos(math.pi / 8) + 0.2:  # beyond the corners as well
        assert [o.body for o in met] == ["lamp"]
        assert met[0].panel in ("ring", "flange.top", "flange.bottom")
        assert met[0].depth > 0.1


def test_a_handle_lets_low_things_out_but_no_tall_ones() -> None:
    """A light is out above the rim before it meets the strap; a tall lamp is not."""
    design = build(family_by_key("lantern"), (60.0, 60.0, 60.0), handle="strap", top="open")
    tall, low = (box_body("lamp", (30.0, 30.0, h), np.array([0, 0, h / 2])) for h in (120.0, 26.0))
    assert in_the_way(design, (low,)) == []
    assert [o.piece for o in in_the_way(design, (tall,))] == ["handle"]


@pytest.mark.parametrize("family", all_families(), ids=lambda f: f.key)
def test_what_fills_a_hollow_goes_in_at_its_mouth(family) -> None:  # type: ignore[no-untyped-def]
    """Flaps and lids open; but a star's ball of air is larger than the face it opens."""
    design = build(family, (60.0, 60.0, 60.0))
    opened = {(m.piece, name) for m in making_order(design) if m.closing for name in m.folds}
    bodies = []
    for hollow in design.cells or ((design.hollow,) if design.hollow else ()):
        x, y, z = (v - 1.0 for v in hollow.size)
        centre = np.array(hollow.centre)
        round_ = hollow.form is not Form.BLOCK
        bodies.append(cylinder_body("a", x, z, centre, 2) if round_ else
                      box_body("a", (x, y, z), centre))  # fmt: skip
    met = in_the_way(design, bodies, opened)
    assert bool(met) is (family.key == "star")
    beside = family.key == "tri-fold-holder"  # its cover lies over the pocket, not over its mouth
    if design.arrivals.folds(When.FILLED) and not beside:  # shut, they are in the way
        assert in_the_way(design, bodies)


@pytest.mark.parametrize("key", ["lantern", "spire", "petal-lantern", "star", "globe", "pyramid"])
def test_a_battery_light_goes_into_every_lantern(key) -> None:  # type: ignore[no-untyped-def]
    """38 mm across with 10 mm of air; nothing needs a look but the cautions."""
    project = changed(Task(), contents=(LIGHT,), shape=Shape(key=key))
    work = work_up(project, arrange_contents(project, quick=True))
    assert "thing-cannot-pass" not in {f.code for f in work.findings}
    assert not work.blocked


def test_a_thing_that_cannot_pass_is_said_with_the_panel() -> None:
    """A globe whose ring is turned in: the finding names thing, panel and how far."""
    project = changed(
        Task(), contents=(Block(name="battery box", length=50, width=30, height=20),),
        shape=Shape(key="globe"),
    )  # fmt: skip
    work = work_up(project, arrange_contents(project, quick=True))
    design = work.design
    assert design is not None
    assert "thing-cannot-pass" not in {f.code for f in work.findings}
    ring = design.piece("ring")
    small = dataclasses.replace(
        ring.panels[0].openings[0], points=ring.panels[0].openings[0].points * 0.5
    )
    panel = dataclasses.replace(ring.panels[0], openings=(small,))
    pieces = [dataclasses.replace(p, panels=(panel,)) if p is ring else p for p in design.pieces]
    met = in_the_way(dataclasses.replace(design, pieces=tuple(pieces)), work.bodies)
    assert [(o.body, o.panel) for o in met] == [("battery box", "ring")]


@pytest.mark.parametrize("key", ["lantern", "globe", "spire", "star", "petal-lantern"])
def test_a_light_that_hangs_keeps_its_air_all_round(key) -> None:  # type: ignore[no-untyped-def]
    """10 mm (from memory) below it as well; its weight is on the cord, not on the floor."""
    hung = LIGHT.model_copy(update={"held": "hangs"})
    works = []
    for light in (LIGHT, hung):
        project = changed(Task(), contents=(light,), shape=Shape(key=key))
        works.append(work_up(project, arrange_contents(project, quick=True)))
    stands, hangs = works
    assert hangs.inside[2] == pytest.approx(stands.inside[2] + 10.0)
    assert not hangs.blocked
    assert "caution-hanging" in {f.code for f in hangs.findings}
    assert "caution-hanging" not in {f.code for f in stands.findings}
    assert hangs.design is not None
    (body,) = hangs.bodies
    z = np.concatenate(body.faces)[:, 2]
    hollow = hangs.design.hollow
    assert z.min() >= hollow.centre[2] - hollow.size[2] / 2 + 10.0 - 1e-6
    if key == "globe":  # in its middle, not just above the disc
        assert (z.min() + z.max()) / 2 == pytest.approx(hangs.design.surfaces["mouth"] / 2)
    assert stands.sag is not None
    assert hangs.sag is None or hangs.sag.sag.value < stands.sag.sag.value


def test_a_hanging_light_in_words() -> None:
    """As it is typed."""
    light = thing_from_words("path light: hanging light 40x25")
    assert isinstance(light, Light)
    assert (light.held, light.diameter, light.height) == ("hangs", 40.0, 25.0)
    assert thing_from_words("hanging light").held == "hangs"
    assert thing_from_words("light").held == "stands"


LANTERNS = ["lantern", "spire", "petal-lantern", "star", "globe", "pyramid"]


@settings(max_examples=40)
@given(
    key=st.sampled_from(LANTERNS), diameter=st.floats(20.0, 90.0), height=st.floats(12.0, 90.0),
    held=st.sampled_from(["stands", "hangs"]), lined=st.booleans(),
)  # fmt: skip
def test_property_every_light_passes_and_keeps_its_air(key, diameter, height, held, lined) -> None:  # type: ignore[no-untyped-def]
    """A cylinder 10 mm larger all round (from memory) meets no ply, lining counted; from FOLD.

    A light that stands has its air beside and above it. What does not pass is said, and its
    cure lets it pass.
    """
    light = Light(name="lamp", diameter=diameter, height=height, held=held, mass=20)
    project = changed(Task(), contents=(light,), shape=Shape(key=key))
    arrangement = arrange_contents(project, quick=True)
    if lined and key in ("lantern", "spire", "pyramid", "star"):
        try:
            made = windows_from(project, arrangement, "walls", "plain", lined=True)
        except FieldError:  # too small for a window
            made = ()
        project = changed(project, windows=made)
    work = work_up(project, arrangement)
    assert not work.blocked, [f.message for f in work.findings]
    stuck = [f for f in work.findings if f.code == "thing-cannot-pass"]
    if stuck:  # a wide flat light in a star, whose ball of air is sized by its diagonal
        assert key == "star"
        assert stuck[0].cure is not None
        for field, value in stuck[0].cure.changes:
            project = with_change(project, field, value)
        work = work_up(project, arrangement)
        assert "thing-cannot-pass" not in {f.code for f in work.findings}
    assert work.design is not None
    model = fold_reader.read(fold_text(work.design, work.bodies))
    (content,) = model.contents
    below = 10.0 if held == "hangs" else 0.0
    pose = np.array(content["pose"])
    pose[2, 3] += (10.0 - below) / 2
    air = {
        **content,
        "pose": pose.tolist(),
        "radius_mm": content["radius_mm"] + 10.0 - 0.01,
        "height_mm": content["height_mm"] + 10.0 + below - 0.01,
    }
    assert fold_reader.in_the_way(model, air) == 0
