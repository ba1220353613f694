"""Curves through the corners of facets, against the circles and sections that they stand for."""

from __future__ import annotations

import math

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st
from scipy.interpolate import CubicSpline
from shapely.geometry import LineString, Point, Polygon

from jadeite.core.cutting import strokes_of
from jadeite.core.nets.curves import drawn
from jadeite.core.nets.model import Curve
from jadeite.core.nets.outline import fold_lines
from jadeite.core.shapes import family_by_key
from tests.core.shapes.closing import build

CLOSE = 0.02  # mm; design rule, curves in files stay this close


def _dense(points: np.ndarray) -> np.ndarray:
    """Points along a line, the middles of its parts as well."""
    return np.vstack([points, (points[1:] + points[:-1]) / 2])


@pytest.mark.parametrize("across", [50.0, 120.0, 300.0])
def test_the_rim_of_a_cone_is_cut_as_an_arc(across) -> None:  # type: ignore[no-untyped-def]
    """Every point of it, and of the teeth's score, lies as far from the cone's apex (published)."""
    design = build(family_by_key("round-box"), (across, across, 60.0), flare=20.0, measured="round")
    piece, s = design.piece("wall"), design.sizes["sector-angle"].inputs[1].value
    rulings = []
    for name in ("facet.0", "facet.9"):  # two rulings meet in the apex
        fold = next(f for f in piece.folds if f.child == f"facet.{int(name[6:]) + 1}")
        rulings.append((np.array(fold.start), np.array(fold.end) - np.array(fold.start)))
    (p, u), (q, v) = rulings
    along = np.linalg.solve(np.column_stack([u, -v]), q - p)[0]
    apex = p + along * u
    score = next(pts for step, pts, _ in strokes_of(piece) if step == "score")
    off = np.linalg.norm(_dense(score) - apex, axis=1) - s
    assert np.abs(off).max() < CLOSE
    plain = next(curve.points for curve in piece.curves)
    sag = s * (1 - math.cos(math.pi * across / s / (len(plain) - 1) / 2))
    assert np.abs(np.linalg.norm(_dense(plain) - apex, axis=1) - s).max() > 0.9 * sag
    assert len(fold_lines(piece)) > len(plain)  # they are scored one by one only in the proof
    slant = design.sizes["strip-height"].value
    outline = next(pts for step, pts, _ in strokes_of(piece) if step == "outline")
    far = np.linalg.norm(_dense(outline) - apex, axis=1)
    rim = far[np.abs(far - s - slant) < 0.3]
    assert len(rim) >= len(plain)
    assert np.abs(rim - s - slant).max() < CLOSE


