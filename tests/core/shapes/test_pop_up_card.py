"""Pop-up cards: closed at every opening with the same nets, by formulas and by the FOLD text."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from scipy.optimize import brentq

from jadeite.core.errors import FieldError
from jadeite.core.findings import Level
from jadeite.core.pipeline import arrange_contents, work_up
from jadeite.core.pipeline.cures import cured
from jadeite.core.project import Face, Shape, Task, changed
from jadeite.core.shapes import family_by_key
from jadeite.core.shapes.standing_parts import ridge_rise
from tests import fold_reader
from tests.core.shapes.closing import FOLDING, build, closes_or_says_why, text_of, values_of

FAMILY = family_by_key("pop-up-card")
FACES = st.tuples(st.floats(60.0, 300.0), st.floats(60.0, 300.0), st.just(0.0))
CHOSEN = st.fixed_dictionaries({o.key: values_of(o, 80.0) for o in FAMILY.options})
ANGLES = st.floats(2.0, 178.0)
A6 = (148.0, 105.0, 0.0)
KINDS = ("step", "stage", "v-fold", "floating")


def sound(chosen: dict) -> dict:  # type: ignore[type-arg]
    """The same, with a V that can be made."""
    if chosen["kind"] != "v-fold":
        return chosen
    lean, reach = max(chosen["lean"], chosen["slant"], 60.0), min(max(chosen["reach"], 28.0), 35.0)
    slant, height = max(chosen["slant"], 45.0), min(chosen["height"], 60.0)
    return chosen | {"lean": lean, "reach": reach, "slant": slant, "height": height, "count": 1.0}


def opened(kind: str, angle: float, **options: object):  # type: ignore[no-untyped-def]
    """A card of A6 open by an angle, as its FOLD text says."""
    design = build(FAMILY, A6, kind=kind, opens=angle, **{"lies-open": angle}, **options)
    return design, fold_reader.read(text_of(design))


def outwards(model, leaf: str) -> np.ndarray:  # type: ignore[no-untyped-def]
    """From the card's fold out in a leaf: square to the edge that both leaves share."""
    near, far = (model.faces["card", name].points for name in ("near", "far"))
    shared = np.array([p for p in near if np.linalg.norm(far - p, axis=1).min() < 1e-6])
    along = (shared[1] - shared[0]) / np.linalg.norm(shared[1] - shared[0])
    out = model.faces["card", leaf].points.mean(axis=0) - shared.mean(axis=0)
    out -= along * float(out @ along)
    return np.asarray(out / np.linalg.norm(out))


@settings(max_examples=200)
@given(face=FACES, board=FOLDING, chosen=CHOSEN, angle=ANGLES)
def test_property_every_pop_up_closes_at_any_opening(face, board, chosen, angle) -> None:  # type: ignore[no-untyped-def]
    """All options, open by any angle; only a V too narrow at its foot is refused, with a cure."""
    chosen = chosen | {"opens": angle, "lies-open": angle}
    made = closes_or_says_why(FAMILY, face, board, chosen)
    if chosen["kind"] != "v-fold":
        assert made
    elif chosen["lean"] < chosen["slant"]:
        assert not made
    else:  # a V with room on its card is always made
        along = max(face[:2]) if chosen["fold"] == "long" else min(face[:2])
        deep = face[0] + face[1] - along
        large = max(chosen["reach"], chosen["height"]) / 100 * deep * 2.6 > along
        assert made or large or chosen["count"] > 1 or chosen["reach"] / 100 * deep < 16


@settings(max_examples=100)
@given(face=FACES, chosen=CHOSEN, one=ANGLES, other=ANGLES)
def test_property_no_net_depends_on_the_opening(face, chosen, one, other) -> None:  # type: ignore[no-untyped-def]
    """What is cut is the same for all openings: the card moves, and nothing stretches."""
    chosen = sound(chosen)
    try:
        nets = [
            build(FAMILY, face, **(chosen | {"opens": angle, "lies-open": angle})).pieces
            for angle in (one, other)
        ]
    except FieldError:
        assume(False)  # a V that is too large for its card; hypothesis fails where most are
        return
    for a, b in zip(*nets, strict=True):
        for p, q in zip(a.panels, b.panels, strict=True):
            assert np.abs(p.outline - q.outline).max() < 1e-9


@pytest.mark.parametrize("angle", [2.0, 30.0, 60.0, 90.0, 120.0, 150.0, 178.0])
def test_a_step_is_a_parallelogram(angle: float) -> None:
    """Closed formula: its corner is the sum of both feet's vectors; its front is parallel to the
    far leaf and its top to the near one, so the corner is open by what the card is."""
    _, model = opened("step", angle, count=1.0)
    near, far = outwards(model, "near"), outwards(model, "far")
    assert math.degrees(math.acos(np.clip(near @ far, -1, 1))) == pytest.approx(angle, abs=1e-6)
    front, top = (model.faces["step-1", name] for name in ("front", "top"))
    for face, leaf in ((front, "far"), (top, "near")):
        leaf_normal = model.faces["card", leaf].normal
        assert abs(float(face.normal @ leaf_normal)) == pytest.approx(1.0, abs=1e-9)
    turn = math.degrees(math.acos(np.clip(float(front.normal @ top.normal), -1, 1)))
    assert 180.0 - turn == pytest.approx(angle, abs=1e-6)
    fold = model.faces["card", "near"].points
    origin = fold[np.argmin(np.abs((fold - fold.mean(axis=0)) @ near - 52.5 * -1))]
    corner = max(top.points, key=lambda p: float((p - origin) @ (near + far)))
    vector = corner - origin
    along = np.cross(near, far) / np.linalg.norm(np.cross(near, far))
    vector -= along * float(vector @ along)
    assert vector == pytest.approx(0.36 * 105 * near + 0.44 * 105 * far, abs=1e-6)


