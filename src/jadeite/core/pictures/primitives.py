"""What a picture is made of; backends paint it in a window, a PDF or an SVG.

A picture has x to the right and y down.  Its unit is a pixel in the window
and a millimetre on paper; stroke widths and text sizes are in the same unit.
"""

from __future__ import annotations

from dataclasses import dataclass, field, replace

import numpy as np

from jadeite.core.nets.model import Floats
from jadeite.core.photos import Ink

__all__ = ["Image", "Label", "Path", "Picture", "Stroke", "turns_left"]


@dataclass(frozen=True, slots=True)
class Stroke:
    """A line: colour, width, and dash lengths in the picture's unit."""

    colour: str
    width: float
    dash: tuple[float, ...] = ()


@dataclass(frozen=True, slots=True)
class Path:
    """Polygons (rings, filled even-odd) or an open line, with a tag for pointing."""

    rings: tuple[Floats, ...]
    closed: bool = True
    fill: str | None = None
    opacity: float = 1.0
    stroke: Stroke | None = None
    tag: tuple[str, str] | None = None


@dataclass(frozen=True, slots=True)
class Label:
    """Upright text; ``anchor`` is start, middle or end; ``y`` is its middle line.

    ``pill`` fills a rounded box behind it, ``edge`` outlines the box.
    """

    text: str
    x: float
    y: float
    size: float
    colour: str
    anchor: str = "middle"
    weight: int = 400
    pill: str | None = None
    edge: str | None = None
    turn: float = 0.0


@dataclass(frozen=True, slots=True)
class Image:
    """What is printed of a picture, within rings (even-odd).

    ``matrix`` (2, 3) carries shares, which are about its middle, y up, in parts of its longer
    side, to where they are painted.  ``png`` are its bytes where they are kept with it, of a
    page that is printed; else a backend has them by its ``ink``.
    """

    ink: Ink
    matrix: Floats
    rings: tuple[Floats, ...]
    png: bytes = b""


def turns_left(points: Floats) -> bool:
    """Whether a ring has positive area; a loop over few corners beats an array.

    ``points`` are (n, 2) float.
    """
    area, (x0, y0) = 0.0, points[-1].tolist()
    for x, y in points.tolist():
        area += x0 * y - x * y0
        x0, y0 = x, y
    return area > 0


@dataclass(frozen=True, slots=True)
class Picture:
    """Items from back to front, and the soft shadow that lies under them all."""

    items: list[Path | Label | Image] = field(default_factory=list)
    shadow: list[Floats] = field(default_factory=list)
    shadow_colour: str = "#20302b"
    shadow_blur: float = 0.0

    def add(self, item: Path | Label | Image) -> None:
        """Put an item in front."""
        self.items.append(item)

    @property
    def shade(self) -> tuple[Floats, ...]:
        """The shadow's rings all turning one way: filled by winding, they are one shape."""
        return tuple(ring if turns_left(ring) else ring[::-1] for ring in self.shadow)

    def moved(self, dx: float, dy: float) -> Picture:
        """A copy shifted to the right by dx and down by dy."""
        shift = np.array([dx, dy])
        items = [_moved(item, shift) for item in self.items]
        shadow = [ring + shift for ring in self.shadow]
        return replace(self, items=items, shadow=shadow)


def _moved(item: Path | Label | Image, shift: Floats) -> Path | Label | Image:
    """An item moved by (dx, dy)."""
    if isinstance(item, Label):
        return replace(item, x=item.x + float(shift[0]), y=item.y + float(shift[1]))
    rings = tuple(ring + shift for ring in item.rings)
    if isinstance(item, Path):
        return replace(item, rings=rings)
    return replace(
        item, rings=rings, matrix=item.matrix + np.column_stack([np.zeros((2, 2)), shift])
    )