@pytest.mark.parametrize("bow", [25.0, 60.0])
def test_the_curved_scores_of_a_large_pillow_follow_the_section(bow) -> None:  # type: ignore[no-untyped-def]
    """A plane cut of a cylinder unrolls to x = R cos(u / R) (published); corners lie on it."""
    piece = build(family_by_key("pillow-box"), (300.0, 160.0, 40.0), bow=bow).pieces[0]
    plain = [curve.points for curve in piece.curves]
    curved = [pts for step, pts, _ in strokes_of(piece) if step == "score" and len(pts) > 5]
    assert len(curved) == len(plain) == 4
    gained, seen = 0.0, 0
    for line, curve in zip(plain, curved, strict=True):
        side = np.linalg.norm(np.diff(line, axis=0), axis=1)
        if abs(side[0] - side[-1]) > 1e-6:
            continue  # the seam takes a little of the last facet
        seen += 1
        along = line[-1] - line[0]
        along /= np.linalg.norm(along)
        rise = line @ np.array([-along[1], along[0]])
        rise = (rise - rise[0]) * (1 if rise[len(rise) // 2] > rise[0] else -1)
        u = (line - line[0]) @ along
        alpha = math.radians(bow)
        turn = 2 * alpha / (len(line) - 1)
        radius = rise.max() / (math.cos(turn / 2) - math.cos(alpha))  # the middle facet is level
        stretch = turn / 2 / math.sin(turn / 2)  # of the arc against the chord
        v = ((curve - line[0]) @ along - u[-1] / 2) * stretch
        want = radius * (np.cos(v / radius) - math.cos(alpha))
        got = (curve - line[0]) @ np.array([-along[1], along[0]])
        got *= 1 if got[len(got) // 2] > 0 else -1
        assert np.abs(got - want).max() < CLOSE
        gained = max(gained, float(side.max()))
    assert seen == 2
    assert gained > 4.0  # the facets are wide: it was worth it


def test_it_runs_as_the_cubic_spline_of_a_reference_library_does() -> None:
    """SciPy's CubicSpline through the same corners of an ellipse, parted a little unevenly."""
    turns = np.cumsum([0.0, 0.12, 0.13, 0.12, 0.14, 0.12, 0.13])
    path = np.column_stack([80 * np.cos(turns), 50 * np.sin(turns)])
    curve = drawn(Curve("spline", path))
    at = np.concatenate([[0.0], np.cumsum(np.linalg.norm(np.diff(path, axis=0), axis=1))])
    spline = LineString(CubicSpline(at, path)(np.linspace(0.0, at[-1], 500)))
    assert max(spline.distance(Point(p)) for p in curve) < CLOSE
    assert max(abs(math.hypot(x / 80, y / 50) - 1) * 50 for x, y in curve) < CLOSE


@given(
    st.lists(st.floats(-8.0, 8.0), min_size=3, max_size=12),
    st.floats(2.0, 20.0),
)
def test_a_smooth_line_keeps_every_corner_and_its_ends(turns, step) -> None:  # type: ignore[no-untyped-def]
    """It passes through all corners, near the facets; a line through corners stays as it is."""
    ways = np.radians(np.cumsum(turns))
    path = np.vstack(
        [[0.0, 0.0], np.cumsum(step * np.column_stack([np.cos(ways), np.sin(ways)]), 0)]
    )
    curve = drawn(Curve("spline", path))
    line = LineString(curve)
    for point in path:
        assert np.abs(curve - point).max(axis=1).min() < 1e-9
    assert line.hausdorff_distance(LineString(path)) < step / 4
    assert np.array_equal(drawn(Curve("line", path)), path)


@given(st.floats(5.0, 2000.0), st.floats(0.02, 0.5), st.integers(2, 12))
def test_an_arc_stays_on_its_circle(radius, step, count) -> None:  # type: ignore[no-untyped-def]
    """Corners and the middles of its parts lie within 0.02 mm of the circle (definition)."""
    turns = step * np.arange(count + 1)
    corners = radius * np.column_stack([np.cos(turns), np.sin(turns)]) + (30.0, -7.0)
    line = _dense(drawn(Curve("arc", corners))) - (30.0, -7.0)
    assert np.abs(np.hypot(*line.T) - radius).max() < CLOSE + 1e-9


def test_corners_off_their_circle_are_a_fault() -> None:
    """What is called an arc is one."""
    with pytest.raises(ValueError, match="off their arc"):
        drawn(Curve("arc", np.array([[0.0, 0.0], [1.0, 0.3], [2.0, 0.31], [3.0, 0.0]])))


@pytest.mark.parametrize(
    ("key", "chosen"),
    [
        ("carton", {}),
        ("lantern", {"bottom": "lock"}),
        ("gathered-box", {"seam": "tongue"}),
        ("round-box", {}),
        ("domed-box", {}),
        ("pillow-box", {}),
        ("petal-lantern", {}),
    ],
)
def test_what_is_cut_is_the_region_of_the_panels(key, chosen) -> None:  # type: ignore[no-untyped-def]
    """Nothing is smoothed after the proof: Shapely's union of the panels is what is cut."""
    design = build(family_by_key(key), (60.0, 60.0, 47.0), **chosen)
    for piece in design.pieces:
        panels = shapely.union_all([Polygon(p.outline) for p in piece.panels], grid_size=1e-6)
        cut = next(pts for step, pts, _ in strokes_of(piece) if step == "outline")
        whole = Polygon(
            shapely.get_exterior_ring(max(shapely.get_parts(panels), key=lambda g: g.area))
        )
        assert Polygon(cut).is_valid
        off = Polygon(cut).symmetric_difference(whole).buffer(-0.003)
        assert off.area < 1e-6, piece.name


def test_straight_rims_stay_straight_beside_a_bent_fold() -> None:
    """The lid of a round box is a strip: its rim is one straight line, and so is its score."""
    lid = build(family_by_key("round-box"), (60.0, 60.0, 40.0)).piece("lid")
    score = [pts for step, pts, _ in strokes_of(lid) if step == "score"]
    assert len(score) == 1
    assert np.ptp(score[0][:, 1]) < 1e-6
