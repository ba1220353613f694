"""How far a floor, a lid or a wall gives under what it carries."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import cache
from typing import Any

import numpy as np

from jadeite.core.boards.board import Board
from jadeite.core.boards.plates import (
    GRAVITY,
    MEMBRANE_FREE,
    MEMBRANE_HELD,
    Load,
    bending_stiffness,
    free_rim_coefficient,
    large_deflection,
    patch_flexibility,
    plate_coefficient,
)
from jadeite.core.reckoning import Mark, Reckoning, constant, given, reckon

__all__ = ["Sag", "floor_sag", "least_grammage", "panel_stiffness", "sag_limit", "wall_bulge"]

SAG_LIMIT = 1.5  # mm, or span / 100; from memory
SPAN_SHARE = 100.0  # from memory
BULGE_SHARE = 50.0  # of the wall's length; from memory, a wall may show more than a floor
REST_RATIO = 1 / 3  # published: Rankine's active pressure at an angle of repose of 30 degrees


@dataclass(frozen=True, slots=True)
class Sag:
    """Sag of a panel and the limit beside it, both in mm."""

    sag: Reckoning
    limit: Reckoning

    @property
    def holds(self) -> bool:
        """Whether the panel keeps within its limit."""
        return self.sag.value <= self.limit.value


def panel_stiffness(plies: Sequence[Board]) -> tuple[float, float]:
    """Bending stiffness D (N·mm) and thickness (mm) of fully bonded plies.

    The modulus of each is the geometric mean of along and across the grain.
    """
    pairs = [((b.stiff_along * b.stiff_across) ** 0.5, b.thickness) for b in plies]
    return bending_stiffness(pairs), sum(b.thickness for b in plies)


def sag_limit(span: float, share: float = SPAN_SHARE, most: float = SAG_LIMIT) -> Reckoning:
    """How far a panel of a short span in mm may give before the eye sees it."""
    return reckon(
        "Sag limit",
        min(span / share, most),
        f"the span over {share:.0f}, at most {most:g} mm: beyond it the eye sees it",
        given("short span", span),
        constant("most", most, "mm", Mark.MEMORY),
    )


def floor_sag(
    board: Board,
    length: float,
    width: float,
    mass: float,
    *,
    held: bool = True,
    plies: Sequence[Board] = (),
    laid: Sequence[Board] = (),
    loads: Sequence[Load] = (),
    flexibility: float | None = None,
    name: str = "Floor sags",
) -> Sag:
    """Sag of a floor under its load, spread evenly or where the things stand.

    Parameters
    ----------
    board : Board
    length, width : float
        mm, between the supporting scores.
    mass : float
        g, of everything that stands on it, >= 0.
    held : bool
        Whether walls stop the edges from moving in.
    plies : sequence of Board
        Further plies, fully bonded to it.
    laid : sequence of Board
        Plies that only lie on it: each bends on its own.
    loads : sequence of Load
        Where the things stand; without them the mass is spread evenly.
    flexibility : float, optional
        :func:`patch_flexibility` of the same loads, where it is known already.
    """
    short, long = sorted((length, width))
    bending, t = panel_stiffness((board, *plies))
    bending += sum(panel_stiffness((b,))[0] for b in laid)
    force = mass / 1000 * GRAVITY
    terms = [given("load", mass, "g"), given("short span", short), given("long span", long)]
    if loads and mass > 0:
        if flexibility is None:
            flexibility, _ = patch_flexibility(length, width, loads)
        linear = flexibility / bending
        how = "plate on four edges, loaded where the things stand"
        terms.append(
            constant(
                "sag if the load bent nothing but the board",
                linear,
                "mm",
                Mark.PUBLISHED,
                "Timoshenko and Woinowsky-Krieger, Navier's series, article 30",
            )
        )
    else:
        alpha = plate_coefficient(long / short)
        linear = alpha * force / (length * width) * short**4 / bending
        how = "plate on four edges under an even load"
        terms.append(
            constant(
                "plate coefficient",
                alpha,
                "",
                Mark.PUBLISHED,
                "Timoshenko and Woinowsky-Krieger, table 8",
            )
        )
    sag = large_deflection(linear / t, MEMBRANE_HELD if held else MEMBRANE_FREE) * t
    modulus = (board.stiff_along * board.stiff_across) ** 0.5
    terms += [
        reckon(
            "thickness of all plies",
            t,
            "fully bonded",
            *(given(b.title.lower(), b.thickness) for b in (board, *plies)),
        )
        if plies
        else given("board thickness", t),
        constant("stiffness, mean of along and across", modulus, "GPa", Mark.MEMORY),
        *(given(f"laid on it, {b.title.lower()}", b.thickness) for b in laid),
    ]
    return Sag(
        reckon(
            name,
            sag,
            f"{how}, stiffened as it stretches; it counts when the box is lifted or hung",
            *terms,
        ),
        sag_limit(short),
    )


def wall_bulge(
    board: Board, length: float, height: float, density: float, fill: float, *, walls: int = 1
) -> Sag:
    """How far a wall bulges at its rim under loose fill, the lid off.

    Parameters
    ----------
    board : Board
    length, height : float
        mm, of the wall.
    density : float
        g/cm³, bulk density of the fill.
    fill : float
        mm, how deep it lies.
    walls : int
        2 for a wall rolled over: glued at its foot only, each bends on its own.
    """
    bending, t = panel_stiffness((board,))
    bending *= walls
    deepest = REST_RATIO * density * 1e-6 * GRAVITY * min(fill, height)  # N/mm2
    pressure = deepest * min(fill, height) / height / 2  # mean over the wall
    alpha = free_rim_coefficient(height / length)
    linear = alpha * pressure * length**4 / bending
    bulge = large_deflection(linear / t, MEMBRANE_FREE) * t
    return Sag(
        reckon(
            "Wall bulges",
            bulge,
            "plate with a free rim under the mean pressure of the fill",
            given("wall length", length),
            given("wall height", height),
            given("walls, one in the other", walls, ""),
            given("bulk density, g/cm³", density, ""),
            constant(
                "side pressure over weight", REST_RATIO, "", Mark.PUBLISHED, "Rankine, 30 degrees"
            ),
            constant(
                "plate coefficient",
                alpha,
                "",
                Mark.PUBLISHED,
                "Timoshenko and Woinowsky-Krieger, table 47",
            ),
        ),
        reckon(
            "Bulge limit",
            min(length / BULGE_SHARE, 2 * SAG_LIMIT),
            "the wall over 50, at most 3 mm",
            given("wall length", length),
            constant("most", 2 * SAG_LIMIT, "mm", Mark.MEMORY),
        ),
    )


@cache
def _coefficients() -> tuple[Any, Any]:
    """Plate coefficients over the whole range of side ratios."""
    ratios = np.geomspace(1.0, 60.0, 200)
    return ratios, np.array([plate_coefficient(float(r)) for r in ratios])


def least_grammage(boards: Sequence[Board], mass: float) -> Callable[[Any], Any]:
    """The least grammage of a floor that keeps its limit, for any inside size.

    The result takes a size in mm as three numbers or three arrays, and gives
    g/m² likewise; the mass in g is spread evenly.  Where no board holds, it
    gives ten times the heaviest.
    """
    ratios, alphas = _coefficients()
    ordered = sorted(boards, key=lambda b: b.grammage)
    measures = [(b.grammage, *panel_stiffness((b,))) for b in ordered if b.folds]
    force = mass / 1000 * GRAVITY

    def grammage(size: Any) -> Any:
        short, long = np.minimum(size[0], size[1]), np.maximum(size[0], size[1])
        alpha = np.interp(long / short, ratios, alphas)
        load = alpha * force / long * short**3
        limit = np.minimum(short / SPAN_SHARE, SAG_LIMIT)
        out = np.full(np.shape(load), 10 * measures[-1][0])
        for weight, bending, t in reversed(measures):
            most = limit + MEMBRANE_HELD * limit**3 / t**2  # the linear sag of that limit
            out = np.where(load / bending <= most, weight, out)
        return out if out.shape else float(out)

    return grammage
