"""Wobble cards: closed by the FOLD text; the spring against the wire's own strain energy."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.integrate import quad, solve_ivp
from shapely.geometry import Polygon

from jadeite.core.findings import Level
from jadeite.core.pipeline import arrange_contents, at_hand, work_up
from jadeite.core.pipeline.cures import cured
from jadeite.core.project import Face, Shape, Task, changed
from jadeite.core.shapes import family_by_key
from jadeite.core.shapes.coil import SHEAR, YOUNG, Coil
from tests import fold_reader
from tests.core.shapes.closing import FOLDING, build, closes_or_says_why, text_of, values_of

FAMILY = family_by_key("wobble-card")
FACES = st.tuples(st.floats(80.0, 250.0), st.floats(80.0, 250.0), st.just(0.0))
# figures of all sizes that a maker would draw; what does not lie on its card is refused
CHOSEN = st.fixed_dictionaries(
    {o.key: values_of(o, 60.0) for o in FAMILY.options}
    | {"head": st.integers(25, 60).map(float), "body": st.integers(25, 70).map(float),
       "backing": st.integers(40, 80).map(float), "coil": st.floats(4.0, 10.0)}
)  # fmt: skip
COILS = st.builds(Coil, st.floats(0.1, 0.6), st.floats(5, 15), st.integers(3, 12), st.floats(6, 25))
A6 = (105.0, 148.0)


def task_for(**options: object) -> Task:
    """A wobble card of A6."""
    shape = Shape(key="wobble-card", options={k.replace("_", "-"): v for k, v in options.items()})
    return changed(Task(), shape=shape, brief=Face(size=A6))


@settings(max_examples=200)
@given(face=FACES, board=FOLDING, chosen=CHOSEN)
def test_property_every_wobble_card_closes(face, board, chosen) -> None:  # type: ignore[no-untyped-def]
    """All options and boards; a head or a coil too large is refused with what works."""
    made = closes_or_says_why(FAMILY, face, board, chosen)
    unit = min(face[0], 0.7 * face[1])
    wide = chosen["head"] / 100 * unit
    coil = chosen["coil"] > 0.72 * chosen["backing"] / 100 * wide - 0.1
    low = face[1] < 1.5 * wide + 1.2 * chosen["body"] / 100 * unit + 12
    assert made or coil or low or chosen["head"] > 84


def _energy(coil: Coil, force: np.ndarray, turn: np.ndarray) -> float:
    """Work in N mm of a unit load on the wire's end, twice: bending and torsion along the helix.

    ``turn`` is a unit couple on it; Castigliano's theorem, with the wire's own I and J.
    """
    radius, rise = coil.across / 2, coil.high / (2 * math.pi * coil.turns)
    bending = YOUNG * math.pi * coil.wire**4 / 64
    torsion = SHEAR * math.pi * coil.wire**4 / 32
    top = np.array([0.0, 0.0, coil.high])

    def density(t: float) -> float:
        at = np.array([radius * math.cos(t), radius * math.sin(t), rise * t])
        way = np.array([-radius * math.sin(t), radius * math.cos(t), rise])
        long = float(np.linalg.norm(way))
        moment = np.cross(top - at, force) + turn
        twist = float(moment @ way) / long
        bend = float(moment @ moment) - twist**2
        return (bend / bending + twist**2 / torsion) * long

    return float(quad(density, 0, 2 * math.pi * coil.turns, limit=400)[0])


@settings(max_examples=60, deadline=None)
@given(coil=COILS)
def test_property_stiffness_is_that_of_the_wire(coil: Coil) -> None:
    """G d^4 / (8 D^3 n) and Timoshenko's lateral stiffness, against strain energy by SciPy.

    The formulas are for coils whose turns are nearly level; the helix is taken as it is.
    """
    pitch = coil.high / coil.turns / (math.pi * coil.across)
    none, x, z = np.zeros(3), np.array([1.0, 0, 0]), np.array([0, 0, 1.0])
    assert 1 / _energy(coil, z, none) == pytest.approx(coil.axial, rel=0.02 + pitch**2 * 2)
    sideways = (_energy(coil, x, none) + _energy(coil, np.array([0, 1.0, 0]), none)) / 2
    assert 1 / sideways == pytest.approx(coil.lateral, rel=0.04 + pitch**2 * 3)


@settings(max_examples=40, deadline=None)
@given(coil=COILS, grams=st.floats(0.1, 5.0))
def test_property_sag_tilt_and_wobble_follow_in_their_units(coil: Coil, grams: float) -> None:
    """Weight in N over N/mm is mm; the frequency is that of the swinging mass, integrated."""
    newton = grams * 1e-3 * 9.80665
    assert coil.sag(grams) == pytest.approx(newton / coil.lateral)
    y = np.array([0.0, 1.0, 0.0])
    mixed = (
        _energy(coil, np.array([1.0, 0, 0]), y)
        - _energy(coil, np.array([1.0, 0, 0]), np.zeros(3))
        - _energy(coil, np.zeros(3), y)
    ) / 2  # a couple's turn under a unit force (Maxwell and Betti)
    pitch = coil.high / coil.turns / (math.pi * coil.across)
    assert math.radians(coil.tilt(grams)) == pytest.approx(
        newton * abs(mixed), rel=0.04 + 3 * pitch**2
    )
    k, m = coil.lateral * 1e3, grams * 1e-3  # N/m and kg
    period = 1 / coil.wobble(grams)
    swing = solve_ivp(lambda t, v: [v[1], -k / m * v[0]], (0, period), [1e-3, 0.0], rtol=1e-9,
                      atol=1e-12)  # fmt: skip
    assert swing.y[0, -1] == pytest.approx(1e-3, rel=1e-4)


def test_the_head_is_larger_than_its_backing_and_smaller_than_the_card() -> None:
    """From the FOLD text: 12 mm before the card, its middle over the body's, little covered."""
    model = fold_reader.read(text_of(build(FAMILY, (*A6, 0.0))))
    panels = {"card": "front", "body": "overlay", "head": "overlay", "backing": "plate"}
    flat = {n: Polygon(model.faces[n, panel].points[:, [0, 2]]) for n, panel in panels.items()}
    assert flat["head"].contains(flat["backing"])
    assert flat["card"].contains(flat["head"].union(flat["body"]))
    covered = flat["head"].intersection(flat["body"]).area / flat["body"].area
    assert 0.02 < covered < 0.35
    assert flat["head"].centroid.x == pytest.approx(0.0, abs=0.5)
    away = model.faces["card", "front"].points[0, 1] - model.faces["backing", "plate"].points[0, 1]
    t = model.faces["card", "front"].thickness
    assert away == pytest.approx(12.0 + t)


