"""What is asked of a made thing: room inside, a closed size, or a finished one."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from jadeite.core.project.fields import Millimetres, Model

__all__ = ["Brief", "Face", "Hollow", "Span"]


class Hollow(Model):
    """Room for contents: sized by them, or of a fixed inside in mm."""

    kind: Literal["hollow"] = "hollow"
    size: tuple[Millimetres, Millimetres, Millimetres] | None = None


class Face(Model):
    """A flat thing of a closed width and height in mm, or as large as what it carries asks."""

    kind: Literal["face"] = "face"
    size: tuple[Millimetres, Millimetres] | None = None


class Span(Model):
    """A free-standing thing of a finished width, maybe a height, in mm."""

    kind: Literal["span"] = "span"
    width: Millimetres
    height: Millimetres | None = None


Brief = Annotated[Hollow | Face | Span, Field(discriminator="kind")]
