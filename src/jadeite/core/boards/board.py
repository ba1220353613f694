"""One board, and grammage from the American basis weight."""

from __future__ import annotations

import math
from dataclasses import dataclass

from jadeite.core.errors import FieldError
from jadeite.core.reckoning import Mark, Reckoning, constant, given, reckon

__all__ = [
    "BASIS_SIZES",
    "Board",
    "BoardError",
    "grammage_from_basis_weight",
    "grammage_reckoning",
]

# inches, width x height of the sheet that 500 of make the basis weight;
# published: the trade's basis sizes (docs/sources.md, "Basis sizes")
BASIS_SIZES = {
    "bond": (17.0, 22.0),
    "text": (25.0, 38.0),
    "cover": (20.0, 26.0),
    "index": (25.5, 30.5),
    "bristol": (22.5, 28.5),
}
# g/m2 x square inch per pound: 453.59237 g / 500 sheets / 0.00064516 m2; exact
POUND_FACTOR = 453.59237 / 500 / 0.00064516


class BoardError(FieldError):
    """A board whose measures make no sense."""


@dataclass(frozen=True, slots=True)
class Board:
    """A sheet material; thickness in mm, grammage in g/m²."""

    key: str
    title: str
    grammage: float
    thickness: float
    score: str  # "no", "light", "yes" or "wheel": how its folds are prepared
    passes: int
    pressure: str  # "usual" or "firmer"
    note: str = ""
    mark: Mark = Mark.MEMORY
    basis: tuple[str, float] | None = None  # kind and pounds, where it is sold so

    def __post_init__(self) -> None:
        for field, value in (("thickness", self.thickness), ("grammage", self.grammage)):
            if not 0 < value < math.inf:  # refuses nan too
                raise BoardError(f"{self.key}, {field}", f"{value} is not a measure")

    @property
    def scored(self) -> bool:
        """Whether folds in this board need a score."""
        return self.score != "no"


def grammage_from_basis_weight(pounds: float, kind: str) -> float:
    """Grammage in g/m² (ISO 536) of a paper sold by US basis weight.

    Parameters
    ----------
    pounds : float
        Mass of 500 sheets of the basis size, > 0.
    kind : str
        A key of :data:`BASIS_SIZES`; without it pounds mean nothing.

    Raises
    ------
    BoardError
        Unknown kind, or pounds not a positive number.
    """
    if kind not in BASIS_SIZES:
        kinds = ", ".join(BASIS_SIZES)
        raise BoardError("basis weight", f"“{kind}” is no kind of paper", f"Use one of: {kinds}.")
    if not 0 < pounds < math.inf:
        raise BoardError("basis weight", f"{pounds} lb is not a weight", "Use more than 0 lb.")
    width, height = BASIS_SIZES[kind]
    return pounds * POUND_FACTOR / (width * height)


def grammage_reckoning(board: Board) -> Reckoning:
    """The board's grammage with where it came from."""
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
        unit="g/m2",
    )
