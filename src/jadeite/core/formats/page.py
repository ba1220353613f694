"""A page to be printed: pictures and lines of text, in millimetres from its upper left."""

from __future__ import annotations

from dataclasses import dataclass, field

from jadeite.core.formats.fonts import wrapped
from jadeite.core.pictures import LIGHT, Label, Picture

__all__ = ["BODY", "HAIR", "HEAD", "LEADING", "MARGIN", "SMALL", "Page"]

MARGIN = 12.0  # mm; from memory, what home printers leave white and a little more
HAIR = 0.2  # mm
BODY, SMALL, HEAD = 3.6, 3.1, 5.6  # mm, text sizes
LEADING = 1.4  # of the size, from line to line


@dataclass
class Page:
    """One page: pictures in mm from the upper left, each with an optional clip."""

    width: float
    height: float
    layers: list[tuple[Picture, tuple[float, float, float, float] | None]] = field(
        default_factory=list
    )

    def text(
        self,
        words: str,
        x: float,
        y: float,
        size: float = BODY,
        *,
        weight: int = 400,
        colour: str = LIGHT.ink,
        anchor: str = "start",
    ) -> None:
        """A line of text whose middle line is at y."""
        self.layers.append(
            (Picture(items=[Label(words, x, y, size, colour, anchor, weight)]), None)
        )

    def block(
        self,
        words: str,
        x: float,
        y: float,
        width: float,
        size: float = BODY,
        *,
        colour: str = LIGHT.ink,
        weight: int = 400,
    ) -> float:
        """Wrapped text from y on; returns where it ends."""
        for line in wrapped(words, size, width, weight):
            self.text(line, x, y, size, colour=colour, weight=weight)
            y += size * LEADING
        return y
