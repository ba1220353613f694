"""One board: what it weighs, how thick it is, how it behaves."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import ConfigDict, Field, with_config

from jadeite.core.boards.grammage import (
    BASIS_SIZES,
    POUND_FACTOR,
    basis_weight_from_grammage,
)
from jadeite.core.errors import FieldError
from jadeite.core.reckoning import Mark, Reckoning, constant, given, reckon
from jadeite.core.units import System

__all__ = [
    "BULK_BOARD",
    "BULK_CARD",
    "HEAVIEST",
    "THICKEST",
    "Board",
    "BoardError",
    "bulk_for",
    "estimated_grammage",
    "estimated_thickness",
    "grammage_reckoning",
    "thickness_reckoning",
    "weight_words",
]

THICKEST = 12.0  # mm; from memory, thicker is timber
AS_TEXT, AS_POUNDS = 130.0, 450.0  # g/m²; common practice, lighter is sold as text, heavier by
# its thickness in points
POINT = 0.0254  # mm; exact, a thousandth of an inch
SHINES = 0.25  # translucency; from memory, less only glimmers
HEAVIEST = 10_000.0  # g/m2; from memory
E_ALONG = 5.0  # GPa along the grain of card; from memory
E_ACROSS = 2.5  # GPa across it; from memory
BULK_CARD = 1.30  # cm3/g; from memory, of text and card
BULK_BOARD = 1.60  # cm3/g; from memory, of greyboard and chipboard
BULKY_FROM = 0.7  # mm; from memory, thicker than this it is chipboard rather than card

ScoreKind = Literal["no", "light", "yes", "wheel", "hinge"]
Pressure = Literal["by-hand", "lighter", "usual", "firmer"]
Sheet = tuple[
    Annotated[float, Field(gt=0, le=5000, allow_inf_nan=False)],
    Annotated[float, Field(gt=0, le=5000, allow_inf_nan=False)],
]


class BoardError(FieldError):
    """A board whose measures make no sense."""


@with_config(ConfigDict(extra="forbid"))
@dataclass(frozen=True, slots=True)
class Board:
    """A sheet material; thickness in mm, grammage in g/m², stiffness in GPa.

    ``score`` says how folds are prepared: not at all, lightly, with a tool,
    with a wheel, or by cutting through and hinging with paper.  ``grain`` runs
    along the longer or the shorter side of its sheets.  ``translucency`` is
    the share of light that comes through, ``price`` that of one sheet of
    ``sheets[0]`` in the maker's own money.
    """

    key: Annotated[str, Field(min_length=1, max_length=60, pattern=r"^[a-z0-9-]+$")]
    title: Annotated[str, Field(min_length=1, max_length=60)]
    grammage: Annotated[float, Field(gt=0, le=HEAVIEST, allow_inf_nan=False)]
    thickness: Annotated[float, Field(gt=0, le=THICKEST, allow_inf_nan=False)]
    score: ScoreKind
    passes: Annotated[int, Field(ge=1, le=60)]
    pressure: Pressure
    note: Annotated[str, Field(max_length=400)] = ""
    mark: Mark = Mark.MEMORY
    basis: tuple[str, Annotated[float, Field(gt=0, le=2000, allow_inf_nan=False)]] | None = None
    thickness_from: Literal["catalogue", "measured", "grammage"] = "catalogue"
    grammage_from: Literal["given", "thickness"] = "given"
    stiff_along: Annotated[float, Field(gt=0, le=400, allow_inf_nan=False)] = E_ALONG
    stiff_across: Annotated[float, Field(gt=0, le=400, allow_inf_nan=False)] = E_ACROSS
    grain: Literal["long", "short", "none"] = "long"
    good_side: Literal["both", "one"] = "both"
    translucency: Annotated[float, Field(ge=0, le=1, allow_inf_nan=False)] = 0.0
    finish: Annotated[str, Field(max_length=60)] = "plain"
    colour: Annotated[str, Field(pattern=r"^(#[0-9a-fA-F]{6})?$")] = ""
    sheets: Annotated[tuple[Sheet, ...], Field(max_length=12)] = ()
    price: Annotated[float, Field(gt=0, le=100_000, allow_inf_nan=False)] | None = None
    dusty: bool = False

    @property
    def lets_light_through(self) -> bool:
        """Whether it shines when a light is behind it: a lining, say."""
        return self.translucency >= SHINES

    def __post_init__(self) -> None:
        for field, value, most in (
            ("thickness", self.thickness, THICKEST),
            ("grammage", self.grammage, HEAVIEST),
            ("stiffness along the grain", self.stiff_along, 400.0),
            ("stiffness across the grain", self.stiff_across, 400.0),
        ):
            if not 0 < value < math.inf:  # refuses nan too
                raise BoardError(f"{self.key}, {field}", f"{value} is not a measure")
            if value > most:
                raise BoardError(
                    f"{self.key}, {field}", f"{value:g} is more than any board", f"Use ≤ {most:g}."
                )
        if self.basis is not None and self.basis[0] not in BASIS_SIZES:
            raise BoardError(
                f"{self.key}, basis weight",
                f"“{self.basis[0][:20]}” is no kind of paper",
                f"Use one of: {', '.join(BASIS_SIZES)}.",
            )

    @property
    def scored(self) -> bool:
        """Whether folds in this board need a score."""
        return self.score in ("light", "yes", "wheel")

    @property
    def folds(self) -> bool:
        """Whether the board folds at all, rather than being cut and hinged."""
        return self.score != "hinge"


def bulk_for(thickness: float) -> float:
    """Volume of a board by its mass in cm³/g, when only its thickness (mm) is known."""
    return BULK_CARD if thickness < BULKY_FROM else BULK_BOARD


def estimated_thickness(grammage: float) -> float:
    """Thickness in mm from grammage (g/m²) and a usual bulk."""
    card = grammage * BULK_CARD / 1000
    return card if card < BULKY_FROM else grammage * BULK_BOARD / 1000


def estimated_grammage(thickness: float) -> float:
    """Grammage in g/m² from thickness (mm) and a usual bulk."""
    return thickness * 1000 / bulk_for(thickness)


def grammage_reckoning(board: Board) -> Reckoning:
    """The board's grammage with where it came from."""
    if board.grammage_from == "thickness":
        return reckon(
            "Grammage",
            board.grammage,
            "estimated: thickness over a usual bulk; weigh a sheet to know it",
            given("thickness", board.thickness),
            constant("bulk, cm³/g", bulk_for(board.thickness), "", Mark.MEMORY),
            unit="g/m2",
        )
    if board.basis is None:
        return Reckoning("Grammage", board.grammage, "g/m2", mark=board.mark)
    kind, pounds = board.basis
    width, height = BASIS_SIZES[kind]
    return reckon(
        "Grammage",
        board.grammage,
        "mass of 500 sheets of the basis size, spread over their area",
        given(f"basis weight, {kind}", pounds, "lb"),
        constant(
            f"basis size {width:g} × {height:g} in",
            width * height,
            "sq in",
            Mark.PUBLISHED,
            "the trade's basis sizes",
        ),
        constant("g/m² for each lb on one sq in", POUND_FACTOR, "", Mark.PUBLISHED, "ISO 536"),
        unit="g/m2",
    )


