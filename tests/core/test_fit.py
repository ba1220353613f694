"""Whatever goes in lies inside the folded design with its room, or the refusal says why not."""

from __future__ import annotations

import itertools
import json
import re

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from jadeite.core.boards.fits import Fits
from jadeite.core.contents import arrange_all, headroom, room_around, tag_room
from jadeite.core.contents.arrange import rules_of
from jadeite.core.formats.fold_file import fold_text
from jadeite.core.pipeline import arrange_contents, bodies_of, room_of, work_up
from jadeite.core.project import Hollow, Shape, Task, changed
from tests import fold_reader
from tests.core.contents.packing import faults
from tests.core.contents.test_arranging import THINGS

SHAPES = st.fixed_dictionaries(
    {
        "tray-walls": st.sampled_from(["single", "double"]),
        "tabs": st.sampled_from(["inside", "outside"]),
        "floor": st.sampled_from(["single", "doubled"]),
    }
)
BOARDS = st.sampled_from(["text", "medium-card", "craft-board"])


def corners(content) -> np.ndarray:  # type: ignore[no-untyped-def]
    """Least and greatest corner of a content of the FOLD file, from its size and pose."""
    pose = np.array(content["pose"])
    if content["kind"] == "box":
        half = np.abs(pose[:3, :3]) @ (np.array(content["size_mm"]) / 2)
    elif content["kind"] == "sphere":
        half = np.full(3, content["radius_mm"])
    else:  # a cylinder whose axis is one of the three
        axis = np.abs(pose[:3, 2])
        half = axis * content["height_mm"] / 2 + (1 - axis) * content["radius_mm"]
    return np.array([pose[:3, 3] - half, pose[:3, 3] + half])


def room_to_plies(model, low: np.ndarray, high: np.ndarray) -> np.ndarray:  # type: ignore[no-untyped-def]
    """Least room in mm towards upright plies along x and y, and towards level ones along z.

    All plies of a tray with its lid stand along the axes, so a ply that does
    not lie beside the block along another axis bounds it along its own.
    """
    least = np.full(3, np.inf)
    for face in model.faces.values():
        axis = int(np.argmax(np.abs(face.normal)))
        a, b = face.points.min(axis=0), face.points.max(axis=0)
        others = [i for i in range(3) if i != axis]
        if any(a[i] >= high[i] - 1e-6 or b[i] <= low[i] + 1e-6 for i in others):
            continue
        half = face.thickness / 2
        gap = max(a[axis] - half - high[axis], low[axis] - b[axis] - half)
        least[axis] = min(least[axis], gap)
    return least


def things_in(text: str) -> list[np.ndarray]:
    """Corners of every content of a FOLD text but the tags."""
    contents = json.loads(text)["jadeite:contents"]
    return [corners(c) for c in contents if not c["name"].startswith("tag of")]


def tags_are_clear(model, text: str, blocks: list[np.ndarray]) -> bool:  # type: ignore[no-untyped-def]
    """Whether every tag that lies inside is clear of all plies and of every thing."""
    for content in json.loads(text)["jadeite:contents"]:
        if not content["name"].startswith("tag of"):
            continue
        low, high = corners(content)
        if room_to_plies(model, low, high).min() < -1e-6:
            return False
        for a, b in blocks:
            if (np.minimum(high, b) - np.maximum(low, a)).min() > 1e-6:
                return False
    return True


@settings(max_examples=200)
@given(
    things=st.lists(THINGS, min_size=1, max_size=4),
    options=SHAPES,
    board=BOARDS,
    dividers=st.sampled_from(["none", "none", "fitted", "equal"]),
    usual=st.one_of(st.none(), st.floats(0, 5)),
)
def test_property_everything_fits_with_its_room(things, options, board, dividers, usual) -> None:  # type: ignore[no-untyped-def]
    """Measured on the FOLD text: inside the folded plies, apart from one another, lid closed."""
    project = changed(
        Task(),
        contents=tuple(things),
        shape=Shape(options=options),
        boards={"tray": board, "lid": board, "floor-ply": board, "divider": board},
        dividers=dividers,
        clearance=usual,
    )
    arrangement = arrange_contents(project, quick=True)
    assert arrangement is not None
    work = work_up(project, arrangement)
    assert not work.blocked, [f.message for f in work.findings]
    assert work.design is not None
    text = fold_text(work.design, bodies_of(project, arrangement, work.design))
    model = fold_reader.read(text)
    assert fold_reader.open_joints(model) == []
    assert fold_reader.open_slots(model) == []
    blocks = things_in(text)
    assert tags_are_clear(model, text, blocks)
    assert len(blocks) == len(arrangement.places)
    for place, (low, high) in zip(arrangement.places, blocks, strict=True):
        thing = project.contents[place.thing]
        turned = next(t for t in thing.turns() if t.size == place.solid and t.axis == place.axis)
        gaps = room_to_plies(model, low, high)
        for axis in (0, 1):
            assert gaps[axis] >= room_around(thing, turned, axis, Fits(own=usual)).value - 1e-6
        assert gaps[2] >= place.under - 1e-6
        lid = min(
            f.points[:, 2].min() - f.thickness / 2
            for (p, n), f in model.faces.items()
            if p == "lid" and n == "floor"
        )
        assert high[2] + (tag_room(thing) if place.tall == 2 else 0.0) <= lid - 1.0 + 1e-6
    for a, b in itertools.combinations(blocks, 2):
        assert (np.minimum(a[1], b[1]) - np.maximum(a[0], b[0])).min() <= 1e-6
    if dividers == "none":
        rules = [rules_of(project.contents[p.thing]) for p in arrangement.places]
        front = min(p.low[1] for p in arrangement.places)
        shift = 0.0 if any(r.reach == "front" for r in rules) else front
        lows = [(p.low[0], p.low[1] - shift, p.low[2]) for p in arrangement.places]
        assert faults([p.cell for p in arrangement.places], lows, rules) == []


