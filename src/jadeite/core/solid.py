"""The forms that a hollow, a thing and a body may have: one set of words for all three."""

from __future__ import annotations

from enum import StrEnum

__all__ = ["Form"]


class Form(StrEnum):
    """Of a convex solid; what is measured or packed is one of these, or lies within one."""

    BLOCK = "block"  # its edges along the axes
    CYLINDER = "cylinder"
    BALL = "ball"