def test_it_is_thick_for_its_envelope_and_warns_of_small_parts() -> None:
    """The spring counts in the thickness; the usual one is clean; steps carry the caution."""
    work = work_up(task_for(), None)
    assert [f.message for f in work.findings if f.level > Level.NOTE] == []
    assert work.sizes["thickness"].value == pytest.approx(12.0 + 4 * 0.23 + 0.15, abs=0.01)
    cautions = " ".join(step.caution for step in work.assembly.steps)
    assert "small parts" in cautions
    assert "under three" in cautions
    (spring,) = at_hand({"c": work})
    assert spring.name == "coil spring"
    titles = [step.title for step in work.assembly.steps]
    assert titles.index("Press the spring on the backing") < titles.index(
        "Stick the head to the card"
    )


@pytest.mark.parametrize(("options", "code"), [
    ({"wire": 0.6}, "wobble"),
    ({"wire": 0.1}, "wobble"),
])  # fmt: skip
def test_a_cure_ends_what_it_is_offered_for(options, code: str) -> None:  # type: ignore[no-untyped-def]
    """Too stiff or too soft a wire names one with which it wobbles."""
    task = task_for(**options)
    work = work_up(task, arrange_contents(task))
    (found,) = [f for f in work.findings if f.level > Level.NOTE]
    assert found.code == code
    after = work_up(cured(task, found.cure), None)
    assert [f.message for f in after.findings if f.level > Level.NOTE] == []
    assert 4.0 <= after.sizes["wobble"].value <= 16.0
