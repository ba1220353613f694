"""Where a plate lies on a flat piece whose pattern it presses."""

from __future__ import annotations

from dataclasses import dataclass

__all__ = ["Pressed"]

Corner = tuple[float, float]


@dataclass(frozen=True)
class Pressed:
    """A plate on a piece: its corners in the flat piece, mm; what is pressed, in words.

    ``over`` is what the raised pattern is rubbed with: ``none``, ``wax`` or ``ink``; ``panels``
    are those that are pressed.
    """

    piece: str
    corners: tuple[Corner, Corner, Corner, Corner]
    words: str
    over: str
    panels: tuple[str, ...]

    @property
    def size(self) -> tuple[float, float]:
        """Width and height of the plate, mm."""
        (a, b), (c, d), (e, f), _ = self.corners
        return ((c - a) ** 2 + (d - b) ** 2) ** 0.5, ((e - c) ** 2 + (f - d) ** 2) ** 0.5
