"""The maker's own cutter, and how a board was found to be cut best."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from jadeite.core.project.fields import Key, Model

__all__ = ["Cutter", "Learned"]

Span = Annotated[float, Field(ge=20, le=20_000, allow_inf_nan=False)]  # mm
Speed = Annotated[float, Field(ge=0.5, le=2_000, allow_inf_nan=False)]  # mm/s
Seconds = Annotated[float, Field(ge=0, le=3_600, allow_inf_nan=False)]


class Cutter(Model):
    """A cutter of the maker's own: what it reaches (mm), its tools, its speeds and times.

    ``force_steps`` is how many steps of force it has, 0 where it is not told a force.
    """

    key: Key
    title: str = Field(min_length=1, max_length=60)
    width: Span = 292.0
    length: Span = 292.0
    margin: float = Field(default=0.0, ge=0, le=50, allow_inf_nan=False)
    score: bool = True
    pen: bool = True
    force_steps: int = Field(default=0, ge=0, le=1_000)
    cut_speed: Speed = 60.0
    score_speed: Speed = 80.0
    lift: Seconds = 0.6
    tool_change: Seconds = 45.0
    loading: Seconds = 60.0


class Learned(Model):
    """How a board is cut by a cutter, as a test cut or the maker has it.

    ``force`` is a step of the cutter's own, ``speed`` mm/s; None leaves it as it is usual.
    It holds for sheets of that name in the ``stock``, or for all of the board.
    """

    board: Key
    cutter: Key
    stock: str = Field(default="", max_length=60)
    force: int | None = Field(default=None, ge=1, le=1_000)
    passes: int = Field(default=1, ge=1, le=60)
    speed: Speed | None = None
    by: Literal["test-cut", "own"] = "own"
    date: str = Field(default="", pattern=r"^(\d{4}-\d{2}-\d{2})?$")