def weight_words(board: Board, system: System) -> str:
    """How heavy a board is: in g/m²; with inches also in pounds of a kind, or as points thick."""
    metric = f"{board.grammage:.0f} g/m²"
    if system == "mm":
        return metric
    if board.basis is not None:
        kind, pounds = board.basis
        return f"{pounds:g} lb {kind} · {metric}"
    if board.grammage > AS_POUNDS:
        return f"{board.thickness / POINT:.0f} pt · {metric}"
    kind = "text" if board.grammage < AS_TEXT else "cover"
    return f"{basis_weight_from_grammage(board.grammage, kind):.0f} lb {kind} · {metric}"


def thickness_reckoning(board: Board) -> Reckoning:
    """The board's thickness: measured, from the catalogue, or estimated."""
    if board.thickness_from == "grammage":
        return reckon(
            "Thickness",
            board.thickness,
            "estimated: grammage times a usual bulk; measure ten sheets together to know it",
            given("grammage", board.grammage, "g/m2"),
            constant("bulk, cm³/g", board.thickness * 1000 / board.grammage, "", Mark.MEMORY),
        )
    mark = Mark.GIVEN if board.thickness_from == "measured" else Mark.MEMORY
    return Reckoning("Thickness", board.thickness, "mm", mark=mark)