@settings(max_examples=100)
@given(
    things=st.lists(THINGS, min_size=1, max_size=3),
    bottom=st.sampled_from(["closed", "open"]),
    board=BOARDS,
    usual=st.one_of(st.none(), st.floats(0, 5)),
)
def test_property_everything_slides_into_its_sleeve(things, bottom, board, usual) -> None:  # type: ignore[no-untyped-def]
    """Clear of every ply of the folded sleeve, apart, and below its mouth as the way asks."""
    project = changed(
        Task(),
        contents=tuple(things),
        shape=Shape(key="sleeve", options={"bottom": bottom}),
        boards={"sleeve": board},
        clearance=usual,
    )
    arrangement = arrange_contents(project, quick=True)
    assert arrangement is not None
    work = work_up(project, arrangement)
    assert not work.blocked, [f.message for f in work.findings]
    assert work.design is not None
    text = fold_text(work.design, bodies_of(project, arrangement, work.design))
    model = fold_reader.read(text)
    assert fold_reader.open_joints(model) == []
    blocks = things_in(text)
    assert tags_are_clear(model, text, blocks)
    mouth = max(f.points[:, 1].max() for f in model.faces.values())
    for place, (low, high) in zip(arrangement.places, blocks, strict=True):
        thing = project.contents[place.thing]
        turned = next(t for t in thing.turns() if t.size == place.solid and t.axis == place.axis)
        gaps = room_to_plies(model, low, high)
        for axis in (0, 2):
            room = room_around(thing, turned, axis, Fits(own=usual)).value
            padding = thing.padding if thing.goes_in == "padded" else 0.0
            assert gaps[axis] >= min(room, padding or room) - 1e-6
        tag = tag_room(thing) if place.tall == 1 else 0.0
        assert high[1] + tag <= mouth - headroom(thing).value + 1e-6
    for a, b in itertools.combinations(blocks, 2):
        assert (np.minimum(a[1], b[1]) - np.maximum(a[0], b[0])).min() <= 1e-6


@settings(max_examples=60)
@given(
    things=st.lists(THINGS, min_size=1, max_size=3),
    share=st.floats(0.4, 1.3),
    axis=st.sampled_from([0, 1, 2]),
)
def test_property_a_fixed_inside_fits_or_names_what_lacks_room(things, share, axis) -> None:  # type: ignore[no-untyped-def]
    """Too small along one axis: the thing and the millimetres are said, and the cure works."""
    project = changed(Task(), contents=tuple(things))
    free = arrange_contents(project, quick=True)
    assert free is not None
    inside = list(free.inside)
    inside[axis] = max(15.0, inside[axis] * share)
    fixed = changed(project, brief=Hollow(size=tuple(inside)))
    arrangement = arrange_contents(fixed, quick=True)
    assert arrangement is not None
    work = work_up(fixed, arrangement)
    short = [f for f in work.findings if f.code == "contents-too-big"]
    lacks = max(n - h for n, h in zip(arrangement.inside, inside, strict=True))
    assert bool(short) == (lacks > 1e-6)
    if not short:
        assert not work.blocked
        return
    words = short[0].message
    assert any(t.name.lower() in words.lower() for t in things)
    assert float(re.findall(r"lacks ([\d.]+) mm", words)[0]) == pytest.approx(lacks, abs=0.06)
    assert short[0].cure is not None


def test_cells_of_unlike_things_are_sized_from_them() -> None:
    """Each thing has a cell of its own, fitted or all equal."""
    from tests.conftest import CLOTH, EYEPIECE, FILTER_CASE

    project = changed(Task(), contents=(EYEPIECE, FILTER_CASE, CLOTH), dividers="fitted")
    fitted = arrange_contents(project)
    assert fitted is not None
    assert fitted.grid is not None
    equal = arrange_contents(changed(project, dividers="equal"))
    assert equal is not None
    assert equal.grid is not None
    assert len(set(equal.grid.columns)) == 1
    assert len(set(fitted.grid.columns)) > 1
    assert fitted.board_area < equal.board_area
    every = arrange_all(project.contents, room_of(project), ("least-board", "squarest"))
    assert max(every["squarest"].inside[:2]) <= max(every["least-board"].inside[:2]) + 1e-6
