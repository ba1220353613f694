"""Grammage and the American basis weight, converted both ways."""

from __future__ import annotations

import math

from jadeite.core.errors import FieldError

__all__ = [
    "BASIS_SIZES",
    "POUND_FACTOR",
    "basis_weight_from_grammage",
    "grammage_from_basis_weight",
    "kinds_of_pounds",
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


def _area(kind: str) -> float:
    if kind not in BASIS_SIZES:
        kinds = ", ".join(BASIS_SIZES)
        raise FieldError("basis weight", f"“{kind}” is no kind of paper", f"Use one of: {kinds}.")
    width, height = BASIS_SIZES[kind]
    return width * height


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
    FieldError
        Unknown kind, or pounds not a positive number.
    """
    area = _area(kind)
    if not 0 < pounds < math.inf:
        raise FieldError("basis weight", f"{pounds} lb is not a weight", "Use more than 0 lb.")
    return pounds * POUND_FACTOR / area


def basis_weight_from_grammage(grammage: float, kind: str) -> float:
    """Pounds of basis weight of a paper of a kind; the inverse of the above.

    Raises
    ------
    FieldError
        Unknown kind, or grammage (g/m²) not a positive number.
    """
    area = _area(kind)
    if not 0 < grammage < math.inf:
        raise FieldError("grammage", f"{grammage} g/m² is not a weight", "Use more than 0 g/m².")
    return grammage * area / POUND_FACTOR


def kinds_of_pounds(pounds: float) -> str:
    """What so many pounds are, by kind of paper: “80 lb cover is 216 g/m², …”."""
    return ", ".join(
        f"{pounds:g} lb {kind} is {grammage_from_basis_weight(pounds, kind):.0f} g/m²"
        for kind in ("cover", "text", "index", "bristol", "bond")
    )
