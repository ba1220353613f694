"""One sheet being cut: how far each stroke is; and what a person is asked meanwhile."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

from jadeite.core.cutting import SheetCut

__all__ = ["Ask", "Asked", "SheetRun"]

Asked = tuple[str, int]  # a piece, and which copy of it


@dataclass(frozen=True)
class Ask:
    """What a person must do or say before it goes on: answers are keys with their words.

    ``numbers`` are strokes that it speaks of.
    """

    kind: str
    words: str
    answers: tuple[tuple[str, str], ...]
    numbers: tuple[int, ...] = ()


@dataclass(eq=False)
class SheetRun:
    """One sheet: how far each stroke is, in mm of all its passes, and what of it is finished."""

    cut: SheetCut
    at: list[float] = field(init=False)
    finished: list[bool] = field(init=False)
    again: list[int] = field(default_factory=list)  # strokes that get one more pass, and
    again_at: float = 0.0  # mm, how far the first of them is
    off: tuple[float, float] = (0.0, 0.0)  # mm, where its marks were found
    moved: bool = False
    ended: bool = False

    def __post_init__(self) -> None:
        self.at = [0.0] * len(self.cut.paths)
        self.finished = [False] * len(self.cut.paths)

    def next(self) -> int | None:
        """The stroke that is made next."""
        if self.again:
            return self.again[0]
        return next((i for i, done in enumerate(self.finished) if not done), None)

    def pieces(self, numbers: Sequence[int]) -> list[Asked]:
        """Pieces to which some strokes belong."""
        paths = [self.cut.paths[i] for i in numbers]
        return list(dict.fromkeys((p.piece, p.copy) for p in paths))
