"""How far a floor sags under what stands on it."""

from __future__ import annotations

from bisect import bisect_right
from dataclasses import dataclass

from jadeite.core.boards.board import Board
from jadeite.core.reckoning import Mark, Reckoning, constant, given, reckon

__all__ = ["SAG_LIMIT", "Sag", "floor_sag"]

GRAVITY = 9.80665  # m/s2; published: standard acceleration (CGPM 1901)
E_ALONG = 5.0e9  # Pa along the grain; from memory
E_ACROSS = 2.5e9  # Pa across the grain; from memory
POISSON = 0.3  # from memory
SAG_LIMIT = 1.5  # mm, or span / 100; from memory
SPAN_SHARE = 100.0  # from memory
# centre deflection of a simply supported rectangle, by long side / short side;
# published: Timoshenko and Woinowsky-Krieger, Theory of Plates and Shells, table 8
RATIOS = (1.0, 1.2, 1.5, 2.0, 3.0)
ALPHAS = (0.00406, 0.00564, 0.00772, 0.01013, 0.01223)
ALPHA_LONG = 0.01302  # infinitely long plate; same table
LONG_RATIO = 6.0  # from memory: from here on a plate counts as infinitely long
# membrane term A of w/t + A (w/t)^3; published for circular plates in the same
# book, applied to rectangles from memory
MEMBRANE_FREE = 0.26
MEMBRANE_HELD = 1.85


@dataclass(frozen=True, slots=True)
class Sag:
    """Sag of a floor at its centre and the limit beside it, both in mm."""

    sag: Reckoning
    limit: Reckoning

    @property
    def holds(self) -> bool:
        """Whether the floor keeps within its limit."""
        return self.sag.value <= self.limit.value


def plate_coefficient(ratio: float) -> float:
    """Coefficient alpha for a long side / short side >= 1, interpolated."""
    ratios, alphas = (*RATIOS, LONG_RATIO), (*ALPHAS, ALPHA_LONG)
    if ratio >= ratios[-1]:
        return ALPHA_LONG
    i = max(bisect_right(ratios, ratio), 1)
    share = (ratio - ratios[i - 1]) / (ratios[i] - ratios[i - 1])
    return alphas[i - 1] + share * (alphas[i] - alphas[i - 1])


def large_deflection(linear: float, membrane: float) -> float:
    """Solve x + A x^3 = linear for x >= 0 (x is sag / thickness)."""
    x = min(linear, (linear / membrane) ** (1 / 3)) if linear > 0 else 0.0
    for _ in range(40):  # Newton on a convex function from above: monotone
        x -= (x + membrane * x**3 - linear) / (1 + 3 * membrane * x * x)
    return x


def floor_sag(
    board: Board, length: float, width: float, mass: float, *, held: bool = True, plies: int = 1
) -> Sag:
    """Sag at the centre of a floor that carries its load spread evenly.

    Parameters
    ----------
    board : Board
    length, width : float
        mm, between the supporting scores.
    mass : float
        g, of everything that stands on it, >= 0.
    held : bool
        Whether walls stop the edges from moving in.
    plies : int
        Fully bonded plies.
    """
    short, long = sorted((length, width))
    t = board.thickness * plies
    modulus = (E_ALONG * E_ACROSS) ** 0.5
    bending = modulus * (t / 1e3) ** 3 / (12 * (1 - POISSON**2))  # N m
    load = mass / 1e3 * GRAVITY / (length * width / 1e6)  # Pa
    linear = plate_coefficient(long / short) * load * (short / 1e3) ** 4 / bending * 1e3
    sag = large_deflection(linear / t, MEMBRANE_HELD if held else MEMBRANE_FREE) * t
    limit = reckon(
        "Sag limit",
        min(short / SPAN_SHARE, SAG_LIMIT),
        "a hundredth of the span, at most 1.5 mm: beyond it the eye sees it",
        given("short span", short),
        constant("most", SAG_LIMIT, "mm", Mark.MEMORY),
    )
    return Sag(
        reckon(
            "Floor sags",
            sag,
            "plate on four edges under an even load, stiffened as it stretches; "
            "it counts when the box is lifted or hung",
            given("load", mass, "g"),
            given("short span", short),
            given("long span", long),
            given("board thickness", t),
            constant(
                "stiffness of card, mean of along and across", modulus / 1e9, "GPa", Mark.MEMORY
            ),
            constant(
                "plate coefficient",
                plate_coefficient(long / short),
                "",
                Mark.PUBLISHED,
                "Timoshenko and Woinowsky-Krieger, table 8",
            ),
        ),
        limit,
    )
