"""What prints, on which paper, and by how much the cutter misses the print."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from jadeite.core.project.fields import Model

__all__ = ["Correction", "Printer"]

Off = Annotated[float, Field(ge=-10, le=10, allow_inf_nan=False)]
Small = Annotated[float, Field(ge=-0.02, le=0.02, allow_inf_nan=False)]


class Correction(Model):
    """Where the cutter cuts what is printed at (x, y) mm from the middle of the paper.

    It cuts at ``right`` + (1 + ``wide``) x - ``turn`` y, and at ``up`` + ``turn`` x +
    (1 + ``high``) y: shifts in mm, the others in parts.
    """

    right: Off = 0.0
    up: Off = 0.0
    turn: Small = 0.0
    wide: Small = 0.0
    high: Small = 0.0


class Printer(Model):
    """A printer by its name, the paper in it, and the correction of this cutter to it.

    What is ``mirrored`` is printed as seen in a mirror, for film whose printed side lies down.
    """

    name: str = Field(default="printer", min_length=1, max_length=60)
    paper: Literal["a4", "letter", "a3"] = "a4"
    mirrored: bool = False
    correction: Correction = Correction()