@settings(max_examples=200)
@given(angle=ANGLES, foot=st.floats(25.0, 65.0), more=st.floats(0.0, 45.0))
def test_property_a_ridge_rises_by_the_formula_of_the_v_fold(angle, foot, more) -> None:  # type: ignore[no-untyped-def]
    """Against SciPy: the direction between the leaves that is at `wall` to both feet."""
    wall = foot + more
    half, f, w = (math.radians(v) for v in (angle / 2, foot, wall))
    feet = [np.array([math.cos(f), s * math.sin(f) * math.sin(half), math.sin(f) * math.cos(half)])
            for s in (1, -1)]  # fmt: skip

    def miss(rise: float) -> float:
        ridge = np.array([math.cos(rise), 0.0, math.sin(rise)])
        return float(ridge @ feet[0]) - math.cos(w)

    least = math.atan2(math.sin(f) * math.cos(half), math.cos(f))  # nearest to the feet
    rise = brentq(miss, least - 1e-9, math.pi, xtol=1e-12) if miss(least) > 1e-9 else least
    assert math.radians(ridge_rise(angle, foot, wall)) == pytest.approx(rise, abs=1e-4)
    if miss(least) > 1e-6:
        ridge = np.array([math.cos(rise), 0.0, math.sin(rise)])
        assert [math.degrees(math.acos(ridge @ way)) for way in feet] == pytest.approx([wall] * 2)


@pytest.mark.parametrize("angle", [10.0, 60.0, 110.0, 170.0])
def test_a_floating_layer_keeps_parallel_to_both_leaves(angle: float) -> None:
    """At its height above the fold, measured between both leaves."""
    _, model = opened("floating", angle)
    for half, leaf in (("half.near", "near"), ("half.far", "far")):
        normals = model.faces["floating", half].normal, model.faces["card", leaf].normal
        assert abs(float(normals[0] @ normals[1])) == pytest.approx(1.0, abs=1e-9)
    wall = model.faces["wall-3", "wall"].points
    rise = np.ptp(wall @ (outwards(model, "near") + outwards(model, "far")))
    both = 2 * math.cos(math.radians(angle / 2))
    assert rise / both == pytest.approx(0.44 * 105, abs=1e-6)


@settings(max_examples=100)
@given(chosen=CHOSEN)
def test_property_what_would_peep_out_is_said(chosen) -> None:  # type: ignore[no-untyped-def]
    """Nearly shut, every point of the FOLD text is within the card, or a finding says not."""
    chosen = chosen | {"opens": 2.0, "lies-open": 2.0}
    chosen = sound(chosen)
    design = build(FAMILY, A6, **chosen)
    model = fold_reader.read(text_of(design))
    leaf = model.faces["card", "near"].points
    long, deep = (148.0, 105.0) if chosen["fold"] == "long" else (105.0, 148.0)
    out = outwards(model, "near")
    shared = leaf[np.argsort(leaf @ out)[:2]]
    along = (shared[1] - shared[0]) / np.linalg.norm(shared[1] - shared[0])
    points = np.concatenate([f.points for (piece, _), f in model.faces.items() if piece != "card"])
    away = (points - shared.mean(axis=0)) @ out
    aside = np.abs((points - shared.mean(axis=0)) @ along)
    room = min(deep - away.max(), long / 2 - aside.max())
    said = any(f.code == "peeps-out" for f in FAMILY.judge(design, options_of(chosen)))
    assert said == (room < 2.0) or abs(room - 2.0) < 0.2


def options_of(chosen: dict) -> dict:  # type: ignore[type-arg]
    """Every option with its value."""
    from jadeite.core.shapes import resolve_options

    return resolve_options(FAMILY, chosen)


@pytest.mark.parametrize("kind", KINDS)
def test_each_kind_needs_no_look_and_a_cure_ends_what_peeps_out(kind: str) -> None:
    """The usual ones are clean; one that is too high names a height with which it is hidden."""
    task = changed(Task(), shape=Shape(key="pop-up-card", options={"kind": kind}),
                   brief=Face(size=A6[:2]))  # fmt: skip
    work = work_up(task, arrange_contents(task))
    assert [f.message for f in work.findings if f.level > Level.NOTE] == []
    titles = [step.title for step in work.assembly.steps]
    assert titles.index("Fold every crease both ways") < titles.index("Fold the card in the middle")
    if kind == "v-fold":
        return  # it may be as high as it likes, shut it leans aside
    high = changed(task, shape=Shape(key="pop-up-card", options={"kind": kind, "height": 80.0}))
    (found,) = [f for f in work_up(high, None).findings if f.level > Level.NOTE]
    assert found.code == "peeps-out"
    after = work_up(cured(high, found.cure), None)
    assert [f.message for f in after.findings if f.level > Level.NOTE] == []


def test_what_binds_is_blocked(monkeypatch: pytest.MonkeyPatch) -> None:
    """A strip a millimetre too short for its step: it closes as drawn, and at no other opening."""
    from jadeite.core.shapes import stood

    true = stood.chain

    def off(name, title, board, open_, *rest):  # type: ignore[no-untyped-def]
        *others, links = rest
        if open_.angle != 100.0:
            links = tuple(
                link
                if link.name != "top"
                else stood.Link("top", "top", link.length + 1.0, link.way)
                for link in links
            )
        return true(name, title, board, open_, *others, links)

    monkeypatch.setattr(stood, "chain", off)
    task = changed(Task(), shape=Shape(key="pop-up-card", options={"kind": "step"}),
                   brief=Face(size=A6[:2]))  # fmt: skip
    codes = [f.code for f in work_up(task, arrange_contents(task)).findings]
    assert "binds" in codes
