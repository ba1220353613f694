"""Calibration: a planted shift, turn and scale is found again from what a maker would read off."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from jadeite.core.cutting import PROFILES
from jadeite.core.cutting.calibration import (
    CUT,
    LINES,
    PRINTED,
    REACH,
    Comb,
    combs,
    cut_lines,
    printed_lines,
    readings_from,
    solved,
)
from jadeite.core.errors import FieldError
from jadeite.core.project import Correction
from jadeite.core.sheets.marks import CLEAR, PAPERS, commanded, cut_where, mark_lines

A4 = PAPERS["a4"]
LARGE = (292.0, 292.0)


def machine(right: float, up: float, degrees: float, wide: float, high: float) -> np.ndarray:
    """What a cutter does to the plane about the middle of the paper: turned, then scaled; 2 x 3."""
    c, s = math.cos(math.radians(degrees)), math.sin(math.radians(degrees))
    turn = np.array([[c, -s], [s, c]]) @ np.diag([1 + wide, 1 + high])
    return np.column_stack([turn, [right, up]])


def cuts(points: np.ndarray, of: np.ndarray) -> np.ndarray:
    """Where it cuts what it is told to."""
    middle = np.array(A4) / 2
    return (points - middle) @ of[:, :2].T + of[:, 2] + middle


def read_off(of: np.ndarray, correction: Correction) -> list[float]:
    """What a maker reads: the line, or the middle of two, where cut and print meet best."""
    out = []
    for comb in combs(A4, LARGE):
        printed = [line[0][comb.axis] for line in printed_lines(comb)]
        cut = [
            cuts(commanded(line[:1], correction, A4), of)[0][comb.axis] for line in cut_lines(comb)
        ]
        gap = np.array(cut) - np.array(printed)  # 0 where they meet
        k = np.arange(-LINES, LINES + 1)
        halves = np.arange(-LINES, LINES + 0.5, 0.5)
        out.append(float(halves[np.argmin(np.abs(np.interp(halves, k, gap)))]))
    return out


def worst(of: np.ndarray, correction: Correction) -> float:
    """By how much it still misses across or up, anywhere that pieces may lie, mm."""
    x, y = (np.linspace(CLEAR, side - CLEAR, 9) for side in A4)
    points = np.array([(a, b) for a in x for b in y])
    return float(np.abs(cuts(commanded(points, correction, A4), of) - points).max())


@settings(max_examples=200)
@given(
    right=st.floats(-0.5, 0.5), up=st.floats(-0.5, 0.5), degrees=st.floats(-0.1, 0.1),
    wide=st.floats(-0.0015, 0.0015), high=st.floats(-0.0015, 0.0015),
)  # fmt: skip
def test_property_a_planted_miss_is_solved(
    right: float, up: float, degrees: float, wide: float, high: float
) -> None:
    """To 0.05 mm across and up, anywhere on the sheet, by readings to half a line."""
    of = machine(right, up, degrees, wide, high)
    before = worst(of, Correction())
    found = solved(read_off(of, Correction()), A4, LARGE, Correction())
    assert worst(of, found.correction) <= 0.05
    again = solved(read_off(of, found.correction), A4, LARGE, found.correction)
    assert again.off <= 0.05 + 1e-9
    assert worst(of, again.correction) <= 0.05
    assert found.off <= before + 0.05


def test_a_miss_beyond_the_combs_is_found_in_a_few_rounds() -> None:
    """Read as the last line, it comes nearer with every sheet."""
    of = machine(2.4, -1.7, 0.2, 0.003, -0.002)
    correction = Correction()
    for _ in range(5):
        correction = solved(read_off(of, correction), A4, LARGE, correction).correction
    assert worst(of, correction) <= 0.05


def test_a_vernier_reads_tenths() -> None:
    """Published: P. Vernier, 1631. A cut comb 0.3 mm to the right meets at its third line."""
    comb = combs(A4, LARGE)[0]
    moved = [line[0][0] + 0.3 for line in cut_lines(comb)]
    printed = [line[0][0] for line in printed_lines(comb)]
    meets = [k - LINES for k in range(2 * LINES + 1) if abs(moved[k] - printed[k]) < 1e-9]
    assert meets == [3]
    assert pytest.approx(1.0) == REACH
    assert (PRINTED, CUT) == (2.0, 1.9)


@pytest.mark.parametrize("cutter", [p for p in PROFILES if not p.by_hand], ids=lambda p: p.key)
@pytest.mark.parametrize("paper", PAPERS)
def test_combs_lie_where_a_cutter_reaches_and_on_no_mark(cutter, paper: str) -> None:  # type: ignore[no-untyped-def]
    """On every paper and cutter; no two lines of different combs come near."""
    size = PAPERS[paper]
    every: list[tuple[Comb, np.ndarray]] = [
        (comb, np.array([*printed_lines(comb), *cut_lines(comb)]))
        for comb in combs(size, cutter.reach)
    ]
    points = np.concatenate([lines.reshape(-1, 2) for _, lines in every])
    span = sorted(np.ptp(points, axis=0))
    assert all(a <= b + 1e-9 for a, b in zip(span, sorted(cutter.reach), strict=True))
    marks = np.concatenate(mark_lines(size))
    assert np.linalg.norm(points[:, None] - marks[None], axis=2).min() > 5.0
    for i, (_, one) in enumerate(every):
        for _, other in every[:i]:
            a, b = one.reshape(-1, 2), other.reshape(-1, 2)
            assert np.linalg.norm(a[:, None] - b[None], axis=2).min() > 2.0


def test_told_and_cut_are_each_other_s_inverse() -> None:
    """What is commanded so is cut where it is wanted."""
    correction = Correction(right=0.4, up=-0.2, turn=0.002, wide=0.001, high=-0.003)
    points = np.array([[20.0, 30.0], [150.0, 250.0], [105.0, 148.5]])
    told = commanded(points, correction, A4)
    assert cut_where(told, correction, A4) == pytest.approx(points)
    assert np.abs(told - points).max() > 0.2


@pytest.mark.parametrize("words", ["", "1 2 3", "1 2 3 4 5 6 7 x", "0 0 0 0 0 0 0 11", "nan " * 8])
def test_readings_that_are_none_are_refused(words: str) -> None:
    """The text says what to type."""
    with pytest.raises(FieldError, match="readings") as refused:
        readings_from(words)
    assert "eight numbers" in refused.value.cure
