"""What is printed of a picture, by name."""

from __future__ import annotations

from dataclasses import dataclass

__all__ = ["Ink"]


@dataclass(frozen=True)
class Ink:
    """What is printed: a file, what of it, and how far its colours go on.

    ``figure`` are the words of the rings of a figure, none for all of the picture; ``spread``
    is how far beyond them there is ink, in parts of the longer side.
    """

    file: str
    digest: str
    figure: str = ""
    spread: float = 0.0
