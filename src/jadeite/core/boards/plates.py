"""Thin plates and beams: how far they give under a load.

A panel between scores is a rectangular plate simply supported on its edges.
Glossary: ``short`` and ``long`` are the sides of a plate, ``bending`` its
bending stiffness D = E t³ / (12 (1 - ν²)) in N·mm, ``load`` in N.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

__all__ = [
    "GRAVITY",
    "MEMBRANE_FREE",
    "MEMBRANE_HELD",
    "POISSON",
    "Load",
    "beam_sag",
    "bending_stiffness",
    "free_rim_coefficient",
    "large_deflection",
    "patch_flexibility",
    "plate_coefficient",
]

GRAVITY = 9.80665  # m/s2; published: standard acceleration (CGPM 1901)
POISSON = 0.3  # from memory
# membrane term A of w/t + A (w/t)^3; published for circular plates (Timoshenko and
# Woinowsky-Krieger, Theory of Plates and Shells), applied to rectangles from memory
MEMBRANE_FREE = 0.26
MEMBRANE_HELD = 1.85
LEVY_TERMS = 40  # odd terms of the series; rounding, far below the table's last digit
NAVIER_TERMS = 40  # in each direction; rounding, within 0.3 % of the point load of the same book
# largest deflection, at the middle of the free edge, of a plate with three edges simply
# supported and one free under an even load, by height / free edge; published: the same book,
# table 47, for a Poisson's ratio of 0.3, from memory
FREE_RATIOS = (0.5, 2 / 3, 1 / 1.2, 1.0, 1.2, 1.5, 2.0, 3.0)
FREE_ALPHAS = (0.00710, 0.00968, 0.01158, 0.01286, 0.01384, 0.01462, 0.01507, 0.01520)
FREE_LONG = 0.01522  # the same table, infinitely tall


@dataclass(frozen=True, slots=True)
class Load:
    """A thing that stands on a plate: middle from the plate's middle, extent, mass; mm and g."""

    x: float
    y: float
    length: float
    width: float
    mass: float


def plate_coefficient(ratio: float) -> float:
    """Coefficient α of w = α q a⁴ / D, by long side / short side >= 1.

    Lévy's series for a simply supported rectangle under an even load.

    Raises
    ------
    ValueError
        A ratio of sides under 1.
    """
    if not 1.0 <= ratio < math.inf:
        raise ValueError(f"long side / short side must be 1 or more, not {ratio}")
    total = 0.0
    for m in range(1, 2 * LEVY_TERMS, 2):
        a = m * math.pi * min(ratio, 60.0) / 2
        sign = 1.0 if m % 4 == 1 else -1.0
        total += sign / m**5 * (1 - (a * math.tanh(a) + 2) / (2 * math.cosh(min(a, 700.0))))
    return 4 / math.pi**5 * total


def free_rim_coefficient(ratio: float) -> float:
    """Coefficient of w = α q a⁴ / D at a free rim, by wall height / wall length a."""
    if ratio <= FREE_RATIOS[0]:  # low walls are cantilevers: the table's end is on the safe side
        return FREE_ALPHAS[0]
    if ratio > FREE_RATIOS[-1]:
        return FREE_LONG
    return float(np.interp(ratio, FREE_RATIOS, FREE_ALPHAS))


def large_deflection(linear: float, membrane: float) -> float:
    """Solve x + A x^3 = linear for x >= 0 (x is sag / thickness)."""
    x = min(linear, (linear / membrane) ** (1 / 3)) if linear > 0 else 0.0
    for _ in range(40):  # Newton on a convex function from above: monotone
        x -= (x + membrane * x**3 - linear) / (1 + 3 * membrane * x * x)
    return x


def bending_stiffness(plies: Sequence[tuple[float, float]]) -> float:
    """Bending stiffness D in N·mm of fully bonded plies, outside to inside.

    Parameters
    ----------
    plies : sequence of (modulus in GPa, thickness in mm)
        One ply gives E t³ / (12 (1 - ν²)); more turn about their common
        neutral plane (transformed section, any handbook of composites).
    """
    middles, at = [], 0.0
    for _, t in plies:
        middles.append(at + t / 2)
        at += t
    whole = sum(e * t for e, t in plies)
    neutral = sum(e * t * m for (e, t), m in zip(plies, middles, strict=True)) / whole
    inertia = sum(
        e * (t**3 / 12 + t * (m - neutral) ** 2) for (e, t), m in zip(plies, middles, strict=True)
    )
    return inertia * 1000 / (1 - POISSON**2)  # GPa is 1000 N/mm2


def patch_flexibility(
    length: float, width: float, loads: Sequence[Load]
) -> tuple[float, tuple[float, float]]:
    """Largest deflection times D, in N·mm², and where, for things that stand on a plate.

    Navier's double series of a load on a part of a simply supported rectangle
    (Timoshenko and Woinowsky-Krieger, article 30).  Where a thing overhangs
    the plate its load is put on the part that it stands on.

    Returns
    -------
    (float, (x, y))
        The place is measured from the plate's middle, in mm.
    """
    m = np.arange(1, NAVIER_TERMS + 1)
    pi = math.pi
    amplitude = np.zeros((NAVIER_TERMS, NAVIER_TERMS))
    for load in loads:
        x0, x1 = _clipped(load.x, load.length, length)
        y0, y1 = _clipped(load.y, load.width, width)
        along = _wave(m, x0, x1, length)
        across = _wave(m, y0, y1, width)
        force = load.mass / 1000 * GRAVITY
        amplitude += force * np.outer(along, across)
    stiff = (m[:, None] / length) ** 2 + (m[None, :] / width) ** 2
    coefficient = 4 * amplitude / (length * width) / (pi**4 * stiff**2)
    spots = np.linspace(0.0, 1.0, 41)
    sines = np.sin(np.outer(m, spots) * pi)
    deflection: NDArray[np.float64] = sines.T @ coefficient @ sines
    i, j = np.unravel_index(int(np.argmax(deflection)), deflection.shape)
    place = ((float(spots[i]) - 0.5) * length, (float(spots[j]) - 0.5) * width)
    return float(deflection[i, j]), place


def _clipped(middle: float, extent: float, side: float) -> tuple[float, float]:
    """Both ends of a load from the plate's corner, kept on the plate."""
    low = min(max(middle - extent / 2 + side / 2, 0.0), side * 0.999)
    high = max(min(middle + extent / 2 + side / 2, side), low + side * 0.001)
    return low, high


def _wave(m: NDArray[np.int_], low: float, high: float, side: float) -> NDArray[np.float64]:
    """Mean of sin(m π x / side) over a load, for each m."""
    k = m * math.pi / side
    return np.asarray((np.cos(k * low) - np.cos(k * high)) / (k * (high - low)))


def beam_sag(load: float, span: float, stiffness: float, case: str = "even") -> float:
    """Largest deflection in mm of a beam on two supports, or held at one end.

    Parameters
    ----------
    load : float
        N in all.
    span : float
        mm.
    stiffness : float
        E I in N·mm².
    case : str
        ``even`` or ``middle`` on two supports, ``shelf-even`` or ``shelf-end``
        held at one end; the cases of any beam handbook.
    """
    share = {"even": 5 / 384, "middle": 1 / 48, "shelf-even": 1 / 8, "shelf-end": 1 / 3}[case]
    return share * load * span**3 / stiffness
